"""Inequalities that repeat: solved along one period, the intervals moved by all its multiples."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gelvo.expression.building import junction, number, relation
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Junction, Name, Relation
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.periods import common_multiple
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.functions.named import COS, COT, CSC, SEC, SIN, TAN, is_a
from gelvo.inequalities.rounded import Ends
from gelvo.solving.sign_cases import asked_for

WAVES = (SIN, COS, TAN, COT, SEC, CSC)
HALF_TURN = (TAN, COT)


def period_of(condition: Condition, x: Name, facts: Facts) -> Expression | None:
    """The period of a condition in which x stands inside waves of commensurable lines only; None where it stands elsewhere.

    Raises OpenSign where the sign of the common frequency is not told.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(period_of(SIN(2*x) > COS(3*x), x, Facts()))
    2*pi
    """
    waves = _waves(condition, x)
    table = dict(zip(waves, facts.new_names("u", condition), strict=False))
    if contains(substitute(condition, table), x):
        return None
    lines = [(wave, uni.linear_parts(wave.arguments[0], x)) for wave in waves]
    steps = [(PI if is_a(wave, *HALF_TURN) else 2 * PI) / line[0] for wave, line in lines if line is not None]
    period = common_multiple(steps)
    if period is None:
        return None
    if not (facts.is_positive(period) or facts.is_negative(period)):
        raise asked_for(f"the sign of the period {period} is not told: state it as a fact", [period], x, facts)
    return period if facts.is_positive(period) else -period


def _waves(condition: Condition, x: Name) -> list[Call]:
    """The waves of lines in x."""
    calls = [n for n in postorder(condition) if is_a(n, *WAVES) and contains(n, x)]
    return [n for n in calls if uni.linear_parts(n.arguments[0], x) is not None]


def along_one_period(
    condition: Condition, x: Name, period: Expression, facts: Facts, solved: Callable[[Condition, Name, Facts], Sequence[Ends]]
) -> list[Ends]:
    """The intervals from a start to the same place one period later: what reaches both ends of 0 <= x <= period is one."""
    size = period / (2 * PI) if names(period) else number(1)
    u = facts.new_name("u", condition) if names(period) else x
    stop = period / size
    inside = facts.without(x).with_facts([relation("<=", ZERO, u), relation("<=", u, stop)])
    found = list(solved(substitute(condition, {x: u * size}) if names(period) else condition, u, inside))
    if len(found) > 1 and found[0][0] is ZERO and found[-1][1] is stop:
        last = found.pop()
        found[0] = (last[0] - stop, found[0][1], last[2], found[0][3])
    elif found and found[-1][0] is stop and found[-1][1] is stop:  # a single place, found at zero already
        found.pop()
    return [(uni.lowest_terms(low * size), uni.lowest_terms(high * size), one, other) for low, high, one, other in found]


def without_bounds(condition: Condition, x: Name) -> tuple[list[Relation], Condition]:
    """Of several conditions that must hold together those that put an end to x, and the others."""
    parts = condition.parts if isinstance(condition, Junction) and condition.word == "and" else (condition,)
    bounds = [p for p in parts if isinstance(p, Relation) and p.operator in ("<", "<=") and x in (p.left, p.right)]
    bounds = [p for p in bounds if not (contains(p.left, x) and contains(p.right, x))]
    rest = [p for p in parts if p not in bounds]
    return bounds, junction("and", rest)


def is_everywhere(pieces: Sequence[Ends], period: Expression) -> bool:
    """Whether one piece is a whole period with both of its ends."""
    return len(pieces) == 1 and pieces[0][2] and pieces[0][3] and uni.lowest_terms(pieces[0][1] - pieces[0][0] - period) is ZERO
