"""Waves and falling exponentials beside rational functions, from 0 to infinity, by the real partial fractions of the latter.

Sources: DLMF 6.7.13, 6.7.14, for 1/(x + q) also by 6.2.2; I. Gradshteyn, I. Ryzhik, "Table of Integrals, Series, and Products" (2007),
3.723, for 1/(x^2 + c^2) and x/(x^2 + c^2) beside waves. Over (x + q)^k the integral is a slope by q.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.checking.values.contours import Pole, poles_of
from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import INFINITE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import CI, COS, EI, EXP, SI, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary


def _f(z: Expression) -> Expression:
    return CI(z) * SIN(z) + (PI / 2 - SI(z)) * COS(z)


def _g(z: Expression) -> Expression:
    return (PI / 2 - SI(z)) * SIN(z) - CI(z) * COS(z)


class _Beside(NamedTuple):
    """The integrals of a kernel of the rate w over x + q, over x^2 + c^2, and over it times x."""

    line: Callable[[Expression, Expression], Expression]
    square: Callable[[Expression, Expression], Expression]
    square_and_x: Callable[[Expression, Expression], Expression]


KERNELS: dict[str, _Beside] = {
    EXP: _Beside(lambda w, q: -EXP(w * q) * EI(-w * q), lambda w, c: _f(w * c) / c, lambda w, c: _g(w * c)),
    SIN: _Beside(
        lambda w, q: _f(w * q),
        lambda w, c: (EXP(-w * c) * EI(w * c) - EXP(w * c) * EI(-w * c)) / (2 * c),
        lambda w, c: PI / 2 * EXP(-w * c),
    ),
    COS: _Beside(
        lambda w, q: _g(w * q),
        lambda w, c: PI / (2 * c) * EXP(-w * c),
        lambda w, c: -(EXP(-w * c) * EI(w * c) + EXP(w * c) * EI(-w * c)) / 2,
    ),
}


def beside_partial_fractions(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """kernel(w*x)*R(x) from 0 to infinity, for w > 0 and a quotient R that falls."""
    f, lower, upper = question
    if lower is not ZERO or upper is not INFINITE:
        return
    kernels = [g for g in factors_in(f) if is_a(g, EXP, SIN, COS) and contains(g, x)]
    if len(kernels) != 1:
        return
    rate = uni.linear_parts(kernels[0].arguments[0], x)
    quotient = factored(f / kernels[0])
    top, bottom = quotient_parts(quotient)
    above, below = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if rate is None or rate[1] is not ZERO or above is None or below is None or len(below) <= len(above):
        return
    w = -rate[0] if is_a(kernels[0], EXP) else rate[0]
    poles = poles_of(top, bottom, x, facts)
    if poles is None or not facts.is_positive(w) or any(isinstance(n, Call) and contains(n, x) for n in postorder(quotient)):
        return
    shares = [_share(p, w, KERNELS[kernels[0].name], x, facts) for p in poles if p.side >= 0]
    known = [s for s in shares if s is not None]
    if len(known) < len(shares) or not prove_zero(total([fraction for fraction, _ in known]) - quotient, facts):
        return
    yield Value(total([value for _, value in known]), "partial fractions, each beside the kernel")


def _share(pole: Pole, w: Expression, beside: _Beside, x: Name, facts: Facts) -> tuple[Expression, Expression] | None:
    """(the partial fractions of a pole on the line, or of a pair beside it; their integrals)."""
    if pole.side:
        return _share_of_a_pair(pole, w, beside, x, facts)
    if not facts.is_negative(pole.place):
        return None
    q = facts.new_name("q", pole.place, w, x)
    fractions, values = [], []
    for k in range(1, pole.order + 1):
        r = substitute(differentiate(pole.rest, x, pole.order - k), {x: pole.place}) / number(mpq(fac(pole.order - k)))
        slope = differentiate(beside.line(w, q), q, k - 1) * number(mpq((-1) ** (k - 1), fac(k - 1)))
        fractions.append(r * power(x - pole.place, number(-k)))
        values.append(r * substitute(slope, {q: -pole.place}))
    return total(fractions), total(values)


def _share_of_a_pair(pole: Pole, w: Expression, beside: _Beside, x: Name, facts: Facts) -> tuple[Expression, Expression] | None:
    """Simple poles at 1j*c and -1j*c, with residues r and its conjugate: (2*re(r)*x - 2*c*im(r))/(x^2 + c^2)."""
    middle, c = real_and_imaginary(pole.place, facts)
    if middle is not ZERO or pole.order != 1:
        return None
    real, imaginary = real_and_imaginary(substitute(pole.rest, {x: pole.place}), facts)
    shares = (2 * real, -2 * c * imaginary)
    fraction = multiply_all([shares[0] * x + shares[1], power(x**2 + c**2, number(-1))])
    return fraction, shares[0] * beside.square_and_x(w, c) + shares[1] * beside.square(w, c)
