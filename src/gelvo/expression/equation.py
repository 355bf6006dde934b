"""An equation: two sides, with the conditions under which the text as written has a value. It is no node."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TypeVar, cast

from gelvo.errors import WrongKind
from gelvo.expression.nodes import Condition, Expression, Node
from gelvo.expression.registry import Hooks

V = TypeVar("V")


class Equation:
    """left = right, with the conditions under which the text as written has a value.

    Two equations are equal when their sides and conditions are; an equation is never a Python truth value.
    """

    __slots__ = ("conditions", "left", "right")

    def __init__(self, left: Expression, right: Expression, conditions: Iterable[Condition] = ()) -> None:
        self.left, self.right, self.conditions = left, right, tuple(conditions)

    def __bool__(self) -> bool:
        raise WrongKind(
            f"the equation {self} is not a Python truth value. Use equal(left, right) to ask whether both sides are "
            "the same, check(equation) for a certificate, or solve(equation, unknown)."
        )

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Equation):
            return NotImplemented
        mine, theirs = (self.left, self.right, self.conditions), (other.left, other.right, other.conditions)
        return all(a is b for a, b in zip(mine[:2], theirs[:2], strict=True)) and mine[2] == theirs[2]

    def __hash__(self) -> int:
        return hash(("Equation", self.left, self.right, self.conditions))

    @property
    def difference(self) -> Expression:
        return self.left - self.right

    @property
    def condition(self) -> Condition:
        """The same statement as a condition."""
        return Hooks.build.relation("=", self.left, self.right)

    def map(self, work: Callable[[Node], Node]) -> Equation:
        """The same done to both sides and to the conditions."""
        left, right, *conditions = [work(part) for part in (self.left, self.right, *self.conditions)]
        return Equation(cast(Expression, left), cast(Expression, right), cast(list[Condition], conditions))

    def __str__(self) -> str:
        return f"{self.left} = {self.right}"

    def __repr__(self) -> str:
        return str(self)

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


def in_each(thing: V, work: Callable[[Node], Node]) -> V:
    """The same done to a formula or a condition; to the parts of an equation, to the entries of a matrix."""
    if isinstance(thing, Node):
        return cast(V, work(thing))
    parts_mapped = getattr(thing, "map", None)
    return thing if parts_mapped is None else cast(V, parts_mapped(work))
