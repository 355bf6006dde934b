"""Functions that are closed under differentiation, as generators of a field: neighbours of a family, pairs, Lambert's function.

Source: DLMF 4.13, 9.2, 19.4.
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
    COS,
    ELLIPE,
    ELLIPK,
    LAMBERTW,
    SIN,
    FunctionName,
    is_a,
)  # fmt: skip
from gelvo.functions.neighbours import NEIGHBOURS

LARGEST_ORDER = 12
AIRY: dict[str, tuple[FunctionName, FunctionName]] = {
    AIRYAI: (AIRYAI, AIRYAI_PRIME),
    AIRYAI_PRIME: (AIRYAI, AIRYAI_PRIME),
    AIRYBI: (AIRYBI, AIRYBI_PRIME),
    AIRYBI_PRIME: (AIRYBI, AIRYBI_PRIME),
}
CLOSED = (*NEIGHBOURS, *AIRY, ELLIPK, ELLIPE, LAMBERTW)
JOINING = (*CLOSED, SIN, COS)


class Joining:
    """Makes the functions of an integrand generators with their slopes, as a translation meets them."""

    def __init__(self, nodes: Iterable[Node]) -> None:
        """nodes: of the integrand, so that the lowest order of a family is known before it is met."""
        self.below: set[int] = set()  # generators that may stand in a denominator although nothing of them does in the integrand
        self.orders: dict[
            tuple[str, Expression], list[Expression]
        ] = {}  # of each family the lowest orders that whole numbers do not join
        for node in nodes:
            if is_a(node, *NEIGHBOURS):
                order, u = node.arguments
                known = self.orders.setdefault((node.name, u), [])
                place = next((k for k, first in enumerate(known) if _whole_gap(order, first) is not None), None)
                if place is None:
                    known.append(order)
                elif (_whole_gap(order, known[place]) or 0) < 0:
                    known[place] = order
        for known in self.orders.values():  # from order 0 on where that is not far: the others have powers of 1/x before it
            known[:] = [ZERO if isinstance(o, Number) and o.is_whole and 1 <= o.rational <= LARGEST_ORDER else o for o in known]

    def __call__(self, translation: Translation, node: Call) -> Element:
        u = node.arguments[-1]
        inner = slope_of(u, translation.variable)
        if inner is None:
            raise OutsideOfTowers("an argument without a derivative")
        argument, rate = translation.element(u), translation.element(inner)
        if node.name in NEIGHBOURS:
            self._neighbours(translation, node, rate)
        else:
            self.below |= WORK[node.name](translation, node, argument, rate)
        return translation.known[node]

    def _neighbours(self, translation: Translation, node: Call, rate: Element) -> None:
        """Two neighbouring orders as generators, and the higher ones by the recurrence."""
        name, (order, u) = node.name, node.arguments
        bases = self.orders.setdefault((name, u), [order])
        found = next(((b, gap) for b in bases if (gap := _whole_gap(order, b)) is not None), None)
        if found is None or found[1] < 0:
            raise OutsideOfTowers("orders that differ by no whole number")
        base, gap = found
        family, known = NEIGHBOURS[name], translation.known
        if call(name, base, u) not in known:
            (a_place, a), (b_place, b) = (_generator(translation, call(name, base + k, u)) for k in (0, 1))
            for place, of_order in ((a_place, family.slope), (b_place, family.above)):
                low, high = map(translation.element, of_order(base, u))
                translation.field.slopes[place] = rate * (low * a + high * b)
        for k in range(gap - 1):
            low, high = map(translation.element, family.following(base + k, u))
            known[call(name, base + k + 2, u)] = low * known[call(name, base + k, u)] + high * known[call(name, base + k + 1, u)]


def _whole_gap(order: Expression, other: Expression) -> int | None:
    gap = lowest_terms(order - other)
    return int(gap.rational) if isinstance(gap, Number) and gap.is_whole else None


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
