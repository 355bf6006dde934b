"""The expansion of a function that an equation defines."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import Any, NamedTuple

from gmpy2 import mpq

from gelvo.calculus.local.expander import expanded
from gelvo.calculus.local.expansion import Unclear
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import PROVED, UNDECIDED, Certificate, on_its_own_road
from gelvo.checking.series import check_series
from gelvo.deciding.equality import decide_zero
from gelvo.deciding.suppositions import may_suppose_nonzero, supposing
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.operations.expansion import Question, Series
from gelvo.operations.inputs import take
from gelvo.roads import noted

MOST = 40


def series_implicitly(
    equation: Any, function: Any, variable: Any, about: Any, value: Any, through: Any = 5, given: Iterable[Any] = ()
) -> Series:
    """The expansion of y(x) that an equation between x and y defines near a point on its curve.

    equation: between both; function: y; variable: x; about, value: the point x = about, y = value, which has to solve it, with a slope
    by y that is not zero; through: the last power kept. Returns a Series. Raises NoClosedForm where the curve stands upright.
    Method: one coefficient after the other, each from an equation of the first degree (I. Newton, 1671).

    >>> import gelvo
    >>> gelvo.series_implicitly("y + y^3 = x", "y", "x", 0, 0, through=5)
    x - x^3 + 3*x^5   # + O(x^6)
    """
    given = tuple(given) if not isinstance(given, str) else given
    arguments = take(equation, about, value, through, variables=[function, variable], given=given)
    asked, place, start, last = arguments.values
    y, x = arguments.names
    F = asked.left - asked.right if isinstance(asked, Equation) else asked
    if not (isinstance(last, Number) and last.is_whole and 0 <= last.rational <= MOST):
        raise DomainError(f"the last power is a natural number up to {MOST}, not {last}")
    facts = arguments.facts.without(x).without(y)
    if decide_zero(substitute(F, {x: place, y: start}), facts).zero is not True:
        raise DomainError(
            f"the curve has to pass through {x} = {place}, {y} = {start}, and the equation is not seen to hold there"
        )
    curve = Curve(F, x, y, place, start, facts.new_name("h", F, place, start))
    with noted() as by_result, supposing() as supposed:
        terms = _coefficients(curve, int(last.rational), facts)
    conditions = facts.open_conditions(list(supposed))
    under = facts.with_facts(conditions)
    kept = total([c * power(x - place, number(k)) for k, c in terms.items()])
    certificate = on_its_own_road(lambda: _checked(curve, terms, int(last.rational), under), by_result)
    question = Question(None, x, place, under, partial(_further, equation, function, variable, about, value, given))
    beyond, road = int(last.rational) + 1, "one coefficient after the other"
    return Series(question, terms, beyond, x - place, kept, lambda: certificate, conditions, road)


class Curve(NamedTuple):
    """F(x, y) = 0 near x = place, y = start; h is what x goes beyond the place."""

    F: Expression
    x: Name
    y: Name
    place: Expression
    start: Expression
    h: Name


def _further(equation: Any, function: Any, variable: Any, about: Any, value: Any, given: Iterable[Any], through: Any) -> Series:
    return series_implicitly(equation, function, variable, about, value, through, given)


def _coefficients(curve: Curve, last: int, facts: Facts) -> dict[mpq, Expression]:
    F, x, y, place, start, h = curve
    slope = factored(substitute(differentiate(F, y), {x: place, y: start}))
    if not may_suppose_nonzero(slope, facts):
        raise NoClosedForm(f"the slope by {y} is zero at the point: there {y} has no expansion in natural powers, or several")
    found: dict[mpq, Expression] = {mpq(0): start}
    for k in range(1, last + 1):
        known = total([c * power(h, number(j)) for j, c in found.items()])
        try:
            rest = expanded(substitute(F, {x: place + h, y: known}), h, facts, mpq(k))
        except (Unclear, DomainError) as fault:
            raise NoClosedForm(f"the equation has no expansion at the point: {fault}") from None
        found[mpq(k)] = for_a_reader(factored(-rest.terms.get(mpq(k), ZERO) / slope), facts)
    return {k: c for k, c in found.items() if c is not ZERO}


def _checked(curve: Curve, terms: dict[mpq, Expression], last: int, facts: Facts) -> Certificate:
    """Put into the equation, whose powers up to the last one have to vanish; the slope by y is not zero, so there is one such function."""
    F, x, y, place, _, h = curve
    polynomial = total([expand(c) * power(h, number(k)) for k, c in terms.items()])
    inside = substitute(F, {x: place + h, y: polynomial})
    claim = f"{F} = 0 for {y} = {substitute(polynomial, {h: x - place})} up to the power {last}"
    told = check_series(inside, h, h, ZERO, None, {}, mpq(last), facts)
    verdict = PROVED if told.verdict == PROVED else UNDECIDED
    return Certificate(claim, verdict, f"put into the equation: {told.method}", told.evidence)
