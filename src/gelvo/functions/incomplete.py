"""The upper incomplete gamma function, the integral of t^(a - 1)*exp(-t) from x on, and the incomplete beta function.

Source: DLMF 8.2 (definition), 8.4 (values), 8.8 (derivative), 8.17 (beta).
"""

from __future__ import annotations

from math import factorial

from gelvo.errors import DomainError
from gelvo.expression.building import power, relation, total
from gelvo.expression.constants import HALF, ONE, PI, ZERO
from gelvo.expression.nodes import Number
from gelvo.expression.registry import Function, register
from gelvo.functions.series_bounds import narrow_enough, rational_order, sum_of_ratios
from gelvo.functions.support import Arithmetic, Box, Expression, FunctionName, Interval, NoValue, facts, mpq, only_real, sqrt

exp, gamma, erfc, gamma_inc, beta = (FunctionName(n) for n in ("exp", "gamma", "erfc", "gamma_inc", "beta"))
LARGEST = 20  # orders up to which the finite sum is written out


def _at(a: Expression, x: Expression) -> Expression | None:
    if x is ZERO and isinstance(a, Number) and a.is_rational and a.rational > 0:
        return gamma(a)
    if a is HALF:
        return sqrt(PI) * erfc(sqrt(x))
    if isinstance(a, Number) and a.is_whole and 0 < a.rational <= LARGEST:
        n = int(a.rational)
        return factorial(n - 1) * exp(-x) * total([x**k / factorial(k) if k else ONE for k in range(n)])
    return None


def _by_order(a: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of gamma_inc by its order has no closed form here")


def _bounds(a: Arithmetic, order: Box, x: Box) -> Box:
    """gamma(p) less x^p times the sum of (-x)^k/(k!*(p + k)), for p, x > 0 (DLMF 8.7.3)."""
    p, real = rational_order(order, "gamma_inc"), narrow_enough(a, only_real(x, "gamma_inc"), "gamma_inc")
    if p <= 0 or real.low <= 0:
        raise NoValue("gamma_inc has bounds for a positive order and a positive argument")
    shares = sum_of_ratios(
        a, a.divide(a.one, a.rational(p)), lambda k: a.multiply(a.negate(real), a.rational(mpq(p + k) / ((k + 1) * (p + k + 1))))
    )
    return Box(a.subtract(a.gamma(a.rational(p)), a.multiply(_power(a, real, p), shares)))


def _power(a: Arithmetic, base: Interval, exponent: mpq) -> Interval:
    return a.rising("exp", a.multiply(a.rational(exponent), a.log(base)))


def _known(a: int, x: int) -> int:
    return facts.POSITIVE if facts.is_real(a) and facts.is_positive(x) else facts.ANY


register(
    Function(
        name="gamma_inc", about="The upper incomplete gamma function: the integral of t^(a - 1)*exp(-t) from x to infinity.",
        example=("1", "x", "exp(-x)"), arguments=(2, 2), at=_at, known=_known,
        derivative=(_by_order, lambda a, x: -power(x, a - 1) * exp(-x)), real_when=lambda a, x: (relation("<", ZERO, x),),
        breaks=lambda a, x: (x,), bounds=_bounds, agreed=lambda context, a, x: context.gammainc(a, x), latex=r"\Gamma", source="DLMF 8.2.2",
    )
)  # fmt: skip


def _beta_at(a: Expression, b: Expression, x: Expression) -> Expression | None:
    above = [isinstance(p, Number) and p.is_rational and p.rational > 0 for p in (a, b)]
    if x is ZERO and above[0]:
        return ZERO
    return beta(a, b) if x is ONE and all(above) else None


def _beta_by_parameter(a: Expression, b: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of beta_inc by a parameter has no closed form here")


def _beta_bounds(a: Arithmetic, first: Box, second: Box, x: Box) -> Box:
    """x^p times the sum of (1 - q)_k*x^k/(k!*(p + k)) for x <= 1/2 (DLMF 8.17.7), and B(p, q) less that of 1 - x (8.17.4)."""
    p, q = rational_order(first, "beta_inc"), rational_order(second, "beta_inc")
    real = narrow_enough(a, only_real(x, "beta_inc"), "beta_inc")
    if p <= 0 or q <= 0 or real.low <= 0 or real.high >= 1:
        raise NoValue("beta_inc has bounds for positive parameters and an argument between 0 and 1")
    if real.high <= 0.5:
        return Box(_beta_from_zero(a, p, q, real))
    whole = a.divide(a.multiply(a.gamma(a.rational(p)), a.gamma(a.rational(q))), a.gamma(a.rational(p + q)))
    return Box(a.subtract(whole, _beta_from_zero(a, q, p, a.subtract(a.one, real))))


def _beta_from_zero(a: Arithmetic, p: mpq, q: mpq, x: Interval) -> Interval:
    def ratio(k: int) -> Interval:
        return a.multiply(x, a.rational(mpq(k + 1 - q) * (p + k) / ((k + 1) * (p + k + 1))))

    # beyond k = q the ratios are below x
    shares = sum_of_ratios(a, a.divide(a.one, a.rational(p)), ratio, x, int(q) + 1)
    return a.multiply(_power(a, x, p), shares)


register(
    Function(
        name="beta_inc", about="The incomplete beta function: the integral of t^(a - 1)*(1 - t)^(b - 1) from 0 to x.",
        example=("2", "3", "1", "1/12"), arguments=(3, 3), at=_beta_at,
        derivative=(_beta_by_parameter, _beta_by_parameter, lambda a, b, x: power(x, a - 1) * power(1 - x, b - 1)),
        real_when=lambda a, b, x: (relation("<", ZERO, a), relation("<", ZERO, x), relation("<", x, ONE)), real_beyond=True,
        breaks=lambda a, b, x: (x, 1 - x), bounds=_beta_bounds, agreed=lambda context, a, b, x: context.betainc(a, b, 0, x), latex=r"\mathrm{B}",
        source="DLMF 8.17.1",
    )
)  # fmt: skip
