"""Products of matrices other than the usual one, and matrices put together from blocks."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.errors import DomainError
from gelvo.expression.constants import ZERO
from gelvo.matrices.matrix import Matrix, check_size


def kronecker(a: Matrix, b: Matrix) -> Matrix:
    """Each entry of the first matrix times the second one, as blocks.

    >>> print(kronecker(Matrix([["a", "b"]]), Matrix([[1], [2]])))
    [a, b; 2*a, 2*b]
    """
    check_size(a.shape[0] * b.shape[0], a.shape[1] * b.shape[1])
    rows = [[x * y for x in upper for y in lower] for upper in a.entries for lower in b.entries]
    return Matrix(rows, (*a.conditions, *b.conditions))


def hadamard(a: Matrix, b: Matrix) -> Matrix:
    """The product entry by entry of matrices of one shape (J. Hadamard).

    >>> print(hadamard(Matrix([["a", "b"]]), Matrix([[1, 2]])))
    [a, 2*b]
    """
    if a.shape != b.shape:
        raise DomainError(f"a product entry by entry needs one shape, and these are {a.shape} and {b.shape}")
    rows = [[x * y for x, y in zip(r, s, strict=True)] for r, s in zip(a.entries, b.entries, strict=True)]
    return Matrix(rows, (*a.conditions, *b.conditions))


def outer(a: Matrix, b: Matrix) -> Matrix:
    """The outer product a b^T of two vectors.

    >>> print(outer(Matrix([[1], [2]]), Matrix([["x"], ["y"]])))
    [x, y; 2*x, 2*y]
    """
    right = list(b)
    return Matrix([[x * y for y in right] for x in a], (*a.conditions, *b.conditions))


def exterior(a: Matrix, b: Matrix) -> Matrix:
    """The exterior product a b^T - b a^T of two vectors of one length: what it takes to zero is at right angles to both.

    >>> print(exterior(Matrix([[1], [0]]), Matrix([["x"], ["y"]])))
    [0, y; -y, 0]
    """
    if len(list(a)) != len(list(b)):
        raise DomainError(f"vectors of {len(list(a))} and {len(list(b))} entries have no exterior product")
    return outer(a, b) - outer(b, a)


def blocks(rows: Sequence[Sequence[Matrix]]) -> Matrix:
    """One matrix from rows of blocks that fit together.

    >>> a = Matrix([[1]])
    >>> print(blocks([[a, a], [a, Matrix([[5]])]]))
    [1, 1; 1, 5]
    """
    joined: list[list[object]] = []
    for k, row in enumerate(rows):
        heights = {b.shape[0] for b in row}
        if len(heights) != 1:
            raise DomainError(
                f"the blocks of row {k} have {' and '.join(map(str, sorted(heights)))} rows: they need the same number"
            )
        joined += [[e for b in row for e in b.entries[i]] for i in range(heights.pop())]
    return Matrix(joined, [c for row in rows for b in row for c in b.conditions])


def block_diagonal(parts: Sequence[Matrix]) -> Matrix:
    """Blocks along the diagonal, zeros elsewhere.

    >>> print(block_diagonal([Matrix([[1, 2]]), Matrix([["a"]])]))
    [1, 2, 0; 0, 0, a]
    """
    width = sum(b.shape[1] for b in parts)
    joined: list[list[object]] = []
    before = 0
    for b in parts:
        joined += [[*[ZERO] * before, *row, *[ZERO] * (width - before - b.shape[1])] for row in b.entries]
        before += b.shape[1]
    return Matrix(joined, [c for b in parts for c in b.conditions])
