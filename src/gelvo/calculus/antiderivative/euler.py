"""One square root of a quadratic beside anything else: a new variable in which the root, the variable and the inverse functions are rational.

Source: L. Euler, "Institutiones calculi integralis" (1768), the substitutions for sqrt(a + b*x + c*x^2).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.antiderivative.support import Search, half_odd
from gelvo.calculus.found import Found
from gelvo.expression import known as bits
from gelvo.expression.building import call, number, power, sqrt
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Node, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.conditions import positive
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import ACOS, ACOSH, ACSC, ASEC, ASIN, ASINH, ATAN, LN, is_a
from gelvo.normal.prepare import prepared
from gelvo.normal.rationalizing import rationalize_denominator


class Parameter(NamedTuple):
    """u = (x - middle)/half in a new variable w: u and the root as functions of w, the inverse functions of u, and w itself."""

    u: Callable[[Expression], Expression]
    root: Callable[[Expression], Expression]
    inverses: dict[str, Callable[[Expression], Expression]]
    back: Callable[[Expression, Expression], Expression]
    undone: Callable[[Expression, Expression], dict[Node, Expression]]
    known: int


CIRCLE = Parameter(  # sqrt(1 - u^2), t = tan(angle/2)
    lambda t: 2 * t / (1 + t**2),
    lambda t: (1 - t**2) / (1 + t**2),
    {ASIN: lambda t: 2 * ATAN(t), ACOS: lambda t: PI / 2 - 2 * ATAN(t)},
    lambda u, root: u / (1 + root),
    lambda t, u: {ATAN(t): ASIN(u) / 2},
    bits.REAL,
)
RISING = Parameter(  # sqrt(u^2 + 1), w = exp(asinh(u))
    lambda w: (w - 1 / w) / 2,
    lambda w: (w + 1 / w) / 2,
    {ASINH: LN},
    lambda u, root: u + root,
    lambda w, u: {LN(w): ASINH(u)},
    bits.POSITIVE,
)
OUTSIDE = Parameter(  # sqrt(u^2 - 1), on both sides of the gap
    lambda w: (w + 1 / w) / 2, lambda w: (w - 1 / w) / 2, {ACOSH: LN}, lambda u, root: u + root, lambda w, u: {}, bits.REAL
)
BEYOND = OUTSIDE._replace(  # for u > 1 only
    inverses={ACOSH: LN, ASEC: lambda w: 2 * ATAN(w) - PI / 2, ACSC: lambda w: PI - 2 * ATAN(w)}, known=bits.POSITIVE
)
NATURAL: dict[str, int] = {ASIN: -1, ACOS: -1, ASINH: 1, ACOSH: 2, ASEC: 3, ACSC: 3}


def euler(f: Expression, search: Search) -> Found | None:
    """x^3*exp(asin(x))/sqrt(1 - x^2) with x = 2*t/(1 + t^2): exponentials and arctangents of rational functions."""
    chosen = _quadratic(f, search)
    if chosen is None:
        return None
    (c, b, a), inverse = chosen
    facts, x = search.facts, search.variable
    middle = uni.lowest_terms(-b / (2 * a))
    gap = uni.lowest_terms((b * b - 4 * a * c) / (4 * a * a))  # q = a*((x - middle)^2 - gap)
    conditions: list[Condition] = []
    if facts.is_negative(a) and facts.is_positive(gap):
        parameter, half = CIRCLE, sqrt(gap)
    elif facts.is_positive(a) and facts.is_negative(gap):
        parameter, half = RISING, sqrt(-gap)
    elif facts.is_positive(a) and facts.is_positive(gap):
        parameter, half = OUTSIDE, sqrt(gap)
        if inverse is not None and NATURAL[inverse] == 3:
            parameter = BEYOND
            conditions.append(positive(x - middle))
    else:
        return None
    half = prepared(half, facts, waves=False)
    if not facts.is_positive(half):
        return None
    return _with_parameter(f, search, parameter, middle, half, (c, b, a), conditions)


def _quadratic(f: Expression, search: Search) -> tuple[tuple[Expression, Expression, Expression], str | None] | None:
    """The quadratic under the roots or behind the inverse functions, one up to a factor."""
    x = search.variable
    found: tuple[Expression, Expression, Expression] | None = None
    inverse: str | None = None
    for node in postorder(f):
        quadratic: list[Expression] | None = None
        if isinstance(node, Power) and contains(node.base, x) and not _whole(node.exponent):
            if not half_odd(node.exponent):
                return None
            quadratic = uni.coefficients_of(node.base, x)
        elif is_a(node, *NATURAL) and contains(node, x):
            line = uni.linear_parts(node.arguments[0], x)
            if line is None:
                continue
            u = node.arguments[0]
            quadratic = uni.coefficients_of(1 - u**2 if NATURAL[node.name] < 0 else u**2 + (1 if node.name == ASINH else -1), x)
            inverse = node.name
        else:
            continue
        if quadratic is None or len(quadratic) != 3:
            return None
        if found is None:
            found = (quadratic[0], quadratic[1], quadratic[2])
        elif any(uni.lowest_terms(p * found[2] - q * quadratic[2]) is not ZERO for p, q in zip(quadratic, found, strict=True)):
            return None
    return None if found is None else (found, inverse)


def _with_parameter(
    f: Expression, search: Search, parameter: Parameter, middle: Expression, half: Expression,
    quadratic: tuple[Expression, Expression, Expression], conditions: list[Condition],
) -> Found | None:  # fmt: skip
    x, facts = search.variable, search.facts
    w = facts.new_name("w", f)
    place = middle + half * parameter.u(w)
    u = uni.lowest_terms((x - middle) / half)
    size = half**2 * (-1 if parameter is CIRCLE else 1)

    inside = substitute(transform(f, lambda n: _rational_in(n, search, parameter, size, u, w)), {x: place})
    if contains(inside, x):
        return None
    integrand = factored(inside * differentiate(place, w))
    found = search.deeper(w, parameter.known)(integrand)
    if found is None:
        return None
    root = prepared(sqrt(quadratic[0] + quadratic[1] * x + quadratic[2] * x**2), facts, waves=False)
    scaled = root / prepared(sqrt(uni.lowest_terms(quadratic[2] * size)), facts, waves=False)
    back = {w: parameter.back(u, scaled)}
    value = substitute(substitute(found.value, parameter.undone(w, u)), back)
    more = tuple(substitute(c, back) for c in found.conditions)
    return Found(in_root(value), (*more, *conditions), f"Euler's substitution; {found.road}")


def _rational_in(node: Node, search: Search, parameter: Parameter, size: Expression, u: Expression, w: Expression) -> Node:
    """A root or an inverse function in the new variable."""
    x = search.variable
    if isinstance(node, Power) and half_odd(node.exponent) and contains(node.base, x):
        own = uni.coefficients_of(node.base, x)
        assert own is not None
        scale = prepared(sqrt(uni.lowest_terms(own[2] * size)), search.facts, waves=False)
        return power(scale * parameter.root(w), number(2 * node.exponent.rational))
    if isinstance(node, Call) and node.name in parameter.inverses and uni.lowest_terms(node.arguments[0] / u) is ONE:
        return parameter.inverses[node.name](w)
    return node


def in_root(value: Expression) -> Expression:
    """Arguments of functions, and then the whole, without roots in denominators."""

    def visit(node: Node) -> Node:
        if isinstance(node, Call) and len(node.arguments) == 1:
            return call(node.name, rationalize_denominator(node.arguments[0]))
        return node

    return rationalize_denominator(transform(value, visit))


def _whole(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_whole
