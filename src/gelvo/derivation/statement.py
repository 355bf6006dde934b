"""A statement of derivations is one row: the words that open it, its shape, its work, an example, and what it does in a phrase.

How a text is cut, what is said of a faulty one, help, completion and the docs page are all made from the rows.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

from gelvo.errors import FormulaError
from gelvo.reading.pieces import Cut, cut, grouped
from gelvo.reading.tree import Token

if TYPE_CHECKING:
    from gelvo.derivation.results import Result

# words that open a clause of some statement; where a row has no such clause they are told, never taken for a part of a formula
CLAUSES = ("be", "by", "for", "from", "to", "with", "given", "taking", "over", "as", "where")


class Shape(NamedTuple):
    """What a shape such as `E by x [from A to B]` asks for: a head or none, words that must stand, words that go together."""

    head: bool
    needed: tuple[str, ...]
    together: tuple[tuple[str, ...], ...]

    @property
    def words(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys([*self.needed, *[word for group in self.together for word in group]]))


def shape_of(text: str) -> Shape:
    """A shape from its text: words have two or more small letters, all else stands for what the user writes; brackets may be left out.

    >>> shape_of("E about x = A [through power N]")
    Shape(head=True, needed=('about',), together=(('through power',),))
    """
    needed, groups = grouped(text)
    head = bool(needed) and not _is_word(needed[0])
    return Shape(head, _words(needed), tuple(_words(group) for group in groups))


def _is_word(piece: Token) -> bool:
    spelt = str(piece)
    return piece.type == "ARROW" or (len(spelt) > 1 and spelt.isalpha() and spelt.islower())


def _words(pieces: list[Token]) -> tuple[str, ...]:
    """The words among pieces; neighbours are one."""
    found: list[list[str]] = [[]]
    for piece in pieces:
        if _is_word(piece):
            found[-1].append(str(piece))
        elif found[-1]:
            found.append([])
    return tuple(" ".join(words) for words in found if words)


@dataclass(frozen=True)
class Statement:
    """One row of the language.

    opening: the words that open it; shape: what follows (see `shape_of`; `of` behind the opening may be left out, or put in);
    work: carries out what is `Said`; example: lines that run, of which the last shows the statement; does: a phrase for help and
    documents; whole: whether what follows is taken as it stands, but for the words of the shape itself.
    """

    opening: str
    shape: str
    work: Callable[..., Result]
    example: str
    does: str
    whole: bool = False

    @property
    def reads(self) -> str:
        """How the whole statement reads.

        >>> Statement("roots", "of E for x from A to B", print, "", "").reads
        'roots of E for x from A to B'
        """
        return f"{self.opening} {self.shape}".strip()

    @property
    def shown(self) -> str:
        """The line of the example that shows the statement."""
        return self.example.splitlines()[-1]

    @cached_property
    def parts(self) -> Shape:
        """The shape, read."""
        return shape_of(self.shape.removeprefix("of "))

    def cut(self, text: str, statement: str) -> list[Cut]:
        """The head and the clauses of what stands behind the opening; FormulaError where they do not have the shape."""
        if self.whole and not self.parts.words:
            return [Cut("", text, 0)]
        found = cut(text, self.parts.words if self.whole else (*self.parts.words, *CLAUSES))
        for part in found[1:]:
            if part.word not in self.parts.words:
                allowed = ", ".join(self.parts.words) or "no clause"
                raise FormulaError(f"`{part.word} {part.text}` has no meaning in this statement (it may have: {allowed})")
        if found[0].text.split(maxsplit=1)[:1] == ["of"]:
            found[0] = found[0]._replace(text=found[0].text[2:].strip())
        self._hold_against_shape(found, statement)
        return found

    def _hold_against_shape(self, found: list[Cut], statement: str) -> None:
        shape, there = self.parts, {part.word for part in found[1:]}
        together = next((g for g in shape.together if there & set(g) and not there >= set(g)), ())
        wanting = [word for word in (*shape.needed, *together) if word not in there]
        if wanting or (self.opening and bool(found[0].text) != shape.head):  # of an empty formula the reader tells
            raise self.fault(statement)

    def fault(self, statement: str) -> FormulaError:
        """The fault of a statement that lacks a part: how the whole reads, and an example."""
        return FormulaError(f"this reads  {self.reads}", statement, len(statement), f"For example  {self.shown}")
