"""Sums and products that telescope by an identity of their function: logarithms of fractions, inverse tangents, angles that are halved.

Sources: the addition theorem of the inverse tangent (DLMF 4.24.15); the double angle (DLMF 4.21.27, 4.35.26), F. Viète (1593).
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.calculus.found import Found
from gelvo.calculus.summation import product_of_ratio
from gelvo.errors import DomainError
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN, COS, COSH, LN, SIN, SINH, is_a
from gelvo.normal.prepare import prepared

MOST_STEPS = 3


def by_identity(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """c*ln(R(k)) or c*atan(c/q(k)) from `lower` to `upper`."""
    moving = [f for f in factors_in(term) if contains(f, k)]
    core = moving[0] if len(moving) == 1 else None
    if not is_a(core, LN, ATAN) or not (isinstance(lower, Number) and lower.is_whole):
        return None
    inside = facts.with_facts([lower <= k])
    try:
        found = (_logarithms if is_a(core, LN) else _inverse_tangents)(core.arguments[0], k, lower, upper, inside)
    except DomainError:
        return None
    return None if found is None else Found(found * (term / core), (), "terms that cancel by an identity of their function")


def _logarithms(argument: Expression, k: Name, lower: Number, upper: Expression, facts: Facts) -> Expression | None:
    """The logarithm of a product of positive factors."""
    ratio = factored(argument)
    if not facts.is_positive(ratio):
        return None
    value = product_of_ratio(ratio, k, int(lower.rational))
    return None if value is None else LN(factored(prepared(substitute(value, {k: upper + 1}), facts)))


def _inverse_tangents(argument: Expression, k: Name, lower: Number, upper: Expression, facts: Facts) -> Expression | None:
    """atan(p(k + m)) - atan(p(k)) for a linear p whose neighbours have a product above -1."""
    parts = uni.coefficients_of(factored(1 / argument), k)
    if parts is None or len(parts) != 3:
        return None
    c, b, a = parts
    for m in range(1, MOST_STEPS + 1):
        slope = m * a
        start = m * (b - slope) / 2
        if uni.lowest_terms(1 + start * (start + slope * m) - slope * m * c) is not ZERO:
            continue
        if not facts.is_positive(factored(slope * m / argument)):
            continue

        def place(j: Expression, slope: Expression = slope, start: Expression = start) -> Expression:
            return ATAN(factored(slope * j + start))

        return total([place(upper + 1 + j) - place(lower + j) for j in range(m)])
    return None


def halved_angles(factor: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """The product of f(2^k*u) or f(u/2^k) where f(v) is a constant times g(2*v)/g(v)."""
    for g, double, v in _readings(factor):
        found = _of_halves(g, double, v, k, lower, upper)
        if found is not None:
            value, divisor = found
            conditions = facts.open_conditions([nonzero(divisor)])
            return Found(value, conditions, "the double angle: neighbours cancel")
    return None


Function = Callable[[Expression], Expression]


def _readings(factor: Expression) -> list[tuple[Function, int, Expression]]:
    """(g, c, v) with the factor = g(2*v)/(c*g(v))."""
    if is_a(factor, COS, COSH):
        return [(SIN if is_a(factor, COS) else SINH, 2, factor.arguments[0])]
    if isinstance(factor, Sum) and factor.constant == 1 and len(factor.terms) == 1 and factor.coefficients[0] == 1:
        term = factor.terms[0]
        if isinstance(term, Power):  # 1 + x^v
            return [(lambda v, base=term.base: 1 - power(base, v), 1, term.exponent)]  # type: ignore[misc]
    return []


def _of_halves(
    g: Function, double: int, v: Expression, k: Name, lower: Expression, upper: Expression
) -> tuple[Expression, Expression] | None:
    """(the value, what it divides by): v doubles or is halved with the index."""
    step = factored(substitute(v, {k: k + 1}) / v)
    count = upper - lower + 1
    if step is number(2):
        first, last = substitute(v, {k: lower}), substitute(v, {k: upper + 1})
    elif step is ONE / 2:
        first, last = substitute(v, {k: upper}), substitute(v, {k: lower - 1})
    else:
        return None
    return g(last) / (power(number(double), count) * g(first)), g(first)
