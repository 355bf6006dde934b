"""The small protocol by which the operations reach the reader, so that the core stays free of text."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from gelvo.expression.nodes import Node


class Reader:
    """Called with text, it reads a formula; its methods give contexts and facts."""

    def __call__(self, text: str, context: Any = None) -> Any:
        from gelvo.reading.reader import read

        return read(text, context)

    def context(self, *formulas: Any) -> Any:
        from gelvo.reading.reader import Context

        return Context.of(*[f for f in formulas if isinstance(f, Node) or hasattr(f, "left") or hasattr(f, "expression")])

    def facts(self, given: Iterable[Any], context: Any) -> list[Any]:
        from gelvo.reading.reader import read_facts

        return read_facts(given, context)

    def plain_name(self, text: str) -> str:
        from gelvo.reading.words import plain_name

        return plain_name(text)
