"""What a family of equal forms is: a function from a formula and the facts to named candidates."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.expression.nodes import Expression
from gelvo.facts.store import Facts

Shorter = Callable[[Expression, Facts], Expression]  # the search itself, for what a family made of some parts
Family = Callable[[Expression, Facts, Shorter], Iterator[tuple[str, Expression]]]
