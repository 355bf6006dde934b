"""Gamma functions: factorials of whole numbers, products of two whose arguments add up to one."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression.building import multiply_all, number
from gelvo.expression.constants import ONE, PI
from gelvo.expression.nodes import Expression, Node, Product
from gelvo.expression.traversal import has_call, transform
from gelvo.facts.store import Facts
from gelvo.forms.measure import measure
from gelvo.functions.named import FACTORIAL, GAMMA, SIN, is_a
from gelvo.simplifying.family import Shorter


def gamma_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """gamma(n + 1) -> factorial(n) for a whole n, gamma(x)*gamma(1 - x) -> pi/sin(pi*x)."""
    if not has_call(expression, (GAMMA,)):
        return
    yield "factorials of whole numbers", transform(expression, lambda n: _factorial(n, facts))
    yield "gamma functions of x and 1 - x", transform(expression, _reflected)


def _factorial(node: Node, facts: Facts) -> Node:
    if is_a(node, GAMMA) and facts.is_integer(node.arguments[0]):
        return FACTORIAL(node.arguments[0] - 1)
    return node


def _reflected(node: Node) -> Node:
    """The reflection formula (Euler); both sides have no value exactly where x is whole."""
    if not isinstance(node, Product):
        return node
    left = list(node.factors)
    for one in sorted(node.factors, key=measure):  # sin(pi*x) rather than sin(pi*(1 - x))
        if is_a(one, GAMMA):
            other = GAMMA(ONE - one.arguments[0])
            if other in left and one in left and other is not one:
                left.remove(one)
                left.remove(other)
                left.append(PI / SIN(PI * one.arguments[0]))
    return multiply_all([number(node.coefficient), *left])
