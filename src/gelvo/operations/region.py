"""The solution of linear inequalities in several unknowns: a region, each unknown between bounds in the others."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from gelvo.checking.certificate import PROVED, Certificate
from gelvo.errors import DomainError
from gelvo.expression.building import number
from gelvo.expression.nodes import Condition, Name, Truth
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.inequalities.linear_inequalities import bounds, follows, read_rows
from gelvo.operations.inputs import take


class Region:
    """All points that satisfy linear inequalities.

    .condition: each unknown between bounds in those named after it; .contains({"x": 1, "y": 2}); .verdict, .road, .certificate().
    """

    def __init__(self, conditions: Sequence[Condition], unknowns: Sequence[Name]) -> None:
        self.inequalities, self.unknowns = tuple(conditions), tuple(unknowns)
        self.condition = bounds(conditions, unknowns)
        self.conditions: tuple[Condition, ...] = ()
        self.complete, self.reason, self.road = True, "", "elimination of one unknown after the other (Fourier and Motzkin)"

    def certificate(self) -> Certificate:
        """Each bound follows from the inequalities, and each inequality from the bounds."""
        claim = f"{'; '.join(map(str, self.inequalities))} where {self.condition}"
        method = "each bound follows from the inequalities, and each of them from the bounds"
        if isinstance(self.condition, Truth):
            return Certificate(claim, PROVED, method)
        given = read_rows(self.inequalities, self.unknowns)
        told = read_rows([self.condition], self.unknowns)
        same = all(follows(r, given) for r in told) and all(follows(r, told) for r in given)
        return Certificate(claim, PROVED if same else "refuted", method)

    check = certificate

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def contains(self, point: Mapping[Any, Any]) -> bool:
        """Whether a point, given by the names of the unknowns, belongs to the region."""
        values = {str(getattr(k, "name", k)): take(v).expressions[0] for k, v in point.items()}
        missing = [u.name for u in self.unknowns if u.name not in values]
        if missing:
            raise DomainError(f"the point has no value for {', '.join(missing)}")
        return Facts().holds(substitute(self.condition, {u: values[u.name] + number(0) for u in self.unknowns})) is True

    def __str__(self) -> str:
        if isinstance(self.condition, Truth):
            return "every point solves" if self.condition.holds else "no solution"
        return str(self.condition)

    __repr__ = __str__

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self.condition)
