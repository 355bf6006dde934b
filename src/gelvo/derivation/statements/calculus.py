"""The statements of calculus: derivatives, integrals, limits, series, sums, transforms, integrals by hand."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from gelvo.derivation.measuring import unit_text_of
from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.expression.building import written
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name
from gelvo.matrices.matrix import Matrix
from gelvo.operations import (
    by_hand,
    calculus,
    defined_transforms,
    letters_in_integrals,
    orthogonal_series,
    rewriting,
    series,
    transforms,
)
from gelvo.operations.answer import Answer
from gelvo.operations.explaining import Explained


def _differentiate(said: Said) -> Result:
    value, variables = said.read(said.head), [said.read(v) for v in said.listed(said["by"])]
    if isinstance(value, Equation):
        return said.result(said.put(calculus.differentiate(value, *variables)))
    if isinstance(value, Matrix):
        return said.answers(said.put(value), lambda e: calculus.differentiate(e, *variables, given=said.given, steps=True))
    value = said.derivation.expression(said.head)
    answer = calculus.differentiate(value, *variables, given=said.given, steps=True)
    result = said.answer(answer)
    if len(variables) == 1 and isinstance(variables[0], Name):
        result.unit = unit_text_of(written("derivative_of", value, variables[0]), said.derivation.units)
    short = rewriting.simplify(answer.expression, said.given)
    if len(str(short.expression)) < len(str(answer.expression)):
        result.shown = [("", short.expression)]
    if said.get("with"):
        result.shown = [("", said.put(result.shown[-1][1]))]
    return result


def _ends(said: Said) -> list[Expression]:
    """The ends of an integral, or none."""
    return [said.put(e) for e in said.ends(said["by"], "from", "to")] if said.get("from") else []


def _integrate(said: Said) -> Result:
    f, x = said.entries(), said.read(said["by"])
    ends = _ends(said)
    lower, upper = ends or (None, None)
    wanted = said.derivation.steps
    result = said.answers(f, lambda e: calculus.integrate(e, x, lower, upper, given=said.given, steps=wanted))
    if isinstance(f, Expression) and isinstance(x, Name):
        result.unit = unit_text_of(written("integral_of", f, x, *ends), said.derivation.units)
    return result


def _principal_value(said: Said) -> Result:
    lower, upper = _ends(said)
    x = said.read(said["by"])
    return said.answers(said.entries(), lambda e: calculus.integrate(e, x, lower, upper, given=said.given, principal_value=True))


def _explain_integral(said: Said) -> Result:
    """The integral line by line, whether steps are asked for or not: they are the point of it."""
    lower, upper = _ends(said) or (None, None)
    answer = calculus.integrate(said.formula(), said.read(said["by"]), lower, upper, given=said.given, steps=True)
    result = said.answer(answer)
    steps = [s for s in answer.steps if isinstance(s, Explained)]
    if all(s.equation is not None for s in steps):
        lines = [(Words(f"{n}. {s.rule} ({s.verdict})"), s.equation) for n, s in enumerate(steps, 1)]
        result.shown = [("", shown) for line in lines for shown in line]
    result.value = answer
    return result


def _limit(said: Said) -> Result:
    side = said.get("from")
    if side not in (None, "above", "below"):
        raise said.fault(f"a limit is taken from above or from below, not from {side}", side or "")
    several = said.listed(" -> ".join(c.text for c in said.cuts if c.word in ("as", "->")))
    if len(several) > 1:
        pairs = [part.partition("->") for part in several]
        if not all(arrow for _, arrow, _ in pairs):
            raise said.fault("a limit of several variables reads like  limit E as x -> 0, y -> 0", said["->"])
        places = [said.derivation.end(name, point) for name, _, point in pairs]
        answer = series.limit(said.formula(), [said.read(name) for name, _, _ in pairs], places, side, said.given)
        result = said.answer(answer)
        result.details.append(answer.road)
        return result
    x, (point,) = said.read(said["as"]), said.ends(said["as"], "->")
    return said.answers(said.entries(), lambda e: series.limit(e, x, point, side, said.given))


def _series(said: Said) -> Result:
    variable, equals, point = said["about"].partition("=")
    if not equals:
        raise said.statement.fault(said.line.text)
    e, power = said.formula(), said.derivation.expression(said.get("through power") or "5")
    found = series.series(e, said.read(variable), said.derivation.end(variable, point), power, said.given)
    return said.answer(found)


def _collected(work: Callable[..., Answer], said: Said) -> Result:
    lower, upper = said.formula(said["from"]), said.formula(said["to"])
    return said.answer(work(said.formula(), said.read(said["for"]), lower, upper, given=said.given))


def _transform(work: Callable[..., Answer], said: Said) -> Result:
    return said.answer(work(said.formula(), said.read(said["from"]), said.read(said["to"]), given=said.given))


def _fourier(work: Callable[..., Answer], said: Said) -> Result:
    options = {"convention": said["as"]} if said.get("as") else {}
    result = said.answer(work(said.formula(), said.read(said["from"]), said.read(said["to"]), given=said.given, **options))
    result.details.append(result.road.partition(": ")[0])  # which integral is meant
    return result


def _fourier_series(said: Said) -> Result:
    lower, upper = said.formula(said["from"]), said.formula(said["to"])
    return said.answer(orthogonal_series.fourier_series(said.formula(), said.read(said["by"]), lower, upper, given=said.given))


def _by_parts(said: Said) -> Result:
    return said.answer(by_hand.by_parts(said.formula(), said.derivation.expression(said["differentiating"]), said.given))


def _split_integral(said: Said) -> Result:
    places = [said.derivation.expression(p) for p in said.listed(said["at"])] if said.get("at") else None
    return said.answer(by_hand.split_integral(said.formula(), places, said.given))


def _recurrence(said: Said) -> Result:
    return said.answer(letters_in_integrals.recurrence(said.formula(), said.read(said["for"]), said.given))


def _differentiate_under(said: Said) -> Result:
    return said.answer(letters_in_integrals.differentiate_under(said.formula(), said.read(said["by"]), said.given))


def _change_variable(said: Said) -> Result:
    return said.answer(by_hand.change_variable(said.formula(said["in"]), said.read(said.head), said.given))


def _carry_out(said: Said) -> Result:
    return said.answer(by_hand.carry_out(said.formula(), said.given))


_END = "[with VALUES] [given FACTS]"
_SUM, _PRODUCT = partial(_collected, series.add_up), partial(_collected, series.multiply_up)
STATEMENTS = (
    Statement("differentiate", f"E by x, y {_END}", _differentiate, "differentiate x^2*y^3 by x, y", "the derivative"),
    Statement(
        "integrate", f"E by x [from A to B] {_END}", _integrate, "integrate x^2*exp(-x) by x from 0 to inf",
        "an antiderivative, or the integral between two ends",
    ),
    Statement(
        "principal value", f"of E by x from A to B {_END}", _principal_value, "principal value of 1/(x^2 - 4) by x from 0 to 3",
        "an integral in which both sides of each pole are taken together",
    ),
    Statement(
        "explain integral", f"of E by x [from A to B] {_END}", _explain_integral, "explain integral of x*exp(x) by x",
        "an integral line by line, as a teacher would work it",
    ),
    Statement(
        "limit", f"E as x -> A, y -> B [from SIDE] {_END}", _limit, "limit abs(x)/x as x -> 0 from below", "what E approaches, from both sides or one"
    ),
    Statement("series", f"E about x = A [through power N] {_END}", _series, "series exp(x) about x = 0 through power 3", "the expansion"),
    Statement("sum", f"E for n from A to B {_END}", _SUM, "sum 1/n^2 for n from 1 to inf", "a sum in closed form"),
    Statement("add up", f"E for n from A to B {_END}", _SUM, "add up k^2 for k from 1 to 3", "the same as sum"),
    Statement("product", f"E for n from A to B {_END}", _PRODUCT, "product k for k from 1 to n", "a product in closed form"),
    Statement("multiply up", f"E for n from A to B {_END}", _PRODUCT, "multiply up 2 for k from 1 to 5", "the same as product"),
    Statement(
        "laplace transform", f"of E from t to s {_END}", partial(_transform, transforms.laplace),
        "laplace transform of t*exp(-2*t) from t to s", "the Laplace transform",
    ),
    Statement(
        "inverse laplace transform", f"of E from s to t {_END}", partial(_transform, transforms.inverse_laplace),
        "inverse laplace transform of 1/(s*(s + 1)) from s to t", "the function of time that has it",
    ),
    Statement(
        "fourier transform", f"of E from t to w [as CONVENTION] {_END}", partial(_fourier, transforms.fourier),
        "fourier transform of exp(-t^2/2) from t to w as unitary", "the Fourier transform: angular, unitary or frequency",
    ),
    Statement(
        "inverse fourier transform", f"of E from w to t [as CONVENTION] {_END}", partial(_fourier, transforms.inverse_fourier),
        "inverse fourier transform of exp(-abs(w)) from w to t", "the function that has it",
    ),
    Statement(
        "mellin transform", f"of E from t to s {_END}", partial(_transform, defined_transforms.mellin),
        "mellin transform of exp(-t) from t to s", "the Mellin transform, with its strip",
    ),
    Statement(
        "hankel transform", f"of E from r to k {_END}", partial(_transform, defined_transforms.hankel),
        "hankel transform of exp(-2*r^2) from r to k", "the Hankel transform of the order 0",
    ),
    Statement(
        "hilbert transform", f"of E from t to x {_END}", partial(_transform, defined_transforms.hilbert),
        "hilbert transform of cos(2*t) from t to x", "the Hilbert transform",
    ),
    Statement(
        "z transform", f"of E from n to z {_END}", partial(_transform, defined_transforms.z_transform),
        "z transform of n*2^n from n to z given z > 2", "the z-transform, with where it converges",
    ),
    Statement(
        "inverse z transform", f"of E from z to n {_END}", partial(_transform, defined_transforms.inverse_z_transform),
        "inverse z transform of z/(z - 1)^2 from z to n", "the sequence that has it",
    ),
    Statement(
        "fourier series", f"of E by x from A to B {_END}", _fourier_series, "fourier series of abs(x) by x from -1 to 1",
        "the Fourier series of a function that is given over one period",
    ),
    Statement(
        "by parts", f"E differentiating U {_END}", _by_parts, "by parts integral_of(x*exp(x), x) differentiating x", "one step by hand"
    ),
    Statement(
        "split integral", f"E [at A] {_END}", _split_integral, "split integral integral_of(abs(x), x, -1, 2) at 0",
        "an integral in parts: at places, or term by term",
    ),
    Statement(
        "recurrence", f"of E for n {_END}", _recurrence, "recurrence of integral_of(tan(x)^n, x) for n",
        "an integral by its neighbours in n",
    ),
    Statement(
        "differentiate under", f"E by a {_END}", _differentiate_under, "differentiate under integral_of(sin(a*x)/x, x, 1, 2) by a",
        "the derivative by a letter, under the integral sign",
    ),
    Statement(
        "change variable", f"u = U in E {_END}", _change_variable, "change variable u = x^2 in integral_of(x*exp(x^2), x)",
        "an integral in another variable",
    ),
    Statement("carry out", f"E {_END}", _carry_out, "carry out 3*integral_of(x, x, 0, 2)", "the written integrals worked out"),
)  # fmt: skip
