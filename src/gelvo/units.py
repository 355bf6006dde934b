"""Units of measurement: exact factors of the SI base units and their dimensions, from pint's registry.

The one room where units are read; everything else works with `Unit`. The registry is loaded when the first unit is read.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from fractions import Fraction
from functools import lru_cache
from typing import Any, NamedTuple

from gelvo.errors import DomainError

BASE = {
    "[mass]": "kg", "[length]": "m", "[time]": "s", "[current]": "A", "[temperature]": "K", "[substance]": "mol",
    "[luminosity]": "cd",
}  # fmt: skip
# names of coherent products: shown where a result has just that dimension
DERIVED = ("N", "J", "W", "Pa", "V", "Ω", "F", "H", "T", "Wb", "S")
PREFIXES = {-12: "p", -9: "n", -6: "µ", -3: "m", 3: "k", 6: "M", 9: "G", 12: "T"}
ANGLES = ("deg", "°", "rad")  # a stated angle is a number of radians; these say only how it is shown
SPELLINGS = ((re.compile(r"(?<![A-Za-z])([kMGmu]?)Ohm\b"), r"\1Ω"), (re.compile(r"(?<![A-Za-z])([kMG])ohm\b"), r"\1Ω"))
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
        return Unit(factor, self.turns + int(other.turns * power), dimension_of(exponents))

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
def _registry() -> Any:
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
    for spelling, known in SPELLINGS:
        plain = spelling.sub(known, plain)
    registry = _registry()
    try:
        one, two, none = (
            registry.Quantity(Fraction(k), registry.parse_units(plain.replace("·", "*").replace("⋅", "*"))).to_base_units()
            for k in (1, 2, 0)
        )
        factor, exponents = Fraction(one.magnitude), {str(k): Fraction(v) for k, v in one.dimensionality.items()}
    except Exception:  # the registry has many ways to refuse a text
        raise DomainError(f"{{{text}}} is not a known unit") from None
    if Fraction(two.magnitude) != 2 * factor or none.magnitude or factor <= 0 or plain in ("dB", "dBm"):
        raise DomainError(f"{{{text}}} is a scale with an offset or a logarithm, not a unit to multiply with: use an SI unit")
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
    return Unit(factor / _pi() ** turns, turns, dimension_of({BASE[d]: k for d, k in exponents.items()}))


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
