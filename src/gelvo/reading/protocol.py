"""The small protocol by which the operations reach the reader, so that the core stays free of text."""

from __future__ import annotations

from collections.abc import Iterable

from gelvo.facts.statements import Fact
from gelvo.reading.context import Context
from gelvo.reading.messages import names_a_function
from gelvo.reading.reader import read
from gelvo.reading.stated import declare, read_facts, read_variable
from gelvo.reading.tree import Read
from gelvo.reading.words import plain_name


class Reader:
    """Called with text, it reads a formula; its methods give contexts and facts."""

    def __call__(self, text: str, context: Context | None = None) -> Read:
        return read(text, context)

    def context(self, *formulas: object) -> Context:
        return Context.of(*formulas)

    def declare(self, context: Context, facts: Iterable[str | Fact], variables: Iterable[str] = ()) -> None:
        declare(context, facts, variables)

    def variable(self, text: str, context: Context) -> Read:
        return read_variable(text, context)

    def facts(self, given: Iterable[str | Fact], context: Context, asked: bool = False) -> list[Fact]:
        return read_facts(given, context, asked)

    def names_a_function(self, name: str) -> bool:
        return names_a_function(name)

    def plain_name(self, text: str) -> str:
        return plain_name(text)
