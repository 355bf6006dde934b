"""A product of two polynomials that is a number: one case for each divisor.

a*x*y + b*x + c*y + d = 0 says (a*x + c)*(a*y + b) = b*c - a*d; other equations are taken where all but their constant factors.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import isqrt

from gelvo.expression.building import number
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.solving.polynomial_systems import polynomial_solutions
from gelvo.solving.whole.reading import Whole, as_expression, value_at

LARGEST = 10**14


def by_divisors(p: Whole, unknowns: Sequence[Name]) -> list[tuple[int, ...]] | None:
    """All whole solutions of p = 0 for two unknowns, or None where p is not of this kind.

    >>> from gelvo.expression.building import name
    >>> by_divisors({(1, 1): 1, (1, 0): -2, (0, 1): -3}, [name("x"), name("y")])[:3]
    [(-3, 1), (0, 0), (1, -1)]
    """
    if len(unknowns) != 2:
        return None
    if set(p) <= {(1, 1), (1, 0), (0, 1), (0, 0)} and (1, 1) in p:
        return _bilinear(p)
    size = -p.get((0, 0), 0)
    if not size or abs(size) > LARGEST:
        return None
    product = factored(as_expression({k: v for k, v in p.items() if any(k)}, unknowns))
    pieces = [f for f in factors_in(product) if not f.is_rational]
    if not pieces or (len(pieces) == 1 and base_and_exponent(pieces[0])[0] is pieces[0]):
        return None
    first, power_of_first = base_and_exponent(pieces[0])
    rest = expand(product / pieces[0])
    found: dict[tuple[int, ...], None] = {}
    for d in _divisors(size):
        if size % d ** int(power_of_first.rational):
            continue
        for row in _both(first - d, rest - number(size // d ** int(power_of_first.rational)), unknowns) or ():
            if value_at(p, row) == 0:
                found[row] = None
    return sorted(found)


def _bilinear(p: Whole) -> list[tuple[int, ...]] | None:
    a, b, c, d = (p.get(k, 0) for k in ((1, 1), (1, 0), (0, 1), (0, 0)))
    size = b * c - a * d
    if not size or abs(size) > LARGEST:  # (a*x + c)*(a*y + b) = 0 has whole lines of solutions
        return None
    found = []
    for e in _divisors(size):
        if (e - c) % a == 0 and (size // e - b) % a == 0:
            found.append(((e - c) // a, (size // e - b) // a))
    return sorted(found)


def _both(one: Expression, other: Expression, unknowns: Sequence[Name]) -> Iterator[tuple[int, ...]]:
    """The common whole solutions of two equations with few of them."""
    for solution in polynomial_solutions([one, other], unknowns, True) or []:
        values = [solution[u] for u in unknowns]
        if all(v.is_whole for v in values):
            yield tuple(int(v.rational) for v in values)


def _divisors(size: int) -> list[int]:
    """All divisors with both signs."""
    size = abs(size)
    small = [k for k in range(1, isqrt(size) + 1) if size % k == 0] if size <= 10**12 else _by_primes(size)
    both = sorted({*small, *(size // k for k in small)})
    return [-d for d in reversed(both)] + both


def _by_primes(size: int) -> list[int]:
    found = [1]
    k = 2
    while k * k <= size:
        times = 0
        while size % k == 0:
            size //= k
            times += 1
        found = [f * k**t for f in found for t in range(times + 1)]
        k += 1
    return [f * s for f in found for s in ({1, size})]
