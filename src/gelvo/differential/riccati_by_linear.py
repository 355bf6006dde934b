"""Riccati's equation y' = a + b*y + c*y^2 through the linear equation of second order for u, with y = -u'/(c*u).

Source: E. Ince, "Ordinary Differential Equations" (1926), section 2.15.
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.differential.first_order.rate import accepted, start_of
from gelvo.differential.problem import Outcome, Problem, constants_for, derivative_of, order_of, value_at
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Expression
from gelvo.expression.traversal import contains, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.simplifying.search import simplify

ROAD = "Riccati's equation, through a linear one of second order"


def riccati_by_linear(problem: Problem, solve: Callable[[Problem], Outcome]) -> Outcome | None:
    """The family, and the one solution that is its limit; solve: what solves the linear equation."""
    parts = _coefficients(problem)
    if parts is None:
        return None
    a, b, c = parts
    y, t, facts = problem.unknowns[0], problem.variable, problem.facts
    u = applied(facts.new_name(f"{y.name}_u", *problem.formulas).name, (t,), (0,))
    linear = derivative_of(u, 2) - (b + differentiate(c, t) / c) * derivative_of(u, 1) + a * c * u
    started = _from_start(problem, Problem([linear], [u], t, [], facts), c, solve)
    if started is not None:
        return started
    try:
        found = solve(Problem([linear], [u], t, [], facts))
    except (NotSolved, DomainError):
        return None
    if len(found.found) != 1 or len(found.constants) != 2:
        return None
    return _lowered(problem, found, u, c)


def _from_start(problem: Problem, linear: Problem, c: Expression, solve: Callable[[Problem], Outcome]) -> Outcome | None:
    """The one solution through a stated value: u is 1 there, and its slope follows."""
    start = start_of(problem)
    if start is None:
        return None
    (u,), t = linear.unknowns, linear.variable
    try:
        slope = -substitute(c, {t: start.place}) * start.value
        stated = [Equation(value_at(u, start.place, 0), ONE), Equation(value_at(u, start.place, 1), slope)]
        found = solve(linear._replace(stated=stated))
    except (NotSolved, DomainError):
        return None
    values = [s.values[u] for s in found.found if u in s.values]
    if len(values) != 1 or found.constants:
        return None
    value = simplify(-differentiate(values[0], t) / (c * values[0]), problem.facts).expression
    solved = accepted(problem, value)
    return None if solved is None else Outcome([solved], (), ROAD)


def _coefficients(problem: Problem) -> list[Expression] | None:
    """a, b and c of an equation solved for its slope."""
    u = problem.unknowns[0]
    if len(problem.equations) != 1 or order_of(problem, u) != 1:
        return None
    y, slope = (problem.facts.new_name(word, *problem.equations) for word in ("y", "v"))
    inside = substitute(problem.equations[0], {derivative_of(u, 1): slope, u: y})
    parts = uni.linear_parts(expand(inside), slope)
    if parts is None or contains(parts[0], y):
        return None
    found = uni.coefficients_of(expand(factored(-parts[1] / parts[0])), y)
    return found if found is not None and len(found) == 3 and not any(contains(p, y) for p in found) else None


def _lowered(problem: Problem, found: Outcome, u: Applied, c: Expression) -> Outcome | None:
    t, facts = problem.variable, problem.facts
    value, (one, two) = found.found[0].values[u], found.constants
    constant = problem.constants(1)[0]
    whole = -differentiate(value, t) / (c * value)
    family = simplify(substitute(whole, {one: constant, two: ONE}), facts).expression
    last = simplify(substitute(whole, {one: ONE, two: ZERO}), facts).expression
    if problem.stated:
        members = [
            simplify(substitute(family, {constant: k}), facts).expression for k in constants_for(family, constant, problem)
        ]
        solved = [s for v in (*members, last) if (s := accepted(problem, v)) is not None]
        return Outcome(solved[:1], (), ROAD) if solved else None
    solved = [s for v in (family, last) if (s := accepted(problem, v)) is not None]
    return Outcome(solved, (constant,), ROAD) if len(solved) == 2 else None
