"""`value`: a number to as many right digits as asked for."""

from __future__ import annotations

import gmpy2
from gmpy2 import mpfr, mpq, mpz

from gelvo.errors import DomainError, Undecided
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import call, number
from gelvo.expression.nodes import Bound, Expression, Number
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import free_names
from gelvo.functions.named import IM, RE
from gelvo.numbers.exact import Gaussian, parts, rounded
from gelvo.numbers.interval import LARGEST_EXPONENT, Interval, NoValue, exact

MOST_BITS, LEAST_LIMIT = 1 << 22, 1 << 13
MOST_DIGITS = 100_000
SHORT_EXPONENT, SPARE_DIGITS = 1 << 15, 20  # numbers with a longer exponent go through decimal text, with spare digits


class Value:
    """A number as correctly rounded decimal text; `.bounded` tells whether error bounds or an agreement prove the digits, `.unit` in
    what a quantity is measured."""

    __slots__ = ("bounded", "digits", "imag", "real", "unit")

    def __init__(self, real: str, imag: str | None, digits: int, bounded: bool, unit: str = "") -> None:
        self.real, self.imag, self.digits, self.bounded, self.unit = real, imag, digits, bounded, unit

    def __str__(self) -> str:
        return f"{self.number} {{{self.unit}}}" if self.unit else self.number

    @property
    def number(self) -> str:
        """The decimal text without the unit."""
        if self.imag is None:
            return self.real
        if self.real == "0":
            return f"{self.imag}j"
        sign = "-" if self.imag.startswith("-") else "+"
        return f"{self.real} {sign} {self.imag.lstrip('-')}j"

    __repr__ = __str__

    def __float__(self) -> float:
        if self.imag is not None:
            raise DomainError(f"{self} is not real: use complex(…)")
        return float(self.real)

    def __complex__(self) -> complex:
        return complex(float(self.real), float(self.imag or 0))

    def __eq__(self, other: object) -> bool:
        return str(self) == str(other) if isinstance(other, (Value, str)) else NotImplemented

    def __hash__(self) -> int:
        return hash(str(self))


def value(expression: Expression, digits: int = 15) -> Value:
    """The value of a formula without names, correctly rounded to significant digits.

    >>> from gelvo.expression.building import constant
    >>> print(value(constant("pi"), 20))
    3.1415926535897932385
    """
    if not 1 <= digits <= MOST_DIGITS:
        raise DomainError(f"digits must lie between 1 and {MOST_DIGITS}, not {digits}")
    if isinstance(expression, Bound):
        return Value(expression.kind.replace("undefined", "nan"), None, digits, True)
    if isinstance(expression, Number):
        return _exact(expression, digits)
    missing = free_names(expression)
    if missing:
        shown = ", ".join(n.name for n in missing[:6])
        raise DomainError(f"a value needs numbers for {shown}: substitute them, or say with {missing[0].name} = …")
    enclosure = Enclosure(expression)
    precision = int(digits * 3.3219280949) + 24
    # what is still not told from zero at many times the digits asked for is left open
    most = min(MOST_BITS, max(LEAST_LIMIT, 16 * precision))
    why = "could not be told from zero"
    while precision <= most:
        found, lasting = _at_precision(enclosure, digits, precision)
        if isinstance(found, Value):
            return found
        why = found or why
        if lasting:
            break
        precision *= 2
    raise Undecided(f"the value of {_short(expression)} is not known with {min(precision, most)} bits: {why}")


def _at_precision(enclosure: Enclosure, digits: int, precision: int) -> tuple[Value | str, bool]:
    """The value, or why it is not told with so many bits ('' for too few), and whether more would not help."""
    expression = enclosure.root
    try:
        box = enclosure.at({}, precision)
    except NoValue as fault:
        if fault.certain:
            raise DomainError(f"{_short(expression)} has no value: {fault}") from None
        return str(fault), fault.lasting
    if not box.finite:
        return "a number beyond all floats", box.beyond_floats
    real = _part_text(expression, RE, box.real, digits, precision)
    imag = "0" if box.imag is None else _part_text(expression, IM, box.imag, digits, precision)
    if real is None or imag is None:
        return "", False
    return Value(real, None if imag == "0" else imag, digits, enclosure.bounded), False


def _short(expression: Expression) -> str:
    shown = str(expression)
    return shown if len(shown) <= 60 else shown[:57] + "…"


def _part_text(expression: Expression, part: str, interval: Interval, digits: int, precision: int) -> str | None:
    if interval.contains_zero():
        if interval.low == 0 == interval.high:
            return "0"
        if precision < 400:
            return None
        zero = Hooks.is_zero(call(part, expression) if part == IM else expression)
        return "0" if zero else None
    if interval.low == interval.high and abs(gmpy2.get_exp(interval.low)) <= LARGEST_EXPONENT:
        return _exact_text(exact(interval.low), digits)
    low, high = _rounded_float(interval.low, digits), _rounded_float(interval.high, digits)
    if low is None or high is None:
        return None
    if low == high:
        return decimal_text(*low, digits)
    if precision > 16 * 3.33 * digits + 2000 and low[1] == high[1] and abs(low[0] - high[0]) == 1:
        middle = mpq(low[0] + high[0], 2) * mpq(10) ** low[1]
        if part == RE and Hooks.is_zero(expression - number(middle)):
            return decimal_text(*rounded(middle, digits), digits)
    return None


def _rounded_float(x: mpfr, digits: int) -> tuple[mpz, int] | None:
    """x as (integer with that many digits, power of ten); None for a tie that only all digits would tell."""
    if abs(gmpy2.get_exp(x)) <= SHORT_EXPONENT:
        return rounded(exact(x), digits)
    text, point, _ = x.digits(10, digits + SPARE_DIGITS)  # MPFR rounds it correctly and never writes the whole number
    shown = text.lstrip("-")
    kept, spare = mpz(shown[:digits]), shown[digits:]
    if spare.rstrip("0") == "5":
        return None
    kept += spare > "5"
    power = point - digits
    if len(str(kept)) > digits:
        kept, power = kept // 10, power + 1
    return (-kept if text.startswith("-") else kept), power


def decimal_text(mantissa: mpz, exponent: int, digits: int, trim: bool = False) -> str:
    """mantissa * 10^exponent as people write it; very small and very large ones with an exponent."""
    if not mantissa:
        return "0"
    sign, text = ("-" if mantissa < 0 else ""), str(abs(mantissa))
    point = len(text) + exponent
    if trim:
        text = text.rstrip("0") or "0"
    if -4 <= point <= max(digits, 1):
        if point <= 0:
            body = "0." + "0" * -point + text
        elif point >= len(text):
            body = text + "0" * (point - len(text))
        else:
            body = text[:point] + "." + text[point:]
        return sign + body
    return f"{sign}{text[0]}{'.' if len(text) > 1 else ''}{text[1:]}e{point - 1}"


def _exact_text(x: mpq, digits: int) -> str:
    """An exactly known rational: without trailing zeros where the digits hold all of it."""
    mantissa, exponent = rounded(x, digits)
    return decimal_text(mantissa, exponent, digits, trim=mpq(mantissa) * mpq(10) ** exponent == x)


def _exact(expression: Number, digits: int) -> Value:
    shown = [_exact_text(x, digits) for x in parts(expression.value)]
    return Value(shown[0], shown[1] if isinstance(expression.value, Gaussian) else None, digits, True)
