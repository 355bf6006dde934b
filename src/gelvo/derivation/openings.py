"""The statements that say what a file is about: title, section, given, unknown, let."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from gelvo import library  # noqa: F401  (puts the hooks in place)
from gelvo.derivation import operations as carry
from gelvo.derivation.lines import OPENINGS, Line, clauses
from gelvo.derivation.measuring import measured_letters
from gelvo.derivation.results import Result, defined
from gelvo.derivation.state import MODES, UNIT, State, domain_of, letters_of, names_of
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import name as make_name
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression
from gelvo.facts.store import Facts
from gelvo.forms.dimensions import has_quantities, quantity
from gelvo.operations.solutions import Solutions
from gelvo.reading.context import Context
from gelvo.reading.reader import read
from gelvo.reading.stated import split_commas
from gelvo.reading.words import BOUNDS, CONSTANTS, plain_name
from gelvo.units import meant
from gelvo.units import unit as measure


def title(derivation: State, rest: str, line: Line) -> Result:
    derivation.title = rest
    return Result("title", rest, line.number)


def section(derivation: State, rest: str, line: Line) -> Result:
    return Result("section", rest, line.number)


def given(derivation: State, rest: str, line: Line) -> Result:
    shown: list[tuple[str, Any]] = []
    for part in split_commas(rest):
        unit = UNIT.search(part.strip())
        spelt = unit.group(1).strip() if unit else ""
        if unit and (near := meant(unit.group(1))):
            raise FormulaError("this is not a known unit", part, unit.start(), f"Did you mean  {{{near}}} ?")
        fact = derivation.fact(part, declares=True)
        for name in letters_of(fact) if spelt else ():
            derivation.units.setdefault(name, spelt)
        derivation.facts.append(fact)
        shown.append((spelt, fact))
        for name in names_of(fact):
            derivation.declared.setdefault(name, make_name(name, domain_of(fact)))
            derivation.failed.pop(name, None)
    try:
        Facts(derivation.facts)
    except DomainError:
        del derivation.facts[-len(shown) :]
        raise
    return Result("given", line.text, line.number, shown)


def unknown(derivation: State, rest: str, line: Line) -> Result:
    declared = []
    for part in split_commas(rest):
        match = re.fullmatch(r"\s*(\w+)\s*\(([^()]*)\)\s*(?:\{([^{}]*)\})?\s*", part)
        if not match:
            raise FormulaError("an unknown function is declared as  unknown theta(t)", line.text, line.text.find(part.strip()))
        name = plain_name(match.group(1))
        spelt = [plain_name(a.strip()) for a in match.group(2).split(",")]
        if not all(a.isidentifier() for a in spelt):
            raise FormulaError("an unknown function is declared as  unknown theta(t)", line.text, line.text.find("("))
        arguments = tuple(make_name(a) for a in spelt)
        derivation.unknowns[name] = arguments
        derivation.failed.pop(name, None)
        if match.group(3):
            derivation.units[name] = match.group(3).strip()
        declared.append(("", read(name, Context(unknowns=derivation.unknowns))))
    return Result("unknown", line.text, line.number, declared)


def let(derivation: State, rest: str, line: Line) -> Result:
    parts = clauses(rest, ("be",))
    body = parts.get("be")
    if body is None or not parts.head:
        raise FormulaError("a definition reads  let NAME be FORMULA", line.text, len(line.text))
    if len(parts.parts) > 1:
        raise FormulaError("a definition has one `be`:  let NAME be FORMULA", line.text, line.text.rfind(" be ") + 1)
    match = re.fullmatch(r"(\w+)\s*(?:\(([^()]*)\))?", parts.head)
    if not match or match.group(1)[0].isdigit():
        raise FormulaError(f"`{parts.head}` cannot be a name", line.text, line.text.find(parts.head))
    name = plain_name(match.group(1))
    if name in CONSTANTS or name in BOUNDS:
        raise FormulaError(
            f"`{match.group(1)}` has its meaning already", line.text, line.text.find(parts.head), "Choose another name."
        )
    derivation.failed.pop(name, None)
    if match.group(2) is not None:
        return _let_function(derivation, name, match.group(2), body, line)
    result = carry.operation(derivation, body, line, defining=True)
    value = defined(name, result)
    own = [derivation.conditions.get(w, ()) for w in dict.fromkeys(re.findall(r"[^\W\d]\w*", body))]
    derivation.conditions[name] = tuple(dict.fromkeys([*result.conditions, *[c for group in own for c in group]]))
    result.kind, result.statement = "let", line.text
    if result.value is None:
        result.shown[-1] = (name if not isinstance(value, (Solutions, Equation)) else "", value)
    derivation.units.pop(name, None)
    derivation.note_unit(result)
    derivation.definitions[name] = _measured(derivation, name, value, result.unit)
    derivation.functions.pop(name, None)
    return result


def _measured(derivation: State, name: str, value: Any, unit: str) -> Any:
    """A definition that later formulas can add and compare: where a number stands for a letter, the unit comes with it."""
    formula = getattr(value, "expression", value)
    derivation.unmeasured.pop(name, None)
    if unit:
        derivation.units[name] = unit
    if not derivation.units or not isinstance(formula, Expression) or has_quantities(formula):
        return value
    letters = derivation.modes - MODES
    if not letters - measured_letters(formula, derivation.units):
        return value
    try:
        return formula * quantity(measure(unit))
    except DomainError:
        derivation.unmeasured[name] = unit
        return value


def _let_function(derivation: State, name: str, arguments: str, body: str, line: Line) -> Result:
    parameters = tuple(make_name(plain_name(a.strip())) for a in arguments.split(","))
    hidden = {p.name: derivation.definitions.pop(p.name) for p in parameters if p.name in derivation.definitions}
    try:
        value = derivation.read(body)
    finally:
        derivation.definitions.update(hidden)
    value = getattr(value, "expression", value)
    derivation.functions[name] = (parameters, value)
    return Result("let", line.text, line.number, [(f"{name}({', '.join(p.name for p in parameters)})", value)])


OPENING_STATEMENTS: dict[str, Callable[[State, str, Line], Result]] = dict(
    zip(OPENINGS, (title, section, given, unknown, let), strict=True)
)
