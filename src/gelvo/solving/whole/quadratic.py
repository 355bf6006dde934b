"""Quadratic equations in two whole numbers: ellipses by search between exact bounds, hyperbolas by Pell's equation.

Source: T. Nagell, "Introduction to Number Theory" (1951), sections 56 to 58; the periods by J.-L. Lagrange (1768).
"""

from __future__ import annotations

from collections.abc import Iterator
from math import isqrt
from typing import NamedTuple

from gelvo.solving.whole.reading import Whole

FARTHEST = 10**6


class Pell(NamedTuple):
    """All solutions are the (x, y) with x + y*sqrt(D) = (a + b*sqrt(D))*(t + u*sqrt(D))^n for one of the starts (a, b), with either sign."""

    square_free: int
    unit: tuple[int, int]
    starts: list[tuple[int, int]]


def on_ellipse(p: Whole) -> list[tuple[int, int]] | None:
    """All whole points of a*x^2 + b*x*y + c*y^2 + d*x + e*y + f = 0 with b^2 < 4*a*c; None where it is no ellipse.

    >>> on_ellipse({(2, 0): 1, (0, 2): 1, (0, 0): -5})
    [(-2, -1), (-2, 1), (-1, -2), (-1, 2), (1, -2), (1, 2), (2, -1), (2, 1)]
    """
    if any(sum(k) > 2 for k in p):
        return None
    a, b, c, d, e, f = (p.get(k, 0) for k in ((2, 0), (1, 1), (0, 2), (1, 0), (0, 1), (0, 0)))
    if b * b - 4 * a * c >= 0:
        return None
    # as a quadratic in y its discriminant (b*x + e)^2 - 4*c*(a*x^2 + d*x + f) must not be negative
    two, one, zero = b * b - 4 * a * c, 2 * b * e - 4 * c * d, e * e - 4 * c * f
    inside = one * one - 4 * two * zero
    if inside < 0:
        return []
    root = isqrt(inside) + 1
    low, high = sorted(((-one + root) // (2 * two), (-one - root) // (2 * two)))
    if high - low > FARTHEST:
        return None
    return [(x, y) for x in range(low - 1, high + 2) for y in _whole_roots(c, b * x + e, a * x * x + d * x + f)]


def _whole_roots(a: int, b: int, c: int) -> Iterator[int]:
    gap = b * b - 4 * a * c
    root = isqrt(gap) if gap >= 0 else -1
    if root * root == gap:
        for top in sorted({-b - root, -b + root}):
            if top % (2 * a) == 0:
                yield top // (2 * a)


def pell(p: Whole) -> Pell | None:
    """x^2 - D*y^2 = N with D > 0 that is no square; None for another equation.

    >>> pell({(2, 0): 1, (0, 2): -2, (0, 0): -1})
    Pell(square_free=2, unit=(3, 2), starts=[(1, 0)])
    """
    if not set(p) <= {(2, 0), (0, 2), (0, 0)} or abs(p.get((2, 0), 0)) != 1:
        return None
    sign = p[(2, 0)]
    d, size = -p.get((0, 2), 0) * sign, -p.get((0, 0), 0) * sign
    if d <= 0 or isqrt(d) ** 2 == d:
        return None
    t, u = fundamental_unit(d)
    if not size:
        return Pell(d, (t, u), [(0, 0)])
    # each class has a member with |y| <= sqrt(|N|*(t -+ 1)/(2*D))
    most = isqrt(abs(size) * (t + (-1 if size > 0 else 1)) // (2 * d)) + 1
    if most > FARTHEST:
        return None
    starts: list[tuple[int, int]] = []
    for y in range(most + 1):
        square = size + d * y * y
        x = isqrt(square) if square >= 0 else -1
        for start in dict.fromkeys([(x, y), (x, -y)]) if x >= 0 and x * x == square else ():
            if not any(_same_class(start, other, d, size) for other in starts):
                starts.append(start)
    return Pell(d, (t, u), starts)


def _same_class(one: tuple[int, int], other: tuple[int, int], d: int, size: int) -> bool:
    """Whether two solutions differ by a unit, or by a unit and the sign."""
    (a, b), (x, y) = one, other
    return (a * x - d * b * y) % abs(size) == 0 and (b * x - a * y) % abs(size) == 0


def fundamental_unit(d: int) -> tuple[int, int]:
    """The least (t, u) with t^2 - d*u^2 = 1 and u > 0, by the continued fraction of sqrt(d)."""
    whole = isqrt(d)
    m, q, a = 0, 1, whole
    before, t = 1, whole
    below, u = 0, 1
    while t * t - d * u * u != 1:
        m = q * a - m
        q = (d - m * m) // q
        a = (whole + m) // q
        before, t = t, a * t + before
        below, u = u, a * u + below
    return t, u
