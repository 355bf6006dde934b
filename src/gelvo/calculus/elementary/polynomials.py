"""Polynomials in one generator with elements of a field as coefficients: lists, constant term first."""

from __future__ import annotations

from gelvo.calculus.elementary.field import (
    Element,
    Field,
    Poly,
    add,
    divide,
    inverse_modulo,
    multiply,
    negate,
    scale,
    subtract,
    trim,
)  # fmt: skip
from gelvo.polynomial import sparse


def degree(p: Poly) -> int:
    """The degree; -1 for zero."""
    return len(p) - 1


def shift(p: Poly, k: int, field: Field) -> Poly:
    """p times the k-th power of the generator."""
    return [*[field.zero] * k, *p] if p else []


def power(p: Poly, k: int, field: Field) -> Poly:
    result = [field.one]
    for _ in range(k):
        result = multiply(result, p)
    return result


def monic(p: Poly) -> Poly:
    return scale(p, p[-1].inverse()) if p else p


def gcd(p: Poly, q: Poly) -> Poly:
    """The common factor with leading coefficient 1."""
    while q:
        p, q = q, monic(divide(p, q)[1])
    return monic(p)


def derivative(p: Poly) -> Poly:
    return trim([c.times(k) for k, c in enumerate(p)][1:])


def of_element(e: Element, place: int) -> tuple[Poly, Poly]:
    """(numerator, denominator) of an element as polynomials in one generator."""
    return from_sparse(e.field, e.top, place), from_sparse(e.field, e.bottom, place)


def from_sparse(field: Field, p: sparse.Polynomial, place: int) -> Poly:
    parts = sparse.by_powers(p, place)
    return [Element(field, parts[k]) if k in parts else field.zero for k in range(max(parts, default=-1) + 1)]


def element(p: Poly, place: int, field: Field) -> Element:
    """The value of a polynomial at its generator."""
    t = Element(field, sparse.variable(place))
    result, k = field.zero, field.one
    for c in p:
        result, k = result + c * k, k * t
    return result


def square_free(p: Poly) -> list[tuple[Poly, int]]:
    """Yun's algorithm (1976): [(factor with leading coefficient 1, times)]."""
    result: list[tuple[Poly, int]] = []
    p = monic(p)
    change = derivative(p)
    common = gcd(p, change)
    part, rest = divide(p, common)[0], divide(change, common)[0]
    rest = subtract(rest, derivative(part))
    times = 1
    while len(part) > 1:
        piece = gcd(part, rest)
        part, rest = divide(part, piece)[0], divide(rest, piece)[0]
        rest = subtract(rest, derivative(part))
        if len(piece) > 1:
            result.append((piece, times))
        times += 1
    return result


__all__ = ["Poly", "add", "divide", "inverse_modulo", "multiply", "negate", "scale", "subtract", "trim"]
