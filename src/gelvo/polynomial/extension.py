"""Polynomials whose coefficients contain roots of given polynomials: common factors and irreducible factors.

Each root is one more variable, kept below the degree of its polynomial. Source of the factorization: B. Trager, "Algebraic
factoring and rational function integration" (1976): the norm, which is free of the root, is factored, and its factors are
brought back by common factors.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor
from gelvo.polynomial.resultant import resultant
from gelvo.polynomial.sparse import Polynomial

ONE: Polynomial = {0: mpq(1)}
MOST_SHIFTS = 12


class AdjoinedRoot(NamedTuple):
    """A variable that stands for a root: its number, and its polynomial, which is irreducible over the roots before it."""

    place: int
    polynomial: Polynomial


def reduce(p: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial:
    """p with every root below the degree of its polynomial.

    >>> reduce({3: mpq(1)}, [AdjoinedRoot(0, {2: mpq(1), 0: mpq(-2)})]) == {1: 2}
    True
    """
    for root in reversed(roots):
        size = sparse.degree(root.polynomial, root.place)
        if sparse.degree(p, root.place) < size:
            continue
        powers = sparse.by_powers(root.polynomial, root.place)
        top = powers.pop(size)
        below = sparse.scale(sparse.from_powers(powers, root.place), -1 / top[0])
        columns = sparse.by_powers(p, root.place)
        for k in range(max(columns), size - 1, -1):
            column = columns.pop(k, None)
            if column:
                moved = sparse.multiply(column, below)
                for j, piece in sparse.by_powers(moved, root.place).items():
                    place = k - size + j
                    columns[place] = sparse.add(columns.get(place, {}), piece)
        p = sparse.from_powers({k: c for k, c in columns.items() if c}, root.place)
    return p


def multiply(p: Polynomial, q: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial:
    return reduce(sparse.multiply(p, q), roots)


def inverse(number: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial:
    """1 / number for a number in the field of the roots, by the extended algorithm of Euclid.

    >>> inverse({1: mpq(1)}, [AdjoinedRoot(0, {2: mpq(1), 0: mpq(-2)})]) == {1: mpq(1, 2)}
    True
    """
    used = [r for r in roots if sparse.degree(number, r.place) > 0]
    if not used:
        return {0: 1 / number[0]}
    root = used[-1]
    lower = [r for r in roots if r is not root]
    old, new = root.polynomial, number
    s_old: Polynomial = {}
    s_new: Polynomial = ONE
    while sparse.degree(new, root.place) > 0:
        gap_size = sparse.degree(new, root.place)
        top = inverse(sparse.leading_coefficient(new, root.place), lower)
        while old and (gap := sparse.degree(old, root.place) - gap_size) >= 0:
            factor_of = multiply(sparse.leading_coefficient(old, root.place), top, lower)
            step = sparse.multiply(factor_of, {gap << (sparse.BITS * root.place): mpq(1)})
            old = reduce(sparse.subtract(old, sparse.multiply(step, new)), lower)
            s_old = reduce(sparse.subtract(s_old, sparse.multiply(step, s_new)), lower)
        old, new, s_old, s_new = new, old, s_new, s_old
    if not new:
        raise ZeroDivisionError("the number is zero in the field of the roots")
    return multiply(s_new, inverse(new, lower), roots)


def _variables(p: Polynomial, roots: list[AdjoinedRoot]) -> list[int]:
    skipped = {r.place for r in roots}
    return [k for k in sparse.variables(p) if k not in skipped]


def _number_at_top(p: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial:
    """The coefficient of the leading monomial in the variables that are no roots."""
    for index in reversed(_variables(p, roots)):
        p = sparse.leading_coefficient(p, index)
    return p


def monic(p: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial:
    """p over its leading number."""
    return multiply(p, inverse(_number_at_top(p, roots), roots), roots) if p else p


def divide_exactly(p: Polynomial, q: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial | None:
    """p / q where that is a polynomial over the field, else None."""
    q = monic(q, roots)
    used = _variables(q, roots)
    if not used:
        return p
    index = used[-1]
    size = sparse.degree(q, index)
    top = sparse.leading_coefficient(q, index)
    result: Polynomial = {}
    while p:
        gap = sparse.degree(p, index) - size
        if gap < 0:
            return None
        part = divide_exactly(sparse.leading_coefficient(p, index), top, roots)
        if part is None:
            return None
        step = {m + (gap << (sparse.BITS * index)): c for m, c in part.items()}
        result = sparse.add(result, step)
        p = reduce(sparse.subtract(p, sparse.multiply(step, q)), roots)
    return result


def gcd(p: Polynomial, q: Polynomial, roots: list[AdjoinedRoot]) -> Polynomial:
    """The common factor over the field of the roots, with leading number 1, by primitive remainders.

    >>> i = AdjoinedRoot(1, {2 << sparse.BITS: mpq(1), 0: mpq(1)})
    >>> x_minus_i = {1: mpq(1), 1 << sparse.BITS: mpq(-1)}
    >>> gcd({2: mpq(1), 0: mpq(1)}, x_minus_i, [i]) == x_minus_i
    True
    """
    if not p or not q:
        return monic(p or q, roots)
    mine, theirs = _variables(p, roots), _variables(q, roots)
    if not mine or not theirs:
        return ONE
    for index in mine:
        if index not in theirs:
            return gcd(_content(p, index, roots), q, roots)
    for index in theirs:
        if index not in mine:
            return gcd(p, _content(q, index, roots), roots)
    index = mine[-1]
    contents = _content(p, index, roots), _content(q, index, roots)
    common = gcd(*contents, roots)
    a, b = (divide_exactly(f, c, roots) or {} for f, c in zip((p, q), contents, strict=True))
    if sparse.degree(a, index) < sparse.degree(b, index):
        a, b = b, a
    while b:
        if sparse.degree(b, index) == 0:
            return common
        rest = monic(_remainder(a, monic(b, roots), index, roots), roots)
        a, b = b, divide_exactly(rest, _content(rest, index, roots), roots) or {} if rest else {}
    return monic(multiply(a, common, roots), roots)


def _content(p: Polynomial, index: int, roots: list[AdjoinedRoot]) -> Polynomial:
    result: Polynomial = {}
    for c in sorted(sparse.by_powers(p, index).values(), key=len):
        result = gcd(result, c, roots)
        if not _variables(result, roots):
            return ONE
    return result


def _remainder(a: Polynomial, b: Polynomial, index: int, roots: list[AdjoinedRoot]) -> Polynomial:
    size = sparse.degree(b, index)
    top = sparse.leading_coefficient(b, index)
    while a and (gap := sparse.degree(a, index) - size) >= 0:
        head = sparse.leading_coefficient(a, index)
        moved = {m + (gap << (sparse.BITS * index)): c for m, c in b.items()}
        a = reduce(sparse.subtract(sparse.multiply(a, top), sparse.multiply(moved, head)), roots)
    return a


def _substituted(p: Polynomial, index: int, replacement: Polynomial) -> Polynomial:
    result: Polynomial = {}
    power, height = ONE, 0
    for k, c in sorted(sparse.by_powers(p, index).items()):
        while height < k:
            power, height = sparse.multiply(power, replacement), height + 1
        result = sparse.add(result, sparse.multiply(c, power))
    return result


def factor_over(p: Polynomial, roots: list[AdjoinedRoot]) -> tuple[Polynomial, list[tuple[Polynomial, int]]]:
    """(leading number, [(irreducible factor with leading number 1, times)]) over the field of the roots.

    >>> i = AdjoinedRoot(1, {2 << sparse.BITS: mpq(1), 0: mpq(1)})
    >>> [len(f) for f, _ in factor_over({2: mpq(1), 0: mpq(1)}, [i])[1]]
    [2, 2]
    """
    leading = _number_at_top(p, roots)
    found: list[tuple[Polynomial, int]] = []
    for part, times in _square_free(monic(p, roots), roots):
        found.extend((f, times) for f in _irreducible(part, roots))
    return leading, sorted(found, key=lambda pair: (len(pair[0]), sorted(pair[0].items())))


def _square_free(p: Polynomial, roots: list[AdjoinedRoot]) -> list[tuple[Polynomial, int]]:
    """Yun's algorithm (1976) over the field of the roots."""
    used = _variables(p, roots)
    if not used:
        return []
    index = used[-1]
    result: list[tuple[Polynomial, int]] = []
    content = _content(p, index, roots)
    if _variables(content, roots):
        result.extend(_square_free(content, roots))
        p = divide_exactly(p, content, roots) or {}
    change = sparse.derivative(p, index)
    common = gcd(p, change, roots)
    part = divide_exactly(p, common, roots) or {}
    rest = sparse.subtract(divide_exactly(change, common, roots) or {}, sparse.derivative(part, index))
    times = 1
    while sparse.degree(part, index) > 0:
        piece = gcd(part, rest, roots) if rest else monic(part, roots)
        part = divide_exactly(part, piece, roots) or {}
        quotient = divide_exactly(rest, piece, roots) or {} if rest else {}
        rest = reduce(sparse.subtract(quotient, sparse.derivative(part, index)), roots)
        if sparse.degree(piece, index) > 0:
            result.append((piece, times))
        times += 1
    return result


def _irreducible(p: Polynomial, roots: list[AdjoinedRoot]) -> list[Polynomial]:
    if not roots:
        return [monic(f, []) for f, _ in factor(p)[1]]
    root, lower = roots[-1], roots[:-1]
    used = _variables(p, roots)
    index = used[-1]
    if len(used) == 1 and sparse.degree(p, index) == 1:
        return [p]
    for shift in range(MOST_SHIFTS):
        turn = sparse.subtract(sparse.variable(index), sparse.scale(sparse.variable(root.place), mpq(shift)))
        moved = reduce(_substituted(p, index, turn), roots)
        norm = reduce(resultant(root.polynomial, moved, root.place), lower)
        if sparse.degree(gcd(norm, sparse.derivative(norm, index), lower), index) == 0:
            break
    else:
        return [p]
    pieces = _irreducible(norm, lower) if not _has_content(norm, index, lower) else [f for f, _ in factor_over(norm, lower)[1]]
    if len(pieces) == 1:
        return [p]
    back = sparse.add(sparse.variable(index), sparse.scale(sparse.variable(root.place), mpq(shift)))
    result, rest = [], p
    for piece in pieces[:-1]:
        found = gcd(rest, reduce(_substituted(piece, index, back), roots), roots)
        if _variables(found, roots):
            result.append(found)
            rest = divide_exactly(rest, found, roots) or {}
    return [*result, monic(rest, roots)] if _variables(rest, roots) else result


def _has_content(p: Polynomial, index: int, roots: list[AdjoinedRoot]) -> bool:
    return bool(_variables(_content(p, index, roots), roots))
