"""Long lines of code folded behind operators and commas, for languages in which a line may end there."""

from __future__ import annotations

import re
from collections.abc import Iterable

WIDTH, LEAST = 100, 40
MARKS = (" + ", " - ", " && ", " || ", ", ", "*", "/")  # in the order of preference


def folded(line: str, width: int = WIDTH) -> list[str]:
    """One line as several of a width at most, where it has places to fold; further ones stand deeper.

    >>> folded("    value = alpha + beta*gamma;", 24)
    ['    value = alpha +', '        beta*gamma;']
    """
    inner = line[: len(line) - len(line.lstrip())] + "    "
    lines: list[str] = []
    rest = line
    while len(rest) > width:
        cut = _place(rest, width)
        if cut is None:
            break
        lines.append(rest[:cut].rstrip())
        rest = inner + rest[cut:].lstrip()
    return [*lines, rest]


def _place(text: str, width: int) -> int | None:
    """Behind which letter a line is folded: the last good place before the width that leaves something of the line."""
    start = len(text) - len(text.lstrip())
    least = min(start + LEAST, width * 2 // 3)
    for marks in (MARKS[:5], MARKS[5:]):
        cuts = [text.rfind(mark, least, width) + len(mark.rstrip()) for mark in marks if text.rfind(mark, least, width) >= 0]
        if cuts:
            return max(cuts)
    return None


def all_folded(lines: Iterable[str], width: int = WIDTH) -> list[str]:
    """The lines of a file; comments are left as they are."""
    return [part for text in lines for line in text.split("\n") for part in (_kept(line) or folded(line, width))]


def _kept(line: str) -> list[str]:
    return [line] if line.lstrip().startswith(("/*", "* ", "//", "#")) else []


def python_folded(line: str, width: int = WIDTH) -> list[str]:
    """A statement of Python: what is assigned or returned in parentheses, anything else inside those it has.

    >>> python_folded("    value = alpha + beta*gamma", 28)
    ['    value = (', '        alpha + beta*gamma', '    )']
    """
    if len(line) <= width:
        return [line]
    pad = line[: len(line) - len(line.lstrip())]
    found = re.match(r"\s*(\w+ =|return) ", line)
    if not found:
        return folded(line, width)
    first, *further = folded(f"{pad}    {line[found.end() :]}", width)
    return [f"{found.group()}(", first, *[f"{pad}    {line.lstrip()}" for line in further], f"{pad})"]
