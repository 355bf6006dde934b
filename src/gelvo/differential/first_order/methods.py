"""Differential equations of the first order: the slope is solved for, and each way tried in turn.

Source: E. Ince, "Ordinary Differential Equations" (1926), chapters 2 and 3.
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.differential.first_order.constant_solutions import with_constant_solutions
from gelvo.differential.first_order.exact import exact
from gelvo.differential.first_order.exchanged import exchanged
from gelvo.differential.first_order.linear import bernoulli, integrating_factor, with_integral
from gelvo.differential.first_order.rate import Rate, both_ways, distinct
from gelvo.differential.first_order.riccati import riccati
from gelvo.differential.first_order.separable import homogeneous, of_a_combination, of_two_lines, separated
from gelvo.differential.first_order.slopes import by_slope
from gelvo.differential.problem import Outcome, Problem, derivative_of, order_of
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Written
from gelvo.expression.traversal import contains, has_imaginary_unit, names, postorder, substitute, tree_size
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.solving.single.complete import solve_single

METHODS: tuple[Callable[[Rate], Outcome | None], ...] = (
    integrating_factor, bernoulli, separated, homogeneous, riccati, of_a_combination, exact, of_two_lines, with_integral,
)  # fmt: skip
LAST: tuple[Callable[[Rate], Outcome | None], ...] = (exchanged,)  # where no other way leads to a relation


def first_order(problem: Problem) -> Outcome | None:
    """All solutions of one equation of the first order; None where no way leads to them."""
    u = problem.unknowns[0]
    if len(problem.equations) != 1 or order_of(problem, u) != 1:
        return None
    y, slope = (problem.facts.new_name(word, *problem.equations) for word in ("y", "v"))
    inside = substitute(problem.equations[0], {derivative_of(u, 1): slope, derivative_of(u, 0): y})
    try:
        at_rest = substitute(inside, {slope: ZERO})
    except DomainError:  # the equation divides by the slope
        at_rest = ONE
    parts = uni.linear_parts(expand(inside), slope)
    if parts is not None:
        found = _of_rate(Rate(problem, factored(-parts[1] / parts[0]), y), _divided(parts[0], y, problem))
        is_linear = not contains(parts[0], y) and uni.linear_parts(expand(at_rest), y) is not None
        return found if found is None or is_linear else with_constant_solutions(problem, found, at_rest, y)
    found = _of_slopes(problem, inside, y, slope)
    return None if found is None else with_constant_solutions(problem, found, at_rest, y)


def _divided(lead: Expression, y: Name, problem: Problem) -> tuple[Condition, ...]:
    """What the letters need where the equation is divided by what stands before the slope."""
    listed = apart_from_zero(lead, problem.facts)
    return tuple(c for c in listed if not contains(c, y) and not contains(c, problem.variable))


def _of_rate(rate: Rate, needed: tuple[Condition, ...] = ()) -> Outcome | None:
    """The first way that leads to formulas; else the first that leads to a relation."""
    _has_slope_at_start(rate)
    relation: Outcome | None = None
    unreached = ""
    for method in (*METHODS, *LAST):
        if relation is not None and method in LAST:
            break
        try:
            found = method(rate)
        except DomainError as fault:  # no value where one is stated
            if not rate.start:
                raise
            unreached = str(fault)
            continue
        if found is None:
            continue
        if all(s.relation is None for s in found.found):
            solved = [s._replace(conditions=tuple(dict.fromkeys((*needed, *s.conditions)))) for s in found.found]
            return found._replace(found=solved, lost=(*found.lost, *_branching(rate)))
        if relation is None or _size(found) < _size(relation):
            relation = found
    if relation is None and unreached:
        raise DomainError(unreached if "impose" in unreached else f"{rate.problem.stated[0]} cannot be imposed: {unreached}")
    return relation


def _branching(rate: Rate) -> tuple[str, ...]:
    """A sentence where more than one solution may go through the stated value, since the slope changes there without bound."""
    if rate.start is None:
        return ()
    at = {rate.t: rate.start.place, rate.y: rate.start.value}
    try:
        if any(isinstance(n, Written) for n in postorder(substitute(differentiate(rate.slope, rate.y), at))):
            raise DomainError("no slope")
    except DomainError:
        shown = substitute(rate.slope, {rate.y: rate.unknown})
        return (f"others may branch off where {shown} has no slope",)
    return ()


def _has_slope_at_start(rate: Rate) -> None:
    """A DomainError where a value is stated at which the slope is no real number."""
    if rate.start is None:
        return
    try:
        there = substitute(rate.slope, {rate.t: rate.start.place, rate.y: rate.start.value})
    except DomainError:
        return
    if has_imaginary_unit(there) and not names(there):
        raise DomainError(f"{rate.problem.stated[0]} cannot be imposed: the slope is not real there")


def _size(outcome: Outcome) -> int:
    return sum(tree_size(s.relation.left) + tree_size(s.relation.right) for s in outcome.found if s.relation is not None)


def _of_slopes(problem: Problem, inside: Expression, y: Name, slope: Name) -> Outcome | None:
    """Through the slope as a parameter, or one equation for each slope that the equation allows."""
    found = by_slope(Rate(problem, ZERO, y), inside, slope)
    if found is not None:
        return found
    try:
        roots = solve_single(inside, slope, problem.facts, True, formulas_only=True)
    except (NotSolved, DomainError):
        raise NotSolved(f"the equation was not solved for the derivative of {problem.unknowns[0]}") from None
    slopes = both_ways([factored(r.value) for r in roots.found if not r.families])
    outcomes = [_of_rate(Rate(problem, s, y)) for s in slopes]
    if not outcomes or None in outcomes:
        return None
    listed = [o for o in outcomes if o is not None]
    constants = next((o.constants for o in listed if o.constants), ())
    together = distinct([s for o in listed for s in o.found], constants, problem.facts)
    return Outcome(
        together, constants, f"one equation for each slope; {listed[0].road}", sum((o.lost for o in listed), roots.lost)
    )
