"""`expand`: products and powers of sums multiplied out."""

from __future__ import annotations

from typing import Any

from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.nodes import Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import postorder, rebuild
from gelvo.forms.fractions import Form


def expand(expression: Expression) -> Expression:
    """All products and natural powers of sums multiplied out, inside functions too; denominators stay as they are.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> print(expand((x + y)**2))
    x^2 + 2*x*y + y^2
    """
    order = postorder(expression)
    tops = _tops(order, expression)
    done: dict[Node, Any] = {}
    for node in order:
        children = node.children
        new = tuple([done[c] for c in children])
        changed = any(a is not b for a, b in zip(new, children, strict=True))
        made = rebuild(node, new) if changed else node
        done[node] = _multiplied_out(made) if node in tops and isinstance(made, Expression) else made
    return done[expression]


def _inside(node: Node) -> tuple[Node, ...]:
    """The parts of a sum, product or natural power that are multiplied out together with it."""
    if isinstance(node, Product):
        return node.factors
    if isinstance(node, Power) and _natural(node):
        return (node.base,)
    return ()


def _tops(order: list[Node], root: Node) -> set[Node]:
    """Products and powers that are not themselves part of a larger one, and the parts of sums outside any."""
    covered: set[Node] = set()
    tops: set[Node] = set()
    for node in reversed(order):
        inner = _inside(node)
        if inner and node not in covered:
            tops.add(node)
        if node in covered:
            covered.update(node.children if isinstance(node, Sum) else inner)
        else:
            covered.update(inner)
    for node in order:  # a part that also stands outside, below a function or in a sum, is multiplied out on its own
        if not _inside(node) and not (isinstance(node, Sum) and node in covered):
            tops.update(c for c in node.children if _inside(c))
    if _inside(root):
        tops.add(root)
    return tops


def _natural(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole and node.exponent.rational > 0


def _has_sum(node: Expression) -> bool:
    factors = factors_in(node)
    return any(isinstance(f, Sum) or (isinstance(f, Power) and isinstance(f.base, Sum) and _natural(f)) for f in factors)


def _multiplied_out(node: Expression) -> Expression:
    """One product or power, its sums and what they hold multiplied out."""
    if not isinstance(node, (Product, Power)) or not _has_sum(node):
        return node
    if isinstance(node, Product):
        sums = [f for f in node.factors if isinstance(f, Sum)]
        if len(sums) == 1 and sum(1 for f in node.factors if _has_sum(f)) == 1 and not any(map(_has_sum, sums[0].terms)):
            outer = multiply_all([number(node.coefficient), *[f for f in node.factors if f is not sums[0]]])
            return _distributed(outer, sums[0])
    form = Form([node], opaque_denominators=True)
    quotient = form.of(node)
    expanded = form.expression(quotient.top)
    bottom = form.expression(form.denominator(quotient))
    return expanded if isinstance(bottom, Number) and bottom.value == 1 else _distributed(power(bottom, number(-1)), expanded)


def _distributed(outer: Expression, inner: Expression) -> Expression:
    """A product with a sum, term by term."""
    if not isinstance(inner, Sum):
        return multiply_all((outer, inner))
    if isinstance(outer, Number):
        return total([scale(t, c * outer.value) for t, c in inner.items()] + [number(inner.constant * outer.value)])
    terms = [multiply_all((outer, t, number(c))) for t, c in inner.items()]
    return total([*terms, multiply_all((outer, number(inner.constant)))])
