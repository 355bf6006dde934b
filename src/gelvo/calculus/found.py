"""What a method of calculus finds: the one form for antiderivatives, integrals, limits, sums and transforms."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.building import total
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.forms.collecting import terms_of


class Found(NamedTuple):
    """A value (also inf, -inf, undefined), the conditions under which it holds, the method, and the places that were looked at."""

    value: Expression
    conditions: tuple[Condition, ...] = ()
    road: str = ""
    places: tuple[Expression, ...] = ()

    def times(self, factor: Expression) -> Found:
        terms = terms_of(self.value) if factor.is_rational and factor.rational < 0 else [self.value]  # a minus goes into a sum
        return self._replace(value=total([factor * t for t in terms]))

    def plus(self, other: Found) -> Found:
        conditions = tuple(dict.fromkeys((*self.conditions, *other.conditions)))
        return self._replace(value=self.value + other.value, conditions=conditions, road=f"{self.road}; {other.road}")

    def renamed(self, old: Name, new: Name) -> Found:
        table = {old: new}
        return self._replace(value=substitute(self.value, table), conditions=tuple(substitute(c, table) for c in self.conditions))
