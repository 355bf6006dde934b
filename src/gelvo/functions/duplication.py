"""Bounds of elliptic integrals by duplication: each step brings the arguments four times nearer to each other, and a symmetric
integral lies between its values at the largest and at the smallest of them.

Source: B. C. Carlson, "Numerical computation of real or complex elliptic integrals" (1995); DLMF 19.25, 19.26 and 19.36.
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpfr

from gelvo.deadline import checkpoint
from gelvo.functions.support import Arithmetic, Box, Interval, NoValue, only_real


def bounds_of(name: str, shape: Callable[..., Interval], places: tuple[str, ...]) -> Callable[..., Box]:
    """Of an elliptic integral with the arguments named: "n", "phi" and "m" in the order in which it takes them; no phi: complete."""

    def bounds(a: Arithmetic, *arguments: Box) -> Box:
        given = {place: only_real(box, name) for place, box in zip(places, arguments, strict=True)}
        if "phi" in given:
            s, c = a.sine(given["phi"]), a.cosine(given["phi"])
            if given["phi"].high > mpfr("1.57") or given["phi"].low < mpfr("-1.57"):
                raise NoValue(f"{name} has bounds for angles within a quarter of a turn")
        else:
            s, c = a.one, a.zero
        square = a.power(s, 2)
        y = a.subtract(a.one, a.multiply(given["m"], square))
        p = a.subtract(a.one, a.multiply(given.get("n", a.zero), square))
        if y.low <= 0 or p.low <= 0:
            raise NoValue(f"{name} beyond its singular places, or too near to them")
        return Box(shape(a, s, (a.power(c, 2), y, a.one), p, given))

    return bounds


def first(a: Arithmetic, s: Interval, at: tuple[Interval, ...], p: Interval, given: dict[str, Interval]) -> Interval:
    return a.multiply(s, symmetric_first(a, at))


def second(a: Arithmetic, s: Interval, at: tuple[Interval, ...], p: Interval, given: dict[str, Interval]) -> Interval:
    share = a.divide(a.multiply(given["m"], a.power(s, 3)), a.integer(3))
    return a.subtract(a.multiply(s, symmetric_first(a, at)), a.multiply(share, symmetric_third(a, at, at[2])))


def third(a: Arithmetic, s: Interval, at: tuple[Interval, ...], p: Interval, given: dict[str, Interval]) -> Interval:
    share = a.divide(a.multiply(given["n"], a.power(s, 3)), a.integer(3))
    return a.add(a.multiply(s, symmetric_first(a, at)), a.multiply(share, symmetric_third(a, at, p)))


def _steps(a: Arithmetic) -> int:
    return a.precision // 2 + 8


def _means(a: Arithmetic, *arguments: Interval) -> tuple[list[Interval], list[Interval]]:
    """The roots of the arguments, and the arguments after a step."""
    roots = [a.sqrt(_not_negative(x)) for x in arguments]
    x, y, z = roots[:3]
    shift = a.add(a.multiply(x, y), a.add(a.multiply(y, z), a.multiply(z, x)))
    quarter = a.integer(4)
    return roots, [a.divide(a.add(v, shift), quarter) for v in arguments]


def _not_negative(x: Interval) -> Interval:
    return Interval(max(x.low, mpfr(0)), x.high)


def _between(a: Arithmetic, values: list[Interval], halves: int) -> Interval:
    """Between the largest and the smallest argument, to the power -halves/2."""
    lowest, highest = min(v.low for v in values), max(v.high for v in values)
    return a.divide(a.one, a.power(a.sqrt(Interval(lowest, highest)), halves))


def symmetric_first(a: Arithmetic, at: tuple[Interval, ...]) -> Interval:
    """R_F(x, y, z)."""
    values = list(at)
    for _ in range(_steps(a)):
        _, values = _means(a, *values)
    return _between(a, values, 1)


MOST_BITS = 1200  # the work grows with the square


def symmetric_third(a: Arithmetic, at: tuple[Interval, ...], p: Interval) -> Interval:
    """R_J(x, y, z, p) at (x, y, z) for p > 0; R_D(x, y, z) is R_J(x, y, z, z)."""
    if a.precision > MOST_BITS and p != at[2]:
        raise NoValue("elliptic integrals of the third kind have bounds up to some hundred digits")
    values, total, scale = [*at, p], a.zero, a.one
    for k in range(_steps(a)):
        roots, after = _means(a, *values)
        top = roots[3]
        d = a.multiply(a.add(top, roots[0]), a.multiply(a.add(top, roots[1]), a.add(top, roots[2])))
        checkpoint()
        if values[3] == values[2]:  # R_D
            total = a.add(total, a.divide(scale, d))
        else:
            gap = a.one
            for v in values[:3]:
                gap = a.multiply(gap, a.subtract(values[3], v))
            one = a.add(a.one, a.divide(gap, a.power(d, 2)))
            total = a.add(total, a.multiply(scale, a.divide(_degenerate(a, one, _steps(a) - k), d)))
        values, scale = after, a.divide(scale, a.integer(4))
    return a.add(a.multiply(a.integer(6), total), a.multiply(scale, _between(a, values, 3)))


def _degenerate(a: Arithmetic, y: Interval, steps: int) -> Interval:
    """R_C(1, y)."""
    x = a.one
    for _ in range(steps):
        root = a.sqrt(y)
        shift = a.add(a.multiply(a.integer(2), a.multiply(a.sqrt(x), root)), y)
        x, y = (a.divide(a.add(v, shift), a.integer(4)) for v in (x, y))
    return _between(a, [x, y], 1)
