"""The constants that satisfy an equation, which dividing by a factor without the derivative may have lost."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from gelvo.deciding.equality import is_zero
from gelvo.differential.problem import Outcome, Problem, Solved, with_values
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import looks_negative
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.solving.single.complete import solve_single


def with_constant_solutions(problem: Problem, outcome: Outcome, at_rest: Expression, y: Name) -> Outcome:
    """The outcome with the constants that are not in its families; at_rest: the equation without its derivative."""
    u, t, facts = problem.unknowns[0], problem.variable, problem.facts
    found, lost, families = list(outcome.found), list(outcome.lost), list(outcome.families)
    for factor in _vanishing(at_rest):
        if not contains(factor, y) or contains(factor, t):
            continue
        try:
            roots = solve_single(factor, y, facts, True)
        except (NotSolved, DomainError):
            lost.append(f"constant solutions are where {substitute(factor, {y: u})} = 0")
            continue
        lost += roots.lost
        for root in roots.found:
            if not _rests(at_rest, y, root.value, facts):
                continue
            known = any(u in s.values and _is_among(s.values[u], root.value, outcome.constants, facts) for s in found)
            if known or not _meets(problem, root.value):
                continue
            found.append(Solved({u: root.value}, tuple(facts.open_conditions((*root.conditions, *roots.conditions)))))
            families += root.families
    return outcome._replace(found=found, lost=tuple(dict.fromkeys(lost)), families=tuple(dict.fromkeys(families)))


def _vanishing(product: Expression) -> Iterator[Expression]:
    """The factors at whose zeros a product may be zero, those of radicands too."""
    for piece in factors_in(factored(product)):
        base, k = base_and_exponent(piece)
        if looks_negative(k):
            continue
        inside = [piece] if k is ONE else factors_in(factored(base))
        for factor in inside or [base]:
            own, times = base_and_exponent(factor)
            if not looks_negative(times):
                yield own


def _rests(at_rest: Expression, y: Name, value: Expression, facts: Facts) -> bool:
    """Whether the whole equation holds for a constant, not only one of its factors."""
    try:
        return is_zero(substitute(at_rest, {y: value}), facts) is True
    except DomainError:
        return False


def _is_among(value: Expression, constant: Expression, constants: Sequence[Name], facts: Facts) -> bool:
    """Whether a constant solution is one of a family: with the constant 0, or as it is."""
    try:
        return is_zero(substitute(value, dict.fromkeys(constants, ZERO)) - constant, facts) is True
    except DomainError:
        return False


def _meets(problem: Problem, value: Expression) -> bool:
    """Whether a constant has the stated values."""
    rows = [with_values(e.left - e.right, {problem.unknowns[0]: value}, problem.variable) for e in problem.stated]
    return all(is_zero(row, problem.facts) is True for row in rows)
