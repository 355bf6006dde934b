"""A matrix as a product of simpler ones: LU, L D L^T, Cholesky, QR; Gram and Schmidt, least squares, projections.

Source: G. Golub, C. Van Loan, "Matrix Computations" (1983).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression.building import relation, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Number
from gelvo.expression.traversal import has_imaginary_unit, names
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import CONJ
from gelvo.matrices.echelon import seen_as_zero
from gelvo.matrices.elimination import inverse, solve
from gelvo.matrices.matrix import Matrix, diagonal_of, side_by_side, square
from gelvo.matrices.plain import plain

Conditions = tuple[Condition, ...]


class Lower(NamedTuple):
    """P A = L U with the order of the rows that P makes."""

    order: list[int]
    lower: Matrix
    upper: Matrix
    conditions: Conditions


def lower_upper(m: Matrix, facts: Facts) -> Lower:
    """Gauss's elimination, kept: a row is exchanged only where the pivot is zero.

    >>> found = lower_upper(Matrix([[0, 1], ["a", 2]]), Facts())
    >>> print(found.order, found.lower, found.upper)
    [1, 0] [1, 0; 0, 1] [a, 2; 0, 1]
    """
    rows = [list(r) for r in m.entries]
    height, width = m.shape
    order, below = list(range(height)), [[ZERO] * height for _ in range(height)]
    needed: dict[Condition, None] = {}
    place = 0
    for column in range(width):
        checkpoint()
        chosen = next((i for i in range(place, height) if not vanishes(rows[i][column], facts)), None)
        if chosen is None:
            continue
        rows[place], rows[chosen] = rows[chosen], rows[place]
        order[place], order[chosen] = order[chosen], order[place]
        below[place], below[chosen] = below[chosen], below[place]
        pivot = rows[place][column]
        for i in range(place + 1, height):
            factor = lowest_terms(rows[i][column] / pivot)
            below[i][place] = factor
            if factor is not ZERO:
                needed.update(dict.fromkeys(apart_from_zero(pivot, facts)))
                rest = zip(rows[i], rows[place], strict=True)
                rows[i] = [ZERO if j <= column else lowest_terms(a - factor * b) for j, (a, b) in enumerate(rest)]
        place += 1
        if place == height:
            break
    lower = [[ONE if i == j else below[i][j] for j in range(height)] for i in range(height)]
    return Lower(order, Matrix(lower), Matrix(rows), tuple(needed))


def vanishes(e: Expression, facts: Facts) -> bool:
    """Whether an entry is zero as a formula; raises Undecided where that is not known of a number."""
    return e is ZERO if isinstance(e, Number) else bool(seen_as_zero(e, facts))


def permutation(order: Sequence[int]) -> Matrix:
    """The matrix that puts row order[k] at place k."""
    return Matrix([[ONE if j == k else ZERO for j in range(len(order))] for k in order])


def symmetric_factors(m: Matrix, facts: Facts) -> tuple[Matrix, Matrix, Conditions]:
    """(L, D, conditions) with A = L D L^T for a symmetric matrix: L with ones on its diagonal, D diagonal.

    >>> found = symmetric_factors(Matrix([[2, "a"], ["a", 3]]), Facts())
    >>> print(found[0], found[1])
    [1, 0; a/2, 1] [2, 0; 0, -(a^2 - 6)/2]
    """
    n = square(m, "an L D L^T decomposition")
    _check_symmetric(m, "an L D L^T decomposition", facts)
    lower = [[ONE if i == j else ZERO for j in range(n)] for i in range(n)]
    pivots: list[Expression] = []
    needed: dict[Condition, None] = {}
    for k in range(n):
        checkpoint()
        pivots.append(lowest_terms(m[k, k] - total([_size(lower[k][j]) * pivots[j] for j in range(k)])))
        rests = [
            lowest_terms(m[i, k] - total([lower[i][j] * _conjugate(lower[k][j]) * pivots[j] for j in range(k)]))
            for i in range(k + 1, n)
        ]
        if vanishes(pivots[k], facts):
            if not all(vanishes(e, facts) for e in rests):
                raise DomainError(f"the matrix has no L D L^T decomposition: its pivot {k} is zero, and the column below is not")
            continue
        for i, rest in enumerate(rests, k + 1):
            lower[i][k] = lowest_terms(rest / pivots[k])
            if lower[i][k] is not ZERO:
                needed.update(dict.fromkeys(apart_from_zero(pivots[k], facts)))
    return Matrix(lower), diagonal_of(pivots), tuple(needed)


def _check_symmetric(m: Matrix, what: str, facts: Facts) -> None:
    gaps = (m - adjoint(m)).flat()
    if not all(vanishes(e, facts) for e in gaps):
        raise DomainError(f"{what} needs a symmetric matrix (or one that equals its conjugate transpose), and this one is not")


def adjoint(m: Matrix) -> Matrix:
    """The transpose; of a matrix with the imaginary unit the conjugate transpose."""
    return m.conjugate_transpose() if is_complex(m) else m.transpose()


def is_complex(m: Matrix) -> bool:
    """Whether an entry has the imaginary unit."""
    return any(has_imaginary_unit(e) for e in m.flat())


def _conjugate(e: Expression) -> Expression:
    return CONJ(e) if has_imaginary_unit(e) else e


def _size(e: Expression) -> Expression:
    return e * _conjugate(e)


def cholesky(m: Matrix, facts: Facts) -> tuple[Matrix, Conditions]:
    """(L, conditions) with A = L L^T for a positive definite matrix: each pivot has to be positive.

    >>> print(cholesky(Matrix([[4, 2], [2, 5]]), Facts())[0])
    [2, 0; 1, 2]
    """
    lower, pivots, _ = symmetric_factors(m, facts)
    conditions: list[Condition] = []
    for k in range(m.shape[0]):
        p = pivots[k, k]
        if facts.is_nonpositive(p):
            raise DomainError(f"a Cholesky decomposition needs a positive definite matrix, and the pivot {k} of this one is {p}")
        if not facts.is_positive(p):
            conditions.append(relation(">", p, ZERO))
    under = facts.with_facts([c for c in conditions if names(c)])
    roots = [plain(sqrt(pivots[k, k]), under) for k in range(m.shape[0])]
    rows = [[plain(e * roots[j], under) if j <= i else ZERO for j, e in enumerate(row)] for i, row in enumerate(lower.entries)]
    return Matrix(rows), tuple(facts.open_conditions(conditions))


def gram_schmidt(vectors: Iterable[Matrix], facts: Facts, unit: bool = False) -> tuple[list[Matrix], Conditions]:
    """Columns at right angles that span the same spaces, one after the other; unit: of length one. Dependent ones are left out.

    >>> print(gram_schmidt([Matrix([[1], [1]]), Matrix([[1], [0]])], Facts())[0])
    [[1; 1], [1/2; -1/2]]
    """
    found, conditions = _at_right_angles(vectors, facts)
    if not unit:
        return [v for v, _ in found], conditions
    return _of_length_one(found, facts.with_facts(conditions)), conditions


def _of_length_one(found: list[tuple[Matrix, Expression]], facts: Facts) -> list[Matrix]:
    return [(v / sqrt(s)).map(lambda e: plain(e, facts)) for v, s in found]


def _at_right_angles(vectors: Iterable[Matrix], facts: Facts) -> tuple[list[tuple[Matrix, Expression]], Conditions]:
    """The columns with the squares of their lengths."""
    found: list[tuple[Matrix, Expression]] = []
    needed: dict[Condition, None] = {}
    for v in vectors:
        checkpoint()
        rest = v
        for u, square_length in found:
            share = lowest_terms(_dot(u, v) / square_length)
            rest = (rest - u * share).map(lowest_terms)
        square_length = lowest_terms(_dot(rest, rest))
        if all(vanishes(e, facts) for e in rest.flat()):
            continue
        needed.update(dict.fromkeys(apart_from_zero(square_length, facts)))
        found.append((rest, square_length))
    return found, tuple(needed)


def _dot(u: Matrix, v: Matrix) -> Expression:
    return total([_conjugate(a) * b for a, b in zip(u.flat(), v.flat(), strict=True)])


def orthogonal_upper(m: Matrix, facts: Facts) -> tuple[Matrix, Matrix, Conditions]:
    """(Q, R, conditions) with A = Q R for independent columns: those of Q of length one at right angles, R upper triangular.

    >>> print(*orthogonal_upper(Matrix([[3, 1], [4, 2]]), Facts())[:2])
    [3/5, -4/5; 4/5, 3/5] [5, 11/5; 0, 2/5]
    """
    n = m.shape[1]
    found, conditions = _at_right_angles([m.column(j) for j in range(n)], facts)
    if len(found) < n:
        raise DomainError(f"a QR decomposition needs independent columns, and only {len(found)} of {n} are")
    under = facts.with_facts(conditions)
    columns = _of_length_one(found, under)
    q = side_by_side(columns)
    rows: list[list[Expression]] = []
    for i, (v, square_length) in enumerate(found):
        root = plain(sqrt(square_length), under)
        beside = [plain(lowest_terms(_dot(v, m.column(j))) / root, under) for j in range(i + 1, n)]
        rows.append([*[ZERO] * i, root, *beside])
    return q, Matrix(rows), conditions


def least_squares(m: Matrix, right: Matrix, facts: Facts) -> Matrix:
    """The x for which the length of A @ x - b is least, from the normal equations; for independent columns.

    >>> print(least_squares(Matrix([[1, 0], [1, 1], [1, 2]]), Matrix([[1], [2], [4]]), Facts()))
    [5/6; 3/2]
    """
    turned = adjoint(m)
    return solve(turned @ m, turned @ right, facts)


def projection(m: Matrix, facts: Facts) -> Matrix:
    """The matrix that projects at right angles on the space of the columns, which have to be independent.

    >>> print(projection(Matrix([[1], [2]]), Facts()))
    [1/5, 2/5; 2/5, 4/5]
    """
    turned = adjoint(m)
    made = m @ inverse(turned @ m, facts) @ turned
    return Matrix(made.map(lowest_terms).entries, made.conditions)
