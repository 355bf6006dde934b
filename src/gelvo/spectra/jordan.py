"""Eigenvectors and Jordan's form, over the field of the entries: roots of an irreducible factor are treated all at once.

A vector g over that field that p(A)^k takes to zero, and no lower power, gives for each root r of p a chain of length k, through
q(A)^k g with q = p/(x - r): its entries are polynomials in r, so that no root has to be recognised as zero.
Sources: F. Gantmacher, "The Theory of Matrices" (1959), chapters 6 and 7; the passage to one root is ours.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from gelvo.deadline import checkpoint
from gelvo.deciding.equality import is_zero
from gelvo.errors import NotSolved
from gelvo.expression.building import looks_negative
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name
from gelvo.expression.traversal import names, postorder
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import denominators
from gelvo.forms.fractions import Form
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices import echelon
from gelvo.matrices.elimination import determinant
from gelvo.matrices.matrix import Matrix, identity, side_by_side
from gelvo.matrices.resolvent import characteristic_polynomial
from gelvo.matrices.ring import without_content
from gelvo.polynomial import sparse
from gelvo.polynomial.resultant import discriminant
from gelvo.simplifying.search import simplify
from gelvo.spectra.factors import Factor
from gelvo.spectra.scaling import Scaled

LONGEST = 120  # characters of an eigenvalue up to which the determinant of the vectors is worked out

Vector = list[Matrix]  # the column that stands before each power of the root


class Chain(NamedTuple):
    """Columns v_1, v_2, … with (A - value) v_1 = 0 and (A - value) v_k = v_(k - 1)."""

    value: Expression
    vectors: list[Matrix]


def chains(m: Matrix, found: Sequence[Factor], facts: Facts) -> list[Chain]:
    """All chains, root after root, long ones first."""
    return [chain for factor in found for chain in _of_factor(m, factor, facts)]


def _of_factor(m: Matrix, factor: Factor, facts: Facts) -> list[Chain]:
    whole = factor.degree * factor.times == m.shape[0] and factor.times == 1  # then p(A) = 0 (Cayley and Hamilton)
    image = m * 0 if whole else value_at(factor.coefficients, m)
    if factor.times == 1:
        basis = echelon.null_space(image, facts)[0]
        if len(basis) != factor.degree:
            raise NotSolved(
                f"{len(basis)} vectors were found where {factor.degree} are needed: entries may be zero without being seen to be"
            )
        return _of_length(m, factor, _best(m, factor, basis, facts), 1, facts)
    listed: list[Chain] = []
    for generator, length in _generators(m, factor, image, facts):
        listed += _of_length(m, factor, _towards_roots(m, factor, generator, length), length, facts)
    return sorted(listed, key=lambda c: factor.roots.index(c.value))


def value_at(coefficients: Sequence[Expression], m: Matrix) -> Matrix:
    """p(A), by Horner's scheme."""
    unit = identity(m.shape[0])
    result = unit * coefficients[-1]
    for c in reversed(coefficients[:-1]):
        checkpoint()
        result = (result @ m + unit * c).map(lowest_terms)
    return result


def _best(m: Matrix, factor: Factor, basis: Sequence[Matrix], facts: Facts) -> Vector:
    """The eigenvector that is shortest to write, among those of all vectors of a basis; it vanishes at no root."""
    made = [_towards_roots(m, factor, g, 1) for g in basis]
    for vector in sorted(made, key=lambda v: len(str(v))):
        if all(any(is_zero(e, facts) is False for e in column) for [column] in _at_roots(factor, [vector], facts)):
            return vector
    return [sum(columns[1:], columns[0]) for columns in zip(*made, strict=True)]


def _generators(m: Matrix, factor: Factor, image: Matrix, facts: Facts) -> Iterator[tuple[Matrix, int]]:
    """(g, k): g generates, with p(A)^k g = 0, one part of the space that p(A)^n takes to zero; these parts are all of it."""
    kernels: list[list[Matrix]] = [[]]
    power = image
    while len(kernels[-1]) < factor.degree * factor.times:
        kernels.append(echelon.null_space(power, facts)[0])
        if len(kernels[-1]) == len(kernels[-2]):
            raise NotSolved("a multiple eigenvalue has too few vectors: entries may be zero without being seen to be")
        power = (power @ image).map(lowest_terms)
    chosen: list[tuple[Matrix, int]] = []
    for length in range(len(kernels) - 1, 0, -1):
        span = list(kernels[length - 1])
        for g, k in chosen:
            span += _turned(m, _repeated(image, g, k - length), factor.degree)
        written_out = {g: len(str(_repeated(image, g, length - 1))) for g in kernels[length]}
        for g in sorted(kernels[length], key=written_out.__getitem__):  # short chains
            if len(span) == len(kernels[length]):
                break
            if not _is_inside(g, span, facts):
                span += _turned(m, g, factor.degree)
                chosen.append((g, length))
    yield from chosen


def _repeated(m: Matrix, g: Matrix, count: int) -> Matrix:
    for _ in range(count):
        g = (m @ g).map(lowest_terms)
    return g


def index(m: Matrix, factor: Factor, facts: Facts) -> int:
    """How often a factor stands in the minimal polynomial: the length of its longest chain."""
    if factor.times == 1:
        return 1
    return max(length for _, length in _generators(m, factor, value_at(factor.coefficients, m), facts))


def _turned(m: Matrix, g: Matrix, count: int) -> list[Matrix]:
    """g, A g, A^2 g, …"""
    found = [g]
    while len(found) < count:
        found.append((m @ found[-1]).map(lowest_terms))
    return found


def _is_inside(g: Matrix, span: Sequence[Matrix], facts: Facts) -> bool:
    if not span:
        return False
    return echelon.rank(side_by_side([*span, g]), facts)[0] == len(span)


def _towards_roots(m: Matrix, factor: Factor, g: Matrix, times: int) -> Vector:
    """q(A)^times g with q = p/(x - root), by powers of the root."""
    vector: Vector = [g]
    if factor.degree > 1:
        quotients = _quotient(m, factor.coefficients)
        for _ in range(times):
            vector = _product(quotients, vector, factor)
    return vector


def _quotient(m: Matrix, coefficients: Sequence[Expression]) -> list[Matrix]:
    """The matrices Q_k of p(A)/(A - root) = sum of Q_k*root^k, for a monic p."""
    found = [identity(m.shape[0])]
    for c in reversed(coefficients[1:-1]):
        found.append((found[-1] @ m + identity(m.shape[0]) * c).map(lowest_terms))
    return found[::-1]


def _product(quotients: Sequence[Matrix], vector: Vector, factor: Factor) -> Vector:
    """A matrix and a vector, both by powers of a root, multiplied and brought below the degree of its polynomial."""
    n = vector[0].shape[0]
    zero = Matrix([[0]] * n)
    powers = [zero] * (len(quotients) + len(vector) - 1)
    for i, q in enumerate(quotients):
        for j, v in enumerate(vector):
            powers[i + j] = powers[i + j] + q @ v
    return _below(powers, factor.coefficients)


def _below(powers: Vector, coefficients: Sequence[Expression]) -> Vector:
    degree = len(coefficients) - 1
    powers = list(powers)
    for k in range(len(powers) - 1, degree - 1, -1):
        top = powers[k].map(lowest_terms)
        for j in range(degree):
            powers[k - degree + j] = powers[k - degree + j] - top * coefficients[j]
    return [p.map(lowest_terms) for p in powers[:degree]]


def _of_length(m: Matrix, factor: Factor, top: Vector, length: int, facts: Facts) -> list[Chain]:
    """The chain of each root, from its last vector downwards."""
    vectors = [top]
    for _ in range(length - 1):
        last = vectors[-1]
        moved = [m @ v for v in last] + ([Matrix([[0]] * m.shape[0])] if factor.degree > 1 else [])
        lower = last if factor.degree > 1 else [last[0] * -factor.coefficients[0]]
        for k, v in enumerate(lower):
            moved[k + 1 if factor.degree > 1 else 0] = moved[k + 1 if factor.degree > 1 else 0] - v
        vectors.append(_below(moved, factor.coefficients))
    at_roots = _at_roots(factor, vectors[::-1], facts)
    return [Chain(value, columns) for value, columns in zip(factor.roots, at_roots, strict=True)]


def _at_roots(factor: Factor, vectors: Sequence[Vector], facts: Facts) -> list[list[Matrix]]:
    """The columns at each root, without what they have in common."""
    n = vectors[0][0].shape[0]
    rows = [factor.coordinates([v[i, 0] for v in vector]) for vector in vectors for i in range(n)]
    width = len(rows[0])
    flat = [e for row in rows for e in row]
    if any(isinstance(node, Call) for e in flat for node in postorder(e)):
        flat = [simplify(e, facts).expression for e in flat]
    flat = without_content(flat)
    if looks_negative(next((e for e in flat if e is not ZERO), ONE)):
        flat = [-e for e in flat]
    values = [factor.at_roots(flat[k : k + width]) for k in range(0, len(flat), width)]
    return [[Matrix([[row[k]] for row in values[j : j + n]]) for j in range(0, len(values), n)] for k in range(len(factor.roots))]


def written(found: Sequence[Chain]) -> tuple[Matrix, Matrix]:
    """(P, J) with A @ P = P @ J: the vectors as columns, and Jordan's blocks."""
    columns = [v for c in found for v in c.vectors]
    n = len(columns)
    rows: list[list[Expression]] = [[ZERO] * n for _ in range(n)]
    place = 0
    for chain in found:
        for k in range(len(chain.vectors)):
            rows[place][place] = chain.value
            if k:
                rows[place - 1][place] = ONE
            place += 1
    return side_by_side(columns), Matrix(rows)


def stretched(found: Sequence[Chain], letters: Scaled) -> list[Chain]:
    """The chains of shift + stretch*N from those of N."""
    return [
        Chain(letters.value(c.value), [v if not k else v / letters.stretch**k for k, v in enumerate(c.vectors)]) for c in found
    ]


def independent(m: Matrix, found: Sequence[Chain], facts: Facts) -> tuple[Condition, ...]:
    """What must hold for the vectors of all chains to be independent: then they are all that there are."""
    if not m.free_names:
        return ()
    columns = written(found)[0]
    if all(len(str(c.value)) <= LONGEST for c in found):
        return echelon.apart_from_zero_beside(determinant(columns), m, facts)
    # each vector is not zero where one of its entries is not
    shortest = dict.fromkeys(min((e for e in c.vectors[0].flat() if e is not ZERO), key=lambda e: len(str(e))) for c in found)
    unlike = dict.fromkeys(c for e in shortest for c in echelon.apart_from_zero_beside(e, m, facts))
    return tuple(dict.fromkeys((*apart(m, [c.value for c in found], facts), *unlike)))


def apart(m: Matrix, values: Sequence[Expression], facts: Facts) -> tuple[Condition, ...]:
    """What must hold for eigenvalues with letters to be different; of long ones the discriminant tells."""
    different = list(dict.fromkeys(values))
    if not any(names(v) for v in different):
        return ()
    valued = tuple(denominators(different, facts))
    if any(len(str(v)) > LONGEST for v in different):
        x = facts.new_name("x", *m.flat())
        gaps = [discriminant_of(characteristic_polynomial(m, x), x)]
    else:
        gaps = [lowest_terms(v - w) for k, v in enumerate(different) for w in different[k + 1 :]]
    return tuple(dict.fromkeys((*valued, *[c for e in gaps for c in echelon.apart_from_zero_beside(e, m, facts)])))


def discriminant_of(polynomial: Expression, x: Name) -> Expression:
    """Zero just where a polynomial has a multiple root."""
    form = Form([polynomial, x])
    return form.factored(discriminant(form.of(polynomial).top, next(iter(sparse.variables(form.of(x).top)))))
