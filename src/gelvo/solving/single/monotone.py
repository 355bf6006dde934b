"""Equations with letters and without closed form: the line cut where the slope vanishes, and in each piece the one zero or none.

Between two turning places what only rises has a zero just where it is negative at one end and positive at the other: a condition on the
letters. So each zero is a function of them, continuous on the region that its conditions describe.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import opposite, relation
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Bound, Condition, Expression, Name
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.conditions import zero_where
from gelvo.facts.continuity import breaks
from gelvo.facts.equalities import without_equalities
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import slope_of
from gelvo.forms.fractions import factored
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root
from gelvo.solving.single.families import members_in_range
from gelvo.solving.single.work import Work
from gelvo.solving.single.zeros_with_letters import at_infinity, between, sign_at, sign_of, zero_of

DEEPEST_CASES = 3
ROAD = "no closed form: between two places where the slope vanishes there is one zero at most"


class Case(NamedTuple):
    """What the letters are supposed to be, as conditions and as facts; where the slope vanishes then, in rising order."""

    when: tuple[Condition, ...]
    facts: Facts
    turning: list[Expression]


def by_monotone_pieces(solver: Work, g: Expression, low: Expression, high: Expression) -> list[Root] | None:
    """The zeros between two ends, each with the condition that it exists; None where the turning places have no formula."""
    x = solver.unknown
    found: list[Root] = []
    try:
        inside = solver.facts.with_facts([c for c in between(low, x, high) if names(c)])
        if not all(map(inside.is_nonzero, breaks(g, x, facts=inside))):
            return None
        for case in _cases(solver, g, (low, high), (), solver.facts, DEEPEST_CASES):
            found += _zeros_of_case(solver, g, case, low, high)
    except (NotSolved, DomainError):
        return None
    solver.roads[ROAD] = None
    return found


def _cases(
    solver: Work, g: Expression, ends: tuple[Expression, Expression], when: tuple[Condition, ...], facts: Facts, depth: int
) -> Iterator[Case]:
    """The cases of the letters in each of which the turning places are certain."""
    x = solver.unknown
    body, plain = without_equalities(g, facts)
    slope = slope_of(body, x)
    if slope is None:
        raise NotSolved(f"the slope of {g} has no formula")
    if not contains(slope, x):
        if not plain.is_nonzero(slope):
            raise NotSolved(f"the slope of {g} may vanish everywhere")
        yield Case(when, facts, [])
        return
    needed, roots = solver.beside(slope, plain)
    asked = [c for c in (*needed, *[c for r in roots for c in r.conditions]) if plain.holds(c) is None]
    if asked:
        if not depth or contains(asked[0], x):
            raise NotSolved(f"where the slope of {g} vanishes depends on {asked[0]}")
        for choice in (asked[0], opposite(asked[0])):
            try:
                chosen = facts.with_facts([choice])
            except DomainError:
                continue
            yield from _cases(solver, g, ends, (*when, choice), chosen, depth - 1)
        return
    certain = [r for r in roots if all(plain.holds(c) for c in r.conditions)]
    members = [m for r in certain for m in members_in_range(r, x, plain)]
    if any(m.families for m in members):
        raise NotSolved(f"the slope of {g} vanishes at infinitely many places")
    yield Case(when, facts, _inside([factored(m.value) for m in members], ends, plain))


def _inside(places: Sequence[Expression], ends: tuple[Expression, Expression], facts: Facts) -> list[Expression]:
    """The places between the ends, in rising order; two may coincide."""
    low, high = ends
    kept: list[Expression] = []
    for place in dict.fromkeys(places):
        if not ((isinstance(low, Bound) or _before(low, place, facts)) and (isinstance(high, Bound) or _before(place, high, facts))):
            continue
        at = 0
        while at < len(kept) and _before(kept[at], place, facts):
            at += 1
        kept.insert(at, place)
    return kept


def _before(a: Expression, b: Expression, facts: Facts) -> bool:
    """Whether a <= b."""
    state = facts.holds(relation("<=", a, b))
    if state is None:
        raise NotSolved(f"the order of {a} and {b} is not told")
    return state


def _zeros_of_case(solver: Work, g: Expression, case: Case, low: Expression, high: Expression) -> Iterator[Root]:
    """The cuts at which g vanishes, and the zero in each piece between them."""
    x = solver.unknown
    pieces = [_piece(g, x, left, right, case.facts) for left, right in pairwise([low, *case.turning, high])]
    cuts = [_cut(g, x, pieces[0], -1, case.facts), *[_cut(g, x, piece, 1, case.facts) for piece in pieces]]
    for order, step in ((pieces, 1), (pieces[::-1], -1)):  # what rises from a value that is not negative is positive
        at = 0 if step > 0 else len(pieces)
        for piece in order:
            here, there = cuts[at], cuts[at + step]
            if here.sign is not None and here.sign in (0, piece.rising * step):
                cuts[at + step] = there._replace(sign=piece.rising * step)
            at += step
    for cut in cuts:
        if cut.value is not None and cut.sign in (0, None):
            yield Root(cut.place, (*case.when, *(() if cut.sign == 0 else (zero_where(cut.value),))))
    for piece, left, right in zip(pieces, cuts, cuts[1:], strict=False):
        conditions = [*_needs(left, -piece.rising), *_needs(right, piece.rising)]
        if None not in conditions:
            told = tuple(c for c in conditions if c is not None)
            yield Root(zero_of(solver, g, left.place, right.place), (*case.when, *told))


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


def _piece(g: Expression, x: Name, left: Expression, right: Expression, facts: Facts) -> Piece:
    told = between(left, x, right)
    if len(told) == 2:
        told.append(relation("<", left, right))
    inside = facts.with_facts([c for c in told if names(c)])
    slope = slope_of(g, x)
    assert slope is not None
    bend = slope_of(slope, x)
    signs = [(slope, _middle(left, right), 1)]
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
    raise NotSolved(f"whether {g} rises between {left} and {right} is not told")


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


def _middle(left: Expression, right: Expression) -> Expression:
    if isinstance(left, Bound):
        return ZERO if isinstance(right, Bound) else right - ONE
    return left + ONE if isinstance(right, Bound) else (left + right) / 2
