"""From a tower back to formulas: what generators stand for, and the real form of what was found by complex exponentials."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.elementary.field import Element
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Expression, Name
from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor
from gelvo.polynomial.sparse import Polynomial


class Texts:
    """What each generator stands for; of waves the angle."""

    def __init__(self, variable: Name) -> None:
        self.variable = variable
        self.generators: dict[int, Expression] = {}
        self.angles: dict[int, Expression] = {}
        self.imaginary: int | None = None

    def add(self, place: int, text: Expression, angle: Expression | None = None) -> None:
        self.generators[place] = text
        if angle is not None:
            self.angles[place] = angle


def expression_of(e: Element, texts: Texts, factored: bool = True) -> Expression:
    """An element as a formula, numerator and denominator as products."""
    if not e.top:
        return number(0)
    return _product(e.top, texts, factored) * power(_product(e.bottom, texts, factored), number(-1))


def _product(p: Polynomial, texts: Texts, factored: bool) -> Expression:
    if not factored or len(p) <= 1:
        return of_polynomial(p, texts)
    content, factors = factor(p)
    return multiply_all([number(content), *(power(of_polynomial(f, texts), number(k)) for f, k in factors)])


def of_polynomial(p: Polynomial, texts: Texts) -> Expression:
    """A polynomial in generators as an expanded formula."""
    terms = []
    monomials = sorted(p, reverse=True)
    for m, listed in zip(monomials, sparse.exponents(monomials), strict=True):
        terms.append(multiply_all([number(p[m]), *(power(texts.generators[k], number(mpq(e))) for k, e in listed)]))
    return total(terms)
