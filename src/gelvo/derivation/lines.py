"""A derivation file as statements, and a statement as its clauses."""

from __future__ import annotations

import re
from typing import NamedTuple

OPENINGS = ("title", "section", "given", "unknown", "let")
CLAUSES = ("be", "by", "for", "from", "to", "with", "given", "taking", "over", "as", "where")
_WORD = re.compile(r"[^\W\d]\w*")


class Line(NamedTuple):
    """One statement: its text (continuation lines joined) and the number of its first line."""

    text: str
    number: int


class Clauses(NamedTuple):
    """The head of a statement and its clauses in order, each with the column where its text begins."""

    head: str
    parts: tuple[tuple[str, str, int], ...]

    def get(self, word: str) -> str | None:
        found = [text for name, text, _ in self.parts if name == word]
        return ", ".join(found) if found else None


def statements(source: str) -> list[Line]:
    """Lines with comments removed and indented ones joined to the one before."""
    result: list[Line] = []
    # only the line ends that every editor shows: no statement hides behind a comment
    for number, raw in enumerate(re.split(r"\r\n|\r|\n", source.removeprefix("\ufeff")), start=1):
        text = _without_comment(raw).rstrip()
        if not text.strip():
            if result and raw.strip() == "" and result[-1].text.startswith(">"):
                result.append(Line("", number))
            continue
        if raw[:1].isspace() and result and result[-1].text and not result[-1].text.startswith(">"):
            last = result.pop()
            result.append(Line(f"{last.text} {text.strip()}", last.number))
        else:
            result.append(Line(text.strip(), number))
    return [line for line in result if line.text]


def _without_comment(raw: str) -> str:
    if raw.lstrip().startswith(">"):
        return raw
    quoted = False
    for place, letter in enumerate(raw):
        if letter == '"':
            quoted = not quoted
        elif letter == "#" and not quoted:
            return raw[:place]
    return raw


def clauses(text: str, words: tuple[str, ...] = CLAUSES) -> Clauses:
    """The text split at the reserved words that stand outside parentheses, braces and quotes.

    >>> clauses("x^2 by x from 0 to 1").parts
    (('by', 'x', 7), ('from', '0', 14), ('to', '1', 19))
    """
    level, quoted, place = 0, False, 0
    cuts: list[tuple[str, int, int]] = []
    while place < len(text):
        letter = text[place]
        if letter == '"':
            quoted = not quoted
        elif letter in "([{":
            level += 1
        elif letter in ")]}":
            level -= 1
        elif level <= 0 and not quoted and (letter.isalpha() or letter == "_"):
            match = _WORD.match(text, place)
            assert match is not None
            word = match.group()
            if word in words and (place == 0 or not text[place - 1].isalnum()):
                cuts.append((word, place, match.end()))
            place = match.end()
            continue
        place += 1
    head = text[: cuts[0][1]] if cuts else text
    parts = []
    for k, (word, _, start) in enumerate(cuts):
        stop = cuts[k + 1][1] if k + 1 < len(cuts) else len(text)
        inner = text[start:stop]
        offset = start + len(inner) - len(inner.lstrip())
        parts.append((word, inner.strip(), offset))
    return Clauses(head.strip(), tuple(parts))
