"""The sign of a formula along a piece of the line on which it has neither a zero nor a break, told without a sample point.

By the zeros of its factors, by its value at an end up to which it is continuous, by its slope or its curvature from its zeros on.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from gelvo.calculus.zeros import NotKnown, order
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Expression, Name, Number, Power, Product
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.continuity import breaks
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import slope_of
from gelvo.forms.fractions import Form
from gelvo.forms.parts import discriminant
from gelvo.numbers.exact import Gaussian
from gelvo.solving.sign_cases import sign_of

Zeros = Callable[[Expression], list[Expression]]


class Piece(NamedTuple):
    """An open piece between two neighbouring cuts, and the facts inside."""

    left: Expression
    right: Expression
    inside: Facts


def sign_along(gap: Expression, x: Name, piece: Piece, zeros: Zeros, facts: Facts) -> int:
    """1 or -1, or 0 where no rule tells; zeros: all real zeros of a factor.

    Raises OpenSign where a sign that the facts leave open decides.
    """
    for rule in (_by_roots, _at_ends, _by_slope, _by_curvature):
        try:
            sign = rule(gap, x, piece, zeros, facts)
        except (NotKnown, DomainError):
            continue
        if sign:
            return sign
    return 0


def _by_roots(gap: Expression, x: Name, piece: Piece, zeros: Zeros, facts: Facts) -> int:
    """A quotient of polynomials: the signs of its factors far right, turned at each zero from there to the piece."""
    form = Form([gap])
    top, bottom = form.lowest_terms(form.of(gap))
    sign = 1
    for factor, times in (f for part in (top, bottom) for f in _factors(form.factored(part))):
        if isinstance(factor, Number):
            sign *= 1 if factor.rational > 0 else -1
        elif times % 2:
            sign *= _of_factor(factor, x, piece, zeros, facts)
        elif not contains(factor, x) and not facts.is_nonzero(factor):
            return 0
        if not sign:
            return 0
    return sign


def _factors(product: Expression) -> Iterator[tuple[Expression, int]]:
    whole = isinstance(product, Product)
    coefficient = product.coefficient if isinstance(product, Product) else 1
    if isinstance(coefficient, Gaussian):
        raise NotKnown
    yield number(coefficient), 1
    for f in product.factors if isinstance(product, Product) and whole else (product,):
        if isinstance(f, Number) and not f.is_rational:
            raise NotKnown
        power = isinstance(f, Power) and f.exponent.is_whole
        yield (f.base, int(f.exponent.rational)) if power and isinstance(f, Power) else (f, 1)


def _of_factor(factor: Expression, x: Name, piece: Piece, zeros: Zeros, facts: Facts) -> int:
    if not contains(factor, x):
        return sign_of(factor, facts) or 0
    coefficients = uni.coefficients_of(factor, x)
    if coefficients is None or any(contains(c, x) for c in coefficients):
        return 0
    sign = sign_of(coefficients[-1], facts) or 0
    if len(coefficients) > 3 and not facts.is_nonzero(discriminant(factor, x)):
        return 0  # a zero may be a double one
    if isinstance(piece.right, Bound):
        return sign
    places = zeros(factor)
    if len(coefficients) == 3 and len(places) == 1:  # a double zero turns no sign
        return sign
    for zero in places:
        if order(piece.right, zero, facts) <= 0:
            sign = -sign
    return sign


def _at_ends(gap: Expression, x: Name, piece: Piece, zeros: Zeros, facts: Facts) -> int:
    """The sign at an end up to which the formula is continuous."""
    for end in (piece.left, piece.right):
        if isinstance(end, Bound):
            continue
        try:
            jumps = [substitute(f, {x: end}) for f in breaks(gap, x, kinks=False, facts=facts)]
            value = substitute(gap, {x: end})
        except DomainError:
            continue
        if all(map(facts.is_nonzero, jumps)) and (sign := sign_of(value, facts)):
            return sign
    return 0


def _by_slope(gap: Expression, x: Name, piece: Piece, zeros: Zeros, facts: Facts) -> int:
    """A formula that rises from a zero on is positive."""
    slope = slope_of(gap, x)
    turn = 0 if slope is None else sign_of(slope, piece.inside) or 0
    for end, side in ((piece.left, 1), (piece.right, -1)):
        if turn and not isinstance(end, Bound) and _vanishes(gap, x, end, facts):
            return turn * side
    return 0


def _by_curvature(gap: Expression, x: Name, piece: Piece, zeros: Zeros, facts: Facts) -> int:
    """A formula that is bent upwards all along the line is negative between two zeros and positive beside them."""
    if breaks(gap, x, facts=facts):
        return 0
    slope = slope_of(gap, x)
    bend = None if slope is None else slope_of(slope, x)
    turn = 0 if bend is None else sign_of(bend, facts.without(x)) or 0
    try:
        places = zeros(gap) if turn else []
    except NotSolved:
        return 0
    if len(places) != 2 or order(places[0], places[1], facts) == 0:
        return 0
    ends = [_vanishes(gap, x, e, facts) for e in (piece.left, piece.right) if not isinstance(e, Bound)]
    return 0 if not any(ends) else -turn if len(ends) == 2 and all(ends) else turn if len(ends) == 1 else 0


def _vanishes(gap: Expression, x: Name, end: Expression, facts: Facts) -> bool:
    return decide_zero(substitute(gap, {x: end}), facts).zero is True
