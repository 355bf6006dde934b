"""Error functions: what is left of 1 by its own function, whose digits do not cancel far out."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression.building import number, scale, total
from gelvo.expression.nodes import Expression, Node, Sum
from gelvo.expression.traversal import has_call, transform
from gelvo.facts.store import Facts
from gelvo.functions.named import ERF, ERFC, is_a
from gelvo.simplifying.family import Shorter


def error_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """1 - erf(x)  ->  erfc(x)"""
    if has_call(expression, (ERF,)):
        yield "complements of error functions", transform(expression, _complement)


def _complement(node: Node) -> Node:
    """c - c*erf(x) in a sum as c*erfc(x), for the first term that has the constant's number with the other sign."""
    if not isinstance(node, Sum) or not node.constant:
        return node
    for term, coefficient in node.items():
        if is_a(term, ERF) and coefficient == -node.constant:
            rest = [scale(t, c) for t, c in node.items() if t is not term]
            return total([number(node.constant) * ERFC(*term.arguments), *rest])
    return node
