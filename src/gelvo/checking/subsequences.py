"""That there is no limit, by two sequences of places with different ones: of what comes back after a period, place by place."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import suppress

from gmpy2 import mpq

from gelvo.checking.ends import proved_limit
from gelvo.deciding.equality import surely_differ
from gelvo.errors import DomainError
from gelvo.expression.building import number
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.periods import common_multiple, in_one_period, without_whole_turns
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
            if surely_differ(before, end, facts):
                return f"{other} leads to {before}, {place} to {end}, for {m} = 1, 2, 3, … ({y} far out)"
        seen.append((end, place))
    return ""


def _parts(f: Expression, y: Name, m: Name, whole: bool, facts: Facts) -> Iterator[tuple[Expression, Expression]]:
    """(the place, the formula there) for places of a period that comes again with m."""
    told = in_one_period(f, y, facts)
    if told is not None:
        inside = substitute(told.inside, {told.n: m})
        yield from _at_places(inside, told.u, [(m * told.length + s * told.length, s * told.length) for s in SHARES[1:]], m)
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
            yield shown, without_whole_turns(substitute(f, {y: place}), m)


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


def _limit(part: Expression, m: Name, facts: Facts) -> Expression | None:
    return proved_limit(part, m, INFINITE, facts) if contains(part, m) else part
