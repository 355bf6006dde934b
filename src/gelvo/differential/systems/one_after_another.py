"""Several unknown functions, one after another: where an equation has one of them alone, it is solved first."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.differential.problem import Outcome, Problem, Solved, order_of, with_own_constants, with_values
from gelvo.expression.nodes import Applied, Expression
from gelvo.expression.traversal import contains, postorder


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
    constants, road, lost = first.constants, first.road, first.lost
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
        lost = tuple(dict.fromkeys((*lost, *then.lost)))
    return Outcome(found, constants, road, lost)


def _occurs(u: Applied, e: Expression) -> bool:
    return any(isinstance(n, Applied) and n.name == u.name for n in postorder(e))
