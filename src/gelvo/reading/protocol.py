"""The small protocol by which the operations reach the reader, so that the core stays free of text."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any


class Reader:
    """Called with text, it reads a formula; its methods give contexts and facts."""

    def __call__(self, text: str, context: Any = None) -> Any:
        from gelvo.reading.reader import read

        return read(text, context)

    def context(self, *formulas: Any) -> Any:
        from gelvo.reading.context import Context

        return Context.of(*formulas)

    def declare(self, context: Any, facts: Iterable[Any], variables: Iterable[str] = ()) -> None:
        from gelvo.reading.stated import declare

        declare(context, facts, variables)

    def variable(self, text: str, context: Any) -> Any:
        from gelvo.reading.stated import read_variable

        return read_variable(text, context)

    def facts(self, given: Iterable[Any], context: Any, asked: bool = False) -> list[Any]:
        from gelvo.reading.stated import read_facts

        return read_facts(given, context, asked)

    def names_a_function(self, name: str) -> bool:
        from gelvo.reading.messages import names_a_function

        return names_a_function(name)

    def plain_name(self, text: str) -> str:
        from gelvo.reading.words import plain_name

        return plain_name(text)
