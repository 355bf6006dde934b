"""Integrals of x^(s-1)*g(x) from 0 to infinity: Mellin's pairs as rows, and what scales, powers and logarithms add to them.

Sources: F. Oberhettinger, "Tables of Mellin Transforms" (1974); E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927),
chapters 12 and 13. Every value is held against quadratures before it is believed (`between.py`).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.found import Found, summed
from gelvo.calculus.limits import limit
from gelvo.expression.building import call, multiply_all, number, power, relation, sqrt, total
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, fresh_name, postorder, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.measure import measure
from gelvo.functions.named import ATAN, BESSELJ, BESSELK, CI, COS, EI, ERFC, EXP, GAMMA, GAMMA_INC, LN, POLYLOG, SIN, ZETA, is_a
from gelvo.numbers.exact import HALF
from gelvo.simplifying.families.waves import by_multiple_angles


class Pair(NamedTuple):
    """The integral of y^(u-1)*f(order, …, start + sign*y) over y > 0 is value(u, order, …), where all of strip(u, order, …) are positive."""

    value: Callable[..., Expression]
    strip: Callable[..., tuple[Expression, ...]]
    road: str
    start: Expression = ZERO
    sign: Expression = ONE


PAIRS: dict[str, Pair] = {
    EXP: Pair(GAMMA, lambda u: (u,), "gamma integral", sign=-ONE),
    SIN: Pair(lambda u: PI / 2 if u is ZERO else GAMMA(u) * SIN(PI * u / 2), lambda u: (u + 1, 1 - u), "Mellin transform of a wave"),
    COS: Pair(lambda u: GAMMA(u) * COS(PI * u / 2), lambda u: (u, 1 - u), "Mellin transform of a wave"),
    LN: Pair(lambda u: PI / (u * SIN(PI * u)), lambda u: (-u, u + 1), "Mellin transform of a logarithm", start=ONE),
    ATAN: Pair(lambda u: -PI / (2 * u * COS(PI * u / 2)), lambda u: (-u, u + 1), "Mellin transform of an arctangent"),
    ERFC: Pair(lambda u: GAMMA((u + 1) / 2) / (sqrt(PI) * u), lambda u: (u,), "Mellin transform of an error function"),
    EI: Pair(lambda u: -GAMMA(u) / u, lambda u: (u,), "Mellin transform of an exponential integral", sign=-ONE),
    CI: Pair(lambda u: -GAMMA(u) * COS(PI * u / 2) / u, lambda u: (u, 1 - u), "Mellin transform of a cosine integral"),
    BESSELJ: Pair(lambda u, n: power(TWO, u - 1) * GAMMA((n + u) / 2) / GAMMA((n - u) / 2 + 1), lambda u, n: (u + n, 3 - 2 * u), "Mellin transform of a Bessel function"),
    GAMMA_INC: Pair(lambda u, a: GAMMA(a + u) / u, lambda u, a: (u, a + u), "Mellin transform of an incomplete gamma function"),
    BESSELK: Pair(lambda u, n: power(TWO, u - 2) * GAMMA((u - n) / 2) * GAMMA((u + n) / 2), lambda u, n: (u - n, u + n), "Mellin transform of a Bessel function"),
}  # fmt: skip


class _Scaled(NamedTuple):
    """outer*f(c*x^p), with the integral value(u) of y^(u-1)*f(y) where c, all of strip(u) are positive and the conditions hold."""

    outer: Expression
    c: Expression
    p: Expression
    value: Callable[[Expression], Expression]
    strip: Callable[[Expression], tuple[Expression, ...]]
    road: str
    conditions: tuple[Condition, ...] = ()

    def integral(self, s: Expression, facts: Facts, beyond: bool = False) -> Found | None:
        """Of x^(s-1) times this: y = c*x^p."""
        rising = facts.is_positive(self.p)
        if not (rising or facts.is_negative(self.p)):
            return None
        size = self.p if rising else -self.p
        u = factored(s / self.p)
        shortest = [] if beyond else [min(q, factored(q * size), key=measure) for q in self.strip(u)]
        needed = what_must_be_positive(facts, self.c, *shortest)
        if needed is None:
            return None
        value = self.outer * self.value(u) / (size * power(self.c, u))
        return Found(value, (*needed, *facts.open_conditions(self.conditions)), self.road)


def mellin(f: Expression, x: Name, facts: Facts) -> Found | None:
    """x^(s-1) times one of the pairs, two of a kind, or one of these times ln(x), which is a derivative by s."""
    outer, exponent, rest = power_and_rest(f, x)
    count, others = logarithms_apart(rest, x, MOST_LOGARITHMS)
    if count:
        sigma = facts.new_name("sigma", f)
        found = _integral(exponent + 1 + sigma, others, x, facts.with_facts([sigma > ZERO]))
        if found is None:
            return None
        at_zero = tuple(substitute(c, {sigma: ZERO}) for c in found.conditions)
        slope = differentiate(found.value, sigma, count)
        return Found(outer * substitute(slope, {sigma: ZERO}), at_zero, found.road)
    found = _integral(exponent + 1, rest, x, facts)
    return None if found is None else found.times(outer)


def logarithms_apart(rest: list[Expression], x: Name, most: int) -> tuple[int, list[Expression]]:
    """k of a factor ln(x)^k with 0 < k <= most (0 where there is none), and the other factors."""
    for g in rest:
        base, k = base_and_exponent(g)
        if is_a(base, LN) and base.arguments[0] is x and k.is_whole and 0 < k.rational <= most:
            return int(k.rational), [other for other in rest if other is not g]
    return 0, rest


def mellin_continued(f: Expression, x: Name, facts: Facts) -> Found | None:
    """Terms of which none converges by itself, such as those of sin(x)^3/x^3: their transforms at s + sigma, and the limit of all as sigma -> 0.

    Each transform is analytic beyond its strip; where the whole converges, the sum of all is its transform (W. Whittaker, G. Watson, 12.21).
    """
    turned = by_multiple_angles(f, facts, False) if any(is_a(n, SIN, COS) for n in postorder(f)) else None
    pieces = terms_of(expand(f if turned is None else turned))
    if len(pieces) < 2:
        return None
    sigma = facts.new_name("sigma", f)
    values: list[Expression] = []
    conditions: dict[Condition, None] = {}
    for piece in pieces:
        outer, exponent, rest = power_and_rest(piece, x)
        found = (
            _integral(exponent + 1 + sigma, rest, x, facts, beyond=True) if rest else Found(ZERO)
        )  # a power alone has the transform 0
        if found is None:
            return None
        values.append(outer * found.value)
        conditions.update(dict.fromkeys(found.conditions))
    ends = limit(total(values), sigma, ZERO, "above", facts)
    return (
        None
        if ends is None or isinstance(ends.value, Bound)
        else Found(ends.value, tuple(conditions), "Mellin transforms, continued")
    )


def mellin_terms(f: Expression, x: Name, facts: Facts) -> Found | None:
    """A sum, term by term, where each term converges."""
    pieces = terms_of(expand(f))
    if len(pieces) < 2:
        return None
    found = [mellin(p, x, facts) for p in pieces]
    good = [v for v in found if v is not None]
    if len(good) < len(found):
        return None
    return summed(good)._replace(road=good[0].road)


def _integral(s: Expression, rest: list[Expression], x: Name, facts: Facts, beyond: bool = False) -> Found | None:
    """beyond: also outside of the strip, by continuation."""
    if len(rest) == 2:
        return _damped_wave(s, rest, x, facts, beyond)
    if len(rest) != 1:
        return None
    for read in READINGS:
        scaled = read(rest[0], x)
        if scaled is not None:
            return scaled.integral(s, facts, beyond)
    return _two_exponents(s, rest[0], x, facts)


def power_and_rest(f: Expression, x: Name) -> tuple[Expression, Expression, list[Expression]]:
    """(outer, s - 1, the other factors) of a product."""
    outer: list[Expression] = [number(f.coefficient)] if isinstance(f, Product) else []
    exponent: Expression = ZERO
    rest: list[Expression] = []
    for g in factors_in(f):
        if not contains(g, x):
            outer.append(g)
        elif g is x:
            exponent = exponent + 1
        elif isinstance(g, Power) and g.base is x and not contains(g.exponent, x):
            exponent = exponent + g.exponent
        else:
            rest.append(g)
    return multiply_all(outer), exponent, rest


def _monomial(e: Expression, x: Name) -> tuple[Expression, Expression] | None:
    """(c, p) with e = c*x^p: -x - a*x as -(a + 1)*x."""
    outer, p, rest = power_and_rest(factored(e) if isinstance(e, Sum) else e, x)
    return None if rest or p is ZERO else (outer, p)


def start_and_monomial(e: Expression, x: Name) -> tuple[Expression, Expression, Expression] | None:
    """(a, c, p) with e = a + c*x^p."""
    pieces = terms_of(e)
    moving = [t for t in pieces if contains(t, x)]
    inner = _monomial(total(moving), x) if moving else None
    return None if inner is None else (total([t for t in pieces if not contains(t, x)]), *inner)


# --- what one factor is: each reading gives f(c*x^p) with its integral ------------------------------------------------------------


def _of_a_function(g: Expression, x: Name) -> _Scaled | None:
    """A row of the pairs."""
    if not is_a(g, *PAIRS):
        return None
    pair = PAIRS[g.name]
    *orders, argument = g.arguments
    inner = start_and_monomial(argument, x)
    if inner is None or inner[0] is not pair.start or any(contains(order, x) for order in orders):
        return None
    c, p = pair.sign * inner[1], inner[2]
    return _Scaled(ONE, c, p, lambda u: pair.value(u, *orders), lambda u: pair.strip(u, *orders), pair.road)


def _one_over_a_sum(g: Expression, x: Name) -> _Scaled | None:
    """1/(a + c*x^p)^m by the beta function."""
    if not isinstance(g, Power) or contains(g.exponent, x):
        return None
    inner = start_and_monomial(g.base, x)
    if inner is None or inner[0] is ZERO:
        return None
    a, c, p = inner
    m = -g.exponent

    def value(u: Expression) -> Expression:
        return power(a, u - m) * (PI / SIN(PI * u) if m is ONE else GAMMA(u) * GAMMA(m - u) / GAMMA(m))

    return _Scaled(ONE, c, p, value, lambda u: (a, u, m - u), "beta integral")


def _one_over_an_exponential(g: Expression, x: Name) -> _Scaled | None:
    """1/(exp(c*x)/z - 1): values of zeta and polylog."""
    if not isinstance(g, Power) or g.exponent is not number(-1):
        return None
    exponentials = [n for n in postorder(g.base) if is_a(n, EXP) and contains(n, x)]
    if len(set(exponentials)) != 1:
        return None
    mark = fresh_name("v", g)
    parts = uni.linear_parts(substitute(g.base, {exponentials[0]: mark}), mark)
    inner = _monomial(exponentials[0].arguments[0], x)
    if parts is None or contains(parts[0], x) or contains(parts[1], x) or inner is None or inner[1] is not ONE:
        return None
    z = factored(-parts[1] / parts[0])  # 1/(p*(E - z))
    if z is ZERO:
        return None
    inside = () if z in (ONE, number(-1)) else (relation("<", z, ONE),)
    road = "geometric series and the gamma integral"
    return _Scaled(
        1 / parts[0],
        inner[0],
        ONE,
        lambda u: GAMMA(u) * _powers_summed(u, z),
        lambda u: (u - 1 if z is ONE else u,),
        road,
        inside,
    )


def _powers_summed(u: Expression, z: Expression) -> Expression:
    """The sum of z^(n-1)/n^u over n = 1, 2, …"""
    if z is ONE:
        return ZETA(u)
    if z is number(-1):
        return LN(TWO) if u is ONE else (1 - power(TWO, 1 - u)) * ZETA(u)
    return POLYLOG(u, z) / z


MOST_LOGARITHMS = 4
READINGS: tuple[Callable[[Expression, Name], _Scaled | None], ...] = (_of_a_function, _one_over_an_exponential, _one_over_a_sum)


# --- two at once ------------------------------------------------------------------------------------------------------------------


def _two_exponents(s: Expression, g: Expression, x: Name, facts: Facts) -> Found | None:
    """x^(s-1)*exp(-a*x - b/x): twice a Bessel function K, elementary for half-integer s (also with squares)."""
    if not is_a(g, EXP):
        return None
    terms = [_monomial(t, x) for t in terms_of(g.arguments[0])]
    if len(terms) != 2 or None in terms:
        return None
    (a, p), (b, r) = sorted([t for t in terms if t is not None], key=lambda t: 0 if facts.is_positive(t[1]) else 1)
    if not facts.is_positive(p) or factored(p + r) is not ZERO:
        return None
    needed = what_must_be_positive(facts, -a, -b)
    if needed is None:
        return None
    order, z = factored(s / p), 2 * sqrt(a * b)
    half = isinstance(order, Number) and order.is_rational and abs(order.rational) == HALF
    value = sqrt(PI / (2 * z)) * EXP(-z) if half else BESSELK(order, z)
    return Found(2 / p * power(b / a, order / 2) * value, needed, "Bessel function of the second kind")


def _damped_wave(s: Expression, rest: list[Expression], x: Name, facts: Facts, beyond: bool = False) -> Found | None:
    """x^(s-1)*exp(-a*x^p)*sin(b*x^p): gamma(u)*sin(u*atan(b/a))/(p*(a^2 + b^2)^(u/2)) with u = s/p."""
    exponentials = [g for g in rest if is_a(g, EXP)]
    waves = [g for g in rest if is_a(g, SIN, COS)]
    if len(exponentials) != 1 or len(waves) != 1:
        return None
    one, two = _monomial(exponentials[0].arguments[0], x), _monomial(waves[0].arguments[0], x)
    if one is None or two is None or one[1] is not two[1] or not facts.is_positive(one[1]):
        return None
    a, b, p = -one[0], two[0], one[1]
    u = factored(s / p)
    strip = () if beyond else (u + 1 if is_a(waves[0], SIN) else u,)
    needed = what_must_be_positive(facts, a, *strip)
    if needed is None:
        return None
    if u is ZERO:
        return Found(ATAN(b / a) / p, needed, "damped wave over x") if is_a(waves[0], SIN) else None
    value = GAMMA(u) * call(waves[0].name, u * ATAN(b / a)) / power(a * a + b * b, u / 2) / p
    return Found(value, needed, "Mellin transform of a damped wave")
