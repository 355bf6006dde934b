"""The real form of what complex exponentials gave: conjugate parts meet, and powers of exp(1j*u) become waves of multiples of u."""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.leaving import Texts, of_polynomial
from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression
from gelvo.functions.named import COS, SIN
from gelvo.polynomial import extension, sparse
from gelvo.polynomial.extension import AdjoinedRoot
from gelvo.polynomial.sparse import UNIT, Polynomial

Shift = tuple[mpq, ...]  # a power of each wave generator


class Laurent(NamedTuple):
    """polynomial * product of waves^shift."""

    polynomial: Polynomial
    shift: Shift


class Term(NamedTuple):
    """coefficient*ln(first), or coefficient*arg(first + 1j*second)."""

    coefficient: Expression
    first: Expression
    second: Expression | None = None


class RealForm:
    """The waves among the generators of a tower, and conjugation."""

    def __init__(self, texts: Texts, roots: list[AdjoinedRoot], angle_elements: list[Element]) -> None:
        assert texts.imaginary is not None
        self.texts, self.place = texts, texts.imaginary
        self.root = [r for r in roots if r.place == self.place]
        self.numbers = [r for r in roots if sparse.variables(r.polynomial) == [r.place]]
        self.waves = sorted(texts.angles)
        self.angles = [texts.angles[k] for k in self.waves]
        self.angle_elements = angle_elements

    def conjugate(self, p: Polynomial) -> Laurent:
        """The conjugate: the imaginary unit turns its sign, waves become their inverses."""
        degrees = [max(sparse.degree(p, k), 0) for k in self.waves]
        result: Polynomial = {}
        for m, c in p.items():
            for k, d in zip(self.waves, degrees, strict=True):
                e = sparse.exponent_of(m, k)
                m += (d - 2 * e) << (sparse.BITS * k)
            result[m] = -c if sparse.exponent_of(m, self.place) % 2 else c
        return Laurent(result, tuple(mpq(-d) for d in degrees))

    def real_factor(self, p: Polynomial) -> Laurent | None:
        """unit*p*waves^shift that is real, for a p that its conjugate is a multiple of; else None."""
        turned = self.conjugate(p)
        ratio = self._constant_ratio(turned.polynomial, p)
        if ratio is None:
            return None
        degrees = turned.shift
        half = tuple(d / 2 for d in degrees)
        # conj(p) = ratio*p*z^-d: with s = z^(-d/2), c*p*s is real where c = conj(c)*ratio
        i = sparse.variable(self.place)
        unit = sparse.add(UNIT, ratio)
        if not unit:
            unit = i
        return Laurent(sparse.primitive(extension.multiply(p, unit, self.root))[1], half)

    def _constant_ratio(self, p: Polynomial, q: Polynomial) -> Polynomial | None:
        """p/q where that is a number a + 1j*b."""
        mask = sparse.FIELD << (sparse.BITS * self.place)
        lead = max(m & ~mask for m in q)
        top, bottom = ({m & mask: c for m, c in r.items() if m & ~mask == lead} for r in (p, q))
        if not top:
            return None
        ratio = extension.multiply(top, extension.inverse(bottom, self.root), self.root)
        return ratio if extension.multiply(q, ratio, self.root) == p else None

    def fraction(self, e: Element) -> Expression:
        """A real-valued element as a formula without imaginary unit."""
        if not e.top:
            return ZERO
        top, bottom = self.lowest(e)
        shift = tuple(mpq(0) for _ in self.waves)
        pieces: list[Expression] = []
        for q, k in self.factors(bottom):
            real = self.real_factor(q)
            if real is None:
                turned = self.conjugate(q)
                for _ in range(k):
                    top = extension.multiply(top, turned.polynomial, self.root)
                shift = tuple(s + k * t for s, t in zip(shift, turned.shift, strict=True))
                both = extension.multiply(q, turned.polynomial, self.root)
                pieces.append(power(self.waves_of(Laurent(both, turned.shift)), number(-k)))
                continue
            pieces.append(power(self.waves_of(real), number(-k)))
            quotient = extension.divide_exactly(real.polynomial, q, self.root) or UNIT  # the unit
            for _ in range(k):
                top = extension.multiply(top, quotient, self.root)
            shift = tuple(s + k * h for s, h in zip(shift, real.shift, strict=True))
        return multiply_all([self.waves_of(Laurent(self._over_leading(top, bottom), shift)), *pieces])

    def _over_leading(self, top: Polynomial, bottom: Polynomial) -> Polynomial:
        """top over the leading number of a denominator."""
        leading = (
            extension.divide_exactly(bottom, extension.monic(bottom, self.numbers), self.numbers) or UNIT
            if len(bottom) > 1
            else UNIT
        )
        return extension.multiply(top, extension.inverse(leading, self.root), self.root)

    def factors(self, p: Polynomial) -> list[tuple[Polynomial, int]]:
        """Irreducible factors over the numbers; two that differ by the sign of the imaginary unit are one."""
        if len(p) == 1:
            return [(p, 1)]
        waiting = extension.factor_over(p, self.numbers)[1]
        result: list[tuple[Polynomial, int]] = []
        while waiting:
            q, k = waiting.pop(0)
            other = {m: -c if sparse.exponent_of(m, self.place) % 2 else c for m, c in q.items()}
            if other != q and (other, k) in waiting:
                waiting.remove((other, k))
                q = extension.multiply(q, other, self.root)
            result.append((q, k))
        return result

    def lowest(self, e: Element) -> tuple[Polynomial, Polynomial]:
        """Numerator and denominator without the common factors that need the imaginary unit."""
        if len(e.bottom) == 1 or sparse.degree(e.top, self.place) <= 0:
            return e.top, e.bottom
        shared = extension.gcd(e.top, e.bottom, self.numbers)
        if len(shared) == 1 and 0 in shared:
            return e.top, e.bottom
        top = extension.divide_exactly(e.top, shared, self.numbers)
        bottom = extension.divide_exactly(e.bottom, shared, self.numbers)
        assert top is not None and bottom is not None
        return top, bottom

    def waves_of(self, value: Laurent) -> Expression:
        """A real value as a sum of waves of whole combinations of the angles."""
        return total(self._terms(value))

    def _terms(self, value: Laurent) -> list[Expression]:
        groups: dict[Shift, tuple[Polynomial, Polynomial]] = {}
        clear = ~sparse.mask((*self.waves, self.place))
        for m, c in value.polynomial.items():
            key = tuple(sparse.exponent_of(m, k) + s for k, s in zip(self.waves, value.shift, strict=True))
            real, imag = groups.setdefault(key, ({}, {}))
            (imag if sparse.exponent_of(m, self.place) else real)[m & clear] = c
        terms = []
        for key in sorted(groups, reverse=True):
            first = next((k for k in key if k), mpq(0))
            real, imag = groups[key]
            if first == 0:
                terms.append(of_polynomial(real, self.texts))
            elif first > 0:
                angle = total([scale(a, k) for a, k in zip(self.angles, key, strict=True) if k])
                terms.append(scale(of_polynomial(real, self.texts) * COS(angle), mpq(2)))
                terms.append(scale(of_polynomial(imag, self.texts) * SIN(angle), mpq(-2)))
        return terms

    def logarithms(self, listed: list[tuple[Element, Element]], zero: Element) -> tuple[list[Term], Element]:
        """(terms, what else there is as an element): the real part of a sum of c*ln(argument)."""
        found: list[Term] = []
        waiting = self._joined(listed)
        more = zero
        while waiting:
            c, argument = waiting.pop(0)
            p = argument.top
            real = self.real_factor(p)
            size, turn = self.real_part(c), self.imaginary_part(c)
            if real is not None:  # ln(p) is the logarithm of something real, less its phase
                if size:
                    found.append(Term(self.fraction(size), self.waves_of(real)))
                more = more + self._phase(c, real.shift)
                continue
            turned = self.conjugate(p)
            half = tuple(s / 2 for s in turned.shift)
            more = more + self._phase(c, half)
            for d, b in list(waiting):
                if self._constant_ratio(turned.polynomial, b.top) is not None:
                    waiting.remove((d, b))
                    size, turn = size + self.real_part(d), turn - self.imaginary_part(d)
                    more = more + self._phase(d, half)
            if size:
                both = extension.multiply(p, turned.polynomial, self.root)
                found.append(Term(scale(self.fraction(size), mpq(1, 2)), self.waves_of(Laurent(both, turned.shift))))
            if turn:
                found.append(Term(-self.fraction(turn), *self._real_and_imaginary(p, half)))
        return found, more

    def _joined(self, listed: list[tuple[Element, Element]]) -> list[tuple[Element, Element]]:
        """Arguments with one coefficient in one: those that differ by the sign of the imaginary unit, and those of one wave alone."""
        waiting, result = list(listed), []
        while waiting:
            c, a = waiting.pop(0)
            own = self._wave_alone(a.top)
            for d, b in list(waiting):
                mirror = {m: -v if sparse.exponent_of(m, self.place) % 2 else v for m, v in a.top.items()}
                turned = mirror != a.top and self._constant_ratio(mirror, b.top) is not None
                if d == c and (turned or (own is not None and own == self._wave_alone(b.top))):
                    waiting.remove((d, b))
                    a = Element(a.field, extension.multiply(a.top, b.top, self.root))
            result.append((c, a))
        return result

    def _wave_alone(self, p: Polynomial) -> int | None:
        """The number of the wave that is the only generator of a polynomial with numbers as coefficients."""
        used = [k for k in sparse.variables(p) if k != self.place]
        return used[0] if len(used) == 1 and used[0] in self.waves else None

    def _phase(self, c: Element, shift: Shift) -> Element:
        """-c*1j*shift*angles."""
        field = c.field
        angle = field.total(a.times(s) for a, s in zip(self.angle_elements, shift, strict=True))
        return -(c * Element(field, sparse.variable(self.place)) * angle)

    def conjugate_element(self, e: Element) -> Element:
        """The conjugate of an element."""
        field = e.field
        top, bottom = self.conjugate(e.top), self.conjugate(e.bottom)
        result = Element(field, field.reduce(top.polynomial)) / Element(field, field.reduce(bottom.polynomial))
        for k, s, t in zip(self.waves, top.shift, bottom.shift, strict=True):
            result = result * Element(field, sparse.variable(k)) ** int(s - t)
        return result

    def real_part(self, e: Element) -> Element:
        return (e + self.conjugate_element(e)).times(mpq(1, 2))

    def imaginary_part(self, e: Element) -> Element:
        i = Element(e.field, sparse.variable(self.place))
        return (e - self.conjugate_element(e)).times(mpq(-1, 2)) * i

    def _real_and_imaginary(self, p: Polynomial, shift: Shift) -> tuple[Expression, Expression]:
        """(A, B) with p*waves^shift = A + 1j*B."""
        i = sparse.variable(self.place)
        turned = self.conjugate(p)  # conj(p*z^h) = conj(p)*z^-h is the turned polynomial times z^h, for half its shift h
        plus = extension.reduce(sparse.add(p, turned.polynomial), self.root)
        minus = extension.reduce(sparse.subtract(p, turned.polynomial), self.root)
        a = self.waves_of(Laurent(plus, shift))
        b = self.waves_of(Laurent(extension.multiply(minus, sparse.negate(i), self.root), shift))
        return scale(a, mpq(1, 2)), scale(b, mpq(1, 2))
