"""Integrals with names: Ei, Si, Ci and their relatives over linear denominators, Fresnel's, dilogarithms, Bessel's powers.

Source: NIST Digital Library of Mathematical Functions, chapters 5 to 7, 10 and 25.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.antiderivative.support import Search, whole_number
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import call, multiply_all, number, power, sqrt, total
from gelvo.expression.constants import HALF, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder
from gelvo.facts.conditions import positive
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import (
    BESSELI,
    BESSELJ,
    BESSELK,
    BESSELY,
    BETA_INC,
    CHI,
    CI,
    COS,
    COSH,
    EI,
    ELLIPF,
    ERFI,
    EXP,
    FRESNELC,
    FRESNELS,
    GAMMA_INC,
    LN,
    POLYLOG,
    SHI,
    SI,
    SIN,
    SINH,
    is_a,
)
from gelvo.simplifying.partial_fractions import simple_fractions, split_fraction

OVER_LINEAR: dict[str, tuple[str, str]] = {SIN: (SI, CI), COS: (CI, SI), SINH: (SHI, CHI), COSH: (CHI, SHI)}


def _split(f: Expression, names: tuple[str, ...], search: Search) -> tuple[Call, Expression] | None:
    """(the one function of that name, the rest) of a product."""
    factors = factors_in(f)
    chosen = [g for g in factors if isinstance(g, Call) and g.name in names and contains(g, search.variable)]
    if len(chosen) != 1:
        return None
    rest = multiply_all([number(f.coefficient) if isinstance(f, Product) else ONE, *[g for g in factors if g is not chosen[0]]])
    return chosen[0], rest


def over_linear(f: Expression, search: Search) -> Found | None:
    """exp(a*x + b), a sine or a cosine of it, times a rational function with linear denominators."""
    x = search.variable
    split = _split(f, (EXP, *OVER_LINEAR), search)
    if split is None:
        return None
    wave, rest = split
    parts = uni.linear_parts(wave.arguments[0], x)
    if parts is None or not contains(rest, x):
        return None
    try:
        quotient, pieces = simple_fractions(*split_fraction(rest, x))
    except DomainError:
        return None
    if not pieces or any(len(p.base) != 2 for p in pieces):
        return None
    terms: list[Expression] = []
    if quotient:
        polynomial = search.integrate(expand(uni.expression_of(quotient, x) * wave))
        if polynomial is None:
            return None
        terms.append(polynomial.value)
    for piece in pieces:
        shift = uni.lowest_terms(piece.base[0] / piece.base[1])
        scale = piece.digit[0] / power(piece.base[1], number(piece.exponent))
        terms.append(scale * _over_power(wave.name, parts[0], parts[1], shift, piece.exponent, x))
    return Found(total(terms), search.nonzero(parts[0]), "integrals with names (exponential, sine and cosine integrals)")


def _over_power(wave: str, a: Expression, b: Expression, shift: Expression, n: int, x: Expression) -> Expression:
    """The antiderivative of wave(a*x + b)/(x + shift)^n, by parts down to n = 1."""
    argument = a * x + b
    slopes: dict[str, tuple[str, int]] = {EXP: (EXP, 1), SIN: (COS, 1), COS: (SIN, -1), SINH: (COSH, 1), COSH: (SINH, 1)}
    if n > 1:
        mate, sign = slopes[wave]
        first = -call(wave, argument) / ((n - 1) * power(x + shift, number(n - 1)))
        return first + a * sign / (n - 1) * _over_power(mate, a, b, shift, n - 1, x)
    u, phase = a * (x + shift), factored(expand(b - a * shift))  # a*x + b = u + phase
    if wave == EXP:
        return EXP(phase) * EI(u)
    circle = (SIN, COS) if wave in (SIN, COS) else (SINH, COSH)
    s, c = call(circle[0], phase), call(circle[1], phase)
    own, other = (call(n, u) for n in OVER_LINEAR[wave])
    return own * c - other * s if wave == COS else own * c + other * s


def fresnel(f: Expression, search: Search) -> Found | None:
    """sin and cos of a quadratic, after completing the square."""
    split = _split(f, (SIN, COS), search)
    if split is None or contains(split[1], search.variable):
        return None
    wave, outer = split
    parts = uni.coefficients_of(expand(wave.arguments[0]), search.variable)
    if parts is None or len(parts) != 3:
        return None
    c, b, a = parts
    sign = 1
    if search.facts.is_negative(a):
        a, b, c, sign = -a, -b, -c, (-1 if is_a(wave, SIN) else 1)
    conditions: tuple[Condition, ...] = () if search.facts.is_positive(a) else (positive(a),)
    phase = factored(c - b * b / (4 * a))
    u = sqrt(2 * a / PI) * (search.variable + b / (2 * a))
    scale = outer * sign * sqrt(PI / (2 * a))
    S, C = FRESNELS(u), FRESNELC(u)
    s, k = SIN(phase), COS(phase)
    value = k * S + s * C if is_a(wave, SIN) else k * C - s * S
    return Found(scale * value, conditions, "Fresnel integrals")


def imaginary_gaussian(f: Expression, search: Search) -> Found | None:
    """exp(a*x^2 + b*x + c) for a > 0 by erfi."""
    split = _split(f, (EXP,), search)
    if split is None or contains(split[1], search.variable):
        return None
    parts = uni.coefficients_of(expand(split[0].arguments[0]), search.variable)
    if parts is None or len(parts) != 3 or not search.facts.is_positive(parts[2]):
        return None
    c, b, a = parts
    root = sqrt(a)
    value = sqrt(PI) / (2 * root) * EXP(c - b * b / (4 * a)) * ERFI(root * (search.variable + b / (2 * a)))
    return Found(split[1] * value, (), "imaginary error function")


def dilogarithm(f: Expression, search: Search) -> Found | None:
    """ln(p*x + q)/(x + d)."""
    x = search.variable
    split = _split(f, (LN,), search)
    if split is None:
        return None
    logarithm, rest = split
    inner = uni.linear_parts(logarithm.arguments[0], x)
    bottom = uni.coefficients_of(factored(1 / rest), x)
    if inner is None or bottom is None or len(bottom) != 2:
        return None
    p, q = inner
    d = uni.lowest_terms(bottom[0] / bottom[1])
    k = uni.lowest_terms(q - p * d)  # p*x + q = k + p*(x + d)
    if k is ZERO:
        return None  # the derivative of a square of logarithms
    if not search.facts.is_positive(k):
        return None
    u = x + d
    value = LN(k) * search.logarithm(u) - POLYLOG(number(2), -p * u / k) if k is not ONE else -POLYLOG(number(2), -p * u)
    return Found(value / bottom[1], (), "dilogarithm")


def bessel_power(f: Expression, search: Search) -> Found | None:
    """x^n*besselj(n - 1, k*x) and x^(-n)*besselj(n + 1, k*x), and the same for bessely, besseli, besselk."""
    x = search.variable
    split = _split(f, (BESSELJ, BESSELY, BESSELI, BESSELK), search)
    if split is None:
        return None
    function, rest = split
    order, argument = function.arguments
    parts = uni.linear_parts(argument, x)
    if parts is None or parts[1] is not ZERO or contains(order, x):
        return None
    exponent = ZERO
    for g in factors_in(rest):
        if g is x:
            exponent = exponent + 1
        elif isinstance(g, Power) and g.base is x:
            exponent = exponent + g.exponent
        elif contains(g, x):
            return None
    outer = factored(rest / power(x, exponent))
    k = parts[0]
    up, down = uni.lowest_terms(exponent - order - 1), uni.lowest_terms(exponent + order - 1)
    if up is ZERO:
        sign = -1 if is_a(function, BESSELK) else 1
        value = sign * power(x, exponent) * call(function.name, order + 1, argument) / k
    elif down is ZERO:
        sign = 1 if is_a(function, BESSELI) else -1
        value = sign * power(x, exponent) * call(function.name, order - 1, argument) / k
    else:
        return _lowered(function, exponent, outer, k, search)
    return Found(outer * value, search.nonzero(k), "recurrence of Bessel functions")


def _lowered(function: Call, exponent: Expression, outer: Expression, k: Expression, search: Search) -> Found | None:
    """x^m*besselj(0, k*x) and x^m*besselj(1, k*x) with the power lowered by parts, for a whole power above the order."""
    order, argument = function.arguments
    x = search.variable
    n, m = whole_number(order), whole_number(exponent)
    if n is None or m is None or not is_a(function, BESSELJ) or not 0 <= n <= 12 or not n + 1 < m <= 12:
        return None
    # (x^(n+1)*J_(n+1))' = k*x^(n+1)*J_n: by parts with x^(m-n-1)
    raised = BESSELJ(number(n + 1), argument)
    rest = search.integrate(x ** (m - 1) * raised)
    if rest is None:
        return None
    value = x**m * raised / k - number(mpq(m - n - 1)) / k * rest.value
    return Found(outer * value, search.nonzero(k) + rest.conditions, "recurrence of Bessel functions")


def swing(f: Expression, search: Search) -> Found | None:
    """1/sqrt(a + b*cos(u)) for a linear u: with a + b > 0 it is 2*ellipf(u/2, 2*b/(a + b))/sqrt(a + b) (DLMF 19.2)."""
    x = search.variable
    factors = factors_in(f)
    moving = [g for g in factors if contains(g, x)]
    root = moving[0] if len(moving) == 1 else None
    if not isinstance(root, Power) or root.exponent is not -HALF:
        return None
    waves = [n for n in postorder(root.base) if is_a(n, COS) and contains(n, x)]
    parts = uni.linear_parts(expand(root.base), waves[0]) if len(waves) == 1 else None
    rate = uni.linear_parts(expand(waves[0].arguments[0]), x) if parts is not None else None
    if parts is None or rate is None or any(contains(e, x) for e in (*parts, rate[0])):
        return None
    b, a = parts
    size = uni.lowest_terms(a + b)
    conditions = () if search.facts.is_positive(size) else (positive(size),)
    value = f / root * 2 / rate[0] / sqrt(size) * ELLIPF(waves[0].arguments[0] / 2, uni.lowest_terms(2 * b / size))
    return Found(value, conditions)


def power_beside_exponential(f: Expression, search: Search) -> Found | None:
    """x^p*exp(c*x^q)  ->  -(-c)^(-(p + 1)/q)/q*gamma_inc((p + 1)/q, -c*x^q) for x > 0 and c < 0 (DLMF 8.2.2)"""
    split = _split(f, (EXP,), search)
    if split is None:
        return None
    x, (exponential, rest) = search.variable, split
    outer, p = _power_of_variable(rest, search)
    inner, q = _power_of_variable(exponential.arguments[0], search)
    if (
        p is None
        or q is None
        or inner is None
        or outer is None
        or (p.is_whole and q.is_whole)
        or not search.facts.is_negative(inner)
    ):
        return None
    order = uni.lowest_terms((p + 1) / q)
    value = -outer * (-inner) ** -order / q * GAMMA_INC(order, -exponential.arguments[0])
    return Found(value, _if_positive(x, search), "incomplete gamma function")


def power_of_binomial(f: Expression, search: Search) -> Found | None:
    """x^p*(a + b*x^q)^r  ->  a^r/q*(-a/b)^((p + 1)/q)*beta_inc((p + 1)/q, r + 1, -b*x^q/a) for x > 0, a > 0 > b (DLMF 8.17.1)"""
    x, facts = search.variable, search.facts
    chosen = [g for g in factors_in(f) if isinstance(g, Power) and isinstance(g.base, Sum) and search.free(g.exponent)]
    if len(chosen) != 1 or not contains(chosen[0], x):
        return None
    base, r = base_and_exponent(chosen[0])
    outer, p = _power_of_variable(f / chosen[0], search)
    constant, moving = (total([t for t in terms_of(base) if search.free(t) is free]) for free in (True, False))
    b, q = _power_of_variable(moving, search)
    if p is None or q is None or b is None or outer is None or r.is_whole:
        return None
    order = uni.lowest_terms((p + 1) / q)
    if not (
        facts.is_positive(constant)
        and facts.is_negative(b)
        and facts.is_positive(q)
        and ((p.is_rational and p.rational > -1) or not p.is_rational)
    ):
        return None
    share = uni.lowest_terms(-b / constant)
    value = outer * constant**r * share**-order / q * BETA_INC(order, r + 1, share * x**q)
    more = () if facts.is_positive(order) else (positive(order),)
    return Found(value, (*_if_positive(x, search), *more), "incomplete beta function")


def _power_of_variable(e: Expression, search: Search) -> tuple[Expression | None, Expression | None]:
    """(a, p) of a*x^p."""
    x = search.variable
    moving = [g for g in factors_in(e) if contains(g, x)]
    if not moving:
        return e, ZERO
    base, p = base_and_exponent(moving[0])
    return (e / moving[0], p) if len(moving) == 1 and base is x and search.free(p) else (None, None)


def _if_positive(x: Expression, search: Search) -> tuple[Condition, ...]:
    return () if search.facts.is_positive(x) else (positive(x),)
