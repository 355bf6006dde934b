"""A derivation file as lines, each a statement."""

from __future__ import annotations

import re
from typing import NamedTuple


class Line(NamedTuple):
    """One statement: its text (continuation lines joined) and the number of its first line."""

    text: str
    number: int


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
