"""Large linear systems with letters: elimination whose fractions are not multiplied out, so that the values share their parts.

A pivot is taken where it is not zero modulo a prime, at a point for the letters: it is not zero then. The sparsest comes first.
Sources: H. Markowitz, "The elimination form of the inverse and its application to linear programming" (1957); J. Schwartz, "Fast
probabilistic algorithms for verification of polynomial identities" (1980).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from random import Random

from gelvo.deadline import checkpoint
from gelvo.evaluation.modular import PRIMES, NotRational, residues
from gelvo.expression.building import looks_negative, multiply_all, number, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names, postorder
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.solving.roots import SystemRoots, Together

FEWEST = 60  # unknowns from which on the values of a system with letters are not multiplied out
ROAD = "linear elimination, the values not multiplied out: their parts are shared"
SEED = 11
Row = dict[int, Expression]


def solve_shared(equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts) -> SystemRoots | None:
    """The one solution of a large square system with letters; None for others, or where no pivot is certain."""
    if len(unknowns) < FEWEST or len(equations) != len(unknowns):
        return None
    letters = [n for n in names(*equations) if n not in set(unknowns)]
    if not letters:
        return None
    place = {u: k for k, u in enumerate(unknowns)}
    rows = [_row(e, place, len(unknowns)) for e in equations]
    if None in rows:
        return None
    try:
        work = _Elimination([r for r in rows if r is not None], letters)
        work.run()
    except NotRational:
        return None
    values = work.values()
    conditions = [*_divisors(equations, facts), relation("!=", multiply_all(work.pivots), ZERO)]
    solution = Together({u: values[k] for u, k in place.items()})
    return SystemRoots((solution,), tuple(dict.fromkeys(conditions)), (), ROAD, shared=True)


def _row(equation: Expression, place: dict[Name, int], right: int) -> Row | None:
    """column -> coefficient, the right side in a column of its own; None where the equation is not linear."""
    found: dict[int, list[Expression]] = {}
    stack: list[tuple[Expression, Expression]] = [(equation, ONE)]
    while stack:
        part, times = stack.pop()
        inside = [f for f in factors_in(part) if isinstance(part, Product) and not place.keys().isdisjoint(names(f))]
        if isinstance(part, Name) and part in place:
            found.setdefault(place[part], []).append(times)
        elif place.keys().isdisjoint(names(part)):
            found.setdefault(right, []).append(-part * times)
        elif isinstance(part, Sum):
            stack += [(t, times * number(c)) for t, c in part.items()]
            found.setdefault(right, []).append(-times * number(part.constant))
        elif len(inside) == 1:
            stack.append((inside[0], times * part / inside[0]))
        else:
            return None
    return {k: c for k, terms in found.items() if (c := total(terms)) is not ZERO}


def _divisors(equations: Iterable[Expression], facts: Facts) -> list[Condition]:
    """What the equations themselves divide by."""
    bases = dict.fromkeys(n.base for e in equations for n in postorder(e) if isinstance(n, Power) and looks_negative(n.exponent))
    return [c for base in bases if names(base) for c in apart_from_zero(base, facts)]


class _Elimination:
    """Rows on the way to a triangle, beside each entry its residue at the point."""

    def __init__(self, rows: list[Row], letters: Sequence[Name]) -> None:
        self.rows, self.right = rows, len(rows)
        random = Random(SEED)
        point = {n: random.randrange(1, PRIMES[0]) for n in letters}
        known: dict[Node, int] = {}
        self.residues = [dict(zip(r, residues(list(r.values()), point, PRIMES[0], known), strict=True)) for r in rows]
        self.order: list[tuple[int, int]] = []
        self.pivots: list[Expression] = []

    def run(self) -> None:
        left = set(range(self.right))
        columns: dict[int, set[int]] = {}
        for i, row in enumerate(self.rows):
            for k in row:
                columns.setdefault(k, set()).add(i)
        while left:
            checkpoint()
            i, k = self._sparsest(left, columns)
            self.order.append((i, k))
            self.pivots.append(self.rows[i][k])
            left.discard(i)
            for other in sorted(columns[k] & left):
                self._clear(other, i, k, columns)

    def _sparsest(self, left: set[int], columns: dict[int, set[int]]) -> tuple[int, int]:
        """The row and column with the fewest neighbours among the entries that are certainly not zero."""
        used = {k for _, k in self.order} | {self.right}
        best: tuple[tuple[int, int, int], tuple[int, int]] | None = None
        for i in sorted(left):
            row = self.rows[i]
            width = len([k for k in row if k not in used])
            for k in sorted(row):
                if k in used or not self.residues[i][k]:
                    continue
                key = ((width - 1) * (len(columns[k] & left) - 1), i, k)
                if best is None or key < best[0]:
                    best = key, (i, k)
            if best is not None and best[0][0] == 0:
                break
        if best is None:
            raise NotRational
        return best[1]

    def _clear(self, other: int, i: int, k: int, columns: dict[int, set[int]]) -> None:
        """row_other - (entry/pivot)*row_i, in formulas and in residues."""
        row, mine, numbers, own = self.rows[i], self.rows[other], self.residues[i], self.residues[other]
        factor = mine.pop(k) / row[k]
        share = own.pop(k) * pow(numbers[k], -1, PRIMES[0]) % PRIMES[0]
        columns[k].discard(other)
        for column, entry in row.items():
            if column == k:
                continue
            value = mine.get(column, ZERO) - factor * entry
            if value is ZERO:
                mine.pop(column, None)
                own.pop(column, None)
                columns[column].discard(other)
                continue
            mine[column] = value
            own[column] = (own.get(column, 0) - share * numbers[column]) % PRIMES[0]
            columns[column].add(other)

    def values(self) -> dict[int, Expression]:
        """The unknowns from the last pivot back."""
        found: dict[int, Expression] = {}
        for i, k in reversed(self.order):
            row = self.rows[i]
            rest = [-entry * found[c] for c, entry in row.items() if c not in (k, self.right)]
            found[k] = total([row.get(self.right, ZERO), *rest]) / row[k]
        return found
