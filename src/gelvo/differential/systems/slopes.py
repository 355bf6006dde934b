"""Systems of the first order solved for their slopes."""

from __future__ import annotations

from gelvo.differential.problem import Problem, Values, derivative_of, order_of, value_at
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Applied, Expression, Name
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.vanishing import denominators
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.solving.linear import linear_rows, solve_linear


def slopes(problem: Problem) -> tuple[list[Name], list[Expression]] | None:
    """Plain names for the unknown functions, and their slopes as formulas of these; None where letters must not vanish for that."""
    count = len(problem.unknowns)
    if len(problem.equations) != count or any(order_of(problem, u) != 1 for u in problem.unknowns):
        return None
    marks = [problem.facts.new_name(f"{u.name}_rate", *problem.formulas) for u in problem.unknowns]
    plain = [problem.facts.new_name(f"{u.name}_now", *problem.formulas) for u in problem.unknowns]
    table: Values = {derivative_of(u, 1): mark for u, mark in zip(problem.unknowns, marks, strict=True)}
    table.update(zip(problem.unknowns, plain, strict=True))
    inside = [expand(substitute(e, table)) for e in problem.equations]
    rows = linear_rows(inside, marks)
    if rows is None:
        return None
    try:
        solved = solve_linear(rows, marks, problem.facts)
    except DomainError:
        return None
    known = problem.facts.with_facts(denominators(inside, problem.facts))  # the system divides by them
    needed = [c for c in known.open_conditions(solved.conditions) if not contains(c, problem.variable)]
    if not solved.found or needed:
        return None
    found = [factored(solved.found[0].values[m]) for m in marks]
    return None if any(m in names(f) for f in found for m in marks) else (plain, found)


def own_slopes(problem: Problem) -> tuple[list[Name], list[Expression]] | None:
    """The slopes, where they do not depend on the variable itself."""
    found = slopes(problem)
    return None if found is None or any(contains(r, problem.variable) for r in found[1]) else found


def start_of_system(problem: Problem) -> list[Expression] | None:
    """The values of all functions at one place; None where nothing is stated."""
    if not problem.stated:
        return None
    given = {e.left: e.right for e in problem.stated}
    wanted = [value_at(u, place_of_start(problem), 0) for u in problem.unknowns]
    if set(wanted) != set(given):
        raise NotSolved("values of all functions at one place are needed")
    return [given[w] for w in wanted]


def place_of_start(problem: Problem) -> Expression:
    """The place where values are stated."""
    (first,) = problem.stated[:1]
    return first.left.arguments[0] if isinstance(first.left, Applied) else ZERO
