"""What a target language is: tables of functions and syntax, its words, its one way of writing user text, its files."""

from __future__ import annotations

import string
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple, TypeAlias

from gelvo.code.precision import Precision
from gelvo.code.program import Program
from gelvo.errors import ExportError

_PRINTABLE = set(string.ascii_letters + string.digits + string.punctuation + " ") - set("\\\"'`?")

# what the arithmetic of pairs calls its own, in every language
PAIRS = ("pair", "pair_of", "pair_sum", "pair_product", "pair_scaled", "pair_added", "pair_lost", "pair_multiplied", "pair_divided", "pair_small", "pair_grown", "pair_ratio", "pair_root", "pair_exp", "pair_log", "pair_choice", "pair_sin", "pair_cos", "pair_angle",
         "pair_quarter", "pair_series", "pair_either", "sum_of_products")  # fmt: skip


class Samples(NamedTuple):
    """Points at which a generated test compares, with the right values and the errors allowed there."""

    points: list[list[float]]
    expected: list[list[float]]
    allowed: list[list[float]]


class Commands(NamedTuple):
    """What is run in the folder of the files, in order: the last one of the driver prints the values."""

    driver: list[list[str]]
    test: list[list[str]]


Tables: TypeAlias = tuple[Mapping[str, str], Mapping[str, str]]


@dataclass(frozen=True)
class Target:
    """One language.

    functions, syntax: templates by name; reserved: words that no name of the user may be; modules: further words that the
    generated function itself may not be called; folds: whether capitals do not count; longest: letters of a name; word: how
    a number is written that the driver reads;
    files: (program, name, prose, samples) -> file name -> text; driver: the files of a program that reads points and prints
    values; commands: how that program, and then the generated test, is built and run; single: functions and syntax where numbers
    are of single precision; wide: those of what is worked out in double precision there, where they are others than functions and syntax;
    has_loops: whether outputs that are one formula of neighbours are a loop.
    """

    name: str
    functions: Mapping[str, str]
    syntax: Mapping[str, str]
    reserved: frozenset[str]
    files: Callable[[Program, str, Sequence[str], Samples], dict[str, str]]
    driver: Callable[[Program, str, int], dict[str, str]]
    commands: Callable[[str], Commands]
    modules: frozenset[str] = frozenset()
    single: Tables | None = None
    wide: Tables | None = None
    has_loops: bool = False
    folds: bool = False
    longest: int = 120
    word: Callable[[float], str] = float.hex

    def tables(self, precision: Precision) -> Tables:
        """Functions and syntax for numbers of a precision; ExportError where there are none."""
        if not precision.is_single:
            return self.functions, self.syntax
        if self.single is None:
            raise ExportError(f"{self.name} has no code in single precision: numpy, c, c++ and fortran have")
        return self.single


def harmless(text: str) -> str:
    """User text as data: one line of printable ASCII without quotes, backslashes, backticks and question marks.

    What a target puts into a comment comes through here, so that nothing in it can end a comment, a string or a line. A letter
    outside of ASCII is told by its code point.

    >>> harmless('m/s "quoted" \\n \\\\ \u00b5m')
    'm/s quoted / U+00B5m'
    """
    out = "".join(
        c if c in _PRINTABLE else "/" if c == "\\" else "" if c in "\"'`?" else " " if c.isspace() else f"U+{ord(c):04X}"
        for c in text
    )
    return " ".join(out.split())
