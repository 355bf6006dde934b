"""Sums and differences of values of which any may be infinite or undefined."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.expression.building import total
from gelvo.expression.constants import UNDEFINED
from gelvo.expression.nodes import Bound, Expression


def difference(high: Expression, low: Expression) -> Expression:
    """high - low; undefined where one of them is, or both are infinite in one direction.

    >>> from gelvo.expression.constants import INFINITE, MINUS_INFINITE
    >>> print(difference(INFINITE, MINUS_INFINITE), difference(INFINITE, INFINITE))
    inf undefined
    """
    if UNDEFINED in (high, low):
        return UNDEFINED
    if isinstance(high, Bound) and isinstance(low, Bound):
        return high if high is not low else UNDEFINED
    if isinstance(high, Bound):
        return high
    return -low if isinstance(low, Bound) else high - low


def joined(pieces: Sequence[Expression]) -> Expression:
    """The sum of pieces; undefined where they run off in more than one direction."""
    infinite = {p for p in pieces if isinstance(p, Bound)}
    if len(infinite) > 1:
        return UNDEFINED
    return infinite.pop() if infinite else total(pieces)
