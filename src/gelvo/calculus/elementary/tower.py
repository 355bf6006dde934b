"""A tower: generators that are logarithms or exponentials over those below them, and what a level knows of its own.

A primitive has its slope in the field below; an exponential has its slope over itself there. The variable is the primitive of 1 over
the constants, so that no level is special.
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.field import Element, Field
from gelvo.calculus.elementary.polynomials import Poly
from gelvo.errors import DomainError
from gelvo.polynomial import sparse


class Level(NamedTuple):
    """One generator: its number, whether it is an exponential, and its slope (over itself for an exponential)."""

    place: int
    exponential: bool
    rate: Element


class Work:
    """How many differential equations may still be solved by all towers of one search."""

    def __init__(self, most: int) -> None:
        self.left = most

    def spend(self) -> None:
        self.left -= 1
        if self.left < 0:
            raise DomainError("the search for an antiderivative has solved as many equations as it may")


class Tower:
    """A field with its levels in order; level -1 are the constants."""

    def __init__(self, work: Work | None = None) -> None:
        self.work = work
        self.field = Field()
        self.levels: list[Level] = []

    def add_primitive(self, slope: Element) -> Element:
        generator = self.field.add_generator(slope)
        self.levels.append(Level(self.field.size - 1, False, slope))
        return generator

    def add_exponential(self, rate: Element) -> Element:
        generator = self.field.add_generator(self.field.zero)
        self.field.slopes[self.field.size - 1] = generator * rate
        self.levels.append(Level(self.field.size - 1, True, rate))
        return generator

    def generator(self, n: int) -> Element:
        return Element(self.field, sparse.variable(self.levels[n].place))

    def level_of(self, e: Element) -> int:
        """The lowest level of which an element is."""
        places = e.places()
        return max((n for n, level in enumerate(self.levels) if level.place in places), default=-1)

    def slope(self, p: Poly, n: int) -> Poly:
        """The derivative of a polynomial in the generator of a level."""
        field, level = self.field, self.levels[n]
        own = [field.slope(c) for c in p]
        if level.exponential:
            return poly.trim([d + (c * level.rate).times(k) if k else d for k, (d, c) in enumerate(zip(own, p, strict=True))])
        return poly.add(poly.trim(own), poly.scale(poly.derivative(p), level.rate))

    def parts(self, e: Element, n: int) -> tuple[Poly, Poly]:
        """(numerator, denominator) in the generator of a level, in lowest terms, the denominator with leading coefficient 1."""
        top, bottom = poly.of_element(e, self.levels[n].place)
        if len(bottom) > 1 and self.field.roots:
            shared = poly.gcd(bottom, top) if top else bottom
            if len(shared) > 1:
                top, bottom = poly.divide(top, shared)[0], poly.divide(bottom, shared)[0]
        scale = bottom[-1].inverse()
        return poly.scale(top, scale), poly.scale(bottom, scale)

    def element(self, p: Poly, n: int) -> Element:
        return poly.element(p, self.levels[n].place, self.field)
