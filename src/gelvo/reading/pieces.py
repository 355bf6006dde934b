"""A text of several formulas cut where words or signs stand outside of brackets and quotes."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, NamedTuple

from gelvo.reading.parser import parsed


class Cut(NamedTuple):
    """A separator, the text up to the next one, and the column where that text begins."""

    word: str
    text: str
    column: int


def top_level(text: str) -> list[Any]:
    """The words and signs outside of brackets, as tokens that know their place; FormulaError where brackets do not fit."""
    return [piece for piece in parsed(text, "pieces").children if hasattr(piece, "type")]


def cut(text: str, words: Iterable[str]) -> list[Cut]:
    """The text before the first separator, under "", and after each; of two separators at one place the longer is meant.

    >>> [tuple(c) for c in cut("x^2 by x from f(by) to 1", ["by", "from", "to"])]
    [('', 'x^2', 0), ('by', 'x', 7), ('from', 'f(by)', 14), ('to', '1', 23)]
    """
    separators = sorted((word.split() for word in words), key=len, reverse=True)
    tokens = top_level(text)
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
