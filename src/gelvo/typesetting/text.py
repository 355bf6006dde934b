"""Layout to two-dimensional Unicode text for terminals."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple
from unicodedata import normalize

from gelvo.typesetting.letters import ABOVE, LETTERS, LINE
from gelvo.typesetting.pieces import Layout, rendered

SUBSCRIPTS = str.maketrans("0123456789aehijklmnoprstuvx", "₀₁₂₃₄₅₆₇₈₉ₐₑₕᵢⱼₖₗₘₙₒₚᵣₛₜᵤᵥₓ")
SUBSCRIPT_LETTERS = set("0123456789aehijklmnoprstuvx")
SUPERSCRIPTS = str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻")
TALL = {
    "(": "⎛⎜⎝", ")": "⎞⎟⎠", "|": "│││", "⌊": "││⌊", "⌋": "││⌋", "⌈": "⌈││", "⌉": "⌉││",
}  # fmt: skip


COMBINING = {"dot": "\u0307", "ddot": "\u0308", "hat": "\u0302", "tilde": "\u0303", "bar": "\u0304"}


class Block(NamedTuple):
    """Lines of equal width; `base` is the index of the line on which the formula sits."""

    lines: list[str]
    base: int

    @property
    def width(self) -> int:
        return len(self.lines[0])

    @property
    def height(self) -> int:
        return len(self.lines)


Inner = list[Block | None]  # what the children of a piece became; None for those that it does not have


def render(root: Layout) -> str:
    """Lines of text without trailing spaces, nor a space before all of them where a word stands first."""
    lines = block(root).lines
    indent = 1 if all(line[:1] in (" ", "") for line in lines) else 0
    return "\n".join(line[indent:].rstrip() for line in lines)


def block(root: Layout) -> Block:
    return rendered(root, KINDS)


def _line(text: str) -> Block:
    return Block([text], 0)


def _minus(text: str) -> str:
    return text.replace("-", "−")


ATOMS: dict[str, Callable[[str], str]] = {
    "name": lambda text: LETTERS.get(text, text),
    "subscript": lambda text: LETTERS.get(text, text),
    "operator": lambda text: f" {_minus(text)} ",
    "relation": lambda text: f" {_minus(text)} ",
    "word": lambda text: f" {text} ",
    "thin": lambda text: " ",
    "gap": lambda text: " ",
    "slash": lambda text: text,
    "indent": lambda text: "  ",
    "punctuation": lambda text: f"{text} ",
    "separator": lambda text: f"{text}  ",
    "differential": lambda text: " d",
}


def beside(*blocks: Block) -> Block:
    """Blocks on one base line."""
    if not blocks:
        return _line("")
    above = max(b.base for b in blocks)
    below = max(b.height - b.base for b in blocks)
    lines = []
    for k in range(above + below):
        parts = []
        for b in blocks:
            index = k - above + b.base
            parts.append(b.lines[index] if 0 <= index < b.height else " " * b.width)
        lines.append("".join(parts))
    return Block(lines, above)


def _centred(b: Block, width: int) -> list[str]:
    return [line.center(width) for line in b.lines]


def _fraction(piece: Layout, inner: Inner) -> Block:
    top, bottom = _both(inner)
    width = max(top.width, bottom.width) + 2
    return Block([*_centred(top, width), "─" * width, *_centred(bottom, width)], top.height)


def _stack(piece: Layout, inner: Inner) -> Block:
    top, bottom = _both(inner)
    width = max(top.width, bottom.width)
    return Block([*_centred(top, width), *_centred(bottom, width)], top.height - 1)


def _both(inner: Inner) -> list[Block]:
    return [b for b in inner if b is not None]


def _over(piece: Layout, inner: Inner) -> Block:
    (body,) = _both(inner)
    whole = normalize("NFC", body.lines[0] + COMBINING.get(piece.text, "")) if body.height == 1 else ""
    if body.width == 1 == len(whole) and whole != body.lines[0]:
        return _line(whole)  # ẍ, as there is one
    above = "_" * body.width if piece.text == LINE else ABOVE[piece.text].center(body.width)
    return Block([above, *body.lines], body.base + 1)


def _grid(entries: list[Block], columns: int) -> Block:
    """Entries centred in their columns, each row on one base line, in tall brackets."""
    widths = [max(b.width for b in entries[j::columns]) for j in range(columns)]
    lines: list[str] = []
    for start in range(0, len(entries), columns):
        padded = [Block(_centred(b, w), b.base) for b, w in zip(entries[start : start + columns], widths, strict=True)]
        spaced: list[Block] = []
        for b in padded:
            spaced += [_line("  ")] * bool(spaced) + [b]
        row_lines = beside(*spaced).lines
        if lines and (len(row_lines) > 1 or (len(lines) > 1 and entries[start - 1].height > 1)):
            lines.append(" " * len(row_lines[0]))
        lines += row_lines
    return _fenced(Block(lines, len(lines) // 2), "()")


def _scripts(inner: Inner) -> Block:
    base, below, above = inner
    assert base is not None
    if below is not None:
        text = below.lines[0].strip()
        if below.height == 1 and set(text) <= SUBSCRIPT_LETTERS:
            base = beside(base, _line(text.translate(SUBSCRIPTS)))
        elif below.height == 1:
            base = beside(base, _line("_" + text.replace(", ", ",")))
        else:
            lines = base.lines + [" " * base.width] * below.height
            base = Block([a + b for a, b in zip(lines, [" " * below.width] * base.height + below.lines, strict=True)], base.base)
    if above is not None:
        text = above.lines[0].strip()
        if above.height == 1 and set(text) <= {"′"}:
            return beside(base, _line(text))
        if above.height == 1 and base.height == 1 and set(text.replace("−", "-")) <= set("0123456789-"):
            return beside(base, _line(text.replace("−", "-").translate(SUPERSCRIPTS)))
        lines = [" " * base.width + line for line in above.lines]
        lines += [line + " " * above.width for line in base.lines]
        return Block(lines, above.height + base.base)
    return base


def _root(body: Block, degree: Block | None) -> Block:
    mark = degree.lines[0].translate(SUPERSCRIPTS) if degree is not None else ""
    if body.height == 1:
        return Block([" " * (len(mark) + 1) + "_" * body.width, f"{mark}√{body.lines[0]}"], 1)
    pad = " " * len(mark)
    lines = [pad + " ┌" + "─" * body.width]
    for k, line in enumerate(body.lines):
        last = k == body.height - 1
        lines.append((mark if last else pad) + ("√" if last else " ") + "│" + line)
    return Block(lines, body.base + 1)


def _fenced(body: Block, kind: str) -> Block:
    sides = []
    for letter in kind:
        if body.height == 1:
            sides.append(_line(letter))
            continue
        top, middle, bottom = tuple(TALL[letter])
        sides.append(Block([top, *[middle] * (body.height - 2), bottom], body.base))
    return beside(sides[0], body, sides[1])


def _big(symbol: str, inner: Inner) -> Block:
    below, above = inner
    if symbol == "∫":
        body = Block(["⌠", "⎮", "⌡"], 1)
        if below is None or above is None:
            return beside(body, _line(" "))
        width = max(below.width, above.width) + 2
        lines = [("⌠" + above.lines[-1]).ljust(width), "⎮".ljust(width), ("⌡" + below.lines[0]).ljust(width)]
        lines = [
            *[(" " + line).ljust(width) for line in above.lines[:-1]],
            *lines,
            *[(" " + line).ljust(width) for line in below.lines[1:]],
        ]
        return Block(lines, above.height)
    sign = (
        _line(symbol)
        if symbol in ("lim", "root")
        else Block(["___", "╲  ", "╱  ", "‾‾‾"], 1)
        if symbol == "∑"
        else Block(["┬─┬", "│ │"], 0)
    )
    width = max([sign.width, *[b.width for b in (below, above) if b is not None]]) + 1
    top = _centred(above, width) if above is not None else []
    bottom = _centred(below, width) if below is not None else []
    return Block([*top, *_centred(sign, width), *bottom], len(top) + sign.base)


def _cases(inner: list[Block]) -> Block:
    left = max(b.width for b in inner[::2])
    right = max(b.width for b in inner[1::2])
    rows: list[str] = []
    for value, condition in zip(inner[::2], inner[1::2], strict=True):
        joined = beside(
            Block([line.ljust(left) for line in value.lines], value.base),
            Block([line.ljust(right) for line in condition.lines], condition.base),
        )
        rows.extend(joined.lines)
    middle = len(rows) // 2
    marks = ["⎨" if k == middle else "⎧" if k == 0 else "⎩" if k == len(rows) - 1 else "⎪" for k in range(len(rows))]
    return Block([f"{m} {r}" for m, r in zip(marks, rows, strict=True)], middle)


def _lines(rows: list[Block]) -> Block:
    """Blocks one below the other, with an empty line between high ones."""
    width, apart = max(b.width for b in rows), any(b.height > 1 for b in rows)
    out: list[str] = []
    for b in rows:
        out += [" " * width] * bool(out and apart) + [line.ljust(width) for line in b.lines]
    return Block(out, len(out) // 2)


def _aligned(inner: list[Block]) -> Block:
    width = max(b.width for b in inner[::2])
    return _lines(
        [beside(Block([line.rjust(width) for line in a.lines], a.base), b) for a, b in zip(inner[::2], inner[1::2], strict=True)]
    )


KINDS: dict[str, Callable[[Layout, Inner], Block]] = {
    "atom": lambda piece, inner: _line(ATOMS.get(piece.style, _minus)(piece.text)),
    "row": lambda piece, inner: beside(*_both(inner)),
    "fraction": _fraction,
    "scripts": lambda piece, inner: _scripts(inner),
    "root": lambda piece, inner: _root(_both(inner)[0], inner[1]),
    "fence": lambda piece, inner: _fenced(_both(inner)[0], piece.text),
    "over": _over,
    "stack": _stack,
    "big": lambda piece, inner: _big(piece.text, inner),
    "grid": lambda piece, inner: _grid(_both(inner), int(piece.text)),
    "cases": lambda piece, inner: _cases(_both(inner)),
    "lines": lambda piece, inner: _lines(_both(inner)),
    "aligned": lambda piece, inner: _aligned(_both(inner)),
}
