"""Determinant, inverse and linear systems.

Sources: E. Bareiss, "Sylvester's identity and multistep integer-preserving Gaussian elimination" (1968) for determinants.
"""

from __future__ import annotations

from gelvo.deadline import checkpoint
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Number
from gelvo.expression.traversal import names, postorder
from gelvo.facts.conditions import zero_where
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero, denominators
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices.echelon import echelon, is_implied
from gelvo.matrices.matrix import Matrix, identity, side_by_side, square
from gelvo.matrices.plain import plain
from gelvo.matrices.resolvent import resolvent
from gelvo.matrices.ring import Polynomials, Reduced, Whole

MOST_BY_MINORS = 6


def determinant(m: Matrix) -> Expression:
    """In the ring of the entries: whole numbers, polynomials by minors with memory; with very many minors by elimination.

    >>> print(determinant(Matrix([["a", "b"], ["c", "d"]])))
    a*d - b*c
    """
    n = square(m, "a determinant")
    whole = Whole.of(m)
    found = whole.determinant() if whole is not None else Polynomials.of(m).determinant()
    return _by_elimination(m, n) if found is None else found


def _by_elimination(m: Matrix, n: int) -> Expression:
    """Bareiss's elimination without fractions; every division is exact."""
    rows = [list(r) for r in m.entries]
    previous: Expression = ONE
    sign = 1
    for k in range(n - 1):
        checkpoint()
        chosen = None
        for i in sorted((i for i in range(k, n) if rows[i][k] is not ZERO), key=lambda i: (len(str(rows[i][k])), i)):
            zero = is_zero(rows[i][k])
            if zero is None:  # a pivot that may be zero is no divisor
                return _without_division(m)
            if not zero:
                chosen = i
                break
        if chosen is None:
            return ZERO
        if chosen != k:
            rows[k], rows[chosen] = rows[chosen], rows[k]
            sign = -sign
        for i in range(k + 1, n):
            checkpoint()
            for j in range(k + 1, n):
                rows[i][j] = lowest_terms((rows[i][j] * rows[k][k] - rows[i][k] * rows[k][j]) / previous)
        previous = rows[k][k]
    return lowest_terms(sign * rows[n - 1][n - 1])


def _without_division(m: Matrix) -> Expression:
    """The determinant with divisions by whole numbers only, from the characteristic polynomial."""
    return lowest_terms((-1) ** m.shape[0] * resolvent(m).coefficients[0])


def inverse(m: Matrix, facts: Facts | None = None) -> Matrix:
    """The inverse of a square matrix; DomainError where its determinant is zero."""
    n = square(m, "an inverse")
    facts = facts or Facts()
    whole = Whole.of(m)
    if whole is not None:
        found = whole.inverse()
        if found is None:
            raise DomainError("the matrix has no inverse: its determinant is zero")
        return Matrix.again(found.entries, m.conditions)
    ring = Polynomials.of(m) if n <= MOST_BY_MINORS else None
    by_minors = ring.inverse() if ring is not None else None
    if ring is not None and by_minors is not None and not is_zero(by_minors[0], facts):
        made = Matrix(short(by_minors[1], facts).entries, (*m.conditions, *apart_from_zero(by_minors[0], facts)))
        return made if ring.without_denominators else with_denominators(made, facts)
    size = determinant(m)
    if size is ZERO or is_zero(size, facts):
        raise DomainError("the matrix has no inverse: its determinant is zero")
    needed = (*m.conditions, *apart_from_zero(size, facts))
    wide = side_by_side([m, identity(n)])
    form = echelon(wide, facts, n).form
    if len(form.pivots) < n:
        raise DomainError("the matrix has no inverse: its determinant is zero")
    return settled(Matrix([[form.quotient(e) for e in r[n:]] for r in form.rows], needed), facts)


def short(m: Matrix, facts: Facts) -> Matrix:
    """Entries with functions as they are read: cos(t) for cos(t)/(cos(t)^2 + sin(t)^2)."""
    return m.map(lambda e: plain(e, facts) if any(isinstance(n, Call) for n in postorder(e)) else e)


def settled(m: Matrix, facts: Facts) -> Matrix:
    """Entries in lowest terms to the end, and what their denominators need: a pivot that did not cancel may still stand there."""
    rows = [[e if isinstance(e, (Number, Name)) else factored(e) for e in row] for row in m.entries]
    return with_denominators(Matrix(rows, m.conditions), facts)


def with_denominators(m: Matrix, facts: Facts, free_of: Name | None = None) -> Matrix:
    """The matrix with the conditions of its denominators (of those without a name that runs)."""
    needed: dict[Condition, None] = dict.fromkeys(m.conditions)
    for c in denominators(m.flat(), facts, free_of):
        if not is_implied(c, needed):
            needed[c] = None
    return Matrix(m.entries, needed)


def adjugate(m: Matrix) -> Matrix:
    """The transposed matrix of cofactors."""
    n = square(m, "an adjugate")
    if n == 1:
        return identity(1)

    def minor(i: int, j: int) -> Expression:
        rows = [[e for c, e in enumerate(r) if c != j] for k, r in enumerate(m.entries) if k != i]
        return (-1) ** (i + j) * determinant(Matrix(rows))

    return Matrix([[minor(j, i) for j in range(n)] for i in range(n)])


def solve(m: Matrix, right: Matrix, facts: Facts) -> Matrix:
    """The one x with m @ x = right; DomainError where there is none or more than one."""
    if m.shape[0] != right.shape[0]:
        raise DomainError(f"{m.shape[0]} equations have {right.shape[0]} right sides")
    width = m.shape[1]
    whole = Whole.of(m) if m.shape[0] == width and Whole.of(right) is not None else None
    exact = whole.solution(right) if whole is not None else None
    if exact is not None:
        return Matrix.again(exact.entries, (*m.conditions, *right.conditions))
    by_minors = _by_minors(m, right, facts) if m.shape[0] == width and right.shape[1] == 1 else None
    if by_minors is not None:
        return by_minors
    form, conditions = _consistent(m, right, facts)
    if len(form.pivots) < width:
        free = width - len(form.pivots)
        raise DomainError(f"the equations leave {free} unknown{'s' if free > 1 else ''} free")
    rows = [[form.quotient(e) for e in r[width:]] for r in form.rows[:width]]
    return settled(Matrix(rows, (*m.conditions, *right.conditions, *conditions)), facts)


def _consistent(m: Matrix, right: Matrix, facts: Facts) -> tuple[Reduced, tuple[Condition, ...]]:
    """The reduced form of [A | b], with pivots in A; DomainError where a row says that zero is something else."""
    width = m.shape[1]
    wide = side_by_side([m, right])
    form, conditions = echelon(wide, facts, width)
    for e in (form.quotient(e) for row in form.rows[len(form.pivots) :] for e in row[width:]):
        if e is ZERO or is_zero(e, facts):
            continue
        if not names(e) or facts.is_nonzero(e):
            where = f", if {' and '.join(map(str, conditions))}" if conditions else ""
            raise DomainError(f"the equations contradict each other{where}")
        raise DomainError(f"the equations can hold only if {zero_where(quotient_parts(e)[0])}: state it in given=[…]")
    return form, conditions


def all_solutions(m: Matrix, right: Matrix, facts: Facts) -> tuple[Matrix, list[Name]]:
    """Every x with m @ x = right, with a new name for each unknown that is free, and these names.

    >>> all_solutions(Matrix([[1, 2]]), Matrix([[3]]), Facts())
    ([3 - 2*c_1; c_1], [c_1])
    """
    form, conditions = _consistent(m, right, facts)
    width = m.shape[1]
    free = [j for j in range(width) if j not in form.pivots]
    source = facts.new_names("c", *m.flat(), *right.flat())
    letters = [[next(source) for _ in free] for _ in range(right.shape[1])]
    rows: list[list[Expression]] = [[ZERO] * right.shape[1] for _ in range(width)]
    for column, chosen in enumerate(letters):
        for j, letter in zip(free, chosen, strict=True):
            rows[j][column] = letter
        for row, pivot in zip(form.rows, form.pivots, strict=False):
            moved = [form.quotient(row[j]) * letter for j, letter in zip(free, chosen, strict=True)]
            rows[pivot][column] = form.quotient(row[width + column]) - total(moved)
    made = Matrix(rows, (*m.conditions, *right.conditions, *conditions))
    return with_denominators(made, facts), [letter for chosen in letters for letter in chosen]


def _by_minors(m: Matrix, right: Matrix, facts: Facts) -> Matrix | None:
    """Cramer's rule with all determinants at once; None where these are too many or the determinant may be zero."""
    ring = Polynomials.of(side_by_side([m, right]))
    found = ring.cramer()
    if found is None or is_zero(found[0], facts) is not False:
        return None
    made = Matrix(found[1].entries, (*m.conditions, *right.conditions, *apart_from_zero(found[0], facts)))
    return made if ring.without_denominators else with_denominators(made, facts)
