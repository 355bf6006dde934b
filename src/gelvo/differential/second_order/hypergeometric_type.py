"""Linear equations of second order with few singular places: solutions by the functions of Gauss and Kummer.

Three regular places, one of them infinity, give Gauss's function (B. Riemann, "Beiträge zur Theorie der durch die Gauss'sche Reihe
F(α, β, γ, x) darstellbaren Functionen", 1857); a regular place and an irregular infinity give Kummer's (E. Whittaker, "An expression
of certain known functions as generalized hypergeometric functions", 1903).
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator
from typing import NamedTuple

from gelvo.differential.problem import without_bars
from gelvo.differential.second_order.singular_places import degree, exponents, leading_at, leading_far_out, poles
from gelvo.expression.building import power, relation, sqrt
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Number
from gelvo.expression.traversal import contains, has_imaginary_unit, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import EXP, HYP0F1, HYP1F1, HYP2F1
from gelvo.functions.support import not_whole
from gelvo.simplifying.search import simplify

Pair = tuple[Expression, Expression]


GAUSS = "hypergeometric functions"


class Solutions(NamedTuple):
    """One or two independent solutions, what that needs, what is positive where they are written, and their functions."""

    found: list[Expression]
    needed: list[Condition]
    positive: list[Condition]
    functions: str


def hypergeometric_solutions(p: Expression, q: Expression, x: Name, facts: Facts) -> Iterator[Solutions]:
    """Solutions of y'' + p*y' + q*y = 0 with rational p and q, in each way that there is; those with two first.

    >>> from gelvo.expression.building import name
    >>> x, n = name("x"), name("n")
    >>> print(next(hypergeometric_solutions((1 - x)/x, n/x, x, Facts())).found[0])
    hyp1f1(-n, 1, x)
    """
    first, second = poles(p, x), poles(q, x)
    if first is None or second is None or any(k.order > 1 for k in first) or any(k.order > 2 for k in second):
        return
    places = list(dict.fromkeys(k.value for k in (*first, *second)))
    if any(has_imaginary_unit(c) for c in places):
        return
    if len(places) == 2 and all(e is ZERO or (degree(e, x) or 0) <= -k for e, k in ((p, 1), (q, 2))):
        three = [_place(p, q, x, c, facts) for c in (*places, None)]
        ways = [_by_gauss(a, b, c, x, facts) for a, b, c in itertools.permutations(three)]
        yield from sorted(itertools.chain.from_iterable(ways), key=lambda s: len(s.needed))
    elif len(places) < 2:
        centre = places[0] if places else _centre(p, q, x)
        if centre is not None:
            yield from _by_kummer(p, q, x, centre, facts)


def _apart(one: Expression, other: Expression, facts: Facts) -> list[Condition] | None:
    """What must hold for two exponents not to differ by a whole number; None where they do."""
    gap = uni.lowest_terms(one - other)
    if isinstance(gap, Number):
        return None if gap.is_whole else []
    if not names(gap):
        return []  # a square root that is left is no whole number
    return list(facts.open_conditions([not_whole(gap)]))


# --- Gauss ---------------------------------------------------------------------------------------------------------------------


class Regular(NamedTuple):
    """A regular singular place (None: infinity), and the exponents there."""

    place: Expression | None
    exponents: Pair


def _place(p: Expression, q: Expression, x: Name, c: Expression | None, facts: Facts) -> Regular:
    if c is None:
        return Regular(c, exponents(uni.lowest_terms(2 - leading_far_out(p, x, 1)), leading_far_out(q, x, 2), facts))
    return Regular(c, exponents(leading_at(p, x, c, 1), leading_at(q, x, c, 2), facts))


def _moved(zero: Regular, one: Regular, infinity: Regular, x: Name) -> Expression:
    """The quotient of linear functions that takes three places to 0, 1 and infinity."""
    a, b, c = zero.place, one.place, infinity.place
    above, below = (ONE if a is None else x - a), (ONE if c is None else x - c)
    if b is None:
        return uni.lowest_terms(above / below)
    return uni.lowest_terms(above / below / substitute(above / below, {x: b}))


def _by_gauss(zero: Regular, one: Regular, infinity: Regular, x: Name, facts: Facts) -> Iterator[Solutions]:
    """s^a*(1 - s)^g*F(…; s) with s 0, 1 and infinity at the three places: their exponents stay as they are."""
    s = _moved(zero, one, infinity, x)
    here, there, far = zero.exponents, one.exponents, infinity.exponents
    inside = [relation("<", ZERO, s), relation("<", ZERO, uni.lowest_terms(1 - s))]
    if any(facts.holds(c) is False for c in inside):
        return

    def upper(low: Expression, gauge: Expression) -> Pair:
        a, b = (uni.lowest_terms(low + gauge + e) for e in far)
        return a, b

    def solution(low: Expression, high: Expression, gauge: Expression) -> Expression:
        return power(s, low) * power(1 - s, gauge) * HYP2F1(*upper(low, gauge), uni.lowest_terms(1 + low - high), s)

    apart = _apart(*here, facts)
    if apart is not None:
        pair = [solution(here[0], here[1], there[0]), solution(here[1], here[0], there[0])]
        yield Solutions(pair, apart, inside, GAUSS)
    near, beyond = _larger_first(here), _larger_first(there)
    if near is None or beyond is None:
        return
    # the solution that is regular at one place, and the one that is regular at the other
    a, b = upper(near[0], beyond[0])
    front = power(s, near[0]) * power(1 - s, beyond[0])
    ends = ((near, s), (beyond, uni.lowest_terms(1 - s)))
    pair = [front * HYP2F1(a, b, uni.lowest_terms(1 + high - low), end) for (high, low), end in ends]
    endless = [c for e in (a, b) for c in _endless(e, facts)]
    yield Solutions(pair[:1], [], inside, GAUSS) if _ends(a) or _ends(b) else Solutions(pair, endless, inside, GAUSS)


def _larger_first(pair: Pair) -> Pair | None:
    """Two numbers, the larger one first; None where they are not told apart by size."""
    one, other = pair
    gap = uni.lowest_terms(one - other)
    if not (isinstance(gap, Number) and gap.is_rational):
        return None
    return (one, other) if gap.rational >= 0 else (other, one)


def _ends(a: Expression) -> bool:
    return isinstance(a, Number) and a.is_whole and bool(a.rational <= 0)


def _endless(a: Expression, facts: Facts) -> list[Condition]:
    """What must hold for a series not to end: then the solution that is regular at one place is not so at the other."""
    if isinstance(a, Number) or facts.is_positive(a):
        return []
    return list(facts.open_conditions([not_whole(a)]))


# --- Kummer --------------------------------------------------------------------------------------------------------------------


def _centre(p: Expression, q: Expression, x: Name) -> Expression | None:
    """Where q - p^2/4, a polynomial of degree 1 or 2, has its zero or its middle."""
    column = uni.coefficients_of(expand(q - p**2 / 4), x)
    if column is None or len(column) not in (2, 3):
        return None
    return uni.lowest_terms(-column[0] / column[1] if len(column) == 2 else -column[1] / (2 * column[2]))


class Expanded(NamedTuple):
    """p = p0 + p1/x and q = q0 + q1/x + q2/x^2."""

    p0: Expression
    p1: Expression
    q0: Expression
    q1: Expression
    q2: Expression


def _expanded(p: Expression, q: Expression, x: Name) -> Expanded | None:
    p1, q2 = leading_at(p, x, ZERO, 1), leading_at(q, x, ZERO, 2)
    p0, rest = factored(p - p1 / x), factored(q - q2 / x**2)
    q1 = leading_at(rest, x, ZERO, 1)
    q0 = factored(rest - q1 / x)
    return None if contains(p0, x) or contains(q0, x) else Expanded(p0, p1, q0, q1, q2)


def _by_kummer(p: Expression, q: Expression, x: Name, place: Expression, facts: Facts) -> Iterator[Solutions]:
    """s^a*exp(l*s)*M(…; k*s) with s = x - place."""
    s = x - place
    moved = {x: x + place}
    c = _expanded(factored(substitute(p, moved)), factored(substitute(q, moved)), x)
    solution = _kummer_solution(c, s, facts) if c is not None else None
    if c is None or solution is None:
        return
    here = exponents(c.p1, c.q2, facts)
    apart = _apart(*here, facts)
    above = [relation("<", ZERO, s)]
    ordered = _larger_first(here)
    if apart is not None:
        yield Solutions([solution(*here), solution(*here[::-1])], apart, above, "Kummer's functions")
    elif ordered is not None:
        yield Solutions([solution(*ordered)], [], above, "Kummer's functions")


def _kummer_solution(c: Expanded, s: Expression, facts: Facts) -> Callable[[Expression, Expression], Expression] | None:
    """The solution with one exponent, from it and the other one; None where it is not real, or has a shorter form."""
    gap = uni.lowest_terms(c.p0**2 - 4 * c.q0)
    if gap is ZERO:
        rate = uni.lowest_terms(-c.p0 / 2)
        slope = uni.lowest_terms(-(c.q1 + rate * c.p1))
        if slope is ZERO:
            return None
        return lambda low, high: power(s, low) * EXP(rate * s) * HYP0F1(uni.lowest_terms(1 + low - high), slope * s)
    if not facts.is_positive(gap):
        return None
    step = without_bars(simplify(sqrt(gap), facts).expression)
    rate = max((uni.lowest_terms((-c.p0 + sign * step) / 2) for sign in (-1, 1)), key=lambda r: r is ZERO)
    stretch = uni.lowest_terms(-(2 * rate + c.p0))

    def solution(low: Expression, high: Expression) -> Expression:
        a = uni.lowest_terms(-(2 * low * rate + c.p0 * low + c.p1 * rate + c.q1) / stretch)
        return power(s, low) * EXP(rate * s) * HYP1F1(a, uni.lowest_terms(1 + low - high), stretch * s)

    return solution
