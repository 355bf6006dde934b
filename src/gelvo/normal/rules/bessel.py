"""Bessel functions by the recurrence of neighbouring orders (DLMF 10.6, 10.29)."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import call, name, number, total
from gelvo.expression.constants import PI
from gelvo.expression.nodes import Call, Expression, Number, Sum
from gelvo.expression.traversal import postorder, substitute
from gelvo.forms.expanding import expand
from gelvo.functions.bessel import half_order
from gelvo.functions.named import BESSELI, BESSELJ, BESSELK, BESSELY
from gelvo.functions.neighbours import of_order
from gelvo.normal.rules.gamma import LARGEST_SHIFT
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import HALF, Gaussian

BESSEL: tuple[str, ...] = (BESSELJ, BESSELY, BESSELI, BESSELK)
# the second kinds of order n+1 follow from Wronskians
WRONSKIAN: dict[str, str] = {BESSELY: BESSELJ, BESSELK: BESSELI}


def shift_of(order: Expression) -> mpq | None:
    """The rational constant in an expanded order; None where it is complex or too large."""
    s = order.constant if isinstance(order, Sum) else order.value if isinstance(order, Number) else mpq(0)
    return None if isinstance(s, Gaussian) or abs(s) > LARGEST_SHIFT else s


def _of_order(work: Work, kind: str, order: Expression, x: Expression) -> Expression:
    """Bessel functions of two neighbouring orders by recurrence, the second kind of the higher one by the Wronskian."""
    order = expand(order)
    s = shift_of(order)
    if s is None:
        return call(kind, order, x)
    if kind == BESSELK and isinstance(order, Number) and s - s.numerator // s.denominator > HALF:
        order, s = -order, -s  # K is even in its order: 2/3 and 1/3 are of one family
    wanted = int(s.numerator // s.denominator)
    current = total((order, number(-wanted)))
    pair = _bessel_pair(kind, current, x)  # of the orders `current` and `current + 1`
    return prepared_sum(work, of_order(kind, wanted, current, x, pair), BESSEL)


def _bessel_pair(kind: str, first: Expression, x: Expression) -> tuple[Expression, Expression]:
    half = half_order(kind, first.rational, x) if isinstance(first, Number) else None
    if half is not None:
        return half, _half_order_above(kind, x)
    low = call(kind, first, x)
    partner = WRONSKIAN.get(kind)
    if partner is None:
        return low, call(kind, first + 1, x)
    top, bottom = call(partner, first + 1, x), call(partner, first, x)
    return low, (top * low - 2 / (PI * x)) / bottom if kind == BESSELY else (1 / x - top * low) / bottom


def _half_order_above(kind: str, x: Expression) -> Expression:
    """Order 3/2 from 1/2 and -1/2."""
    below, half = half_order(kind, -HALF, x), half_order(kind, HALF, x)
    assert below is not None and half is not None
    return of_order(kind, 2, number(-HALF), x, (below, half))


def prepared_sum(work: Work, e: Expression, functions: tuple[str, ...]) -> Expression:
    """A combination of functions that stay, whose other parts are still to be prepared."""
    stable = {n: _name_for(i) for i, n in enumerate(postorder(e)) if isinstance(n, Call) and n.name in functions}
    back = {v: k for k, v in stable.items()}
    return substitute(work.prepared(substitute(e, stable)), back) if stable else work.prepared(e)


def _name_for(place: int) -> Expression:
    return name(f"function place {place}")


for _kind in BESSEL:
    rule(_kind)(lambda work, order, x, kind=_kind: _of_order(work, kind, order, x))
