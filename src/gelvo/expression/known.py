"""What is known of a value, as five bits: each bit says what the value *may* be, so facts only clear bits.

The same rules serve building (which uses declared domains only) and operations (which add the facts of a call).

>>> describe(sum_known([(POSITIVE, 1), (NONNEGATIVE, 1)]))
'positive'
"""

from __future__ import annotations

from collections.abc import Iterable

NEG, NIL, POS, NONREAL, FRACTIONAL = 1, 2, 4, 8, 16
ANY = NEG | NIL | POS | NONREAL | FRACTIONAL
REAL = ANY & ~NONREAL
POSITIVE, NEGATIVE = POS | FRACTIONAL, NEG | FRACTIONAL
NONNEGATIVE, NONPOSITIVE = POSITIVE | NIL, NEGATIVE | NIL
NONZERO_REAL = REAL & ~NIL
NONZERO = ANY & ~NIL
INTEGER = NEG | NIL | POS
NATURAL = NIL | POS

DOMAINS = {
    "real": REAL,
    "positive": POSITIVE,
    "nonnegative": NONNEGATIVE,
    "negative": NEGATIVE,
    "nonzero": NONZERO_REAL,
    "integer": INTEGER,
    "natural": NATURAL,
    "complex": ANY,
}
PLURALS = {"reals": "real", "integers": "integer", "naturals": "natural", "positives": "positive", "complexes": "complex"}


def domain_word(text: str) -> str | None:
    """The domain that a word or its plural names, or None."""
    word = PLURALS.get(text, text)
    return word if word in DOMAINS else None


def describe(known: int) -> str:
    for word in ("natural", "integer", "positive", "negative", "nonnegative", "nonzero", "real"):
        if known & ~DOMAINS[word] == 0:
            return word
    return "complex"


def is_real(known: int) -> bool:
    return not known & NONREAL


def is_positive(known: int) -> bool:
    return not known & (NEG | NIL | NONREAL)


def is_negative(known: int) -> bool:
    return not known & (POS | NIL | NONREAL)


def is_nonnegative(known: int) -> bool:
    return not known & (NEG | NONREAL)


def is_nonpositive(known: int) -> bool:
    return not known & (POS | NONREAL)


def is_nonzero(known: int) -> bool:
    return not known & NIL


def is_integer(known: int) -> bool:
    return not known & (FRACTIONAL | NONREAL)


def scaled(known: int, sign: int, whole: bool) -> int:
    """What is known of a rational multiple: `sign` of the factor, and whether it is an integer."""
    if sign < 0:
        known = known & ~(NEG | POS) | (POS if known & NEG else 0) | (NEG if known & POS else 0)
    return known if whole else known | FRACTIONAL


def sum_known(terms: Iterable[tuple[int, int]]) -> int:
    """What is known of a sum, from (known, 1) of each summand."""
    union, all_nonneg, all_nonpos, some_nonzero, both = 0, True, True, False, 0
    for known, _ in terms:
        union |= known
        all_nonneg = all_nonneg and not known & NEG
        all_nonpos = all_nonpos and not known & POS
        some_nonzero = some_nonzero or not known & NIL
        both |= known
    if union & NONREAL:
        return ANY
    result = union & (NEG | POS | FRACTIONAL)
    if not ((all_nonneg or all_nonpos) and some_nonzero):
        result |= NIL
    return result


def product_known(factors: Iterable[int]) -> int:
    """What is known of a product, from what is known of its factors."""
    result = POS
    for known in factors:
        signs = 0
        if (result & POS and known & POS) or (result & NEG and known & NEG):
            signs |= POS
        if (result & POS and known & NEG) or (result & NEG and known & POS):
            signs |= NEG
        signs |= (result | known) & (NIL | FRACTIONAL | NONREAL)
        if signs & NONREAL:
            signs |= NEG | POS
        result = signs
    return result


def integer_power_known(base: int, exponent: int) -> int:
    """What is known of an integer power other than 0."""
    if base & NONREAL:
        return base | NEG | POS | FRACTIONAL if base & NIL and exponent > 0 else NONZERO
    result = base
    if exponent % 2 == 0:
        result = base & ~NEG | (POS if base & NEG else 0)
    if exponent < 0:
        result = (result & ~NIL) | FRACTIONAL
    return result


def power_known(base: int, exponent: int) -> int:
    """What is known of a general power, from what is known of both."""
    if is_positive(base) and is_real(exponent):
        return POSITIVE
    if is_nonnegative(base) and is_real(exponent):
        return NONNEGATIVE
    if is_integer(exponent) and is_real(base):
        return REAL if base & NIL else NONZERO_REAL
    return ANY if base & NIL else NONZERO
