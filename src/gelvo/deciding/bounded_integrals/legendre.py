"""Nodes and weights of Gauss's rule, each enclosed: a change of sign of the Legendre polynomial proves the node.

Source: F. Johansson, M. Mezzarobba, "Fast and rigorous arbitrary-precision computation of Gauss-Legendre quadrature nodes and weights"
(2018): the recurrence in fixed point, rounded once a step, is wrong by less than 0.75*(n + 1)*(n + 2) units of the last place.
"""

from __future__ import annotations

import functools
import math

from gmpy2 import mpq, mpz

from gelvo.numbers.interval import Interval, NoValue, arithmetic

SPARE_BITS = 30
NEWTON_STEPS = 12


@functools.lru_cache(maxsize=64)
def nodes_and_weights(n: int, precision: int) -> tuple[tuple[Interval, Interval], ...]:
    """Those of the rule of n places on [-1, 1], from its positive half (a node 0 is the last one of an odd rule).

    >>> [float(x.low) for x, w in nodes_and_weights(2, 60)][0]
    0.5773502691896257
    """
    bits = precision + SPARE_BITS + 4 * n.bit_length()
    width = mpz(1) << (SPARE_BITS // 2)
    a = arithmetic(precision + SPARE_BITS)
    pairs = []
    for k in range(1, n // 2 + 1):
        x = _node(n, k, bits)
        signs = [_sign(n, end, bits) for end in (x - width, x + width)]
        if signs[0] * signs[1] >= 0:
            raise NoValue("a node was not separated")
        one = mpz(1) << bits
        node = Interval(a.rational(mpq(x - width, one)).low, a.rational(mpq(x + width, one)).high)
        pairs.append((node, _weight(n, x, width, bits, precision)))
    if n % 2:
        pairs.append((a.zero, _weight(n, mpz(0), mpz(0), bits, precision)))
    return tuple(pairs)


def _legendre(n: int, x: mpz, bits: int) -> tuple[mpz, mpz]:
    """P_n(x) and P_(n-1)(x) in fixed point."""
    before, now = mpz(1) << bits, x
    for k in range(1, n):
        before, now = now, ((2 * k + 1) * x * now - (k * before << bits)) // ((k + 1) << bits)
    return now, before


def _error(n: int) -> int:
    return (3 * (n + 1) * (n + 2)) // 4 + 1


def _node(n: int, k: int, bits: int) -> mpz:
    """I. Newton's method from F. Tricomi's first approximation."""
    one = mpz(1) << bits
    x = mpz(int(math.cos(math.pi * (k - 0.25) / (n + 0.5)) * 2**60)) << (bits - 60)
    for _ in range(NEWTON_STEPS):
        now, before = _legendre(n, x, bits)
        slope = n * ((x * now >> bits) - before) * one // ((x * x >> bits) - one)
        step = now * one // slope
        x -= step
        if abs(step) <= 4:
            break
    return x


def _sign(n: int, x: mpz, bits: int) -> int:
    value = _legendre(n, x, bits)[0]
    return 0 if abs(value) <= _error(n) else 1 if value > 0 else -1


def _weight(n: int, x: mpz, width: mpz, bits: int, precision: int) -> Interval:
    """2*(1 - x^2)/(n*P_(n-1)(x))^2, with a slope of P_(n-1) of at most n^2/2."""
    a = arithmetic(precision + SPARE_BITS)
    one = mpz(1) << bits
    value, error = abs(_legendre(n, x, bits)[1]), _error(n) + n * n * width
    below = Interval(a.rational(mpq(value - error, one)).low, a.rational(mpq(value + error, one)).high)
    node = Interval(a.rational(mpq(x - width, one)).low, a.rational(mpq(x + width, one)).high)
    square = a.power(a.multiply(a.integer(n), below), 2)
    return a.divide(a.multiply(a.integer(2), a.subtract(a.one, a.power(node, 2))), square)
