"""An antiderivative with undetermined coefficients over functions that are closed under differentiation: Bessel, Airy, Lambert, roots.

The field of the integrand has the functions, two neighbours of a family each, and its roots as generators; the antiderivative is a
polynomial in them over a denominator of its own, with logarithms of the denominators: one linear system over the constants. Source:
M. Bronstein, "Symbolic Integration I" (2005), chapter 10 (parallel integration).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.calculus.antiderivative.closed_functions import CLOSED, JOINING, Joining
from gelvo.calculus.antiderivative.support import Search, roots_of
from gelvo.calculus.elementary.constants import null_space
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.kernels import OVER_ROOTS, OutsideOfTowers, Translation
from gelvo.calculus.elementary.leaving import expression_of
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import total
from gelvo.expression.nodes import Call, Expression, Node, Number, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, dependents, postorder, transform
from gelvo.functions.named import CBRT, COS, COT, CSC, SEC, SIN, TAN, is_a  # fmt: skip
from gelvo.polynomial import sparse

MOST_TERMS = 1000
MORE_IN_VARIABLE = 3


def by_ansatz(f: Expression, search: Search) -> Found | None:
    """r*besselj(0, r)^2  ->  r^2*(besselj(0, r)^2 + besselj(1, r)^2)/2"""
    plain = transform(f, _by_sine_and_cosine)
    moving = dependents(plain, search.variable)
    nodes = [n for n in postorder(plain) if n in moving]
    roots = roots_of(plain, search.variable)
    calls = [n for n in nodes if isinstance(n, Call)]
    if not (roots and calls) and not any(is_a(n, *CLOSED, CBRT, *OVER_ROOTS) for n in calls):
        return None
    try:
        return _solved(plain, search)
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None


def _by_sine_and_cosine(node: Node) -> Node:
    """Tangents by sine and cosine."""
    if is_a(node, TAN, COT, SEC, CSC):
        u = node.arguments[0]
        table: dict[str, Expression] = {TAN: SIN(u) / COS(u), COT: COS(u) / SIN(u), SEC: 1 / COS(u), CSC: 1 / SIN(u)}
        return table[node.name]
    return node


def _solved(f: Expression, search: Search) -> Found | None:
    joining = Joining(postorder(f))
    translation = Translation([f], search.variable, search.facts, True, JOINING, joining)
    whole = translation.element(f)
    apart = _apart(translation, whole)
    for parts in (apart, [whole]) if len(apart) > 1 else ([whole],):
        found = [_of_part(translation, f, part, joining.below, search) for part in parts]
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
    basis = list(itertools.islice(_Shape(translation, e, families).monomials(), MOST_TERMS + 1))
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


# --- the form -----------------------------------------------------------------------------------------------------------------


class _Shape:
    """What the terms of an antiderivative of e may be: products of powers of generators over a denominator.

    special: the generators that may stand in the denominator although nothing of them does in e.
    """

    def __init__(self, translation: Translation, e: Element, special: set[int]) -> None:
        self.translation, self.field, self.e, self.special = translation, translation.field, e, special
        self.x = translation.tower.levels[0].place
        self.levels = {level.place for level in translation.tower.levels}
        self.growing = {level.place for level in translation.tower.levels if level.exponential}
        self.degrees = {r.place: sparse.degree(r.polynomial, r.place) for r in self.field.roots}
        self.below, self.more_in_x = self._denominator()
        self.others = self._others()

    def _denominator(self) -> tuple[Element, int]:
        """The denominator, and by how many powers of the variable it is larger than that of e."""
        field, below, more = self.field, self.field.one, 0
        for q, k in field.factors(self.e.bottom):
            used = sparse.variables(q)
            if not set(used) & set(field.slopes):
                continue
            power = k - 1
            if len(q) == 1 and used == [self.x]:
                power = more = k + 1
            elif len(q) == 1 and set(used) & self.growing:
                power = k
            below = below * Element(field, q) ** power
        for p in self.special:
            below = below * Element(field, sparse.variable(p)) ** self._times()
        return below, more

    def _times(self) -> int:
        return sparse.degree(self.e.top, self.x) + 1

    def _others(self) -> list[int]:
        """The generators beside the variable and the exponentials; of families all, where one of them occurs."""
        field, present = self.field, self.e.places()
        family = {p for p in field.slopes if p not in self.levels and p not in self.degrees}
        family |= {r.place for r in field.roots if set(sparse.variables(r.polynomial)) & family}
        wanted = self.levels | present | (family if present & family else set())
        return [p for p in field.slopes if p != self.x and p not in self.growing and p in wanted]

    def monomials(self) -> Iterator[Element]:
        """The terms; the powers of exponentials stay as they are under differentiation."""
        groups: dict[int, sparse.Polynomial] = {}
        mask = sparse.mask(self.growing)
        for m, c in self.e.top.items():
            groups.setdefault(m & mask, {})[m] = c
        x = Element(self.field, sparse.variable(self.x))
        for shared in sorted(groups):
            top = groups[shared]
            powers = range(sparse.degree(top, self.x) + self.more_in_x + MORE_IN_VARIABLE)
            for exponents in self._exponents(top):
                own = Element(self.field, {shared + sum(k << (sparse.BITS * p) for p, k in exponents): mpq(1)}) / self.below
                yield from (x**k * own for k in powers if k or shared or any(n for _, n in exponents))

    def _exponents(self, top: sparse.Polynomial) -> Iterator[list[tuple[int, int]]]:
        """Of each term the powers of the other generators: one more than in e at most, roots below their degree."""
        most = max(sum(sparse.exponent_of(m, p) for p in self.others) for m in top) + 1 + (self._times() if self.special else 0)
        highest = [
            min(self.degrees.get(p, most + 1) - 1, max(sparse.degree(top, p), 0) + 1 if p in self.levels else most)
            for p in self.others
        ]
        for exponents in itertools.product(*(range(h + 1) for h in highest)):
            if sum(exponents) <= most:
                yield list(zip(self.others, exponents, strict=True))


def _arguments(translation: Translation, f: Expression, e: Element) -> Iterator[tuple[Expression, Element]]:
    """What logarithms may be taken of: factors of the denominator, as they are written and after roots have left it."""
    field = translation.field
    seen: set[Element] = set()
    for g in (h for n in postorder(f) if isinstance(n, Expression) for h in factors_in(n)):
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
    for q, _ in field.factors(e.bottom):
        own = Element(field, q)
        if set(sparse.variables(q)) & set(field.slopes) and own not in seen:
            seen.add(own)
            yield expression_of(own, translation.texts), own
