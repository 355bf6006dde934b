"""The sign of a formula from a place on, out to infinity: by bounds of the formula and of its derivatives."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import multiply_all, name
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import slope_of
from gelvo.numbers.box import Box
from gelvo.numbers.interval import INFINITE as ENDLESS
from gelvo.numbers.interval import Interval, NoValue, arithmetic

MOST_SLOPES = 5


def with_slopes(g: Expression, x: Name) -> list[Enclosure]:
    """A formula and its first derivatives, ready for bounds; as many as have a formula."""
    slopes: list[Enclosure] = []
    slope: Expression | None = g
    while slope is not None and len(slopes) < MOST_SLOPES:
        inside = _by_powers(slope, x)
        slopes.append(Enclosure(inside))
        slope = slope_of(inside, x)
    return slopes


def sign_beyond(functions: list[Enclosure], x: Name, far: int, sign: int) -> int | None:
    """The sign that a formula has from a place on: some derivative has one sign, and those before it have the same at the place.

    functions: the formula and its derivatives; towards minus infinity each derivative turns the sign.
    """
    a = arithmetic(80)
    place = a.rational(mpq(sign * far))
    beyond = Interval(place.low, ENDLESS) if sign > 0 else Interval(-ENDLESS, place.high)
    before: set[int] = set()
    for k, function in enumerate(functions):
        turn = 1 if sign > 0 or k % 2 == 0 else -1
        whole, here = _sign_on(function, x, beyond), _sign_on(function, x, place)
        if whole:
            return whole * turn if before <= {whole * turn} else None
        if not here:
            return None
        before.add(here * turn)
    return None


def _sign_on(function: Enclosure, x: Name, where: Interval) -> int | None:
    try:
        box = function.at({x: Box(where)}, 80)
    except (NoValue, DomainError):
        return None
    return box.real.sign if box.imag is None else None


def _by_powers(g: Expression, x: Name) -> Expression:
    """By powers of x as a nested product, which has better bounds: 3*x - 2*x*exp(x) as x*(3 - 2*exp(x))."""
    kernels = [n for n in postorder(g) if isinstance(n, Expression) and contains(n, x) and _is_kernel(n)]
    table = {k: name(f"k_{i}") for i, k in enumerate(kernels)}
    column = uni.coefficients_of(substitute(g, table), x) if kernels else None
    if column is None:
        return g
    back = {v: k for k, v in table.items()}
    result: Expression = ZERO
    for c in reversed(column):
        result = multiply_all((x, result)) + substitute(substitute(c, back), back)
    return result


def _is_kernel(node: Node) -> bool:
    return isinstance(node, Call) or (isinstance(node, Power) and not node.exponent.is_whole)
