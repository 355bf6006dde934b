"""Parts that lie between known ends: root_of(f, x, a, b) strictly between a and b, inverse functions of real values in their ranges."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression import known as bits
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Sum, Written
from gelvo.expression.traversal import free_names, substitute
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.sign_rules.numbers import sign_of_number
from gelvo.functions.named import ACOS, ASIN, ATAN, ATAN2
from gelvo.numbers.exact import Gaussian


def of_written(facts: Knowledge, node: Written) -> int:
    """The sign of such a root from its ends; nothing of other written forms."""
    if node.kind != "root_of":
        return node.known
    if not free_names(node):
        return node.known & sign_of_number(node)
    low, high = node.arguments[2:]
    if not isinstance(low, Bound) and bits.is_nonnegative(facts.known(low)):
        return node.known & bits.POSITIVE
    if not isinstance(high, Bound) and bits.is_nonpositive(facts.known(high)):
        return node.known & bits.NEGATIVE
    return node.known


class Range(NamedTuple):
    """Between which ends a part lies, and whether it reaches them."""

    low: Expression
    high: Expression
    reaches_low: bool = False
    reaches_high: bool = False


QUARTER = PI / 2
RANGES: dict[str, Range] = {
    ASIN: Range(-QUARTER, QUARTER, True, True), ACOS: Range(ZERO, 1 * PI, True, True), ATAN: Range(-QUARTER, QUARTER),
    ATAN2: Range(-PI, 1 * PI, False, True),
}  # fmt: skip


def _range(facts: Knowledge, node: Expression) -> Range | None:
    """The range of a root between its ends, or of an inverse function that is real."""
    if isinstance(node, Written):
        return Range(node.arguments[2], node.arguments[3]) if node.kind == "root_of" else None
    if not isinstance(node, Call) or node.name not in RANGES or not bits.is_real(facts.known(node)):
        return None
    found = RANGES[node.name]
    if node.name in (ASIN, ATAN):
        sign = facts.known(node)
        if bits.is_nonnegative(sign):
            return found._replace(low=ZERO, reaches_low=not bits.is_positive(sign))
        if bits.is_nonpositive(sign):
            return found._replace(high=ZERO, reaches_high=not bits.is_negative(sign))
    return found


def inside_brackets(facts: Knowledge, expression: Sum) -> int:
    """The sign of k*r + rest for a part r of known range, where it is the same with both ends for r."""
    parts = [t for t in expression.terms if isinstance(t, Written) or (isinstance(t, Call) and t.name in RANGES)]
    share = dict(expression.items())[parts[0]] if len(parts) == 1 else None
    found = None if share is None or isinstance(share, Gaussian) else _range(facts, parts[0])
    if found is None or isinstance(share, Gaussian) or share is None:
        return bits.ANY
    if share < 0:
        found = Range(found.high, found.low, found.reaches_high, found.reaches_low)
    result = bits.ANY
    if not isinstance(found.low, Bound):
        low = facts.known(substitute(expression, {parts[0]: found.low}))
        if bits.is_nonnegative(low):
            result &= bits.NONNEGATIVE if found.reaches_low and not bits.is_positive(low) else bits.POSITIVE
    if not isinstance(found.high, Bound):
        high = facts.known(substitute(expression, {parts[0]: found.high}))
        if bits.is_nonpositive(high):
            result &= bits.NONPOSITIVE if found.reaches_high and not bits.is_negative(high) else bits.NEGATIVE
    return result
