"""Equations of which the order can be lowered: without the function itself, the same for every multiple of it, the same in every scale.

Source: E. Ince, "Ordinary Differential Equations" (1926), sections 2.6 and 4.5; P. Olver, "Applications of Lie Groups to Differential
Equations" (1986), section 2.5, for the scales.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Mapping

from gelvo.deciding.equality import is_zero
from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.first_order.rate import accepted, both_ways, distinct, growth, integral
from gelvo.differential.problem import (
    Outcome,
    Problem,
    Solved,
    State,
    constants_in,
    derivative_of,
    imposed,
    state_of,
    value_at,
    with_values,
)
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, multiply_all, power, relation
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import EXP, LN, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

Solve = Callable[[Problem], Outcome]


def without_function(problem: Problem, solve: Solve) -> Outcome | None:
    """y'' = F(t, y'): an equation for the lowest derivative in it, which is integrated then; solve: what solves that equation."""
    u, t = problem.unknowns[0], problem.variable
    orders = _orders(problem)
    least = min(orders, default=0)
    if len(problem.equations) != 1 or not 0 < least < max(orders):
        return None
    v = applied(problem.facts.new_name(f"{u.name}_rate", *problem.formulas).name, (t,), (0,))
    table = {derivative_of(u, k): derivative_of(v, k - least) for k in orders}
    above = [e for e in problem.stated if isinstance(e.left, Applied) and sum(e.left.orders) >= least]
    started = [Equation(value_at(v, e.left.arguments[0], sum(e.left.orders) - least), e.right) for e in above]  # type: ignore[attr-defined]
    inner = _solved(solve, Problem([substitute(problem.equations[0], table)], [v], t, started, problem.facts))
    if inner is None:
        return None
    problem = problem._replace(stated=[e for e in problem.stated if e not in above])
    constants = inner.constants
    slopes = both_ways([s.values[v] for s in inner.found])
    found = [Solved({u: slope}, s.conditions) for slope, s in zip(slopes, inner.found, strict=True)]
    for c in _further_constants(problem, constants, least):
        wholes = [(s, _integrated(s.values[u], t, constants, problem.facts)) for s in found]
        if not all(parts for _, parts in wholes):
            return None
        found = [Solved({u: whole + c}, (*own, *s.conditions)) for s, parts in wholes for whole, own in parts]
        constants = (*constants, c)
    name = "the derivative" if least == 1 else f"the derivative of order {least}"
    return _with_stated(problem, inner._replace(found=found, constants=constants, road=f"solved for {name}; {inner.road}"))


def _orders(problem: Problem) -> set[int]:
    (u,) = problem.unknowns[:1]
    return {sum(n.orders) for e in problem.equations for n in postorder(e) if isinstance(n, Applied) and n.name == u.name}


def _solved(solve: Solve, problem: Problem) -> Outcome | None:
    """What is found by formulas, or None."""
    try:
        found = solve(problem)
    except (NotSolved, DomainError):
        return None
    return None if any(s.relation is not None for s in found.found) else found


def _further_constants(problem: Problem, constants: tuple[Name, ...], count: int) -> tuple[Name, ...]:
    return tuple(c for c in problem.constants(len(constants) + count) if c not in constants)[:count]


def _with_stated(problem: Problem, outcome: Outcome) -> Outcome:
    return imposed(problem, outcome) if problem.stated else outcome


Part = tuple[Expression, tuple[Condition, ...]]


def _integrated(slope: Expression, t: Name, constants: tuple[Name, ...], facts: Facts) -> list[Part]:
    """The antiderivative of a slope; where it depends on the sign of a free constant, for each sign and for zero."""
    whole = integral(slope, t, facts)
    if whole is None:
        return []
    inside = constants_in(slope, constants)
    if not inside:
        return [(whole, ())]
    (c,) = inside[:1]
    found: list[Part] = []
    for side in (relation("<", ZERO, c), relation("<", c, ZERO)):
        one = integral(slope, t, facts.with_facts([side]))
        found += [(one, (side,))] if one is not None else []
    if len(found) == 2 and found[0][0] is found[1][0]:
        found = [(whole, ())]
    for place in (ZERO, PI / 2):  # where a logarithm's factor, or a tangent of the constant, has no value
        with contextlib.suppress(DomainError):
            still = simplify(substitute(slope, {c: place}), facts).expression
            try:
                substitute(whole, {c: place})
            except DomainError:
                last = integral(still, t, facts)
                found += [(last, ())] if last is not None else []
    return found


def same_for_multiples(problem: Problem, solve: Solve) -> Outcome | None:
    """Where every multiple of a solution is one, y = exp(integral of z): an equation for z of the next lower order."""
    u, t = problem.unknowns[0], problem.variable
    if len(problem.equations) != 1 or max(_orders(problem)) < 2 or linear_terms(problem, False) is not None:
        return None
    z = applied(problem.facts.new_name(f"{u.name}_z", *problem.formulas).name, (t,), (0,))
    y = problem.facts.new_name("y", *problem.formulas)
    marks: dict[Node, Expression] = {}
    share: Expression = ONE
    for k in range(max(_orders(problem)) + 1):
        marks[derivative_of(u, k)] = y * share
        share = expand(differentiate(share, t) + z * share)
    pieces = factors_in(factored(substitute(problem.equations[0], marks)))
    if any(contains(f, y) and base_and_exponent(f)[0] is not y for f in pieces):
        return None
    state = state_of(problem) if max(_orders(problem)) == 2 else None
    if state is not None and not problem.facts.is_nonzero(state.value):
        state = None
    begun = [Equation(value_at(z, state.place, 0), state.rate / state.value)] if state else []
    rest = multiply_all([f for f in pieces if not contains(f, y)])
    inner = _solved(solve, Problem([rest], [z], t, begun, problem.facts))
    if inner is None:
        return None
    road = f"the same for every multiple: an equation for {derivative_of(u, 1) / u}; {inner.road}"
    if state is not None:
        return _from_state(problem, inner, z, state, road)
    return _all_multiples(problem, inner, z, road)


def _all_multiples(problem: Problem, inner: Outcome, z: Applied, road: str) -> Outcome | None:
    """y = C*exp(integral of z)."""
    u, t = problem.unknowns[0], problem.variable
    (c,) = _further_constants(problem, inner.constants, 1)
    found: list[Solved] = []
    for s in inner.found:
        parts = _integrated(s.values[z], t, inner.constants, problem.facts)
        if not parts:
            return None
        found += [Solved({u: c * growth(whole, t, problem.facts)}, (*own, *s.conditions)) for whole, own in parts]
    constants = (*inner.constants, c)
    kept = distinct(found, constants, problem.facts)
    return _with_stated(problem, inner._replace(found=kept, constants=constants, road=road))


def _from_state(problem: Problem, inner: Outcome, z: Applied, state: State, road: str) -> Outcome | None:
    """y = y_0*exp(integral of z from the start)."""
    t, facts = problem.variable, problem.facts
    found: list[Solved] = []
    for s in inner.found:
        whole = integral(s.values[z], t, facts)
        if whole is None:
            return None
        grown = whole - substitute(whole, {t: state.place})
        value = state.value * growth(simplify(grown, facts).expression, t, facts)
        solved = accepted(problem, simplify(value, facts).expression, s.conditions)
        found += [solved] if solved is not None else []
    return inner._replace(found=found, road=road) if found else None


def same_in_scales(problem: Problem, solve: Solve) -> Outcome | None:
    """Where t -> a*t and y -> a^w*y (or y + w*ln(a)) change nothing: for t^-w*y (or y - w*ln(t)) nothing depends on s = ln(t) itself."""
    u, t, facts = problem.unknowns[0], problem.variable, problem.facts
    if len(problem.equations) != 1 or max(_orders(problem)) < 2 or linear_terms(problem, False) is not None:
        return None
    s = facts.new_name("s", *problem.formulas, *problem.unknowns)
    scaled = applied(facts.new_name(f"{u.name}_s", *problem.formulas).name, (s,), (0,))
    for grows in (True, False):
        weight = _weight(problem, grows)
        inside = None if weight is None else _in_scale(problem, scaled, weight, grows)
        if weight is None or inside is None:
            continue
        found = solve(Problem([inside], [scaled], s, [], facts))
        kept = [_unscaled(problem, one, scaled, weight, grows) for one in found.found]
        right = relation("<", ZERO, t)
        lost = (f"the solutions where {t} < 0 are left",) if any(right in one.conditions for one in kept) else ()
        road = f"the same in every scale: an equation in ln({t}) instead of {t}; {found.road}"
        if problem.stated and any(one.relation is not None for one in kept):
            return None
        return _with_stated(problem, found._replace(found=kept, road=road, lost=(*found.lost, *lost)))
    return None


def _unscaled(problem: Problem, one: Solved, scaled: Applied, weight: Expression, grows: bool) -> Solved:
    """A solution for t^-w*y in ln(t) as one for y: on the right side of 0, or wherever it is one as it stands."""
    u, t = problem.unknowns[0], problem.variable
    positive = relation("<", ZERO, t)
    right = problem.facts.with_facts([positive])
    table: dict[Node, Expression] = {scaled.arguments[0]: LN(t)}
    conditions = tuple(substitute(c, table) for c in one.conditions)
    if one.relation is not None:
        back = u / power(t, weight) if grows else u - weight * LN(t)
        left, other = (substitute(side, {scaled: back, **table}) for side in (one.relation.left, one.relation.right))
        return Solved({}, (positive, *conditions), Equation(left, other))
    value = substitute(one.values[scaled], table)
    whole = simplify(power(t, weight) * value if grows else weight * LN(t) + value, right).expression
    free = problem.facts.with_facts([c for c in conditions if names(c)])
    if not conditions and is_zero(with_values(problem.equations[0], {u: whole}, t), free):
        return Solved({u: whole})
    return Solved({u: whole}, (positive, *conditions))


def _weight(problem: Problem, grows: bool) -> Expression | None:
    """w, for which all terms change by the same factor; None where there is none."""
    u, t = problem.unknowns[0], problem.variable
    marks: dict[Node, Expression] = {
        derivative_of(u, k): problem.facts.new_name(f"y_{k}", *problem.formulas) for k in _orders(problem)
    }
    orders = {mark: sum(node.orders) for node, mark in marks.items() if isinstance(node, Applied)}
    w = problem.facts.new_name("w", *problem.formulas)
    terms = terms_of(expand(substitute(problem.equations[0], marks)))
    gains = [_gain(term, w, t, orders, grows) for term in terms]
    known = [g for g in gains if g is not None]
    if len(known) < len(gains):
        return None
    rows = [row for g in known[1:] if (row := expand(g - known[0])) is not ZERO]
    if not rows:
        return ZERO
    table = linear_rows(rows, [w])
    solved = solve_linear(table, [w], problem.facts) if table is not None else None
    if solved is None or not solved.found or solved.conditions:
        return None
    return lowest_terms(solved.found[0].values[w])


def _gain(term: Expression, w: Name, t: Name, orders: Mapping[Expression, int], grows: bool) -> Expression | None:
    """The power of a that t -> a*t gives to a term, where y has the weight w; orders: the marks of y, y', y''."""
    gain: Expression = ZERO
    y = next((mark for mark, k in orders.items() if not k), None)
    for factor in factors_in(term):
        base, k = base_and_exponent(factor)
        if base is t:
            gain += k
        elif base in orders and (grows or orders[base]):
            gain += k * ((w if grows else ZERO) - orders[base])
        elif is_a(factor, EXP) and not grows and y is not None:
            rate = differentiate(factor.arguments[0], y)
            if any(contains(part, n) for part in (rate, expand(factor.arguments[0] - rate * y)) for n in (t, *orders)):
                return None
            gain += rate * w
        elif any(contains(factor, n) for n in (t, *orders)):
            return None
    return gain if not any(contains(gain, n) for n in (t, *orders)) else None


def _in_scale(problem: Problem, scaled: Applied, weight: Expression, grows: bool) -> Expression | None:
    """The equation for t^-w*y, or for y - w*ln(t), with the variable gone."""
    u, t, facts = problem.unknowns[0], problem.variable, problem.facts
    (s,) = scaled.arguments
    assert isinstance(s, Name)
    size = facts.new_name("x", *problem.formulas, domain="positive")
    lead, share = (power(size, weight), scaled) if grows else (ONE, scaled + weight * LN(size))
    marks: dict[Node, Expression] = {}
    formulas: dict[Node, Expression] = {t: size}
    for k in range(max(_orders(problem)) + 1):
        mark = marks[derivative_of(u, k)] = facts.new_name(f"y_{k}", *problem.formulas)
        formulas[mark] = lead * share / size**k
        if grows or k:
            share = expand(differentiate(share, s) + ((weight if grows else ZERO) - k) * share)
        else:
            share = differentiate(scaled, s) + weight
    bare = substitute(problem.equations[0], marks)
    if not contains(bare, t):  # it has no variable as it is
        return None
    pieces = factors_in(factored(simplify(substitute(bare, formulas), facts).expression))
    inside = multiply_all([f for f in pieces if base_and_exponent(f)[0] is not size])
    return None if contains(inside, size) else inside
