"""Intervals drawn on the number line with characters."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.expression.nodes import Bound, Expression
from gelvo.expression.traversal import free_names
from gelvo.inequalities.solving import SolutionInterval

LONGEST = 14  # characters of a label
INSIDE, OUTSIDE, BELONGS, LEFT_OUT = "━", "─", "●", "○"


def drawn(intervals: Sequence[SolutionInterval], width: int) -> str:
    """Two lines: the axis with its ends in equal steps, and the ends below.

    >>> from gelvo.expression.building import number
    >>> print(drawn([SolutionInterval(number(0), number(1), True, False)], 12))
    ────●━━━○───
        0   1
    """
    ends = list(dict.fromkeys(e for piece in intervals for e in (piece.lower, piece.upper) if not isinstance(e, Bound)))
    labels = [_label(e) for e in ends]
    step = max(width // (len(ends) + 1), max((len(t) for t in labels), default=0) + 2)
    axis = [OUTSIDE] * max(width, step * (len(ends) + 1))
    places = {e: step * (k + 1) for k, e in enumerate(ends)}
    for piece in intervals:
        first = 0 if isinstance(piece.lower, Bound) else places[piece.lower]
        last = len(axis) - 1 if isinstance(piece.upper, Bound) else places[piece.upper]
        axis[first : last + 1] = INSIDE * (last - first + 1)
    for end, place in places.items():
        axis[place] = BELONGS if any(_has(piece, end) for piece in intervals) else LEFT_OUT
    below = ""
    for label, place in zip(labels, places.values(), strict=True):
        below = below.ljust(place) + label
    return "".join(axis) + (f"\n{below}" if below else "")


def _label(end: Expression) -> str:
    """An end as it is written, or the decimal of one that is long."""
    shown = str(end)
    return shown if len(shown) <= LONGEST or free_names(end) else f"≈ {float(end):.4g}"


def _has(piece: SolutionInterval, end: Expression) -> bool:
    return (piece.closed_lower and piece.lower is end) or (piece.closed_upper and piece.upper is end)
