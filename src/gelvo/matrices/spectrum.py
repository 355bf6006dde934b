"""Characteristic polynomial, eigenvalues and eigenvectors, exactly.

Source: D. Faddeev, V. Faddeeva, "Computational Methods of Linear Algebra" (1963), for the polynomial and the adjugate of x - A.
"""

from __future__ import annotations

from gmpy2 import lcm, mpq

from gelvo.errors import DomainError
from gelvo.expression.building import scale
from gelvo.expression.constants import IMAGINARY, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Condition, Expression, Name, Number, Product, Sum
from gelvo.expression.traversal import names, postorder
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.matrices.echelon import null_space
from gelvo.matrices.matrix import Matrix, identity, square
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.numbers.exact import Scalar, parts
from gelvo.simplifying.search import simplify


def diagonal_blocks(m: Matrix) -> list[Matrix]:
    """The blocks on the diagonal after rows and columns are put in an order that makes the matrix block triangular.

    They share its eigenvalues: the blocks are the sets of places that reach each other over entries that are not zero.
    """
    import numpy
    from scipy.sparse.csgraph import connected_components

    n = square(m, "eigenvalues")
    pattern = numpy.array([[e is not ZERO for e in row] for row in m.entries])
    count, labels = connected_components(pattern, directed=True, connection="strong")
    blocks = [[i for i in range(n) if labels[i] == k] for k in range(count)]
    return [Matrix([[m[i, j] for j in block] for i in block]) for block in sorted(blocks)]


def eigenvectors(m: Matrix, value: Expression, facts: Facts) -> tuple[list[Matrix], tuple[Condition, ...]]:
    """A basis of the vectors v with A @ v = value*v, short multiples of the solutions, and what must not be zero for it."""
    n = square(m, "eigenvectors")
    shifted = (m - identity(n) * value).map(lambda e: _plain(e, facts))
    found, conditions = null_space(shifted, facts)
    if not found:
        raise DomainError(f"{value} is not seen to be an eigenvalue")
    return [_without_fractions(v.map(lambda e: _plain(e, facts))) for v in found], conditions


def _without_fractions(v: Matrix) -> Matrix:
    """The multiple of a vector that has no numeric fractions, its first entry without a minus."""
    scalars = [c for e in v.flat() for c in _coefficients(e)]
    scale_by = mpq(int(lcm(1, *[part.denominator for c in scalars for part in parts(c)])))
    first = next((e for e in v.flat() if e is not ZERO), ZERO)
    if all(parts(c)[0] < 0 for c in _coefficients(first)):
        scale_by = -scale_by
    return v if scale_by == 1 else v.map(lambda e: expand(scale(e, scale_by)) if isinstance(e, Sum) else scale(e, scale_by))


def _coefficients(e: Expression) -> list[Scalar]:
    """The numbers before the terms of an entry."""
    if isinstance(e, Sum):
        return [*e.coefficients, *([e.constant] if e.constant else [])]
    return [e.value if isinstance(e, Number) else e.coefficient if isinstance(e, Product) else mpq(1)]


def _plain(e: Expression, facts: Facts) -> Expression:
    """A short exact form: numbers without roots in denominators, formulas simplified."""
    if isinstance(e, (Number, Name)):
        return e
    if not names(e) and not any(isinstance(p, AlgebraicNumber) for p in postorder(e)):
        try:
            real, imag = real_and_imaginary(expand(rationalize_denominator(e)), facts)
            unit = IMAGINARY
            return (
                rationalize_denominator(real) + unit * rationalize_denominator(imag)
                if imag is not ZERO
                else rationalize_denominator(real)
            )
        except DomainError:
            return rationalize_denominator(e)
    return simplify(e, facts).expression
