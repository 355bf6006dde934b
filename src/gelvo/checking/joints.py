"""Solutions in sections: the residual between steps, within any one period, and what happens at the joints."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import TypeGuard

from gelvo.checking.certificate import UNDECIDED, Certificate
from gelvo.checking.claims import from_decision, is_impulse
from gelvo.checking.putting_in import substitute_functions
from gelvo.deciding.equality import decide_zero
from gelvo.differential.problem import derivative_in_period, early_derivative
from gelvo.errors import DomainError
from gelvo.expression.building import applied, number, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Expression, Name, Node
from gelvo.expression.traversal import fresh_name, has_call, postorder, substitute
from gelvo.facts.periods import period_of_steps, within_period
from gelvo.facts.statements import DomainFact
from gelvo.facts.steps import as_steps, in_order
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import CEIL, FLOOR, HEAVISIDE, is_a
from gelvo.simplifying.search import simplify


def by_steps(equation: Equation, where: Mapping[Expression, Expression], facts: Facts) -> Equation:
    """The equation with sections and steps backwards of the variable told by steps forwards."""
    t = next((k.arguments[0] for k in where if isinstance(k, Applied)), None)
    if not isinstance(t, Name):
        return equation
    return Equation(as_steps(equation.left, t, facts), as_steps(equation.right, t, facts), equation.conditions)


def pieces(equation: Equation, where: Mapping[Expression, Expression], facts: Facts) -> tuple[Certificate, ...] | None:
    """A solution with steps: the residual between the steps, and the continuity of all derivatives below the highest order."""
    steps = [n for e in (equation.left, equation.right, *where.values()) for n in postorder(e) if is_step(n) or is_impulse(n)]
    function = next((k for k in where if isinstance(k, Applied)), None)
    if not steps or function is None or not isinstance(function.arguments[0], Name):
        return None
    t = function.arguments[0]
    places: dict[Node, Expression] = {}
    for step in dict.fromkeys(steps):
        parts = linear_parts(step.arguments[0], t)
        even = is_impulse(step)  # an impulse is the same from both sides
        if parts is None or not (parts[0] is ONE or (even and parts[0] is -ONE)):
            return (Certificate(str(equation), UNDECIDED, f"the place of {step} is not read"),)
        places[step] = -parts[1] / parts[0]
    return _piece_by_piece(equation, where, t, places, facts)


def period_by_period(equation: Equation, where: Mapping[Expression, Expression], facts: Facts) -> tuple[Certificate, ...] | None:
    """Where floors and signs of waves come again and again: the residual at the place u of the n-th period, and the joint to the next."""
    functions = [k for k in where if isinstance(k, Applied)]
    if len(functions) != 1 or len(where) != 1 or not isinstance(functions[0].arguments[0], Name):
        return None
    (f,), t = functions, functions[0].arguments[0]
    residual = equation.left - equation.right
    forcing = total(_without_function(residual, f))
    length = period_of_steps(forcing, t, facts, where[f])
    if length is None or (period_of_steps(forcing, t, facts) is None and not has_call(where[f], (FLOOR, CEIL))):
        return None  # abs(cos(t)) in a solution alone stands where it breaks
    try:
        return _in_any_period(equation, f, where[f], length, facts)
    except DomainError:  # it has no value at the joint
        return None


def _in_any_period(
    equation: Equation, f: Applied, formula: Expression, length: Expression, facts: Facts
) -> tuple[Certificate, ...]:
    """The equation and the formula at the place u of the n-th period."""
    residual = equation.left - equation.right
    (t,) = f.arguments
    assert isinstance(t, Name)
    u, n = (facts.new_name(word, residual, formula, domain=domain) for word, domain in (("u", "real"), ("n", "integer")))
    g = applied(facts.new_name(f"{f.name}_u", residual).name, (u,), (0,))
    inside = facts.without(t).with_facts([DomainFact(n, "integer"), relation("<", ZERO, u), relation("<", u, length)])
    own = [k for k in dict.fromkeys(postorder(residual)) if isinstance(k, Applied) and k.name == f.name]
    marks = {k: fresh_name(f"mark_{sum(k.orders)}", residual) for k in own}
    told = [within_period(e, t, length, u, n, facts) for e in (substitute(residual, marks), formula)]
    if told[0] is None or told[1] is None:
        return (Certificate(str(equation), UNDECIDED, "the steps within one period are not told"),)
    value = simplify(told[1], inside).expression
    moved = Equation(substitute(told[0], {mark: applied(g.name, (u,), k.orders) for k, mark in marks.items()}), ZERO)
    parts = pieces(moved, {g: value}, inside)
    if parts is None:
        inner = substitute_functions(moved.left, {g: value})
        parts = (from_decision(f"{equation} within one period", decide_zero(inner, inside), "the residual at any place in it"),)
    return (*parts, *_next_period(value, g, u, n, length, max(sum(k.orders) for k in own), inside))


def _next_period(
    value: Expression, g: Expression, u: Name, n: Name, length: Expression, order: int, facts: Facts
) -> Iterator[Certificate]:
    """From one period to the next the derivatives below the highest order do not jump."""
    free = facts.without(u)
    following = substitute(value, {n: n + 1})
    for j in range(order):
        ends = early_derivative(value, u, length, j, free), early_derivative(following, u, ZERO, j, free)
        claim = f"derivative {j} of {g} does not jump from one period to the next"
        yield from_decision(claim, decide_zero(ends[1] - ends[0], free), "both sides at the joint")


def _piece_by_piece(
    equation: Equation, where: Mapping[Expression, Expression], t: Name, places: dict[Node, Expression], facts: Facts
) -> tuple[Certificate, ...] | None:
    """The residual between the places of the steps, and what happens at each."""
    steps = set(places)
    past = {s: p for s, p in places.items() if facts.holds(relation("<", p, t))}
    places = {s: p for s, p in places.items() if s not in past}
    done = {s: number(1 if is_step(s) else 0) for s in past}
    where = {u: substitute(v, done) for u, v in where.items()}
    residual = substitute(equation.left - equation.right, done)
    if any(is_impulse(n) and n in steps for v in where.values() for n in postorder(v)):
        return (Certificate(str(equation), UNDECIDED, "an impulse in the solution itself"),)
    listed = in_order(list(dict.fromkeys(places.values())), facts)
    if listed is None:
        return None
    found: list[Certificate] = []
    sides: list[dict[Expression, Expression]] = []
    for k in range(len(listed) + 1):
        table = {s: number(1 if is_step(s) and listed.index(p) < k else 0) for s, p in places.items()}
        sides.append({u: substitute(v, table) for u, v in where.items()})
        inside = substitute_functions(substitute(residual, table), sides[-1])
        ends = [*(relation("<", p, t) for p in listed[k - 1 : k] if k), *(relation("<", t, p) for p in listed[k : k + 1])]
        decided = decide_zero(inside, facts.with_facts(ends))
        found.append(from_decision(f"piece {k + 1} of {equation}", decided, "the residual on one piece"))
    for k, place in enumerate(listed):
        impulses = [s for s, p in places.items() if is_impulse(s) and p is place]
        found.extend(_at_step(residual, (sides[k], sides[k + 1]), t, place, impulses, facts))
    return tuple(found)


def _at_step(
    residual: Expression, sides: tuple[Mapping[Expression, Expression], Mapping[Expression, Expression]], t: Name,
    place: Expression, impulses: Sequence[Expression], facts: Facts,
) -> Iterator[Certificate]:  # fmt: skip
    """At a step the derivatives below the highest order do not jump, and the highest ones jump as the impulses there say."""
    before, after = sides
    pushes = total([_coefficient_of(residual, impulse) for impulse in impulses])
    for u in before:
        highest = [n for n in postorder(residual) if isinstance(n, Applied) and n.name == getattr(u, "name", "")]
        order = max((sum(n.orders) for n in highest), default=0)
        for j in range(order):
            jump = substitute(differentiate(after[u] - before[u], t, j), {t: place})
            weight = _coefficient_of(residual, max(highest, key=lambda n: sum(n.orders)))
            if j == order - 1 and not any(isinstance(n, Applied) for n in postorder(weight)):
                pushes = pushes + jump * weight
                continue
            claim = f"derivative {j} of {u} does not jump at {t} = {place}"
            yield from_decision(claim, decide_zero(jump, facts), "both sides at the step")
    claim = f"the highest derivatives jump at {t} = {place} as the impulses say"
    yield from_decision(claim, decide_zero(substitute(pushes, {t: place}), facts), "both sides at the step")


def _coefficient_of(expression: Expression, part: Expression) -> Expression:
    """The coefficient of a part that stands linearly."""
    mark = fresh_name("part", expression)
    return differentiate(substitute(expression, {part: mark}), mark)


def _without_function(residual: Expression, f: Applied) -> list[Expression]:
    """The terms in which an unknown function does not stand: the forcing."""
    return [e for e in terms_of(expand(residual)) if not any(isinstance(n, Applied) and n.name == f.name for n in postorder(e))]


def state_in_period(stated: Equation, where: Mapping[Expression, Expression], facts: Facts) -> Expression | None:
    """What must vanish for a stated value of a solution with floors: the formula in its period, just before the place."""
    functions = [k for k in where if isinstance(k, Applied)]
    if len(functions) != 1 or not isinstance(functions[0].arguments[0], Name):
        return None
    (f,), t = functions, functions[0].arguments[0]
    length = period_of_steps(where[f], t, facts)
    if length is None:
        return None
    u, n = (facts.new_name(word, stated.left, where[f], domain=domain) for word, domain in (("u", "real"), ("n", "integer")))
    told = within_period(where[f], t, length, u, n, facts)
    if told is None:
        return None
    table: dict[Node, Expression] = {}
    for node in postorder(stated.left - stated.right):
        if isinstance(node, Applied) and node.name == f.name:
            table[node] = derivative_in_period(told, u, n, length, node.arguments[0], sum(node.orders), facts)
    return substitute(stated.left - stated.right, table)


def is_step(node: object) -> TypeGuard[Call]:
    return is_a(node, HEAVISIDE)
