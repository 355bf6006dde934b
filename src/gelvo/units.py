"""Units of measurement: exact factors of the SI base units and their dimensions, from pint's registry.

The one room where units are read; everything else works with `Unit`. The registry is loaded when the first unit is read.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from fractions import Fraction
from functools import lru_cache
from itertools import product
from typing import TYPE_CHECKING, Any, NamedTuple

from gelvo.errors import DomainError

if TYPE_CHECKING:
    from pint import UnitRegistry

BASE = {
    "[mass]": "kg", "[length]": "m", "[time]": "s", "[current]": "A", "[temperature]": "K", "[substance]": "mol",
    "[luminosity]": "cd",
}  # fmt: skip
# names of coherent products: shown where a result has just that dimension
DERIVED = ("N", "J", "W", "Pa", "V", "Ω", "F", "H", "T", "Wb", "S")
PREFIXES = {-12: "p", -9: "n", -6: "µ", -3: "m", 3: "k", 6: "M", 9: "G", 12: "T"}
ANGLES = ("deg", "°", "rad")  # a stated angle is a number of radians; these say only how it is shown
SPELLINGS = (
    (r"(?<![A-Za-z])([kMGmu]?)Ohm\b", r"\1Ω"), (r"(?<![A-Za-z])([kMG])ohm\b", r"\1Ω"),
    (r"(met|lit)re(s?)\b", r"\1er\2"), (r"\bTorr\b", "torr"),
)  # fmt: skip
# What is read without a doubt: these symbols, and full English names. The registry knows more, but there `Nm` counts yarn, `k` is
# Boltzmann's constant and `Pas` a plural: a symbol with two readings is refused.
WITH_PREFIX = {
    "m", "g", "s", "A", "K", "mol", "cd", "Hz", "N", "Pa", "J", "W", "C", "V", "F", "Ω", "S", "Wb", "T", "H", "lm", "lx", "Bq", "Gy",
    "Sv", "kat", "rad", "sr", "l", "L", "eV", "bar", "Wh", "VA", "Ah", "cal",
}  # fmt: skip
PREFIX_SYMBOLS = ("Y", "Z", "E", "P", "T", "G", "M", "k", "h", "da", "d", "c", "m", "µ", "μ", "u", "n", "p", "f", "a", "z", "y")
ALONE = {
    "min", "h", "hr", "d", "day", "yr", "ha", "au", "ly", "t", "u", "Da", "deg", "turn", "rpm", "rps", "sec", "ppm", "°", "%",
    "in", "ft", "feet", "yd", "mi", "mph", "kn", "lb", "lbf", "oz", "psi", "hp", "BTU", "atm", "mmHg", "torr", "dyn", "erg", "P", "cP", "St",
    "cSt", "tex", "dtex", "lux", "ohm", "bit", "Å", "arcmin", "arcsec", "cc", "days", "ohms", "bits", "turns",
}  # fmt: skip
TWO_READINGS = {"gamma", "lambda", "zeta", "rads", "ton", "tons", "cycle", "cycles", "degree_Celsius", "count", "counts"}
LONGEST = 200
MOST_TURNS, HIGHEST_POWER = 4, 60


class Unit(NamedTuple):
    """factor * pi^turns times a product of SI base units: ((symbol, exponent), …) in order."""

    factor: Fraction
    turns: int
    dimension: tuple[tuple[str, Fraction], ...]

    def times(self, other: Unit, power: Fraction = Fraction(1)) -> Unit:
        """self * other^power; DomainError where that leaves the rational factors."""
        exponents = dict(self.dimension)
        for symbol, k in other.dimension:
            exponents[symbol] = exponents.get(symbol, Fraction(0)) + k * power
        if (other.factor != 1 or other.turns) and power.denominator != 1:
            raise DomainError(f"a root of the unit {other} has no exact factor: use SI units")
        factor = self.factor * other.factor ** int(power) if power.denominator == 1 else self.factor
        kind = type(self) if type(other) is Unit else type(other)  # with a supposed unit the product is supposed too
        return kind(factor, self.turns + int(other.turns * power), dimension_of(exponents))

    @property
    def plain(self) -> bool:
        """Whether it is a pure number."""
        return not self.dimension

    def __str__(self) -> str:
        """`kg m^2/s^2`, with a prefix where there is one for the factor, else with the factor."""
        text = dimension_text(self.dimension)
        if self.factor == 1 and not self.turns:
            return text
        power = next((p for p in PREFIXES if self.factor == Fraction(10) ** p), None)
        if power is not None and not self.turns and text.isalpha() and text != "kg":
            return PREFIXES[power] + text
        turns = f" pi^{self.turns}" if self.turns > 1 or self.turns < 0 else " pi" * self.turns
        return f"{self.factor}{turns} {text}".rstrip()


ONE = Unit(Fraction(1), 0, ())


def dimension_of(exponents: Mapping[str, Fraction]) -> tuple[tuple[str, Fraction], ...]:
    """Exponents of base units in the order of the table, without zeros."""
    return tuple((s, exponents[s]) for s in BASE.values() if exponents.get(s))


@lru_cache(maxsize=1)
def _registry() -> UnitRegistry[Fraction]:
    import pint

    return pint.UnitRegistry(non_int_type=Fraction, cache_folder=None)


@lru_cache(maxsize=1)
def _pi() -> Fraction:
    """The rational number that the registry has for pi."""
    return Fraction(_registry().Quantity(1, "turn").to_base_units().magnitude) / 2


@lru_cache(maxsize=500)
def unit(text: str) -> Unit:
    """A unit from its text, such as `mm`, `kg m^2` or `W/(m^2 K)`.

    Raises DomainError for what is no unit, or has no exact factor: scales with an offset (°C) or a logarithm (dB).

    >>> unit("km/h")
    Unit(factor=Fraction(5, 18), turns=0, dimension=(('m', Fraction(1, 1)), ('s', Fraction(-1, 1))))
    >>> print(unit("pF"))
    pF
    """
    plain = text.strip()
    if not plain or len(plain) > LONGEST or not re.fullmatch(r"[\w\s.*·⋅/^()+\-²³⁻⁰¹⁴-⁹°%Å]*", plain):
        raise DomainError(f"{{{text}}} is not a unit")
    plain = _spelled(plain)
    if any(not _is_known(word) for word in re.findall(_WORDS, plain)):
        near = meant(text)
        raise DomainError(f"{{{text}}} is not a known unit" + (f": did you mean {{{near}}} ?" if near else ""))
    factor, exponents = _from_registry(plain, text)
    if any(abs(k) > HIGHEST_POWER for k in exponents.values()):
        raise DomainError(f"{{{text}}} has powers beyond {HIGHEST_POWER}")
    if factor != 1 and any(k.denominator != 1 for k in exponents.values()):
        raise DomainError(f"{{{text}}} has no exact factor of SI units: use an SI unit")
    strange = [d for d in exponents if d not in BASE]
    if strange:
        raise DomainError(f"{{{text}}} has the dimension {strange[0]}, which has no SI base unit")
    turns = (
        next((k for k in range(-MOST_TURNS, MOST_TURNS + 1) if k and _short(factor / _pi() ** k)), 0) if not _short(factor) else 0
    )
    if not _short(factor / _pi() ** turns):
        raise DomainError(f"{{{text}}} has no exact factor of SI units: use an SI unit")
    return Unit(factor / _pi() ** turns, turns, dimension_of({BASE[d]: k for d, k in exponents.items()}))


def _from_registry(plain: str, text: str) -> tuple[Fraction, dict[str, Fraction]]:
    """The factor and the powers of the base dimensions, by the registry; DomainError for what only looks like a unit."""
    registry = _registry()
    try:
        one, two, none = (
            registry.Quantity(Fraction(k), registry.parse_units(plain.replace("·", "*").replace("⋅", "*"))).to_base_units()
            for k in (1, 2, 0)
        )
        size: Any = one.magnitude  # a Fraction, as the registry was asked for
        factor, exponents = Fraction(size), {str(k): Fraction(str(v)) for k, v in one.dimensionality.items()}
    except Exception:  # the registry has many ways to refuse a text
        raise DomainError(f"{{{text}}} is not a known unit") from None
    if Fraction(two.magnitude) != 2 * factor or none.magnitude or factor <= 0 or plain in ("dB", "dBm"):
        raise DomainError(f"{{{text}}} is a scale with an offset or a logarithm, not a unit to multiply with: use an SI unit")
    return factor, exponents


_RAISED = "²³¹⁰⁴⁵⁶⁷⁸⁹"
_WORDS = rf"[^\W\d_{_RAISED}][^\W_{_RAISED}]*(?:_[^\W_{_RAISED}]+)*|°\w*|%"


def _spelled(text: str) -> str:
    for spelling, known in SPELLINGS:
        text = re.sub(spelling, known, text)
    return text


def _is_known(word: str) -> bool:
    """Whether a symbol or a full name has one reading."""
    if word in ALONE or word in WITH_PREFIX or any(word.startswith(p) and word[len(p) :] in WITH_PREFIX for p in PREFIX_SYMBOLS):
        return True
    if len(word) < 4 or word in TWO_READINGS or not word.replace("_", "").isalpha() or not word.islower():
        return word in ("°C", "°F", "degC", "degF")  # known, and refused with the reason
    try:
        found = _registry().parse_unit_name(word)
    except Exception:  # the registry has many ways to refuse a text
        return False
    return any(word in (p + n, f"{p}{n}s", f"{p}{n}es") for p, n, _ in found)


def meant(text: str) -> str:
    """The text with its unknown words as they were meant, where that is plain: `Nm` is N m, `Kg` kg, `m3` m^3; else empty.

    >>> meant("Nm/rad"), meant("KHz"), meant("kg/m3"), meant("J/kgK"), meant("parrots")
    ('N m/rad', 'kHz', 'kg/m^3', 'J/(kg K)', '')
    """
    found = before = _spelled(text.strip())
    for word in dict.fromkeys(re.findall(_WORDS, found)):
        if not _is_known(word):
            near = _near(word)
            if not near:
                return ""
            found = re.sub(rf"(?<![\w/]){re.escape(word)}(?!\w)", near, found)
            found = re.sub(rf"(?<=/){re.escape(word)}(?!\w)", f"({near})" if " " in near else near, found)
    return found if found != before else ""


def _near(word: str) -> str:
    if word in TWO_READINGS:
        return ""
    if word.startswith("K") and _is_known("k" + word[1:]):
        return "k" + word[1:]
    power = re.fullmatch(r"([^\W\d_]+)(\d)", word)
    if power and _is_known(power.group(1)):
        return f"{power.group(1)}^{power.group(2)}"
    for k in range(len(word) - 1, 0, -1):  # the first part as long as it can be: `kNm` is kN m
        if len(word) <= 5 and _is_known(word[:k]) and _is_known(word[k:]):
            return f"{word[:k]} {word[k:]}"
    cases = (
        {"".join(letters) for letters in product(*((c.lower(), c.upper()) for c in word[:4]))} if 2 <= len(word) <= 4 else set()
    )
    known = sorted(c for c in cases if _is_known(c))
    return known[0] if len(known) == 1 else ""


def _short(factor: Fraction) -> bool:
    """Whether a factor has too few digits to have the registry's pi in it."""
    return len(str(factor.numerator).strip("0")) + len(str(factor.denominator).strip("0")) < 40


def dimension_text(dimension: tuple[tuple[str, Fraction], ...]) -> str:
    """A product of base units as text; the name of a derived unit where there is just one for it.

    >>> dimension_text(unit("kg m^2/s^2").dimension), dimension_text(unit("m/s").dimension)
    ('J', 'm/s')
    """
    if len(dimension) > 2:
        for name in DERIVED:
            if unit(name).dimension == dimension:
                return name
    above = [_powered(s, k) for s, k in dimension if k > 0]
    below = [_powered(s, -k) for s, k in dimension if k < 0]
    if not below:
        return " ".join(above)
    under = below[0] if len(below) == 1 else f"({' '.join(below)})"
    return f"{' '.join(above) or '1'}/{under}"


def _powered(symbol: str, exponent: Fraction) -> str:
    if exponent == 1:
        return symbol
    return f"{symbol}^{exponent}" if exponent.denominator == 1 else f"{symbol}^({exponent})"
