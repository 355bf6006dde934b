"""Functions that are closed under differentiation, as generators of a field: neighbours of a family, pairs, Lambert's function.

Source: DLMF 4.13, 9.2, 10.6, 10.29, 19.4.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.kernels import OutsideOfTowers, Translation
from gelvo.expression.building import call
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Node, Number
from gelvo.forms.differentiation import slope_of
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import (
    AIRYAI,
    AIRYAI_PRIME,
    AIRYBI,
    AIRYBI_PRIME,
    BESSELI,
    BESSELJ,
    BESSELK,
    BESSELY,
    COS,
    ELLIPE,
    ELLIPK,
    LAMBERTW,
    SIN,
    FunctionName,
    is_a,
)  # fmt: skip

# (up, down): J_n' = u'*(n/u*J_n - J_(n+1)) and J_(n+1)' = u'*(J_n - (n+1)/u*J_(n+1)), with the signs of the neighbours
BESSEL: dict[str, tuple[int, int]] = {BESSELJ: (-1, 1), BESSELY: (-1, 1), BESSELI: (1, 1), BESSELK: (-1, -1)}
LARGEST_ORDER = 12
AIRY: dict[str, tuple[FunctionName, FunctionName]] = {
    AIRYAI: (AIRYAI, AIRYAI_PRIME),
    AIRYAI_PRIME: (AIRYAI, AIRYAI_PRIME),
    AIRYBI: (AIRYBI, AIRYBI_PRIME),
    AIRYBI_PRIME: (AIRYBI, AIRYBI_PRIME),
}
CLOSED = (*BESSEL, *AIRY, ELLIPK, ELLIPE, LAMBERTW)
JOINING = (*CLOSED, SIN, COS)


class Joining:
    """Makes the functions of an integrand generators with their slopes, as a translation meets them."""

    def __init__(self, nodes: Iterable[Node]) -> None:
        """nodes: of the integrand, so that the lowest order of a family is known before it is met."""
        self.below: set[int] = set()  # generators that may stand in a denominator although nothing of them does in the integrand
        self.orders: dict[tuple[str, Expression], Expression] = {}
        for node in nodes:
            if is_a(node, *BESSEL):
                order, u = node.arguments
                first = self.orders.setdefault((node.name, u), order)
                gap = lowest_terms(order - first)
                if isinstance(gap, Number) and gap.is_whole and gap.rational < 0:
                    self.orders[(node.name, u)] = order
        for key, order in self.orders.items():  # from J_0 on where that is not far: the others have powers of 1/x before it
            whole = isinstance(order, Number) and order.is_whole and 1 <= order.rational <= LARGEST_ORDER
            self.orders[key] = ZERO if whole else order

    def __call__(self, translation: Translation, node: Call) -> Element:
        u = node.arguments[-1]
        inner = slope_of(u, translation.variable)
        if inner is None:
            raise OutsideOfTowers("an argument without a derivative")
        argument, rate = translation.element(u), translation.element(inner)
        if node.name in BESSEL:
            self._bessel(translation, node, argument, rate)
        else:
            self.below |= WORK[node.name](translation, node, argument, rate)
        return translation.known[node]

    def _bessel(self, translation: Translation, node: Call, argument: Element, rate: Element) -> None:
        """Two neighbouring orders as generators, and the others by the recurrence (DLMF 10.6.1, 10.29.1)."""
        name, (order, u) = node.name, node.arguments
        base = self.orders.setdefault((name, u), order)
        gap = lowest_terms(order - base)
        if not (isinstance(gap, Number) and gap.is_whole):
            raise OutsideOfTowers("orders that differ by no whole number")
        field, (up, down), n = translation.field, BESSEL[name], translation.element(base)
        if call(name, base, u) not in translation.known:
            (a_place, a), (b_place, b) = (_generator(translation, call(name, base + k, u)) for k in (0, 1))
            field.slopes[a_place] = rate * (n / argument * a + b.times(up))
            field.slopes[b_place] = rate * (a.times(down) - (n + field.one) / argument * b)
        # J_(n+1) = 2n/u*J_n - J_(n-1); I: I_(n-1) - 2n/u*I_n; K: K_(n-1) + 2n/u*K_n, and so downwards
        middle, outer = (1, -1) if up * down < 0 else (-1, 1) if up > 0 else (1, 1)
        step = 1 if gap.rational >= 0 else -1
        before, current = (translation.known[call(name, base + k, u)] for k in ((0, 1) if step > 0 else (1, 0)))
        for k in range(1 if step > 0 else 0, int(gap.rational), step):
            inside = (n + field.number(k)).times(2) / argument * current
            following = inside.times(middle) + before.times(outer) if step > 0 else (before - inside.times(middle)).times(outer)
            before, current = current, following
            translation.known[call(name, base + k + step, u)] = current


def _airy(translation: Translation, node: Call, argument: Element, rate: Element) -> set[int]:
    u, slopes = node.arguments[0], translation.field.slopes
    (low, function), (high, change) = (_generator(translation, call(n, u)) for n in AIRY[node.name])
    slopes[low], slopes[high] = rate * change, rate * argument * function
    return set()


def _lambert(translation: Translation, node: Call, argument: Element, rate: Element) -> set[int]:
    place, w = _generator(translation, node)
    translation.field.slopes[place] = rate * w / (argument * (translation.field.one + w))
    return {place}


def _circle(translation: Translation, node: Call, argument: Element, rate: Element) -> set[int]:
    """The cosine as a generator, the sine as a root over it."""
    del argument
    u, field = node.arguments[0], translation.field
    place, cosine = _generator(translation, COS(u))
    sine = field.add_root([cosine * cosine - field.one, field.zero])
    translation.texts.add(place + 1, SIN(u))
    translation.known[SIN(u)] = sine
    field.slopes[place], field.slopes[place + 1] = -(rate * sine), rate * cosine
    return set()


def _elliptic(translation: Translation, node: Call, argument: Element, rate: Element) -> set[int]:
    m, one, slopes = node.arguments[0], translation.field.one, translation.field.slopes
    (first, k), (second, e) = _generator(translation, ELLIPK(m)), _generator(translation, ELLIPE(m))
    slopes[first] = rate * (e - (one - argument) * k) / (argument * (one - argument)).times(2)
    slopes[second] = rate * (e - k) / argument.times(2)
    return set()


def _generator(translation: Translation, text: Expression) -> tuple[int, Element]:
    generator = translation.field.add_generator(translation.field.zero)
    place = translation.field.size - 1
    translation.texts.add(place, text)
    translation.known[text] = generator
    return place, generator


Work = Callable[[Translation, Call, Element, Element], set[int]]
WORK: dict[str, Work] = {
    **dict.fromkeys(AIRY, _airy),
    **dict.fromkeys((ELLIPK, ELLIPE), _elliptic),
    **dict.fromkeys((SIN, COS), _circle),
    LAMBERTW: _lambert,
}
