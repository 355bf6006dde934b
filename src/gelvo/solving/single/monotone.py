"""Equations with letters and without closed form: the line cut where the slope vanishes, and in each piece the one zero or none.

Between two turning places what only rises has a zero just where it is negative at one end and positive at the other: a condition on the
letters. So each zero is a function of them, continuous on the region that its conditions describe.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from typing import NamedTuple, cast

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import relation
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Condition, Expression, Name
from gelvo.expression.traversal import contains, names, postorder, relations_of, substitute, tree_size
from gelvo.facts.conditions import zero_where
from gelvo.facts.continuity import breaks
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import slope_of
from gelvo.forms.fractions import factored
from gelvo.functions.named import is_a
from gelvo.normal.prepare import prepared
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root, between, middle
from gelvo.solving.sign_cases import KINKED, asked_for, by_cases, sign_of
from gelvo.solving.single.families import members_in_range
from gelvo.solving.single.work import Work
from gelvo.solving.single.zeros_with_letters import at_infinity, sign_at, zero_of

ROAD = "no closed form: between two places where the slope vanishes there is one zero at most"

LONGEST_PLACE = 60


class Piece(NamedTuple):
    """An interval on which g only rises (1) or only falls (-1), with the facts there."""

    left: Expression
    right: Expression
    rising: int
    facts: Facts


class Cut(NamedTuple):
    """An end of a piece, the value of g there where it has one, and its sign, or that of g near it, where it is told."""

    place: Expression
    value: Expression | None
    sign: int | None


def by_monotone_pieces(solver: Work, g: Expression, low: Expression, high: Expression) -> list[Root] | None:
    """The zeros between two ends, each with the condition that it exists; None where the turning places have no formula."""
    x = solver.unknown

    def work(table: Mapping[Name, Expression], facts: Facts) -> object:
        body = substitute(g, table)
        if not table:
            return list(_zeros(solver, body, low, high, facts))
        needed, roots = solver.beside(body, facts)  # what has fewer letters may have a formula
        _settle([*needed, *[c for r in roots for c in r.conditions if not contains(c, x)]], facts, x)
        return [r for r in roots if all(facts.holds(c) is not False for c in r.conditions)]

    try:
        cases = by_cases(work, _same, solver.facts)
    except (NotSolved, DomainError):
        return None
    solver.roads[ROAD] = None
    return [r._replace(conditions=(*c.when, *r.conditions)) for c in cases for r in cast("list[Root]", c.result)]


def _same(one: object, other: object, table: Mapping[Name, Expression]) -> bool:
    """Whether the zeros are the others with letters put in."""
    first, second = cast("list[Root]", one), cast("list[Root]", other)
    try:
        return [(substitute(r.value, table), tuple(substitute(c, table) for c in r.conditions)) for r in first] == [
            (r.value, r.conditions) for r in second
        ]
    except DomainError:
        return False


def _settle(conditions: Sequence[Condition], facts: Facts, x: Name) -> None:
    """Raises OpenSign for the first condition on letters that the facts leave open."""
    for part in (p for c in conditions for p in relations_of(c)):
        if facts.holds(part) is None:
            raise asked_for(f"the facts do not tell whether {part} holds", [part.left - part.right], x, facts)


def _turning(solver: Work, slope: Expression, low: Expression, high: Expression, facts: Facts) -> list[Expression]:
    """Where a slope vanishes between the ends, in rising order."""
    x = solver.unknown
    if not contains(slope, x):
        _settle([relation("!=", slope, ZERO)], facts, x)
        return []
    needed, roots = solver.beside(slope, facts)
    _settle([*needed, *[c for r in roots for c in r.conditions]], facts, x)
    certain = [r for r in roots if all(facts.holds(c) for c in r.conditions)]
    members = [m for r in certain for m in members_in_range(r, x, facts)]
    if any(m.families for m in members):
        raise NotSolved(f"the slope {slope} vanishes at infinitely many places")
    return _inside([_plain_place(m.value, facts, x) for m in members], low, high, facts, x)


def _plain_place(place: Expression, facts: Facts, x: Name) -> Expression:
    """A place without bars and signs, which stand for cases."""
    if any(is_a(n, *KINKED) for n in postorder(place)):
        place = prepared(place, facts)
    if any(is_a(n, *KINKED) for n in postorder(place)):
        raise asked_for(f"the place {place} depends on a sign", [place], x, facts)
    place = factored(place)
    if tree_size(place) > LONGEST_PLACE:
        raise NotSolved("the places where the slope vanishes are too long to be read")
    return place


def _inside(places: Sequence[Expression], low: Expression, high: Expression, facts: Facts, x: Name) -> list[Expression]:
    """The places between the ends, in rising order."""
    kept: list[Expression] = []
    for place in dict.fromkeys(places):
        if not all(
            _before(a, b, facts, x)
            for a, b in ((low, place), (place, high))
            if not (isinstance(a, Bound) or isinstance(b, Bound))
        ):
            continue
        at = 0
        while at < len(kept) and _before(kept[at], place, facts, x):
            at += 1
        kept.insert(at, place)
    return kept


def _before(a: Expression, b: Expression, facts: Facts, x: Name) -> bool:
    """Whether a < b."""
    state = facts.holds(relation("<", a, b))
    if state is None:
        raise asked_for(f"the order of {a} and {b} is not told", [b - a], x, facts)
    return state


def _zeros(solver: Work, g: Expression, low: Expression, high: Expression, facts: Facts) -> Iterator[Root]:
    """The cuts at which g vanishes, and the zero in each piece between them."""
    x = solver.unknown
    inside = facts.with_facts([c for c in between(low, x, high) if names(c)])
    if not all(map(inside.is_nonzero, breaks(g, x, facts=inside))):
        raise NotSolved(f"{g} may jump")
    slope = slope_of(g, x)
    if slope is None:
        raise NotSolved(f"the slope of {g} has no formula")
    ends = [low, *_turning(solver, slope, low, high, facts), high]
    pieces = [_piece(g, slope, x, left, right, facts) for left, right in pairwise(ends)]
    cuts = _with_signs(pieces, [_cut(g, x, pieces[0], -1, facts), *[_cut(g, x, piece, 1, facts) for piece in pieces]])
    for cut in cuts:
        if cut.value is not None and cut.sign in (0, None):
            yield Root(cut.place, () if cut.sign == 0 else (zero_where(cut.value),))
    for piece, left, right in zip(pieces, cuts, cuts[1:], strict=False):
        conditions = [*_needs(left, -piece.rising), *_needs(right, piece.rising)]
        if None not in conditions:
            yield Root(zero_of(solver, g, left.place, right.place), tuple(c for c in conditions if c is not None))


def _with_signs(pieces: Sequence[Piece], cuts: list[Cut]) -> list[Cut]:
    """Signs passed on from end to end: what rises from a value that is not negative is positive."""
    known = list(cuts)
    for step in (1, -1):
        at = 0 if step > 0 else len(pieces)
        for piece in pieces[::step]:
            if known[at].sign in (0, piece.rising * step):
                known[at + step] = known[at + step]._replace(sign=piece.rising * step)
            at += step
    return known


def _piece(g: Expression, slope: Expression, x: Name, left: Expression, right: Expression, facts: Facts) -> Piece:
    """A piece with its direction: by the slope inside, by the bend at an end, by the leading coefficient far out."""
    told = between(left, x, right)
    if len(told) == 2:
        told.append(relation("<", left, right))
    inside = facts.with_facts([c for c in told if names(c)])
    bend = slope_of(slope, x)
    signs = [(slope, middle(left, right), 1)]
    if bend is not None:
        signs += [(bend, end, side) for end, side in ((left, 1), (right, -1)) if not isinstance(end, Bound)]
    for formula, place, side in signs:
        try:
            sign = sign_of(substitute(formula, {x: place}), inside)
        except DomainError:
            continue
        if sign:
            return Piece(left, right, sign * side, inside)
    column = uni.coefficients_of(g, x)
    leading = sign_of(column[-1], facts) if column else None
    if column and leading and isinstance(right, Bound):
        return Piece(left, right, leading, inside)
    if column and leading and isinstance(left, Bound):
        return Piece(left, right, leading * (-1 if len(column) % 2 else 1), inside)
    gap = column[-1] if column else substitute(slope, {x: middle(left, right)})
    raise asked_for(f"whether {g} rises between {left} and {right} is not told", [gap], x, facts)


def _cut(g: Expression, x: Name, piece: Piece, side: int, facts: Facts) -> Cut:
    """One end of a piece."""
    place = piece.right if side > 0 else piece.left
    if isinstance(place, Bound):
        far = at_infinity(g, x, side, piece.rising, piece.facts)
        if far is None:
            raise NotSolved(f"the sign of {g} far out is not told")
        return Cut(far[0], None, far[1])
    try:
        value = simplify(substitute(g, {x: place}), facts).expression
    except DomainError:  # a pole
        return Cut(place, None, sign_at(g, x, place, facts, piece.facts))
    return Cut(place, value, sign_of(value, facts))


def _needs(cut: Cut, sign: int) -> list[Condition | None]:
    """What must hold for g to have a sign at a cut: None where it has not."""
    if cut.sign is not None:
        return [] if cut.sign == sign else [None]
    if cut.value is None:
        raise NotSolved(f"the sign near {cut.place} is not told")
    return [relation("<", ZERO, cut.value) if sign > 0 else relation("<", cut.value, ZERO)]
