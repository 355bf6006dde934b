"""What is simulated: states with their rates, parameters with values, inputs, outputs and events."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from gelvo.errors import DomainError, ExportError, GelvoError
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Applied, Expression, Name
from gelvo.expression.traversal import appearing, free_names, postorder, substitute
from gelvo.operations.inputs import split_initial, take
from gelvo.operations.vectors import jacobian
from gelvo.physics.mechanics import Motion
from gelvo.physics.systems import FirstOrder, first_order_form, in_states, read_equations, state_word
from gelvo.simulating.elimination import Accelerations

WIDE, NEAR = 10.0, 4.0
MANY = 3  # of so many unknown functions the highest derivatives have no short formulas


class Model(NamedTuple):
    """states' = rates(time, states, inputs, parameters), from where the states start, and what is read off on the way.

    jacobian: the derivatives of the rates by the states, row by row; outputs: formulas by name; events: formulas whose zeros are moments
    of interest; values: a number for each parameter; notes: what holds besides; steps: whether
    the rates are no formulas of their own but steps of a program.
    """

    name: str
    time: Name
    states: tuple[Name, ...]
    rates: tuple[Expression, ...]
    jacobian: tuple[tuple[Expression, ...], ...]
    start: tuple[float, ...]
    parameters: tuple[Name, ...]
    values: tuple[float, ...]
    inputs: tuple[Name, ...]
    outputs: dict[str, Expression]
    events: dict[str, Expression]
    given: tuple[object, ...]
    notes: tuple[str, ...] = ()
    steps: bool = False

    @property
    def usual(self) -> dict[Name, tuple[float, float]]:
        """Where the motion usually is: parameters some times their values, states some times where they start."""
        about = {n: (-WIDE * max(1.0, abs(v)), WIDE * max(1.0, abs(v))) for n, v in zip(self.states, self.start, strict=True)}
        about |= dict.fromkeys(self.inputs, (-WIDE, WIDE)) | {self.time: (0.0, WIDE)}
        for n, v in zip(self.parameters, self.values, strict=True):
            about[n] = (v / NEAR, v * NEAR) if v > 0 else (v * NEAR, v / NEAR) if v < 0 else (-1.0, 1.0)
        return about

    @property
    def functions(self) -> dict[str, dict[str, object]]:
        """The outputs of each function of the model, by what it is called."""
        found: dict[str, dict[str, object]] = {"rates": {"rates": list(self.rates)}, "jacobian": {"jacobian": self.jacobian}}
        found |= {"outputs": {"outputs": list(self.outputs.values())}} if self.outputs else {}
        return found | ({"events": {"events": list(self.events.values())}} if self.events else {})

    @property
    def arguments(self) -> list[object]:
        """The inputs of each of those functions; the parameters come beside them."""
        return [self.time, {"state": list(self.states)}, *[{"inputs": list(self.inputs)}] * bool(self.inputs)]


def model_of(
    motion: Any,
    unknowns: Any,
    name: str,
    values: Mapping[Any, Any],
    start: Mapping[Any, Any],
    inputs: Sequence[Any],
    outputs: Mapping[str, Any],
    events: Mapping[str, Any],
    given: Iterable[Any],
) -> Model:
    """Reads a motion: equations with their unknowns, what equations_of_motion gives, or a first-order form."""
    form, slopes, notes, initial, facts = _form(motion, unknowns, list(given))
    arguments = take(*form.rates, variables=[form.variable, *form.states, *inputs], given=facts)
    t, *rest = arguments.names
    states, driven = tuple(rest[: len(form.states)]), tuple(rest[len(form.states) :])
    _refuse_states(driven, states)
    formulas = [*arguments.expressions, *_read_off(form, [*outputs.values(), *events.values()], facts)]
    rates, told = formulas[: len(states)], dict(zip([*outputs, *events], formulas[len(states) :], strict=True))
    rows = slopes or [tuple(row) for row in jacobian(rates, list(states)).entries]
    parameters = tuple(n for n in appearing(*formulas) if n not in (t, *states, *driven))
    known = _all_numbers(values, parameters, "parameters", "a simulation needs a number for each parameter: values={…}")
    first = {_state_word(k): v for k, v in {**initial, **start}.items()}
    begin = _all_numbers(
        first, states, "states", "a simulation starts somewhere: start={…}", dict(zip(parameters, known, strict=True))
    )
    _refuse_doubles([t.name, *[n.name for n in (*states, *parameters, *driven)], *outputs, *events])
    return Model(
        name, t, states, tuple(rates), tuple(map(tuple, rows)), begin, parameters, known, driven, {k: told[k] for k in outputs},
        {k: told[k] for k in events}, tuple(facts), notes, bool(slopes),
    )  # fmt: skip


def _read_off(form: FirstOrder, formulas: Sequence[Any], facts: Sequence[Any]) -> list[Expression]:
    """Outputs and events, written in the unknown functions or in the states, as formulas in the states."""
    plain = {meaning: s for s, meaning in form.meaning.items()}
    functions = [meaning for meaning in form.meaning.values() if isinstance(meaning, Applied) and not any(meaning.orders)]
    return [_plain(substitute(e, plain)) for e in take(*formulas, variables=functions, given=facts).expressions]


def _refuse_states(driven: Sequence[Name], states: Sequence[Name]) -> None:
    both = [n.name for n in driven if n in states]
    if both:
        raise DomainError(f"{', '.join(both)} is a state, and cannot be an input")


def _refuse_doubles(words: Sequence[str]) -> None:
    twice = [w for k, w in enumerate(words) if w in words[:k]]
    if twice:
        raise ExportError(
            f"{twice[0]} names two things of the model: states are listed as they are, other outputs need other names"
        )


class Form(NamedTuple):
    """slopes: the derivatives of the rates where they come with the rates; initial: values that stood among the facts."""

    form: FirstOrder
    slopes: list[tuple[Expression, ...]]
    notes: tuple[str, ...]
    initial: dict[str, Expression]
    facts: list[Any]


def _form(motion: Any, unknowns: Any, given: list[Any]) -> Form:
    """A motion in first-order form; from MANY unknowns on solved step by step."""
    if isinstance(motion, FirstOrder):
        return Form(motion, [], _conditions(motion), {}, given)
    if isinstance(motion, Motion):
        motion, unknowns = motion.equations, motion.coordinates
    if unknowns is None:
        raise DomainError("equations come with their unknown functions: simulation_module(equations, unknowns, …)")
    values, functions, arguments = read_equations(motion, unknowns, given)
    initial, facts = split_initial(arguments.facts.given)
    told = {e.left.name + "'" * sum(e.left.orders): e.right for e in initial if isinstance(e.left, Applied)}
    if len(functions) < MANY:
        form = first_order_form(values, functions, facts)
        return Form(form, [], _conditions(form), told, list(facts))
    parts = in_states(values, functions, facts)
    highest = Accelerations(parts.equations, parts.marks)
    columns = [highest.by(state) for state in parts.meaning]
    slopes = [
        row for k, own in enumerate(parts.states) for row in (*_shifted(own, list(parts.meaning)), tuple(c[k] for c in columns))
    ]
    note = f"the equations are solved for {parts.shown} step by step: their matrix must be regular"
    return Form(parts.form(highest.values, ()), slopes, (note,), told, list(facts))


def _shifted(own: Sequence[Name], states: Sequence[Name]) -> list[tuple[Expression, ...]]:
    """The rows of the Jacobian for derivatives that are states themselves."""
    return [tuple(ONE if s is rate else ZERO for s in states) for rate in own[1:]]


def _conditions(form: FirstOrder) -> tuple[str, ...]:
    return (f"the rates hold if {' and '.join(map(str, form.conditions))}",) if form.conditions else ()


def _plain(e: Expression) -> Expression:
    """A formula without unknown functions; DomainError where one is left."""
    left = next((n for n in postorder(e) if isinstance(n, Applied)), None)
    if left is not None:
        raise DomainError(
            f"{left} is no state of the motion: write outputs and events in the unknowns and derivatives below the highest"
        )
    return e


def _state_word(key: object) -> str:
    """What a state is called: theta_dot for theta', theta'(0) and theta'(t)."""
    text = re.sub(r"\(.*\)$", "", str(getattr(key, "name", None) or key))
    if isinstance(key, Applied):
        text = key.name + "'" * sum(key.orders)
    stem, order = text.rstrip("'"), len(text) - len(text.rstrip("'"))
    return state_word(stem, order)


def _all_numbers(
    table: Mapping[Any, Any], wanted: Sequence[Name], what: str, needed: str, known: Mapping[Name, float] | None = None
) -> tuple[float, ...]:
    """A number for each name, by what was stated; formulas are worked out with known numbers."""
    keys, words = [str(getattr(k, "name", k)) for k in table], [n.name for n in wanted]
    strange = [k for k in keys if k not in words]
    if strange:
        raise DomainError(f"{', '.join(strange)} is not among the {what}: {', '.join(sorted(words)) or 'there are none'}")
    missing = [w for w in words if w not in keys]
    if missing:
        raise ExportError(f"{needed} lacks {', '.join(missing)}")
    exact = {n.name: e for n, e in zip(known or (), take(*[repr(v) for v in (known or {}).values()]).expressions, strict=True)}
    found: dict[str, float] = {}
    for key, e in zip(keys, take(*table.values()).expressions, strict=True):
        try:
            found[key] = float(substitute(e, {n: exact[n.name] for n in free_names(e) if n.name in exact}))
        except (GelvoError, TypeError, ValueError) as fault:
            raise DomainError(f"{key} = {e} is no number") from fault
    return tuple(found[w] for w in words)
