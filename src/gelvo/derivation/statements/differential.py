"""Differential equations beyond one formula: modes of boundary problems, separation, power series, motions by numbers."""

from __future__ import annotations

from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression
from gelvo.operations.inputs import split_initial
from gelvo.operations.power_series import series_solution
from gelvo.physics.eigenmodes import eigenmodes
from gelvo.physics.separation import separate_variables
from gelvo.simulating.course import followed


def _count(said: Said, clause: str, word: str) -> int | None:
    """`to 20 terms`: the number."""
    text = said.get(clause)
    if text is None:
        return None
    number, _, unit = text.partition(" ")
    if not number.isdecimal() or len(number) > 3 or unit.strip() not in (word, f"{word}s", ""):
        raise said.fault(f"a number of {word}s is written as  {clause} 20 {word}s", text)
    return int(number)


def _modes(said: Said) -> Result:
    targets = said.unknowns(said["for"])
    if len(targets) != 2:
        raise said.fault("a boundary problem has a function and a letter as unknowns:  for y, k", said["for"])
    u, letter = targets
    modes = eigenmodes(said.thing(), u, letter, said.given)
    shown: list[tuple[object, object]] = []
    for family in modes.families:
        value = modes.at_places(family, family.value)
        shown.append((str(letter), value))
        shown += [(Words(str(u)), modes.at_places(family, s)) for s in family.shapes]
    details = [f"${family.n}$ from {family.first} on" for family in modes.families if family.places]
    details += [
        f"$z$ with ${family.characteristic} = 0$"
        for family in modes.families
        if not family.places and family.characteristic is not ZERO
    ]
    details += [f"orthogonal with the weight ${modes.weight}$"] if modes.weight is not None else []
    return said.result(*shown, certificate=modes.certificate(), details=[*details, *modes.excluded])


def _separate(said: Said) -> Result:
    (u,) = said.unknowns(said["for"])
    found = separate_variables(said.thing(), u, said.given)
    count = _count(said, "to", "term")
    value: Expression | None = found.solution if count is None else found.partial(count)
    if value is None:
        details = [f"over all $z > 0$ with ${found.modes.main.characteristic} = 0$; `to 20 terms` puts the first numbers in"]
        terms = [(Words("a term of the sum"), part.term) for part in found.parts]
        return said.result(*terms, certificate=found.certificate(), details=details)
    return said.result(value if said.defining else (Words(str(u)), value), certificate=found.certificate(), value=value)


def _series(said: Said) -> Result:
    (u,) = said.unknowns(said["for"])
    about = said.formula(said["about"]) if said.get("about") else 0
    found = series_solution(said.thing(), u, about, _count(said, "through power", "") or 6, said.facts.given)
    shown = [(Words(f"with the exponent {e}"), s) for e, s in zip(found.exponents, found.solutions, strict=True)]
    details = [f"${found.recurrence}$ for each exponent ${found.found.letters[1]}$"]
    return said.result(*shown, certificate=found.certificate(), conditions=found.conditions, details=details)


def _follow(said: Said) -> Result:
    functions = said.unknowns(said["for"])
    initial, facts = split_initial(said.given)
    values = {k.name: v for k, v in said.values.items()}
    equations = [said.read(part) for part in said.listed()]
    course = followed(
        equations,
        functions,
        [said.formula(said["from"]), said.formula(said["to"])],
        values,
        401,
        [*initial, *facts],
        {},
        {},
        None,
    )
    shown = list(zip(said.listed(), equations, strict=True))
    return said.result(*shown, kind="plot", figure=course.plot(), details=course.told())


STATEMENTS = (
    Statement("eigenmodes", "of E for y, k [given FACTS]", _modes, "eigenmodes of y'' + k*y = 0 for y(x), k given y(0) = 0, y(L) = 0, L > 0", "values of a letter with solutions of a boundary problem, and these"),
    Statement("separate", "E for u [to N terms] [given FACTS]", _separate, "separate u_t = a*u_xx for u(x, t) given u(0, t) = 0, u(L, t) = 0, u(x, 0) = T, a > 0, L > 0", "a partial differential equation by separation of its variables"),
    Statement("series solution", "of E for y [about A] [through power N] [given FACTS]", _series, "series solution of y'' - x*y = 0 for y(x) through power 6", "power series as solutions, with their recurrence"),
    Statement("follow", "E, F for x, y from A to B [with VALUES] [given FACTS]", _follow, "follow theta'' + w^2*sin(theta) = 0 for theta(t) from 0 to 10 with w = 2 given theta(0) = 3, theta'(0) = 0", "a motion by numbers, with its error, as a figure"),
)  # fmt: skip
