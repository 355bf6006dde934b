"""Replacing what a person means: a^2 inside a^4, x + y inside 2*x + 2*y, a*b inside a*b*c."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar, cast

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.nodes import Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import fresh_name, postorder, rebuild, substitute
from gelvo.functions.named import EXP, is_a
from gelvo.numbers.exact import Gaussian, Scalar

T = TypeVar("T", bound=Node)


def substitute_meant(root: T, table: Mapping[Expression, Expression]) -> T:
    """Every old part replaced by its new one, all at once; the new parts are not looked at again.

    >>> from gelvo.expression.building import name
    >>> a, b = name("a"), name("b")
    >>> print(substitute_meant(a**4 + a, {a**2: b}))
    b^2 + a
    """
    roots = [root, *table, *table.values()]
    stands: dict[Expression, Expression] = {}
    for old in table:
        stands[old] = fresh_name("replaced", *[r for r in roots if isinstance(r, Node)], *stands.values())
    done: dict[Node, Node] = {}
    for node in postorder(root):
        if isinstance(node, Expression) and node in stands:
            done[node] = stands[node]
            continue
        new = tuple([done[c] for c in node.children])
        changed = any(x is not y for x, y in zip(new, node.children, strict=True))
        made = rebuild(node, new) if changed else node
        for old, stand in stands.items():
            if isinstance(made, Expression):
                made = _replaced(made, old, stand)
        done[node] = made
    return cast(T, substitute(done[root], {stand: table[old] for old, stand in stands.items()}))


def _replaced(node: Expression, old: Expression, new: Expression) -> Expression:
    if isinstance(old, Sum) and isinstance(node, Sum):
        return _in_sum(node, old, new)
    if isinstance(old, Power) and isinstance(node, Power) and node.base is old.base:
        return _in_power(node, old, new)
    if is_a(old, EXP) and is_a(node, EXP):
        quotient = node.arguments[0] / old.arguments[0]
        return power(new, quotient) if isinstance(quotient, Number) and quotient.is_whole else node
    if isinstance(old, Product) and isinstance(node, (Product, Power)):
        return _in_product(node, old, new)
    return node


def _in_sum(node: Sum, old: Sum, new: Expression) -> Expression:
    """c*(all terms of the old sum) inside a longer sum."""
    mine = dict(node.items())
    ratio: Scalar | None = None
    for term, c in old.items():
        present = mine.get(term)
        if present is None or (ratio is not None and present / c != ratio):
            return node
        ratio = present / c
    if ratio is None or (old.constant and not node.constant):
        return node
    rest = total([node, scale(old, -ratio)])
    if old.constant and rest is node:
        return node
    return total([rest, scale(new, ratio)])


def _in_power(node: Power, old: Power, new: Expression) -> Expression:
    """a^(q*k + r) as new^q * a^r; the rest r is a whole number below k, or nothing."""
    k, m = old.exponent, node.exponent
    if isinstance(k, Number) and isinstance(m, Number) and k.is_rational and m.is_rational and k.rational:
        ratio = m.rational / k.rational
        if ratio.denominator == 1:
            return power(new, number(ratio))
        if k.is_whole and m.is_whole and ratio > 1:
            times = ratio.numerator // ratio.denominator
            return power(new, number(times)) * power(node.base, number(m.rational - times * k.rational))
        return node
    quotient = m / k
    return power(new, quotient) if isinstance(quotient, Number) and quotient.is_whole else node


def _factors(node: Expression) -> tuple[Scalar, dict[Expression, Expression]]:
    if isinstance(node, Product):
        return node.coefficient, dict(base_and_exponent(f) for f in node.factors)
    return mpq(1), dict([base_and_exponent(node)])


def _in_product(node: Expression, old: Product, new: Expression) -> Expression:
    """a*b inside a^2*b*c: as often as all factors of the old product occur."""
    coefficient, mine = _factors(node)
    own, theirs = _factors(old)
    if isinstance(coefficient, Gaussian) or isinstance(own, Gaussian):
        return node
    times: int | None = None
    for base, k in theirs.items():
        m = mine.get(base)
        if m is None or not isinstance(m, Number) or not isinstance(k, Number) or not (m.is_rational and k.is_rational):
            if m is not None and m is k:
                times = 1 if times in (None, 1) else times
                continue
            return node
        ratio = m.rational / k.rational
        if ratio < 1:
            return node
        count = int(ratio.numerator // ratio.denominator)
        times = count if times is None else min(times, count)
    if not times:
        return node
    rest: list[Expression] = [number(coefficient / own**times)]
    for base, m in mine.items():
        part = theirs.get(base)
        rest.append(power(base, m - times * part if part is not None else m))
    return multiply_all([*rest, power(new, number(times))])
