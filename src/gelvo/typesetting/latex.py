"""Layout to LaTeX (amsmath)."""

from __future__ import annotations

from gelvo.expression.registry import FUNCTIONS
from gelvo.typesetting.layout import Layout, folded
from gelvo.typesetting.letters import GREEK

SYMBOLS = {
    "π": r"\pi", "∞": r"\infty", "-∞": r"-\infty", "≤": r"\le", "≥": r"\ge", "≠": r"\ne", "·": r"\cdot", "→": r"\to", "∫": r"\int",
    "∑": r"\sum", "∏": r"\prod", "lim": r"\lim", "γ": r"\gamma",
}  # fmt: skip
FENCES = {
    "()": (r"\left(", r"\right)"), "||": (r"\left|", r"\right|"), "⌊⌋": (r"\left\lfloor ", r"\right\rfloor "),
    "⌈⌉": (r"\left\lceil ", r"\right\rceil "),
}  # fmt: skip
_ESCAPED = str.maketrans({c: "\\" + c for c in "#$%&_{}"} | {"\\": r"\backslash ", "~": r"\sim ", "^": r"\wedge "})


def render(root: Layout) -> str:
    """LaTeX for math mode."""
    done: dict[int, str] = {}
    for piece in folded(root):
        done[id(piece)] = _one(piece, [None if c is None else done[id(c)] for c in piece.children])
    return done[id(root)]


def escaped(text: str) -> str:
    return text.translate(_ESCAPED)


def _letter(name: str) -> str:
    if name in GREEK:
        return "\\" + name if name not in ("omicron",) else "o"
    if len(name) == 1:
        return name if name.isascii() else rf"\mathit{{{name}}}"
    return rf"\mathrm{{{escaped(name)}}}"


def _atom(piece: Layout) -> str:
    text = piece.text
    if piece.style in ("name", "subscript"):
        return _letter(text) if piece.style == "name" or len(text) == 1 or text in GREEK else rf"\mathrm{{{escaped(text)}}}"
    if piece.style == "function":
        record = FUNCTIONS.get(text)
        shown = (record.names.get("latex") if record is not None else None) or rf"\operatorname{{{escaped(text)}}}"
        return r"\log" if text == "log" else shown
    if piece.style == "constant":
        return r"\mathrm{e}" if text == "e" else SYMBOLS.get(text, text)
    if piece.style == "imaginary":
        return r"\mathrm{i}"
    if piece.style == "word":
        return rf"\ \text{{{text}}}\ "
    if piece.style == "unit":
        return rf"\mathrm{{{escaped(text)}}}"
    if piece.style == "text":
        return rf"\text{{{text}}}"
    if piece.style == "differential":
        return r"\,\mathrm{d}"
    if piece.style == "primes":
        return r"\prime" * len(text)
    if piece.style == "thin":
        return " "
    if piece.style in ("operator", "relation"):
        return f" {SYMBOLS.get(text, text)} "
    if piece.style == "punctuation":
        return f"{text} "
    return SYMBOLS.get(text, text)


def _one(piece: Layout, inner: list[str | None]) -> str:
    if piece.kind == "atom":
        return _atom(piece)
    if piece.kind == "row":
        return _spaced([c or "" for c in inner])
    if piece.kind == "fraction":
        return rf"\frac{{{inner[0]}}}{{{inner[1]}}}"
    if piece.kind == "scripts":
        base = inner[0] or ""
        if piece.children[0] is not None and piece.children[0].kind not in ("atom", "fence"):
            base = f"{{{base}}}"
        below = f"_{{{inner[1]}}}" if inner[1] is not None else ""
        above = f"^{{{inner[2]}}}" if inner[2] is not None else ""
        return f"{base}{below}{above}"
    if piece.kind == "root":
        return rf"\sqrt{{{inner[0]}}}" if inner[1] is None else rf"\sqrt[{inner[1]}]{{{inner[0]}}}"
    if piece.kind == "fence":
        left, right = FENCES[piece.text]
        return f"{left}{inner[0]}{right}"
    if piece.kind == "over":
        return rf"\overline{{{inner[0]}}}"
    if piece.kind == "stack":
        return rf"\genfrac{{}}{{}}{{0pt}}{{}}{{{inner[0]}}}{{{inner[1]}}}"
    if piece.kind == "big":
        below = f"_{{{inner[0]}}}" if inner[0] is not None else ""
        above = f"^{{{inner[1]}}}" if inner[1] is not None else ""
        return f"{SYMBOLS[piece.text]}{below}{above} "
    if piece.kind == "grid":
        return _grid([c or "" for c in inner], int(piece.text))
    rows = [f"{inner[i]} & {inner[i + 1]}" for i in range(0, len(inner), 2)]
    return r"\begin{cases}" + r" \\ ".join(rows) + r"\end{cases}"


def _grid(entries: list[str], columns: int) -> str:
    """Rows one below the other, the columns aligned in the source too."""
    rows = [entries[i : i + columns] for i in range(0, len(entries), columns)]
    widths = [max(len(r[j].strip()) for r in rows) for j in range(columns)]
    lines = [" & ".join(e.strip().ljust(w) for e, w in zip(r, widths, strict=True)).rstrip() for r in rows]
    return "\\begin{pmatrix}\n" + " \\\\\n".join(f"  {line}" for line in lines) + "\n\\end{pmatrix}"


def _spaced(pieces: list[str]) -> str:
    """A command that ends in a letter needs a space before the next letter."""
    out = ""
    for piece in pieces:
        if out and piece and piece[0].isalpha() and _ends_in_command(out):
            out += " "
        out += piece
    return out.replace("  ", " ")


def _ends_in_command(text: str) -> bool:
    stem = text.rstrip("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ")
    return stem != text and stem.endswith("\\")
