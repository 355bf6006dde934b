"""Powers of two taken out of the inputs: f(s*x, s*y) = s^k*f(x, y) keeps parts from overflowing, and is exact.

The weights are found as those of dimensions are: every sum has terms of one weight, every function takes weight 0
(P. W. Bridgman, "Dimensional Analysis", 1922).
"""

from __future__ import annotations

import functools
from collections.abc import Iterator, Mapping

from gmpy2 import mpq

from gelvo.code.digits.numeric import CAREFUL, GROUPED, HYPOT, binade, grouped
from gelvo.expression.building import call, multiply_all, number, power
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import free_names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.matrices.echelon import null_space
from gelvo.matrices.matrix import Matrix
from gelvo.numbers.exact import real

Weight = dict[Name, mpq]  # a linear form in the weights of the names
SAME_WEIGHT = ("abs", "min", "max")  # functions with f(s*x, s*y) = s*f(x, y) for positive s


class _Mixed(Exception):
    """A part that has no weight."""


def scaled(e: Expression) -> Iterator[Expression]:
    """The formula with each group of inputs of one weight divided by the power of two next to its largest."""
    try:
        whole, conditions = _weights(e)
    except _Mixed:
        return
    groups = list(_groups(free_names(e), conditions))
    if not groups:
        return
    table: dict[Name, Expression] = {}
    outside: list[Expression] = []
    for group in groups:
        # an input of negative weight may be 0, so that its inverse is no size
        sizes = [power(call("abs", n), number(1 / w)) for n, w in group.items() if w > 0]
        unit = binade(call("max", *sizes) if len(sizes) > 1 else sizes[0])
        for n, w in group.items():
            table[n] = grouped(multiply_all([table.get(n, n), power(unit, number(-w))]))
        outside.append(power(unit, number(sum((whole.get(n, mpq(0)) * w for n, w in group.items()), mpq(0)))))
    yield multiply_all([substitute(e, table), *outside])


def _weights(e: Expression) -> tuple[Weight, list[Weight]]:
    """(the weight of a formula, the forms that have to vanish)."""
    found: dict[Node, Weight] = {}
    conditions: list[Weight] = []
    for node in postorder(e):
        if not isinstance(node, Expression):
            raise _Mixed
        found[node] = _weight(node, found, conditions)
    return found[e], [c for c in conditions if c]


def _weight(node: Expression, found: Mapping[Node, Weight], conditions: list[Weight]) -> Weight:
    if isinstance(node, Name):
        return {node: mpq(1)}
    if isinstance(node, Sum):
        terms = [found[t] for t in node.terms] + [Weight()] * bool(node.constant)
        conditions += [_minus(t, terms[0]) for t in terms[1:]]
        return terms[0]
    if isinstance(node, Product):
        return functools.reduce(lambda w, f: _plus(w, found[f], mpq(1)), node.factors, Weight())
    if isinstance(node, Power):
        if isinstance(node.exponent, Number) and node.exponent.is_rational:
            return _plus({}, found[node.base], node.exponent.rational)
        conditions += [found[node.base], found[node.exponent]]
        return {}
    if isinstance(node, Call):
        return _weight_of_call(node, [found[a] for a in node.arguments], conditions)
    if node.children:
        raise _Mixed
    return {}


def _weight_of_call(node: Call, inside: list[Weight], conditions: list[Weight]) -> Weight:
    if node.function in (GROUPED, CAREFUL, HYPOT) or node.name in (*SAME_WEIGHT, "atan2"):
        conditions += [_minus(w, inside[0]) for w in inside[1:]]
        return {} if node.name == "atan2" else inside[0]
    conditions += inside
    return {}


def _plus(one: Weight, other: Weight, factor: mpq) -> Weight:
    total = dict(one)
    for n, w in other.items():
        total[n] = total.get(n, mpq(0)) + factor * w
    return {n: w for n, w in total.items() if w}


def _minus(one: Weight, other: Weight) -> Weight:
    return _plus(one, other, mpq(-1))


def _groups(inputs: list[Name], conditions: list[Weight]) -> Iterator[Weight]:
    """The weights that satisfy all conditions, as groups of at least two inputs."""
    rows = Matrix([[number(c.get(n, mpq(0))) for n in inputs] for c in conditions or [Weight()]])
    for column in null_space(rows, Facts())[0]:
        group = {n: real(w.value) for n, (w,) in zip(inputs, column.entries, strict=True) if isinstance(w, Number) and w.value}
        if all(w.denominator == 1 for w in group.values()) and len(group) > 1:
            yield group if any(w > 0 for w in group.values()) else {n: -w for n, w in group.items()}
