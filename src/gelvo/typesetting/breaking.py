"""Long formulas on several lines: broken where a reader would, at words, relations, plus and minus, then between factors.

What belongs to a relation stands behind its sign, one line below the other; brackets and fractions are broken inside.
Widths are counted in letters of a terminal, which paper follows closely enough.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gelvo.typesetting import text
from gelvo.typesetting.pieces import Layout, aligned, atom, fence, lines, row

PAGE, PAPER = 100, 72  # letters in a line of the report, and of LaTeX on paper
GAP = 2  # letters between the columns of a matrix
NARROWEST = 16  # letters; what is narrower is not broken further
DOT = atom("·", "operator")
INDENT, INDENTED = atom("", "indent"), 2
NOTHING = row()


def width_of(piece: Layout) -> int:
    """How many letters wide a piece is."""
    return text.block(piece).width


def fitted(root: Layout, width: int) -> Layout:
    """The layout within a width, as far as it can be broken."""
    if width < NARROWEST or width_of(root) <= width:
        return root
    return BREAKS[root.kind](root, width) if root.kind in BREAKS else root


def _row(piece: Layout, width: int) -> Layout:
    pieces = [c for c in piece.children if c is not None]
    for style, work in STYLES:
        if any(_is(p, style) for p in pieces[1:]):
            return work(pieces, width)
    # what belongs together, such as the name of a function and its brackets: its widest part is broken
    return _widest_broken(pieces, width)


def _is(piece: Layout, style: str) -> bool:
    if piece.kind != "atom":
        return False
    if style == "plus":
        return piece.style == "operator" and piece.text in ("+", "-", "±")
    if style == "times":
        return piece.style in ("thin", "gap") or (piece.style == "operator" and piece.text in ("·", "×"))
    return piece.style == style


def _parts(pieces: Sequence[Layout], style: str) -> list[list[Layout]]:
    """Pieces in groups that begin with a sign of the style, but the first."""
    groups: list[list[Layout]] = [[]]
    for piece in pieces:
        if _is(piece, style) and groups[-1]:
            groups.append([])
        groups[-1].append(piece)
    return groups


def _at_words(pieces: list[Layout], width: int) -> Layout:
    """One line for each word: x = … / or x = … / if …"""
    groups = _parts(pieces, "word")
    return lines([fitted(g[0] if len(g) == 1 else row(*g), width) for g in groups])


def _at_commas(pieces: list[Layout], width: int) -> Layout:
    groups: list[list[Layout]] = [[]]
    for piece in pieces:
        groups[-1].append(piece)
        if _is(piece, "punctuation") or _is(piece, "separator"):
            groups.append([])
    return _filled([_broken_parts(g, width - INDENTED) for g in groups if g], width)


def _at_relations(pieces: list[Layout], width: int) -> Layout:
    """left = right, the lines of the right side one below the other behind the sign."""
    groups = _parts(pieces, "relation")
    head = row(*groups[0], groups[1][0])
    used = width_of(head)
    if used > width // 2:  # a long left side has lines of its own
        return lines([fitted(row(*groups[0]), width), *[row(INDENT, g[0], fitted(row(*g[1:]), width - 4)) for g in groups[1:]]])
    out: list[Layout] = []
    for place, group in enumerate(groups[1:]):
        body = fitted(row(*group[1:]) if len(group) > 2 else group[1], width - used)
        found = [c for c in body.children if c is not None] if body.kind == "lines" else [body]
        out += [head if not place else group[0], found[0]]
        for line in found[1:]:
            out += [NOTHING, line]
    return aligned(out) if len(out) > 2 else row(*out)


def _at_plus(pieces: list[Layout], width: int) -> Layout:
    return _filled([_broken_parts(g, width - INDENTED) for g in _parts(pieces, "plus")], width)


def _at_times(pieces: list[Layout], width: int) -> Layout:
    groups = _parts(pieces, "times")
    sizes = sorted(width_of(p) for p in pieces)
    if sum(sizes[:-1]) <= width // 3:  # a(… + …): the long factor is broken where it stands
        shorter = _widest_broken(pieces, width)
        if width_of(shorter) <= width:
            return shorter
    return _filled([_broken_parts(g, width - INDENTED - width_of(DOT)) for g in groups], width, joint=DOT)


def _broken_parts(group: list[Layout], width: int) -> Layout:
    """A group on one line, its widest part broken inside where it is too wide."""
    piece = row(*group)
    return piece if width_of(piece) <= width else _widest_broken(group, width)


def _widest_broken(group: list[Layout], width: int) -> Layout:
    widest = max(group, key=width_of)
    shorter = fitted(widest, width - sum(width_of(p) for p in group if p is not widest))
    return row(*[shorter if p is widest else p for p in group])


def _filled(parts: list[Layout], width: int, joint: Layout | None = None) -> Layout:
    """Parts on as few lines as they need; lines after the first are indented, and open with the joint where factors are parted."""
    out: list[list[Layout]] = [[]]
    used = 0
    for part in parts:
        size = width_of(part)
        if out[-1] and used + size > width:
            out.append([INDENT])
            used = INDENTED + (0 if joint is None else width_of(joint))
            opening, *rest = [c for c in part.children if c is not None] or [part]
            if joint is not None and _is(opening, "times"):
                part = row(joint, *rest)
        out[-1] += _opened(part)
        used += size
    made = [row(*line) for line in out]
    return lines(made) if len(made) > 1 else made[0]


def _opened(part: Layout) -> list[Layout]:
    """The pieces of a part, so that signs stand between their neighbours."""
    return [c for c in part.children if c is not None] if part.kind == "row" else [part]


def _fence(piece: Layout, width: int) -> Layout:
    (inner,) = piece.children
    assert inner is not None
    return fence(fitted(inner, width - 2), piece.text)


def _fraction(piece: Layout, width: int) -> Layout:
    return piece._replace(children=tuple(None if c is None else fitted(c, width - 2) for c in piece.children))


def _grid(piece: Layout, width: int) -> Layout:
    """A matrix, the entries of its widest columns broken until all columns fit beside each other."""
    columns = int(piece.text)
    entries = [c for c in piece.children if c is not None]
    widths = [max(map(width_of, entries[j::columns])) for j in range(columns)]
    free = width - 2 - GAP * (columns - 1)
    share = free // columns
    narrow = sum(w for w in widths if w <= share)
    wide = sum(w > share for w in widths)
    most = (free - narrow) // wide if wide else free
    return piece._replace(children=tuple(fitted(e, most) if widths[k % columns] > share else e for k, e in enumerate(entries)))


def _lines(piece: Layout, width: int) -> Layout:
    return piece._replace(children=tuple(None if c is None else fitted(c, width) for c in piece.children))


STYLES: tuple[tuple[str, Callable[[list[Layout], int], Layout]], ...] = (
    ("word", _at_words),
    ("separator", _at_commas),
    ("punctuation", _at_commas),
    ("relation", _at_relations),
    ("plus", _at_plus),
    ("times", _at_times),
)
BREAKS: dict[str, Callable[[Layout, int], Layout]] = {
    "row": _row,
    "fence": _fence,
    "fraction": _fraction,
    "grid": _grid,
    "lines": _lines,
}
