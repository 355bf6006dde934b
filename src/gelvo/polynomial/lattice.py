"""Short vectors in lattices of whole numbers.

Source: A. Lenstra, H. Lenstra, L. Lovász, "Factoring polynomials with rational coefficients" (1982); kept in integers after
H. Cohen, "A Course in Computational Algebraic Number Theory" (1993), algorithm 2.6.7.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import floor

from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint

Vector = list[mpz]


def reduce_basis(basis: list[Vector]) -> tuple[list[Vector], list[mpz]]:  # noqa: C901
    """A reduced basis of the lattice spanned by independent rows, and the Gram determinants d_0 = 1, d_1, …

    >>> rows, _ = reduce_basis([[mpz(1), mpz(0), mpz(1345)], [mpz(0), mpz(1), mpz(35)], [mpz(0), mpz(0), mpz(154)]])
    >>> max(abs(c) for row in rows for c in row) < 20
    True
    """
    b = [list(row) for row in basis]
    n = len(b)
    d = [mpz(1)] + [mpz(0)] * n
    under: list[list[mpz]] = [[mpz(0)] * n for _ in range(n)]

    def orthogonalise(k: int) -> None:
        for j in range(k + 1):
            u = sum((x * y for x, y in zip(b[k], b[j], strict=True)), mpz(0))
            for i in range(j):
                u = (d[i + 1] * u - under[k][i] * under[j][i]) // d[i]
            if j < k:
                under[k][j] = u
            else:
                d[k + 1] = u

    def shorten(k: int, j: int) -> None:
        if 2 * abs(under[k][j]) <= d[j + 1]:
            return
        q = (2 * under[k][j] + d[j + 1]) // (2 * d[j + 1])
        b[k] = [x - q * y for x, y in zip(b[k], b[j], strict=True)]
        under[k][j] -= q * d[j + 1]
        for i in range(j):
            under[k][i] -= q * under[j][i]

    def swap(k: int, highest: int) -> None:
        b[k], b[k - 1] = b[k - 1], b[k]
        for j in range(k - 1):
            under[k][j], under[k - 1][j] = under[k - 1][j], under[k][j]
        mu = under[k][k - 1]
        new = (d[k - 1] * d[k + 1] + mu * mu) // d[k]
        for i in range(k + 1, highest + 1):
            t = under[i][k]
            under[i][k] = (d[k + 1] * under[i][k - 1] - mu * t) // d[k]
            under[i][k - 1] = (new * t + mu * under[i][k]) // d[k + 1]
        d[k] = new

    orthogonalise(0)
    k, highest = 1, 0
    while k < n:
        checkpoint()
        if k > highest:
            highest = k
            orthogonalise(k)
        shorten(k, k - 1)
        if 4 * (d[k + 1] * d[k - 1] + under[k][k - 1] ** 2) < 3 * d[k] ** 2:
            swap(k, highest)
            k = max(1, k - 1)
        else:
            for j in range(k - 2, -1, -1):
                shorten(k, j)
            k += 1
    return b, d


def shortest_relation(sizes: Sequence[mpq], bits: int) -> tuple[list[int], mpz]:
    """(whole numbers k, rest) of the shortest relation between real numbers: the sum of k*size is rest/2^bits, nearly 0.

    >>> shortest_relation([mpq(1), mpq(2, 3)], 20)[0] in ([2, -3], [-2, 3])
    True
    """
    rows = [[*(mpz(i == k) for k in range(len(sizes))), mpz(floor(size * 2**bits))] for i, size in enumerate(sizes)]
    *whole, rest = reduce_basis(rows)[0][0]
    return [int(k) for k in whole], rest


def independent_rows(rows: list[Vector]) -> list[Vector]:
    """Independent rows that span the same lattice (steps of Euclid's algorithm, column by column).

    >>> [[int(c) for c in row] for row in independent_rows([[mpz(4), mpz(2)], [mpz(6), mpz(3)]])]
    [[2, 1]]
    """
    work = [list(row) for row in rows if any(row)]
    done: list[Vector] = []
    for column in range(len(rows[0]) if rows else 0):
        active = [row for row in work if row[column]]
        work = [row for row in work if not row[column]]
        while len(active) > 1:
            active.sort(key=lambda row: abs(row[column]))
            pivot = active[0]
            rest: list[Vector] = []
            for row in active[1:]:
                q = row[column] // pivot[column]
                changed = [x - q * y for x, y in zip(row, pivot, strict=True)]
                (rest if changed[column] else work).append(changed)
            active = [pivot, *rest]
        done.extend(active)
        work = [row for row in work if any(row)]
    return done
