"""Inequalities in which the unknown stands inside one floor or ceiling only: solved for the whole number, which is an interval each."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from gelvo.deciding.equality import decide_zero
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.functions.named import CEIL, FLOOR, is_a
from gelvo.numbers.interval import floor

Ends = tuple[Expression, Expression, bool, bool]  # lower and upper end, and whether they belong to the interval


def rounded_unknown(condition: Condition, x: Name, facts: Facts) -> Call | None:
    """The one floor or ceiling, of a line in x, in which the unknown stands; None where it stands elsewhere too."""
    calls = [n for n in postorder(condition) if is_a(n, FLOOR, CEIL) and contains(n, x)]
    line = uni.linear_parts(calls[0].arguments[0], x) if len(calls) == 1 else None
    if line is None or not line[0].is_rational or not line[1].is_rational or line[0].rational < 0:
        return None
    return None if contains(substitute(condition, {calls[0]: facts.new_name("u", condition)}), x) else calls[0]


def through_rounding(
    condition: Condition, x: Name, call: Call, facts: Facts, solved: Callable[[Condition, Name, Facts], Sequence[Ends]]
) -> Iterator[Ends]:  # fmt: skip
    """The intervals of x, from those that `solved` finds for the rounded line."""
    u = facts.new_name("u", condition)
    slope, offset = uni.linear_parts(call.arguments[0], x) or (number(1), number(0))
    below, above = (0, 1) if call.name == FLOOR else (-1, 0)
    for low, high, has_low, has_high in solved(substitute(condition, {call: u}), u, facts):
        first, last = _whole(low, has_low, 1), _whole(high, has_high, -1)
        if first is None or last is None or first <= last:
            start = low if first is None else (number(first + below) - offset) / slope
            stop = high if last is None else (number(last + above) - offset) / slope
            yield start, stop, first is not None and call.name == FLOOR, last is not None and call.name == CEIL


def _whole(end: Expression, belongs: bool, inwards: int) -> int | None:
    """The first whole number at or inside an end; None for a bound."""
    if isinstance(end, Bound):
        return None
    box = enclose(end, {}, 200).real
    near = int(floor(box.low + 0.5))
    if decide_zero(end - number(near), Facts()).zero:
        return near if belongs else near + inwards
    return int(floor(box.high)) if inwards < 0 else int(floor(box.low)) + 1
