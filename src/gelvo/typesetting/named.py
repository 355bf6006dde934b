"""Definitions stay visible: results are written with the symbols that a derivation has introduced, and say what those are.

A symbol stands for a formula without variables (a frequency, a time constant) inside of roots, functions, quotients and products;
a result that is nothing but a definition, or a sum of some, is shown as it is.
"""

from __future__ import annotations

from collections.abc import Iterable

from gelvo.expression.building import name, scale
from gelvo.expression.display import is_variable
from gelvo.expression.nodes import Applied, Expression, Name, Node, Number, Sum
from gelvo.expression.traversal import distinct_nodes, free_names, names, postorder, substitute
from gelvo.expression.writing import writing_now
from gelvo.forms.abbreviating import replace
from gelvo.forms.dimensions import has_quantities
from gelvo.typesetting.letters import LETTERS

MOST_LOOKED_AT = 2_000  # parts of a formula in which symbols are looked for


def is_symbol(letter: str) -> bool:
    """Whether a name is written as a letter: omega_d, tau; not a word such as decay."""
    stem = letter.partition("_")[0]
    return len(stem) == 1 or stem in LETTERS


def may_stand_for(letter: str, formula: object) -> bool:
    """Whether a definition is one by which results are written."""
    if (
        not isinstance(formula, Expression)
        or isinstance(formula, (Number, Name))
        or not is_symbol(letter)
        or has_quantities(formula)
    ):
        return False
    letters = free_names(formula)
    moving = any(isinstance(n, Applied) for n in postorder(formula)) or any(map(is_variable, letters))
    return bool(letters) and not moving


def kept(formula: Expression) -> Expression:
    """A formula written with the symbols of the derivation."""
    named = writing_now().named
    if not named or writing_now().names == "expanded" or isinstance(formula, Name):
        return formula
    if distinct_nodes(formula) > MOST_LOOKED_AT:
        return formula
    taken = {n.name for n in names(formula)}
    whole = {formula, *(scale(term, c) for term, c in (formula.items() if isinstance(formula, Sum) else ()))}
    short = formula
    for letter, meaning in reversed(named):  # what was defined later may hold what was defined before
        if letter not in taken and meaning not in whole:
            symbol = name(letter)
            found = replace(short, meaning, symbol)
            short = found if substitute(found, {symbol: meaning}) is short else short
    return short


def meanings(formulas: Iterable[Node]) -> list[tuple[str, Expression]]:
    """What the symbols in formulas stand for that are written with them, the latest first."""
    named = dict(writing_now().named)
    found: dict[str, Expression] = {}
    waiting = [f for f in formulas if isinstance(f, Expression)]
    while waiting:
        formula = waiting.pop(0)
        before = {n.name for n in names(formula)}
        for symbol in names(kept(formula)):
            if symbol.name not in before and symbol.name not in found:
                found[symbol.name] = named[symbol.name]
                waiting.append(named[symbol.name])
    return [(letter, found[letter]) for letter, _ in reversed(writing_now().named) if letter in found]
