"""The structural order: the same on every run, thread and history, and kept by every order-preserving renaming.

Two nodes are compared by a short text of their top, by their depth, then along the first children that differ: since equal children are
identical, that is a single path down, however much is shared.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import cmp_to_key
from operator import itemgetter
from typing import Any, TypeVar

from gelvo.deadline import checkpoint
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Constant,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Truth,
    Written,
)
from gelvo.numbers.exact import parts

N = TypeVar("N", bound=Node)
_BREAK = "\x01"
SHOWN_FACTORS = 4


def hint(node: Node) -> str:
    """A short text that decides most comparisons at once."""
    if isinstance(node, Name):
        return "2" + node.name
    if isinstance(node, Power):
        base = node.base
        return "4" + (base.name if isinstance(base, Name) else chr(48 + base.rank)) + _BREAK
    if isinstance(node, Product):
        return hint_of_product([hint(f) for f in node.factors[:SHOWN_FACTORS] if not isinstance(f, Product)])
    if isinstance(node, Call):
        first = node.arguments[0] if node.arguments else None
        return "7" + node.function.name + _BREAK + (first.name if isinstance(first, Name) else "")
    if isinstance(node, AlgebraicNumber):
        return "1polynomial_root" + _BREAK
    if isinstance(node, (Applied, Constant)):
        return chr(48 + node.rank) + node.name + _BREAK
    return chr(48 + node.rank)


def hint_of_product(factors: Sequence[str]) -> str:
    """From the hints of its first factors."""
    return "5" + _BREAK.join(factors)


# what a node says of itself beside its children; comparable within one class
OWN: dict[type[Node], Callable[[Any], Any]] = {
    Number: lambda n: parts(n.value),
    Product: lambda n: (len(n.factors), parts(n.coefficient)),
    Sum: lambda n: (len(n.terms), parts(n.constant), tuple(parts(c) for c in n.coefficients)),
    Power: lambda n: 0,
    Name: lambda n: (n.name, n.domain),
    Call: lambda n: (n.name, len(n.arguments)),
    Applied: lambda n: (n.name, n.orders),
    Written: lambda n: (n.kind, len(n.arguments)),
    Bound: lambda n: n.kind,
    Constant: lambda n: n.name,
    AlgebraicNumber: lambda n: (len(n.coefficients), n.coefficients, n.index),
    Relation: lambda n: n.operator,
    Junction: lambda n: (n.word, len(n.parts)),
    Cases: lambda n: len(n.values),
    Truth: lambda n: n.holds,
}


def compare(a: Node, b: Node) -> int:
    """-1, 0 or 1; 0 only for the same node."""
    while a is not b:
        first, second = hint(a), hint(b)
        if first != second:
            return -1 if first < second else 1
        if a.rank != b.rank:
            return -1 if a.rank < b.rank else 1
        if a.depth != b.depth:
            return -1 if a.depth < b.depth else 1
        left, right = a.children, b.children
        if len(left) != len(right):
            return -1 if len(left) < len(right) else 1
        for x, y in zip(left, right, strict=True):
            if x is not y:
                a, b = x, y
                break
        else:
            mine, theirs = OWN[type(a)](a), OWN[type(b)](b)
            return -1 if mine < theirs else 1
    return 0


_full = cmp_to_key(compare)
_HINT_AND_DEPTH = itemgetter(0, 1)


def ordered(nodes: Iterable[N]) -> list[N]:
    """Nodes in structural order."""
    keyed: list[tuple[str, int, N]] = []
    for node in nodes:
        if not len(keyed) & 255:
            checkpoint()
        keyed.append((hint(node), node.depth, node))
    keyed.sort(key=_HINT_AND_DEPTH)
    result = [node for _, _, node in keyed]
    start = 0
    for stop in range(1, len(keyed) + 1):
        if stop == len(keyed) or _HINT_AND_DEPTH(keyed[stop]) != _HINT_AND_DEPTH(keyed[start]):
            if stop - start > 1:
                result[start:stop] = sorted(result[start:stop], key=_full)
            start = stop
    return result
