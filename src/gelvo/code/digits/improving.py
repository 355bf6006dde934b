"""The outputs of a program in forms that keep their digits, with what is known of each afterwards."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from gelvo.code.digits.points import FAR, Ends, Point
from gelvo.code.digits.search import GOAL, LARGEST, Form, Place, carried, improved, worst_unexcused
from gelvo.code.sharing import shared_pairs
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import distinct_nodes, free_names
from gelvo.facts.store import Facts

FARTHEST = 300  # powers of ten, where all digits are wanted
GOALS = ("full", "condition", "plain")
STEPS = "steps"  # of a program, which are left as they are
MOST_MADE = 8
CRITICAL, SPREAD, MOST_OUTPUTS, MOST_CARRIED, LONG_POINTS = 6, 12, 40, 400, 30


class Digits(NamedTuple):
    """What is known of the numbers of one output: the largest error of the formula as written and of the code, in units in the last
    place (ULP), where the formula itself is not sensitive; at how many points; and by which steps the one became the other."""

    before: float
    after: float
    points: int
    road: tuple[str, ...]

    def __str__(self) -> str:
        found = f"at most {self.after:.2g} ULP at {self.points} points"
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


def with_digits(
    outputs: Mapping[str, Expression], inputs: Sequence[Name], facts: Facts, ranges: Mapping[Name, Ends], goal: str
) -> Kept:
    """Each output in the best form found for a goal.

    goal: "full", errors of a few ULP wherever they can be had; "condition", those that the condition of the formula allows; "plain",
    the formulas as they are, only measured.
    """
    key = (tuple(outputs.items()), tuple(inputs), tuple(map(str, facts.given)), tuple(ranges.items()), goal)
    if key not in _made:
        while len(_made) >= MOST_MADE:
            _made.pop(next(iter(_made)), None)
        _made[key] = _worked_out(outputs, inputs, facts, ranges, goal)
    return _made[key]


_made: dict[object, Kept] = {}  # of the last programs: the same formulas are often written in several languages


def _worked_out(
    outputs: Mapping[str, Expression], inputs: Sequence[Name], facts: Facts, ranges: Mapping[Name, Ends], goal: str
) -> Kept:
    if goal == STEPS:
        return Kept(dict(outputs), {}, [], shared_pairs(outputs))
    kept = Kept({}, {}, [], {})
    tried: list[tuple[str, Form, Place]] = []
    first: dict[Expression, str] = {}  # the same formula is often two outputs, as in a symmetric matrix
    for name, e in outputs.items():
        twin = first.setdefault(e, name)
        if twin in kept.outputs:
            kept.outputs[name] = kept.outputs[twin]
            kept.digits.update({name: kept.digits[twin]} if twin in kept.digits else {})
            continue
        own = [n for n in inputs if n in set(free_names(e))]
        size = distinct_nodes(e)
        if len(outputs) > MOST_OUTPUTS or size > MOST_CARRIED or not own:
            kept.outputs[name] = e
            continue
        if size > LARGEST:
            kept.outputs[name] = carried(e, Place(e, own, facts, ranges, LONG_POINTS)) if goal != "plain" else e
            continue
        place = Place(e, own, facts, ranges, far=FARTHEST if goal == "full" else FAR)
        plain, best = (place.form(e),) * 2 if goal == "plain" else improved(e, place, strict=goal == "full")
        kept.outputs[name] = best.formula
        tried.append((name, best, place))
        if len(place.points):
            before, after = (worst_unexcused(form, place) for form in (plain, best))
            kept.digits[name] = Digits(before, after, len(place.points), _words(best))
            kept.points.extend(_widened(p, own, inputs) for p in _hardest(plain, best, place))
    kept.shared.update(kept.outputs)
    if goal != "plain":
        found = shared_pairs(kept.outputs)
        forms = [place.form(found[name]) for name, _, place in tried]
        if all(_keeps(form, best, goal) for form, (_, best, _) in zip(forms, tried, strict=True)):
            kept.shared.update(found)
            for form, (name, _, place) in zip(forms, tried, strict=True):
                if name in kept.digits:
                    kept.digits[name] = kept.digits[name]._replace(after=worst_unexcused(form, place))
    return kept


def _keeps(form: Form, best: Form, goal: str) -> bool:
    """Whether a form is as good as the best one for a goal."""
    return float(form.over.max(initial=0)) <= max(1, best.over.max(initial=0)) and (
        goal != "full" or form.worst <= max(GOAL, best.worst)
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
