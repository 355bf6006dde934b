"""What the rules of reading see of the parse tree, and what they make of its nodes."""

from __future__ import annotations

from typing import Any, Protocol, TypeAlias

from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression
from gelvo.matrices.matrix import Matrix


class Tree(Protocol):
    """A node of the parse tree."""

    data: str
    children: list[Any]
    meta: Any


class Token(Protocol):
    """A word or sign of a text, which is its text too; what kind it is, and where it begins and ends."""

    type: str
    start_pos: int
    end_pos: int


Value: TypeAlias = Expression | Matrix
Claim: TypeAlias = Condition | Equation
Read: TypeAlias = Value | Claim  # what a text can be
Values: TypeAlias = list[Any]  # of the children of a node: values, and tokens as they stand in the text
