"""Orthogonal polynomials over their intervals with their weights, for whole degrees: zero, or the norm where both degrees agree.

Source: DLMF 18.3, table 18.3.1.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.found import Found
from gelvo.expression.building import cases, number, power, relation, sqrt
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Call, Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.functions.named import CHEBYT, CHEBYU, EXP, GAMMA, HERMITE, LAGUERRE, LEGENDRE, is_a


class Family(NamedTuple):
    lower: Expression
    upper: Expression
    weight: Callable[[Expression], Expression]
    norm: Callable[[Expression], Expression]
    least: int = 0  # the degree from which on the norm holds


FAMILIES: dict[str, Family] = {
    LEGENDRE: Family(-ONE, ONE, lambda x: ONE, lambda n: 2 / (2 * n + 1)),
    HERMITE: Family(MINUS_INFINITE, INFINITE, lambda x: EXP(-(x**2)), lambda n: power(TWO, n) * GAMMA(n + 1) * sqrt(PI)),
    LAGUERRE: Family(ZERO, INFINITE, lambda x: EXP(-x), lambda n: ONE),
    CHEBYT: Family(-ONE, ONE, lambda x: 1 / sqrt(1 - x**2), lambda n: PI / 2, 1),
    CHEBYU: Family(-ONE, ONE, lambda x: sqrt(1 - x**2), lambda n: PI / 2),
}


def orthogonal(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """legendre(n, x)^2 from -1 to 1  ->  2/(2*n + 1)"""
    degrees: list[Expression] = []
    name = ""
    rest = f
    for g in factors_in(f):
        base, k = base_and_exponent(g)
        if isinstance(base, Call) and is_a(base, *FAMILIES) and base.arguments[1] is x and k in (ONE, TWO):
            if name not in ("", base.name):
                return None
            name, rest = base.name, rest / g
            degrees.extend([base.arguments[0]] * int(k.rational))
    if len(degrees) != 2 or any(contains(d, x) or not (facts.is_integer(d) and facts.is_nonnegative(d)) for d in degrees):
        return None
    family = FAMILIES[name]
    outer = factored(rest / family.weight(x))
    if contains(outer, x) or lower is not family.lower or upper is not family.upper:
        return None
    m, n = degrees
    gap = factored(m - n)
    if facts.is_nonzero(gap):
        return Found(ZERO, (), "orthogonal polynomials of different degrees")
    if not facts.is_nonnegative(n - number(family.least)):
        return None
    norm = outer * family.norm(n)
    value = norm if gap is ZERO else cases([(norm, relation("=", m, n))], ZERO)
    return Found(value, (), "norm of an orthogonal polynomial")
