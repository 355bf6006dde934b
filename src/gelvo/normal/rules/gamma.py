"""The gamma function and its relatives by shifts, reflection and multiplication (DLMF 5.5)."""

from __future__ import annotations

import gmpy2
from gmpy2 import mpq

from gelvo.expression.building import looks_negative, multiply_all, number, power, scale, total
from gelvo.expression.constants import HALF, PI
from gelvo.expression.nodes import Expression, Number, Sum
from gelvo.forms.expanding import expand
from gelvo.functions.named import COT, DIGAMMA, GAMMA, LOGGAMMA, POLYGAMMA, SIN
from gelvo.normal.arguments import as_argument
from gelvo.normal.rules.logarithms import logarithm
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import ONE, Gaussian, real

LARGEST_SHIFT = 60


MOST_GAMMA_FACTORS = 6
MOST_DERIVATIVES = 20


def _primitive(x: Expression) -> tuple[Expression, mpq]:
    """(u, s) of an argument u + s with the rational part s."""
    s = x.constant if isinstance(x, Sum) else x.value if isinstance(x, Number) else mpq(0)
    s = s.real if isinstance(s, Gaussian) else s
    return total((x, number(-s))), s


@rule(GAMMA)
def _gamma(work: Work, x: Expression) -> Expression:
    """gamma by shifts, reflection and multiplication (DLMF 5.5): the argument becomes u + s with a primitive u and 0 < s <= 1."""
    x = expand(x)
    rest, s = _primitive(x)
    if isinstance(rest, Number) and not rest.value:
        if s.denominator == 1 or abs(s) > LARGEST_SHIFT:
            return GAMMA(x)
        if (s < mpq(1, 2) and s != mpq(1, 2) and s < 0) or s > 1:
            return _shifted_gamma(work, rest, s)
        if mpq(1, 2) < s < 1:
            return work.prepared(PI / (SIN(PI * s) * GAMMA(number(1 - s))))
        return GAMMA(x)
    turned = looks_negative(rest) and not looks_negative(as_argument(expand(1 - x), work.facts))
    if turned and not work.facts.is_integer(rest):  # at whole numbers the reflection meets poles
        return work.prepared(PI / (SIN(PI * x) * GAMMA(1 - x)))
    coefficients = rest.coefficients if isinstance(rest, Sum) else (getattr(rest, "coefficient", ONE),)
    if not any(isinstance(c, Gaussian) or c.denominator != 1 for c in coefficients):
        common = int(gmpy2.gcd(*[real(c).numerator for c in coefficients], 0))
        if 2 <= common <= MOST_GAMMA_FACTORS:
            u = scale(rest, mpq(1, common))
            pieces = [_gamma(work, u + number((s + k) / common)) for k in range(common)]
            outside = power(2 * PI, number(mpq(1 - common, 2))) * power(number(common), x - HALF)
            return multiply_all([work.prepared(outside), *pieces])
    return _shifted_gamma(work, rest, s)


def _shifted_gamma(work: Work, u: Expression, s: mpq) -> Expression:
    if abs(s) > LARGEST_SHIFT:
        return GAMMA(u + number(s))
    factors: list[Expression] = []
    while s > 1:
        s -= 1
        factors.append(u + number(s))
    while s <= 0:
        factors.append(power(u + number(s), number(-1)))
        s += 1
    return multiply_all([*factors, _gamma(work, number(s)) if isinstance(u, Number) else GAMMA(u + number(s))])


@rule(DIGAMMA)
def _digamma(work: Work, x: Expression) -> Expression:
    """digamma by shifts and reflection (DLMF 5.5.2, 5.5.4): the argument becomes u + s with a primitive u and 0 < s <= 1."""
    return _slope_of_digamma(work, 0, x)


@rule(POLYGAMMA)
def _polygamma(work: Work, m: Expression, x: Expression) -> Expression:
    """The same of its derivatives (DLMF 5.15.5, 5.15.6)."""
    if not (isinstance(m, Number) and m.is_whole and 0 < m.rational <= MOST_DERIVATIVES):
        return POLYGAMMA(m, x)
    return _slope_of_digamma(work, int(m.rational), x)


def _slope_of_digamma(work: Work, m: int, x: Expression) -> Expression:
    x = expand(x)
    u, s = _primitive(x)
    if (isinstance(u, Number) and not u.value) or abs(s) > LARGEST_SHIFT:
        return _named(m, x)
    if looks_negative(u) and not work.facts.is_integer(u):  # at whole numbers the reflection meets poles
        return total(
            [work.prepared(scale(_cotangents(m, x), mpq(-1))), scale(_slope_of_digamma(work, m, expand(1 - x)), mpq((-1) ** m))]
        )
    terms: list[Expression] = []
    outer = mpq((-1) ** m * int(gmpy2.fac(m)))
    while s > 1:
        s -= 1
        terms.append(number(outer) * power(u + number(s), number(-m - 1)))
    while s <= 0:
        terms.append(number(-outer) * power(u + number(s), number(-m - 1)))
        s += 1
    return total([*terms, _named(m, u + number(s))])


def _named(m: int, x: Expression) -> Expression:
    return POLYGAMMA(number(m), x) if m else DIGAMMA(x)


def _cotangents(m: int, x: Expression) -> Expression:
    """The m-th derivative of pi*cot(pi*x), by c' = -pi*(1 + c^2)."""
    row = [mpq(0), mpq(1)]  # a polynomial in c
    for _ in range(m):
        slope = [j * row[j] for j in range(1, len(row))]
        row = [-(a + b) for a, b in zip([*slope, mpq(0), mpq(0)], [mpq(0), mpq(0), *slope], strict=True)]
    c = COT(PI * x)
    return power(PI, number(m + 1)) * total([number(a) * power(c, number(j)) for j, a in enumerate(row) if a])


@rule(LOGGAMMA)
def _loggamma(work: Work, x: Expression) -> Expression:
    return logarithm(work, _gamma(work, x)) if work.facts.is_positive(x) else LOGGAMMA(x)
