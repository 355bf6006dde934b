"""Common factors of sparse polynomials through images modulo primes of machine size.

One variable after the other is interpolated; after its first image the monomials are taken for known and later images give
only their coefficients. Sources: R. Zippel, "Probabilistic algorithms for sparse polynomials" (1979); W. Brown, "On Euclid's
algorithm and the computation of polynomial greatest common divisors" (1971). The result is proved by division.
"""

from __future__ import annotations

from random import Random

import numpy
from gmpy2 import mpq, mpz, next_prime

from gelvo.polynomial import prime_field, sparse
from gelvo.polynomial.support import BITS, FIELD, Array, degrees

FIRST_PRIME = 1 << 30
MOST_PRIMES = 60
Row = tuple[int, ...]


class Unlucky(Exception):
    """A prime or a point at which the images do not fit together."""


class _Terms:
    """A polynomial as arrays: exponents (terms x variables) and coefficients modulo a prime."""

    def __init__(self, p: sparse.Polynomial, order: list[int], q: int) -> None:
        monomials = sorted(p, key=lambda m: (m >> (BITS * order[0])) & FIELD)
        self.exponents = numpy.array([[(m >> (BITS * k)) & FIELD for k in order] for m in monomials], dtype=numpy.int64)
        self.values = numpy.array([int(p[m].numerator % q) for m in monomials], dtype=numpy.int64)
        self.q = q
        main = self.exponents[:, 0]
        self.starts = numpy.flatnonzero(numpy.concatenate(([True], main[1:] != main[:-1])))
        self.degrees = main[self.starts]

    def weights(self, point: list[int]) -> Array:
        """The value of each monomial in all variables but the first."""
        result = numpy.ones(len(self.values), dtype=numpy.int64)
        for k, value in enumerate(point, 1):
            result = result * _powers(value, self.exponents[:, k], self.q) % self.q
        return result

    def image(self, weights: Array) -> Array:
        """The polynomial in the first variable."""
        row = numpy.zeros(int(self.degrees[-1]) + 1, dtype=numpy.int64)
        row[self.degrees] = numpy.add.reduceat(self.values * weights % self.q, self.starts) % self.q
        return prime_field.trimmed(row)


def _powers(value: int, exponents: Array, q: int) -> Array:
    table = [1]
    for _ in range(int(exponents.max(initial=0))):
        table.append(table[-1] * value % q)
    return numpy.array(table, dtype=numpy.int64)[exponents]


class _Images:
    """The scaled common factor modulo one prime: gamma times the monic one, in the variables of `order`."""

    def __init__(
        self, p: sparse.Polynomial, q: sparse.Polynomial, gamma: sparse.Polynomial, order: list[int], prime: int, random: Random
    ) -> None:
        self.prime, self.order, self.random = prime, order, random
        self.p, self.q, self.gamma = (_Terms(f, order, prime) for f in (p, q, gamma))
        self.size: int | None = None

    def univariate(self, weights: tuple[Array, ...]) -> Array:
        scale = self.gamma.image(weights[2])
        a, b = self.p.image(weights[0]), self.q.image(weights[1])
        if not len(scale) or len(a) - 1 < self.p.degrees[-1] or len(b) - 1 < self.q.degrees[-1]:
            raise Unlucky
        found = prime_field.gcd(a, b, self.prime)
        if self.size is not None and len(found) != self.size:
            raise Unlucky
        self.size = len(found)
        return found * int(scale[0]) % self.prime

    def _weights(self, point: list[int]) -> tuple[Array, ...]:
        return self.p.weights(point), self.q.weights(point), self.gamma.weights(point)

    def interpolated(self, limits: list[int]) -> dict[Row, int]:
        """The factor with exponents as tuples, variable by variable; limits: degree bounds of the others."""
        point = [self.random.randrange(1, self.prime) for _ in self.order[1:]]
        row = self.univariate(self._weights(point))
        known: dict[Row, int] = {(k,): int(c) for k, c in enumerate(row.tolist()) if c}
        for depth, limit in enumerate(limits, 1):
            columns: dict[Row, list[int]] = {m: [c] for m, c in known.items()}
            nodes = [point[depth - 1]]
            while len(nodes) <= limit:
                node = self.random.randrange(1, self.prime)
                if node in nodes:
                    continue
                image = self.with_skeleton(list(known), [node, *point[depth:]], depth)
                for m, column in columns.items():
                    column.append(image[m])
                nodes.append(node)
            known = {}
            for m, coefficients in zip(columns, _interpolate(nodes, list(columns.values()), self.prime), strict=True):
                for k, c in enumerate(coefficients):
                    if c:
                        known[(*m, k)] = c
        return known

    def with_skeleton(self, skeleton: list[Row], tail: list[int], depth: int) -> dict[Row, int]:
        """Coefficients of known monomials from images at powers of one random point."""
        groups: dict[int, list[Row]] = {}
        for m in skeleton:
            groups.setdefault(m[0], []).append(m)
        count = max(map(len, groups.values()))
        q = self.prime
        head = [self.random.randrange(2, q) for _ in range(depth - 1)]
        base = self._weights([*head, *([1] * len(tail))])
        fixed = self._weights([*([1] * len(head)), *tail])
        weights = tuple(f * 1 for f in fixed)
        rows = []
        for _ in range(count):
            weights = tuple(w * b % q for w, b in zip(weights, base, strict=True))
            rows.append(self.univariate(weights))
        if any(int(k) not in groups for row in rows for k in numpy.flatnonzero(row)):
            raise Unlucky
        result: dict[Row, int] = {}
        for power, members in groups.items():
            values = []
            for m in members:
                v = 1
                for e, x in zip(m[1:], head, strict=False):
                    v = v * pow(x, e, q) % q
                values.append(v)
            right = [int(row[power]) if power < len(row) else 0 for row in rows[: len(members)]]
            for m, c in zip(members, _solve_powers(values, right, q), strict=True):
                result[m] = c
        return result


def _solve_powers(values: list[int], right: list[int], q: int) -> list[int]:
    """c with sum of c_i * values_i^j = right_(j-1) for j = 1 … n, modulo a prime."""
    n = len(values)
    if len(set(values)) < n:
        raise Unlucky
    row = numpy.array(values, dtype=numpy.int64)
    matrix = numpy.zeros((n, n + 1), dtype=numpy.int64)
    power = row.copy()
    for j in range(n):
        matrix[j, :n] = power
        matrix[j, n] = right[j]
        power = power * row % q
    for k in range(n):
        pivot = k + int(numpy.flatnonzero(matrix[k:, k])[0])
        if pivot != k:
            matrix[[k, pivot]] = matrix[[pivot, k]]
        matrix[k] = matrix[k] * pow(int(matrix[k, k]), -1, q) % q
        factors = matrix[:, k].copy()
        factors[k] = 0
        matrix = (matrix - factors[:, None] * matrix[k][None, :]) % q
    return matrix[:, n].tolist()


def _interpolate(nodes: list[int], columns: list[list[int]], q: int) -> list[list[int]]:
    """Coefficients of the polynomials with given values at the nodes (I. Newton's differences), for many columns at once."""
    table = numpy.array(columns, dtype=numpy.int64).T
    n = len(nodes)
    for level in range(1, n):
        for k in range(n - 1, level - 1, -1):
            inverse = pow((nodes[k] - nodes[k - level]) % q, -1, q)
            table[k] = (table[k] - table[k - 1]) % q * inverse % q
    result = numpy.zeros_like(table)
    for k in range(n - 1, -1, -1):
        moved = numpy.zeros_like(result)
        moved[1:] = result[:-1]
        result = (moved - nodes[k] * result) % q
        result[0] = (result[0] + table[k]) % q
    return result.T.tolist()


def gcd_modular(
    p: sparse.Polynomial, q: sparse.Polynomial, gamma: sparse.Polynomial, order: list[int]
) -> sparse.Polynomial | None:
    """A multiple, by a factor free of the first variable, of the common factor of p and q; None where it was not found.

    p, q: primitive, without content in the first variable of `order`; gamma: the common factor of their leading coefficients.

    >>> p, q = {2: mpq(1), 0: mpq(-1)}, {2: mpq(1), 1: mpq(2), 0: mpq(1)}
    >>> gcd_modular(p, q, {0: mpq(1)}, [0]) == {1: 1, 0: 1}
    True
    """
    random = Random(31415)  # a fixed seed: the same points on every run
    others = order[1:]
    both = zip(degrees(p, others), degrees(q, others), degrees(gamma, others), strict=True)
    limits = [min(a, b) + c for a, b, c in both]
    prime, modulus = FIRST_PRIME, mpz(1)
    combined: dict[Row, mpz] = {}
    skeleton: list[Row] | None = None
    size: int | None = None
    for _ in range(MOST_PRIMES):
        prime = int(next_prime(prime))
        images = _Images(p, q, gamma, order, prime, random)
        try:
            images.size = size
            if skeleton is None:
                tight = [min(limit, _degree_bound(p, q, gamma, order, k, prime, random)) for k, limit in enumerate(limits, 1)]
                found = images.interpolated(tight)
                skeleton = list(found)
                size = images.size
            else:
                found = images.with_skeleton(skeleton, [], len(order))
        except (Unlucky, ZeroDivisionError, ValueError):
            if size is not None and images.size is not None and images.size < size:
                skeleton, size, modulus, combined = None, None, mpz(1), {}
            continue
        inverse = mpz(pow(int(modulus % prime), -1, prime)) if modulus > 1 else mpz(0)
        changed = False
        merged: dict[Row, mpz] = {}
        for m in skeleton:
            old = combined.get(m, mpz(0))
            step = (found[m] - old) * inverse % prime if modulus > 1 else mpz(found[m])
            new = old + modulus * step
            merged[m] = new
        modulus *= prime
        half = modulus // 2
        merged = {m: c - modulus if c > half else c for m, c in merged.items()}
        changed = merged != combined
        combined = merged
        if not changed or len(order) == 1:
            candidate = {sum(e << (BITS * k) for e, k in zip(m, order, strict=True)): mpq(c) for m, c in merged.items() if c}
            candidate = sparse.primitive(candidate)[1]
            if not changed:
                return candidate
    return None


def _degree_bound(
    p: sparse.Polynomial, q: sparse.Polynomial, gamma: sparse.Polynomial, order: list[int], place: int, prime: int, random: Random
) -> int:
    """A bound on the degree of the scaled factor in one variable, from an image in that variable alone."""
    turned = [order[place], *[k for k in order if k != order[place]]]
    a, b = _Terms(p, turned, prime), _Terms(q, turned, prime)
    point = [random.randrange(1, prime) for _ in turned[1:]]
    found = prime_field.gcd(a.image(a.weights(point)), b.image(b.weights(point)), prime)
    return len(found) - 1 + degrees(gamma, [order[place]])[0]


def degree_bounds(p: sparse.Polynomial, q: sparse.Polynomial, used: list[int]) -> list[int]:
    """Bounds on the degree of the common factor in each variable, each from one image in that variable alone.

    They hold for every common factor: its leading coefficient divides one that does not vanish in the image.
    """
    random, prime = Random(161803), int(next_prime(FIRST_PRIME))
    result = []
    for index in used:
        turned = [index, *[k for k in used if k != index]]
        a, b = _Terms(p, turned, prime), _Terms(q, turned, prime)
        point = [random.randrange(1, prime) for _ in turned[1:]]
        left, right = a.image(a.weights(point)), b.image(b.weights(point))
        if len(left) - 1 < a.degrees[-1] and len(right) - 1 < b.degrees[-1]:
            result.append(int(min(a.degrees[-1], b.degrees[-1])))
        else:
            result.append(len(prime_field.gcd(left, right, prime)) - 1)
    return result
