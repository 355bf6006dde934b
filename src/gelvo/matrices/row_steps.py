"""Elimination as it is done by hand: each row operation named, with the matrix that it leaves."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.deadline import checkpoint
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Number, Sum
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices.decompositions import vanishes
from gelvo.matrices.matrix import Matrix


class RowStep(NamedTuple):
    """R_2 - 3*R_1: what became of a row (the first row is R_1, as on paper), the matrix then, and what must not be zero for it."""

    operation: str
    matrix: Matrix
    conditions: tuple[Condition, ...] = ()


def row_steps(m: Matrix, facts: Facts, width: int | None = None) -> list[RowStep]:
    """From a matrix to its reduced row echelon form; the width: how many columns may have pivots.

    >>> for step in row_steps(Matrix([[2, 4], [1, 5]]), Facts()):
    ...     print(step.operation, step.matrix)
    R_1 <-> R_2 [1, 5; 2, 4]
    R_2 - 2*R_1 -> R_2 [1, 5; 0, -6]
    R_2/(-6) -> R_2 [1, 5; 0, 1]
    R_1 - 5*R_2 -> R_1 [1, 0; 0, 1]
    """
    rows = [[lowest_terms(e) for e in r] for r in m.entries]
    found: list[RowStep] = []
    place = 0

    def note(operation: str, conditions: tuple[Condition, ...] = ()) -> None:
        found.append(RowStep(operation, Matrix(rows), conditions))

    for column in range(m.shape[1] if width is None else width):
        checkpoint()
        chosen = _pivot(rows, place, column, facts)
        if chosen is None:
            continue
        if chosen != place:
            rows[place], rows[chosen] = rows[chosen], rows[place]
            note(f"R_{place + 1} <-> R_{chosen + 1}")
        pivot = rows[place][column]
        if pivot is not ONE:
            rows[place] = [lowest_terms(e / pivot) for e in rows[place]]
            note(f"R_{place + 1}/{_factor(pivot)} -> R_{place + 1}", tuple(apart_from_zero(pivot, facts)))
        for i in range(len(rows)):
            factor = rows[i][column]
            if i != place and factor is not ZERO:
                rows[i] = [lowest_terms(a - factor * b) for a, b in zip(rows[i], rows[place], strict=True)]
                note(_subtracted(i + 1, factor, place + 1))
        place += 1
        if place == len(rows):
            break
    return found


def _pivot(rows: list[list[Expression]], place: int, column: int, facts: Facts) -> int | None:
    """The first row with an entry in a column; a one, and a number, before others."""
    listed = [i for i in range(place, len(rows)) if not vanishes(rows[i][column], facts)]
    return min(listed, key=lambda i: (rows[i][column] is not ONE, not isinstance(rows[i][column], Number), i), default=None)


def _factor(e: Expression) -> str:
    text = str(e)
    return text if text.isalnum() or (text[0] == "(" and text[-1] == ")" and text.count("(") == 1) else f"({text})"


def _subtracted(row: int, factor: Expression, other: int) -> str:
    text = str(factor)
    minus = text.startswith("-") and not isinstance(factor, Sum)
    size = text[1:] if minus else f"({text})" if isinstance(factor, Sum) else text
    times = "" if size == "1" else f"{size}*"
    return f"R_{row} {'+' if minus else '-'} {times}R_{other} -> R_{row}"
