"""Polynomials in one variable over the integers as lists of coefficients, constant term first."""

from __future__ import annotations

from functools import cache

import gmpy2
from gmpy2 import gcd as integer_gcd
from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint
from gelvo.polynomial.packing import pack, unpack

Dense = list[mpz]
SHORT = 24  # below this many coefficients the schoolbook product wins


def trim(a: Dense) -> Dense:
    while a and not a[-1]:
        a.pop()
    return a


def add(a: Dense, b: Dense) -> Dense:
    if len(a) < len(b):
        a, b = b, a
    return trim([x + y for x, y in zip(a, b, strict=False)] + a[len(b) :])


def negate(a: Dense) -> Dense:
    return [-c for c in a]


def subtract(a: Dense, b: Dense) -> Dense:
    return add(a, negate(b))


def multiply(a: Dense, b: Dense) -> Dense:
    """The product, through one product of packed integers where that pays.

    >>> [int(c) for c in multiply([mpz(1), mpz(1)], [mpz(-1), mpz(1)])]
    [-1, 0, 1]
    """
    checkpoint()
    if not a or not b:
        return []
    if len(a) < SHORT or len(b) < SHORT:
        result = [mpz(0)] * (len(a) + len(b) - 1)
        for i, x in enumerate(a):
            if x:
                for j, y in enumerate(b):
                    result[i + j] += x * y
        return trim(result)
    bits = (max(map(abs, a)) * max(map(abs, b)) * min(len(a), len(b))).bit_length() + 2
    return trim(unpack(pack(a, bits) * pack(b, bits), bits, len(a) + len(b) - 1))


def reduced(a: Dense, modulus: mpz) -> Dense:
    return trim([c % modulus for c in a])


def balanced(a: Dense, modulus: mpz) -> Dense:
    """Coefficients between -modulus/2 and modulus/2."""
    half = modulus // 2
    return trim([c - modulus if c > half else c for c in (x % modulus for x in a)])


def divide_monic(a: Dense, b: Dense, modulus: mpz) -> tuple[Dense, Dense]:
    """Quotient and remainder modulo an integer, by a divisor with leading coefficient 1."""
    size = len(b) - 1
    if len(a) <= size:
        return [], list(a)
    rest = list(a)
    quotient = [mpz(0)] * (len(a) - size)
    below = b[:-1]
    for i in range(len(a) - size - 1, -1, -1):
        factor = rest[i + size] % modulus
        quotient[i] = factor
        if factor:
            for j, c in enumerate(below, i):
                rest[j] -= factor * c
    return trim(quotient), reduced(rest[:size], modulus)


def exact_quotient(a: Dense, b: Dense) -> Dense | None:
    """a / b over the integers, or None where it leaves a remainder."""
    if len(a) < len(b) or (b[0] and a[0] % b[0]) or a[-1] % b[-1]:
        return None
    rest = list(a)
    quotient = [mpz(0)] * (len(a) - len(b) + 1)
    for i in range(len(a) - len(b), -1, -1):
        checkpoint()
        factor, remainder = divmod(rest[i + len(b) - 1], b[-1])
        if remainder:
            return None
        quotient[i] = factor
        if factor:
            for j, c in enumerate(b, i):
                rest[j] -= factor * c
    return None if any(rest) else quotient


def content(a: Dense) -> mpz:
    """The greatest common divisor of the coefficients, with the sign of the leading one."""
    common = integer_gcd(*a) if len(a) > 1 else abs(a[0])
    return -common if a[-1] < 0 else common


def primitive(a: Dense) -> Dense:
    common = content(a)
    return list(a) if common == 1 else [c // common for c in a]


def derivative(a: Dense) -> Dense:
    return [k * c for k, c in enumerate(a)][1:]


def evaluate(a: Dense, x: mpq) -> mpq:
    result = mpq(0)
    for c in reversed(a):
        result = result * x + c
    return result


def sign_at(a: Dense, x: mpq) -> int:
    """The sign of the value at a rational number, in whole numbers only.

    >>> sign_at([mpz(-2), mpz(0), mpz(1)], mpq(3, 2))
    1
    """
    top, bottom = x.numerator, x.denominator
    result, scale = mpz(0), mpz(1)
    for c in reversed(a):
        result = result * top + c * scale
        scale *= bottom
    return int(gmpy2.sign(result))


def compose(a: Dense, b: Dense) -> Dense:
    """a(b(x))."""
    result: Dense = []
    for c in reversed(a):
        result = add(multiply(result, b), [c] if c else [])
    return result


def shifted(a: Dense, by: mpz) -> Dense:
    """a(x + by), by repeated sums.

    >>> [int(c) for c in shifted([mpz(0), mpz(0), mpz(1)], mpz(1))]
    [1, 2, 1]
    """
    result = list(a)
    for i in range(len(result) - 1):
        for j in range(len(result) - 2, i - 1, -1):
            result[j] += by * result[j + 1]
    return result


def gcd(a: Dense, b: Dense) -> Dense:
    """The primitive greatest common divisor with a positive leading coefficient: long integers first, then modulo primes.

    Source: B. Char, K. Geddes, G. Gonnet, "GCDHEU: Heuristic polynomial GCD algorithm based on integer GCD computation" (1989).

    >>> [int(c) for c in gcd([mpz(-1), mpz(0), mpz(1)], [mpz(1), mpz(2), mpz(1)])]
    [1, 1]
    """
    if not a or not b:
        return primitive(a or b) if a or b else []
    low = min(next(k for k, c in enumerate(f) if c) for f in (a, b))
    if low:
        return [mpz(0)] * low + gcd(a[low:], b[low:])
    a, b = (primitive(f[next(k for k, c in enumerate(f) if c) :]) for f in (a, b))
    if len(a) == 1 or len(b) == 1:
        return [mpz(1)]
    size = min(len(a), len(b))
    bits = min(max(map(abs, a)), max(map(abs, b))).bit_length() * 2 + 2 * size + 20
    width = max(max(map(abs, a)), max(map(abs, b))).bit_length() + 2
    bits = max(bits, width)
    for _ in range(4):
        value = integer_gcd(pack(a, bits), pack(b, bits))
        value >>= int(value.bit_scan1(0) or 0) // bits * bits  # powers of x are taken out beforehand
        length = min(size, value.bit_length() // bits + 2)
        try:
            candidate = primitive(trim(unpack(value, bits, length)))
        except OverflowError:
            candidate = []
        if candidate and exact_quotient(a, candidate) is not None and exact_quotient(b, candidate) is not None:
            return candidate
        bits = bits * 3 // 2 + 7
    return _gcd_by_remainders(a, b)


def _gcd_by_remainders(a: Dense, b: Dense) -> Dense:
    """Primitive remainder sequence (D. Knuth, "Seminumerical Algorithms", 1969, 4.6.1)."""
    if len(a) < len(b):
        a, b = b, a
    while b:
        checkpoint()
        a, b = b, pseudo_remainder(a, b)
        if b:
            b = primitive(b)
    return primitive(a)


def pseudo_remainder(a: Dense, b: Dense) -> Dense:
    """The remainder of lc(b)^(deg a - deg b + 1) * a on division by b."""
    rest = list(a)
    steps = len(a) - len(b) + 1
    while len(rest) >= len(b):
        top, gap = rest[-1], len(rest) - len(b)
        rest = [c * b[-1] for c in rest]
        for j, c in enumerate(b, gap):
            rest[j] -= top * c
        trim(rest)
        steps -= 1
    return [c * b[-1] ** steps for c in rest] if steps > 0 else rest


@cache
def cyclotomic(order: int) -> tuple[mpz, ...]:
    """The polynomial of the primitive roots of unity of an order.

    >>> [int(c) for c in cyclotomic(6)]
    [1, -1, 1]
    """
    rest, primes, k = order, [], 2
    while rest > 1:
        if rest % k == 0:
            primes.append(k)
            while rest % k == 0:
                rest //= k
        k += 1
    result: Dense = [mpz(-1), mpz(1)]
    for p in primes:
        raised = [mpz(0)] * ((len(result) - 1) * p + 1)
        raised[::p] = result
        result = exact_quotient(raised, result) or []
    spread = order
    for p in primes:
        spread //= p
    final = [mpz(0)] * ((len(result) - 1) * spread + 1)
    final[::spread] = result
    return tuple(final)
