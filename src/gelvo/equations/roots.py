"""What solving one equation gives: roots with conditions, free integers, and whether these are all."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.nodes import Condition, Expression, Name


class Root(NamedTuple):
    """One solution: its value, the conditions on the other names, the free integers of a family."""

    value: Expression
    conditions: tuple[Condition, ...] = ()
    families: tuple[Name, ...] = ()


class Roots(NamedTuple):
    """All solutions found; `everything` where every value solves; `excluded` candidates with the reason."""

    found: tuple[Root, ...]
    conditions: tuple[Condition, ...] = ()
    excluded: tuple[tuple[Expression, str], ...] = ()
    everything: bool = False
    further: int = 0
    road: str = ""
