"""The parser that is made from the grammar, loaded at first use, and what is said where it stops."""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module
from types import ModuleType
from typing import Protocol

from gelvo.deadline import foreign
from gelvo.reading import messages
from gelvo.reading.tree import Tree


class _Parser(Protocol):
    def parse(self, text: str, start: str) -> Tree: ...


@lru_cache(maxsize=1)
def _parser() -> tuple[ModuleType, _Parser]:
    try:
        module = import_module("gelvo.reading._formula_parser")
    except ImportError:  # made when the package is built; here on first use
        from gelvo.reading import generate  # noqa: PLC0415  (needs packages that reading does not)

        generate.write()
        module = import_module("gelvo.reading._formula_parser")
    return module, module.Lark_StandAlone()


def parsed(text: str, start: str) -> Tree:
    """The tree of a text by one of the grammar's `STARTS`; FormulaError where the grammar stops."""
    module, parser = _parser()
    try:
        with foreign():
            return parser.parse(text, start=start)
    except module.UnexpectedCharacters as fault:
        raise messages.syntax(text, fault.pos_in_stream, text[fault.pos_in_stream]) from None
    except module.UnexpectedToken as fault:
        at_end = fault.token.type == "$END"
        column = len(text) if at_end else fault.token.start_pos
        raise messages.syntax(text, column, "the end" if at_end else str(fault.token)) from None
