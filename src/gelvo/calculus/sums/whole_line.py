"""Sums of rational functions by residues: over all whole numbers they are minus the residues at the poles of R times a kernel with
the residue 1 at every whole number.

Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 7.4; M. Abramowitz, I. Stegun (1964), 6.8 (digamma).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gmpy2 import fac, mpq

from gelvo.calculus.found import Found
from gelvo.calculus.poles import NoPoles, poles_of_factor, without_pole
from gelvo.calculus.sums.rates import geometric_rate
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, relation, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Number
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.simplifying.partial_fractions import split_fraction

Kernel = Callable[[Expression], Expression]


def over_the_whole_line(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """R(k), (-1)^k*R(k), R(k)*cos(k*x) and R(k)*sin(k*x) with an R that is the same (or the opposite) about a middle."""
    waves = [f for f in factors_in(term) if is_a(f, SIN, COS) and contains(f, k)]
    rest = term / multiply_all(waves)
    rate = geometric_rate(rest, k)
    if len(waves) > 1 or rate not in (None, ONE, number(-1)):
        return None
    alternating = rate is number(-1)
    try:
        rational = factored(rest / power(number(-1), k)) if alternating else factored(rest)
        top, _, factors = split_fraction(rational, k)
    except DomainError:
        return None
    degree = sum((len(base) - 1) * times for base, times in factors) - (len(top) - 1)
    if degree < (1 if waves or alternating else 2):
        return None
    kernel, conditions, odd = _kernel(waves[0] if waves else None, k, alternating, degree, facts)
    middle = _middle(factors)
    if kernel is None or middle is None or (waves and middle) or (alternating and middle % 2):
        return None
    mirrored = substitute(rational, {k: number(middle) - k})
    if not is_zero(mirrored - (-1 if odd else 1) * rational, facts):
        return None
    try:
        whole = -total(list(_residues(rational, k, factors, kernel, facts)))
    except (DomainError, NoPoles):
        return None
    return Found(_half(whole, term, k, lower, middle, odd), conditions, "residues of the term and a kernel at whole numbers")


def _kernel(
    wave: Expression | None, k: Name, alternating: bool, degree: int, facts: Facts
) -> tuple[Kernel | None, tuple[Condition, ...], bool]:
    """The kernel, where its wave may lie, and whether the term is odd in R."""
    if wave is None:
        return ((lambda z: PI / SIN(PI * z)) if alternating else (lambda z: PI * COS(PI * z) / SIN(PI * z))), (), False
    x = factored(wave.children[0] / k)  # type: ignore[operator]
    if contains(x, k):
        return None, (), False
    sign = "<" if degree < 2 else "<="
    low, high = (-PI, PI) if alternating else (ZERO, 2 * PI)
    conditions = facts.open_conditions([relation(sign, low, x), relation(sign, x, high)])
    phase = x if alternating else PI - x
    if is_a(wave, COS):
        return (lambda z: PI * COS(phase * z) / SIN(PI * z)), conditions, False
    outer = ONE if alternating else -ONE
    return (lambda z: outer * PI * SIN(phase * z) / SIN(PI * z)), conditions, True


def _middle(factors: list[tuple[uni.Coefficients, int]]) -> int | None:
    """Twice the mean of all poles, where that is whole."""
    count = sum((len(base) - 1) * times for base, times in factors)
    mean = (
        uni.lowest_terms(total([-base[-2] / base[-1] * times for base, times in factors]) * number(mpq(2, count)))
        if count
        else ONE
    )
    return int(mean.rational) if isinstance(mean, Number) and mean.is_whole else None


def _residues(
    rational: Expression, k: Name, factors: list[tuple[uni.Coefficients, int]], kernel: Kernel, facts: Facts
) -> Iterator[Expression]:
    for base, times in factors:
        for pole, twice in poles_of_factor(base, facts):
            if pole.is_whole if isinstance(pole, Number) else False:
                raise NoPoles
            plain = without_pole(rational, k, pole, base, times)
            slope = differentiate(plain * kernel(k), k, times - 1) if times > 1 else plain * kernel(k)
            value = substitute(slope, {k: pole}) / number(fac(times - 1))
            yield 2 * real_and_imaginary(value, facts)[0] if twice else value


def _half(whole: Expression, term: Expression, k: Name, lower: int, middle: int, odd: bool) -> Expression:
    """The sum from `lower` on by that over all whole numbers, of which k and middle - k have the same term."""
    if lower > middle - lower:
        beside, sign = range(middle - lower + 1, lower), -1
    else:
        beside, sign = range(lower, middle - lower + 1), 1
    return (whole + sign * total([substitute(term, {k: number(j)}) for j in beside])) / 2
