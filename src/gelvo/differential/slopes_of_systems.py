"""Systems of the first order solved for their slopes."""

from __future__ import annotations

from gelvo.differential.problem import Problem, Values, derivative_of, order_of
from gelvo.errors import DomainError
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import names, substitute
from gelvo.facts.vanishing import denominators
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.solving.linear import linear_rows, solve_linear


def slopes(problem: Problem) -> tuple[list[Name], list[Expression]] | None:
    """Plain names for the unknown functions, and their slopes as formulas of these; None where a slope is not told by one formula."""
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
    if not solved.found or known.open_conditions(solved.conditions):
        return None
    found = [factored(solved.found[0].values[m]) for m in marks]
    return None if any(m in names(f) for f in found for m in marks) else (plain, found)
