"""Inverse Laplace transforms: rational functions by partial fractions, each pole with its response, delays by shifts.

Source: G. Doetsch, "Introduction to the Theory and Application of the Laplace Transformation" (1974).
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac

from gelvo.calculus.found import Found
from gelvo.calculus.transforms.branch_points import of_branch_points
from gelvo.calculus.transforms.pattern import Unknown, as_exponentials, need_positive
from gelvo.calculus.transforms.pole_sums import response_of_roots
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import call, looks_negative, name, number, power, sqrt, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.facts.conditions import positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import Coefficients
from gelvo.functions.named import ABS, DIRAC_DELTA, EXP, HEAVISIDE, SIN, SINH, is_a
from gelvo.normal.prepare import prepared
from gelvo.simplifying.partial_fractions import Piece, simple_fractions, split_fraction


def inverse_laplace(e: Expression, s: Name, t: Name, facts: Facts) -> Found | None:
    """The function of t >= 0 whose Laplace transform is e: rational functions of s, times exp(-c*s).

    >>> from gelvo.expression.building import name
    >>> s, t = name("s"), name("t")
    >>> print(inverse_laplace(1 / (s + 2)**2, s, t, Facts()).value)
    t*exp(-2*t)
    """
    facts = facts.with_facts([t > ZERO]) if not facts.is_positive(t) else facts
    groups: dict[Expression, list[Expression]] = {}
    for piece in terms_of(expand(e)) if has_call(e, (EXP,), s) else [e]:
        factors = factors_in(piece)
        exponentials = [f for f in factors if is_a(f, EXP) and contains(f, s)]
        delay = ZERO
        for f in exponentials:
            parts = uni.linear_parts(expand(f.arguments[0]), s)
            if parts is not None:
                delay = delay - parts[0]
                piece = piece / EXP(parts[0] * s)
        groups.setdefault(delay, []).append(piece)
    results: list[Expression] = []
    conditions: dict[Condition, None] = {}
    for delay, pieces in groups.items():
        try:
            impulse, inner = _inverse_of(total(pieces), s, t, facts, conditions)
            if delay is not ZERO:
                need_positive(delay, facts, conditions)
        except (Unknown, DomainError):
            return None
        results.append(impulse * DIRAC_DELTA(t - delay))
        if delay is ZERO:
            results.append(inner)
            continue
        results.append(HEAVISIDE(t - delay) * substitute(inner, {t: t - delay}))
    return Found(total(results), tuple(conditions), "partial fractions and the pairs of simple poles")


def _inverse_of(
    e: Expression, s: Name, t: Name, facts: Facts, conditions: dict[Condition, None]
) -> tuple[Expression, Expression]:
    """(the weight of an impulse at 0, the function beside it): rational, or by a row for what has branch points."""

    def back(inner: Expression) -> Expression:
        weight, function = _inverse_of(inner, s, t, facts, conditions)
        if weight is not ZERO:
            raise Unknown
        return function

    try:
        return _inverse_rational(e, s, t, facts, conditions)
    except (Unknown, DomainError):
        pass
    try:
        return ZERO, of_branch_points(e, s, t, facts, back)
    except Unknown:
        terms = terms_of(expand(e))
        if len(terms) == 1:
            return _of_a_slope(e, s, t, back)
    found = [_inverse_of(term, s, t, facts, conditions) for term in terms]
    return total([w for w, _ in found]), total([f for _, f in found])


def _of_a_slope(e: Expression, s: Name, t: Name, back: Callable[[Expression], Expression]) -> tuple[Expression, Expression]:
    """s*F(s): an impulse of weight f(0), and the slope of f."""
    if s not in factors_in(e):
        raise Unknown
    f = back(e / s)
    start = substitute(f, {t: ZERO})
    return start, differentiate(f, t)


def _inverse_rational(
    e: Expression, s: Name, t: Name, facts: Facts, conditions: dict[Condition, None]
) -> tuple[Expression, Expression]:
    """(the weight of an impulse at 0, the function beside it)."""
    top, content, factors = split_fraction(factored(e), s)
    quotient, pieces = simple_fractions(top, content, factors)
    if len(quotient) > 1:
        raise Unknown
    return total(quotient), total([pole_response(piece, t, facts, conditions) for piece in pieces])


def pole_response(piece: Piece, t: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """The function of t for one simple fraction digit/base^k."""
    digit, base, k = piece
    if len(base) == 2:
        place = uni.lowest_terms(-base[0] / base[1])
        scale = digit[0] / power(base[1], number(k))
        return scale * power(t, number(k - 1)) / number(fac(k - 1)) * EXP(place * t)
    if len(base) == 3:
        return _quadratic_response(digit, base, k, t, facts, conditions)
    if k != 1:
        raise Unknown
    return response_of_roots(digit, base, t, facts)


def _quadratic_response(
    digit: Coefficients, base: Coefficients, k: int, t: Name, facts: Facts, conditions: dict[Condition, None]
) -> Expression:
    """(A*(s + h) + B)/((s + h)^2 + c)^k: damped waves for c > 0, exponentials for c < 0."""
    a = base[2]
    h = uni.lowest_terms(base[1] / (2 * a))
    c = uni.lowest_terms(base[0] / a - h * h)
    upper = [uni.lowest_terms(d / power(a, number(k))) for d in digit]
    slope = upper[1] if len(upper) > 1 else ZERO
    rest = uni.lowest_terms(upper[0] - slope * h)
    root = name("root of the quadratic", "positive")  # c = ±root^2, and d/dc = ±1/(2*root) d/d root
    if is_zero(c, facts):  # a double pole, by the facts: where it fell on another one, the fractions are not valid
        if any(
            isinstance(n, Power) and looks_negative(n.exponent) and is_zero(n.base, facts) for d in digit for n in postorder(d)
        ):
            raise Unknown
        ramp = power(t, number(2 * k - 1)) / number(fac(2 * k - 1))
        return EXP(-h * t) * (slope * differentiate(ramp, t) + rest * ramp)
    plain = expand(c)  # facts such as c^2 < 4*k*m are known of the sum
    overdamped = facts.is_negative(c) or facts.is_negative(plain)
    if not overdamped and not facts.is_positive(c) and not facts.is_positive(plain):
        conditions[positive(c)] = None
    g: Expression = call(SINH if overdamped else SIN, root * t) / root
    for m in range(1, k):
        g = number(1 if overdamped else -1) * differentiate(g, root) / (2 * root * m)
    whole = slope * differentiate(g, t) + rest * g
    if overdamped:  # two plain exponentials are easier to read than a damped hyperbolic wave
        whole = as_exponentials(whole)
    result = substitute(whole, {root: _either_root(-c if overdamped else c, facts)})
    return expand(EXP(-h * t) * result) if overdamped else EXP(-h * t) * result


def _either_root(c: Expression, facts: Facts) -> Expression:
    """A square root of either sign: sqrt(a^2) as a, for formulas that are even in it."""
    ready = prepared(sqrt(c), facts, waves=False)
    return transform(ready, lambda n: n.arguments[0] if is_a(n, ABS) else n)
