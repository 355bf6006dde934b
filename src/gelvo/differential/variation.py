"""A particular solution of a linear equation by variation of the constants (J.-L. Lagrange, 1775), from a basis of the homogeneous ones."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.differential.first_order.rate import integral
from gelvo.errors import DomainError
from gelvo.expression.building import total, written
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.matrices.elimination import determinant
from gelvo.matrices.matrix import Matrix
from gelvo.simplifying.search import simplify


def varied(basis: Sequence[Expression], forcing: Expression, t: Name, facts: Facts) -> Expression:
    """The sum of each basis function times the integral of its share; forcing: the right side over the leading coefficient.

    What has no antiderivative stays a written integral, from a place where the forcing has a value.
    """
    rates = shares(basis, forcing, t, facts)
    found: list[Expression] = []
    for function, rate in zip(basis, rates, strict=True):
        found.append(function * integral_or_written(rate, t, facts))
    return simplify(total(found), facts).expression


def shares(basis: Sequence[Expression], forcing: Expression, t: Name, facts: Facts) -> list[Expression]:
    """The derivatives of the varied constants, by Cramer's rule."""
    n = len(basis)
    rows = [[differentiate(b, t, k) for b in basis] for k in range(n)]
    whole = simplify(determinant(Matrix(rows)), facts).expression
    found = []
    for k in range(n):
        minor = [[e for j, e in enumerate(row) if j != k] for row in rows[:-1]]
        part = determinant(Matrix(minor)) if n > 1 else ONE
        sign = (-1) ** (n - 1 + k)
        found.append(simplify(sign * part * forcing / whole, facts).expression)
    return found


def integral_or_written(rate: Expression, t: Name, facts: Facts) -> Expression:
    """An antiderivative, or the written integral."""
    whole = integral(rate, t, facts)
    return as_written(rate, t, facts) if whole is None else whole


def as_written(rate: Expression, t: Name, facts: Facts, start: Expression | None = None) -> Expression:
    """The integral of a formula up to t, written; start: where it begins (a place where the formula has a value)."""
    s = facts.new_name("s", rate, t)
    return written("integral_of", substitute(rate, {t: s}), s, _start(rate, t) if start is None else start, t)


def _start(rate: Expression, t: Name) -> Expression:
    for place in (ZERO, ONE):
        try:
            substitute(rate, {t: place})
            return place
        except DomainError:
            continue
    return ONE
