"""Partial fractions of a rational function in one name.

Source: the f-adic digits of the numerator for each factor of the denominator (J. von zur Gathen, J. Gerhard, "Modern Computer
Algebra", 1999, ch. 5); over algebraic roots by residues.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpz

from gelvo.deciding.algebraic import all_roots
from gelvo.errors import DomainError
from gelvo.expression.building import number, power, scale, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Expression, Number
from gelvo.expression.traversal import contains, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import Form
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor

Factors = list[tuple[uni.Coefficients, int]]
HIGHEST_DEGREE = 1000


class Piece(NamedTuple):
    """digit / base^exponent."""

    digit: uni.Coefficients
    base: uni.Coefficients
    exponent: int


def partial_fractions(expression: Expression, target: Expression, roots: bool = False) -> Expression:
    """A rational function as a polynomial and a sum of simple fractions.

    roots: whether factors over the rationals are split further, down to all their (complex) roots.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(partial_fractions(1/(x**2 - 1), x))
    1/(2*(x - 1)) - 1/(2*(x + 1))
    """
    quotient, pieces = simple_fractions(*split_fraction(expression, target))
    terms = [uni.expression_of(quotient, target)]
    for digit, base, exponent in pieces:
        split = _over_roots(digit, base, target) if roots and exponent == 1 and len(base) > 2 else None
        terms.append(split if split is not None else _simple_fraction(digit, base, exponent, target))
    return total(terms)


def simple_fractions(top: uni.Coefficients, content: Expression, factors: Factors) -> tuple[uni.Coefficients, list[Piece]]:
    """The polynomial part, and the pieces digit/base^exponent, of top/(content*product of base^k)."""
    degree = sum((len(base) - 1) * k for base, k in factors)
    if degree > HIGHEST_DEGREE:
        raise DomainError(f"a denominator of degree {degree} is too much for simple fractions (the limit is {HIGHEST_DEGREE})")
    bottom: uni.Coefficients = [content]
    for base, k in factors:
        for _ in range(k):
            bottom = uni.multiply(bottom, base)
    quotient, rest = uni.divide(top, bottom) if len(top) >= len(bottom) else ([], top)
    pieces: list[Piece] = []
    for base, k in factors:
        own: uni.Coefficients = [ONE]
        for _ in range(k):
            own = uni.multiply(own, base)
        others = uni.divide(bottom, own)[0]
        local = uni.divide(uni.multiply(rest, uni.inverse_modulo(others, own)), own)[1]
        digits = []
        for _ in range(k):
            local, digit = uni.divide(local, base) if len(local) >= len(base) else ([], local)
            digits.append(digit)
        pieces += [Piece(digit, base, e) for e, digit in zip(range(k, 0, -1), digits, strict=True) if digit]
    return quotient, pieces


def _simple_fraction(digit: uni.Coefficients, base: uni.Coefficients, exponent: int, target: Expression) -> Expression:
    """digit / base^exponent with one common factor outside."""
    upper = uni.lowest_terms(uni.expression_of(digit, target))
    lower = power(uni.expression_of(base, target), number(-exponent))
    return upper * lower


def split_fraction(expression: Expression, target: Expression) -> tuple[uni.Coefficients, Expression, Factors]:
    """(numerator, factor free of the name, [(factor of the denominator, times)]) of a rational function in a name."""
    form = Form([expression])
    for base, unit in form.generators:
        inside = base is not target and (contains(base, target) or contains(unit, target))
        if inside or (base is target and (unit is not ONE or form.roots_of[(base, unit)] != 1)):
            raise DomainError(f"{expression} is not a rational function of {target}")
    top, bottom = form.lowest_terms(form.of(expression))
    if sparse.has_gaussian(bottom):
        raise DomainError("partial fractions are built for denominators without the imaginary unit")
    upper = uni.coefficients_of(form.expression(top), target)
    content, pieces = factor(bottom)
    outer: Expression = number(content)
    factors: Factors = []
    for piece, k in pieces:
        coefficients = uni.coefficients_of(form.expression(piece), target)
        if coefficients is None:
            raise DomainError(f"the degree of {target} is too high for simple fractions")
        if len(coefficients) == 1:
            outer = outer * power(coefficients[0], number(k))
        else:
            factors.append((coefficients, k))
    if upper is None:
        raise DomainError(f"the degree of {target} is too high for simple fractions")
    return upper, outer, factors


def _over_roots(digit: uni.Coefficients, base: uni.Coefficients, target: Expression) -> Expression | None:
    """The sum of residue/(x - root) over the roots of an irreducible polynomial with integer coefficients."""
    if not all(isinstance(c, Number) and c.is_rational for c in base):
        return _over_letters(digit, base, target) if len(base) == 3 else None
    whole = [mpz(c.rational) for c in base if isinstance(c, Number)]
    return _residues(digit, base, all_roots(whole), target)


def _over_letters(digit: uni.Coefficients, base: uni.Coefficients, target: Expression) -> Expression:
    c, b, a = base
    step = power(uni.lowest_terms(b * b - 4 * a * c), number(1) / 2)
    return _residues(digit, base, [(-b - step) / (2 * a), (-b + step) / (2 * a)], target)


def _residues(digit: uni.Coefficients, base: uni.Coefficients, roots: list[Expression], target: Expression) -> Expression:
    slope = uni.expression_of([scale(c, k) for k, c in enumerate(base)][1:], target)
    upper = uni.expression_of(digit, target)
    terms = []
    for root in roots:
        residue = substitute(upper, {target: root}) / substitute(slope, {target: root})
        residue = rationalize_denominator(residue)
        terms.append(residue * power(target - root, number(-1)))
    return total(terms)
