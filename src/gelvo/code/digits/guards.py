"""Pairs of numbers only where a sum cancels: the plain form elsewhere, and a test that costs little."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice
from typing import NamedTuple

from gelvo.code.careful import takes_pairs
from gelvo.code.digits.exactness import is_exact
from gelvo.code.digits.numeric import CAREFUL, careful, is_numeric
from gelvo.expression.building import call, number, scale, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Call, Expression, Name, Node, Sum
from gelvo.expression.traversal import postorder, substitute_plain
from gelvo.numbers.exact import real

MOST_GUARDS, MOST_ALONE = 6, 4
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
        guard = _guard(node) if isinstance(node, Expression) and not any(map(_is_dear, postorder(node))) else None
        if guard is not None:
            yield guard
            count += 1
            if count == MOST_GUARDS:
                return


def _is_dear(node: Node) -> bool:
    """Whether a part is on pairs throughout."""
    return is_numeric(node, CAREFUL) and not takes_pairs(node.children[0])


def _guard(node: Expression) -> Guard | None:
    if isinstance(node, Sum):
        sizes = [scale(call("abs", t), abs(real(c))) for t, c in node.items()]
        return Guard(call("abs", node), total([*sizes, number(abs(real(node.constant)))]))
    if isinstance(node, Call) and node.name in THROUGH_ZERO and not isinstance(node.arguments[0], Name):
        return Guard(call("abs", node), ONE)
    return None


def careful_forms(e: Expression) -> Iterator[Expression]:
    """Functions and powers with their arguments on pairs, all of them and each alone; all of a formula, or some of its sums."""
    felt = [n for n in postorder(e) if takes_pairs(n) and not all(map(is_exact, n.children))]
    if felt:
        yield _with_pairs(e, felt)
    for node in felt if 1 < len(felt) <= MOST_ALONE else ():
        yield _with_pairs(e, [node])
    yield careful(e)
    plain = [n for n in postorder(e) if isinstance(n, Sum) and n is not e and all(map(is_exact, n.terms))]
    if len(plain) > 1:  # sums of what has no rounding yet: their own is all that others feel
        yield _with_pairs(e, plain)
    for node in islice((n for n in reversed(postorder(e)) if isinstance(n, Sum) and n is not e), MOST_GUARDS):
        yield substitute_plain(e, {node: careful(node)})


def _with_pairs(e: Expression, felt: Sequence[Node]) -> Expression:
    """A formula with some functions on pairs: the outer ones, where one stands inside another."""
    inside = {part for n in felt for child in n.children for part in postorder(child)}
    return substitute_plain(e, {n: careful(n) for n in felt if n not in inside and isinstance(n, Expression)})
