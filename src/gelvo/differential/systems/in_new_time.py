"""Linear systems whose matrix changes in size but not in direction: x' = (a(t)*A + b(t))*x + f(t), with A constant, in the time s with s' = a(t).

Source: E. Coddington and N. Levinson, "Theory of Ordinary Differential Equations" (1955), chapter 3.
"""

from __future__ import annotations

from gelvo.differential.constant_coefficients import constant_coefficients
from gelvo.differential.first_order.rate import growth, integral
from gelvo.differential.problem import Outcome, Problem, Solved, Values, derivative_of, imposed
from gelvo.differential.systems.slopes import slopes
from gelvo.differential.variation import integral_or_written
from gelvo.errors import NotSolved
from gelvo.expression.building import applied, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.traversal import contains, substitute
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.simplifying.search import simplify

Rows = list[list[Expression]]


def in_new_time(problem: Problem) -> Outcome | None:
    """The solutions, or None where the matrix turns as well."""
    told = _matrix(problem)
    if told is None:
        return None
    matrix, forcing = told
    t, facts, count = problem.variable, problem.facts, len(matrix)
    mean = factored(total([matrix[i][i] for i in range(count)]) / count)
    rest = [[factored(e - mean) if i == j else e for j, e in enumerate(row)] for i, row in enumerate(matrix)]
    pace = next((e for row in rest for e in row if e is not ZERO), None)
    if pace is None:
        return None
    fixed = [[factored(e / pace) for e in row] for row in rest]
    if any(contains(e, t) for row in fixed for e in row):
        fixed = [[simplify(e, facts).expression for e in row] for row in fixed]
    clock, swell = integral(pace, t, facts), integral(mean, t, facts)
    if clock is None or swell is None or any(contains(e, t) for row in fixed for e in row):
        return None
    return _moved(problem, fixed, forcing, clock, growth(swell, t, facts))


def _moved(problem: Problem, fixed: Rows, forcing: list[Expression], clock: Expression, swell: Expression) -> Outcome | None:
    """exp(A*s) with s = clock(t), times the growth of the mean; forcing by variation of the constants."""
    t, facts = problem.variable, problem.facts
    s = facts.new_name("s", *problem.formulas, *problem.unknowns)
    inner = [applied(facts.new_name(f"{u.name}_s", *problem.formulas).name, (s,), (0,)) for u in problem.unknowns]
    equations = [
        derivative_of(v, 1) - total([e * w for e, w in zip(row, inner, strict=True)]) for v, row in zip(inner, fixed, strict=True)
    ]
    try:
        free = constant_coefficients(Problem(equations, list(inner), s, [], facts))
    except NotSolved:
        return None
    if free is None or len(free.found) != 1 or len(free.constants) != len(inner):
        return None
    columns = [[differentiate(free.found[0].values[v], c) for c in free.constants] for v in inner]
    shares: list[Expression] = []
    for j in range(len(inner) if any(f is not ZERO for f in forcing) else 0):
        back = total([substitute(columns[j][k], {s: -clock}) * f for k, f in enumerate(forcing)]) / swell
        shares.append(integral_or_written(simplify(back, facts).expression, t, facts))
    values: Values = {}
    for i, u in enumerate(problem.unknowns):
        parts = [c * (k + share) for c, k, share in zip(columns[i], free.constants, shares or [ZERO] * len(inner), strict=True)]
        values[u] = simplify(swell * substitute(total(parts), {s: clock}), facts).expression
    conditions: tuple[Condition, ...] = free.found[0].conditions
    outcome = Outcome([Solved(values, conditions)], free.constants, f"a matrix of one direction, in its own time; {free.road}")
    return imposed(problem, outcome) if problem.stated else outcome


def _matrix(problem: Problem) -> tuple[Rows, list[Expression]] | None:
    """A(t) and f(t) of x' = A*x + f."""
    told = slopes(problem)
    if told is None:
        return None
    plain, rates = told
    matrix = [[factored(differentiate(rate, p)) for p in plain] for rate in rates]
    if any(contains(e, p) for row in matrix for e in row for p in plain):
        return None
    return matrix, [factored(substitute(rate, dict.fromkeys(plain, ZERO))) for rate in rates]
