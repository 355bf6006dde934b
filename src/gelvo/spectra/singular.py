"""Singular values, the decomposition that belongs to them, and norms."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.value import value as evaluated
from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import ABS, MAX
from gelvo.matrices.decompositions import adjoint, gram_schmidt
from gelvo.matrices.matrix import Matrix, diagonal_of, side_by_side
from gelvo.matrices.plain import plain
from gelvo.spectra.factors import factors
from gelvo.spectra.jordan import chains


def singular_values(m: Matrix, facts: Facts) -> dict[Expression, int]:
    """The square roots of the eigenvalues of A^T A (or A A^T, where that is smaller), with multiplicities.

    >>> from gelvo.expression.building import number
    >>> singular_values(Matrix([[3, 0], [4, 0]]), Facts())
    {5: 1, 0: 1}
    """
    turned = adjoint(m)
    product = turned @ m if m.shape[1] <= m.shape[0] else m @ turned
    found: dict[Expression, int] = {}
    for factor in factors(product.map(lowest_terms), facts):
        for value in factor.roots:
            root = plain(sqrt(value), facts)
            found[root] = found.get(root, 0) + factor.times
    return _descending(found)


def _descending(found: dict[Expression, int]) -> dict[Expression, int]:
    """Largest first, where they are numbers."""
    if any(names(v) for v in found):
        return found
    return dict(sorted(found.items(), key=lambda item: -float(str(evaluated(item[0], 25)))))


class SingularForm(NamedTuple):
    """A = U S V^T (V^* for complex entries): columns of U and V of length one at right angles, S diagonal and positive."""

    left: Matrix
    values: Matrix
    right: Matrix
    conditions: tuple[Condition, ...]


def singular_form(m: Matrix, facts: Facts) -> SingularForm:
    """The decomposition with as many columns as there are singular values that are not zero.

    >>> found = singular_form(Matrix([[3, 0], [4, 0]]), Facts())
    >>> print(found.left, found.values, found.right)
    [3/5; 4/5] [5] [1; 0]
    """
    product = (adjoint(m) @ m).map(lowest_terms)
    pairs: list[tuple[Expression, Matrix, Matrix]] = []  # a singular value with its columns of U and V
    needed: dict[Condition, None] = {}
    spaces: dict[Expression, list[Matrix]] = {}
    for chain in chains(product, factors(product, facts), facts):
        spaces.setdefault(chain.value, []).append(chain.vectors[0])
    for value, vectors in spaces.items():
        if value is ZERO:
            continue
        size = plain(sqrt(value), facts)
        columns, conditions = gram_schmidt(vectors, facts, unit=True)
        needed.update(dict.fromkeys(conditions))
        pairs += [(size, (m @ v / size).map(lambda e: plain(e, facts)), v) for v in columns]
    if not pairs:
        raise DomainError("the zero matrix has no singular value but 0")
    order = list(_descending(dict.fromkeys((p[0] for p in pairs), 1)))
    pairs.sort(key=lambda p: order.index(p[0]))
    sizes = [p[0] for p in pairs]
    diagonal = diagonal_of(sizes)
    left, right = side_by_side([p[1] for p in pairs]), side_by_side([p[2] for p in pairs])
    return SingularForm(left, diagonal, right, tuple(needed))


def norm(m: Matrix, kind: str, facts: Facts) -> Expression:
    """The size of a matrix: "frobenius" (the root of the sum of all squares), "columns" (the largest sum down a column), "rows", "spectral".

    >>> print(norm(Matrix([[3, 0], [0, 4]]), "frobenius", Facts()))
    5
    """
    sizes = [[e if facts.is_nonnegative(e) else ABS(e) for e in row] for row in m.entries]
    if kind == "frobenius":
        return sqrt(total([e**2 if facts.is_real(e) else ABS(e) ** 2 for e in m.flat()]))
    if kind in ("columns", "rows"):
        lines = sizes if kind == "rows" else list(map(list, zip(*sizes, strict=True)))
        sums = list(dict.fromkeys(total(line) for line in lines))
        return sums[0] if len(sums) == 1 else MAX(*sums)
    if kind == "spectral":
        found = singular_values(m, facts)
        if len(found) > 1 and any(names(v) for v in found):
            return MAX(*found)
        return next(iter(found))
    raise NotSolved(f'a norm is "frobenius", "columns", "rows" or "spectral", not {kind!r}')
