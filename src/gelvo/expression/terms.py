"""What a term is made of: its factors, and the base and exponent of each; any formula is its own one factor, any factor a first power."""

from __future__ import annotations

from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Expression, Power, Product


def factors_in(term: Expression) -> tuple[Expression, ...]:
    """The factors of a product without its coefficient, of any other formula the formula itself.

    >>> from gelvo.expression.building import name
    >>> factors_in(3 * name("x") * name("y")), factors_in(name("x"))
    ((x, y), (x,))
    """
    return term.factors if isinstance(term, Product) else (term,)


def base_and_exponent(factor: Expression) -> tuple[Expression, Expression]:
    """(b, k) of b^k; any other formula is its own first power.

    >>> from gelvo.expression.building import name
    >>> base_and_exponent(name("x") ** 2), base_and_exponent(name("x"))
    ((x, 2), (x, 1))
    """
    return (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, ONE)
