"""Ordinary differential equations: which method applies, and what must hold for the answer.

Source: E. Ince, "Ordinary Differential Equations" (1926), for Euler's equation.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence

from gelvo.deciding.equality import is_zero
from gelvo.differential.constant_coefficients import constant_coefficients
from gelvo.differential.damping import damping_cases
from gelvo.differential.euler import euler
from gelvo.differential.falling_together import with_equal_letters
from gelvo.differential.first_order.methods import first_order
from gelvo.differential.higher_order import linear_higher_order
from gelvo.differential.lowering import same_for_multiples, same_in_scales, without_function
from gelvo.differential.periodic_forcing import periodically_forced
from gelvo.differential.problem import Outcome, Problem, Solved, order_of, with_relation, with_values
from gelvo.differential.riccati_by_linear import riccati_by_linear
from gelvo.differential.second_order.elliptic import elliptic_motion
from gelvo.differential.second_order.energy import without_variable
from gelvo.differential.second_order.linear import linear_second_order
from gelvo.differential.singular_values import value_in_limit
from gelvo.differential.systems.conserved import kept_quantity, with_conserved_sum
from gelvo.differential.systems.euler import euler_system
from gelvo.differential.systems.forced import forced_system
from gelvo.differential.systems.in_new_time import in_new_time
from gelvo.differential.systems.one_after_another import one_after_another
from gelvo.differential.systems.oscillations import oscillations
from gelvo.differential.systems.plane import in_the_plane
from gelvo.differential.validity import around_start
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Bound, Condition, Expression, Name, Relation
from gelvo.expression.traversal import contains, free_names, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.steps import as_steps
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero, denominators
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.solving.putting_back import read_easily, real_conditions


def solve_differential(
    equations: Sequence[Expression], unknowns: Sequence[Applied], stated: Sequence[Equation], facts: Facts
) -> Outcome:
    """The solutions of ordinary differential equations; raises NotSolved with what was looked for."""
    problem = _problem(equations, unknowns, stated, facts)
    problem = problem._replace(equations=[as_steps(e, problem.variable, facts) for e in problem.equations])
    _check_stated(problem)
    written = denominators(equations, facts, free_of=problem.variable)  # the equation divides by them
    problem = problem._replace(facts=facts.with_facts(written))
    outcome = _finished(problem, facts, written)
    outcome = outcome._replace(cases=damping_cases(problem, [s.conditions for s in outcome.found]))
    return outcome if outcome.cases else with_equal_letters(problem, outcome, lambda inside: _finished(inside, inside.facts, ()))


def _finished(problem: Problem, facts: Facts, written: Sequence[Condition]) -> Outcome:
    """The solutions with what they need; facts: those of the call, without what the equation itself divides by."""
    return _with_conditions(problem._replace(facts=facts), _solved(problem), written)


def _solved(problem: Problem) -> Outcome:
    if len(problem.unknowns) > 1:
        return _system(problem)
    for linear in (periodically_forced, constant_coefficients):
        found = linear(problem)
        if found is not None:
            return found
    relation: Outcome | None = None
    for method in METHODS:
        found = method(problem)
        if found is None or not all(_satisfies(problem, s) for s in found.found):
            continue
        if all(s.relation is None for s in found.found) or order_of(problem, problem.unknowns[0]) == 1:
            return found
        relation = relation or found  # another way may lead to formulas
    if relation is not None:
        return relation
    raise NotSolved(
        f"no method solves this differential equation for {problem.unknowns[0]}: solve_numerically gives a table of values"
    )


def _system(problem: Problem) -> Outcome:
    """Several unknown functions."""
    swinging = oscillations(problem)
    if swinging is not None:
        return swinging
    try:
        linear = constant_coefficients(problem)
    except NotSolved:
        linear = forced_system(problem)
        if linear is None:
            raise
    found = linear
    for method in SYSTEM_METHODS if linear is None else ():
        found = found or method(problem)
    if found is None or (linear is None and not all(_satisfies(problem, s) for s in found.found)):
        kept = kept_quantity(problem)
        said = "" if kept is None else f"; {kept} keeps its value along each solution"
        raise NotSolved(f"no method leads to formulas for this system{said}: use solve_numerically")
    return found


SYSTEM_METHODS: tuple[Callable[[Problem], Outcome | None], ...] = (
    euler_system,
    in_new_time,
    lambda problem: with_conserved_sum(problem, _solved),
    lambda problem: one_after_another(problem, _solved),
    lambda problem: in_the_plane(problem, _solved),
)
METHODS: tuple[Callable[[Problem], Outcome | None], ...] = (
    first_order,
    lambda problem: riccati_by_linear(problem, _solved),
    euler,
    linear_second_order,
    linear_higher_order,
    lambda problem: without_function(problem, _solved),
    lambda problem: same_for_multiples(problem, _solved),
    elliptic_motion,
    without_variable,
    lambda problem: same_in_scales(problem, _solved),
)


def _with_conditions(problem: Problem, outcome: Outcome, written: Sequence[Condition]) -> Outcome:
    """What the letters and the variable must be for each formula to have a value, and the equation too."""
    t, facts = problem.variable, problem.facts
    found: list[Solved] = []
    for s in outcome.found:
        known = facts.with_facts([c for c in s.conditions if names(c)])
        needed: list[Condition] = [*written, *s.conditions]
        for value in s.values.values():
            needed += denominators([value], known, free_of=t)
            needed += [c for c in real_conditions(value, t, known) if not any(contains(c, k) for k in outcome.constants)]
        if s.relation is not None:
            sides = denominators([s.relation.left, s.relation.right], known, free_of=t)
            needed += [c for c in sides if not any(contains(c, u) for u in problem.unknowns)]
        free = {n for e in (*problem.formulas, *s.values.values()) for n in free_names(e)} | set(outcome.constants)
        needed = [c for c in needed if free.issuperset(names(c))]  # not about what runs inside a written integral
        kept: list[Condition] = []
        for part in facts.open_conditions(dict.fromkeys(read_easily(part) for c in needed for part in _by_factor(c))):
            if not facts.with_facts(kept).holds(part):
                kept.append(part)
        kept = _without_known_products(kept, facts)
        if any(_compares_complex(c, facts) for c in kept):
            continue  # it has no real value
        _has_stated_places(problem, s, kept)
        found.append(around_start(problem, s._replace(conditions=tuple(kept))))
    if outcome.found and not found:
        raise DomainError("no real solution has the stated values")
    return outcome._replace(found=found)


def _compares_complex(c: Condition, facts: Facts) -> bool:
    """Whether a formula with the imaginary unit would have to be larger than another one."""
    if not isinstance(c, Relation) or c.operator not in ("<", "<="):
        return False
    return has_imaginary_unit(c.left - c.right) and not facts.is_real(c.left - c.right)


def _without_known_products(conditions: list[Condition], facts: Facts) -> list[Condition]:
    """Without u != 0 and v != 0 where u*v is known not to be zero: a^2 < 1 says a != 1 and a != -1."""
    gaps = {c: c.left - c.right for c in conditions if isinstance(c, Relation) and c.operator == "!="}
    under = facts.with_facts([k for k in conditions if k not in gaps])
    known: set[Condition] = set()
    for (c, u), (d, v) in itertools.combinations(gaps.items(), 2):
        if under.is_nonzero(expand(u * v)):
            known.update((c, d))
    return [c for c in conditions if c not in known]


def _has_stated_places(problem: Problem, solution: Solved, conditions: Sequence[Condition]) -> None:
    """A DomainError where a value is stated at a place that the formula does not reach."""
    t = problem.variable
    for e in problem.stated:
        for node in postorder(e.left - e.right):
            if not isinstance(node, Applied) or not any(u.name == node.name for u in problem.unknowns):
                continue
            for c in conditions:
                if not contains(c, t) or _at_place(c, t, node.arguments[0], problem.facts) is not False:
                    continue
                if not _is_reached(problem, solution, e, node):
                    raise DomainError(f"{e} cannot be imposed: the equation is solved for {c} only")


def _is_reached(problem: Problem, solution: Solved, stated: Equation, node: Applied) -> bool:
    """Whether a stated value is the limit of a formula at a place to which it leads, as 1 of sin(x)/x at 0."""
    t, formula = problem.variable, solution.values.get(problem.unknowns[0])
    if formula is None or stated.left is not node or len(problem.unknowns) != 1:
        return False
    facts = problem.facts.with_facts([c for c in solution.conditions if names(c)])
    there = value_in_limit(differentiate(formula, t, sum(node.orders)), t, node.arguments[0], facts)
    return there is not None and not isinstance(there, Bound) and is_zero(there - stated.right, facts) is True


def _at_place(condition: Condition, t: Name, place: Expression, facts: Facts) -> bool | None:
    try:
        return facts.holds(substitute(condition, {t: place}))
    except DomainError:
        return False


def _by_factor(condition: Condition) -> list[Condition]:
    """u*v != 0 as u != 0 and v != 0."""
    if isinstance(condition, Relation) and condition.operator == "!=" and condition.right is ZERO:
        return apart_from_zero(condition.left, Facts()) or [condition]
    return [condition]


def _satisfies(problem: Problem, solution: Solved) -> bool:
    """A solution found by inverting functions is believed only where its residual is proved to be zero."""
    facts = problem.facts.with_facts([c for c in solution.conditions if names(c)])
    if solution.relation is not None:
        u = problem.unknowns[0]
        y = facts.new_name("y", *problem.formulas, solution.relation.left)
        facts = facts.with_facts([substitute(c, {u: y}) for c in solution.conditions if contains(c, u)])
        residuals = [with_relation(e, solution.relation, u, y, order_of(problem, u)) for e in problem.equations]
    else:
        residuals = [with_values(e, solution.values, problem.variable) for e in problem.equations]
    return all(is_zero(r, facts) for r in residuals)


def _problem(equations: Sequence[Expression], unknowns: Sequence[Applied], stated: Sequence[Equation], facts: Facts) -> Problem:
    variables = {a for u in unknowns for a in u.arguments}
    if len(variables) != 1 or not isinstance(next(iter(variables)), Name):
        raise NotSolved("unknown functions of one and the same variable are needed")
    t = variables.pop()
    assert isinstance(t, Name)
    for e in equations:
        for node in postorder(e):
            if isinstance(node, Applied) and any(node.name == u.name for u in unknowns) and node.arguments != (t,):
                raise NotSolved(f"{node} is taken at another place than {t}: such equations are not solved")
    return Problem(list(equations), list(unknowns), t, list(stated), facts)


def _check_stated(problem: Problem) -> None:
    """Initial values: about the unknowns, one value each, none that contradict each other."""
    seen: dict[Expression, Expression] = {}
    known = {u.name for u in problem.unknowns}
    for e in problem.stated:
        for node in postorder(e.left - e.right):
            if isinstance(node, Applied) and node.name not in known:
                raise DomainError(f"{e} speaks of {node}, which is not among the unknowns")
        if isinstance(e.left, Applied):
            if e.left in seen and is_zero(seen[e.left] - e.right, problem.facts) is not True:
                raise DomainError(f"{e.left} is given twice, as {seen[e.left]} and as {e.right}")
            seen[e.left] = e.right
            if sum(e.left.orders) and sum(e.left.orders) >= max(
                order_of(problem, u) for u in problem.unknowns if u.name == e.left.name
            ):
                raise DomainError(f"{e.left} follows from the equation and cannot be given as an initial value")
