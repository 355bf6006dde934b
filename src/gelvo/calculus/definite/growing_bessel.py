"""Falling exponentials beside modified Bessel functions that grow, from 0 to infinity.

Source: I. Gradshteyn, I. Ryzhik, "Table of Integrals, Series, and Products" (2007), 6.611.4.
"""

from __future__ import annotations

from gelvo.calculus.found import Found
from gelvo.expression.building import power, sqrt
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import BESSELI, EXP, is_a
from gelvo.normal.prepare import prepared


def beside_growing_bessel(f: Expression, x: Name, facts: Facts) -> Found | None:
    """exp(-p*x)*besseli(0, q*x)  ->  1/sqrt(p^2 - q^2), for p > q > 0"""
    growing = [g for g in factors_in(f) if is_a(g, BESSELI)]
    falling = [g for g in factors_in(f) if is_a(g, EXP)]
    if len(growing) != 1 or len(falling) != 1 or contains(outer := f / growing[0] / falling[0], x):
        return None
    n, argument = growing[0].arguments
    lines = [uni.linear_parts(e, x) for e in (argument, falling[0].arguments[0])]
    if contains(n, x) or lines[0] is None or lines[1] is None or lines[0][1] is not ZERO:
        return None
    q, p = lines[0][0], -lines[1][0]
    needed = what_must_be_positive(facts, q, p - q, n + 1)
    if needed is None:
        return None
    root = prepared(sqrt(factored(expand(p**2 - q**2))), facts.with_facts(needed), waves=False)
    return Found(outer * EXP(lines[1][1]) * power((p - root) / q, n) / root, needed, "a growing Bessel function")
