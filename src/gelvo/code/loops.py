"""Outputs of a long vector that are the same formula of neighbours, one after the other: they are written as a loop."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple, TypeAlias

from gelvo.code.digits.cost import cost
from gelvo.code.layout import VECTOR, Layout
from gelvo.code.program import Program
from gelvo.expression.building import name as make_name
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import free_names, substitute_plain

MANY = 60  # members of a vector that are read where they are, and outputs that are stored one after the other
SHORTEST, MOST_REPEATED, MOST_AT_A_TIME = 8, 1.5, 4


Members: TypeAlias = dict[Name, tuple[int, int]]


class Run(NamedTuple):
    """Outputs from start to before stop, as many at a time as there are formulas: of places, each of which is a vector (its place among the
    groups) at a distance from the first of them."""

    start: int
    stop: int
    formulas: list[Expression]
    places: Members

    @property
    def step(self) -> int:
        return len(self.formulas)


def in_long_vectors(inputs: Sequence[Name], layout: Layout) -> Members:
    """The members of long vectors, each with the place of its vector among the groups and its own in the vector."""
    return {
        n: (g, k)
        for g, (start, group) in enumerate(layout.starts())
        if group.kind == VECTOR and len(group.members) > MANY
        for k, n in enumerate(inputs[start : start + len(group.members)])
    }


def runs(program: Program) -> list[Run]:
    """Where the outputs, one after the other, are one formula; () where they are no long vector.

    >>> xs = [make_name(f"x_{k}") for k in range(100)]
    >>> from gelvo.code.layout import Group, Layout, Output
    >>> layout = Layout((Group("x", VECTOR, tuple(x.name for x in xs)),), (Output("y", (98,)),))
    >>> formulas = {f"y[{k}]": xs[k] - 2*xs[k + 1] + xs[k + 2] for k in range(98)}
    >>> [(r.start, r.stop, r.step, len(r.places)) for r in runs(Program(tuple(xs), formulas, (), layout))]
    [(0, 98, 1, 3)]
    """
    return _runs(program.inputs, tuple(program.outputs.values()), program.layout)


@lru_cache(maxsize=8)
def _runs(inputs: tuple[Name, ...], outputs: tuple[Expression, ...], layout: Layout) -> list[Run]:
    if len(layout.outputs) != 1 or len(layout.outputs[0].shape) != 1 or len(outputs) <= MANY:
        return []
    where = in_long_vectors(inputs, layout)
    seen = [_at(e, k, where, layout)[0] for k, e in enumerate(outputs)]
    found: list[Run] = []
    for start, stop, step in _together(seen):
        places: Members = {}
        formulas: list[Expression] = []
        for e in outputs[start : start + step]:
            formula, own = _at(e, start, where, layout)
            formulas.append(formula)
            places |= own
        if places:
            found.append(Run(start, stop, formulas, places))
    return found


def _at(e: Expression, k: int, where: Members, layout: Layout) -> tuple[Expression, Members]:
    """A formula with the members of vectors by their distance from the place of the output."""
    places: Members = {}
    table: dict[Expression, Expression] = {}
    for n in free_names(e):
        if n in where:
            g, own = where[n]
            table[n] = place = make_name(f"{layout.groups[g].name} at {own - k}")  # no input has blanks in its name
            places[place] = g, own - k
    return substitute_plain(e, table), places


def _together(seen: Sequence[Expression]) -> Iterator[tuple[int, int, int]]:
    """(start, stop, step) where each formula is the one so many steps before."""
    start = 0
    while start < len(seen):
        for step in range(1, MOST_AT_A_TIME + 1):
            stop = start + step
            while stop < len(seen) and seen[stop] is seen[stop - step]:
                stop += 1
            stop -= (stop - start) % step
            if stop - start >= SHORTEST * step:
                yield start, stop, step
                start = stop
                break
        else:
            start += 1


def better_in_loops(apart: Program, shared: Program) -> bool:
    """Whether a program is mostly loops, and does not work much out again in them that one without loops has once."""
    inside = sum(r.stop - r.start for r in runs(apart))
    if 2 * inside < len(apart.outputs):
        return False
    return sum(map(cost, apart.outputs.values())) <= MOST_REPEATED * cost(*shared.outputs.values())
