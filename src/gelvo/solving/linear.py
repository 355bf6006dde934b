"""Linear systems: of numbers exactly by p-adic lifting, of polynomials in letters without fractions, of other formulas by elimination."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from math import lcm

from gmpy2 import mpq

from gelvo.deciding.equality import decide_zero
from gelvo.errors import NotSolved
from gelvo.expression.building import number, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Call, Condition, Expression, Name, Number, Power, Sum
from gelvo.expression.traversal import contains, names, postorder, tree_size
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import Form
from gelvo.polynomial.linear import reduced_rows, solve_square
from gelvo.simplifying.search import simplify
from gelvo.solving.letter_rows import LetterRows
from gelvo.solving.roots import SystemRoots, Table, Together

SIMPLIFIED = 150  # the size up to which a value is written as short as can be found, not in lowest terms alone
ROAD = "linear elimination"


def linear_rows(equations: Sequence[Expression], unknowns: Sequence[Name]) -> list[list[Expression]] | None:
    """The augmented matrix [A | b] of A*u = b, or None where an equation is not linear."""
    rows: list[list[Expression]] = []
    for equation in equations:
        plain = _plain_row(equation, unknowns)
        if plain is not None:
            rows.append(plain)
            continue
        form = Form([equation])
        top, _ = form.lowest_terms(form.of(equation))
        rest = form.expression(top)
        row: list[Expression] = []
        inside = set(names(rest))
        for unknown in unknowns:
            if unknown not in inside:
                row.append(ZERO)
                continue
            coefficients = uni.coefficients_of(rest, unknown)
            if coefficients is None or len(coefficients) > 2:
                return None
            coefficient = coefficients[1] if len(coefficients) == 2 else ZERO
            if any(contains(coefficient, u) for u in unknowns):
                return None
            row.append(coefficient)
            rest = coefficients[0] if coefficients else ZERO
        rows.append([*row, uni.lowest_terms(-rest)])
    return rows


def _plain_row(equation: Expression, unknowns: Sequence[Name]) -> list[Expression] | None:
    """The row of a sum of numbers times unknowns, and a number."""
    if not isinstance(equation, Sum):
        return None
    table = dict(equation.items())
    row = [number(table.pop(u)) if u in table else ZERO for u in unknowns]
    return None if table else [*row, number(-equation.constant)]


def solve_linear(rows: list[list[Expression]], unknowns: Sequence[Name], facts: Facts) -> SystemRoots:
    """All solutions, with free unknowns named where there are some; the product of the pivots must not vanish."""
    if all(isinstance(c, Number) and c.is_rational for row in rows for c in row):
        values = _of_numbers([[c.rational for c in row] for row in rows], unknowns)
        if values is None:
            return SystemRoots((), (), (), f"{ROAD}: the equations contradict each other")
        _no_free_integers(values)
        return SystemRoots((Together(values),), (), (), ROAD)
    letters = LetterRows.of(rows, unknowns)
    if letters is not None and letters.solved() and not _is_hidden_zero(letters.determinant(), facts):
        conditions = apart_from_zero(letters.determinant(), facts)
        table = letters.values() if not facts.equalities else {u: _short(v, facts) for u, v in letters.values().items()}
        return SystemRoots((Together(table),), tuple(dict.fromkeys(conditions)), (), ROAD)
    return _by_formulas(rows, unknowns, facts)


def _is_hidden_zero(pivot: Expression, facts: Facts) -> bool:
    """Whether functions in a pivot make it zero: cosh(1) + sinh(1) - exp(1). Rational formulas that are zero show it."""
    if not any(
        isinstance(n, (Call, AlgebraicNumber)) or (isinstance(n, Power) and not n.exponent.is_whole) for n in postorder(pivot)
    ):
        return False
    return not facts.is_nonzero(pivot) and decide_zero(pivot, facts).zero is True


def _short(value: Expression, facts: Facts) -> Expression:
    return simplify(value, facts).expression if tree_size(value) <= SIMPLIFIED else value


def _no_free_integers(values: Table) -> None:
    if any(v is u and u.domain in ("integer", "natural") for u, v in values.items()):
        raise NotSolved("equations for integers with free unknowns are not solved here")


def _of_numbers(rows: list[list[mpq]], unknowns: Sequence[Name]) -> Table | None:
    """The solution of equations with numbers; None where they contradict each other."""
    n = len(unknowns)
    if len(rows) == n:
        scales = [lcm(*(int(c.denominator) for c in row)) for row in rows]
        whole = [[int(c * s) for c in row] for row, s in zip(rows, scales, strict=True)]
        exact = solve_square([row[:-1] for row in whole], [row[-1] for row in whole])
        if exact is not None:
            return {u: number(v) for u, v in zip(unknowns, exact, strict=True)}
    reduced, pivots = reduced_rows(rows)
    if n in pivots:
        return None
    values: Table = {u: u for u in unknowns}
    for row, column in zip(reduced, pivots, strict=False):
        moved = [number(-row[k]) * u for k, u in enumerate(unknowns) if k not in pivots and row[k]]
        values[unknowns[column]] = total([number(row[-1]), *moved])
    return values


def _by_formulas(rows: list[list[Expression]], unknowns: Sequence[Name], facts: Facts) -> SystemRoots:
    """Gauss-Jordan elimination."""
    work = _Rows(rows, facts)
    for column in range(len(unknowns)):
        work.eliminate(column)
    if not work.consistent():
        return SystemRoots((), (), (), f"{ROAD}: the equations contradict each other")
    free = [u for k, u in enumerate(unknowns) if k not in {c for _, c in work.pivots}]
    if any(u.domain in ("integer", "natural") for u in free):
        raise NotSolved("equations for integers with free unknowns are not solved here")
    conditions: Iterable[Condition] = work.conditions
    if not free and len(rows) == len(unknowns):  # the determinant decides, not the single pivots
        conditions = apart_from_zero(numerator(work.product), facts)
    values: Table = {u: u for u in free}
    for i, column in work.pivots:
        terms = [work.rows[i][-1]]
        terms += [-work.rows[i][k] * u for k, u in enumerate(unknowns) if u in free]
        values[unknowns[column]] = _short(total(terms), facts)
    return SystemRoots((Together({u: values[u] for u in unknowns}),), tuple(dict.fromkeys(conditions)), (), ROAD)


class _Rows:
    """The rows of a linear system on the way to reduced form, with the pivots and what must hold for them."""

    def __init__(self, rows: list[list[Expression]], facts: Facts) -> None:
        self.rows, self.facts = [list(r) for r in rows], facts
        self.pivots: list[tuple[int, int]] = []
        self.conditions: dict[Condition, None] = {}
        self.product: Expression = ONE

    def eliminate(self, column: int) -> None:
        """Takes the pivot of a column, the one that is best known not to be zero, and clears the column with it."""
        rows, facts = self.rows, self.facts
        used = {i for i, _ in self.pivots}
        candidates = [i for i in range(len(rows)) if i not in used and rows[i][column] is not ZERO]
        for i in list(candidates):
            if _is_hidden_zero(rows[i][column], facts):
                rows[i][column] = ZERO
                candidates.remove(i)
        if not candidates:
            return
        chosen = min(candidates, key=lambda i: (not facts.is_nonzero(rows[i][column]), len(str(rows[i][column])), i))
        pivot = rows[chosen][column]
        self.product = self.product * pivot
        self.pivots.append((chosen, column))
        rows[chosen] = [uni.lowest_terms(c / pivot) for c in rows[chosen]]
        for i, row in enumerate(rows):
            if i != chosen and row[column] is not ZERO:
                factor = row[column]
                rows[i] = [uni.lowest_terms(a - factor * b) for a, b in zip(row, rows[chosen], strict=True)]
        if not facts.is_nonzero(pivot):
            self.conditions[nonzero(numerator(pivot))] = None

    def consistent(self) -> bool:
        """Whether the rows without a pivot may hold; what they need is a condition."""
        used = {i for i, _ in self.pivots}
        for i, row in enumerate(self.rows):
            if i not in used and row[-1] is not ZERO:
                zero = decide_zero(row[-1], self.facts).zero
                if zero is False and not names(row[-1]):
                    return False
                if zero:
                    continue
                self.conditions[zero_where(numerator(row[-1]))] = None
        return True


def numerator(pivot: Expression) -> Expression:
    form = Form([pivot])
    top, _ = form.lowest_terms(form.of(pivot))
    return form.factored(top)
