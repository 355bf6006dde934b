"""Signs of what is whole, and a number more or less: n > 0 for a whole n says n >= 1."""

from __future__ import annotations

from gelvo.expression import known as bits
from gelvo.expression.building import number, total
from gelvo.expression.nodes import Sum
from gelvo.facts.knowledge import Knowledge
from gelvo.numbers.exact import Gaussian


def of_whole(facts: Knowledge, expression: Sum) -> int:
    c = expression.constant
    if isinstance(c, Gaussian) or not c:
        return bits.ANY
    core = total((expression, number(-c)))
    mask = facts.known(core)
    if not bits.is_integer(mask):
        return bits.ANY
    if bits.is_positive(mask) and c >= -1:
        return bits.NONNEGATIVE if c == -1 else bits.POSITIVE
    if bits.is_negative(mask) and c <= 1:
        return bits.NONPOSITIVE if c == 1 else bits.NEGATIVE
    return bits.ANY
