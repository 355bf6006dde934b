"""Windows, kinks and cases written by steps: the same but at single places, which no integral notices."""

from __future__ import annotations

from gelvo.calculus.transforms.pattern import Unknown, linear_in
from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Cases, Condition, Expression, Junction, Name, Node, Product, Relation
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, HEAVISIDE, MAX, MIN, is_a


def by_steps(e: Expression, t: Name, facts: Facts) -> Expression:
    """max, min, cases and heaviside(c - |t|) as products with heaviside(t - a); |t| beside a step as t*(2*heaviside(t) - 1).

    >>> from gelvo.expression.building import name
    >>> t = name("t")
    >>> print(by_steps(HEAVISIDE(1 - ABS(t)), t, Facts()))
    heaviside(t + 1) - heaviside(t - 1)
    """
    if not (has_call(e, (HEAVISIDE, MAX, MIN), t) or any(isinstance(n, Cases) for n in postorder(e))):
        return e

    def visit(node: Node) -> Node:
        if isinstance(node, Cases) and contains(node, t):
            return _of_cases(node, t, facts)
        if is_a(node, MAX, MIN) and contains(node, t) and len(node.arguments) == 2:
            a, b = node.arguments
            gap = _step(a - b, t, facts)
            return b + (a - b) * gap if is_a(node, MAX) else a - (a - b) * gap
        if is_a(node, HEAVISIDE) and contains(node, t):
            return _step(node.arguments[0], t, facts)
        return node

    try:
        return total([_without_bars(term, t, facts) for term in terms_of(expand(transform(e, visit)))])
    except Unknown:
        return e


def _step(g: Expression, t: Name, facts: Facts) -> Expression:
    """heaviside(g) by steps at places, for a g that is linear in t or in |t - b|."""
    bars = [n for n in postorder(g) if is_a(n, ABS) and contains(n, t)]
    if not bars:
        return HEAVISIDE(g)
    mark = facts.new_name("b", g)
    parts = uni.linear_parts(expand(substitute(g, {bars[0]: mark})), mark) if len(bars) == 1 else None
    if parts is None or contains(parts[0], t) or contains(parts[1], t):
        raise Unknown
    k, c = parts
    slope, shift = linear_in(bars[0].arguments[0], t)
    size, middle = -c / k / ABS(slope), -shift / slope
    if not facts.is_positive(size):
        raise Unknown
    inside = HEAVISIDE(expand(t - middle + size)) - HEAVISIDE(expand(t - middle - size))
    if facts.is_negative(k):
        return inside
    if facts.is_positive(k):
        return 1 - inside
    raise Unknown


def _of_cases(node: Cases, t: Name, facts: Facts) -> Expression:
    left: Expression = ONE
    parts: list[Expression] = []
    for value, condition in zip(node.values, node.conditions, strict=False):
        here = _where(condition, t, facts)
        parts.append(value * left * here)
        left = left * (1 - here)
    return total([*parts, node.otherwise * left])


def _where(condition: Condition, t: Name, facts: Facts) -> Expression:
    """1 where a condition holds and 0 elsewhere."""
    if isinstance(condition, Junction) and condition.word == "and":
        return multiply_all([_where(c, t, facts) for c in condition.parts])
    if isinstance(condition, Relation) and condition.operator in ("<", "<="):
        return _step(condition.right - condition.left, t, facts)
    raise Unknown


def _without_bars(term: Expression, t: Name, facts: Facts) -> Expression:
    """A summand with a step: its factors |h| by the sign of h."""
    factors = factors_in(term)
    if not any(is_a(f, HEAVISIDE) and contains(f, t) for f in factors):
        return term
    outer = number(term.coefficient) if isinstance(term, Product) else ONE
    plain = [_signed(f, t, facts) if is_a(f, ABS) and contains(f, t) else f for f in factors]
    return expand(outer * multiply_all(plain))


def _signed(bars: Expression, t: Name, facts: Facts) -> Expression:
    (h,) = bars.children
    assert isinstance(h, Expression)
    slope, shift = linear_in(h, t)
    if not facts.is_nonzero(slope):
        raise Unknown
    return ABS(slope) * (t + shift / slope) * (2 * HEAVISIDE(t + shift / slope) - 1)
