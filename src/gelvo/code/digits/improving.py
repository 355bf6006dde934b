"""The outputs of a program in forms that keep their digits, with what is known of each afterwards."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from gelvo.code.accuracy import GOAL_ULP
from gelvo.code.digits.place import LARGEST, Form, Place
from gelvo.code.digits.points import FAR, Ends, Point
from gelvo.code.digits.proving import proved_bound
from gelvo.code.digits.search import carried, failing_points, improved, worst_unexcused
from gelvo.code.precision import DOUBLE, Precision
from gelvo.code.sharing import shared_pairs
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import distinct_nodes, free_names, zeros_in
from gelvo.facts.store import Facts

FARTHEST = 300  # powers of ten, where all digits are wanted
GOALS = ("full", "condition", "plain")
STEPS = "steps"  # of a program, which are left as they are
MOST_MADE = 8
CRITICAL, SPREAD, MOST_OUTPUTS, MOST_CARRIED, LONG_POINTS = 6, 12, 40, 400, 30


class Digits(NamedTuple):
    """What is known of the numbers of one output: the largest error of the formula as written and of the code, in units in the last
    place (ULP), where the formula itself is not sensitive; at how many points; and by which steps the one became the other.

    proved: an error that is nowhere in the ranges exceeded, if the functions of the library are within 1 ULP; infinite where none is known.
    """

    before: float
    after: float
    points: int
    road: tuple[str, ...]
    proved: float = math.inf

    def __str__(self) -> str:
        found = f"at most {self.after:.2g} ULP at {self.points} points"
        if math.isfinite(self.proved):
            found += f", and below {self.proved:.3g} everywhere in the ranges (proved)"
        if not self.road:
            return found
        return f"{found}; {_lost(self.before)} as it was written ({', '.join(self.road)})"


def _lost(error: float) -> str:
    return "overflows there or has no value" if error > 1e300 else f"up to {error:.2g} ULP"


class Kept(NamedTuple):
    """The formulas of the outputs, what is known of their digits, and the points where they are hardest.

    shared: the same formulas with what they have in common worked out once, where there is much and their digits stay.
    """

    outputs: dict[str, Expression]
    digits: dict[str, Digits]
    points: list[Point]
    shared: dict[str, Expression]


class Wanted(NamedTuple):
    """What is asked of a program, and where.

    goal: "full", errors of a few ULP wherever they can be had; "condition", those that the condition of the formula allows; "plain",
    the formulas as they are, only measured; together: points at which all outputs are compared.
    """

    inputs: Sequence[Name]
    facts: Facts
    ranges: Mapping[Name, Ends]
    goal: str
    precision: Precision = DOUBLE
    together: Sequence[Point] = ()


def with_digits(outputs: Mapping[str, Expression], wanted: Wanted) -> Kept:
    """Each output in the best form found."""
    stated = (tuple(map(str, wanted.facts.given)), tuple(wanted.ranges.items()), wanted.goal, wanted.precision)
    key = (tuple(outputs.items()), tuple(wanted.inputs), *stated, tuple(wanted.together))
    if key not in _made:
        while len(_made) >= MOST_MADE:
            _made.pop(next(iter(_made)), None)
        _made[key] = _worked_out(outputs, wanted)
    return _made[key]


_made: dict[object, Kept] = {}  # of the last programs: the same formulas are often written in several languages


def _worked_out(outputs: Mapping[str, Expression], wanted: Wanted) -> Kept:
    if wanted.goal == STEPS:
        return Kept(dict(outputs), {}, [], shared_pairs(outputs))
    kept = Kept({}, {}, [], {})
    tried: list[Tried] = []
    first: dict[Expression, str] = {}  # the same formula is often two outputs, as in a symmetric matrix
    for name, e in outputs.items():
        twin = first.setdefault(e, name)
        if twin in kept.outputs:
            kept.outputs[name] = kept.outputs[twin]
            continue
        found = _one(name, e, wanted, len(outputs))
        kept.outputs[name] = found.best.formula if isinstance(found, Tried) else found
        if isinstance(found, Tried) and len(found.place.points):
            tried.append(found)
            hardest = _hardest(found.plain, found.best, found.place)
            kept.points.extend(_widened(p, found.place.inputs, wanted.inputs) for p in hardest)
    for k, found in enumerate(tried):
        tried[k] = found = _tried_with_others(found, kept.points, wanted)
        kept.digits[found.name] = found.digits
        first_same = outputs[found.name]
        for name in [n for n, e in outputs.items() if e is first_same]:
            kept.outputs[name], kept.digits[name] = found.best.formula, found.digits
    kept.shared.update(kept.outputs)
    if wanted.goal != "plain":
        _share(kept, tried, wanted.goal)
    return kept


class Tried(NamedTuple):
    """An output: its formula as written and in the best form, and where both were tried."""

    name: str
    plain: Form
    best: Form
    place: Place

    @property
    def digits(self) -> Digits:
        before, after = (worst_unexcused(form, self.place) for form in (self.plain, self.best))
        return Digits(before, after, len(self.place.points), _words(self.best), self.proved(self.best))

    def proved(self, form: Form) -> float:
        """The error of a form that is proved not to be exceeded."""
        if self.place.precision.is_single:
            return math.inf  # the bounds are those of doubles
        found = proved_bound(form.formula, self.plain.formula, self.place.inputs, self.place.ranges, self.place.facts)
        return found if found >= form.worst else math.inf  # a library worse than what is taken for granted proves nothing


def _tried_with_others(found: Tried, points: Sequence[Point], wanted: Wanted) -> Tried:
    """An output once more, where it fails at points that are hard for others."""
    if wanted.goal == "plain" or not wanted.together:
        return found
    failing = failing_points(found.best, found.place, _narrowed(points, found.place.inputs, wanted.inputs))
    if not failing:
        return found
    found.place.add(failing)
    return Tried(found.name, *improved(found.plain.formula, found.place, strict=wanted.goal == "full"), found.place)


def _narrowed(points: Sequence[Point], own: Sequence[Name], inputs: Sequence[Name]) -> list[Point]:
    """Points of all inputs as points of some."""
    places = [k for k, n in enumerate(inputs) if n in own]
    return list(dict.fromkeys(tuple([p[k] for k in places]) for p in points))


def _one(name: str, e: Expression, wanted: Wanted, many: int) -> Tried | Expression:
    """One output in its best form; the formula alone where it is too long, or one of too many, to be tried, or has a zero that is found by steps."""
    free, size = set(free_names(e)), distinct_nodes(e)
    own, goal = [n for n in wanted.inputs if n in free], wanted.goal
    if many > MOST_OUTPUTS or size > MOST_CARRIED or not own or zeros_in(e):
        return e
    if size > LARGEST:
        place = Place(e, own, wanted.facts, wanted.ranges, LONG_POINTS, precision=wanted.precision)
        return carried(e, place) if goal != "plain" else e
    far = FARTHEST if goal == "full" else FAR
    place = Place(e, own, wanted.facts, wanted.ranges, far=far, precision=wanted.precision)
    place.add(_narrowed(wanted.together, own, wanted.inputs))
    plain, best = (place.form(e),) * 2 if goal == "plain" else improved(e, place, strict=goal == "full")
    return Tried(name, plain, best, place)


def _share(kept: Kept, tried: Sequence[Tried], goal: str) -> None:
    """What the outputs have in common worked out once, where their digits stay."""
    found = shared_pairs(kept.outputs)
    changed = [(t, t.place.form(found[t.name])) for t in tried if found[t.name] is not t.best.formula]
    if all(_keeps(form, t.best, goal) for t, form in changed):
        kept.shared.update(found)
        for t, form in changed:
            known = kept.digits[t.name]
            kept.digits[t.name] = known._replace(after=worst_unexcused(form, t.place), proved=t.proved(form))


def _keeps(form: Form, best: Form, goal: str) -> bool:
    """Whether a form is as good as the best one for a goal."""
    return float(form.over.max(initial=0)) <= max(1, best.over.max(initial=0)) and (
        goal != "full" or form.worst <= max(GOAL_ULP, best.worst)
    )


def _words(form: Form) -> tuple[str, ...]:
    return tuple(dict.fromkeys(step.replace("_", " ") for step in form.road if step != "or"))


def _hardest(plain: Form, best: Form, place: Place) -> list[Point]:
    """The points where the formula as written and the code are worst, and some others."""
    import numpy

    order = [*numpy.argsort(-plain.over, kind="stable")[:CRITICAL], *numpy.argsort(-best.errors, kind="stable")[:CRITICAL]]
    order += list(range(0, len(place.points), max(1, len(place.points) // SPREAD)))
    return [place.points[k] for k in dict.fromkeys(map(int, order))]


def _widened(point: Point, own: Sequence[Name], inputs: Sequence[Name]) -> Point:
    """A point of all inputs; those that the output has not are 1."""
    table = dict(zip(own, point, strict=True))
    return tuple(table.get(n, 1.0) for n in inputs)
