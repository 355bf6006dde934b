"""What must be seen before the parts are built: `1/2x` and `2^3x`, `0x1F` and `1_000`, `sin^2(x)`, `e^x`."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from gelvo.errors import FormulaError
from gelvo.reading import words
from gelvo.reading.state import Reading, column_of
from gelvo.reading.tree import Tree


def look(at: Reading, node: Tree) -> None:
    """What must be seen before the parts are built: `1/2x` and `2^3x`, `0x1F` and `1_000`."""
    for check in LOOKS.get(node.data, ()):
        check(at, node)


def _kind(node: Tree) -> str:
    return str(getattr(node, "data", ""))


def _raised_function(at: Reading, node: Tree) -> None:
    if _kind(node.children[0]) == "name":
        at.function_alone(node.children[0])


def _raised_unit(at: Reading, node: Tree) -> None:
    children = node.children
    if measured_number(at, children[0]):
        count, unit_text = children[0].children
        raised = str(children[-1]).translate(words.SUPERSCRIPTS) if node.data == "superscript" else at.text_of(children[2])
        ways = f"Write  {count} {{{str(unit_text).strip('{} ')}^{raised}}}  or  ({count} {unit_text})^{raised} ."
        raise at.fault("it is not clear what is raised", node, ways)


def _divided(at: Reading, node: Tree) -> None:
    for sign, part in zip(node.children[1::2], node.children[2::2], strict=True):
        if sign not in words.DIVIDED:
            continue
        if measured_number(at, part):
            count, unit_text = part.children
            ways = f"Write  1/({count} {unit_text})  or  (1/{count})*{unit_text}  with parentheses."
            raise at.fault("it is not clear what is divided", part, ways)
        if _kind(part) == "implicit":
            count, rest = (at.text_of(c) for c in part.children)
            above = at.text[column_of(node) : sign.start_pos].strip()
            ways = f"Write  {above}/({count}*{rest})  or  ({above}/{count})*{rest}  with parentheses."
            raise at.fault("it is not clear what is divided", part, ways)


def _end_of_exponent(at: Reading, node: Tree) -> None:
    exponent = node.children[2]
    if _kind(exponent) != "implicit":
        return
    base, count, rest = (at.text_of(c) for c in (node.children[0], *exponent.children))
    column = column_of(exponent) + len(count)
    if at.text[column : column + 1].isspace():
        place = column_of(exponent.children[1])
        raise FormulaError("a multiplication sign is missing here", at.text, place, f"Did you mean  {base}^{count}*{rest} ?")
    raise at.fault(
        "it is not clear where the exponent ends", exponent, f"Write  {base}^({count}*{rest})  or  {base}^{count}*{rest} ."
    )


def measured_number(at: Reading, node: Tree) -> bool:
    """Whether a part is a number with a unit, `200 {m}`: the degree sign belongs to its number beyond doubt."""
    return getattr(node, "data", "") == "quantity" and len(node.children) > 1 and str(node.children[1]) != "°"


def digits(at: Reading, node: Tree) -> None:
    """A number before a name that is no product but a way to write numbers in other places."""
    count, name = node.children
    spelt = at.text_of(name)
    if spelt.startswith("_") and spelt[1:2].isdigit():
        plain = str(count) + re.sub(r"[^_\d].*", "", spelt).replace("_", "")
        raise at.fault("digits are not grouped by underscores", node, f"Did you mean  {plain} ?")
    written = re.match(r"0([xXbBoO])([0-9A-Fa-f]+)", at.text[column_of(node) :])
    if written and str(count) == "0":
        try:
            meant = f"Did you mean  {int(written.group(), 0)} ?"
        except ValueError:
            meant = f"Write  0*{spelt}  for the product."
        raise at.fault("numbers are written with decimal digits", node, meant)


def letter_e(at: Reading, node: Tree) -> None:
    """`e^x` where no `e` is known: Euler's number has another name here."""
    if _kind(node.children[0]) != "name" or node.children[0].children[0] != "e":
        return
    exponent = node.children[2]
    plain = not re.search(r"[^\W\d]", at.text_of(exponent))
    if plain or "e" in at.local or "e" in at.context.declared or "e" in at.context.definitions or "e" in at.context.unknowns:
        return
    shown = at.text_of(exponent)
    shown = shown[1:-1] if shown.startswith("(") and shown.endswith(")") else shown
    raise at.fault(
        "`e` is a letter like others (a charge, say), not Euler's number", node,
        f"Did you mean  exp({shown}) ?  For a letter e, declare it, or write  (e)^…",
    )  # fmt: skip


LOOKS: dict[str, tuple[Callable[[Reading, Any], None], ...]] = {
    "implicit": (digits,),
    "product": (_divided,),
    "superscript": (_raised_unit,),
    "power": (_raised_function, _raised_unit, _end_of_exponent, letter_e),
}
