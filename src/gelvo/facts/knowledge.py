"""What a rule about signs may ask of the facts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any, Protocol, Self

from gelvo.expression.nodes import Expression, Name, Node, Sum
from gelvo.facts.linear import Row
from gelvo.facts.statements import Fact


class Knowledge(Protocol):
    """The facts of a call as the rules see them.

    memo: what is known of parts already looked at; table: what facts say of formulas, up to a factor in front; sums: those of the
    table that are sums; summed: the names in them; parities: signs of
    products without squares, once they were asked for; rows: the linear ones as inequalities; busy: what a rule asks about now, so
    that no question waits for its own answer; squared: how many sums with roots were squared for one question.
    """

    memo: dict[Node, int]
    table: dict[Expression, int]
    sums: list[tuple[Sum, int]]
    parities: dict[Expression, int] | None
    summed: set[Name]
    rows: list[Row]
    busy: set[Expression]
    squared: int

    def known(self, expression: Node) -> int:
        """Five bits: what the value may be, by the plain rules."""

    def decide(self, expression: Expression) -> int:
        """The same with a closer look: factors, pairs of terms, equalities."""

    def is_nonzero(self, expression: Expression) -> bool: ...

    def is_nonnegative(self, expression: Expression) -> bool: ...

    def is_nonpositive(self, expression: Expression) -> bool: ...


class Stated(Knowledge, Protocol):
    """Facts that can be exchanged for others: given as they were stated, equalities as pairs, reduction what these
    give once asked for, slack the letters written so that inequalities hold by themselves."""

    given: list[Any]
    equalities: list[tuple[Expression, Expression]]
    reduction: tuple[list[tuple[Name, Expression]], Self] | None
    slack: list[tuple[Name, Expression]] | None

    def new_names(self, stem: str, *roots: Node) -> Iterator[Name]:
        """stem_1, stem_2, …, names that nothing of the call has."""

    def stating(self, given: Iterable[Fact]) -> Self:
        """Other facts of the same call."""
