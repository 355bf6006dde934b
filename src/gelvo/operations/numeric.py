"""roots_between and solve_numerically: numbers with their residuals."""

from __future__ import annotations

import itertools
import warnings
from collections.abc import Iterable, Iterator, Mapping, Sequence
from fractions import Fraction
from typing import TYPE_CHECKING, Any

import gmpy2
from gmpy2 import mpq

from gelvo.calculus.zeros import NotKnown, zeros_between
from gelvo.deciding.equality import decide_zero, is_zero, prove_zero
from gelvo.errors import DomainError, NotSolved, Undecided
from gelvo.evaluation import agreement
from gelvo.evaluation import value as evaluation
from gelvo.evaluation.enclose import Enclosure, sign_at
from gelvo.evaluation.value import Value
from gelvo.expression.building import number, relation
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Node, Number, Sum, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, names, postorder, substitute
from gelvo.facts.statements import fact_condition, is_about
from gelvo.facts.store import Facts
from gelvo.forms import univariate
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import COT, CSC, SEC, TAN
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic
from gelvo.operations.inputs import one_expression, take
from gelvo.simplifying.expressing import express
from gelvo.solving.putting_back import follows, real_conditions

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

MOST_PIECES = 3000
POLES = (TAN, COT, SEC, CSC)
SMALLEST = mpq(1, 10**33)


def roots_between(expression: Any, variable: Any, lower: Any, upper: Any, given: Iterable[Any] = ()) -> list[Expression | Value]:
    """All real zeros of a formula between two numbers, certified.

    Returns them in rising order: exact expressions where they have a form, else a Value of 30 digits (.bounded tells whether error
    bounds or the agreement of two precisions prove them). Places where the formula has no real value are no zeros.
    Raises NotSolved where it could not be made sure that none is missing, or where the formula vanishes everywhere.

    >>> import gelvo
    >>> gelvo.roots_between("x^3 - 2*x", "x", -2, 1)
    [-sqrt(2), 0]
    >>> gelvo.roots_between("cos(x) - x", "x", 0, 2)
    [0.739085133215160641655312087674]
    """
    arguments = take(expression, lower, upper, variables=[variable], given=given)
    value = arguments.values[0]
    f = one_expression(value.left - value.right if isinstance(value, Equation) else value)
    low, high = (one_expression(v) for v in arguments.values[1:])
    (x,) = arguments.names
    if names(low, high) or [n for n in names(f) if n is not x]:
        raise DomainError("roots_between needs numbers: put values in for the other letters")
    endless = next((end for end in (low, high) if isinstance(end, Bound)), None)
    if endless is not None:
        raise DomainError(f"roots_between looks between two numbers, and {endless} is none")
    facts = arguments.facts.without(x)
    if facts.holds(relation("<=", low, high)) is False:
        raise DomainError(f"no number lies between {low} and {high}: the lower end comes first")
    if is_zero(f, facts):
        raise NotSolved(f"the formula is zero for every {x}")
    about = [c for c in (fact_condition(g) for g in arguments.facts.given if is_about(g, x)) if c is not None]
    written = value.conditions if isinstance(value, Equation) else ()
    needed = [*about, *written, *real_conditions(f, x, facts)]
    try:
        candidates = zeros_between(f, x, low, high, facts)
    except NotKnown:
        return _by_factors(f, x, low, high, needed, facts)
    return [z for z in candidates if _is_root(f, x, z, needed, facts)]


def _by_factors(
    f: Expression, x: Name, low: Expression, high: Expression, needed: Iterable[Condition], facts: Facts
) -> list[Expression | Value]:
    """The zeros of each factor of the numerator, exact or by brackets, where no denominator vanishes."""
    product = factored(express(f, "sin, cos") if has_call(f, POLES) else f)
    found: list[Expression | Value] = []
    below: list[Expression] = []
    for factor in factors_in(product):
        base, exponent = base_and_exponent(factor)
        if not contains(base, x):
            continue
        if not (isinstance(exponent, Number) and exponent.is_rational and exponent.rational > 0):
            below.append(base)
            continue
        try:
            found += [z for z in zeros_between(base, x, low, high, facts) if _is_root(f, x, z, needed, facts)]
        except NotKnown:
            for z in _bracketed(base, x, low, high):
                if not any(facts.holds(_at(c, x, z)) is False for c in needed):
                    found.append(z)
    for z in found:
        if isinstance(z, Value) and any(_may_vanish(base, x, z) for base in below):
            raise NotSolved(f"near {x} = {z} numerator and denominator vanish together, or nearly so")
    return sorted(dict.fromkeys(found), key=float)


def _may_vanish(base: Expression, x: Name, place: Value) -> bool:
    a = arithmetic(100)
    near, width = mpq(place.real), mpq(1, 10**24)
    box = Box(Interval(a.rational(near - width).low, a.rational(near + width).high))
    try:
        return Enclosure(base).at({x: box}, 100).contains_zero()
    except NoValue:
        return True


def _is_root(f: Expression, x: Name, place: Expression, needed: Iterable[Condition], facts: Facts) -> bool:
    """Whether a place where f may vanish or break is a zero of it."""
    try:
        if any(follows(substitute(c, {x: place}), facts) is False for c in needed):
            return False
        zero = decide_zero(substitute(f, {x: place}), facts).zero
    except DomainError:  # no value there
        return False
    if zero is None:
        raise NotSolved(f"it could not be told whether {x} = {place} is a zero")
    return zero


def _at(condition: Condition, x: Name, place: Value | Expression) -> Condition:
    return substitute(condition, {x: place if isinstance(place, Expression) else number(mpq(place.real))})


def _of_monotone(f: Expression, x: Name, left: mpq, right: mpq, bounded: bool) -> dict[mpq, Expression | Value] | None:
    """The zeros of a formula that only rises or only falls, by their places; None where a sign at an end is not decided."""
    try:
        signs = [_sign(f, x, e) for e in (left, right)]
    except (DomainError, Undecided):
        return None
    found: dict[mpq, Expression | Value] = {e: number(e) for e, s in zip((left, right), signs, strict=True) if s == 0}
    if signs[0] * signs[1] < 0:
        place = _refined(f, x, left, right, signs[0])
        if isinstance(place, Number):
            found[place.rational] = place
        else:
            found[place] = Value(_thirty_digits(place), None, 30, bounded)
    return found


def _bracketed(f: Expression, x: Name, low: Expression, high: Expression) -> list[Expression | Value]:
    """Zeros of a smooth formula: pieces without a zero by bounds, pieces where it is monotone by the bounds of its derivative."""
    a = arithmetic(100)
    function, slope, lone = Enclosure(f), _slope(f, x), _lone_function(f, x)
    start, stop = (mpq(Enclosure(e).at({}, 200).real.low) for e in (low, high))
    places = [start, *_breaks(f, x, start, stop), stop]
    work = [(left, right, 0) for left, right in itertools.pairwise(places)]
    found: dict[mpq, Expression | Value] = {}
    pieces = 0
    while work:
        left, right, depth = work.pop()
        pieces += 1
        box = Box(Interval(a.rational(left).low, a.rational(right).high))
        try:
            slopes = slope.at({x: box}, 100) if slope is not None else None
        except NoValue:
            slopes = None
        if _without_zero(function, slopes, x, box, (left + right) / 2):
            continue
        monotone = slopes is not None and slopes.imag is None and not slopes.contains_zero()
        if monotone or (lone is not None and _one_way(lone, x, box)):
            zeros = _of_monotone(f, x, left, right, function.bounded)
            if zeros is not None:
                found.update(zeros)
                continue
        if depth > 40 or pieces > MOST_PIECES:
            raise NotSolved(f"near {x} = {float(left):.6g} it could not be told whether there is a zero (a double one, perhaps)")
        middle = (left + right) / 2
        work += [(left, middle, depth + 1), (middle, right, depth + 1)]
    return [found[place] for place in sorted(found)]


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
    slope = differentiate(f, x)
    return None if any(isinstance(n, Written) for n in postorder(slope)) else Enclosure(slope)


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


def _thirty_digits(place: mpq) -> str:
    context = gmpy2.context(precision=140)
    return evaluation.value(number(mpq(context.plus(place))), 30).real


class NumericSolution(Mapping[str, float]):
    """Numbers by name, with .residuals (how far each equation is off) and .table() for a reader."""

    def __init__(self, values: dict[str, float], residuals: dict[str, float]) -> None:
        self._values, self.residuals = values, residuals

    def __getitem__(self, name: Any) -> float:
        return self._values[str(getattr(name, "name", name))]

    def __iter__(self) -> Iterator[str]:
        return iter(self._values)

    def __len__(self) -> int:
        return len(self._values)

    def table(self) -> str:
        """One line an equation: its text and the residual there."""
        width = max((len(k) for k in self.residuals), default=0)
        return "\n".join(f"{k.ljust(width)}  {v: .3e}" for k, v in self.residuals.items())

    def __str__(self) -> str:
        return ", ".join(f"{k} = {v:.12g}" for k, v in self._values.items())

    __repr__ = __str__


def numeric_solution(
    equations: object, unknowns: object, start: Mapping[Any, object] | None = None, values: Mapping[Any, object] | None = None,
    given: Iterable[object] = (),
) -> NumericSolution:  # fmt: skip
    """Numbers for equations, from first guesses, with the residual of each equation."""
    listed = list(equations) if isinstance(equations, (list, tuple)) else [equations]
    wanted = list(unknowns) if isinstance(unknowns, (list, tuple)) else [unknowns]
    numbers = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    arguments = take(*listed, *numbers.values(), variables=wanted, given=given)
    read = [v.left - v.right if isinstance(v, Equation) else one_expression(v) for v in arguments.values[: len(listed)]]
    table = dict(zip(numbers, arguments.values[len(listed) :], strict=True))
    inside = [substitute(e, {n: table[n.name] for n in names(e) if n.name in table}) for e in read]
    variables = list(arguments.names)
    missing = [n for e in inside for n in names(e) if n not in variables]
    if missing:
        raise DomainError(f"numbers are needed for {', '.join(dict.fromkeys(n.name for n in missing))}: values={{…}}")
    if len(inside) != len(variables):
        raise DomainError(f"{len(inside)} equations for {len(variables)} unknowns: a numeric solution needs as many")
    guesses = {str(getattr(k, "name", k)): _first_guess(k, v) for k, v in (start or {}).items()}
    found = _newton(inside, listed, variables, [guesses.get(v.name, 1.0) for v in variables])
    point: dict[Node, Expression] = {v: number(mpq(found[v.name])) for v in variables}
    stated = [fact_condition(f) for f in arguments.facts.given]
    free = arguments.facts.without_all(variables)
    for condition in [*stated, *(c for e in inside for v in variables for c in real_conditions(e, v, arguments.facts))]:
        if condition is not None and free.holds(substitute(condition, point)) is False:
            raise NotSolved(f"{found} was reached, which is against {condition}: give other first guesses with start={{…}}")
    return found


def _first_guess(name: object, guess: Any) -> float:
    try:
        return float(guess)
    except (TypeError, ValueError, DomainError):
        raise DomainError(f"a first guess is a number, and that for {name} is {guess}") from None


def _converged(inside: list[Expression], variables: list[Name], place: NDArray[float64], residuals: NDArray[float64]) -> bool:
    """Whether the residuals are as small as rounding leaves them: beside the slopes there, which vanish where a formula only dies away."""
    import numpy

    if not numpy.isfinite(place).all() or float(numpy.abs(residuals).max()) > 1e-9 * max(1.0, float(numpy.abs(place).max())):
        return False
    point = {v: mpq(float(p)) for v, p in zip(variables, place, strict=True)}
    try:
        slopes = numpy.array([[float(Enclosure(differentiate(e, v)).at(point, 100).real.low) for v in variables] for e in inside])
        step = numpy.linalg.lstsq(slopes, -numpy.array(residuals), rcond=None)[0]
    except (NoValue, DomainError, numpy.linalg.LinAlgError):
        return True
    return bool(float(numpy.abs(step).max()) <= 1e-6 * max(1.0, float(numpy.abs(place).max())))


def _newton(inside: list[Expression], shown: Sequence[object], variables: list[Name], start: list[float]) -> NumericSolution:
    import numpy
    from scipy.optimize import root

    enclosures = [Enclosure(e) for e in inside]

    def work(place: NDArray[float64]) -> NDArray[float64]:
        if not numpy.isfinite(place).all():
            return numpy.full(len(inside), 1e6)
        point = {v: mpq(float(p)) for v, p in zip(variables, place, strict=True)}
        try:
            found = [e.at(point, 100) for e in enclosures]
        except NoValue:
            return numpy.full(len(inside), 1e6)
        if any(b.imag is not None and not b.imag.contains_zero() for b in found):
            return numpy.full(len(inside), 1e6)  # no real value there
        return numpy.array([float(b.real.low) for b in found])

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        found = root(work, numpy.array(start), method="hybr", options={"xtol": 1e-13})
    residuals = work(found.x)
    if not _converged(inside, variables, found.x, residuals):
        raise NotSolved(
            f"no solution was reached from {', '.join(f'{v} = {s:g}' for v, s in zip(variables, start, strict=True))}: "
            "give other first guesses with start={…}"
        )
    values = {v.name: float(p) for v, p in zip(variables, found.x, strict=True)}
    return NumericSolution(values, {str(e): float(r) for e, r in zip(shown, residuals, strict=True)})
