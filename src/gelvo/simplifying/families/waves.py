"""Sine and cosine (and the hyperbolic pair): multiple angles, powers of one angle, tangents."""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, scale, total
from gelvo.expression.constants import IMAGINARY, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Number, Product
from gelvo.expression.traversal import has_imaginary_unit, postorder
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, euler
from gelvo.forms.one_angle import base_angles, single_angles
from gelvo.forms.tangents import tangents
from gelvo.functions.named import COS, COSH, COT, COTH, CSC, CSCH, EXP, SEC, SECH, SIN, SINH, TAN, TANH
from gelvo.normal.prepare import prepared
from gelvo.normal.relations import reduced_quotient, with_quarter_turns
from gelvo.numbers.exact import Gaussian
from gelvo.polynomial import sparse
from gelvo.polynomial.sparse import Polynomial
from gelvo.simplifying.expressing import express
from gelvo.simplifying.family import Shorter
from gelvo.simplifying.joining import exponentials_into_sums

CIRCULAR = (SIN, COS, TAN, COT, SEC, CSC)


HYPERBOLIC = (SINH, COSH, TANH, COTH, SECH, CSCH)


MOST_TERMS = 400


MOST_ANGLES = 2


def wave_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """2*sin(x)*cos(x) -> sin(2*x), 1 - cos(x)^2 -> sin(x)^2, sin(x)/cos(x) -> tan(x) and their like."""
    kinds = {n.name for n in postorder(expression) if isinstance(n, Call)}
    if not kinds & {*CIRCULAR, *HYPERBOLIC, EXP}:
        return
    if EXP in kinds:
        yield "exponentials multiplied into a sum", exponentials_into_sums(expression)
    yield "tangents", tangents(expression)
    quotient_form = by_multiple_angles(expression, facts, bool(kinds & {*HYPERBOLIC, EXP}))
    if quotient_form is None:
        return
    if quotient_form is ZERO:
        yield "zero by exponentials", ZERO
        return
    yield "multiple angles", quotient_form
    yield "multiple angles, tangents", tangents(quotient_form)
    if len(base_angles(quotient_form) or ()) > MOST_ANGLES:
        return  # powers of the waves of many angles are longer than what came in
    for keep, word in ((COS, "cosine"), (SIN, "sine")):
        for part, angle in ((1, "the angle"), (2, "half the angle")):
            powers = single_angles(quotient_form, keep, part)
            if powers is not None:
                yield f"powers of the {word} of {angle}", powers
                yield f"powers of the {word} of {angle}, tangents", tangents(powers)


def by_multiple_angles(expression: Expression, facts: Facts, hyperbolic: bool) -> Expression | None:
    """A quotient of sums of waves of multiple angles, zero where it vanishes; None where it is not one or too long."""
    ready = prepared(expression, facts)
    form = Form([ready], facts)
    with_quarter_turns(form)
    quotient = form.of(ready)
    top, bottom = reduced_quotient(form, quotient)
    if not top:
        return ZERO
    if not sparse.has_gaussian(top) and not sparse.has_gaussian(bottom):
        top, bottom = form.without_common_factors(top, bottom)
    if len(top) + len(bottom) > MOST_TERMS:
        return None
    upper, lower = _as_waves(form, top, hyperbolic), _as_waves(form, bottom, hyperbolic)
    if upper is None or lower is None:
        return None
    return upper[0] / lower[0] * upper[1] / lower[1]


def _as_waves(form: Form, p: Polynomial, hyperbolic: bool) -> tuple[Expression, Expression] | None:
    """A polynomial in exponentials as (sum of waves of multiple angles, exponential that was centred away)."""
    circular: dict[int, Expression] = {}
    for (base, unit), index in form.generators.items():
        if base is euler():  # not a root of an exponential, such as sqrt(exp(1j*x))
            step = scale(unit, mpq(1, form.roots_of[(base, unit)]))
            angle = step * -IMAGINARY
            imaginary = _imaginary(unit)
            if imaginary and unit is not multiply_all((IMAGINARY, PI)):
                circular[index] = angle
            elif hyperbolic and not imaginary:
                circular[index] = step
    spans = {k: [sparse.exponent_of(m, k) for m in p] for k in circular}
    centre = {k: mpq(max(v) + min(v), 2) for k, v in spans.items()}
    shift = total([scale(_step(form, k), centre[k]) for k in circular])
    terms: list[Expression] = []
    table: dict[tuple[tuple[int, mpq], ...], Polynomial] = {}
    for m, c in p.items():
        key = tuple((k, sparse.exponent_of(m, k) - centre[k]) for k in circular)
        inside = sum(sparse.exponent_of(m, k) << (sparse.BITS * k) for k in circular)
        table.setdefault(key, {})[m - inside] = c
    for key, coefficient in table.items():
        terms.append(form.expression(coefficient) * _exponential_of(form, key, circular))
    result = total([_expanded(t) for t in terms])
    return result, EXP(shift)


def _imaginary(unit: Expression) -> bool:
    coefficient = (
        getattr(unit, "coefficient", None) if isinstance(unit, Product) else unit.value if isinstance(unit, Number) else None
    )
    return isinstance(coefficient, Gaussian) and not coefficient.real


def _step(form: Form, index: int) -> Expression:
    (base, unit) = list(form.generators)[index]
    return scale(unit, mpq(1, form.roots_of[(base, unit)]))


def _exponential_of(form: Form, key: tuple[tuple[int, mpq], ...], waves: dict[int, Expression]) -> Expression:
    """exp of an imaginary angle as cos + 1j*sin, of a real one as cosh + sinh."""
    turning: list[Expression] = []
    growing: list[Expression] = []
    for k, exponent in key:
        step = _step(form, k)
        (turning if _imaginary(list(form.generators)[k][1]) else growing).append(scale(step, exponent))
    angle, growth = (_in_waves(e) for e in (total(turning) * -IMAGINARY, total(growing)))
    circular = COS(angle) + IMAGINARY * SIN(angle)
    return circular * (COSH(growth) + SINH(growth))


def _in_waves(inner: Expression) -> Expression:
    """exp(2*cos(t)) has a cosine in its exponent, which the normal form takes for exponentials."""
    if not has_imaginary_unit(inner):
        return inner
    turned = express(inner, "waves")
    return inner if has_imaginary_unit(turned) else turned


def _expanded(term: Expression) -> Expression:
    return expand(term)
