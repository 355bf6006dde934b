"""Two matrices made diagonal by the same vectors: commuting ones, and the mass and stiffness of a vibrating system."""

from __future__ import annotations

from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.constants import ZERO
from gelvo.facts.store import Facts
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices.elimination import inverse
from gelvo.matrices.matrix import Matrix, diagonal_of
from gelvo.spectra.factors import factors
from gelvo.spectra.jordan import Chain, chains, written
from gelvo.spectra.spectrum import chains_of

MOST_MIXTURES = 6


def common_vectors(a: Matrix, b: Matrix, facts: Facts) -> Matrix:
    """The columns that are eigenvectors of both of two commuting matrices, found as those of A + k*B.

    >>> print(common_vectors(Matrix([[1, 0], [0, 1]]), Matrix([[0, 1], [1, 0]]), Facts()))
    [1, 1; -1, 1]
    """
    if a.shape != b.shape:
        raise DomainError(f"matrices of {a.shape} and {b.shape} have no common eigenvectors")
    if not _is_zero(a @ b - b @ a, facts):
        raise DomainError("the matrices do not commute: they have no common basis of eigenvectors")
    for k in range(MOST_MIXTURES):
        mixed = (a + b * k).map(lowest_terms)
        found = chains(mixed, factors(mixed, facts), facts)
        if any(len(c.vectors) > 1 for c in found):
            raise DomainError("the matrices cannot be made diagonal: one of them has too few eigenvectors")
        columns = written(found)[0]
        if all(_is_eigenvector(m, columns.column(j), facts) for m in (a, b) for j in range(columns.shape[1])):
            return columns
    raise DomainError("the matrices cannot be made diagonal together")


def _is_eigenvector(m: Matrix, v: Matrix, facts: Facts) -> bool:
    """Whether m @ v is a multiple of v: all determinants of two entries vanish."""
    image = m @ v
    place = next(i for i, e in enumerate(v.flat()) if e is not ZERO)
    return _is_zero(Matrix([[image[i, 0] * v[place, 0] - image[place, 0] * v[i, 0]] for i in range(v.shape[0])]), facts)


def values(m: Matrix, columns: Matrix) -> Matrix:
    """The diagonal matrix of the eigenvalues that belong to eigenvectors."""
    image = m @ columns
    found = []
    for j in range(columns.shape[1]):
        place = next(i for i, e in enumerate(columns.column(j).flat()) if e is not ZERO)
        found.append(lowest_terms(image[place, j] / columns[place, j]))
    return diagonal_of(found)


def _is_zero(m: Matrix, facts: Facts) -> bool:
    return all(e is ZERO or is_zero(e, facts) is True for e in m.flat())


def modes(mass: Matrix, stiffness: Matrix, facts: Facts) -> list[Chain]:
    """The chains of M^-1 K: squared frequencies with their shapes, for M q'' + K q = 0."""
    return chains_of((inverse(mass, facts) @ stiffness).map(lowest_terms), facts)[0]
