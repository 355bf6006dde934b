"""Denominators without roots and without the imaginary unit."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import AlgebraicNumber, Expression, Number
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, Quotient
from gelvo.normal.numbered_roots import minimal_relation
from gelvo.normal.relations import is_unity, reduced_with_factor
from gelvo.numbers.exact import Gaussian, parts
from gelvo.polynomial import sparse
from gelvo.polynomial.extension import AdjoinedRoot, reduce
from gelvo.polynomial.sparse import Polynomial

MOST_ROUNDS = 12


def rationalize_denominator(expression: Expression) -> Expression:
    """The fraction multiplied above and below until no root and no imaginary unit is left below.

    >>> from gelvo.expression.building import name, number, power
    >>> two = power(number(2), number(mpq(1, 2)))
    >>> print(rationalize_denominator(1/(1 + two)))
    sqrt(2) - 1
    """
    form = Form([expression])
    quotient = form.of(expression)
    top, bottom = quotient.top, form.denominator(quotient)
    for _ in range(MOST_ROUNDS):
        cofactor = _cofactor(form, bottom)
        if cofactor is None:
            break
        top, over = reduced_with_factor(form, sparse.multiply(top, cofactor))
        bottom, under = reduced_with_factor(form, sparse.multiply(bottom, cofactor))
        top, bottom = sparse.multiply(top, under), sparse.multiply(bottom, over)
        if not bottom:
            return expression
    if not top:
        return number(0)
    content, bottom = sparse.primitive(bottom)
    top = sparse.scale(top, 1 / content)
    if not sparse.has_gaussian(top):
        shorter = form.lowest_terms(form.multiply(Quotient(top, {}), form.invert(Quotient(bottom, {}))))
        if _cofactor(form, shorter[1]) is None:  # else the roots would come back below
            top, bottom = shorter
    upper, lower = form.expression(top), form.expression(bottom)
    if isinstance(lower, Number):
        return expand(upper / lower)
    return multiply_all((upper, power(lower, number(-1))))


def _cofactor(form: Form, bottom: Polynomial) -> Polynomial | None:
    """What the denominator is to be multiplied by to lose one root, or None when it has none."""
    if sparse.has_gaussian(bottom):
        return {m: _conjugate(c) for m, c in bottom.items()}
    for (base, unit), index in form.generators.items():
        size = form.roots_of[(base, unit)]
        has_root = size > 1 and any(sparse.exponent_of(m, index) % size for m in bottom)
        has_root = has_root or (isinstance(base, AlgebraicNumber) and sparse.degree(bottom, index) > 0)
        if not has_root or is_unity(base, unit):
            continue
        if unit is ONE and isinstance(base, AlgebraicNumber):
            return _inverse(bottom, minimal_relation(base, index, size).polynomial, index)
        if unit is not ONE or size == 1:
            continue
        if size == 2:
            return {m: (-c if sparse.exponent_of(m, index) % 2 else c) for m, c in bottom.items()}
        inner = form.convert().get(base)
        radicand = Quotient(sparse.constant(base.value), {}) if isinstance(base, Number) else inner
        if radicand is None:
            if len(bottom) > 1:
                continue
            k = sparse.exponent_of(next(iter(bottom)), index) % size
            return sparse.variable(index, size - k) if k else None
        relation = sparse.subtract(sparse.multiply(sparse.variable(index, size), form.denominator(radicand)), radicand.top)
        if not relation:  # a name that is itself a power of its root
            continue
        return _inverse(bottom, relation, index)
    return None


def _conjugate(c: object) -> object:
    real, imag = parts(c)
    return Gaussian(real, -imag) if imag else real


def _inverse(p: Polynomial, relation: Polynomial, index: int) -> Polynomial | None:
    """A polynomial whose product with p, reduced by the relation, is free of the root: the cofactor of the resultant."""
    size = sparse.degree(relation, index)
    columns = sparse.by_powers(p, index)
    count = max(columns) + 1
    if size > 8 or count > 8:
        return None
    lead = sparse.by_powers(relation, index)[size]
    if len(lead) != 1 or 0 not in lead:
        return None
    roots = [AdjoinedRoot(index, relation)]
    rows: list[list[Polynomial]] = []
    for j in range(size):
        image = reduce(sparse.multiply(p, sparse.variable(index, j) if j else {0: mpq(1)}), roots)
        by = sparse.by_powers(image, index)
        rows.append([by.get(k, {}) for k in range(size)])
    # Faddeev-LeVerrier: M_k = A*M_(k-1) + c_(n-k+1)*I; the last M is the adjugate up to sign
    identity: list[list[Polynomial]] = [[{0: mpq(1)} if i == j else {} for j in range(size)] for i in range(size)]
    matrix = identity
    for k in range(1, size):
        product = [[_dot(row, [other[j] for other in matrix]) for j in range(size)] for row in rows]
        trace = sparse.total(product[i][i] for i in range(size))
        c = sparse.scale(trace, mpq(-1, k))
        matrix = [[sparse.add(product[i][j], c if i == j else {}) for j in range(size)] for i in range(size)]
    return sparse.from_powers({j: v for j, v in enumerate(matrix[0]) if v}, index)


def _dot(row: list[Polynomial], column: list[Polynomial]) -> Polynomial:
    return sparse.total(sparse.multiply(a, b) for a, b in zip(row, column, strict=True))
