"""Functions that are closed under differentiation, as generators of a field: neighbours of a family, pairs, Lambert's function.

Source: DLMF 4.13, 9.2, 10.6, 10.29, 19.4.
"""

from __future__ import annotations

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
    is_a,
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
    """The functions of the integrand as generators with their slopes; gives the numbers of those that may stand in a denominator too."""
    below: set[int] = set()
    done: set[tuple[str, Expression, Expression | None]] = set()
    for node in closed:
        u = node.arguments[-1]
        inner = slope_of(u, translation.variable)
        if inner is None:
            raise OutsideOfTowers("an argument without a derivative")
        rate, argument = translation.element(inner), translation.element(u)
        if is_a(node, *BESSEL):
            family = [n for n in closed if n.name == node.name and n.arguments[-1] is u]
            if (node.name, u, None) not in done:
                done.add((node.name, u, None))
                _join_bessel(translation, node.name, family, u, argument, rate)
        elif is_a(node, *AIRY):
            pair = AIRY[node.name]
            if (pair[0], u, None) not in done:
                done.add((pair[0], u, None))
                low, high = (_generator(translation, call(n, u)) for n in pair)
                translation.field.slopes[low[0]] = rate * high[1]
                translation.field.slopes[high[0]] = rate * argument * low[1]
        elif is_a(node, LAMBERTW) and node not in translation.known:
            place, w = _generator(translation, node)
            translation.field.slopes[place] = rate * w / (argument * (translation.field.one + w))
            below.add(place)
        elif is_a(node, SIN, COS) and (SIN, u, None) not in done:
            done.add((SIN, u, None))
            place, cosine = _generator(translation, COS(u))
            sine = translation.field.add_root([cosine * cosine - translation.field.one, translation.field.zero])
            translation.texts.add(place + 1, SIN(u))
            translation.known[SIN(u)] = sine
            translation.field.slopes[place], translation.field.slopes[place + 1] = -(rate * sine), rate * cosine
        elif is_a(node, ELLIPK, ELLIPE) and (ELLIPK, u, None) not in done:
            done.add((ELLIPK, u, None))
            (first, k), (second, e) = _generator(translation, ELLIPK(u)), _generator(translation, ELLIPE(u))
            one = translation.field.one
            translation.field.slopes[first] = rate * (e - (one - argument) * k) / (argument * (one - argument)).times(2)
            translation.field.slopes[second] = rate * (e - k) / argument.times(2)
    return below


def _generator(translation: Translation, text: Expression) -> tuple[int, Element]:
    generator = translation.field.add_generator(translation.field.zero)
    place = translation.field.size - 1
    translation.texts.add(place, text)
    translation.known[text] = generator
    return place, generator


def _join_bessel(
    translation: Translation, name: str, family: list[Call], u: Expression, argument: Element, rate: Element
) -> None:
    """Two neighbouring orders, and the others by the recurrence (DLMF 10.6.1, 10.29.1)."""
    up, down = BESSEL[name]
    first = family[0].arguments[0]
    gaps = [lowest_terms(n.arguments[0] - first) for n in family]
    if not all(isinstance(g, Number) and g.is_whole for g in gaps):
        raise OutsideOfTowers("orders that differ by no whole number")
    whole = [int(g.rational) for g in gaps if isinstance(g, Number)]
    low, high = min(whole), max(whole)
    base = first + low
    field = translation.field
    order = translation.element(base)
    (a_place, a), (b_place, b) = (_generator(translation, call(name, base + k, u)) for k in (0, 1))
    one = field.one
    field.slopes[a_place] = rate * (order / argument * a + b.times(up))
    field.slopes[b_place] = rate * (a.times(down) - (order + one) / argument * b)
    before, current = a, b
    for k in range(1, high - low + 1):
        translation.known[call(name, base + k, u)] = current
        # J_(n+1) = 2n/u*J_n - J_(n-1); I: I_(n-1) - 2n/u*I_n; K: K_(n-1) + 2n/u*K_n
        middle = (order + field.number(k)).times(2) / argument * current
        following = middle - before if up * down < 0 else before - middle if up > 0 else before + middle
        before, current = current, following
