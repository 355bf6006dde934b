"""Functions that are closed under differentiation, as generators of a field: neighbours of a family, pairs, Lambert's function.

Source: DLMF 4.13, 9.2, 10.6, 10.29, 19.4.
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.kernels import OutsideOfTowers, Translation
from gelvo.expression.building import call
from gelvo.expression.nodes import Call, Expression, Number
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
)  # fmt: skip

# (up, down): J_n' = u'*(n/u*J_n - J_(n+1)) and J_(n+1)' = u'*(J_n - (n+1)/u*J_(n+1)), with the signs of the neighbours
BESSEL: dict[str, tuple[int, int]] = {BESSELJ: (-1, 1), BESSELY: (-1, 1), BESSELI: (1, 1), BESSELK: (-1, -1)}
AIRY: dict[str, tuple[FunctionName, FunctionName]] = {
    AIRYAI: (AIRYAI, AIRYAI_PRIME),
    AIRYAI_PRIME: (AIRYAI, AIRYAI_PRIME),
    AIRYBI: (AIRYBI, AIRYBI_PRIME),
    AIRYBI_PRIME: (AIRYBI, AIRYBI_PRIME),
}
CLOSED = (*BESSEL, *AIRY, ELLIPK, ELLIPE, LAMBERTW)
JOINING = (*CLOSED, SIN, COS)


def join(translation: Translation, closed: list[Call]) -> set[int]:
    """The functions of an integrand as generators with their slopes; gives the numbers of those that may stand in a denominator too."""
    below: set[int] = set()
    for (work, u), family in _families(closed).items():
        inner = slope_of(u, translation.variable)
        if inner is None:
            raise OutsideOfTowers("an argument without a derivative")
        below |= WORK[work](translation, family, translation.element(u), translation.element(inner))
    return below


def _families(closed: list[Call]) -> dict[tuple[str, Expression], list[Call]]:
    """The functions of one kind and argument together."""
    found: dict[tuple[str, Expression], list[Call]] = {}
    for node in closed:
        kind = AIRY[node.name][0] if node.name in AIRY else KINDS.get(node.name, node.name)
        found.setdefault((kind, node.arguments[-1]), []).append(node)
    return found


def _airy(translation: Translation, family: list[Call], argument: Element, rate: Element) -> set[int]:
    u, slopes = family[0].arguments[0], translation.field.slopes
    (low, function), (high, change) = (_generator(translation, call(n, u)) for n in AIRY[family[0].name])
    slopes[low], slopes[high] = rate * change, rate * argument * function
    return set()


def _lambert(translation: Translation, family: list[Call], argument: Element, rate: Element) -> set[int]:
    place, w = _generator(translation, family[0])
    translation.field.slopes[place] = rate * w / (argument * (translation.field.one + w))
    return {place}


def _circle(translation: Translation, family: list[Call], argument: Element, rate: Element) -> set[int]:
    """The cosine as a generator, the sine as a root over it."""
    del argument
    u, field = family[0].arguments[0], translation.field
    place, cosine = _generator(translation, COS(u))
    sine = field.add_root([cosine * cosine - field.one, field.zero])
    translation.texts.add(place + 1, SIN(u))
    translation.known[SIN(u)] = sine
    field.slopes[place], field.slopes[place + 1] = -(rate * sine), rate * cosine
    return set()


def _elliptic(translation: Translation, family: list[Call], argument: Element, rate: Element) -> set[int]:
    m, one, slopes = family[0].arguments[0], translation.field.one, translation.field.slopes
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


def _bessel(translation: Translation, family: list[Call], argument: Element, rate: Element) -> set[int]:
    """Two neighbouring orders, and the others by the recurrence (DLMF 10.6.1, 10.29.1)."""
    name, u = family[0].name, family[0].arguments[1]
    up, down = BESSEL[name]
    first = family[0].arguments[0]
    gaps = [lowest_terms(n.arguments[0] - first) for n in family]
    if not all(isinstance(g, Number) and g.is_whole for g in gaps):
        raise OutsideOfTowers("orders that differ by no whole number")
    whole = [int(g.rational) for g in gaps if isinstance(g, Number)]
    base = first + min(whole)
    field = translation.field
    order = translation.element(base)
    (a_place, a), (b_place, b) = (_generator(translation, call(name, base + k, u)) for k in (0, 1))
    field.slopes[a_place] = rate * (order / argument * a + b.times(up))
    field.slopes[b_place] = rate * (a.times(down) - (order + field.one) / argument * b)
    before, current = a, b
    for k in range(1, max(whole) - min(whole) + 1):
        translation.known[call(name, base + k, u)] = current
        # J_(n+1) = 2n/u*J_n - J_(n-1); I: I_(n-1) - 2n/u*I_n; K: K_(n-1) + 2n/u*K_n
        middle = (order + field.number(k)).times(2) / argument * current
        following = middle - before if up * down < 0 else before - middle if up > 0 else before + middle
        before, current = current, following
    return set()


Work = Callable[[Translation, list[Call], Element, Element], set[int]]
KINDS: dict[str, str] = {SIN: COS, COS: COS, ELLIPK: ELLIPK, ELLIPE: ELLIPK}
WORK: dict[str, Work] = {
    **dict.fromkeys(BESSEL, _bessel),
    **dict.fromkeys(AIRY, _airy),
    LAMBERTW: _lambert,
    COS: _circle,
    ELLIPK: _elliptic,
}
