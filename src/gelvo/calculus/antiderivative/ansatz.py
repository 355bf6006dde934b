"""An antiderivative with undetermined coefficients over functions that are closed under differentiation: Bessel, Airy, Lambert, roots.

The field of the integrand has the functions, two neighbours of a family each, and its roots as generators; the antiderivative is a
polynomial in them over a denominator of its own, with logarithms of the denominators: one linear system over the constants. Source:
M. Bronstein, "Symbolic Integration I" (2005), chapter 10 (parallel integration).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.elementary.constants import null_space
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.kernels import OVER_ROOTS, OutsideOfTowers, Translation
from gelvo.calculus.elementary.leaving import expression_of
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import call, total
from gelvo.expression.nodes import Call, Expression, Node, Number, Power, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, dependents, postorder, transform
from gelvo.forms.differentiation import slope_of
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import (
    AIRYAI, AIRYAI_PRIME, AIRYBI, AIRYBI_PRIME, BESSELI, BESSELJ, BESSELK, BESSELY, CBRT, COS, COT, CSC, ELLIPE, ELLIPK, LAMBERTW, SEC, SIN,
    TAN, is_a,
)  # fmt: skip
from gelvo.polynomial import sparse

MOST_TERMS = 1000
MORE_IN_VARIABLE = 3
# (up, down): J_n' = u'*(n/u*J_n - J_(n+1)) and J_(n+1)' = u'*(J_n - (n+1)/u*J_(n+1)), with the signs of the neighbours
BESSEL = {BESSELJ: (-1, 1), BESSELY: (-1, 1), BESSELI: (1, 1), BESSELK: (-1, -1)}
AIRY = {
    AIRYAI: (AIRYAI, AIRYAI_PRIME),
    AIRYAI_PRIME: (AIRYAI, AIRYAI_PRIME),
    AIRYBI: (AIRYBI, AIRYBI_PRIME),
    AIRYBI_PRIME: (AIRYBI, AIRYBI_PRIME),
}
CLOSED = (*BESSEL, *AIRY, ELLIPK, ELLIPE, LAMBERTW)
JOINING = (*CLOSED, SIN, COS)


def by_ansatz(f: Expression, search: Search) -> Found | None:
    """r*besselj(0, r)^2  ->  r^2*(besselj(0, r)^2 + besselj(1, r)^2)/2"""
    moving = dependents(f, search.variable)
    nodes = [n for n in postorder(f) if n in moving]
    closed = [n for n in nodes if is_a(n, *CLOSED)]
    roots = [n for n in nodes if isinstance(n, Power) and n.exponent.is_rational and not n.exponent.is_whole]
    if not closed and (not roots or not any(isinstance(n, Call) for n in nodes)) and not any(is_a(n, CBRT, *OVER_ROOTS) for n in nodes):
        return None
    plain = transform(f, _by_sine_and_cosine)
    try:
        return _solved(plain, [n for n in postorder(plain) if is_a(n, *JOINING) and contains(n, search.variable)], search)
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None


def _by_sine_and_cosine(node: Node) -> Node:
    if is_a(node, TAN, COT, SEC, CSC):
        u = node.arguments[0]
        return {TAN: SIN(u) / COS(u), COT: COS(u) / SIN(u), SEC: 1 / COS(u), CSC: 1 / SIN(u)}[node.name]
    return node


def _solved(f: Expression, closed: list[Call], search: Search) -> Found | None:
    translation = Translation([f, *(a for n in closed for a in n.arguments)], search.variable, search.facts, True, JOINING)
    families = _join(translation, closed)
    whole = translation.element(f)
    apart = _apart(translation, whole)
    for parts in (apart, [whole]) if len(apart) > 1 else ([whole],):
        found = [_of_part(translation, f, part, families, search) for part in parts]
        if None not in found:
            terms = [t for listed in found if listed for t in listed]
            return Found(total(terms), (), "undetermined coefficients over the functions of the integrand")
    return None


def _apart(translation: Translation, e: Element) -> list[Element]:
    """Summands that have no function in common: each is a problem of its own."""
    field, x_place = translation.field, translation.tower.levels[0].place
    moving = [p for p in field.slopes if p != x_place]
    groups: list[tuple[set[int], dict[int, mpq]]] = []
    for m, c in sorted(e.top.items()):
        own = {p for p in moving if sparse.exponent_of(m, p)}
        own_top = {m: c}
        for group in [g for g in groups if g[0] & own]:
            groups.remove(group)
            own |= group[0]
            own_top |= group[1]
        groups.append((own, own_top))
    return [field.quotient(top, e.bottom) for _, top in groups]


def _of_part(translation: Translation, f: Expression, e: Element, families: set[int], search: Search) -> list[Expression] | None:
    field = translation.field
    basis = list(itertools.islice(_monomials(translation, e, families), MOST_TERMS + 1))
    if len(basis) > MOST_TERMS:
        return None
    arguments = list(_arguments(translation, f, e))
    row = [e, *(-field.slope(m) for m in basis), *(-(field.slope(a) / a) for _, a in arguments)]
    for vector in null_space(field, [row], len(row)):
        if not vector[0]:
            continue
        scaled = [c / vector[0] for c in vector[1:]]
        value = field.total(c * m for c, m in zip(scaled, basis, strict=False))
        terms = [expression_of(value, translation.texts)]
        for c, (text, _) in zip(scaled[len(basis) :], arguments, strict=True):
            if c:
                terms.append(expression_of(c, translation.texts) * search.logarithm(text))
        return terms
    return None


# --- functions ----------------------------------------------------------------------------------------------------------------


def _join(translation: Translation, closed: list[Call]) -> set[int]:
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
    up, down = BESSEL[name]  # type: ignore[index]
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


# --- the form -----------------------------------------------------------------------------------------------------------------


def _monomials(translation: Translation, e: Element, special: set[int]) -> Iterator[Element]:
    """Products of powers of the generators over the denominator that an antiderivative may have."""
    field = translation.field
    x_place = translation.tower.levels[0].place
    below = field.one
    extra = 0
    for q, k in field.factors(e.bottom) if len(e.bottom) > 1 or 0 not in e.bottom else []:
        if not set(sparse.variables(q)) & set(field.slopes):
            continue
        if sparse.variables(q) == [x_place] and len(q) == 1:
            below, extra = below * Element(field, q) ** (k + 1), k + 1
        elif len(q) == 1 and _is_exponential(translation, sparse.variables(q)):
            below = below * Element(field, q) ** k
        elif k > 1:
            below = below * Element(field, q) ** (k - 1)
    degrees = {r.place: sparse.degree(r.polynomial, r.place) for r in field.roots}
    growing = {level.place for level in translation.tower.levels if level.exponential}
    levels = {level.place for level in translation.tower.levels}
    present = e.places()
    family = {p for p in field.slopes if p not in levels and p not in degrees}
    used = family | {r.place for r in field.roots if sparse.variables(r.polynomial) and set(sparse.variables(r.polynomial)) & family}
    beside = used if present & used else set()
    others = [p for p in field.slopes if p != x_place and p not in growing and (p in present or p in beside or p in levels)]
    more = sparse.degree(e.top, x_place) + 1
    for p in special:
        below = below * Element(field, sparse.variable(p)) ** more
    x = Element(field, sparse.variable(x_place))
    # the powers of exponentials stay as they are under differentiation
    groups: dict[int, sparse.Polynomial] = {}
    mask = sum(sparse.FIELD << (sparse.BITS * p) for p in growing)
    for m, c in e.top.items():
        groups.setdefault(m & mask, {})[m] = c
    for shared in sorted(groups):
        top = groups[shared]
        most = max(sum(sparse.exponent_of(m, p) for p in others) for m in top) + 1 + (more if special else 0)
        highest = {p: min(degrees.get(p, 100) - 1, max(sparse.degree(top, p), 0) + 1 if p in levels else most) for p in others}
        own = Element(field, {shared: next(iter(sparse.UNIT.values()))})
        for exponents in itertools.product(*(range(highest[p] + 1) for p in others)):
            if sum(exponents) > most:
                continue
            product = own
            for p, k in zip(others, exponents, strict=True):
                product = product * Element(field, sparse.variable(p)) ** k
            for k in range(sparse.degree(top, x_place) + extra + MORE_IN_VARIABLE):
                if k or shared or any(exponents):
                    yield x**k * product / below


def _is_exponential(translation: Translation, places: list[int]) -> bool:
    return any(level.place in places and level.exponential for level in translation.tower.levels)


def _arguments(translation: Translation, f: Expression, e: Element) -> Iterator[tuple[Expression, Element]]:
    """What logarithms may be taken of: factors of the denominator, as they are written and after roots have left it."""
    field = translation.field
    seen: set[Element] = set()
    for g in (h for n in postorder(f) for h in factors_in(n) if isinstance(n, Expression)):
        base, exponent = base_and_exponent(g)
        if (
            isinstance(base, Sum)
            and contains(base, translation.variable)
            and isinstance(exponent, Number)
            and exponent.rational < 0
        ):
            own = translation.element(base)
            if own and own not in seen and not field.is_constant(own):
                seen.add(own)
                yield base, own
    for q, _ in field.factors(e.bottom) if len(e.bottom) > 1 or 0 not in e.bottom else []:
        own = Element(field, q)
        if set(sparse.variables(q)) & set(field.slopes) and own not in seen:
            seen.add(own)
            yield expression_of(own, translation.texts), own
