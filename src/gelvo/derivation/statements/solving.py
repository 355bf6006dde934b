"""Equations solved, numbers asked for, claims checked."""

from __future__ import annotations

import re
from functools import partial
from typing import TypeVar

from gelvo.checking.certificate import Certificate
from gelvo.checking.putting_in import substitute_functions
from gelvo.derivation.measuring import put, with_unit
from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.errors import FormulaError
from gelvo.expression.equation import Equation, in_each
from gelvo.expression.nodes import Applied, Condition, Expression, Truth
from gelvo.forms.dimensions import has_quantities
from gelvo.matrices.matrix import Matrix
from gelvo.operations import solving, trust
from gelvo.operations.inputs import split_initial
from gelvo.operations.matrix_methods import solutions_of
from gelvo.operations.on_paper import as_function
from gelvo.operations.region import Region
from gelvo.operations.solution_set import SolutionSet
from gelvo.operations.solutions import Solutions
from gelvo.typesetting.solutions import further_text

V = TypeVar("V")


def _solve(said: Said) -> Result:
    wanted = said.get("for")
    of_matrices = _matrix_equation(said, wanted or "")
    if of_matrices is not None:
        return of_matrices
    targets = said.unknowns(_as_functions(said, wanted)) if wanted else []
    equations = [_equation(said, text) for text in said.listed()]
    targets = targets or [solving.the_one_unknown(equations)]
    initial = split_initial(said.given)[0] if any(isinstance(t, Applied) for t in targets) else []
    solutions = solving.solve(equations, targets, said.get("over"), [*initial, *said.facts.given], steps=said.derivation.steps)
    if isinstance(solutions, (SolutionSet, Region)):
        return said.result(solutions, certificate=solutions.certificate(), road=solutions.road)
    taking = said.get("taking")
    if taking is not None:
        solutions = solutions.taking(*[said.read(t) for t in said.listed(taking)])
    conditions = solutions.conditions_of(0) if len(solutions) == 1 else solutions.conditions  # of several each has its own
    return said.result(
        solutions, conditions=conditions, certificate=solutions.certificate(), road=solutions.road, details=_told(solutions),
        steps=solutions.steps,
    )  # fmt: skip


def _as_functions(said: Said, wanted: str) -> str:
    """`for y` as `for y(x)` where the equations have y' and nothing is said of y yet."""
    parts, known = said.listed(wanted), said.derivation
    meant = {*known.unknowns, *known.functions, *known.definitions}
    return ", ".join(p if p.strip() in meant else as_function(p, said.listed(), parts) for p in parts)


def _matrix_equation(said: Said, unknown: str) -> Result | None:
    """A*X = B, or X*A = B, for a matrix X; None for other equations."""
    left, equals, right = said.head.partition("=")
    pieces = re.fullmatch(
        rf"\s*(?:(?P<first>.+?)\s*\*\s*{re.escape(unknown)}|{re.escape(unknown)}\s*\*\s*(?P<second>.+?))\s*", left
    )
    if not (equals and unknown.strip() and pieces):
        return None
    known = pieces["first"] or pieces["second"]
    try:
        a, b = said.thing(known), said.thing(right)
    except FormulaError:
        return None
    if not (isinstance(a, Matrix) and isinstance(b, Matrix)):
        return None
    value, free = solutions_of(a, b, said.given, turned=not pieces["first"])
    details = [f"{', '.join(f'${c}$' for c in free)} any number{'s' if len(free) > 1 else ''}"] if free else []
    return said.result(
        (unknown.strip(), value), conditions=value.conditions, certificate=value.certificate(), details=details, value=value
    )


def _equation(said: Said, text: str) -> Equation | Expression | Condition:
    value = said.read(text)
    if not isinstance(value, (Equation, Expression, Condition)):
        raise said.fault(f"`{text}` is not an equation", text)
    return said.put(value)


def _told(solutions: Solutions) -> list[str]:
    """What is said beside the solutions."""
    details = [f"excluded: ${what}$ ({_marked(why)})" for what, why in solutions.excluded]
    if solutions.further:
        details.append(further_text(solutions))
    details += [f"where ${case}$: {_listed(then)}" for case, then in solutions.special_cases]
    if solutions.constants:
        kind = "any number" if len(solutions.constants) == 1 else "any numbers"
        details.append(f"{', '.join(f'${c}$' for c in solutions.constants)} {kind}")
    if solutions.families:
        details.append(", ".join(f"${n}$ any integer" for n in solutions.families))
    return details


def _marked(why: str) -> str:
    """A reason, the condition in it between dollar signs."""
    return re.sub(r"^(.+)(?= does not hold$)|(?<=^against )(.+)$", r"$\g<0>$", why)


def _listed(solutions: Solutions) -> str:
    """Solutions in one sentence, the formulas between dollar signs."""
    if solutions.everything or not len(solutions):
        return str(solutions)
    pieces = []
    for place, values in enumerate(solutions):
        conditions = [f"${c}$" for c in solutions.conditions_of(place)]
        pieces.append(
            ", ".join(f"${k} = {v}$" for k, v in values.items()) + (f" if {' and '.join(conditions)}" if conditions else "")
        )
    return " or ".join(pieces)


def _value(said: Said) -> Result:
    hint = f"Define it, or put a number in:  value {said.head} with {said.head} = …"
    said.derivation.known(said.head, *[n.name for n in said.values], hint=hint)
    digits, _, word = (said.get("to") or "15 digits").partition(" ")
    if not digits.isdecimal() or len(digits) > 9 or word.strip() not in ("digit", "digits"):
        raise said.fault("the digits of a value are asked for as  value E to 20 digits", digits)
    exact = said.formula()
    number = trust.value(exact, int(digits))
    note = "every digit is right, by error bounds" if number.bounded else "agreement at two precisions"
    verdict = "proved" if number.bounded else "supported"
    certificate = Certificate(f"{said.head} = {number}", verdict, note, {"exact value": exact})
    return said.result((said.head, number), unit=number.unit or _unit_before(said), certificate=certificate)


def _unit_before(said: Said) -> str:
    """The unit of a formula before numbers are put in for its letters."""
    units = said.derivation.units
    return units.get(said.head) or (with_unit(said.derivation.expression(said.head), units)[1] if units else "")


def _check(expected_refuted: bool, said: Said) -> Result:
    claim, stated = said.read(said.head), _stated(said)
    if stated:
        if not isinstance(claim, Equation):
            raise said.fault("a stated solution is checked in an equation", said.head)
        given = [_valued(said, g) for g in said.given]
        certificate = trust.check(_valued(said, claim), stated, given)
    else:
        certificate = _check_plain(said, claim)
    if isinstance(claim, Truth) or has_quantities(claim):  # the text says more than "always", or than units among letters
        return said.result(kind="check", note=said.head, certificate=certificate, expected_refuted=expected_refuted)
    where = [(Words("where"), Equation(k, v)) for k, v in stated.items()]
    values = [(Words("with"), Equation(k, v)) for k, v in said.values.items()]
    return said.result(
        claim, *where, *values, kind="check", certificate=certificate, expected_refuted=expected_refuted,
        conditions=certificate.conditions,
    )  # fmt: skip


def _stated(said: Said) -> dict[Expression, Expression]:
    """The solutions that `where` states, values put in."""
    listed = said.pairs(said["where"], "unknown = formula") if said.get("where") is not None else {}
    return {unknown: put(formula, said.values, said.derivation.units) for unknown, formula in listed.items()}


def _valued(said: Said, thing: V) -> V:
    """The values of `with` put in, also into unknown functions of them."""
    return in_each(thing, lambda e: substitute_functions(e, said.values))


def _check_plain(said: Said, claim: object) -> Certificate:
    if hasattr(claim, "certificate"):
        return claim.certificate()
    if not isinstance(claim, (Equation, Condition)):
        raise FormulaError(f"a claim is an equation or a condition, and {claim} is neither: write  left = right")
    replaced = [_valued(said, g) for g in split_initial(said.given)[1]]
    kept = [g for g in replaced if not (isinstance(g, Truth) and g.holds)]
    return trust.check(said.put(claim), given=kept)


_END = "[with VALUES] [given FACTS]"
_CLAIM = f"CLAIM [where x = E] {_END}"
STATEMENTS = (
    Statement(
        "solve", f"E, F [for x, y] [over DOMAIN] [taking FACTS] {_END}", _solve, "solve x^2 = a for x given a > 0 taking x > 0",
        "all solutions of equations, inequalities and differential equations",
    ),
    Statement("value", f"E [to COUNT] {_END}", _value, "value sqrt(2) to 10 digits", "a number, with the digits that are right"),
    Statement("check", _CLAIM, partial(_check, False), "check sqrt(x^2) = x given x > 0", "proves or refutes a claim"),
    Statement("check not", _CLAIM, partial(_check, True), "check not (x + 1)^2 = x^2 + 1", "expects that a claim is refuted"),
)  # fmt: skip
