"""`expand`: products and powers of sums multiplied out."""

from __future__ import annotations

from typing import Any

from gelvo.algebra.fractions import Form
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Expression, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder, rebuild


def expand(expression: Expression) -> Expression:
    """All products and natural powers of sums multiplied out, inside functions too; denominators stay as they are.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> print(expand((x + y)**2))
    x^2 + 2*x*y + y^2
    """
    done: dict[Node, Any] = {}
    for node in postorder(expression):
        children = node.children
        if children:
            new = tuple([done.get(c, c) for c in children])
            node_new = rebuild(node, new) if any(a is not b for a, b in zip(new, children, strict=True)) else node
        else:
            node_new = node
        assert isinstance(node_new, Node)
        done[node] = _multiplied_out(node_new) if isinstance(node_new, (Product, Power)) else node_new
    return done[expression]  # type: ignore[no-any-return]


def _multiplied_out(node: Product | Power) -> Expression:
    """One product whose factors are expanded already."""
    factors = node.factors if isinstance(node, Product) else (node,)
    sums: list[Expression] = []
    rest: list[Expression] = [number(node.coefficient)] if isinstance(node, Product) else []
    for factor in factors:
        if isinstance(factor, Sum) or _is_power_of_sum(factor):
            sums.append(factor)
        else:
            rest.append(factor)
    if not sums:
        return node
    if len(sums) == 1 and isinstance(sums[0], Sum):
        outer = multiply_all(rest)
        terms = [multiply_all((outer, t, number(c))) for t, c in sums[0].items()]
        return total([*terms, multiply_all((outer, number(sums[0].constant)))])
    form = Form(sums)
    table = form.convert()
    product = table[sums[0]]
    for factor in sums[1:]:
        product = form.multiply(product, table[factor])
    expanded = form.expression(product.top)
    bottom = form.expression(form.denominator(product))
    outer = multiply_all([*rest, power(bottom, number(-1))])
    if isinstance(expanded, Sum):
        terms = [multiply_all((outer, t, number(c))) for t, c in expanded.items()]
        return total([*terms, multiply_all((outer, number(expanded.constant)))])
    return multiply_all((outer, expanded))


def _is_power_of_sum(factor: Expression) -> bool:
    if not (isinstance(factor, Power) and isinstance(factor.base, Sum) and isinstance(factor.exponent, Number)):
        return False
    return factor.exponent.is_whole and factor.exponent.rational > 0
