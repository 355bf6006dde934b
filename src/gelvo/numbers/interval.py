"""Real intervals whose ends are rounded outwards, so that the true value always lies inside.

Source of the method: R. E. Moore, "Interval Analysis" (1966); the elementary functions are rounded correctly by MPFR
(L. Fousse et al., "MPFR: A Multiple-Precision Binary Floating-Point Library with Correct Rounding", 2007).
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any, NamedTuple

import gmpy2
from gmpy2 import mpfr, mpq, mpz

INFINITE = mpfr("inf")
LARGEST_EXPONENT = 1 << 24  # bits of the largest number whose digits are written out one by one
Mpfr = Any


class Interval(NamedTuple):
    """A closed interval; an end may be infinite."""

    low: Mpfr
    high: Mpfr

    @property
    def finite(self) -> bool:
        return bool(gmpy2.is_finite(self.low) and gmpy2.is_finite(self.high))

    @property
    def beyond_floats(self) -> bool:
        """Whether the end that is nearer to zero is the largest float, or infinite: then no precision helps."""
        near = {1: self.low, -1: self.high}.get(self.sign or 0)
        return near is not None and (gmpy2.is_infinite(near) or gmpy2.get_exp(near) >= gmpy2.context().emax)

    @property
    def sign(self) -> int | None:
        """1, -1, 0, or None where the interval does not tell."""
        if self.low > 0:
            return 1
        if self.high < 0:
            return -1
        return 0 if self.low == 0 == self.high else None

    def contains_zero(self) -> bool:
        return bool(self.low <= 0 <= self.high)


EVERYTHING = Interval(-INFINITE, INFINITE)


class NoValue(ArithmeticError):
    """A function has no value on (a part of) an interval: `certain` when on all of it; `lasting` when no precision helps."""

    def __init__(self, message: str, certain: bool = False, lasting: bool = False) -> None:
        super().__init__(message)
        self.certain, self.lasting = certain, lasting


def exact(x: Mpfr) -> mpq:
    """The rational number that a float is; its size is foreseen: NoValue where it has millions of digits.

    >>> str(exact(mpfr("0.375")))
    '3/8'
    """
    mantissa, exponent = _parts(x)
    return mpq(mantissa << exponent) if exponent >= 0 else mpq(mantissa, mpz(1) << -exponent)


def floor(x: Mpfr) -> mpz:
    """The whole number at or below a float, exactly; NoValue where it has millions of digits.

    >>> floor(mpfr("-2.5")), ceil(mpfr("-2.5"))
    (mpz(-3), mpz(-2))
    """
    mantissa, exponent = _parts(x, least=-(1 << 30))
    return mantissa << exponent if exponent >= 0 else mantissa >> -exponent


def ceil(x: Mpfr) -> mpz:
    """The whole number at or above a float, exactly."""
    mantissa, exponent = _parts(x, least=-(1 << 30))
    return mantissa << exponent if exponent >= 0 else -(-mantissa >> -exponent)


def _parts(x: Mpfr, least: int = -LARGEST_EXPONENT) -> tuple[mpz, int]:
    """(mantissa, power of two) of a float whose digits can be written out."""
    if not gmpy2.is_finite(x):
        raise NoValue("a number without bounds")
    if not x:
        return mpz(0), 0
    if not least <= gmpy2.get_exp(x) <= LARGEST_EXPONENT:
        raise NoValue("a number with millions of digits")
    mantissa, exponent = x.as_mantissa_exp()
    return mantissa, int(exponent)


class Arithmetic:
    """Interval operations at one precision in bits.

    >>> a = Arithmetic(60)
    >>> a.subtract(a.rational(mpq(1, 3)), a.rational(mpq(1, 3))).contains_zero()
    True
    """

    def __init__(self, precision: int) -> None:
        self.precision = precision
        self.down = gmpy2.context(precision=precision, round=gmpy2.RoundDown)
        self.up = gmpy2.context(precision=precision, round=gmpy2.RoundUp)
        # mixed calls must never round to the precision of the thread's own context
        self.zero, self.one = self.integer(0), self.integer(1)

    def integer(self, value: int) -> Interval:
        return self.rational(mpq(value))

    def rational(self, value: mpq) -> Interval:
        """The smallest interval around a rational number."""
        bottom, top = value.numerator, value.denominator
        return Interval(self.down.div(bottom, top), self.up.div(bottom, top))

    def both(self, name: str, x: Mpfr) -> Interval:
        """A function of one exact point, rounded both ways."""
        return Interval(getattr(self.down, name)(x), getattr(self.up, name)(x))

    def add(self, a: Interval, b: Interval) -> Interval:
        return self._checked(self.down.add(a.low, b.low), self.up.add(a.high, b.high))

    def subtract(self, a: Interval, b: Interval) -> Interval:
        return self._checked(self.down.sub(a.low, b.high), self.up.sub(a.high, b.low))

    def negate(self, a: Interval) -> Interval:
        return Interval(self.down.minus(a.high), self.up.minus(a.low))

    def multiply(self, a: Interval, b: Interval) -> Interval:
        down, up = self.down.mul, self.up.mul
        if a.low >= 0 and b.low >= 0:
            return self._checked(down(a.low, b.low), up(a.high, b.high))
        lows = [down(x, y) for x in a for y in b]
        highs = [up(x, y) for x in a for y in b]
        if any(gmpy2.is_nan(x) for x in lows):
            return EVERYTHING
        return Interval(min(lows), max(highs))

    def divide(self, a: Interval, b: Interval) -> Interval:
        if b.low <= 0 <= b.high:
            raise NoValue("division by an interval around zero", certain=b.low == 0 == b.high)
        lows = [self.down.div(x, y) for x in a for y in b]
        highs = [self.up.div(x, y) for x in a for y in b]
        if any(gmpy2.is_nan(x) for x in lows):
            return EVERYTHING
        return Interval(min(lows), max(highs))

    def power(self, a: Interval, exponent: int) -> Interval:
        """An integer power, tight for even exponents around zero."""
        if exponent < 0:
            return self.divide(self.one, self.power(a, -exponent))
        if exponent == 0:
            return self.one
        if exponent % 2 or a.low >= 0:
            return self._checked(self.down.pow(a.low, exponent), self.up.pow(a.high, exponent))
        if a.high <= 0:
            return self._checked(self.down.pow(a.high, exponent), self.up.pow(a.low, exponent))
        return Interval(self.zero.low, max(self.up.pow(a.low, exponent), self.up.pow(a.high, exponent)))

    def rising(self, name: str, a: Interval) -> Interval:
        return self._checked(getattr(self.down, name)(a.low), getattr(self.up, name)(a.high))

    def falling(self, name: str, a: Interval) -> Interval:
        return self._checked(getattr(self.down, name)(a.high), getattr(self.up, name)(a.low))

    def _checked(self, low: Mpfr, high: Mpfr) -> Interval:
        if gmpy2.is_nan(low) or gmpy2.is_nan(high):
            return EVERYTHING
        return Interval(low, high)

    def pi(self) -> Interval:
        return Interval(self.down.const_pi(), self.up.const_pi())

    def sqrt(self, a: Interval) -> Interval:
        if a.low < 0:
            raise NoValue("the square root of a negative number", certain=a.high < 0)
        return self.rising("sqrt", a)

    def root(self, a: Interval, degree: int) -> Interval:
        """The real root of a non-negative interval."""
        if a.low < 0:
            raise NoValue("an even root of a negative number", certain=a.high < 0)
        return Interval(self.down.rootn(a.low, degree), self.up.rootn(a.high, degree))

    def cbrt(self, a: Interval) -> Interval:
        return self.rising("cbrt", a)

    def log(self, a: Interval, name: str = "log") -> Interval:
        if a.low <= 0:
            raise NoValue("the logarithm of a number that is not positive", certain=a.high <= 0)
        return self.rising(name, a)

    def absolute(self, a: Interval) -> Interval:
        if a.low >= 0:
            return a
        if a.high <= 0:
            return self.negate(a)
        return Interval(self.zero.low, max(self.up.minus(a.low), a.high))

    def hull(self, a: Interval, b: Interval) -> Interval:
        return Interval(min(a.low, b.low), max(a.high, b.high))

    def sine(self, a: Interval) -> Interval:
        return self._wave(a, "sin", 1)

    def cosine(self, a: Interval) -> Interval:
        return self._wave(a, "cos", 0)

    def _wave(self, a: Interval, name: str, offset: int) -> Interval:
        """Sine (offset 1) or cosine (offset 0): extremes lie where x = (2k + offset) * pi/2."""
        unit = Interval(self.integer(-1).low, self.one.high)
        if not a.finite or self._beyond_reduction(a):
            return unit
        half_turns = self._half_turns(a)
        if half_turns is None:
            return unit
        low = min(getattr(self.down, name)(a.low), getattr(self.down, name)(a.high))
        high = max(getattr(self.up, name)(a.low), getattr(self.up, name)(a.high))
        for k in half_turns:
            phase = (k - offset) % 4
            if phase == 0:
                high = unit.high
            elif phase == 2:
                low = unit.low
        return Interval(low, high)

    def _half_turns(self, a: Interval) -> range | None:
        """The whole k for which k*pi/2 may lie in the interval; None where there are more than a few."""
        scaled = self.divide(a, self.divide(self.pi(), self.integer(2)))
        if not scaled.finite or self.up.sub(scaled.high, scaled.low) > 3:
            return None
        return range(int(ceil(scaled.low)), int(floor(scaled.high)) + 1)

    def _beyond_reduction(self, a: Interval) -> bool:
        """Whether an angle is so large that taking whole turns off would need that many digits of pi."""
        largest = max(abs(a.low), abs(a.high))
        return bool(largest) and (not gmpy2.is_finite(largest) or gmpy2.get_exp(largest) > 64 * self.precision + 4096)

    def poles_inside(self, a: Interval, offset: int) -> bool:
        """Whether some (2k + offset) * pi/2 may lie in the interval."""
        if self._beyond_reduction(a):
            return True
        half_turns = self._half_turns(a)
        return half_turns is None or any(k % 2 == offset for k in half_turns)

    def inside(self, name: str, a: Interval, low: int, high: int, falling: bool = False) -> Interval:
        """A monotonic function that is real on [low, high] only."""
        if a.low < low or a.high > high:
            raise NoValue(f"{name} outside [{low}, {high}]", certain=a.high < low or a.low > high)
        return self.falling(name, a) if falling else self.rising(name, a)

    def atan2(self, y: Interval, x: Interval) -> Interval:
        """The angle of the point (x, y); the negative real axis is a jump."""
        if x.low <= 0 and y.contains_zero() and x.high >= 0:
            raise NoValue("the angle of a point that may be zero", certain=x == y == self.zero)
        if x.low < 0 and y.contains_zero() and not (y.low == 0 == y.high):
            if y.low >= 0:
                pass
            else:
                pi = self.pi()
                return Interval(self.down.minus(pi.high), pi.high)
        lows = [self.down.atan2(b, a) for a in x for b in y]
        highs = [self.up.atan2(b, a) for a in x for b in y]
        return Interval(min(lows), max(highs))

    def gamma(self, a: Interval) -> Interval:
        """The gamma function: falling to its minimum near 1.46, rising after it; one branch at a time below zero."""
        if a.low >= 1.47:
            return self.rising("gamma", a)
        if a.low > 0 and a.high <= 1.46:
            return self.falling("gamma", a)
        if a.low > 1.45 and a.high < 1.48:
            # around the minimum the slope is smaller than 1/50
            width = self.up.div(self.up.sub(a.high, a.low), 50)
            return Interval(self.down.sub(self.down.gamma(a.low), width), self.up.add(self.up.gamma(a.low), width))
        if a.low > 0:
            least = self.down.div(8856, 10000)
            return Interval(least, max(self.up.gamma(a.low), self.up.gamma(a.high)))
        if floor(a.low) != floor(a.high) or gmpy2.is_integer(a.low):
            raise NoValue("the gamma function at a pole", certain=a.low == a.high)
        if a.low == a.high:
            return self.both("gamma", a.low)
        # Reflection keeps the bounds rigorous on the branches of negative arguments.
        sine = self.sine(self.multiply(self.pi(), a))
        other = self.gamma(self.subtract(self.one, a))
        return self.divide(self.pi(), self.multiply(sine, other))


@lru_cache(maxsize=64)
def arithmetic(precision: int) -> Arithmetic:
    return Arithmetic(precision)
