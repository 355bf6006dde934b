"""Whether an integral surely converges: no break inside, and at the ends what falls, or grows, slowly enough to be seen by a limit."""

from __future__ import annotations

from gelvo.checking.ends import value_at
from gelvo.checking.values.value import Question
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.facts.continuity import breaks, has_no_break_at
from gelvo.facts.store import Facts

HALF = number(1) / 2
AND_A_HALF = number(3) / 2


def converges_absolutely(question: Question, x: Name, facts: Facts) -> bool:
    """By comparison with the powers -1/2 of the distance at a finite end, and -3/2 at an infinite one.

    >>> from gelvo.expression.building import name
    >>> from gelvo.functions.named import LN
    >>> x = name("x")
    >>> converges_absolutely((LN(x), number(0), number(1)), x, Facts()), converges_absolutely((1 / x, number(0), number(1)), x, Facts())
    (True, False)
    """
    f, lower, upper = question
    if not has_no_break_between(f, x, lower, upper, facts):
        return False
    within = facts_between(x, lower, upper, facts)
    return all(_at(f, x, end, side, within) for end, side in ((lower, "above"), (upper, "below")))


def has_no_break_between(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> bool:
    """Whether a formula is known to have no break inside; it may have one at an end."""
    within = facts_between(x, lower, upper, facts)
    try:
        return all(within.is_nonzero(b) for b in breaks(f, x, kinks=False, facts=within))
    except GelvoError:
        return False


def facts_between(x: Name, lower: Expression, upper: Expression, facts: Facts) -> Facts:
    return facts.with_facts([c for end, c in ((lower, lower < x), (upper, x < upper)) if not isinstance(end, Bound)])


def _at(f: Expression, x: Name, end: Expression, side: str, facts: Facts) -> bool:
    if isinstance(end, Bound):
        size = x if end.kind == "inf" else -x
        return value_at(f * power(size, AND_A_HALF), x, end, facts) is ZERO
    if has_no_break_at(f, x, end, facts, kinks=False):
        return True
    distance = x - end if side == "above" else end - x
    return value_at(f * power(distance, HALF), x, end, facts, side) is ZERO
