"""Inverse functions about 0, and the arc tangent far out."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.local.expansion import Expansion, binomial, constant_term
from gelvo.calculus.local.table import Expanding, far, taylor
from gelvo.expression.building import number
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Call, Expression
from gelvo.functions.named import ACOT, ASIN, ASINH, ATAN, ATANH, LAMBERTW, is_a


def _odd(coefficient: Callable[[int], mpq]) -> Callable[[int], Expression]:
    """Coefficients of odd powers only: of v^(2*j + 1) for j = 0, 1, …"""
    return lambda k: number(coefficient((k - 1) // 2)) if k % 2 else ZERO


@taylor(ATAN, ATANH)
def _tangents(name: str, place: Expression) -> Callable[[int], Expression] | None:
    sign = -1 if name == ATAN else 1
    return _odd(lambda j: mpq(sign**j, 2 * j + 1)) if place is ZERO else None


@taylor(ASIN, ASINH)
def _sines(name: str, place: Expression) -> Callable[[int], Expression] | None:
    sign = -1 if name == ASIN else 1
    return _odd(lambda j: binomial(mpq(-1, 2), j) * mpq(sign**j, 2 * j + 1)) if place is ZERO else None


@taylor(LAMBERTW)
def _lambert(name: str, place: Expression) -> Callable[[int], Expression] | None:
    return (lambda k: number(mpq((-k) ** (k - 1), fac(k))) if k else ZERO) if place is ZERO else None


@far(ATAN, ACOT)
def _arc_tangent_far_out(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    angle = PI / 2 if at.rises(inner) else -PI / 2
    small = ATAN(at.facts.new_name("v", node))
    assert isinstance(small, Call)
    turned = at.regular(small, 0, ZERO, at.power(inner, mpq(-1)))
    if is_a(node, ACOT):
        return turned
    return at.add([constant_term(angle), Expansion({e: -v for e, v in turned.terms.items()}, turned.order)])
