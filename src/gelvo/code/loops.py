"""Outputs of a long vector that are the same formula of neighbours, one after the other: they are written as a loop."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from gelvo.code.digits.cost import cost
from gelvo.code.layout import VECTOR
from gelvo.code.program import Program
from gelvo.expression.building import name as make_name
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import free_names, substitute_plain

MANY, SHORTEST, MOST_REPEATED = 60, 8, 1.5


class Run(NamedTuple):
    """Outputs from start to before stop; formula: of places, each of which is a vector (its place among the groups) at an offset."""

    start: int
    stop: int
    formula: Expression
    places: dict[Name, tuple[int, int]]


def runs(program: Program) -> list[Run]:
    """Where the outputs, one after the other, are one formula; () where they are no long vector.

    >>> xs = [make_name(f"x_{k}") for k in range(100)]
    >>> from gelvo.code.layout import Group, Layout, Output
    >>> layout = Layout((Group("x", VECTOR, tuple(x.name for x in xs)),), (Output("y", (98,)),))
    >>> formulas = {f"y[{k}]": xs[k] - 2*xs[k + 1] + xs[k + 2] for k in range(98)}
    >>> [(r.start, r.stop, str(r.formula)) for r in runs(Program(tuple(xs), formulas, (), layout))]
    [(0, 98, 'x_at_0 + x_at_2 - 2*x_at_1')]
    """
    layout = program.layout
    if len(layout.outputs) != 1 or len(layout.outputs[0].shape) != 1 or len(program.outputs) <= MANY:
        return []
    where: dict[Name, tuple[int, int]] = {}
    for g, (start, group) in enumerate(layout.starts()):
        if group.kind == VECTOR and len(group.members) > MANY:
            where |= {n: (g, k) for k, n in enumerate(program.inputs[start : start + len(group.members)])}
    seen = [_at(e, k, where, program) for k, e in enumerate(program.outputs.values())]
    return list(_together(seen))


def _at(
    e: Expression, k: int, where: dict[Name, tuple[int, int]], program: Program
) -> tuple[Expression, dict[Name, tuple[int, int]]]:
    """A formula with the members of vectors by their distance from the place of the output."""
    places: dict[Name, tuple[int, int]] = {}
    table: dict[Expression, Expression] = {}
    for n in free_names(e):
        if n in where:
            g, own = where[n]
            word = f"{program.layout.groups[g].name}_at_{'minus_' * (own < k)}{abs(own - k)}"
            table[n] = place = make_name(word)
            places[place] = g, own - k
    return substitute_plain(e, table), places


def _together(seen: Sequence[tuple[Expression, dict[Name, tuple[int, int]]]]) -> Iterator[Run]:
    start = 0
    for k in range(1, len(seen) + 1):
        if k == len(seen) or seen[k][0] is not seen[start][0]:
            if k - start >= SHORTEST and seen[start][1]:
                yield Run(start, k, *seen[start])
            start = k


def better_in_loops(apart: Program, shared: Program) -> bool:
    """Whether a program is mostly loops, and does not work much out again in them that one without loops has once."""
    inside = sum(r.stop - r.start for r in runs(apart))
    if 2 * inside < len(apart.outputs):
        return False
    return sum(map(cost, apart.outputs.values())) <= MOST_REPEATED * cost(*shared.outputs.values())
