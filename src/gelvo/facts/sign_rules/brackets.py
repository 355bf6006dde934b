"""What is known of root_of(f, x, a, b): it lies strictly between its ends."""

from __future__ import annotations

from gelvo.expression import known as bits
from gelvo.expression.nodes import Bound, Expression, Sum, Written
from gelvo.expression.traversal import free_names, substitute
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.sign_rules.numbers import sign_of_number
from gelvo.numbers.exact import Gaussian


def of_written(facts: Knowledge, node: Written) -> int:
    """The sign of such a root from its ends; nothing of other written forms."""
    if node.kind != "root_of":
        return node.known
    if not free_names(node):
        return node.known & sign_of_number(node)
    low, high = node.arguments[2:]
    if not isinstance(low, Bound) and bits.is_nonnegative(facts.known(low)):
        return node.known & bits.POSITIVE
    if not isinstance(high, Bound) and bits.is_nonpositive(facts.known(high)):
        return node.known & bits.NEGATIVE
    return node.known


def inside_brackets(facts: Knowledge, expression: Sum) -> int:
    """The sign of k*r + rest for such a root r, where it is the same with both ends for r."""
    roots = [t for t in expression.terms if isinstance(t, Written) and t.kind == "root_of"]
    share = dict(expression.items())[roots[0]] if len(roots) == 1 else None
    if share is None or isinstance(share, Gaussian):
        return bits.ANY
    root = roots[0]
    ends: list[Expression] = list(root.arguments[2:] if share > 0 else reversed(root.arguments[2:]))
    if not isinstance(ends[0], Bound) and bits.is_nonnegative(facts.known(substitute(expression, {root: ends[0]}))):
        return bits.POSITIVE
    if not isinstance(ends[1], Bound) and bits.is_nonpositive(facts.known(substitute(expression, {root: ends[1]}))):
        return bits.NEGATIVE
    return bits.ANY
