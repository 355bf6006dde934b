"""Struve functions and modified Struve functions of any real order.

Source: DLMF 11.2 (definitions), 11.4 (half orders, recurrences and derivatives).
"""

from __future__ import annotations

from collections.abc import Callable
from math import prod

from gelvo.errors import DomainError
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.series_bounds import narrow_enough, sum_of_ratios, whole_order
from gelvo.functions.support import (
    Arithmetic,
    Box,
    Condition,
    Expression,
    FunctionName,
    Number,
    facts,
    fraction,
    mpq,
    only_real,
    relation,
    sqrt,
)

struveh, struvel, gamma = (FunctionName(n) for n in ("struveh", "struvel", "gamma"))


def _at(n: Expression, x: Expression) -> Expression | None:
    """0 at 0, where the order is above -1: they behave like x^(n + 1) there."""
    return ZERO if x is ZERO and isinstance(n, Number) and n.is_rational and n.rational > -1 else None


def _no_order_derivative(n: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of a Struve function by its order has no closed form here")


def _power(n: Expression, x: Expression) -> Expression:
    return (x / 2) ** n / (2 * sqrt(PI) * gamma(n + fraction(3, 2)))


def _known(n: int, x: int) -> int:
    whole = facts.is_integer(n) and facts.is_nonnegative(n) and facts.is_real(x)
    return facts.REAL if whole or (facts.is_real(n) and facts.is_positive(x)) else facts.ANY


def _power_at_zero(n: Expression, x: Expression) -> tuple[Expression, ...]:
    return () if facts.is_integer(n.known) and facts.is_nonnegative(n.known) else (x,)


def _real_where(n: Expression, x: Expression) -> tuple[Condition, ...]:
    return () if facts.is_integer(n.known) and facts.is_nonnegative(n.known) else (relation("<", ZERO, x),)


def _bounds(kind: str, sign: int) -> Callable[[Arithmetic, Box, Box], Box]:
    """(x/2)^(n + 1)/(gamma(3/2)*gamma(n + 3/2)), times ratios ±(x/2)^2/((k + 3/2)*(k + n + 3/2)) (DLMF 11.2.1)."""

    def bounds(a: Arithmetic, order: Box, x: Box) -> Box:
        n, real = whole_order(order, kind), narrow_enough(a, only_real(x, kind), kind)
        half = a.divide(real, a.integer(2))
        # gamma(3/2)*gamma(n + 3/2) = pi*(2*n + 1)!!/2^(n + 2)
        below = a.multiply(a.pi(), a.rational(mpq(prod(range(1, 2 * n + 2, 2)), 2 ** (n + 2))))
        step = a.multiply(a.integer(sign), a.multiply(half, half))
        first = a.divide(a.power(half, n + 1), below)
        return Box(sum_of_ratios(a, first, lambda k: a.divide(step, a.rational(mpq((2 * k + 3) * (2 * k + 2 * n + 3), 4)))))

    return bounds


register(
    Function(
        name="struveh", about="The Struve function, from its order and its argument.", example=("0", "0", "0"), arguments=(2, 2), at=_at,
        known=_known, derivative=(_no_order_derivative, lambda n, x: (struveh(n - 1, x) - struveh(n + 1, x)) / 2 + _power(n, x)),
        real_when=_real_where, real_beyond=True, breaks=_power_at_zero, jumps=_power_at_zero, bounds=_bounds("struveh", -1), agreed="struveh", latex=r"\mathbf{H}",
        source="DLMF 11.2.1, 11.4.27",
    )
)  # fmt: skip
register(
    Function(
        name="struvel", about="The modified Struve function, from its order and its argument.", example=("0", "0", "0"), arguments=(2, 2),
        at=_at, known=_known,
        derivative=(_no_order_derivative, lambda n, x: (struvel(n - 1, x) + struvel(n + 1, x)) / 2 + _power(n, x)),
        real_when=_real_where, real_beyond=True, breaks=_power_at_zero, jumps=_power_at_zero, bounds=_bounds("struvel", 1), agreed="struvel", latex=r"\mathbf{L}",
        source="DLMF 11.2.2, 11.4.28",
    )
)  # fmt: skip
