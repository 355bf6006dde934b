"""Fields of functions: quotients of polynomials in generators, some of them roots, with a derivation.

An element is top/bottom in lowest terms, where no root stands in the bottom and every root in the top is below the degree of its
relation: so two elements are equal just where they look alike. A derivation is known by the slopes of the generators.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from gmpy2 import mpq

from gelvo.deadline import checkpoint
from gelvo.polynomial import extension, sparse
from gelvo.polynomial.extension import AdjoinedRoot
from gelvo.polynomial.gcd import gcd
from gelvo.polynomial.sparse import UNIT, Polynomial

Poly = list["Element"]


class Element:
    """One function of a field."""

    __slots__ = ("bottom", "field", "top")

    def __init__(self, field: Field, top: Polynomial, bottom: Polynomial = UNIT) -> None:
        self.field, self.top, self.bottom = field, top, bottom

    def __bool__(self) -> bool:
        return bool(self.top)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Element) and self.top == other.top and self.bottom == other.bottom

    def __hash__(self) -> int:
        return hash((frozenset(self.top.items()), frozenset(self.bottom.items())))

    def __neg__(self) -> Element:
        return Element(self.field, sparse.negate(self.top), self.bottom)

    def __add__(self, other: Element) -> Element:
        if not self.top:
            return other
        if not other.top:
            return self
        if self.bottom == other.bottom:
            top = sparse.add(self.top, other.top)
            return Element(self.field, top) if self.bottom == UNIT else self.field.quotient(top, self.bottom)
        shared = gcd(self.bottom, other.bottom)
        mine, theirs = (sparse.divide_exactly(b, shared) or UNIT for b in (self.bottom, other.bottom))
        top = sparse.add(sparse.multiply(self.top, theirs), sparse.multiply(other.top, mine))
        return self.field.quotient(top, sparse.multiply(self.bottom, theirs))

    def __sub__(self, other: Element) -> Element:
        return self + (-other)

    def __mul__(self, other: Element) -> Element:
        if not self.top or not other.top:
            return self.field.zero
        top = self.field.reduce(sparse.multiply(self.top, other.top))
        if self.bottom == UNIT and other.bottom == UNIT:
            return Element(self.field, top)
        return self.field.quotient(top, sparse.multiply(self.bottom, other.bottom))

    def times(self, factor: mpq | int) -> Element:
        """A rational multiple."""
        return Element(self.field, sparse.scale(self.top, mpq(factor)), self.bottom if factor else UNIT)

    def __truediv__(self, other: Element) -> Element:
        return self * other.inverse()

    def __pow__(self, exponent: int) -> Element:
        base = self if exponent >= 0 else self.inverse()
        result = self.field.one
        for _ in range(abs(exponent)):
            result = result * base
        return result

    def inverse(self) -> Element:
        """1 over the element; ZeroDivisionError for zero."""
        if not self.top:
            raise ZeroDivisionError("the inverse of zero")
        below = self.field.inverse_of_polynomial(self.top)
        return Element(self.field, self.bottom) * below

    def places(self) -> set[int]:
        """The numbers of the generators that occur."""
        return {*sparse.variables(self.top), *sparse.variables(self.bottom)}

    def rational(self) -> mpq | None:
        """The element as a rational number, else None."""
        if not self.top:
            return mpq(0)
        if self.bottom == UNIT and len(self.top) == 1 and 0 in self.top:
            return mpq(self.top[0])
        return None


class Field:
    """Generators by number, the relations of those that are roots, and the slopes of those that are not constant."""

    def __init__(self) -> None:
        self.size = 0
        self.roots: list[AdjoinedRoot] = []
        self.slopes: dict[int, Element] = {}
        self.zero, self.one = Element(self, {}), Element(self, UNIT)
        self._inverses: dict[frozenset[tuple[int, mpq]], Element] = {}

    def number(self, value: mpq | int) -> Element:
        return Element(self, sparse.constant(mpq(value)))

    def add_generator(self, slope: Element | None = None) -> Element:
        """A new generator, a constant where it has no slope."""
        place, self.size = self.size, self.size + 1
        if slope is not None:
            self.slopes[place] = slope
        return Element(self, sparse.variable(place))

    def add_root(self, lower: Sequence[Element], scale: Element | None = None) -> Element:
        """A root s of s^n + lower[n-1]*s^(n-1) + … + lower[0] = 0, whose coefficients are polynomials; its slope follows."""
        place, self.size = self.size, self.size + 1
        relation: Polynomial = sparse.variable(place, len(lower))
        for k, c in enumerate(lower):
            relation = sparse.add(relation, sparse.multiply(c.top, sparse.variable(place, k) if k else UNIT))
        self.roots.append(AdjoinedRoot(place, relation))
        root = Element(self, sparse.variable(place))
        moved = Element(self, {})
        for k, c in enumerate(lower):
            moved = moved + self.slope(c) * root**k
        if moved:
            by_root = Element(self, self.reduce(sparse.derivative(relation, place)))
            self.slopes[place] = -(moved / by_root)
        return root

    def reduce(self, p: Polynomial) -> Polynomial:
        return extension.reduce(p, self.roots) if self.roots else p

    def quotient(self, top: Polynomial, bottom: Polynomial) -> Element:
        """top/bottom in lowest terms, for a bottom without roots."""
        if not top:
            return self.zero
        if len(bottom) == 1 and 0 in bottom:
            return Element(self, sparse.scale(top, 1 / bottom[0]))
        checkpoint()
        shared = bottom
        for part in self._coordinates(top):
            shared = gcd(part, shared)
            if len(shared) == 1 and 0 in shared:
                break
        else:
            top, bottom = sparse.divide_exactly(top, shared) or {}, sparse.divide_exactly(bottom, shared) or UNIT
        content, bottom = sparse.primitive(bottom)
        return Element(self, sparse.scale(top, 1 / content), UNIT if len(bottom) == 1 and 0 in bottom else bottom)

    def _coordinates(self, p: Polynomial) -> list[Polynomial]:
        """The coefficients of the powers of the roots, short ones first."""
        mask = sparse.mask(r.place for r in self.roots)
        if not mask:
            return [p]
        parts: dict[int, Polynomial] = {}
        for m, c in p.items():
            parts.setdefault(m & mask, {})[m & ~mask] = c
        return sorted(parts.values(), key=lambda q: (len(q), sorted(q)))

    def inverse_of_polynomial(self, p: Polynomial) -> Element:
        """1/p without roots in the bottom: the algorithm of Euclid with the relation of the last root in p."""
        used = [r for r in self.roots if sparse.degree(p, r.place) > 0]
        if not used:
            content, bottom = sparse.primitive(p)
            return Element(self, {0: 1 / content}, UNIT if len(bottom) == 1 and 0 in bottom else bottom)
        key = frozenset(p.items())
        found = self._inverses.get(key)
        if found is None:
            found = self._inverses[key] = self._inverse_over(p, used[-1])
        return found

    def _inverse_over(self, p: Polynomial, root: AdjoinedRoot) -> Element:
        parts = sparse.by_powers(p, root.place)
        own = [Element(self, parts.get(k, {})) for k in range(max(parts) + 1)]
        whole = sparse.by_powers(root.polynomial, root.place)
        relation = [Element(self, whole.get(k, {})) for k in range(max(whole) + 1)]
        inverse = inverse_modulo(own, relation)
        result, power = self.zero, self.one
        generator = Element(self, sparse.variable(root.place))
        for c in inverse:
            result, power = result + c * power, power * generator
        return result

    def slope(self, e: Element) -> Element:
        """The derivative of an element."""
        top = self._slope_of(e.top)
        if e.bottom == UNIT:
            return top
        below = self.quotient(UNIT, e.bottom)
        return (top - e * self._slope_of(e.bottom)) * below

    def _slope_of(self, p: Polynomial) -> Element:
        result = self.zero
        for place in sparse.variables(p):
            slope = self.slopes.get(place)
            if slope is not None:
                change = sparse.derivative(p, place)
                if change:
                    result = result + Element(self, change) * slope
        return result

    def is_constant(self, e: Element) -> bool:
        return not any(place in self.slopes for place in e.places())

    def factors(self, p: Polynomial) -> list[tuple[Polynomial, int]]:
        """The irreducible factors of a polynomial over all numbers among the roots; other roots count as variables."""
        if len(p) == 1 and 0 in p:
            return []
        numbers = [r for r in self.roots if sparse.variables(r.polynomial) == [r.place]]
        if not numbers:
            from gelvo.polynomial.factor import factor  # noqa: PLC0415  (loads NumPy only where it is needed)

            return factor(p)[1]
        return extension.factor_over(p, numbers)[1]

    def total(self, elements: Iterable[Element]) -> Element:
        result = self.zero
        for e in elements:
            result = result + e
        return result


# --- polynomials over a field: lists of elements, constant term first -----------------------------------------------------------


def trim(p: Poly) -> Poly:
    while p and not p[-1]:
        p.pop()
    return p


def add(p: Poly, q: Poly) -> Poly:
    if len(p) < len(q):
        p, q = q, p
    return trim([*(a + b for a, b in zip(p, q, strict=False)), *p[len(q) :]])


def negate(p: Poly) -> Poly:
    return [-c for c in p]


def subtract(p: Poly, q: Poly) -> Poly:
    return add(p, negate(q))


def scale(p: Poly, factor: Element) -> Poly:
    return [c * factor for c in p] if factor else []


def multiply(p: Poly, q: Poly) -> Poly:
    if not p or not q:
        return []
    zero = p[0].field.zero
    result = [zero] * (len(p) + len(q) - 1)
    for i, a in enumerate(p):
        if a:
            for j, b in enumerate(q):
                if b:
                    result[i + j] = result[i + j] + a * b
    return trim(result)


def divide(p: Poly, q: Poly) -> tuple[Poly, Poly]:
    """Quotient and remainder."""
    rest = list(p)
    gap = len(p) - len(q)
    if gap < 0:
        return [], rest
    zero = q[0].field.zero
    quotient, top = [zero] * (gap + 1), q[-1].inverse()
    for i in range(gap, -1, -1):
        checkpoint()
        factor = rest[i + len(q) - 1] * top
        quotient[i] = factor
        if factor:
            for j, c in enumerate(q[:-1]):
                rest[i + j] = rest[i + j] - factor * c
    return trim(quotient), trim(rest[: len(q) - 1])


def inverse_modulo(a: Poly, m: Poly) -> Poly:
    """b of lower degree with a*b = 1 modulo m; ZeroDivisionError where they have a common factor."""
    field = m[-1].field
    old, new = m, divide(a, m)[1] if len(a) >= len(m) else a
    s_old: Poly = []
    s_new: Poly = [field.one]
    while len(new) > 1:
        quotient, rest = divide(old, new)
        old, new = new, rest
        s_old, s_new = s_new, subtract(s_old, multiply(quotient, s_new))
    if not new:
        raise ZeroDivisionError("no inverse modulo a polynomial with a common factor")
    return scale(divide(s_new, m)[1] if len(s_new) >= len(m) else s_new, new[0].inverse())
