"""Common factors of dense polynomials by one integer gcd.

All variables are replaced by powers of two at once, so that the values are packed integers; the candidate is read back from
the digits of their gcd and proved by division. Source: B. Char, K. Geddes, G. Gonnet, "GCDHEU: Heuristic polynomial GCD
algorithm based on integer GCD computation" (1989).
"""

from __future__ import annotations

from gmpy2 import gcd as integer_gcd
from gmpy2 import mpq, mpz

from gelvo.polynomial import sparse
from gelvo.polynomial.packing import Layout, whole_bytes
from gelvo.polynomial.support import degrees

TRIES = 3
MOST_SHIFTS = 12
LARGEST_BITS = 6_000_000


def gcd_heuristic(p: sparse.Polynomial, q: sparse.Polynomial, used: list[int]) -> sparse.Polynomial | None:
    """The primitive common factor of primitive polynomials in the same variables, or None where this does not pay or work.

    >>> from gmpy2 import mpq, mpz
    >>> gcd_heuristic({2: mpq(1), 0: mpq(-1)}, {2: mpq(1), 1: mpq(2), 0: mpq(1)}, [0]) == {1: 1, 0: 1}
    True
    """
    sizes = [max(a, b) + 1 for a, b in zip(degrees(p, used), degrees(q, used), strict=True)]
    layout = Layout(tuple(used), tuple(sizes))
    a, b = sparse.integers(p)[1], sparse.integers(q)[1]
    largest = max(max(map(abs, a.values())), max(map(abs, b.values())))
    bits = whole_bytes(largest.bit_length() + sum(sizes) // 2 + 24)
    for _ in range(TRIES):
        if bits * layout.length > LARGEST_BITS:
            return None
        value = integer_gcd(layout.pack(a, bits), layout.pack(b, bits))
        # values of polynomials without a constant term share powers of the base: these are no common factor
        zeros = int(value.bit_scan1(0) or 0) // bits
        for shift in range(min(zeros, MOST_SHIFTS), -1, -1):
            candidate = _read(layout, value >> (shift * bits), bits)
            if candidate and sparse.divide_exactly(p, candidate) is not None and sparse.divide_exactly(q, candidate) is not None:
                return candidate
        bits = whole_bytes(bits * 7 // 4 + 5)
    return None


def _read(layout: Layout, value: mpz, bits: int) -> sparse.Polynomial | None:
    try:
        found: sparse.Polynomial = layout.unpack(value, bits)
    except OverflowError:
        return None
    return sparse.primitive({m: mpq(c) for m, c in found.items()})[1] if found else None
