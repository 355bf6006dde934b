"""The gamma function and its relatives by shifts, reflection and multiplication (DLMF 5.5)."""

from __future__ import annotations

import gmpy2
from gmpy2 import mpq

from gelvo.expression.building import looks_negative, multiply_all, number, power, scale, total
from gelvo.expression.constants import HALF, PI
from gelvo.expression.nodes import Expression, Number, Sum
from gelvo.forms.expanding import expand
from gelvo.functions.named import DIGAMMA, GAMMA, LOGGAMMA, SIN
from gelvo.normal.arguments import as_argument
from gelvo.normal.rules.logarithms import logarithm
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import ONE, Gaussian, real

LARGEST_SHIFT = 60


MOST_GAMMA_FACTORS = 6


@rule(GAMMA)
def _gamma(work: Work, x: Expression) -> Expression:
    """gamma by shifts, reflection and multiplication (DLMF 5.5): the argument becomes u + s with a primitive u and 0 < s <= 1."""
    x = expand(x)
    rest, s = (total((x, number(-x.constant))), x.constant) if isinstance(x, Sum) else (x, mpq(0))
    if isinstance(x, Number):
        rest, s = number(0), x.value
    if isinstance(s, Gaussian):
        return GAMMA(x)
    if isinstance(rest, Number):
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
    """digamma(u + s) by shifts (DLMF 5.5.2), with 0 < s <= 1."""
    x = expand(x)
    constant_part = x.constant if isinstance(x, Sum) else mpq(0)
    if isinstance(x, Number) or isinstance(constant_part, Gaussian) or abs(constant_part) > LARGEST_SHIFT:
        return DIGAMMA(x)
    s, u = constant_part, total((x, number(-constant_part)))
    terms: list[Expression] = []
    while s > 1:
        s -= 1
        terms.append(1 / (u + number(s)))
    while s <= 0:
        terms.append(-1 / (u + number(s)))
        s += 1
    return total([*terms, DIGAMMA(u + number(s))])


@rule(LOGGAMMA)
def _loggamma(work: Work, x: Expression) -> Expression:
    return logarithm(work, _gamma(work, x)) if work.facts.is_positive(x) else LOGGAMMA(x)
