"""What is simulated: states with their rates, parameters with values, inputs, outputs and events."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from gelvo.errors import DomainError, ExportError, GelvoError
from gelvo.expression.nodes import Applied, Expression, Name
from gelvo.expression.traversal import free_names, postorder, substitute
from gelvo.operations.inputs import split_initial, take
from gelvo.operations.vectors import jacobian
from gelvo.physics.mechanics import Motion
from gelvo.physics.systems import FirstOrder, first_order_form

DOT = "_dot"


class Model(NamedTuple):
    """states' = rates(time, states, inputs, parameters), from where the states start, and what is read off on the way.

    outputs: formulas by name; events: formulas whose zeros are moments of interest; values: a number for each parameter.
    """

    name: str
    time: Name
    states: tuple[Name, ...]
    rates: tuple[Expression, ...]
    start: tuple[float, ...]
    parameters: tuple[Name, ...]
    values: tuple[float, ...]
    inputs: tuple[Name, ...]
    outputs: dict[str, Expression]
    events: dict[str, Expression]
    given: tuple[object, ...]

    @property
    def functions(self) -> dict[str, dict[str, object]]:
        """The outputs of each function of the model, by what it is called."""
        rows = jacobian(list(self.rates), list(self.states))
        found: dict[str, dict[str, object]] = {"rates": {"rates": list(self.rates)}, "jacobian": {"jacobian": rows}}
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
    facts = list(given)
    form, facts, initial = _form(motion, unknowns, facts)
    arguments = take(*form.rates, variables=[form.variable, *form.states, *inputs], given=facts)
    t, *rest = arguments.names
    states, driven = tuple(rest[: len(form.states)]), tuple(rest[len(form.states) :])
    if {*driven} & {*states}:
        raise DomainError(f"{', '.join(n.name for n in driven if n in states)} is a state, and cannot be an input")
    plain = {meaning: s for s, meaning in form.meaning.items()}
    functions = [meaning for meaning in form.meaning.values() if isinstance(meaning, Applied) and not any(meaning.orders)]
    told = take(*outputs.values(), *events.values(), variables=functions, given=facts).expressions
    formulas = [_plain(substitute(e, plain)) for e in (*arguments.expressions, *told)]
    rates = formulas[: len(states)]
    read_off = dict(zip([*outputs, *events], formulas[len(states) :], strict=True))
    found: dict[Name, None] = {}
    for e in formulas:
        free = set(free_names(e))
        found.update(dict.fromkeys(n for n in postorder(e) if isinstance(n, Name) and n in free))
    parameters = tuple(n for n in found if n not in (t, *states, *driven))
    stated = _numbers(values, {n.name for n in parameters}, "parameters")
    missing = [n.name for n in parameters if n.name not in stated]
    if missing:
        raise ExportError(f"a simulation needs a number for each parameter: values={{…}} lacks {', '.join(missing)}")
    begin = _numbers({_state_word(k): v for k, v in {**initial, **start}.items()}, {s.name for s in states}, "states", stated)
    absent = [s.name for s in states if s.name not in begin]
    if absent:
        raise ExportError(f"a simulation starts somewhere: start={{…}} lacks {', '.join(absent)}")
    _refuse_doubles([t.name, *[n.name for n in (*states, *parameters, *driven)], *outputs, *events])
    return Model(
        name, t, states, tuple(rates), tuple(begin[s.name] for s in states), parameters, tuple(stated[n.name] for n in parameters),
        driven, {k: read_off[k] for k in outputs}, {k: read_off[k] for k in events}, tuple(facts),
    )  # fmt: skip


def _refuse_doubles(words: Sequence[str]) -> None:
    twice = [w for k, w in enumerate(words) if w in words[:k]]
    if twice:
        raise ExportError(
            f"{twice[0]} names two things of the model: states are listed as they are, other outputs need other names"
        )


def _form(motion: Any, unknowns: Any, given: list[Any]) -> tuple[FirstOrder, list[Any], dict[str, Expression]]:
    """(the first-order form, the facts, initial values that stood among these)."""
    if isinstance(motion, FirstOrder):
        return motion, given, {}
    if isinstance(motion, Motion):
        motion, unknowns = motion.equations, motion.coordinates
    if unknowns is None:
        raise DomainError("equations come with their unknown functions: simulation_module(equations, unknowns, …)")
    listed = list(motion) if isinstance(motion, (list, tuple)) else [motion]
    wanted = list(unknowns) if isinstance(unknowns, (list, tuple)) else [unknowns]
    arguments = take(*listed, variables=wanted, given=given)
    initial, facts = split_initial(arguments.facts.given)
    told = {}
    for equation in initial:
        if isinstance(equation.left, Applied):
            told[equation.left.name + "'" * sum(equation.left.orders)] = equation.right
    return first_order_form(list(arguments.values), list(arguments.variables), facts), list(facts), told


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
    return stem + ("" if not order else DOT if order == 1 else f"{DOT}{order}")


def _numbers(table: Mapping[Any, Any], wanted: set[str], what: str, known: Mapping[str, float] | None = None) -> dict[str, float]:
    """Numbers by name; formulas are worked out with known numbers."""
    keys = [str(getattr(k, "name", k)) for k in table]
    strange = [k for k in keys if k not in wanted]
    if strange:
        raise DomainError(f"{', '.join(strange)} is not among the {what}: {', '.join(sorted(wanted)) or 'there are none'}")
    read = take(*table.values()).expressions
    found: dict[str, float] = {}
    for key, e in zip(keys, read, strict=True):
        put = substitute(e, {n: v for n in free_names(e) for w, v in _exact(known).items() if n.name == w})
        try:
            found[key] = float(put)
        except (GelvoError, TypeError, ValueError) as fault:
            raise DomainError(f"{key} = {e} is no number") from fault
    return found


def _exact(known: Mapping[str, float] | None) -> dict[str, Expression]:
    return dict(zip(known, take(*[repr(v) for v in known.values()]).expressions, strict=True)) if known else {}
