"""Where a solution with a stated start lives: the stretch around the start between the nearest places where its formula breaks."""

from __future__ import annotations

import itertools
from collections.abc import Iterable

from gelvo.differential.problem import Problem, Solved
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number, relation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Relation
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single

TURNS = range(-3, 4)  # members of a family of zeros that may be the nearest ones


def around_start(problem: Problem, solution: Solved) -> Solved:
    """The conditions `f(t) != 0` as the stretch of t around the one place where values are stated, and the formulas there."""
    place = _start(problem)
    if place is None or solution.relation is not None:
        return solution
    t, facts = problem.variable, problem.facts
    ends: dict[Condition, None] = {}
    kept: list[Condition] = []
    for c in solution.conditions:
        found = _stretch(c, t, place, facts)
        if found is None:
            kept.append(c)
        else:
            ends.update(dict.fromkeys(found))
    if not ends:
        return solution
    bounds = _tightest(list(ends), t, facts)
    inside = facts.with_facts(bounds)
    rest = [c for c in kept if not inside.holds(c)]
    values = {u: simplify(v, inside).expression for u, v in solution.values.items()}
    return solution._replace(values=values, conditions=(*rest, *bounds))


def _start(problem: Problem) -> Expression | None:
    """The one place where all values are stated."""
    nodes = [n for e in problem.stated for n in postorder(e.left - e.right) if isinstance(n, Applied)]
    places = list(dict.fromkeys(n.arguments[0] for n in nodes))
    return places[0] if len(places) == 1 else None


def _stretch(c: Condition, t: Name, place: Expression, facts: Facts) -> list[Condition] | None:
    """t between the nearest zeros; None where these are not known, or the condition is of another kind."""
    if not (isinstance(c, Relation) and c.operator == "!=" and contains(c, t)):
        return None
    zeros = _zeros(c.left - c.right, t, facts)
    if zeros is None:
        return None
    below: list[Expression] = []
    above: list[Expression] = []
    for z in zeros:
        gap = z - place
        if facts.is_positive(gap):
            above.append(z)
        elif facts.is_negative(gap):
            below.append(z)
        else:
            return None
    ends = [_nearest(below, facts, 1), _nearest(above, facts, -1)]
    if (below and ends[0] is None) or (above and ends[1] is None):
        return None
    low, high = ends
    return [*([relation("<", low, t)] if low is not None else []), *([relation("<", t, high)] if high is not None else [])]


def _zeros(e: Expression, t: Name, facts: Facts) -> list[Expression] | None:
    """All zeros, of a family the members near its start; None where they are not all known."""
    try:
        roots = solve_single(e, t, facts.without(t), True)
    except (NotSolved, DomainError):
        return None
    if roots.lost:
        return None
    found: list[Expression] = []
    for root in roots.found:
        if root.conditions or len(root.families) > 1:
            return None
        turns: Iterable[int] = TURNS if root.families else (0,)
        found += [substitute(root.value, {n: number(k) for n in root.families}) for k in turns]
    return found


def _nearest(places: list[Expression], facts: Facts, side: int) -> Expression | None:
    """The largest (side 1) or the smallest of several places; None where they are not told apart."""
    best: Expression | None = None
    for p in places:
        if best is None or facts.is_positive(side * (p - best)):
            best = p
        elif not facts.is_negative(side * (p - best)) and p is not best:
            return None
    return best


def _tightest(bounds: list[Condition], t: Name, facts: Facts) -> list[Condition]:
    """Without bounds that follow from others."""
    kept = list(bounds)
    for one, other in itertools.permutations(bounds, 2):
        if one in kept and other in kept and facts.with_facts([one]).holds(other):
            kept.remove(other)
    return kept
