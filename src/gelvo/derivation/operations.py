"""A statement of an operation: its opening words found in the table of statements; a bare formula is simplified."""

from __future__ import annotations

import difflib
import re
from typing import TYPE_CHECKING

from gelvo.derivation.lines import OPENINGS, Clauses, Line, clauses
from gelvo.derivation.results import Result
from gelvo.derivation.statements import STATEMENTS
from gelvo.derivation.statements.parts import answered, put_in, refuse
from gelvo.errors import FormulaError
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.registry import FUNCTIONS
from gelvo.matrices.matrix import Matrix
from gelvo.operations import rewriting
from gelvo.operations.solutions import Solutions, SolutionSet
from gelvo.reading.words import GREEK

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def operation(derivation: State, text: str, line: Line, defining: bool = False) -> Result:
    """A statement that opens with the words of an operation; a bare expression is simplified."""
    for words, handler in STATEMENTS.items():
        match = re.match(words.replace(" ", r"[ _]") + r"(?=\s|$)", text)
        if match and not _is_formula_after(text[match.end() :]):
            return handler(derivation, clauses(text[match.end() :].strip()), line)
    return _bare(derivation, clauses(text), line, defining)


def _is_formula_after(rest: str) -> bool:
    """`value = 3` or `sum + 1` use the word as a name."""
    return bool(re.match(r"\s*(=|\+|-\s|\*|/|\^|$)", rest)) and not rest.strip().startswith("-")


def _refuse_unknown_opening(derivation: State, text: str) -> None:
    """`plott E for x …` and `show E` open no statement: a word before a word is no formula either."""
    match = re.match(r"([a-z]{3,})\s+[^\W_]", text)
    if not match or match.group(1) in (*FUNCTIONS, *GREEK.values()) or derivation.stands_for_something(match.group(1)):
        return
    near = difflib.get_close_matches(match.group(1), {words.split()[0] for words in [*STATEMENTS, *OPENINGS]}, n=1)
    hint = f"Did you mean  {near[0]} … ?" if near else f"A formula is shown where it stands by itself:  {text[match.end() - 1 :]}"
    raise FormulaError(f"`{match.group(1)}` opens no statement", text, 0, hint)


def _bare(derivation: State, parts: Clauses, line: Line, defining: bool) -> Result:
    _refuse_unknown_opening(derivation, parts.head)
    refuse(parts, "with", "given")
    if not defining:
        derivation.known(parts.head, *[n.name for n in derivation.values(parts.get("with"))])
    value = derivation.read(parts.head)
    value = put_in(derivation, getattr(value, "expression", value), parts)
    if (
        isinstance(value, (Equation, Condition, Solutions, SolutionSet))
        or defining
        or not isinstance(value, (Expression, Matrix))
    ):
        return Result("step", line.text, line.number, [("", value)])
    given = derivation.given(parts.get("given"), parts.head)
    return answered(value, lambda e: rewriting.simplify(e, given, steps=derivation.steps), line)
