"""Values stated where a linear equation is singular: most solutions have no value there, and those that have one are told.

Source: E. Ince, "Ordinary Differential Equations" (1926), chapter 7 (exponents at a regular singular place).
"""

from __future__ import annotations

import itertools
from collections.abc import Collection
from typing import NamedTuple

from gelvo.calculus.limits import limit
from gelvo.deciding.equality import is_zero
from gelvo.differential.problem import Outcome, Problem, Solved, imposed, with_values
from gelvo.errors import DomainError
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Bound, Condition, Expression, Name, Written
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms.differentiation import differentiate
from gelvo.simplifying.search import simplify


class Stated(NamedTuple):
    """What is stated at one place: the equations, and the orders of the derivatives in them."""

    place: Expression
    equations: list[Equation]
    orders: list[int]


def imposed_anywhere(problem: Problem, outcome: Outcome, told_apart: Collection[Expression] = ()) -> Outcome:
    """The stated values imposed, also where functions of the family have none.

    told_apart: singular places at which only the multiples of one function have a value, by the exponents there.
    """
    for stated in _by_place(problem):
        inside = _with_value_at(problem, outcome, stated, stated.place in told_apart)
        if inside is not None:
            problem, outcome = inside
    return imposed(problem, outcome) if problem.stated else outcome


def _by_place(problem: Problem) -> list[Stated]:
    found: dict[Expression, Stated] = {}
    for e in problem.stated:
        if isinstance(e.left, Applied):
            stated = found.setdefault(e.left.arguments[0], Stated(e.left.arguments[0], [], []))
            stated.equations.append(e)
            stated.orders.append(sum(e.left.orders))
    return list(found.values())


def _with_value_at(problem: Problem, outcome: Outcome, stated: Stated, one: bool) -> tuple[Problem, Outcome] | None:
    """The problem and the family without what has no value at a place; None where all of it has, or nothing is sure."""
    t, u = problem.variable, problem.unknowns[0]
    solution = outcome.found[0]
    value, facts = solution.values[u], problem.facts.with_facts([c for c in solution.conditions if contains(c, t)])
    functions = {c: differentiate(value, c) for c in outcome.constants}
    if len(outcome.found) != 1 or any(contains(f, c) for f in functions.values() for c in outcome.constants):
        return None
    off: dict[Name, bool] = {}  # whether it is known to run off
    for c, f in functions.items():
        there = [value_in_limit(differentiate(f, t, k), t, stated.place, facts) for k in stated.orders]
        if any(v is None or isinstance(v, Bound) for v in there):
            off[c] = any(isinstance(v, Bound) for v in there)
    rest = substitute(value, dict.fromkeys(outcome.constants, ZERO))
    settled = [value_in_limit(differentiate(rest, t, k), t, stated.place, facts) for k in stated.orders]
    if not off or any(v is None or isinstance(v, Bound) for v in settled):
        return None
    if len(off) == 2:
        turned = _turned(problem, outcome, functions, off, stated, facts)
        if turned is not None:
            return _with_value_at(problem, turned, stated, one)
    sure = (one and len(functions) - len(off) == 1) or (
        all(off.values()) and _none_cancel([functions[c] for c in off], stated, t, facts)
    )
    if not sure:
        return None
    value = simplify(substitute(value, dict.fromkeys(off, ZERO)), facts).expression
    left = outcome._replace(constants=tuple(c for c in outcome.constants if c not in off))
    if all(has_value(differentiate(value, t, k), t, stated.place) for k in stated.orders):
        return problem, left._replace(found=[Solved({u: value}, _still_needed(problem, value, solution.conditions))])
    return _reached(problem, left._replace(found=[Solved({u: value}, solution.conditions)]), stated, facts)


def _turned(
    problem: Problem, outcome: Outcome, functions: dict[Name, Expression], off: dict[Name, bool], stated: Stated, facts: Facts
) -> Outcome | None:
    """The family with f - k*g for f, where f and g run off and f/g leads to k: exp(x)/x and exp(-x)/x at 0."""
    t, (solution,), (first, second) = problem.variable, outcome.found, off
    quotient = limit(functions[first] / functions[second], t, stated.place, _side(t, stated.place, facts), facts)
    if quotient is None or isinstance(quotient.value, Bound) or not facts.is_nonzero(quotient.value):
        return None
    u = problem.unknowns[0]
    rest = substitute(solution.values[u], dict.fromkeys(off, ZERO))
    one = simplify(functions[first] - quotient.value * functions[second], facts).expression
    if isinstance(value_in_limit(one, t, stated.place, facts), (Bound, type(None))):
        return None
    return outcome._replace(found=[solution._replace(values={u: rest + first * one + second * functions[second]})])


def _none_cancel(functions: list[Expression], stated: Stated, t: Name, facts: Facts) -> bool:
    """Whether of functions that run off each pair does so at different rates."""
    quotients = [
        limit(f / g, t, stated.place, _side(t, stated.place, facts), facts) for f, g in itertools.combinations(functions, 2)
    ]
    return all(q is not None and (q.value is ZERO or isinstance(q.value, Bound)) for q in quotients)


def _still_needed(problem: Problem, value: Expression, conditions: tuple[Condition, ...]) -> tuple[Condition, ...]:
    """Without the conditions on the variable where the formula solves the equations all the same."""
    t = problem.variable
    letters = tuple(c for c in conditions if not contains(c, t))
    residuals = [with_values(e, {problem.unknowns[0]: value}, t) for e in problem.equations]
    facts = problem.facts.with_facts(letters)
    return letters if all(is_zero(r, facts) is True for r in residuals) else conditions


def _reached(problem: Problem, outcome: Outcome, stated: Stated, facts: Facts) -> tuple[Problem, Outcome] | None:
    """One constant from a value that is reached in the limit, as that of sin(x)/x at 0; None where more is to be determined."""
    t, (solution,) = problem.variable, outcome.found
    u = problem.unknowns[0]
    weights = [(c, differentiate(solution.values[u], c)) for c in outcome.constants]
    rest = substitute(solution.values[u], dict.fromkeys(outcome.constants, ZERO))
    if len(weights) > 1:
        return None
    constant, f = weights[0] if weights else (None, ZERO)
    chosen: Expression | None = None
    needed: list[Condition] = []
    for e, k in zip(stated.equations, stated.orders, strict=True):
        weight, own = (value_in_limit(differentiate(part, t, k), t, stated.place, facts) for part in (f, rest))
        if weight is None or own is None:
            return None
        gap = e.right - own
        if is_zero(weight, facts) is not True:
            needed += apart_from_zero(weight, facts)
            chosen = simplify(gap / weight, facts).expression
        elif is_zero(gap, facts) is not True:
            return None
    value = solution.values[u]
    if constant is not None and chosen is not None:
        value = simplify(substitute(value, {constant: chosen}), facts).expression
    others = problem._replace(stated=[e for e in problem.stated if e not in stated.equations])
    return others, outcome._replace(
        found=[Solved({u: value}, (*solution.conditions, *needed))], constants=() if chosen is not None else outcome.constants
    )


def has_value(f: Expression, t: Name, place: Expression) -> bool:
    try:
        there = substitute(f, {t: place})
    except DomainError:
        return False
    return not any(isinstance(n, Written) for n in postorder(there))  # an integral up to there may diverge


def value_in_limit(f: Expression, t: Name, place: Expression, facts: Facts) -> Expression | None:
    """The value at a place, or what is reached there (inf where it runs off); None where neither is known."""
    if has_value(f, t, place):
        return substitute(f, {t: place})
    found = limit(f, t, place, _side(t, place, facts), facts)
    return None if found is None else found.value


def _side(t: Name, place: Expression, facts: Facts) -> str:
    return "below" if facts.is_negative(t - place) else "above"
