"""Signs of differences of exponentials."""

from __future__ import annotations

from gelvo.expression import known as bits
from gelvo.expression.building import number
from gelvo.expression.nodes import Sum
from gelvo.facts.knowledge import Knowledge
from gelvo.functions.named import EXP, LN, is_a
from gelvo.numbers.exact import Gaussian, real


def exponentials(facts: Knowledge, expression: Sum) -> int:
    """exp(u) - c has the sign of u - ln(c), and exp(u) - exp(v) that of u - v: the exponential rises."""
    powers = [t.arguments[0] for t in expression.terms if is_a(t, EXP)]
    if len(powers) != len(expression.terms) or len(powers) > 2 or any(isinstance(c, Gaussian) for c in expression.coefficients):
        return bits.ANY
    first, *others = map(real, expression.coefficients)
    if len(powers) == 2 and not expression.constant and others[0] == -first:
        gap = powers[0] - powers[1]
    elif len(powers) == 1 and not isinstance(expression.constant, Gaussian) and expression.constant * first < 0:
        gap = powers[0] - LN(number(-expression.constant / first))
    else:
        return bits.ANY
    known = facts.decide(gap)
    return bits.scaled(known, 1 if first > 0 else -1, False) if bits.is_real(known) else bits.ANY
