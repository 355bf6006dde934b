"""Roots of 1 + cos(x) and its like as bars around waves of half the angle, whose kinks are known places."""

from __future__ import annotations

from gelvo.expression.building import number, power, total
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Expression, Name, Node, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, transform
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, COS, SIN, is_a


def by_half_angles(f: Expression, x: Name, facts: Facts) -> Expression:
    """sqrt(a + a*cos(x)) as sqrt(2*a)*abs(cos(x/2)), for a > 0; as it was where there is none.

    >>> from gelvo.expression.building import name, sqrt
    >>> x = name("x")
    >>> print(by_half_angles(sqrt(1 - COS(x)), x, Facts()))
    sqrt(2)*abs(sin(x/2))
    """

    def visit(node: Node) -> Node:
        if not isinstance(node, Power) or not node.exponent.is_rational or node.exponent.rational.denominator != 2:
            return node
        square = _square(node.base, x, facts)
        if square is None:
            return node
        outer, root = square
        return power(outer, node.exponent) * power(ABS(root), 2 * node.exponent)

    return transform(f, visit) if facts.is_real(x) else f


def _square(base: Expression, x: Name, facts: Facts) -> tuple[Expression, Expression] | None:
    """(2*a, a wave) of a formula a + a*wave of an angle; it is 2*a times the square of the wave of half that angle."""
    moving = [t for t in terms_of(base) if contains(t, x)]
    waves = [g for g in factors_in(moving[0]) if is_a(g, SIN, COS)] if len(moving) == 1 else []
    if len(waves) != 1:
        return None
    size = moving[0] / waves[0]
    still = total([t for t in terms_of(base) if t is not moving[0]])
    if contains(size, x) or not facts.is_positive(still) or not facts.is_real(waves[0].arguments[0]):
        return None
    angle = waves[0].arguments[0] - (PI / 2 if is_a(waves[0], SIN) else ZERO)
    for sign, half in ((-1, COS), (1, SIN)):
        if factored(still + sign * size) is ZERO:
            return number(2) * still, half(angle / 2)
    return None
