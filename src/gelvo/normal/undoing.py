"""An inverse function of the function that it undoes: acosh(cosh(x)) = |x| for real x, acos(cos(x)) = x between 0 and pi.

Source: DLMF 4.15, 4.23 and 4.37 (principal values).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.expression.building import constant, number, relation, sqrt
from gelvo.expression.nodes import Call, Condition, Expression, Node, Product
from gelvo.facts.store import Facts
from gelvo.functions.named import (
    ABS,
    ACOS,
    ACOSH,
    ACOTH,
    ACSCH,
    ASECH,
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    COS,
    COSH,
    COTH,
    CSCH,
    EXP,
    LN,
    SECH,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)


class _Undone(NamedTuple):
    """inner: the function that is undone; where: what a real argument must satisfy; value: what is left of it."""

    inner: str
    value: Callable[[Expression], Expression] = lambda x: x
    where: Callable[[Expression], tuple[Condition, ...]] = lambda x: ()


def _size(x: Expression) -> Expression:
    return ABS(x)


HALF_TURN = constant("pi")
QUARTER = HALF_TURN / 2
UNDONE: dict[str, _Undone] = {
    ASINH: _Undone(SINH),
    ACOSH: _Undone(COSH, _size),
    ATANH: _Undone(TANH),
    ACOTH: _Undone(COTH),
    ASECH: _Undone(SECH, _size),
    ACSCH: _Undone(CSCH),
    LN: _Undone(EXP),
    ASIN: _Undone(SIN, where=lambda x: (relation("<=", -QUARTER, x), relation("<=", x, QUARTER))),
    ACOS: _Undone(COS, where=lambda x: (relation("<=", number(0), x), relation("<=", x, HALF_TURN))),
    ATAN: _Undone(TAN, where=lambda x: (relation("<", -QUARTER, x), relation("<", x, QUARTER))),
}


def _of_two_arctangents(node: Call, half: Expression) -> Expression | None:
    """sin(2*atan(x)) and cos(2*atan(x)), which are rational in x."""
    if not is_a(half, ATAN):
        return None
    x = half.arguments[0]
    return (2 * x if is_a(node, SIN) else 1 - x**2) / (1 + x**2)


def wave_of_inverse(node: Node) -> Node:
    """sin(atan(x)) and its like, which are algebraic in a real x; anything else as it is.

    >>> from gelvo.expression.building import name
    >>> print(wave_of_inverse(COS(ASIN(name("x")))))
    sqrt(1 - x^2)
    """
    if not (is_a(node, SIN, COS) and is_a(node.arguments[0], ATAN, ASIN, ACOS)):
        return node
    inverse = node.arguments[0]
    x = inverse.arguments[0]
    if is_a(inverse, ATAN):
        return (x if is_a(node, SIN) else number(1)) / sqrt(1 + x**2)
    return x if is_a(node, SIN) == is_a(inverse, ASIN) else sqrt(1 - x**2)


def undone(node: Call, facts: Facts) -> Expression | None:
    """What is left of f(g(x)) where f undoes g under the facts, or None.

    >>> from gelvo.facts.store import Facts
    >>> from gelvo.expression.building import name
    >>> from gelvo.functions.named import ACOSH, COSH
    >>> print(undone(ACOSH(COSH(name("x"))), Facts()))
    abs(x)
    """
    rule = UNDONE.get(node.name)
    inner = node.arguments[0]
    if is_a(node, SIN, COS) and is_a(inner, ATAN) and facts.is_real(inner.arguments[0]):
        found = wave_of_inverse(node)
        return found if isinstance(found, Expression) else None
    if is_a(node, SIN, COS) and isinstance(inner, Product) and inner.coefficient == 2 and len(inner.factors) == 1:
        return _of_two_arctangents(node, inner.factors[0])
    if rule is None or not isinstance(inner, Call) or inner.name != rule.inner:
        return None
    x = inner.arguments[0]
    if not facts.is_real(x) or not all(facts.holds(c) is True for c in rule.where(x)):
        return None
    return rule.value(x)
