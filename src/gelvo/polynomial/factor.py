"""Irreducible factors over the rationals, in any number of variables.

Several variables: exponents on a line, contents, a variable of degree one (irreducible once its content is gone), a square
discriminant, and else lifting from one variable (`factor_multivariate`).
"""

from __future__ import annotations

import math

from gmpy2 import mpq, mpz

from gelvo.numbers.exact import rational_sqrt
from gelvo.polynomial import sparse
from gelvo.polynomial.dense import Dense
from gelvo.polynomial.factor_multivariate import factor_by_lifting
from gelvo.polynomial.factor_univariate import factor_square_free
from gelvo.polynomial.gcd import content_in, gcd, square_free
from gelvo.polynomial.sparse import Polynomial


def factor(p: Polynomial) -> tuple[mpq, list[tuple[Polynomial, int]]]:
    """(rational content, [(irreducible primitive factor, times)]) of a polynomial that is not zero.

    >>> content, factors = factor({2: mpq(2), 0: mpq(-2)})
    >>> str(content), len(factors)
    ('2', 2)
    """
    content, p = sparse.primitive(p)
    result: list[tuple[Polynomial, int]] = []
    monomial = sparse.monomial_content(p)
    if monomial:
        p = {m - monomial: c for m, c in p.items()}
        for index in range((monomial.bit_length() + sparse.BITS - 1) // sparse.BITS):
            times = sparse.exponent_of(monomial, index)
            if times:
                result.append((sparse.variable(index), times))
    for part, times in square_free(p):
        result.extend((q, times) for q in _irreducible(part))
    return content, result


def _irreducible(p: Polynomial) -> list[Polynomial]:
    """The factors of a primitive square-free polynomial."""
    used = sparse.variables(p)
    if len(used) == 1:
        return [_from_dense(f, used[0]) for f in factor_square_free(_to_dense(p, used[0]))]
    line = _on_a_line(p, used[::-1])  # in the order of monomials, so that the leading terms stay
    if line is not None:
        return line
    for index in used:
        content = content_in(p, index)
        if sparse.variables(content):
            rest = sparse.divide_exactly(p, content) or {}
            return _irreducible(content) + _irreducible(sparse.primitive(rest)[1])
    for index in used:
        if sparse.degree(p, index) == 1:
            return [p]
    for index in used:
        if sparse.degree(p, index) == 2:
            return _by_discriminant(p, index)
    total = {_total_degree(m) for m in p}
    if len(total) == 1:
        return _homogeneous(p, used[-1], total.pop())
    return factor_by_lifting(p, factor)


def _on_a_line(p: Polynomial, used: list[int]) -> list[Polynomial] | None:
    """The factors where all exponents differ by multiples of one vector v, as in x^6*y^4 - 1: those in t = x^3*y^2."""
    exponents = [[sparse.exponent_of(m, i) for i in used] for m in p]
    start = min(exponents)
    gaps = [[a - b for a, b in zip(e, start, strict=True)] for e in exponents]
    longest = max(gaps)
    size = math.gcd(*longest)
    v = [d // size for d in longest]
    place = next(i for i, d in enumerate(v) if d)
    times = [g[place] // v[place] for g in gaps]
    if any(g != [k * d for d in v] for g, k in zip(gaps, times, strict=True)):
        return None
    powers: Dense = [mpz(0)] * (size + 1)
    for k, c in zip(times, p.values(), strict=True):
        powers[k] = c.numerator
    return [_from_line(f, used, v) for f in factor_square_free(powers)]


def _from_line(f: Dense, used: list[int], v: list[int]) -> Polynomial:
    """t^k as the monomial of k*v, times the smallest monomial that leaves no negative exponent."""
    lowest = [min(0, d * (len(f) - 1)) for d in v]
    return {
        sum((k * d - low) << (sparse.BITS * i) for i, d, low in zip(used, v, lowest, strict=True)): mpq(c)
        for k, c in enumerate(f)
        if c
    }


def _total_degree(monomial: int) -> int:
    return sum((monomial >> s) & sparse.FIELD for s in range(0, monomial.bit_length(), sparse.BITS))


def _homogeneous(p: Polynomial, index: int, degree: int) -> list[Polynomial]:
    """One variable set to 1, factored, and put back: exact, since no factor is a power of that variable."""
    result: list[Polynomial] = []
    for piece in _irreducible(sparse.primitive(sparse.evaluate(p, index, mpz(1)))[1]):
        size = max(_total_degree(m) for m in piece)
        lifted = {m + ((size - _total_degree(m)) << (sparse.BITS * index)): c for m, c in piece.items()}
        result.append(sparse.primitive(lifted)[1])
    return result


def _to_dense(p: Polynomial, index: int) -> Dense:
    result = [mpz(0)] * (sparse.degree(p, index) + 1)
    for m, c in p.items():
        result[sparse.exponent_of(m, index)] = c.numerator
    return result


def _from_dense(f: Dense, index: int) -> Polynomial:
    return {k << (sparse.BITS * index): mpq(c) for k, c in enumerate(f) if c}


def _by_discriminant(p: Polynomial, index: int) -> list[Polynomial]:
    """A quadratic in one variable splits just when its discriminant is a square."""
    powers = sparse.by_powers(p, index)
    a, b, c = (powers.get(k, {}) for k in (2, 1, 0))
    discriminant = sparse.subtract(sparse.multiply(b, b), sparse.scale(sparse.multiply(a, c), mpq(4)))
    root = square_root(discriminant)
    if root is None:
        return [p]
    doubled = sparse.from_powers({1: sparse.scale(a, mpq(2)), 0: sparse.add(b, root)}, index)
    factor_one = sparse.primitive(gcd(p, doubled))[1]
    rest = sparse.primitive(sparse.divide_exactly(p, factor_one) or {})[1]
    return [f for f in (factor_one, rest) if sparse.variables(f)]


def square_root(p: Polynomial) -> Polynomial | None:
    """The polynomial whose square this is, or None."""
    if not p:
        return {}
    content, rest = sparse.primitive(p)
    root = rational_sqrt(content)
    if root is None:
        return None
    monomial = sparse.monomial_content(rest)
    for index in sparse.variables({monomial: mpq(1)}) if monomial else []:
        if sparse.exponent_of(monomial, index) % 2:
            return None
    rest = {m - monomial: c for m, c in rest.items()}
    result: Polynomial = {monomial // 2: root}
    for part, times in square_free(rest):
        if times % 2:
            return None
        result = sparse.multiply(result, sparse.power(part, times // 2))
    return result if sparse.multiply(result, result) == p else None
