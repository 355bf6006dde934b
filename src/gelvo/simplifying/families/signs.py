"""Absolute values and signs: products of absolute values joined, what lies inside made short again."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.nodes import Expression, Node, Number, Product
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import has_call, transform
from gelvo.facts.store import Facts
from gelvo.functions.named import ABS, is_a
from gelvo.simplifying.family import Shorter


def sign_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """abs(a)*abs(b) -> abs(a*b), with the product inside simplified."""
    if has_call(expression, (ABS,)):
        yield "absolute values joined", transform(expression, lambda n: _joined(n, facts, shorter))


def _joined(node: Node, facts: Facts, shorter: Shorter) -> Node:
    if not isinstance(node, Product):
        return node
    inside: list[Expression] = []
    rest: list[Expression] = [number(node.coefficient)]
    for factor in node.factors:
        base, k = base_and_exponent(factor)
        if is_a(base, ABS) and isinstance(k, Number) and k.is_whole:
            inside.append(power(base.arguments[0], k))
        else:
            rest.append(factor)
    if len(inside) < 2:
        return node
    return multiply_all([*rest, ABS(shorter(multiply_all(inside), facts))])
