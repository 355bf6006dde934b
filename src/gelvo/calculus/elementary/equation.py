"""The Risch differential equation with parameters: all constants c and functions y with y' + f*y = c_1*g_1 + … + c_m*g_m.

Level by level: bounds of the denominator and of the degree of y, then its coefficients, which solve equations of the same kind one
level below. Sources: R. Risch, "The problem of integration in finite terms" (1969); M. Bronstein, "Symbolic Integration I" (2005),
chapters 6 and 7.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.constants import Vector, null_space
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.logarithmic import logarithmic_derivative
from gelvo.calculus.elementary.polynomials import Poly
from gelvo.calculus.elementary.tower import Tower
from gelvo.deadline import checkpoint
from gelvo.errors import DomainError

MOST_DEGREE = 200


class TooLarge(DomainError):
    """A bound that is beyond what is worked out."""


class Pair(NamedTuple):
    """One solution: the constants, and the function."""

    constants: Vector
    function: Element


def solve(tower: Tower, n: int, f: Element, gs: list[Element]) -> list[Pair]:
    """A basis of the solutions (c, y) over the constants, y in the field of level n; f and the g lie in it.

    >>> tower = Tower()
    >>> x = tower.add_primitive(tower.field.one)
    >>> len(solve(tower, 0, x.times(2), [tower.field.one]))  # y' + 2*x*y = c: the error function is not elementary
    0
    """
    if n < 0:
        return _over_constants(tower, f, gs)
    checkpoint()
    if tower.work is not None:
        tower.work.spend()
    field = tower.field
    weak = _weak_normalizer(tower, n, f)
    if weak is not field.one:
        f = f - field.slope(weak) / weak
        gs = [weak * g for g in gs]
    pairs = _normal_part(tower, n, f, gs)
    return pairs if weak is field.one else [Pair(p.constants, p.function / weak) for p in pairs]


def _over_constants(tower: Tower, f: Element, gs: list[Element]) -> list[Pair]:
    field, m = tower.field, len(gs)
    units = [[field.one if i == j else field.zero for i in range(m)] for j in range(m)]
    if f:
        return [Pair(unit, g / f) for unit, g in zip(units, gs, strict=True)]
    return [*(Pair(c, field.zero) for c in null_space(field, [gs], m)), Pair([field.zero] * m, field.one)]


def _weak_normalizer(tower: Tower, n: int, f: Element) -> Element:
    """The product of the p^k for which f has the residue k = 1, 2, 3, … at p."""
    result = tower.field.one
    for p, residue in simple_residues(tower, n, f):
        k = residue.rational()
        if k is not None and k.denominator == 1 and k > 0:
            result = result * tower.element(p, n) ** int(k)
    return result


def simple_residues(tower: Tower, n: int, f: Element) -> list[tuple[Poly, Element]]:
    """(p, residue) for the simple normal factors p of the denominator at which the residue is in the field below."""
    top, bottom = tower.parts(f, n)
    found = []
    for p, times in irreducible_factors(tower, n, bottom):
        if times > 1 or (tower.levels[n].exponential and is_special(p)):
            continue
        rest = poly.divide(bottom, p)[0]
        below = poly.divide(poly.multiply(rest, tower.slope(p, n)), p)[1]
        residue = poly.divide(poly.multiply(top, poly.inverse_modulo(below, p)), p)[1]
        if len(residue) <= 1:
            found.append((p, residue[0] if residue else tower.field.zero))
    return found


def is_special(p: Poly) -> bool:
    """Whether a factor is the exponential itself."""
    return len(p) == 2 and not p[0]


def irreducible_factors(tower: Tower, n: int, p: Poly) -> list[tuple[Poly, int]]:
    """The factors of a polynomial in a generator, with leading coefficient 1."""
    if len(p) <= 1:
        return []
    field, place = tower.field, tower.levels[n].place
    whole = tower.element(p, n)
    result: list[tuple[Poly, int]] = []
    for factor, times in field.factors(whole.top):
        own = poly.from_sparse(field, factor, place)
        if len(own) > 1:
            result.append((poly.monic(own), times))
    return result


def _normal_part(tower: Tower, n: int, f: Element, gs: list[Element]) -> list[Pair]:
    """The normal part of the denominator of y (Bronstein 2005, 6.1 and 7.1): y = q/h."""
    field = tower.field
    f_bottom = tower.parts(f, n)[1]
    d_n = _without_special(tower, n, f_bottom)
    parts = [tower.parts(g, n) for g in gs]
    e_n: Poly = [field.one]
    for _, bottom in parts:
        bottom = _without_special(tower, n, bottom)
        shared = poly.gcd(e_n, bottom)
        e_n = poly.multiply(e_n, poly.divide(bottom, shared)[0])
    common = poly.gcd(d_n, e_n)
    h = poly.divide(poly.gcd(e_n, poly.derivative(e_n)) if len(e_n) > 1 else e_n, _repeated(common))[0]
    d, hh = tower.element(d_n, n), tower.element(h, n)
    a = d * hh
    b = d * hh * f - d * field.slope(hh)
    cs = [d * hh * hh * g for g in gs]
    return [Pair(c, q / hh) for c, q in _special_part(tower, n, a, b, cs)]


def _repeated(p: Poly) -> Poly:
    return poly.gcd(p, poly.derivative(p)) if len(p) > 1 else p


def _without_special(tower: Tower, n: int, p: Poly) -> Poly:
    return p[_order(p) :] if tower.levels[n].exponential else p


def _order(p: Poly) -> int:
    """The lowest power that occurs."""
    return next(k for k, c in enumerate(p) if c)


def _special_part(tower: Tower, n: int, a: Element, b: Element, cs: list[Element]) -> list[Pair]:
    """Powers of an exponential in the denominator of q in a*q' + b*q = sum of c*g (Bronstein 2005, 6.2)."""
    level = tower.levels[n]
    if not level.exponential:
        return _polynomial_part(tower, n, a, b, cs)
    t = tower.generator(n)
    at_b = _order_at_zero(tower, n, b)
    orders = [_order_at_zero(tower, n, c) for c in cs if c]
    at_c = min(orders, default=0)
    lowest = min(0, at_c - min(0, at_b)) if b else min(0, at_c)
    if b and at_b == 0:
        ratio = -(_at_zero(tower, n, b) / _at_zero(tower, n, a))
        found = logarithmic_derivative(tower, n - 1, ratio, [level.rate])
        if found is not None and found.multiples[0].denominator == 1 and found.is_whole:
            lowest = min(lowest, int(found.multiples[0]))
    elif not b:
        lowest = min(lowest, 0)
    b = b + (a * level.rate).times(lowest)
    up = max(0, -at_b if b else 0, lowest - at_c)
    raised = t**up
    pairs = _polynomial_part(tower, n, a * raised, b * raised, [c * t ** (up - lowest) for c in cs])
    back = t**lowest
    return [Pair(c, q * back) for c, q in pairs]


def _order_at_zero(tower: Tower, n: int, e: Element) -> int:
    if not e:
        return 0
    top, bottom = poly.of_element(e, tower.levels[n].place)
    return _order(top) - _order(bottom)


def _at_zero(tower: Tower, n: int, e: Element) -> Element:
    """The value at t = 0 of an element without a pole there."""
    top, bottom = poly.of_element(e, tower.levels[n].place)
    return top[0] / bottom[0]


class _State(NamedTuple):
    """One free parameter of a search: the constants, what is found of q, and the right side that is left."""

    constants: Vector
    found: Poly
    rest: Poly


def _restricted(tower: Tower, states: list[_State], rows: Callable[[_State], list[Element]]) -> list[_State]:
    """The combinations of the states for which all that `rows` gives vanishes."""
    columns = [rows(s) for s in states]
    height = max((len(c) for c in columns), default=0)
    zero = tower.field.zero
    matrix = [[c[i] if i < len(c) else zero for c in columns] for i in range(height)]
    if not any(any(row) for row in matrix):
        return states
    return [_combined(tower, states, v) for v in null_space(tower.field, matrix, len(states))]


def _combined(tower: Tower, states: list[_State], weights: Vector) -> _State:
    used = [(w, s) for w, s in zip(weights, states, strict=True) if w]
    if len(used) == 1 and used[0][0] == tower.field.one:
        return used[0][1]
    constants = [tower.field.total(w * s.constants[i] for w, s in used) for i in range(len(states[0].constants))]
    found: Poly = []
    rest: Poly = []
    for w, s in used:
        found, rest = poly.add(found, poly.scale(s.found, w)), poly.add(rest, poly.scale(s.rest, w))
    return _State(constants, found, rest)


def _polynomial_part(tower: Tower, n: int, a: Element, b: Element, cs: list[Element]) -> list[Pair]:
    """The polynomials q with a*q' + b*q = sum of c*g, for a and b without denominators."""
    field, m = tower.field, len(cs)
    (a_top, a_bottom), (b_top, b_bottom) = tower.parts(a, n), tower.parts(b, n)
    parts = [tower.parts(c, n) for c in cs]
    common: Poly = [field.one]
    for bottom in (a_bottom, b_bottom):
        common = poly.multiply(common, poly.divide(bottom, poly.gcd(common, bottom))[0])
    a_poly = poly.multiply(a_top, poly.divide(common, a_bottom)[0])
    b_poly = poly.multiply(b_top, poly.divide(common, b_bottom)[0])
    parts = [(poly.multiply(top, common), bottom) for top, bottom in parts]
    below: Poly = [field.one]
    for _, bottom in parts:
        below = poly.multiply(below, poly.divide(bottom, poly.gcd(below, bottom))[0])
    states: list[_State] = []
    remainders: list[Poly] = []
    for i, (top, bottom) in enumerate(parts):
        whole, rest = poly.divide(poly.multiply(top, poly.divide(below, bottom)[0]), below)
        unit = [field.one if i == j else field.zero for j in range(m)]
        states.append(_State(unit, [], whole))
        remainders.append(rest)
    if any(remainders):
        table = dict(zip(map(id, states), remainders, strict=True))
        states = _restricted(tower, states, lambda s: table[id(s)])
    bound = degree_bound(tower, n, a_poly, b_poly, max((len(s.rest) - 1 for s in states), default=-1))
    if bound > MOST_DEGREE:
        raise TooLarge(f"a polynomial of degree {bound} would have to be looked for")
    solved = _lowered(tower, n, a_poly, b_poly, states, bound, m)
    return [Pair(s.constants, tower.element(s.found, n)) for s in solved]


def degree_bound(tower: Tower, n: int, a: Poly, b: Poly, right: int) -> int:
    """The highest degree of a polynomial q with a*q' + b*q of the degree of the right side (Bronstein 2005, 6.3)."""
    level = tower.levels[n]
    d_a, d_b = len(a) - 1, len(b) - 1
    if level.exponential:
        bound = max(0, right - max(d_b, d_a))
        if d_a == d_b:
            found = logarithmic_derivative(tower, n - 1, -(b[-1] / a[-1]), [level.rate])
            if found is not None and found.is_whole and found.multiples[0].denominator == 1:
                bound = max(bound, int(found.multiples[0]))
        return bound
    bound = max(0, right - d_b) if d_b > d_a else max(0, right - d_a + 1)
    if d_b == d_a - 1 and b:
        s = _multiple_of_slope(tower, n, -(b[-1] / a[-1]))
        bound = max(bound, s)
    elif d_b == d_a:
        found = logarithmic_derivative(tower, n - 1, -(b[-1] / a[-1]), [])
        if found is not None and found.is_whole:
            z = found.function
            inner = poly.add(poly.scale(a, tower.field.slope(z)), poly.scale(b, z))
            beta = -((inner[d_a - 1] if 0 <= d_a - 1 < len(inner) else tower.field.zero) / (z * a[-1]))
            bound = max(bound, _multiple_of_slope(tower, n, beta))
    return bound


def _multiple_of_slope(tower: Tower, n: int, alpha: Element) -> int:
    """The whole s with alpha = s*t' + w' for a w below; -1 where there is none above 0."""
    for c, _ in solve(tower, n - 1, tower.field.zero, [alpha, tower.levels[n].rate]):
        if c[0]:
            s = (-(c[1] / c[0])).rational()
            return int(s) if s is not None and s.denominator == 1 else -1
    return -1


def _lowered(tower: Tower, n: int, a: Poly, b: Poly, states: list[_State], bound: int, m: int) -> list[_State]:
    """a*q' + b*q = right sides, for deg q <= bound, by lowering the degree of a (Rothstein's algorithm, ParSPDE)."""
    field = tower.field
    alpha: Poly = [field.one]  # q = alpha*h + found, h is looked for
    while len(a) > 1:
        checkpoint()
        if bound < 0:
            return _restricted(tower, states, lambda s: s.rest)
        shared = poly.gcd(a, b)
        if len(shared) > 1:
            states = _divided(tower, states, shared)
            a, b = poly.divide(a, shared)[0], poly.divide(b, shared)[0]
            if len(a) == 1:
                break
        inverse = poly.inverse_modulo(b, a)
        fresh = []
        for s in states:
            r = poly.divide(poly.multiply(poly.divide(s.rest, a)[1] if len(s.rest) >= len(a) else s.rest, inverse), a)[1]
            z = poly.divide(poly.subtract(s.rest, poly.multiply(b, r)), a)[0]
            rest = poly.subtract(z, tower.slope(r, n))
            fresh.append(_State(s.constants, poly.add(s.found, poly.multiply(alpha, r)), rest))
        states = fresh
        b, alpha, bound = poly.add(b, tower.slope(a, n)), poly.multiply(alpha, a), bound - (len(a) - 1)
    scale = a[0].inverse()
    b = poly.scale(b, scale)
    states = [s._replace(rest=poly.scale(s.rest, scale)) for s in states]
    return _from_the_top(tower, n, b, states, bound, alpha, m)


def _divided(tower: Tower, states: list[_State], divisor: Poly) -> list[_State]:
    """The states whose right sides a polynomial divides, divided by it."""
    kept = _restricted(tower, states, lambda s: poly.divide(s.rest, divisor)[1])
    return [s._replace(rest=poly.divide(s.rest, divisor)[0]) for s in kept]


def _up_to(tower: Tower, states: list[_State], degree: int) -> list[_State]:
    """The states whose right sides have at most a degree."""
    return _restricted(tower, states, lambda s: s.rest[degree + 1 :])


def _from_the_top(tower: Tower, n: int, b: Poly, states: list[_State], bound: int, alpha: Poly, m: int) -> list[_State]:
    """h' + b*h = right sides: one coefficient of h after the other from the highest possible power on."""
    field, level = tower.field, tower.levels[n]
    high = max(len(b) - 1, 0)
    for k in range(bound, -1, -1):
        checkpoint()
        states = _up_to(tower, states, k + high)
        heads = [s.rest[k + high] if len(s.rest) > k + high else field.zero for s in states]
        if high > 0:
            states = [_with_power(tower, n, s, head / b[-1], k, b, alpha) for s, head in zip(states, heads, strict=True)]
            continue
        rate = b[0] if b else field.zero
        if level.exponential and k:
            rate = rate + level.rate.times(k)
        fresh = []
        for c, y in solve(tower, n - 1, rate, heads):
            base = _combined(tower, states, c) if any(c) else _State([field.zero] * m, [], [])
            fresh.append(_with_power(tower, n, base, y, k, b, alpha))
        states = fresh
    return _restricted(tower, states, lambda s: s.rest)


def _with_power(tower: Tower, n: int, state: _State, y: Element, k: int, b: Poly, alpha: Poly) -> _State:
    """y*t^k added to h, and taken out of the right side."""
    if not y:
        return state
    field = tower.field
    piece = [*[field.zero] * k, y]
    taken = poly.add(tower.slope(piece, n), poly.multiply(b, piece))
    found = poly.add(state.found, poly.multiply(alpha, piece))
    return _State(state.constants, found, poly.subtract(state.rest, taken))
