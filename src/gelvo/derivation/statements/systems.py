"""The statements of mechanics, networks and numbers: equations of motion, first-order form, transfer functions, numeric solutions."""

from __future__ import annotations

from functools import partial
from typing import Any

from gmpy2 import mpq

from gelvo.checking.claims import check_identity
from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.errors import DomainError, FormulaError
from gelvo.evaluation.value import Value
from gelvo.expression.building import applied, number
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied
from gelvo.operations.numeric import roots_between
from gelvo.operations.numeric_systems import numeric_solution
from gelvo.physics import mechanics, motion, systems


def _functions(said: Said, text: str) -> list[Applied]:
    found = []
    for part, value in zip(said.listed(text), said.unknowns(text), strict=True):
        if not isinstance(value, Applied):
            raise FormulaError(f"`{part}` is not an unknown function: declare  unknown {part}(t)", text, 0)
        found.append(value)
    return found


def _motion(said: Said, name: str) -> mechanics.Motion:
    found = said.derivation.definitions.get(name)
    if not isinstance(found, mechanics.Motion):
        raise DomainError(f"{name} is not a motion: let {name} be equations of motion of T, V for theta")
    return found


def _equations_of_motion(said: Said) -> Result:
    energies = said.listed()
    if len(energies) != 2:
        raise said.statement.fault(said.line.text)
    T, V = (said.derivation.expression(e) for e in energies)
    found = mechanics.equations_of_motion(T, V, _functions(said, said["for"]), given=said.facts.given)
    return said.result(*[(Words(f"equation {k}"), e) for k, e in enumerate(found.equations, 1)], value=found)


def _part_of_motion(part: str, said: Said) -> Result:
    return said.result(getattr(_motion(said, said.head), part))


def _equation_of_motion(said: Said) -> Result:
    name, equations = said["of"], _motion(said, said["of"]).equations
    if not said.head.isdecimal() or not 1 <= int(said.head[:9]) <= len(equations):
        raise DomainError(f"{name} has {len(equations)} equations, and no number {said.head}")
    return said.result(equations[int(said.head) - 1])


def _conserved(said: Said) -> Result:
    quantity = said.derivation.expression(said.head)
    rate = mechanics.along(quantity, _motion(said, said["along"]), said.facts.given)
    certificate = check_identity(rate, number(0), said.facts, f"{said.head} does not change along the motion")
    return said.result(quantity, kind="check", certificate=certificate)


def _first_order(said: Said) -> Result:
    found = _form(said)
    shown: list[tuple[str, Any]] = []
    for state, rate in zip(found.states, found.rates, strict=True):
        meaning = found.meaning[state]
        assert isinstance(meaning, Applied)
        shown.append((f"{state}'", Equation(applied(meaning.name, meaning.arguments, (meaning.orders[0] + 1,)), rate)))
    return said.result(*shown, value=found)


def _form(said: Said) -> systems.FirstOrder:
    """The first-order form that the head names, or that of its motion or equations."""
    known = said.derivation.definitions.get(said.head)
    if isinstance(known, systems.FirstOrder):
        return known
    if isinstance(known, mechanics.Motion):
        return systems.first_order_form(known.equations, known.coordinates, said.facts.given)
    return systems.first_order_form(said.equations(), _functions(said, said["for"]), said.facts.given)


def _linearize(said: Said) -> Result:
    form = _form(said)
    about = {left: said.derivation.expression(right) for left, right in said.assigned(said["about"])}
    return said.result(systems.linearize(form, about, given=said.facts.given).A)


def _transfer(said: Said) -> Result:
    equations, unknowns = said.equations(said["in"]), said.unknowns(said["for"])
    form = (said.get("as") or "").removesuffix("1").strip()
    value = systems.transfer_function(
        equations, said.derivation.unknown(said["to"]), said.read(said["from"]), unknowns, said.facts.given, normalized=form
    )
    return said.result(value, road="elimination from the network equations")


def _roots(said: Said) -> Result:
    value = said.put(said.read(said.head))
    x = said.derivation.unknown(said["for"])
    lower, upper = said.ends(said["for"], "from", "to")
    found = roots_between(value, x, lower, upper)
    decimals = [v for v in found if isinstance(v, Value)]
    note = "no zero there" if not found else "what has no exact form is rounded to 30 digits" if decimals else ""
    result = said.result(*[(str(x), v) for v in found], note=note, road="all zeros, by bounds")
    if decimals and len(found) == 1:
        result.value = number(mpq(decimals[0].real))
    return result


def _numerically(said: Said) -> Result:
    equations, unknowns = said.equations(), said.unknowns(said["for"])
    start = {left: float(said.derivation.expression(right)) for left, right in said.assigned(said.get("from") or "")}
    found = numeric_solution(equations, unknowns, start)
    details = [f"residual of ${text}$: {v:.2e}" for text, v in found.residuals.items()]
    return said.result(note=str(found), details=details, road="Newton's method in floating point")


def _jumps(said: Said) -> Result:
    found = motion.jumps(said.formula(), said.read(said["by"]), given=said.facts.given)
    return said.result(note="; ".join(map(str, found)) or "no jump")


_END = "[with VALUES] [given FACTS]"
_SWING = """\
unknown theta(t)
let motion be equations of motion of m*l^2*theta'^2/2, -m*g*l*cos(theta) for theta
"""
STATEMENTS = (
    Statement(
        "equations of motion", "of T, V for x, y [given FACTS]", _equations_of_motion,
        "unknown theta(t)\nequations of motion of m*l^2*theta'^2/2, -m*g*l*cos(theta) for theta", "from kinetic and potential energy",
    ),
    Statement("equation", "N of MOTION", _equation_of_motion, f"{_SWING}equation 1 of motion", "one equation of a motion"),
    Statement("mass matrix", "of MOTION", partial(_part_of_motion, "mass_matrix"), f"{_SWING}mass matrix of motion", "what stands before the accelerations"),
    Statement("velocity terms", "of MOTION", partial(_part_of_motion, "velocity_terms"), f"{_SWING}velocity terms of motion", "the terms with velocities"),
    Statement("gravity terms", "of MOTION", partial(_part_of_motion, "gravity_terms"), f"{_SWING}gravity terms of motion", "the terms of the potential energy"),
    Statement("energy", "of MOTION", partial(_part_of_motion, "energy"), f"{_SWING}energy of motion", "kinetic and potential energy together"),
    Statement(
        "conserved", "E along MOTION [given FACTS]", _conserved, f"{_SWING}let H be energy of motion\nconserved H along motion",
        "proves that E does not change along the motion",
    ),
    Statement("first order form", f"of MOTION [for x, y] {_END}", _first_order, f"{_SWING}first order form of motion", "rates of all states, solved"),
    Statement(
        "linearize", f"MOTION about x = A [for x, y] {_END}", _linearize, f"{_SWING}linearize motion about theta = 0", "the matrix of small motions"
    ),
    Statement(
        "transfer function", f"from V to W in E, F for I, W [as FORM] {_END}", _transfer,
        "transfer function from U to V in U = R*I + V, I = s*C*V for I, V", "output over input of a network, by powers of s; as constant 1 or as leading 1 of its denominator",
    ),
    Statement("roots", "of E for x from A to B [with VALUES]", _roots, "roots of cos(x) - x for x from 0 to 2", "all zeros of a range, by bounds"),
    Statement(
        "solve numerically", f"E, F for x, y [from x = A, y = B] {_END}", _numerically,
        "solve numerically x^2 + y = 3, x - y = 1 for x, y from x = 1, y = 1", "by Newton's method",
    ),
    Statement("jumps", f"of LAW by t {_END}", _jumps, "jumps of cases(t^2 when t < 2, otherwise 4) by t", "where a law in sections or its derivatives jump"),
)  # fmt: skip
