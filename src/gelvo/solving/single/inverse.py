"""The unknown in one place: one function undone after the other."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Power, Product, Sum
from gelvo.expression.traversal import contains, names, postorder, transform
from gelvo.facts.conditions import nonzero
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.functions.named import LN, is_a
from gelvo.normal.rules.waves import angle_of_number
from gelvo.normal.undoing import undone
from gelvo.polynomial import sparse
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root
from gelvo.solving.single.over_complex import complex_inverse
from gelvo.solving.single.polynomial import quadratic
from gelvo.solving.single.powers import power_step
from gelvo.solving.single.work import Work


def by_generator(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """A polynomial in one function of the unknown, such as exp(x) in exp(2*x) - 3*exp(x) + 2."""
    form = Form([g])
    active = [
        (key, index)
        for key, index in form.generators.items()
        if contains(key[0], solver.unknown) or contains(key[1], solver.unknown)
    ]
    if len(active) != 1:
        return None
    (_base, _unit), index = active[0]
    generator = form.generator_power(index, 1)
    top = form.of(g).top
    if generator is solver.unknown or (sparse.degree(top, index) < 2 and generator is not g and _occurs_once(solver, g)):
        return None
    if generator is g:
        return None
    u = solver.facts.new_name("u", g, *solver.taken)
    table = {k: form.expression(p) for k, p in sparse.by_powers(top, index).items()}
    roots = solver.inner(total([c * u**k for k, c in table.items()]), u, depth, generator)
    result: list[Root] = []
    for root in roots:
        if root.value is solver.unknown:
            result.append(root)
            continue
        pieces = _undo(solver, generator, root.value, depth)
        if pieces is None:
            return None
        for piece in pieces:
            result.append(Root(piece.value, (*root.conditions, *piece.conditions), root.families + piece.families))
    return result


def _occurs_once(solver: Work, g: Expression) -> bool:
    return _occurrences(g, solver.unknown) == 1


def isolate(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    joined = transform(g, _with_one_base)
    return _undo(solver, joined, ZERO, depth) if _occurs_once(solver, joined) else None


def _undo(solver: Work, g: Expression, value: Expression, depth: int) -> list[Root] | None:
    """The roots of g = value where the unknown occurs once in g; each turn takes the outermost operation off."""
    pending: list[tuple[Expression, Root]] = [(g, Root(value))]
    result: list[Root] = []
    turns = 0
    while pending:
        turns += 1
        if turns > 200:
            raise NotSolved("the equation branches too often")
        inner, root = pending.pop()
        if inner is solver.unknown:
            value = expand(root.value) if root.families else simplify(root.value, solver.facts).expression
            result.append(Root(value, root.conditions, root.families))
            continue
        coefficients = uni.coefficients_of(inner - root.value, solver.unknown)
        if coefficients is not None and len(coefficients) == 3:
            for piece in quadratic(solver, *coefficients):
                result.append(Root(piece.value, root.conditions + piece.conditions, root.families))
            continue
        steps = _one_step(solver, inner, root.value, depth)
        if steps is None:
            return None
        for next_inner, step in reversed(steps):
            reached = transform(step.value, lambda n: _undone(solver, n))
            pending.append((next_inner, Root(reached, root.conditions + step.conditions, root.families + step.families)))
    return result


def _undone(solver: Work, node: Node) -> Node:
    left = undone(node, solver.facts) if isinstance(node, Call) else None
    return node if left is None else left


def _one_step(solver: Work, g: Expression, value: Expression, depth: int) -> list[tuple[Expression, Root]] | None:
    x = solver.unknown
    if isinstance(g, Sum):
        inside = [multiply_all((t, number(c))) for t, c in g.items() if contains(t, x)]
        rest = total([g, *[-t for t in inside]])
        if len(inside) != 1:
            return None
        return [(inside[0], Root(value - rest))]
    if isinstance(g, Product):
        inside = [f for f in g.factors if contains(f, x)]
        rest = multiply_all([number(g.coefficient), *[f for f in g.factors if not contains(f, x)]])
        if len(inside) != 1:
            return None
        solver.need(nonzero(rest))
        return [(inside[0], Root(value / rest))]
    if isinstance(g, Power):
        return power_step(solver, g, value, depth)
    if isinstance(g, Call):
        return _call_step(solver, g, value)
    return None


def _call_step(solver: Work, g: Call, value: Expression) -> list[tuple[Expression, Root]] | None:
    if len(g.arguments) != 1 or g.function.solve_for is None:
        return None
    if not solver.real and not is_a(g, LN):
        return _complex_step(solver, g, value)
    family = () if g.function.period is None else (solver.free_integer(g, value),)
    solver.roads[f"inverse of {g.name}"] = None
    try:
        undone = g.function.solve_for(value, *(family or (ZERO,)))
    except DomainError:  # a value that the function does not take, such as exp(u) = 0
        return []
    found: dict[Expression, Root] = {}
    for place, conditions in undone:
        states = [solver.condition(c) for c in conditions]
        if None not in states:
            place = transform(place, lambda e: (angle_of_number(e) if isinstance(e, Call) else None) or e)
            found.setdefault(place, Root(place, tuple(c for state in states for c in state or ()), family))
    return [(g.arguments[0], root) for root in found.values()]


def _complex_step(solver: Work, g: Call, value: Expression) -> list[tuple[Expression, Root]]:
    steps = complex_inverse(solver, g, value)
    if steps is None:
        raise NotSolved(f"{g.name} cannot be undone over the complex numbers here")
    return steps


def _with_one_base(node: Node) -> Node:
    """2^x*5^x as 10^x: the normal form takes the bases of powers apart."""
    if not isinstance(node, Product):
        return node
    bases: dict[Expression, mpq] = {}
    rest: list[Expression] = [number(node.coefficient)]
    for factor in node.factors:
        moving = isinstance(factor, Power) and names(factor.exponent) and factor.base.is_rational and factor.base.rational > 0
        if isinstance(factor, Power) and moving:
            bases[factor.exponent] = bases.get(factor.exponent, mpq(1)) * factor.base.rational
        else:
            rest.append(factor)
    return multiply_all([*rest, *(power(number(base), k) for k, base in bases.items())])


def _occurrences(root: Expression, x: Name) -> int:
    count: dict[object, int] = {}
    for node in postorder(root):
        count[node] = 1 if node is x else sum(count[c] for c in node.children)
    return count[root]
