"""Bounds of functions by power series with rational ratios: one row or two for each function.

Sources: DLMF 6.6 (exponential and trigonometric integrals), 7.6 (error function and Fresnel's integrals), 9.4 (Airy functions),
16.2 (hypergeometric functions).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from gmpy2 import mpfr, mpq

from gelvo.functions.series_bounds import narrow_enough, sum_of_ratios, whole_order
from gelvo.functions.support import Arithmetic, Box, Interval, NoValue, only_real

FARTHEST = 60  # beyond it the terms are far larger than the value


class Row(NamedTuple):
    """The sum of c_k*x^(power + step*k) with c_0 = first and c_(k+1) = c_k*ratio(k): ratios that fall in size with k."""

    power: int
    first: mpq
    step: int
    ratio: Callable[[int], mpq]

    def at(self, a: Arithmetic, x: Interval) -> Interval:
        start = a.multiply(a.rational(self.first), a.power(x, self.power))
        stride = a.power(x, self.step)
        return sum_of_ratios(a, start, lambda k: a.multiply(stride, a.rational(self.ratio(k))))


Outer = Callable[[Arithmetic, Interval], Interval]
THIRD = mpq(1, 3)
ERFI = Row(1, mpq(1), 2, lambda k: mpq(2 * k + 1, (k + 1) * (2 * k + 3)))
AIRY_EVEN = Row(0, mpq(1), 3, lambda k: mpq(1, (3 * k + 2) * (3 * k + 3)))
AIRY_ODD = Row(1, mpq(1), 3, lambda k: mpq(1, (3 * k + 3) * (3 * k + 4)))
AIRY_EVEN_SLOPE = Row(2, mpq(1, 2), 3, lambda k: mpq(1, (3 * k + 3) * (3 * k + 5)))
AIRY_ODD_SLOPE = Row(0, mpq(1), 3, lambda k: mpq(1, (3 * k + 1) * (3 * k + 3)))
FRESNEL_SINE = Row(3, THIRD, 4, lambda k: mpq(-(4 * k + 3), (2 * k + 2) * (2 * k + 3) * (4 * k + 7)))
FRESNEL_COSINE = Row(1, mpq(1), 4, lambda k: mpq(-(4 * k + 1), (2 * k + 1) * (2 * k + 2) * (4 * k + 5)))


def sine_integral(sign: int) -> Row:
    return Row(1, mpq(1), 2, lambda k: mpq(sign * (2 * k + 1), (2 * k + 2) * (2 * k + 3) ** 2))


def cosine_integral(sign: int) -> Row:
    return Row(2, mpq(sign, 4), 2, lambda k: mpq(sign * (2 * k + 2), (2 * k + 3) * (2 * k + 4) ** 2))


def by_rows(
    name: str, rows: Sequence[tuple[Outer, Row]], slope: Outer, start: Outer | None = None, scale: Outer | None = None
) -> Callable[[Arithmetic, Box], Box]:
    """The series in the middle of a range, in as many digits as its terms lose to each other, and from there by the slope.

    slope: bounds of the derivative over a range; start: what stands before the series; scale: the variable of the series.
    """

    def at(a: Arithmetic, x: Interval) -> Interval:
        inner = x if scale is None else scale(a, x)
        whole = a.zero if start is None else start(a, x)
        for outer, row in rows:
            whole = a.add(whole, a.multiply(outer(a, x), row.at(a, inner)))
        return whole

    def bounds(a: Arithmetic, x: Box) -> Box:
        real = only_real(x, name)
        if not -FARTHEST <= real.low <= real.high <= FARTHEST:
            raise NoValue(f"the series of {name} that far out")
        middle = a.down.div(a.down.add(real.low, real.high), 2)
        point = Interval(middle, middle)
        for extra in (8, 64, 512, 4096):
            value = at(Arithmetic(a.precision + extra), point)
            if is_settled(a, value, a.precision - 4):
                break
        value = Interval(a.down.plus(value.low), a.up.plus(value.high))
        return Box(a.add(value, a.multiply(slope(a, real), a.subtract(real, point))))

    return bounds


def is_settled(a: Arithmetic, value: Interval, bits: int) -> bool:
    """Whether a value is known to so many bits."""
    return bool(a.up.sub(value.high, value.low) <= a.up.mul(a.up.exp2(-bits), max(abs(value.low), abs(value.high))))


def _settled(a: Arithmetic, value: Interval, name: str) -> Box:
    if not is_settled(a, value, a.precision // 2):
        raise NoValue(f"the terms of {name} are far larger than the value")
    return Box(value)


def within(size: Callable[[Arithmetic, Interval], Interval]) -> Outer:
    """A slope of at most that size."""

    def slope(a: Arithmetic, x: Interval) -> Interval:
        most = size(a, x).high
        return Interval(-most, most)

    return slope


def one(a: Arithmetic, x: Interval) -> Interval:
    return a.one


def inverse(a: Arithmetic, x: Interval) -> Interval:
    return a.divide(a.one, x)


def exponential(a: Arithmetic, x: Interval) -> Interval:
    return a.rising("exp", a.absolute(x))


def exponential_over(a: Arithmetic, x: Interval) -> Interval:
    return a.divide(exponential(a, x), x)


def exponential_of_square(a: Arithmetic, x: Interval) -> Interval:
    return a.multiply(a.integer(2), a.rising("exp", a.power(x, 2)))


def of_airy_functions(a: Arithmetic, x: Interval) -> Interval:
    """Above the slopes of Ai, Bi and of their derivatives: y'^2 - x*y^2 grows no faster than |x| for x < -1 (by T. Gronwall 1919),
    and they are below (1 + x)^2*exp(2*x^(3/2)/3) for x > 0."""
    size = a.add(a.one, Interval(*(max(mpfr(0), v) for v in (a.absolute(x).low, a.absolute(x).high))))
    up = Interval(max(mpfr(0), x.low), max(mpfr(0), x.high))
    growth = a.rising("exp", a.divide(a.multiply(a.integer(2), a.multiply(up, a.sqrt(up))), a.integer(3)))
    return a.multiply(a.power(size, 2), growth)


def plain(c: mpq) -> Outer:
    return lambda a, x: a.rational(c)


def over_root_of_pi(c: int) -> Outer:
    return lambda a, x: a.divide(a.integer(c), a.sqrt(a.pi()))


def logarithm_and_gamma(a: Arithmetic, x: Interval) -> Interval:
    """Euler's constant and ln(x)."""
    return a.add(Interval(a.down.const_euler(), a.up.const_euler()), a.log(x))


def root_of_half_pi(a: Arithmetic) -> Interval:
    return a.sqrt(a.divide(a.pi(), a.integer(2)))


def airy_share(power: mpq, place: mpq, sign: int) -> Outer:
    """The value at 0: a power of 3 over a value of the gamma function (DLMF 9.2.3 to 9.2.6)."""

    def value(a: Arithmetic, x: Interval) -> Interval:
        three = a.rising("exp", a.multiply(a.rational(power), a.log(a.integer(3))))
        return a.divide(a.integer(sign), a.multiply(three, a.gamma(a.rational(place))))

    return value


# --- hypergeometric series ---------------------------------------------------------------------------------------------------


def hypergeometric(name: str) -> Callable[..., Box]:
    """The sum of products of (a)_k over (c)_k*k! times x^k: 0F1, 1F1 and, for |x| below 0.9, 2F1."""

    def bounds(a: Arithmetic, *arguments: Box) -> Box:
        *upper, lower, x = [narrow_enough(a, only_real(p, name), name) for p in arguments]
        far = max(abs(x.low), abs(x.high))
        if far > (mpfr("0.9") if len(upper) == 2 else FARTHEST):
            raise NoValue(f"the series of {name} that far out")
        start = max(0, 1 - int(lower.low))
        gaps = [a.absolute(a.subtract(p, c)).high for p, c in zip(upper, (lower, a.one), strict=False)]

        def moved(p: Interval, k: int) -> Interval:
            return a.add(p, a.integer(k))

        def ratio(k: int) -> Interval:
            share = a.divide(x, a.multiply(moved(lower, k), a.integer(k + 1)))
            for p in upper:
                share = a.multiply(share, moved(p, k))
            return share

        def largest(k: int) -> mpfr:
            """At least the size of the ratio, and falling: (p + k)/(c + k) is 1 and a rest that falls."""
            if k < start:
                return mpfr("inf")
            bottoms = (moved(lower, k).low, mpfr(k + 1))
            size = far
            for bottom in bottoms[len(upper) :]:
                size = a.up.div(size, bottom)
            for gap, bottom in zip(gaps, bottoms, strict=False):
                size = a.up.mul(size, a.up.add(1, a.up.div(gap, bottom)))
            return size

        return _settled(a, sum_of_ratios(a, a.one, ratio, start=start, largest=largest), name)

    return bounds


# --- recurrences ----------------------------------------------------------------------------------------------------------------


def by_recurrence(name: str, first: Sequence[mpq], step: Callable[[int], tuple[mpq, mpq, mpq]]) -> Callable[..., Box]:
    """Polynomials p_(k+1) = (a*x + b)*p_k - c*p_(k-1) from 1 and first[0] + first[1]*x, for whole degrees."""

    def bounds(a: Arithmetic, degree: Box, x: Box) -> Box:
        n, real = whole_order(degree, name), narrow_enough(a, only_real(x, name), name)
        kept, a = a, Arithmetic(a.precision + 3 * n)  # what the steps lose
        before, current = a.one, a.add(a.rational(first[0]), a.multiply(a.rational(first[1]), real))
        if not n:
            return Box(before)
        for k in range(1, n):
            p, q, r = (a.rational(v) for v in step(k))
            following = a.subtract(a.multiply(a.add(a.multiply(p, real), q), current), a.multiply(r, before))
            before, current = current, following
        return _settled(kept, current, name)

    return bounds
