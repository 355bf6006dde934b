"""A basis of the whole combinations of some rational vectors, by Euclid's algorithm on the rows (C. Hermite's normal form, 1851)."""

from __future__ import annotations

from collections.abc import Sequence
from math import lcm

from gmpy2 import mpq

Vector = tuple[mpq, ...]


def basis(vectors: Sequence[Vector]) -> list[Vector]:
    """Independent vectors whose whole combinations are those of the given ones.

    >>> basis([(mpq(1),), (mpq(2, 3),)])
    [(mpq(1,3),)]
    """
    if not vectors:
        return []
    scale = lcm(*(int(c.denominator) for v in vectors for c in v))
    rows = [[int(c * scale) for c in v] for v in vectors]
    found: list[list[int]] = []
    for column in range(len(rows[0])):
        while True:
            used = sorted((r for r in rows if r[column]), key=lambda r: (abs(r[column]), r))
            if len(used) <= 1:
                break
            pivot = used[0]
            for row in used[1:]:
                factor = row[column] // pivot[column]
                row[:] = [a - factor * b for a, b in zip(row, pivot, strict=True)]
        if used:
            pivot = used[0]
            rows.remove(pivot)
            found.append([-c for c in pivot] if pivot[column] < 0 else pivot)
    return [tuple(mpq(c, scale) for c in row) for row in found]


def coordinates(vector: Vector, rows: Sequence[Vector]) -> list[int] | None:
    """The whole numbers that combine the rows of `basis` to a vector; None where it is not in their lattice."""
    rest = list(vector)
    result = []
    for row in rows:
        column = next(k for k, c in enumerate(row) if c)
        k = rest[column] / row[column]
        if k.denominator != 1:
            return None
        result.append(int(k))
        rest = [a - k * b for a, b in zip(rest, row, strict=True)]
    return None if any(rest) else result
