"""What a lesson is made of: steps that are proposed for one integral, lines that are written down, and the value they lead to."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

from gelvo.expression import known as bits
from gelvo.expression.building import total, written
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts


class Change(NamedTuple):
    """A new variable: u = place as a formula of the old one; known: what is known of it."""

    new: Name
    place: Expression
    known: int = bits.REAL

    def __str__(self) -> str:
        return f"{self.new} = {self.place}"


class Step(NamedTuple):
    """One way to begin: the integral is `closed` plus coefficients times the integrals of `parts` (in the new variable, if any).

    before: integrands whose antiderivatives are needed first; conditions: what has to hold.
    """

    rule: str
    closed: Expression = ZERO
    parts: tuple[tuple[Expression, Expression], ...] = ()
    change: Change | None = None
    before: tuple[Expression, ...] = ()
    conditions: tuple[Condition, ...] = ()


class Line(NamedTuple):
    """integral_of(f, x) = right, where right may have written integrals, in the new variable of a change."""

    rule: str
    f: Expression
    x: Name
    right: Expression
    change: Change | None = None
    conditions: tuple[Condition, ...] = ()


class Lesson(NamedTuple):
    """The lines that lead to an antiderivative."""

    value: Expression
    lines: tuple[Line, ...]


class Pupil(NamedTuple):
    """What a rule may look at: the integrand's variable, the facts, and an antiderivative of a simple part by the tables."""

    x: Name
    facts: Facts
    known: Callable[[Expression], Expression | None]

    def free(self, e: Expression) -> bool:
        return not contains(e, self.x)

    def new_name(self, *apart: Expression) -> Name:
        return self.facts.new_name("u", *apart, self.x)


Rule = Callable[[Expression, Pupil], Iterator[Step]]


def integral_of(parts: Iterable[tuple[Expression, Expression]], x: Name) -> Expression:
    """Coefficients times written integrals."""
    return total(c * written("integral_of", g, x) for c, g in parts)
