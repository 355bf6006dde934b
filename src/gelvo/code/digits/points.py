"""Where code is tried: sizes of every order inside the ranges, ends, special values, near equalities, and near the zeros of sums."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from random import Random

from gmpy2 import mpq

from gelvo.deciding.equality import inside, numeric_ranges, relations_in
from gelvo.evaluation.sampling import fitted
from gelvo.expression import known as bits
from gelvo.expression.nodes import Name
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts

Point = tuple[float, ...]
Ends = tuple[float, float]
SPECIAL = (0.0, 1.0, -1.0, 0.5, 2.0, -0.5, -2.0, 3.0, 10.0, 100.0, math.pi / 2, math.pi, 1 / 3, 0.1, math.e)
FAR, USUAL = 30, (-8.0, 4.0)  # the powers of ten tried where no end is stated, and most of them
NEAR = (1e-1, 1e-3, 1e-5, 1e-7, 1e-9, 1e-12, 1e-15)
STEPS = 60  # of the bisection towards a zero


def ends_of(name: Name, facts: Facts, ranges: Mapping[Name, Ends]) -> Ends:
    """The smallest and the largest double a name may be, from the stated range, the facts and its domain."""
    low, high = ranges.get(name, (-math.inf, math.inf))
    least, most = numeric_ranges(relations_in(facts.given)).get(name, (None, None))
    low = max(low, float(least)) if least is not None else low
    high = min(high, float(most)) if most is not None else high
    mask = facts.known(name)
    if not mask & bits.NEG:
        low = max(low, 0.0)
    if not mask & bits.POS:
        high = min(high, 0.0)
    return low, high


def pool(ends: Ends, mask: int, random: Random, count: int, far: int = FAR) -> list[float]:
    """Values of one name: the ends and what lies next to them, special values, and sizes of every order."""
    low, high = ends
    wanted: list[float] = [v for v in (low, high) if math.isfinite(v)]
    if math.isfinite(low) and math.isfinite(high):
        wanted += [low + (high - low) * random.random() for _ in range(count // 3)]
        wanted += [end + sign * step * (high - low) for end, sign in ((low, 1), (high, -1)) for step in NEAR]
    wanted += SPECIAL
    wanted += [1 + s * step for step in NEAR for s in (1, -1)]
    bottom, top, usual = _orders(low, high, far)
    for k in range(count):
        left, right = (bottom, top) if k % 4 == 3 else usual
        size = random.uniform(1, 9.9) * 10.0 ** (left + (right - left) * (k + 0.5) / count - 0.5)
        wanted.append(size if k % 2 else -size)
        if low >= 0 or high <= 0:
            wanted.append(-wanted[-1])
    found = (float(fitted(mpq(v), mask)) for v in wanted if math.isfinite(v))
    return list(dict.fromkeys(v for v in found if low <= v <= high))


def _orders(low: float, high: float, far: int) -> tuple[float, float, tuple[float, float]]:
    """The smallest and the largest power of ten of the values, and between which most of them shall lie."""
    smallest = low if low > 0 else -high if high < 0 else 0.0
    sizes = [abs(v) for v in (low, high) if math.isfinite(v) and v]
    top = (
        math.log10(max(sizes))
        if math.isfinite(low) and math.isfinite(high) and sizes
        else max(map(math.log10, sizes), default=far)
    )
    if not math.isfinite(low) or not math.isfinite(high):
        top = max(top, far)
    bottom = math.log10(smallest) if smallest else -300.0 if len(sizes) == 2 or (sizes and 0.0 in (low, high)) else -far
    if math.isfinite(low) and math.isfinite(high):
        usual = (max(bottom, -20.0), min(top, 20.0))
    else:
        usual = (max(bottom, USUAL[0]), max(min(top, USUAL[1]), bottom))
    return bottom, top, usual if usual[1] > usual[0] else (bottom, top)


def points(
    inputs: Sequence[Name],
    facts: Facts,
    ranges: Mapping[Name, Ends],
    sums: Sequence[Callable[[Point], float]],
    count: int,
    seed: int = 20,
    far: int = FAR,
) -> list[Point]:
    """The same points on every run, those that occur first, then hard ones.

    sums: the parts of the formula that may cancel, each as a function of the point; far: the largest power of ten where no end is stated.
    """
    random = Random(seed)
    pools = [pool(ends_of(n, facts, ranges), facts.known(n), random, max(count // 2, 40), far) for n in inputs]
    if not all(pools):
        return []
    allowed = _allowed(inputs, facts, ranges)
    kept: dict[Point, None] = {}
    usual = [(v,) for v in pools[0]] if len(inputs) == 1 else _mixed(pools, random, count)
    for point in usual:
        if (len(inputs) == 1 or len(kept) < count) and allowed(point):
            kept.setdefault(point)
    spread = list(kept) or [tuple(p[0] for p in pools)]
    for point in (*_equalities(spread, random), *_zeros(spread, pools, sums, random)):
        if len(kept) < 2 * count and allowed(point):
            kept.setdefault(point)
    return list(kept)


def scattered(
    inputs: Sequence[Name], facts: Facts, ranges: Mapping[Name, Ends], count: int, seed: int, far: int = FAR
) -> list[Point]:
    """Very many points of all sizes, which cost little to find."""
    random = Random(seed)
    pools = [
        pool(ends_of(n, facts, ranges), facts.known(n), random, count // (1 if len(inputs) == 1 else 4), far) for n in inputs
    ]
    if not all(pools):
        return []
    drawn = [(v,) for v in pools[0]] if len(inputs) == 1 else [tuple(map(random.choice, pools)) for _ in range(count)]
    return list(filter(_allowed(inputs, facts, ranges), drawn))


def _allowed(inputs: Sequence[Name], facts: Facts, ranges: Mapping[Name, Ends]) -> Callable[[Point], bool]:
    """Whether a point lies in the ranges and satisfies the facts."""
    ends = [ends_of(n, facts, ranges) for n in inputs]
    whole = [bits.is_integer(facts.known(n)) for n in inputs]
    relations = [r for r in relations_in(facts.given) if names(r) and set(names(r)) <= set(inputs)]

    def allowed(point: Point) -> bool:
        for (low, high), integer, value in zip(ends, whole, point, strict=True):
            if not low <= value <= high or (integer and value != round(value)):
                return False
        return inside(relations, dict(zip(inputs, map(mpq, point), strict=True)))

    return allowed


def _mixed(pools: Sequence[list[float]], random: Random, count: int) -> Iterator[Point]:
    if not pools:
        yield ()
        return
    if len(pools) == 1:
        return
    for attempt in range(4 * count):
        if attempt < max(map(len, pools)):
            yield tuple(p[(attempt * (2 * k + 1)) % len(p)] for k, p in enumerate(pools))
        else:
            yield tuple(random.choice(p) for p in pools)


def _equalities(spread: Sequence[Point], random: Random) -> Iterator[Point]:
    """Points where one input nearly equals another, up to the sign."""
    count = len(spread[0])
    if count < 2:
        return
    for k, step in enumerate((*NEAR, 0.0) * 5):
        point = list(spread[(7 * k) % len(spread)])
        i, j = random.sample(range(count), 2)
        point[i] = random.choice((1, 1, 1, -1)) * point[j] * (1 + random.choice((1, -1)) * step * random.uniform(1, 3))
        yield tuple(point)


def _zeros(
    spread: Sequence[Point], pools: Sequence[list[float]], sums: Sequence[Callable[[Point], float]], random: Random
) -> Iterator[Point]:
    """Points next to those where a part that is a sum vanishes: found by a change of sign along one input."""
    for part in sums:
        for start in spread[:: max(1, len(spread) // 10)]:
            for k, choices in enumerate(pools):
                steps = sorted(choices)[:: max(1, len(choices) // 24)]
                for low, high in itertools.pairwise(steps):
                    place = _bisected(part, start, k, low, high)
                    if place is not None:
                        for step in (0.0, *random.sample(NEAR, 3)):
                            value = place + (step * place if place else step)
                            yield (*start[:k], value, *start[k + 1 :])
                        break


def _bisected(part: Callable[[Point], float], start: Point, k: int, low: float, high: float) -> float | None:
    def at(value: float) -> float:
        return part((*start[:k], value, *start[k + 1 :]))

    left, right = at(low), at(high)
    if not (math.isfinite(left) and math.isfinite(right) and left * right < 0):
        return None
    for _ in range(STEPS):
        middle = low + (high - low) / 2
        value = at(middle)
        if not math.isfinite(value):
            return None
        if (value < 0) == (left < 0) and value:
            low = middle
        else:
            high = middle
    return high
