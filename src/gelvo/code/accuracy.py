"""How good generated numbers are: right values at sample points, and the error that the formula itself allows there.

The bar is that of the formula, never of the algorithm: what one rounding of each input may move the value (the condition
number, from the derivative: N. J. Higham, "Accuracy and Stability of Numerical Algorithms", 2nd ed. 2002, sec. 1.6). The
derivative comes with error bounds over the doubles next to the point, backwards through the formula (S. Linnainmaa, "Taylor
expansion of the accumulated rounding error", 1976).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

import gmpy2
from gmpy2 import mpq

from gelvo.code.digits.points import FAR, Ends, Point, points
from gelvo.code.precision import DOUBLE, Precision
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure, chosen
from gelvo.expression.building import name as make_name
from gelvo.expression.known import is_integer
from gelvo.expression.nodes import Call, Cases, Expression, Name, Node, Number, Power, Product, Sum, Written
from gelvo.expression.registry import Function
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import slope_of
from gelvo.numbers.box import Box
from gelvo.numbers.exact import real
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, arithmetic

POINTS, BITS = 60, 120
BAR_ULP, GOAL_ULP = 4.0, 3.0  # units in the last place: what is asked for, and what is aimed at
PRECISIONS = (BITS, 400, 1600)
MOST_MOVED = 8  # inputs that are moved one by one
WITH_BREAKS = ("floor", "ceil", "sign", "heaviside", "abs", "min", "max", "atan2")
LEAST_POINTS, FEWEST_POINTS, MOST_WORK = 12, 5, 40_000  # very long formulas are compared at fewer points
MUCH = 100.0  # ULP: where more is allowed, the formula is sensitive there
SMALLEST = DOUBLE.smallest
DUST = gmpy2.mpfr("1e-345")  # the smallest double is 5e-324
Values = Mapping[Node, "Box | bool | NoValue"]


class Judge:
    """What a formula's value should be at a point, and how far from it a double may lie."""

    def __init__(self, e: Expression, inputs: Sequence[Name], everywhere: bool = False, precision: Precision = DOUBLE) -> None:
        """everywhere: also where a part is too large or too small for a double on the way to a value that is not."""
        self.enclosure, self.everywhere, self.precision = Enclosure(e), everywhere, precision
        own = set(names(e))
        self._breaks = any(isinstance(n, Cases) or (isinstance(n, Call) and n.name in WITH_BREAKS) for n in self.enclosure.order)
        self._places = [k for k, n in enumerate(inputs) if n in own]  # a formula of a large bundle has few of its inputs
        self._inputs = [inputs[k] for k in self._places]
        self._right: dict[tuple[float, ...], tuple[float, bool] | None] = {}
        self._known: dict[tuple[float, ...], tuple[float, float] | None] = {}
        self._conditions: dict[tuple[tuple[float, ...], bool], float | None] = {}

    def at(self, point: Sequence[float]) -> tuple[float, float] | None:
        """(right value, error allowed); None where there is no real value, or a jump nearer than the next double."""
        key = self._own(point)
        if key not in self._known:
            self._known[key] = self._judged(key)
        return self._known[key]

    def right(self, point: Sequence[float]) -> float | None:
        """The correctly rounded double; None where there is no real value, or a part is too large or too small on the way to it."""
        return self._right_at(self._own(point))

    def value(self, point: Sequence[float]) -> tuple[float, bool] | None:
        """(the correctly rounded double, whether all parts are doubles on the way to it); None where there is no real value."""
        return self._value(self._own(point))

    def is_open(self, point: Sequence[float]) -> bool:
        """Whether the value at a point was not worked out yet."""
        return self._own(point) not in self._right

    def learn(self, point: Sequence[float], value: float) -> None:
        """The right value at a point, all parts of which are doubles, as somebody else worked it out."""
        self._right[self._own(point)] = value, True

    def _own(self, point: Sequence[float]) -> tuple[float, ...]:
        """The values of the inputs that the formula has."""
        return tuple([point[k] for k in self._places])

    def _value(self, own: tuple[float, ...]) -> tuple[float, bool] | None:
        if own not in self._right:
            self._right[own] = _right_value(self.enclosure, self._inputs, own, self.precision)
        return self._right[own]

    def _right_at(self, own: tuple[float, ...]) -> float | None:
        found = self._value(own)
        return found[0] if found is not None and (found[1] or self.everywhere) else None

    def _judged(self, own: tuple[float, ...]) -> tuple[float, float] | None:
        right = self._right_at(own)
        moved = None if right is None else self._moved(own)
        if right is None or moved is None:
            return None
        last = self.precision.ulp(right)
        unit = last / abs(right) if right else 2 * float(self.precision.half_unit)
        return right, BAR_ULP * (last + unit * moved)

    def condition(self, point: Sequence[float], beside: bool = True) -> float | None:
        """The condition number of the formula at a point, or the largest of what rounds to it; None where its derivative is not known
        or not finite."""
        own = self._own(point)
        if (own, beside) not in self._conditions:
            found, moved = self.value(point), self._moved(own) if beside else self._by_slopes([mpq(v) for v in own])
            known = moved is not None and found is not None and found[0]
            self._conditions[own, beside] = moved / abs(found[0]) if known else None  # type: ignore[index]
        return self._conditions[own, beside]

    def _moved(self, own: tuple[float, ...]) -> float | None:
        """The sum of |input * derivative by it| at a point and at the ends of what rounds to it, and what jumps in between."""
        centre = [mpq(v) for v in own]
        ends = [[self._shifted(k, v, sign) for k, v in enumerate(centre)] for sign in (1, -1)]
        found = [t for place in (centre, *ends) if (t := self._by_slopes(place)) is not None]
        if self._breaks:
            found += self._by_values(centre)
        return max(found) if found else None

    def _shifted(self, k: int, value: mpq, sign: int) -> mpq:
        """The end of the numbers that round to a double; a whole number is what it is."""
        return value if is_integer(self._inputs[k].known) else value + sign * abs(value) * self.precision.half_unit

    def _by_slopes(self, place: Sequence[mpq]) -> float | None:
        for bits in PRECISIONS:
            a = arithmetic(bits)
            around = {n: Box(a.rational(v)) for n, v in zip(self._inputs, place, strict=True)}
            try:
                slopes = _slopes(a, self.enclosure, around, bits)
            except NoValue as fault:
                if fault.certain:
                    return None
                continue
            except GelvoError:
                return None
            found = [
                a.multiply(a.rational(abs(v)), slopes[n]) for n, v in zip(self._inputs, place, strict=True) if n in slopes and v
            ]
            if all(map(_narrow, found)):
                total = sum(float(max(abs(s.low), abs(s.high))) for s in found)
                return total if math.isfinite(total) else None
        return None

    def _by_values(self, centre: Sequence[mpq]) -> list[float]:
        """How much the value changes where one input moves by half a unit, in the measure of a derivative."""
        here = self._bounded(centre)
        found: list[float] = []
        for k, value in enumerate(centre[:MOST_MOVED]):
            for sign in (1, -1):
                there = self._bounded([*centre[:k], self._shifted(k, value, sign), *centre[k + 1 :]])
                if here is not None and there is not None:
                    found.append(abs(there - here) * 2.0**self.precision.bits)
        return [f for f in found if math.isfinite(f)]

    def _bounded(self, place: Sequence[mpq]) -> float | None:
        try:
            box = self.enclosure.at(dict(zip(self._inputs, place, strict=True)), PRECISIONS[1])
        except (GelvoError, NoValue):
            return None
        return float(box.real.low) if box.imag is None else None


@lru_cache(maxsize=512)
def judge_of(e: Expression, inputs: tuple[Name, ...], everywhere: bool, precision: Precision = DOUBLE) -> Judge:
    """The judge of a formula, with what it found before: the same formulas are often written in several languages."""
    return Judge(e, inputs, everywhere, precision)


def _narrow(slope: Interval) -> bool:
    """Whether bounds of a derivative are near to each other."""
    size = max(abs(slope.low), abs(slope.high))
    return bool(gmpy2.is_finite(size) and (slope.high - slope.low <= size / 512 or size < SMALLEST))


def _slopes(a: Arithmetic, enclosure: Enclosure, around: Mapping[Name, Box], bits: int) -> dict[Node, Interval]:
    """Bounds of the derivative of the formula by each of its parts, from the formula down to the names."""
    values = enclosure.all_values(around, bits)
    _value(values, enclosure.root)
    slopes: dict[Node, Interval] = {enclosure.root: a.one}
    for node in reversed(enclosure.order):
        slope = slopes.get(node)
        if slope is None or (slope.low == 0 == slope.high):
            continue
        for child, local in _partials(a, node, values):
            step = a.multiply(slope, local)
            slopes[child] = a.add(slopes[child], step) if child in slopes else step
    return slopes


def _value(values: Values, node: Node) -> Interval:
    box = values[node]
    if isinstance(box, NoValue):
        raise box
    if not isinstance(box, Box) or box.imag is not None:
        raise NoValue("not real on the way")
    return box.real


def _partials(a: Arithmetic, node: Node, values: Values) -> list[tuple[Node, Interval]]:
    """(part, bounds of the derivative of the node by it) for each part on which the value depends."""
    if isinstance(node, Sum):
        return [(t, a.rational(real(c))) for t, c in node.items()]
    if isinstance(node, Product):
        return _product_partials(a, node, [_value(values, f) for f in node.factors])
    if isinstance(node, Power):
        return _power_partials(a, node, values)
    if isinstance(node, Call):
        return [(c, _function_partial(a, node, k, values)) for k, c in enumerate(node.arguments)]
    if isinstance(node, Cases):
        return [(chosen(node, values), a.one)]
    if isinstance(node, Written) and node.kind == "root_of":
        return _zero_partials(a, node, values)
    return []


def _zero_partials(a: Arithmetic, node: Written, values: Values) -> list[tuple[Node, Interval]]:
    """Of r with f(r, c) = 0 the derivative by c is that of f by c over that by r, with a minus."""
    letters = [n for n in names(node.body) if n is not node.variable]
    around = {n: Box(_value(values, n)) for n in letters} | {node.variable: Box(_value(values, node))}
    slopes = {n: slope_of(node.body, n) for n in (node.variable, *letters)}
    boxes = {n: Enclosure(s).at(around, a.precision) for n, s in slopes.items() if s is not None}
    if len(boxes) < len(slopes) or any(b.imag is not None for b in boxes.values()) or boxes[node.variable].contains_zero():
        raise NoValue("the slope at a zero is not told")
    return [(n, a.negate(a.divide(boxes[n].real, boxes[node.variable].real))) for n in letters]


def _product_partials(a: Arithmetic, node: Product, factors: list[Interval]) -> list[tuple[Node, Interval]]:
    before = [a.rational(real(node.coefficient))]
    for factor in factors[:-1]:
        before.append(a.multiply(before[-1], factor))
    after = a.one
    result: list[tuple[Node, Interval]] = []
    for k in range(len(factors) - 1, -1, -1):
        result.append((node.factors[k], a.multiply(before[k], after)))
        after = a.multiply(after, factors[k])
    return result


def _power_partials(a: Arithmetic, node: Power, values: Values) -> list[tuple[Node, Interval]]:
    base, exponent = _value(values, node.base), _value(values, node.exponent)
    if isinstance(node.exponent, Number):
        q = node.exponent.rational
        if q.denominator == 1:
            return [(node.base, a.multiply(a.rational(q), a.power(base, int(q) - 1)))]
        if base.low > 0:
            return [(node.base, a.multiply(a.rational(q), a.divide(_value(values, node), base)))]
        return [(node.base, _by_widths(a, node, node.base, values))]
    value = _value(values, node)
    if base.low > 0:
        by_base = a.divide(a.multiply(exponent, value), base)
        return [(node.base, by_base), (node.exponent, a.multiply(value, a.log(base)))]
    return [(c, _by_widths(a, node, c, values)) for c in (node.base, node.exponent)]


def _function_partial(a: Arithmetic, node: Call, k: int, values: Values) -> Interval:
    """The derivative of a function by one argument, from its record; where that has no value, from the size of its image."""
    try:
        slope = partial_derivative(node.function, len(node.arguments), k)
        if slope is not None:
            point = {p: Box(_value(values, c)) for p, c in zip(slope.places, node.arguments, strict=True)}
            box = slope.enclosure.at(point, a.precision)
            if box.imag is None and box.finite:
                return box.real
    except (GelvoError, NoValue):
        pass
    return _by_widths(a, node, node.arguments[k], values)


class Slope(NamedTuple):
    """The derivative of a function by one argument: a formula in places that stand for the arguments, ready to be evaluated."""

    formula: Expression
    enclosure: Enclosure
    places: list[Name]


@lru_cache(maxsize=512)
def partial_derivative(function: Function, count: int, k: int) -> Slope | None:
    """From the record of the function; None where it has none."""
    rows = function.derivative if isinstance(function.derivative, tuple) else (function.derivative,)
    rule = rows[k] if k < len(rows) else None
    if rule is None:
        return None
    places = [make_name(f"argument_{j}") for j in range(count)]
    formula = rule(*places)
    return Slope(formula, Enclosure(formula), places)


def _by_widths(a: Arithmetic, node: Node, part: Node, values: Values) -> Interval:
    """How much the value varies against how much the part does: a bound where there is no derivative (a kink, a rounding)."""
    whole, inner = _value(values, node), _value(values, part)
    width = a.down.sub(inner.high, inner.low)
    if not width > 0:
        return a.zero
    size = a.up.div(a.up.sub(whole.high, whole.low), width)
    return Interval(a.down.minus(size), size)


def sample_points(judges: Sequence[Judge], inputs: Sequence[Name], facts: Facts, ranges: Mapping[Name, Ends]) -> list[Point]:
    """Points where every output has a real value: sizes of every order, ends and special values; the same on every run."""
    parts = sum(len(j.enclosure.order) for j in judges)
    count = max(LEAST_POINTS if parts < MOST_WORK // 2 else FEWEST_POINTS, min(POINTS, MOST_WORK // max(parts, 1)))
    numbers = judges[0].precision
    tried = numbers.points(points(inputs, facts, ranges, [], 3 * count, far=min(FAR, numbers.far)))
    kept: list[Point] = []
    together = _Together(judges, inputs) if len(judges) > 1 else None
    for start in range(3):  # every third one first, so that all kinds of points are among the first
        for point in tried[start::3]:
            if len(kept) == count:
                break
            if together is not None:
                together.work_out(point)
            if _real_there(judges, point):
                kept.append(point)
    return kept


class _Together:
    """Many formulas at a point: what they have in common is worked out once, and each one alone only where that leaves its value open."""

    def __init__(self, judges: Sequence[Judge], inputs: Sequence[Name]) -> None:
        self._judges, self._inputs = judges, inputs
        self._enclosure = Enclosure(*[j.enclosure.root for j in judges])

    def work_out(self, point: Sequence[float]) -> None:
        missing, precision = [j for j in self._judges if j.is_open(point)], self._judges[0].precision
        if len(missing) < 2:
            return
        try:
            parts = self._enclosure.all_values({n: mpq(v) for n, v in zip(self._inputs, point, strict=True)}, BITS)
        except GelvoError:
            return
        found = [p for p in parts.values() if isinstance(p, Box)]
        if (
            any(p.imag is not None for p in found)
            or not all(_fits(p, precision) for p in found)
            or not _products_fit(self._enclosure.order, parts, precision)
        ):
            return
        for judge in missing:
            box = parts[judge.enclosure.root]
            if isinstance(box, Box) and (low := float(box.real.low)) == float(box.real.high) and _is_usual(low, precision):
                judge.learn(point, low)


def _is_usual(value: float, precision: Precision) -> bool:
    return not value or precision.smallest <= abs(value) <= precision.largest


def _real_there(judges: Sequence[Judge], point: Sequence[float]) -> bool:
    for judge in judges:
        value = judge.right(point)
        least = judge.precision.smallest
        if value is None or (not least * 1e10 < abs(value) < 1e-10 / least and value != 0):
            return False
    return True


def _right_value(
    enclosure: Enclosure, inputs: Sequence[Name], point: Sequence[float], numbers: Precision
) -> tuple[float, bool] | None:
    table = {n: mpq(v) for n, v in zip(inputs, point, strict=True)}
    for precision in (BITS, 400, 2000):
        try:
            parts = enclosure.all_values(table, precision)
        except GelvoError:
            return None
        box = parts[enclosure.root]
        if isinstance(box, NoValue):
            if box.certain:
                return None
            continue
        assert isinstance(box, Box)
        used = _used(enclosure, parts)
        if any(isinstance(p, Box) and p.imag is not None for p in used.values()):
            return None  # real in the end, but not on the way: doubles cannot follow
        low, high = float(box.real.low), float(box.real.high)
        if low == high or (box.real.contains_zero() and precision == 2000 and max(-low, high) < SMALLEST):
            if not _is_usual(low, numbers):
                return None
            misfits = [node for node, p in used.items() if isinstance(p, Box) and not _fits(p, numbers)]
            fit = (not misfits or set(misfits) <= _cancelled(enclosure.order, parts)) and _products_fit(
                enclosure.order, parts, numbers
            )
            return (low if low == high else 0.0), fit
    return None


def _used(enclosure: Enclosure, parts: Values) -> Values:
    """The parts that code works out: of cases only the one that holds."""
    if not any(isinstance(node, Cases) for node in enclosure.order):
        return parts
    found: dict[Node, Box | bool | NoValue] = {}
    waiting: list[Node] = [enclosure.root]
    while waiting:
        node = waiting.pop()
        if node in found or node not in parts:
            continue
        found[node] = parts[node]
        waiting += [*node.conditions, chosen(node, parts)] if isinstance(node, Cases) else node.children
    return found


def _fits(part: Box, precision: Precision) -> bool:
    """Whether a number can hold a part."""
    return part.real.high == 0 or bool(precision.smallest < abs(part.real.high) < 1 / precision.smallest)


def _cancelled(order: Sequence[Node], parts: Values) -> set[Node]:
    """Sums that are zero as far as anybody can see, and what they make zero: of counted constants such a sum leaves dust."""
    found: set[Node] = set()
    for node in order:
        own = parts[node]
        if not isinstance(own, Box) or max(abs(own.real.low), abs(own.real.high)) >= DUST:
            continue
        terms = [p for c in node.children if isinstance(p := parts.get(c), Box)] if isinstance(node, Sum) else []
        if any(abs(t.real.high) > SMALLEST for t in terms) or any(c in found for c in node.children):
            found.add(node)
    return found


def _products_fit(order: Sequence[Node], parts: Values, precision: Precision) -> bool:
    """Whether products are numbers in whatever order they are multiplied: their large factors together, and their small ones."""
    for node in order:
        if isinstance(node, Product):
            sizes = [gmpy2.get_exp(p.real.high) for f in node.factors if isinstance(p := parts[f], Box) and p.real.high]
            most = precision.exponents
            if sum(s for s in sizes if s > 0) > most or sum(s for s in sizes if s < 0) < -most:
                return False
    return True


def ulps(found: float, right: float, precision: Precision = DOUBLE) -> float:
    """The distance in units in the last place of the right value."""
    if found == right or (math.isnan(found) and math.isnan(right)):
        return 0.0
    if not math.isfinite(found) or not math.isfinite(right):
        return math.inf
    return abs(found - right) / precision.ulp(right)
