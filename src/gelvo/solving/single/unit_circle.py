"""Zeros of a polynomial in sine and cosine as zeros on the unit circle: roots of unity first, the rest by z + 1/z.

With z = exp(1j*t) the polynomial is P(z)/z^d. Where its coefficients are rational, N = P*conj(P) is a polynomial over the rationals;
its cyclotomic factors have all rational angles, and of what is left only the part that does not change under z -> 1/z may vanish on
the circle: a polynomial in w = z + 1/z = 2*cos(t). A zero of N is one of P at t or at -t, so that the candidates are put back.
"""

from __future__ import annotations

from math import cos, gcd, pi, sin

from gmpy2 import mpq, mpz

from gelvo.deciding.algebraic import all_roots
from gelvo.deciding.radical_roots import radical_form
from gelvo.evaluation.enclose import enclose
from gelvo.expression import known as bits
from gelvo.expression.building import number
from gelvo.expression.constants import PI
from gelvo.expression.nodes import AlgebraicNumber, Expression, Name, Number
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.functions.named import ACOS
from gelvo.numbers.exact import Gaussian
from gelvo.polynomial import dense
from gelvo.polynomial.dense import Dense
from gelvo.polynomial.factor_univariate import factor_square_free

HIGHEST = 60  # the degree in z up to which this is tried
FEWEST = 3  # below, the tangent of half the angle gives shorter forms
NEAR = 1e-7


def angles_on_the_circle(f: Expression, s: Name, c: Name) -> list[Expression] | None:
    """Candidates for all angles in (-pi, pi] where a polynomial in s = sin(t) and c = cos(t) vanishes; None where it is not of this kind.

    >>> from gelvo.expression.building import name
    >>> s, c = name("s"), name("c")
    >>> [int((4*a / PI).rational) for a in angles_on_the_circle(2*s*c - 1, s, c)]  # sin(2*t) = 1 at pi/4 and -3*pi/4
    [1, -3]
    """
    values = _polynomial(f, s, c)
    if values is None:
        return None
    rows = [complex(float(a), float(b)) for a, b in values]
    norm = _norm(values)
    turns, rest = _unity(norm)
    angles: list[mpq] = []
    for order in turns:
        shares = [mpq(2 * k, order) for k in range(1, order + 1) if gcd(k, order) == 1]
        angles += [q if q <= 1 else q - 2 for q in shares if _vanishes(rows, float(q) * pi)]
    cosines = _cosines(rest)
    if cosines and len(values) - 1 < FEWEST:
        return None
    found: list[Expression] = [PI * number(q) for q in sorted(angles, key=lambda q: (abs(q), -q))]
    for w in cosines:
        for sign in (1, -1):
            swing = float(enclose(ACOS(w / 2), {}, 60).real.low)
            if _vanishes(rows, sign * swing):
                found.append(sign * ACOS(w / 2))
    return found


def _polynomial(f: Expression, s: Name, c: Name) -> list[tuple[mpq, mpq]] | None:
    """The coefficients of P in z as (real, imaginary) rationals; None where they are none."""
    table: dict[int, tuple[mpq, mpq]] = {}
    by_sine = uni.coefficients_of(f, s)
    if by_sine is None:
        return None
    for power_of_sine, part in enumerate(by_sine):
        by_cosine = uni.coefficients_of(part, c)
        if by_cosine is None:
            return None
        for power_of_cosine, coefficient in enumerate(by_cosine):
            if not (isinstance(coefficient, Number) and not isinstance(coefficient.value, Gaussian)):
                return None
            _add_term(table, power_of_sine, power_of_cosine, coefficient.rational)
    table = {k: v for k, v in table.items() if v != (0, 0)}
    if not table or max(table) - min(table) > HIGHEST:
        return None
    low, high = min(table), max(table)
    return [table.get(k, (mpq(0), mpq(0))) for k in range(low, high + 1)]


def _add_term(table: dict[int, tuple[mpq, mpq]], sines: int, cosines: int, coefficient: mpq) -> None:
    """coefficient*sin^m*cos^n with sin = (z - 1/z)/2j and cos = (z + 1/z)/2."""
    row = {0: coefficient}
    for sign, times in ((-1, sines), (1, cosines)):
        for _ in range(times):
            new: dict[int, mpq] = {}
            for k, v in row.items():
                new[k + 1] = new.get(k + 1, mpq(0)) + v / 2
                new[k - 1] = new.get(k - 1, mpq(0)) + sign * v / 2
            row = new
    real, imaginary = ((1, 0), (0, -1), (-1, 0), (0, 1))[sines % 4]  # 1/j^m
    for k, v in row.items():
        a, b = table.get(k, (mpq(0), mpq(0)))
        table[k] = (a + real * v, b + imaginary * v)


def _norm(values: list[tuple[mpq, mpq]]) -> Dense:
    """P times its conjugate, as whole numbers without a common factor."""
    scale = mpz(1)
    for a, b in values:
        scale = scale * a.denominator * b.denominator // gcd(int(scale), int(a.denominator * b.denominator))
    real, imaginary = ([mpz(v[i] * scale) for v in values] for i in (0, 1))
    square = dense.add(
        dense.multiply(dense.trim(real), dense.trim(real)), dense.multiply(dense.trim(imaginary), dense.trim(imaginary))
    )
    return dense.primitive(square)


def _unity(norm: Dense) -> tuple[list[int], Dense]:
    """The orders of the roots of unity among the zeros, and what is left without them."""
    orders: list[int] = []
    order = 0
    while len(norm) > 1 and order < 6 * len(norm) + 6:
        order += 1
        phi = list(dense.cyclotomic(order))
        quotient = dense.exact_quotient(norm, phi) if len(phi) <= len(norm) else None
        while quotient is not None:
            if order not in orders:
                orders.append(order)
            norm = quotient
            quotient = dense.exact_quotient(norm, phi) if len(phi) <= len(norm) else None
    return orders, norm


def _vanishes(rows: list[complex], angle: float) -> bool:
    """Whether P is near zero at an angle: the candidates that are kept are put back exactly."""
    value, size = 0j, 0.0
    for k, coefficient in enumerate(rows):
        value += coefficient * complex(cos(k * angle), sin(k * angle))
        size += abs(coefficient)
    return abs(value) <= NEAR * size


def _cosines(rest: Dense) -> list[Expression]:
    """The w = z + 1/z between -2 and 2 of the zeros of a polynomial on the unit circle."""
    if len(rest) < 3:
        return []
    both = dense.gcd(rest, dense.trim(list(reversed(rest))))
    separate = dense.exact_quotient(both, dense.gcd(both, dense.derivative(both))) if len(both) > 1 else None
    found: list[Expression] = []
    for factor in factor_square_free(separate) if separate is not None and len(separate) > 2 else []:
        if len(factor) % 2 == 0 or factor != list(reversed(factor)):
            continue  # a zero and its inverse lie in two factors, so that neither is on the circle
        for root in all_roots(_in_sums(factor)):
            if bits.is_real(root.known) and enclose(root * root - 4, {}, 80).real.sign == -1:
                short = radical_form(root) if isinstance(root, AlgebraicNumber) else None
                found.append(expand(short) if short is not None else root)
    return found


def _in_sums(factor: Dense) -> Dense:
    """z^-d*factor as a polynomial in w = z + 1/z, by z^k + z^-k = w*(z^(k-1) + z^(1-k)) - (z^(k-2) + z^(2-k))."""
    middle = len(factor) // 2
    sums: list[Dense] = [[mpz(2)], [mpz(0), mpz(1)]]
    while len(sums) <= middle:
        sums.append(dense.subtract(dense.multiply([mpz(0), mpz(1)], sums[-1]), sums[-2]))
    result: Dense = [factor[middle]]
    for k in range(1, middle + 1):
        result = dense.add(result, [factor[middle + k] * c for c in sums[k]])
    return dense.primitive(dense.trim(result))
