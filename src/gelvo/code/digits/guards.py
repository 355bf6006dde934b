"""Pairs of numbers only where a sum cancels: the plain form elsewhere, and a test that costs little."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from gelvo.code.digits.numeric import CAREFUL, careful, is_numeric
from gelvo.expression.building import call, number, scale, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Call, Expression, Name, Sum
from gelvo.expression.traversal import postorder, substitute_plain
from gelvo.numbers.exact import real

MOST_GUARDS = 6
THROUGH_ZERO = ("sin", "cos", "ln")  # functions that pass through zero at places which are no doubles


class Guard(NamedTuple):
    """A sum that may cancel: its size, and the sum of the sizes of its terms, whose quotient is small where it does."""

    size: Expression
    terms: Expression

    @property
    def quantity(self) -> Expression:
        return self.size / self.terms


def guards(e: Expression) -> Iterator[Guard]:
    """One guard for each sum, and for each function that passes through zero, of something that is worked out."""
    count = 0
    for node in reversed(postorder(e)):
        guard = (
            _guard(node) if isinstance(node, Expression) and not any(is_numeric(n, CAREFUL) for n in postorder(node)) else None
        )
        if guard is not None:
            yield guard
            count += 1
            if count == MOST_GUARDS:
                return


def _guard(node: Expression) -> Guard | None:
    if isinstance(node, Sum):
        sizes = [scale(call("abs", t), abs(real(c))) for t, c in node.items()]
        return Guard(call("abs", node), total([*sizes, number(abs(real(node.constant)))]))
    if isinstance(node, Call) and node.name in THROUGH_ZERO and not isinstance(node.arguments[0], Name):
        return Guard(call("abs", node), ONE)
    return None


def careful_forms(e: Expression) -> Iterator[Expression]:
    """The exponents of a formula on pairs, all of it, or one of its sums."""
    powers = [n for n in postorder(e) if isinstance(n, Call) and n.name == "exp" and n.arguments[0].children]
    if powers:
        yield substitute_plain(e, {n: careful(n) for n in powers})
    yield careful(e)
    for node in reversed(postorder(e)):
        if isinstance(node, Sum) and node is not e:
            yield substitute_plain(e, {node: careful(node)})
