"""Bessel functions and modified Bessel functions of any real order.

Source: DLMF 10.2 (definitions), 10.6 and 10.29 (recurrences and derivatives), 10.16 and 10.39 (half orders).
"""

from __future__ import annotations

from collections.abc import Callable
from math import comb
from typing import Any

from gelvo.errors import DomainError
from gelvo.expression.constants import PI, TWO, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.series_bounds import narrow_enough, sum_of_ratios, whole_order
from gelvo.functions.support import (
    Arithmetic,
    Box,
    Condition,
    Expression,
    FunctionName,
    Interval,
    Number,
    facts,
    fraction,
    junction,
    mpq,
    only_real,
    pole_at_zero,
    relation,
    sqrt,
)

besselj, bessely, besseli, besselk = (FunctionName(n) for n in ("besselj", "bessely", "besseli", "besselk"))
sin, cos, sinh, cosh, exp = (FunctionName(n) for n in ("sin", "cos", "sinh", "cosh", "exp"))


def _order(n: Expression) -> mpq | None:
    return n.rational if isinstance(n, Number) and n.is_rational else None


def _at(kind: str) -> Callable[[Expression, Expression], Expression | None]:
    def at(n: Expression, x: Expression) -> Expression | None:
        q = _order(n)
        if q is None:
            return None
        if q.denominator == 1 and q < 0 and kind in ("besselj", "bessely"):
            return FunctionName(kind)(-n, x) * (-1 if q % 2 else 1)
        if (q.denominator == 1 or kind == "besselk") and q < 0:
            return FunctionName(kind)(-n, x)
        if x is ZERO and kind in ("besselj", "besseli") and q >= 0:
            return fraction(1, 1) if q == 0 else ZERO
        return None

    return at


def _first_kind_runs_off(n: Expression, x: Expression) -> bool:
    """At 0, of a negative order that is not whole."""
    q = _order(n)
    return x is ZERO and q is not None and q < 0 and q.denominator != 1


def _second_kind_runs_off(n: Expression, x: Expression) -> bool:
    """At 0, but for the orders -1/2, -3/2, … that are those of the first kind."""
    q = _order(n)
    return x is ZERO and q is not None and not (q < 0 and q.denominator == 2)


def half_order(kind: str, q: mpq, x: Expression) -> Expression | None:
    """The elementary form of orders 1/2 and -1/2."""
    root = sqrt(TWO / PI) / sqrt(x)  # not of 1/x, whose principal root lies on the other side of the cut for x < 0
    table = {
        ("besselj", 1): root * sin(x), ("besselj", -1): root * cos(x), ("bessely", 1): -root * cos(x), ("bessely", -1): root * sin(x),
        ("besseli", 1): root * sinh(x), ("besseli", -1): root * cosh(x),
        ("besselk", 1): sqrt(PI / TWO) / sqrt(x) * exp(-x), ("besselk", -1): sqrt(PI / TWO) / sqrt(x) * exp(-x),
    }  # fmt: skip
    return table.get((kind, int(2 * q))) if abs(q) == mpq(1, 2) else None


def _series(alternating: bool) -> Callable[[Arithmetic, Box, Box], Box]:
    """Those of the first kind for natural orders: J by the values at points, I by the sum of (x^2/4)^k/(k!*(n+k)!) * (x/2)^n."""

    def bounds(a: Arithmetic, order: Box, x: Box) -> Box:
        n, real = whole_order(order, "a Bessel function"), only_real(x, "a Bessel function")
        if alternating:
            return Box(_first_kind(a, n, real))
        half = a.divide(narrow_enough(a, real, "besseli"), a.integer(2))
        step = a.multiply(half, half)
        first = a.one
        for k in range(1, n + 1):
            first = a.divide(a.multiply(first, half), a.integer(k))
        return Box(sum_of_ratios(a, first, lambda k: a.divide(step, a.integer((k + 1) * (k + 1 + n)))))

    return bounds


HALF_WIDTH = 0.7  # of pieces over which the Taylor formula is used
ORDER = 6


def _first_kind(a: Arithmetic, n: int, x: Interval) -> Interval:
    """J_n: correctly rounded at a point; over a range by Taylor's formula about the middle, whose derivatives are all at most 1 in size.

    They are means of values of J of other orders, and |J_k(x)| <= 1 for real x (DLMF 10.14.1).
    """
    if not x.finite:
        return Interval(a.integer(-1).low, a.one.high)
    width = a.up.sub(x.high, x.low)
    if width < a.up.exp2(-a.precision // 2):  # the slope is at most 1
        return a.add(_value_of_first_kind(a, n, x.low), Interval(a.down.minus(width), width))
    if width > 2 * HALF_WIDTH:
        return Interval(a.integer(-1).low, a.one.high)
    middle = a.down.div(a.down.add(x.low, x.high), 2)
    away = a.subtract(x, Interval(middle, middle))
    plain = {k: _value_of_first_kind(a, k, middle) for k in {abs(k) for k in range(n - ORDER + 1, n + ORDER)}}
    # J of order -k is (-1)^k times that of order k
    values = {k: a.negate(plain[-k]) if k < 0 and k % 2 else plain[abs(k)] for k in range(n - ORDER + 1, n + ORDER)}
    total, weight = a.zero, a.one
    for order in range(ORDER):
        slope = a.zero  # the derivative of this order, 2^order times over
        for j in range(order + 1):
            slope = a.add(slope, a.multiply(a.integer((-1) ** j * comb(order, j)), values[n - order + 2 * j]))
        total = a.add(total, a.multiply(weight, slope))
        weight = a.divide(a.multiply(weight, away), a.integer(2 * (order + 1)))
    size = a.up.exp2(ORDER)
    rest = a.multiply(Interval(a.down.minus(size), size), weight)
    found = a.add(total, rest)
    return Interval(max(found.low, a.integer(-1).low), min(found.high, a.one.high))


def _value_of_first_kind(a: Arithmetic, n: int, x: Any) -> Interval:
    """Correctly rounded down, and the number after it."""
    low = a.down.jn(n, x)
    return Interval(low, a.up.next_above(low))


def _known_positive(n: int, x: int) -> int:
    return facts.POSITIVE if facts.is_real(n) and facts.is_positive(x) else facts.ANY


def _known_real(n: int, x: int) -> int:
    whole = facts.is_integer(n) and facts.is_real(x)
    return facts.REAL if whole or (facts.is_real(n) and facts.is_positive(x)) else facts.ANY


def _no_order_derivative(n: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of a Bessel function by its order has no closed form here")


def _power_at_zero(n: Expression, x: Expression) -> tuple[Expression, ...]:
    """They behave like x^n there: smooth for whole orders, else a branch point or a pole."""
    return () if facts.is_integer(n.known) else (x,)


def _real_where_a_power_is(n: Expression, x: Expression) -> tuple[Condition, ...]:
    """Of whole orders everywhere; else x^n decides, also for a letter that may be no whole number."""
    if facts.is_integer(n.known):
        return ()
    right = relation("<=" if facts.is_nonnegative(n.known) else "<", ZERO, x)
    return (right,) if isinstance(n, Number) else (junction("or", (right, relation("=", sin(PI * n), ZERO))),)


register(
    Function(
        name="besselj", about="The Bessel function of the first kind, from its order and its argument.", example=("0", "0", "1"),
        no_value=_first_kind_runs_off,
        arguments=(2, 2), at=_at("besselj"), known=_known_real,
        derivative=(_no_order_derivative, lambda n, x: (besselj(n - 1, x) - besselj(n + 1, x)) / 2),
        bounds=_series(True), real_when=_real_where_a_power_is, breaks=_power_at_zero, jumps=_power_at_zero, agreed="besselj", latex="J", source="DLMF 10.2",
    )
)  # fmt: skip
register(
    Function(
        name="besseli", about="The modified Bessel function of the first kind, from its order and its argument.", example=("0", "0", "1"),
        no_value=_first_kind_runs_off,
        arguments=(2, 2), at=_at("besseli"), known=lambda n, x: facts.POSITIVE if facts.is_nonnegative(n) and facts.is_positive(x) else _known_real(n, x),
        derivative=(_no_order_derivative, lambda n, x: (besseli(n - 1, x) + besseli(n + 1, x)) / 2),
        bounds=_series(False), real_when=_real_where_a_power_is, breaks=_power_at_zero, jumps=_power_at_zero, agreed="besseli", latex="I", source="DLMF 10.25",
    )
)  # fmt: skip
register(
    Function(
        name="bessely", about="The Bessel function of the second kind, from its order and its argument.", example=("1/2", "x", "bessely(1/2, x)"),
        no_value=_second_kind_runs_off,
        arguments=(2, 2), at=_at("bessely"), known=lambda n, x: facts.REAL if facts.is_real(n) and facts.is_positive(x) else facts.ANY,
        derivative=(_no_order_derivative, lambda n, x: (bessely(n - 1, x) - bessely(n + 1, x)) / 2),
        real_when=lambda n, x: (relation("<", ZERO, x),), breaks=lambda n, x: (x,), jumps=lambda n, x: (x,),
        agreed="bessely", latex="Y", source="DLMF 10.2",
    )
)  # fmt: skip
register(
    Function(
        name="besselk", about="The modified Bessel function of the second kind, from its order and its argument.", example=("1/2", "x", "besselk(1/2, x)"),
        no_value=pole_at_zero,
        arguments=(2, 2), at=_at("besselk"), known=_known_positive,
        derivative=(_no_order_derivative, lambda n, x: -(besselk(n - 1, x) + besselk(n + 1, x)) / 2),
        real_when=lambda n, x: (relation("<", ZERO, x),), breaks=lambda n, x: (x,), jumps=lambda n, x: (x,),
        agreed="besselk", latex="K", source="DLMF 10.25",
    )
)  # fmt: skip
