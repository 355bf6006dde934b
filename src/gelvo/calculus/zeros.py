"""Where a break of a formula lies on an interval: exact places, or the admission that it is not known."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil, floor

from gmpy2 import mpq

from gelvo.deciding.algebraic import all_roots
from gelvo.deciding.equality import is_zero, prove_zero
from gelvo.errors import DomainError, GelvoError
from gelvo.evaluation.enclose import Enclosure, enclose, sign_at, surely_not_real
from gelvo.expression import known as bits
from gelvo.expression.building import number, sqrt
from gelvo.expression.constants import INFINITE
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import integer_coefficients
from gelvo.normal.prepare import prepared
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic
from gelvo.solving.single.complete import isolated

MOST_PERIODS = 200
MOST_MET = 50


class NotKnown(Exception):
    """The zeros of a break, or their order with the ends, could not be told."""


def order(a: Expression, b: Expression, facts: Facts) -> int:
    """-1, 0 or 1 for a < b, a = b, a > b."""
    if a is b:
        return 0
    for end, sign in ((a, 1), (b, -1)):
        if isinstance(end, Bound):
            return sign if end is INFINITE else -sign
    gap = expand(b - a)
    if facts.is_positive(gap):
        return -1
    if facts.is_negative(gap):
        return 1
    if not names(gap):
        if is_zero(gap):
            return 0
        try:
            return -sign_at(gap, {})
        except GelvoError:
            pass
    if prove_zero(gap, facts):
        return 0
    raise NotKnown


def zeros_between(g: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression]:
    """All zeros of g in the closed interval [lower, upper], in rising order; the facts hold inside it."""
    found: list[Expression] = []
    if facts.is_nonzero(g):  # its factors may be harder to tell
        return [end for end in (lower, upper) if not isinstance(end, Bound) and _vanishes_at(g, x, end, facts)]
    product = factored(g)
    for factor in factors_in(product):
        base = factor.base if isinstance(factor, Power) else factor
        if not contains(base, x):
            continue
        if facts.is_nonzero(base):
            found.extend(end for end in (lower, upper) if not isinstance(end, Bound) and _vanishes_at(base, x, end, facts))
            continue
        found.extend(_zeros_of(base, x, lower, upper, facts))
    kept: list[Expression] = []
    for place in found:
        if surely_not_real(place):
            continue
        if order(lower, place, facts) <= 0 and order(place, upper, facts) <= 0:
            if not any(order(place, other, facts) == 0 for other in kept):
                kept.append(place)
    return sort_places(kept, facts)


def _vanishes_at(g: Expression, x: Name, end: Expression, facts: Facts) -> bool:
    """Whether g is zero at an end, or has no value there: the limit decides then."""
    try:
        value = substitute(g, {x: end})
    except DomainError:
        return True
    if facts.is_nonzero(value):
        return False
    if isinstance(value, Number) or prove_zero(value, facts):
        return True
    raise NotKnown


def sort_places(places: Sequence[Expression], facts: Facts) -> list[Expression]:
    result: list[Expression] = []
    for place in places:
        index = len(result)
        while index and order(place, result[index - 1], facts) < 0:
            index -= 1
        result.insert(index, place)
    return result


def _zeros_of(g: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression]:
    if isinstance(g, Call):
        return _zeros_of_call(g, x, lower, upper, facts)
    coefficients = uni.coefficients_of(g, x)
    if coefficients is None:
        return _transcendental(g, x, lower, upper, facts)
    if len(coefficients) == 2:
        return [uni.lowest_terms(-coefficients[0] / coefficients[1])]
    if len(coefficients) == 3:
        c, b, a = coefficients
        gap = uni.lowest_terms(b * b - 4 * a * c)
        if facts.is_negative(gap):
            return []
        if not facts.is_nonnegative(gap):
            raise NotKnown
        root = prepared(sqrt(gap), facts, waves=False)
        return [uni.lowest_terms((-b - root) / (2 * a)), uni.lowest_terms((-b + root) / (2 * a))]
    if all(isinstance(c, Number) and c.is_rational for c in coefficients):
        whole = integer_coefficients(g, x)
        if whole is not None:
            return [r for r in all_roots(whole) if bits.is_real(r.known)]
    raise NotKnown


def _transcendental(g: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression]:
    """Forms such as 1 + cos(x), exp(x) - 2, sqrt(x) - 1: one occurrence of x inside one function, else a bounded look."""
    places = isolated(g, x, facts)
    if places is not None:
        result: list[Expression] = []
        for place, family in places:
            result.extend([place] if family is None else _members(place, family, lower, upper))
        return result
    if _surely_nonzero(g, x, lower, upper):
        return []
    raise NotKnown


def _zeros_of_call(g: Call, x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression]:
    """The places where the argument takes a value at which the record says that the function is zero."""
    if g.function.zeros is None:
        raise NotKnown
    n = facts.new_name("n", g, lower, upper)
    found: list[Expression] = []
    for place in g.function.zeros(n):
        gap = g.arguments[0] - place
        if not contains(place, n):
            found.extend(zeros_between(gap, x, lower, upper, facts))
            continue
        parts = uni.linear_parts(gap, x)
        if parts is not None:
            found.extend(_members(-parts[1] / parts[0], n, lower, upper))
            continue
        for k in _numbers_met(g.arguments[0], place, n, x, lower, upper):
            found.extend(zeros_between(substitute(gap, {n: number(k)}), x, lower, upper, facts))
    return found


def _numbers_met(inner: Expression, place: Expression, n: Name, x: Name, lower: Expression, upper: Expression) -> range:
    """The whole n for which a family place(n), linear in n, may be met by an argument between numeric ends, by its bounds."""
    parts = uni.linear_parts(place, n)
    if parts is None or set(names(inner, *parts)) - {x} or any(isinstance(e, Bound) or names(e) for e in (lower, upper)):
        raise NotKnown
    boxes = _boxes((inner - parts[1]) / parts[0], x, lower, upper)
    if boxes is None or any(not box.finite or box.imag is not None for box in boxes):
        raise NotKnown
    first, last = min(box.real.low for box in boxes), max(box.real.high for box in boxes)
    if last - first > MOST_MET:
        raise NotKnown
    return range(floor(first), ceil(last) + 1)


def _members(place: Expression, n: Name, lower: Expression, upper: Expression) -> list[Expression]:
    """The members of a family place(n), linear in the integer n, that lie between numeric ends."""
    parts = uni.linear_parts(place, n)
    if parts is None or isinstance(lower, Bound) or isinstance(upper, Bound):
        raise NotKnown
    ends = []
    for end in (lower, upper):
        position = (end - parts[1]) / parts[0]
        if names(position):
            raise NotKnown
        try:
            ends.append(float(enclose(position, {}, 80).real.low))
        except NoValue:  # a family off the real line, or one whose place cannot be told
            raise NotKnown from None
        if not abs(ends[-1]) < MOST_PERIODS**2:
            raise NotKnown
    first, last = int(min(ends)) - 2, int(max(ends)) + 2
    if last - first > MOST_PERIODS:
        raise NotKnown
    return [substitute(place, {n: number(k)}) for k in range(first, last + 1)]


def _surely_nonzero(g: Expression, x: Name, lower: Expression, upper: Expression, pieces: int = 256) -> bool:
    """Interval evaluation over small pieces of a numeric range shows no zero."""
    if len(names(g)) > 1 or names(lower) or names(upper) or isinstance(lower, Bound) or isinstance(upper, Bound):
        return False
    boxes = _boxes(g, x, lower, upper, pieces)
    return boxes is not None and not any(box.contains_zero() for box in boxes)


def _boxes(g: Expression, x: Name, lower: Expression, upper: Expression, pieces: int = 64) -> list[Box] | None:
    """Bounds of g on small pieces between numeric ends; None where one has none."""
    a = arithmetic(80)
    low, high = enclose(lower, {}, 80).real, enclose(upper, {}, 80).real
    start, stop = mpq(low.low), mpq(high.high)
    enclosure, boxes = Enclosure(g), []
    for k in range(pieces):
        left, right = start + (stop - start) * k / pieces, start + (stop - start) * (k + 1) / pieces
        try:
            boxes.append(enclosure.at({x: Box(Interval(a.rational(left).low, a.rational(right).high))}, 80))
        except NoValue:
            return None
    return boxes
