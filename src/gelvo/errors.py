"""Every error that Gelvo raises on purpose: all are `GelvoError`, each says what was found and what is needed."""

from __future__ import annotations

import re

# letters that steer a terminal, turn the direction of reading, or cannot be encoded
STEERING = "[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u2028-\u202e\u2066-\u2069\ud800-\udfff]"


def visible(text: str) -> str:
    r"""Text for a terminal: what would steer it is written as an escape instead.

    >>> visible("a\x1b[31m b")
    'a\\x1b[31m b'
    """
    return re.sub(STEERING, lambda m: m.group().encode("unicode_escape", "surrogatepass").decode("ascii"), text)


class GelvoError(Exception):
    """The root of all errors of this library.

    >>> import gelvo
    >>> try:
    ...     gelvo.integrate("x +", "x")
    ... except gelvo.GelvoError as fault:
    ...     print(type(fault).__name__)
    FormulaError
    """


class FormulaError(GelvoError):
    """A formula text cannot be read: carries the text, the column and a hint.

    >>> import gelvo
    >>> gelvo.formula("x(y + 1)")
    Traceback (most recent call last):
        ...
    gelvo.errors.FormulaError: x(y + 1)
     ^ `x` is a variable, and a name before "(" is a function call.
       Did you mean  x*(y + 1) ?
    """

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
    """A value or an operation lies outside the domain where it means something.

    >>> import gelvo
    >>> gelvo.ln(0)
    Traceback (most recent call last):
        ...
    gelvo.errors.DomainError: ln(0) has no value
    """


class NoClosedForm(GelvoError):
    """No closed form was found, and the caller asked for an error instead of the written form.

    >>> import gelvo
    >>> gelvo.integrate("x^x", "x", otherwise="error")
    Traceback (most recent call last):
        ...
    gelvo.errors.NoClosedForm: x^x has no elementary antiderivative: it would be y*x^x with y' + (1 + ln(x))*y = 1, and no y among the rational functions of x, ln(x) solves that
    """


class NotSolved(GelvoError):
    """No method solved the equations; the message gives the reason.

    >>> import gelvo
    >>> gelvo.solve("x = tan(x)", "x")
    Traceback (most recent call last):
        ...
    gelvo.errors.NotSolved: no closed form was found that solves x - tan(x) = 0 for x: give a range, such as given 0 <= x, x <= 10, and its zeros there are found with proof
    """


class NoSuchSolution(DomainError, IndexError):
    """A solution that is not there was asked for by its number."""


class WrongKind(DomainError, TypeError):
    """A thing of a kind that cannot stand in a formula, or a formula where Python wants something else."""


class Undecided(GelvoError):
    """A question could be answered neither with yes nor with no.

    >>> import gelvo
    >>> gelvo.equal("sum_of(1/k^5, k, 1, inf)", "zeta(5)")
    Traceback (most recent call last):
        ...
    gelvo.errors.Undecided: sum_of(1/k^5, k, 1, inf) and zeta(5) could neither be proved equal nor told apart
    """


class TimeLimitReached(GelvoError):
    """A limit of time that the caller set is over; nothing is left half done.

    >>> import gelvo
    >>> with gelvo.time_limit(0.05):
    ...     gelvo.expand("(a + b + c + d + e + f)^60")
    Traceback (most recent call last):
        ...
    gelvo.errors.TimeLimitReached: stopped: the limit of 0.05 s is over
    """


class CheckFailed(GelvoError):
    """Generated code differs from the right values by more than its bar.

    >>> import gelvo
    >>> raise gelvo.CheckFailed("at x = 1 the error is 12 times its bar")
    Traceback (most recent call last):
        ...
    gelvo.errors.CheckFailed: at x = 1 the error is 12 times its bar
    """


class ExportError(GelvoError):
    """Code or a document cannot be written for this expression.

    >>> import gelvo
    >>> gelvo.numeric_function("1j*x", ["x"])
    Traceback (most recent call last):
        ...
    gelvo.errors.ExportError: the output output_1 is complex, and its real and imaginary parts are not known: code works with real numbers
    """


class InternalFault(GelvoError):
    """Something in this library itself went wrong: the message says so and asks for a report."""

    def __init__(self, cause: BaseException, where: str = "") -> None:
        told = f"{type(cause).__name__}: {cause}".splitlines()[0][:300]
        super().__init__(
            f"internal fault{where}: this is a mistake in Gelvo, not in what you wrote ({told}). Please report it with this text."
        )


def as_gelvo_error(fault: BaseException) -> GelvoError:
    """Any exception as an error of ours: what a person can mend is told plainly, the rest is an internal fault."""
    if isinstance(fault, GelvoError):
        return fault
    if isinstance(fault, MemoryError):
        return DomainError("there is not enough memory for this")
    if isinstance(fault, RecursionError):
        return FormulaError("this is nested too deeply")
    if isinstance(fault, OSError):
        return DomainError(f"{fault.filename or 'a file'}: {fault.strerror or fault}")
    return InternalFault(fault)
