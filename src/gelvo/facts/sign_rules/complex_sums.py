"""Sums with imaginary coefficients and real terms: not zero where their real or their imaginary part is not."""

from __future__ import annotations

from gelvo.expression import known as bits
from gelvo.expression.building import number, scale, total
from gelvo.expression.nodes import Expression, Sum
from gelvo.facts.knowledge import Knowledge
from gelvo.numbers.exact import Gaussian


def by_complex_parts(facts: Knowledge, expression: Sum) -> int:
    """-1/tau - 1j*w with a positive tau is not zero, whatever w."""
    pairs = [*((t, c) for t, c in expression.items()), (number(1), expression.constant)]
    if not any(isinstance(c, Gaussian) for _, c in pairs) or not all(bits.is_real(facts.known(t)) for t, _ in pairs):
        return bits.ANY
    real: list[Expression] = [scale(t, c.real if isinstance(c, Gaussian) else c) for t, c in pairs]
    imaginary: list[Expression] = [scale(t, c.imag) for t, c in pairs if isinstance(c, Gaussian)]
    apart = any(bits.is_nonzero(facts.decide(total(part))) for part in (imaginary, real))
    return ~bits.NIL if apart else bits.ANY
