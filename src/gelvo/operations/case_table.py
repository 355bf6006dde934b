"""The whole distinction of cases of solutions with letters, as rows of a table: when, and what the solutions are then."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from html import escape
from typing import Any, NamedTuple, Protocol

from gelvo.expression.building import junction, opposite
from gelvo.expression.nodes import Condition, Expression, Relation, Truth
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import names

DEEPEST = 4
Values = Mapping[Any, Expression]
EVERY, NONE, OPEN = "every value solves", "no solution", "not worked out"


class Distinguished(Protocol):
    """Solutions with what holds for all of them, for each, and where that fails."""

    conditions: tuple[Condition, ...]
    everything: bool
    unknowns: tuple[Expression, ...]

    def __len__(self) -> int: ...
    def __iter__(self) -> Iterator[Values]: ...
    def own_conditions(self, index: int) -> tuple[Condition, ...]: ...
    def conditions_of(self, index: int) -> tuple[Condition, ...]: ...
    def all_special_cases(self) -> Iterator[tuple[Condition, Any]]: ...


class CaseRow(NamedTuple):
    """What holds in a case, and the solutions then; `told` is said where these are all values, none, or not worked out."""

    when: tuple[Condition, ...]
    solutions: tuple[Values, ...]
    told: str = ""

    @property
    def shown(self) -> str:
        """The solutions in one line."""
        return self.told or " or ".join(", ".join(f"{k} = {v}" for k, v in values.items()) for values in self.solutions)


class Row(Protocol):
    """What holds in a case, and what is shown for it."""

    @property
    def when(self) -> tuple[Condition, ...]: ...
    @property
    def shown(self) -> str: ...


class CaseTable(Sequence[Any]):
    """All cases, one a row, with what holds in it and what is shown for it; printed with the conditions on the left."""

    def __init__(self, rows: Sequence[Row], what: str = "solutions") -> None:
        self._rows, self._what = tuple(rows), what

    @property
    def of_matrix(self) -> bool:
        """Whether the rows are results of a matrix."""
        return self._what != "solutions"

    def __len__(self) -> int:
        return len(self._rows)

    def __getitem__(self, index: Any) -> Any:
        return self._rows[index]

    def __str__(self) -> str:
        lines = [(_when(row), row.shown) for row in self._rows]
        width = max((len(left) for left, _ in lines), default=0)
        return "\n".join(f"{left.ljust(width)}   {right}" for left, right in lines)

    __repr__ = __str__

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        rows = "".join(f"<tr><td>{escape(_when(r))}</td><td>{escape(r.shown)}</td></tr>" for r in self._rows)
        if self.of_matrix:
            return Hooks.show(self)
        return {"text/plain": str(self), "text/html": f"<table><tr><th>where</th><th>{self._what}</th></tr>{rows}</table>"}


def _when(row: Row) -> str:
    return ", ".join(map(str, row.when)) or "always"


def case_table(solutions: Distinguished) -> CaseTable:
    """The cases of solutions and, where a condition on the letters fails, those of the equations there."""
    return CaseTable(list(_rows(solutions, (), 0)))


def _rows(solutions: Distinguished, assumed: tuple[Condition, ...], depth: int) -> Iterator[CaseRow]:
    if any(isinstance(c, Truth) and not c.holds for c in (*assumed, *solutions.conditions)):
        return
    common = tuple(solutions.conditions_of(0)[: len(solutions.conditions)]) if len(solutions) else solutions.conditions
    if solutions.everything:
        yield CaseRow((*assumed, *common), (), EVERY)
        if common and not any(u in names(c) for c in common for u in solutions.unknowns if isinstance(u, Expression)):
            yield CaseRow((*assumed, _fails(common)), (), NONE)
        return
    if not len(solutions):
        yield CaseRow((*assumed, *common), (), NONE)
    groups: dict[tuple[Condition, ...], list[Values]] = {}
    for place, values in enumerate(solutions):
        groups.setdefault(solutions.own_conditions(place), []).append(values)
    for own, found in groups.items():
        yield CaseRow((*assumed, *common, *own), tuple(found))
    yield from _without_solutions(assumed, common, list(groups))
    for condition, then in solutions.all_special_cases() if depth < DEEPEST else ():
        if then is None:
            yield CaseRow((*assumed, condition), (), OPEN)
        else:
            yield from _rows(then, (*assumed, condition), depth + 1)


def _without_solutions(
    assumed: tuple[Condition, ...], common: tuple[Condition, ...], groups: Sequence[tuple[Condition, ...]]
) -> Iterator[CaseRow]:  # fmt: skip
    """Where what all solutions need fails, but for p != 0, which is a case of its own; or what the one group of them needs."""
    necessary = [c for c in common if isinstance(c, Relation) and c.operator != "!="]
    if groups and necessary:
        yield CaseRow((*assumed, _fails(necessary)), (), NONE)
    if len(groups) == 1 and all(groups):
        yield CaseRow((*assumed, *common, _fails(groups[0])), (), NONE)


def _fails(conditions: Sequence[Condition]) -> Condition:
    return opposite(junction("and", list(conditions)) if len(conditions) > 1 else conditions[0])
