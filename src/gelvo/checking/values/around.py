"""Rational functions beside a power of x and powers of ln(x), from 0 to infinity: their Mellin transform, and its Taylor series.

The integral of x^(s-1)*R(x) is pi/sin(pi*s) times the sum of the residues of exp((s-1)*ln(-z))*R(z) at the poles, none of which lies on
the positive half of the line (E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 6.24). The n-th derivative by s is the
integral with ln(x)^n beside; both sides are expanded in powers of a small addition to s, since the sine vanishes at a whole one.
A simple pole at 1, where the logarithm vanishes, counts half on each side of the cut.
"""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import fac, mpq

from gelvo.checking.values.contours import Pole, poles_of
from gelvo.checking.values.terms import parted
from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import IMAGINARY, INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ACOS, COS, LN, SIN
from gelvo.normal.complex_parts import real_and_imaginary

MOST_LOGARITHMS = 6


def residues_around_the_half_line(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """x^(s-1)*ln(x)^n*R(x) from 0 to infinity."""
    f, lower, upper = question
    if lower is not ZERO or upper is not INFINITE:
        return
    outer, s, count, rest = parted(f, x)
    if not rest or count > MOST_LOGARITHMS:
        return
    top, bottom = quotient_parts(factored(multiply_all(rest)))
    above, below = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if above is None or below is None or len(below) < 2:
        return
    gap = len(below) - len(above)
    if not (facts.is_positive(s) and facts.is_positive(gap - s)):
        return
    whole = facts.is_integer(s)
    if not whole and any(not facts.is_nonzero(s - number(k)) for k in range(1, gap)):
        return
    poles = poles_of(top, bottom, x, facts)
    if poles is None or not all(_is_off_the_cut(p, count if whole else 0, facts) for p in poles):
        return
    small = facts.new_name("epsilon", f, s)
    orders = range(count + (2 if whole else 1))
    sums = [_coefficient(j, s, x, poles, facts) for j in orders]
    first, weights = _of_the_sine(s, whole, count, small)
    if whole and not prove_zero(sums[0], facts):
        return
    value = total([w * sums[count - i] for i, w in enumerate(weights, first) if 0 <= count - i < len(sums)])
    yield Value(outer * number(mpq(fac(count))) * value, "residues around the positive half of the line")


def _is_off_the_cut(pole: Pole, logarithms: int, facts: Facts) -> bool:
    return pole.side != 0 or facts.is_negative(pole.place) or (pole.place is ONE and pole.order == 1 and logarithms > 0)


def _of_the_sine(s: Expression, whole: bool, count: int, small: Name) -> tuple[int, list[Expression]]:
    """(the first exponent, the coefficients) of pi/sin(pi*(s + small)) in powers of `small`, up to the power `count`."""
    if not whole:
        sine = PI / SIN(PI * (s + small))
        return 0, [substitute(differentiate(sine, small, i), {small: ZERO}) / number(mpq(fac(i))) for i in range(count + 1)]
    # sin(pi*e) = pi*e*(1 - (pi*e)^2/6 + …): its inverse term by term
    sine_terms = [number(mpq((-1) ** (j // 2), fac(j + 1))) * PI**j if j % 2 == 0 else ZERO for j in range(count + 2)]
    inverse: list[Expression] = [ONE]
    for n in range(1, count + 2):
        inverse.append(-total([sine_terms[j] * inverse[n - j] for j in range(1, n + 1)]))
    return -1, [power(number(-1), s) * c for c in inverse]


def _coefficient(j: int, s: Expression, x: Name, poles: list[Pole], facts: Facts) -> Expression:
    """Of small^j in the sum of the residues of exp((s - 1 + small)*ln(-z))*R(z)."""
    return total([_residue(j, s, x, p, facts) for p in poles]) / number(mpq(fac(j)))


def _residue(j: int, s: Expression, x: Name, pole: Pole, facts: Facts) -> Expression:
    """Of ln(-z)^j*exp((s-1)*ln(-z))*R(z); the product rule is written for the factor R(z) beside a power of ln(-z)."""
    if pole.place is ONE:
        sides = [(side * IMAGINARY * PI) ** j if j else ONE for side in (1, -1)]
        return expand(total(sides)) / 2 * power(number(-1), s - 1) * substitute(pole.rest, {x: ONE})
    real, imaginary = real_and_imaginary(pole.place, facts)
    size = sqrt(factored(expand(real**2 + imaginary**2)))
    cosine = factored(-real / size) if pole.side else ONE
    angle = -pole.side * ACOS(cosine)
    logarithm = LN(size) + IMAGINARY * angle
    parts = {j: pole.rest}  # by the power of the logarithm, each without exp((s-1)*ln(-z))
    for _ in range(pole.order - 1):
        following: dict[int, Expression] = {}
        for k, g in parts.items():
            following[k] = following.get(k, ZERO) + differentiate(g, x) + (s - 1) * g / x
            if k:
                following[k - 1] = following.get(k - 1, ZERO) + k * g / x
        parts = following
    turned = power(size, s - 1) * _turned(s - 1, angle, cosine, pole.side)
    inner = total([(logarithm**k if k else ONE) * substitute(g, {x: pole.place}) for k, g in parts.items()])
    return expand(inner * turned) / number(mpq(fac(pole.order - 1)))


def _turned(k: Expression, angle: Expression, cosine: Expression, side: int) -> Expression:
    """exp(1j*k*angle); of half an angle by the roots that its cosine gives."""
    twice = 2 * k
    if isinstance(twice, Number) and twice.is_whole and not k.is_whole:
        half = sqrt(factored((1 + cosine) / 2)) - side * IMAGINARY * sqrt(factored((1 - cosine) / 2))
        return expand(power(half if twice.rational > 0 else 1 / half, number(abs(twice.rational))))
    return COS(k * angle) + IMAGINARY * SIN(k * angle)
