"""What a theorem says of an integral, and of which question."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.nodes import Expression

Question = tuple[Expression, Expression, Expression]  # integrand, lower end, upper end


class Value(NamedTuple):
    """What an integral is by a theorem, and which."""

    value: Expression
    road: str
