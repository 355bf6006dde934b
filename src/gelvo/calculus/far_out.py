"""Limits as a variable grows without bound: orders of growth, then comparison.

Source: D. Gruntz, "On Computing Limits in a Symbolic Manipulation System" (1996)."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus import growth
from gelvo.calculus.comparison import Comparison, logarithm_of
from gelvo.calculus.local.expansion import Short, Unclear
from gelvo.deciding.suppositions import attempt
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, PI, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import has_call
from gelvo.facts.store import Facts
from gelvo.functions.named import EXP, FACTORIAL, GAMMA, LN
from gelvo.roads import on_the_way


def limit_at_infinity(e: Expression, x: Name, facts: Facts) -> Expression | None:
    """The limit as x grows without bound, or None where it is not decided."""
    first = growth.limit_at_infinity(e, x, facts)
    if first is not None:
        return first
    return by_comparison(e, x, facts)


@on_the_way("the most rapidly varying part")
@attempt
def by_comparison(e: Expression, x: Name, facts: Facts) -> Expression | None:
    try:
        return _with_factorials(e, Comparison(x, facts))
    except (Unclear, Short, DomainError, ZeroDivisionError):
        return None


def _with_factorials(e: Expression, asked: Comparison) -> Expression:
    """Factors gamma(u) with u -> inf give way to Stirling's formula, whose ratio to them goes to one; terms are asked one by one."""
    if not has_call(e, _SHIFTED, asked.x):
        return asked.limit(e)
    if isinstance(e, Sum):
        ends = [_with_factorials(number(c) * t, asked) for t, c in e.items()]
        infinite = {v for v in ends if isinstance(v, Bound)}
        if len(infinite) > 1 or UNDEFINED in infinite:
            raise Unclear("terms that may cancel")
        return infinite.pop() if infinite else total([number(e.constant), *ends])
    logarithms: list[Expression] = []
    rest: list[Expression] = [number(e.coefficient)] if isinstance(e, Product) else []
    for f in factors_in(e):
        try:
            s = _stirling(f, asked) or logarithm_of(f, asked.x)
        except Unclear:
            return asked.limit(e)
        (rest if s is None else logarithms).append(f if s is None else s)
    left = multiply_all(rest)
    sign = asked.sign(left, 0)
    end = asked.limit(total([*logarithms, LN(sign * left)]))
    if end is MINUS_INFINITE:
        return ZERO
    if isinstance(end, Bound):
        if not asked.is_real(total(logarithms), 0):
            raise Unclear("a product that grows and turns")
        return INFINITE if sign > 0 else MINUS_INFINITE
    return sign * EXP(end)


def _stirling(f: Expression, asked: Comparison) -> Expression | None:
    """The logarithm of a power of gamma(u) far out; Unclear where u does not go to inf."""
    base, exponent = base_and_exponent(f)
    if not (isinstance(base, Call) and base.name in _SHIFTED):
        return None
    u = base.arguments[0] + _SHIFTED[base.name]
    if asked.limit(u) is not INFINITE or not isinstance(exponent, Number):
        raise Unclear("an argument that does not grow")
    return exponent * ((u - mpq(1, 2)) * LN(u) - u + LN(2 * PI) / 2)


_SHIFTED: dict[str, int] = {GAMMA: 0, FACTORIAL: 1}  # gamma(u + shift)
