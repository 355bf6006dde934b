"""Layout to MathML Core."""

from __future__ import annotations

from collections.abc import Callable
from html import escape

from gelvo.typesetting.letters import ABOVE, DOTS, LETTERS
from gelvo.typesetting.pieces import Layout, rendered

FUNCTION_NAMES = {"asin": "arcsin", "acos": "arccos", "atan": "arctan", "sign": "sgn", "gamma": "Γ", "digamma": "ψ"}


Inner = list[str | None]  # what the children of a piece became; None for those that it does not have


def render(root: Layout) -> str:
    """A complete math element, displayed as a block."""
    return f'<math display="block" xmlns="http://www.w3.org/1998/Math/MathML">{body(root)}</math>'


def inline(root: Layout) -> str:
    return f'<math xmlns="http://www.w3.org/1998/Math/MathML">{body(root)}</math>'


def body(root: Layout) -> str:
    return rendered(root, KINDS)


def _row(text: str) -> str:
    return f"<mrow>{text}</mrow>"


def _number(text: str) -> str:
    return f"<mn>{text}</mn>" if not text.startswith("-") else f"<mo>−</mo><mn>{text[1:]}</mn>"


def _letter(text: str) -> str:
    return f"<mi>{LETTERS.get(text, escape(text))}</mi>"


def _upright(text: str) -> str:
    return f'<mi mathvariant="normal">{escape(text)}</mi>'


def _words(text: str) -> str:
    return f"<mtext>&#xa0;{escape(text)}&#xa0;</mtext>"


def _minus(text: str) -> str:
    return escape(text).replace("-", "−")


def _operator(text: str) -> str:
    return f"<mo>{_minus(text)}</mo>"


ATOMS: dict[str, Callable[[str], str]] = {
    "name": _letter,
    "subscript": _letter,
    "constant": _upright,
    "imaginary": _upright,
    "unit": _upright,
    "function": lambda text: f"<mi>{escape(FUNCTION_NAMES.get(text, text))}</mi><mo>&#x2061;</mo>",
    "number": lambda text: _number(escape(text)),
    "word": _words,
    "text": lambda text: f"<mtext>{escape(text.strip())}{'&#xa0;' * text.endswith(' ')}</mtext>",
    "separator": lambda text: f'<mo rspace="1em">{escape(text)}</mo>',
    "punctuation": lambda text: f'<mo rspace="0.3em">{escape(text)}</mo>',
    "differential": lambda text: '<mspace width="0.17em"/><mi mathvariant="normal">d</mi>',
    "thin": lambda text: '<mo>&#x2062;</mo><mspace width="0.12em"/>',
    "indent": lambda text: '<mspace width="1.2em"/>',
    "slash": lambda text: '<mo lspace="0" rspace="0">/</mo>',
    "gap": lambda text: '<mo>&#x2062;</mo><mspace width="0.17em"/>',
    "sign": lambda text: f'<mo form="prefix">{_minus(text)}</mo>',
}


def _scripts(piece: Layout, inner: Inner) -> str:
    base, below, above = (_row(c) if c is not None else None for c in inner)
    if below is None:
        return f"<msup>{base}{above}</msup>"
    return f"<msub>{base}{below}</msub>" if above is None else f"<msubsup>{base}{below}{above}</msubsup>"


def _root(piece: Layout, inner: Inner) -> str:
    return f"<msqrt>{inner[0]}</msqrt>" if inner[1] is None else f"<mroot>{_row(inner[0] or '')}{_row(inner[1])}</mroot>"


TALL = ("<mfrac", "<mtable", "<msqrt", "<mroot", "<munder", "<mover", "<msubsup", 'stretchy="true"')


def _fence(piece: Layout, inner: Inner) -> str:
    """Brackets as high as what they hold; on one line they keep close to it."""
    stretchy = "true" if any(tag in (inner[0] or "") for tag in TALL) else "false"
    left, right = (
        f'<mo form="{form}" stretchy="{stretchy}" lspace="0" rspace="0">{sign}</mo>'
        for form, sign in zip(("prefix", "postfix"), piece.text, strict=True)
    )
    return _row(f"{left}{inner[0]}{right}")


def _grid(piece: Layout, inner: Inner) -> str:
    count = int(piece.text)
    lines = [inner[i : i + count] for i in range(0, len(inner), count)]
    table = "".join("<mtr>" + "".join(f"<mtd>{_row(e or '')}</mtd>" for e in line) + "</mtr>" for line in lines)
    return _row(f'<mo form="prefix" stretchy="true">(</mo><mtable>{table}</mtable><mo form="postfix" stretchy="true">)</mo>')


def _cases(piece: Layout, inner: Inner) -> str:
    rows = "".join(f"<mtr><mtd>{inner[i]}</mtd><mtd>{inner[i + 1]}</mtd></mtr>" for i in range(0, len(inner), 2))
    return _row(f'<mo form="prefix" stretchy="true">{{</mo><mtable>{rows}</mtable>')


def _lines(piece: Layout, inner: Inner) -> str:
    rows = "".join(f'<mtr><mtd style="text-align: left">{_row(c or "")}</mtd></mtr>' for c in inner)
    return f'<mtable displaystyle="true">{rows}</mtable>'


def _aligned(piece: Layout, inner: Inner) -> str:
    cell = '<mtd style="text-align: {}; padding-left: 0; padding-right: 0">{}</mtd>'
    rows = "".join(
        "<mtr>" + cell.format("right", _row(inner[k] or "")) + cell.format("left", _row(inner[k + 1] or "")) + "</mtr>"
        for k in range(0, len(inner), 2)
    )
    return f'<mtable displaystyle="true">{rows}</mtable>'


def _over(piece: Layout, inner: Inner) -> str:
    """A mark above a letter; dots stand clear of it where they are no accents."""
    accent = "" if piece.text in DOTS else ' accent="true"'
    return f"<mover{accent}>{_row(inner[0] or '')}<mo>{ABOVE[piece.text]}</mo></mover>"


def _big(piece: Layout, inner: Inner) -> str:
    symbol = f"<mi>{piece.text}</mi>" if piece.text in ("lim", "root") else f"<mo>{piece.text}</mo>"
    below, above = (None if c is None else _row(c) for c in inner)
    under = piece.text != "∫"
    if below is None:
        return symbol
    if above is None:
        return f"<munder>{symbol}{below}</munder>"
    tag = "munderover" if under else "msubsup"
    return f"<{tag}>{symbol}{below}{above}</{tag}>"


KINDS: dict[str, Callable[[Layout, Inner], str]] = {
    "atom": lambda piece, inner: ATOMS.get(piece.style, _operator)(piece.text),
    "row": lambda piece, inner: _row("".join(c or "" for c in inner)),
    "fraction": lambda piece, inner: f"<mfrac>{_row(inner[0] or '')}{_row(inner[1] or '')}</mfrac>",
    "scripts": _scripts,
    "root": _root,
    "fence": _fence,
    "over": _over,
    "stack": lambda piece, inner: f'<mfrac linethickness="0">{_row(inner[0] or "")}{_row(inner[1] or "")}</mfrac>',
    "big": _big,
    "grid": _grid,
    "cases": _cases,
    "lines": _lines,
    "aligned": _aligned,
}
