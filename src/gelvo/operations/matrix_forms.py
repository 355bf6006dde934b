"""Matrices as products of simpler ones, singular values, norms, definiteness, products of other kinds, and their blocks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from gelvo.checking.matrices import Same
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import sqrt
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.facts.store import Facts
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices import decompositions, products
from gelvo.matrices.elimination import inverse
from gelvo.matrices.matrix import Matrix, identity, side_by_side
from gelvo.matrices.plain import plain
from gelvo.operations.case_table import CaseTable
from gelvo.operations.inputs import take
from gelvo.operations.matrix_methods import Given, facts_of
from gelvo.operations.matrix_results import (
    ListResult,
    MatrixCase,
    MatrixResult,
    PartsResult,
    TableResult,
    WordResult,
    parts_result,
    result,
)
from gelvo.spectra import definite, singular, together
from gelvo.spectra.over_roots import in_lowest_terms

Conditions = tuple[Condition, ...]


def lu_decomposition(self: Matrix, given: Given = ()) -> PartsResult:
    """(P, L, U) with P @ A = L @ U: L lower triangular with ones on its diagonal, U upper triangular, P an order of rows.

    >>> import gelvo
    >>> gelvo.matrix("[0, 1; 2, a]").lu_decomposition()
    P = [0, 1; 1, 0], L = [1, 0; 0, 1], U = [2, a; 0, 1]
    """
    facts = facts_of(given, self)
    found = decompositions.lower_upper(self, facts)
    order = decompositions.permutation(found.order)
    claims = lambda: [Same("P*A = L*U", order @ self, found.lower @ found.upper)]
    conditions = (*self.conditions, *found.conditions)
    return parts_result([order, found.lower, found.upper], "PLU", conditions, claims, facts, "Gauss's elimination")


def ldl_decomposition(self: Matrix, given: Given = ()) -> PartsResult:
    """(L, D) with A = L @ D @ L^T for a symmetric matrix.

    >>> import gelvo
    >>> gelvo.matrix("[4, 2; 2, 3]").ldl_decomposition()
    L = [1, 0; 1/2, 1], D = [4, 0; 0, 2]
    """
    facts = facts_of(given, self)
    lower, middle, conditions = decompositions.symmetric_factors(self, facts)
    claims = lambda: [Same("L*D*L^T = A", lower @ middle @ decompositions.adjoint(lower), self)]
    return parts_result(
        [lower, middle], "LD", (*self.conditions, *conditions), claims, facts, "elimination of a symmetric matrix"
    )


def cholesky_decomposition(self: Matrix, given: Given = ()) -> Matrix:
    """L with A = L @ L^T for a positive definite matrix; with letters the conditions say where it is one.

    >>> import gelvo
    >>> gelvo.matrix("[a, 0; 0, 4]").cholesky_decomposition()
    [sqrt(a), 0; 0, 2]   # if a > 0
    """
    facts = facts_of(given, self)
    lower, conditions = decompositions.cholesky(self, facts)
    claims = lambda: [Same("L*L^T = A", lower @ decompositions.adjoint(lower), self)]
    return result(MatrixResult, lower, (*self.conditions, *conditions), claims, facts, "L D L^T and roots")


def qr_decomposition(self: Matrix, given: Given = ()) -> PartsResult:
    """(Q, R) with A = Q @ R: the columns of Q of length one at right angles, R upper triangular.

    >>> import gelvo
    >>> gelvo.matrix("[1, 1; 1, 0]").qr_decomposition()
    Q = [sqrt(2)/2, sqrt(2)/2; sqrt(2)/2, -sqrt(2)/2], R = [sqrt(2), sqrt(2)/2; 0, sqrt(2)/2]
    """
    facts = facts_of(given, self)
    q, r, conditions = decompositions.orthogonal_upper(self, facts)
    claims = lambda: [Same("Q*R = A", q @ r, self), Same("Q^T*Q = identity", decompositions.adjoint(q) @ q, identity(q.shape[1]))]
    return parts_result([q, r], "QR", (*self.conditions, *conditions), claims, facts, "Gram and Schmidt")


def singular_values(self: Matrix, given: Given = ()) -> TableResult:
    """The singular values with multiplicities, {value: times}: largest first, where they are numbers.

    >>> import gelvo
    >>> gelvo.matrix("[3, 0; 4, 5]").singular_values()
    {3*sqrt(5): 1, sqrt(5): 1}
    """
    facts = facts_of(given, self)
    found = singular.singular_values(self, facts)
    squares = sum((v**2 * k for v, k in found.items()), ZERO)
    every = (decompositions.adjoint(self) @ self).trace()
    claims = lambda: [Same("the sum of their squares is that of the entries", Matrix([[squares]]), Matrix([[every]]))]
    return result(TableResult, found, self.conditions, claims, facts, "eigenvalues of A^T*A")


def singular_value_decomposition(self: Matrix, given: Given = ()) -> PartsResult:
    """(U, S, V) with A = U @ S @ V^T: columns of length one at right angles, S diagonal with the singular values that are not zero.

    >>> import gelvo
    >>> gelvo.matrix("[3, 0; 4, 0]").singular_value_decomposition()
    U = [3/5; 4/5], S = [5], V = [1; 0]
    """
    facts = facts_of(given, self)
    u, s, v, conditions = singular.singular_form(self, facts)
    unit = identity(s.shape[0])
    claims = lambda: [
        Same("U*S*V^T = A", u @ s @ decompositions.adjoint(v), self),
        Same("U^T*U = identity", decompositions.adjoint(u) @ u, unit),
        Same("V^T*V = identity", decompositions.adjoint(v) @ v, unit),
    ]
    return parts_result([u, s, v], "USV", (*self.conditions, *conditions), claims, facts, "eigenvectors of A^T*A")


def least_squares(self: Matrix, right: Matrix, given: Given = ()) -> Matrix:
    """The x for which A @ x is nearest to the right side; for independent columns.

    >>> import gelvo
    >>> gelvo.matrix("[1, 0; 1, 1; 1, 2]").least_squares(gelvo.column([1, 2, 4]))
    [5/6; 3/2]
    """
    facts = facts_of(given, self, right)
    found = decompositions.least_squares(self, right, facts)
    rest = decompositions.adjoint(self) @ (self @ found - right)
    claims = lambda: [Same("what is left over is at right angles to all columns", rest, rest * 0)]
    return result(MatrixResult, found, found.conditions, claims, facts, "normal equations")


def projection(self: Matrix, given: Given = ()) -> Matrix:
    """The matrix that projects at right angles on the space of the columns, which have to be independent.

    >>> import gelvo
    >>> gelvo.column([1, 2]).projection()
    [1/5, 2/5; 2/5, 4/5]
    """
    facts = facts_of(given, self)
    found = decompositions.projection(self, facts)
    claims = lambda: [Same("P*P = P", found @ found, found), Same("P*A = A", found @ self, self)]
    return result(MatrixResult, found, found.conditions, claims, facts, "normal equations")


def gram_schmidt(vectors: Sequence[Matrix], unit: bool = False, given: Given = ()) -> ListResult:
    """Columns at right angles that span what the given ones span; unit: of length one. Dependent ones are left out.

    >>> import gelvo
    >>> gelvo.gram_schmidt([gelvo.column([1, 1]), gelvo.column([1, 0])])
    [[1; 1], [1/2; -1/2]]
    """
    columns = [_column(v) for v in vectors]
    facts = facts_of(given, *columns)
    found, conditions = decompositions.gram_schmidt(columns, facts, unit)
    pairs = [(a, b) for i, a in enumerate(found) for b in found[i + 1 :]]
    claims = lambda: [Same("at right angles", decompositions.adjoint(a) @ b, Matrix([[0]])) for a, b in pairs]
    return result(ListResult, found, conditions, claims, facts, "Gram and Schmidt")


def _column(v: Any) -> Matrix:
    made = v if isinstance(v, Matrix) else Matrix([[e] for e in v])
    if 1 not in made.shape:
        raise DomainError(f"a vector is a matrix of one row or one column, and this one is {made.shape[0]} x {made.shape[1]}")
    return made if made.shape[1] == 1 else made.transpose()


def norm(self: Matrix, kind: str = "frobenius", given: Given = ()) -> Expression:
    """The size of a matrix: "frobenius" (the root of the sum of all squares), "columns" (the largest sum of sizes down a column), "rows", "spectral".

    >>> import gelvo
    >>> [str(gelvo.matrix("[3, 0; 0, -4]").norm(k)) for k in ("frobenius", "columns", "rows", "spectral")]
    ['5', '4', '4', '4']
    """
    if kind not in ("frobenius", "columns", "rows", "spectral"):
        raise DomainError(f'a norm is "frobenius", "columns", "rows" or "spectral", not {kind!r}')
    return singular.norm(self, kind, facts_of(given, self))


def definiteness(self: Matrix, given: Given = ()) -> Any:
    """A word for a symmetric matrix, such as "positive definite"; where letters leave it open, the table of cases by signs of minors.

    >>> import gelvo
    >>> gelvo.matrix("[2, 1; 1, 2]").definiteness()
    positive definite
    >>> gelvo.matrix("[a, 1; 1, 2]").definiteness(given=["a > 1"])
    positive definite
    """
    facts = facts_of(given, self)
    gap = self - decompositions.adjoint(self)
    if not all(decompositions.vanishes(e, facts) for e in gap.flat()):
        raise DomainError("definiteness belongs to a symmetric matrix, and this one is not: take (A + A^T)/2")
    found = definite.definiteness(self, facts)
    if len(found) > 1 or found[0].when:
        return CaseTable([MatrixCase(d.when, d.word) for d in found], "the matrix is")
    return result(
        Word,
        found[0].word,
        self.conditions,
        lambda: [Same("A^T = A", decompositions.adjoint(self), self)],
        facts,
        "signs of minors",
    )


class Word(WordResult):
    """A word that shows as it is."""

    __slots__ = ()
    __repr__ = str.__str__


def kronecker(self: Matrix, other: Matrix) -> Matrix:
    """The Kronecker product: each entry times the other matrix, as blocks.

    >>> import gelvo
    >>> gelvo.identity(2).kronecker(gelvo.matrix("[1, a]"))
    [1, a, 0, 0; 0, 0, 1, a]
    """
    return products.kronecker(self, other)


def hadamard(self: Matrix, other: Matrix) -> Matrix:
    """The Hadamard product: entry by entry.

    >>> import gelvo
    >>> gelvo.matrix("[1, 2]").hadamard(gelvo.matrix("[a, b]"))
    [a, 2*b]
    """
    return products.hadamard(self, other)


def outer(self: Matrix, other: Matrix) -> Matrix:
    """The outer product a b^T of two vectors.

    >>> import gelvo
    >>> gelvo.column([1, 2]).outer(gelvo.column(["x", "y"]))
    [x, y; 2*x, 2*y]
    """
    return products.outer(self, other)


def exterior(self: Matrix, other: Matrix) -> Matrix:
    """The exterior product a b^T - b a^T of two vectors.

    >>> import gelvo
    >>> gelvo.column([1, 0]).exterior(gelvo.column(["x", "y"]))
    [0, y; -y, 0]
    """
    return products.exterior(self, other)


def block_matrix(rows: Sequence[Sequence[Matrix]]) -> Matrix:
    """One matrix from rows of blocks that fit together.

    >>> import gelvo
    >>> a = gelvo.identity(2)
    >>> gelvo.block_matrix([[a, gelvo.column([1, 2])]])
    [1, 0, 1; 0, 1, 2]
    """
    return products.blocks(rows)


def block_diagonal(*parts: Matrix) -> Matrix:
    """Blocks along the diagonal, zeros elsewhere.

    >>> import gelvo
    >>> gelvo.block_diagonal(gelvo.identity(1), gelvo.matrix("[a, b]"))
    [1, 0, 0; 0, a, b]
    """
    return products.block_diagonal(parts)


def common_eigenvectors(first: Matrix, second: Matrix, given: Given = ()) -> Matrix:
    """A matrix whose columns are eigenvectors of two commuting matrices; DomainError where there is none.

    >>> import gelvo
    >>> gelvo.common_eigenvectors(gelvo.matrix("[2, 1; 1, 2]"), gelvo.matrix("[0, 3; 3, 0]"))
    [1, 1; -1, 1]
    """
    facts = facts_of(given, first, second)
    found = together.common_vectors(first, second, facts)
    claims = lambda: [
        Same(f"{name}*P = P*D", m @ found, found @ together.values(m, found)) for name, m in (("A", first), ("B", second))
    ]
    return result(MatrixResult, found, found.conditions, claims, facts, "eigenvectors of a mixture")


class ModesResult(ListResult):
    """Frequencies with their shapes, and what a push or a start has of each: .participation(direction), .amplitudes(place, speed)."""

    mass: Matrix
    stiffness: Matrix
    facts: Facts

    def participation(self, direction: Sequence[Any]) -> list[Expression]:
        """shape^T M direction/(shape^T M shape) for each mode: how much of a push in a direction goes into it."""
        return self._shares(direction)

    def amplitudes(self, place: Sequence[Any], speed: Sequence[Any]) -> list[tuple[Expression, Expression]]:
        """(a, b) for each mode: a motion that starts at a place with a speed is the sum of shape*(a*cos(w*t) + b*sin(w*t)).

        b is the speed itself, shape*b*t, for a mode with the frequency 0.
        """
        pairs = zip(self._shares(place), self._shares(speed), self, strict=True)
        return [(a, b if w is ZERO else lowest_terms(b / w)) for a, b, (w, _) in pairs]

    def _shares(self, entries: Sequence[Any]) -> list[Expression]:
        for m in (self.mass, self.stiffness):
            if any(is_zero(a - b, self.facts) is not True for a, b in zip(m.flat(), m.transpose().flat(), strict=True)):
                raise DomainError("shares are told where mass and stiffness are symmetric")
        listed = take(*entries).expressions
        if len(listed) != self.mass.shape[0]:
            raise DomainError(f"{self.mass.shape[0]} entries are needed, one for each unknown, not {len(listed)}")
        wanted = Matrix([[e] for e in listed])
        found: list[Expression] = []
        for w in dict.fromkeys(w for w, _ in self):  # shapes of one frequency need not be at right angles
            shapes = side_by_side([v for own, v in self if own is w])
            weighted = shapes.transpose() @ self.mass
            own = inverse((weighted @ shapes).map(in_lowest_terms), self.facts) @ (weighted @ wanted)
            found += [in_lowest_terms(e) for e in own.flat()]
        return [plain(e, self.facts) for e in found]


def normal_modes(mass: Matrix, stiffness: Matrix, given: Given = ()) -> ModesResult:
    """Angular frequencies and shapes of M q'' + K q = 0: [(frequency, column), …], the mass and stiffness matrices symmetric.

    The result also tells .participation(direction) and .amplitudes(place, speed).

    >>> import gelvo
    >>> found = gelvo.normal_modes(gelvo.identity(2)*gelvo.variable("m"), gelvo.matrix("[2*k, -k; -k, 2*k]"), given=["m > 0", "k > 0"])
    >>> found
    [(sqrt(k/m), [1; 1]), (sqrt(3*k/m), [1; -1])]
    >>> found.amplitudes(["A", 0], [0, 0]), found.participation([1, 1])
    ([(A/2, 0), (A/2, 0)], [1, 0])
    """
    facts = facts_of(given, mass, stiffness)
    chains = together.modes(mass, stiffness, facts)
    if any(len(c.vectors) > 1 for c in chains):
        raise DomainError("the system has fewer shapes than unknowns: mass and stiffness are not symmetric")
    chains = sorted(chains, key=lambda c: [str(d.value) for d in chains].index(str(c.value)))  # those of one frequency together
    found = [(plain(sqrt(c.value), facts), c.vectors[0]) for c in chains]
    claims = lambda: [Same("K*shape = frequency^2*M*shape", stiffness @ v, mass @ v * w**2) for w, v in found]
    made = result(ModesResult, found, (*mass.conditions, *stiffness.conditions), claims, facts, "eigenvectors of M^-1*K")
    made.mass, made.stiffness, made.facts = mass, stiffness, facts
    return made


METHODS: dict[str, Callable[..., Any]] = {
    "lu_decomposition": lu_decomposition, "ldl_decomposition": ldl_decomposition, "cholesky_decomposition": cholesky_decomposition,
    "qr_decomposition": qr_decomposition, "singular_values": singular_values,
    "singular_value_decomposition": singular_value_decomposition, "least_squares": least_squares, "projection": projection,
    "norm": norm, "definiteness": definiteness, "kronecker": kronecker, "hadamard": hadamard, "outer": outer, "exterior": exterior,
}  # fmt: skip
