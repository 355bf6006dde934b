"""An integrand and its mirror images between two ends: the mean of both may be simpler.

Source: J. Edwards, "A Treatise on the Integral Calculus", volume 1 (1921), chapter 10; the images by quotients are involutions of the line.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.deciding.equality import decide_zero
from gelvo.evaluation.plain_floats import plain_function
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, fresh_name, has_call, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN, LN
from gelvo.numbers.interval import NoValue
from gelvo.simplifying.search import simplify


def reflected(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Iterator[Expression]:
    """The means of f and its mirror images between the ends, where those are simpler than f, or real while f is not."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return
    inside = facts.with_facts([lower < x, x < upper])
    for place in (lower + upper - x, *quotients_between(f, x, lower, upper, inside)):
        slope = differentiate(place, x)
        both = simplify(f - factored(slope) * substitute(f, {x: place}), inside).expression
        if contains(both, x) and decide_zero(differentiate(both, x), facts).zero:  # a constant that simplifying does not see
            both = substitute(both, {x: (lower + upper) / 2})
        size, before = (sum(contains(part, x) for part in postorder(e)) for e in (both, f))
        calls = [sum(isinstance(part, Call) and contains(part, x) for part in postorder(e)) for e in (both, f)]
        simpler = size < 0.7 * before or (size <= before and (calls[0] < calls[1] or not contains_x_plainly(both, x)))
        if simpler or (has_imaginary_unit(f) and not has_imaginary_unit(both)):
            yield both / 2


def quotients_between(f: Expression, x: Name, lower: Expression, upper: Expression, inside: Facts) -> Iterator[Expression]:
    """(p*x + q)/(r*x - p), which swaps the ends, and the zeros of a square that stands below: (1 - x)/(1 + x) for x^2 + 1 from 0 to 1."""
    if not has_call(f, (LN, ATAN), x):
        return
    for g in factors_in(f):
        base, k = base_and_exponent(g)
        parts = uni.coefficients_of(base, x) if inside.is_negative(k) else None
        if parts is None or len(parts) != 3:
            continue
        p = factored(lower * upper - parts[0] / parts[2])
        r = factored(lower + upper + parts[1] / parts[2])
        if r is not ZERO and (inside.is_positive(r * x - p) or inside.is_negative(r * x - p)):
            place = factored((p * x + r * lower * upper - p * (lower + upper)) / (r * x - p))
            if contains(place, x):  # a zero of the square at an end leaves a constant
                yield place


def has_an_image(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> bool:
    """Whether a quotient of lines swaps the ends and the zeros of a square below."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return False
    return next(quotients_between(f, x, lower, upper, facts.with_facts([lower < x, x < upper])), None) is not None


PLACES = (0.137, 0.291, 0.383, 0.442)  # shares of the way


def has_a_constant_mean(f: Expression, x: Name, lower: Expression, upper: Expression) -> bool:
    """Whether the mean of f and its mirror image is the same number at a few places: a hint, by plain floats."""
    if isinstance(lower, Bound) or isinstance(upper, Bound) or names(lower, upper) or set(names(f)) != {x}:
        return False
    work, *ends = (plain_function(e, x) for e in (f, lower, upper))
    if work is None or None in ends:
        return False
    try:
        low, high = (end(0.0) for end in ends if end is not None)
        means = [work(low + s * (high - low)) + work(high - s * (high - low)) for s in PLACES]
    except NoValue:
        return False
    return all(abs(m - means[0]) <= 1e-9 * (1 + abs(m)) for m in means)


def contains_x_plainly(e: Expression, x: Name) -> bool:
    """Whether x stands outside of every function."""
    waves = [n for n in postorder(e) if isinstance(n, Call) and contains(n, x)]
    return contains(substitute(e, {w: fresh_name("v", e) for w in waves}), x)
