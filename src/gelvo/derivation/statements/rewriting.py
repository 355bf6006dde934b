"""The statements that rewrite formulas or take parts of them: one table from the opening words to what they do."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from gelvo.checking.certificate import Certificate, weakest
from gelvo.checking.claims import check_identity
from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.results import Result
from gelvo.derivation.statements.parts import Handler, answered, body, facts_of, pairs, put_in, reads, refuse
from gelvo.errors import FormulaError
from gelvo.expression.equation import Equation
from gelvo.matrices.matrix import Matrix
from gelvo.operations import polynomials, rewriting
from gelvo.operations.matrices import entrywise
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _simplify(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "with", "given")
    value = put_in(derivation, derivation.entries(parts.head), parts)
    given = derivation.given(parts.get("given"), parts.head)
    return answered(value, lambda e: rewriting.simplify(e, given, steps=derivation.steps), line)


def _checked(derivation: State, line: Line, value: Any, result: Any, given: list[Any]) -> Result:
    """A rewriting with the proof that it is equal."""
    if isinstance(value, Equation):
        return Result("step", line.text, line.number, [("", result)])
    if isinstance(value, Matrix):
        parts = tuple(check_identity(a, b, facts_of(given)) for a, b in zip(value.flat(), result.flat(), strict=True))
        whole = Certificate(line.text, weakest(parts), "each entry by itself", parts=parts)
        return Result("step", line.text, line.number, [("", result)], certificate=whole)
    certificate = check_identity(value, result, facts_of(given))
    return Result("step", line.text, line.number, [("", result)], certificate=certificate)


def _value(derivation: State, parts: Clauses, head: str | None = None) -> Any:
    text = parts.head if head is None else head
    value = put_in(derivation, derivation.read(body(text)), parts)
    return getattr(value, "expression", value)


def _variable(derivation: State, parts: Clauses, line: Line) -> Any:
    target = parts.get("by")
    if target is None:
        raise FormulaError("this statement needs `by …`, the name it is about", line.text, len(line.text))
    listed = [derivation.read(t) for t in split_commas(target)]
    return listed if len(listed) > 1 else listed[0]


def _structural(work: Callable[..., Any], by: bool = False) -> Handler:
    """A rewriting of the whole formula: checked by the normal form."""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "with", "given", *(["by"] if by else []))
        value = _value(derivation, parts)
        given = derivation.given(parts.get("given"), parts.head)
        extra = [_variable(derivation, parts, line)] if by else []
        return _checked(derivation, line, value, entrywise(work)(value, *extra, given=given), given)

    return handler


def _of_kind(work: Callable[..., Any], kinds: tuple[str, ...], plain: bool) -> Handler:
    """`combine logarithms in E`; `expand E` works without a kind."""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "with", "given")
        match = re.match(r"(\w+)\s+in\s+(.*)$", parts.head, re.S)
        given = derivation.given(parts.get("given"), parts.head)
        if match and match.group(1) in kinds:
            value = _value(derivation, parts, match.group(2))
            return _checked(derivation, line, value, entrywise(work)(value, only=match.group(1), given=given), given)
        if not plain:
            raise reads(line, f"combine KIND in E  with one of {', '.join(kinds)}")
        value = _value(derivation, parts)
        return _checked(derivation, line, value, entrywise(work)(value, given=given), given)

    return handler


def _factor(derivation: State, parts: Clauses, line: Line) -> Result:
    """factor E;  factor E over sqrt(2), 1j;  factor E over reals"""
    refuse(parts, "with", "given", "over")
    value, over = _value(derivation, parts), parts.get("over")
    given = derivation.given(parts.get("given"), parts.head)
    plain = over is None or over in ("real", "reals", "rationals")
    listed = over if plain else [derivation.read(t) for t in split_commas(over or "")]
    return _checked(derivation, line, value, entrywise(rewriting.factor)(value, given, over=listed), given)


def _express(derivation: State, parts: Clauses, line: Line) -> Result:
    """express E in terms of exponentials"""
    refuse(parts, "with", "given")
    match = re.match(r"(.*)\sin terms of\s+(.*)$", parts.head, re.S)
    if not match:
        raise reads(line, "express E in terms of exponentials")
    value = _value(derivation, parts, match.group(1))
    given = derivation.given(parts.get("given"), parts.head)
    return _checked(derivation, line, value, entrywise(rewriting.express)(value, match.group(2).strip(), given), given)


def _part(work: Callable[..., Any], count: int = 1, by: bool = False) -> Handler:
    """A part of one formula, or of two: nothing is claimed."""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts, "with", *(["by"] if by else []))
        texts = split_commas(body(parts.head)) if count > 1 else [parts.head]
        if len(texts) != count:
            raise FormulaError(f"this statement takes {count} formulas, not {len(texts)}", line.text, len(line.text))
        values = [_value(derivation, parts, t.strip()) for t in texts]
        extra = [_variable(derivation, parts, line)] if by else []
        return Result("step", line.text, line.number, [("", work(*values, *extra))])

    return handler


def _coefficients(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "with", "by")
    target = _variable(derivation, parts, line)
    table = rewriting.coefficients(_value(derivation, parts), target)
    return Result("step", line.text, line.number, [(f"coefficient of {target**k}", c) for k, c in table.items()])


def _divide(derivation: State, parts: Clauses, line: Line) -> Result:
    """divide P by Q for x"""
    refuse(parts, "with", "by", "for")
    divisor, variable = parts.get("by"), parts.get("for")
    if divisor is None or variable is None:
        raise reads(line, "divide P by Q for x")
    value, other = _value(derivation, parts), put_in(derivation, derivation.expression(divisor), parts)
    quotient, rest = polynomials.divide(value, other, derivation.read(variable))
    certificate = check_identity(value, quotient * other + rest, facts_of([]))
    return Result("step", line.text, line.number, [("quotient", quotient), ("remainder", rest)], certificate=certificate)


def _abbreviate(derivation: State, parts: Clauses, line: Line) -> Result:
    """abbreviate E, F;  abbreviate E as B"""
    refuse(parts, "with", "as")
    values = [_value(derivation, parts, t.strip()) for t in split_commas(parts.head)]
    short = rewriting.abbreviate(values, parts.get("as") or "A")
    shown: list[tuple[str, Any]] = [("", e) for e in short.expressions]
    shown += [("where" if k == 0 else "", Equation(n, e)) for k, (n, e) in enumerate(short.where.items())]
    return Result("step", line.text, line.number, shown)


def _substitute(derivation: State, parts: Clauses, line: Line) -> Result:
    match = re.match(r"(.*)\sin\s(.*)$", parts.head, re.S)
    if not match:
        raise reads(line, "substitute x = 3 in E", "substitution")
    refuse(parts, "with", "given")
    table = pairs(derivation, match.group(1), line, "old = new")
    value = derivation.read(match.group(2))
    result = put_in(derivation, rewriting.substitute(getattr(value, "expression", value), table), parts)
    return Result("step", line.text, line.number, [("", result)])


def _rename(derivation: State, parts: Clauses, line: Line) -> Result:
    """rename mass to m in E"""
    rest = parts.get("to") or ""
    match = re.match(r"(\w+)\s+in\s+(.*)$", rest, re.S)
    if not match:
        raise reads(line, "rename OLD to NEW in E", "renaming")
    value = derivation.read(match.group(2))
    return Result("step", line.text, line.number, [("", rewriting.rename(value, {parts.head: match.group(1)}))])


STATEMENTS: dict[str, Handler] = {
    "simplify": _simplify,
    "expand": _of_kind(rewriting.expand, ("powers", "products", "trigonometric", "logarithms"), plain=True),
    "combine": _of_kind(rewriting.combine, ("logarithms", "powers", "exponentials", "roots", "trigonometric"), plain=False),
    "factor": _factor,
    "common denominator": _structural(rewriting.common_denominator),
    "collect": _structural(rewriting.collect, by=True),
    "partial fractions": _structural(polynomials.partial_fractions, by=True),
    "complete square": _structural(polynomials.complete_square, by=True),
    "amplitude phase": _structural(rewriting.amplitude_phase, by=True),
    "rationalize denominator": _structural(rewriting.rationalize_denominator),
    "express": _express,
    "substitute": _substitute,
    "rename": _rename,
    "abbreviate": _abbreviate,
    "numerator": _part(rewriting.numerator),
    "denominator": _part(rewriting.denominator),
    "coefficients": _coefficients,
    "degree": _part(polynomials.degree, by=True),
    "leading coefficient": _part(polynomials.leading_coefficient, by=True),
    "divide": _divide,
    "gcd": _part(polynomials.gcd, 2),
    "lcm": _part(polynomials.lcm, 2),
    "resultant": _part(polynomials.resultant, 2, by=True),
    "discriminant": _part(polynomials.discriminant, by=True),
    "minimal polynomial": _part(polynomials.minimal_polynomial),
}
