"""What a fact is: a domain of a name, a relation, an equation; and what it is about."""

from __future__ import annotations

from typing import NamedTuple, TypeAlias

from gelvo.expression.building import as_condition, number, relation
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Name, Node
from gelvo.expression.traversal import postorder


class DomainFact(NamedTuple):
    """A fact such as `n integer`."""

    name: Name
    domain: str

    def __str__(self) -> str:
        return f"{self.name} {self.domain}"


Fact: TypeAlias = Condition | Equation | DomainFact


def is_about(fact: Fact, name: Name) -> bool:
    """Whether a fact speaks of a name."""
    return any(n is name for n in postorder(root_of(fact)))


def root_of(fact: Fact) -> Node:
    """The formula or condition that a fact is about."""
    if isinstance(fact, DomainFact):
        return fact.name
    return fact.condition if isinstance(fact, Equation) else fact


def fact_condition(fact: Fact) -> Condition | None:
    """A fact as a condition, or None for a domain that no relation expresses."""
    if isinstance(fact, DomainFact):
        zero = number(0)
        table = {
            "positive": fact.name > zero,
            "negative": fact.name < zero,
            "nonnegative": fact.name >= zero,
            "nonzero": relation("!=", fact.name, zero),
        }
        return table.get(fact.domain)
    return fact.condition if isinstance(fact, Equation) else as_condition(fact)
