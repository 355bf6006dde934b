"""What a reader finds in a table of integrals, by the name under which it stands there."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.calculus.antiderivative import methods, special
from gelvo.calculus.antiderivative.methods import BY_PARTS
from gelvo.calculus.antiderivative.quadratic_root import quadratic_root
from gelvo.calculus.antiderivative.rational import integrate_rational
from gelvo.calculus.antiderivative.support import Search, half_odd
from gelvo.calculus.antiderivative.waves import integrate_waves
from gelvo.calculus.found import Found
from gelvo.calculus.lessons.line import Pupil, Step
from gelvo.errors import DomainError
from gelvo.expression.building import call, number
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Number, Power
from gelvo.expression.terms import base_and_exponent
from gelvo.forms import univariate as uni
from gelvo.functions.named import COS, COSH, COT, CSC, CSCH, SEC, SECH, SIN, SINH, TAN

RECIPROCALS: dict[str, str] = {SIN: CSC, COS: SEC, TAN: COT, SINH: CSCH, COSH: SECH}


def _power(f: Expression, search: Search) -> str:
    base, exponent = base_and_exponent(f)
    if exponent is number(-1):
        return "table: 1/x, logarithm" if base is search.variable else f"table: 1/x, logarithm, for {base}"
    return "power rule" if base is search.variable else f"power rule for {base}"


def _function(f: Expression, search: Search) -> str:
    if not isinstance(f, Call) or f.name in BY_PARTS:
        return ""
    inner = "" if f.arguments[0] is search.variable else f" for {f.arguments[0]}"
    return f"table: {f.name}{inner}"


def reciprocal(f: Expression, search: Search) -> Found | None:
    """1/sin(x) as csc(x), and its like."""
    base, exponent = base_and_exponent(f)
    known = exponent is number(-1) and isinstance(base, Call) and base.name in RECIPROCALS
    return methods.catalogue(call(RECIPROCALS[base.name], base.arguments[0]), search) if known else None  # type: ignore[attr-defined]


def _growth(f: Expression, search: Search) -> str:
    return "table: a^x, exponential" if isinstance(f, Power) and search.free(f.base) else ""


def _square(f: Expression, search: Search) -> str:
    return f"table: {f}"


def _quadratic(f: Expression, search: Search) -> str:
    """1/(a*x^2 + b) with no term in x, and such a square root."""
    base, exponent = base_and_exponent(f)
    square = uni.coefficients_of(base, search.variable)
    if square is None or len(square) != 3 or square[1] is not ZERO or not isinstance(exponent, Number):
        return ""
    positive = [search.facts.is_positive(square[k]) for k in (0, 2)]
    negative = [search.facts.is_negative(square[k]) for k in (0, 2)]
    if exponent is number(-1):
        return "table: 1/(x^2 + a^2), arctangent" if all(positive) or all(negative) else ""
    if half_odd(exponent) and exponent.rational == -0.5:
        kinds = (
            (positive[0] and negative[1], "table: 1/sqrt(a^2 - x^2), arcsine"),
            (all(positive), "table: 1/sqrt(x^2 + a^2), area sine"),
            (negative[0] and positive[1], "table: 1/sqrt(x^2 - a^2), logarithm"),
        )
        return next((name for holds, name in kinds if holds), "")
    return ""


def _special(name: str) -> Callable[[Expression, Search], str]:
    return lambda f, search: f"table: {name}"


TABLES: tuple[tuple[Callable[[Expression, Search], Found | None], Callable[[Expression, Search], str]], ...] = (
    (methods.power_rule, _power),
    (methods.catalogue, _function),
    (reciprocal, _square),
    (integrate_waves, _growth),
    (methods.squares_of_functions, _square),
    (integrate_rational, _quadratic),
    (quadratic_root, _quadratic),
    (methods.gaussian, _special("exp(-x^2), error function")),
    (special.over_linear, _special("functions over x, integral functions")),
    (special.fresnel, _special("waves of x^2, integrals of Fresnel")),
)


def tables(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """1/(x^2 + 4)  ->  atan(x/2)/2"""
    if pupil.free(f):
        yield Step("a constant", f * pupil.x)
        return
    search = Search(pupil.x, pupil.facts, lambda g: None, lambda new, known: lambda g: None)
    for method, name in TABLES:
        try:
            called = name(f, search)
            found = method(f, search) if called else None
        except DomainError:
            continue
        if found is not None:
            yield Step(called, found.value, conditions=found.conditions)
            return
