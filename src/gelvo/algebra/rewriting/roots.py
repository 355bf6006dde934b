"""Roots: nested square roots of numbers, rational denominators, roots of products joined."""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.algebra.expanding import expand
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import factored
from gelvo.algebra.normal import prepared
from gelvo.algebra.splitting import combine_only
from gelvo.expression.building import multiply_all, negate, number, power, scale, split_coefficient, total
from gelvo.expression.nodes import Call, Expression, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder, transform
from gelvo.numbers.exact import HALF, Gaussian


def root_forms(expression: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """sqrt(3 + 2*sqrt(2)) -> sqrt(2) + 1, sqrt(a)*sqrt(b) -> sqrt(a*b) for a or b not negative."""
    yield "nested roots opened", transform(expression, lambda n: denested(n, facts))
    yield "roots joined", transform(expression, lambda n: _joined(n, facts))
    yield "rational denominators", transform(expression, _rationalized)
    if any(isinstance(n, Power) and not isinstance(n.exponent, Number) for n in postorder(expression)):
        joined = combine_only(expression, "exponentials", facts)
        yield "powers of numbers joined", joined
        yield "powers joined", combine_only(joined, "powers", facts)


def denested(node: Expression, facts: Facts) -> Expression:
    """sqrt(A + t) = sqrt((A + D)/2) ± sqrt((A - D)/2) with D = sqrt(A^2 - t^2), where t has a root and D has none."""
    if not (isinstance(node, Power) and isinstance(node.exponent, Number) and isinstance(node.base, Sum)):
        return node
    if not node.exponent.is_rational or abs(node.exponent.rational) != HALF:
        return node
    for term, coefficient in node.base.items():
        if isinstance(coefficient, Gaussian) or not _has_root(term):
            continue
        t = scale(term, coefficient)
        found = _opened(total((node.base, negate(t))), t, facts)
        if found is not None:
            return found if node.exponent.rational > 0 else power(found, number(-1))
    return node


def _has_root(term: Expression) -> bool:
    factors = term.factors if isinstance(term, Product) else (term,)
    return any(isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.value == HALF for f in factors)


def _roots_in(e: Expression) -> int:
    """How many terms have a root."""
    return sum(map(_has_root, e.terms)) if isinstance(e, Sum) else int(_has_root(e))


def _opened(rest: Expression, t: Expression, facts: Facts) -> Expression | None:
    sign = 1 if facts.is_nonnegative(t) else -1 if facts.is_nonpositive(t) else 0
    if not sign:
        return None
    flat = expand(rest * rest - t * t)
    if _roots_in(flat) > _roots_in(rest):  # fewer roots at every step, or opening a root by a root may never end
        return None
    gap = factored(flat)
    root = prepared(power(gap, number(HALF)), facts, waves=False)
    if any(isinstance(n, Power) and not _plain(n) for n in postorder(root)) and not isinstance(gap, Number):
        return None
    if isinstance(gap, Number) and not isinstance(root, Number):
        return None
    if sign > 0:  # the sum of both roots does not ask which is larger
        root = transform(root, lambda n: n.arguments[0] if isinstance(n, Call) and n.name == "abs" else n)
    upper, lower = expand((rest + root) / 2), expand((rest - root) / 2)
    if facts.is_nonpositive(root):
        upper, lower = lower, upper
    elif sign < 0 and not facts.is_nonnegative(root):
        return None
    if not (facts.is_nonnegative(upper) and facts.is_nonnegative(lower)):
        return None
    half = number(HALF)
    return power(factored(upper), half) + sign * power(factored(lower), half)


def _plain(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole


def _joined(node: Expression, facts: Facts) -> Expression:
    """Roots of one degree in a product under one sign; at most one radicand may be negative, and none below a fraction line.

    sqrt(1/b) is not 1/sqrt(b) for a negative b.
    """
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
    unsure = [f for f in factors if not facts.is_positive(f.base)]  # type: ignore[attr-defined]
    if len(factors) < 2 or len(unsure) > 1 or any(f.exponent.rational < 0 for f in unsure):  # type: ignore[attr-defined]
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
    product = expand(product)
    if isinstance(product, Number) and product.value:
        return expand(other / product)
    return node
