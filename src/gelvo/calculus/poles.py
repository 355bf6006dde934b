"""Poles of quotients of polynomials whose factors are linear or quadratic, and what is left beside one of them."""

from __future__ import annotations

from gelvo.expression.building import number, power, sqrt
from gelvo.expression.constants import IMAGINARY
from gelvo.expression.nodes import Expression, Name
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored


class NoPoles(Exception):
    """A pole has no form, or lies where it may not."""


def without_pole(rational: Expression, k: Name, pole: Expression, base: uni.Coefficients, times: int) -> Expression:
    """R times (k - p)^m; of a quadratic factor the other zero is left below."""
    rest = factored(rational * power(uni.expression_of(base, k), number(times))) / power(base[-1], number(times))
    return rest if len(base) == 2 else rest / power(k - (-base[1] / base[2] - pole), number(times))


def poles_of_factor(base: uni.Coefficients, facts: Facts) -> list[tuple[Expression, bool]]:
    """(pole, whether its conjugate is the other one) of a factor of the denominator."""
    if len(base) == 2:
        return [(uni.lowest_terms(-base[0] / base[1]), False)]
    if len(base) != 3:
        raise NoPoles
    middle = uni.lowest_terms(-base[1] / (2 * base[2]))
    gap = expand(base[0] / base[2] - middle**2)
    if facts.is_positive(gap):
        return [(middle + IMAGINARY * sqrt(gap), True)]
    if facts.is_negative(gap):
        return [(middle + sqrt(-gap), False), (middle - sqrt(-gap), False)]
    raise NoPoles
