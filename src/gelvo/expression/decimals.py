"""Numbers as decimals: those that came in as such, or rounded on request, large and small ones with powers of thousand."""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression.writing import Writing
from gelvo.numbers.exact import rounded

MOST_EXACT = 12  # digits of a decimal that is shown whole
ROUNDED = 6  # digits of one that has no short whole
PLAIN, SHORT = 4, 99  # numbers above and below of a fraction that stays one beside decimals; where it has no whole decimal
SMALL = mpq(1, 10**4)
ZEROS = 6  # at the end of a whole number that was typed with an exponent


class Decimal(NamedTuple):
    """size * 10^power as it is shown, and whether digits were left out."""

    size: str
    power: int
    is_rounded: bool

    @property
    def text(self) -> str:
        """As formula text: 2.5e-7 rather than 250e-9."""
        whole, _, rest = self.size.partition(".")
        if not self.power:
            return self.size
        shown = f"{whole[0]}.{whole[1:]}{rest}".rstrip("0").rstrip(".")
        return f"{shown}e{self.power + len(whole) - 1}"


def decimal(value: mpq, how: Writing) -> Decimal | None:
    """A number without sign as a decimal; None where it stays a whole number or a fraction.

    >>> decimal(mpq(21, 10), Writing(decimals="all")), decimal(mpq(1, 3), Writing(decimals="all"))
    (Decimal(size='2.1', power=0, is_rounded=False), None)
    >>> decimal(mpq(84, 10**7), Writing(decimals=3)), decimal(mpq(1, 3), Writing(decimals=3))
    (Decimal(size='8.4', power=-6, is_rounded=False), Decimal(size='0.333', power=0, is_rounded=True))
    """
    if not how.in_decimals:
        return _to_digits(value, MOST_EXACT) if how.decimals != "none" and _is_scaled(value) else None
    if not value:
        return None
    if value.denominator == 1:
        return _whole(value, how)
    if how.digits:
        return _to_digits(value, how.digits)
    if _is_plain(value, PLAIN) and not any(_is_plain(v, PLAIN) and v.denominator > 1 for v in how.came_in):
        return None  # m*v^2/2, in a formula where 9.81 came in
    whole = _to_digits(value, MOST_EXACT)
    if not whole.is_rounded:
        return whole
    return None if _is_plain(value, SHORT) else _to_digits(value, ROUNDED)


def _whole(value: mpq, how: Writing) -> Decimal | None:
    if value in how.came_in and value % 10**ZEROS == 0:
        return _to_digits(value, MOST_EXACT)  # 1e9
    return _to_digits(value, how.digits) if how.digits and value >= 10 ** max(how.digits, ZEROS) else None


def _is_scaled(value: mpq) -> bool:
    """Whether a number is a few hundred-thousandths and less, which nobody reads as a fraction: 1e-9, 2.5e-7."""
    return value.denominator >= 10**ROUNDED and value < SMALL and not _to_digits(value, ROUNDED).is_rounded


def _is_plain(value: mpq, most: int) -> bool:
    return max(value.numerator, value.denominator) <= most


def _to_digits(value: mpq, digits: int) -> Decimal:
    mantissa, exponent = rounded(value, digits)
    text = str(mantissa).rstrip("0") or "0"
    exponent += len(str(mantissa)) - len(text)
    point = len(text) + exponent  # where it stands, counted from the first digit
    power = 0 if -3 < point <= ZEROS else 3 * ((point - 1) // 3)
    point -= power
    if point <= 0:
        shown = "0." + "0" * -point + text
    else:
        shown = text[:point].ljust(point, "0") + (f".{text[point:]}" if len(text) > point else "")
    return Decimal(shown, power, mpq(mantissa) * mpq(10) ** (exponent - len(str(mantissa)) + len(text)) != value)
