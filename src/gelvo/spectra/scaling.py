"""A matrix with letters as a + b*N with a matrix N of numbers, where it is one: its spectrum is that of N, moved and stretched."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.building import number
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Number, Product
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices.matrix import Matrix, identity


class Scaled(NamedTuple):
    """shift + stretch*numbers."""

    shift: Expression
    stretch: Expression
    numbers: Matrix

    def value(self, of_numbers: Expression) -> Expression:
        """An eigenvalue of the matrix from one of the numbers."""
        return self.shift + self.stretch * of_numbers


def scaled(m: Matrix) -> Scaled | None:
    """The letters of a square matrix taken out; None where there are none, or more than a shift and a stretch, and for a diagonal matrix.

    >>> scaled(Matrix([["a", "2*b"], ["b", "a"]]))
    Scaled(shift=a, stretch=b, numbers=[0, 2; 1, 0])
    """
    diagonal = all(e is ZERO for i, row in enumerate(m.entries) for j, e in enumerate(row) if i != j)
    if diagonal or not m.free_names:
        return None
    for shift in dict.fromkeys((ZERO, m[0, 0])):
        rest = m if shift is ZERO else (m - identity(m.shape[0]) * shift).map(lowest_terms)
        unit = next((_without_number(e) for e in rest.flat() if e is not ZERO), ONE)
        shares = Matrix([[e if e is ZERO else lowest_terms(e / unit) for e in row] for row in rest.entries])
        if all(isinstance(e, Number) and e.is_rational for e in shares.flat()):
            return Scaled(shift, unit, Matrix(shares.entries))
    return None


def _without_number(e: Expression) -> Expression:
    """3*b is three times b."""
    if isinstance(e, Number):
        return ONE
    return e / number(e.coefficient) if isinstance(e, Product) else e
