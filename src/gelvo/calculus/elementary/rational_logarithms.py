"""Sums of alpha*ln(argument) over the zeros alpha of a polynomial, as real logarithms and arctangents.

Sources: D. Lazard and R. Rioboo, "Integration of rational functions: rational computation of the logarithmic part" (1990), B. Trager
(1976) for the arguments; Rioboo's arctangents without jumps as in M. Bronstein, "Symbolic Integration I" (2005), 2.8.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.field import Element, Field
from gelvo.calculus.elementary.integral import Sum
from gelvo.calculus.elementary.polynomials import Poly
from gelvo.calculus.elementary.tower import Tower
from gelvo.polynomial import sparse


def constant_factors(tower: Tower, polynomial: list[Element]) -> list[list[Element]]:
    """The different irreducible factors of a polynomial with constant coefficients, each with leading coefficient 1."""
    field = tower.field
    place = field.size
    whole = field.zero
    z = Element(field, sparse.variable(place))
    for c in reversed(polynomial):
        whole = whole * z + c
    return [poly.monic(poly.from_sparse(field, p, place)) for p, _ in field.factors(whole.top) if sparse.degree(p, place) > 0]


def argument(part: Sum, alpha: Element) -> Poly:
    """The common factor of the factor and the residue less one of its values."""
    return poly.gcd(part.factor, poly.subtract(part.residue, [alpha]))


def split(p: Poly, root_place: int, field: Field) -> tuple[Poly, Poly]:
    """(U, W) with p = U + root*W."""
    even: Poly = []
    odd: Poly = []
    for c in p:
        parts = sparse.by_powers(c.top, root_place)
        below = Element(field, {0: mpq(1)}) / Element(field, c.bottom)
        even.append(Element(field, parts.get(0, {})) * below)
        odd.append(Element(field, parts.get(1, {})) * below)
    return poly.trim(even), poly.trim(odd)


def arctangents(a: Poly, b: Poly) -> list[Poly]:
    """Polynomials p: the sum of 2*atan(p) has the slope of 1j*ln((a + 1j*b)/(a - 1j*b)), without jumps (Rioboo).

    >>> field = Field()
    >>> x, one = field.add_generator(field.one), field.one
    >>> [len(p) - 1 for p in arctangents([field.zero, field.number(-3), field.zero, one], [field.number(-2), field.zero, one])]
    [5, 3, 1]
    """
    result: list[Poly] = []
    while True:
        quotient, rest = poly.divide(a, b)
        if not rest:
            return [*result, quotient]
        if len(a) < len(b):
            a, b = poly.negate(b), a
            continue
        d, c, g = _cofactors(b, poly.negate(a))  # b*d - a*c = g, a constant
        result.append(poly.divide(poly.add(poly.multiply(a, d), poly.multiply(b, c)), g)[0])
        a, b = d, c


def _cofactors(p: Poly, q: Poly) -> tuple[Poly, Poly, Poly]:
    """(u, v, g) with u*p + v*q = g, the common factor."""
    field = (p or q)[0].field
    old: tuple[Poly, Poly, Poly] = (p, [field.one], [])
    new: tuple[Poly, Poly, Poly] = (q, [], [field.one])
    while new[0]:
        quotient, rest = poly.divide(old[0], new[0])
        old, new = (
            new,
            (
                rest,
                poly.subtract(old[1], poly.multiply(quotient, new[1])),
                poly.subtract(old[2], poly.multiply(quotient, new[2])),
            ),
        )
    return old[1], old[2], old[0]
