"""Help, completion and the page of documents, all made from the rows of the language."""

from __future__ import annotations

import difflib
import re
import textwrap
from collections.abc import Iterable

from gelvo.derivation.openings import opened
from gelvo.derivation.statement import Statement
from gelvo.derivation.statements import FORMULA, STATEMENTS, SUBJECTS
from gelvo.errors import DomainError, GelvoError
from gelvo.reading.pieces import cut

WIDTH = 100
_TAIL = re.compile(r" \[with VALUES\]| \[given FACTS\]")


def overview() -> str:
    """All openings, by subject."""
    blocks = []
    for subject, rows in SUBJECTS.items():
        listed = "   ".join(row.opening.replace(" ", "\N{NO-BREAK SPACE}") for row in rows)
        blocks.append(f"{subject}\n{textwrap.fill(listed, WIDTH, initial_indent='  ', subsequent_indent='  ')}")
    blocks.append(
        "A formula by itself\n  is simplified and shown\nhelp integrate\n  tells of one statement, or of all with that word"
    )
    return "\n".join(blocks).replace("\N{NO-BREAK SPACE}", " ")


def told_of(words: str) -> str:
    """How the statements read that open with some words, what they do, and an example of each; DomainError where there is none.

    >>> print(told_of("jumps"))
    jumps of LAW by t [with VALUES] [given FACTS]
      where a law in sections or its derivatives jump
      jumps of cases(t^2 when t < 2, otherwise 4) by t
    """
    sought = words.replace("_", " ").strip()
    rows = [row for row in STATEMENTS if f"{row.opening} ".startswith(f"{sought} ")]
    rows = rows or [row for row in STATEMENTS if sought and sought in f"{row.opening} {row.does}"]
    if not rows:
        near = difflib.get_close_matches(sought, [row.opening for row in STATEMENTS], n=3)
        hint = f"did you mean {', '.join(near)}?" if near else "without words, help lists them all"
        raise DomainError(f"`{words}` opens no statement: {hint}")
    return "\n".join(
        f"{row.reads}\n  {row.does}\n{textwrap.indent(row.example, '  ')}" for row in sorted(rows, key=lambda row: row.opening)
    )


def continuations(text: str, names: Iterable[str] = ()) -> list[str]:
    """What the last word of an unfinished statement may become: an opening, a clause that is still free, a name that is known.

    >>> continuations("integ")
    ['integrate']
    >>> continuations("integrate k*x by x f", ["k", "force"])
    ['from', 'force']
    """
    inner = re.fullmatch(r"let\s.*?\sbe\s+(.*)", text, re.S)
    if inner is not None:
        return continuations(inner.group(1), names)
    last = "".join(re.findall(r"[^\W\d]\w*$", text))
    head = text.removesuffix(last)
    if not head.strip():
        return sorted(word for word in {row.opening.split()[0] for row in STATEMENTS} | set(names) if word.startswith(last))
    return [word for word in dict.fromkeys([*_free_words(head), *names]) if word.startswith(last)]


def _free_words(head: str) -> list[str]:
    """The clauses that a statement may still get, and the words that may go on opening it."""
    try:
        row, rest = opened(head, lambda name: False)
        used = {part.word for part in cut(rest, row.parts.words)[1:]}
    except GelvoError:
        row, used = FORMULA, set()
    begun = f"{head.strip()} "
    longer = [r.opening.removeprefix(begun).split()[0] for r in STATEMENTS if r.opening.startswith(begun)]
    return [*longer, *[word for word in row.parts.words if word not in used]]


def markdown() -> str:
    """The table of all statements, for documents."""
    lines = []
    for subject, rows in {**SUBJECTS, "By itself": (FORMULA,)}.items():
        lines += [f"### {subject}", "", "| statement | what it gives | example |", "|---|---|---|"]
        lines += [f"| `{_short(row)}` | {row.does} | {_examples(row)} |" for row in rows]
        lines.append("")
    return "\n".join(lines)


def _short(row: Statement) -> str:
    return _escaped(_TAIL.sub("", row.reads))


def _examples(row: Statement) -> str:
    return "<br>".join(f"`{_escaped(line)}`" for line in row.example.splitlines())


def _escaped(text: str) -> str:
    return text.replace("|", "\\|")
