"""Entries as a reader would write them: numbers without roots in denominators, formulas simplified."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.expression.constants import IMAGINARY, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Expression, Name, Number
from gelvo.expression.traversal import names, postorder, tree_size
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.simplifying.search import simplify

LARGEST = 80  # nodes up to which the search for a shorter form is worth its time


def plain(e: Expression, facts: Facts) -> Expression:
    """A short exact form.

    >>> from gelvo.expression.building import number, sqrt
    >>> print(plain(1 / (1 + sqrt(number(2))), Facts()))
    sqrt(2) - 1
    """
    if isinstance(e, (Number, Name)):
        return e
    if tree_size(e) > LARGEST or any(isinstance(p, AlgebraicNumber) for p in postorder(e)):
        return lowest_terms(e)
    if names(e):
        return simplify(e, facts).expression
    try:
        real, imag = (rationalize_denominator(p) for p in real_and_imaginary(expand(rationalize_denominator(e)), facts))
    except DomainError:
        return rationalize_denominator(e)
    return real if imag is ZERO else real + IMAGINARY * imag
