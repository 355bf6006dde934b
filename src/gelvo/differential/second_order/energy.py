"""Equations of second order without the variable: of first order for the speed as a function of the place.

Source: E. Ince, "Ordinary Differential Equations" (1926), section 2.6; for y'' = F(y) the first integral is the energy.
"""

from __future__ import annotations

import contextlib

from gelvo.differential.first_order.levels import from_level
from gelvo.differential.first_order.methods import first_order
from gelvo.differential.first_order.rate import Rate, accepted, both_ways, distinct, integral, told
from gelvo.differential.problem import Outcome, Problem, Solved, State, constants_in, derivative_of, order_of, state_of, value_at
from gelvo.differential.variation import as_written
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, looks_negative, power, relation
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name, Node, Power, Written
from gelvo.expression.traversal import contains, has_imaginary_unit, names, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ABS, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single


def without_variable(problem: Problem) -> Outcome | None:
    """y'' = F(y, y'): first order for the speed as a function of y."""
    u = problem.unknowns[0]
    y = problem.facts.new_name("y", *problem.formulas)
    inner = _speeds(problem, y)
    if inner is None:
        return None
    found: list[Solved] = []
    constants: tuple[Name, ...] = ()
    lost = list(inner.lost)
    for speed in both_ways([next(iter(s.values.values())) for s in inner.found]):
        for slope in _slopes(problem, speed, y, inner.constants):
            part = _for_all_energies(problem, slope, y, constants_in(slope, inner.constants))
            if part is None:
                lost.append(f"the solutions with {derivative_of(u, 1)} = {substitute(slope, {y: u})} are left")
                continue
            found += part.found
            constants = max(constants, tuple(dict.fromkeys((*constants_in(slope, inner.constants), *part.constants))), key=len)
    if _may_rest(problem) and not _has_constants(found, constants, problem.variable):
        found.append(Solved({u: problem.constants(1)[0]}))
    road = f"first order for the speed as a function of {u}"
    return Outcome(distinct(found, constants, problem.facts), constants, road, tuple(lost)) if found else None


def _speeds(problem: Problem, y: Name) -> Outcome | None:
    """The speeds as functions of y; None where the variable stands in the equation, or they are not told by formulas."""
    u = problem.unknowns[0]
    if order_of(problem, u) != 2 or len(problem.equations) != 1:
        return None
    speed = applied(problem.facts.new_name(f"{u.name}_rate", *problem.formulas).name, (y,), (0,))
    marks = {derivative_of(u, 2): speed * derivative_of(speed, 1), derivative_of(u, 1): speed, u: y}
    equation = factored(substitute(problem.equations[0], marks))
    if contains(equation, problem.variable):
        return None
    try:
        inner = first_order(Problem([equation], [speed], y, [], problem.facts))
    except NotSolved:
        return None
    return None if inner is None or any(s.relation is not None for s in inner.found) else inner


def _for_all_energies(problem: Problem, slope: Expression, y: Name, constants: tuple[Name, ...]) -> Outcome | None:
    """The solutions for a positive, a negative and a vanishing constant in a root, where their formulas differ."""
    whole = _from_speed(problem, slope, y)
    if whole is None or not constants:
        return whole
    (c,) = constants[:1]
    found: list[Solved] = []
    for side in (relation("<", ZERO, c), relation("<", c, ZERO)):
        with contextlib.suppress(DomainError):
            under = problem.facts.with_facts([side])
            part = _from_speed(problem._replace(facts=under), slope, y) if _is_real(slope, under) else None
            found += [s._replace(conditions=(side, *s.conditions)) for s in part.found] if part is not None else []
    if any(s.relation is not None for s in whole.found):  # the integral has a form for each sign, or stays written for both
        told = any(not _is_written(s) and not _has_root_of(s, c) for s in whole.found)
        worse = any(_is_written(s) or (told and s.relation is not None) for s in found)
        return whole if worse or not found else whole._replace(found=found)
    plain = distinct([s._replace(conditions=s.conditions[1:]) for s in found], whole.constants, problem.facts)
    if not found or len(plain) < len(found):  # one formula for both signs
        return whole
    with contextlib.suppress(DomainError):
        still = substitute(slope, {c: ZERO})
        at_zero = _from_speed(problem, still, y) if _is_real(still, problem.facts) else None
        found += at_zero.found if at_zero is not None else []
    return whole._replace(found=found)


def _is_written(solution: Solved) -> bool:
    """Whether a relation has an integral in it that is not worked out."""
    r = solution.relation
    return r is not None and any(isinstance(n, Written) for n in postorder(r.left - r.right))


def _has_root_of(solution: Solved, c: Name) -> bool:
    """Whether a relation has a root of a constant of either sign: it is real for one of them only."""
    r = solution.relation
    roots = [n for n in postorder(r.left - r.right) if isinstance(n, Power) and not n.exponent.is_whole] if r is not None else []
    return any(names(n.base) == [c] for n in roots)


def _is_real(slope: Expression, facts: Facts) -> bool:
    """Whether no root in a speed is one of something negative."""
    roots = [n for n in postorder(slope) if isinstance(n, Power) and not n.exponent.is_whole]
    return not has_imaginary_unit(slope) and not any(facts.is_negative(n.base) for n in roots)


def _may_rest(problem: Problem) -> bool:
    """Whether every constant is a solution."""
    u = problem.unknowns[0]
    try:
        return (
            not problem.stated
            and substitute(problem.equations[0], {derivative_of(u, 2): ZERO, derivative_of(u, 1): ZERO}) is ZERO
        )
    except DomainError:
        return False


def _has_constants(found: list[Solved], constants: tuple[Name, ...], t: Name) -> bool:
    """Whether a family has all constants among its members."""
    for s in found:
        for value in s.values.values():
            for c in constants:
                with contextlib.suppress(DomainError):
                    there = substitute(value, {c: ZERO})
                    if not contains(there, t) and any(contains(there, k) for k in constants):
                        return True
    return False


def _slopes(problem: Problem, slope: Expression, y: Name, constants: tuple[Name, ...]) -> list[Expression]:
    """The speed with the constant that the stated state gives."""
    state = state_of(problem)
    if state is None:
        return [slope]
    row = substitute(slope, {y: state.value}) - state.rate
    if not constants or not contains(row, constants[0]):
        return [slope]
    try:
        roots = solve_single(row, constants[0], problem.facts, True).found
    except (NotSolved, DomainError):
        return []
    found = [simplify(substitute(slope, {constants[0]: r.value}), problem.facts).expression for r in roots]
    return [_without_bars_at(s, y, state.value, problem.facts) for s in found]


def _without_bars_at(slope: Expression, y: Name, start: Expression, facts: Facts) -> Expression:
    """abs(u) as u or -u, as it is where the motion starts."""
    table: dict[Node, Expression] = {}
    for node in postorder(slope):
        if is_a(node, ABS) and contains(node, y):
            inside = node.arguments[0]
            there = substitute(inside, {y: start})
            if facts.is_positive(there) or facts.is_negative(there):
                table[node] = inside if facts.is_positive(there) else -inside
    return substitute(slope, table) if table else slope


def _on_one_side(f: Expression, y: Name, start: Expression, facts: Facts) -> Expression | None:
    """An antiderivative on the side of zero where it starts: there roots of quotients come apart."""
    sign = 1 if facts.is_positive(start) else -1 if facts.is_negative(start) else 0
    if not sign:
        return None
    size = facts.new_name("y", f, y, domain="positive")

    def visit(node: Node) -> Node:
        if not isinstance(node, Power) or node.exponent.is_whole or not node.exponent.is_rational:
            return node
        top, bottom = quotient_parts(factored(node.base))
        return power(top, node.exponent) / power(bottom, node.exponent)

    found = integral(simplify(transform(substitute(f, {y: sign * size}), visit), facts).expression, size, facts)
    return None if found is None else sign * substitute(found, {size: sign * y})


def _from_speed(problem: Problem, slope: Expression, y: Name) -> Outcome | None:
    """y' = P(y), whose integral may stay written."""
    state, u, facts = state_of(problem), problem.unknowns[0], problem.facts
    if problem.stated and state is None:
        raise NotSolved("a value and a derivative at one place are needed to choose among the solutions")
    stated = [Equation(value_at(u, state.place, 0), state.value)] if state else []
    rate = Rate(problem._replace(stated=stated), slope, y)
    if slope is ZERO:
        return None if problem.stated else Outcome([Solved({u: rate.constant()})], (rate.constant(),), "at rest")
    if state and state.rate is ZERO:
        return _from_rest(rate, state)
    left = integral(factored(1 / slope), y, facts)
    if left is None and state:
        left = _on_one_side(1 / slope, y, state.value, facts)
    if left is None:
        return told(rate, as_written(factored(1 / slope), y, facts), problem.variable, "energy")
    found = from_level(rate, left, problem.variable, "energy")
    if not state or any(s.relation is not None for s in found.found):
        return found
    kept = [k for s in found.found if (k := accepted(problem, s.values[u], s.conditions)) is not None]
    return found._replace(found=kept) if kept else None


def _from_rest(rate: Rate, state: State) -> Outcome | None:
    """From rest a motion goes where the force drives it; it is told by a relation after the start, where it is not solved."""
    y, facts, problem = rate.y, rate.facts, rate.problem
    force = substitute(expand(differentiate(expand(rate.slope**2), y) / 2), {y: state.value})
    way = 1 if facts.is_positive(force) else -1 if facts.is_negative(force) else 0
    if way != (-1 if looks_negative(rate.slope) else 1):
        return None
    left = integral(factored(1 / rate.slope), y, facts)
    if left is None:
        left = _on_one_side(1 / rate.slope, y, state.value, facts)
    if left is None:
        left = as_written(factored(1 / rate.slope), y, facts, state.value)
    else:
        with contextlib.suppress(DomainError):
            found = from_level(rate, left, problem.variable, "energy, from rest")
            if all(s.relation is None for s in found.found):
                return found
        left -= substitute(left, {y: state.value})
    sides = [side for side in (relation("<", ZERO, y), relation("<", y, ZERO)) if facts.holds(substitute(side, {y: state.value}))]
    whole = simplify(left, facts.with_facts(sides)).expression
    told_by = Equation(substitute(whole, {y: rate.unknown}), problem.variable - state.place)
    after = [relation("<=", state.place, problem.variable), *(substitute(side, {y: rate.unknown}) for side in sides)]
    lost = (f"before {problem.variable} = {state.place} the motion is the same backwards",)
    return Outcome([Solved({}, tuple(after), told_by)], (), "energy, from rest", lost)
