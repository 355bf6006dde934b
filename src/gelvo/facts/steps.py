"""Formulas in sections along a line as sums of steps that set in: value_1 + (value_2 - value_1)*heaviside(x - a) + …

Both are the same but at the joints themselves.
"""

from __future__ import annotations

import itertools

from gelvo.expression.building import number, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import (
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Expression,
    Junction,
    Name,
    Node,
    Power,
    Product,
    Relation,
)
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts, lowest_terms
from gelvo.functions.named import ABS, HEAVISIDE, MAX, MIN, SIGN, is_a


def as_steps(e: Expression, x: Name, facts: Facts) -> Expression:
    """Sections, absolute values, signs and steps backwards by steps forwards, where their places are known one after another.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(as_steps(x*HEAVISIDE(1 - x), x, Facts()))
    x*(1 - heaviside(x - 1))
    """
    table: dict[Node, Expression] = {}
    for node in postorder(e):
        if any(isinstance(n, Applied) for n in postorder(node)):
            continue
        if isinstance(node, Cases) and contains(node, x):
            found = _of_cases(node, x, facts)
        elif is_a(node, HEAVISIDE, SIGN, ABS, MAX, MIN) and contains(node, x):
            found = _of_call(node, x, facts)
        else:
            continue
        if found is not None:
            table[node] = found
    return _steps_outside(substitute(e, table), x, facts) if table else e


def _steps_outside(e: Expression, x: Name, facts: Facts) -> Expression:
    """f(heaviside(x - a)) as f(0) + (f(1) - f(0))*heaviside(x - a), products of steps too."""
    table: dict[Node, Expression] = {}
    for node in postorder(e):
        if not isinstance(node, (Call, Power, Product)) or is_a(node, HEAVISIDE):
            continue
        if any(isinstance(n, Applied) for n in postorder(node)):
            continue
        if isinstance(node, Product) and sum(has_call(f, (HEAVISIDE,)) for f in factors_in(node)) < 2:
            continue
        steps = {s: lowest_terms(x - s.arguments[0]) for s in postorder(node) if is_a(s, HEAVISIDE) and contains(s, x)}
        ordered = (
            in_order(list(dict.fromkeys(steps.values())), facts) if not any(contains(p, x) for p in steps.values()) else None
        )
        if not ordered:
            continue
        done = [substitute(node, {s: number(ordered.index(p) < k) for s, p in steps.items()}) for k in range(len(ordered) + 1)]
        table[node] = total([done[0], *((b - a) * HEAVISIDE(x - p) for a, b, p in zip(done, done[1:], ordered, strict=False))])
    return substitute(e, table) if table else e


def _of_call(node: Node, x: Name, facts: Facts) -> Expression | None:
    arguments = [a for a in node.children if isinstance(a, Expression)]
    if is_a(node, MAX, MIN):
        if len(arguments) != 2:
            return None
        gap = lowest_terms(arguments[0] - arguments[1])
        above = _above(gap, x, facts)
        sign = 1 if is_a(node, MAX) else -1
        low, high = (arguments[1], arguments[0]) if sign > 0 else (arguments[0], arguments[1])
        return None if above is None else low + (high - low) * above
    (u,) = arguments
    above = _above(u, x, facts)
    if above is None:
        return None
    if is_a(node, HEAVISIDE):
        return above
    return 2 * above - 1 if is_a(node, SIGN) else u * (2 * above - 1)


def _above(u: Expression, x: Name, facts: Facts) -> Expression | None:
    """1 where u > 0 and 0 where u < 0, for a linear u with a slope of known sign."""
    parts = linear_parts(expand(u), x)
    if parts is None:
        return None
    place = lowest_terms(-parts[1] / parts[0])
    if facts.is_positive(parts[0]):
        return HEAVISIDE(x - place)
    return ONE - HEAVISIDE(x - place) if facts.is_negative(parts[0]) else None


def _of_cases(node: Cases, x: Name, facts: Facts) -> Expression | None:
    """Each value where its condition holds and none before it did: by the places where something changes, in their order."""
    places: dict[Expression, None] = {}
    for c in node.conditions:
        found = _places(c, x)
        if found is None:
            return None
        places.update(dict.fromkeys(found))
    ordered = in_order(list(places), facts)
    if ordered is None or not ordered:
        return None
    inside = [ordered[0] - 1, *[lowest_terms((a + b) / 2) for a, b in itertools.pairwise(ordered)], ordered[-1] + 1]
    values = [_chosen(node, x, place, facts) for place in inside]
    if any(v is None for v in values):
        return None
    known = [v for v in values if v is not None]
    jumps = [(b - a) * HEAVISIDE(x - place) for a, b, place in zip(known, known[1:], ordered, strict=False)]
    return total([known[0], *jumps])


def _places(c: Condition, x: Name) -> list[Expression] | None:
    if isinstance(c, Junction):
        found: list[Expression] = []
        for part in c.parts:
            own = _places(part, x)
            if own is None:
                return None
            found += own
        return found
    if not isinstance(c, Relation) or c.operator not in ("<", "<="):
        return None
    parts = linear_parts(expand(c.right - c.left), x)
    return None if parts is None else [lowest_terms(-parts[1] / parts[0])]


def in_order(places: list[Expression], facts: Facts) -> list[Expression] | None:
    """Places along a line from below upwards; None where the facts do not tell their order."""
    ordered: list[Expression] = []
    for p in places:
        at = 0
        while at < len(ordered):
            gap = lowest_terms(p - ordered[at])
            if facts.is_negative(gap):
                break
            if not facts.is_positive(gap):
                return None
            at += 1
        ordered.insert(at, p)
    return ordered


def _chosen(node: Cases, x: Name, place: Expression, facts: Facts) -> Expression | None:
    for value, c in zip(node.values, node.conditions, strict=False):
        holds = facts.holds(substitute(c, {x: place}))
        if holds is None:
            return None
        if holds:
            return value
    return None if isinstance(node.otherwise, Bound) else node.otherwise
