"""Infinite products of rational factors by the gamma function, of which pairs are sines: P(k)/Q(k) with zeros of the same number and sum.

Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 12.13; DLMF 5.8.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.found import Found
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, COSH, GAMMA, SIN, SINH
from gelvo.simplifying.partial_fractions import split_fraction


class _Unpaired(Exception):
    """A factor whose zeros are not told."""


def infinite_product(factor: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """The product from `lower` on; None where the factors do not go to 1 fast enough, or a zero has no form."""
    try:
        top, bottom = quotient_parts(factored(factor))
        above, below = _of(top, k), _of(bottom, k)
        if above.degree != below.degree or not all(
            is_zero(a - b, facts) for a, b in ((above.leading, below.leading), (above.sum, below.sum))
        ):
            return None
        value = _gammas(below, lower, facts) / _gammas(above, lower, facts)
    except (DomainError, _Unpaired):
        return None
    return Found(value, (), "gamma functions of the zeros and poles, in pairs as sines")


class _Zeros:
    def __init__(self, leading: Expression, factors: list[tuple[uni.Coefficients, int]]) -> None:
        self.leading, self.factors = leading, factors
        self.degree = sum((len(b) - 1) * m for b, m in factors)
        self.sum = total([-b[-2] / b[-1] * m for b, m in factors])


def _of(polynomial: Expression, k: Name) -> _Zeros:
    top, content, factors = split_fraction(1 / polynomial, k)
    leading = content / top[0] * multiply_all([power(b[-1], number(m)) for b, m in factors])
    return _Zeros(leading, factors)


def _gammas(zeros: _Zeros, lower: int, facts: Facts) -> Expression:
    """The product of gamma(lower - p) over the zeros p."""
    result: Expression = ONE
    linear: list[Expression] = []
    for base, times in zeros.factors:
        if len(base) == 2:
            linear += [uni.lowest_terms(-base[0] / base[1])] * times
        elif len(base) == 3:
            result = result * power(_pair(base, lower, facts), number(times))
        else:
            raise _Unpaired
    while linear:
        p = linear.pop()
        q = next((one for one in linear if isinstance(both := factored(one + p), Number) and both.is_whole), None)
        if q is None or isinstance(p, Number):
            result = result * GAMMA(number(lower) - p)
            continue
        linear.remove(q)
        s = int(factored(p + q).rational)
        result = result * _reflected(p, s, lower, PI / SIN(PI * p))
    return result


def _reflected(p: Expression, s: int, lower: int, unit: Expression) -> Expression:
    """gamma(lower - p)*gamma(lower - s + p) from gamma(1 - p)*gamma(p)."""
    result = unit
    for j in range(1, lower):
        result = result * (j - p)
    steps = lower - s
    for j in range(steps):
        result = result * (p + j)
    for j in range(-1, steps - 1, -1):
        result = result / (p + j)
    return result


def _pair(base: uni.Coefficients, lower: int, facts: Facts) -> Expression:
    """Both zeros of a quadratic factor, whose sum s is whole: pi/sin(pi*p), with its zeros s/2 ± 1j*g at a half turn or a whole one."""
    middle = uni.lowest_terms(-base[1] / (2 * base[2]))
    gap = expand(base[0] / base[2] - middle**2)
    twice = uni.lowest_terms(2 * middle)
    if not (isinstance(twice, Number) and twice.is_whole):
        raise _Unpaired
    s = int(twice.rational)
    positive = facts.is_positive(gap)
    if not positive and not facts.is_negative(gap):
        raise _Unpaired
    g = sqrt(gap if positive else -gap)
    # |product of (j - p)(j - q)| is (j - middle)^2 + gap; start from the pair about 0 or 1/2
    if s % 2:
        start, unit = mpq(1, 2), PI / (COSH(PI * g) if positive else COS(PI * g))
    else:
        start, unit = mpq(1), PI * g / (SINH(PI * g) if positive else SIN(PI * g))
    result, place = unit, mpq(lower) - mpq(middle.rational)
    while start < place:
        result, start = result * (number(start) ** 2 + gap), start + 1
    while start > place:
        start -= 1
        result = result / (number(start) ** 2 + gap)
    return result if result is not ZERO else ONE
