"""Bounds of functions by their power series: terms that follow from each other by a ratio, with a bound on all that is left out.

>>> from gelvo.numbers.interval import Arithmetic
>>> a = Arithmetic(60)
>>> total = sum_of_ratios(a, a.one, lambda k: a.rational(mpq(1, k + 1)))  # 1 + 1/1! + 1/2! + …
>>> float(total.low) <= 2.718281828459045 <= float(total.high)
True
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpfr, mpq

from gelvo.deadline import checkpoint
from gelvo.functions.support import Arithmetic, Box, Interval, NoValue, only_real

MOST_TERMS = 20_000
LARGEST_ORDER = 1000
Ratio = Callable[[int], Interval]


def sum_of_ratios(
    a: Arithmetic, first: Interval, ratio: Ratio, least: Interval | None = None, start: int = 0, largest: Callable[[int], mpfr] | None = None,
) -> Interval:  # fmt: skip
    """The sum of t_0 = first, t_(k+1) = t_k*ratio(k); a tail whose ratios are all at most q is at most t*q/(1 - q) in size.

    ratio: its size must fall with k from `start` on, or stay below `least` (a number below 1) there, or below `largest`, which falls.
    """
    total, term = first, first
    for k in range(MOST_TERMS):
        checkpoint()
        size = max(abs(term.low), abs(term.high))
        step = ratio(k)
        q = (max(abs(step.low), abs(step.high)) if largest is None else largest(k)) if least is None else least.high
        if k >= start and q < 0.95 and a.up.div(size, a.down.sub(1, q)) < a.up.exp2(-a.precision - 8):
            tail = a.up.div(a.up.mul(size, q), a.down.sub(1, q))
            return a.add(total, Interval(a.down.minus(tail), tail))
        term = a.multiply(term, step)
        total = a.add(total, term)
    raise NoValue("a power series with too many terms")


def whole_order(order: Box, function: str, lowest: int = 0) -> int:
    low, high = only_real(order, function).low, order.real.high
    if low != high or low != int(low) or not lowest <= low <= LARGEST_ORDER:
        raise NoValue(f"{function} has bounds for whole orders from {lowest} on")
    return int(low)


def rational_order(order: Box, function: str) -> mpq:
    """An order that is one binary fraction."""
    low, high = only_real(order, function).low, order.real.high
    if low != high or abs(low) > LARGEST_ORDER:
        raise NoValue(f"{function} has bounds for orders that are known exactly")
    return mpq(low)


def narrow_enough(a: Arithmetic, x: Interval, function: str) -> Interval:
    """An argument whose width does not drown the value: terms of both signs over a range are far larger than their sum."""
    if not x.finite or a.up.sub(x.high, x.low) > a.up.exp2(-a.precision // 2) * max(1, abs(x.high)):
        raise NoValue(f"the terms of the series of {function} over a range are far larger than the value")
    return x
