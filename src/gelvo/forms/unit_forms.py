"""Formulas up to what does not change where they vanish, or their sign: a rational factor in front, squares."""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, scale, split_coefficient, total
from gelvo.expression.nodes import Expression, Number, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.numbers.exact import Gaussian


def unit_form(expression: Expression) -> tuple[Expression, mpq]:
    """An expression as (form with leading coefficient 1, rational factor)."""
    if isinstance(expression, Sum):
        leading = expression.coefficients[0]
        if isinstance(leading, Gaussian) or leading == 1:
            return expression, mpq(1)
        return total([scale(t, c / leading) for t, c in expression.items()] + [number(expression.constant / leading)]), leading
    core, coefficient = split_coefficient(expression)
    if isinstance(coefficient, Gaussian):
        return expression, mpq(1)
    if isinstance(core, Sum) and coefficient:
        inner, factor = unit_form(core)
        return inner, factor * coefficient
    if isinstance(expression, Number):
        return expression, mpq(1)
    return core, coefficient


class Parity(NamedTuple):
    """A product of real factors as sign*core times squares: it has that sign of the core where no square is zero."""

    core: Expression
    sign: int
    squares: tuple[Expression, ...]
    below: bool  # whether every factor of the core stands in a denominator, so that it is not zero


def parity(product: Expression) -> Parity | None:
    """A factored formula without the even parts of its exponents, or None for complex coefficients.

    >>> from gelvo.expression.building import name
    >>> a, b = name("a"), name("b")
    >>> print(parity(-(a**3) * (b - 1)**2 / b)[:2])
    (a*b, -1)
    """
    coefficient = product.coefficient if isinstance(product, Product) else mpq(1)
    if isinstance(coefficient, Gaussian):
        return None
    sign, below = 1 if coefficient > 0 else -1, True
    odd: list[Expression] = []
    squares: list[Expression] = []
    for factor in factors_in(product):
        base, times = factor, mpq(1)
        if isinstance(factor, Power) and isinstance(factor.exponent, Number) and factor.exponent.is_whole:
            base, times = factor.base, factor.exponent.rational
        if times % 2:
            base, leading = unit_form(base)
            sign = sign if leading > 0 else -sign
            below = below and times < 0
            odd.append(base)
        elif times > 0:
            squares.append(base)
    return Parity(multiply_all(odd), sign, tuple(squares), below)
