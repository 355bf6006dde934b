"""The three cases of a damped oscillator, by their names: a*x'' + b*x' + c*x = f with a, b, c of one sign."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.deciding.equality import is_zero
from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.problem import Problem, order_of
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored

UNDERDAMPED, OVERDAMPED, CRITICAL = "underdamped", "overdamped", "critical"


def damping_cases(problem: Problem, cases: Sequence[Sequence[Condition]]) -> tuple[str, ...]:
    """The name of each case by its conditions; nothing where the equation is no oscillator, or a case is not told.

    Underdamped where b^2 < 4*a*c, overdamped where b^2 > 4*a*c, critical where they are equal.
    """
    if len(problem.equations) != 1 or len(problem.unknowns) != 1 or order_of(problem, problem.unknowns[0]) != 2 or len(cases) < 2:
        return ()
    listed = linear_terms(problem, constant=True)
    if listed is None:
        return ()
    c, b, a = (listed[0].table.get((problem.unknowns[0], k), ZERO) for k in range(3))
    facts = [problem.facts.with_facts(own) for own in cases]
    if not all(f.is_positive(b / a) and f.is_positive(c / a) for f in facts):
        return ()
    gap = factored(4 * a * c - b * b)
    names = [_named(gap, f) for f in facts]
    return tuple(names) if all(names) and len(set(names)) == len(names) else ()


def _named(gap: Expression, facts: Facts) -> str:
    if facts.is_positive(gap):
        return UNDERDAMPED
    if facts.is_negative(gap):
        return OVERDAMPED
    return CRITICAL if is_zero(gap, facts) else ""
