"""Hypergeometric functions by the recurrence along equal shifts of all parameters, Airy functions by their Wronskian.

The recurrence is the differential equation of the function itself (DLMF 13.2.1, 15.10.1); DLMF 9.2.7 for Airy's functions.
"""

from __future__ import annotations

from collections.abc import Callable
from math import ceil

from gmpy2 import mpq

from gelvo.expression.building import call
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Number, Sum
from gelvo.forms.expanding import expand
from gelvo.functions.named import AIRYAI, AIRYAI_PRIME, AIRYBI, AIRYBI_PRIME, HYP0F1, HYP1F1, HYP2F1
from gelvo.normal.rules.bessel import prepared_sum
from gelvo.normal.rules.gamma import LARGEST_SHIFT
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import Gaussian

Parameters = list[Expression]
# (F of all parameters 2 higher) = factor*(F - middle*(F of all 1 higher)), from the lower parameters
Step = Callable[[Parameters, Expression], tuple[Expression, Expression]]
STEPS: dict[str, Step] = {
    HYP0F1: lambda p, x: (p[0] * (p[0] + 1) / x, ONE),
    HYP1F1: lambda p, x: (p[1] * (p[1] + 1) / ((p[0] + 1) * x), (p[1] - x) / p[1]),
    HYP2F1: lambda p, x: (p[2] * (p[2] + 1) / ((p[0] + 1) * (p[1] + 1) * x * (1 - x)), (p[2] - (p[0] + p[1] + 1) * x) / p[2]),
}


def _reduced(work: Work, kind: str, arguments: tuple[Expression, ...]) -> Expression:
    """By the two functions whose lower parameter has its number part in (0, 1] and in (1, 2]."""
    *given, x = arguments
    parameters = [expand(p) for p in given]
    share = _number_part(parameters[-1])
    if share is None or x is ZERO:
        return call(kind, *arguments)
    steps = ceil(share) - 1
    place = [expand(p - steps) for p in parameters]
    if abs(steps) > LARGEST_SHIFT or any(_passes_zero(p, steps) for p in place[:-1]):
        return call(kind, *arguments)
    low, high = (call(kind, *[p + k for p in place], x) for k in (0, 1))
    for _ in range(abs(steps)):
        if steps > 0:
            factor, middle = STEPS[kind](place, x)
            low, high = high, factor * (low - middle * high)
            place = [p + 1 for p in place]
        else:
            place = [p - 1 for p in place]
            factor, middle = STEPS[kind](place, x)
            low, high = high / factor + middle * low, low
    return prepared_sum(work, low, tuple(STEPS))


def _number_part(e: Expression) -> mpq | None:
    share = e.constant if isinstance(e, Sum) else e.value if isinstance(e, Number) else mpq(0)
    return None if isinstance(share, Gaussian) else share


def _passes_zero(upper: Expression, steps: int) -> bool:
    """Whether an upper parameter is 0 on the way up, after the first step: the recurrence divides by it there."""
    return isinstance(upper, Number) and upper.is_whole and bool(-steps <= upper.rational <= -1)


for _kind in STEPS:
    rule(_kind)(lambda work, *arguments, kind=_kind: _reduced(work, kind, arguments))


@rule(AIRYBI_PRIME)
def _by_wronskian(work: Work, x: Expression) -> Expression:
    whole = (1 / PI + call(AIRYAI_PRIME, x) * call(AIRYBI, x)) / call(AIRYAI, x)
    return prepared_sum(work, whole, (AIRYAI, AIRYAI_PRIME, AIRYBI))
