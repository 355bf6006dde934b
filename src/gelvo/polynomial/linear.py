"""Linear systems of whole numbers, solved exactly by p-adic lifting; of rational numbers by elimination where they are not square.

Source: J. D. Dixon, "Exact solution of linear equations using p-adic expansions" (1982).
"""

from __future__ import annotations

from collections.abc import Sequence
from math import isqrt, log2
from typing import TYPE_CHECKING, Any

import gmpy2
from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint

if TYPE_CHECKING:
    from numpy import int64
    from numpy.typing import NDArray

PRIMES_TRIED = 4


def solve_square(rows: Sequence[Sequence[int]], right: Sequence[int]) -> list[mpq] | None:
    """The solution of A*x = b for a square matrix of whole numbers; None where A is singular, or seems so modulo several primes.

    >>> solve_square([[2, 1], [1, -1]], [5, 1])
    [mpq(2,1), mpq(1,1)]
    """
    import numpy as np

    n = len(rows)
    prime = mpz(2) ** int((62 - log2(n + 1)) / 2)
    for _ in range(PRIMES_TRIED):
        prime = gmpy2.prev_prime(prime)
        p = int(prime)
        inverse = _inverse(np.array([[c % p for c in row] for row in rows], dtype=np.int64), p)
        if inverse is not None:
            return _lifted(rows, right, inverse, p)
    return None


def _inverse(a: NDArray[int64], p: int) -> NDArray[int64] | None:
    """The inverse modulo a prime, or None."""
    import numpy as np

    n = len(a)
    work = np.concatenate([a, np.eye(n, dtype=np.int64)], axis=1)
    for k in range(n):
        checkpoint()
        pivots = np.nonzero(work[k:, k])[0]
        if not len(pivots):
            return None
        row = k + int(pivots[0])
        if row != k:
            work[[k, row]] = work[[row, k]]
        work[k] = work[k] * pow(int(work[k, k]), -1, p) % p
        column = work[:, k].copy()
        column[k] = 0
        work = (work - np.outer(column, work[k]) % p) % p
    return work[:, n:]


def _lifted(rows: Sequence[Sequence[int]], right: Sequence[int], inverse: NDArray[int64], p: int) -> list[mpq]:
    """x modulo a power of p that is beyond twice the squares of numerators and denominators, then as fractions."""
    import numpy as np

    n = len(rows)
    bound = hadamard([[*row, b] for row, b in zip(rows, right, strict=True)])
    limbs = _Limbs(rows, p, n)
    rest: list[Any] = [mpz(b) for b in right]
    digits: list[list[int]] = []
    modulus = mpz(1)
    while modulus <= 2 * bound * bound:
        checkpoint()
        x = inverse @ np.array([int(r % p) for r in rest], dtype=np.int64) % p
        digits.append(x.tolist())
        modulus *= p
        products = [(limb @ x).tolist() for limb in limbs.parts]
        for i in range(n):
            y = mpz(0)
            for part in reversed(products):
                y = (y << limbs.bits) + part[i]
            rest[i] = (rest[i] - y) // p
    return _fractions(digits, p, modulus, bound)


def hadamard(rows: Sequence[Sequence[Any]], more: int = 1) -> mpz:
    """The product of the lengths of the rows, each rounded and raised by `more`: a bound of all determinants of columns of theirs."""
    bound = mpz(1)
    for row in rows:
        bound *= isqrt(int(sum(mpz(c) * c for c in row))) + more
    return bound


class _Limbs:
    """A matrix of whole numbers in parts that are small enough for products with a vector modulo p in 64 bits."""

    def __init__(self, rows: Sequence[Sequence[int]], p: int, n: int) -> None:
        import numpy as np

        self.bits = 62 - p.bit_length() - n.bit_length()
        mask = (1 << self.bits) - 1
        longest = max((abs(int(c)).bit_length() for row in rows for c in row), default=1)
        count = max(1, -(-longest // self.bits))
        signs = np.array([[-1 if c < 0 else 1 for c in row] for row in rows], dtype=np.int64)
        sizes = [[abs(int(c)) for c in row] for row in rows]
        self.parts = [
            np.array([[c >> (self.bits * k) & mask for c in row] for row in sizes], dtype=np.int64) * signs for k in range(count)
        ]


def _fractions(digits: list[list[int]], p: int, modulus: mpz, bound: mpz) -> list[mpq]:
    """Each number from its p-adic digits; the denominator of those before is tried first."""
    found: list[mpq] = []
    common = mpz(1)
    for i in range(len(digits[0])):
        value = mpz(0)
        for row in reversed(digits):
            value = value * p + row[i]
        top = value * common % modulus
        top = top - modulus if 2 * top > modulus else top
        if abs(top) <= bound:
            found.append(mpq(top, common))
            continue
        top, bottom = _reconstructed(top % modulus, modulus, bound)
        common *= bottom
        found.append(mpq(top, common))
    return found


def _reconstructed(value: mpz, modulus: mpz, bound: mpz) -> tuple[mpz, mpz]:
    """(a, b) with a = b*value modulo the modulus and |a| at most the bound, by the extended algorithm of Euclid."""
    a, b, u, v = modulus, value, mpz(0), mpz(1)
    while abs(b) > bound:
        quotient = a // b
        a, b = b, a - quotient * b
        u, v = v, u - quotient * v
    return (b, v) if v > 0 else (-b, -v)


def reduced_rows(rows: Sequence[Sequence[mpq]]) -> tuple[list[list[mpq]], list[int]]:
    """The reduced row echelon form of a rational matrix, and its pivot columns.

    >>> reduced_rows([[mpq(1), mpq(2)], [mpq(2), mpq(4)]])
    ([[mpq(1,1), mpq(2,1)], [mpq(0,1), mpq(0,1)]], [0])
    """
    work = [list(row) for row in rows]
    pivots: list[int] = []
    for column in range(len(work[0]) if work else 0):
        checkpoint()
        place = len(pivots)
        row = next((i for i in range(place, len(work)) if work[i][column]), None)
        if row is None:
            continue
        work[place], work[row] = work[row], work[place]
        lead = work[place][column]
        work[place] = [c / lead for c in work[place]]
        for i, other in enumerate(work):
            factor = other[column]
            if i != place and factor:
                work[i] = [c - factor * d for c, d in zip(other, work[place], strict=True)]
        pivots.append(column)
    return work, pivots
