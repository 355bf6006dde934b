"""The statements of calculus: limits, series, sums, transforms, integrals by hand, fields, matrices."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.results import Result
from gelvo.derivation.statement_parts import Handler, answered, body, from_answer, put_in, reads, refuse
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import to_expression
from gelvo.expression.nodes import Expression
from gelvo.expression.traversal import substitute
from gelvo.matrices.matrix import Matrix
from gelvo.operations import by_hand, series, transforms, vectors
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _inside(derivation: State, parts: Clauses, text: str) -> Expression:
    value = put_in(derivation, derivation.expression(body(text)), parts)
    assert isinstance(value, Expression)
    return value


def _limit(derivation: State, parts: Clauses, line: Line) -> Result:
    """limit E as x -> 0 from above"""
    refuse(parts, "as", "from", "with", "given")
    match = re.fullmatch(r"(\w+)\s*->\s*(.+)", parts.get("as") or "")
    if not match:
        raise reads(line, "limit E as x -> 0  (from above, from below)")
    side = parts.get("from")
    if side not in (None, "above", "below"):
        raise FormulaError(
            f"a limit is taken from above or from below, not from {side}", line.text, max(line.text.find(side or ""), 0)
        )
    given = derivation.given(parts.get("given"), line.text)
    value = put_in(derivation, derivation.entries(parts.head), parts)
    x, point = derivation.read(match.group(1)), derivation.end(match.group(1), match.group(2))
    return answered(value, lambda e: series.limit(e, x, point, side, given), line)


def _series(derivation: State, parts: Clauses, line: Line) -> Result:
    """series E about x = 0 through power 5"""
    refuse(parts, "with", "given")
    match = re.fullmatch(r"(.*)\sabout\s+(\w+)\s*=\s*(.+?)(?:\s+through\s+power\s+(\S+))?", parts.head, re.S)
    if not match:
        raise reads(line, "series E about x = 0 through power 5")
    e = _inside(derivation, parts, match.group(1))
    point = derivation.end(match.group(2), match.group(3))
    found = series.series(
        e,
        derivation.read(match.group(2)),
        point,
        derivation.expression(match.group(4) or "5"),
        derivation.given(parts.get("given"), line.text),
    )
    result = from_answer(found, line)
    if found.next_power is not None:
        result.details.append(f"what is left out begins with the power {to_expression(found.next_power)} of {found.local}")
    return result


def _collected(work: Callable[..., Any]) -> Handler:
    """sum 1/n^2 for n from 1 to inf"""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "for", "from", "to", "with", "given")
        index, lower, upper = (parts.get(w) for w in ("for", "from", "to"))
        if index is None or lower is None or upper is None:
            raise reads(line, "sum 1/n^2 for n from 1 to inf")
        ends = [put_in(derivation, derivation.expression(e), parts) for e in (lower, upper)]
        given = derivation.given(parts.get("given"), line.text)
        return from_answer(work(_inside(derivation, parts, parts.head), derivation.read(index), *ends, given=given), line)

    return handler


def _transform(work: Callable[..., Any], conventions: bool = False) -> Handler:
    """laplace transform of E from t to s;  fourier transform of E from t to w as unitary"""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "from", "to", "with", "given", *(["as"] if conventions else []))
        old, new = parts.get("from"), parts.get("to")
        if old is None or new is None:
            raise reads(line, "laplace transform of E from t to s")
        options = {"convention": parts.get("as")} if parts.get("as") else {}
        given = derivation.given(parts.get("given"), line.text)
        e = _inside(derivation, parts, re.sub(r"^transform\s", "", parts.head))
        result = from_answer(work(e, derivation.read(old), derivation.read(new), given=given, **options), line)
        if conventions:
            result.details.append(result.road.rsplit("; ", 1)[-1])
        return result

    return handler


def _by_parts(derivation: State, parts: Clauses, line: Line) -> Result:
    """by parts integral_of(f, x) differentiating ln(x)"""
    refuse(parts, "with", "given")
    match = re.fullmatch(r"(.*)\sdifferentiating\s+(.*)", parts.head, re.S)
    if not match:
        raise reads(line, "by parts integral_of(f, x) differentiating ln(x)")
    given = derivation.given(parts.get("given"), line.text)
    return from_answer(
        by_hand.by_parts(_inside(derivation, parts, match.group(1)), derivation.expression(match.group(2)), given), line
    )


def _change_variable(derivation: State, parts: Clauses, line: Line) -> Result:
    """change variable u = x^2 in integral_of(f, x)"""
    refuse(parts, "with", "given")
    match = re.fullmatch(r"(.*?)\sin\s(.*)", parts.head, re.S)
    if not match:
        raise reads(line, "change variable u = x^2 in integral_of(f, x)")
    given = derivation.given(parts.get("given"), line.text)
    rule = derivation.read(match.group(1))
    return from_answer(by_hand.change_variable(_inside(derivation, parts, match.group(2)), rule, given), line)


def _carry_out(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "with", "given")
    given = derivation.given(parts.get("given"), line.text)
    return from_answer(by_hand.carry_out(_inside(derivation, parts, parts.head), given), line)


def _field(work: Callable[..., Any], several: bool) -> Handler:
    """gradient of E by x, y;  curl of P, Q, R by x, y, z"""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "by", "with")
        by = parts.get("by")
        if by is None:
            raise reads(line, "gradient of E by x, y")
        variables = [derivation.read(v) for v in split_commas(by)]
        texts = split_commas(body(parts.head)) if several else [body(parts.head)]
        values = [_inside(derivation, parts, t) for t in texts]
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


# --- matrices -----------------------------------------------------------------------------------------------------------------


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


STATEMENTS: dict[str, Handler] = {
    "limit": _limit,
    "series": _series,
    "sum": _collected(series.add_up),
    "add up": _collected(series.add_up),
    "product": _collected(series.multiply_up),
    "multiply up": _collected(series.multiply_up),
    "laplace transform": _transform(transforms.laplace),
    "inverse laplace transform": _transform(transforms.inverse_laplace),
    "fourier transform": _transform(transforms.fourier, True),
    "inverse fourier transform": _transform(transforms.inverse_fourier, True),
    "by parts": _by_parts,
    "change variable": _change_variable,
    "carry out": _carry_out,
    "difference quotient": _difference_quotient,
    "gradient": _field(vectors.gradient, False),
    "hessian": _field(vectors.hessian, False),
    "laplacian": _field(vectors.laplacian, False),
    "jacobian": _field(vectors.jacobian, True),
    "divergence": _field(vectors.divergence, True),
    "curl": _field(vectors.curl, True),
    "determinant": _of_matrix("determinant"),
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
