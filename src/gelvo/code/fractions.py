"""How exact numbers are written: which are one decimal, and which a division that rounds less than a decimal would."""

from __future__ import annotations

from gmpy2 import mpq

EXACT = 1 << 53  # whole numbers up to here are doubles


def is_power_of_two(q: mpq) -> bool:
    """Whether multiplying by a number has no rounding.

    >>> is_power_of_two(mpq(-1, 8)), is_power_of_two(mpq(3, 8))
    (True, False)
    """
    return bool(q) and all(int(k) & (int(k) - 1) == 0 for k in (abs(q.numerator), q.denominator))


def held_exactly(size: mpq) -> bool:
    """Whether a positive number is written as one decimal: an exact double, where multiplying costs less than dividing, or a long one."""
    return size.denominator & (size.denominator - 1) == 0 or not (abs(size.numerator) <= EXACT and size.denominator <= EXACT)


def divided(size: mpq, has_more: bool) -> tuple[list[mpq], list[mpq]]:
    """What stands above and below a fraction line for a positive number, beside other factors above or alone."""
    if held_exactly(size):
        return ([] if size == 1 and has_more else [size]), []
    return ([] if size.numerator == 1 and has_more else [mpq(size.numerator)]), [mpq(size.denominator)]
