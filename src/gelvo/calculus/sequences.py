"""Limits through whole numbers, and of what steps again and again: along each class of places that a period makes.

A sequence has a limit just where its parts, one for each remainder, all have that limit; two parts with different ones show that there is none.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gmpy2 import lcm, mpq

from gelvo.calculus.found import Found
from gelvo.calculus.local.expander import expanded
from gelvo.calculus.local.expansion import Unclear
from gelvo.deciding.equality import is_zero, surely_differ
from gelvo.errors import DomainError
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import PI, UNDEFINED
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.facts.periods import in_one_period, without_whole_turns
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import CEIL, COS, FLOOR, SIN, is_a
from gelvo.simplifying.families.waves import CIRCULAR

MOST_CLASSES = 24
Limit = Callable[[Expression, Name, Facts], Found | None]


def through_whole_numbers(e: Expression, n: Name, facts: Facts, limit: Limit) -> Found | None:
    """The limit through whole n of a formula with (-1)^n, or with waves of rational parts of a turn; None without these."""
    m = facts.new_name("m", e)
    parts = classes_of(e, n, m, facts)
    count = len(parts)
    return _together(((p, f"{n} = {count}*{m} + {j}") for j, p in enumerate(parts)), m, facts, limit) if parts else None


def classes_of(e: Expression, n: Name, m: Name, facts: Facts) -> list[Expression]:
    """The formula along n = period*m + j, for each remainder j; none where no period is seen."""
    e = turns_taken_out(e, n, facts)
    period = period_of(e, n, facts)
    if period is None or period > MOST_CLASSES:
        return []
    return [without_whole_turns(substitute(e, {n: period * m + j}), m) for j in range(period)]


def turns_taken_out(e: Expression, n: Name, facts: Facts) -> Expression:
    """sin(pi*p + r) as sin(pi*p)*cos(r) + cos(pi*p)*sin(r), and cos alike, for a polynomial p of n beside an r that goes to zero.

    >>> from gelvo.expression.building import name, sqrt
    >>> n = name("n", "natural")
    >>> print(turns_taken_out(SIN(PI * sqrt(n**2 + 1)), n, Facts()))
    (-1)^n*sin(pi*(sqrt(n^2 + 1) - n))
    """

    def visit(node: Node) -> Node:
        if not is_a(node, SIN, COS) or not contains(node, n):
            return node
        u = expand(node.arguments[0] / PI)
        if linear_parts(u, n) is not None:
            return node
        p = _polynomial_part(u, n, facts)
        if p is None or not contains(p, n):
            return node
        turn, rest = PI * p, PI * (u - p)
        if is_a(node, SIN):
            return SIN(turn) * COS(rest) + COS(turn) * SIN(rest)
        return COS(turn) * COS(rest) - SIN(turn) * SIN(rest)

    return transform(e, visit) if has_call(e, (SIN, COS), n) else e


def _polynomial_part(u: Expression, n: Name, facts: Facts) -> Expression | None:
    """The terms of the expansion far out that do not go to zero; None where they are no polynomial of n."""
    h = facts.new_name("h", u, domain="positive")
    try:
        found = expanded(substitute(u, {n: 1 / h}), h, facts.without(n), mpq(0))
    except (Unclear, DomainError):
        return None
    kept = {e: c for e, c in found.terms.items() if e <= 0}
    if any(e.denominator != 1 or contains(c, h) for e, c in kept.items()):
        return None
    return total([c * power(n, number(-e)) for e, c in kept.items()])


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


def period_of(e: Expression, n: Name, facts: Facts) -> int | None:
    """After how many whole numbers all signs and waves are the same again; None where there are none, or others."""
    found: list[int] = []
    resting = False
    for node in postorder(e):
        if isinstance(node, Power) and isinstance(node.base, Number) and node.base.value == -1 and contains(node.exponent, n):
            parts = linear_parts(node.exponent, n)
            if parts is None or not parts[0].is_whole:
                return None
            found.append(2)
        elif isinstance(node, Call) and node.name in CIRCULAR and contains(node, n):
            u = expand(node.arguments[0] / PI)
            parts = linear_parts(u, n)
            if parts is None and (p := _polynomial_part(u, n, facts)) is not None and not contains(p, n):
                resting = True  # no wave
                continue
            if parts is None or not parts[0].is_rational or not parts[0].rational:
                return None
            found.append(2 * int(parts[0].rational.denominator))
    return int(lcm(*found)) if found else 1 if resting else None
