"""Elliptic integrals in Legendre's normal form.

Sources: A. Legendre, "Traité des fonctions elliptiques" (1825); DLMF 19.2, 19.29; the angle of the form without real zeros as in P. Byrd
and M. Friedman, "Handbook of Elliptic Integrals" (1971), 225 and 259.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.antiderivative.quadratic_root import rational_over_root
from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.conditions import positive
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ASIN, ATAN, COS, ELLIPEINC, ELLIPF, ELLIPPIINC, SIN
from gelvo.normal.prepare import prepared
from gelvo.simplifying.partial_fractions import simple_fractions, split_fraction


class Normal(NamedTuple):
    """The integrals of 1/s, of x^2/s and of 1/((x^2 - e)*s)."""

    first: Expression
    second: Expression
    conditions: tuple[Condition, ...]
    third: Callable[[Expression], Expression | None]


def legendre(over: Expression, radicand: Expression, coefficients: list[Expression], search: Search) -> Found | None:
    """B/sqrt(P) for a P of degree three or four, by a new variable in which P has even powers only."""
    x = search.variable
    if len(coefficients) == 5 and all(c is ZERO for c in coefficients[1::2]):
        return _even(over, coefficients[0], coefficients[2], coefficients[4], search)
    if len(coefficients) == 5:
        shift = uni.lowest_terms(-coefficients[3] / (4 * coefficients[4]))
        return _by_shift(over, radicand, shift, x, search)
    if len(coefficients) == 4:
        return _cubic(over, radicand, coefficients, search)
    return None


def of_angle(f: Expression, z: Name, phi: Expression, search: Search) -> Found | None:
    """f(z) with z = sin(phi)^2 and one square root of a + b*z, integrated over phi."""
    roots = [n for n in postorder(f) if isinstance(n, Power) and contains(n, z) and not n.exponent.is_whole]
    bases = list(dict.fromkeys(n.base for n in roots))
    line = uni.linear_parts(bases[0], z) if len(bases) == 1 else None
    if line is None or not all(n.exponent.is_rational and n.exponent.rational.denominator == 2 for n in roots):
        return None
    b, a = line
    if not search.facts.is_positive(a):
        return None
    parts = rational_over_root(f, bases[0], z)
    if parts is None or parts[0] is not ZERO:
        return None
    # x = sin(phi): dphi = dx/sqrt(1 - x^2), so that P = (1 - x^2)*(a + b*x^2)
    x = search.facts.new_name("x", f, phi)
    basis = _basis(substitute(parts[1], {z: x**2}), -b, b - a, a, search._replace(variable=x))
    if basis is None:
        return None
    exact, first, second, thirds = basis
    normal = _inside(ONE, uni.lowest_terms(-b / a), a, phi)
    back = {x: SIN(phi)}
    slope = COS(phi) * sqrt(a + b * SIN(phi) ** 2)
    terms = [substitute(exact, back) * slope, first * normal.first, second * normal.second]
    terms += [k * third for k, e in thirds if (third := normal.third(e)) is not None]
    return Found(total(terms), (), "elliptic integrals in Legendre's form")


def _by_shift(over: Expression, radicand: Expression, shift: Expression, x: Name, search: Search) -> Found | None:
    v = search.facts.new_name("v", over, radicand)
    moved = uni.coefficients_of(expand(substitute(radicand, {x: v + shift})), v)
    if moved is None or any(c is not ZERO for c in moved[1::2]):
        return None
    found = search.deeper(v, search.facts.known(x - shift))(
        factored(substitute(over, {x: v + shift})) / sqrt(uni.expression_of(moved, v))
    )
    if found is None:
        return None
    back = {v: x - shift}
    return Found(substitute(found.value, back), tuple(substitute(c, back) for c in found.conditions), found.road)


def _cubic(over: Expression, radicand: Expression, coefficients: list[Expression], search: Search) -> Found | None:
    """x = r + w*u^2 with a real zero r: the largest one for a positive leading coefficient."""
    x = search.variable
    places = [uni.lowest_terms(-p[1] / p[0]) for p in _lines(factored(radicand), x)]
    facts = search.facts
    lead = coefficients[3]
    sign = 1 if facts.is_positive(lead) else -1 if facts.is_negative(lead) else 0
    if not places or not sign or not all(isinstance(p, Number) and p.is_rational for p in places):
        return None
    r = max(places, key=lambda p: sign * p.rational)
    u = facts.new_name("u", over, radicand)
    place = r + sign * u**2
    inside = factored(expand(substitute(radicand, {x: place})) / u**2)
    found = search.deeper(u, bits.POSITIVE)(factored(substitute(over, {x: place}) * 2 * sign) / sqrt(expand(inside)))
    if found is None:
        return None
    back = {u: sqrt(sign * (x - r))}
    needed = () if facts.is_positive(sign * (x - r)) else (positive(sign * (x - r)),)
    return Found(substitute(found.value, back), (*needed, *(substitute(c, back) for c in found.conditions)), found.road)


def _lines(product: Expression, x: Name) -> list[tuple[Expression, Expression]]:
    found = [uni.linear_parts(base_and_exponent(g)[0], x) for g in factors_in(product)]
    return [p for p in found if p is not None]


def _even(over: Expression, c: Expression, b: Expression, a: Expression, search: Search) -> Found | None:
    """B(x^2)/sqrt(a*x^4 + b*x^2 + c)."""
    if search.facts.is_negative(c) and search.facts.is_positive(a):
        return _from_outside(over, c, b, a, search)
    normal = _normal(a, b, c, search)
    if normal is None:
        return None
    parts = _basis(over, a, b, c, search)
    if parts is None:
        return None
    exact, first, second, thirds = parts
    s = sqrt(a * search.variable**4 + b * search.variable**2 + c)
    terms = [exact * s, first * normal.first, second * normal.second]
    for factor, e in thirds:
        third = normal.third(e)
        if third is None:
            return None
        terms.append(factor * third)
    return Found(total(terms), normal.conditions, "elliptic integrals in Legendre's form")


def _from_outside(over: Expression, c: Expression, b: Expression, a: Expression, search: Search) -> Found | None:
    """Beyond all zeros, by u = 1/x: dx/sqrt(P(x)) = -du/sqrt(u^4*P(1/u))."""
    x = search.variable
    u = search.facts.new_name("u", over)
    found = _even(factored(substitute(over, {x: 1 / u})), a, b, c, search._replace(variable=u))
    if found is None:
        return None
    root = sqrt(c * u**4 + b * u**2 + a)
    value = substitute(found.value, {root: sqrt(a * x**4 + b * x**2 + c) / x**2})
    back = {u: 1 / x}
    pair = _reciprocal_zeros(c, b, a, search)
    beyond = () if pair is None else (positive(uni.lowest_terms(x**2 - pair[0])),)
    return Found(-substitute(value, back), (*beyond, *(substitute(k, back) for k in found.conditions)), found.road)


Parts = tuple[Expression, Expression, Expression, list[tuple[Expression, Expression]]]


def _basis(over: Expression, a: Expression, b: Expression, c: Expression, search: Search) -> Parts | None:
    """(Q, k_1, k_2, [(k, e)]): B = Q'*P + Q*P'/2 + k_1 + k_2*x^2 + sum of k/(x^2 - e)."""
    x = search.variable
    z = search.facts.new_name("z", over, a, b, c)
    inside = in_square(over, x, z)
    if inside is None:
        return None
    try:
        quotient, pieces = simple_fractions(*split_fraction(inside, z))
    except DomainError:
        return None
    exact: list[Expression] = []
    rest = list(quotient)
    # (x^(2k+1)*s)'*s = (2k+1)*x^(2k)*P + x^(2k+1)*P'/2
    for k in range(len(rest) - 3, -1, -1):
        factor = uni.lowest_terms(rest[k + 2] / (a * (2 * k + 3)))
        exact.append(factor * x ** (2 * k + 1))
        for j, weight in ((k + 2, a * (2 * k + 3)), (k + 1, b * (2 * k + 2)), (k, c * (2 * k + 1))):
            rest[j] = uni.lowest_terms(rest[j] - factor * weight)
    thirds = []
    for piece in pieces:
        if len(piece.base) != 2 or piece.exponent != 1:
            return None
        thirds.append((uni.lowest_terms(piece.digit[0] / piece.base[1]), uni.lowest_terms(-piece.base[0] / piece.base[1])))
    first, second = (rest[0] if rest else ZERO), (rest[1] if len(rest) > 1 else ZERO)
    at_zero = total([k for k, e in thirds if e is ZERO])  # 1/x^2 by (s/x)'*s = a*x^2 - c/x^2
    kept = [(k, e) for k, e in thirds if e is not ZERO]
    return total([*exact, -at_zero / c / x]), first, second + at_zero * a / c, kept


def in_square(e: Expression, x: Name, u: Name) -> Expression | None:
    """An even rational function of x in u = x^2; None for another one."""
    sides = []
    for side in quotient_parts(e):
        coefficients = uni.coefficients_of(side, x)
        if coefficients is None or any(k is not ZERO for k in coefficients[1::2]):
            return None
        sides.append(total([k * u**j for j, k in enumerate(coefficients[::2])]))
    return sides[0] / sides[1]


def _normal(a: Expression, b: Expression, c: Expression, search: Search) -> Normal | None:
    facts = search.facts
    gap = uni.lowest_terms(b * b - 4 * a * c)
    if facts.is_positive(c) and facts.is_negative(gap):
        return _without_zeros(a, b, c, search)
    # P = c*(1 - p*x^2)*(1 - q*x^2): p and q are the zeros of z^2 + (b/c)*z + a/c
    pair = _reciprocal_zeros(a, b, c, search)
    if pair is None or not facts.is_positive(c):
        return None
    p, q = pair
    if facts.is_positive(p):
        inside = 1 - p * search.variable**2
        needed = () if facts.is_nonpositive(q) or facts.is_positive(inside) else (positive(inside),)
        return _inside(p, q, c, ASIN(sqrt(p) * search.variable))._replace(conditions=needed)
    if facts.is_negative(p) and facts.is_negative(q):
        return _rising(-p, -q, c, search)
    return None


def _reciprocal_zeros(a: Expression, b: Expression, c: Expression, search: Search) -> tuple[Expression, Expression] | None:
    """(p, q) with P = c*(1 - p*x^2)*(1 - q*x^2), p the larger one where that is known, and positive where one is."""
    z = search.facts.new_name("z", a, b, c)
    product = factored(z**2 + b / c * z + a / c)
    lines = _lines(product, z)
    facts = search.facts
    if len(lines) == 2:
        zeros = [uni.lowest_terms(-q / p) for p, q in lines]
    else:
        gap = uni.lowest_terms(b * b - 4 * a * c)
        if not facts.is_positive(gap):
            return None
        root = prepared(sqrt(gap), facts, waves=False)
        zeros = [(-b + root) / (2 * c), (-b - root) / (2 * c)]
    one, other = zeros
    above = [facts.is_positive(one), facts.is_positive(other)]
    if facts.is_positive(other - one) or (above[1] and not above[0]) or (all(above) and other is ONE):
        one, other = other, one
    return one, other


def _inside(p: Expression, q: Expression, c: Expression, phi: Expression) -> Normal:
    """x = sin(phi)/sqrt(p), m = q/p."""
    front = 1 / sqrt(uni.lowest_terms(p * c))
    m = uni.lowest_terms(q / p)
    first = front * ELLIPF(phi, m)
    second = front * (ELLIPF(phi, m) - ELLIPEINC(phi, m)) / q

    def third(e: Expression) -> Expression:
        return -front / e * ELLIPPIINC(uni.lowest_terms(1 / (p * e)), phi, m)

    return Normal(first, second, (), third)


def _rising(p: Expression, q: Expression, c: Expression, search: Search) -> Normal | None:
    """P = c*(1 + p*x^2)*(1 + q*x^2), p > q: x = tan(phi)/sqrt(p), m = 1 - q/p."""
    x = search.variable
    root, front = sqrt(p), 1 / sqrt(uni.lowest_terms(p * c))
    phi, m = ATAN(root * x), uni.lowest_terms(1 - q / p)
    first = front * ELLIPF(phi, m)
    # tan(phi)*sqrt(1 - m*sin(phi)^2) = sqrt(p)*x*sqrt((1 + q*x^2)/(1 + p*x^2))
    ratio = root * x * sqrt((1 + q * x**2) / (1 + p * x**2))
    second = front * (ratio - ELLIPEINC(phi, m)) / q

    def third(e: Expression) -> Expression:
        n = uni.lowest_terms((1 + e * p) / (e * p))
        return -front / e * (ELLIPF(phi, m) / n + (1 - 1 / n) * ELLIPPIINC(n, phi, m))

    return Normal(first, second, (), third)


def _without_zeros(a: Expression, b: Expression, c: Expression, search: Search) -> Normal:
    """phi = 2*atan((a/c)^(1/4)*x), m = (1 - b/(2*sqrt(a*c)))/2."""
    x = search.variable
    mean = prepared(sqrt(uni.lowest_terms(a * c)), search.facts, waves=False)
    ratio = prepared(sqrt(uni.lowest_terms(a / c)), search.facts, waves=False)
    root = sqrt(ratio)
    phi, m = 2 * ATAN(root * x), uni.lowest_terms((1 - b / (2 * mean)) / 2)
    front = 1 / sqrt(mean)
    first = front * ELLIPF(phi, m) / 2
    s = sqrt(a * x**4 + b * x**2 + c)
    second = front / ratio * (ELLIPF(phi, m) / 2 - ELLIPEINC(phi, m)) + x * s / (mean + a * x**2)

    def third(e: Expression) -> Expression | None:
        del e
        return None

    return Normal(first, second, (), third)
