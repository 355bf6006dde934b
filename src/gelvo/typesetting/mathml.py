"""Layout to MathML Core."""

from __future__ import annotations

from html import escape

from gelvo.typesetting.layout import Layout, folded
from gelvo.typesetting.letters import GREEK

FUNCTION_NAMES = {"asin": "arcsin", "acos": "arccos", "atan": "arctan", "sign": "sgn", "gamma": "Γ", "digamma": "ψ"}


def render(root: Layout) -> str:
    """A complete math element, displayed as a block."""
    return f'<math display="block" xmlns="http://www.w3.org/1998/Math/MathML">{body(root)}</math>'


def inline(root: Layout) -> str:
    return f'<math xmlns="http://www.w3.org/1998/Math/MathML">{body(root)}</math>'


def body(root: Layout) -> str:
    done: dict[int, str] = {}
    for piece in folded(root):
        done[id(piece)] = _one(piece, [None if c is None else done[id(c)] for c in piece.children])
    return done[id(root)]


def _atom(piece: Layout) -> str:
    text = piece.text
    shown = escape(text)
    if piece.style in ("name", "subscript"):
        letter = GREEK.get(text, shown)
        return f"<mi>{letter}</mi>"
    if piece.style in ("constant", "imaginary", "unit"):
        return f'<mi mathvariant="normal">{shown}</mi>'
    if piece.style == "function":
        return f"<mi>{escape(FUNCTION_NAMES.get(text, text))}</mi><mo>&#x2061;</mo>"
    if piece.style == "number":
        return f"<mn>{shown}</mn>" if not text.startswith("-") else f"<mo>−</mo><mn>{shown[1:]}</mn>"
    if piece.style in ("word", "text"):
        return f"<mtext>&#xa0;{shown}&#xa0;</mtext>"
    if piece.style == "differential":
        return '<mspace width="0.17em"/><mi mathvariant="normal">d</mi>'
    if piece.style == "thin":
        return '<mo>&#x2062;</mo><mspace width="0.12em"/>'
    if piece.style == "sign":
        return f'<mo form="prefix">{shown.replace("-", "−")}</mo>'
    return f"<mo>{shown.replace('-', '−')}</mo>"


def _row(text: str) -> str:
    return f"<mrow>{text}</mrow>"


def _one(piece: Layout, inner: list[str | None]) -> str:
    if piece.kind == "atom":
        return _atom(piece)
    if piece.kind == "row":
        return _row("".join(c or "" for c in inner))
    if piece.kind == "fraction":
        return f"<mfrac>{_row(inner[0] or '')}{_row(inner[1] or '')}</mfrac>"
    if piece.kind == "scripts":
        base, below, above = (_row(c) if c is not None else None for c in inner)
        if below is None:
            return f"<msup>{base}{above}</msup>"
        if above is None:
            return f"<msub>{base}{below}</msub>"
        return f"<msubsup>{base}{below}{above}</msubsup>"
    if piece.kind == "root":
        if inner[1] is None:
            return f"<msqrt>{inner[0]}</msqrt>"
        return f"<mroot>{_row(inner[0] or '')}{_row(inner[1])}</mroot>"
    if piece.kind == "fence":
        left, right = tuple(piece.text)
        return _row(
            f'<mo form="prefix" stretchy="true" lspace="0" rspace="0">{left}</mo>{inner[0]}<mo form="postfix" stretchy="true" lspace="0" rspace="0">{right}</mo>'
        )
    if piece.kind == "over":
        return f"<mover>{_row(inner[0] or '')}<mo>¯</mo></mover>"
    if piece.kind == "stack":
        return f'<mfrac linethickness="0">{_row(inner[0] or "")}{_row(inner[1] or "")}</mfrac>'
    if piece.kind == "big":
        return _big(piece, inner)
    if piece.kind == "grid":
        count = int(piece.text)
        lines = [inner[i : i + count] for i in range(0, len(inner), count)]
        table = "".join("<mtr>" + "".join(f"<mtd>{_row(e or '')}</mtd>" for e in line) + "</mtr>" for line in lines)
        return _row(f'<mo form="prefix" stretchy="true">(</mo><mtable>{table}</mtable><mo form="postfix" stretchy="true">)</mo>')
    rows = "".join(f"<mtr><mtd>{inner[i]}</mtd><mtd>{inner[i + 1]}</mtd></mtr>" for i in range(0, len(inner), 2))
    return _row(f'<mo form="prefix" stretchy="true">{{</mo><mtable>{rows}</mtable>')


def _big(piece: Layout, inner: list[str | None]) -> str:
    symbol = f"<mo>{piece.text}</mo>" if piece.text != "lim" else "<mi>lim</mi>"
    below, above = (None if c is None else _row(c) for c in inner)
    under = piece.text != "∫"
    if below is None:
        return symbol
    if above is None:
        return f"<munder>{symbol}{below}</munder>"
    tag = "munderover" if under else "msubsup"
    return f"<{tag}>{symbol}{below}{above}</{tag}>"
