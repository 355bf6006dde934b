"""Spherical Bessel functions: sqrt(pi/(2*x)) times those of half orders.

Source: DLMF 10.47 (definitions), 10.51 (recurrences and derivatives), 10.52 (at 0).
"""

from __future__ import annotations

from collections.abc import Callable
from math import prod
from typing import Any

from gelvo.errors import DomainError
from gelvo.expression.constants import ONE, ZERO
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
    only_real,
    pole_at_zero,
    relation,
)

sphericalj, sphericaly = FunctionName("sphericalj"), FunctionName("sphericaly")


def _at(n: Expression, x: Expression) -> Expression | None:
    if x is ZERO and isinstance(n, Number) and n.is_rational and n.rational >= 0:
        return ONE if n.rational == 0 else ZERO
    return None


def _no_order_derivative(n: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of a spherical Bessel function by its order has no closed form here")


def _slope(kind: FunctionName) -> Callable[[Expression, Expression], Expression]:
    """Without a division by x: n*f_(n-1) - (n + 1)*f_(n+1), over 2*n + 1 (DLMF 10.51.2)."""
    return lambda n, x: (n * kind(n - 1, x) - (n + 1) * kind(n + 1, x)) / (2 * n + 1)


def _value(kind: str) -> Callable[..., Any]:
    """By the half order; not of 1/x under one root, whose principal value lies on the other side of the cut for x < 0."""

    def value(context: Any, n: Any, x: Any) -> Any:
        found = context.sqrt(context.pi / 2) / context.sqrt(x) * getattr(context, kind)(n + context.mpf("0.5"), x)
        return context.re(found) if context.isint(n) and not context.im(x) else found

    return value


def _first_bounds(a: Arithmetic, order: Box, x: Box) -> Box:
    """x^n/(2*n + 1)!! times the sum of (-x^2/2)^k/(k!*(2*n + 3)*(2*n + 5)…) (DLMF 10.53.1)."""
    n, real = whole_order(order, "sphericalj"), narrow_enough(a, only_real(x, "sphericalj"), "sphericalj")
    first = a.divide(a.power(real, n), a.integer(prod(range(1, 2 * n + 2, 2))))
    step = a.divide(a.negate(a.multiply(real, real)), a.integer(2))
    return Box(sum_of_ratios(a, first, lambda k: a.divide(step, a.integer((k + 1) * (2 * n + 2 * k + 3)))))


def _second_bounds(a: Arithmetic, order: Box, x: Box) -> Box:
    """Upward from -cos(x)/x, which loses no digits (DLMF 10.49.6, 10.51.1)."""
    n, real = whole_order(order, "sphericaly"), only_real(x, "sphericaly")
    before = a.negate(a.divide(a.cosine(real), real))
    current = a.divide(a.subtract(before, a.sine(real)), real)
    for k in range(1, n):
        before, current = current, a.subtract(a.multiply(a.divide(a.integer(2 * k + 1), real), current), before)
    return Box(current if n else before)


def _is_natural(n: Expression) -> bool:
    return facts.is_integer(n.known) and facts.is_nonnegative(n.known)


def _known_first(n: int, x: int) -> int:
    whole = facts.is_integer(n) and facts.is_nonnegative(n) and facts.is_real(x)
    return facts.REAL if whole or (facts.is_real(n) and facts.is_positive(x)) else facts.ANY


def _breaks(n: Expression, x: Expression) -> tuple[Expression, ...]:
    return () if _is_natural(n) else (x,)


def _real_where(n: Expression, x: Expression) -> tuple[Condition, ...]:
    return () if _is_natural(n) else (relation("<", ZERO, x),)


register(
    Function(
        name="sphericalj", about="The spherical Bessel function of the first kind, from its order and its argument.",
        example=("0", "0", "1"), arguments=(2, 2), at=_at, known=_known_first,
        derivative=(_no_order_derivative, _slope(sphericalj)), real_when=_real_where, real_beyond=True, breaks=_breaks, jumps=_breaks,
        bounds=_first_bounds, agreed=_value("besselj"), latex=r"\mathsf{j}", source="DLMF 10.47.3",
    )
)  # fmt: skip
register(
    Function(
        name="sphericaly", about="The spherical Bessel function of the second kind, from its order and its argument.",
        example=("0", "x", "sphericaly(0, x)"), arguments=(2, 2), no_value=pole_at_zero,
        known=lambda n, x: facts.REAL if facts.is_real(n) and facts.is_positive(x) else facts.ANY,
        derivative=(_no_order_derivative, _slope(sphericaly)), real_when=lambda n, x: (relation("<", ZERO, x),), real_beyond=True,
        breaks=lambda n, x: (x,), jumps=lambda n, x: (x,), bounds=_second_bounds, agreed=_value("bessely"), latex=r"\mathsf{y}", source="DLMF 10.47.4",
    )
)  # fmt: skip
