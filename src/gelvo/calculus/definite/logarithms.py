"""Logarithms of waves over quarter, half and whole turns."""

from __future__ import annotations

from gelvo.calculus.found import Found
from gelvo.expression.building import number, sqrt
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Power, Product
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, LN, SIN, is_a
from gelvo.normal.prepare import prepared
from gelvo.simplifying.families.waves import by_multiple_angles


def log_wave(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """ln(c*sin(x)) or ln(c*cos(x)) over a whole number of quarter turns (L. Euler, 1769)."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    logarithms = [n for n in postorder(f) if is_a(n, LN) and contains(n, x)]
    if len(logarithms) != 1 or not isinstance(f, (Call, Product)):
        return None
    outer = factored(f / logarithms[0])
    inside = logarithms[0].arguments[0]
    waves = [n for n in postorder(inside) if is_a(n, SIN, COS) and n.arguments[0] is x]
    if contains(outer, x) or len(waves) != 1:
        return None
    scale = factored(inside / waves[0])
    quarters = factored((upper - lower) / PI * 2)
    starts: dict[tuple[str, int], tuple[Expression, ...]] = {
        (SIN, 1): (ZERO, PI / 2),
        (COS, 1): (ZERO, -PI / 2),
        (SIN, 2): (ZERO,),
        (COS, 2): (-PI / 2,),
    }
    if contains(scale, x) or not isinstance(quarters, Number) or quarters.rational not in (1, 2):
        return None
    if lower not in starts[(waves[0].name, int(quarters.rational))] or not facts.is_positive(scale):
        return None
    return Found(outer * (upper - lower) * (LN(scale) - LN(number(2))), (), "Euler's integral of ln(sin(x))")


def log_of_a_shifted_wave(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """ln(a + b*cos(x)) over half and whole turns, with a > |b|: ln((a + sqrt(a^2 - b^2))/2) times the way (S. Poisson, 1823)."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    logarithms = [n for n in postorder(f) if is_a(n, LN) and contains(n, x)]
    if len(logarithms) != 1 or contains(outer := factored(f / logarithms[0]), x):
        return None
    inside = expand(logarithms[0].arguments[0])
    if any(isinstance(n, Power) and is_a(n.base, SIN, COS) for n in postorder(inside)):  # squares of waves by the double angle
        inside = expand(by_multiple_angles(inside, facts, False) or inside)
    waves = [n for n in dict.fromkeys(postorder(inside)) if is_a(n, SIN, COS) and contains(n, x)]
    mark = facts.new_name("w", f)
    parts = uni.linear_parts(substitute(inside, {waves[0]: mark}), mark) if len(waves) == 1 else None
    rate = factored(waves[0].arguments[0] / x) if parts is not None else ZERO
    if parts is None or contains(parts[0], x) or contains(parts[1], x) or not rate.is_whole:
        return None
    turns, start = factored(rate * (upper - lower) / PI), factored(rate * lower / PI)
    if not turns.is_whole or (turns.rational % 2 and not (is_a(waves[0], COS) and start.is_whole)):
        return None
    b, a = parts
    needed = what_must_be_positive(facts, factored(a - b), factored(a + b))
    if needed is None:
        return None
    under = facts.with_facts(needed)
    root = prepared(sqrt(factored(expand(a * a - b * b))), under, waves=False)
    return Found(outer * (upper - lower) * LN(factored((a + root) / 2)), needed, "Poisson's integral of a logarithm")
