"""Equations that are linear in the highest derivatives, solved step by step as a program would, not as one long formula each.

Each step is a formula in those before it; as nodes are shared, the whole stays as long as the program. The derivatives of the solution
come from the same steps: M a = r gives M da = dr - dM a.
Source: G. H. Golub, C. F. Van Loan, "Matrix Computations" (1983), factorizations L D L^T and L U.
"""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.code.digits.numeric import grouped
from gelvo.errors import NotSolved
from gelvo.expression.building import total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, substitute
from gelvo.forms.differentiation import differentiate

Rows = list[list[Expression]]


def step(e: Expression) -> Expression:
    """A step of the program, which what is built on it does not take apart."""
    return grouped(e) if e.children else e


class Factored:
    """A matrix as L U with ones on the diagonal of L, in an order of its rows in which no pivot is zero as it stands."""

    def __init__(self, matrix: Rows) -> None:
        self.size = len(matrix)
        rows = [list(row) for row in matrix]
        self.order = list(range(self.size))
        self.lower: Rows = [[ZERO] * self.size for _ in rows]
        self.is_symmetric = all(rows[i][j] is rows[j][i] for i in range(self.size) for j in range(i))
        for k in range(self.size):
            pivot = next((i for i in range(k, self.size) if rows[i][k] is not ZERO), None)
            if pivot is None:
                raise NotSolved("the equations do not give the highest derivatives: the matrix before them is singular")
            self._exchange(rows, k, pivot)
            self.is_symmetric = self.is_symmetric and pivot == k
            for i in range(k + 1, self.size):
                if rows[i][k] is ZERO:
                    continue
                factor = self.lower[i][k] = step(rows[i][k] / rows[k][k])
                for j in range(i if self.is_symmetric else k + 1, self.size):
                    if rows[k][j] is not ZERO:
                        rows[i][j] = step(rows[i][j] - factor * rows[k][j])
                        if self.is_symmetric:
                            rows[j][i] = rows[i][j]
        self.upper = rows

    def _exchange(self, rows: Rows, one: int, other: int) -> None:
        rows[one], rows[other] = rows[other], rows[one]
        self.lower[one], self.lower[other] = self.lower[other], self.lower[one]
        self.order[one], self.order[other] = self.order[other], self.order[one]

    def solved(self, side: Sequence[Expression]) -> list[Expression]:
        """The solution for a right side."""
        found = [side[k] for k in self.order]
        for i in range(self.size):
            found[i] = step(total([found[i], *[-self.lower[i][j] * found[j] for j in range(i) if self.lower[i][j] is not ZERO]]))
        for i in reversed(range(self.size)):
            rest = [-self.upper[i][j] * found[j] for j in range(i + 1, self.size) if self.upper[i][j] is not ZERO]
            found[i] = step(total([found[i], *rest]) / self.upper[i][i])
        return found


class Accelerations:
    """The highest derivatives of equations e = 0 that are linear in them, and their derivatives by states and inputs."""

    def __init__(self, equations: Sequence[Expression], marks: Sequence[Name]) -> None:
        self._equations, self._marks = list(equations), list(marks)
        matrix = [[differentiate(e, m) for m in marks] for e in equations]
        if any(contains(entry, m) for row in matrix for entry in row for m in marks):
            raise NotSolved("the equations are not linear in the highest derivatives")
        still = dict.fromkeys(marks, ZERO)
        self._factored = Factored(matrix)
        self.values = self._factored.solved([-substitute(e, still) for e in equations])

    def by(self, variable: Name) -> list[Expression]:
        """The derivatives of the solution by a variable, its own symbols kept in the sides."""
        slopes = [differentiate(e, variable) for e in self._equations]
        known = dict(zip(self._marks, self.values, strict=True))
        return self._factored.solved([-substitute(s, known) for s in slopes])
