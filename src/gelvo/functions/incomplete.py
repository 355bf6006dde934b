"""The upper incomplete gamma function, the integral of t^(a - 1)*exp(-t) from x on.

Source: DLMF 8.2 (definition), 8.4 (values), 8.8 (derivative).
"""

from __future__ import annotations

from math import factorial

from gelvo.errors import DomainError
from gelvo.expression.building import power, relation, total
from gelvo.expression.constants import HALF, ONE, PI, ZERO
from gelvo.expression.nodes import Number
from gelvo.expression.registry import Function, register
from gelvo.functions.support import Expression, FunctionName, facts, sqrt

exp, gamma, erfc, gamma_inc = (FunctionName(n) for n in ("exp", "gamma", "erfc", "gamma_inc"))
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
