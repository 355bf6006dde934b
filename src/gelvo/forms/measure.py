"""How much a reader sees: the measure that `simplify` makes small.

Numbers, names, calls and operations count one each; nested roots, quotients and long numbers cost more.
"""

from __future__ import annotations

from gelvo.expression.display import product_parts
from gelvo.expression.nodes import Call, Expression, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder
from gelvo.numbers.exact import Scalar, parts

ROOT_WEIGHT, QUOTIENT_WEIGHT, BRACKET_WEIGHT, DIGITS_FREE = 0.5, 0.25, 0.125, 4


def _number_size(value: Scalar) -> float:
    real, imag = parts(value)
    size = 0.0
    for part in (real, imag):
        if part or (part is real and not imag):
            size += 1 + (part < 0)
            size += 2 * (part.denominator != 1)
            digits = len(str(abs(part.numerator))) + (len(str(part.denominator)) if part.denominator != 1 else 0)
            size += 0.1 * max(0, digits - DIGITS_FREE)
    return size + (1 if real and imag else 0) + (1 if imag and imag not in (1, -1) else 0)


def measure(root: Expression) -> float:
    """The size of a formula as it is read.

    >>> from gelvo.expression.building import name
    >>> measure(name("a") + name("b"))
    3.0
    """
    size: dict[Node, float] = {}
    for node in postorder(root):
        size[node] = _size(node, size)
    return size[root]


def _size(node: Node, size: dict[Node, float]) -> float:
    if isinstance(node, Number):
        return _number_size(node.value)
    if isinstance(node, Sum):
        return _sum_size(node, size)
    if isinstance(node, (Product, Power)):
        return _product_size(node, size)
    if isinstance(node, Call):
        return 1 + sum(size[a] for a in node.arguments)
    if not node.children:
        return 1.0
    return 1 + sum(size[c] for c in node.children)


def _sum_size(node: Sum, size: dict[Node, float]) -> float:
    result = float(len(node.terms) - 1)
    negatives = 0
    for term, coefficient in node.items():
        real, imag = parts(coefficient)
        shown = -coefficient if real < 0 or (not real and imag < 0) else coefficient
        negatives += shown is not coefficient
        result += size[term]
        if shown != 1:
            result += _coefficient_size(shown)
    if node.constant:
        real, _ = parts(node.constant)
        shown = -node.constant if real < 0 else node.constant
        negatives += shown is not node.constant
        result += 1 + _number_size(shown)
    count = len(node.terms) + bool(node.constant)
    return result + (1 if negatives == count else 0)


def _coefficient_size(value: Scalar) -> float:
    real, imag = parts(value)
    if imag or real.denominator == 1:
        return _number_size(value) + 1
    # a fraction: a numerator only where it is not 1, and a division
    top = 0.0 if real.numerator == 1 else 1 + _number_size(real.numerator + 0 * real)
    return top + 1 + _number_size(real.denominator + 0 * real)


def _product_size(node: Product | Power, size: dict[Node, float]) -> float:
    coefficient, top, bottom = product_parts(node)
    real, imag = parts(coefficient)
    result, pieces = 0.0, len(top)
    if real < 0 and not imag:
        result, coefficient, real = 1.0, -coefficient, -real
    if imag:
        result += _number_size(coefficient)
        pieces += 1
    else:
        if real.numerator != 1 or not top:
            result += _number_size(abs(real.numerator) + 0 * real)
            pieces += 1
        if real.denominator != 1:
            result += _number_size(real.denominator + 0 * real) + 1
    for factor in (*top, *bottom):
        result += _factor_size(factor, size)
    result += pieces - 1
    if len(top) > 1:
        result += BRACKET_WEIGHT * sum(isinstance(f, Sum) for f in top)  # w^2 - g^2 is read faster than (w - g)*(w + g)
    if bottom:
        result += len(bottom) + QUOTIENT_WEIGHT
    return result


def _factor_size(factor: Expression, size: dict[Node, float]) -> float:
    if isinstance(factor, Power):
        base = size.get(factor.base)
        base = measure(factor.base) if base is None else base
        if isinstance(factor.exponent, Number) and factor.exponent.is_rational:
            q = abs(factor.exponent.rational)
            if q == 1:
                return base
            if q.denominator == 2 and q.numerator == 1:
                nested = ROOT_WEIGHT if isinstance(factor.base, (Sum, Product)) else 0
                return base + 1 + nested
            return base + 1 + _number_size(q)
        exponent = size.get(factor.exponent)
        return base + 1 + (measure(factor.exponent) if exponent is None else exponent)
    known = size.get(factor)
    return measure(factor) if known is None else known
