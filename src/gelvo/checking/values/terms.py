"""A term as a constant, a power of x, a power of ln(x), and what stands beside them."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Expression, Name, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains
from gelvo.forms.collecting import terms_of
from gelvo.forms.fractions import factored
from gelvo.functions.named import LN, is_a


class Parted(NamedTuple):
    """outer*x^(s-1)*ln(x)^logarithms*rest."""

    outer: Expression
    s: Expression
    logarithms: int
    rest: tuple[Expression, ...]


def parted(term: Expression, x: Name) -> Parted:
    """The parts of a product.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(*parted(3*x**2*LN(x), x)[:3])
    3 3 1
    """
    outer: list[Expression] = [number(term.coefficient)] if isinstance(term, Product) else []
    s, logarithms, rest = ONE, 0, []
    for g in factors_in(term):
        base, k = base_and_exponent(g)
        if not contains(g, x):
            outer.append(g)
        elif base is x and not contains(k, x):
            s = s + k
        elif is_a(base, LN) and base.arguments[0] is x and k.is_whole and k.rational > 0 and not logarithms:
            logarithms = int(k.rational)
        else:
            rest.append(g)
    return Parted(multiply_all(outer), s, logarithms, tuple(rest))


def monomial(e: Expression, x: Name) -> tuple[Expression, Expression] | None:
    """(c, q) with e = c*x^q: -x - a*x as -(a + 1)*x."""
    parts = parted(factored(e) if isinstance(e, Sum) else e, x)
    return None if parts.rest or parts.logarithms or parts.s is ONE else (parts.outer, parts.s - 1)


def start_and_monomial(e: Expression, x: Name) -> tuple[Expression, Expression, Expression] | None:
    """(a, c, q) with e = a + c*x^q."""
    moving = [monomial(t, x) for t in terms_of(e) if contains(t, x)]
    powers = {m[1] for m in moving if m is not None}
    if None in moving or len(powers) != 1:
        return None
    c = factored(total([m[0] for m in moving if m is not None]))
    return total([t for t in terms_of(e) if not contains(t, x)]), c, powers.pop()
