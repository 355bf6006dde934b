"""Cases of letters: work that needs a sign which the facts leave open is done for each of its three signs.

What comes out alike for several signs is told once: for a >= 0, for a != 0, or with no condition.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from math import lcm
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import looks_negative, negate, number, relation, scale, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Number, Power, Product, Relation, Sum, Truth
from gelvo.expression.traversal import names, postorder, substitute, tree_size
from gelvo.facts.conditions import zero_where
from gelvo.facts.sign_rules.inverses import behind_function
from gelvo.facts.sign_rules.roots import against_root
from gelvo.facts.statements import Fact, fact_condition
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list, letters_where_zero
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.unit_forms import unit_form
from gelvo.functions.named import ABS, LN, MAX, MIN, SIGN, is_a
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import Gaussian, real
from gelvo.solving.single.families import without_implied

DEEPEST, MOST_CASES, LARGEST = 6, 40, 40
TURNED = {">": "<", "<": ">", ">=": "<=", "<=": ">="}
KINKED = (ABS, SIGN, MAX, MIN)
Table = dict[Name, Expression]


class OpenSign(NotSolved):
    """The sign of a formula in letters decides, and the facts leave it open."""

    def __init__(self, gap: Expression, message: str) -> None:
        super().__init__(message)
        self.gap = gap


class Case(NamedTuple):
    """What holds for the letters, those that it gives a value, and what the work gave under the facts of the case."""

    when: tuple[Condition, ...]
    table: Table
    facts: Facts
    result: object


def question(gap: Expression, facts: Facts, x: Name) -> Expression | None:
    """The simplest part of a formula in letters whose sign would help, up to a number in front; None where there is none."""
    parts = [factored(gap)]
    for node in postorder(gap):
        if is_a(node, ABS, SIGN, LN) or (isinstance(node, Power) and not node.exponent.is_whole):
            parts.append(node.arguments[0] if isinstance(node, Call) else node.base)
        behind = behind_function(node) if isinstance(node, Expression) else None
        if behind is not None:
            parts.append(factored(behind))
        if is_a(node, MAX, MIN):
            parts += [factored(node.arguments[0] - other) for other in node.arguments[1:]]
    parts += [factored(p) for f in dict.fromkeys(f for p in parts for f in factor_list(p)) for p in against_root(f)]
    found = dict.fromkeys(unit_form(f)[0] for p in parts for f in factor_list(p))
    open_ones = [
        f for f in found if names(f) and x not in names(f) and facts.is_real(f) and tree_size(f) <= LARGEST and _is_open(f, facts)
    ]
    return min(open_ones, key=lambda f: (_rank(f), tree_size(f), str(f)), default=None)


def sign_of(value: Expression, facts: Facts) -> int | None:
    """1 or -1, or 0 for what is proved to be zero, of a formula in letters looked at in several shapes; None where none tells."""
    if isinstance(value, Number) and not value.value:
        return 0
    for work in (lambda e: e, factored, expand, lambda e: prepared(e, facts)):
        shape = work(value)
        if facts.is_positive(shape):
            return 1
        if facts.is_negative(shape):
            return -1
    return 0 if names(value) and decide_zero(value, facts).zero else None


def asked_for(told: str, gaps: Iterable[Expression], x: Name, facts: Facts) -> NotSolved:
    """What is not told, with the simplest sign that would help."""
    asked = [q for q in (question(g, facts, x) for g in gaps) if q is not None]
    return OpenSign(min(asked, key=lambda q: (tree_size(q), str(q))), told) if asked else NotSolved(told)


def _rank(f: Expression) -> int:
    """Polynomials first, then other formulas, then those with bars and roots, whose parts are asked for before."""
    inner = [n for n in postorder(f) if isinstance(n, Call) or (isinstance(n, Power) and not n.exponent.is_whole)]
    return 0 if not inner else 2 if any(is_a(n, *KINKED) or isinstance(n, Power) for n in inner) else 1


def _is_open(f: Expression, facts: Facts) -> bool:
    return not (facts.is_positive(f) or facts.is_negative(f) or (facts.is_nonnegative(f) and facts.is_nonpositive(f)))


def by_cases(work: Callable[[Table, Facts], object], same: Callable[[object, object, Table], bool], facts: Facts) -> list[Case]:
    """The work done for every sign that it asks for; same(result, where_zero, table): is the second the first with the table put in?"""
    return [c._replace(when=without_implied(list(c.when), facts)) for c in _cases(work, same, facts, (), {}, [0])]


def _cases(
    work: Callable[[Table, Facts], object], same: Callable[[object, object, Table], bool], facts: Facts, asked: tuple[Expression, ...],
    table: Table, count: list[int],
) -> list[Case]:  # fmt: skip
    count[0] += 1
    try:
        return [Case((), table, facts, work(table, facts))]
    except OpenSign as fault:
        if fault.gap in asked or len(asked) >= DEEPEST or count[0] > MOST_CASES:
            raise
        gap = fault.gap
    branches: dict[str, list[Case]] = {}
    for word in (">", "=", "<"):
        try:
            put_in, under = (
                _where_zero(gap, facts, table) if word == "=" else (table, facts.with_facts([sign_condition(gap, word)]))
            )
        except DomainError:  # against the facts
            branches[word] = []
            continue
        branches[word] = _cases(work, same, under, (*asked, gap), put_in, count)
    return _joined(gap, branches, same)


def _where_zero(gap: Expression, facts: Facts, table: Table) -> tuple[Table, Facts]:
    """The letters that gap = 0 gives by the others put in everywhere; where it gives none, it is a fact."""
    more = letters_where_zero(gap, facts)
    if more is None:
        return table, facts.with_facts([zero_where(gap)])
    return put_in(table, more), under_values(facts, more)


def put_in(table: Table, more: Table) -> Table:
    """Values of letters, and those of further letters put into them."""
    return {**{n: substitute(v, more) for n, v in table.items()}, **more}


def under_values(facts: Facts, more: Table) -> Facts:
    """The facts where letters have values; DomainError where these are against the facts."""
    given: list[Fact] = []
    for fact in facts.given:
        condition = fact_condition(fact)
        about = condition is not None and not isinstance(condition, Truth) and any(n in names(condition) for n in more)
        given.append(substitute(condition, more) if about and condition is not None else fact)
    under = facts.stating(g for g in given if not (isinstance(g, Truth) and g.holds))
    for letter, value in more.items():
        if facts.holds(relation("=", letter, value)) is False:
            raise DomainError("against the facts")
    if any(isinstance(g, Relation) and not names(g) and under.holds(g) is False for g in given):
        raise DomainError("against the facts")
    return under


def sign_condition(gap: Expression, word: str) -> Condition:
    """gap > 0 as a reader would write it: a > b for a - b."""
    left, right = _sides(gap)
    if right is ZERO and looks_negative(left):
        return relation(TURNED.get(word, word), negate(left), right)
    return relation(word, left, right)


def _sides(gap: Expression) -> tuple[Expression, Expression]:
    """(u, v) with a multiple of gap = u - v: positive terms on the left, the others and the number on the right, without fractions."""
    if not isinstance(gap, Sum) or any(isinstance(c, Gaussian) for c in (*gap.coefficients, gap.constant)):
        return gap, ZERO
    weights = [real(c) for c in (*gap.coefficients, gap.constant)]
    common = mpq(lcm(*(int(c.denominator) for c in weights)))
    terms = [scale(t, c * common) for t, c in zip(gap.terms, weights, strict=False)]
    below = [t for t in terms if _is_minus(t)]
    constant = number(weights[-1] * common)
    if len(below) == len(terms):
        return constant, negate(total(terms))
    return total(t for t in terms if t not in below), negate(total((*below, constant)))


def _is_minus(term: Expression) -> bool:
    value = term.value if isinstance(term, Number) else term.coefficient if isinstance(term, Product) else 1
    return not isinstance(value, Gaussian) and value < 0


def _joined(gap: Expression, branches: dict[str, list[Case]], same: Callable[[object, object, Table], bool]) -> list[Case]:
    """Branches that come out alike under one condition."""
    above, zero, below = branches[">"], branches["="], branches["<"]
    table = zero[0].table if zero else {}
    like_above, like_below = _alike(above, zero, same, table), _alike(below, zero, same, table)
    if above and _alike(above, below, same, {}):
        if like_above or not zero:
            return above
        return [*_under(above, sign_condition(gap, "!=")), *_under(zero, sign_condition(gap, "="))]
    if like_above:
        return [*_under(above, sign_condition(gap, ">=")), *_under(below, sign_condition(gap, "<"))]
    if like_below:
        return [*_under(above, sign_condition(gap, ">")), *_under(below, sign_condition(gap, "<="))]
    alone = sum(map(bool, branches.values())) == 1
    return [c for word, cases in branches.items() for c in (cases if alone else _under(cases, sign_condition(gap, word)))]


def _alike(cases: list[Case], others: list[Case], same: Callable[[object, object, Table], bool], table: Table) -> bool:
    return (
        len(cases) == len(others) > 0
        and all(tuple(substitute(c, table) for c in a.when) == b.when for a, b in zip(cases, others, strict=True))
        and all(same(a.result, b.result, table) for a, b in zip(cases, others, strict=True))
    )


def _under(cases: list[Case], condition: Condition) -> Iterator[Case]:
    return (c._replace(when=(condition, *c.when)) for c in cases)
