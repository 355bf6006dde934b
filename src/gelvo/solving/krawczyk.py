"""Systems of as many equations as unknowns in numbers: existence and uniqueness in a box proved, and all solutions in a box.

Source: R. Krawczyk, "Newton-Algorithmen zur Bestimmung von Nullstellen mit Fehlerschranken" (1969).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from gmpy2 import mpq

from gelvo.deadline import checkpoint
from gelvo.errors import NotSolved
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.nodes import Expression, Name, Written
from gelvo.expression.traversal import postorder
from gelvo.forms.differentiation import differentiate
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, arithmetic, exact

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

BITS = 120
MOST_BOXES = 20_000
SMALLEST = mpq(1, 10**9)  # of the first box: narrower ones are not halved any more
Place = tuple[Interval, ...]


class System:
    """Equations f = 0 with their slopes, ready for bounds."""

    def __init__(self, equations: Sequence[Expression], unknowns: Sequence[Name]) -> None:
        self.unknowns = list(unknowns)
        self.values = [Enclosure(e) for e in equations]
        slopes = [[differentiate(e, u) for u in unknowns] for e in equations]
        if any(isinstance(n, Written) for row in slopes for s in row for n in postorder(s)):
            raise NotSolved("the slopes of the equations have no form, so that nothing can be proved of their solutions")
        self.slopes = [[Enclosure(s) for s in row] for row in slopes]
        self.a: Arithmetic = arithmetic(BITS)

    def at(self, place: Place) -> list[Interval]:
        return [self._real(f, place) for f in self.values]

    def slopes_at(self, place: Place) -> list[list[Interval]]:
        return [[self._real(s, place) for s in row] for row in self.slopes]

    def _real(self, f: Enclosure, place: Place) -> Interval:
        box = f.at(dict(zip(self.unknowns, map(Box, place), strict=True)), BITS)
        if box.imag is not None and not box.imag.contains_zero():
            raise NoValue("no real value there", certain=True)
        if not box.real.finite:
            raise NoValue("no bounds there")
        return box.real

    def may_vanish(self, place: Place) -> bool:
        """Whether bounds leave room for a solution in a box; where there are no bounds they do, where there is no value not."""
        try:
            return all(v.contains_zero() for v in self.at(place))
        except NoValue as fault:
            return not fault.certain

    def contracted(self, place: Place) -> tuple[Place | None, bool] | None:
        """(the part of a box that may hold solutions, whether it holds exactly one); None where there are no bounds or no inverse."""
        a = self.a
        middle = tuple(_point(a, (exact(x.low) + exact(x.high)) / 2) for x in place)
        try:
            centre, slopes = self.at(middle), self.slopes_at(place)
            inverse = _inverse(self.slopes_at(middle))
        except NoValue:
            return None
        if inverse is None:
            return None
        away = [a.subtract(x, m) for x, m in zip(place, middle, strict=True)]
        reached: list[Interval] = []
        n = len(place)
        rows = [[_number(a, float(inverse[i][j])) for j in range(n)] for i in range(n)]
        for i in range(n):
            value = a.subtract(middle[i], _dot(a, rows[i], centre))
            for k in range(n):
                share = _dot(a, rows[i], [slopes[j][k] for j in range(n)])
                rest = a.subtract(a.integer(int(i == k)), share)
                value = a.add(value, a.multiply(rest, away[k]))
            reached.append(value)
        alone = all(r.low > x.low and r.high < x.high for r, x in zip(reached, place, strict=True))
        met = [Interval(max(r.low, x.low), min(r.high, x.high)) for r, x in zip(reached, place, strict=True)]
        return (None, False) if any(m.low > m.high for m in met) else (tuple(met), alone)


def _point(a: Arithmetic, place: mpq) -> Interval:
    """A number of the arithmetic near a place."""
    low = a.rational(place).low
    return Interval(low, low)


def _number(a: Arithmetic, value: float) -> Interval:
    return a.rational(mpq(value))


def _dot(a: Arithmetic, one: Sequence[Interval], other: Sequence[Interval]) -> Interval:
    total = a.zero
    for x, y in zip(one, other, strict=True):
        total = a.add(total, a.multiply(x, y))
    return total


def _inverse(slopes: list[list[Interval]]) -> NDArray[float64] | None:
    import numpy

    try:
        found = numpy.linalg.inv(numpy.array([[float(s.low) for s in row] for row in slopes]))
    except numpy.linalg.LinAlgError:
        return None
    return found if bool(numpy.isfinite(found).all()) else None


def proved_near(system: System, place: Sequence[float]) -> tuple[Place, mpq] | None:
    """(a narrow box with exactly one solution, the distance up to which there is no other one) around approximations, or None."""
    a = system.a
    best: tuple[Place, mpq] | None = None
    for power in range(-40, 2):
        width = mpq(2) ** power
        box = tuple(
            Interval(a.rational(mpq(p) - width * max(1, abs(mpq(p)))).low, a.rational(mpq(p) + width * max(1, abs(mpq(p)))).high)
            for p in place
        )
        found = system.contracted(box)
        if found is not None and found[1] and found[0] is not None:
            best = (best[0] if best is not None else _narrowed(system, found[0])), width
        elif best is not None:
            break
    return best


def _narrowed(system: System, place: Place) -> Place:
    """A box with one solution, contracted as far as the precision goes."""
    for _ in range(8):
        found = system.contracted(place)
        if found is None or found[0] is None or found[0] == place:
            return place
        place = found[0]
    return place


def all_inside(system: System, ranges: Sequence[tuple[mpq, mpq]]) -> list[Place]:
    """A narrow box around each solution in a box, every one proved to be one, and none missing; raises NotSolved."""
    a = system.a
    start = tuple(Interval(a.rational(low).low, a.rational(high).high) for low, high in ranges)
    work: list[Place] = [start]
    found: list[Place] = []
    looked = 0
    while work:
        checkpoint()
        place = work.pop()
        looked += 1
        if looked > MOST_BOXES:
            raise NotSolved(f"the box is too large, or solutions lie too near to each other, near {_shown(system, place)}")
        if not system.may_vanish(place):
            continue
        step = system.contracted(place)
        if step is not None and step[0] is None:
            continue
        if step is not None and step[1] and step[0] is not None:
            narrow = _narrowed(system, step[0])
            if not any(_meet(narrow, other) for other in found):
                found.append(narrow)
            continue
        if step is not None and step[0] is not None and _width(step[0]) < _width(place) * mpq(3, 4):
            work.append(step[0])
            continue
        work += _halves(a, place, start, system)
    inside = [p for p in found if not _outside(p, ranges)]
    return sorted(inside, key=lambda p: [float(x.low) for x in p])


def _halves(a: Arithmetic, place: Place, start: Place, system: System) -> list[Place]:
    """The box halved across its widest side, seen against the first box; the halves overlap a little, so that no solution is on a border."""
    shares = [
        (exact(x.high) - exact(x.low)) / max(exact(s.high) - exact(s.low), SMALLEST) for x, s in zip(place, start, strict=True)
    ]
    k = max(range(len(place)), key=lambda i: shares[i])
    if shares[k] < SMALLEST:
        raise NotSolved(f"near {_shown(system, place)} it could not be told whether there is a solution (a double one, perhaps)")
    low, high = exact(place[k].low), exact(place[k].high)
    middle, over = (low + high) / 2, (high - low) / 64
    left = Interval(place[k].low, a.rational(middle + over).high)
    right = Interval(a.rational(middle - over).low, place[k].high)
    return [(*place[:k], part, *place[k + 1 :]) for part in (left, right)]


def _width(place: Place) -> mpq:
    return max(exact(x.high) - exact(x.low) for x in place)


def _meet(one: Place, other: Place) -> bool:
    return all(x.low <= y.high and y.low <= x.high for x, y in zip(one, other, strict=True))


def _outside(place: Place, ranges: Sequence[tuple[mpq, mpq]]) -> bool:
    return any(exact(x.high) < low or exact(x.low) > high for x, (low, high) in zip(place, ranges, strict=True))


def _shown(system: System, place: Place) -> str:
    return ", ".join(f"{u} = {float((x.low + x.high) / 2):.6g}" for u, x in zip(system.unknowns, place, strict=True))
