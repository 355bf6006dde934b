"""The ring in which the entries of a matrix lie: chosen once, so that no formula is built for a partial result."""

from __future__ import annotations

from collections.abc import Sequence
from math import lcm
from typing import NamedTuple

from gmpy2 import mpq, mpz

from gelvo.expression.building import number
from gelvo.expression.nodes import Expression, Number
from gelvo.forms.fractions import Form
from gelvo.matrices.matrix import Matrix
from gelvo.normal.relations import reduce_relations
from gelvo.polynomial import determinant as over
from gelvo.polynomial import sparse
from gelvo.polynomial.gcd import gcd
from gelvo.polynomial.linear import solve_square
from gelvo.polynomial.sparse import Coefficient, Polynomial

LIFTED = 4  # rows a right side from which lifting is faster than elimination without fractions
FACTORED = 200  # terms up to which a result is told in factors


class Whole(NamedTuple):
    """Rows of whole numbers, each multiplied by a number of its own."""

    rows: list[list[mpz]]
    scales: list[mpz]

    @classmethod
    def of(cls, m: Matrix) -> Whole | None:
        """None where an entry is no rational number."""
        if not all(isinstance(e, Number) and e.is_rational for e in m.flat()):
            return None
        values = [[mpq(e.rational) for e in row] for row in m.entries]
        scales = [mpz(lcm(*(int(v.denominator) for v in row))) for row in values]
        return cls([[mpz(v * s) for v in row] for row, s in zip(values, scales, strict=True)], scales)

    def determinant(self) -> Expression:
        below = mpz(1)
        for s in self.scales:
            below *= s
        return number(mpq(over.determinant(self.rows), below))

    def solution(self, right: Matrix) -> Matrix | None:
        """The x with A @ x = right of rational numbers; None where A is singular."""
        n, width = len(self.rows), right.shape[1]
        wide: list[list[mpz]] = []
        for row, beside, scale in zip(self.rows, right.entries, self.scales, strict=True):
            values = [mpq(e.rational) * scale for e in beside]
            times = mpz(lcm(*(int(v.denominator) for v in values)))
            wide.append([*(c * times for c in row), *(mpz(v * times) for v in values)])
        if n > LIFTED * width:
            columns = [solve_square([row[:n] for row in wide], [row[n + j] for row in wide]) for j in range(width)]
            if None not in columns:
                return Matrix([[number(c[i]) for c in columns if c is not None] for i in range(n)])
        found = over.solved(wide, n)
        return None if found is None else Matrix([[number(mpq(c, found[0])) for c in row] for row in found[1]])


class Polynomials(NamedTuple):
    """Rows of polynomials over the generators of a form, each multiplied by a polynomial of its own; denominators as written."""

    form: Form
    rows: list[list[Polynomial]]
    scales: list[Polynomial]
    below: dict[frozenset[tuple[int, Coefficient]], Expression]

    @classmethod
    def of(cls, m: Matrix) -> Polynomials:
        form = Form(m.flat())
        rows: list[list[Polynomial]] = []
        scales: list[Polynomial] = []
        for row in m.entries:
            quotients = [form.lowest_terms(form.of(e)) for e in row]
            common = sparse.constant(mpq(1))
            for _, bottom in quotients:
                common = sparse.multiply(common, _divided(bottom, gcd(common, bottom)))
            rows.append([sparse.multiply(top, _divided(common, bottom)) if top else {} for top, bottom in quotients])
            scales.append(common)
        return cls(form, rows, scales, {})

    @property
    def without_denominators(self) -> bool:
        """Whether no entry is divided by letters: nothing but the determinant stands below in an inverse."""
        return all(set(s) == {0} for s in self.scales)

    def determinant(self) -> Expression | None:
        """None where there are too many minors."""
        found = over.minors(self.rows)
        if found is None:
            return None
        return self.written(found.get((1 << len(self.rows)) - 1, {}), self.scales)

    def inverse(self) -> tuple[Expression, Matrix] | None:
        """The determinant and the inverse; None where the determinant is zero, or there are too many minors."""
        n = len(self.rows)
        full = (1 << n) - 1
        beside = [over.minors(self.rows[:i] + self.rows[i + 1 :]) for i in range(n)]  # without row i
        cofactors: list[list[Polynomial]] = []
        for i, found in enumerate(beside):
            if found is None:
                return None
            listed = [found.get(full ^ (1 << j), {}) for j in range(n)]
            cofactors.append([sparse.negate(p) if (i + j) % 2 else p for j, p in enumerate(listed)])
        size = self.reduced(sparse.total([sparse.multiply(e, c) for e, c in zip(self.rows[0], cofactors[0], strict=True)]))
        if not size:
            return None
        entries = [[self._quotient(sparse.multiply(cofactors[i][j], self.scales[i]), size) for i in range(n)] for j in range(n)]
        return self.written(size, self.scales), Matrix(entries)

    def cramer(self) -> tuple[Expression, Matrix] | None:
        """Of rows [A | b] the determinant of A and the x with A @ x = b; None where that is zero, or there are too many minors."""
        n = len(self.rows)
        found = over.minors(self.rows)
        if found is None:
            return None
        whole = (2 << n) - 1
        size = self.reduced(found.get(whole ^ (1 << n), {}))
        if not size:
            return None
        tops = [
            self.reduced(found.get(whole ^ (1 << j), {})) for j in range(n)
        ]  # the right side stands last instead of at place j
        signed = [sparse.negate(p) if (n - 1 - j) % 2 else p for j, p in enumerate(tops)]
        return self.written(size, self.scales), Matrix([[self._quotient(p, size)] for p in signed])

    def reduced(self, p: Polynomial) -> Polynomial:
        """Powers of roots, and so on, as what they equal."""
        before: Polynomial | None = None
        while p and p != before:
            p, before = reduce_relations(self.form, p), p
        return p

    def written(self, top: Polynomial, scales: Sequence[Polynomial]) -> Expression:
        """A polynomial, divided by what the rows were multiplied by."""
        below = sparse.constant(mpq(1))
        for s in scales:
            below = sparse.multiply(below, s)
        return self._quotient(self.reduced(top), below)

    def _quotient(self, top: Polynomial, bottom: Polynomial) -> Expression:
        top, bottom = self.form.without_common_factors(top, bottom)
        work = self.form.factored if len(top) + len(bottom) <= FACTORED else self.form.expression
        key = frozenset(bottom.items())
        if key not in self.below:  # most entries of an inverse have the same denominator
            self.below[key] = self.form.factored(bottom)
        return work(top) / self.below[key]


def _divided(p: Polynomial, q: Polynomial) -> Polynomial:
    found = sparse.divide_exactly(p, q)
    assert found is not None
    return found


def characteristic(m: Matrix) -> list[Expression] | None:
    """The coefficients of det(x - A) for rational entries, constant term first; None for others."""
    whole = Whole.of(m)
    if whole is None:
        return None
    common = mpz(lcm(*(int(s) for s in whole.scales)))
    rows = [[c * (common // s) for c in row] for row, s in zip(whole.rows, whole.scales, strict=True)]
    n = len(rows)
    return [number(mpq(c, common ** (n - k))) for k, c in enumerate(over.characteristic(rows))]
