"""Greatest common divisors over the rationals in several variables.

Methods: evaluation at a large integer and reading the divisor back from digits (B. Char, K. Geddes, G. Gonnet, "GCDHEU:
Heuristic polynomial GCD algorithm based on integer GCD computation", 1989), verified by division; where that fails, a
primitive remainder sequence (D. Knuth, "Seminumerical Algorithms", 1969, 4.6.1).
"""

from __future__ import annotations

from gmpy2 import gcd as integer_gcd
from gmpy2 import isqrt, mpq, mpz

from gelvo.polynomial import sparse
from gelvo.polynomial.sparse import Polynomial

TRIES = 5
LARGEST_BITS = 60_000


def gcd(p: Polynomial, q: Polynomial) -> Polynomial:
    """The greatest common divisor with coprime integer coefficients and a positive leading one.

    >>> x_minus_1, x_plus_1 = {1: mpq(1), 0: mpq(-1)}, {1: mpq(1), 0: mpq(1)}
    >>> gcd(sparse.multiply(x_minus_1, x_plus_1), sparse.multiply(x_minus_1, x_minus_1)) == x_minus_1
    True
    """
    if not p or not q:
        return sparse.primitive(p or q)[1]
    monomial = _common_monomial(sparse.monomial_content(p), sparse.monomial_content(q))
    p, q = _without_monomial(p), _without_monomial(q)
    _, p = sparse.primitive(p)
    _, q = sparse.primitive(q)
    found = _gcd(p, q)
    return {m + monomial: c for m, c in found.items()}


def _common_monomial(m: int, n: int) -> int:
    size = max(m.bit_length(), n.bit_length())
    return sum(min((m >> s) & sparse.FIELD, (n >> s) & sparse.FIELD) << s for s in range(0, size, sparse.BITS))


def _without_monomial(p: Polynomial) -> Polynomial:
    content = sparse.monomial_content(p)
    return {m - content: c for m, c in p.items()} if content else p


def content_in(p: Polynomial, index: int) -> Polynomial:
    """The greatest common divisor of the coefficients in one variable."""
    result: Polynomial = {}
    for coefficient in sorted(sparse.by_powers(p, index).values(), key=len):
        result = gcd(result, coefficient)
        if len(result) == 1 and 0 in result:
            break
    return result


def _gcd(p: Polynomial, q: Polynomial) -> Polynomial:
    one: Polynomial = {0: mpq(1)}
    if len(p) == 1 or len(q) == 1:
        return one
    if p == q:
        return p
    mine, theirs = sparse.variables(p), sparse.variables(q)
    for index in mine:
        if index not in theirs:
            return gcd(content_in(p, index), q)
    for index in theirs:
        if index not in mine:
            return gcd(p, content_in(q, index))
    found = _heuristic(p, q, mine)
    return found if found is not None else _remainder_sequence(p, q, mine[-1])


def _heuristic(p: Polynomial, q: Polynomial, used: list[int]) -> Polynomial | None:
    index = used[-1]
    largest = min(max(abs(c) for c in p.values()), max(abs(c) for c in q.values()))
    point = mpz(2 * largest + 29)
    bits = max(sparse.degree(p, index), sparse.degree(q, index))
    for _ in range(TRIES):
        if point.bit_length() * bits > LARGEST_BITS:
            return None
        a, b = sparse.evaluate(p, index, point), sparse.evaluate(q, index, point)
        if a and b:
            inner: Polynomial | None
            if len(used) == 1:
                inner = {0: mpq(integer_gcd(a[0].numerator, b[0].numerator))}
            else:
                inner = _gcd_with_content(a, b)
            candidate = sparse.primitive(_read_back(inner, index, point))[1]
            if sparse.divide_exactly(p, candidate) is not None and sparse.divide_exactly(q, candidate) is not None:
                return candidate
        point = point * 73794 // 27011 + isqrt(isqrt(point))
    return None


def _gcd_with_content(a: Polynomial, b: Polynomial) -> Polynomial:
    """The divisor over the integers, its integer content kept: the digits of the outer variable sit in it."""
    content_a, content_b = sparse.integer_content(a), sparse.integer_content(b)
    content = integer_gcd(content_a.numerator, content_b.numerator)
    return sparse.scale(gcd(a, b), mpq(content))


def _read_back(p: Polynomial, index: int, point: mpz) -> Polynomial:
    """Digits in base `point`, balanced around zero, are the coefficients in the variable."""
    shift = sparse.BITS * index
    half = point // 2
    result: Polynomial = {}
    for m, c in p.items():
        rest, k = c.numerator, 0
        while rest:
            digit = rest % point
            if digit > half:
                digit -= point
            if digit:
                result[m + (k << shift)] = mpq(digit)
            rest = (rest - digit) // point
            k += 1
    return result


def _remainder_sequence(p: Polynomial, q: Polynomial, index: int) -> Polynomial:
    content_p, content_q = content_in(p, index), content_in(q, index)
    common = gcd(content_p, content_q)
    a, b = sparse.divide_exactly(p, content_p) or {}, sparse.divide_exactly(q, content_q) or {}
    if sparse.degree(a, index) < sparse.degree(b, index):
        a, b = b, a
    while b:
        remainder = pseudo_remainder(a, b, index)
        a = b
        if not remainder:
            break
        inner = content_in(remainder, index)
        b = sparse.primitive(sparse.divide_exactly(remainder, inner) or {})[1]
        if sparse.degree(b, index) == 0:
            return common
    return sparse.primitive(sparse.multiply(a, common))[1]


def pseudo_remainder(a: Polynomial, b: Polynomial, index: int) -> Polynomial:
    """The remainder of a multiple of a on division by b, in one variable, without fractions."""
    shift = sparse.BITS * index
    size = sparse.degree(b, index)
    leading = sparse.by_powers(b, index)[size]
    while a and sparse.degree(a, index) >= size:
        gap = sparse.degree(a, index) - size
        top = sparse.by_powers(a, index)[gap + size]
        shifted = {m + (gap << shift): c for m, c in b.items()}
        a = sparse.subtract(sparse.multiply(a, leading), sparse.multiply(shifted, top))
    return a


def lcm(p: Polynomial, q: Polynomial) -> Polynomial:
    return sparse.multiply(p, sparse.divide_exactly(q, gcd(p, q)) or {})


def square_free(p: Polynomial) -> list[tuple[Polynomial, int]]:
    """Parts without repeated factors and how often each occurs, of a primitive polynomial (Yun, 1976).

    >>> [(len(f), k) for f, k in square_free({2: mpq(1), 1: mpq(2), 0: mpq(1)})]
    [(2, 2)]
    """
    used = sparse.variables(p)
    if not used:
        return []
    index = used[-1]
    result: list[tuple[Polynomial, int]] = []
    content = content_in(p, index)
    if sparse.variables(content):
        result.extend(square_free(content))
        p = sparse.divide_exactly(p, content) or {}
    change = sparse.derivative(p, index)
    common = gcd(p, change)
    part = sparse.divide_exactly(p, common) or {}
    rest = sparse.subtract(sparse.divide_exactly(change, common) or {}, sparse.derivative(part, index))
    times = 1
    while sparse.degree(part, index) > 0:
        factor = gcd(part, rest) if rest else sparse.primitive(part)[1]
        part = sparse.divide_exactly(part, factor) or {}
        quotient = sparse.divide_exactly(rest, factor) or {}
        rest = sparse.subtract(quotient, sparse.derivative(part, index))
        if sparse.degree(factor, index) > 0:
            result.append((sparse.primitive(factor)[1], times))
        times += 1
    return result
