"""What a layout is made of, before any output language: atoms, rows, fractions, scripts, roots, fences, lines."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import NamedTuple, TypeVar

from gelvo.deadline import checkpoint

SUM, PRODUCT, POWER, ATOM = 1, 2, 3, 4
R = TypeVar("R")


class Layout(NamedTuple):
    """kind: atom, row, fraction, scripts, root, fence, cases, grid, lines, aligned, big; `text` and `style` belong to atoms and fences."""

    kind: str
    children: tuple[Layout | None, ...] = ()
    text: str = ""
    style: str = ""
    level: int = ATOM


def atom(text: str, style: str, level: int = ATOM) -> Layout:
    return Layout("atom", (), text, style, level)


def row(*children: Layout, level: int = ATOM) -> Layout:
    return Layout("row", children, level=level)


def joined(pieces: Sequence[Layout], glue: Layout) -> Layout:
    out: list[Layout] = []
    for piece in pieces:
        if out:
            out.append(glue)
        out.append(piece)
    return out[0] if len(out) == 1 else row(*out)


def fence(body: Layout, kind: str = "()") -> Layout:
    return Layout("fence", (body,), kind)


def wrapped(piece: Layout, level: int) -> Layout:
    return piece if piece.level >= level else fence(piece)


def _all_parts(root: Layout) -> list[Layout]:
    """A layout and all that it holds, each piece before its own parts; without recursion."""
    order: list[Layout] = []
    stack = [root]
    while stack:
        piece = stack.pop()
        order.append(piece)
        stack.extend(c for c in piece.children if c is not None)
    return order


def is_rounded(piece: Layout) -> bool:
    """Whether digits were left out somewhere in it."""
    return any(part.style == "rounded" for part in _all_parts(piece))


def said_rounded(piece: Layout) -> Layout:
    """A number behind a sign that says that digits were left out."""
    style = "number" if piece.style == "rounded" else piece.style
    return piece._replace(style=style, children=tuple(None if c is None else said_rounded(c) for c in piece.children))


def equals(body: Layout) -> Layout:
    """The sign before a formula: it says where digits were left out."""
    return atom("≈" if is_rounded(body) else "=", "relation")


def summed(terms: Iterable[tuple[bool, Layout]]) -> Layout:
    """Terms beside each other, each with whether a minus stands before it."""
    out: list[Layout] = []
    for negative, body in terms:
        if out or negative:
            out.append(atom("-" if negative else "+", "operator" if out else "sign"))
        out.append(wrapped(body, PRODUCT))
    return row(*out, level=SUM)


def inline(root: Layout) -> Layout:
    """Fractions on one line: a/(b*c)."""
    done: dict[int, Layout] = {}
    for piece in reversed(_all_parts(root)):
        inner = tuple(None if c is None else done[id(c)] for c in piece.children)
        if piece.kind == "fraction" and inner[0] is not None and inner[1] is not None:
            done[id(piece)] = row(wrapped(inner[0], PRODUCT), atom("/", "slash"), wrapped(inner[1], POWER), level=PRODUCT)
        else:
            done[id(piece)] = piece._replace(children=inner)
    return done[id(root)]


def grid(pieces: Sequence[Layout], columns: int) -> Layout:
    """A matrix: its entries row by row."""
    return Layout("grid", tuple(pieces), str(columns))


def lines(pieces: Sequence[Layout]) -> Layout:
    """Formulas one below the other."""
    return Layout("lines", tuple(pieces))


def aligned(pieces: Sequence[Layout]) -> Layout:
    """Lines of two columns each, the first one ending where the second begins: what stands before a sign, and behind it."""
    return Layout("aligned", tuple(pieces))


def rendered(root: Layout, kinds: Mapping[str, Callable[[Layout, list[R | None]], R]]) -> R:
    """What the rules of an output language make of a layout, without recursion: each gets its piece and what the children became."""
    done: dict[int, R] = {}
    for piece in reversed(_all_parts(root)):
        checkpoint()
        done[id(piece)] = kinds[piece.kind](piece, [None if c is None else done[id(c)] for c in piece.children])
    return done[id(root)]
