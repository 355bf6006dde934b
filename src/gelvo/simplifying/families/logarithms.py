"""Sums of logarithms of positive things as one logarithm."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression.building import multiply_all, negate, number, power, scale, total
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.measure import measure
from gelvo.functions.named import ABS, ACOSH, ASINH, ATANH, LN, is_a
from gelvo.numbers.exact import HALF, Gaussian, Scalar, real
from gelvo.simplifying.family import Shorter

LARGEST_POWER = 12
"""The highest power that sums of logarithms are joined to: ln(a^72/b^7) is read worse than 72*ln(a) - 7*ln(b)."""


def logarithm_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """ln(a) + 2*ln(b) -> ln(a*b^2) where a and b are positive."""

    def visit(node: Node) -> Node:
        return joined(node, facts, shorter) if isinstance(node, Sum) else node

    together = transform(expression, visit)
    yield "logarithms joined", together
    yield "inverse hyperbolic functions", transform(together, lambda n: _hyperbolic(n, facts))


def joined(node: Sum, facts: Facts, shorter: Shorter) -> Expression:
    rest: list[Expression] = [number(node.constant)]
    groups: dict[Expression, list[tuple[Expression, Scalar]]] = {}
    for term, coefficient in node.items():
        outer, logarithm = _split(term)
        plain = not isinstance(coefficient, Gaussian)
        if logarithm is not None and plain and _has_real_logarithm(logarithm.arguments[0], facts):
            groups.setdefault(outer, []).append((logarithm.arguments[0], coefficient))
        else:
            rest.append(scale(term, coefficient))
    for outer, found in groups.items():
        one = _one_logarithm(found, facts, shorter)
        if one is not None:
            rest.append(outer * one)
        else:
            rest.extend(scale(outer * LN(argument), c) for argument, c in found)
    return total(rest)


def _one_logarithm(found: list[tuple[Expression, Scalar]], facts: Facts, shorter: Shorter) -> Expression | None:
    """c_1*ln(a_1) + c_2*ln(a_2) + … as one logarithm; None where there is only one, or the powers get long."""
    common = abs(real(found[0][1]))
    if any((c / common).denominator != 1 for _, c in found):
        common = common * 0 + 1
    if len(found) == 1 or any(abs(c / common) > LARGEST_POWER for _, c in found):
        return None
    inside = [power(argument, number(c / common)) for argument, c in found]
    product = factored(multiply_all(inside))
    if not all(facts.is_positive(argument) for argument, _ in found):
        # sizes are joined only where that cancels something: ln|x - 1| - ln|x + 1| is read as it stands
        product = ABS(shorter(multiply_all([_inside(i) for i in inside]), facts))
        if measure(product) >= max(measure(argument) for argument, _ in found):
            return None
    return scale(LN(product), common)


def _hyperbolic(node: Node, facts: Facts) -> Node:
    """ln(u + sqrt(u^2 + 1)) -> asinh(u), ln((1 + u)/(1 - u)) -> 2*atanh(u) where both are real."""
    if not is_a(node, LN):
        return node
    x = node.arguments[0]
    if isinstance(x, Sum):
        for term, c in x.items():
            if isinstance(term, Power) and isinstance(term.exponent, Number) and term.exponent.value == HALF and c == 1:
                u = total((x, negate(term)))
                gap = expand(term.base - u * u)
                if gap is number(1) and facts.is_real(u):
                    return ASINH(u)
                if gap is number(-1) and facts.is_nonnegative(u - 1):
                    return ACOSH(u)
    top, bottom = quotient_parts(x)
    if isinstance(bottom, Number) or _has_high_powers(x):
        return node
    u = factored((top - bottom) / (top + bottom))
    if isinstance(u, (Name, Number)) or (isinstance(u, (Product, Power)) and measure(u) < measure(x) - 2):
        if facts.is_positive(u + 1) and facts.is_positive(1 - u):
            return 2 * ATANH(u)
    return node


def _has_high_powers(x: Expression) -> bool:
    """Whether multiplying x out is work without a gain: no simple u has (1 + u)/(1 - u) with such powers."""
    powers = [f.exponent for f in factors_in(x) if isinstance(f, Power)]
    return any(isinstance(k, Number) and abs(real(k.value)) > LARGEST_POWER for k in powers)


def _inside(x: Expression) -> Expression:
    """abs(u)^k as u^k."""
    base, k = base_and_exponent(x)
    return power(base.arguments[0], k) if is_a(base, ABS) else x


def _has_real_logarithm(x: Expression, facts: Facts) -> bool:
    """Whether x is positive wherever its logarithm has a value."""
    return facts.is_positive(x) or (is_a(x, ABS)) or facts.is_nonnegative(x)


def _split(term: Expression) -> tuple[Expression, Call | None]:
    if is_a(term, LN):
        return number(1), term
    if isinstance(term, Product):
        logarithms = [f for f in term.factors if is_a(f, LN)]
        if len(logarithms) == 1:
            return multiply_all([f for f in term.factors if f is not logarithms[0]]), logarithms[0]
    return term, None
