"""Riccati's equation y' = a + b*y + c*y^2, from a particular solution: the others follow from a linear equation for 1/(y - y_1).

Source: E. Ince, "Ordinary Differential Equations" (1926), section 2.15.
"""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.differential.first_order.linear import integrating_factor
from gelvo.differential.first_order.rate import Rate, accepted
from gelvo.differential.problem import Outcome, Solved, derivative_of
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number, power
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, COT, EXP, SIN, TAN, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single
from gelvo.solving.systems import solve_system

POWERS = (-2, -1, 1, 2)


def riccati(rate: Rate) -> Outcome | None:
    """The family around a particular solution, and that solution itself."""
    parts = uni.coefficients_of(expand(rate.slope), rate.y)
    if parts is None or len(parts) != 3 or any(contains(p, rate.y) for p in parts):
        return None
    known = next(_particular(parts, rate), None)
    if known is None:
        return None
    return _around(rate, parts, known)


def _particular(parts: list[Expression], rate: Rate) -> Iterator[Expression]:
    """Constants, multiples of powers, and straight lines among the solutions."""
    a, b, c = parts
    p, q = (rate.facts.new_name(word, a, b, c, rate.t) for word in ("p", "q"))
    grown = dict.fromkeys(n for part in parts for n in postorder(part) if is_a(n, EXP, TAN, COT, SIN, COS))
    for shape in (p, *[p * power(rate.t, number(k)) for k in POWERS], *[p * e for e in grown], p * rate.t + q, p + q / rate.t):
        residual = a + b * shape + c * shape**2 - differentiate(shape, rate.t)
        letters = [n for n in (p, q) if contains(shape, n)]
        for table in (
            _vanishing(expand(factored(residual)), letters, rate) if len(letters) > 1 else _at_a_place(residual, p, rate)
        ):
            value = substitute(shape, table)
            if is_zero(a + b * value + c * value**2 - differentiate(value, rate.t), rate.facts) is True:
                yield value


def _at_a_place(residual: Expression, p: Name, rate: Rate) -> list[dict[Name, Expression]]:
    """The factors with which a formula is zero at one place: candidates."""
    try:
        there = substitute(residual, {rate.t: number(mpq(1, 2))})
        return [{p: r.value} for r in solve_single(there, p, rate.facts, True).found]
    except (NotSolved, DomainError):
        return []


def _vanishing(residual: Expression, letters: list[Name], rate: Rate) -> list[dict[Name, Expression]]:
    """The values of the letters for which a formula is zero for all values of the variable."""
    top = factored(residual)
    lifted = uni.coefficients_of(expand(top * rate.t**4), rate.t)
    if lifted is None or any(contains(c, rate.t) for c in lifted):
        return []
    rows = [c for c in lifted if c is not ZERO]
    if any(not names(r) or not any(contains(r, n) for n in letters) for r in rows):
        return []
    try:
        found = solve_system(rows, letters, rate.facts, True, ())
    except (NotSolved, DomainError):
        return []
    return [
        dict(s.values)
        for s in found.found
        if not s.conditions and not any(n in names(v) for v in s.values.values() for n in letters)
    ]


def _around(rate: Rate, parts: list[Expression], known: Expression) -> Outcome | None:
    """y = y_1 + 1/z with z' = -(b + 2*c*y_1)*z - c."""
    _, b, c = parts
    problem, u, start = rate.problem, rate.unknown, rate.start
    stated: list[Equation] = []
    if start:
        gap = simplify(start.value - substitute(known, {rate.t: start.place}), rate.facts).expression
        if is_zero(gap, rate.facts):
            return Outcome([Solved({u: known})], (), "Riccati's equation: a particular solution")
        stated = [Equation(problem.stated[0].left, 1 / gap)]
    slope = -(b + 2 * c * known) * rate.y - c
    lifted = problem._replace(equations=[derivative_of(u, 1) - substitute(slope, {rate.y: u})], stated=stated)
    inner = integrating_factor(rate._replace(problem=lifted, slope=slope), as_integral=True)
    if inner is None:
        return None
    value = simplify(known + 1 / inner.found[0].values[u], rate.facts).expression
    family = accepted(problem, value)
    if family is None:
        return None
    found = [family] if start else [family, Solved({u: known})]
    return Outcome(found, inner.constants, "Riccati's equation, from a particular solution")
