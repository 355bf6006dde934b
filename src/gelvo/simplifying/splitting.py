"""`expand` and `combine` of one kind of thing: powers, products, waves, logarithms, exponentials, roots.

Each rule holds under the facts given; what they do not allow stays as it is.
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.nodes import Call, Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.forms.angles import angles_apart, products_as_sums
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, LN, is_a
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import Gaussian
from gelvo.simplifying.families.logarithms import joined
from gelvo.simplifying.joining import exponentials_together, powers_together, roots_together
from gelvo.simplifying.search import shorter

Rule = Callable[[Expression, Facts], Expression]


def expand_only(expression: Expression, kind: str, facts: Facts) -> Expression:
    """One kind of thing taken apart.

    kind: "powers" ((a*b)^n -> a^n*b^n), "products" (sums multiplied out, powers of sums left), "trigonometric" (sums and multiples
    of angles), "logarithms" (of products and powers).

    >>> from gelvo.expression.building import name
    >>> from gelvo.functions.named import SIN
    >>> print(expand_only(SIN(name("x") + name("y")), "trigonometric", Facts()))
    cos(x)*sin(y) + cos(y)*sin(x)
    """
    return _chosen(_EXPAND, kind, "expand")(expression, facts)


def combine_only(expression: Expression, kind: str, facts: Facts) -> Expression:
    """One kind of thing put together, the way back from `expand_only`.

    kind: "logarithms", "powers", "exponentials", "roots" or "trigonometric" (products of waves as sums of waves).

    >>> from gelvo.expression.building import name
    >>> a, b = name("a", "positive"), name("b", "positive")
    >>> print(combine_only(LN(a) + 2*LN(b), "logarithms", Facts()))
    ln(a*b^2)
    """
    return _chosen(_COMBINE, kind, "combine")(expression, facts)


def _chosen(table: dict[str, Rule], kind: str, what: str) -> Rule:
    if kind not in table:
        raise DomainError(f'{what} has no kind "{kind}": choose one of {", ".join(table)}')
    return table[kind]


def _powers_apart(expression: Expression, facts: Facts) -> Expression:
    def visit(node: Node) -> Node:
        if not isinstance(node, Power):
            return node
        base, k = node.base, node.exponent
        if isinstance(base, Product) and not isinstance(base.coefficient, Gaussian):
            outside: list[Expression] = []
            inside: list[Expression] = []
            for factor in (number(base.coefficient), *base.factors):
                good = facts.is_integer(k) or facts.is_nonnegative(factor)
                (outside if good else inside).append(factor)
            if len(inside) <= 1 or facts.is_integer(k):
                return multiply_all([power(f, k) for f in (*outside, *inside)])
            return multiply_all([*[power(f, k) for f in outside], power(multiply_all(inside), k)])
        if isinstance(base, Power) and facts.is_real(base.exponent) and (facts.is_positive(base.base) or facts.is_integer(k)):
            return power(base.base, base.exponent * k)
        if isinstance(base, Power) and isinstance(k, Number):
            return prepared(node, facts, waves=False)
        return node

    return transform(expression, visit)


def _products_apart(expression: Expression, facts: Facts) -> Expression:
    def visit(node: Node) -> Node:
        if not isinstance(node, Product):
            return node
        terms: list[Expression] = [number(node.coefficient)]
        for factor in node.factors:
            if isinstance(factor, Sum):
                pieces = [*[scale(t, c) for t, c in factor.items()], number(factor.constant)]
                terms = [a * b for a in terms for b in pieces]
            else:
                terms = [t * factor for t in terms]
        return total(terms)

    return transform(expression, visit)


def _waves_apart(expression: Expression, facts: Facts) -> Expression:
    return expand(transform(expression, lambda n: angles_apart(n) if isinstance(n, Call) else n))


def _logarithms_apart(expression: Expression, facts: Facts) -> Expression:
    def visit(node: Node) -> Node:
        return _logarithm_apart(node, facts) if is_a(node, LN) else node

    return transform(expression, visit)


def _logarithm_apart(node: Call, facts: Facts) -> Expression:
    x = node.arguments[0]
    if isinstance(x, Sum):
        x = factored(x)
    factors = [number(x.coefficient), *x.factors] if isinstance(x, Product) else [x]
    outside: list[Expression] = []
    inside: list[Expression] = []
    for factor in factors:
        base, k = base_and_exponent(factor)
        if isinstance(factor, Number):
            value = factor.value
            if isinstance(value, Gaussian) or value < 0:
                inside.append(factor)
            else:
                outside.append(LN(number(value.numerator)) - LN(number(value.denominator)))
        elif facts.is_positive(base) and facts.is_real(k):
            outside.append(k * LN(base))
        elif isinstance(k, Number) and k.is_whole and not k.rational % 2 and facts.is_real(base):
            outside.append(k * LN(ABS(base)))
        else:
            inside.append(factor)
    rest = multiply_all(inside)
    return total([*outside, LN(rest)]) if outside else node


def _logarithms_together(expression: Expression, facts: Facts) -> Expression:
    return transform(expression, lambda n: joined(n, facts, shorter) if isinstance(n, Sum) else n)


def _waves_together(expression: Expression, facts: Facts) -> Expression:
    return products_as_sums(expression)


_EXPAND: dict[str, Rule] = {
    "powers": _powers_apart, "products": _products_apart, "trigonometric": _waves_apart, "logarithms": _logarithms_apart,
}  # fmt: skip
_COMBINE: dict[str, Rule] = {
    "logarithms": _logarithms_together, "powers": powers_together, "exponentials": exponentials_together, "roots": roots_together,
    "trigonometric": _waves_together,
}  # fmt: skip
