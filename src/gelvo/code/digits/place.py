"""Where forms of a formula are tried: points with right values, what code gives there, and how far from them it may lie."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from copy import copy
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

from gelvo.code.accuracy import BAR_ULP, GOAL_ULP, judge_of
from gelvo.code.digits.cost import cost
from gelvo.code.digits.numeric import careful
from gelvo.code.digits.points import FAR, Ends, Point, points, scattered
from gelvo.code.digits.trial import Trial, errors_of, function_of, values_at
from gelvo.code.precision import DOUBLE, Precision
from gelvo.errors import GelvoError
from gelvo.expression.nodes import Expression, Name, Sum
from gelvo.expression.traversal import distinct_nodes, postorder
from gelvo.facts.store import Facts

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

POINTS, FIRST_SEED, MOST_SUMS = 150, 20, 8
LARGEST = 120  # distinct parts of a formula that is searched
SCREENED, ALIKE = 8000, 12  # points at which a form is compared with pairs, and those that are judged of one size of difference
cost_of = lru_cache(maxsize=8192)(cost)  # forms are ranked again and again


class Form(NamedTuple):
    """A formula, how it came about, what it costs, its error at each point, and how much larger than allowed that is.

    spent: what working it out costs at each point, where that differs;
    beyond: at how many points that nobody stated it fails because a part is too large or too small for a double on the way.
    """

    formula: Expression
    road: tuple[str, ...]
    cost: float
    errors: NDArray[float64]
    over: NDArray[float64]
    spent: NDArray[float64]
    beyond: int = 0

    @property
    def worst(self) -> float:
        return float(self.errors.max())

    @property
    def passes(self) -> bool:
        """Whether every error is allowed by the condition of the formula."""
        return float(self.over.max()) <= 1

    @property
    def lost(self) -> float:
        """The bits lost, added up over the points; those that the condition does not excuse count many times."""
        import numpy

        return float(
            numpy.log2(numpy.maximum(self.errors / GOAL_ULP, 1)).sum() + 8 * numpy.log2(numpy.maximum(self.over, 1)).sum()
        )


class Place:
    """Where a formula is tried: the points with a right value, as columns, and the errors allowed there."""

    def __init__(
        self,
        e: Expression,
        inputs: Sequence[Name],
        facts: Facts,
        ranges: Mapping[Name, Ends],
        count: int = POINTS,
        far: int = FAR,
        precision: Precision = DOUBLE,
    ) -> None:
        """far: the largest power of ten tried where no end is stated."""
        self.inputs, self.facts, self.ranges, self.precision = list(inputs), facts, ranges, precision
        self._far = min(far, precision.far)
        self._sums = [_scalar(function_of(s, inputs)) for s in _sums(e)]
        self.judge = judge_of(e, tuple(inputs), True, precision)
        self.points: list[Point] = []
        self._values: list[tuple[float, bool]] = []
        self.add(self.drawn(count, FIRST_SEED))
        self.usual = max(1, min(count, len(self.points)) * 2 // 3)  # how many of them are no hard ones

    def drawn(self, count: int, seed: int) -> list[Point]:
        """Points inside the ranges, in the order of their kind."""
        import numpy

        with numpy.errstate(all="ignore"):
            drawn = points(self.inputs, self.facts, self.ranges, self._sums, count, seed, self._far)
        return self.precision.points(drawn)

    def add(self, more: Iterable[Point]) -> None:
        """Further points, those with a right value."""
        import numpy

        seen = set(self.points)
        for point in more:
            value = self.judge.value(point) if point not in seen else None
            if value is not None:
                self.points.append(point)
                self._values.append(value)
        self.right = numpy.array([v for v, _ in self._values], dtype=float)
        self.hard = numpy.array([not fits for _, fits in self._values], dtype=bool)
        self.allowed = numpy.full(len(self.points), BAR_ULP)
        self._looked = numpy.zeros(len(self.points), dtype=int)  # how closely the condition was looked at, where it was needed
        columns = [numpy.array([p[k] for p in self.points], dtype=float) for k in range(len(self.inputs))]
        self._trial = Trial(self.inputs, columns, len(self.points), self.precision)

    def suspected(self, form: Expression, e: Expression, seed: int) -> list[Point]:
        """Of very many points those at which a form and the formula on pairs differ most: pairs are no judge, but they are quick."""
        import numpy

        drawn = self.precision.points(scattered(self.inputs, self.facts, self.ranges, SCREENED, seed, self._far))
        try:
            found, other = values_at([form, careful(e)], self.inputs, drawn, self.precision)
        except GelvoError:
            return []
        apart = numpy.where(numpy.isfinite(other), errors_of(found, other, self.precision), 0.0)
        # by the size of the difference: where pairs are wrong themselves it is beyond all measure
        chosen: dict[int, list[Point]] = {}
        for k in numpy.flatnonzero(apart > GOAL_ULP):
            chosen.setdefault(int(math.log2(apart[k])), []).append(drawn[k])
        return [p for group in chosen.values() for p in group[:: max(1, len(group) // ALIKE)][:ALIKE]]

    def at(self, fresh: Iterable[Point]) -> Place:
        """The same formula at other points."""
        other = copy(self)
        other.points, other._values = [], []
        other.add(fresh)
        return other

    def form(self, e: Expression, road: tuple[str, ...] = ()) -> Form:
        """A formula with its errors."""
        import numpy

        errors = errors_of(self.values(e), self.right, self.precision)
        unstated = numpy.zeros_like(self.hard) if self.ranges else self.hard
        beyond = int((unstated & (errors > BAR_ULP * BAR_ULP)).sum())
        errors = numpy.where(unstated, 0.0, errors)
        self._allow(errors)
        spent = self.cost(e)
        return Form(e, road, spent, errors, errors / self.allowed, numpy.full(len(self.points), spent), beyond)

    def _allow(self, errors: NDArray[float64]) -> None:
        """The errors allowed by the condition, at the point and then beside it, where these errors ask for it."""
        import numpy

        for closely in (1, 2):
            for k in numpy.flatnonzero((errors > self.allowed) & (self._looked < closely)):
                condition = self.judge.condition(self.points[k], beside=closely == 2)
                if condition is not None:
                    self.allowed[k] = max(self.allowed[k], BAR_ULP * (1 + condition))
                self._looked[k] = closely

    def cost(self, e: Expression) -> float:
        """What working a formula out costs."""
        return cost_of(e, in_double=self.precision.is_single)

    def values(self, e: Expression) -> NDArray[float64]:
        """What code would give at the points."""
        return self._trial.values(e)


def _sums(e: Expression) -> list[Sum]:
    """The sums that may cancel; of a long formula none, whose points are left to chance."""
    return [n for n in postorder(e) if isinstance(n, Sum)][:MOST_SUMS] if distinct_nodes(e) <= LARGEST else []


def _scalar(function: Callable[..., object]) -> Callable[[Point], float]:
    return lambda point: float(function(*point))  # type: ignore[arg-type]
