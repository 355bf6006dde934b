"""Matrices whose eigenvalues are known whatever their entries are: circulant ones, and those with three constant diagonals.

Source: R. Gray, "Toeplitz and Circulant Matrices: A Review" (2006), chapters 2 and 3.
"""

from __future__ import annotations

from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Expression
from gelvo.functions.named import COS, SIN
from gelvo.matrices.matrix import Matrix
from gelvo.spectra.jordan import Chain

SMALLEST = 4  # rows from which a characteristic polynomial with letters has long roots


def known_chains(m: Matrix) -> list[Chain] | None:
    """All eigenvalues with their vectors; None for a matrix without such a pattern.

    >>> found = known_chains(Matrix([["a" if i == j else "b" if abs(i - j) == 1 else 0 for j in range(6)] for i in range(6)]))
    >>> print(found[0].value)
    a + 2*b*cos(pi/7)
    """
    if m.shape[0] < SMALLEST or m.shape[0] != m.shape[1]:
        return None
    return _circulant(m) or _three_diagonals(m)


def _circulant(m: Matrix) -> list[Chain] | None:
    """Each row is the one above, moved on by one place: the vectors are waves around a ring."""
    n = m.shape[0]
    first = m.entries[0]
    if any(m.entries[i][j] is not first[(j - i) % n] for i in range(n) for j in range(n)):
        return None
    found = []
    for k in range(n):
        turns = [_turn(j * k, n) for j in range(n)]
        real, imag = (total([c * turn[part] for c, turn in zip(first, turns, strict=True)]) for part in (0, 1))
        found.append(Chain(real + IMAGINARY * imag, [Matrix([[c + IMAGINARY * s] for c, s in turns])]))
    return found


def _turn(steps: int, n: int) -> tuple[Expression, Expression]:
    """Cosine and sine of so many n-th parts of a turn."""
    steps %= n
    angle = 2 * PI * min(steps, n - steps) / n
    return COS(angle), -SIN(angle) if steps > n - steps else SIN(angle)


def _three_diagonals(m: Matrix) -> list[Chain] | None:
    """One entry on the diagonal, one above it and one below it: the vectors are standing waves between two ends."""
    n = m.shape[0]
    middle, above, below = m[0, 0], m[0, 1], m[1, 0]
    wanted = {0: middle, 1: above, -1: below}
    if ZERO in (above, below) or any(m.entries[i][j] is not wanted.get(j - i, ZERO) for i in range(n) for j in range(n)):
        return None
    size = above if above is below else sqrt(above * below)
    ratio = ONE if above is below else size / above
    found = []
    for k in range(1, n + 1):
        angle = PI * k / (n + 1)
        vector = Matrix([[ratio**j * SIN(angle * j)] for j in range(1, n + 1)])
        found.append(Chain(middle + 2 * size * COS(angle), [vector]))
    return found
