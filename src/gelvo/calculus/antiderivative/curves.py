"""Rational functions of x and the square root of a polynomial of degree three or four: what is elementary, and what is elliptic.

With s^2 = P, an integrand B/s is (Q*s)' and poles of order one and a multiple of 1/s (and x^2/s). Its logarithms come from functions
with zeros and poles over the poles of B alone, which a linear problem finds (J. Davenport, "On the integration of algebraic functions",
1981; a divisor has order at most twelve over the rational numbers, B. Mazur, 1977). What is left is elliptic: Legendre's normal form.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.antiderivative.legendre import in_square, legendre
from gelvo.calculus.antiderivative.quadratic_root import rational_over_root
from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.constants import null_space
from gelvo.calculus.elementary.field import Element, Field
from gelvo.calculus.elementary.kernels import OutsideOfTowers, Translation
from gelvo.calculus.elementary.leaving import expression_of
from gelvo.calculus.elementary.polynomials import Poly
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import call, number, sqrt, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, ATAN, LN, is_a
from gelvo.normal.relations import lowest_by_relations
from gelvo.polynomial import sparse

ORDERS = (1, 2, 3, 4, 5, 6, 8, 12)
MOST_UNKNOWNS = 60


class Curve(NamedTuple):
    """s^2 = P over constants, and the integrand plain + over/s."""

    radicand: Expression
    plain: Expression
    over: Expression


def algebraic_curve(f: Expression, search: Search) -> Found | None:
    """x/sqrt(x^4 + 1), (1 + x^2)/((1 - x^2)*sqrt(1 + x^4)), 1/sqrt(1 - x^4) and their like."""
    x = search.variable
    if any(isinstance(n, Call) and contains(n, x) for n in postorder(f)):
        return None
    roots = [n for n in postorder(f) if isinstance(n, Power) and contains(n, x) and not n.exponent.is_whole]
    bases = list(dict.fromkeys(n.base for n in roots))
    if len(bases) != 1 or any(not n.exponent.is_rational or n.exponent.rational.denominator != 2 for n in roots):
        return None
    coefficients = uni.coefficients_of(bases[0], x)
    if coefficients is None or not 4 <= len(coefficients) <= 9:
        return None
    parts = rational_over_root(f, bases[0], x)
    if parts is None:
        return None
    return _parts(Curve(bases[0], *parts), coefficients, search)


def _parts(curve: Curve, coefficients: list[Expression], search: Search) -> Found | None:
    plain = search.integrate(curve.plain) if curve.plain is not ZERO else Found(ZERO)
    if plain is None:
        return None
    even, odd = _by_parity(curve, search) if all(c is ZERO for c in coefficients[1::2]) else (curve.over, ZERO)
    found = plain
    if odd is not ZERO:  # x*g(x^2)/s with u = x^2
        more = _lowered(odd, curve, search)
        if more is None:
            return None
        found = found.plus(more)
    if even is ZERO:
        return found
    more = _over_root(even, curve.radicand, coefficients, search)
    return None if more is None else found.plus(more)


def _by_parity(curve: Curve, search: Search) -> tuple[Expression, Expression]:
    x = search.variable
    turned = substitute(curve.over, {x: -x})
    return factored((curve.over + turned) / 2), factored((curve.over - turned) / 2)


def _lowered(odd: Expression, curve: Curve, search: Search) -> Found | None:
    x = search.variable
    u = search.facts.new_name("u", odd, curve.radicand)
    inside = in_square(factored(odd / (2 * x)), x, u)
    under = in_square(curve.radicand, x, u)
    if inside is None or under is None:
        return None
    found = search.deeper(u, bits.NONNEGATIVE)(inside / sqrt(under))
    if found is None:
        return None
    back = {u: x**2}
    return Found(
        substitute(found.value, back),
        tuple(substitute(c, back) for c in found.conditions),
        f"substitution u = {x**2}; {found.road}",
    )


def _over_root(over: Expression, radicand: Expression, coefficients: list[Expression], search: Search) -> Found | None:
    try:
        return _elementary(over, radicand, search) or legendre(over, radicand, coefficients, search)
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None


# --- elementary ---------------------------------------------------------------------------------------------------------------


class _Setting:
    """The field of x, the polynomial P and the integrand B over its root, all as elements."""

    def __init__(self, over: Expression, radicand: Expression, search: Search) -> None:
        self.translation = Translation([over, radicand], search.variable, search.facts)
        self.tower = self.translation.tower
        if len(self.tower.levels) > 1:
            raise OutsideOfTowers("more than a rational function")
        self.field = self.tower.field
        self.B = self.translation.element(over)
        self.P = self.translation.element(radicand)
        self.p = self.tower.parts(self.P, 0)[0]
        self.x = self.tower.generator(0)

    def text(self, e: Element) -> Expression:
        return expression_of(e, self.translation.texts)


class Place(NamedTuple):
    """A pole x = at of B with the value of the root there, and the residue of B/s on that sheet."""

    at: Element
    root: Element
    residue: Element


def _elementary(over: Expression, radicand: Expression, search: Search) -> Found | None:
    """(Q*s)' + sum of logarithms, where that is all."""
    setting = _Setting(over, radicand, search)
    exact = _exact(setting, setting.B)
    s = sqrt(radicand)
    if exact is not None:
        return Found(setting.text(exact) * s, (), "derivative of a multiple of the root")
    moved = _moved(setting, over, radicand, search)
    if moved is not None:
        return moved
    places = _places(setting)
    if not places:
        return None
    groups = _groups(setting, places)
    if groups is None:
        return None
    rest, terms = setting.B, []
    for unit, listed in groups:
        logarithm = _logarithm_of(setting, listed)
        if logarithm is None:
            return None
        order, a, b, slope = logarithm
        rest = rest - unit * slope.times(mpq(1, order))
        terms.append(_term(setting, unit.times(mpq(1, order)), a, b, s, search))
    exact = _exact(setting, rest)
    if exact is None or any(t is None for t in terms):
        return None
    return Found(
        total([setting.text(exact) * s, *(t for t in terms if t is not None)]), (), "logarithms of functions of the curve"
    )


def _exact(setting: _Setting, b: Element) -> Element | None:
    """Q with (Q*s)' = b/s, which is Q'*P + Q*P'/2 = b."""
    field, tower = setting.field, setting.tower
    if not b:
        return field.zero
    top, bottom = tower.parts(b, 0)
    below = field.one
    for q, k in _square_free(bottom):
        # poles of b at zeros of P are taken one order lower
        below = below * tower.element(q, 0) ** (k if len(poly.gcd(q, setting.p)) > 1 else k - 1)
    size = max(len(top) - 1 - (len(bottom) - 1) - (len(setting.p) - 1) + 1, 0) + len(poly.of_element(below, 0)[0]) + 1
    half = field.slope(setting.P).times(mpq(1, 2))
    row = [b]
    basis = []
    for k in range(size):
        one = setting.x**k / below
        basis.append(one)
        row.append(-(field.slope(one) * setting.P + one * half))
    for vector in null_space(field, [row], len(row)):
        if vector[0]:
            return field.total(c * one for c, one in zip(vector[1:], basis, strict=True)) / vector[0]
    return None


def _square_free(p: Poly) -> list[tuple[Poly, int]]:
    return poly.square_free(p) if len(p) > 1 else []


def _moved(setting: _Setting, over: Expression, radicand: Expression, search: Search) -> Found | None:
    """Where B/s has a residue at infinity: with x = e + 1/v that place is v = 0."""
    top, bottom = setting.tower.parts(setting.B, 0)
    size = len(setting.p) - 1
    if size % 2 or len(top) - len(bottom) < size // 2 - 1:
        return None
    e = next((k for k in range(12) if substitute(radicand, {search.variable: number(k)}) is not ZERO), None)
    lead = setting.p[-1]
    if e is None or setting.field.is_constant(lead) is False or size != 4:
        return None
    x = search.variable
    v = search.facts.new_name("v", over, radicand)
    place = number(e) + 1 / v
    inside = factored(substitute(radicand, {x: place}) * v**4)
    # dx/s = -dv/v^2/(sqrt(inside)/v^2): the sign of v^2 is positive
    new = factored(-substitute(over, {x: place}))
    found = _elementary(new, inside, search._replace(variable=v))
    if found is None:
        return None
    back = {v: 1 / (x - number(e))}
    value = substitute(substitute(found.value, {sqrt(inside): sqrt(radicand) / (x - number(e)) ** 2}), back)
    value = transform(value, lambda n: call(n.name, lowest_by_relations(n.arguments[0])) if is_a(n, LN, ABS, ATAN) else n)
    return Found(value, (), found.road)


def _places(setting: _Setting) -> list[Place] | None:
    """The simple poles of B at rational places (with the imaginary unit), each with the root there; None where there are others."""
    tower, field = setting.tower, setting.field
    setting.translation.imaginary_unit()
    top, bottom = tower.parts(setting.B, 0)
    found = []
    for q, _ in field.factors(tower.element(bottom, 0).top):
        own = poly.from_sparse(field, q, tower.levels[0].place)
        if len(own) == 1:
            continue
        own = poly.monic(own)
        if len(poly.gcd(own, setting.p)) > 1:
            continue
        if len(own) != 2:
            return None
        at = -own[0]
        root = _root_at(setting, at)
        if root is None:
            return None
        found.append((at, root))
    return [Place(at, root, residue) for at, root in found if (residue := _residue(setting, top, bottom, at, root))]


def _root_at(setting: _Setting, at: Element) -> Element | None:
    """sqrt(P(at)), a number."""
    value = poly_value(setting.p, at, setting.field)
    text = setting.text(value)
    root = sqrt(text)
    if not isinstance(text, Number):
        return None
    return setting.translation.element(root)


def poly_value(p: Poly, at: Element, field: Field) -> Element:
    result = field.zero
    for c in reversed(p):
        result = result * at + c
    return result


def _residue(setting: _Setting, top: Poly, bottom: Poly, at: Element, root: Element) -> Element:
    """The residue of B/s at a place, where B may have a pole of higher order."""
    field = setting.field
    order = 0
    rest = bottom
    line = [-at, field.one]
    while not poly.divide(rest, line)[1]:
        rest, order = poly.divide(rest, line)[0], order + 1
    # (top/rest)/s as a series in x - at, its coefficient order - 1
    series = _multiplied(_series(top, at, order, field), _inverse(_series(rest, at, order, field), field), field)
    series = _multiplied(series, _inverse(root_series(setting, at, root, order), field), field)
    return series[order - 1] if order else field.zero


def _series(p: Poly, at: Element, order: int, field: Field) -> Poly:
    """The first coefficients in x - at."""
    result = []
    current = list(p)
    factorial = mpq(1)
    for k in range(order):
        result.append(poly_value(current, at, field).times(1 / factorial) if current else field.zero)
        current = poly.derivative(current)
        factorial *= k + 1
    return result


def _multiplied(a: Poly, b: Poly, field: Field) -> Poly:
    return [field.total(a[i] * b[k - i] for i in range(k + 1)) for k in range(len(a))]


def _inverse(a: Poly, field: Field) -> Poly:
    first = a[0].inverse()
    result = [first]
    for k in range(1, len(a)):
        result.append(-(first * field.total(a[i] * result[k - i] for i in range(1, k + 1))))
    return result


def root_series(setting: _Setting, at: Element, root: Element, order: int) -> Poly:
    """The root of P as a series in x - at."""
    field = setting.field
    p = _series(setting.p, at, order, field)
    result = [root]
    below = (root + root).inverse()
    for k in range(1, order):
        inner = field.total(result[i] * result[k - i] for i in range(1, k))
        result.append((p[k] - inner) * below)
    return result


def _groups(setting: _Setting, places: list[Place]) -> list[tuple[Element, list[tuple[Place, int]]]] | None:
    """Residues as whole multiples of a unit: [(unit, [(place, multiple)])]."""
    groups: list[tuple[Element, list[tuple[Place, mpq]]]] = []
    for place in places:
        for unit, listed in groups:
            ratio = (place.residue / unit).rational()
            if ratio is not None:
                listed.append((place, ratio))
                break
        else:
            groups.append((place.residue, [(place, mpq(1))]))
    result = []
    for unit, listed in groups:
        common = mpq(1)
        for _, k in listed:
            common = max(common, mpq(k.denominator))
        if any((k * common).denominator != 1 or abs(k * common) > 4 for _, k in listed):
            return None
        result.append((unit.times(1 / common), [(place, int(k * common)) for place, k in listed]))
    return result


def _logarithm_of(setting: _Setting, listed: list[tuple[Place, int]]) -> tuple[int, Element, Element, Element] | None:
    """(n, A, B, g) for the function A + B*s with zeros and poles of order n*multiple at the places of both sheets.

    g/s is half of the slope of ln((A + B*s)/(A - B*s)): the residues of g/s are n times the multiples.
    """
    for order in ORDERS:
        found = _function(setting, [(place, order * k) for place, k in listed])
        if found is not None:
            a, b = found
            field = setting.field
            norm = a * a - b * b * setting.P
            if not norm or not b:
                continue
            # s*((A + B*s)'/(A + B*s) - (A - B*s)'/(A - B*s))/2
            half = field.slope(setting.P).times(mpq(1, 2))
            slope = (field.slope(b) * setting.P + b * half) * a - field.slope(a) * b * setting.P
            return order, a, b, slope / norm
    return None


def _function(setting: _Setting, orders: list[tuple[Place, int]]) -> tuple[Element, Element] | None:
    """Polynomials A, B such that A + B*s vanishes to twice the orders at the places, and nowhere else but at infinity."""
    field, x = setting.field, setting.x
    size = sum(abs(k) for _, k in orders)
    genus_part = (len(setting.p)) // 2
    a_size, b_size = size + 1, max(size - genus_part + 1, 0)
    if a_size + b_size > MOST_UNKNOWNS or not b_size:
        return None
    rows = []
    for place, k in orders:
        count = 2 * abs(k)
        root = root_series(setting, place.at, place.root if k > 0 else -place.root, count)
        powers = [_series([field.zero] * j + [field.one], place.at, count, field) for j in range(a_size)]
        for i in range(count):
            row = [powers[j][i] for j in range(a_size)]
            row += [field.total(powers[j][m] * root[i - m] for m in range(i + 1)) for j in range(b_size)]
            rows.append(row)
    solutions = null_space(field, rows, a_size + b_size)
    if not solutions:
        return None
    c = solutions[0]
    a = field.total(v * x**j for j, v in enumerate(c[:a_size]))
    b = field.total(v * x**j for j, v in enumerate(c[a_size:]))
    return a, b


def _term(setting: _Setting, factor: Element, a: Element, b: Element, s: Expression, search: Search) -> Expression | None:
    """factor*ln((A + B*s)/(A - B*s))/2 in real form: a logarithm, or an arctangent where factor and B/A are imaginary."""
    place = setting.translation.texts.imaginary
    ratio = b / a
    for e in (factor, ratio):
        if place is not None and len(sparse.by_powers(e.top, place)) > 1:
            return None
    turned = [place is not None and sparse.degree(e.top, place) > 0 for e in (factor, ratio)]
    if turned[0] != turned[1]:
        return None
    if turned[0]:  # 1j*u*atanh(1j*v) = -u*atan(v)
        i = Element(setting.field, sparse.variable(place or 0))
        return -(setting.text(-(factor * i)) * ATAN(setting.text(-(ratio * i)) * s))
    norm = a * a - b * b * setting.P
    own = setting.tower.parts(norm, 0)[0]
    if len(own) % 2 and not any(own[:-1]):  # a power of the variable, as after x = e + 1/v
        common = setting.x ** (len(own) // 2)
        a, b, norm = a / common, b / common, norm / (common * common)
    whole = setting.text(factor) * search.logarithm(setting.text(a) + setting.text(b) * s)
    if setting.field.is_constant(norm):
        return whole
    return whole - setting.text(factor) / 2 * search.logarithm(setting.text(norm))
