"""The value of root_of(f, x, a, b): the zero of a formula between two ends, by secants inside a bracket that keeps its signs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Protocol

from gmpy2 import mpq

from gelvo.expression.nodes import Bound, Expression, Name, Written
from gelvo.numbers.box import Box
from gelvo.numbers.exact import Scalar
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, exact

MOST_STEPS = 400
GUARD = 20
FARTHEST = 64  # how often an open end is moved out to twice the distance


class Evaluation(Protocol):
    """A formula ready for evaluation."""

    def at(self, point: Mapping[Name, Scalar | Box], precision: int) -> Box: ...


def zero_between(
    a: Arithmetic,
    node: Written,
    point: Mapping[Name, Scalar | Box],
    function: Evaluation,
    enclosed: Callable[[Expression], Evaluation],
) -> Box:
    """A box around the zero of a function, the body of the form; NoValue where the ends do not have opposite signs, or where the letters do not determine it well enough."""
    body, variable, lower, upper = node.arguments
    assert isinstance(variable, Name)
    precision = a.precision + GUARD

    def sign(place: mpq) -> int | None:
        box = function.at({**point, variable: place}, precision)
        if box.imag is not None and not box.imag.contains_zero():
            raise NoValue(f"{body} is not real at {variable} = {float(place):.6g}")
        return box.real.sign

    ends = [None if isinstance(e, Bound) else exact(enclosed(e).at(point, precision).real.low) for e in (lower, upper)]
    low, high = _finite(sign, ends[0], ends[1])
    first, last = _sign_inside(sign, low, high), _sign_inside(sign, high, low)
    if 0 in (first[1], last[1]):
        place = first[0] if first[1] == 0 else last[0]
        return Box(a.rational(place))
    if first[1] == last[1]:
        raise NoValue(f"{body} has one sign at both ends of the range of {variable}", certain=True)
    left, right = _narrowed(sign, first[0], last[0], first[1], a)
    return Box(Interval(a.rational(left).low, a.rational(right).high))


def _finite(sign: Callable[[mpq], int | None], low: mpq | None, high: mpq | None) -> tuple[mpq, mpq]:
    """Ends for a bracket without one: so far out that the signs at its ends differ."""
    if low is not None and high is not None:
        return low, high
    for k in range(FARTHEST):
        near = mpq(2) ** k
        ends = (low if low is not None else (high or 0) - near, high if high is not None else (low or 0) + near)
        one, other = _sign_inside(sign, *ends)[1], _sign_inside(sign, *reversed(ends))[1]
        if one * other <= 0:
            return ends
    raise NoValue("no change of sign was found")


def _sign_inside(sign: Callable[[mpq], int | None], end: mpq, other: mpq) -> tuple[mpq, int]:
    """A place at or near an end where the sign is certain: the end itself may be a pole or a further zero."""
    gap = mpq(0)
    for k in range(60):
        place = end + gap * (other - end)
        try:
            found = sign(place)
        except NoValue:
            found = None
        if found is not None and (found or not k):
            return place, found
        gap = mpq(1, 2 ** (60 - k))
    raise NoValue("no sign could be told near an end of the range")


def _narrowed(sign: Callable[[mpq], int | None], left: mpq, right: mpq, first: int, a: Arithmetic) -> tuple[mpq, mpq]:
    """Halved until the bracket is as narrow as the precision, or the signs are not certain any more."""
    target = mpq(1, 2 ** (a.precision + 4))
    for _ in range(MOST_STEPS):
        if right - left <= target * max(abs(left), abs(right)):
            break
        middle = (left + right) / 2
        found = sign(middle)
        if found == 0:
            return middle, middle
        if found is None:  # as near as the letters tell: try beside it once
            quarter = (right - left) / 8
            states = [sign(middle - quarter), sign(middle + quarter)]
            if None in states:
                return left, right
            left, right = (
                (middle - quarter if states[0] == first else left),
                (middle + quarter if states[1] != first else right),
            )
            continue
        left, right = (middle, right) if found == first else (left, middle)
    return left, right
