"""Cases of letters for work that holds where some formulas are not zero: where one of them is zero the work is done again.

The letters that make a formula zero are put in, so that a case has a matrix, or whatever else, of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import relation, sqrt
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Relation, Truth
from gelvo.expression.traversal import names, substitute
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list, letters_where_zero
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import coefficients_of, lowest_terms
from gelvo.solving.sign_cases import Table, put_in, under_values
from gelvo.solving.single.complete import solve_single

MOST_CASES, DEEPEST = 60, 8


class Branch(NamedTuple):
    """One way in which a formula is zero: the letters with their values, what they need, and the facts then."""

    table: Table
    needed: tuple[Condition, ...]
    facts: Facts


class ZeroCase(NamedTuple):
    """What holds for the letters, those that it gives a value, what the work gave (None where it was not done), and the facts."""

    when: tuple[Condition, ...]
    table: Table
    result: object
    facts: Facts


Work = Callable[[Table, Facts], tuple[object, tuple[Condition, ...]]]
Same = Callable[[object, object, Table], bool]


def where_zero(gap: Expression, facts: Facts, depth: int = 0) -> list[Branch] | None:
    """All ways in which a formula in letters is zero, apart from each other; None where some are not found.

    >>> from gelvo.expression.building import name
    >>> a, b, c = name("a"), name("b"), name("c")
    >>> [(w.table, [str(n) for n in w.needed]) for w in where_zero(a*b - c, Facts())]
    [({c: a*b}, [])]
    """
    if depth > DEEPEST:
        return None
    found: list[Branch] = []
    apart: tuple[Condition, ...] = ()
    for factor in factor_list(factored(gap)):
        if not names(factor):
            continue
        ways = _factor_zero(factor, facts, depth)
        if ways is None:
            return None
        found += [way._replace(needed=(*apart, *way.needed)) for way in ways]
        try:
            facts = facts.with_facts([nonzero(factor)])
            apart = (*apart, nonzero(factor))
        except DomainError:
            break
    return found


def _factor_zero(factor: Expression, facts: Facts, depth: int) -> list[Branch] | None:
    if facts.is_nonzero(factor):
        return []
    plain = letters_where_zero(factor, facts)
    if plain is not None:
        return _branch(plain, (), facts)
    letters = [n for n in names(factor) if isinstance(n, Name)]
    by_letter = [(n, c) for n in letters if (c := coefficients_of(factor, n)) is not None and 2 <= len(c) <= 3]
    linear = min((item for item in by_letter if len(item[1]) == 2), key=lambda item: len(str(item[1][1])), default=None)
    if linear is not None:
        letter, (rest, slope) = linear
        return _by_linear(letter, rest, slope, facts, depth)
    for letter, (constant, slope, leading) in by_letter:
        if facts.is_nonzero(leading):
            return _by_quadratic(letter, constant, slope, leading, facts, depth)
    return _by_solver(factor, letters[0], facts) if len(letters) == 1 else None


def _by_linear(letter: Name, rest: Expression, slope: Expression, facts: Facts, depth: int) -> list[Branch] | None:
    """slope*letter + rest = 0: a value where the slope is not zero; where it is, the rest is zero as well."""
    found: list[Branch] = []
    try:
        apart = facts.with_facts([nonzero(slope)])
        found += _branch({letter: lowest_terms(-rest / slope)}, (nonzero(slope),), apart)
    except DomainError:
        pass
    ways = where_zero(slope, facts, depth + 1)
    if ways is None:
        return None
    for way in ways:
        left = factored(substitute(rest, way.table))
        if left is ZERO:
            found.append(way)
            continue
        if not names(left):
            continue
        more = where_zero(left, way.facts, depth + 1)
        if more is None:
            return None
        found += [Branch(put_in(way.table, m.table), (*way.needed, *m.needed), m.facts) for m in more]
    return found


def _by_quadratic(letter: Name, c: Expression, b: Expression, a: Expression, facts: Facts, depth: int) -> list[Branch] | None:
    gap = factored(expand(b * b / 4 - a * c))
    real = facts.is_real(letter) and facts.is_real(gap)
    if real and facts.is_negative(gap):
        return []
    if real and facts.is_nonpositive(gap):  # real where it is zero
        return _where_both(letter, -b / (2 * a), gap, facts, depth)
    needed: tuple[Condition, ...] = () if not real or facts.is_nonnegative(gap) else (relation(">=", expand(gap), ZERO),)
    root = sqrt(expand(gap))
    try:
        under = facts.with_facts([n for n in needed if names(n)])
    except DomainError:
        return []
    values = dict.fromkeys(expand((-b / 2 + sign * root) / a) for sign in (-1, 1))
    return [branch for v in values for branch in _branch({letter: v}, needed, under)]


def _where_both(letter: Name, value: Expression, gap: Expression, facts: Facts, depth: int) -> list[Branch] | None:
    """A letter with its value, where something else is zero."""
    ways = where_zero(gap, facts, depth + 1)
    if ways is None:
        return None
    found: list[Branch] = []
    for way in ways:
        there = {letter: lowest_terms(substitute(value, way.table))}
        found += [Branch(put_in(way.table, b.table), (*way.needed, *b.needed), b.facts) for b in _branch(there, (), way.facts)]
    return found


def _by_solver(factor: Expression, letter: Name, facts: Facts) -> list[Branch] | None:
    """All zeros of a formula in one letter, such as a family of angles."""
    try:
        roots = solve_single(factor, letter, facts, facts.is_real(letter))
    except NotSolved:
        return None
    if roots.everything or roots.conditions or roots.lost or roots.regions or any(r.conditions for r in roots.found):
        return None
    return [branch for r in roots.found for branch in _branch({letter: r.value}, (), facts)]


def _branch(table: Table, needed: tuple[Condition, ...], facts: Facts) -> list[Branch]:
    try:
        return [Branch(table, needed, under_values(facts, table))]
    except DomainError:  # against the facts
        return []


def zero_cases(work: Work, same: Same, facts: Facts) -> list[ZeroCase]:
    """The work in general, then where its conditions fail; same(result, where_zero, table): is the second the first with the table put in?"""
    return list(_cases(work, same, facts, (), {}, [0]))


def _cases(
    work: Work, same: Same, facts: Facts, assumed: tuple[Condition, ...], table: Table, count: list[int]
) -> Iterator[ZeroCase]:
    count[0] += 1
    result, conditions = work(table, facts)
    open_ones = [c for c in facts.open_conditions(conditions) if not isinstance(c, Truth)]
    kept: list[Condition] = []
    rows: list[ZeroCase] = []
    under = facts
    for condition in open_ones:
        gap = _gap(condition)
        ways = where_zero(gap, under) if gap is not None and count[0] < MOST_CASES else None
        inner: list[ZeroCase] = []
        if ways is None:
            inner += _as_a_fact(work, under, condition, (*assumed, *kept), table)
        for way in ways or ():
            given = tuple(relation("=", letter, value) for letter, value in way.table.items())
            inner += _cases(work, same, way.facts, (*assumed, *kept, *way.needed, *given), put_in(table, way.table), count)
        if len(inner) == 1 and inner[0].result is not None and same(result, inner[0].result, inner[0].table):
            continue  # the general result holds there too
        kept.append(condition)
        rows += inner
        try:
            under = under.with_facts([condition])
        except DomainError:
            break
    yield ZeroCase(_told((*assumed, *kept), table), table, result, under)
    yield from rows


def _told(conditions: tuple[Condition, ...], table: Table) -> tuple[Condition, ...]:
    """The conditions, without those that the values of the letters show to hold."""
    found: dict[Condition, None] = {}
    for c in conditions:
        there = substitute(c, table) if isinstance(c, Relation) and c.operator == "!=" else c
        if there is c or not Facts().holds(there):
            found[c] = None
    return tuple(found)


def _as_a_fact(
    work: Work, facts: Facts, condition: Condition, assumed: tuple[Condition, ...], table: Table
) -> list[ZeroCase]:  # fmt: skip
    """The work where it is only known that a condition fails."""
    fails = _fails(condition)
    result: object = None
    try:
        under = facts.with_facts([fails])
        result, conditions = work(table, under)
        if any(not isinstance(c, Truth) for c in under.open_conditions(conditions)):
            result = None
    except DomainError:
        return []
    return [ZeroCase(_told((*assumed, fails), table), table, result, under)]


def _gap(condition: Condition) -> Expression | None:
    return condition.left - condition.right if isinstance(condition, Relation) and condition.operator == "!=" else None


def _fails(condition: Condition) -> Condition:
    gap = _gap(condition)
    return condition if gap is None else zero_where(gap)
