"""The second case: solutions exp(integral of w) with w a root of a quadratic equation over the rational functions.

Source: J. Kovacic, "An Algorithm for Solving Second Order Linear Homogeneous Differential Equations" (1986), section 4.1.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.differential.second_order.kovacic.search import Search, annihilated
from gelvo.differential.second_order.singular_places import Place, degree, leading_at, leading_far_out
from gelvo.expression.building import number, sqrt, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored


def square_roots(
    r: Expression, x: Name, places: list[Place], facts: Facts, search: Search
) -> Iterator[tuple[Expression, Expression]]:
    """(f, D): the logarithmic derivatives of two solutions of z'' = r*z are (f + sqrt(D))/2 and (f - sqrt(D))/2.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> r = 1/x - number(3)/(16*x**2)
    >>> from gelvo.differential.second_order.singular_places import poles
    >>> [str(e) for e in next(square_roots(r, x, poles(r, x), Facts(), Search()))]
    ['1/(2*x)', '4/x']
    """
    if not any(order == 2 or (order > 2 and order % 2) for _, order in places):
        return
    far = _far_out(r, x)
    finite = [_at_pole(r, x, place) for place in places]
    for e_far, *chosen in search.families(far, *finite):
        if all(e % 2 == 0 for e in (e_far, *chosen)):
            continue
        size = search.degree(number(e_far - sum(chosen)) / 2)
        if size is None:
            continue
        theta = factored(total([number(e) / (x - c) for e, (c, _) in zip(chosen, places, strict=True)]) / 2)
        polynomial = annihilated(_operator(theta, r, x), size, x, facts)
        if polynomial is not None:
            f = factored(theta + differentiate(polynomial, x) / polynomial)
            yield f, factored(4 * r - 2 * differentiate(f, x) - f**2)


def _at_pole(r: Expression, x: Name, place: Place) -> list[int]:
    if place.order == 1:
        return [4]
    return [place.order] if place.order > 2 else _around(leading_at(r, x, place.value, 2))


def _far_out(r: Expression, x: Name) -> list[int]:
    order = 1000 if r is ZERO else -(degree(r, x) or 0)
    if order > 2:
        return [0, 2, 4]
    return _around(leading_far_out(r, x, 2)) if order == 2 else [order]


def _around(b: Expression) -> list[int]:
    """The whole numbers among 2 + k*sqrt(1 + 4*b) for k = 0, 2, -2."""
    step = uni.lowest_terms(2 * sqrt(expand(1 + 4 * b)))
    if not (isinstance(step, Number) and step.is_whole):
        return [2]
    return list(dict.fromkeys((2, 2 + int(step.rational), 2 - int(step.rational))))


def _operator(theta: Expression, r: Expression, x: Name) -> Callable[[Expression], Expression]:
    first = factored(3 * theta**2 + 3 * differentiate(theta, x) - 4 * r)
    zeroth = factored(
        differentiate(theta, x, 2) + 3 * theta * differentiate(theta, x) + theta**3 - 4 * r * theta - 2 * differentiate(r, x)
    )
    return lambda p: differentiate(p, x, 3) + 3 * theta * differentiate(p, x, 2) + first * differentiate(p, x) + zeroth * p
