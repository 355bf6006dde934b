"""Separation of variables, and the substitutions that lead to it: y/t, y + k*t, and both after a shift of the origin."""

from __future__ import annotations

from itertools import combinations

from gelvo.deciding.equality import is_zero
from gelvo.differential.first_order.levels import from_level
from gelvo.differential.first_order.rate import Rate, integral
from gelvo.differential.problem import Outcome, Solved
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, opposite, power, relation
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Node, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ABS, LN
from gelvo.simplifying.search import simplify
from gelvo.solving.putting_back import read_easily

MOST_LINES = 4


def separated(rate: Rate) -> Outcome | None:
    """y' = f(t)*g(y): both sides integrated."""
    parts = _parts_of(rate)
    if parts is None:
        alone = next((a for n in postorder(rate.slope) if (a := _alone_in_root(n, rate)) is not None), None)
        return None if alone is None else _on_each_side(rate, alone)
    f, g = parts
    if rate.start is not None and contains(g, rate.y):
        at_rest = _at_rest(rate, g)
        if at_rest is not None:
            return at_rest
    sides = _sides(rate, f, g)
    return None if sides is None else from_level(rate, *sides, "separation of variables")


def _sides(rate: Rate, f: Expression, g: Expression) -> tuple[Expression, Expression] | None:
    left, right = integral(factored(1 / g), rate.y, rate.facts), integral(f, rate.t, rate.facts)
    return None if left is None or right is None else (left, right)


def separated_level(rate: Rate) -> Expression | None:
    """What keeps its value along all solutions of y' = f(t)*g(y)."""
    parts = _parts_of(rate)
    sides = None if parts is None else _sides(rate, *parts)
    return None if sides is None else sides[0] - sides[1]


def _parts_of(rate: Rate) -> tuple[Expression, Expression] | None:
    """f(t) and g(y), roots of products taken apart where the sign of what depends on one of the two is known."""
    slope = factored(rate.slope)
    return _product_of(transform(slope, lambda node: _root_apart(node, rate)), rate.t, rate.y)


def _root_apart(node: Node, rate: Rate) -> Node:
    """sqrt(u(t)*v(y)) as sqrt(u)*sqrt(v) for u > 0, as sqrt(-u)*sqrt(-v) for u < 0."""
    alone = _alone_in_root(node, rate)
    if alone is None or not isinstance(node, Power):
        return node
    sign = number(1 if rate.facts.is_positive(alone) else -1 if rate.facts.is_negative(alone) else 0)
    if sign is ZERO:
        return node
    return multiply_all([_root_of(factored(sign * part), node.exponent, rate.facts) for part in (alone, node.base / alone)])


def _root_of(e: Expression, exponent: Expression, facts: Facts) -> Expression:
    """1/sqrt(1 - t^2) for the root of 1/(1 - t^2), where the sign of what is below the line is known."""
    top, bottom = (expand(part) for part in quotient_parts(e))
    if facts.is_negative(bottom):
        top, bottom = expand(-top), expand(-bottom)
    return power(top, exponent) / power(bottom, exponent) if facts.is_positive(bottom) else power(e, exponent)


def _alone_in_root(node: Node, rate: Rate) -> Expression | None:
    """The factors of a radicand that depend on the variable alone, where others depend on the function alone."""
    if not isinstance(node, Power) or node.exponent.is_whole or not node.exponent.is_rational:
        return None
    parts = _product_of(factored(node.base), rate.t, rate.y)
    return parts[0] if parts is not None and contains(parts[0], rate.t) and contains(parts[1], rate.y) else None


def _on_each_side(rate: Rate, alone: Expression) -> Outcome | None:
    """The solutions where a part of a radicand is positive, and those where it is negative."""
    found: list[Solved] = []
    outcome: Outcome | None = None
    lost: list[str] = []
    odd = expand(multiply_all([b for b, k in map(base_and_exponent, factors_in(alone)) if k.is_whole and k.rational % 2]))
    for side in map(read_easily, (relation("<", ZERO, odd), relation("<", odd, ZERO))):
        if rate.start and rate.facts.holds(substitute(side, {rate.t: rate.start.place})) is False:
            continue
        under = rate._replace(problem=rate.problem._replace(facts=rate.facts.with_facts([side])))
        own = None if _parts_of(under) is None else separated(under)
        if own is None:
            lost.append(f"the solutions where {side} are left")
            continue
        found += [s._replace(conditions=(side, *s.conditions)) for s in own.found]
        outcome, lost = own, [*lost, *own.lost]
    return None if outcome is None else outcome._replace(found=found, lost=tuple(dict.fromkeys(lost)))


def _product_of(slope: Expression, t: Name, y: Name) -> tuple[Expression, Expression] | None:
    """(f(t), g(y)) with slope = f*g."""
    f: list[Expression] = [number(slope.coefficient)] if isinstance(slope, Product) else []
    g: list[Expression] = []
    for piece in factors_in(slope) or [slope]:
        if contains(piece, t) and contains(piece, y):
            return None
        (g if contains(piece, y) else f).append(piece)
    return multiply_all(f), multiply_all(g)


def _at_rest(rate: Rate, g: Expression) -> Outcome | None:
    """The constant solution where the initial value is a zero of g: the only one where g has a slope there."""
    start = rate.start
    assert start is not None
    try:
        if not is_zero(substitute(g, {rate.y: start.value}), rate.facts):
            return None
    except DomainError:  # no rate there at all
        return None
    return Outcome([Solved({rate.unknown: start.value})], (), "the constant solution, where the slope is zero")


def homogeneous(rate: Rate) -> Outcome | None:
    """y' = F(y/t): separable for w = y/t."""
    return _around(rate, ZERO, ZERO, "the quotient of function and variable, then separation")


def _around(rate: Rate, t_0: Expression, y_0: Expression, road: str) -> Outcome | None:
    """y' = F((y - y_0)/(t - t_0))."""
    w, s = rate.facts.new_name("w", rate.slope), rate.t - t_0
    inside = factored(substitute(rate.slope, {rate.y: w * s + y_0}))
    if contains(inside, rate.t):
        inside = simplify(inside, rate.facts).expression
    if contains(inside, rate.t) and rate.facts.holds(relation("<", ZERO, s)) is None:
        return _to_the_right(rate, s, t_0, y_0, road)
    if contains(inside, rate.t):
        return None
    gap = factored(inside - w)
    quotient = (rate.y - y_0) / s
    if gap is ZERO:
        return from_level(rate, LN(ABS(quotient)), ZERO, road)
    left = integral(1 / gap, w, rate.facts)
    if left is None:
        return None
    return from_level(rate, substitute(left, {w: quotient}), LN(ABS(s)), road)


def _to_the_right(rate: Rate, s: Expression, t_0: Expression, y_0: Expression, road: str) -> Outcome | None:
    """Where roots tell the sides of a place apart: the solutions after it, or on the side where a value is stated."""
    side = relation("<", ZERO, s)
    if rate.start and rate.facts.is_negative(substitute(s, {rate.t: rate.start.place})):
        side = relation("<", s, ZERO)
    found = _around(rate._replace(problem=rate.problem._replace(facts=rate.facts.with_facts([side]))), t_0, y_0, road)
    if found is None:
        return None
    lost = () if rate.start else (f"the solutions where {opposite(side)} are left",)
    return found._replace(found=[f._replace(conditions=(side, *f.conditions)) for f in found.found], lost=(*found.lost, *lost))


def of_a_combination(rate: Rate) -> Outcome | None:
    """y' = f(y + k*t): separable for w = y + k*t."""
    by_t, by_y = (differentiate(rate.slope, v) for v in (rate.t, rate.y))
    if ZERO in (by_t, by_y):
        return None
    k = simplify(by_t / by_y, rate.facts).expression
    if contains(k, rate.t) or contains(k, rate.y):
        return None
    w = rate.facts.new_name("w", rate.slope)
    inside = simplify(substitute(rate.slope, {rate.y: w - k * rate.t}), rate.facts).expression
    if contains(inside, rate.t):
        return None
    left = integral(factored(1 / (inside + k)), w, rate.facts)
    if left is None:
        return None
    return from_level(rate, substitute(left, {w: rate.y + k * rate.t}), rate.t, f"separation for {rate.unknown + k * rate.t}")


def of_two_lines(rate: Rate) -> Outcome | None:
    """y' = F of a quotient of two linear forms: homogeneous around the point where both are zero."""
    sums = [n for n in postorder(factored(rate.slope)) if isinstance(n, (Sum, Name)) and contains(n, rate.y)]
    others = [n for n in postorder(factored(rate.slope)) if isinstance(n, (Sum, Name)) and n not in sums and contains(n, rate.t)]
    lines = [line for n in (*reversed(sums), *reversed(others)) if (line := _line(n, rate)) is not None]
    for (a, b, c), (d, e, f) in combinations(lines[:MOST_LINES], 2):
        crossing = uni.lowest_terms(a * e - b * d)
        if crossing is not ZERO:
            t_0, y_0 = uni.lowest_terms((b * f - c * e) / crossing), uni.lowest_terms((c * d - a * f) / crossing)
            found = _around(rate, t_0, y_0, f"the quotient around the point ({t_0}, {y_0}), then separation")
            if found is not None:
                return found
    return None


def _line(part: Expression, rate: Rate) -> tuple[Expression, Expression, Expression] | None:
    """(a, b, c) of a*t + b*y + c."""
    outer = uni.coefficients_of(expand(part), rate.y)
    if outer is None or len(outer) > 2:
        return None
    rest, slope = (*outer, ZERO, ZERO)[:2]
    inner = uni.coefficients_of(expand(rest), rate.t)
    if inner is None or len(inner) > 2 or contains(slope, rate.t):
        return None
    constant, along = (*inner, ZERO, ZERO)[:2]
    return along, slope, constant
