"""The singular places of y'' + p*y' + q*y = 0 with rational p and q, and what solutions are like near them.

Source: E. Ince, "Ordinary Differential Equations" (1926), chapter 15 (indicial equations, Fuchs' condition).
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.differential.problem import without_bars
from gelvo.expression.building import sqrt
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.simplifying.search import simplify


class Place(NamedTuple):
    """A pole, and its order."""

    value: Expression
    order: int


def poles(e: Expression, x: Name) -> list[Place] | None:
    """The poles of a rational function; None where one is a zero of no linear or quadratic factor.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [(str(p.value), p.order) for p in poles(1/(x**2*(x - 1)), x)]
    [('0', 2), ('1', 1)]
    """
    found: list[Place] = []
    for piece in factors_in(factored(quotient_parts(factored(e))[1])):
        base, times = base_and_exponent(piece)
        if not contains(base, x):
            continue
        column = uni.coefficients_of(expand(base), x)
        if column is None or len(column) > 3 or not (isinstance(times, Number) and times.is_whole):
            return None
        found += [Place(place, int(times.rational)) for place in zeros(column)]
    return sorted(found, key=lambda p: p.value is not ZERO)


def zeros(column: list[Expression], facts: Facts | None = None) -> list[Expression]:
    """Those of a linear or quadratic polynomial by its coefficients; with facts the root of the discriminant is simplified."""
    if len(column) == 2:
        return [uni.lowest_terms(-column[0] / column[1])]
    c, b, a = column
    step = sqrt(expand(b * b - 4 * a * c))
    if facts is not None:
        step = without_bars(simplify(step, facts).expression)
    return [uni.lowest_terms((-b + sign * step) / (2 * a)) for sign in (1, -1)]


def degree(e: Expression, x: Name) -> int | None:
    """That of the numerator less that of the denominator of a rational function which is not 0."""
    top, bottom = (uni.coefficients_of(expand(part), x) for part in quotient_parts(factored(e)))
    return None if top is None or bottom is None else len(top) - len(bottom)


def leading_at(e: Expression, x: Name, place: Expression, order: int) -> Expression:
    """The value of (x - place)^order*e at a place."""
    inside = factored(e * (x - place) ** order)
    return ZERO if inside is ZERO else uni.lowest_terms(substitute(inside, {x: place}))


def leading_far_out(e: Expression, x: Name, order: int) -> Expression:
    """The limit of x^order*e far out, for e that grows no faster than x^-order."""
    if e is ZERO or (degree(e, x) or 0) < -order:
        return ZERO
    top, bottom = (uni.coefficients_of(expand(part), x) for part in quotient_parts(factored(e)))
    assert top and bottom
    return uni.lowest_terms(top[-1] / bottom[-1])


def exponents(first: Expression, zeroth: Expression, facts: Facts) -> tuple[Expression, Expression]:
    """The zeros of r*(r - 1) + first*r + zeroth: 0 before another one, else the larger one first."""
    b = uni.lowest_terms(first - 1)
    high, low = zeros([zeroth, b, ONE], facts)
    return (low, high) if low is ZERO else (high, low)
