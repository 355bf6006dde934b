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
from gelvo.functions.support import Expression, FunctionName, facts, sqrt

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


def _known(a: int, x: int) -> int:
    return facts.POSITIVE if facts.is_real(a) and facts.is_positive(x) else facts.ANY


register(
    Function(
        name="gamma_inc", about="The upper incomplete gamma function: the integral of t^(a - 1)*exp(-t) from x to infinity.",
        example=("1", "x", "exp(-x)"), arguments=(2, 2), at=_at, known=_known,
        derivative=(_by_order, lambda a, x: -power(x, a - 1) * exp(-x)), real_when=lambda a, x: (relation("<", ZERO, x),),
        breaks=lambda a, x: (x,), agreed=lambda context, a, x: context.gammainc(a, x), latex=r"\Gamma", source="DLMF 8.2.2",
    )
)  # fmt: skip


def _beta_at(a: Expression, b: Expression, x: Expression) -> Expression | None:
    above = [isinstance(p, Number) and p.is_rational and p.rational > 0 for p in (a, b)]
    if x is ZERO and above[0]:
        return ZERO
    return beta(a, b) if x is ONE and all(above) else None


def _beta_by_parameter(a: Expression, b: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of beta_inc by a parameter has no closed form here")


register(
    Function(
        name="beta_inc", about="The incomplete beta function: the integral of t^(a - 1)*(1 - t)^(b - 1) from 0 to x.",
        example=("2", "3", "1", "1/12"), arguments=(3, 3), at=_beta_at,
        derivative=(_beta_by_parameter, _beta_by_parameter, lambda a, b, x: power(x, a - 1) * power(1 - x, b - 1)),
        real_when=lambda a, b, x: (relation("<", ZERO, a), relation("<", ZERO, x), relation("<", x, ONE)), real_beyond=True,
        breaks=lambda a, b, x: (x, 1 - x), agreed=lambda context, a, b, x: context.betainc(a, b, 0, x), latex=r"\mathrm{B}",
        source="DLMF 8.17.1",
    )
)  # fmt: skip
