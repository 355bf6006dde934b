"""Polynomials in one generator with elements of a field as coefficients: lists, constant term first."""

from __future__ import annotations

from gelvo.calculus.elementary.field import Element, Field
from gelvo.deadline import checkpoint
from gelvo.polynomial import sparse

Poly = list[Element]


def trim(p: Poly) -> Poly:
    while p and not p[-1]:
        p.pop()
    return p


def degree(p: Poly) -> int:
    """The degree; -1 for zero."""
    return len(p) - 1


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


def shift(p: Poly, k: int, field: Field) -> Poly:
    """p times the k-th power of the generator."""
    return [*[field.zero] * k, *p] if p else []


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


def power(p: Poly, k: int, field: Field) -> Poly:
    result = [field.one]
    for _ in range(k):
        result = multiply(result, p)
    return result


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


def monic(p: Poly) -> Poly:
    return scale(p, p[-1].inverse()) if p else p


def gcd(p: Poly, q: Poly) -> Poly:
    """The common factor with leading coefficient 1."""
    while q:
        p, q = q, monic(divide(p, q)[1])
    return monic(p)


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
