"""Layout to LaTeX (amsmath)."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.expression.registry import FUNCTIONS
from gelvo.typesetting.letters import LETTERS, LINE
from gelvo.typesetting.pieces import Layout, rendered

SYMBOLS = {
    "π": r"\pi", "∞": r"\infty", "-∞": r"-\infty", "≤": r"\le", "≥": r"\ge", "≠": r"\ne", "·": r"\cdot", "→": r"\to", "∫": r"\int",
    "∑": r"\sum", "∏": r"\prod", "lim": r"\lim", "root": r"\operatorname*{root}", "γ": r"\gamma", "±": r"\pm", "≈": r"\approx", "×": r"\times", "∂": r"\partial",
}  # fmt: skip
FENCES = {
    "()": (r"\left(", r"\right)"), "||": (r"\left|", r"\right|"), "⌊⌋": (r"\left\lfloor ", r"\right\rfloor "),
    "⌈⌉": (r"\left\lceil ", r"\right\rceil "),
}  # fmt: skip
_ESCAPED = str.maketrans({c: "\\" + c for c in "#$%&_{}"} | {"\\": r"\backslash ", "~": r"\sim ", "^": r"\wedge "})


Inner = list[str | None]  # what the children of a piece became; None for those that it does not have


def render(root: Layout) -> str:
    """LaTeX for math mode."""
    return rendered(root, KINDS)


def escaped(text: str) -> str:
    return text.translate(_ESCAPED)


def _letter(name: str) -> str:
    if name in LETTERS:
        return "\\" + name if name not in ("omicron",) else "o"
    if len(name) == 1:
        return name if name.isascii() else rf"\mathit{{{name}}}"
    return rf"\mathrm{{{escaped(name)}}}"


def _name(text: str) -> str:
    return _letter(text) if len(text) == 1 or text in LETTERS else rf"\mathrm{{{escaped(text)}}}"


def _function(text: str) -> str:
    if text == "log":
        return r"\log"
    record = FUNCTIONS.get(text)
    return (record.latex if record is not None else "") or rf"\operatorname{{{escaped(text)}}}"


def _symbol(text: str) -> str:
    return SYMBOLS.get(text, text)


ATOMS: dict[str, Callable[[str], str]] = {
    "name": _letter,
    "subscript": _name,
    "function": _function,
    "constant": lambda text: rf"\mathrm{{{text}}}" if text in ("d", "e") else _symbol(text),
    "imaginary": lambda text: rf"\mathrm{{{text}}}",
    "word": lambda text: rf"\ \text{{{text}}}\ ",
    "unit": lambda text: rf"\mathrm{{{escaped(text)}}}",
    "text": lambda text: rf"\text{{{text}}}",
    "differential": lambda text: r"\,\mathrm{d}",
    "primes": lambda text: r"\prime" * len(text),
    "thin": lambda text: " ",
    "gap": lambda text: r"\, ",
    "slash": lambda text: text,
    "indent": lambda text: r"\quad ",
    "operator": lambda text: f" {_symbol(text)} ",
    "relation": lambda text: f" {_symbol(text)} ",
    "punctuation": lambda text: f"{text} ",
    "separator": lambda text: rf"{text}\quad ",
}


ACCENTS = {LINE: "overline"}
STACK = r"\genfrac{}{}{0pt}{}"
TALL = (r"\binom", r"\frac", r"\genfrac", r"\begin", r"\sum", r"\prod", r"\int", r"\left", r"\sqrt")


def _fence(kind: str, body: str) -> str:
    """Brackets as high as what they hold; plain ones, which keep to the name of a function, where that is one line."""
    if kind == "()" and not any(word in body for word in TALL):
        return f"({body})"
    return FENCES[kind][0] + body + FENCES[kind][1]


def _binomial(piece: Layout, inner: Inner) -> str:
    """Two numbers in brackets, one above the other, have a command of their own."""
    body = piece.children[0]
    return (inner[0] or "").replace(STACK, r"\binom", 1) if body is not None and body.kind == "stack" else ""


def _scripts(piece: Layout, inner: Inner) -> str:
    base = inner[0] or ""
    if piece.children[0] is not None and piece.children[0].kind not in ("atom", "fence"):
        base = f"{{{base}}}"
    return base + _marks(inner[1], inner[2])


def _marks(below: str | None, above: str | None) -> str:
    return (f"_{{{below}}}" if below is not None else "") + (f"^{{{above}}}" if above is not None else "")


def _root(piece: Layout, inner: Inner) -> str:
    return rf"\sqrt{{{inner[0]}}}" if inner[1] is None else rf"\sqrt[{inner[1]}]{{{inner[0]}}}"


def _cases(piece: Layout, inner: Inner) -> str:
    rows = [f"{inner[i]} & {inner[i + 1]}" for i in range(0, len(inner), 2)]
    return r"\begin{cases}" + r" \\ ".join(rows) + r"\end{cases}"


def _grid(entries: list[str], columns: int) -> str:
    """Rows one below the other, the columns aligned in the source too."""
    rows = [entries[i : i + columns] for i in range(0, len(entries), columns)]
    widths = [max(len(r[j].strip()) for r in rows) for j in range(columns)]
    lines = [" & ".join(e.strip().ljust(w) for e, w in zip(r, widths, strict=True)).rstrip() for r in rows]
    return "\\begin{pmatrix}\n" + " \\\\\n".join(f"  {line}" for line in lines) + "\n\\end{pmatrix}"


def _aligned(inner: list[str]) -> str:
    """What stands before the sign ends where the other lines begin."""
    rows = [f"{inner[k].rstrip()} & {inner[k + 1]}".strip() for k in range(0, len(inner), 2)]
    return "\\begin{aligned}" + " \\\\\n".join(rows) + "\\end{aligned}"


def _held_to_functions(piece: Layout, inner: list[str]) -> list[str]:
    """High brackets behind the name of a function, without the gap that LaTeX leaves before them."""
    behind = [False, *(c is not None and c.style == "function" for c in piece.children)]
    return [
        r"\mathopen{}" + text if after and text.startswith(r"\left(") else text
        for after, text in zip(behind, inner, strict=False)
    ]


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


KINDS: dict[str, Callable[[Layout, Inner], str]] = {
    "atom": lambda piece, inner: ATOMS.get(piece.style, _symbol)(piece.text),
    "row": lambda piece, inner: _spaced(_held_to_functions(piece, [c or "" for c in inner])),
    "fraction": lambda piece, inner: rf"\frac{{{inner[0]}}}{{{inner[1]}}}",
    "scripts": _scripts,
    "root": _root,
    "fence": lambda piece, inner: _binomial(piece, inner) or _fence(piece.text, inner[0] or ""),
    "over": lambda piece, inner: rf"\{ACCENTS.get(piece.text, piece.text)}{{{inner[0]}}}",
    "stack": lambda piece, inner: rf"{STACK}{{{inner[0]}}}{{{inner[1]}}}",
    "big": lambda piece, inner: SYMBOLS[piece.text] + _marks(inner[0], inner[1]) + " ",
    "grid": lambda piece, inner: _grid([c or "" for c in inner], int(piece.text)),
    "cases": _cases,
    "aligned": lambda piece, inner: _aligned([c or "" for c in inner]),
    "lines": lambda piece, inner: r"\begin{aligned}" + r" \\ ".join(f"& {c}" for c in inner) + r"\end{aligned}",
}
