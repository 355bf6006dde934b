"""All zeros of a formula on an interval, certified: pieces without a zero by bounds, pieces where it is monotone by its slope.

A zero of several folds is found where it is a small fraction: there the derivatives vanish, and the first that does not has no zero nearby.
Source: R. Moore, "Interval Analysis" (1966).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from fractions import Fraction
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import prove_zero
from gelvo.errors import DomainError, NotSolved, Undecided
from gelvo.evaluation import agreement
from gelvo.evaluation.enclose import Enclosure, enclose, sign_at
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Sum
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate
from gelvo.forms.differentiation import slope_of
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic

MOST_PIECES = 3000
SMALLEST = mpq(1, 10**33)
MOST_FOLDS = 6
END_BITS = 200
MOST_BOTTOM, FEW_BOTTOM = 60, 4
NARROW = 10  # how often a piece is halved before a zero of several folds is looked for in it


class Zero(NamedTuple):
    """A zero to more than 30 digits, or exactly; bracketed by two places between which it is the only one; its folds."""

    place: mpq
    low: mpq
    high: mpq
    exact: bool
    folds: int
    bounded: bool


def certified_zeros(f: Expression, x: Name, start: mpq, stop: mpq) -> list[Zero]:
    """All zeros of a smooth formula between two numbers, in rising order.

    Raises NotSolved where it could not be made sure that none is missing.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [float(z.place) for z in certified_zeros(x**2 - 2, x, mpq(0), mpq(2))]
    [1.4142135623730951]
    """
    a = arithmetic(100)
    function, slope, lone = Enclosure(f), _slope(f, x), _lone_function(f, x)
    places = [start, *_breaks(f, x, start, stop), stop]
    work = [(left, right, 0) for left, right in itertools.pairwise(places)]
    found: dict[mpq, Zero] = {}
    pieces = 0
    while work:
        left, right, depth = work.pop()
        pieces += 1
        box = Box(Interval(a.rational(left).low, a.rational(right).high))
        slopes = _on_piece(slope, x, box)
        if _without_zero(function, slopes, x, box, (left + right) / 2):
            continue
        monotone = slopes is not None and slopes.imag is None and not slopes.contains_zero()
        zeros = None
        if monotone or (lone is not None and _one_way(lone, x, box)):
            zeros = _of_monotone(f, x, left, right, function.bounded)
        if zeros is None and depth and depth % 2 == 0 and depth <= NARROW:
            zeros = _of_several_folds(f, x, left, right, box, MOST_BOTTOM if depth == NARROW else FEW_BOTTOM)
        if zeros is not None:
            found.update({z.place: z for z in zeros})
            continue
        if depth > 40 or pieces > MOST_PIECES + 40 * (stop - start):
            raise NotSolved(f"near {x} = {float(left):.6g} it could not be told whether there is a zero (a double one, perhaps)")
        middle = (left + right) / 2
        work += [(left, middle, depth + 1), (middle, right, depth + 1)]
    return [found[place] for place in sorted(found)]


def outwards(end: Expression, sign: int) -> mpq:
    """An end of an interval as a fraction, at the end or beyond it in the direction of the sign: a zero at the end is not cut off."""
    if isinstance(end, Number) and end.is_rational:
        return end.rational
    place = enclose(end, {}, END_BITS).real
    return mpq(place.high if sign > 0 else place.low)


def at_end(f: Expression, x: Name, zero: Zero, ends: Iterable[Expression]) -> Expression | None:
    """The end that a zero is, where it is one: the formula vanishes there, and has no other zero in the bracket."""
    for end in ends:
        inside = not isinstance(end, Bound) and zero.low <= outwards(end, -1) and outwards(end, 1) <= zero.high
        if inside and not zero.exact and prove_zero(substitute(f, {x: end}), Facts()):
            return end
    return None


def _on_piece(slope: Enclosure | None, x: Name, box: Box) -> Box | None:
    """The bounds of the slope over a piece, where it has some."""
    try:
        return slope.at({x: box}, 100) if slope is not None else None
    except NoValue:
        return None


def _of_monotone(f: Expression, x: Name, left: mpq, right: mpq, bounded: bool) -> list[Zero] | None:
    """The zeros of a formula that only rises or only falls; None where a sign at an end is not decided."""
    try:
        signs = [_sign(f, x, e) for e in (left, right)]
    except (DomainError, Undecided):
        return None
    found = [Zero(e, e, e, True, 1, True) for e, s in zip((left, right), signs, strict=True) if s == 0]
    if signs[0] * signs[1] < 0:
        place = _refined(f, x, left, right, signs[0])
        exact = isinstance(place, Number)
        found.append(Zero(place.rational if isinstance(place, Number) else place, left, right, exact, 1, exact or bounded))
    return found


def _of_several_folds(f: Expression, x: Name, left: mpq, right: mpq, box: Box, most: int) -> list[Zero] | None:
    """The one zero of a narrow piece where f and its first derivatives vanish exactly, and the next has no zero in the piece."""
    place = _simplest(left, right, most)
    try:
        if place is None or not Enclosure(f).at({x: place}, 100).contains_zero():
            return None
    except NoValue:
        return None
    slope: Expression | None = f
    folds = 0
    try:
        while slope is not None and folds <= MOST_FOLDS and prove_zero(substitute(slope, {x: number(place)}), Facts()):
            slope, folds = slope_of(slope, x), folds + 1
    except DomainError:
        return None
    if slope is None:
        return None
    try:
        alone = folds > 0 and not Enclosure(slope).at({x: box}, 100).contains_zero()
    except NoValue:
        return None
    return [Zero(place, left, right, True, folds, True)] if alone else None


def _simplest(left: mpq, right: mpq, most: int) -> mpq | None:
    """The fraction with the least denominator between two numbers, if that is small."""
    for bottom in range(1, most):
        top = -((-left * bottom).__floor__())
        if top <= right * bottom:
            return mpq(top, bottom)
    return None


def _breaks(f: Expression, x: Name, low: mpq, high: mpq) -> list[mpq]:
    """Where functions in f have no value, as li(x) at 1: pieces end there."""
    found: set[mpq] = set()
    for node in postorder(f):
        if isinstance(node, Call) and node.function.breaks is not None and contains(node, x):
            lines = [univariate.linear_parts(b, x) for b in node.function.breaks(*node.arguments)]
            places = [univariate.lowest_terms(-line[1] / line[0]) for line in lines if line is not None]
            found.update(p.rational for p in places if isinstance(p, Number) and p.is_rational)
    return sorted(p for p in found if low < p < high)


def _lone_function(f: Expression, x: Name) -> Call | None:
    """The one function, of a multiple of x, that f is but for numbers."""
    moving = [t for t in (f.terms if isinstance(f, Sum) else (f,)) if contains(t, x)]
    if len(moving) != 1 or not isinstance(moving[0], Call) or any(contains(c, x) for c in moving[0].arguments[:-1]):
        return None
    line = univariate.linear_parts(moving[0].arguments[-1], x)
    return moving[0] if line is not None and not names(line[0]) else None


def _one_way(lone: Call, x: Name, box: Box) -> bool:
    """Whether a function of a multiple of x rises or falls over a piece."""
    try:
        return bool(agreement.monotone(lone, [Enclosure(c).at({x: box}, 100) for c in lone.arguments]))
    except NoValue:
        return False


def _without_zero(function: Enclosure, slopes: Box | None, x: Name, box: Box, middle: mpq) -> bool:
    """Whether the bounds over a piece exclude a zero: those of the formula, or its middle value and the bounds of its slope."""
    try:
        return not function.at({x: box}, 100).contains_zero()
    except NoValue:
        pass
    if slopes is None or slopes.imag is not None:
        return False
    try:
        centre = function.at({x: middle}, 100)
    except NoValue:
        return False
    a = arithmetic(100)
    away = boxes.add(a, box, boxes.negate(a, Box(a.rational(middle))))
    return not boxes.add(a, centre, boxes.multiply(a, slopes, away)).contains_zero()


def _sign(f: Expression, x: Name, place: mpq) -> int:
    value = substitute(f, {x: number(place)})
    return 0 if isinstance(value, Number) and not value.value else sign_at(value, {})


def _slope(f: Expression, x: Name) -> Enclosure | None:
    """The derivative ready for bounds; None where it has no form."""
    slope = slope_of(f, x)
    return None if slope is None else Enclosure(slope)


def _refined(f: Expression, x: Name, left: mpq, right: mpq, sign: int) -> mpq | Number:
    """The zero between two places: a small fraction where it is one, else to more than 30 digits."""
    tries = 3
    while right - left > SMALLEST * max(abs(left), abs(right)) and right - left > SMALLEST**2:
        if right - left < mpq(1, 2**16) * max(abs(left), abs(right)) and tries:
            tries -= 1
            nearer = _narrowed(f, x, left, right, sign)
            if nearer is not None:
                left, right = nearer
                break
        middle = (left + right) / 2
        try:
            found = _sign(f, x, middle)
        except Undecided:
            if right - left > SMALLEST * 1000 * max(abs(left), abs(right)):
                raise NotSolved(f"whether {x} = {float(middle):.10g} is a zero could not be told") from None
            return middle
        if found == sign:
            left = middle
        else:
            right = middle
    simple = mpq(Fraction(int(left.numerator), int(left.denominator)).limit_denominator(1000))
    if left <= simple <= right and prove_zero(substitute(f, {x: number(simple)}), Facts()):
        return number(simple)
    return (left + right) / 2


def _narrowed(f: Expression, x: Name, left: mpq, right: mpq, sign: int) -> tuple[mpq, mpq] | None:
    """A bracket of 33 digits around the end of the secant steps, where the signs confirm it."""
    function = Enclosure(f)
    a = arithmetic(160)
    try:
        places = [left, right]
        values = [mpq(function.at({x: p}, 160).real.low) for p in places]
        for _ in range(9):
            (p, q), (u, v) = places[-2:], values[-2:]
            if u == v:
                break
            places.append(mpq(a.down.plus(q - v * (q - p) / (v - u))))
            values.append(mpq(function.at({x: places[-1]}, 160).real.low))
            if abs(places[-1] - places[-2]) < SMALLEST * abs(places[-1]):
                break
        near = mpq(places[-1])
        below, above = near - abs(near) * SMALLEST, near + abs(near) * SMALLEST
        if left < below and above < right and _sign(f, x, below) == sign and _sign(f, x, above) == -sign:
            return below, above
    except (NoValue, Undecided, DomainError):
        pass
    return None
