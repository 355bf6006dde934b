"""Roots of any degree: squares under them taken out, a root as the new unknown, and elimination by the norm."""

from __future__ import annotations

from collections.abc import Callable
from math import lcm

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, relation, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored
from gelvo.functions.named import ABS, CBRT, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root
from gelvo.solving.single.pieces import under
from gelvo.solving.single.work import Work

HIGHEST = 6


def radicals(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """An equation with roots of the unknown: by the first way that applies."""
    for way in (_squares_taken_out, _root_as_unknown, _by_norm):
        found = way(solver, g, depth)
        if found is not None:
            return found
    return None


def _squares_taken_out(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """sqrt((x + 1)^2) as abs(x + 1), which has pieces."""
    if not solver.real:
        return None
    plain = transform(g, _taking_out(solver.unknown, solver.facts))
    return None if plain is g else solver.solve(plain, depth + 1)


def _without_square(node: Node, x: Name, facts: Facts) -> Node:
    if not (isinstance(node, Power) and _is_half(node.exponent) and contains(node, x)):
        return node
    inside = factored(node.base)
    outside: list[Expression] = []
    left: list[Expression] = []
    for factor in factors_in(inside):
        base, k = base_and_exponent(factor)
        even = k.is_whole and k.rational % 2 == 0 and contains(base, x)
        (outside if even else left).append(power(ABS(base), k / 2) if even else factor)
    if not outside:
        return node
    rest = multiply_all([inside / multiply_all(factors_in(inside)), *left])
    if contains(rest, x) or not facts.is_nonnegative(rest):
        return node
    return power(multiply_all([sqrt(rest), *outside]), number(2 * node.exponent.rational))


def _is_half(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_rational and k.rational.denominator == 2


def _root_as_unknown(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """x + 2*sqrt(x - 1) by s = sqrt(x - 1): where other radicands become squares."""
    x = solver.unknown
    if not solver.real:
        return None
    for node in postorder(g):
        if not (isinstance(node, Power) and node.exponent.is_rational and node.exponent.rational == mpq(1, 2)):
            continue
        line = uni.linear_parts(node.base, x)
        if line is None:
            continue
        s = solver.facts.new_name("s", g, *solver.taken)
        place = (s**2 - line[1]) / line[0]
        inside = substitute(substitute(g, {node: s}), {x: place})
        plain = transform(inside, _taking_out(s, solver.facts))
        if plain is inside:
            continue
        solver.roads[f"{s} = {node}"] = None
        result: list[Root] = []
        for root in solver.inner(plain, s, depth, node):
            inside_range = () if root.value is x else solver.condition(relation("<=", ZERO, root.value))
            if inside_range is not None:
                value = x if root.value is x else expand(substitute(place, {s: root.value}))
                result.append(root._replace(value=value, conditions=(*root.conditions, *inside_range)))
        return result
    return None


def _taking_out(x: Name, facts: Facts) -> Callable[[Node], Node]:
    return lambda node: _without_square(node, x, facts)


def _by_norm(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """The outermost root s with s^k = q: the product of the equation over all k-th roots; candidates are put back."""
    roots = [n for n in postorder(g) if contains(n, solver.unknown) and _degree(n) > 1]
    if not roots:
        return None
    base = _radicand(roots[-1])
    same = [n for n in roots if _radicand(n) is base]
    k = lcm(*map(_degree, same))
    if k > HIGHEST:
        return None
    s = solver.facts.new_name("s", g, *solver.taken)
    table = {n: power(s, number(k * (n.exponent.rational if isinstance(n, Power) else mpq(1, 3)))) for n in same}
    replaced = substitute(g, table)
    form = Form([replaced])
    top = form.expression(form.lowest_terms(form.of(replaced))[0])
    coefficients = uni.coefficients_of(top, s)
    if coefficients is None:
        return None
    columns = [total([c * base ** (j // k) for j, c in enumerate(coefficients) if j % k == r]) for r in range(k)]
    solver.squared = True
    if k == 2 and solver.real and not contains(columns[1], solver.unknown):  # a + b*s = 0 where a^2 = b^2*q and s = -a/b >= 0
        solver.roads["squaring, where both sides have one sign"] = None
        return _of_one_sign(solver, solver.solve(_norm(columns, base), depth + 1), factored(-columns[0] / columns[1]))
    solver.implied = True
    solver.roads["squaring, candidates put back" if k == 2 else "powers of both sides, candidates put back"] = None
    return solver.solve(_norm(columns, base), depth + 1)


def _of_one_sign(solver: Work, candidates: list[Root], root_there: Expression) -> list[Root]:
    """The candidates at which a formula for a square root is not negative, or may not be."""
    found: list[Root] = []
    for root in candidates:
        if root.value is solver.unknown:
            found += under(solver, [root], [relation("<=", ZERO, root_there)])
            continue
        try:
            facts = solver.facts.with_facts([c for c in root.conditions if names(c)])
            value = simplify(substitute(root_there, {solver.unknown: root.value}), facts).expression
        except DomainError:
            continue
        inside = solver.condition(relation("<=", ZERO, value))
        if inside is None and not names(value):  # put back, so that it is told why it is none
            solver.implied = True
            found.append(root)
        elif inside is not None:
            found.append(root._replace(conditions=(*root.conditions, *inside)))
    return found


def _degree(node: Node) -> int:
    if isinstance(node, Power) and node.exponent.is_rational:
        return int(node.exponent.rational.denominator)
    return 3 if is_a(node, CBRT) else 1


def _radicand(node: Node) -> Expression:
    assert isinstance(node, (Power, Call))
    return node.base if isinstance(node, Power) else node.arguments[0]


def _norm(columns: list[Expression], q: Expression) -> Expression:
    """The determinant of multiplication by c_0 + c_1*s + … modulo s^k = q."""
    k = len(columns)
    rows = [[columns[(i - j) % k] * (ONE if i >= j else q) for j in range(k)] for i in range(k)]
    return _determinant(rows)


def _determinant(rows: list[list[Expression]]) -> Expression:
    """By the first column, for few rows."""
    if len(rows) == 1:
        return rows[0][0]
    terms = []
    for i, row in enumerate(rows):
        if row[0] is not ZERO:
            minor = [other[1:] for j, other in enumerate(rows) if j != i]
            terms.append(expand((-1) ** i * row[0] * _determinant(minor)))
    return total(terms)
