"""Products, powers and exact quotients of large polynomials with integer coefficients; the road is chosen by density.

Dense ones are packed into one integer each (`packing`). Sparse ones with coefficients of machine size are added row by row
into a table of exponents, or sorted, in NumPy; wide coefficients are cut into limbs first. The rest goes by dictionary.
"""

from __future__ import annotations

from collections.abc import Callable
from math import comb, log2, prod
from typing import Any, TypeVar, cast

import gmpy2
from gmpy2 import mpz

from gelvo.deadline import checkpoint, foreign
from gelvo.errors import DomainError
from gelvo.polynomial.packing import Layout, whole_bytes
from gelvo.polynomial.support import BITS, FIELD, Array, degrees, variables_of

Integers = dict[int, mpz]
C = TypeVar("C")
SMALL = 600  # products of terms below which the dictionary wins (measured)
LARGEST_TABLE = 1 << 25
LARGEST_PACKED_BITS = 1 << 27  # beyond it, one product of integers takes longer than many small ones, and cannot be stopped
LARGEST_POWER_BITS = 1 << 25  # of a packed power or quotient: one arithmetic call, which no limit of time can interrupt
MOST_PRODUCTS = 40_000_000
LARGEST_RESULT_BITS = 1 << 32  # half a gigabyte: more than that is refused before it is begun
LIMB = 26


def multiply(p: Integers, q: Integers, make: Callable[[mpz], C] = mpz) -> dict[int, C]:
    """The product of two polynomials with integer coefficients, each coefficient of the kind that `make` makes.

    >>> multiply({0: mpz(1), 1: mpz(1)}, {0: mpz(-1), 1: mpz(1)}) == {0: -1, 2: 1}
    True
    """
    checkpoint()
    if len(p) > len(q):
        p, q = q, p
    work = len(p) * len(q)
    if work <= SMALL or len(p) <= 2:
        return {m: make(c) for m, c in by_dictionary(p, q).items()}
    used = variables_of([*p, *q])
    sizes = [a + b + 1 for a, b in zip(degrees(p, used), degrees(q, used), strict=True)]
    layout = Layout(tuple(used), tuple(sizes))
    length = layout.length
    left, right = list(map(abs, p.values())), list(map(abs, q.values()))
    largest = min(max(left) * sum(right), sum(left) * max(right))
    bits = whole_bytes(int(largest).bit_length() + 2)
    if length < 2 * work and length * bits < LARGEST_PACKED_BITS:
        positive = min(p.values()) > 0 and min(q.values()) > 0
        with foreign():
            return layout.unpack(layout.pack(p, bits) * layout.pack(q, bits), bits, positive, make)
    if work > MOST_PRODUCTS:
        raise DomainError("the product of two polynomials with so many terms is too large")
    limbs = (_limbs(p), _limbs(q))
    if work > 20_000 and limbs[0] * limbs[1] <= 12 and length < 1 << 62:
        return _by_rows(p, q, layout, limbs, make)
    return {m: make(c) for m, c in by_dictionary(p, q).items()}


def by_dictionary(p: dict[int, C], q: dict[int, C]) -> dict[int, C]:
    """The schoolbook product, for coefficients of any kind."""
    result: dict[int, Any] = {}
    get, left = result.get, cast(dict[int, Any], p)  # whatever numbers they are, they can be multiplied
    for m, c in left.items():
        checkpoint()
        for n, d in q.items():
            key = m + n
            result[key] = get(key, 0) + c * d
    return {m: c for m, c in result.items() if c}


def _limbs(p: Integers) -> int:
    return max(int(max(map(abs, p.values()))).bit_length() // LIMB + 1, 1)


def _columns(p: Integers, layout: Layout, limbs: int) -> tuple[Array, list[Array]]:
    """Places in the table, and the coefficients cut into signed limbs, as arrays."""
    import numpy

    places = numpy.zeros(len(p), dtype=numpy.int64)
    stride = 1
    for variable, size in zip(layout.variables, layout.sizes, strict=True):
        shift = BITS * variable
        places += numpy.array([(m >> shift) & FIELD for m in p], dtype=numpy.int64) * stride
        stride *= size
    values = list(p.values())
    if limbs == 1:
        return places, [numpy.array([int(c) for c in values], dtype=numpy.int64)]
    pieces = []
    mask = (1 << LIMB) - 1
    for k in range(limbs):
        shift = LIMB * k
        column = [int((abs(c) >> shift) & mask) * (1 if c > 0 else -1) for c in values]
        pieces.append(numpy.array(column, dtype=numpy.int64))
    return places, pieces


def _by_rows(p: Integers, q: Integers, layout: Layout, limbs: tuple[int, int], make: Callable[[mpz], C]) -> dict[int, C]:
    import numpy

    (rows, row_limbs), (columns, column_limbs) = _columns(p, layout, limbs[0]), _columns(q, layout, limbs[1])
    order = numpy.argsort(columns)
    columns, column_limbs = columns[order], [c[order] for c in column_limbs]
    pairs: dict[int, list[tuple[int, int]]] = {}
    for i in range(limbs[0]):
        for j in range(limbs[1]):
            pairs.setdefault(i + j, []).append((i, j))
    if layout.length > LARGEST_TABLE:
        return _by_sorting(rows, row_limbs, columns, column_limbs, pairs, layout, make)
    collected: Any = None
    found: Any = None
    for height, which in pairs.items():
        table = numpy.zeros(layout.length, dtype=numpy.int64)
        for i, j in which:
            right = column_limbs[j]
            for place, value in zip(rows.tolist(), row_limbs[i].tolist(), strict=True):
                checkpoint()
                if value:
                    table[columns + place] += right * value
        if len(pairs) == 1:
            found = numpy.flatnonzero(table)
            return _assembled(found, table[found].tolist(), layout, make)
        if found is None:
            found = numpy.unique((rows[:, None] + columns[None, :]).ravel())
            collected = [mpz(0)] * len(found)
        shift = LIMB * height
        collected = [c + (mpz(v) << shift) for c, v in zip(collected, table[found].tolist(), strict=True)]
    return _assembled(found, collected, layout, make)


def _by_sorting(
    rows: Array,
    row_limbs: list[Array],
    columns: Array,
    column_limbs: list[Array],
    pairs: dict[int, list[tuple[int, int]]],
    layout: Layout,
    make: Callable[[mpz], C],
) -> dict[int, C]:
    import numpy

    checkpoint()
    places = (rows[:, None] + columns[None, :]).ravel()
    order = numpy.argsort(places, kind="stable")
    places = places[order]
    starts = numpy.flatnonzero(numpy.concatenate(([True], places[1:] != places[:-1])))
    collected = [mpz(0)] * len(starts)
    for height, which in pairs.items():
        checkpoint()
        values: Any = sum((row_limbs[i][:, None] * column_limbs[j][None, :]).ravel() for i, j in which)
        sums = numpy.add.reduceat(values[order], starts)
        shift = LIMB * height
        collected = [c + (mpz(v) << shift) for c, v in zip(collected, sums.tolist(), strict=True)]
    return _assembled(places[starts], collected, layout, make)


def _assembled(places: Array, values: list[mpz], layout: Layout, make: Callable[[mpz], C]) -> dict[int, C]:
    """The table places as packed monomials, each with its coefficient."""
    checkpoint()
    keys = layout.monomials(places)
    checkpoint()
    if all(values):
        return dict(zip(keys, map(make, values), strict=True))
    return {k: make(c) for k, c in zip(keys, values, strict=True) if c}


def power(p: Integers, exponent: int) -> Integers:
    """A natural power of a polynomial with at least two terms.

    >>> power({0: mpz(1), 1: mpz(1)}, 3) == {0: 1, 1: 3, 2: 3, 3: 1}
    True
    """
    if exponent == 0:
        return {0: mpz(1)}
    used = variables_of(p)
    if not used:
        return {0: p[0] ** exponent}
    if exponent > MOST_PRODUCTS:
        raise DomainError("a power with so many terms is too large")
    sizes = [d * exponent + 1 for d in degrees(p, used)]
    length = prod(sizes)
    bits = whole_bytes(int(exponent * log2(int(sum(map(abs, p.values()))))) + 4)
    terms = comb(exponent + len(p) - 1, len(p) - 1)
    if min(length, terms) > MOST_PRODUCTS or min(length, terms) * bits > LARGEST_RESULT_BITS:
        raise DomainError("a power with so many terms, or such long ones, is too large")
    if len(used) == 1 and length * bits > LARGEST_POWER_BITS:
        return _by_recurrence(p, used[0], exponent)
    if length < 8 * terms and length * bits <= LARGEST_POWER_BITS:
        layout = Layout(tuple(used), tuple(sizes))
        with foreign():
            return layout.unpack(layout.pack(p, bits) ** exponent, bits, min(p.values()) > 0)
    if len(p) <= 8:
        result = p
        for _ in range(exponent - 1):
            checkpoint()
            result = by_dictionary(p, result) if len(p) * len(result) < 200_000 else multiply(p, result)
        return result
    half = power(p, exponent // 2) if exponent > 1 else {0: mpz(1)}
    square: Integers = multiply(half, half)
    return multiply(square, p) if exponent % 2 else square


def _by_recurrence(p: Integers, variable: int, exponent: int) -> Integers:
    """A power in one variable, coefficient by coefficient: from p * (p^n)' = n * p' * p^n (L. Euler, "Introductio in analysin
    infinitorum", 1748, ch. 4), so that no number in between is longer than the result's."""
    shift = BITS * variable
    terms = sorted(((m >> shift) & FIELD, c) for m, c in p.items())
    lowest, first = terms[0]
    rest = [(d - lowest, c) for d, c in terms[1:]]
    found = [first**exponent]
    for k in range(1, rest[-1][0] * exponent + 1):
        checkpoint()
        total = sum((((exponent + 1) * d - k) * c * found[k - d] for d, c in rest if d <= k), mpz(0))
        found.append(gmpy2.divexact(total, k * first))
    return {(k + lowest * exponent) << shift: c for k, c in enumerate(found) if c}


def divide_exactly(p: Integers, q: Integers) -> Integers | None:
    """p / q over the integers by one division of packed values; None where that is no polynomial, or cannot be told so.

    The quotient read back is accepted only where no digit of quotient times divisor can overflow, which makes the identity of
    the packed values one of polynomials.
    """
    used = variables_of([*p, *q])
    sizes = [a + 1 for a in degrees(p, used)]
    lower = degrees(q, used)
    if any(b >= a for a, b in zip(sizes, lower, strict=True)):
        return None
    layout = Layout(tuple(used), tuple(sizes))
    largest = max(map(abs, p.values()))
    bits = whole_bytes(int(largest).bit_length() * 2 + 12)
    for _ in range(3):
        if layout.length * bits > LARGEST_POWER_BITS:
            return None
        try:
            with foreign():
                value, rest = divmod(layout.pack(p, bits), layout.pack(q, bits))
                if rest:
                    return None
                quotient: Integers = layout.unpack(value, bits)
        except OverflowError:
            return None
        upper = degrees(quotient, used)
        height = max(map(abs, quotient.values())) * max(map(abs, q.values())) * min(len(q), len(quotient))
        fits = all(a + b < size for a, b, size in zip(upper, lower, sizes, strict=True))
        if fits and int(height + largest).bit_length() < bits:
            return quotient
        bits *= 2
    return None
