"""The statements of fields and matrices."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.results import Result
from gelvo.derivation.statements.parts import Handler, body, formula_in, reads, refuse
from gelvo.errors import DomainError
from gelvo.expression.traversal import substitute
from gelvo.matrices.matrix import Matrix
from gelvo.operations import vectors
from gelvo.physics import tensors
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _field(work: Callable[..., Any], several: bool) -> Handler:
    """gradient of E by x, y;  curl of P, Q, R by x, y, z"""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "by", "with")
        by = parts.get("by")
        if by is None:
            raise reads(line, "gradient of E by x, y")
        variables = [derivation.read(v) for v in split_commas(by)]
        texts = split_commas(body(parts.head)) if several else [body(parts.head)]
        values = [formula_in(derivation, parts, t) for t in texts]
        return Result("step", line.text, line.number, [("", work(values if several else values[0], variables))])

    return handler


def _difference_quotient(derivation: State, parts: Clauses, line: Line) -> Result:
    """difference quotient of E by x with step h"""
    match = re.fullmatch(r"(.*)\sby\s+(\w+)\s+step\s+(\w+)", f"{parts.head} by {parts.get('by') or ''}".strip(), re.S)
    if not match:
        raise reads(line, "difference quotient of E by x step h")
    e = derivation.expression(body(match.group(1)))
    value = vectors.difference_quotient(e, derivation.read(match.group(2)), derivation.read(match.group(3)))
    return Result("step", line.text, line.number, [("", value)])


def _matrix(derivation: State, parts: Clauses, line: Line) -> Matrix:
    value = derivation.read(body(parts.head))
    if not isinstance(value, Matrix):
        raise DomainError(f"`{body(parts.head)}` is not a matrix: write [1, 2; 3, 4]")
    table = derivation.values(parts.get("with"))
    return value.map(lambda e: substitute(e, table)) if table else value


def _of_matrix(method: str, variable: bool = False) -> Handler:
    """determinant of A;  exponential of A by t"""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "with", "given", *(["by"] if variable else []))
        m = _matrix(derivation, parts, line)
        extra = [derivation.read(parts.get("by") or "")] if variable and parts.get("by") else []
        takes_facts = method not in ("determinant", "trace", "transpose", "conjugate_transpose", "characteristic_polynomial")
        options = {"given": derivation.given(parts.get("given"), line.text)} if takes_facts else {}
        value = getattr(m, method)(*extra, **options)
        conditions = getattr(value, "conditions", ())
        return Result("step", line.text, line.number, _shown(method, value), conditions=conditions)

    return handler


def _shown(method: str, value: Any) -> list[tuple[str, Any]]:
    if method == "eigenvalues":
        return [("eigenvalue" if times == 1 else f"eigenvalue ({times} times)", v) for v, times in value.items()]
    if method == "eigenvectors":
        rows: list[tuple[str, Any]] = []
        for v, vectors_of in value:
            rows += [("eigenvalue", v), *[("its vector", w) for w in vectors_of]]
        return rows
    if method == "null_space":
        return [("spanned by", v) for v in value] or [("only the zero vector", 0)]
    return [("", value)]


def _invariants(derivation: State, parts: Clauses, line: Line) -> Result:
    """invariants of A"""
    refuse(parts, "with")
    tensor = _matrix(derivation, parts, line)
    found = list(tensors.invariants(tensor)._asdict().items())[: tensor.shape[0]]  # in the plane the second is the determinant
    return Result("step", line.text, line.number, [(f"{which} invariant", value) for which, value in found])


STATEMENTS: dict[str, Handler] = {
    "difference quotient": _difference_quotient,
    "gradient": _field(vectors.gradient, False),
    "hessian": _field(vectors.hessian, False),
    "laplacian": _field(vectors.laplacian, False),
    "jacobian": _field(vectors.jacobian, True),
    "divergence": _field(vectors.divergence, True),
    "curl": _field(vectors.curl, True),
    "determinant": _of_matrix("determinant"),
    "invariants": _invariants,
    "inverse": _of_matrix("inverse"),
    "transpose": _of_matrix("transpose"),
    "conjugate transpose": _of_matrix("conjugate_transpose"),
    "trace": _of_matrix("trace"),
    "rank": _of_matrix("rank"),
    "null space": _of_matrix("null_space"),
    "reduced form": _of_matrix("reduced"),
    "eigenvalues": _of_matrix("eigenvalues"),
    "eigenvectors": _of_matrix("eigenvectors"),
    "exponential": _of_matrix("exponential", variable=True),
    "characteristic polynomial": _of_matrix("characteristic_polynomial", variable=True),
}
