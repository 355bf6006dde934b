"""Sines, cosines and their quotients, which have poles."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.local.expansion import Expansion, Unclear, constant_term
from gelvo.calculus.local.table import Expanding, far, local, taylor
from gelvo.expression.building import call, number
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Node
from gelvo.expression.traversal import contains, postorder
from gelvo.functions.named import COS, COSH, COT, COTH, CSC, CSCH, SEC, SECH, SIN, SINH, SINHC, TAN, TANH

_QUOTIENTS: dict[str, Callable[[Expression], Expression]] = {
    TAN: lambda v: SIN(v) / COS(v),
    COT: lambda v: COS(v) / SIN(v),
    SEC: lambda v: 1 / COS(v),
    CSC: lambda v: 1 / SIN(v),
    TANH: lambda v: SINH(v) / COSH(v),
    COTH: lambda v: COSH(v) / SINH(v),
    SECH: lambda v: 1 / COSH(v),
    CSCH: lambda v: 1 / SINH(v),
    SINHC: lambda v: SINH(v) / v,
}


@local(*_QUOTIENTS)
def _turning(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """tan, cot, sec, csc and their like as quotients, which gives their poles."""
    assert node.function.as_elementary is not None
    v = at.facts.new_name("v", node, at.u)
    form = _QUOTIENTS[node.name](v)
    done: dict[Node, Expansion] = {v: inner}
    for part in postorder(form):
        if part in done or not isinstance(part, Expression):
            continue
        if not contains(part, v):
            done[part] = constant_term(part)
        elif isinstance(part, Call):
            if any(e < 0 for e in inner.terms):
                raise Unclear(f"{node.name} of something that grows has no limit")
            place = inner.terms.get(mpq(0), ZERO)
            done[part] = at.regular(part, 0, place, Expansion({e: c for e, c in inner.terms.items() if e}, inner.order))
        else:
            done[part] = at.one(part, done)
    return done[form]


@taylor(SIN, COS, SINH, COSH)
def _waves(name: str, place: Expression) -> Callable[[int], Expression]:
    """Their derivatives repeat."""
    circle = (SIN, COS) if name in (SIN, COS) else (SINH, COSH)
    turning: dict[str, tuple[int, ...]] = {SIN: (1, 1, -1, -1), COS: (1, -1, -1, 1)}
    signs = turning.get(name, (1, 1, 1, 1))
    values = [call(wave, place) for wave in (circle if name == circle[0] else circle[::-1])]
    return lambda k: number(mpq(signs[k % 4], fac(k))) * values[k % 2]


@far(SINH, COSH, TANH, COTH, SECH, CSCH, SINHC)
def _hyperbolic_far_out(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    raise Unclear("hyperbolic functions of something that grows are exponentials")
