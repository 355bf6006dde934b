"""Points at which a claim is tried: deterministic, inside the facts, with signs and sizes mixed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import combinations
from random import Random

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.nodes import Name
from gelvo.numbers.exact import Scalar, gaussian

Point = dict[Name, Scalar]
SIMPLE = [mpq(1), mpq(2), mpq(1, 2), mpq(3), mpq(-1), mpq(-2), mpq(5, 3), mpq(-3, 4), mpq(7, 5), mpq(1, 7)]


Range = tuple[mpq | None, mpq | None]


def points(
    names: Sequence[Name], known: Callable[[Name], int], count: int, seed: int = 7, ranges: Mapping[Name, Range] | None = None
) -> Iterator[Point]:
    """Candidates that satisfy the domain of each name; relations between names are the caller's to test."""
    random = Random(seed)
    for attempt in range(count):
        point: Point = {}
        for place, name in enumerate(names):
            mask = known(name)
            if attempt < 4:
                value = SIMPLE[(attempt + 3 * place) % len(SIMPLE)]
            else:
                spread = (1, 3, 10, 100)[attempt % 4]
                value = mpq(random.randint(-97 * spread, 97 * spread), random.choice((7, 11, 13, 19, 1)))
                value = value / random.choice((1, 3, 29))
            point[name] = fitted(value, mask) if not ranges or name not in ranges else between(value, ranges[name], mask)
            if mask & bits.NONREAL and attempt % 3:
                point[name] = gaussian(value, mpq(random.randint(-30, 30), random.choice((7, 11, 13))))
        yield point


def fitted(value: mpq, mask: int) -> mpq:
    """The value moved into what is known of a name."""
    if bits.is_integer(mask):
        value = mpq(round(value))
    if not mask & bits.NEG:
        value = abs(value)
    elif not mask & bits.POS:
        value = -abs(value)
    if not value and not mask & bits.NIL:
        value = mpq(1 if mask & bits.POS else -1)
    return value


def between(value: mpq, ends: Range, mask: int) -> mpq:
    """The value moved strictly between two ends, either of which may be missing."""
    low, high = ends
    size = abs(value) + mpq(1, 97)
    if low is not None and high is not None:
        value = low + (high - low) * size / (1 + size)
    elif low is not None:
        value = low + size
    elif high is not None:
        value = high - size
    return mpq(round(value)) if bits.is_integer(mask) else value


def degenerate(names: Sequence[Name], known: Callable[[Name], int]) -> Iterator[Point]:
    """Where a claim that holds for most letters breaks: one of them is zero, or two are equal; as far as their domains allow."""
    usual = {n: fitted(mpq(7, 5) + mpq(k, 3), known(n)) for k, n in enumerate(names)}
    for name in names:
        if not fitted(mpq(0), known(name)):
            yield {**usual, name: mpq(0)}
    for one, other in combinations(names, 2):
        if fitted(usual[one], known(other)) == usual[one]:
            yield {**usual, other: usual[one]}


def of_all_signs(found: Iterable[Point], wanted: int) -> list[Point]:
    """Some of the points, those first that show signs of the names which no other one has shown."""
    fresh: dict[tuple[int, ...], Point] = {}
    rest: list[Point] = []
    for point in found:
        signs = tuple(-1 if isinstance(v, type(mpq())) and v < 0 else 1 for v in point.values())
        if signs in fresh:
            rest.append(point)
        else:
            fresh[signs] = point
    return [*fresh.values(), *rest][:wanted]
