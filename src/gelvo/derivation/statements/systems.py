"""The statements of mechanics, networks and numbers: equations of motion, first-order form, transfer functions, numeric solutions."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from gmpy2 import mpq

from gelvo.checking.claims import check_identity
from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.results import Result
from gelvo.derivation.statements.parts import Handler, body, facts_of, put_in, reads, refuse
from gelvo.errors import DomainError, FormulaError
from gelvo.evaluation.value import Value
from gelvo.expression.building import applied, number
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied
from gelvo.operations.numeric import numeric_solution, roots_between
from gelvo.physics import mechanics, motion, systems
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _functions(derivation: State, text: str) -> list[Applied]:
    found = []
    for part in split_commas(text):
        value = derivation.unknown(part.strip())
        if not isinstance(value, Applied):
            raise FormulaError(f"`{part.strip()}` is not an unknown function: declare  unknown {part.strip()}(t)", text, 0)
        found.append(value)
    return found


def _equations_of_motion(derivation: State, parts: Clauses, line: Line) -> Result:
    """equations of motion of T, V for theta, phi"""
    refuse(parts, "for", "given")
    wanted, energies = parts.get("for"), split_commas(body(parts.head))
    if wanted is None or len(energies) != 2:
        raise reads(line, "equations of motion of T, V for theta, phi")
    T, V = (derivation.expression(e) for e in energies)
    found = mechanics.equations_of_motion(T, V, _functions(derivation, wanted), given=facts_of(derivation.given(None)).given)
    shown: list[tuple[str, Any]] = [(f"equation {k}", e) for k, e in enumerate(found.equations, 1)]
    return Result("step", line.text, line.number, shown, value=found)


def _part_of_motion(part: str) -> Handler:
    """mass matrix of motion"""

    def handler(derivation: State, parts: Clauses, line: Line) -> Result:
        refuse(parts)
        name = body(parts.head)
        found = derivation.definitions.get(name)
        if not isinstance(found, mechanics.Motion):
            raise DomainError(f"{name} is not a motion: let {name} be equations of motion of T, V for theta")
        return Result("step", line.text, line.number, [("", getattr(found, part))])

    return handler


def _equation_of_motion(derivation: State, parts: Clauses, line: Line) -> Result:
    """equation 1 of motion"""
    refuse(parts)
    match = re.fullmatch(r"([0-9]{1,9})\s+of\s+(\w+)", parts.head)
    found = derivation.definitions.get(match.group(2)) if match else None
    if match is None or not isinstance(found, mechanics.Motion):
        raise reads(line, "equation 1 of NAME, for a NAME defined by equations of motion")
    k = int(match.group(1))
    if not 1 <= k <= len(found.equations):
        raise DomainError(f"{match.group(2)} has {len(found.equations)} equations, and no number {k}")
    return Result("step", line.text, line.number, [("", found.equations[k - 1])])


def _conserved(derivation: State, parts: Clauses, line: Line) -> Result:
    """conserved E along motion: proved through the accelerations"""
    match = re.fullmatch(r"(.*)\salong\s+(\w+)", parts.head, re.S)
    refuse(parts, "given")
    found = derivation.definitions.get(match.group(2)) if match else None
    if match is None or not isinstance(found, mechanics.Motion):
        raise reads(line, "conserved E along NAME, for a NAME defined by equations of motion")
    given = derivation.given(parts.get("given"), line.text)
    quantity = derivation.expression(match.group(1))
    rate = mechanics.along(quantity, found, facts_of(given).given)
    certificate = check_identity(rate, number(0), facts_of(given), f"{match.group(1)} does not change along the motion")
    return Result("check", line.text, line.number, [("", quantity)], certificate=certificate)


def _first_order(derivation: State, parts: Clauses, line: Line) -> Result:
    """first order form of motion for theta, phi"""
    refuse(parts, "for", "with", "given")
    found = _form(derivation, parts, body(parts.head), line)
    shown: list[tuple[str, Any]] = []
    for state, rate in zip(found.states, found.rates, strict=True):
        meaning = found.meaning[state]
        assert isinstance(meaning, Applied)
        shown.append((f"{state}'", Equation(applied(meaning.name, meaning.arguments, (meaning.orders[0] + 1,)), rate)))
    return Result("step", line.text, line.number, shown, value=found)


def _form(derivation: State, parts: Clauses, text: str, line: Line) -> systems.FirstOrder:
    known = derivation.definitions.get(text.strip())
    if isinstance(known, systems.FirstOrder):
        return known
    given = facts_of(derivation.given(parts.get("given"), line.text)).given
    if isinstance(known, mechanics.Motion):
        return systems.first_order_form(known.equations, known.coordinates, given)
    wanted = parts.get("for")
    if wanted is None:
        raise reads(line, "first order form of EQUATIONS for theta, phi")
    equations = [put_in(derivation, derivation.read(t), parts) for t in split_commas(text)]
    return systems.first_order_form(equations, _functions(derivation, wanted), given)


def _linearize(derivation: State, parts: Clauses, line: Line) -> Result:
    """linearize motion about theta = 0, phi = 0"""
    refuse(parts, "for", "given", "with")
    match = re.fullmatch(r"(.*?)\sabout\s+(.*)", parts.head, re.S)
    if not match:
        raise reads(line, "linearize NAME about theta = 0, phi = 0")
    form = _form(derivation, parts, match.group(1), line)
    about: dict[str, Any] = {}
    for text in split_commas(match.group(2)):
        left, _, right = text.partition("=")
        about[left.strip()] = derivation.expression(right)
    given = facts_of(derivation.given(parts.get("given"), line.text)).given
    return Result("step", line.text, line.number, [("", systems.linearize(form, about, given=given).A)])


def _transfer(derivation: State, parts: Clauses, line: Line) -> Result:
    """transfer function from V_i to V_o in EQ1, EQ2 for I, V_o"""
    refuse(parts, "from", "to", "for", "with", "given")
    source, wanted = parts.get("from"), parts.get("for")
    match = re.fullmatch(r"(\S+)\s+in\s+(.*)", parts.get("to") or "", re.S)
    if source is None or wanted is None or not match:
        raise reads(line, "transfer function from V_i to V_o in EQ1, EQ2 for I, V_o")
    equations = [put_in(derivation, derivation.read(t), parts) for t in split_commas(match.group(2))]
    unknowns = [derivation.unknown(t.strip()) for t in split_commas(wanted)]
    given = facts_of(derivation.given(parts.get("given"), line.text)).given
    value = systems.transfer_function(equations, derivation.unknown(match.group(1)), derivation.read(source), unknowns, given)
    return Result("step", line.text, line.number, [("", value)], road="elimination from the network equations")


def _roots(derivation: State, parts: Clauses, line: Line) -> Result:
    """roots of E for x from 0 to 10"""
    refuse(parts, "for", "from", "to", "with")
    wanted, lower, upper = (parts.get(w) for w in ("for", "from", "to"))
    if wanted is None or lower is None or upper is None:
        raise reads(line, "roots of E for x from 0 to 10")
    value = put_in(derivation, derivation.read(body(parts.head)), parts)
    x = derivation.unknown(wanted)
    found = roots_between(value, x, derivation.end(wanted, lower), derivation.end(wanted, upper))
    shown: list[tuple[str, Any]] = [(str(x), v) for v in found]
    decimals = [v for v in found if isinstance(v, Value)]
    note = "no zero there" if not shown else "what has no exact form is rounded to 30 digits" if decimals else ""
    result = Result("step", line.text, line.number, shown, note=note, road="all zeros, by bounds")
    if decimals and len(found) == 1:
        result.value = number(mpq(decimals[0].real))
    return result


def _numerically(derivation: State, parts: Clauses, line: Line) -> Result:
    """solve numerically E1, E2 for x, y from x = 1, y = 2 with a = 3"""
    refuse(parts, "for", "from", "with", "given")
    wanted = parts.get("for")
    if wanted is None:
        raise reads(line, "solve numerically E1, E2 for x, y from x = 1, y = 2")
    equations = [put_in(derivation, derivation.read(t), parts) for t in split_commas(parts.head)]
    start: dict[str, float] = {}
    for text in split_commas(parts.get("from") or ""):
        left, _, right = text.partition("=")
        if right.strip():
            start[left.strip()] = float(derivation.expression(right))
    unknowns = [derivation.unknown(t.strip()) for t in split_commas(wanted)]
    found = numeric_solution(equations, unknowns, start)
    details = [f"residual of {text}: {v:.2e}" for text, v in found.residuals.items()]
    return Result("step", line.text, line.number, note=str(found), details=details, road="Newton's method in floating point")


def _jumps(derivation: State, parts: Clauses, line: Line) -> Result:
    """jumps of LAW by t"""
    refuse(parts, "by", "given", "with")
    by = parts.get("by")
    if by is None:
        raise reads(line, "jumps of LAW by t")
    law = put_in(derivation, derivation.expression(body(parts.head)), parts)
    found = motion.jumps(law, derivation.read(by), given=facts_of(derivation.given(parts.get("given"), line.text)).given)
    return Result("step", line.text, line.number, [], note="; ".join(map(str, found)) or "no jump")


STATEMENTS: dict[str, Handler] = {
    "equations of motion": _equations_of_motion,
    "equation": _equation_of_motion,
    "mass matrix": _part_of_motion("mass_matrix"),
    "velocity terms": _part_of_motion("velocity_terms"),
    "gravity terms": _part_of_motion("gravity_terms"),
    "energy": _part_of_motion("energy"),
    "conserved": _conserved,
    "first order form": _first_order,
    "linearize": _linearize,
    "transfer function": _transfer,
    "roots": _roots,
    "solve numerically": _numerically,
    "jumps": _jumps,
}
