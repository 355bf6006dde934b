"""Formulas as plain data: a straight-line list of nodes, for pickling and for JSON; loading goes through the builder."""

from __future__ import annotations

from typing import Any

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
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import postorder
from gelvo.numbers.exact import Scalar, gaussian, parts

Row = tuple[Any, ...]


def _scalar(value: Scalar) -> str:
    real, imag = parts(value)
    return f"{real}" if not imag else f"{real};{imag}"


def _read_scalar(text: str) -> Scalar:
    real, _, imag = str(text).partition(";")
    return gaussian(mpq(real), mpq(imag or 0))


def store(root: Node) -> tuple[Row, ...]:
    """The distinct nodes in order, each as a row of plain values; children are row numbers."""
    place: dict[Node, int] = {}
    rows: list[Row] = []
    for node in postorder(root):
        inner = [place[c] for c in node.children]
        place[node] = len(rows)
        rows.append(_row(node, inner))
    return tuple(rows)


def _row(node: Node, inner: list[int]) -> Row:
    if isinstance(node, Number):
        return ("number", _scalar(node.value))
    if isinstance(node, Name):
        return ("name", node.name, node.domain)
    if isinstance(node, Constant):
        return ("constant", node.name)
    if isinstance(node, AlgebraicNumber):
        return ("root", tuple(str(c) for c in node.coefficients), node.index)
    if isinstance(node, Bound):
        return ("bound", node.kind)
    if isinstance(node, Truth):
        return ("truth", node.holds)
    if isinstance(node, Sum):
        return ("sum", _scalar(node.constant), tuple(_scalar(c) for c in node.coefficients), *inner)
    if isinstance(node, Product):
        return ("product", _scalar(node.coefficient), *inner)
    if isinstance(node, Power):
        return ("power", *inner)
    if isinstance(node, Call):
        return ("call", node.function.name, *inner)
    if isinstance(node, Applied):
        return ("applied", node.name, node.orders, *inner)
    if isinstance(node, Written):
        return ("written", node.kind, *inner)
    if isinstance(node, Relation):
        return ("relation", node.operator, *inner)
    if isinstance(node, Junction):
        return ("junction", node.word, *inner)
    assert isinstance(node, Cases)
    return ("cases", len(node.values), *inner)


def load(rows: Any) -> Any:
    """The formula stored in rows; anything malformed is a FormulaError."""
    nodes: list[Any] = []
    try:
        for row in rows:
            nodes.append(_node(row, nodes))
        return nodes[-1]
    except (LookupError, TypeError, ValueError, ZeroDivisionError) as fault:
        raise FormulaError(f"the stored formula is damaged at row {len(nodes)}: {fault}") from None


def _node(row: Any, nodes: list[Any]) -> Any:
    kind, rest = row[0], row[1:]

    def inner(indices: Any) -> list[Any]:
        if any(not isinstance(i, int) or not 0 <= i < len(nodes) for i in indices):
            raise LookupError("a row refers to a row that is not before it")
        return [nodes[i] for i in indices]

    if kind == "number":
        return building.number(_read_scalar(rest[0]))
    if kind == "name":
        if rest[1] not in DOMAINS or not str(rest[0]).isidentifier():
            raise ValueError(f"{rest} is not a name with a domain")
        return building.name(str(rest[0]), rest[1])
    if kind == "constant":
        return building.constant({c: c for c in building.CONSTANTS}[rest[0]])
    if kind == "root":
        return Hooks.polynomial_root(tuple(int(c) for c in rest[0]), int(rest[1]))
    if kind == "bound":
        return building.bound({k: k for k in ("inf", "-inf", "undefined")}[rest[0]])
    if kind == "truth":
        return building.truth(bool(rest[0]))
    if kind == "sum":
        terms = [building.scale(n, _read_scalar(c)) for n, c in zip(inner(rest[2:]), rest[1], strict=True)]
        return building.total([building.number(_read_scalar(rest[0])), *terms])
    if kind == "product":
        return building.multiply_all([building.number(_read_scalar(rest[0])), *inner(rest[1:])])
    if kind == "power":
        base, exponent = inner(rest)
        return building.power(base, exponent)
    if kind == "call":
        return building.call(str(rest[0]), *inner(rest[1:]))
    if kind == "applied":
        return building.applied(str(rest[0]), inner(rest[2:]), tuple(int(k) for k in rest[1]))
    if kind == "written":
        return building.written(rest[0], *inner(rest[1:]))
    if kind == "relation":
        left, right = inner(rest[1:])
        return building.relation({o: o for o in ("=", "!=", "<", "<=")}[rest[0]], left, right)
    if kind == "junction":
        return building.junction({"and": "and", "or": "or"}[rest[0]], inner(rest[1:]))
    if kind == "cases":
        children = inner(rest[1:])
        values, conditions = children[: rest[0]], children[rest[0] :]
        return building.cases(list(zip(values[:-1], conditions, strict=True)), values[-1])
    raise ValueError(f"unknown kind of row {kind!r}")
