"""Formulas rewritten for a variable that grows without bound: by their logarithm, or by Lambert's function as the variable."""

from __future__ import annotations

from gelvo.expression.building import number, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Node, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, substitute, transform
from gelvo.facts.store import Facts
from gelvo.functions.named import EXP, FACTORIAL, GAMMA, LAMBERTW, LN, LOGGAMMA, is_a


def without_lambert(e: Expression, x: Name, w: Name) -> Expression | None:
    """With x = w*exp(w), where lambertw(x) is w; None where it does not stand in the formula.

    >>> from gelvo.expression.building import call, name
    >>> x, w = name("x"), name("w")
    >>> print(without_lambert(call(LAMBERTW, x) / x, x, w))
    exp(-w)
    """
    plain = transform(e, lambda node: w if is_a(node, LAMBERTW) and node.arguments[0] is x else node)
    return None if plain is e or has_call(plain, (LAMBERTW,)) else substitute(plain, {x: w * EXP(w)})


def logarithm_of_product(e: Expression, x: Name, facts: Facts, of: tuple[str, ...] = ()) -> Expression | None:
    """The logarithm, factor by factor, of a positive formula with a moving exponent; None for any other.

    of: functions of which one has to stand in the base of that power.
    """
    factors = [number(e.coefficient), *factors_in(e)] if isinstance(e, Product) else [e]
    moving = [f for f in factors if isinstance(f, Power) and contains(f.exponent, x) and (not of or has_call(f.base, of, x))]
    far = facts.with_facts([x > number(10)])
    if not moving or not all(far.is_positive(base_and_exponent(f)[0]) for f in factors):
        return None
    pieces = [exponent * LN(base) for base, exponent in map(base_and_exponent, factors)]
    return transform(total([p for p in pieces if p is not ZERO]), _by_loggamma)


def _by_loggamma(node: Node) -> Node:
    if is_a(node, LN) and is_a(node.arguments[0], GAMMA, FACTORIAL):
        inner = node.arguments[0]
        return LOGGAMMA(inner.arguments[0] + (1 if is_a(inner, FACTORIAL) else 0))
    return node
