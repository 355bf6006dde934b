"""The first case: solutions P*exp(integral of w) with a rational w and a polynomial P.

Source: J. Kovacic, "An Algorithm for Solving Second Order Linear Homogeneous Differential Equations" (1986), section 3.1.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import factorial
from typing import NamedTuple

from gelvo.differential.second_order.kovacic.search import Search, annihilated
from gelvo.differential.second_order.singular_places import Place
from gelvo.expression.building import number, power, sqrt, total
from gelvo.expression.constants import HALF, ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts


class Local(NamedTuple):
    """At one place: the part of the square root of r that is singular there, and the exponent, for one of its signs."""

    root: Expression
    exponent: Expression


def exponentials(
    r: Expression, x: Name, places: list[Place], facts: Facts, search: Search
) -> Iterator[tuple[Expression, Expression]]:
    """(P, w) of each solution P*exp(integral of w) of z'' = r*z with rational w and a polynomial P.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(e) for e in next(exponentials(x**2 + 3, x, [], Facts(), Search()))]
    ['x', 'x']
    """
    finite = [_at_pole(r, x, c, order) for c, order in places]
    far = _far_out(r, x)
    if far is None or any(p is None for p in finite):
        search.complete &= far is not None and not any(_is_open(p, place) for p, place in zip(finite, places, strict=True))
        return
    for family in search.families(far, *[p for p in finite if p is not None]):
        found = _with_family(r, x, family, [c for c, _ in places], facts, search)
        if found is not None:
            yield found


def _is_open(found: list[Local] | None, place: Place) -> bool:
    """Whether nothing was found at a pole though there might be something: at odd orders above 1 there is not."""
    return found is None and place.order % 2 == 0


def _at_pole(r: Expression, x: Name, c: Expression, order: int) -> list[Local] | None:
    if order == 1:
        return [Local(ZERO, ONE)]
    if order == 2:
        top, bottom = quotient_parts(factored(r))
        return _by_exponents(
            uni.lowest_terms(expand(2 * substitute(top, {x: c}) / substitute(differentiate(expand(bottom), x, 2), {x: c})))
        )
    if order % 2:
        return None
    half = order // 2
    h = x - c
    regular = factored(r * h**order)
    column = _root_series([substitute(differentiate(regular, x, k), {x: c}) / number(factorial(k)) for k in range(half)])
    if column is None:
        return None
    singular = total([column[k] * power(h, number(k - half)) for k in range(half - 1)])
    square = expand(singular**2)
    b = substitute(factored((r - square) * h ** (half + 1)), {x: c})
    return [Local(sign * singular, uni.lowest_terms((sign * b / column[0] + half) / 2)) for sign in (1, -1)]


def _by_exponents(b: Expression) -> list[Local]:
    step = sqrt(expand(1 + 4 * b))
    return [Local(ZERO, uni.lowest_terms(HALF + sign * step / 2)) for sign in ((1, -1) if step is not ZERO else (1,))]


def _root_series(g: list[Expression]) -> list[Expression] | None:
    """The square root of a power series by its coefficients."""
    if not g or g[0] is ZERO:
        return None
    found = [sqrt(expand(g[0]))]
    for k in range(1, len(g)):
        rest = g[k] - total([found[j] * found[k - j] for j in range(1, k)])
        found.append(uni.lowest_terms(rest / (2 * found[0])))
    return found


def _far_out(r: Expression, x: Name) -> list[Local] | None:
    top, bottom = (uni.coefficients_of(expand(p), x) for p in quotient_parts(factored(r)))
    if top is None or bottom is None:
        return None
    order = len(bottom) - len(top)
    if r is ZERO or order > 2:
        return [Local(ZERO, ZERO), Local(ZERO, ONE)]
    if order == 2:
        return _by_exponents(uni.lowest_terms(top[-1] / bottom[-1]))
    if order % 2:
        return []
    half = -order // 2
    inside = factored(substitute(r, {x: 1 / x}) * power(x, number(2 * half)))  # by powers of 1/x
    g = [substitute(differentiate(inside, x, k), {x: ZERO}) / number(factorial(k)) for k in range(half + 1)]
    column = _root_series(g)
    if column is None:
        return None
    growing = total([column[k] * power(x, number(half - k)) for k in range(half + 1)])
    rest, below = (uni.coefficients_of(expand(p), x) for p in quotient_parts(factored(r - expand(growing**2))))
    b: Expression = ZERO
    if rest and below and len(rest) - len(below) == half - 1:
        b = uni.lowest_terms(rest[-1] / below[-1])
    return [Local(sign * growing, uni.lowest_terms((sign * b / column[0] - half) / 2)) for sign in (1, -1)]


def _with_family(
    r: Expression, x: Name, family: tuple[Local, ...], poles: list[Expression], facts: Facts, search: Search
) -> tuple[Expression, Expression] | None:
    """The solution with one choice of signs, where the exponents leave a whole number for the degree of the polynomial."""
    far, *finite = family
    degree = search.degree(far.exponent - total([p.exponent for p in finite]))
    if degree is None:
        return None
    parts = [far.root, *[p.root + p.exponent / (x - c) for p, c in zip(finite, poles, strict=True)]]
    w = factored(total(parts))
    rest = differentiate(w, x) + w**2 - r

    def gap(p: Expression) -> Expression:
        return differentiate(p, x, 2) + 2 * w * differentiate(p, x) + rest * p

    polynomial = annihilated(gap, degree, x, facts)
    return None if polynomial is None else (polynomial, w)
