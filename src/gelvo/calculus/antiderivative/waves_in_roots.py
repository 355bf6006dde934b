"""Waves of one angle beside and below roots: sine, cosine or tangent as the new variable, and elliptic integrals of the angle itself."""

from __future__ import annotations

from gelvo.calculus.antiderivative.legendre import of_angle
from gelvo.calculus.antiderivative.support import Search, roots_of
from gelvo.calculus.found import Found
from gelvo.expression import known as bits
from gelvo.expression.building import call, number, power
from gelvo.expression.constants import PI
from gelvo.expression.nodes import Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.functions.named import COS, COT, CSC, SEC, SIN, TAN, is_a

WAVES = (SIN, COS, TAN, COT, SEC, CSC)


def waves_in_roots(f: Expression, search: Search) -> Found | None:
    """sec(x)/sqrt(sec(x)^4 - 1) by u = sin(x); 1/sqrt(1 - k*sin(x)^2) as ellipf(x, k)."""
    x = search.variable
    nodes = [n for n in postorder(f) if is_a(n, *WAVES) and contains(n, x)]
    angles = list(dict.fromkeys(n.arguments[0] for n in nodes))
    if not roots_of(f, x) or len(angles) != 1:
        return None
    line = uni.linear_parts(angles[0], x)
    if line is None:
        return None
    s, c = search.facts.new_name("s", f), search.facts.new_name("c", f)
    table: dict[str, Expression] = {SIN: s, COS: c, TAN: s / c, COT: c / s, SEC: 1 / c, CSC: 1 / s}
    g = transform(f, lambda n: table[n.name] if is_a(n, *WAVES) and n.arguments[0] is angles[0] else n)
    if contains(g, x):
        return None
    elliptic = _elliptic(g, s, c, angles[0], line[0], search)
    return elliptic or _by_new_variable(g, s, c, angles[0], line[0], search)


def _by_new_variable(g: Expression, s: Name, c: Name, angle: Expression, rate: Expression, search: Search) -> Found | None:
    u = search.facts.new_name("u", g)
    tangent = substitute(g, {s: u * c})
    ways = (
        (COS, _in_squares(-g / s, s, 1 - c**2), c),
        (SIN, _in_squares(g / c, c, 1 - s**2), s),
        (TAN, _in_squares(tangent, c, 1 / (1 + u**2)), u),
    )
    for wave, inside, kept in ways:
        if inside is None:
            continue
        integrand = substitute(inside, {kept: u}) if wave != TAN else inside / (1 + u**2)
        found = search.deeper(u, bits.REAL)(integrand / rate)
        if found is not None:
            back = {u: call(wave, angle)}
            conditions = tuple(substitute(k, back) for k in found.conditions)
            road = f"substitution u = {back[u]}; {found.road}"
            return Found(substitute(found.value, back), (*conditions, *search.nonzero(rate)), road)
    return None


def _in_squares(g: Expression, name: Name, square: Expression) -> Expression | None:
    """g with even powers of a name replaced by powers of its square; None where another power is left."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and node.base is name and isinstance(node.exponent, Number) and node.exponent.is_whole:
            if node.exponent.rational % 2 == 0:
                return power(square, number(node.exponent.rational / 2))
        return node

    plain = transform(g, visit)
    return None if contains(plain, name) else plain


def _elliptic(g: Expression, s: Name, c: Name, angle: Expression, rate: Expression, search: Search) -> Found | None:
    """R(z)*sqrt(a + b*z) with z = sin(phi)^2, for phi the angle, half of it, or a quarter turn beside it."""
    z = search.facts.new_name("z", g)
    ways: list[tuple[Expression | None, Expression, Expression]] = []
    squares = _in_squares(g, s, z)
    if squares is not None:
        ways.append((_in_squares(squares, c, 1 - z), angle, rate))
    plain = _in_squares(g, s, 1 - c**2)
    if plain is not None:
        ways.append((substitute(plain, {c: 1 - 2 * z}), angle / 2, rate / 2))
    plain = _in_squares(g, c, 1 - s**2)
    if plain is not None:  # sin(angle) = cos(angle - pi/2)
        ways.append((substitute(plain, {s: 1 - 2 * z}), angle / 2 - PI / 4, rate / 2))
    for inside, phi, slope in ways:
        if inside is None:
            continue
        found = of_angle(inside, z, phi, search)
        if found is None:  # the other quarter: sin(phi)^2 = 1 - sin(phi - pi/2)^2
            found = of_angle(substitute(inside, {z: 1 - z}), z, phi - PI / 2, search)
        if found is not None:
            return Found(found.value / slope, (*found.conditions, *search.nonzero(rate)), found.road)
    return None
