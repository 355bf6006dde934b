"""Several unknown functions: one after another where an equation has one of them alone, and forcing without a transform.

Source: E. Coddington and N. Levinson, "Theory of Ordinary Differential Equations" (1955), chapter 3 (variation of constants).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from gelvo.differential.constant_coefficients import Linear, constant_coefficients, linear_terms
from gelvo.differential.problem import Outcome, Problem, Solved, Values, imposed, order_of, with_own_constants, with_values
from gelvo.differential.variation import integral_or_written
from gelvo.errors import NotSolved
from gelvo.expression.building import total
from gelvo.expression.nodes import Applied, Expression
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.forms.differentiation import differentiate
from gelvo.simplifying.search import simplify


def one_after_another(problem: Problem, solve: Callable[[Problem], Outcome]) -> Outcome | None:
    """Equations of which one has a single unknown function: it is solved first, and put into the others."""
    if len(problem.unknowns) < 2 or len(problem.equations) != len(problem.unknowns):
        return None
    for e in problem.equations:
        inside = [u for u in problem.unknowns if _occurs(u, e)]
        if len(inside) != 1 or not order_of(problem, inside[0]):
            continue
        u = inside[0]
        stated = [s for s in problem.stated if _occurs(u, s.left)]
        first = solve(problem._replace(equations=[e], unknowns=[u], stated=stated))
        rest = problem._replace(
            unknowns=[v for v in problem.unknowns if v is not u], stated=[s for s in problem.stated if s not in stated]
        )
        return _put_in(rest, [other for other in problem.equations if other is not e], first, solve)
    return None


def _put_in(rest: Problem, equations: list[Expression], first: Outcome, solve: Callable[[Problem], Outcome]) -> Outcome | None:
    found: list[Solved] = []
    constants = first.constants
    road = first.road
    for s in first.found:
        if s.relation is not None:
            return None
        inside = [with_values(e, s.values, rest.variable) for e in equations]
        facts = rest.facts.with_facts([c for c in s.conditions if not any(contains(c, k) for k in first.constants)])
        then = solve(rest._replace(equations=inside, facts=facts))
        if any(k.relation is not None for k in then.found):
            return None
        then = with_own_constants(then, first.constants, inside, rest)
        found += [Solved({**s.values, **k.values}, (*s.conditions, *k.conditions)) for k in then.found]
        constants, road = tuple(dict.fromkeys((*constants, *then.constants))), f"one after another: {first.road}; {then.road}"
    return Outcome(found, constants, road, first.lost)


def _occurs(u: Applied, e: Expression) -> bool:
    return any(isinstance(n, Applied) and n.name == u.name for n in postorder(e))


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
