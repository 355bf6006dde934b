"""Square linear systems whose coefficients are polynomials in letters: elimination without fractions, the sparsest pivot first.

Sources: E. Bareiss, "Sylvester's identity and multistep integer-preserving Gaussian elimination" (1968); H. Markowitz, "The elimination
form of the inverse and its application to linear programming" (1957).
"""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.deadline import checkpoint
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Expression, Name
from gelvo.forms.fractions import Form
from gelvo.forms.measure import measure
from gelvo.polynomial import sparse
from gelvo.polynomial.gcd import gcd
from gelvo.polynomial.sparse import Polynomial

LONG = 24  # terms beyond which a quotient is written multiplied out
UNIT: Polynomial = sparse.constant(1)


class LetterRows:
    """The rows, column -> polynomial, the last column being the right side; how they were multiplied on the way."""

    def __init__(self, form: Form, rows: list[dict[int, Polynomial]], unknowns: Sequence[Name]) -> None:
        self.form, self.rows, self.unknowns = form, rows, list(unknowns)
        self.right = len(unknowns)
        self.pivots: list[tuple[int, int]] = []
        self.raised: list[Polynomial] = []  # what the determinant was multiplied by
        self.lowered: list[Polynomial] = []  # what it was divided by

    @classmethod
    def of(cls, rows: Sequence[Sequence[Expression]], unknowns: Sequence[Name]) -> LetterRows | None:
        """The rows without denominators; None where they are not square, or have other parts than letters."""
        if len(rows) != len(unknowns):
            return None
        form = Form([c for row in rows for c in row])
        for (base, unit), _ in form.generators.items():
            if not isinstance(base, Name) or unit is not ONE or form.roots_of[(base, unit)] != 1:
                return None
        made = cls(form, [], unknowns)
        for row in rows:
            if any(sparse.has_gaussian(form.of(c).top) for c in row):
                return None
            made._append(row)
        return made

    def _append(self, row: Sequence[Expression]) -> None:
        """A row over one denominator, which the determinant is divided by."""
        quotients = {k: self.form.lowest_terms(self.form.of(c)) for k, c in enumerate(row) if self.form.of(c).top}
        common = UNIT
        for _, bottom in quotients.values():
            shared = sparse.divide_exactly(bottom, gcd(common, bottom))
            common = sparse.multiply(common, shared if shared is not None else bottom)
        table: dict[int, Polynomial] = {}
        for k, (top, bottom) in quotients.items():
            times = sparse.divide_exactly(common, bottom)
            assert times is not None
            table[k] = sparse.multiply(top, times)
        self.raised.append(common)
        self.rows.append(self._without_content(table))

    def solved(self) -> bool:
        """Eliminates; whether every unknown has a pivot."""
        left = set(range(len(self.rows)))
        columns = set(range(self.right))
        while left:
            checkpoint()
            chosen = self._sparsest(left, columns)
            if chosen is None:
                return False
            row, column = chosen
            self.pivots.append(chosen)
            left.discard(row)
            columns.discard(column)
            for i in sorted(left):
                if column in self.rows[i]:
                    self._cleared(i, row, column)
        return True

    def _sparsest(self, left: set[int], columns: set[int]) -> tuple[int, int] | None:
        counts = dict.fromkeys(columns, 0)
        for i in left:
            for k in self.rows[i]:
                if k in counts:
                    counts[k] += 1
        best: tuple[tuple[int, int, int, int], tuple[int, int]] | None = None
        for i in sorted(left):
            width = sum(k in counts for k in self.rows[i])
            for k, p in self.rows[i].items():
                if k in counts:
                    key = ((width - 1) * (counts[k] - 1), len(p), k, i)
                    if best is None or key < best[0]:
                        best = key, (i, k)
        return None if best is None else best[1]

    def _cleared(self, i: int, row: int, column: int) -> None:
        """pivot*row_i - entry*row_pivot, both divided by what they have in common, without its content."""
        pivot, entry = self.rows[row][column], self.rows[i][column]
        common = gcd(pivot, entry)
        up, down = sparse.divide_exactly(pivot, common), sparse.divide_exactly(entry, common)
        assert up is not None and down is not None
        self.raised.append(up)
        table: dict[int, Polynomial] = {}
        for k in sorted(set(self.rows[i]) | set(self.rows[row])):
            if k == column:
                continue
            value = sparse.subtract(
                sparse.multiply(up, self.rows[i].get(k, {})), sparse.multiply(down, self.rows[row].get(k, {}))
            )
            if value:
                table[k] = value
        self.rows[i] = self._without_content(table)

    def _without_content(self, table: dict[int, Polynomial]) -> dict[int, Polynomial]:
        content: Polynomial = {}
        for p in table.values():
            content = gcd(content, p) if content else p
            if len(content) == 1 and 0 in content:
                return table
        if not content:
            return table
        self.lowered.append(content)
        divided: dict[int, Polynomial] = {}
        for k, p in table.items():
            quotient = sparse.divide_exactly(p, content)
            assert quotient is not None
            divided[k] = quotient
        return divided

    def determinant(self) -> Expression:
        """The determinant up to a number: the product of the pivots, without what the rows were multiplied by."""
        tops = [self.rows[i][k] for i, k in self.pivots] + self.lowered
        bottoms = [p for p in self.raised if not (len(p) == 1 and 0 in p)]
        product, below = UNIT, UNIT
        for p in tops:
            for place, q in enumerate(bottoms):
                common = gcd(p, q)
                if common != UNIT:
                    p, bottoms[place] = _quotient(p, common), _quotient(q, common)
            product = sparse.multiply(product, p)
        for q in bottoms:
            below = sparse.multiply(below, q)
        product, _ = self.form.without_common_factors(product, below)
        return self.form.factored(product)

    def values(self) -> dict[Name, Expression]:
        """The unknowns in lowest terms, from the last pivot back."""
        tops: dict[int, tuple[Polynomial, Polynomial]] = {}
        for row, column in reversed(self.pivots):
            checkpoint()
            table = self.rows[row]
            top, bottom = table.get(self.right, {}), UNIT
            for k, p in table.items():
                if k in (column, self.right) or not tops[k][0]:
                    continue
                one, other = tops[k]
                common = gcd(bottom, other)
                left, right = _quotient(other, common), _quotient(bottom, common)
                top = sparse.subtract(sparse.multiply(top, left), sparse.multiply(right, sparse.multiply(p, one)))
                bottom = sparse.multiply(bottom, left)
            tops[column] = self.form.without_common_factors(top, sparse.multiply(bottom, table[column]))
        return {u: self._written(*tops[k]) for k, u in enumerate(self.unknowns)}

    def _written(self, top: Polynomial, bottom: Polynomial) -> Expression:
        """The quotient, above and below multiplied out or in factors, whichever is shorter to read."""
        if len(top) + len(bottom) > LONG:
            return self.form.expression(top) / self.form.expression(bottom)
        shapes = [
            above / below
            for above in (self.form.expression(top), self.form.factored(top))
            for below in (self.form.expression(bottom), self.form.factored(bottom))
        ]
        return min(shapes, key=measure)


def _quotient(p: Polynomial, q: Polynomial) -> Polynomial:
    found = sparse.divide_exactly(p, q)
    assert found is not None
    return found
