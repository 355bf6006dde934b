"""Rationals and Gaussian rationals: the coefficients of every expression."""

from __future__ import annotations

from typing import Union

import gmpy2
from gmpy2 import mpq, mpz

from gelvo.errors import DomainError

ZERO, ONE, MINUS_ONE, TWO, HALF = mpq(0), mpq(1), mpq(-1), mpq(2), mpq(1, 2)
_SMALL = {n: mpq(n) for n in range(-64, 257)}
# Trial division stops here: what is left of a large integer is kept whole, which costs recognition, never rightness.
TRIAL_LIMIT = 2000
LARGEST_POWER_BITS = 4_000_000
LARGEST_NUMBER_BITS = 1 << 24  # of a number in a formula: whatever is worked out from such numbers still fits into memory


class Gaussian:
    """A complex number with rational parts, the imaginary one not zero.

    >>> str(Gaussian(mpq(1), mpq(2)) * Gaussian(mpq(1), mpq(-2)))
    '5'
    """

    __slots__ = ("imag", "real")

    def __init__(self, real: mpq, imag: mpq) -> None:
        self.real, self.imag = real, imag

    def __add__(self, other: Scalar) -> Scalar:
        real, imag = parts(other)
        return gaussian(self.real + real, self.imag + imag)

    __radd__ = __add__

    def __sub__(self, other: Scalar) -> Scalar:
        real, imag = parts(other)
        return gaussian(self.real - real, self.imag - imag)

    def __rsub__(self, other: Scalar) -> Scalar:
        real, imag = parts(other)
        return gaussian(real - self.real, imag - self.imag)

    def __mul__(self, other: Scalar) -> Scalar:
        real, imag = parts(other)
        return gaussian(self.real * real - self.imag * imag, self.real * imag + self.imag * real)

    __rmul__ = __mul__

    def __truediv__(self, other: Scalar) -> Scalar:
        return self * reciprocal(other)

    def __rtruediv__(self, other: Scalar) -> Scalar:
        return reciprocal(self) * other

    def __neg__(self) -> Gaussian:
        return Gaussian(-self.real, -self.imag)

    def __pow__(self, exponent: int) -> Scalar:
        base: Scalar = self if exponent >= 0 else reciprocal(self)
        result: Scalar = ONE
        exponent = abs(int(exponent))
        while exponent:
            if exponent & 1:
                result = result * base
            base = base * base
            exponent >>= 1
        return result

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Gaussian) and self.real == other.real and self.imag == other.imag

    def __hash__(self) -> int:
        return hash(("Gaussian", self.real, self.imag))

    def __bool__(self) -> bool:
        return True

    def __repr__(self) -> str:
        return f"Gaussian({self.real}, {self.imag})"


Scalar = Union[mpq, Gaussian]


def rational(numerator: object, denominator: object = 1) -> mpq:
    """A rational number; small whole ones are shared objects, which saves memory in large expressions."""
    value = mpq(numerator, denominator) if denominator != 1 else mpq(numerator)
    if value.denominator == 1 and -64 <= value <= 256:
        return _SMALL[int(value)]
    return value


def gaussian(real: mpq, imag: mpq) -> Scalar:
    return Gaussian(real, imag) if imag else real


def real(value: Scalar) -> mpq:
    """A scalar that is known not to be complex."""
    if isinstance(value, Gaussian):
        raise DomainError(f"{value.real} + {value.imag}j is not real")
    return value


def parts(number: Scalar) -> tuple[mpq, mpq]:
    if isinstance(number, Gaussian):
        return number.real, number.imag
    return number, ZERO


def conjugate(number: Scalar) -> Scalar:
    return Gaussian(number.real, -number.imag) if isinstance(number, Gaussian) else number


def reciprocal(number: Scalar) -> Scalar:
    if isinstance(number, Gaussian):
        norm = number.real * number.real + number.imag * number.imag
        return Gaussian(number.real / norm, -number.imag / norm)
    if not number:
        raise DomainError("division by zero")
    return 1 / number


def bits_of(number: Scalar) -> int:
    """How many binary digits the longest part of a number has."""
    return int(max(max(p.numerator.bit_length(), p.denominator.bit_length()) for p in parts(number)))


def told(whole: int) -> str:
    """A whole number for a message: long ones by their size.

    >>> told(42), told(10**5000)
    ('42', 'a number of about 5001 digits')
    """
    size = int(whole).bit_length()
    return str(whole) if size < 200 else f"a number of about {int(size * 0.30103) + 1} digits"


def nearest_float(number: mpq) -> float:
    """The nearest double; infinite where there is none."""
    try:
        return float(number)
    except OverflowError:
        return float("inf") if number > 0 else float("-inf")


def is_integer(number: Scalar) -> bool:
    return not isinstance(number, Gaussian) and number.denominator == 1


def power(base: Scalar, exponent: int) -> Scalar:
    """An integer power; sizes beyond memory are refused.

    >>> str(power(mpq(2, 3), -2))
    '9/4'
    """
    if exponent < 0:
        return power(reciprocal(base), -exponent)
    if base in (0, 1, -1):
        return base if exponent % 2 or base != -1 else ONE
    size = bits_of(base)
    if size * exponent > LARGEST_POWER_BITS:
        raise DomainError(f"a power with {told(size * exponent)} binary digits is too large to work out exactly")
    return base**exponent


def small_factors(number: mpz) -> list[tuple[mpz, int]]:
    """Factors of a positive integer: primes up to a limit, and what is left with its perfect powers taken out.

    >>> [(int(p), k) for p, k in small_factors(mpz(360))]
    [(2, 3), (3, 2), (5, 1)]
    """
    found: list[tuple[mpz, int]] = []
    prime = mpz(2)
    while prime <= TRIAL_LIMIT and prime * prime <= number:
        number, count = gmpy2.remove(number, prime)
        if count:
            found.append((prime, int(count)))
        prime = gmpy2.next_prime(prime)
    if number > 1:
        times = 1
        while number > 3 and gmpy2.is_power(number):
            for root in range(2, number.bit_length() + 1):
                candidate, exact = gmpy2.iroot(number, root)
                if exact:
                    number, times = candidate, times * root
                    break
        found.append((number, times))
    return found


def integer_root(number: mpz, degree: int) -> mpz | None:
    """The exact root of a non-negative integer, or None."""
    root, exact = gmpy2.iroot(number, degree)
    return root if exact else None


def rational_sqrt(number: mpq) -> mpq | None:
    """The exact square root of a non-negative rational, or None.

    >>> str(rational_sqrt(mpq(9, 16)))
    '3/4'
    """
    if number < 0:
        return None
    top, bottom = integer_root(number.numerator, 2), integer_root(number.denominator, 2)
    return None if top is None or bottom is None else mpq(top, bottom)


def from_decimal_text(text: str) -> mpq:
    """An exact rational from decimal text such as `4.8e-3`.

    >>> str(from_decimal_text("4.8e-3"))
    '3/625'
    """
    mantissa, _, exponent = text.lower().partition("e")
    whole, _, fraction = mantissa.partition(".")
    shift = int(exponent or 0) - len(fraction)
    if abs(shift) > 100_000:
        raise DomainError(f"the exponent in {text} is too large")
    digits = mpz(whole + fraction)
    return mpq(digits * mpz(10) ** shift) if shift >= 0 else mpq(digits, mpz(10) ** -shift)


def square_root(z: Gaussian) -> Scalar | None:
    """The principal square root of a complex rational, where it is one: 2 - 1j for 3 - 4j."""
    size = _rational_root(z.real**2 + z.imag**2)
    if size is None:
        return None
    real, imag = _rational_root((size + z.real) / 2), _rational_root((size - z.real) / 2)
    return None if real is None or imag is None else Gaussian(real, imag if z.imag >= 0 else -imag)


def _rational_root(q: mpq) -> mpq | None:
    if q < 0 or not gmpy2.is_square(q.numerator) or not gmpy2.is_square(q.denominator):
        return None
    return mpq(gmpy2.isqrt(q.numerator), gmpy2.isqrt(q.denominator))


def rounded(x: mpq, digits: int) -> tuple[mpz, int]:
    """x as (integer with that many digits, power of ten), rounded half to even."""
    if not x:
        return mpz(0), 0
    size = len(str(abs(x.numerator))) - len(str(x.denominator))
    for exponent in (size - digits - 1, size - digits, size - digits + 1):
        scaled = x / mpq(10) ** exponent
        whole = _half_even(scaled)
        if abs(whole) < mpz(10) ** digits:
            return whole, exponent
    return _half_even(x / mpq(10) ** (size - digits + 1)), size - digits + 1


def _half_even(x: mpq) -> mpz:
    whole = x.numerator // x.denominator
    twice = 2 * (x - whole)
    if twice > 1 or (twice == 1 and whole % 2):
        whole += 1
    return whole
