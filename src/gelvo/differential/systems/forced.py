"""Linear systems with constant coefficients under a forcing without a transform: variation of the constants.

Source: E. Coddington and N. Levinson, "Theory of Ordinary Differential Equations" (1955), chapter 3 (variation of constants).
"""

from __future__ import annotations

from collections.abc import Mapping

from gelvo.differential.constant_coefficients import Linear, constant_coefficients, linear_terms
from gelvo.differential.problem import Outcome, Problem, Solved, Values, imposed, order_of
from gelvo.differential.variation import integral_or_written
from gelvo.errors import NotSolved
from gelvo.expression.building import total
from gelvo.expression.nodes import Applied, Expression
from gelvo.expression.traversal import substitute
from gelvo.forms.differentiation import differentiate
from gelvo.simplifying.search import simplify


def forced_system(problem: Problem) -> Outcome | None:
    """x' = A*x + f(t) with a forcing of any kind: exp(A*t) times the integral of exp(-A*t)*f."""
    parts = linear_terms(problem, True)
    if parts is None or any(order_of(problem, u) != 1 for u in problem.unknowns):
        return None
    slopes = [_slope_of(linear, problem.unknowns) for linear in parts]
    if None in slopes or len({u for u, _ in slopes if u is not None}) != len(problem.unknowns):  # type: ignore[misc]
        return None
    bare = problem._replace(equations=[e + linear.right for e, linear in zip(problem.equations, parts, strict=True)], stated=[])
    try:
        free = constant_coefficients(bare)
    except NotSolved:
        return None
    if free is None or len(free.found) != 1 or len(free.constants) != len(problem.unknowns):
        return None
    forcing = {s[0]: linear.right / s[1] for s, linear in zip(slopes, parts, strict=True) if s is not None}
    whole = _pushed(problem, free, forcing)
    outcome = Outcome([Solved(whole, free.found[0].conditions)], free.constants, f"{free.road}; variation of the constants")
    return imposed(problem, outcome) if problem.stated else outcome


def _pushed(problem: Problem, free: Outcome, forcing: Mapping[Applied, Expression]) -> Values:
    """The solutions with the forcing, from those without: their constants are the values at 0, so that these are exp(A*t)."""
    t, facts, values = problem.variable, problem.facts, free.found[0].values
    columns = [[differentiate(values[u], c) for c in free.constants] for u in problem.unknowns]
    found: Values = {}
    shares = []
    for i in range(len(problem.unknowns)):
        back = [substitute(columns[i][j], {t: -t}) * forcing[u] for j, u in enumerate(problem.unknowns)]
        shares.append(integral_or_written(simplify(total(back), facts).expression, t, facts))
    for i, u in enumerate(problem.unknowns):
        found[u] = simplify(values[u] + total([columns[i][j] * share for j, share in enumerate(shares)]), facts).expression
    return found


def _slope_of(linear: Linear, unknowns: list[Applied]) -> tuple[Applied, Expression] | None:
    """The one unknown whose derivative stands in an equation, and its coefficient."""
    found = [(u, c) for (u, k), c in linear.table.items() if k == 1]
    return found[0] if len(found) == 1 else None
