"""How a monomial is written as one integer: the exponent of variable k sits in bits 24k … 24k+23."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, TypeAlias

if TYPE_CHECKING:
    import numpy
    from numpy.typing import NDArray

Array: TypeAlias = "NDArray[numpy.int64]"
BITS = 24
FIELD = (1 << BITS) - 1
LARGEST_EXPONENT = 1 << (BITS - 2)


def variables_of(monomials: Iterable[int]) -> list[int]:
    """The numbers of the variables that occur in some monomials."""
    union = 0
    for m in monomials:
        union |= m
    return [k for k in range((union.bit_length() + BITS - 1) // BITS) if (union >> (BITS * k)) & FIELD]


def degrees(monomials: Iterable[int], variables: list[int]) -> list[int]:
    """The highest exponent of each of some variables."""
    return [max([(m >> (BITS * k)) & FIELD for m in monomials], default=0) for k in variables]
