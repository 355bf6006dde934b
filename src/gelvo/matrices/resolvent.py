"""The characteristic polynomial and the adjoint of x - A, by divisions by whole numbers only."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.deadline import checkpoint
from gelvo.expression.building import number, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices.matrix import Matrix, identity, square
from gelvo.matrices.ring import characteristic


class Resolvent(NamedTuple):
    """det(x - A) by its coefficients (constant term first), and the matrices B_k of adj(x - A) = sum of B_k*x^k."""

    coefficients: list[Expression]
    parts: list[Matrix]


def resolvent(m: Matrix) -> Resolvent:
    """Faddeev's recurrence: only divisions by whole numbers.

    >>> [str(c) for c in resolvent(Matrix([[2, 1], [1, 2]])).coefficients]
    ['3', '-4', '1']
    """
    n = square(m, "a characteristic polynomial")
    coefficients: list[Expression] = [ZERO] * n + [number(1)]
    parts: list[Matrix] = [identity(n)] * n
    current = identity(n)
    for k in range(1, n + 1):
        checkpoint()
        parts[n - k] = current
        product = (m @ current).map(lowest_terms)
        c = lowest_terms(-product.trace() / k)
        coefficients[n - k] = c
        current = (product + identity(n) * c).map(lowest_terms)
    return Resolvent(coefficients, parts)


def characteristic_polynomial(m: Matrix, x: Name) -> Expression:
    """det(x - A)."""
    square(m, "a characteristic polynomial")
    return total([c * x**k for k, c in enumerate(characteristic(m) or resolvent(m).coefficients)])
