"""The ring in which the entries of a matrix lie: chosen once, so that no formula is built for a partial result."""

from __future__ import annotations

import math
import operator
from collections.abc import Callable, Sequence
from math import lcm
from typing import Any, NamedTuple

import gmpy2
from gmpy2 import mpq, mpz

from gelvo.expression.building import number
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression
from gelvo.forms.fractions import Form
from gelvo.matrices.matrix import Matrix, rationals
from gelvo.normal.relations import reduced_with_factor
from gelvo.numbers.exact import reciprocal
from gelvo.polynomial import determinant as over
from gelvo.polynomial import echelon, sparse
from gelvo.polynomial.gcd import gcd
from gelvo.polynomial.linear import solve_square
from gelvo.polynomial.sparse import Coefficient, Polynomial

SMALL = 40  # rows up to which elimination is faster than lifting in any case
LIFTED = 4  # rows a right side from which lifting is faster than elimination without fractions
SHORT = 4  # terms up to which the facts are asked whether a pivot is zero
FACTORED = 200  # terms up to which a result is told in factors


class Reduced(NamedTuple):
    """A reduced row echelon form in the ring: rows, pivot columns, the rows in their old order, and what must not be zero.

    quotient(entry): the entry divided by the minor; multiple(column): a column of entries without common factors.
    """

    rows: list[list[Any]]
    pivots: list[int]
    order: list[int]
    minor: Expression
    quotient: Callable[[Any], Expression]
    multiple: Callable[[Sequence[Any]], list[Expression]]
    negated: Callable[[Any], Any]
    nothing: Any

    def null_vector(self, free: int) -> list[Expression]:
        """A solution of all equations whose entry in a column without pivot is not zero, and zero in the other such columns."""
        width = len(self.rows[0])
        if not self.pivots:
            return [ONE if j == free else ZERO for j in range(width)]
        column = [self.nothing] * width
        for row, pivot in zip(self.rows, self.pivots, strict=False):
            column[pivot] = self.negated(row[free])  # each row has the minor at its pivot
        column[free] = self.rows[0][self.pivots[0]]
        return self.multiple(column)


class Whole(NamedTuple):
    """Rows of whole numbers, each multiplied by a number of its own."""

    rows: list[list[mpz]]
    scales: list[mpz]

    @classmethod
    def of(cls, m: Matrix) -> Whole | None:
        """None where an entry is no rational number."""
        values = rationals(m)
        if values is None:
            return None
        scales = [_common([v.denominator for v in row]) for row in values]
        return cls([[v.numerator * (s // v.denominator) for v in row] for row, s in zip(values, scales, strict=True)], scales)

    def determinant(self) -> Expression:
        below = mpz(1)
        for s in self.scales:
            below *= s
        return number(mpq(over.determinant(self.rows), below))

    def echelon(self, width: int) -> Reduced:
        """The reduced form with pivots in the first columns."""
        found = echelon.whole(self.rows, width)
        return Reduced(
            found.rows, found.pivots, found.order, ONE, lambda c: number(mpq(c, found.minor)), _primitive, operator.neg, mpz(0)
        )

    def solution(self, right: Matrix) -> Matrix | None:
        """The x with A @ x = right of rational numbers; None where A is singular."""
        n, width = len(self.rows), right.shape[1]
        wide: list[list[mpz]] = []
        for row, beside, scale in zip(self.rows, right.entries, self.scales, strict=True):
            values = [e.rational * scale for e in beside]
            times = _common([v.denominator for v in values])
            wide.append([*[c * times for c in row], *[v.numerator * (times // v.denominator) for v in values]])
        if n > max(SMALL, LIFTED * width):
            columns = [solve_square([row[:n] for row in wide], [row[n + j] for row in wide]) for j in range(width)]
            if None not in columns:
                return Matrix([[number(c[i]) for c in columns if c is not None] for i in range(n)])
        return _divided_out(echelon.solved(wide, n))

    def inverse(self) -> Matrix | None:
        """None where the matrix is singular."""
        zeros = [mpz(0)] * len(self.rows)
        beside = [[*zeros[:i], scale, *zeros[i + 1 :]] for i, scale in enumerate(self.scales)]
        return _divided_out(echelon.solved([[*row, *unit] for row, unit in zip(self.rows, beside, strict=True)], len(self.rows)))


def _without_unit(column: list[Polynomial]) -> list[Polynomial]:
    """A column with complex numbers, without the powers that all its terms share, and without a complex number before all of them."""
    present = [p for p in column if p]
    shared: dict[int, int] | None = None
    for pairs in sparse.exponents(m for p in present for m in p):
        powers = dict(pairs)
        shared = powers if shared is None else {index: min(k, powers[index]) for index, k in shared.items() if index in powers}
    monomial = sum(k << (sparse.BITS * index) for index, k in (shared or {}).items())
    lead = present[0][max(present[0])]
    divided = [sparse.scale({m - monomial: c for m, c in p.items()}, reciprocal(lead)) for p in column]
    return (
        divided if not any(sparse.has_gaussian(p) for p in divided) else [{m - monomial: c for m, c in p.items()} for p in column]
    )


def _divided_out(found: tuple[mpz, list[list[mpz]]] | None) -> Matrix | None:
    """N/d as a matrix."""
    if found is None:
        return None
    return Matrix.again(tuple(tuple([number(mpq(c, found[0])) for c in row]) for row in found[1]))


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
            quotients = [form.lowest_terms(q) if q.bottom else (q.top, sparse.UNIT) for q in map(form.of, row)]
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
        whole = sparse.total([sparse.multiply(e, c) for e, c in zip(self.rows[0], cofactors[0], strict=True)])
        size, over_size = self.reduced(whole)
        if not size:
            return None
        scales = [sparse.multiply(s, over_size) for s in self.scales]
        entries = [[self._quotient(sparse.multiply(cofactors[i][j], scales[i]), size) for i in range(n)] for j in range(n)]
        return self.written(whole, self.scales), Matrix(entries)

    def cramer(self) -> tuple[Expression, Matrix] | None:
        """Of rows [A | b] the determinant of A and the x with A @ x = b; None where that is zero, or there are too many minors."""
        n = len(self.rows)
        found = over.minors(self.rows)
        if found is None:
            return None
        whole = (2 << n) - 1
        first = found.get(whole ^ (1 << n), {})
        if not self.reduced(first)[0]:
            return None
        # the right side stands last instead of at place j
        tops = [found.get(whole ^ (1 << j), {}) for j in range(n)]
        signed = [sparse.negate(p) if (n - 1 - j) % 2 else p for j, p in enumerate(tops)]
        return self.written(first, self.scales), Matrix([[self._ratio(p, first)] for p in signed])

    def echelon(
        self, width: int, zero: Callable[[Expression], bool | None], known: Callable[[Expression], bool], ordered: bool = True
    ) -> Reduced:  # fmt: skip
        """The reduced form with pivots in the first columns.

        zero(formula): what the facts say; known(formula): whether it is not zero for any letters. An entry that depends on letters
        and is not seen to be zero is a pivot where nothing better is there: then `minor` must not be zero.
        ordered: whether each pivot stands in the first column that has one, as a reduced form needs; else the best entry of all is taken.
        """

        def key(p: Polynomial) -> tuple[int, int]:
            if set(p) == {0}:
                return 0, 0
            return (1 if len(p) <= SHORT and known(self.form.expression(p)) else 2), len(p)

        def best(work: list[list[Polynomial]], place: int, columns: Sequence[int]) -> tuple[int, int] | None:
            listed = []
            for c in columns:
                for i in range(place, len(work)):
                    p = self.reduced(work[i][c])[0] if work[i][c] else {}
                    if p:
                        listed.append((key(p), c, i, p))
            for _, c, i, p in sorted(listed, key=lambda item: item[:3]):
                if set(p) == {0} or zero(self.form.expression(p)) is not True:
                    return i, c
            return None

        def by_column(work: list[list[Polynomial]], place: int, columns: Sequence[int]) -> tuple[int, int] | None:
            return next((found for c in columns if (found := best(work, place, [c])) is not None), None)

        found = echelon.of_polynomials(self.rows, width, by_column if ordered else best, ordered)
        return Reduced(
            found.rows, found.pivots, found.order, self.form.factored(self.reduced(found.minor)[0]),
            lambda p: self._ratio(p, found.minor) if p else ZERO, self._without_content, sparse.negate, {},
        )  # fmt: skip

    def _without_content(self, column: Sequence[Polynomial]) -> list[Expression]:
        """A multiple of a column of polynomials: without common factors, without fractions."""
        reduced = self._over_one_denominator([self.reduced(p) for p in column])
        common: Polynomial = {}
        if not any(sparse.has_gaussian(p) for p in reduced):
            for p in reduced:
                common = gcd(common, p) if common and p else common or p
            reduced = [_divided(p, common) if p else p for p in reduced]
            below = lcm(*(int(c.denominator) for p in reduced for c in p.values()))
            above = math.gcd(*(int(c.numerator) for p in reduced for c in p.values())) or 1
            last = next((p for p in reversed(reduced) if p), sparse.UNIT)
            sign = -1 if set(last) == {0} and last[0] < 0 else 1
            reduced = [sparse.scale(p, mpq(sign * below, above)) for p in reduced]
        else:
            reduced = _without_unit(reduced)
        return [self.form.factored(p) if len(p) <= FACTORED else self.form.expression(p) for p in reduced]

    @staticmethod
    def _over_one_denominator(column: Sequence[tuple[Polynomial, Polynomial]]) -> list[Polynomial]:
        common: Polynomial = sparse.UNIT
        for _, below in column:
            common = sparse.multiply(common, _divided(below, gcd(common, below))) if below != sparse.UNIT else common
        if common == sparse.UNIT:
            return [top for top, _ in column]
        return [sparse.multiply(top, _divided(common, below)) if top else top for top, below in column]

    def reduced(self, p: Polynomial) -> tuple[Polynomial, Polynomial]:
        """(q, f) with p = q/f: powers of roots, and so on, as what they equal; f from the denominators of radicands."""
        before: Polynomial | None = None
        below: Polynomial = sparse.UNIT
        while p and p != before:
            before = p
            p, factor = reduced_with_factor(self.form, p)
            below = below if factor == sparse.UNIT else sparse.multiply(below, factor)
        return p, below

    def written(self, top: Polynomial, scales: Sequence[Polynomial]) -> Expression:
        """A polynomial, divided by what the rows were multiplied by."""
        top, below = self.reduced(top)
        for s in scales:
            below = sparse.multiply(below, s)
        return self._quotient(top, below)

    def _ratio(self, top: Polynomial, bottom: Polynomial) -> Expression:
        (upper, below), (lower, above) = self.reduced(top), self.reduced(bottom)
        if above != below:
            upper, lower = sparse.multiply(upper, above), sparse.multiply(lower, below)
        return self._quotient(upper, lower) if upper else ZERO

    def _quotient(self, top: Polynomial, bottom: Polynomial) -> Expression:
        top, bottom = self.form.without_common_factors(top, bottom)
        work = self.form.factored if len(top) + len(bottom) <= FACTORED else self.form.expression
        key = frozenset(bottom.items())
        if key not in self.below:  # most entries of an inverse have the same denominator
            self.below[key] = self.form.factored(bottom)
        return work(top) / self.below[key]


def _common(denominators: Sequence[mpz]) -> mpz:
    return gmpy2.lcm(*denominators) if any(d != 1 for d in denominators) else mpz(1)


def without_content(entries: Sequence[Expression]) -> list[Expression]:
    """A multiple of formulas without common factors and without fractions.

    >>> from gelvo.expression.building import name
    >>> a = name("a")
    >>> without_content([a / 2, a**2])
    [1, 2*a]
    """
    row = Matrix([entries])
    numbers = Whole.of(row)
    if numbers is not None:
        return _primitive(numbers.rows[0])
    ring = Polynomials.of(row)
    return ring._without_content(ring.rows[0])


def _primitive(column: Sequence[mpz]) -> list[Expression]:
    common = math.gcd(*(int(c) for c in column)) or 1
    if next((c for c in reversed(column) if c), 1) < 0:
        common = -common
    return [number(mpq(c, common)) for c in column]


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
