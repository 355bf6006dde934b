"""Resultants, subresultants and discriminants.

Sources: W. Brown, J. Traub, "On Euclid's algorithm and the theory of subresultants" (1971); H. Cohen, "A Course in
Computational Algebraic Number Theory" (1993), algorithm 3.3.7.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.polynomial import sparse
from gelvo.polynomial.gcd import content_in
from gelvo.polynomial.sparse import Polynomial

ONE: Polynomial = {0: mpq(1)}


def _divided(p: Polynomial, q: Polynomial) -> Polynomial:
    found = sparse.divide_exactly(p, q)
    if found is None:
        raise ArithmeticError("a division that must be exact left a remainder")
    return found


def pseudo_remainder(a: Polynomial, b: Polynomial, index: int) -> Polynomial:
    """The remainder of lc(b)^(deg a - deg b + 1) * a on division by b, in one variable."""
    shift = sparse.BITS * index
    size = sparse.degree(b, index)
    leading = sparse.leading_coefficient(b, index)
    steps = sparse.degree(a, index) - size + 1
    while a and (gap := sparse.degree(a, index) - size) >= 0:
        top = sparse.leading_coefficient(a, index)
        moved = {m + (gap << shift): c for m, c in b.items()}
        a = sparse.subtract(sparse.multiply(a, leading), sparse.multiply(moved, top))
        steps -= 1
    return sparse.multiply(a, sparse.power(leading, steps)) if steps > 0 and a else a


def subresultants(p: Polynomial, q: Polynomial, index: int) -> list[Polynomial]:
    """The chain of remainders without fractions: p, q, and their non-zero subresultants up to factors of sign.

    >>> x = sparse.variable(0)
    >>> [len(s) for s in subresultants({2: mpq(1), 0: mpq(-1)}, {1: mpq(2)}, 0)]
    [2, 1, 1]
    """
    a, b = p, q
    if sparse.degree(a, index) < sparse.degree(b, index):
        a, b = b, a
    chain = [a, b]
    g, h = ONE, ONE
    while b and sparse.degree(b, index) > 0:
        gap = sparse.degree(a, index) - sparse.degree(b, index)
        rest = pseudo_remainder(a, b, index)
        if not rest:
            break
        rest = _divided(rest, sparse.multiply(g, sparse.power(h, gap)))
        a, b = b, rest
        g = sparse.leading_coefficient(a, index)
        h = _next_height(g, h, gap)
        chain.append(b)
    return chain


def _next_height(g: Polynomial, h: Polynomial, gap: int) -> Polynomial:
    if gap == 0:
        return h
    return _divided(sparse.power(g, gap), sparse.power(h, gap - 1)) if gap > 1 else g


def resultant(p: Polynomial, q: Polynomial, index: int) -> Polynomial:
    """The determinant of the Sylvester matrix in one variable: zero when p and q share a root.

    >>> resultant({1: mpq(1), 0: mpq(-2)}, {1: mpq(1), 0: mpq(-5)}, 0) == {0: -3}
    True
    """
    if not p or not q:
        return {}
    m, n = sparse.degree(p, index), sparse.degree(q, index)
    if n == 0:
        return sparse.power(q, m)
    if m == 0:
        return sparse.power(p, n)
    sign = 1
    if m < n:
        p, q, sign = q, p, -1 if m % 2 and n % 2 else 1
        m, n = n, m
    contents = content_in(p, index), content_in(q, index)
    a, b = _divided(p, contents[0]), _divided(q, contents[1])
    outside = sparse.multiply(sparse.power(contents[0], n), sparse.power(contents[1], m))
    return sparse.scale(sparse.multiply(outside, _of_primitive(a, b, index)), mpq(sign))


def _of_primitive(a: Polynomial, b: Polynomial, index: int) -> Polynomial:
    """The resultant of two polynomials of positive degree without common factors of their coefficients; a has the higher degree."""
    g, h, sign = ONE, ONE, 1
    while True:
        da, db = sparse.degree(a, index), sparse.degree(b, index)
        gap = da - db
        if da % 2 and db % 2:
            sign = -sign
        rest = pseudo_remainder(a, b, index)
        a, b = b, rest
        if not b:
            return {}
        b = _divided(b, sparse.multiply(g, sparse.power(h, gap)))
        g = sparse.leading_coefficient(a, index)
        h = _next_height(g, h, gap)
        if sparse.degree(b, index) == 0:
            last = sparse.degree(a, index)
            top = sparse.power(b, last)
            final = _divided(top, sparse.power(h, last - 1)) if last > 1 else top
            return sparse.scale(final, mpq(sign))


def discriminant(p: Polynomial, index: int) -> Polynomial:
    """(-1)^(n*(n-1)/2) * Res(p, p') / leading coefficient, of a polynomial of degree n in one variable.

    >>> discriminant({2: mpq(1), 0: mpq(-3)}, 0) == {0: 12}
    True
    """
    n = sparse.degree(p, index)
    if n < 1:
        return {}
    if n == 1:
        return ONE
    whole = resultant(p, sparse.derivative(p, index), index)
    if not whole:
        return {}
    return sparse.scale(_divided(whole, sparse.leading_coefficient(p, index)), mpq(-1 if n * (n - 1) // 2 % 2 else 1))
