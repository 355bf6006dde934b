"""What a method of calculus finds: the one form for antiderivatives, integrals, limits, sums and transforms."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from gelvo.expression.building import total
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import substitute


class Found(NamedTuple):
    """A value (also inf, -inf, undefined), the conditions under which it holds, the method, and the places that were looked at."""

    value: Expression
    conditions: tuple[Condition, ...] = ()
    road: str = ""
    places: tuple[Expression, ...] = ()

    def times(self, factor: Expression) -> Found:
        return self._replace(value=factor * self.value)

    def plus(self, other: Found) -> Found:
        conditions = tuple(dict.fromkeys((*self.conditions, *other.conditions)))
        return self._replace(
            value=self.value + other.value, conditions=conditions, road="; ".join(r for r in (self.road, other.road) if r)
        )

    def renamed(self, old: Name, new: Name) -> Found:
        table = {old: new}
        return self._replace(value=substitute(self.value, table), conditions=tuple(substitute(c, table) for c in self.conditions))


def summed(parts: Sequence[Found]) -> Found:
    """The sum of parts, under the conditions and by the roads of all of them."""
    conditions = dict.fromkeys(c for part in parts for c in part.conditions)
    roads = dict.fromkeys(part.road for part in parts)
    return Found(total([part.value for part in parts]), tuple(conditions), "; ".join(roads))
