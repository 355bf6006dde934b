"""All three cases in turn: the solutions of z'' = r*z by integrals and exponentials, or the proof that there are none."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from gelvo.differential.second_order.kovacic.first_case import exponentials
from gelvo.differential.second_order.kovacic.search import Search
from gelvo.differential.second_order.kovacic.second_case import square_roots
from gelvo.differential.second_order.kovacic.third_case import equation_of_slope
from gelvo.differential.second_order.singular_places import poles
from gelvo.errors import DomainError
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts

NONE = "there are no solutions by integrals, exponentials and roots (all cases of Kovacic's algorithm)"


class Form(NamedTuple):
    """polynomial*exp(integral of (slope + sqrt(square))/2), and where the square is not 0 the same with the other root."""

    polynomial: Expression
    slope: Expression
    square: Expression


def forms(r: Expression, x: Name, facts: Facts) -> Iterator[Form]:
    """All solutions of the first two cases, the plainest first.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(next(forms(x**2 + 3, x, Facts())))
    Form(polynomial=x, slope=2*x, square=0)
    """
    places = poles(r, x)
    if places is None:
        return
    search = Search()
    for polynomial, w in exponentials(r, x, places, facts, search):
        yield Form(polynomial, 2 * w, ZERO)
    for slope, square in square_roots(r, x, places, facts, search):
        yield Form(x**0, slope, square)


def has_none(r: Expression, x: Name, facts: Facts) -> bool:
    """Whether it is proved that no solution is made of integrals, exponentials and algebraic functions.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> has_none(x, x, Facts()), has_none(x**2 + 3, x, Facts())
    (True, False)
    """
    places = poles(r, x)
    if places is None or set(names(r)) - {x}:
        return False
    search = Search()
    try:
        found = (
            next(exponentials(r, x, places, facts, search), None)
            or next(square_roots(r, x, places, facts, search), None)
            or equation_of_slope(r, x, places, search)
        )
    except DomainError:
        return False
    return found is None and search.complete
