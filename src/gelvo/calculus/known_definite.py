"""Definite integrals by other means than an antiderivative: reflection, Mellin's pairs, Frullani's theorem, residues.

Sources: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), chapters 6 and 12; F. Oberhettinger, "Tables of Mellin
Transforms" (1974). Every value is held against quadratures before it is believed (`definite.py`).
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.limits import limit_beside
from gelvo.deciding.algebraic import all_roots
from gelvo.errors import DomainError
from gelvo.expression.building import call, multiply_all, number, power, relation, sqrt, total
from gelvo.expression.constants import IMAGINARY as I
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Number, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, fresh_name, has_imaginary_unit, postorder, substitute
from gelvo.facts.conditions import positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.univariate import integer_coefficients
from gelvo.functions.named import ABS, ATAN, BESSELK, COS, EXP, GAMMA, LN, POLYLOG, SIN, ZETA, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import HALF
from gelvo.roads import on_the_way
from gelvo.simplifying.search import simplify


@on_the_way("integrals with a name")
def by_other_means(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """The first rule that fits, or None."""
    if lower is ZERO and upper is INFINITE:
        rules: tuple[Callable[[Expression, Name, Facts], Found | None], ...] = (mellin, frullani, even_residues, mellin_terms)
        for rule in rules:
            try:
                found = rule(f, x, facts)
            except (DomainError, ZeroDivisionError):
                continue
            if found is not None:
                return found
    if lower is MINUS_INFINITE and upper is INFINITE:
        try:
            found = residues(f, x, facts)
        except (DomainError, ZeroDivisionError):
            found = None
        if found is not None:
            return found
        even = factored(substitute(f, {x: -x}) - f) is ZERO
        half = by_other_means(f, x, ZERO, INFINITE, facts) if even else None
        if half is not None:
            return half._replace(value=2 * half.value)
    if not isinstance(lower, Bound) and not isinstance(upper, Bound):
        return log_wave(f, x, lower, upper, facts)
    return None


def reflected(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Expression | None:
    """The mean of f and its mirror image in the middle of the interval, where that is simpler than f, or real while f is not."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    both = simplify(f + substitute(f, {x: lower + upper - x}), facts).expression
    size, before = (sum(contains(part, x) for part in postorder(e)) for e in (both, f))
    simpler = size < 0.7 * before or (size <= before and not contains_x_plainly(both, x))
    return both / 2 if simpler or (has_imaginary_unit(f) and not has_imaginary_unit(both)) else None


def contains_x_plainly(e: Expression, x: Name) -> bool:
    """Whether x stands outside of every function."""
    waves = [n for n in postorder(e) if isinstance(n, Call) and contains(n, x)]
    return contains(substitute(e, {w: fresh_name("v", e) for w in waves}), x)


# --- Mellin's pairs: integrals of x^(s-1)*g(x) from 0 to infinity ----------------------------------------------------------------


def _power_and_rest(f: Expression, x: Name) -> tuple[Expression, Expression, list[Expression]]:
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


def mellin(f: Expression, x: Name, facts: Facts) -> Found | None:
    """x^(s-1) times exp(-c*x^p), 1/(exp(c*x) ± 1), 1/(a + c*x^p)^m, a wave, or one of these times ln(x)."""
    outer, exponent, rest = _power_and_rest(f, x)
    logarithms = [g for g in rest if is_a(g, LN) and g.arguments[0] is x]
    if len(logarithms) == 1:
        sigma = facts.new_name("sigma", f)
        others = [g for g in rest if g is not logarithms[0]]
        found = _pair(exponent + 1 + sigma, others, x, facts.with_facts([sigma > ZERO]), keep=sigma)
        if found is None:
            return None
        return Found(outer * substitute(differentiate(found.value, sigma), {sigma: ZERO}), _without(found, sigma), found.road)
    found = _pair(exponent + 1, rest, x, facts)
    return None if found is None else found._replace(value=outer * found.value)


def _without(found: Found, sigma: Name) -> tuple[Condition, ...]:
    return tuple(substitute(c, {sigma: ZERO}) for c in found.conditions)


def mellin_terms(f: Expression, x: Name, facts: Facts) -> Found | None:
    """A sum, term by term, where each term converges."""
    pieces = terms_of(expand(f))
    if len(pieces) < 2:
        return None
    found = [mellin(p, x, facts) for p in pieces]
    good = [v for v in found if v is not None]
    if len(good) < len(found):
        return None
    conditions = tuple(dict.fromkeys(c for v in good for c in v.conditions))
    return Found(total([v.value for v in good]), conditions, good[0].road)


def _pair(s: Expression, rest: list[Expression], x: Name, facts: Facts, keep: Name | None = None) -> Found | None:
    if len(rest) == 2:
        return _damped_wave(s, rest, x, facts)
    if len(rest) != 1:
        return None
    g = rest[0]
    if is_a(g, EXP):
        return _exponential(s, g.arguments[0], x, facts)
    if is_a(g, SIN, COS):
        return _wave(s, g, x, facts)
    if isinstance(g, Power) and not contains(g.exponent, x):
        return _planck(s, g, x, facts) or _binomial(s, g, x, facts)
    if is_a(g, LN) and keep is None:
        return _logarithm(s, g.arguments[0], x, facts)
    return None


def _monomial(e: Expression, x: Name) -> tuple[Expression, Expression] | None:
    """(c, p) with e = c*x^p."""
    outer, p, rest = _power_and_rest(e, x)
    return None if rest or p is ZERO else (outer, p)


def _needs(facts: Facts, *quantities: Expression) -> tuple[Condition, ...] | None:
    """Conditions that quantities are positive; None where one is known not to be."""
    conditions: list[Condition] = []
    for q in quantities:
        if facts.is_nonpositive(q):
            return None
        if not facts.is_positive(q):
            conditions.append(positive(q))
    return tuple(conditions)


def _exponential(s: Expression, argument: Expression, x: Name, facts: Facts) -> Found | None:
    parts = _monomial(argument, x)
    if parts is None:
        return _two_exponents(s, argument, x, facts)
    c, p = -parts[0], parts[1]
    if not (facts.is_positive(p)):
        return None
    needed = _needs(facts, c, s)
    if needed is None:
        return None
    return Found(GAMMA(s / p) / (p * power(c, s / p)), needed, "gamma integral")


def _two_exponents(s: Expression, argument: Expression, x: Name, facts: Facts) -> Found | None:
    """x^(s-1)*exp(-a*x - b/x): twice a Bessel function K, elementary for half-integer s (also with squares)."""
    terms = [_monomial(t, x) for t in terms_of(argument)]
    if len(terms) != 2 or None in terms:
        return None
    (a, p), (b, r) = sorted([t for t in terms if t is not None], key=lambda t: 0 if facts.is_positive(t[1]) else 1)
    if not facts.is_positive(p) or factored(p + r) is not ZERO:
        return None
    needed = _needs(facts, -a, -b)
    if needed is None:
        return None
    order = factored(s / p)
    value = 2 / p * power(b / a, order / 2) * BESSELK(order, 2 * sqrt(a * b))
    return Found(_elementary_bessel(value, order, a, b, p), needed, "Bessel function of the second kind")


def _elementary_bessel(value: Expression, order: Expression, a: Expression, b: Expression, p: Expression) -> Expression:
    """K of order ±1/2 is sqrt(pi/(2*z))*exp(-z)."""
    if isinstance(order, Number) and order.is_rational and abs(order.rational) == HALF:
        z = 2 * sqrt(a * b)
        return 2 / p * power(b / a, order / 2) * sqrt(PI / (2 * z)) * EXP(-z)
    return value


def _wave(s: Expression, g: Call, x: Name, facts: Facts) -> Found | None:
    """sin(c*x^p) and cos(c*x^p), for 0 < s/p < 1 (from -1 for the sine)."""
    parts = _monomial(g.arguments[0], x)
    if parts is None:
        return None
    c, p = parts
    if not facts.is_positive(p):
        return None
    u = factored(s / p)
    low = u + 1 if is_a(g, SIN) else u
    needed = _needs(facts, c, low, 1 - u)
    if needed is None:
        return None
    if u is ZERO:
        return Found(PI / (2 * p), needed, "Dirichlet's integral")
    return Found(GAMMA(u) * call(g.name, PI * u / 2) / (p * power(c, u)), needed, "Mellin transform of a wave")


def _damped_wave(s: Expression, rest: list[Expression], x: Name, facts: Facts) -> Found | None:
    """x^(s-1)*exp(-a*x)*sin(b*x): gamma(s)*sin(s*atan(b/a))/(a^2 + b^2)^(s/2)."""
    exponentials = [g for g in rest if is_a(g, EXP)]
    waves = [g for g in rest if is_a(g, SIN, COS)]
    if len(exponentials) != 1 or len(waves) != 1:
        return None
    one, two = _monomial(exponentials[0].arguments[0], x), _monomial(waves[0].arguments[0], x)
    if one is None or two is None or one[1] is not ONE or two[1] is not ONE:
        return None
    a, b = -one[0], two[0]
    needed = _needs(facts, a, s + 1 if is_a(waves[0], SIN) else s)
    if needed is None:
        return None
    if s is ZERO:
        return Found(ATAN(b / a), needed, "damped wave over x")
    value = GAMMA(s) * call(waves[0].name, s * ATAN(b / a)) / power(a * a + b * b, s / 2)
    return Found(value, needed, "Mellin transform of a damped wave")


def _planck(s: Expression, g: Power, x: Name, facts: Facts) -> Found | None:
    """1/(exp(c*x)/z - 1) and 1/(exp(c*x) + 1): zeta and polylog values."""
    if g.exponent is not number(-1):
        return None
    exponentials = [n for n in postorder(g.base) if is_a(n, EXP) and contains(n, x)]
    if len(set(exponentials)) != 1:
        return None
    mark = fresh_name("v", g)
    parts = uni.linear_parts(substitute(g.base, {exponentials[0]: mark}), mark)
    inner = _monomial(exponentials[0].arguments[0], x)
    if parts is None or contains(parts[0], x) or contains(parts[1], x) or inner is None or inner[1] is not ONE:
        return None
    c = inner[0]
    z = factored(-parts[1] / parts[0])  # 1/(p*(E - z))
    if z is ZERO:
        return None
    if z is ONE:
        needed = _needs(facts, c, s - 1)
        value = GAMMA(s) * ZETA(s) / power(c, s)
    elif z is number(-1):
        needed = _needs(facts, c, s)
        eta = LN(number(2)) if s is ONE else (1 - power(number(2), 1 - s)) * ZETA(s)
        value = GAMMA(s) * eta / power(c, s)
    else:
        needed = _needs(facts, c, s)
        value = GAMMA(s) * POLYLOG(s, z) / (z * power(c, s))
        if needed is not None and facts.holds(relation("<", z, ONE)) is not True:
            needed = (*needed, relation("<", z, ONE))
    return None if needed is None else Found(value / parts[0], needed, "geometric series and the gamma integral")


def _binomial(s: Expression, g: Power, x: Name, facts: Facts) -> Found | None:
    """1/(a + c*x^p)^m by the beta function."""
    pieces = terms_of(g.base)
    moving = [t for t in pieces if contains(t, x)]
    if len(moving) != 1:
        return None
    inner = _monomial(moving[0], x)
    a = total([t for t in pieces if not contains(t, x)])
    if inner is None or not facts.is_positive(inner[1]):
        return None
    c, p = inner
    m = -g.exponent
    u = factored(s / p)
    needed = _needs(facts, a, c, u, m - u)
    if needed is None:
        return None
    if m is ONE:
        core = PI / SIN(PI * u)
    else:
        core = GAMMA(u) * GAMMA(m - u) / GAMMA(m)
    return Found(core / (p * power(a, m - u) * power(c, u)), needed, "beta integral")


def _logarithm(s: Expression, argument: Expression, x: Name, facts: Facts) -> Found | None:
    """x^(s-1)*ln(1 + c*x^p) by parts."""
    pieces = terms_of(argument)
    moving = [t for t in pieces if contains(t, x)]
    if len(moving) != 1 or total([t for t in pieces if not contains(t, x)]) is not ONE:
        return None
    inner = _monomial(moving[0], x)
    if inner is None:
        return None
    c, p = inner
    if facts.is_negative(p):
        p, s_own = -p, -s
    else:
        s_own = s
    u = factored(-s_own / p)
    needed = _needs(facts, c, p, u, 1 - u)
    if needed is None:
        return None
    return Found(PI * power(c, u) / (-s_own * SIN(PI * u)), needed, "Mellin transform of a logarithm")


# --- Frullani ---------------------------------------------------------------------------------------------------------------------


def frullani(f: Expression, x: Name, facts: Facts) -> Found | None:
    """(g(a*x) - g(b*x))/x: (g(0) - g(inf))*ln(b/a)."""
    terms = terms_of(expand(f * x))
    if len(terms) != 2:
        return None
    first, second = terms
    for n in postorder(first):
        if not isinstance(n, Call):
            continue
        one = uni.linear_parts(n.arguments[0], x)
        mates = [m for m in postorder(second) if isinstance(m, Call) and m.name == n.name]
        if one is None or one[1] is not ZERO or len(mates) != 1:
            continue
        two = uni.linear_parts(mates[0].arguments[0], x)
        if two is None or two[1] is not ZERO:
            continue
        ratio = factored(two[0] / one[0])
        if not facts.is_positive(ratio) or factored(substitute(first, {x: ratio * x}) + second) is not ZERO:
            continue
        near, far = limit_beside(first, x, ZERO, "above", facts), limit_at_infinity(first, x, facts)
        if near is None or far is None or isinstance(near, Bound) or isinstance(far, Bound):
            continue
        return Found((near - far) * LN(ratio), (), "Frullani's theorem")
    return None


# --- residues ---------------------------------------------------------------------------------------------------------------------


def _residue(top: Expression, bottom: Expression, x: Name, pole: Expression, order: int) -> Expression:
    others = factored(bottom / (x - pole) ** order) if order else bottom
    return substitute(differentiate(top / others, x, order - 1), {x: pole}) / number(_factorial(order - 1))


def residues(f: Expression, x: Name, facts: Facts) -> Found | None:
    """R(x)*cos(a*x), R(x)*sin(a*x) and R(x) over the line, for a rational R without real poles."""
    waves = [n for n in postorder(f) if is_a(n, SIN, COS) and contains(n, x)]
    if len(set(waves)) > 1:
        return None
    rate, wave = ZERO, None
    core = f
    if waves:
        wave = waves[0]
        parts = uni.linear_parts(wave.arguments[0], x)
        core = factored(f / wave)
        if parts is None or parts[1] is not ZERO or any(isinstance(n, Call) and contains(n, x) for n in postorder(core)):
            return None
        rate = parts[0]
    top, bottom = quotient_parts(factored(core))
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if upper is None or lower is None or len(lower) - len(upper) < (1 if wave is not None else 2):
        return None
    conditions = list(_needs(facts, rate) or ()) if wave is not None else []
    if wave is not None and facts.is_nonpositive(rate):
        return None
    poles = _upper_poles(bottom, x, facts, conditions)
    if poles is None:
        return None
    kernel = EXP(I * rate * x) if wave is not None else ONE
    sums = [_residue(top * kernel, bottom, x, pole, order) for pole, order in poles]
    whole = expand(2 * PI * I * total(sums))
    real, imag = real_and_imaginary(whole, facts.with_facts(conditions))
    value = imag if wave is not None and is_a(wave, SIN) else real
    return Found(factored(value), tuple(conditions), "residues in the upper half plane")


def _factorial(n: int) -> mpq:
    return mpq(fac(n))


def _upper_poles(bottom: Expression, x: Name, facts: Facts, conditions: list[Condition]) -> list[tuple[Expression, int]] | None:
    """The poles above the real line with their orders; None where a factor has real roots or is not understood."""
    found: list[tuple[Expression, int]] = []
    product = factored(bottom)
    for g in factors_in(product):
        base, k = base_and_exponent(g)
        if not contains(base, x):
            continue
        parts = uni.coefficients_of(base, x)
        if parts is None or not isinstance(k, Number) or not k.is_whole:
            return None
        if len(parts) == 3:
            c, b, a = parts
            gap = factored(4 * a * c - b * b)
            if not facts.is_positive(gap):
                return None
            size = ABS(a) if not facts.is_positive(a) else a
            root = prepared(sqrt(gap), facts, waves=False)
            found.append((factored(-b / (2 * a)) + I * factored(root / (2 * size)), int(k.rational)))
            continue
        whole = integer_coefficients(base, x)
        if whole is None or k is not ONE:
            return None
        for r in all_roots(whole):
            if facts.is_real(r):
                return None
            _, imag = real_and_imaginary(r, facts)
            if facts.is_positive(imag):
                found.append((r, 1))
    return found


def even_residues(f: Expression, x: Name, facts: Facts) -> Found | None:
    if factored(substitute(f, {x: -x}) - f) is not ZERO:
        return None
    found = residues(f, x, facts)
    return None if found is None else found._replace(value=found.value / 2)


# --- logarithms of waves ----------------------------------------------------------------------------------------------------------


def log_wave(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """ln(c*sin(x)) or ln(c*cos(x)) over a whole number of quarter turns (L. Euler, 1769)."""
    logarithms = [n for n in postorder(f) if is_a(n, LN) and contains(n, x)]
    if len(logarithms) != 1 or not isinstance(f, (Call, Product)):
        return None
    outer = factored(f / logarithms[0])
    inside = logarithms[0].arguments[0]
    waves = [n for n in postorder(inside) if is_a(n, SIN, COS) and n.arguments[0] is x]
    if contains(outer, x) or len(waves) != 1:
        return None
    scale = factored(inside / waves[0])
    quarters = factored((upper - lower) / PI * 2)
    starts: dict[tuple[str, int], tuple[Expression, ...]] = {
        (SIN, 1): (ZERO, PI / 2),
        (COS, 1): (ZERO, -PI / 2),
        (SIN, 2): (ZERO,),
        (COS, 2): (-PI / 2,),
    }
    if contains(scale, x) or not isinstance(quarters, Number) or quarters.rational not in (1, 2):
        return None
    if lower not in starts[(waves[0].name, int(quarters.rational))] or not facts.is_positive(scale):
        return None
    return Found(outer * (upper - lower) * (LN(scale) - LN(number(2))), (), "Euler's integral of ln(sin(x))")
