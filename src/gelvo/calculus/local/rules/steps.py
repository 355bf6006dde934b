"""Functions with corners and jumps: the sign of the leading coefficient decides."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.local.expansion import Expansion, Unclear, constant_term
from gelvo.calculus.local.table import Expanding, local
from gelvo.deciding.suppositions import may_suppose_nonzero
from gelvo.expression.building import call, number
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Number
from gelvo.functions.named import ABS, CEIL, FLOOR, HEAVISIDE, SIGN, is_a


@local(ABS, SIGN, HEAVISIDE)
def _sign(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """abs, sign, heaviside: the sign of the leading coefficient decides."""
    try:
        _, c, _ = at.leading(inner)
    except ZeroDivisionError:
        return constant_term(call(node.name, ZERO))
    up = at.facts.is_positive(c)
    if not up and not at.facts.is_negative(c):
        if is_a(node, ABS) and not any(e for e in inner.terms):
            return constant_term(ABS(inner.terms[mpq(0)]))
        raise Unclear(f"the sign of {c} is not known")
    if is_a(node, ABS):
        return inner if up else Expansion({e: -v for e, v in inner.terms.items()}, inner.order)
    return constant_term(number(1 if up else (-1 if is_a(node, SIGN) else 0)))


@local(FLOOR, CEIL)
def _steps_of(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """floor and ceil near a number."""
    if inner.terms and next(iter(inner.terms)) < 0:
        raise Unclear(f"{node.name} of something that grows")
    place = inner.terms.get(mpq(0), ZERO)
    value = call(node.name, place)
    if not (isinstance(value, Number) and value.is_rational):
        raise Unclear(f"{node.name} of {place}")
    if may_suppose_nonzero(value - place, at.facts):
        return constant_term(value)
    rest = Expansion({e: c for e, c in inner.terms.items() if e}, inner.order)
    try:
        _, c, _ = at.leading(rest)
    except ZeroDivisionError:
        return constant_term(value)
    if not at.facts.is_positive(c) and not at.facts.is_negative(c):
        raise Unclear(f"the sign of {c} is not known")
    below = at.facts.is_negative(c)
    shift = (-1 if below else 0) if is_a(node, FLOOR) else (0 if below else 1)
    return constant_term(value + shift)
