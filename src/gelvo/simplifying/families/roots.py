"""Roots: nested square roots opened, rational denominators, roots of products joined."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression.building import multiply_all, number, power, split_coefficient, sqrt, total
from gelvo.expression.display import stands_below
from gelvo.expression.nodes import Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import distinct_nodes, postorder, transform
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.measure import measure
from gelvo.normal.prepare import Preparation
from gelvo.normal.rules.nested_roots import denested
from gelvo.numbers.exact import HALF
from gelvo.simplifying.family import Shorter
from gelvo.simplifying.joining import exponentials_together, powers_together

MOST_MULTIPLIED_OUT = 40  # parts of a radicand
MOST_DIVISORS = 4  # sums below a fraction line that are multiplied out


def root_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """sqrt(3 + 2*sqrt(2)) -> sqrt(2) + 1, sqrt(a)*sqrt(b) -> sqrt(a*b) for a or b not negative."""
    work = Preparation(facts)
    yield "nested roots opened", transform(expression, lambda n: denested(work, n) if isinstance(n, Expression) else n)
    if any(isinstance(n, Power) and n.exponent.is_rational and not n.exponent.is_whole for n in postorder(expression)):
        yield "roots joined", transform(expression, lambda n: _joined(n, facts))
        yield "radicands multiplied out", _roots_multiplied_out(expression, facts)
        yield "roots held against divisors", transform(expression, _against_divisors)
    yield "rational denominators", transform(expression, _rationalized)
    if any(isinstance(n, Power) and not isinstance(n.exponent, Number) for n in postorder(expression)):
        joined = exponentials_together(expression, facts)
        yield "powers of numbers joined", joined
        yield "powers joined", powers_together(joined, facts)


def _joined(node: Node, facts: Facts) -> Node:
    """Roots of one degree in a product under one sign; at most one radicand may be negative, and none below a fraction line.

    sqrt(1/b) is not 1/sqrt(b) for a negative b.
    """
    if not isinstance(node, Product):
        return node
    factors: list[Power] = []
    rest: list[Expression] = [number(node.coefficient)]
    for factor in node.factors:
        root = isinstance(factor, Power) and factor.exponent.is_rational and abs(factor.exponent.rational) == HALF
        if isinstance(factor, Power) and root and not isinstance(factor.base, Number):
            factors.append(factor)
        else:
            rest.append(factor)
    unsure = [f for f in factors if not facts.is_positive(f.base)]
    if len(factors) < 2 or len(unsure) > 1 or any(f.exponent.rational < 0 for f in unsure):
        return node
    radicand = multiply_all([power(f.base, number(f.exponent.rational * 2)) for f in factors])
    return multiply_all([*rest, _multiplied_out(sqrt(radicand), facts)])


def _roots_multiplied_out(expression: Expression, facts: Facts) -> Expression:
    return transform(expression, lambda n: _multiplied_out(n, facts) if isinstance(n, Power) else n)


def _multiplied_out(node: Expression, facts: Facts) -> Expression:
    """sqrt(1/((a - b)*(a + b))) -> 1/sqrt(a^2 - b^2) where that is positive."""
    if not (isinstance(node, Power) and node.exponent.is_rational and not node.exponent.is_whole):
        return node
    base, exponent = node.base, node.exponent.rational
    if all(isinstance(f, Power) and stands_below(f) for f in factors_in(base)) and facts.is_positive(base):
        base, exponent = 1 / base, -exponent
    if isinstance(base, Product) and distinct_nodes(base) <= MOST_MULTIPLIED_OUT:
        base = min(base, expand(base), key=measure)
    return power(base, number(exponent))


def _against_divisors(node: Node) -> Node:
    """sqrt(1 - b^2)/((b - 1)*(b + 1)) -> -1/sqrt(1 - b^2): what stands below is the radicand, but for a number."""
    if not isinstance(node, Product):
        return node
    below = [
        f
        for f in node.factors
        if isinstance(f, Power) and f.exponent.is_rational and f.exponent.rational == -1 and isinstance(f.base, Sum)
    ]
    divisor = expand(multiply_all([f.base for f in below])) if 0 < len(below) <= MOST_DIVISORS else None
    for root in node.factors if divisor is not None else ():
        if not (
            isinstance(root, Power)
            and root.exponent.is_rational
            and root.exponent.rational == HALF
            and isinstance(root.base, Sum)
        ):
            continue
        ratio = _number_times(divisor, root.base)
        if ratio is not None:
            rest = [f for f in node.factors if f is not root and f not in below]
            return multiply_all([number(node.coefficient), *rest, power(root.base, number(-HALF)), 1 / ratio])
    return node


def _number_times(one: Expression | None, other: Sum) -> Expression | None:
    """The number that makes one sum of another; None where there is none."""
    if not isinstance(one, Sum):
        return None
    first = dict(one.items()).get(other.terms[0])
    ratio = None if first is None else number(first / other.coefficients[0])
    return ratio if ratio is not None and expand(ratio * other) is one else None


def _rationalized(node: Node) -> Node:
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
