"""How much a reader sees: the measure that `simplify` makes small.

Numbers, names, calls and operations count one each; nested roots, quotients and long numbers cost more.
"""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.expression.display import Factor, product_parts, quotient, split_sign
from gelvo.expression.nodes import Call, Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import postorder
from gelvo.functions.named import EXP, is_a
from gelvo.numbers.exact import HALF, Scalar, parts

ROOT_WEIGHT, QUOTIENT_WEIGHT, BRACKET_WEIGHT, DIGITS_FREE = 0.5, 0.25, 0.125, 4
MINUS_WEIGHT = 1.05  # -(x + 1) rather than (-x - 1)
ONE_WEIGHT = 0.95  # a*(x + 1) rather than a*x + a, of the same length
GROWTH_WEIGHT = 1.5  # of exp(-2*t)*(a*exp(t) - b), whose parts run away from each other


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
    return sizes([root], {})[root]


def sizes(roots: Sequence[Node], known: dict[Node, float]) -> dict[Node, float]:
    """The sizes of formulas and of all their parts, added to those that are known."""
    for node in postorder(*roots):
        if node not in known:
            known[node] = _size(node, known)
    return known


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
        result += 1 + (ONE_WEIGHT if shown == 1 else _number_size(shown))
    count = len(node.terms) + bool(node.constant)
    return result + (MINUS_WEIGHT if negatives == count else 0)


def _coefficient_size(value: Scalar) -> float:
    real, imag = parts(value)
    if imag or real.denominator == 1:
        return _number_size(value) + 1
    # a fraction: a numerator only where it is not 1, and a division
    top = 0.0 if real.numerator == 1 else 1 + _number_size(real.numerator + 0 * real)
    return top + 1 + _number_size(real.denominator + 0 * real)


def _product_size(node: Product | Power, size: dict[Node, float]) -> float:
    if isinstance(node, Product) and sum(map(_is_root, node.factors)) > 1:
        return _joined_size(node, size)
    coefficient, top, bottom = product_parts(node)
    real, imag = parts(coefficient)
    result, pieces = 0.0, len(top)
    if real < 0 and not imag:
        alone = len(top) == 1 and not bottom and isinstance(top[0], Sum)  # -x - 1 rather than -(x + 1)
        result, coefficient, real = MINUS_WEIGHT + 0.05 if alone else 1.0, -coefficient, -real
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
        sums = [f for f in top if isinstance(f, Sum)]
        # w^2 - g^2 is read faster than (w - g)*(w + g), and V*(1 - exp(-t)) faster than V - V*exp(-t)
        with_calls = len(sums) == 1 and any(isinstance(g, Call) for t in sums[0].terms for g in factors_in(t))
        result += -BRACKET_WEIGHT / 2 if with_calls else BRACKET_WEIGHT * len(sums)
        result += GROWTH_WEIGHT * (with_calls and any(is_a(f, EXP) for f in top) and any(map(_has_exponential, sums[0].terms)))
    if bottom:
        result += len(bottom) + QUOTIENT_WEIGHT
    return result


def _has_exponential(term: Expression) -> bool:
    return any(is_a(f, EXP) for f in factors_in(term))


def _is_below_one(base: Expression) -> bool:
    """Whether a radicand is 1/…: the line is drawn better outside."""
    return product_parts(base)[1] == [] and isinstance(base, (Power, Product))


def _is_root(factor: Expression) -> bool:
    return isinstance(factor, Power) and factor.exponent.is_rational and factor.exponent.rational.denominator > 1


def _joined_size(node: Product, size: dict[Node, float]) -> float:
    """The size of a product with several roots, those counted as one that are shown as one: sqrt(pi/a)."""
    negative, coefficient = split_sign(node.coefficient)
    above, below = quotient(coefficient, node.factors)
    result = float(negative) + sum(_shown_size(f, size) for f in (*above, *below)) + len(above) - 1
    return result + (len(below) + QUOTIENT_WEIGHT if below else 0)


def _shown_size(factor: Factor, size: dict[Node, float]) -> float:
    inside = [measure(b) if size.get(b) is None else size[b] for b in (*factor.bases, *factor.divisors)]
    result = sum(inside) + len(inside) - 1 + (QUOTIENT_WEIGHT if factor.divisors else 0)
    if isinstance(factor.exponent, Expression):
        return result + 1 + measure(factor.exponent)
    if factor.exponent == 1:
        return result
    nested = len(inside) > 1 or isinstance(factor.bases[0], (Sum, Product))
    return result + 1 + (ROOT_WEIGHT * nested if factor.exponent == HALF else _number_size(factor.exponent))


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
                return base + 1 + (2 * ROOT_WEIGHT if _is_below_one(factor.base) else nested)
            return base + 1 + _number_size(q)
        exponent = size.get(factor.exponent)
        return base + 1 + (measure(factor.exponent) if exponent is None else exponent)
    known = size.get(factor)
    return measure(factor) if known is None else known
