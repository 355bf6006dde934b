"""What the numbers of code are: doubles, or single precision with doubles only where digits would be lost (IEEE 754)."""

from __future__ import annotations

import math
import sys
from collections.abc import Iterable
from typing import TYPE_CHECKING, NamedTuple

from gmpy2 import mpq

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray


class Precision(NamedTuple):
    """bits: of a number; exponents: how large a power of two a product may have on the way; far: the same in powers of ten;
    smallest: numbers nearer to zero have fewer digits; largest: the largest number."""

    name: str
    bits: int
    exponents: int
    far: int
    smallest: float
    largest: float

    @property
    def half_unit(self) -> mpq:
        """The largest relative rounding."""
        return mpq(1, 1 << self.bits)

    @property
    def is_single(self) -> bool:
        return self.bits < DOUBLE.bits

    def ulp(self, value: float) -> float:
        """The unit in the last place of a number.

        >>> SINGLE.ulp(1.0) == 2.0**-23, DOUBLE.ulp(1.0) == 2.0**-52
        (True, True)
        """
        return max(math.ulp(value) * 2.0 ** (DOUBLE.bits - self.bits), LEAST_SINGLE) if self.is_single else math.ulp(value)

    def units(self, values: NDArray[float64]) -> NDArray[float64]:
        """The same for many numbers."""
        import numpy

        found = numpy.spacing(numpy.abs(values))
        return numpy.maximum(found * 2.0 ** (DOUBLE.bits - self.bits), LEAST_SINGLE) if self.is_single else found

    def rounded(self, value: float) -> float:
        """The number of this precision next to a double."""
        import numpy

        return float(numpy.float32(value)) if self.is_single else value

    def points(self, found: Iterable[tuple[float, ...]]) -> list[tuple[float, ...]]:
        """Points of numbers of this precision."""
        return list(dict.fromkeys(tuple(map(self.rounded, p)) for p in found)) if self.is_single else list(found)

    def digits(self, value: float) -> str:
        """As few digits as tell a number of this precision."""
        import numpy

        return str(numpy.float32(value)) if self.is_single else repr(value)


LEAST_SINGLE = 2.0**-149
DOUBLE = Precision("double", 53, 990, 300, 1e-300, sys.float_info.max)
SINGLE = Precision("single", 24, 120, 36, 1e-36, (2.0 - 2.0**-23) * 2.0**127)
PRECISIONS = {p.name: p for p in (DOUBLE, SINGLE)}
