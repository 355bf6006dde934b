"""What is said of faulty formula text: what was found, what is needed, where, and what was probably meant."""

from __future__ import annotations

import difflib
import re
from collections.abc import Iterable
from typing import NamedTuple

from gelvo.errors import FormulaError
from gelvo.expression.registry import FUNCTIONS
from gelvo.reading.words import GREEK, SAME_FUNCTION, SUPERSCRIPTS

OPENING, CLOSING = "([{", ")]}"


def unbalanced(text: str) -> FormulaError | None:
    """A parenthesis without its partner."""
    stack: list[int] = []
    for place, letter in enumerate(text):
        if letter in OPENING:
            stack.append(place)
        elif letter in CLOSING:
            if not stack:
                return FormulaError(f"this `{letter}` closes nothing", text, place, "Leave it out, or open it before.")
            opened = stack.pop()
            if OPENING.index(text[opened]) != CLOSING.index(letter):
                return FormulaError(f"`{letter}` closes the `{text[opened]}` at column {opened + 1}", text, place)
    if stack:
        place = stack[-1]
        return FormulaError(f"this `{text[place]}` is never closed", text, place, f"Add `{CLOSING[OPENING.index(text[place])]}`.")
    return None


def syntax(text: str, column: int, found: str) -> FormulaError:
    """The message for text that the grammar refuses at a column."""
    fault = unbalanced(text)
    if fault is not None:
        return fault
    before, after = text[:column].rstrip(), text[column:]
    if before.endswith("=") and after.startswith("="):
        before, after, column = before[:-1].rstrip(), "=" + after, column - 1
    place = _Place(text, column, before, after)
    for look in (_nothing, _side_by_side, _by_pattern, _raised_function, _foreign_sign, _missing_sign):
        fault = look(place)
        if fault is not None:
            return fault
    if not after.strip():
        return FormulaError("the formula ends too early: a value is missing here", text, len(text.rstrip()), "")
    if re.search(r"[-+*/^(,=<>]$", before) or not before:
        return FormulaError(f"a value is missing before `{found}`", text, column, "Write a number, a name or a parenthesis.")
    return FormulaError(f"`{found}` cannot stand here", text, column, "")


class _Place(NamedTuple):
    """Where the grammar stopped: the text, the column, what stands before and after."""

    text: str
    column: int
    before: str
    after: str


def _nothing(place: _Place) -> FormulaError | None:
    if place.text.strip():
        return None
    return FormulaError("there is no formula", place.text or " ", 0, "Write one, for example  x^2 + 1")


def _side_by_side(place: _Place) -> FormulaError | None:
    for left, right, message in _BESIDE:
        ends, begins = re.search(left, place.before), re.match(right, place.after)
        if ends and begins:
            fixed = ends.group() + re.sub(r"\W", "", begins.group())
            return FormulaError(message, place.text, ends.start(), f"Did you mean  {fixed} ?")
    return None


def _by_pattern(place: _Place) -> FormulaError | None:
    for pattern, message, meant in _RULES:
        match = re.match(pattern, place.after)
        if match:
            fixed = meant(place.before, place.after, match) if meant else ""
            return FormulaError(message, place.text, place.column, f"Did you mean  {fixed} ?" if fixed else "")
    return None


def _raised_function(place: _Place) -> FormulaError | None:
    raised = re.search(r"([^\W\d][a-z0-9]*)\s*(\^\s*\(?\s*-?\d+\s*\)?|[⁺⁻]?[⁰¹²³⁴-⁹]+)$", place.before)
    if raised and names_a_function(raised.group(1)) and place.after.startswith("("):
        return function_alone(place.text, raised.start(), raised.group(1))
    return None


def _foreign_sign(place: _Place) -> FormulaError | None:
    for sign, right in _SIGNS.items():
        column = place.text.find(sign, max(0, place.column - 1), place.column + 2)
        if column >= 0:
            return FormulaError(f"`{sign}` is not a sign of formulas", place.text, column, right)
    return None


def _missing_sign(place: _Place) -> FormulaError | None:
    """A value beside a value: parentheses are missing after a function, else a multiplication sign."""
    if not re.match(r"[\w(π√∞]", place.after):
        return None
    called = re.search(r"([^\W\d]\w*)$", place.before)
    if called and called.group() in FUNCTIONS | {"sqrt": None, "log": None}:
        meant = f"Did you mean  {called.group()}({_first(place.after)}) ?"
        return FormulaError("a function stands before its argument in parentheses", place.text, place.column, meant)
    if place.before and re.search(r"[\w)\]'²³]$", place.before):
        meant = f"Did you mean  {_last(place.before)}*{_first(place.after)} ?"
        return FormulaError("a multiplication sign is missing here", place.text, place.column, meant)
    return None


def _decimal_comma(before: str, after: str, match: re.Match[str]) -> str:
    whole = re.search(r"\d+$", before)
    return f"{whole.group()}.{match.group(1)}" if whole else ""


_RULES = [
    (r",\s*(\d+)(?![\w.])", "a comma cannot stand in a number, and there is no list here", _decimal_comma),
    (r",", "this comma separates nothing: a list stands only between a function's parentheses", None),
    (r"==", "`==` is not used in formulas: one `=` states an equation", lambda b, a, m: f"{b.strip()} = {a[2:].strip()}"),
    (r"=", "`=` stands where a value is needed", None),
    (r"&+|\|\|", "conditions are joined by the words `and` and `or`", None),
    (r"%", "a percent sign has no meaning in a formula", lambda b, a, m: f"{_last(b)}/100"),
    (r"[\"“”„]", "quotation marks cannot stand in a formula", None),
    (r"\\", "the commands of typeset formulas are not read: write alpha for \\alpha, a/b for a fraction", None),
    (r"\$", "dollar signs stand around typeset formulas only", None),
    (
        r"\{[^{}]*\}",
        "a unit stands directly after a number; anything else is multiplied by it",
        lambda b, a, m: f"{_last(b)}*{m.group()}",
    ),
    (r"[\[\{]", "only round parentheses group values in a formula", None),
]


# what ends before the place, what begins there, and what is said: both together are meant as one word
_BESIDE = [
    (r"(?<![\w.])\d{1,3}$", r"'?\d{3}(?:[ ']\d{3})*(?![\w.])", "digits are not grouped"),
    (r"[^\W\d]\w*_$", r"\{\s*\w+\s*\}", "a lowered sign is part of the name, without braces"),
]
_SIGNS = {
    "<>": "Did you mean  != ?", "=<": "Did you mean  <= ?", "=>": "Did you mean  >= ?", ":=": "An equation has  =",
    "->": "A limit is asked for as  limit E as x -> 0, or limit(E, x, 0)", "≈": "Numbers are compared by  value",
    "∫": "An integral is written  integral_of(f, x) , or  integral_of(f, x, a, b)", "∑": "A sum is written  sum_of(f, k, 1, n)",
}  # fmt: skip


def names_a_function(name: str) -> bool:
    """Whether a word can be meant as nothing but a function: not gamma, beta and zeta, nor the short Si or re."""
    return (
        (len(name) > 2 or name == "ln") and name not in GREEK.values() and (name in FUNCTIONS or name in (*SAME_FUNCTION, "sqrt"))
    )


def function_alone(text: str, column: int, name: str) -> FormulaError:
    """A function's name without its argument, `sin^2(x)` or `2*sin`."""
    power = re.match(
        r"\w+?\s*(?:\^\s*\(?\s*(?P<count>-?\s*\d+)\s*\)?|(?P<high>[⁺⁻]?[⁰¹²³⁴-⁹]+))\s*(?P<inside>\([^()]*\)|[\w.]+)",
        text[column:],
    )
    hint = f"Write  {name}(…)"
    if power:
        count = (power["count"] or power["high"].translate(SUPERSCRIPTS)).replace(" ", "").lstrip("+")
        inside = power["inside"] if power["inside"].startswith("(") else f"({power['inside']})"
        hint = f"Did you mean  {name}{inside}^{count} ?"
        if count == "-1" and f"a{name}" in FUNCTIONS:
            hint = f"Write  a{name}{inside}  for the inverse,  1/{name}{inside}  for the reciprocal."
    return FormulaError(f"`{name}` is a function, and its argument stands directly after it", text, column, hint)


def _last(text: str) -> str:
    match = re.search(r"[\w.]*\([^()]*\)$|[\w.⁰¹²³⁴-⁹⁺⁻]+$", text)
    return match.group() if match else text[-8:]


def _first(text: str) -> str:
    called = re.match(r"([^\W\d]\w*)\s+([\w.]+)", text)
    if called and called.group(1) in FUNCTIONS:
        return f"{called.group(1)}({called.group(2)})"
    match = re.match(r"[\w.]+(\([^()]*\))?|\([^()]*\)", text)
    return match.group() if match else text[:8]


def unknown_function(text: str, column: int, name: str, arguments: str, variables: Iterable[str]) -> FormulaError:
    """A name before a parenthesis that is no function."""
    near = difflib.get_close_matches(name.lower(), [*FUNCTIONS, "sqrt"], n=3, cutoff=0.6)
    bare = re.fullmatch(r"[^\W\d]\w*(\s*,\s*[^\W\d]\w*)*", arguments)
    if name in set(variables) or (len(name) <= 2 and not bare):
        return FormulaError(
            f'`{name}` is a variable, and a name before "(" is a function call.', text, column + len(name),
            f"Did you mean  {name}*({arguments}) ?",
        )  # fmt: skip
    if len(name) <= 2 or "_" in name or not near:
        inside = arguments if bare else "t"
        return FormulaError(
            f'`{name}` is not a known function, and a name before "(" is a function call.', text, column + len(name),
            f"Did you mean  {name}*({arguments}) ?  An unknown function is declared first, as {name}({inside}).",
        )  # fmt: skip
    listed = " or ".join(f"`{n}`" for n in near)
    return FormulaError(f"`{name}` is not a known function", text, column, f"Did you mean {listed} ?")


def undeclared_product(text: str, column: int, name: str, declared: Iterable[str]) -> FormulaError | None:
    """`ab` where `a` and `b` are declared and `ab` is not."""
    parts = split_name(name, set(declared))
    if parts is None:
        return None
    return FormulaError(
        f"`{name}` is not declared, but {' and '.join(f'`{p}`' for p in dict.fromkeys(parts))} are",
        text, column, f"Did you mean  {'*'.join(parts)} ?",
    )  # fmt: skip


def split_name(name: str, declared: set[str]) -> list[str] | None:
    """A name as a chain of at least two declared names, or None."""
    ways: dict[int, list[str]] = {0: []}
    for start in range(len(name)):
        if start not in ways:
            continue
        for stop in range(start + 1, len(name) + 1):
            if name[start:stop] in declared and stop not in ways:
                ways[stop] = [*ways[start], name[start:stop]]
    found = ways.get(len(name))
    return found if found and len(found) > 1 else None
