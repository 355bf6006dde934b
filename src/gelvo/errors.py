"""Every error that Gelvo raises on purpose: all are `GelvoError`, each says what was found and what is needed."""

from __future__ import annotations


class GelvoError(Exception):
    """The root of all errors of this library."""


class FormulaError(GelvoError):
    """A formula text cannot be read: carries the text, the column and a hint."""

    def __init__(self, message: str, text: str = "", column: int = 0, hint: str = "") -> None:
        self.message, self.text, self.column, self.hint = message, text, column, hint
        super().__init__(self.render())

    def render(self) -> str:
        """The message under the text, with a caret below the place."""
        if not self.text:
            return self.message + (f"\n   {self.hint}" if self.hint else "")
        before, line = _line_of(self.text, self.column)
        start = max(0, before - 60)
        shown, caret = line[start : start + 76], before - start
        lines = [shown, " " * caret + "^ " + self.message]
        if self.hint:
            lines.append(" " * caret + "  " + self.hint)
        return "\n".join(lines)


def _line_of(text: str, column: int) -> tuple[int, str]:
    start = text.rfind("\n", 0, column) + 1
    end = text.find("\n", start)
    return column - start, text[start : end if end >= 0 else len(text)]


class DomainError(GelvoError):
    """A value or an operation lies outside the domain where it means something."""


class NoClosedForm(GelvoError):
    """No closed form was found, and the caller asked for an error instead of the written form."""


class NotSolved(GelvoError):
    """No method solved the equations; the message gives the reason."""


class Undecided(GelvoError):
    """A question could be answered neither with yes nor with no."""


class TimeLimitReached(GelvoError):
    """A limit of time that the caller set is over; nothing is left half done."""


class CheckFailed(GelvoError):
    """Generated code differs from the right values by more than its bar."""


class ExportError(GelvoError):
    """Code or a document cannot be written for this expression."""
