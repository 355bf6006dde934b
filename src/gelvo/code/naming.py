"""Identifiers for the names of users: ASCII, of a length that the language takes, in conflict with nothing."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from gelvo.code.target import Target
from gelvo.errors import ExportError


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
