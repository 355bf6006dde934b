"""What a theorem says of an integral, and of which question."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from gelvo.expression.nodes import Expression, Name
from gelvo.facts.store import Facts

Question = tuple[Expression, Expression, Expression]  # integrand, lower end, upper end


class Value(NamedTuple):
    """What an integral is by a theorem, and which."""

    value: Expression
    road: str


Theorem = Callable[[Question, Name, Facts], Iterator[Value]]
