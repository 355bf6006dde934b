"""roots_between and solve_numerically: numbers with their residuals."""

from __future__ import annotations

import warnings
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any

import gmpy2
from gmpy2 import mpq

from gelvo.calculus.zeros import NotKnown, zeros_between
from gelvo.deciding.equality import decide_zero, is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation import value as evaluation
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.value import Value
from gelvo.expression.building import number, relation
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Node, Number, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, names, postorder, substitute
from gelvo.facts.statements import fact_condition, is_about
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import COT, CSC, SEC, TAN
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic
from gelvo.operations.inputs import one_expression, take
from gelvo.simplifying.expressing import express
from gelvo.solving.brackets import Zero, certified_zeros
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
    return [_in_digits(z) for z in candidates if _is_root(f, x, z, needed, facts)]


def _in_digits(place: Expression) -> Expression | Value:
    """A place without closed form as 30 digits."""
    without_form = any(isinstance(n, Written) and n.kind == "root_of" for n in postorder(place))
    return evaluation.value(place, 30) if without_form else place


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
            found += [_in_digits(z) for z in zeros_between(base, x, low, high, facts) if _is_root(f, x, z, needed, facts)]
        except NotKnown:
            start, stop = (mpq(Enclosure(e).at({}, 200).real.low) for e in (low, high))
            for zero in certified_zeros(base, x, start, stop):
                z = _shown(zero)
                if isinstance(z, Expression) and not isinstance(z, Value) and not _is_root(f, x, z, needed, facts):
                    continue
                if not any(facts.holds(_at(c, x, z)) is False for c in needed):
                    found.append(z)
    for z in found:
        if isinstance(z, Value) and any(_may_vanish(base, x, z) for base in below):
            raise NotSolved(f"near {x} = {z} numerator and denominator vanish together, or nearly so")
    return sorted(dict.fromkeys(found), key=float)


def _shown(zero: Zero) -> Expression | Value:
    return number(zero.place) if zero.exact else Value(_thirty_digits(zero.place), None, 30, zero.bounded)


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
