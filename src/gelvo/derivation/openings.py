"""Which row of the language a text belongs to, by the words that open it."""

from __future__ import annotations

import difflib
import re
from collections.abc import Callable

from gelvo.derivation.statement import Statement
from gelvo.derivation.statements import BY_FIRST_WORD, FORMULA
from gelvo.errors import FormulaError
from gelvo.expression.registry import FUNCTIONS
from gelvo.reading.words import GREEK

_GOES_ON_AS_FORMULA = re.compile(r"\s*[=+*/^]")


def opened(text: str, means_something: Callable[[str], bool]) -> tuple[Statement, str]:
    """The row of a statement and what follows its opening words; a formula opens none.

    means_something: whether a name is declared, defined, or of fixed meaning.
    """
    word = re.match(r"[^\W\d_]*", text)
    rows = BY_FIRST_WORD.get(word.group() if word else "", ())
    for row in rows:
        match = re.match(row.opening.replace(" ", r"(?:_|\s+)") + r"(?=\s|$)", text)
        if match and not _is_formula(row.opening, text[match.end() :], means_something):
            return row, text[match.end() :].strip()
    if rows and re.match(r"\w+\s+[^\W_]", text):
        listed = "\n".join(f"  {row.reads}" for row in sorted(rows, key=lambda row: row.opening))
        raise FormulaError(f"what `{rows[0].opening.split()[0]}` opens reads\n{listed}", text, 0)
    _refuse_unknown(text, means_something)
    return FORMULA, text


def _is_formula(word: str, rest: str, means_something: Callable[[str], bool]) -> bool:
    """`value = 3` or `sum + 1` use the word as a name, and so does the word alone where it stands for something."""
    return bool(_GOES_ON_AS_FORMULA.match(rest)) or (not rest.strip() and means_something(word))


def _refuse_unknown(text: str, means_something: Callable[[str], bool]) -> None:
    """`plott E for x …` and `show E` open no statement: a word before a word is no formula either."""
    match = re.match(r"([a-z]{3,})\s+[^\W_]", text)
    if not match or match.group(1) in (*FUNCTIONS, *GREEK.values()) or means_something(match.group(1)):
        return
    near = difflib.get_close_matches(match.group(1), BY_FIRST_WORD, n=1)
    hint = f"Did you mean  {near[0]} … ?" if near else f"A formula is shown where it stands by itself:  {text[match.end() - 1 :]}"
    raise FormulaError(f"`{match.group(1)}` opens no statement", text, 0, hint)
