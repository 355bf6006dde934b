"""A text of several formulas cut where words or signs stand outside of brackets and quotes."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from gelvo.reading.messages import CLOSING, OPENING, syntax
from gelvo.reading.parser import parsed
from gelvo.reading.tree import Token

_PARTNERS = dict(zip(OPENING, CLOSING, strict=True))


class Cut(NamedTuple):
    """A separator, the text up to the next one, and the column where that text begins."""

    word: str
    text: str
    column: int


def grouped(text: str) -> tuple[list[Token], list[list[Token]]]:
    """The words and signs outside of brackets, and those in each outer pair, as tokens; FormulaError where brackets do not fit.

    >>> grouped("E by x [from A to B]")[1]
    [[Token('NAME', 'from'), Token('NAME', 'A'), Token('NAME', 'to'), Token('NAME', 'B')]]
    """
    outside: list[Token] = []
    groups: list[list[Token]] = []
    opened: list[str] = []
    for piece in parsed(text, "pieces").children:
        if piece.type == "CLOSED":
            if not opened or _PARTNERS[opened.pop()] != piece:
                raise syntax(text, piece.start_pos, str(piece))
        elif piece.type == "OPENED":
            if not opened:
                groups.append([])
            opened.append(piece)
        else:
            (groups[-1] if opened else outside).append(piece)
    if opened:
        raise syntax(text, len(text), "the end")
    return outside, groups


def cut(text: str, words: Iterable[str]) -> list[Cut]:
    """The text before the first separator, under "", and after each; of two separators at one place the longer is meant.

    >>> [tuple(c) for c in cut("x^2 by x from f(by) to 1", ["by", "from", "to"])]
    [('', 'x^2', 0), ('by', 'x', 7), ('from', 'f(by)', 14), ('to', '1', 23)]
    """
    separators = sorted((word.split() for word in words), key=len, reverse=True)
    tokens, _ = grouped(text)
    spelt = [str(token) for token in tokens]
    found: list[tuple[str, int, int]] = [("", 0, 0)]
    place = 0
    while place < len(tokens):
        start = tokens[place].start_pos
        word = next((w for w in separators if spelt[place : place + len(w)] == w), None)
        if word is None or (start and spelt[place][0].isalpha() and text[start - 1].isalnum()):  # 2by is no `by`
            place += 1
            continue
        place += len(word)
        found.append((" ".join(word), start, tokens[place - 1].end_pos))
    stops = [start for _, start, _ in found[1:]] + [len(text)]
    return [_trimmed(word, text, start, stop) for (word, _, start), stop in zip(found, stops, strict=True)]


def _trimmed(word: str, text: str, start: int, stop: int) -> Cut:
    inner = text[start:stop]
    return Cut(word, inner.strip(), start + len(inner) - len(inner.lstrip()))


def split_commas(text: str) -> list[str]:
    """Text split at the commas that stand outside of brackets and quotes.

    >>> split_commas("a, f(b, c)")
    ['a', 'f(b, c)']
    """
    return [part.text for part in cut(text, [","])] if "," in text else [text.strip()]
