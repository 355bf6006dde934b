"""Carries out the statements of a derivation one after the other; a faulty line is reported, the rest goes on."""

from __future__ import annotations

import re
from collections.abc import Callable

from gelvo import library  # noqa: F401  (puts the hooks in place)
from gelvo.derivation.lines import Line, statements
from gelvo.derivation.openings import opened
from gelvo.derivation.report import plain_lines
from gelvo.derivation.results import Result, fault_of
from gelvo.derivation.said import Said
from gelvo.derivation.state import State
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.writing import written
from gelvo.reading.words import plain_name

_DEFINED = re.compile(r"^(?:let|unknown)\s+([^\W\d]\w*)\s*(?:\(|be\b|$)")


class Derivation(State):
    """A file that is carried out, statement by statement."""

    def run(self, source: str, progress: Callable[[int, int, str], None] | None = None) -> list[Result]:
        """All statements of a file; faults become results of kind `fault`."""
        lines = statements(source)
        for k, line in enumerate(lines):
            if progress is not None:
                progress(k, len(lines), line.text)
            self.results.append(self.safely(line))
        return self.results

    def safely(self, line: Line) -> Result:
        """One statement; whatever goes wrong is told in the result, and the state is what it was before the line."""
        facts, before = list(self.facts), self.copied()
        try:
            result = self.statement(line)
            self.note_unit(result)
            plain_lines(result)  # what cannot be shown is a fault of its line, not of the report
            return result
        except Exception as fault:
            self.facts[:] = facts
            for name, table in self.tables().items():
                table.clear()
                table.update(before[name])
            self.remember_failure(line)
            return fault_of(fault, line.text, line.number)

    def remember_failure(self, line: Line) -> None:
        """A name that a faulty line was to define stands for nothing from here on, also not for what it was before."""
        for name in _DEFINED.findall(line.text)[:1]:
            self.failed[plain_name(name)] = f"`{name}` is not defined: its definition in line {line.number} is faulty"

    def statement(self, line: Line) -> Result:
        """One statement; raises GelvoError."""
        self.modes = set()
        how = self.writing_of(line.text)
        with written(how):
            result = self._line(line)
        result.writing = how
        if {"numbers", "quantities"} <= self.modes:
            raise DomainError(
                "numbers with a unit and formulas of letters with stated units meet in this statement in a way that is not looked at: put the "
                "numbers in with `with NAME = …`"
            )
        return result

    def _line(self, line: Line) -> Result:
        if line.text.startswith(">"):
            return Result("prose", line.text[1:].strip(), line.number)
        return self.carried_out(line.text, line)

    def carried_out(self, text: str, line: Line, defining: bool = False) -> Result:
        """A statement, or one that stands in a definition."""
        row, rest = opened(text, self.stands_for_something)
        if defining and row.whole:
            raise FormulaError(f"`{row.opening}` gives nothing that a name could stand for", line.text, line.text.find(text))
        return row.work(Said(self, row, row.cut(rest, line.text), text, line, defining))
