"""Identifiers for the names of users: ASCII, of a length that the language takes, in conflict with nothing."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence

from gelvo.code.layout import Layout
from gelvo.code.pieces import Piece
from gelvo.code.target import Target
from gelvo.errors import ExportError
from gelvo.expression.nodes import Call, Name, Node, Number, Power


def plain(name: str) -> str:
    """A name in letters, digits and underscores of ASCII that begins with a letter.

    >>> plain("λ_1"), plain("_x"), plain("2nd file")
    ('u3bb_1', 'v_x', 'v2nd_file')
    """
    out = "".join(c if re.match(r"[A-Za-z0-9_]", c) else f"u{ord(c):x}" if c.isalnum() else "_" for c in name)
    return out if out[:1].isalpha() else f"v{out}"


def safe_names(wanted: Sequence[str], target: Target, taken: Iterable[str] = ()) -> dict[str, str]:
    """An identifier for each name; a word of the language, or one that was given away already, gets an underscore or a number."""
    fold = str.lower if target.folds else str
    used = {fold(w) for w in (*target.reserved, *taken)}
    own = {fold(w) for w in wanted}
    result: dict[str, str] = {}
    for name in wanted:
        stem = plain(name)
        candidate, count = stem[: target.longest], 1
        while fold(candidate) in used or (candidate != name and fold(candidate) in own):
            ending = "_" * count if count < 3 else f"_{count}"
            candidate, count = stem[: target.longest - len(ending)] + ending, count + 1
        used.add(fold(candidate))
        result[name] = candidate
    return result


def members(layout: Layout, target: Target) -> list[str]:
    """What outputs are called in a structure: by their names, or by their place where a name is no word."""
    words = [o.name if o.name.isidentifier() else f"output_{k + 1}" for k, o in enumerate(layout.outputs)]
    fresh = [w if w not in words[:k] else f"{w}_{k + 1}" for k, w in enumerate(words)]
    return list(safe_names(fresh, target).values())


POWERS = {2: "squared", 3: "cubed", 4: "to_the_fourth"}
ALONE = {"exp": "exponential", "ln": "logarithm", "sin": "sine", "cos": "cosine", "tan": "tangent", "expm1": "growth"}


def meaning(node: Node, named: Mapping[Node, Piece]) -> str:
    """What a part of a formula is called by what it is: sin_theta, x_squared, root, sine; '' where that has no short name.

    named: the identifiers of the parts that have one.
    """
    if isinstance(node, Call) and len(node.arguments) == 1:
        inner = node.arguments[0]
        if node.name == "grouped":
            return meaning(inner, named)
        if isinstance(inner, Name) and inner in named:
            return f"{node.name}_{_word(named[inner])}"
        return ALONE.get(node.name, node.name)
    if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
        power = node.exponent.rational
        if isinstance(node.base, Name) and node.base in named and power in POWERS:
            return f"{_word(named[node.base])}_{POWERS[int(power)]}"
        if power.denominator == 2 and power > 0:
            return "root"
    return ""


def _word(piece: Piece) -> str:
    """What a name is called in the code: of a member of a vector the vector."""
    return piece.text.partition("[")[0]


def result_type(name: str) -> str:
    """What the structure of the outputs of a function is called."""
    return f"{name}_result"


def result_class(name: str) -> str:
    """What the class of several outputs is called."""
    return "".join(w.capitalize() for w in f"{name}_result".split("_"))


def function_name(wanted: str, target: Target) -> str:
    """A name for the generated function, from any text such as a file's name."""
    stem = plain(wanted)[: target.longest - 12]
    return safe_names([stem], target, target.modules)[stem]


def check_function_name(name: str, target: Target) -> None:
    """An ExportError where a name that a person chose cannot be used as it is."""
    fold = str.lower if target.folds else str
    if not re.fullmatch(r"[A-Za-z][A-Za-z0-9_]*", name):
        raise ExportError(f"{name!r} cannot be the name of a function in {target.name}: write letters, digits and _")
    if len(name) > target.longest - 12:
        raise ExportError(f"the name of the function has {len(name)} letters; {target.name} has room for {target.longest - 12}")
    if fold(name) in {fold(w) for w in (*target.reserved, *target.modules)}:
        raise ExportError(f"{name!r} cannot be the name of a function in {target.name}: the word has a meaning there")
