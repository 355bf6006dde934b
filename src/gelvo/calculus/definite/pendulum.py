"""The time of a swing: a root of p + q*cos(x) below, from the middle to the turning point or from one to the other.

With sin(x/2) = k*sin(t), and k = sin(a/2) at the turning point a, it is a complete elliptic integral.
Source: E. Whittaker, "A Treatise on the Analytical Dynamics of Particles and Rigid Bodies" (1917), section 44.
"""

from __future__ import annotations

from gelvo.calculus.found import Found
from gelvo.expression.building import number, sqrt
from gelvo.expression.constants import HALF, ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, ELLIPK, SIN


def swing(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """1/sqrt(cos(x) - cos(a)) from 0 to a  ->  sqrt(2)*ellipk(sin(a/2)^2)"""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    share = ONE if lower is ZERO else TWO if factored(lower + upper) is ZERO else ZERO
    below = [g for g in factors_in(f) if isinstance(g, Power) and g.exponent is number(-1) * HALF and contains(g, x)]
    if share is ZERO or len(below) != 1 or contains(outer := f / below[0], x):
        return None
    mark = facts.new_name("w", f)
    parts = uni.linear_parts(expand(substitute(below[0].base, {COS(x): mark})), mark)
    if parts is None or contains(parts[0], x) or contains(parts[1], x):
        return None
    q, p = parts
    needed = what_must_be_positive(facts, q, upper, PI - upper)
    if needed is None or factored(p + q * COS(upper)) is not ZERO:
        return None
    return Found(share * outer * sqrt(2 / q) * ELLIPK(SIN(upper / 2) ** 2), needed, "the time of a swing, by sin(x/2) = k*sin(t)")
