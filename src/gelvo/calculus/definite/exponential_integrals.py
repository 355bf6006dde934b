"""Waves and falling exponentials beside rational functions, from 0 to infinity: exponential, sine and cosine integrals.

A wave is an exponential with an imaginary rate. Over x + q the integral of exp(-z*x) is A(q) = exp(z*q)*E1(z*q), over its powers the
slopes of A by q, for which A' = z*A - 1/q. Source: DLMF 6.2.2, 6.5.
"""

from __future__ import annotations

from gmpy2 import fac, mpq

from gelvo.calculus.definite.poles import Pole, upper_poles
from gelvo.calculus.found import Found
from gelvo.expression.building import number, total
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import CI, COS, EI, EXP, SI, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary


def beside_a_quotient(f: Expression, x: Name, facts: Facts) -> Found | None:
    """sin(x)/(x^2 + 1)  ->  (Ei(1)*exp(-1) - Ei(-1)*exp(1))/2"""
    kernels = [g for g in factors_in(f) if is_a(g, SIN, COS, EXP) and contains(g, x)]
    if len(kernels) != 1:
        return None
    kernel = kernels[0]
    rate = uni.linear_parts(kernel.arguments[0], x)
    top, bottom = quotient_parts(factored(f / kernel))
    if rate is None or rate[1] is not ZERO or any(isinstance(n, Call) and contains(n, x) for n in postorder(top / bottom)):
        return None
    size = -rate[0] if is_a(kernel, EXP) else rate[0]
    needed = what_must_be_positive(facts, size)
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if needed is None or upper is None or lower is None or len(lower) <= len(upper):
        return None
    poles = upper_poles(bottom, x, facts)
    if poles is None or not all(_is_understood(p, kernel, facts) for p in (*poles[0], *poles[1])):
        return None
    z = size if is_a(kernel, EXP) else -IMAGINARY * size
    under = facts.with_facts(needed)
    mirrored = [_mirrored(p, under) for p in poles[0]]
    whole = expand(total([_share(top, x, p, z, under) for p in (*poles[0], *mirrored, *poles[1])]))
    real, imaginary = real_and_imaginary(whole, under)
    return Found(factored(imaginary if is_a(kernel, SIN) else real), needed, "exponential integrals of partial fractions")


def _mirrored(pole: Pole, facts: Facts) -> Pole:
    """The conjugate pole of a denominator with real coefficients."""
    place, others = (real_and_imaginary(e, facts) for e in (pole.place, pole.others))
    return Pole(place[0] - IMAGINARY * place[1], pole.order, others[0] - IMAGINARY * others[1])


def _is_understood(pole: Pole, kernel: Call, facts: Facts) -> bool:
    """On the negative half of the line or on the imaginary axis; at 0 where the sine vanishes."""
    if pole.place is ZERO:
        return is_a(kernel, SIN) and pole.order == 1
    return facts.is_negative(pole.place) or real_and_imaginary(pole.place, facts)[0] is ZERO


def _share(top: Expression, x: Name, pole: Pole, z: Expression, facts: Facts) -> Expression:
    """The terms r/(x - place)^k of the partial fractions, each with its integral."""
    q = -pole.place
    regular = top / pole.others
    if pole.place is ZERO:  # of the wave's imaginary part
        return substitute(regular, {x: ZERO}) * IMAGINARY * PI / 2
    mark, place = facts.new_name("A", z, x, q, top), facts.new_name("q", z, x, q, top)
    slope: Expression = mark
    found = []
    for k in range(1, pole.order + 1):  # the integral over (x + q)^k is (-1)^(k - 1)/(k - 1)! times the slope of A of that order
        r = substitute(differentiate(regular, x, pole.order - k), {x: pole.place}) / number(mpq(fac(pole.order - k)))
        weight = number(mpq((-1) ** (k - 1), fac(k - 1)))
        found.append(r * weight * substitute(slope, {mark: EXP(z * q) * _exponential_integral(z * q, facts), place: q}))
        slope = differentiate(slope, place) + differentiate(slope, mark) * (z * mark - 1 / place)
    return total(found)


def _exponential_integral(u: Expression, facts: Facts) -> Expression:
    """E1(u) in real functions, for u on an axis; the negative half of the line is met from below."""
    real, imaginary = map(factored, real_and_imaginary(expand(u), facts))
    if imaginary is ZERO:
        return -EI(-real) + (ZERO if facts.is_positive(real) else IMAGINARY * PI)
    y, sign = (imaginary, ONE) if facts.is_positive(imaginary) else (-imaginary, -ONE)
    return -CI(y) + sign * IMAGINARY * (SI(y) - PI / 2)
