"""Substitutions that turn an integrand into a rational function: exponentials, roots of linear fractions, waves.

Sources: C. Bioche's rules for rational functions of sine and cosine (1902) and the half-angle substitution; jumps are taken out of
atan(c*tan(u)) as in D. Jeffrey, "The evaluation of rational trigonometric integrals" (1994).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from math import lcm

from gmpy2 import gcd as integer_gcd
from gmpy2 import mpq

from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.expression import known as bits
from gelvo.expression.building import call, number, power, relation, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Number, Power, Product
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import (
    ACOS,
    ACOSH,
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    CBRT,
    COS,
    COSH,
    COTH,
    CSCH,
    EXP,
    LN,
    SECH,
    SIN,
    SINH,
    SINHC,
    TAN,
    TANH,
    is_a,
)
from gelvo.normal.undoing import UNDONE
from gelvo.normal.waves_of_one_angle import OneAngle, _whole, even_part, one_angle


def _back(found: Found | None, u: Name, value: Expression, road: str, more: tuple[Condition, ...] = ()) -> Found | None:
    if found is None:
        return None
    conditions = tuple(substitute(c, {u: value}) for c in found.conditions)
    return Found(substitute(found.value, {u: value}), (*conditions, *more), f"{road}; {found.road}")


# --- exponentials -------------------------------------------------------------------------------------------------------------


LARGEST_DEGREE = 16  # of exp(7*x/4) beside exp(x/3): the factors of what is longer have no short roots


def exponential_rational(f: Expression, search: Search) -> Found | None:
    """A rational function of exp(a*x), hyperbolic functions among them: u = exp(a*x)."""
    x = search.variable
    f = _as_exponentials(f, x)
    rates: list[Expression] = []
    for node in postorder(f):
        exponent = _exponent_of(node, x)
        if exponent is not None:
            parts = uni.linear_parts(exponent, x)
            if parts is None:
                return None
            rates.append(parts[0])
    if not rates:
        return None
    multiples = [uni.lowest_terms(r / rates[0]) for r in rates]
    if not all(isinstance(m, Number) and m.is_rational for m in multiples):
        return None
    shares = [m.rational for m in multiples]
    unit = (
        mpq(integer_gcd(*[int(s * lcm(*[int(q.denominator) for q in shares])) for s in shares]))
        / lcm(*[int(q.denominator) for q in shares])
        if len(shares) > 1
        else abs(shares[0])
    )
    if max(abs(s) for s in shares) > LARGEST_DEGREE * abs(unit):
        return None
    rate = rates[0] * number(abs(unit))
    u = search.facts.new_name("u", f)
    table: dict[Node, Expression] = {}
    for node in postorder(f):
        exponent = _exponent_of(node, x)
        if exponent is not None:
            parts = uni.linear_parts(exponent, x)
            assert parts is not None
            k = uni.lowest_terms(parts[0] / rate)
            table[node] = power(u, k) * EXP(parts[1])
    inside = substitute(f, table)
    if contains(inside, x):
        return None
    found = search.deeper(u, bits.POSITIVE)(factored(inside / (rate * u)))
    return _back(found, u, EXP(rate * x), f"substitution u = {EXP(rate * x)}", search.nonzero(rate))


def _exponent_of(node: Node, x: Name) -> Expression | None:
    if is_a(node, EXP) and contains(node, x):
        return node.arguments[0]
    if isinstance(node, Power) and contains(node.exponent, x) and not contains(node.base, x):
        return node.exponent * LN(node.base)
    return None


def _as_exponentials(f: Expression, x: Name) -> Expression:
    def visit(node: Node) -> Node:
        if is_a(node, SINH, SINHC, COSH, TANH, COTH, SECH, CSCH) and contains(node, x):
            assert node.function.as_elementary is not None
            return node.function.as_elementary(*node.arguments)
        return node

    return transform(f, visit)


# --- roots --------------------------------------------------------------------------------------------------------------------


def linear_root(f: Expression, search: Search) -> Found | None:
    """A rational function of x and of roots of one linear fraction (a*x + b)/(c*x + d): the root is the new variable."""
    x = search.variable
    bases = roots_in(f, x)
    if len(bases) != 1:
        return None
    base, n = next(iter(bases.items()))
    u = search.facts.new_name("u", f)
    place = old_variable(base, n, x, u)
    if place is None:
        return None

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and node.base is base and node.exponent.is_rational:
            return power(u, number(node.exponent.rational * n))
        if is_a(node, CBRT) and node.arguments[0] is base:
            return power(u, number(mpq(n, 3)))
        return node

    inside = substitute(transform(f, visit), {x: place})
    integrand = factored(inside * differentiate(place, u))
    roots = [
        v for v in postorder(integrand) if isinstance(v, Power) and isinstance(v.exponent, Number) and not _whole(v.exponent)
    ]
    if any(contains(v.base, u) for v in roots):
        return None
    only_cube = n == 3 and all(not (isinstance(v, Power) and v.base is base and not _whole(v.exponent)) for v in postorder(f))
    found = search.deeper(u, bits.REAL if only_cube else bits.NONNEGATIVE)(integrand)
    value = CBRT(base) if only_cube else power(base, number(mpq(1, n)))
    mixed = has_call(f, (CBRT,)) and not only_cube
    more = () if not mixed or search.facts.is_nonnegative(base) else (relation("<=", ZERO, base),)
    return _back(found, u, value, f"substitution u = {value}", more)


def roots_in(f: Expression, x: Name) -> dict[Expression, int]:
    """What stands under roots and has x, with the common degree of its roots."""
    bases: dict[Expression, int] = {}
    for node in postorder(f):
        if isinstance(node, Power) and contains(node.base, x) and node.exponent.is_rational and not node.exponent.is_whole:
            bases[node.base] = lcm(bases.get(node.base, 1), int(node.exponent.rational.denominator))
        elif is_a(node, CBRT) and contains(node, x):
            bases[node.arguments[0]] = lcm(bases.get(node.arguments[0], 1), 3)
    return bases


def old_variable(base: Expression, n: int, x: Name, u: Name) -> Expression | None:
    """x where u^n is the linear fraction base = (a*x + b)/(c*x + d)."""
    top, bottom = quotient_parts(base)
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if upper is None or lower is None or max(len(upper), len(lower)) != 2 or n > 12:
        return None
    a, b = (upper[1] if len(upper) == 2 else ZERO), upper[0]
    c, d = (lower[1] if len(lower) == 2 else ZERO), lower[0]
    return factored((d * u**n - b) / (a - c * u**n))


# --- waves --------------------------------------------------------------------------------------------------------------------


def trigonometric_rational(f: Expression, search: Search) -> Found | None:
    """A rational function of sines and cosines of one angle."""
    found = one_angle(f, search.variable, search.facts)
    return None if found is None else _by_bioche(found, search)


def _by_bioche(found: OneAngle, search: Search) -> Found | None:
    u = search.facts.new_name("u", found.function, search.variable)
    integrand, place = next(itertools.chain(one_beside(found, u), by_tangents(found, u)))
    inner = search.deeper(u, bits.REAL)(integrand)
    return _without_jumps(_back(inner, u, place, f"substitution u = {place}", search.nonzero(found.rate)), search)


def one_beside(found: OneAngle, u: Name) -> Iterator[tuple[Expression, Expression]]:
    """Where one wave stands once beside a formula of the other: the integrand in u, and the wave that u is."""
    g, s, c, angle, rate = found
    for moving, kept, wave, sign in ((s, c, COS, -1), (c, s, SIN, 1)):
        if factored(substitute(g, {moving: -moving}) + g) is ZERO:
            inside = even_part(g / moving, moving, 1 - kept**2)
            if inside is not None:
                yield factored(sign * substitute(inside, {kept: u}) / rate), call(wave, angle)


def by_tangents(found: OneAngle, u: Name) -> Iterator[tuple[Expression, Expression]]:
    """The integrand in u, and the tangent of the angle, or of half of it, that u is."""
    g, s, c, angle, rate = found
    if factored(substitute(g, {s: -s, c: -c}) - g) is ZERO:
        inside = even_part(substitute(g, {s: u * c}), c, 1 / (1 + u**2))
        if inside is not None:
            yield factored(inside / ((1 + u**2) * rate)), TAN(angle)
    inside = substitute(g, {s: 2 * u / (1 + u**2), c: (1 - u**2) / (1 + u**2)})
    yield factored(inside * 2 / ((1 + u**2) * rate)), TAN(angle / 2)


def _without_jumps(found: Found | None, search: Search) -> Found | None:
    """atan(c*tan(u)) with c > 0 as u plus a small continuous rest."""
    if found is None:
        return None
    table: dict[Node, Expression] = {}
    for node in postorder(found.value):
        if not (is_a(node, ATAN)):
            continue
        inner = node.arguments[0]
        factors = factors_in(inner)
        tangents = [f for f in factors if is_a(f, TAN)]
        if len(tangents) != 1:
            continue
        angle = tangents[0].arguments[0]
        size = factored(inner / tangents[0])
        sign = 1 if search.facts.is_positive(size) else -1 if search.facts.is_negative(size) else 0
        if sign and not contains(size, search.variable):
            w = sign * size
            rest = (w - 1) * SIN(2 * angle) / (w + 1 - (w - 1) * COS(2 * angle))
            table[node] = sign * (angle + ATAN(rest))
    return found._replace(value=substitute(found.value, table)) if table else found


# --- inverse functions --------------------------------------------------------------------------------------------------------

INVERSES = (ASIN, ACOS, ATAN, ASINH, ACOSH, ATANH)


def inverse_as_variable(f: Expression, search: Search) -> Found | None:
    """asin(x)/x as u*cos(u)/sin(u) with u = asin(x), where no root but a simple pole stands beside the inverse function."""
    x = search.variable
    inverses = {n for n in postorder(f) if is_a(n, *INVERSES)}
    if len(inverses) != 1 or any(isinstance(n, Power) and not n.exponent.is_whole and contains(n, x) for n in postorder(f)):
        return None
    inverse = inverses.pop()
    line = uni.linear_parts(inverse.arguments[0], x)
    simple = [g for g in factors_in(factored(quotient_parts(f)[1])) if not isinstance(g, Power) and contains(g, x)]
    if line is None or not simple:  # else by parts
        return None
    u = search.facts.new_name("u", f)
    if uni.coefficients_of(substitute(f, {inverse: u}), u) is None:  # it stands inside of another function
        return None
    value = (call(UNDONE[inverse.name].inner, u) - line[1]) / line[0]
    inside = substitute(substitute(f, {inverse: u}), {x: value}) * differentiate(value, u)
    found = search.deeper(u, bits.REAL)(inside)
    if found is not None and isinstance(found.value, Product) and found.value.coefficient == -1:  # a minus goes into a sum
        found = found._replace(value=total([-t for t in terms_of(-found.value)]))
    within = () if inverse.function.real_when is None else inverse.function.real_when(*inverse.arguments)
    return _back(found, u, inverse, f"substitution u = {inverse}", (*search.nonzero(line[0]), *within))
