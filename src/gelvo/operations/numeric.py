"""roots_between: all zeros of a formula between two numbers, certified."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

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
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, names, substitute, zeros_in
from gelvo.facts.statements import fact_condition, is_about
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.functions.named import COT, CSC, SEC, TAN
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic
from gelvo.operations.inputs import one_expression, take
from gelvo.simplifying.expressing import express
from gelvo.solving.brackets import Zero, at_end, certified_zeros, outwards
from gelvo.solving.putting_back import follows, real_conditions

POLES = (TAN, COT, SEC, CSC)


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
    without_form = bool(zeros_in(place))
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
            for zero in certified_zeros(base, x, outwards(low, -1), outwards(high, 1)):
                z = at_end(base, x, zero, (low, high)) or _shown(zero)
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
