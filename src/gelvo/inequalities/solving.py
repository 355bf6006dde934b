"""Inequalities in one unknown: the real line cut at zeros, poles and borders of the domain, each piece decided at one point.

Every cut is exact. Where the cuts have letters whose order, or whose signs between, the facts leave open, the cases are told apart.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from typing import Any, NamedTuple, cast

from gelvo.calculus.zeros import NotKnown, order, sort_places, zeros_between
from gelvo.deciding.equality import decide_zero, is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import junction, number, relation, truth
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE
from gelvo.expression.nodes import Bound, Condition, Expression, Junction, Name, Power, Relation, Truth
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, free_names, names, postorder, relations_of, substitute
from gelvo.facts.continuity import breaks
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored
from gelvo.functions.named import LN, LOG2, LOG10, is_a
from gelvo.inequalities.piece_signs import Piece, sign_along
from gelvo.inequalities.repeating import along_one_period, is_everywhere, period_of, without_bounds
from gelvo.inequalities.rounded import rounded_unknown, through_rounding
from gelvo.normal.prepare import prepared
from gelvo.numbers.interval import NoValue
from gelvo.solving.putting_back import follows, real_conditions
from gelvo.solving.roots import Root, between, middle, window
from gelvo.solving.sign_cases import KINKED, OpenSign, asked_for, by_cases
from gelvo.solving.single.complete import borders_of_zeros, isolated
from gelvo.solving.single.families import members_in_range
from gelvo.solving.single.solver import Solver


class SolutionInterval(NamedTuple):
    """From lower to upper; the ends belong to it or not; both the same for a single point."""

    lower: Expression
    upper: Expression
    closed_lower: bool
    closed_upper: bool

    def __str__(self) -> str:
        return f"{'[' if self.closed_lower else '('}{self.lower}, {self.upper}{']' if self.closed_upper else ')'}"


class SetCase(NamedTuple):
    """What holds for the letters, the intervals then, and the same as a condition; the condition as it was solved, with its facts.

    period: after which the intervals come again, where they do; they are those of one period then.
    """

    when: tuple[Condition, ...]
    intervals: tuple[SolutionInterval, ...]
    told: Condition
    condition: Condition
    facts: Facts
    period: Expression | None = None


class _Found(NamedTuple):
    """The condition as it was solved, its intervals, and the period after which they come again."""

    condition: Condition
    intervals: tuple[SolutionInterval, ...]
    period: Expression | None = None


def solve_inequality(condition: Condition, x: Name, facts: Facts) -> list[SetCase]:
    """The intervals where the condition holds, in rising order, in each case of its letters.

    >>> from gelvo.expression.building import name
    >>> x, a = name("x"), name("a")
    >>> for case in solve_inequality(x**2 > a, x, Facts()):
    ...     print(*case.when, *case.intervals)
    a >= 0 (-inf, -sqrt(a)) (sqrt(a), inf)
    a < 0 (-inf, inf)
    """

    def work(table: dict[Name, Expression], under: Facts) -> object:
        inside = condition
        if table:  # a part that cancels where a letter takes its value counts still
            written = [c for p in _relations(condition) for s in (p.left, p.right) for c in real_conditions(s, x, facts)]
            inside = junction("and", [_put_in(c, table) for c in (condition, *written)])
        inside = _settled(inside, x, under)
        if isinstance(inside, Truth):
            return _Found(inside, _everywhere(inside, x, under))
        try:
            low, high = _window(inside, x, under)
        except DomainError:  # parts that cannot hold together
            return _Found(truth(False), ())
        if isinstance(low, Bound) or isinstance(high, Bound):
            period = period_of(without_bounds(inside, x)[1], x, under)
            if period is not None:
                return _repeated(inside, x, period, under)
        return _Found(inside, tuple(_intervals(inside, x, under)))

    def same(one: Any, other: Any, table: dict[Name, Expression]) -> bool:
        return (one.period is None) == (other.period is None) and _same(one.intervals, other.intervals, table)

    found = [(c, cast(_Found, c.result)) for c in by_cases(work, same, facts)]
    return [SetCase(c.when, f.intervals, _told(f, x, facts), f.condition, c.facts, f.period) for c, f in found]


def _repeated(condition: Condition, x: Name, period: Expression, facts: Facts) -> _Found:
    """The intervals of one period; of all of the line or nothing of it what is left by the bounds beside."""
    bounds, rest = without_bounds(condition, x)
    pieces = along_one_period(rest, x, period, facts, _intervals)
    if pieces and not is_everywhere(pieces, period):
        return _Found(condition, tuple(SolutionInterval(*p) for p in pieces), period)
    left = junction("and", bounds) if pieces else truth(False)
    return _Found(
        condition, tuple(_intervals(left, x, facts)) if bounds and pieces else _everywhere(truth(bool(pieces)), x, facts)
    )


def _told(found: _Found, x: Name, facts: Facts) -> Condition:
    """The intervals as a condition, moved by every multiple of a period."""
    if found.period is None:
        return as_condition(found.intervals, x)
    n = facts.new_name("n", found.condition, x, domain="integer")
    move = n * found.period
    pieces = as_condition([p._replace(lower=p.lower + move, upper=p.upper + move) for p in found.intervals], x)
    return junction("and", [*without_bounds(found.condition, x)[0], pieces])


def _window(condition: Condition, x: Name, facts: Facts) -> tuple[Expression, Expression]:
    """The range that the facts leave to the unknown, and the condition where it is several that must hold together."""
    return window(x, facts.with_facts(without_bounds(condition, x)[0]))


def _put_in(condition: Condition, table: dict[Name, Expression]) -> Condition:
    """The letters put in; a relation that has no value then does not hold."""
    if isinstance(condition, Junction):
        return junction(condition.word, [_put_in(p, table) for p in condition.parts])
    try:
        return substitute(condition, table)
    except DomainError:
        return truth(False)


def _settled(condition: Condition, x: Name, facts: Facts) -> Condition:
    """Relations of letters alone decided."""
    if isinstance(condition, Junction):
        return junction(condition.word, [_settled(p, x, facts) for p in condition.parts])
    if not isinstance(condition, Relation) or x in names(condition):
        return condition
    state = facts.holds(condition)
    if state is None:
        raise asked_for(f"the facts do not tell whether {condition} holds", [condition.left - condition.right], x, facts)
    return truth(state)


def one_case(cases: Sequence[SetCase], x: Name) -> tuple[SolutionInterval, ...]:
    """The intervals where they do not depend on letters.

    Raises NotSolved where they do.
    """
    if len(cases) == 1 and not cases[0].when:
        return cases[0].intervals
    told = "; ".join(", ".join(map(str, c.when)) for c in cases)
    raise NotSolved(f"the intervals of {x} depend on the letters ({told}): state as a fact which case holds")


def _everywhere(condition: Truth, x: Name, facts: Facts) -> tuple[SolutionInterval, ...]:
    return (SolutionInterval(*window(x, facts), False, False),) if condition.holds else ()


def _same(one: Sequence[SolutionInterval], other: Sequence[SolutionInterval], table: dict[Name, Expression]) -> bool:
    """Whether intervals are others with letters put in."""
    try:
        put = [p._replace(lower=_put(p.lower, table), upper=_put(p.upper, table)) for p in one]
    except DomainError:
        return False
    left = _merged([p for p in put if p.lower is not p.upper or (p.closed_lower and p.closed_upper)])
    return left == list(other)


def _put(end: Expression, table: dict[Name, Expression]) -> Expression:
    return end if isinstance(end, Bound) or not table else factored(substitute(end, table))


def _intervals(condition: Condition, x: Name, facts: Facts) -> list[SolutionInterval]:
    """The intervals of one case.

    Raises OpenSign where a sign that the facts leave open decides.
    """
    for node in postorder(condition):
        if isinstance(node, Power) and contains(node.exponent, x) and not facts.is_nonnegative(node.base):
            raise NotSolved(
                f"where {node.base} is negative, {node} is real at single places only: state that {node.base} is positive"
            )
    rounded = rounded_unknown(condition, x, facts)
    if rounded is not None:
        return _merged([SolutionInterval(*i) for i in through_rounding(condition, x, rounded, facts, _intervals)])
    ends, met = _ends(condition, x, facts)
    pieces: list[SolutionInterval] = []
    for k, (left, right) in enumerate(itertools.pairwise(ends)):
        if k or not isinstance(left, Bound):
            if _holds(condition, x, left, facts, met.get(left, ())):
                pieces.append(SolutionInterval(left, left, True, True))
        try:
            inside = facts.with_facts([c for c in between(left, x, right) if names(c)])
        except DomainError:  # the facts leave nothing of this piece
            continue
        if _holds(condition, x, middle(left, right), facts, Piece(left, right, inside)):
            pieces.append(SolutionInterval(left, right, False, False))
    if not isinstance(ends[-1], Bound) and _holds(condition, x, ends[-1], facts, met.get(ends[-1], ())):
        pieces.append(SolutionInterval(ends[-1], ends[-1], True, True))
    return _merged(pieces)


def _ends(condition: Condition, x: Name, facts: Facts) -> tuple[list[Expression], dict[Expression, list[Relation]]]:
    """The ends of the range of x and the places between where the condition may change, in rising order; where which sides meet."""
    low, high = _window(condition, x, facts)
    met: dict[Expression, list[Relation]] = {}
    for part in _relations(condition):
        top, bottom, breaking = _borders(part, x, facts)
        for g in (top, bottom, *breaking):
            for place in _zeros(g, x, (low, high), facts):
                listed = met.setdefault(_without_bars(place, facts), [])
                if g is top and facts.is_nonzero(substitute(bottom, {x: place})):
                    listed.append(part)
    places = list(met)
    try:
        cuts = _distinct(sort_places(places, facts), facts)
        cuts = [c for c in cuts if order(low, c, facts) <= 0 and order(c, high, facts) <= 0]
    except NotKnown:
        told = f"the facts do not tell the order of the places {', '.join(map(str, places))}"
        finite = [p for p in dict.fromkeys((low, *places, high)) if not isinstance(p, Bound)]
        raise asked_for(told, (expand(b - a) for a, b in itertools.combinations(finite, 2)), x, facts) from None
    return [low, *[c for c in cuts if c is not low and c is not high], high], met


def _without_bars(place: Expression, facts: Facts) -> Expression:
    """a for abs(a) where the facts tell its sign."""
    return prepared(place, facts) if any(is_a(n, *KINKED) for n in postorder(place)) else place


def as_condition(intervals: Sequence[SolutionInterval], x: Name) -> Condition:
    """The intervals as one condition on the unknown."""
    parts: list[Condition] = []
    for piece in intervals:
        if piece.lower is piece.upper:
            parts.append(relation("=", x, piece.lower))
            continue
        own: list[Condition] = []
        if not isinstance(piece.lower, Bound):
            own.append(relation("<=" if piece.closed_lower else "<", piece.lower, x))
        if not isinstance(piece.upper, Bound):
            own.append(relation("<=" if piece.closed_upper else "<", x, piece.upper))
        parts.append(junction("and", own) if len(own) > 1 else own[0] if own else truth(True))
    if not parts:
        return truth(False)
    return junction("or", parts) if len(parts) > 1 else parts[0]


def _relations(condition: Condition) -> list[Relation]:
    if isinstance(condition, Relation):
        return [condition]
    if isinstance(condition, Junction):
        return [r for p in condition.parts for r in _relations(p)]
    if isinstance(condition, Truth):
        return []
    raise NotSolved(f"{condition} is not built from inequalities")


def _borders(part: Relation, x: Name, facts: Facts) -> tuple[Expression, Expression, list[Expression]]:
    """Formulas whose zeros are all places where the truth of a relation may change: where the sides meet, at poles, at other breaks."""
    g = part.left - part.right
    if not contains(g, x):
        return ONE, ONE, []
    form = Form([g])
    top, bottom = form.lowest_terms(form.of(g))
    found = dict.fromkeys(breaks(g, x, facts=facts))
    for node in postorder(g):  # borders of the domain of roots and logarithms
        if is_a(node, LN, LOG10, LOG2) and contains(node, x):
            found[node.arguments[0]] = None
    return form.factored(top), form.factored(bottom), [f for f in found if contains(f, x)]


def _zeros(g: Expression, x: Name, window: tuple[Expression, Expression], facts: Facts) -> list[Expression]:
    found: list[Expression] = []
    for f in factors_in(g):
        base = f.base if isinstance(f, Power) else f
        if not contains(base, x):
            continue
        if not any(isinstance(e, Bound) for e in window):
            try:
                # without the facts about x: a border that x must not touch counts
                found.extend(zeros_between(base, x, window[0], window[1], facts.without(x)))
                continue
            except NotKnown:
                pass
        places = _real_zeros(base, x, facts, window)
        if places is None:
            raise NotSolved(f"the real zeros of {base} could not all be found")
        found.extend(places)
    return found


def _real_zeros(
    g: Expression, x: Name, facts: Facts, window: tuple[Expression, Expression] = (MINUS_INFINITE, INFINITE)
) -> list[Expression] | None:  # fmt: skip
    coefficients = uni.coefficients_of(g, x)
    if coefficients is not None and len(coefficients) in (2, 3):
        if not facts.is_nonzero(coefficients[-1]):
            raise asked_for(f"the sign of {coefficients[-1]} is not known: state it as a fact", [coefficients[-1]], x, facts)
        if len(coefficients) == 2:
            return [factored(-coefficients[0] / coefficients[1])]
        gap = factored(coefficients[1] ** 2 - 4 * coefficients[0] * coefficients[2])
        if facts.is_negative(gap):
            return []
        if names(gap) and not facts.is_nonnegative(gap):
            raise asked_for(f"the sign of the discriminant {gap} is not known: state it as a fact", [gap], x, facts)
    places = isolated(g, x, facts.without(x))
    if places is None:
        find = _with_conditions if any(n is not x for n in names(g)) else borders_of_zeros
        return find(g, x, facts.without(x))
    if all(n is None for _, n in places):
        return [p for p, _ in places]
    low, high = window
    inside = facts.without(x).with_facts([*_at_least(low, x), *_at_least(x, high)])
    members = [
        m for place, n in places for m in ([Root(place)] if n is None else members_in_range(Root(place, (), (n,)), x, inside))
    ]
    if any(m.families or m.conditions for m in members):
        raise NotSolved(f"{g} has infinitely many zeros: give a range for {x}, such as given 0 <= {x}, {x} <= 2*pi")
    return [m.value for m in members]


def _at_least(low: Expression, high: Expression) -> list[Condition]:
    return [] if isinstance(low, Bound) or isinstance(high, Bound) else [relation("<=", low, high)]


def _with_conditions(g: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    """Zeros that exist under conditions on letters: these are asked for."""
    solver = Solver(x, facts, True)
    try:
        needed = [c for r in solver.solve(g) for c in r.conditions if r.value is not x] + list(solver.conditions)
    except (NotSolved, DomainError):
        return None
    gaps = [p.left - p.right for c in needed for p in relations_of(c) if x not in names(c) and facts.holds(p) is None]
    found = asked_for(f"the real zeros of {g} depend on {', '.join(map(str, needed))}", gaps, x, facts)
    if isinstance(found, OpenSign):
        raise found
    return borders_of_zeros(g, x, facts)


def _distinct(places: list[Expression], facts: Facts) -> list[Expression]:
    kept: list[Expression] = []
    for place in places:
        if not kept or order(kept[-1], place, facts) != 0:
            kept.append(place)
    return kept


def _holds(condition: Condition, x: Name, place: Expression, facts: Facts, at: Piece | Sequence[Relation]) -> bool:
    """Whether the condition holds at a place where the sides of some relations meet, or along a piece around it.

    A formula without a real value there does not hold.
    """
    if isinstance(condition, Junction):
        return _junction_holds(condition, x, place, facts, at)
    if isinstance(condition, Truth):
        return condition.holds
    assert isinstance(condition, Relation)
    needed = [c for s in (condition.left, condition.right) for c in real_conditions(s, x, facts)]
    try:
        left, right = (substitute(s, {x: place}) for s in (condition.left, condition.right))
        if any(follows(substitute(c, {x: place}), facts) is False for c in needed):
            return False  # a part has no real value, though it may cancel: sqrt(x)*(x + 1) at -1
    except DomainError:
        return False
    if isinstance(left, Bound) or isinstance(right, Bound) or _is_no_real_number(left) or _is_no_real_number(right):
        return False
    piece = at if isinstance(at, Piece) else None
    for state in _states(condition, left, right, facts, piece):
        if state is not None:
            return state
    if not isinstance(at, Piece) and condition in at:
        return condition.operator in ("<=", "=")
    if piece is not None and (sign := _sign(condition, x, needed, facts, piece)):
        return relation(condition.operator, number(sign), number(0)) is truth(True)
    told = f"the facts do not tell whether {condition} holds at {x} = {place}"
    raise asked_for(told, [*_gaps(needed, x, place), left - right], x, facts)


def _sign(condition: Relation, x: Name, needed: Sequence[Condition], facts: Facts, piece: Piece) -> int:
    """The sign of left - right along a piece where all its parts are real; 0 where none is told."""

    def zeros(g: Expression) -> list[Expression]:
        found = _real_zeros(g, x, facts)
        if found is None:
            raise NotSolved(f"the real zeros of {g} could not all be found")
        return found

    def along(part: Relation) -> int:
        return sign_along(part.left - part.right, x, piece, zeros, facts)

    for c in needed:
        apart = isinstance(c, Relation) and c.operator == "!="  # its zeros are cuts
        if not apart and piece.inside.holds(c) is not True and not (isinstance(c, Relation) and along(c) < 0):
            return 0
    return along(condition)


def _junction_holds(condition: Junction, x: Name, place: Expression, facts: Facts, at: Piece | Sequence[Relation]) -> bool:
    """Whether all parts hold, or one: a part that is not told matters only where the others do not decide."""
    open_part: NotSolved | None = None
    decisive = condition.word == "or"
    for part in condition.parts:
        try:
            if _holds(part, x, place, facts, at) is decisive:
                return decisive
        except NotSolved as fault:
            open_part = open_part or fault
    if open_part is not None:
        raise open_part
    return not decisive


def _gaps(needed: Sequence[Condition], x: Name, place: Expression) -> Iterator[Expression]:
    for c in needed:
        for part in relations_of(c):
            yield substitute(part.left - part.right, {x: place})


def _is_no_real_number(side: Expression) -> bool:
    """Whether a formula without names has no real value."""
    if names(side):
        return False
    try:
        box = Enclosure(side).at({}, 100)
    except NoValue:
        return True
    return box.imag is not None and not box.imag.contains_zero()


def _states(condition: Relation, left: Expression, right: Expression, facts: Facts, piece: Piece | None) -> Iterator[bool | None]:
    """One way after the other to tell whether a relation holds."""
    yield facts.holds(relation(condition.operator, left, right))
    if piece is not None:
        yield piece.inside.holds(condition)
    if not free_names(left - right) and is_zero(left - right):
        yield condition.operator in ("<=", "=")
    for work in (factored, expand, lambda gap: prepared(gap, facts)):
        yield facts.holds(relation(condition.operator, work(left - right), number(0)))
    if names(left - right) and decide_zero(left - right, facts).zero:
        yield condition.operator in ("<=", "=")


def _merged(pieces: list[SolutionInterval]) -> list[SolutionInterval]:
    """Neighbours joined where they meet."""
    result: list[SolutionInterval] = []
    for piece in pieces:
        if result and result[-1].upper is piece.lower and (result[-1].closed_upper or piece.closed_lower):
            last = result.pop()
            piece = SolutionInterval(last.lower, piece.upper, last.closed_lower, piece.closed_upper)
        result.append(piece)
    return result
