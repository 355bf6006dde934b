"""Exponentials of waves over whole and half turns: Bessel functions by their generating series.

Source: DLMF 10.9.1, 10.9.2, 10.12.1, 10.32.1, 10.32.3, 10.35.1.
"""

from __future__ import annotations

from gelvo.calculus.found import Found
from gelvo.expression.building import sqrt
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import BESSELI, BESSELJ, COS, EXP, SIN, is_a


def exponentials_of_waves(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """cos(z*sin(x)) from 0 to pi  ->  pi*besselj(0, z); with cos(n*x), and exp(p*cos(x) + q*sin(x))."""
    share = _share_of_a_turn(f, x, lower, upper)
    if share is None:
        return None
    exponentials = [g for g in factors_in(f) if is_a(g, EXP) and contains(g, x)]
    waves = [g for g in factors_in(f) if is_a(g, SIN, COS) and contains(g, x)]
    outer = f
    for g in (*exponentials, *waves):
        outer = outer / g
    if contains(outer, x) or len(exponentials) > 1 or len(waves) > 1:
        return None
    size = _by_waves(exponentials[0].arguments[0], x) if exponentials else (ZERO, ZERO, ZERO, ZERO)
    angle = _by_waves(waves[0].arguments[0], x) if waves else (ZERO, ZERO, ZERO, ZERO)
    if size is None or angle is None or size[2] is not ZERO:
        return None
    found = _over_a_turn(size, angle, waves[0].name if waves else COS, facts)
    return None if found is None else found._replace(value=outer * share * found.value)


def _share_of_a_turn(f: Expression, x: Name, lower: Expression, upper: Expression) -> Expression | None:
    """1 for a whole turn, 1/2 for a half one whose other half is its mirror image."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    length = factored((upper - lower) / PI)
    if length is TWO:
        return ONE
    even = lower is ZERO and length is ONE and factored(substitute(f, {x: -x}) - f) is ZERO
    return ONE / 2 if even else None


def _by_waves(e: Expression, x: Name) -> tuple[Expression, Expression, Expression, Expression] | None:
    """(p, q, n, c) of p*cos(x) + q*sin(x) + n*x + c."""
    p, q, n, c = ZERO, ZERO, ZERO, ZERO
    for t in terms_of(expand(e)):
        if not contains(t, x):
            c = c + t
            continue
        mover = next((g for g in factors_in(t) if g is x or (is_a(g, SIN, COS) and g.arguments[0] is x)), None)
        if mover is None or contains(t / mover, x):
            return None
        share = t / mover
        if mover is x:
            n = n + share
        elif is_a(mover, COS):
            p = p + share
        else:
            q = q + share
    return p, q, n, c


Parts = tuple[Expression, Expression, Expression, Expression]


def _over_a_turn(size: Parts, angle: Parts, wave: str, facts: Facts) -> Found | None:
    """Of exp(p*cos(x) + q*sin(x) + c)*wave(P*cos(x) + Q*sin(x) + n*x + C) over a whole turn."""
    p, q, _, c = size
    P, Q, n, C = angle
    if not facts.is_integer(n):
        return None
    phase: Expression
    if P is ZERO and Q is ZERO:
        if n is ZERO:
            phase, value = C, BESSELI(ZERO, p if q is ZERO else sqrt(p**2 + q**2))
        elif q is ZERO:
            phase, value = C, BESSELI(n, p)
        else:
            return None
    elif p is ZERO and q is ZERO and P is ZERO:
        turned = facts.is_positive(Q)  # the mean of cos(n*x - z*sin(x)) is J_n(z)
        phase, value = C, (-1) ** n * BESSELJ(n, Q) if turned else BESSELJ(n, -Q)
    elif p is ZERO and q is ZERO and Q is ZERO:
        phase, value = C + n * PI / 2, BESSELJ(n, P)  # the mean of exp(1j*(n*x + z*cos(x))) is 1j^n*J_n(z)
    else:
        return None
    return Found(2 * PI * EXP(c) * value * (COS if wave == COS else SIN)(phase), (), "generating series of Bessel functions")
