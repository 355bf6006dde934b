"""Complex numbers with error bounds: a rectangle given by its real and imaginary interval."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.numbers.exact import HALF
from gelvo.numbers.interval import Arithmetic, Interval, NoValue


class Box(NamedTuple):
    """A rectangle in the complex plane; `imag` is None for a number that is certainly real."""

    real: Interval
    imag: Interval | None = None

    @property
    def is_real(self) -> bool:
        return self.imag is None

    def contains_zero(self) -> bool:
        return self.real.contains_zero() and (self.imag is None or self.imag.contains_zero())

    @property
    def is_zero(self) -> bool:
        return self.real.low == 0 == self.real.high and (self.imag is None or self.imag.low == 0 == self.imag.high)

    @property
    def finite(self) -> bool:
        return self.real.finite and (self.imag is None or self.imag.finite)

    @property
    def beyond_floats(self) -> bool:
        return self.real.beyond_floats or (self.imag is not None and self.imag.beyond_floats)


def imaginary(a: Arithmetic, z: Box) -> Interval:
    return a.zero if z.imag is None else z.imag


def _box(a: Arithmetic, real: Interval, imag: Interval) -> Box:
    return Box(real, None if imag.low == 0 == imag.high else imag)


def add(a: Arithmetic, z: Box, w: Box) -> Box:
    if z.imag is None and w.imag is None:
        return Box(a.add(z.real, w.real))
    return _box(a, a.add(z.real, w.real), a.add(imaginary(a, z), imaginary(a, w)))


def negate(a: Arithmetic, z: Box) -> Box:
    return Box(a.negate(z.real), None if z.imag is None else a.negate(z.imag))


def multiply(a: Arithmetic, z: Box, w: Box) -> Box:
    if z.imag is None and w.imag is None:
        return Box(a.multiply(z.real, w.real))
    zi, wi = imaginary(a, z), imaginary(a, w)
    return _box(
        a, a.subtract(a.multiply(z.real, w.real), a.multiply(zi, wi)), a.add(a.multiply(z.real, wi), a.multiply(zi, w.real))
    )


def invert(a: Arithmetic, z: Box) -> Box:
    if z.imag is None:
        return Box(a.divide(a.one, z.real))
    norm = a.add(a.power(z.real, 2), a.power(z.imag, 2))
    return _box(a, a.divide(z.real, norm), a.divide(a.negate(z.imag), norm))


def integer_power(a: Arithmetic, z: Box, exponent: int) -> Box:
    if z.imag is None:
        return Box(a.power(z.real, exponent))
    if exponent < 0:
        return invert(a, integer_power(a, z, -exponent))
    result, square = Box(a.one), z
    while exponent:
        if exponent & 1:
            result = multiply(a, result, square)
        square = multiply(a, square, square) if exponent > 1 else square
        exponent >>= 1
    return result


def modulus(a: Arithmetic, z: Box) -> Interval:
    if z.imag is None:
        return a.absolute(z.real)
    return a.sqrt(a.add(a.power(z.real, 2), a.power(z.imag, 2)))


def argument(a: Arithmetic, z: Box) -> Interval:
    """The principal angle in (-pi, pi]; a box across the cut gives the whole range."""
    return a.atan2(imaginary(a, z), z.real)


def exponential(a: Arithmetic, z: Box) -> Box:
    size = a.rising("exp", z.real)
    if z.imag is None:
        return Box(size)
    return _box(a, a.multiply(size, a.cosine(z.imag)), a.multiply(size, a.sine(z.imag)))


def logarithm(a: Arithmetic, z: Box) -> Box:
    if z.imag is None and z.real.low > 0:
        return Box(a.log(z.real))
    if z.contains_zero():
        raise NoValue("the logarithm of zero", certain=z.is_zero)
    if z.imag is None:
        return Box(a.log(a.absolute(z.real)), a.pi())
    return _box(a, a.log(modulus(a, z)), argument(a, z))


def power(a: Arithmetic, z: Box, w: Box) -> Box:
    """The principal value exp(w * ln z)."""
    return exponential(a, multiply(a, w, logarithm(a, z)))


def square_root(a: Arithmetic, z: Box) -> Box:
    """The principal square root."""
    if z.imag is None:
        if z.real.low >= 0:
            return Box(a.sqrt(z.real))
        if z.real.high < 0:
            return Box(a.zero, a.sqrt(a.negate(z.real)))
        # a real number that may lie on either side of zero
        zero = a.zero.low
        return Box(Interval(zero, a.up.sqrt(max(z.real.high, zero))), Interval(zero, a.up.sqrt(a.up.minus(z.real.low))))
    if z.contains_zero():
        raise NoValue("the square root of a box around zero")
    half = a.rational(HALF)
    return power(a, z, Box(half))


def sine(a: Arithmetic, z: Box) -> Box:
    if z.imag is None:
        return Box(a.sine(z.real))
    return _box(a, a.multiply(a.sine(z.real), _cosh(a, z.imag)), a.multiply(a.cosine(z.real), a.rising("sinh", z.imag)))


def cosine(a: Arithmetic, z: Box) -> Box:
    if z.imag is None:
        return Box(a.cosine(z.real))
    return _box(a, a.multiply(a.cosine(z.real), _cosh(a, z.imag)), a.negate(a.multiply(a.sine(z.real), a.rising("sinh", z.imag))))


def _cosh(a: Arithmetic, x: Interval) -> Interval:
    return a.rising("cosh", a.absolute(x))
