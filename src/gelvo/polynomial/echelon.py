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

Choice = Callable[[Sequence[Any]], int | None]
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
    return _echelon(work, width, _first, _whole_step, mpz(1))


def of_polynomials(rows: Sequence[Sequence[Polynomial]], width: int, chosen: Choice) -> Echelon:
    """Of polynomials; chosen(candidates) is the place of the entry to divide by, None where all of them are zero."""
    return _echelon([list(row) for row in rows], width, chosen, _polynomial_step, sparse.constant(1))


def _echelon(work: list[list[Any]], width: int, chosen: Choice, step: Step, previous: Any) -> Echelon:
    pivots: list[int] = []
    order = list(range(len(work)))
    for column in range(width):
        checkpoint()
        place = len(pivots)
        if place == len(work):
            break
        row = chosen([r[column] for r in work[place:]])
        if row is None:  # what is left there is zero, though perhaps not as a polynomial over generators with relations
            continue
        work[place], work[place + row] = work[place + row], work[place]
        order[place], order[place + row] = order[place + row], order[place]
        lead, pivot_row = work[place][column], work[place]
        for i, other in enumerate(work):
            if i != place:
                start = pivots[i] if i < place else column  # left of its pivot a row has nothing
                work[i] = [*other[:start], *step(lead, other[column], other[start:], pivot_row[start:], previous)]
        pivots.append(column)
        previous = lead
    return Echelon(work, pivots, previous, order)


def _first(candidates: Sequence[Any]) -> int | None:
    return next((i for i, c in enumerate(candidates) if c), None)


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
