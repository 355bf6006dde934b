"""What the normal form makes of each function: rules that register themselves under the function's name."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple, Protocol

from gelvo.expression.nodes import Expression
from gelvo.facts.store import Facts


class Work(Protocol):
    """What a rule may ask: the facts, and the normal form of what it made of its arguments."""

    facts: Facts

    def prepared(self, expression: Expression, waves: bool = True) -> Expression:
        """The normal form of a further formula; `waves` turns sine and cosine into exponentials."""

    def power(self, base: Expression, exponent: Expression) -> Expression:
        """The normal form of base^exponent, where both are in normal form already."""


Made = Callable[..., Expression]  # (work, *arguments): the arguments in lowest terms


class Rule(NamedTuple):
    """What is made of a function, and whether only where waves become exponentials."""

    work: Made
    circular: bool


RULES: dict[str, Rule] = {}


def rule(*functions: str, circular: bool = False) -> Callable[[Made], Made]:
    """Registers what the normal form makes of functions of the catalogue."""

    def enter(made: Made) -> Made:
        RULES.update(dict.fromkeys(functions, Rule(made, circular)))
        return made

    return enter
