"""Equations that are not solved for the slope p = y': Clairaut's and Lagrange's, y = t*g(p) + f(p), and t = h(p).

Source: E. Ince, "Ordinary Differential Equations" (1926), chapter 3.
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterable
from math import gcd

from gelvo.deciding.equality import is_zero
from gelvo.differential.first_order.rate import Rate, accepted, distinct, growth, integral
from gelvo.differential.problem import Outcome, Solved, constants_for
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import contains, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single

MOST_SLOPES = 2  # up to which degree formulas for the slope are short
Candidate = tuple[Expression, tuple[Condition, ...]]


def by_slope(rate: Rate, inside: Expression, p: Name) -> Outcome | None:
    """The solutions through the slope as a parameter, which is eliminated; inside: the equation in t, y and p."""
    parts = uni.linear_parts(expand(inside), rate.y)
    if parts is None or contains(parts[0], rate.t):
        return _through_place(rate, inside, p)
    height = factored(-parts[1] / parts[0])
    along = uni.linear_parts(expand(height), rate.t) or (ZERO, height)
    g, f = along
    if contains(g, rate.t) or contains(f, rate.t) or contains(height, rate.y):
        return None
    if factored(g - p) is ZERO:
        return _clairaut(rate, f, p)
    return _lagrange(rate, g, f, p)


def _clairaut(rate: Rate, f: Expression, p: Name) -> Outcome | None:
    """y = t*p + f(p): straight lines, and the curve that they touch."""
    line = rate.t * p + f
    if rate.start:
        at = substitute(line, {rate.t: rate.start.place}) - rate.start.value
        slopes = [(r.value, r.conditions) for r in solve_single(at, p, rate.facts, True).found]
        constants: tuple[Name, ...] = ()
    else:
        constants = rate.problem.constants(1)
        slopes = [(constants[0], ())]
    candidates = [(substitute(line, {p: value}), own) for value, own in slopes]
    try:
        touching = solve_single(rate.t + differentiate(f, p), p, rate.facts, True).found
    except (NotSolved, DomainError):
        return _outcome(rate, candidates, constants, "Clairaut's equation", ("the envelope was not found",))
    candidates += [(simplify(substitute(line, {p: r.value}), rate.facts).expression, r.conditions) for r in touching]
    return _outcome(rate, candidates, constants, "Clairaut's equation: lines and their envelope")


def _lagrange(rate: Rate, g: Expression, f: Expression, p: Name) -> Outcome | None:
    """dt/dp = (t*g' + f')/(p - g), linear in t; where p = g the solutions are straight lines."""
    weight = integral(factored(differentiate(g, p) / (p - g)), p, rate.facts)
    if weight is None:
        return None
    factor = growth(weight, p, rate.facts)
    inner = integral(simplify(differentiate(f, p) / ((p - g) * factor), rate.facts).expression, p, rate.facts)
    if inner is None:
        return None
    constants = rate.problem.constants(1)
    place, height = factor * (constants[0] + inner), rate.t * g + f
    is_high = _degree(place, p) > MOST_SLOPES
    candidates = [] if is_high else _eliminated(rate, place, height, p)
    told = [] if candidates else _relations(rate, height, factor, inner, p, constants)
    lost: tuple[str, ...] = ()
    if not candidates and not told:
        shown = {rate.y: rate.unknown}
        lost = (f"the family is told by the slope {p} only: {rate.t} = {place}, {rate.unknown} = {substitute(height, shown)}",)
    candidates += _straight(rate, height, p - g, p)
    road = "the slope as a parameter (Lagrange)"
    found = _outcome(rate, candidates, constants, road, lost)
    if not told:
        if found is None and lost:
            raise NotSolved(f"{lost[0]}; solve_numerically gives a table of values")
        return found
    straight_ones = found.found if found is not None else []
    return Outcome([*told, *straight_ones], () if rate.start else constants, road)


def _straight(rate: Rate, height: Expression, gap: Expression, p: Name) -> list[Candidate]:
    """The lines with a slope that is its own g."""
    found: list[Candidate] = []
    try:
        roots = solve_single(gap, p, rate.facts, True).found
    except (NotSolved, DomainError):
        return found
    for r in roots:
        with contextlib.suppress(DomainError):  # f has no value there
            found.append((substitute(height, {p: r.value}), r.conditions))
    return found


def _degree(place: Expression, p: Name) -> int:
    """The degree in a power of the slope of the equation that a rational formula makes; 0 of others, which are left to the solver."""
    parts = [uni.coefficients_of(e, p) for e in quotient_parts(factored(place))]
    if None in parts:
        return 0
    exponents = {k for part in parts if part is not None for k, c in enumerate(part) if c is not ZERO}
    return max(exponents) // gcd(*exponents) if any(exponents) else 0


def _relations(
    rate: Rate, height: Expression, factor: Expression, inner: Expression, p: Name, constants: tuple[Name, ...]
) -> list[Solved]:
    """C as a formula of t and y: the slope that y = t*g + f tells, put into t = factor*(C + inner)."""
    if not 0 < _degree(height, p) <= MOST_SLOPES:
        return []
    try:
        roots = solve_single(height - rate.y, p, rate.facts, True, formulas_only=True).found
    except (NotSolved, DomainError):
        return []
    found: list[Solved] = []
    for root in roots:
        level = simplify(substitute(rate.t / factor - inner, {p: root.value}), rate.facts).expression
        side: Expression = constants[0]
        if rate.start:
            side = simplify(substitute(level, {rate.y: rate.start.value, rate.t: rate.start.place}), rate.facts).expression
            if is_zero(substitute(root.value, {rate.y: rate.start.value, rate.t: rate.start.place}), rate.facts):
                return []  # the slope vanishes there: more than one solution may go through
        found.append(Solved({}, (), Equation(substitute(level, {rate.y: rate.unknown}), side)))
    return found


def _through_place(rate: Rate, inside: Expression, p: Name) -> Outcome | None:
    """t = h(p): y is the integral of p*h'(p)."""
    parts = uni.linear_parts(expand(inside), rate.t)
    if parts is None or contains(inside, rate.y):
        return None
    h = factored(-parts[1] / parts[0])
    height = integral(factored(p * differentiate(h, p)), p, rate.facts)
    if height is None:
        return None
    constants = rate.problem.constants(1)
    return _outcome(rate, _eliminated(rate, h, height + constants[0], p), constants, "the slope as a parameter")


def _eliminated(rate: Rate, place: Expression, height: Expression, p: Name) -> list[Candidate]:
    """The height as a function of the place, through the parameter."""
    try:
        roots = solve_single(place - rate.t, p, rate.facts, True, formulas_only=True).found
    except (NotSolved, DomainError):
        return []
    return [(simplify(substitute(height, {p: r.value}), rate.facts).expression, r.conditions) for r in roots]


def _outcome(
    rate: Rate, candidates: Iterable[Candidate], constants: tuple[Name, ...], road: str, lost: tuple[str, ...] = ()
) -> Outcome | None:
    if rate.start and constants:
        candidates = [each for value, own in candidates for each in _started(rate, value, own, constants)]
        constants = ()
    found: list[Solved] = []
    for value, own in candidates:
        solved = accepted(rate.problem, value, own)
        if solved is not None:
            found.append(solved)
        elif not rate.start:
            lost = (*lost, f"{rate.unknown} = {value} was not confirmed")
    return Outcome(distinct(found, constants, rate.facts), constants, road, lost) if found else None


def _started(rate: Rate, value: Expression, own: tuple[Condition, ...], constants: tuple[Name, ...]) -> list[Candidate]:
    """A formula with the constants that give the stated value."""
    assert rate.start is not None
    (c,) = constants
    row = substitute(value, {rate.t: rate.start.place}) - rate.start.value
    if not contains(row, c):
        return [(value, own)] if is_zero(row, rate.facts) else []
    return [
        (simplify(substitute(value, {c: k}), rate.facts).expression, tuple(substitute(condition, {c: k}) for condition in own))
        for k in constants_for(value, c, rate.problem)
    ]
