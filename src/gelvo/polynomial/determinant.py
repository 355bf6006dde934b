"""Determinants and characteristic polynomials in the ring of the entries: of whole numbers, and of polynomials by minors with memory.

Sources: E. Bareiss, "Sylvester's identity and multistep integer-preserving Gaussian elimination" (1968); J. Abbott, M. Bronstein,
T. Mulders, "Fast deterministic computation of determinants of dense matrices" (1999), for the large factor that one solution gives.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import lcm
from typing import TYPE_CHECKING, Any

import gmpy2
from gmpy2 import mpz

from gelvo.deadline import checkpoint
from gelvo.polynomial import sparse
from gelvo.polynomial.linear import hadamard, solve_square
from gelvo.polynomial.sparse import Polynomial

if TYPE_CHECKING:
    from numpy import int64
    from numpy.typing import NDArray

SMALL = 24  # rows up to which plain elimination is faster than residues
MOST_MINORS, MOST_TERMS = 20_000, 200_000


def determinant(rows: Sequence[Sequence[Any]]) -> mpz:
    """The determinant of a square matrix of whole numbers.

    >>> determinant([[2, 1], [1, 3]])
    mpz(5)
    """
    if len(rows) <= SMALL:
        return _by_elimination(rows)
    known = _large_factor(rows)
    bound = min(hadamard(rows), hadamard(list(zip(*rows, strict=True)))) // known + 1
    return known * _by_residues(lambda p: [_modulo(rows, p) * gmpy2.invert(known, p) % p], 1, bound, known)[0]


def _by_residues(residues: Callable[[int], Sequence[Any]], count: int, bound: mpz, apart: mpz) -> list[mpz]:
    """Whole numbers up to a bound in size, put together from their residues modulo primes that do not divide `apart`."""
    values, modulus, prime = [mpz(0)] * count, mpz(1), mpz(2) ** 31
    while modulus <= 2 * bound:
        prime = gmpy2.prev_prime(prime)
        if apart % prime == 0:
            continue
        step = gmpy2.invert(modulus, prime)
        values = [v + modulus * ((r - v) * step % prime) for v, r in zip(values, residues(int(prime)), strict=True)]
        modulus *= prime
    return [v - modulus if 2 * v > modulus else v for v in values]


def _by_elimination(rows: Sequence[Sequence[Any]]) -> mpz:
    """Bareiss's elimination: every division is exact."""
    work = [[mpz(c) for c in row] for row in rows]
    sign, previous = 1, mpz(1)
    while len(work) > 1:
        checkpoint()
        row = next((i for i, r in enumerate(work) if r[0]), None)
        if row is None:
            return mpz(0)
        if row:
            work[0], work[row] = work[row], work[0]
            sign = -sign
        lead, rest = work[0][0], work[0][1:]
        work = [[gmpy2.divexact(lead * c - r[0] * d, previous) for c, d in zip(r[1:], rest, strict=True)] for r in work[1:]]
        previous = lead
    return sign * work[0][0]


def _large_factor(rows: Sequence[Sequence[Any]]) -> mpz:
    """A divisor of the determinant, most often all of it but a few small factors; 1 for a matrix that is or seems singular."""
    solution = solve_square([[int(c) for c in row] for row in rows], [(7 * k * k + 3 * k) % 31 - 15 for k in range(len(rows))])
    return mpz(1) if solution is None else mpz(lcm(*(int(v.denominator) for v in solution)))


def _modulo(rows: Sequence[Sequence[Any]], p: int) -> int:
    """The determinant modulo a prime below 2^31."""
    import numpy as np

    work: NDArray[int64] = np.array([[int(c % p) for c in row] for row in rows], dtype=np.int64)
    value = 1
    while len(work):
        checkpoint()
        pivots = np.nonzero(work[:, 0])[0]
        if not len(pivots):
            return 0
        row = int(pivots[0])
        if row:
            work[[0, row]] = work[[row, 0]]
            value = -value
        lead = int(work[0, 0])
        value = value * lead % p
        factors = work[1:, 0] * pow(lead, -1, p) % p
        work = (work[1:, 1:] - np.outer(factors, work[0, 1:]) % p) % p
    return value % p


def minors(rows: Sequence[Sequence[Polynomial]]) -> dict[int, Polynomial] | None:
    """The determinants of k rows with each choice of k columns (a bit mask), zero ones left out; None where there are too many.

    Row by row, each minor once, by the Laplace expansion along its last row.
    """
    found: dict[int, Polynomial] = {0: sparse.constant(1)}
    for row in rows:
        entries = [(1 << j, p) for j, p in enumerate(row) if p]
        terms: dict[int, list[Polynomial]] = {}
        for mask, minor in found.items():
            checkpoint()
            for bit, entry in entries:
                if not mask & bit:
                    behind = (mask & ~(2 * bit - 1)).bit_count()  # columns to the right of the new one
                    piece = sparse.multiply(minor, entry)
                    terms.setdefault(mask | bit, []).append(sparse.negate(piece) if behind % 2 else piece)
        if len(terms) > MOST_MINORS or sum(len(p) for listed in terms.values() for p in listed) > MOST_TERMS:
            return None
        found = {mask: value for mask, listed in terms.items() if (value := sparse.total(listed))}
    return found


def characteristic(rows: Sequence[Sequence[Any]]) -> list[mpz]:
    """The coefficients of det(x - A) for whole numbers, constant term first: modulo primes, by Hessenberg's form.

    >>> [int(c) for c in characteristic([[2, 1], [1, 2]])]
    [3, -4, 1]
    """
    bound = 2 * hadamard(rows, 2)  # no coefficient is larger than the product of the 1 + |row|
    return _by_residues(lambda p: _characteristic_modulo(rows, p), len(rows) + 1, bound, mpz(1))


def _characteristic_modulo(rows: Sequence[Sequence[Any]], p: int) -> list[int]:
    """det(x - A) modulo a prime below 2^31 (H. Cohen, "A Course in Computational Algebraic Number Theory", 1993, 2.2.4)."""
    import numpy as np

    n = len(rows)
    h: NDArray[int64] = np.array([[int(c % p) for c in row] for row in rows], dtype=np.int64)
    for k in range(n - 2):
        checkpoint()
        pivots = np.nonzero(h[k + 1 :, k])[0]
        if not len(pivots):
            continue
        row = k + 1 + int(pivots[0])
        if row != k + 1:
            h[[k + 1, row]] = h[[row, k + 1]]
            h[:, [k + 1, row]] = h[:, [row, k + 1]]
        factors = h[k + 2 :, k] * pow(int(h[k + 1, k]), -1, p) % p
        h[k + 2 :] = (h[k + 2 :] - np.outer(factors, h[k + 1]) % p) % p
        h[:, k + 1] = (h[:, k + 1] + (h[:, k + 2 :] * factors % p).sum(axis=1)) % p
    below: list[NDArray[int64]] = [np.zeros(n + 1, dtype=np.int64)]
    below[0][0] = 1
    for k in range(n):
        following = (np.roll(below[k], 1) - h[k, k] * below[k] % p) % p
        product = 1
        for i in range(k - 1, -1, -1):
            product = product * int(h[i + 1, i]) % p
            if not product:
                break
            following = (following - product * int(h[i, k]) % p * below[i] % p) % p
        below.append(following)
    return [int(c) for c in below[n]]
