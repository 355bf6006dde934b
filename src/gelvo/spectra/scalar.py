"""Functions of one variable that are applied to matrices: their values at eigenvalues, told in a real form."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import IMAGINARY, ZERO
from gelvo.expression.nodes import Expression
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.functions.named import ATAN2, EXP, LN, is_a
from gelvo.normal.complex_parts import real_and_imaginary

RealParts = Callable[[Expression, Expression], tuple[Expression, Expression] | None]


class MatrixFunction(NamedTuple):
    """A function of one variable that is applied to matrices.

    at: its value; parts: the real and imaginary part of f(c + 1j*w) for real c and w, where those have a form of their own;
    at_zero: what the function and its derivatives are at an eigenvalue 0 with chains up to a length, where its formula does not tell;
    one_formula: of an exponential, whether two eigenvalues that may be equal are told with sinhc, which needs no condition.
    """

    at: Callable[[Expression], Expression]
    parts: RealParts = lambda c, w: None
    at_zero: Callable[[int], Expression | None] = lambda order: None
    one_formula: bool = False

    def real_parts(self, c: Expression, w: Expression, facts: Facts) -> tuple[Expression, Expression] | None:
        """Real and imaginary part of f(c + 1j*w) for real c and w; None where the sign of a part is open."""
        found = self.parts(c, w)
        if found is None:
            try:
                found = real_and_imaginary(self.at(c + IMAGINARY * w), facts)
            except DomainError:
                return None
        return found


def _root_at_zero(length: int) -> Expression:
    if length > 1:
        raise DomainError("the matrix has an eigenvalue 0 with too few eigenvectors, and no square root by this way")
    return ZERO


def _root_parts(c: Expression, w: Expression) -> tuple[Expression, Expression] | None:
    if names(c) or names(w):
        return None
    size = sqrt(expand(c**2 + w**2))
    sign = -1 if bits.is_negative(w.known) else 1
    return sqrt(expand((size + c) / 2)), sign * sqrt(expand((size - c) / 2))


def _no_logarithm(length: int) -> Expression:
    raise DomainError("a singular matrix has no logarithm")


ROOT = MatrixFunction(lambda z: sqrt(z), _root_parts, _root_at_zero)
LOGARITHM = MatrixFunction(lambda z: LN(z), lambda c, w: (LN(uni.lowest_terms(c**2 + w**2)) / 2, ATAN2(w, c)), _no_logarithm)


def grouped(terms: Sequence[Expression]) -> Expression:
    """A sum with each exponential before all that it multiplies."""
    groups: dict[Expression | None, list[Expression]] = {}
    for term in terms:
        common = next((f for f in factors_in(term) if is_a(f, EXP)), None)
        groups.setdefault(common, []).append(term if common is None else term / common)
    return total([total(listed) if common is None else common * total(listed) for common, listed in groups.items()])
