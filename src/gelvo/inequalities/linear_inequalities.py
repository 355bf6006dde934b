"""Linear inequalities in several unknowns: one unknown after the other between bounds in those that follow.

Source: J. Fourier (1827), T. Motzkin, "Beiträge zur Theorie der linearen Ungleichungen" (1936).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deadline import checkpoint
from gelvo.errors import NotSolved
from gelvo.expression.building import junction, number, relation, total, truth
from gelvo.expression.nodes import Condition, Junction, Name, Relation
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand

MOST_ROWS = 400


class Row(NamedTuple):
    """The sum of coefficients times unknowns is at most (or, strict, below) a number."""

    coefficients: tuple[mpq, ...]
    limit: mpq
    strict: bool


def read_rows(conditions: Iterable[Condition], unknowns: Sequence[Name]) -> list[Row]:
    """Linear relations joined by `and` as rows; raises NotSolved for others."""
    rows: list[Row] = []
    for condition in conditions:
        if isinstance(condition, Junction) and condition.word == "and":
            rows += read_rows(condition.parts, unknowns)
            continue
        if not isinstance(condition, Relation) or condition.operator == "!=":
            raise NotSolved(f"{condition} is no linear inequality")
        rest = expand(condition.left - condition.right)
        coefficients = []
        for u in unknowns:
            line = uni.coefficients_of(rest, u)
            if line is None or len(line) > 2 or (len(line) == 2 and not line[1].is_rational):
                raise NotSolved(f"{condition} is not linear in {', '.join(map(str, unknowns))} with numbers for coefficients")
            coefficients.append(line[1].rational if len(line) == 2 else mpq(0))
            rest = line[0] if line else rest * 0
        if not rest.is_rational:
            raise NotSolved(f"{condition} has other names: put numbers in for them")
        row = Row(tuple(coefficients), -rest.rational, condition.operator == "<")
        rows.append(row)
        if condition.operator == "=":
            rows.append(Row(tuple(-c for c in row.coefficients), -row.limit, False))
    return rows


def without_first(rows: Sequence[Row], k: int) -> list[Row]:
    """The rows in the unknowns after number k: each upper bound of it joined with each lower one."""
    checkpoint()
    upper = [r for r in rows if r.coefficients[k] > 0]
    lower = [r for r in rows if r.coefficients[k] < 0]
    found = [r for r in rows if not r.coefficients[k]]
    for u in upper:
        for w in lower:
            a, b = -w.coefficients[k], u.coefficients[k]
            joined = tuple(a * c + b * d for c, d in zip(u.coefficients, w.coefficients, strict=True))
            found.append(Row(joined, a * u.limit + b * w.limit, u.strict or w.strict))
    if len(found) > MOST_ROWS:
        raise NotSolved("there are too many inequalities to join")
    return list(dict.fromkeys(map(_scaled, found)))


def _scaled(row: Row) -> Row:
    size = next((abs(c) for c in row.coefficients if c), mpq(1))
    return Row(tuple(c / size for c in row.coefficients), row.limit / size, row.strict)


def feasible(rows: Sequence[Row]) -> bool:
    """Whether some real numbers satisfy all rows.

    >>> feasible([Row((mpq(1),), mpq(1), True), Row((mpq(-1),), mpq(-1), False)])
    False
    """
    left = list(rows)
    for k in range(len(rows[0].coefficients) if rows else 0):
        left = without_first(left, k)
    return all(r.limit > 0 or (r.limit == 0 and not r.strict) for r in left)


def follows(row: Row, rows: Sequence[Row]) -> bool:
    """Whether a row is implied by others: its opposite contradicts them."""
    turned = Row(tuple(-c for c in row.coefficients), -row.limit, not row.strict)
    return not feasible([*rows, turned])


def bounds(conditions: Iterable[Condition], unknowns: Sequence[Name]) -> Condition:
    """The same region, each unknown between bounds in those after it.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> bounds([x + y <= 1, y >= 0, x >= y], [x, y]) is bounds([x + y <= 1, y >= 0, x >= y, x <= 5], [x, y])
    True
    """
    rows = list(dict.fromkeys(map(_scaled, read_rows(conditions, unknowns))))
    if not feasible(rows):
        return truth(False)
    stages: list[list[Row]] = []
    left = rows
    for k in range(len(unknowns)):
        stages.append([r for r in left if r.coefficients[k]])
        left = without_first(left, k)
    parts: list[Condition] = []
    told: list[Row] = []
    for k in reversed(range(len(unknowns))):
        kept = list(stages[k])
        for row in stages[k]:
            others = [r for r in kept if r is not row]
            if follows(row, [*told, *others]):
                kept = others
        told += kept
        parts += dict.fromkeys(_bound(row, k, unknowns, _opposite(row) in kept) for row in kept)
    return junction("and", parts) if len(parts) > 1 else parts[0] if parts else truth(True)


def _opposite(row: Row) -> Row:
    return Row(tuple(-c for c in row.coefficients), -row.limit, row.strict)


def _bound(row: Row, k: int, unknowns: Sequence[Name], equal: bool) -> Condition:
    """One row solved for an unknown; equal: whether its opposite holds too."""
    lead = row.coefficients[k]
    terms = [number(-c / lead) * u for c, u in zip(row.coefficients, unknowns, strict=True) if c and u is not unknowns[k]]
    side = total([number(row.limit / lead), *terms])
    if equal and not row.strict:
        return relation("=", unknowns[k], side)
    operator = "<" if row.strict else "<="
    return relation(operator, unknowns[k], side) if lead > 0 else relation(operator, side, unknowns[k])
