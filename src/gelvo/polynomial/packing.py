"""Polynomials with integer coefficients as one long integer, and back: the value at a power of two.

Source: L. Kronecker, "Grundzüge einer arithmetischen Theorie der algebraischen Grössen" (1882); several variables share the
digits of one integer through strides.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import compress
from math import prod
from operator import or_
from typing import Any, NamedTuple, TypeVar

import gmpy2
from gmpy2 import mpz

from gelvo.polynomial.support import BITS, FIELD, Array

C = TypeVar("C")


def pack(coefficients: Sequence[mpz], bits: int) -> mpz:
    """The value of signed coefficients, constant term first, at 2^bits; each must be smaller than 2^bits in size."""
    if min(coefficients, default=0) >= 0:
        return gmpy2.pack(list(coefficients), bits)
    half = mpz(1) << (bits - 1)
    if half > max(coefficients) and -half <= min(coefficients):
        return gmpy2.pack([c + half for c in coefficients], bits) - gmpy2.pack([half] * len(coefficients), bits)
    raise OverflowError("a coefficient does not fit into its digits")


def unpack(value: mpz, bits: int, size: int) -> list[mpz]:
    """The signed digits of a value in base 2^bits, each between -2^(bits-1) and 2^(bits-1).

    >>> [int(c) for c in unpack(pack([mpz(-1), mpz(5), mpz(-7)], 10), 10, 3)]
    [-1, 5, -7]
    """
    half = mpz(1) << (bits - 1)
    shifted = value + gmpy2.pack([half] * size, bits)
    if shifted < 0 or shifted.bit_length() > bits * size:
        raise OverflowError("the value has more digits than expected")
    digits = gmpy2.unpack(shifted, bits)
    digits.extend([mpz(0)] * (size - len(digits)))
    return [d - half for d in digits]


class Layout(NamedTuple):
    """Where the exponents of several variables stand in one index."""

    variables: tuple[int, ...]
    sizes: tuple[int, ...]

    @property
    def length(self) -> int:
        return prod(self.sizes)

    def places(self, monomials: Sequence[int]) -> list[int]:
        """The index of each monomial."""
        result = [0] * len(monomials)
        stride = 1
        for variable, size in zip(self.variables, self.sizes, strict=True):
            shift = BITS * variable
            result = [p + ((m >> shift) & FIELD) * stride for p, m in zip(result, monomials, strict=True)]
            stride *= size
        return result

    def monomials(self, places: Array | Sequence[int]) -> list[int]:
        """The monomial of each index; neighbouring variables share a machine word while NumPy takes them apart."""
        import numpy

        rest: Any = numpy.asarray(places, dtype=numpy.int64)
        words: dict[int, Any] = {}
        for variable, size in zip(self.variables, self.sizes, strict=True):
            exponents, rest = rest % size, rest // size
            first, inner = variable // 2 * 2, variable % 2
            words[first] = words.get(first, 0) + (exponents << (BITS * inner))
        result: Any = None
        for first, word in words.items():
            table = [w << (BITS * first) for w in range(int(word.max()) + 1)] if first and word.max() < len(word) else None
            if not first:
                keys: Any = word.tolist()
            elif table:
                keys = map(table.__getitem__, word.tolist())
            else:
                keys = [w << (BITS * first) for w in word.tolist()]
            result = keys if result is None else map(or_, result, keys)
        return result if isinstance(result, list) else list(result)

    def pack(self, p: dict[int, mpz], bits: int) -> mpz:
        """The value of a polynomial at powers of 2^bits; `bits` is a multiple of 8."""
        places = self.places(list(p))
        width, values = bits // 8, list(p.values())
        if min(values) >= 0:
            return _from_places(places, values, width)
        above = [(k, c) for k, c in zip(places, values, strict=True) if c > 0]
        below = [(k, -c) for k, c in zip(places, values, strict=True) if c < 0]
        return _from_places(*_columns(above), width) - _from_places(*_columns(below), width)

    def unpack(self, value: mpz, bits: int, nonnegative: bool = False, make: Callable[[mpz], C] = mpz) -> dict[int, C]:
        """The polynomial of a packed value, each coefficient of the kind that `make` makes."""
        import numpy

        if not value:
            return {}
        if not nonnegative:
            digits = unpack(value, bits, self.length)
            places = list(compress(range(len(digits)), digits))
            return dict(zip(self.monomials(places), map(make, filter(None, digits)), strict=True))
        width = bits // 8
        count = -(-value.bit_length() // (8 * width))
        raw = int(value).to_bytes(count * width, "little")
        flat = numpy.frombuffer(raw, dtype=numpy.uint8)
        table = flat.reshape(-1, width)
        used = numpy.zeros(len(table), dtype=bool)
        used[numpy.flatnonzero(flat) // width] = True
        found = numpy.flatnonzero(used)
        rows = table[found]
        filled = numpy.zeros((len(found), -(-width // 8) * 8), dtype=numpy.uint8)
        filled[:, :width] = rows
        words = filled.view("<u8")
        values = words[:, 0].tolist()
        for k in range(1, words.shape[1]):
            values = [v | (w << (64 * k)) for v, w in zip(values, words[:, k].tolist(), strict=True)]
        return dict(zip(self.monomials(found), map(make, values), strict=True))


def _columns(pairs: list[tuple[int, mpz]]) -> tuple[list[int], list[mpz]]:
    return [k for k, _ in pairs], [c for _, c in pairs]


def _from_places(places: list[int], values: list[mpz], width: int) -> mpz:
    """The integer with given digits of `width` bytes at given places."""
    if not places:
        return mpz(0)
    raw = bytearray(width * (max(places) + 1))
    for place, value in zip(places, values, strict=True):
        raw[place * width : (place + 1) * width] = int(value).to_bytes(width, "little")
    return mpz(int.from_bytes(raw, "little"))


def whole_bytes(bits: int) -> int:
    """The next multiple of 8."""
    return -(-bits // 8) * 8
