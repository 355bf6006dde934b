"""Searches between proved bounds: what the facts say of the unknowns, and equations whose even powers add up to a number."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product
from math import prod

from gelvo.deadline import checkpoint
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import names, substitute
from gelvo.facts.store import Facts
from gelvo.solving.whole.reading import Whole, value_at

MOST_PLACES, MOST_PUT_IN = 10**6, 5000  # of polynomials, and of other equations
Range = tuple[int | None, int | None]


def bounded_search(equations: Sequence[Whole], ranges: Sequence[Range]) -> list[tuple[int, ...]] | None:
    """All whole solutions inside the ranges, or None where some unknown has no proved bounds or the search is too long.

    >>> bounded_search([{(2, 0, 0): 1, (0, 2, 0): 1, (0, 0, 2): 1, (0, 0, 0): -3}], [(0, None)] * 3)
    [(1, 1, 1)]
    """
    count = len(ranges)
    tight = list(ranges)
    natural = all(low is not None and low >= 0 for low, _ in ranges)
    for p in equations:
        for k, bound in enumerate(_term_bounds(p, count, natural)):
            if bound is not None:
                low, high = tight[k]
                tight[k] = (max(-bound, low) if low is not None else -bound, min(bound, high) if high is not None else bound)
    spans = [range(low, high + 1) for low, high in tight if low is not None and high is not None]
    if len(spans) < count:
        return None
    lengths = [max(0, s.stop - s.start) for s in spans]  # len() has no answer beyond 2^63
    longest = lengths.index(max(lengths))
    others = [spans[k] for k in range(count) if k != longest]
    if prod(lengths[:longest] + lengths[longest + 1 :]) * (1 + lengths[longest] // 50) > MOST_PLACES:
        return None
    found: list[tuple[int, ...]] = []
    for place in product(*others):
        checkpoint()
        for last in _last(equations, place, longest, spans[longest]):
            row = (*place[:longest], last, *place[longest:])
            if all(value_at(p, row) == 0 for p in equations):
                found.append(row)
    return sorted(found)


def _term_bounds(p: Whole, count: int, natural: bool) -> list[int | None]:
    """|x| <= (size/a)^(1/k) where p is a sum of a*x^k with positive a and even k, less a number: each term alone is at most that.

    natural: the unknowns are not negative, so that k may be odd, and products of them do no harm.
    """
    constant = p.get((0,) * count, 0)
    powers = {e: c for e, c in p.items() if any(e)}
    signs = {c > 0 for c in powers.values()}
    plain = natural or all(sum(k > 0 for k in e) == 1 and sum(e) % 2 == 0 for e in powers)
    if not plain or len(signs) != 1:
        return [None] * count
    size = -constant if signs == {True} else constant
    bounds: list[int | None] = [None] * count
    for exponents, c in powers.items():
        if sum(k > 0 for k in exponents) > 1:
            continue
        k = next(i for i, e in enumerate(exponents) if e)
        bound = _root(max(size, 0) // abs(c), exponents[k])
        before = bounds[k]
        bounds[k] = bound if before is None else min(before, bound)
    return bounds


def _root(n: int, k: int) -> int:
    """The greatest r with r^k <= n."""
    r = round(n ** (1 / k))
    while r**k > n:
        r -= 1
    while (r + 1) ** k <= n:
        r += 1
    return r


def _last(equations: Sequence[Whole], place: tuple[int, ...], index: int, span: range) -> Iterator[int]:
    """Candidates for one unknown when all others are numbers: the whole roots of a polynomial in it."""
    column: dict[int, int] = {}
    for exponents, c in equations[0].items():
        rest = (*exponents[:index], *exponents[index + 1 :])
        for x, k in zip(place, rest, strict=True):
            c *= x**k
        column[exponents[index]] = column.get(exponents[index], 0) + c
    column = {k: c for k, c in column.items() if c}
    if set(column) <= {0}:
        yield from span if not column else ()
        return
    low = min(column)
    if low:
        if 0 in span:
            yield 0
        column = {k - low: c for k, c in column.items()}
    for x in span:
        if x and column[0] % x == 0 and sum(c * x**k for k, c in column.items()) == 0:
            yield x


def every_place(
    equations: Sequence[Expression], unknowns: Sequence[Name], ranges: Sequence[Range]
) -> list[tuple[int, ...]] | None:
    """The solutions of any equations between given bounds, each place put in; None where there are too many, or other letters."""
    if any(n not in set(unknowns) for n in names(*equations)) or any(low is None or high is None for low, high in ranges):
        return None
    spans = [range(low, high + 1) for low, high in ranges if low is not None and high is not None]
    if prod(max(0, s.stop - s.start) for s in spans) > MOST_PUT_IN:
        return None
    found: list[tuple[int, ...]] = []
    for place in product(*spans):
        checkpoint()
        table = {u: number(k) for u, k in zip(unknowns, place, strict=True)}
        try:
            states = [decide_zero(substitute(e, table), Facts()).zero for e in equations]
        except DomainError:  # an equation has no value there
            continue
        if False not in states:
            if None in states:
                raise NotSolved(
                    f"whether {', '.join(f'{u} = {k}' for u, k in table.items())} solves the equations could not be told"
                )
            found.append(place)
    return found
