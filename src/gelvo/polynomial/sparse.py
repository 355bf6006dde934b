"""Polynomials in several variables as a table: packed exponents -> coefficient.

The exponent of variable k sits in bits 24k … 24k+23 of one integer, so multiplying monomials adds integers. Variables of
higher number weigh more in the order of monomials.
"""

from __future__ import annotations

import heapq
from collections.abc import Iterable, Iterator
from functools import cache
from math import prod
from typing import Any, TypeAlias

from gmpy2 import gcd as integer_gcd
from gmpy2 import lcm as integer_lcm
from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.numbers import exact
from gelvo.numbers.exact import ONE, Gaussian, parts, reciprocal, told
from gelvo.polynomial import product, support
from gelvo.polynomial.support import LARGEST_EXPONENT, degrees, variables_of

BITS, FIELD = support.BITS, support.FIELD
Coefficient: TypeAlias = Any  # a rational, a Gaussian one, or a whole number
Polynomial = dict[int, Coefficient]
UNIT: Polynomial = {0: ONE}
FEW = 12
CHUNK = 6  # fields of a monomial that are looked up at once


def constant(value: Coefficient) -> Polynomial:
    return {0: value} if value else {}


def variable(index: int, exponent: int = 1) -> Polynomial:
    if exponent >= LARGEST_EXPONENT:
        raise DomainError(f"the exponent {told(exponent)} is too large for exact polynomial arithmetic")
    return {exponent << (BITS * index): ONE}


def exponent_of(monomial: int, index: int) -> int:
    return (monomial >> (BITS * index)) & FIELD


def mask(indices: Iterable[int]) -> int:
    """The bits in which the exponents of some variables sit."""
    return sum(FIELD << (BITS * index) for index in indices)


def exponents(monomials: Iterable[int]) -> Iterator[list[tuple[int, int]]]:
    """Of each monomial (index, exponent) for each variable in it, by rising index.

    >>> list(exponents(multiply(variable(2, 3), variable(0))))
    [[(0, 1), (2, 3)]]
    """
    mask = (1 << BITS * CHUNK) - 1
    known: dict[tuple[int, int], list[tuple[int, int]]] = {}  # the parts of long monomials recur
    for monomial in monomials:
        found: list[tuple[int, int]] = []
        start = 0
        while monomial:
            part = monomial & mask
            if part:
                listed = known.get((start, part))
                if listed is None:
                    fields = [(start + k, (part >> (BITS * k)) & FIELD) for k in range(CHUNK)]
                    listed = known[(start, part)] = [pair for pair in fields if pair[1]]
                found += listed
            monomial >>= BITS * CHUNK
            start += CHUNK
        yield found


def add(p: Polynomial, q: Polynomial) -> Polynomial:
    if len(p) < len(q):
        p, q = q, p
    result = dict(p)
    for monomial, coefficient in q.items():
        total = result.get(monomial, 0) + coefficient
        if total:
            result[monomial] = total
        else:
            result.pop(monomial, None)
    return result


def scale(p: Polynomial, factor: Coefficient) -> Polynomial:
    return {m: c * factor for m, c in p.items()} if factor else {}


def negate(p: Polynomial) -> Polynomial:
    return {m: -c for m, c in p.items()}


def subtract(p: Polynomial, q: Polynomial) -> Polynomial:
    return add(p, negate(q))


def multiply(p: Polynomial, q: Polynomial) -> Polynomial:
    """The product; refused where it cannot fit in memory."""
    checkpoint()
    if len(p) < FEW or len(q) < FEW:
        if len(p) > len(q):
            p, q = q, p
        if len(p) == 1:
            ((m, c),) = p.items()
            return {m + n: c * d for n, d in q.items()}
        return product.by_dictionary(p, q)
    if has_gaussian(p) or has_gaussian(q):
        return _multiply_gaussian(p, q)
    (p_scale, p_integers), (q_scale, q_integers) = integers(p), integers(q)
    if p_scale == q_scale == 1:
        return product.multiply(p_integers, q_integers, mpq)
    return rational(product.multiply(p_integers, q_integers), p_scale * q_scale)


def integers(p: Polynomial) -> tuple[mpz, dict[int, mpz]]:
    """(common denominator, the polynomial times it with integer coefficients)."""
    bottom = mpz(1)
    for c in p.values():
        if c.denominator != 1:
            bottom = integer_lcm(bottom, c.denominator)
    if bottom == 1:
        return bottom, {m: c.numerator for m, c in p.items()}
    return bottom, {m: c.numerator * (bottom // c.denominator) for m, c in p.items()}


def rational(p: dict[int, mpz], denominator: mpz) -> Polynomial:
    """Integer coefficients over one denominator, as rational ones."""
    if denominator == 1:
        return {m: mpq(c) for m, c in p.items()}
    return {m: mpq(c, denominator) for m, c in p.items()}


def _multiply_gaussian(p: Polynomial, q: Polynomial) -> Polynomial:
    a, b = _parts(p)
    c, d = _parts(q)
    real = subtract(multiply(a, c), multiply(b, d))
    imag = add(multiply(a, d), multiply(b, c))
    return add(real, {m: Gaussian(mpq(0), v) for m, v in imag.items()})


def _parts(p: Polynomial) -> tuple[Polynomial, Polynomial]:
    pairs = {m: parts(c) for m, c in p.items()}
    return {m: r for m, (r, _) in pairs.items() if r}, {m: i for m, (_, i) in pairs.items() if i}


def power(p: Polynomial, exponent: int) -> Polynomial:
    if len(p) == 1:
        ((m, c),) = p.items()
        if m and exponent * max(m >> s & FIELD for s in range(0, m.bit_length(), BITS)) >= LARGEST_EXPONENT:
            raise DomainError(f"the exponent {told(exponent)} is too large for exact polynomial arithmetic")
        return {m * exponent: exact.power(c, exponent)}
    if not p:
        return {} if exponent else {0: ONE}
    if exponent > 2 and not has_gaussian(p):
        bottom, whole = integers(p)
        return rational(product.power(whole, exponent), mpz(exact.power(mpq(bottom), exponent)))
    result: Polynomial = {0: ONE}
    square = p
    while exponent:
        if exponent & 1:
            result = multiply(result, square)
        exponent >>= 1
        if exponent:
            square = multiply(square, square)
    return result


def degree(p: Polynomial, index: int) -> int:
    """The degree in one variable; -1 for zero."""
    shift = BITS * index
    return max(((m >> shift) & FIELD for m in p), default=-1)


def variables(p: Polynomial) -> list[int]:
    """The numbers of the variables that occur."""
    return variables_of(p)


def by_powers(p: Polynomial, index: int) -> dict[int, Polynomial]:
    """The polynomial as power -> coefficient polynomial in one variable."""
    shift = BITS * index
    mask = FIELD << shift
    result: dict[int, Polynomial] = {}
    for m, c in p.items():
        result.setdefault((m >> shift) & FIELD, {})[m & ~mask] = c
    return result


def leading_coefficient(p: Polynomial, index: int) -> Polynomial:
    """The coefficient of the highest power of one variable."""
    powers = by_powers(p, index)
    return powers[max(powers)]


def from_powers(powers: dict[int, Polynomial], index: int) -> Polynomial:
    shift = BITS * index
    return {m + (k << shift): c for k, q in powers.items() for m, c in q.items()}


def divide_exactly(p: Polynomial, q: Polynomial) -> Polynomial | None:  # noqa: C901
    """p / q where that is a polynomial, else None."""
    if not p:
        return {}
    if len(q) == 1:
        ((m, c),) = q.items()
        if any(not divides(m, n) for n in p):
            return None
        return {n - m: _quotient(d, c) for n, d in p.items()}
    if len(p) * len(q) > 20_000 and not has_gaussian(p) and not has_gaussian(q):
        found = _divide_packed(p, q)
        if found is not None:
            return found
    leading = max(q)
    leading_coefficient = q[leading]
    rest = [(m, c) for m, c in q.items() if m != leading]
    remaining = dict(p)
    heap = [-m for m in remaining]
    heapq.heapify(heap)
    result: Polynomial = {}
    while heap:
        checkpoint()
        monomial = -heapq.heappop(heap)
        coefficient = remaining.pop(monomial, None)
        if not coefficient:
            continue
        if not divides(leading, monomial):
            return None
        shift = monomial - leading
        factor = _quotient(coefficient, leading_coefficient)
        result[shift] = factor
        for m, c in rest:
            key = m + shift
            if key in remaining:
                remaining[key] -= factor * c
            else:
                remaining[key] = -factor * c
                heapq.heappush(heap, -key)
    return result


def _divide_packed(p: Polynomial, q: Polynomial) -> Polynomial | None:
    """The quotient by one division of long integers, where the exponents are dense enough for it; None settles nothing."""
    content_p, content_q = integer_content(p), integer_content(q)
    used = variables_of(p)
    length = prod(d + 1 for d in degrees(p, used))
    if length > 200 * len(p):
        return None
    found = product.divide_exactly(_divided(p, content_p), _divided(q, content_q))
    return None if found is None else {m: c * (content_p / content_q) for m, c in found.items()}


def _divided(p: Polynomial, content: mpq) -> dict[int, mpz]:
    return {m: (c / content).numerator for m, c in p.items()}


def _quotient(a: Coefficient, b: Coefficient) -> Coefficient:
    return a * reciprocal(b) if isinstance(b, Gaussian) or isinstance(a, Gaussian) else mpq(a) / b


def divides(m: int, n: int) -> bool:
    """Whether monomial m divides monomial n, compared field by field."""
    while m:
        if m & FIELD > n & FIELD:
            return False
        m >>= BITS
        n >>= BITS
    return True


def monomial_content(p: Polynomial) -> int:
    """The largest monomial that divides every term."""
    if not p or 0 in p:
        return 0
    fields = max(p).bit_length() // BITS + 1
    shared = _ones(fields) << (BITS - 1)
    below = shared - _ones(fields)  # adding it to a monomial sets the top bit of every field that is not zero
    top = shared
    for m in p:
        shared &= m + below
        if not shared & top:
            return 0
    places = [s for s in range(0, fields * BITS, BITS) if shared >> (s + BITS - 1) & 1]
    return sum(min([(m >> s) & FIELD for m in p]) << s for s in places)


@cache
def _ones(fields: int) -> int:
    return sum(1 << (BITS * k) for k in range(fields))


def integer_content(p: Polynomial) -> mpq:
    """The rational number that leaves coprime integer coefficients with a positive leading one."""
    top, bottom = mpz(0), mpz(1)
    if has_gaussian(p):
        raise DomainError("factors are worked out over the rationals: the imaginary unit cannot stand among the coefficients")
    for c in p.values():
        top = integer_gcd(top, c.numerator)
        bottom = integer_lcm(bottom, c.denominator)
    content = mpq(top, bottom)
    return -content if p and p[max(p)] < 0 else content


def primitive(p: Polynomial) -> tuple[mpq, Polynomial]:
    """(content, p / content) with coprime integer coefficients."""
    if not p:
        return mpq(0), {}
    content = integer_content(p)
    return content, {m: mpq(c / content) for m, c in p.items()}


def evaluate(p: Polynomial, index: int, value: mpz) -> Polynomial:
    """One variable replaced by a number."""
    shift = BITS * index
    mask = FIELD << shift
    powers: dict[int, Any] = {}
    result: Polynomial = {}
    for m, c in p.items():
        k = (m >> shift) & FIELD
        if k not in powers:
            powers[k] = value**k
        key = m & ~mask
        result[key] = result.get(key, 0) + c * powers[k]
    return {m: c for m, c in result.items() if c}


def derivative(p: Polynomial, index: int) -> Polynomial:
    shift = BITS * index
    return {m - (1 << shift): c * ((m >> shift) & FIELD) for m, c in p.items() if (m >> shift) & FIELD}


def total(polynomials: Iterable[Polynomial]) -> Polynomial:
    result: Polynomial = {}
    for p in polynomials:
        result = add(result, p)
    return result


def has_gaussian(p: Polynomial) -> bool:
    return any(isinstance(c, Gaussian) for c in p.values())


def without_imaginary(p: Polynomial, index: int) -> Polynomial:
    """The imaginary unit in the coefficients written as a variable."""
    unit = 1 << (BITS * index)
    real, imag = _parts(p)
    return add(real, {m + unit: c for m, c in imag.items()})
