"""Families of functions f_n(u) of which two neighbouring orders are closed under differentiation.

Source: DLMF 10.6, 10.29 (Bessel), 10.51 (spherical Bessel), 14.10 (Legendre), 18.9 (Hermite, Laguerre, Chebyshev).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.expression.constants import ONE
from gelvo.functions.named import (
    BESSELI,
    BESSELJ,
    BESSELK,
    BESSELY,
    CHEBYT,
    CHEBYU,
    HERMITE,
    LAGUERRE,
    LEGENDRE,
    SPHERICALJ,
    SPHERICALY,
)
from gelvo.functions.support import Expression, number

Pair = tuple[Expression, Expression]
OfOrder = Callable[[Expression, Expression], Pair]


class Neighbours(NamedTuple):
    """From the order n and the argument u the shares of f_n and f_(n+1) in three things.

    slope: the derivative of f_n by u; above: that of f_(n+1); following: the function f_(n+2).
    """

    slope: OfOrder
    above: OfOrder
    following: OfOrder


def _cylinder(up: int, down: int) -> Neighbours:
    """f_n' = n/u*f_n ± f_(n+1) and f_(n+1)' = ±f_n - (n + 1)/u*f_(n+1)."""
    return Neighbours(
        lambda n, u: (n / u, number(up)),
        lambda n, u: (number(down), -(n + 1) / u),
        lambda n, u: (number(up * down), -2 * up * (n + 1) / u),
    )


SPHERICAL = Neighbours(
    lambda n, u: (n / u, -ONE), lambda n, u: (ONE, -(n + 2) / u), lambda n, u: (-ONE, (2 * n + 3) / u)
)  # fmt: skip
NEIGHBOURS: dict[str, Neighbours] = {
    BESSELJ: _cylinder(-1, 1),
    BESSELY: _cylinder(-1, 1),
    BESSELI: _cylinder(1, 1),
    BESSELK: _cylinder(-1, -1),
    SPHERICALJ: SPHERICAL,
    SPHERICALY: SPHERICAL,
    LEGENDRE: Neighbours(
        lambda n, u: ((n + 1) * u / (1 - u**2), -(n + 1) / (1 - u**2)),
        lambda n, u: ((n + 1) / (1 - u**2), -(n + 1) * u / (1 - u**2)),
        lambda n, u: (-(n + 1) / (n + 2), (2 * n + 3) * u / (n + 2)),
    ),
    HERMITE: Neighbours(lambda n, u: (2 * u, -ONE), lambda n, u: (2 * (n + 1), number(0)), lambda n, u: (-2 * (n + 1), 2 * u)),
    LAGUERRE: Neighbours(
        lambda n, u: (1 - (n + 1) / u, (n + 1) / u),
        lambda n, u: (-(n + 1) / u, (n + 1) / u),
        lambda n, u: (-(n + 1) / (n + 2), (2 * n + 3 - u) / (n + 2)),
    ),
    CHEBYT: Neighbours(
        lambda n, u: (n * u / (1 - u**2), -n / (1 - u**2)),
        lambda n, u: ((n + 1) / (1 - u**2), -(n + 1) * u / (1 - u**2)),
        lambda n, u: (-ONE, 2 * u),
    ),
    CHEBYU: Neighbours(
        lambda n, u: ((n + 2) * u / (1 - u**2), -(n + 1) / (1 - u**2)),
        lambda n, u: ((n + 2) / (1 - u**2), -(n + 1) * u / (1 - u**2)),
        lambda n, u: (-ONE, 2 * u),
    ),
}


def of_order(kind: str, steps: int, n: Expression, u: Expression, pair: Pair) -> Expression:
    """f_(n+steps) by f_n and f_(n+1), upwards or downwards.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(of_order(CHEBYT, 2, number(0), x, (ONE, x)))
    2*x^2 - 1
    """
    one, two = pair
    for _ in range(abs(steps)):
        if steps > 0:
            low, high = NEIGHBOURS[kind].following(n, u)
            one, two, n = two, low * one + high * two, n + 1
        else:
            n = n - 1
            low, high = NEIGHBOURS[kind].following(n, u)
            one, two = (two - high * one) / low, one
    return one
