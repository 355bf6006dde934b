"""What the head of generated code says: the formulas, the inputs with units and domains, where it holds, and how good its numbers are."""

from __future__ import annotations

import math
import textwrap
from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

from gelvo.code.digits.improving import Digits
from gelvo.code.digits.points import Ends
from gelvo.code.layout import NUMBER, STRUCTURE, VECTOR, Layout
from gelvo.code.precision import DOUBLE, Precision
from gelvo.expression.nodes import Expression, Name
from gelvo.facts.store import Facts

MOST_PROSE, MOST_LINES, WIDTH, MOST_MEMBERS = 4000, 200, 92, 40
DOMAINS = {
    "positive": "> 0", "nonnegative": ">= 0", "negative": "< 0", "nonzero": "not 0", "integer": "a whole number",
    "natural": "a whole number >= 0",
}  # fmt: skip


class Stated(NamedTuple):
    """What is said of a program: its outputs as they were written, facts, ranges of the inputs, and which digits are wanted.

    symbols: definitions of a derivation; short: the outputs written with those; accepted: the error in units in the last place that the
    person takes, where it is more than what is allowed; by_largest: whether the errors of a vector are told in units of its largest number,
    as they are where it is the solution of linear equations; counted: whether numbers of very many digits stand for roots without closed
    form.
    """

    outputs: dict[str, Expression]
    facts: Facts
    ranges: dict[Name, Ends]
    goal: str
    symbols: tuple[tuple[Name, Expression], ...] = ()
    short: Mapping[str, Expression] = MappingProxyType({})
    accepted: float = 0.0
    by_largest: bool = False
    precision: Precision = DOUBLE
    counted: bool = False


def prose(
    name: str, outputs: Mapping[str, Expression], inputs: Sequence[Name], units: Mapping[str, str], said: Stated, layout: Layout
) -> list[str]:
    """The lines of the head; each target turns them into a comment by its own way."""
    few = len(outputs) <= MOST_LINES
    shown = [f"{_with_unit(k, units)} = {said.short.get(k, v)}" for k, v in outputs.items()] if few else []
    shown += [f"where {symbol} = {meaning}" for symbol, meaning in said.symbols]
    listed = f"inputs, in this order: {_inputs(inputs, units, said, layout) or 'none'}"
    given = [str(f) for f in said.facts.given]
    lines = [*shown, ""] if sum(map(len, shown)) < MOST_PROSE else []
    lines += [
        "a solution of linear equations: errors are allowed in units of the largest number, times the square of how many there are"
    ] * said.by_largest
    lines += [f"an error of up to {said.accepted:g} ULP was accepted"] * bool(said.accepted)
    lines += ["numbers of single precision; what would lose digits is worked out in double precision"] * said.precision.is_single
    lines += [listed, *[f"holds where {', '.join(given)}"] * bool(given)]
    return [f"{name}: made by Gelvo from exact formulas", "", *_wrapped(lines)]


def known(digits: Mapping[str, Digits]) -> list[str]:
    """What is known of the digits."""
    lines = [f"digits of {k}: {d}" for k, d in digits.items()]
    return ["", *_wrapped(lines)] if lines and sum(map(len, lines)) < MOST_PROSE else []


def _inputs(inputs: Sequence[Name], units: Mapping[str, str], said: Stated, layout: Layout) -> str:
    told = [_input(n, units, said.ranges) for n in inputs]
    words: list[str] = []
    for place, group in layout.starts():
        each = told[place : place + len(group.members)]
        own = ", ".join(each if len(each) <= MOST_MEMBERS else [*each[:2], "...", f"{each[-1]} ({len(each)} numbers)"])
        shown = {NUMBER: own, VECTOR: f"{group.name} = [{own}]", STRUCTURE: f"{group.name} = {{{own}}}"}
        words.append(shown[group.kind])
    return ", ".join(words)


def _input(name: Name, units: Mapping[str, str], ranges: Mapping[Name, Ends]) -> str:
    """An input with its unit, and what is known of it: nothing is said of a real number that may be any."""
    low, high = ranges.get(name, (-math.inf, math.inf))
    where = [f"{low:g} to {high:g}"] if name in ranges else [DOMAINS[name.domain]] if name.domain in DOMAINS else []
    return _with_unit(name.name, units) + "".join(f" ({w})" for w in where)


def _with_unit(word: str, units: Mapping[str, str]) -> str:
    return f"{word} in {units[word]}" if units.get(word) else word


def _wrapped(lines: Sequence[str]) -> list[str]:
    return [
        part for line in lines for part in (textwrap.wrap(line, WIDTH, break_long_words=False, subsequent_indent="  ") or [""])
    ]
