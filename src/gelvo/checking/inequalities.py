"""Solution sets of inequalities looked at again: by the facts on each piece and gap, and at points inside and beside the ends."""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate, weakest
from gelvo.checking.claims import from_decision
from gelvo.checking.samples import samples
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number, relation
from gelvo.expression.constants import INFINITE, MINUS_INFINITE
from gelvo.expression.nodes import Bound, Condition, Expression, Junction, Name, Number, Relation
from gelvo.expression.traversal import free_names, names, relations_of, substitute
from gelvo.facts.statements import fact_condition, is_about
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.inequalities.repeating import without_bounds
from gelvo.inequalities.solving import SetCase, SolutionInterval, as_condition
from gelvo.normal.prepare import prepared
from gelvo.numbers.box import Box
from gelvo.numbers.interval import NoValue
from gelvo.solving.putting_back import real_conditions
from gelvo.solving.roots import between

Stretch = tuple[Expression, Expression]
WHOLE: Stretch = (MINUS_INFINITE, INFINITE)
LETTER_VALUES = 6  # sets of values that are put in for letters
METHOD = "the facts on each whole piece and gap; else the truth at points inside and beside the ends"


def check_case(case: SetCase, x: Name) -> Certificate:
    """Whether the condition of a case holds exactly on its intervals; where these come again, along one period, and that it repeats."""
    if case.period is None:
        return check_intervals(case.condition, x, case.intervals, case.facts)
    rest = without_bounds(case.condition, x)[1]
    start = case.intervals[0].lower
    along = check_intervals(rest, x, case.intervals, case.facts, (start, start + case.period))
    sides = [s for p in relations_of(rest) for s in (p.left, p.right) if x in names(s)]
    moved = [decide_zero(substitute(s, {x: x + case.period}) - s, case.facts) for s in sides]
    again = [from_decision(f"{s} repeats after {case.period}", d, "normal form") for s, d in zip(sides, moved, strict=True)]
    claim = f"{case.condition} exactly where {case.told}"
    return Certificate(claim, weakest((along, *again)), "one period looked at, and that it repeats", parts=(along, *again))


def check_intervals(
    condition: Condition, x: Name, intervals: Sequence[SolutionInterval], facts: Facts, stretch: Stretch = WHOLE
) -> Certificate:
    """Whether the condition holds on a stretch of the line exactly on the intervals."""
    claim = f"{condition} exactly where {as_condition(list(intervals), x)}"
    plain = facts.without(x)
    states = []
    for low, high, inside in _pieces(intervals, stretch):
        inner = between(low, x, high)
        try:
            states.append(
                plain.with_facts(inner).holds(condition) is inside
                or _by_shift(condition, x, low, high, plain) is inside
                or (_is_identity if inside else _is_never)(condition, plain, inner)
                or (not inside and _is_not_real(condition, x, plain.with_facts(inner)))
            )
        except DomainError:
            states.append(False)
    if all(states):
        beside = [
            (e, any(_has(i, e) for i in intervals)) for i in intervals for e in (i.lower, i.upper) if not isinstance(e, Bound)
        ]
        if all(_truth(condition, x, e, plain) is inside for e, inside in beside):
            return Certificate(claim, PROVED, METHOD)
    ends = [e for i in intervals for e in (i.lower, i.upper)]
    if any(n is not x for part in (condition, *ends) for n in free_names(part)):
        return _with_letters(claim, condition, x, intervals, facts, stretch)
    return _at_places(claim, condition, x, intervals, facts, stretch)


def _is_never(condition: Condition, facts: Facts, inner: Sequence[Condition]) -> bool:
    """Whether an equation, or one of several conditions that must hold together, fails all along a piece: its sides never meet."""
    under = facts.with_facts(inner)
    parts = condition.parts if isinstance(condition, Junction) and condition.word == "and" else (condition,)
    equations = [p for p in parts if isinstance(p, Relation) and p.operator == "="]
    return any(under.holds(p) is False for p in parts) or any(
        under.is_nonzero(prepared(p.left - p.right, under)) for p in equations
    )


def _is_identity(condition: Condition, facts: Facts, inner: Sequence[Condition]) -> bool:
    """Whether an equation, or each of several conditions one of which is an equation, holds all along a piece."""
    under = facts.with_facts(inner)
    parts = condition.parts if isinstance(condition, Junction) and condition.word == "and" else (condition,)
    return all(
        under.holds(p) is True
        or (isinstance(p, Relation) and p.operator == "=" and decide_zero(p.left - p.right, under).zero is True)
        for p in parts
    )


def _is_not_real(condition: Condition, x: Name, under: Facts) -> bool:
    """Whether a part of a relation, or of one of several that must hold together, has no real value all along a piece."""
    parts = condition.parts if isinstance(condition, Junction) and condition.word == "and" else (condition,)
    sides = [s for p in parts if isinstance(p, Relation) for s in (p.left, p.right)]
    return any(under.holds(c) is False for s in sides for c in real_conditions(s, x, under))


def _with_letters(
    claim: str, condition: Condition, x: Name, intervals: Sequence[SolutionInterval], facts: Facts, stretch: Stretch
) -> Certificate:  # fmt: skip
    """Values put in for the letters, inside the facts, and the truth looked at along the line for each."""
    ends = [e for i in intervals for e in (i.lower, i.upper) if not isinstance(e, Bound)]
    sides = [s for p in relations_of(condition) for s in (p.left, p.right)]
    tried = 0
    for values in samples([*sides, *ends], x, facts, LETTER_VALUES):
        table = {n: number(v) for n, v in values.items()}
        try:
            stated = [substitute(c, table) for c in (fact_condition(f) for f in facts.given if is_about(f, x)) if c is not None]
            put = [i._replace(lower=substitute(i.lower, table), upper=substitute(i.upper, table)) for i in intervals]
            kept = [i for i in put if i.lower is i.upper or _in_order(i)]
            along = (substitute(stretch[0], table), substitute(stretch[1], table))
            found = _at_places(claim, substitute(condition, table), x, kept, Facts(stated), along)
        except (DomainError, NoValue):
            continue
        if found.verdict == REFUTED:
            shown = ", ".join(f"{n} = {v}" for n, v in values.items())
            return Certificate(claim, REFUTED, METHOD, {"counterexample": f"{shown}: {found.evidence['counterexample']}"})
        tried += found.verdict == SUPPORTED
    return Certificate(claim, SUPPORTED if tried >= 2 else UNDECIDED, METHOD, {"values of the letters": f"{tried} tried"})


def _in_order(piece: SolutionInterval) -> bool:
    endless = isinstance(piece.lower, Bound) or isinstance(piece.upper, Bound)
    return endless or Facts().holds(relation("<", piece.lower, piece.upper)) is True


def _at_places(
    claim: str, condition: Condition, x: Name, intervals: Sequence[SolutionInterval], facts: Facts, stretch: Stretch
) -> Certificate:  # fmt: skip
    """The condition looked at inside and outside of the intervals."""
    looked, plain = 0, facts.without(x)
    for low, high, inside in _pieces(intervals, stretch):
        for place in _places(low, high):
            truth = _truth(condition, x, number(place), plain)
            if truth is None:
                continue
            if truth is not inside and not _outside(place, x, facts):
                return Certificate(claim, REFUTED, METHOD, {"counterexample": f"{x} = {place}"})
            looked += 1
    verdict = SUPPORTED if looked >= 3 else UNDECIDED
    return Certificate(claim, verdict, METHOD, {"points": f"{looked} looked at, all as claimed"})


def _by_shift(condition: Condition, x: Name, low: Expression, high: Expression, facts: Facts) -> bool | None:
    """The truth on an open piece, with x written by a positive u that runs from end to end."""
    if isinstance(low, Bound) and isinstance(high, Bound):
        return None
    u = facts.new_name("u", condition, *[e for e in (low, high) if not isinstance(e, Bound)])
    if isinstance(low, Bound):
        place = high - u
    else:
        place = low + u if isinstance(high, Bound) else (low + high * u) / (1 + u)
    under = facts.with_facts([u > number(0)])

    def truth(part: Condition) -> bool | None:
        if isinstance(part, Junction):
            states = [truth(p) for p in part.parts]
            if part.word == "and":
                return False if False in states else None if None in states else True
            return True if True in states else None if None in states else False
        if not isinstance(part, Relation):
            return None
        gap = factored(expand(substitute(part.left - part.right, {x: place})))
        return under.holds(relation(part.operator, gap, number(0)))

    return truth(condition)


def _outside(place: mpq, x: Name, facts: Facts) -> bool:
    """Whether the facts on the unknown exclude a place."""
    return any(
        _truth(c, x, number(place), Facts()) is False
        for c in (getattr(f, "condition", f) for f in facts.given)
        if isinstance(c, Condition) and x in names(c)
    )


def pieces_of_identity(g: Expression, x: Name, intervals: Sequence[SolutionInterval], facts: Facts) -> list[SolutionInterval]:
    """The pieces on which g = 0 holds all along, of those where a step that goes one way only made it an identity.

    Raises NotSolved where a piece is neither kept nor refused as a whole.
    """
    kept: list[SolutionInterval] = []
    plain = facts.without(x)
    for piece in intervals:
        if piece.lower is piece.upper:
            kept.append(piece)
            continue
        states = {_vanishes(substitute(g, {x: number(place)})) for place in _places(piece.lower, piece.upper)}
        if states == {True} or _zero_between(g, x, piece, plain):
            kept.append(piece)
            continue
        if states != {False}:
            raise NotSolved(f"whether the equation holds all along {piece} could not be told")
        for end, closed in ((piece.lower, piece.closed_lower), (piece.upper, piece.closed_upper)):
            if closed and _truth(relation("=", g, number(0)), x, end, plain):
                kept.append(SolutionInterval(end, end, True, True))
    return kept


def _zero_between(g: Expression, x: Name, piece: SolutionInterval, facts: Facts) -> bool:
    try:
        return decide_zero(g, facts.with_facts(between(piece.lower, x, piece.upper))).zero is True
    except DomainError:
        return False


def _vanishes(value: Expression) -> bool | None:
    """Whether a number may be zero; None where it has no value."""
    try:
        box = Enclosure(value).at({}, 200)
    except (NoValue, DomainError):
        return None
    return box.contains_zero()


def _has(piece: SolutionInterval, end: Expression) -> bool:
    return (piece.closed_lower and piece.lower is end) or (piece.closed_upper and piece.upper is end)


def _pieces(intervals: Sequence[SolutionInterval], stretch: Stretch) -> list[tuple[Expression, Expression, bool]]:
    """Open pieces and gaps of a stretch of the line, and whether the condition should hold there."""
    cuts: list[tuple[Expression, Expression, bool]] = []
    last, end = stretch
    for piece in intervals:
        if last is not piece.lower:
            cuts.append((last, piece.lower, False))
        if piece.lower is not piece.upper:
            cuts.append((piece.lower, piece.upper, True))
        last = piece.upper
    if last is not end:
        cuts.append((last, end, False))
    return cuts


def _places(low: Expression, high: Expression) -> list[mpq]:
    """Numbers inside a piece with numeric ends, some very near to them; none where the ends are too near to be told apart."""
    start = mpq(-30) if isinstance(low, Bound) else mpq(Enclosure(low).at({}, 200).real.high)
    stop = mpq(30) if isinstance(high, Bound) else mpq(Enclosure(high).at({}, 200).real.low)
    if isinstance(low, Bound):
        start = min(start, stop - 30)
    if isinstance(high, Bound):
        stop = max(stop, start + 30)
    shares = (mpq(1, 10**9), mpq(1, 7), mpq(2, 5), mpq(3, 4), 1 - mpq(1, 10**9))
    return [start + (stop - start) * s for s in shares] if start < stop else []


def _truth(condition: Condition, x: Name, place: Expression, facts: Facts) -> bool | None:
    """The truth at a place; a side without a real value makes a relation false."""
    if isinstance(condition, Junction):
        parts = [_truth(p, x, place, facts) for p in condition.parts]
        if condition.word == "and":
            return False if False in parts else None if None in parts else True
        return True if True in parts else None if None in parts else False
    if not isinstance(condition, Relation):
        return facts.holds(substitute(condition, {x: place}))
    if not _every_part_is_real(condition, x, place):
        return False
    try:
        sides = [substitute(s, {x: place}) for s in (condition.left, condition.right)]
        for side in sides:
            if names(side):
                continue
            box = Enclosure(side).at({}, 160)
            if box.imag is not None and not box.imag.contains_zero():
                return False
    except NoValue as fault:
        return False if fault.certain else None
    except DomainError:
        return False
    return facts.holds(substitute(condition, {x: place}))


def _every_part_is_real(condition: Relation, x: Name, place: Expression) -> bool:
    """Whether no part is certainly without a real value at a rational place, also where it cancels, as sqrt(x)*(x + 1) at -1."""
    if not (isinstance(place, Number) and place.is_rational) or any(n is not x for n in names(condition)):
        return True
    for side in (condition.left, condition.right):
        for found in Enclosure(side).all_values({x: place.rational}, 160).values():
            if isinstance(found, NoValue) and found.certain:
                return False
            if isinstance(found, Box) and found.imag is not None and not found.imag.contains_zero():
                return False
    return True
