"""What has no rounding, and sums of two products of such numbers, as b^2 - 4*a*c: each as good as one operation.

C.-P. Jeannerod, N. Louvet, J.-M. Muller, "Further analysis of Kahan's algorithm for the accurate computation of 2 x 2 determinants"
(2013): twice a product and a fused product and sum; the relative error is below 2 units.
"""

from __future__ import annotations

from typing import TypeAlias

from gmpy2 import mpq

from gelvo.code.digits.numeric import BINADE, GROUPED, is_numeric
from gelvo.code.fractions import is_power_of_two
from gelvo.expression.constants import TWO
from gelvo.expression.display import sum_terms
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.numbers.exact import Gaussian, nearest_float, real

Exact: TypeAlias = "tuple[mpq, Expression | None]"  # a power of two times what has no rounding, or a number that is a double
CHOOSING = ("abs", "min", "max")  # functions that give one of their arguments


def is_exact(node: Node) -> bool:
    """Whether a part is what it is, without a rounding: a double, a name, one of several, or a power of two times that.

    >>> from gelvo.expression.building import name
    >>> is_exact(-4 * name("x")), is_exact(3 * name("x"))
    (True, False)
    """
    if isinstance(node, Number):
        return node.is_rational and nearest_float(node.rational) == node.rational
    if isinstance(node, Product):
        inner = [f for f in node.factors if not is_numeric(base_and_exponent(f)[0], BINADE)]
        return is_power_of_two(real(node.coefficient)) and len(inner) == 1 and is_exact(inner[0])
    if isinstance(node, Call):
        return (node.name in CHOOSING or node.function in (GROUPED, BINADE)) and all(map(is_exact, node.arguments))
    return isinstance(node, Name)


def exact_parts(e: Expression) -> tuple[Expression, ...]:
    """The outermost parts that have no rounding, but for names and numbers."""
    found: dict[Expression, None] = {}
    stack: list[Node] = [e]
    while stack:
        node = stack.pop()
        if not is_exact(node):
            stack += reversed(node.children)
        elif isinstance(node, (Call, Product)):
            found[node] = None
    return tuple(found)


def two_products(e: Node) -> tuple[tuple[Exact, Exact], tuple[Exact, Exact]] | None:
    """The two products of a sum of two terms, none of whose factors has a rounding; None for any other part.

    >>> from gelvo.expression.building import name
    >>> a, b, c = map(name, "abc")
    >>> two_products(b**2 - 4 * a * c)
    (((mpq(1,1), b), (mpq(1,1), b)), ((mpq(-4,1), a), (mpq(1,1), c)))
    >>> two_products(b**2 - 3 * a * c)
    """
    if not isinstance(e, Sum) or len(e.terms) + bool(e.constant) != 2:
        return None
    first, second = (_product(c, t) for c, t in sum_terms(e))
    if first is None or second is None or (_is_one(first[1]) and _is_one(second[1])):
        return None  # one addition
    return (second, first) if _is_one(first[1]) else (first, second)


def is_square(e: Expression) -> bool:
    """Whether a part is written as a second power."""
    return isinstance(e, Power) and e.exponent == TWO


def _is_one(factor: Exact) -> bool:
    return factor == (1, None)


def _product(coefficient: object, term: Expression | None) -> tuple[Exact, Exact] | None:
    """A term as two factors, the second of which may be 1."""
    if isinstance(coefficient, Gaussian):
        return None
    c, factors = real(coefficient), [] if term is None else _factors(term)
    if factors is None or nearest_float(abs(c)) != abs(c):
        return None
    if len(factors) == 2 and is_power_of_two(c):
        return (c, factors[0]), (mpq(1), factors[1])
    if len(factors) == 1:
        return ((c, factors[0]), (mpq(1), None)) if is_power_of_two(c) else ((mpq(1), factors[0]), (c, None))
    return None if factors else ((c, None), (mpq(1), None))


def _factors(term: Expression) -> list[Expression] | None:
    """The factors of a term, where they are at most two that have no rounding."""
    found: list[Expression] = []
    for factor in factors_in(term):
        found += [factor.base] * 2 if is_square(factor) else [factor]  # type: ignore[attr-defined]
    return found if len(found) <= 2 and all(map(is_exact, found)) else None
