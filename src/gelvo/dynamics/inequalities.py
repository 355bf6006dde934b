"""Inequalities in one unknown: the real line cut at zeros, poles and borders of the domain, each piece decided at one point.

Every cut is exact. Where the cuts have letters, the facts must order them and tell the signs between.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import NamedTuple

from gelvo.calculus.zeros import NotKnown, order, sort_places, zeros_between
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import junction, number, relation, truth
from gelvo.expression.nodes import Bound, Condition, Expression, Junction, Name, Power, Relation, Truth
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, free_names, names, postorder, substitute
from gelvo.facts.continuity import breaks
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored
from gelvo.functions.named import LN, LOG2, LOG10, is_a
from gelvo.numbers.interval import NoValue
from gelvo.solving.putting_back import follows, real_conditions
from gelvo.solving.roots import window
from gelvo.solving.single.complete import borders_of_zeros, isolated


class SolutionInterval(NamedTuple):
    """From lower to upper; the ends belong to it or not; both the same for a single point."""

    lower: Expression
    upper: Expression
    closed_lower: bool
    closed_upper: bool

    def __str__(self) -> str:
        return f"{'[' if self.closed_lower else '('}{self.lower}, {self.upper}{']' if self.closed_upper else ')'}"


def solve_inequality(condition: Condition, x: Name, facts: Facts) -> list[SolutionInterval]:
    """The intervals where the condition holds, in rising order.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(*solve_inequality(x**2 > 4, x, Facts()))
    (-inf, -2) (2, inf)
    """
    for node in postorder(condition):
        if isinstance(node, Power) and contains(node.exponent, x) and not facts.is_nonnegative(node.base):
            raise NotSolved(
                f"where {node.base} is negative, {node} is real at single places only: state that {node.base} is positive"
            )
    ends = _ends(condition, x, facts)
    pieces: list[SolutionInterval] = []
    for k, (left, right) in enumerate(itertools.pairwise(ends)):
        if k or not isinstance(left, Bound):
            if _holds(condition, x, left, facts):
                pieces.append(SolutionInterval(left, left, True, True))
        try:
            inside = facts.with_facts([c for c in _between(x, left, right) if names(c)])
        except DomainError:  # the facts leave nothing of this piece
            continue
        if _holds(condition, x, _middle(left, right), facts, inside):
            pieces.append(SolutionInterval(left, right, False, False))
    if not isinstance(ends[-1], Bound) and _holds(condition, x, ends[-1], facts):
        pieces.append(SolutionInterval(ends[-1], ends[-1], True, True))
    return _merged(pieces)


def _ends(condition: Condition, x: Name, facts: Facts) -> list[Expression]:
    """The ends of the range of x and the places between them where the condition may change, in rising order."""
    low, high = window(x, facts)
    borders = [g for part in _relations(condition) for g in _borders(part, x, facts)]
    places = [p for g in borders for p in _zeros(g, x, (low, high), facts)]
    try:
        cuts = _distinct(sort_places(places, facts), facts)
        cuts = [c for c in cuts if order(low, c, facts) <= 0 and order(c, high, facts) <= 0]
    except NotKnown:
        raise NotSolved(f"the facts do not tell the order of the places {', '.join(map(str, places))}") from None
    return [low, *[c for c in cuts if c is not low and c is not high], high]


def as_condition(intervals: list[SolutionInterval], x: Name) -> Condition:
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


def _borders(part: Relation, x: Name, facts: Facts) -> list[Expression]:
    """Formulas whose zeros are all places where the truth of a relation may change."""
    g = part.left - part.right
    if not contains(g, x):
        return []
    found = dict.fromkeys(breaks(g, x, facts=facts))
    form = Form([g])
    top, bottom = form.lowest_terms(form.of(g))
    for p in (form.factored(top), form.factored(bottom)):
        found.update(dict.fromkeys([p]))
    for node in postorder(g):  # borders of the domain of roots and logarithms
        if is_a(node, LN, LOG10, LOG2) and contains(node, x):
            found[node.arguments[0]] = None
    return [f for f in found if contains(f, x)]


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
        places = _real_zeros(base, x, facts)
        if places is None:
            raise NotSolved(f"the real zeros of {base} could not all be found")
        found.extend(places)
    return found


def _real_zeros(g: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    coefficients = uni.coefficients_of(g, x)
    if coefficients is not None and len(coefficients) == 2:
        return [factored(-coefficients[0] / coefficients[1])] if facts.is_nonzero(coefficients[1]) else None
    if coefficients is not None and len(coefficients) == 3:
        gap = factored(coefficients[1] ** 2 - 4 * coefficients[0] * coefficients[2])
        if facts.is_negative(gap):
            return []
        if names(gap) and not facts.is_nonnegative(gap):
            raise NotSolved(f"the sign of the discriminant {gap} is not known: state it as a fact")
    places = isolated(g, x, facts.without(x))
    if places is None:
        return borders_of_zeros(g, x, facts.without(x))
    if any(family is not None for _, family in places):
        raise NotSolved(f"{g} has infinitely many zeros: give a range for {x}, such as given 0 <= {x}, {x} <= 2*pi")
    return [p for p, _ in places]


def _distinct(places: list[Expression], facts: Facts) -> list[Expression]:
    kept: list[Expression] = []
    for place in places:
        if not kept or order(kept[-1], place, facts) != 0:
            kept.append(place)
    return kept


def _between(x: Name, left: Expression, right: Expression) -> list[Condition]:
    found: list[Condition] = []
    if not isinstance(left, Bound):
        found.append(relation("<", left, x))
    if not isinstance(right, Bound):
        found.append(relation("<", x, right))
    return found


def _middle(left: Expression, right: Expression) -> Expression:
    if isinstance(left, Bound) and isinstance(right, Bound):
        return number(0)
    if isinstance(left, Bound):
        return right - 1
    if isinstance(right, Bound):
        return left + 1
    return (left + right) / 2


def _holds(condition: Condition, x: Name, place: Expression, facts: Facts, inside: Facts | None = None) -> bool:
    """Whether the condition holds at a place; a formula without a real value there does not hold."""
    if isinstance(condition, Junction):
        states = [_holds(p, x, place, facts, inside) for p in condition.parts]
        return all(states) if condition.word == "and" else any(states)
    if isinstance(condition, Truth):
        return condition.holds
    assert isinstance(condition, Relation)
    try:
        left, right = (substitute(s, {x: place}) for s in (condition.left, condition.right))
        needed = [c for s in (condition.left, condition.right) for c in real_conditions(s, x, facts)]
        if any(follows(substitute(c, {x: place}), facts) is False for c in needed):
            return False  # a part has no real value, though it may cancel: sqrt(x)*(x + 1) at -1
    except DomainError:
        return False
    if isinstance(left, Bound) or isinstance(right, Bound) or _is_no_real_number(left) or _is_no_real_number(right):
        return False
    for state in _states(condition, left, right, facts, inside):
        if state is not None:
            return state
    raise NotSolved(f"the facts do not tell whether {condition} holds at {x} = {place}")


def _is_no_real_number(side: Expression) -> bool:
    """Whether a formula without names has no real value."""
    if names(side):
        return False
    try:
        box = Enclosure(side).at({}, 100)
    except NoValue:
        return True
    return box.imag is not None and not box.imag.contains_zero()


def _states(
    condition: Relation, left: Expression, right: Expression, facts: Facts, inside: Facts | None
) -> Iterator[bool | None]:
    """One way after the other to tell whether a relation holds."""
    yield facts.holds(relation(condition.operator, left, right))
    if inside is not None:
        yield inside.holds(condition)
    if not free_names(left - right) and is_zero(left - right):
        yield condition.operator in ("<=", "=")
    for work in (factored, expand):
        yield facts.holds(relation(condition.operator, work(left - right), number(0)))


def _merged(pieces: list[SolutionInterval]) -> list[SolutionInterval]:
    """Neighbours joined where they meet."""
    result: list[SolutionInterval] = []
    for piece in pieces:
        if result and result[-1].upper is piece.lower and (result[-1].closed_upper or piece.closed_lower):
            last = result.pop()
            piece = SolutionInterval(last.lower, piece.upper, last.closed_lower, piece.closed_upper)
        result.append(piece)
    return result
