"""The statements that say what a file is about: title, section, given, unknown, let."""

from __future__ import annotations

import re
from typing import Any

from gelvo.derivation.measuring import measured_letters
from gelvo.derivation.results import Result, defined
from gelvo.derivation.said import Said
from gelvo.derivation.state import MODES, UNIT, State, domain_of, letters_of, names_of
from gelvo.derivation.statement import Statement
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import name as make_name
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression
from gelvo.expression.writing import with_options, writing_now
from gelvo.facts.store import Facts
from gelvo.forms.dimensions import has_quantities, quantity
from gelvo.operations.solutions import Solutions
from gelvo.reading.context import Context
from gelvo.reading.reader import read
from gelvo.reading.words import BOUNDS, CONSTANTS, plain_name
from gelvo.units import meant
from gelvo.units import unit as measure


def _title(said: Said) -> Result:
    said.derivation.title = said.head
    return Result("title", said.head, said.line.number)


def _section(said: Said) -> Result:
    return Result("section", said.head, said.line.number)


def _given(said: Said) -> Result:
    shown: list[tuple[str, Any]] = []
    derivation = said.derivation
    for part in said.listed():
        unit = UNIT.search(part)
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
    return said.result(*shown, kind="given")


def _show(said: Said) -> Result:
    """How results are written from here on: an option and its word, several between commas."""
    options: dict[str, Any] = {}
    for part in said.listed():
        option, _, word = (piece.strip() for piece in part.partition(" "))
        if said.derivation.stands_for_something(plain_name(option)):
            raise said.fault(
                "`show` says how results are written", part, f"What a name stands for is said by the name alone:  {option}"
            )
        options[option] = int(word) if word.isdecimal() and len(word) < 4 else word
    said.derivation.writing = with_options(said.derivation.writing, options)
    shown = ", ".join(f"{option} {word}" for option, word in options.items())
    return said.result(kind="show", note=f"results are written with {shown} from here on")


def _unknown(said: Said) -> Result:
    declared = []
    for part in said.listed():
        match = re.fullmatch(r"(\w+)\s*\(([^()]*)\)\s*(?:\{([^{}]*)\})?", part)
        spelt = [plain_name(a) for a in said.listed(match.group(2))] if match else []
        if match is None or not all(a.isidentifier() for a in spelt):
            raise said.fault("an unknown function is declared as  unknown theta(t)", part)
        name = plain_name(match.group(1))
        said.derivation.unknowns[name] = tuple(make_name(a) for a in spelt)
        said.derivation.failed.pop(name, None)
        if match.group(3):
            said.derivation.units[name] = match.group(3).strip()
        declared.append(read(name, Context(unknowns=said.derivation.unknowns)))
    return said.result(*declared, kind="unknown")


def _let(said: Said) -> Result:
    derivation, line, body = said.derivation, said.line, said["be"]
    if len(said.cuts) > 2:
        raise FormulaError("a definition has one `be`:  let NAME be FORMULA", line.text, line.text.rfind(" be ") + 1)
    match = re.fullmatch(r"(\w+)\s*(?:\(([^()]*)\))?", said.head)
    if not match or match.group(1)[0].isdigit():
        raise said.fault(f"`{said.head}` cannot be a name", said.head)
    name = plain_name(match.group(1))
    if name in CONSTANTS or name in BOUNDS:
        raise said.fault(f"`{match.group(1)}` has its meaning already", said.head, "Choose another name.")
    derivation.failed.pop(name, None)
    if match.group(2) is not None:
        return _let_function(said, name, match.group(2), body)
    result = derivation.carried_out(body, line, defining=True)
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
    derivation.came_in[name], derivation.built_on[name] = writing_now().came_in, derivation.used_in(line.text)
    return result


def _measured(derivation: State, name: str, value: object, unit: str) -> object:
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


def _let_function(said: Said, name: str, arguments: str, body: str) -> Result:
    definitions = said.derivation.definitions
    parameters = tuple(make_name(plain_name(a)) for a in said.listed(arguments))
    hidden = {p.name: definitions.pop(p.name) for p in parameters if p.name in definitions}
    try:
        value = said.read(body)
    finally:
        definitions.update(hidden)
    value = getattr(value, "expression", value)
    said.derivation.functions[name] = (parameters, value)
    said.derivation.came_in[name], said.derivation.built_on[name] = writing_now().came_in, said.derivation.used_in(said.line.text)
    return said.result((f"{name}({', '.join(p.name for p in parameters)})", value), kind="let")


STATEMENTS = (
    Statement("title", "TEXT", _title, "title A pendulum", "the heading of the report", whole=True),
    Statement("section", "TEXT", _section, "section First steps", "a heading inside of it", whole=True),
    Statement("given", "FACTS", _given, "given J > 0 {kg m^2}, n integer", "facts and units for all that follows", whole=True),
    Statement(
        "show", "OPTION WORD, OPTION WORD", _show, "show decimals 4, powers ascending",
        "how results are written from here on: powers, fractions, decimals, derivatives, names", whole=True,
    ),
    Statement("unknown", "f(t), g(t)", _unknown, "unknown theta(t) {rad}, x(t)", "functions to be found", whole=True),
    Statement(
        "let", "NAME be STATEMENT", _let, "let w be solve w^2 = k/m for w given k > 0, m > 0 taking w > 0",
        "a name for a formula, a function such as E(v), or what a statement gives", whole=True,
    ),
)  # fmt: skip
