"""That there is no limit, by two sequences of places with different ones: of what comes back after a period, place by place."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import suppress

from gmpy2 import mpq

from gelvo.checking.ends import value_at
from gelvo.checking.expansions import limit_by_expansion
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, GelvoError
from gelvo.expression.building import call, number
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.periods import common_multiple, period_of_steps, within_period
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts
from gelvo.simplifying.families.waves import CIRCULAR

SHARES = tuple(mpq(k, 8) for k in (0, 2, 1, 4, 6, 3, 5, 7))


def two_sequences(f: Expression, x: Name, point: Expression, side: str, facts: Facts) -> str:
    """Both sequences and their limits in words; empty where none are found."""
    y, m = facts.new_name("y", f, point), facts.new_name("m", f, point)
    sign = -1 if point is MINUS_INFINITE or side == "below" else 1
    far = isinstance(point, Bound)
    moved = substitute(f, {x: sign * y if far else point + sign / y})
    whole = far and x.domain in ("integer", "natural")
    own = facts.with_facts([DomainFact(m, "natural")])
    seen: list[tuple[Expression, Expression]] = []
    for place, part in _parts(moved, y, m, whole, own):
        end = _limit(part, m, own)
        if end is None:
            continue
        for before, other in seen:
            if _differ(before, end, facts):
                return f"{other} leads to {before}, {place} to {end}, for {m} = 1, 2, 3, … ({y} far out)"
        seen.append((end, place))
    return ""


def _parts(f: Expression, y: Name, m: Name, whole: bool, facts: Facts) -> Iterator[tuple[Expression, Expression]]:
    """(the place, the formula there) for places of a period that comes again with m."""
    steps = period_of_steps(f, y, facts)
    if steps is not None:
        u = facts.new_name("u", f, domain="positive")
        inside = within_period(f, y, steps, u, m, facts)
        if inside is not None:
            yield from _at_places(inside, u, [(m * steps + share * steps, share * steps) for share in SHARES[1:]], m)
        return
    period = _period(f, y, whole, facts)
    if period is None:
        return
    count = int(period.rational) if whole and isinstance(period, Number) else 0
    places: Sequence[Expression] = [number(j) for j in range(count)] if whole else [number(share) * period for share in SHARES]
    yield from _at_places(f, y, [(period * m + place, period * m + place) for place in places], m)


def _at_places(
    f: Expression, y: Name, places: Sequence[tuple[Expression, Expression]], m: Name
) -> Iterator[tuple[Expression, Expression]]:
    for shown, place in places:
        with suppress(DomainError):  # a pole
            yield shown, _turned(substitute(f, {y: place}), m)


def _period(f: Expression, y: Name, whole: bool, facts: Facts) -> Expression | None:
    lengths: list[Expression] = []
    for node in postorder(f):
        if isinstance(node, Power) and isinstance(node.base, Number) and node.base.value == -1 and contains(node.exponent, y):
            lengths.append(number(2))
        elif isinstance(node, Call) and node.name in CIRCULAR and contains(node, y):
            parts = linear_parts(expand(node.arguments[0]), y)
            if parts is None:
                return None
            length = 2 * PI / parts[0]
            lengths.append(length if facts.is_positive(length) else -length)
    if whole:
        lengths.append(ONE)
    return common_multiple(lengths) if len(lengths) > whole else None


def _turned(e: Expression, m: Name) -> Expression:
    """Whole turns and even powers of -1 taken away."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and isinstance(node.base, Number) and node.base.value == -1:
            parts = linear_parts(expand(node.exponent), m)
            return node if parts is None or not (parts[0] / 2).is_whole else node.base ** parts[1]
        if isinstance(node, Call) and node.name in CIRCULAR:
            parts = linear_parts(expand(node.arguments[0]), m)
            return node if parts is None or not expand(parts[0] / (2 * PI)).is_whole else call(node.name, parts[1])
        return node

    return transform(e, visit)


def _limit(part: Expression, m: Name, facts: Facts) -> Expression | None:
    if not contains(part, m):
        return part
    try:
        found = value_at(part, m, INFINITE, facts)
        return found if found is not None else limit_by_expansion(part, m, INFINITE, "", facts)
    except (GelvoError, ArithmeticError):
        return None


def _differ(a: Expression, b: Expression, facts: Facts) -> bool:
    if isinstance(a, Bound) or isinstance(b, Bound):
        return a is not b
    return facts.is_nonzero(a - b) or decide_zero(a - b, facts).zero is False
