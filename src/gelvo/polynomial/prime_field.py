"""Polynomials in one variable modulo a small prime, as NumPy arrays (constant term first), and their factors.

Distinct degrees by the matrix of the map a -> a^p (E. Berlekamp, "Factoring polynomials over finite fields", 1967), equal
degrees by random splitting (D. Cantor, H. Zassenhaus, "A new algorithm for factoring polynomials over finite fields", 1981).
"""

from __future__ import annotations

from random import Random
from typing import TypeAlias

import numpy
from gmpy2 import mpz

from gelvo.deadline import checkpoint
from gelvo.polynomial.support import Array

Residues: TypeAlias = Array  # of one dimension, without leading zeros
LARGEST_PRIME = 1 << 20  # so that a sum of 2^20 products still fits into 63 bits


def residues(coefficients: list[mpz], p: int) -> Residues:
    return trimmed(numpy.array([int(c % p) for c in coefficients], dtype=numpy.int64))


def trimmed(a: Residues) -> Residues:
    found = numpy.flatnonzero(a)
    return a[: found[-1] + 1] if len(found) else a[:0]


def monic(a: Residues, p: int) -> Residues:
    return a * pow(int(a[-1]), -1, p) % p


def subtract(a: Residues, b: Residues, p: int) -> Residues:
    result = numpy.zeros(max(len(a), len(b)), dtype=numpy.int64)
    result[: len(a)] = a
    result[: len(b)] -= b
    return trimmed(result % p)


def multiply(a: Residues, b: Residues, p: int) -> Residues:
    if not len(a) or not len(b):
        return a[:0]
    return trimmed(numpy.convolve(a, b) % p)


def divide(a: Residues, b: Residues, p: int) -> tuple[Residues, Residues]:
    """Quotient and remainder."""
    size = len(b) - 1
    if len(a) <= size:
        return a[:0], a
    rest = a.copy()
    inverse = pow(int(b[-1]), -1, p)
    quotient = numpy.zeros(len(a) - size, dtype=numpy.int64)
    for i in range(len(a) - size - 1, -1, -1):
        factor = int(rest[i + size]) * inverse % p
        if factor:
            quotient[i] = factor
            rest[i : i + size + 1] = (rest[i : i + size + 1] - factor * b) % p
    return trimmed(quotient), trimmed(rest[:size])


def gcd(a: Residues, b: Residues, p: int) -> Residues:
    """The monic greatest common divisor."""
    while len(b):
        checkpoint()
        a, b = b, divide(a, b, p)[1]
    return monic(a, p) if len(a) else a


def derivative(a: Residues, p: int) -> Residues:
    return trimmed(a[1:] * numpy.arange(1, len(a), dtype=numpy.int64) % p)


def bezout(a: Residues, b: Residues, p: int) -> tuple[Residues, Residues]:
    """s, t with s*a + t*b = 1, for coprime a and b."""
    one, zero = numpy.array([1], dtype=numpy.int64), numpy.zeros(0, dtype=numpy.int64)
    old, new = (a, one, zero), (b, zero, one)
    while len(new[0]):
        quotient, rest = divide(old[0], new[0], p)
        s = subtract(old[1], multiply(quotient, new[1], p), p)
        t = subtract(old[2], multiply(quotient, new[2], p), p)
        old, new = new, (rest, s, t)
    inverse = pow(int(old[0][-1]), -1, p)
    return old[1] * inverse % p, old[2] * inverse % p


class Quotients:
    """Arithmetic modulo p and a monic polynomial."""

    def __init__(self, modulus: Residues, p: int) -> None:
        if p > LARGEST_PRIME:
            raise ValueError(f"{p} is too large a prime for sums of products in machine words")
        self.modulus, self.p = modulus, p
        self.size = size = len(modulus) - 1
        self.folding = numpy.zeros((max(size - 1, 0), size), dtype=numpy.int64)
        row = -modulus[:size] % p
        for k in range(size - 1):
            self.folding[k] = row
            top = row[-1]
            row = (numpy.concatenate(([0], row[:-1])) - top * modulus[:size]) % p

    def padded(self, a: Residues) -> Residues:
        result = numpy.zeros(self.size, dtype=numpy.int64)
        result[: len(a)] = a
        return result

    def multiply(self, a: Residues, b: Residues) -> Residues:
        """Product of two full rows."""
        checkpoint()
        whole = numpy.convolve(a, b) % self.p
        return (whole[: self.size] + whole[self.size :] @ self.folding) % self.p

    def power(self, a: Residues, exponent: int) -> Residues:
        result = None
        while exponent:
            checkpoint()
            if exponent & 1:
                result = a if result is None else self.multiply(result, a)
            exponent >>= 1
            if exponent:
                a = self.multiply(a, a)
        return result if result is not None else self.padded(numpy.array([1]))

    def frobenius(self) -> Array:
        """The matrix of a -> a^p."""
        rows = numpy.zeros((self.size, self.size), dtype=numpy.int64)
        rows[0, 0] = 1
        if self.size > 1:
            step = self.power(self.padded(numpy.array([0, 1])), self.p)
            for i in range(1, self.size):
                rows[i] = self.multiply(rows[i - 1], step) if i > 1 else step
        return rows


def factor(a: Residues, p: int) -> list[Residues]:
    """The monic irreducible factors of a square-free polynomial modulo an odd prime.

    >>> [f.tolist() for f in factor(numpy.array([4, 0, 1]), 5)]
    [[1, 1], [4, 1]]
    """
    a = monic(a, p)
    if len(a) <= 2:
        return [a] if len(a) == 2 else []
    ring = Quotients(a, p)
    frobenius = ring.frobenius()
    x = numpy.array([0, 1], dtype=numpy.int64)
    image = ring.padded(x)
    rest, degree = a, 0
    parts: list[tuple[Residues, int]] = []
    while len(rest) - 1 >= 2 * (degree + 1):
        degree += 1
        image = image @ frobenius % p
        common = gcd(rest, subtract(image, x, p), p)
        if len(common) > 1:
            parts.append((common, degree))
            rest = divide(rest, common, p)[0]
    if len(rest) > 1:
        parts.append((rest, len(rest) - 1))
    result = [f for part, d in parts for f in _equal_degree(part, d, p)]
    return sorted(result, key=lambda f: (len(f), f.tolist()))


def _equal_degree(a: Residues, degree: int, p: int) -> list[Residues]:
    random = Random(12345)  # a fixed seed: the same factors on every run
    work, done = [a], []
    while work:
        f = work.pop()
        if len(f) - 1 == degree:
            done.append(f)
            continue
        ring = Quotients(f, p)
        frobenius = ring.frobenius() if degree > 1 else numpy.zeros((0, 0), dtype=numpy.int64)
        while True:
            trial = numpy.array([random.randrange(p) for _ in range(ring.size)], dtype=numpy.int64)
            norm = image = trial
            for _ in range(degree - 1):
                image = image @ frobenius % p
                norm = ring.multiply(norm, image)
            half = trimmed(ring.power(norm, (p - 1) // 2))
            common = gcd(f, subtract(half, numpy.array([1]), p), p)
            if 1 < len(common) < len(f):
                work += [common, divide(f, common, p)[0]]
                break
    return done
