"""The reduced row echelon form without fractions, in the ring of whole numbers or of polynomials.

Every entry is a minor of the matrix, so that all divisions are exact and one minor, not a product of pivots, must not be zero.
Source: E. Bareiss, "Sylvester's identity and multistep integer-preserving Gaussian elimination" (1968).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

import gmpy2
from gmpy2 import mpz

from gelvo.deadline import checkpoint
from gelvo.polynomial import sparse
from gelvo.polynomial.sparse import Polynomial

Place = tuple[int, int]
Choice = Callable[[list[list[Any]], int, Sequence[int]], Place | None]
Step = Callable[[Any, Any, Sequence[Any], Sequence[Any], Any], list[Any]]


class Echelon(NamedTuple):
    """minor * (the reduced form): rows down to the last pivot, then what stands in the other rows; the pivot columns.

    order: which row of the matrix each row was.
    """

    rows: list[list[Any]]
    pivots: list[int]
    minor: Any
    order: list[int]


def whole(rows: Sequence[Sequence[Any]], width: int) -> Echelon:
    """Of whole numbers, with pivots in the first `width` columns.

    >>> found = whole([[2, 4, 2], [1, 2, 3]], 3)
    >>> found.minor, [[int(c) for c in row] for row in found.rows]
    (mpz(4), [[4, 8, 0], [0, 0, 4]])
    """
    work = [[mpz(c) for c in row] for row in rows]
    return _echelon(work, width, _leftmost, _whole_step, mpz(1), True)


def solved(rows: Sequence[Sequence[Any]], width: int) -> tuple[mpz, list[list[mpz]]] | None:
    """(d, N) where N/d are the unknowns of n equations [A | B] of whole numbers in the first `width` = n columns; None for a singular A.

    Elimination below the pivots only, then the unknowns from the last one upwards: two thirds of the work of a reduced form.
    """
    work = [[mpz(c) for c in row] for row in rows]
    previous = mpz(1)
    for k in range(width):
        checkpoint()
        row = next((i for i in range(k, width) if work[i][k]), None)
        if row is None:
            return None
        work[k], work[row] = work[row], work[k]
        lead, pivot_row = work[k][k], work[k][k + 1 :]
        for i in range(k + 1, width):
            work[i] = [*[mpz(0)] * (k + 1), *_whole_step(lead, work[i][k], work[i][k + 1 :], pivot_row, previous)]
        previous = lead
    found: list[list[mpz]] = [[]] * width
    for k in range(width - 1, -1, -1):
        checkpoint()
        lead, rest = work[k][k], [previous * c for c in work[k][width:]]
        for j in range(k + 1, width):
            factor = work[k][j]
            if factor:
                rest = [c - factor * d for c, d in zip(rest, found[j], strict=True)]
        found[k] = [gmpy2.divexact(c, lead) for c in rest]
    return previous, found


def of_polynomials(rows: Sequence[Sequence[Polynomial]], width: int, chosen: Choice, ordered: bool = True) -> Echelon:
    """Of polynomials; chosen(rows, first, columns) is the place of the entry to divide by, None where all from the first row on are zero.

    ordered: whether a pivot stands right of the pivots before it.
    """
    return _echelon([list(row) for row in rows], width, chosen, _polynomial_step, sparse.constant(1), ordered)


def _echelon(work: list[list[Any]], width: int, chosen: Choice, step: Step, previous: Any, ordered: bool) -> Echelon:
    pivots: list[int] = []
    order = list(range(len(work)))
    columns = list(range(width))
    while len(pivots) < len(work) and columns:
        checkpoint()
        place = len(pivots)
        # where nothing is found all is zero, though perhaps not as a polynomial over generators with relations
        found = chosen(work, place, columns)
        if found is None:
            break
        row, column = found
        columns = [c for c in columns if (c > column if ordered else c != column)]
        work[place], work[row] = work[row], work[place]
        order[place], order[row] = order[row], order[place]
        lead, pivot_row = work[place][column], work[place]
        for i, other in enumerate(work):
            if i != place:
                start = 0 if not ordered else pivots[i] if i < place else column  # left of its pivot a row has nothing
                work[i] = [*other[:start], *step(lead, other[column], other[start:], pivot_row[start:], previous)]
        pivots.append(column)
        previous = lead
    return Echelon(work, pivots, previous, order)


def _leftmost(work: list[list[Any]], place: int, columns: Sequence[int]) -> Place | None:
    """The first entry that is not zero, column by column."""
    return next(((i, c) for c in columns for i in range(place, len(work)) if work[i][c]), None)


def _whole_step(lead: Any, factor: Any, row: Sequence[Any], pivot_row: Sequence[Any], previous: Any) -> list[Any]:
    if not factor:
        return [gmpy2.divexact(lead * c, previous) for c in row]
    return [gmpy2.divexact(lead * c - factor * d, previous) for c, d in zip(row, pivot_row, strict=True)]


def _polynomial_step(
    lead: Polynomial, factor: Polynomial, row: Sequence[Polynomial], pivot_row: Sequence[Polynomial], previous: Polynomial
) -> list[Polynomial]:
    checkpoint()
    found = []
    for c, d in zip(row, pivot_row, strict=True):
        p = sparse.multiply(lead, c) if c else {}
        if factor and d:
            p = sparse.subtract(p, sparse.multiply(factor, d))
        quotient = sparse.divide_exactly(p, previous) if p else p
        assert quotient is not None
        found.append(quotient)
    return found
