"""Limits through whole numbers, and of what steps again and again: along each class of places that a period makes.

A sequence has a limit just where its parts, one for each remainder, all have that limit; two parts with different ones show that there is none.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gmpy2 import lcm, mpq

from gelvo.calculus.found import Found
from gelvo.deciding.equality import is_zero, surely_differ
from gelvo.expression.building import number
from gelvo.expression.constants import PI, UNDEFINED
from gelvo.expression.nodes import Call, Expression, Name, Number, Power
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.periods import in_one_period, without_whole_turns
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import CEIL, FLOOR
from gelvo.simplifying.families.waves import CIRCULAR

MOST_CLASSES = 24
Limit = Callable[[Expression, Name, Facts], Found | None]


def through_whole_numbers(e: Expression, n: Name, facts: Facts, limit: Limit) -> Found | None:
    """The limit through whole n of a formula with (-1)^n, or with waves of rational parts of a turn; None without these."""
    period = _period(e, n)
    if period is None or period > MOST_CLASSES:
        return None
    m = facts.new_name("m", e)
    parts = (without_whole_turns(substitute(e, {n: period * m + j}), m) for j in range(period))
    return _together(((p, f"{n} = {period}*{m} + {j}") for j, p in enumerate(parts)), m, facts, limit)


def through_steps(e: Expression, x: Name, facts: Facts, limit: Limit) -> Found | None:
    """No limit where a formula with floors goes to different values from period to period, at two places of each."""
    if not has_call(e, (FLOOR, CEIL), x):
        return None
    told = in_one_period(e, x, facts)
    if told is None:
        return None
    length, inside, u, m = told
    places = [number(mpq(k, 8)) * length for k in (1, 3, 6)]
    found = _together(((substitute(inside, {u: p}), f"{x} = {m}*{length} + {p}") for p in places), m, facts, limit)
    return found if found is not None and found.value is UNDEFINED else None


def _together(parts: Iterator[tuple[Expression, str]], m: Name, facts: Facts, limit: Limit) -> Found | None:
    first: tuple[Expression, str] | None = None
    road = ""
    for part, where in parts:
        found = limit(part, m, facts) if contains(part, m) else Found(part)
        if found is None:
            return None
        if found.value is UNDEFINED:
            return Found(UNDEFINED, road=f"no limit along {where}")
        if first is None:
            first, road = (found.value, where), found.road
        elif surely_differ(first[0], found.value, facts):
            return Found(UNDEFINED, road=f"{first[0]} along {first[1]}, {found.value} along {where}")
        elif first[0] is not found.value and not is_zero(first[0] - found.value, facts):
            return None
    return None if first is None else Found(first[0], road=f"each class of the period by itself: {road}")


def _period(e: Expression, n: Name) -> int | None:
    """After how many whole numbers all signs and waves are the same again; None where there are none, or others."""
    found: list[int] = []
    for node in postorder(e):
        if isinstance(node, Power) and isinstance(node.base, Number) and node.base.value == -1 and contains(node.exponent, n):
            parts = linear_parts(node.exponent, n)
            if parts is None or not parts[0].is_whole:
                return None
            found.append(2)
        elif isinstance(node, Call) and node.name in CIRCULAR and contains(node, n):
            parts = linear_parts(expand(node.arguments[0] / PI), n)
            if parts is None or not parts[0].is_rational or not parts[0].rational:
                return None
            found.append(2 * int(parts[0].rational.denominator))
    return int(lcm(*found)) if found else None
