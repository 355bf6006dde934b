"""Formulas as plain data: a straight-line list of nodes, for pickling and for JSON; loading goes through the builder."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, NamedTuple

from gmpy2 import mpq

from gelvo.errors import FormulaError
from gelvo.expression import building
from gelvo.expression.known import DOMAINS
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Constant,
    Expression,
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
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import postorder
from gelvo.numbers.exact import Scalar, gaussian, parts

Row = tuple[Any, ...]  # plain data, which whoever builds a node of it makes sure of


def _scalar(value: Scalar) -> str:
    real, imag = parts(value)
    return f"{real}" if not imag else f"{real};{imag}"


def _read_scalar(text: str) -> Scalar:
    real, _, imag = str(text).partition(";")
    return gaussian(mpq(real), mpq(imag or 0))


class Kind(NamedTuple):
    """How one kind of node is stored: its word, then `own` values, then its children; and how it is built again.

    size: how many own values there are; build: from a row's own values and its children, which are of the kind `parts`.
    """

    word: str
    size: int
    own: Callable[[Any], Row]
    build: Callable[[Row, list[Any]], Node]
    parts: type[Node] = Expression


def _one_of(word: str, *words: str) -> str:
    return {w: w for w in words}[word]


def _name(own: Row, inner: list[Expression]) -> Node:
    if own[1] not in DOMAINS or not str(own[0]).isidentifier():
        raise ValueError(f"{list(own)} is not a name with a domain")
    return building.name(str(own[0]), own[1])


def _sum(own: Row, inner: list[Expression]) -> Node:
    terms = [building.scale(n, _read_scalar(c)) for n, c in zip(inner, own[1], strict=True)]
    return building.total([building.number(_read_scalar(own[0])), *terms])


def _cases(own: Row, inner: list[Node]) -> Node:
    values = [n for n in inner[: own[0]] if isinstance(n, Expression)]
    conditions = [n for n in inner[own[0] :] if isinstance(n, Condition)]
    if [*values, *conditions] != inner:
        raise ValueError("cases are formulas, then conditions")
    return building.cases(list(zip(values[:-1], conditions, strict=True)), values[-1])


KINDS: dict[type[Node], Kind] = {
    Number: Kind("number", 1, lambda n: (_scalar(n.value),), lambda own, _: building.number(_read_scalar(own[0]))),
    Name: Kind("name", 2, lambda n: (n.name, n.domain), _name),
    Constant: Kind("constant", 1, lambda n: (n.name,), lambda own, _: building.constant(_one_of(own[0], *building.CONSTANTS))),
    AlgebraicNumber: Kind(
        "root", 2, lambda n: (tuple(str(c) for c in n.coefficients), n.index),
        lambda own, _: Hooks.polynomial_root(tuple(int(c) for c in own[0]), int(own[1])),
    ),
    Bound: Kind("bound", 1, lambda n: (n.kind,), lambda own, _: building.bound(_one_of(own[0], "inf", "-inf", "undefined"))),
    Truth: Kind("truth", 1, lambda n: (n.holds,), lambda own, _: building.truth(bool(own[0]))),
    Sum: Kind("sum", 2, lambda n: (_scalar(n.constant), tuple(_scalar(c) for c in n.coefficients)), _sum),
    Product: Kind(
        "product", 1, lambda n: (_scalar(n.coefficient),),
        lambda own, inner: building.multiply_all([building.number(_read_scalar(own[0])), *inner]),
    ),
    Power: Kind("power", 0, lambda n: (), lambda own, inner: building.power(*inner)),
    Call: Kind("call", 1, lambda n: (n.name,), lambda own, inner: building.call(str(own[0]), *inner)),
    Applied: Kind(
        "applied", 2, lambda n: (n.name, n.orders),
        lambda own, inner: building.applied(str(own[0]), inner, tuple(int(k) for k in own[1])),
    ),
    Written: Kind("written", 1, lambda n: (n.kind,), lambda own, inner: building.written(own[0], *inner)),
    Relation: Kind(
        "relation", 1, lambda n: (n.operator,),
        lambda own, inner: building.relation(_one_of(own[0], "=", "!=", "<", "<="), *inner),
    ),
    Junction: Kind("junction", 1, lambda n: (n.word,), lambda own, inner: building.junction(_one_of(own[0], "and", "or"), inner), Condition),
    Cases: Kind("cases", 1, lambda n: (len(n.values),), _cases, Node),
}  # fmt: skip
_BY_WORD = {kind.word: kind for kind in KINDS.values()}


def store(root: Node) -> tuple[Row, ...]:
    """The distinct nodes in order, each as a row of plain values; children are row numbers."""
    place: dict[Node, int] = {}
    rows: list[Row] = []
    for node in postorder(root):
        kind = KINDS[type(node)]
        row = (kind.word, *kind.own(node), *[place[c] for c in node.children])
        place[node] = len(rows)
        rows.append(row)
    return tuple(rows)


def load(rows: Iterable[Row]) -> Node:
    """The formula stored in rows; anything malformed is a FormulaError."""
    nodes: list[Node] = []
    try:
        for row in rows:
            nodes.append(_node(row, nodes))
        return nodes[-1]
    except (LookupError, TypeError, ValueError, ZeroDivisionError) as fault:
        raise FormulaError(f"the stored formula is damaged at row {len(nodes)}: {fault}") from None


def _node(row: Row, nodes: list[Node]) -> Node:
    word, *rest = row
    if word not in _BY_WORD:
        raise ValueError(f"unknown kind of row {word!r}")
    kind = _BY_WORD[word]
    own, places = tuple(rest[: kind.size]), rest[kind.size :]
    if len(own) < kind.size or not all(type(i) is int and 0 <= i < len(nodes) for i in places):
        raise ValueError(f"a row {word!r} does not point to rows before it")
    inner = [nodes[i] for i in places]
    if not all(isinstance(n, kind.parts) for n in inner):
        raise ValueError(f"a row {word!r} has parts of another kind")
    return kind.build(own, inner)
