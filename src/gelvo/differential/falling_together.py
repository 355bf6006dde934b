"""What holds where two rates or frequencies fall together, for which the general formula has no value: resonance among it."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.differential.constant_coefficients import letter_put_in, linear_terms
from gelvo.differential.problem import Outcome, Problem, Solved, breaks_where_zero, order_of
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Relation
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, postorder
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, EXP, SIN, is_a

OFF_RESONANCE, RESONANCE = "off resonance", "resonance"


def with_equal_letters(problem: Problem, outcome: Outcome, solve: Callable[[Problem], Outcome]) -> Outcome:
    """The outcome with the solutions where its one condition `a != b` on letters fails; as it is where they are not found."""
    outcome = outcome._replace(found=[s._replace(conditions=(*s.conditions, *_unsaid(problem, s))) for s in outcome.found])
    condition = _condition(problem, outcome)
    if condition is None:
        return outcome
    gap = condition.left - condition.right
    try:
        inside = letter_put_in(problem, gap)
    except DomainError:  # the equation itself divides by it
        return outcome
    if inside is None or any(order_of(inside, u) < order_of(problem, u) for u in problem.unknowns):
        return outcome
    if problem.facts.holds(zero_where(gap)) is False:
        return outcome
    try:
        other = solve(inside)
    except (NotSolved, DomainError):
        return outcome
    if any(s.relation is not None for s in other.found) or set(other.constants) != set(outcome.constants):
        return outcome
    equal = zero_where(gap)
    known = [list(s.values.values()) for s in outcome.found if condition not in s.conditions]
    more = [Solved(s.values, (equal, *s.conditions)) for s in other.found if list(s.values.values()) not in known]
    named = len(outcome.found) == len(more) == 1 and _is_driven(problem)
    return outcome._replace(found=[*outcome.found, *more], cases=(OFF_RESONANCE, RESONANCE) if named else ())


def _unsaid(problem: Problem, solution: Solved) -> list[Condition]:
    """Which rates must not vanish since the whole formula would be 0/0: of (a - b)/(a - b*exp((b - a)*t)) the rate b - a."""
    rates: dict[Expression, None] = {}
    for node in postorder(*solution.values.values()):
        if isinstance(node, Call) and is_a(node, EXP):
            pieces = factors_in(factored(node.arguments[0]))
            rates.update(dict.fromkeys(f for f in pieces if names(f) and not contains(f, problem.variable)))
    known = problem.facts.with_facts([c for c in solution.conditions if names(c)])
    return [nonzero(rate) for rate in rates if not known.is_nonzero(rate) and breaks_where_zero(solution, rate, problem.facts)]


def _condition(problem: Problem, outcome: Outcome) -> Relation | None:
    """The one condition on letters only that the solutions have, where they have one."""
    if any(s.relation is not None for s in outcome.found) or outcome.lost:
        return None
    listed = dict.fromkeys(c for s in outcome.found for c in s.conditions)
    about = [c for c in listed if problem.variable not in names(c) and not any(n in outcome.constants for n in names(c))]
    if len(about) != 1:
        return None
    (condition,) = about
    return condition if isinstance(condition, Relation) and condition.operator == "!=" else None


def _is_driven(problem: Problem) -> bool:
    """Whether a wave drives one linear equation."""
    parts = linear_terms(problem, constant=True) if len(problem.equations) == 1 else None
    return parts is not None and parts[0].right is not ZERO and any(is_a(n, SIN, COS) for n in postorder(parts[0].right))
