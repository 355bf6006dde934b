"""Values of rational formulas modulo a prime: fast and exact, so that what is not zero there is not zero."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import gmpy2

from gelvo.expression.nodes import Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder
from gelvo.numbers.exact import Gaussian, Scalar

PRIMES = (2**61 - 1, 2**61 - 31, 2**61 - 45)


class NotRational(Exception):
    """A formula is no quotient of polynomials with rational coefficients, or has no value at the point."""


def residues(
    formulas: Sequence[Expression], point: Mapping[Name, int], prime: int, known: dict[Node, int] | None = None
) -> list[int]:
    """The formulas at a point modulo a prime; known: parts already worked out, to which the others are added.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> residues([x**2 + 1, 1/x], {x: 3}, 7)
    [3, 5]
    """
    found: dict[Node, int] = {} if known is None else known
    for node in postorder(*[f for f in formulas if f not in found]):
        if node not in found:
            found[node] = _residue(node, found, point, prime)
    return [found[f] for f in formulas]


def _residue(node: Node, found: dict[Node, int], point: Mapping[Name, int], prime: int) -> int:
    if isinstance(node, Number):
        return _number(node.value, prime)
    if isinstance(node, Name) and node in point:
        return point[node]
    if isinstance(node, Sum):
        return (_number(node.constant, prime) + sum(_number(c, prime) * found[t] for t, c in node.items())) % prime
    if isinstance(node, Product):
        result = _number(node.coefficient, prime)
        for factor in node.factors:
            result = result * found[factor] % prime
        return result
    if isinstance(node, Power) and node.exponent.is_whole:
        k = int(node.exponent.rational)
        if k < 0 and not found[node.base]:
            raise NotRational
        return int(gmpy2.powmod(found[node.base], k, prime))
    raise NotRational


def _number(value: Scalar, prime: int) -> int:
    if isinstance(value, Gaussian) or not value.denominator % prime:
        raise NotRational
    return (
        int(value.numerator * gmpy2.invert(value.denominator, prime) % prime)
        if value.denominator != 1
        else int(value.numerator % prime)
    )
