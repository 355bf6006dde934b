"""Orthogonal polynomials by two neighbouring degrees, and spherical Bessel functions by those of half orders (DLMF 10.47, 18.9)."""

from __future__ import annotations

from gelvo.expression.building import call, sqrt
from gelvo.expression.constants import HALF, PI
from gelvo.expression.nodes import Expression
from gelvo.forms.expanding import expand
from gelvo.functions.named import BESSELJ, BESSELY, CHEBYT, CHEBYU, HERMITE, LAGUERRE, LEGENDRE, SPHERICALJ, SPHERICALY
from gelvo.functions.neighbours import of_order
from gelvo.normal.rules.bessel import prepared_sum, shift_of
from gelvo.normal.rules.table import Work, rule


def _by_neighbours(work: Work, kind: str, order: Expression, x: Expression) -> Expression:
    """f_(n+k) with a whole k by f_n and f_(n+1)."""
    order = expand(order)
    shift = shift_of(order)
    if shift is None:
        return call(kind, order, x)
    steps = int(shift.numerator // shift.denominator)
    base = order - steps
    return prepared_sum(work, of_order(kind, steps, base, x, (call(kind, base, x), call(kind, base + 1, x))), (kind,))


for _kind in (LEGENDRE, HERMITE, LAGUERRE, CHEBYT):
    rule(_kind)(lambda work, order, x, kind=_kind: _by_neighbours(work, kind, order, x))


@rule(CHEBYU)
def _second_kind(work: Work, order: Expression, x: Expression) -> Expression:
    """U_n = (T_n - x*T_(n+1))/(1 - x^2)."""
    return work.prepared((CHEBYT(order, x) - x * CHEBYT(order + 1, x)) / (1 - x**2))


@rule(SPHERICALJ)
def _first_spherical(work: Work, order: Expression, x: Expression) -> Expression:
    return work.prepared(sqrt(PI / 2) / sqrt(x) * BESSELJ(order + HALF, x))


@rule(SPHERICALY)
def _second_spherical(work: Work, order: Expression, x: Expression) -> Expression:
    return work.prepared(sqrt(PI / 2) / sqrt(x) * BESSELY(order + HALF, x))
