"""A zero without closed form as straight code: its bracket halved step by step, then Newton's method from there.

With c the middle and w half the width of a bracket, the next middle is c + s*sign(f(c))*w/2, where s is the sign at the lower end: the zero
stays within the halves. So no language needs a loop, and every line is one that the target can write. Ends at infinity are
brought near by r = t/(1 - t^2). Each number on the way is a symbol of its own, so that nothing is added up twice.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from gmpy2 import mpq

from gelvo.expression.building import number, power
from gelvo.expression.nodes import Bound, Expression, Name, Written
from gelvo.expression.traversal import fresh_name, spelled_in, substitute, zeros_in
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import MAX, MIN, SIGN

HALVINGS, NEWTON = 56, 3
# halvings that Newton's method may take back: more (with endless ends) where r = t/(1 - t^2) enlarges the errors of the middles
SPARED = (1, 6)
NEAR_END = mpq(1, 2**30)  # how near to the ends of -1 < t < 1 it begins: zeros beyond 5*10^8 are not found
Definition = tuple[Name, Expression]


def unrolled(outputs: Mapping[str, Expression]) -> tuple[dict[str, Expression], list[Definition]]:
    """The formulas with a symbol for each zero, and the steps that work the symbols out."""
    definitions: list[Definition] = []
    symbols: dict[Expression, Expression] = {}
    taken = set(spelled_in(*outputs.values()))
    for zero in dict.fromkeys(zeros_in(*outputs.values())):
        steps = list(_steps(zero, taken))
        definitions += [(symbol, substitute(formula, symbols)) for symbol, formula in steps]
        symbols[zero] = steps[-1][0]
    return {k: substitute(e, symbols) for k, e in outputs.items()}, definitions


def _steps(zero: Written, taken: set[str]) -> Iterator[Definition]:
    """The symbols of one zero with their formulas; the last is the zero."""
    body, r, low, high = zero.arguments
    assert isinstance(r, Name) and isinstance(body, Expression)

    def symbol(stem: str) -> Name:
        found = fresh_name(stem, avoiding=taken)
        taken.add(found.name)
        return found

    def value(at: Expression) -> Expression:
        return substitute(body, {r: at})

    endless = isinstance(low, Bound) or isinstance(high, Bound)
    start, stop = (_inner(low, -1), _inner(high, 1)) if endless else (low, high)
    first, width, middle, sign = symbol("lower_end"), symbol("half_width"), symbol("middle"), symbol("lower_sign")
    yield first, start
    yield width, (stop - first) / 2
    yield middle, first + width
    yield sign, SIGN(value(_place(first) if endless else first))
    for k in range(HALVINGS):
        at: Expression = middle
        if endless:
            at = symbol("place")
            yield at, _place(middle)
        following = symbol("middle")
        yield following, middle + sign * SIGN(value(at)) * width * number(mpq(1, 2 ** (k + 1)))
        middle = following
    slope = differentiate(body, r)
    rest = width * number(mpq(1, 2 ** (HALVINGS - SPARED[endless])))
    near, least, most = symbol("near_zero"), symbol("least"), symbol("most")
    for one, at in ((near, middle), (least, middle - rest), (most, middle + rest)):
        yield one, _place(at) if endless else at
    for _ in range(NEWTON):  # never far from the last bracket
        following = symbol("near_zero")
        yield following, MAX(least, MIN(most, near - value(near) / substitute(slope, {r: near})))
        near = following


def _place(t: Expression) -> Expression:
    return t / (1 - power(t, number(2)))


def _inner(end: Expression, side: int) -> Expression:
    """The t of an end: a finite one by r = t/(1 - t^2), read so that no digit is lost near zero."""
    if isinstance(end, Bound):
        return number(side * (1 - NEAR_END))
    return 2 * end / (1 + power(1 + 4 * end**2, number(mpq(1, 2))))
