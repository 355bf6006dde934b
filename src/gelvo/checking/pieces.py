"""Bars, signs, steps and whole parts on a piece between two ends where they cannot change, by bounded evaluation."""

from __future__ import annotations

import itertools

from gmpy2 import mpq

from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure, enclose
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Call, Cases, Condition, Expression, Name, Relation
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.univariate import linear_parts, lowest_terms
from gelvo.functions.named import ABS, CEIL, FLOOR, HEAVISIDE, MAX, MIN, SIGN, is_a
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic

PIECES = 64
PRECISION = 96


def settled(f: Expression, x: Name, low: Expression, high: Expression, within: Facts) -> Expression:
    """f with what it is made of on the piece; as it was where that is not known.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(settled(FLOOR(x) * x, x, number(2), number(3), Facts()))
    2*x
    """
    table: dict[Expression, Expression] = {}
    for node in postorder(f):
        if isinstance(node, Cases) and contains(node, x):
            found = _of_cases(node, x, low, high, within)
        elif isinstance(node, Call) and is_a(node, *STEPS) and contains(node, x):
            found = _of_step(node, x, low, high, within)
        else:
            continue
        if found is not None:
            table[node] = found
    return substitute(f, table) if table else f


STEPS = (ABS, SIGN, HEAVISIDE, FLOOR, CEIL, MAX, MIN)


def places_of_steps(f: Expression, x: Name) -> tuple[Expression, ...]:
    """Where the lines inside of bars, signs and steps vanish."""
    found: dict[Expression, None] = {}
    for node in postorder(f):
        if isinstance(node, Call) and is_a(node, ABS, SIGN, HEAVISIDE) and contains(node, x):
            parts = linear_parts(node.arguments[0], x)
            if parts is not None:
                found[lowest_terms(-parts[1] / parts[0])] = None
    return tuple(found)


def _of_cases(node: Cases, x: Name, low: Expression, high: Expression, within: Facts) -> Expression | None:
    """The value of the first case that holds on the whole piece, where those before it hold nowhere on it."""
    for value, condition in zip(node.values, node.conditions, strict=False):
        holds = _holds_between(condition, x, low, high, within)
        if holds is None:
            return None
        if holds:
            return value
    return None if isinstance(node.otherwise, Bound) else node.otherwise


def _holds_between(condition: Condition, x: Name, low: Expression, high: Expression, within: Facts) -> bool | None:
    known = within.holds(condition)
    if known is not None or not isinstance(condition, Relation) or condition.operator not in ("<", "<="):
        return known
    sign = sign_between(condition.right - condition.left, x, low, high, within)
    return sign > 0 if sign else None


def _of_step(node: Call, x: Name, low: Expression, high: Expression, within: Facts) -> Expression | None:
    u = node.arguments[0]
    if is_a(node, FLOOR, CEIL):
        return _whole_part(node, u, x, low, high, within)
    if is_a(node, MAX, MIN):
        return _largest(node, x, low, high, within)
    sign = sign_between(u, x, low, high, within)
    if not sign:
        return None
    return sign * u if is_a(node, ABS) else number(sign) if is_a(node, SIGN) else number((1 + sign) // 2)


def _largest(node: Call, x: Name, low: Expression, high: Expression, within: Facts) -> Expression | None:
    """The argument that is the largest of all, or the smallest, on the whole piece."""
    direction = 1 if is_a(node, MAX) else -1
    for u in node.arguments:
        if all(other is u or sign_between(u - other, x, low, high, within) == direction for other in node.arguments):
            return u
    return None


def _whole_part(node: Call, u: Expression, x: Name, low: Expression, high: Expression, within: Facts) -> Expression | None:
    """k where k < u < k + 1 on the whole piece."""
    if isinstance(low, Bound) or isinstance(high, Bound) or names(low, high) or [n for n in names(u) if n is not x]:
        return None
    try:
        k = number(mpq(int(enclose(substitute(u, {x: (low + high) / 2}), {}, PRECISION).real.low // 1)))
    except (NoValue, GelvoError, ValueError, OverflowError):
        return None
    between = sign_between(u - k, x, low, high, within) > 0 and sign_between(k + 1 - u, x, low, high, within) > 0
    return (k if is_a(node, FLOOR) else k + 1) if between else None


def sign_between(u: Expression, x: Name, low: Expression, high: Expression, within: Facts) -> int:
    """The sign that a formula has everywhere between two ends; 0 where it is not known to have one."""
    if within.is_positive(u) or within.is_negative(u):
        return 1 if within.is_positive(u) else -1
    if isinstance(low, Bound) or isinstance(high, Bound) or [n for n in names(u, low, high) if n is not x]:
        return 0
    return _by_bounds(u, x, low, high)


def nonzero_by_bounds(u: Expression, x: Name, low: Expression, high: Expression) -> bool:
    """Whether a formula, which may be complex, has no zero between two ends, by numbers alone."""
    if isinstance(low, Bound) or isinstance(high, Bound) or [n for n in names(u, low, high) if n is not x]:
        return False
    if _by_bounds(u, x, low, high):
        return True
    enclosure = Enclosure(u)
    try:
        return not any(enclosure.at(box, PRECISION).contains_zero() for box in _boxes(x, low, high))
    except NoValue:
        return False


def _by_bounds(u: Expression, x: Name, low: Expression, high: Expression) -> int:
    """On small pieces; beside an end where it vanishes its slope tells."""
    try:
        boxes, value, slope = _boxes(x, low, high), Enclosure(u), Enclosure(differentiate(u, x))
    except (NoValue, GelvoError):
        return 0
    vanishes = [_vanishes_at(u, x, end) for end in (low, high)]
    signs: set[int] = set()
    for k, box in enumerate(boxes):
        sign = _sign(value, box)
        if not sign and k == 0 and vanishes[0]:
            sign = _sign(slope, box)
        elif not sign and k == PIECES - 1 and vanishes[1]:
            sign = -_sign(slope, box)
        signs.add(sign)
        if signs not in ({1}, {-1}):
            return 0
    return signs.pop()


def _vanishes_at(u: Expression, x: Name, end: Expression) -> bool:
    try:
        return decide_zero(substitute(u, {x: end})).zero is True
    except (GelvoError, ZeroDivisionError):
        return False


def _boxes(x: Name, low: Expression, high: Expression) -> list[dict[Name, Box]]:
    """The way between two ends cut in pieces. Raises NoValue for ends without bounds."""
    a = arithmetic(PRECISION)
    start, stop = mpq(enclose(low, {}, PRECISION).real.low), mpq(enclose(high, {}, PRECISION).real.high)
    cuts = [a.rational(start + (stop - start) * k / PIECES) for k in range(PIECES + 1)]
    return [{x: Box(Interval(left.low, right.high))} for left, right in itertools.pairwise(cuts)]


def _sign(enclosure: Enclosure, box: dict[Name, Box]) -> int:
    """1 or -1 of what is surely real and away from zero on a box."""
    try:
        found = enclosure.at(box, PRECISION)
    except NoValue:
        return 0
    if not found.is_real:
        return 0
    return 1 if found.real.low > 0 else -1 if found.real.high < 0 else 0
