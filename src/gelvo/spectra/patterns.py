"""Matrices whose eigenvalues are known whatever their entries are: circulant ones, and those with three constant diagonals.

Source: R. Gray, "Toeplitz and Circulant Matrices: A Review" (2006), chapters 2 and 3.
"""

from __future__ import annotations

from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Expression
from gelvo.facts.store import Facts
from gelvo.functions.named import COS, SIN
from gelvo.matrices.matrix import Matrix
from gelvo.spectra.jordan import Chain
from gelvo.spectra.scalar import MatrixFunction, grouped

SHORT_TURNS = (1, 2, 3, 4, 5, 6, 8, 10, 12)  # into so many parts
SMALLEST = 4  # rows from which a characteristic polynomial with letters has long roots


def known_chains(m: Matrix) -> list[Chain] | None:
    """All eigenvalues with their vectors; None for a matrix without such a pattern.

    >>> found = known_chains(Matrix([["a" if i == j else "b" if abs(i - j) == 1 else 0 for j in range(6)] for i in range(6)]))
    >>> print(found[0].value)
    a + 2*b*cos(pi/7)
    """
    n = m.shape[0]
    if _is_ring(m):
        turns = [[_turn(j * k, n) for j in range(n)] for k in range(n)]
        vectors = [Matrix([[c + IMAGINARY * s] for c, s in row]) for row in turns]
        return [Chain(real + IMAGINARY * imag, [v]) for (real, imag), v in zip(_ring_values(m), vectors, strict=True)]
    if not _is_line(m):
        return None
    size, ratio = _line_size(m)
    return [
        Chain(_line_value(m[0, 0], size, angle), [Matrix([[ratio**j * SIN(angle * j)] for j in range(1, n + 1)])])
        for angle in _line_angles(n)
    ]


def has_short_waves(m: Matrix) -> bool:
    """Whether the cosines in the eigenvalues are told with one square root: then the characteristic polynomial has short roots."""
    return (m.shape[0] if _is_ring(m) else 2 * (m.shape[0] + 1)) in SHORT_TURNS


def applied(m: Matrix, function: MatrixFunction, facts: Facts) -> Matrix | None:
    """f(A) as a sum over the waves; None for a matrix without such a pattern."""
    if _is_ring(m):
        return _of_ring(m, function, facts)
    if _is_line(m) and (m[0, 1] is m[1, 0] or facts.is_nonnegative(m[0, 1] * m[1, 0])):
        return _of_line(m, function)
    return None


# --- rings: each row is the one above, moved on by one place; the vectors are waves around ---------------------------------------


def _is_ring(m: Matrix) -> bool:
    n = m.shape[0]
    return _is_large(m) and all(m.entries[i][j] is m.entries[0][(j - i) % n] for i in range(n) for j in range(n))


def _is_large(m: Matrix) -> bool:
    return m.shape[0] == m.shape[1] >= SMALLEST


def _ring_values(m: Matrix) -> list[tuple[Expression, Expression]]:
    """(a, b) of each eigenvalue a + 1j*b."""
    first, n = m.entries[0], m.shape[0]
    turns = [[_turn(j * k, n) for j in range(n)] for k in range(n)]
    return [
        (total([c * t[0] for c, t in zip(first, row, strict=True)]), total([c * t[1] for c, t in zip(first, row, strict=True)]))
        for row in turns
    ]


def _turn(steps: int, n: int) -> tuple[Expression, Expression]:
    """Cosine and sine of so many n-th parts of a turn."""
    steps %= n
    angle = 2 * PI * min(steps, n - steps) / n
    return COS(angle), -SIN(angle) if steps > n - steps else SIN(angle)


def _of_ring(m: Matrix, function: MatrixFunction, facts: Facts) -> Matrix:
    """Of real entries two waves that run against each other are told together."""
    n = m.shape[0]
    values = _ring_values(m)
    parts = [function.real_parts(a, b, facts) for a, b in values] if all(map(facts.is_real, m.entries[0])) else [None]
    at = [_value(function, a + IMAGINARY * b) for a, b in values]
    row = []
    for d in range(n):
        terms: list[Expression] = []
        for k in range(n):
            cosine, sine = _turn(k * d, n)
            if None in parts:
                terms.append(at[k] * (cosine - IMAGINARY * sine) / n)
            elif k in (0, n - k):
                terms.append(at[k] * cosine / n)
            elif k < n - k:
                real, imag = parts[k] or (ZERO, ZERO)
                terms += [2 * real * cosine / n, 2 * imag * sine / n]
        row.append(grouped(terms))
    return Matrix([[row[(j - i) % n] for j in range(n)] for i in range(n)], m.conditions)


def _value(function: MatrixFunction, place: Expression) -> Expression:
    found = function.at_zero(1) if place is ZERO else None
    return function.at(place) if found is None else found


# --- three constant diagonals: the vectors are standing waves between two ends ---------------------------------------------------


def _is_line(m: Matrix) -> bool:
    n = m.shape[0]
    if not _is_large(m) or ZERO in (m[0, 1], m[1, 0]):
        return False
    wanted = {0: m[0, 0], 1: m[0, 1], -1: m[1, 0]}
    return all(m.entries[i][j] is wanted.get(j - i, ZERO) for i in range(n) for j in range(n))


def _line_angles(n: int) -> list[Expression]:
    return [PI * k / (n + 1) for k in range(1, n + 1)]


def _line_size(m: Matrix) -> tuple[Expression, Expression]:
    """The geometric mean of the entries beside the diagonal, and by what it is more than the upper one."""
    above, below = m[0, 1], m[1, 0]
    size = above if above is below else sqrt(above * below)
    return size, ONE if above is below else size / above


def _line_value(middle: Expression, size: Expression, angle: Expression) -> Expression:
    """An eigenvalue; a square where the ends of the band are at 0, as of masses between springs."""
    if middle is 2 * size:
        return 4 * size * COS(angle / 2) ** 2
    if middle is -2 * size:
        return -4 * size * SIN(angle / 2) ** 2
    return middle + 2 * size * COS(angle)


def _of_line(m: Matrix, function: MatrixFunction) -> Matrix:
    n = m.shape[0]
    size, ratio = _line_size(m)
    waves = [
        (_value(function, _line_value(m[0, 0], size, angle)), [SIN(angle * j) for j in range(1, n + 1)])
        for angle in _line_angles(n)
    ]
    entries = [
        [ratio ** (i - j) * total([value * sines[i] * sines[j] for value, sines in waves]) * 2 / (n + 1) for j in range(n)]
        for i in range(n)
    ]
    return Matrix(entries, m.conditions)
