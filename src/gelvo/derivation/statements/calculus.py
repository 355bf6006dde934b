"""The statements of calculus: derivatives, integrals, limits, series, sums, transforms, integrals by hand."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.measuring import unit_text_of
from gelvo.derivation.results import Result
from gelvo.derivation.statements.parts import Handler, answered, formula_in, from_answer, put_in, reads, refuse
from gelvo.errors import FormulaError
from gelvo.expression.building import written
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name
from gelvo.matrices.matrix import Matrix
from gelvo.operations import calculus, rewriting
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State


from collections.abc import Callable
from typing import TYPE_CHECKING

from gelvo.expression.building import to_expression
from gelvo.operations import by_hand, series, transforms

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _differentiate(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "by", "with", "given")
    by = parts.get("by")
    if by is None:
        raise FormulaError("differentiate needs a variable:  differentiate E by x", line.text, len(line.text))
    value = derivation.read(parts.head)
    variables = [derivation.read(v) for v in split_commas(by)]
    given = derivation.given(parts.get("given"), parts.head)
    if isinstance(value, Equation):
        return Result(
            "step", line.text, line.number, [("", put_in(derivation, calculus.differentiate(value, *variables), parts))]
        )
    if isinstance(value, Matrix):
        value = put_in(derivation, value, parts)
        return answered(value, lambda e: calculus.differentiate(e, *variables, given=given, steps=True), line)
    answer = calculus.differentiate(value, *variables, given=given, steps=True)
    result = from_answer(answer, line, derivation.steps)
    if len(variables) == 1 and isinstance(variables[0], Name):
        result.unit = unit_text_of(written("derivative_of", value, variables[0]), derivation.units)
    short = rewriting.simplify(answer.expression, given)
    if len(str(short.expression)) < len(str(answer.expression)):
        result.shown = [("", short.expression)]
    if parts.get("with"):
        result.shown = [("", put_in(derivation, result.shown[-1][1], parts))]
    return result


def _integrate(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "by", "from", "to", "with", "given")
    by = parts.get("by")
    if by is None:
        raise FormulaError("integrate needs a variable:  integrate E by x", line.text, len(line.text))
    given = derivation.given(parts.get("given"), line.text)
    f = put_in(derivation, derivation.entries(parts.head), parts)
    lower, upper = parts.get("from"), parts.get("to")
    if (lower is None) != (upper is None):
        raise reads(line, "integrate E by x from A to B", "a definite integral")
    ends: list[Any] = []
    if lower is not None and upper is not None:
        ends = [put_in(derivation, derivation.end(by, e), parts) for e in (lower, upper)]
    x = derivation.read(by)
    result = answered(
        f, lambda e: calculus.integrate(e, x, ends[0] if ends else None, ends[-1] if ends else None, given=given), line
    )
    if isinstance(f, Expression) and isinstance(x, Name):
        result.unit = unit_text_of(written("integral_of", f, x, *ends), derivation.units)
    return result


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
    e = formula_in(derivation, parts, match.group(1))
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
        return from_answer(work(formula_in(derivation, parts, parts.head), derivation.read(index), *ends, given=given), line)

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
        e = formula_in(derivation, parts, re.sub(r"^transform\s", "", parts.head))
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
        by_hand.by_parts(formula_in(derivation, parts, match.group(1)), derivation.expression(match.group(2)), given), line
    )


def _change_variable(derivation: State, parts: Clauses, line: Line) -> Result:
    """change variable u = x^2 in integral_of(f, x)"""
    refuse(parts, "with", "given")
    match = re.fullmatch(r"(.*?)\sin\s(.*)", parts.head, re.S)
    if not match:
        raise reads(line, "change variable u = x^2 in integral_of(f, x)")
    given = derivation.given(parts.get("given"), line.text)
    rule = derivation.read(match.group(1))
    return from_answer(by_hand.change_variable(formula_in(derivation, parts, match.group(2)), rule, given), line)


def _carry_out(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "with", "given")
    given = derivation.given(parts.get("given"), line.text)
    return from_answer(by_hand.carry_out(formula_in(derivation, parts, parts.head), given), line)


STATEMENTS: dict[str, Handler] = {
    "differentiate": _differentiate,
    "integrate": _integrate,
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
}
