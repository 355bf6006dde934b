"""What a step of solving may ask of the solver that tries it."""

from __future__ import annotations

from collections.abc import MutableMapping
from typing import Protocol

from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.facts.store import Facts
from gelvo.solving.roots import Root


class Work(Protocol):
    """One unknown, the facts, whether only real values count; and what the steps note on the way.

    conditions: of all solutions; further: solutions that are not listed; roads: what was done; taken: formulas whose names are
    taken; implied: whether some step was an implication only, so that candidates must be put back; lost: why there may be
    solutions beside those found; squared: whether such a step may have made an identity of what is none;
    nested: whether the unknown stands for a part of an equation; formulas_only: whether zeros without a formula are not looked for.
    """

    unknown: Name
    facts: Facts
    real: bool
    formulas_only: bool
    conditions: dict[Condition, None]
    further: int
    taken: list[Expression]
    implied: bool
    squared: bool
    nested: bool
    lost: dict[str, None]

    @property
    def roads(self) -> MutableMapping[str, None]: ...

    def solve(self, g: Expression, depth: int = 0) -> list[Root]:
        """The roots of g = 0."""

    def inner(self, g: Expression, u: Name, depth: int, there: Expression | None = None) -> list[Root]:
        """The roots of g = 0 for a new unknown u, which stands for `there`; of a region the unknown of this one."""

    def beside(self, g: Expression, facts: Facts) -> tuple[list[Condition], list[Root]]:
        """What is needed, and all roots of another formula of the same unknown under facts; NotSolved where some may be missing."""

    def need(self, condition: Condition) -> None:
        """Notes a condition of all solutions."""

    def condition(self, condition: Condition) -> tuple[Condition, ...] | None:
        """() where it follows, the condition where it is open, None where it cannot hold."""

    def free_integer(self, *formulas: Expression) -> Name:
        """A name for any integer."""
