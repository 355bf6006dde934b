"""Principal values: an integral folded about each of its simple poles, and about 0 where it runs over the whole line.

Source: E. Hobson, "The Theory of Functions of a Real Variable", volume 1 (1927), on Cauchy's principal value.
"""

from __future__ import annotations

import itertools
from typing import NamedTuple

from gelvo.calculus.zeros import NotKnown, order
from gelvo.errors import DomainError
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored


class Piece(NamedTuple):
    """An integral of its own, between two ends."""

    integrand: Expression
    lower: Expression
    upper: Expression


def folded(
    f: Expression, x: Name, lower: Expression, upper: Expression, poles: list[Expression], facts: Facts
) -> list[Piece] | None:
    """Proper integrals that make up the principal value: about each pole f(p + t) + f(p - t) as far as both sides reach, and the rest.

    None where the order of the places is not known.
    """
    if not poles:
        both = lower is MINUS_INFINITE and upper is INFINITE
        return [Piece(_fold(f, x, ZERO), ZERO, INFINITE)] if both else [Piece(f, lower, upper)]
    walls = [lower, *[(a + b) / 2 for a, b in itertools.pairwise(poles)], upper]
    pieces: list[Piece] = []
    for pole, (left, right) in zip(poles, itertools.pairwise(walls), strict=True):
        found = _about(f, x, pole, left, right, facts)
        if found is None:
            return None
        pieces.extend(found)
    return pieces


def _about(f: Expression, x: Name, pole: Expression, left: Expression, right: Expression, facts: Facts) -> list[Piece] | None:
    inside = _fold(f, x, pole)
    if isinstance(left, Bound) or isinstance(right, Bound):
        if isinstance(left, Bound) and isinstance(right, Bound):
            return [Piece(inside, ZERO, INFINITE)]
        near = right if isinstance(left, Bound) else left
        reach = near - pole if near is right else pole - near
        rest = Piece(f, left, pole - reach) if near is right else Piece(f, pole + reach, right)
        return [Piece(inside, ZERO, reach), rest]
    below, above = pole - left, right - pole
    try:
        longer = order(below, above, facts)
    except (NotKnown, DomainError):
        return None
    if longer == 0:
        return [Piece(inside, ZERO, below)]
    if longer > 0:
        return [Piece(inside, ZERO, above), Piece(f, left, pole - above)]
    return [Piece(inside, ZERO, below), Piece(f, pole + below, right)]


def _fold(f: Expression, x: Name, place: Expression) -> Expression:
    return factored(substitute(f, {x: place + x}) + substitute(f, {x: place - x}))
