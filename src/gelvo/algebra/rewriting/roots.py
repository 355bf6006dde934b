"""Roots: nested square roots of numbers, rational denominators, roots of products joined."""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.algebra.facts import Facts
from gelvo.expression.building import multiply_all, number, power, split_coefficient, total
from gelvo.expression.nodes import Expression, Number, Power, Product, Sum
from gelvo.expression.traversal import transform
from gelvo.numbers.exact import HALF, Gaussian, rational_sqrt


def root_forms(expression: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """sqrt(3 + 2*sqrt(2)) -> sqrt(2) + 1, sqrt(a)*sqrt(b) -> sqrt(a*b) for a or b not negative."""
    yield "nested roots opened", transform(expression, _denested)
    yield "roots joined", transform(expression, lambda n: _joined(n, facts))
    yield "rational denominators", transform(expression, _rationalized)


def _denested(node: Expression) -> Expression:
    """sqrt(p + q*sqrt(r)) = sqrt((p + s)/2) ± sqrt((p - s)/2) with s = sqrt(p^2 - q^2*r) rational."""
    if not (isinstance(node, Power) and isinstance(node.exponent, Number) and isinstance(node.base, Sum)):
        return node
    if not node.exponent.is_rational or abs(node.exponent.rational) != HALF or len(node.base.terms) != 1:
        return node
    p, q, term = node.base.constant, node.base.coefficients[0], node.base.terms[0]
    square = term * term
    if isinstance(p, Gaussian) or isinstance(q, Gaussian) or not isinstance(square, Number) or not square.is_rational:
        return node
    r = square.rational
    s = rational_sqrt(p * p - q * q * r)
    if s is None or p <= 0 or p - s < 0 or r < 0:
        return node
    sign = 1 if q > 0 else -1
    root = power(number((p + s) / 2), number(HALF)) + sign * power(number((p - s) / 2), number(HALF))
    return root if node.exponent.rational > 0 else power(root, number(-1))


def _joined(node: Expression, facts: Facts) -> Expression:
    """Roots of one degree in a product under one sign; at most one radicand may be negative."""
    if not isinstance(node, Product):
        return node
    groups: dict[mpq, list[Expression]] = {}
    rest: list[Expression] = [number(node.coefficient)]
    for factor in node.factors:
        plain = isinstance(factor, Power) and isinstance(factor.exponent, Number) and factor.exponent.is_rational
        if plain and abs(factor.exponent.rational) == HALF and not isinstance(factor.base, Number):  # type: ignore[attr-defined]
            groups.setdefault(HALF, []).append(factor)
        else:
            rest.append(factor)
    factors = groups.get(HALF, [])
    if len(factors) < 2 or sum(not facts.is_positive(f.base) for f in factors) > 1:  # type: ignore[attr-defined]
        return node
    radicand = multiply_all([power(f.base, number(f.exponent.rational * 2)) for f in factors])  # type: ignore[attr-defined]
    return multiply_all([*rest, power(radicand, number(HALF))])


def _rationalized(node: Expression) -> Expression:
    """1/(a + b*sqrt(c)) with numbers: the denominator made rational."""
    if not (isinstance(node, Power) and isinstance(node.exponent, Number) and isinstance(node.base, Sum)):
        return node
    if not node.exponent.is_rational or node.exponent.rational != -1 or len(node.base.terms) > 2:
        return node
    base = node.base
    last, coefficient = base.terms[-1], base.coefficients[-1]
    _, own = split_coefficient(last)
    square = last * last
    if own != 1 or not isinstance(square, Number):
        return node
    other = total((base, number(-2 * coefficient) * last))
    product = base * other
    from gelvo.algebra.expanding import expand

    product = expand(product)
    if isinstance(product, Number) and product.value:
        return expand(other / product)
    return node
