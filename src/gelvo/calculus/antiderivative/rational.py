"""Rational functions: partial fractions over factors of degree one and two.

Source: M. Bronstein, "Symbolic Integration I" (1997), chapter 2, for the reduction; the factors come from the polynomial engine.
"""

from __future__ import annotations

from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Condition, Expression, Number, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, transform
from gelvo.facts.conditions import positive
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.forms.univariate import Coefficients
from gelvo.functions.named import ABS, ATAN, is_a
from gelvo.normal.prepare import prepared
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor
from gelvo.simplifying.factoring import factor_over_reals
from gelvo.simplifying.partial_fractions import simple_fractions


def integrate_rational(f: Expression, search: Search) -> Found | None:
    """(6*x + 7)/(x + 2)^2  ->  6*ln(abs(x + 2)) + 5/(x + 2)"""
    x = search.variable
    parts = _numerator_and_factors(f, search)
    if parts is None:
        return None
    quotient, pieces = simple_fractions(*parts)
    terms = [c * x ** (k + 1) / (k + 1) for k, c in enumerate(quotient)]
    conditions: list[Condition] = []
    for digit, base, exponent in pieces:
        piece = _one(digit, base, exponent, search, conditions)
        if piece is None:
            return None
        terms.append(piece)
    return Found(total(terms), tuple(dict.fromkeys(conditions)), "partial fractions")


def _numerator_and_factors(
    f: Expression, search: Search
) -> tuple[Coefficients, Expression, list[tuple[Coefficients, int]]] | None:
    x = search.variable
    form = Form([f])
    for base, unit in form.generators:
        if base is not x and not (search.free(base) and search.free(unit)):
            return None
        if base is x and (unit is not ONE or form.roots_of[(base, unit)] != 1):
            return None
    quotient = form.of(f)
    top, bottom = form.lowest_terms(quotient)
    if sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return None
    upper = uni.coefficients_of(form.expression(top), x)
    content, pieces = factor(bottom)
    outer: Expression = number(content)
    factors: list[tuple[Coefficients, int]] = []
    for piece, k in pieces:
        coefficients = uni.coefficients_of(form.expression(piece), x)
        if coefficients is None:
            return None
        if len(coefficients) == 1:
            outer = outer * power(coefficients[0], number(k))
        elif len(coefficients) > 3 and k > 1:
            return None
        else:
            factors.append((coefficients, k))
    return None if upper is None else (upper, outer, factors)


def _one(top: Coefficients, base: Coefficients, k: int, search: Search, conditions: list[Condition]) -> Expression | None:
    """The antiderivative of top / base^k with base of degree one or two."""
    x = search.variable
    p = uni.expression_of(base, x)
    if len(base) > 3:
        return over_reals(top, base, search)
    if len(base) == 2:
        a = base[1]
        conditions.extend(search.nonzero(a))
        if k == 1:
            return top[0] / a * search.logarithm(p)
        return top[0] / (a * (1 - k)) * power(p, number(1 - k))
    c, b, a = base
    m, n = (top[1] if len(top) > 1 else ZERO), top[0]
    conditions.extend(search.nonzero(a))
    result: Expression = ZERO
    if m is not ZERO:
        result = m / (2 * a) * (search.logarithm(p) if k == 1 else power(p, number(1 - k)) / (1 - k))
        n = uni.lowest_terms(n - m * b / (2 * a))
    if n is ZERO:
        return result
    inverse = _inverse_quadratic(a, b, c, k, search, conditions)
    return None if inverse is None else result + n * inverse


def _inverse_quadratic(
    a: Expression, b: Expression, c: Expression, k: int, search: Search, conditions: list[Condition]
) -> Expression | None:
    """The antiderivative of 1/(a*x^2 + b*x + c)^k."""
    x = search.variable
    p, slope = a * x**2 + b * x + c, 2 * a * x + b
    gap = uni.lowest_terms(4 * a * c - b * b)
    if not search.facts.decide(gap) & ~bits.NIL:  # by the facts a square: p = slope^2/(4*a)
        return power(4 * a, number(k)) * power(slope, number(1 - 2 * k)) / (2 * (1 - 2 * k) * a)
    if k > 1:
        inner = _inverse_quadratic(a, b, c, k - 1, search, conditions)
        if inner is None:
            return None
        conditions.extend(search.nonzero(gap))
        return slope / ((k - 1) * gap * p ** (k - 1)) + 2 * (2 * k - 3) * a / ((k - 1) * gap) * inner
    if search.facts.is_negative(gap):
        root = sqrt(-gap)
        return (search.logarithm(slope - root) - search.logarithm(slope + root)) / root
    if not search.facts.is_positive(gap):
        conditions.append(positive(gap))
    root = sqrt(gap)
    shared = _shared_root(gap, search)
    if shared is not None:
        root = shared
    return 2 / root * ATAN(uni.lowest_terms(slope / root))


def _shared_root(gap: Expression, search: Search) -> Expression | None:
    """sqrt(4*a^2) as 2*a for a real a: atan(u/a)/a holds for either sign of a."""
    root = sqrt(gap)
    ready = prepared(root, search.facts, waves=False)
    return transform(ready, lambda n: n.arguments[0] if is_a(n, ABS) else n)


def over_reals(top: Coefficients, base: Coefficients, search: Search) -> Expression | None:
    """An irreducible denominator of higher degree, split into real factors of degree one and two with square roots."""
    known = _by_letters(base, search) or _real_pieces(base, search)
    if known is None:
        return None
    leading = base[-1] / multiply_all([p[-1] for p in known])
    terms: list[Expression] = []
    conditions: list[Condition] = []
    for piece in known:
        digit = _digit_over(piece, top, leading, [p for p in known if p is not piece])
        found = _one(digit, piece, 1, search, conditions) if digit else ZERO
        if found is None or conditions:
            return None
        terms.append(found)
    return total(terms)


def _real_pieces(base: Coefficients, search: Search) -> list[Coefficients] | None:
    """The real factors of a polynomial with rational coefficients, where all have degree one or two and square roots."""
    x = search.variable
    if not all(isinstance(c, Number) and c.is_rational for c in base):
        return None
    try:
        product = factor_over_reals(uni.expression_of(base, x))
    except DomainError:
        return None
    listed = [f for f in factors_in(product) if contains(f, x)]
    if any(isinstance(n, AlgebraicNumber) for n in postorder(product)):
        return None
    pieces = [uni.coefficients_of(expand(f), x) for f in listed]
    if any(p is not None and _has_roots_in_a_cube_root(*p) for p in pieces):  # the digits over them would fill pages
        return None
    if any(p is None or not 2 <= len(p) <= 3 for p in pieces) or sum(len(p) - 1 for p in pieces if p) != len(base) - 1:
        return None
    return [p for p in pieces if p]


def _has_roots_in_a_cube_root(*coefficients: Expression) -> bool:
    """Whether a root of order three or more is taken of another root."""
    powers = [n for c in coefficients for n in postorder(c) if isinstance(n, Power) and not n.exponent.is_whole]  # of numbers
    inner = set(powers)
    return any(p.exponent.rational.denominator > 2 and any(n in inner for n in postorder(p.base)) for p in powers)


def _by_letters(base: Coefficients, search: Search) -> list[Coefficients] | None:
    """x^4 + b*x^2 + c = (x^2 + r)^2 - (2*r - b)*x^2 with r = sqrt(c), for letters that make it so."""
    if len(base) != 5 or base[1] is not ZERO or base[3] is not ZERO or all(isinstance(k, Number) for k in base):
        return None
    b, c = (uni.lowest_terms(base[k] / base[4]) for k in (2, 0))
    facts = search.facts
    if not facts.is_positive(c) or not facts.is_negative(uni.lowest_terms(b * b - 4 * c)):
        return None
    r = prepared(sqrt(c), facts, waves=False)
    p = prepared(sqrt(uni.lowest_terms(2 * r - b)), facts, waves=False)
    return [[r, p, ONE], [r, -p, ONE]]


def _digit_over(piece: Coefficients, top: Coefficients, leading: Expression, others: list[Coefficients]) -> Coefficients:
    """What stands over one factor in the partial fractions of top/(leading*piece*others)."""
    product: Coefficients = [leading]
    for other in others:
        product = uni.divide(uni.multiply(product, other), piece)[1]
    inverse = uni.inverse_modulo(product, piece)
    digit = uni.divide(uni.multiply(uni.divide(top, piece)[1] if len(top) >= len(piece) else top, inverse), piece)[1]
    return uni.trim([rationalize_denominator(d) for d in digit])
