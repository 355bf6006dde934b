"""Equations solved, numbers asked for, claims checked."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from gelvo.checking.certificate import Certificate
from gelvo.checking.claims import substitute_functions
from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.measuring import put, with_unit
from gelvo.derivation.results import Result
from gelvo.derivation.statements.parts import Handler, facts_of, pairs, put_in, refuse
from gelvo.errors import FormulaError
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Truth
from gelvo.expression.traversal import substitute
from gelvo.forms.dimensions import has_quantities
from gelvo.operations import solving, trust
from gelvo.operations.inputs import split_initial
from gelvo.operations.solutions import SolutionSet, family_note
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _solve(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "for", "over", "with", "given", "taking")
    unknowns = parts.get("for")
    targets = [derivation.unknown(u.strip()) for u in split_commas(unknowns)] if unknowns else []
    equations = []
    for text in split_commas(parts.head):
        value = derivation.read(text)
        if not isinstance(value, (Equation, Expression, Condition)):
            raise FormulaError(f"`{text.strip()}` is not an equation", line.text, max(line.text.find(text.strip()), 0))
        equations.append(put_in(derivation, value, parts))
    targets = targets or [solving.the_one_unknown(equations)]
    given = derivation.given(parts.get("given"), parts.head)
    stated = (
        [*split_initial(given)[0], *facts_of(given).given]
        if any(isinstance(t, Applied) for t in targets)
        else facts_of(given).given
    )
    solutions = solving.solve(equations, targets, parts.get("over"), stated, steps=derivation.steps)
    if isinstance(solutions, SolutionSet):
        return Result("step", line.text, line.number, [("", solutions)], certificate=solutions.certificate(), road=solutions.road)
    taking = parts.get("taking")
    if taking is not None:
        solutions = solutions.taking(*[derivation.read(t) for t in split_commas(taking)])
    conditions = solutions.conditions_of(0) if len(solutions) == 1 else solutions.conditions  # of several each has its own
    details = [f"excluded: {what} ({why})" for what, why in solutions.excluded]
    if solutions.further:
        details.append(f"there are {solutions.further} further complex solutions")
    details += [f"where {case}: {then}" for case, then in solutions.special_cases]
    if solutions.constants:
        kind = "any number" if len(solutions.constants) == 1 else "any numbers"
        details.append(f"{', '.join(map(str, solutions.constants))} {kind}")
    if solutions.families:
        details.append(f"{family_note(solutions)}")
    return Result(
        "step", line.text, line.number, [("", solutions)], conditions=conditions, certificate=solutions.certificate(),
        road=solutions.road, details=details, steps=solutions.steps,
    )  # fmt: skip


def _value(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "to", "with", "given")
    digits = 15
    to = parts.get("to")
    name = parts.head.strip()
    hint = f"Define it, or put a number in:  value {name} with {name} = …"
    derivation.known(name, *[n.name for n in derivation.values(parts.get("with"))], hint=hint)
    if to is not None:
        match = re.fullmatch(r"([0-9]{1,9})\s*digits?", to)
        if not match:
            raise FormulaError(
                "the digits of a value are asked for as  value E to 20 digits", line.text, max(line.text.find(to), 0)
            )
        digits = int(match.group(1))
    exact = put_in(derivation, derivation.expression(parts.head), parts)
    number = trust.value(exact, digits)
    unit = number.unit or _unit_before(derivation, parts)
    note = "every digit is right, by error bounds" if number.bounded else "agreement at two precisions"
    certificate = Certificate(
        f"{parts.head} = {number}", "proved" if number.bounded else "supported", note, {"exact value": exact}
    )
    return Result("step", line.text, line.number, [(parts.head, number)], unit=unit, certificate=certificate)


def _unit_before(derivation: State, parts: Clauses) -> str:
    """The unit of a formula before numbers are put in for its letters."""
    own = derivation.units.get(parts.head.strip())
    return own or (with_unit(derivation.expression(parts.head), derivation.units)[1] if derivation.units else "")


def _check(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "where", "with", "given", "for")
    head, expected = parts.head, False
    if re.match(r"not\s", head):
        head, expected = head[4:].strip(), True
    given = derivation.given(parts.get("given"), line.text)
    table = derivation.values(parts.get("with"))
    claim = derivation.read(head)
    where = parts.get("where")
    if where is None:
        certificate = _check_plain(derivation, claim, given, table)
        shown = claim
    else:
        listed = pairs(derivation, where, line, "unknown = formula")
        stated = {unknown: put(formula, table, derivation.units) for unknown, formula in listed.items()}
        if not isinstance(claim, Equation):
            raise FormulaError("a stated solution is checked in an equation", line.text, max(line.text.find(head), 0))
        given = [_replaced(g, table) for g in given]
        certificate = trust.check(_replaced(claim, table), stated, given)
        shown = claim
    things: list[tuple[str, Any]] = [("", shown)]
    if isinstance(claim, Truth) or has_quantities(claim):  # the text says more than "always", or than units among letters
        return Result("check", line.text, line.number, note=head, certificate=certificate, expected_refuted=expected)
    if where is not None:
        things += [("where", Equation(k, v)) for k, v in stated.items()]
    if table:
        things += [("with", Equation(k, v)) for k, v in table.items()]
    return Result(
        "check",
        line.text,
        line.number,
        things,
        certificate=certificate,
        expected_refuted=expected,
        conditions=certificate.conditions,
    )


def _replaced(thing: Any, table: Mapping[Any, Expression]) -> Any:
    if not table:
        return thing
    if isinstance(thing, Equation):
        return Equation(substitute_functions(thing.left, table), substitute_functions(thing.right, table))
    return substitute(thing, table) if isinstance(thing, (Expression, Condition)) else thing


def _check_plain(derivation: State, claim: Any, given: list[Any], table: dict[Name, Expression]) -> Certificate:
    if hasattr(claim, "certificate"):
        return claim.certificate()
    if not isinstance(claim, (Equation, Condition)):
        raise FormulaError(f"a claim is an equation or a condition, and {claim} is neither: write  left = right")
    replaced = [_replaced(g, table) for g in split_initial(given)[1]]
    kept = [g for g in replaced if not (isinstance(g, Truth) and g.holds)]
    return trust.check(put(claim, table, derivation.units), given=kept)


STATEMENTS: dict[str, Handler] = {"solve": _solve, "value": _value, "check": _check}
