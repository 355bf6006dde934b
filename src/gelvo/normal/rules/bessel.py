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
from gelvo.normal.rules.gamma import LARGEST_SHIFT
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import HALF, Gaussian

# C(n+1) = up*2*n/x*C(n) + back*C(n-1) (DLMF 10.6.1, 10.29.1); the second kinds of order n+1 follow from Wronskians
BESSEL: dict[str, tuple[int, int]] = {BESSELJ: (1, -1), BESSELY: (1, -1), BESSELI: (-1, 1), BESSELK: (1, 1)}


WRONSKIAN: dict[str, str] = {BESSELY: BESSELJ, BESSELK: BESSELI}


def _of_order(work: Work, kind: str, order: Expression, x: Expression) -> Expression:
    """Bessel functions of two neighbouring orders by recurrence, the second kind of the higher one by the Wronskian."""
    order = expand(order)
    s = order.constant if isinstance(order, Sum) else order.value if isinstance(order, Number) else mpq(0)
    if isinstance(s, Gaussian) or abs(s) > LARGEST_SHIFT:
        return call(kind, order, x)
    if kind == BESSELK and isinstance(order, Number) and s - s.numerator // s.denominator > HALF:
        order, s = -order, -s  # K is even in its order: 2/3 and 1/3 are of one family
    wanted = int(s.numerator // s.denominator)
    current = total((order, number(-wanted)))
    one, two = _bessel_pair(kind, current, x)  # of the orders `current` and `current + 1`
    up, back = BESSEL[kind]
    for _ in range(abs(wanted)):
        if wanted > 0:  # C(n+2) from C(n) and C(n+1)
            one, two = two, up * 2 * (current + 1) / x * two + back * one
            current = current + 1
        else:  # C(n-1) from C(n) and C(n+1)
            one, two = back * (two - up * 2 * current / x * one), one
            current = current - 1
    return prepared_sum(work, one, tuple(BESSEL))


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
    sign_up, sign_back = BESSEL[kind]
    half = half_order(kind, HALF, x)
    below = half_order(kind, -HALF, x)
    assert half is not None and below is not None
    return sign_up / x * half + sign_back * below


def prepared_sum(work: Work, e: Expression, functions: tuple[str, ...]) -> Expression:
    """A combination of functions that stay, whose other parts are still to be prepared."""
    stable = {n: _name_for(i) for i, n in enumerate(postorder(e)) if isinstance(n, Call) and n.name in functions}
    back = {v: k for k, v in stable.items()}
    return substitute(work.prepared(substitute(e, stable)), back) if stable else work.prepared(e)


def _name_for(place: int) -> Expression:
    return name(f"function place {place}")


for _kind in BESSEL:
    rule(_kind)(lambda work, order, x, kind=_kind: _of_order(work, kind, order, x))
