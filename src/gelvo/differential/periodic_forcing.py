"""Linear equations with constant coefficients under a forcing that repeats in sections: square waves, saw teeth, rectified waves.

Within one period the equation is solved from any state; the state that comes back after one period is that of the periodic response.
Where none comes back (resonance) the response from rest is summed over the periods. All else is a solution without forcing.
"""

from __future__ import annotations

from itertools import islice
from typing import NamedTuple

from gelvo.calculus.sums.finite import finite
from gelvo.differential.constant_coefficients import Linear, constant_coefficients, linear_terms
from gelvo.differential.problem import (
    Outcome,
    Problem,
    Solved,
    derivative_in_period,
    derivative_of,
    early_derivative,
    order_of,
    value_at,
)
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, relation, total
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Condition, Expression, Name, Node, Power, Relation
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.periods import period_of_steps, within_period
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import coefficients_of, linear_parts, lowest_terms
from gelvo.functions.named import COS, COSH, EXP, FLOOR, HEAVISIDE, SIN, SINH, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

MOST_PERIODS = 6  # of the steps, until the waves beside them repeat too

SMOOTH = (SIN, COS, EXP, SINH, COSH, HEAVISIDE)


class Forcing(NamedTuple):
    """smooth: what is no matter of steps; within: the rest at the place u of its period, of this length."""

    smooth: Expression
    within: Expression
    length: Expression
    u: Name


class Response(NamedTuple):
    """A response to the forcing at the place u of the n-th period, when it is the one, and whether it repeats."""

    value: Expression
    conditions: tuple[Condition, ...]
    repeats: bool


def periodically_forced(problem: Problem) -> Outcome | None:
    """The solutions; None where the equation is of another kind."""
    u = problem.unknowns[0]
    if len(problem.unknowns) != 1 or len(problem.equations) != 1 or not order_of(problem, u):
        return None
    parts = linear_terms(problem, True)
    forcing = None if parts is None else _parted(parts[0].right, problem)
    if parts is None or forcing is None:
        return None
    try:
        return _forced(problem, parts[0], forcing)
    except NotSolved:  # no formula within one period
        return None


def _forced(problem: Problem, linear: Linear, forcing: Forcing) -> Outcome | None:
    u, t = problem.unknowns[0], problem.variable
    n = problem.facts.new_name("n", *problem.formulas, domain="integer")
    found: list[Solved] = []
    constants: tuple[Name, ...] = ()
    road = ""
    for response in _responses(problem, linear, forcing, n):
        turn = FLOOR(t / forcing.length)
        known = problem.facts.with_facts([c for c in response.conditions if names(c)])
        value = substitute(response.value, _whole_turns(response.value, forcing, t))
        whole = substitute(value, {forcing.u: t - forcing.length * turn, n: turn})
        bare = problem._replace(equations=[problem.equations[0] + linear.right - forcing.smooth], facts=known)
        free = constant_coefficients(bare._replace(stated=_shifted(problem, response.value, forcing, n)))
        if free is None:
            return None
        constants = free.constants
        kind = "periodic response" if response.repeats else "response from rest, summed over the periods (resonance)"
        road = f"{kind}; {free.road}"
        found += [Solved({u: s.values[u] + whole}, (*response.conditions, *s.conditions)) for s in free.found]
    return Outcome(found, constants, road) if found else None


def _whole_turns(value: Expression, forcing: Forcing, t: Name) -> dict[Node, Expression]:
    """Waves that have turned as a whole after every period, with the variable itself."""
    table: dict[Node, Expression] = {}
    for node in postorder(value):
        if not isinstance(node, Call) or not is_a(node, SIN, COS):
            continue
        line = linear_parts(expand(node.arguments[0]), forcing.u)
        if line is not None and lowest_terms(line[0] * forcing.length / (2 * PI)).is_whole:
            table[node] = substitute(node, {forcing.u: t})
    return table


def _parted(right: Expression, problem: Problem) -> Forcing | None:
    """The forcing in two parts, where one of them repeats."""
    t, facts = problem.variable, problem.facts
    terms = terms_of(expand(right))
    stepping = [e for e in terms if period_of_steps(e, t, facts) is not None]
    length = period_of_steps(total(stepping), t, facts) if stepping else None
    if length is None:
        return None
    rest = total([e for e in terms if e not in stepping])
    u, n = facts.new_name("u", *problem.formulas), facts.new_name("n", *problem.formulas, domain="integer")
    for times in range(1, MOST_PERIODS + 1):
        span = times * length
        told = within_period(total(stepping), t, span, u, n, facts)
        if told is None:
            continue
        inside = facts.with_facts([DomainFact(n, "integer"), relation("<", ZERO, u), relation("<", u, span)])
        if not _is_smooth(told, u):
            return None
        growing = coefficients_of(expand(simplify(expand(told), inside).expression), n)
        if growing is None or len(growing) > 2 or any(contains(c, n) for c in growing):
            continue
        rate = growing[1] / span if len(growing) == 2 else ZERO
        if contains(rate, u) or any(contains(rate, x) for x in (t, n)):
            continue
        return Forcing(rest + rate * t, expand(growing[0] - rate * u), span, u)
    return None


def _is_smooth(told: Expression, u: Name) -> bool:
    """Whether a formula has values at all places, between its steps with all derivatives."""
    for node in postorder(told):
        if contains(node, u) and isinstance(node, Call) and not is_a(node, *SMOOTH):
            return False
        if isinstance(node, Power) and contains(node.base, u) and not (node.exponent.is_whole and node.exponent.rational > 0):
            return False
    return True


def _responses(problem: Problem, linear: Linear, forcing: Forcing, n: Name) -> list[Response]:
    """One response for each case of the letters."""
    u, order = problem.unknowns[0], order_of(problem, problem.unknowns[0])
    v = applied(problem.facts.new_name(f"{u.name}_u", *problem.formulas).name, (forcing.u,), (0,))
    state = list(islice(problem.facts.new_names(f"{u.name}_start", *problem.formulas), order))
    equation = total([c * derivative_of(v, k) for (_, k), c in linear.table.items()]) - forcing.within
    start = [Equation(value_at(v, ZERO, k), a) for k, a in enumerate(state)]
    found = constant_coefficients(Problem([equation], [v], forcing.u, start, problem.facts))
    return [_response(problem, s, v, state, forcing, n) for s in found.found] if found is not None else []


def _response(problem: Problem, s: Solved, v: Applied, state: list[Name], forcing: Forcing, n: Name) -> Response:
    facts = problem.facts.with_facts([c for c in s.conditions if names(c)])
    value = s.values[v]
    ends = [early_derivative(value, forcing.u, forcing.length, k, facts) for k in range(len(state))]
    ends = [simplify(e, facts).expression for e in ends]
    table = linear_rows([e - a for e, a in zip(ends, state, strict=True)], state)
    try:
        solved = solve_linear(table, state, facts) if table is not None else None
        if solved is not None and solved.found and not any(a in names(x) for x in solved.found[0].values.values() for a in state):
            back = {a: simplify(x, facts).expression for a, x in solved.found[0].values.items()}
            gaps = [simplify(c.left - c.right, facts).expression for c in solved.conditions if isinstance(c, Relation)]
            needed = facts.open_conditions([nonzero(g) for g in gaps])
            return Response(simplify(substitute(value, back), facts).expression, (*s.conditions, *needed), True)
    except DomainError:
        pass
    return Response(_summed(value, ends, state, forcing, n, facts), s.conditions, False)


def _summed(value: Expression, ends: list[Expression], state: list[Name], forcing: Forcing, n: Name, facts: Facts) -> Expression:
    """The response from rest in the n-th period: each earlier one has left its end state, which has moved on freely since."""
    at_rest: dict[Node, Expression] = dict.fromkeys(state, ZERO)
    left = [substitute(e, at_rest) for e in ends]
    free = [differentiate(value, a) for a in state]
    k = facts.new_name("k", value, domain="integer")
    known = facts.with_facts([DomainFact(n, "integer"), DomainFact(k, "integer")])
    now: dict[Node, Expression] = {}
    for i, a in enumerate(state):
        moved = [e * differentiate(f, forcing.u, i) for e, f in zip(left, free, strict=True)]
        term = simplify(substitute(total(moved), {forcing.u: k * forcing.length}), known).expression
        summed = finite(term, k, ZERO, n - 1, known)
        if summed is None:
            raise NotSolved("the response to the periodic forcing was not summed")
        now[a] = summed.value
    return simplify(substitute(value, now), facts.with_facts([DomainFact(n, "integer")])).expression


def _shifted(problem: Problem, response: Expression, forcing: Forcing, n: Name) -> list[Equation]:
    """The stated values without what the response has there."""
    known = {u.name for u in problem.unknowns}
    shifted: list[Equation] = []
    for e in problem.stated:
        own: dict[Expression, Expression] = {}
        for node in postorder(e.left - e.right):
            if isinstance(node, Applied) and node.name in known:
                place, order = node.arguments[0], sum(node.orders)
                own[node] = derivative_in_period(response, forcing.u, n, forcing.length, place, order, problem.facts)
        if set(own) == {e.left}:  # a plain value, which the transform takes as it is
            shifted.append(Equation(e.left, e.right - own[e.left]))
        else:
            table: dict[Node, Expression] = {node: node + value for node, value in own.items()}
            shifted.append(Equation(substitute(e.left, table), substitute(e.right, table)))
    return shifted
