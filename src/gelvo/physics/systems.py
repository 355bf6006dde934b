"""Systems of differential equations in first-order form, linearized, as state-space matrices, as transfer functions."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, name, number, total
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Cases, Condition, Expression, Name, Number, Relation
from gelvo.expression.traversal import contains, fresh_name, names, postorder, substitute
from gelvo.forms.collecting import collect, power_table, terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, HEAVISIDE, SIGN
from gelvo.matrices.matrix import Matrix
from gelvo.numbers.exact import real
from gelvo.operations.calculus import differentiate
from gelvo.operations.inputs import Arguments, one_expression, take
from gelvo.operations.on_paper import as_function, dotted
from gelvo.operations.rewriting import common_denominator, denominator, numerator
from gelvo.operations.solutions import Solutions
from gelvo.operations.solving import solve
from gelvo.operations.trust import equal
from gelvo.operations.vectors import jacobian

MOST_KINKS = 6
COEFFICIENTS = ("constant", "leading")


class FirstOrder(NamedTuple):
    """x' = f(x, t): the states as plain names, their meaning, their rates of change, and what the letters must be for that."""

    states: list[Name]
    meaning: dict[Name, Expression]
    rates: list[Expression]
    variable: Name
    conditions: tuple[Condition, ...] = ()

    def __str__(self) -> str:
        lines = [f"{s}' = {r}   ({s} is {self.meaning[s]})" for s, r in zip(self.states, self.rates, strict=True)]
        return "\n".join([*lines, *([f"if {' and '.join(map(str, self.conditions))}"] if self.conditions else [])])


def read_equations(
    equations: object, unknowns: object, given: Iterable[object] = ()
) -> tuple[list[Expression], list[Applied], Arguments]:
    listed = list(equations) if isinstance(equations, (list, tuple)) else [equations]
    wanted = list(unknowns) if isinstance(unknowns, (list, tuple)) else [unknowns]
    if not listed or not wanted:
        raise DomainError("at least one equation and one unknown function are needed")
    wanted = [as_function(w, listed, wanted) if isinstance(w, str) else w for w in wanted]
    arguments = take(*listed, variables=wanted, given=given)
    read = [v.left - v.right if isinstance(v, Equation) else one_expression(v) for v in arguments.values]
    dots = dotted(arguments.variables, read)
    read = [substitute(e, dots) for e in read]
    targets = []
    for target in arguments.variables:
        if not isinstance(target, Applied):
            raise DomainError(f"an unknown function such as theta(t) is needed, not {target}")
        targets.append(target)
    return read, targets, arguments


def first_order_form(equations: Any, unknowns: Any, given: Iterable[Any] = ()) -> FirstOrder:
    """Differential equations solved for their highest derivatives, as x' = f(x, t).

    equations: for as many unknown functions of one variable; states are named like `theta` and `theta_dot`.
    Raises NotSolved where the highest derivatives cannot be solved for.

    >>> import gelvo
    >>> t = gelvo.variable("t")
    >>> theta = gelvo.unknown_function("theta", t)
    >>> print(gelvo.first_order_form("theta'' + w^2*sin(theta) = 0", theta))
    theta' = theta_dot   (theta is theta(t))
    theta_dot' = -w^2*sin(theta)   (theta_dot is theta'(t))
    """
    parts = in_states(equations, unknowns, given)
    solved, conditions = _highest(parts.equations, parts.marks, parts.shown, given)
    return parts.form([solved[m] for m in parts.marks], conditions)


class InStates(NamedTuple):
    """Differential equations with plain names: states, and marks for the highest derivatives, which stand for what is to be found.

    states: those of each unknown function; meaning: what they are; shown: the highest derivatives in words.
    """

    equations: list[Expression]
    states: list[list[Name]]
    meaning: dict[Name, Expression]
    marks: list[Name]
    variable: Name
    shown: str

    def form(self, highest: Sequence[Expression], conditions: tuple[Condition, ...]) -> FirstOrder:
        """The first-order form, the highest derivatives known."""
        rates = [rate for own, last in zip(self.states, highest, strict=True) for rate in (*own[1:], last)]
        return FirstOrder(list(self.meaning), self.meaning, rates, self.variable, conditions)


def in_states(equations: Any, unknowns: Any, given: Iterable[Any] = ()) -> InStates:
    """Differential equations read, their unknown functions replaced by states."""
    read, targets, _ = read_equations(equations, unknowns, given)
    t = targets[0].arguments[0]
    assert isinstance(t, Name)
    taken = {n.name for e in read for n in names(e)}
    meaning: dict[Name, Expression] = {}
    states: list[list[Name]] = []
    highest: list[Expression] = []
    for u in targets:
        own = _states_of(u, read, taken)
        states.append(list(own))
        meaning.update(own)
        highest.append(applied(u.name, u.arguments, (len(own),)))
    marks = [fresh_name(f"{u.name}_highest", *read) for u in targets]
    table = {**{derivative: state for state, derivative in meaning.items()}, **dict(zip(highest, marks, strict=True))}
    return InStates([substitute(e, table) for e in read], states, meaning, marks, t, ", ".join(map(str, highest)))


def state_word(function: str, order: int) -> str:
    """What the state is called that a derivative of an unknown function is.

    >>> state_word("theta", 0), state_word("theta", 1), state_word("theta", 2)
    ('theta', 'theta_dot', 'theta_dot2')
    """
    return function + ("" if not order else "_dot" if order == 1 else f"_dot{order}")


def _states_of(u: Applied, equations: list[Expression], taken: set[str]) -> dict[Name, Expression]:
    """The states of one unknown function, and what they mean: itself and its derivatives below the highest."""
    order = max(
        (sum(n.orders) for e in equations for n in postorder(e) if isinstance(n, Applied) and n.name == u.name), default=0
    )
    if not order:
        raise DomainError(f"no derivative of {u} occurs in the equations")
    words = [state_word(u.name, k) for k in range(order)]
    return {
        name(word if word not in taken else f"{word}_state"): applied(u.name, u.arguments, (k,)) for k, word in enumerate(words)
    }


def _highest(
    equations: list[Expression], marks: list[Name], shown: str, given: Iterable[object]
) -> tuple[Mapping[Expression, Expression], tuple[Condition, ...]]:
    """The equations solved for the highest derivatives, and under what; NotSolved where that is not possible in one way."""
    try:
        solved = solve(equations, marks, given=given)
    except (NotSolved, DomainError):
        raise NotSolved(f"the equations are not solved for {shown}") from None
    if len(solved) != 1 or any(contains(v, m) for v in solved[0].values() for m in marks):
        raise NotSolved(f"the equations do not give {shown} in one way: they have {len(solved)} solutions")
    conditions = solved.conditions_of(0)
    if any(isinstance(c, Relation) and c.operator == "=" for c in conditions):
        raise NotSolved(f"the equations hold only if {' and '.join(map(str, conditions))}")
    return solved[0], conditions


class Linearized(NamedTuple):
    """delta x' = A delta x (+ B u) about an equilibrium."""

    A: Matrix
    states: list[Name]
    about: dict[Name, Expression]


def linearize(system: Any, about: Mapping[Any, Any], unknowns: Any = None, given: Iterable[Any] = ()) -> Linearized:
    """The matrix A of the motion near an equilibrium, for a first-order form (or equations with their unknowns).

    about: {unknown or state: value}; what is not named is zero there. Raises DomainError where that is no equilibrium.

    >>> import gelvo
    >>> t = gelvo.variable("t")
    >>> theta = gelvo.unknown_function("theta", t)
    >>> gelvo.linearize("theta'' + w^2*sin(theta) = 0", {"theta": 0}, theta).A
    [0, 1; -w^2, 0]
    """
    form = system if isinstance(system, FirstOrder) else first_order_form(system, unknowns, given)
    arguments = take(*form.rates, *about.values(), given=given)
    values = dict(zip([str(getattr(k, "name", k)) for k in about], arguments.expressions[len(form.rates) :], strict=True))
    place: dict[Name, Expression] = {s: values.pop(s.name, number(0)) for s in form.states}
    if values:
        raise DomainError(f"{', '.join(values)} is not among the states {', '.join(map(str, form.states))}")
    for state, rate in zip(form.states, form.rates, strict=True):
        at = substitute(rate, place)
        if not equal(at, 0, given):
            raise DomainError(f"that is no equilibrium: {state}' is {at} there, not 0")
    branches = _on_all_sides(form.rates, place)
    if any(not equal(substitute(rate, place), 0, given) for rates in branches for rate in rates):
        raise DomainError("the rates have a step there: there is no linear motion near it")
    try:
        sides = [jacobian(rates, form.states).substitute(place).simplify() for rates in branches]  # type: ignore[attr-defined]
    except DomainError as fault:
        if "linear" in str(fault):
            raise
        raise DomainError("the rates have no finite slopes there: there is no linear motion near it") from None
    if any(not entries.equal(sides[0]) for entries in sides[1:]):
        raise DomainError("the rates have a kink there, with other slopes on its sides: there is no linear motion near it")
    return Linearized(Matrix(sides[0].entries, form.conditions), form.states, place)


# what stands for a function with a kink or a step, on the side where its argument has the sign s
ON_A_SIDE: dict[str, Callable[[Expression, int], Expression]] = {
    ABS: lambda u, s: s * u,
    SIGN: lambda u, s: number(s),
    HEAVISIDE: lambda u, s: number((1 + s) // 2),
}


def _on_all_sides(rates: list[Expression], place: Mapping[Name, Expression]) -> list[list[Expression]]:
    """The rates as smooth formulas on each side of the kinks that lie at the place."""
    kinks: list[Call] = []
    for rate in rates:
        for node in postorder(rate):
            if isinstance(node, Cases):
                raise DomainError("rates in sections have no linear form here: take the section that is meant")
            if not isinstance(node, Call) or node.function.breaks is None or node in kinks:
                continue
            breaks = [substitute(b, place) for b in node.function.breaks(*node.arguments)]
            if any(is_zero(b) is not False for b in breaks):
                if node.name not in ON_A_SIDE:
                    raise DomainError(f"{node} has a break there: there is no linear motion near it")
                kinks.append(node)
    chosen = [dict(zip(kinks, signs, strict=True)) for signs in itertools.product((1, -1), repeat=min(len(kinks), MOST_KINKS))]
    return [[substitute(r, {k: ON_A_SIDE[k.name](k.arguments[0], s) for k, s in side.items()}) for r in rates] for side in chosen]


class StateSpace(NamedTuple):
    """x' = A x + B u, y = C x + D u."""

    A: Matrix
    B: Matrix
    C: Matrix
    D: Matrix


def state_space(form: FirstOrder, inputs: Sequence[Any], outputs: Sequence[Any]) -> StateSpace:
    """The four matrices of a linear first-order form; inputs: names in the rates; outputs: formulas in states and inputs.

    >>> import gelvo
    >>> t = gelvo.variable("t")
    >>> x = gelvo.unknown_function("x", t)
    >>> form = gelvo.first_order_form("m*x'' + k*x = F", x)
    >>> gelvo.state_space(form, ["F"], ["x"]).B
    [0; 1/m]
    """
    if not isinstance(form, FirstOrder):
        raise DomainError(
            f"a state space is made of a first-order form, as first_order_form(equations, unknowns) gives it, not of {form!r}"
        )
    arguments = take(*form.rates, *outputs, variables=inputs)
    drive, results = arguments.names, arguments.expressions[len(form.rates) :]
    both = [*form.states, *drive]
    for e in (*form.rates, *results):
        for v in both:
            slope = differentiate(e, v)
            if any(contains(slope, w) for w in both):
                raise DomainError(f"{e} is not linear in {v}: linearize first")
    still = dict.fromkeys(both, number(0))
    listed = [
        *((s, e, "'") for s, e in zip(form.states, form.rates, strict=True)),
        *((o, e, "") for o, e in zip(outputs, results, strict=True)),
    ]
    for state, e, suffix in listed:
        rest = substitute(e, still)
        if rest is not number(0) and is_zero(rest) is not True:
            raise DomainError(
                f"{state}{suffix} has the term {rest}, which belongs to no state and no input: name it as an input, or measure from the equilibrium"
            )
    empty = [number(0)] * len(form.states)
    b = jacobian(form.rates, drive) if drive else Matrix([[e] for e in empty])
    d = jacobian(results, drive) if drive else Matrix([[number(0)] for _ in results])
    return StateSpace(jacobian(form.rates, form.states), b, jacobian(results, form.states), d)


def transfer_function(
    equations: Any, output: Any, source: Any, unknowns: Sequence[Any], given: Iterable[Any] = (), variable: Any = "s", normalized: str = "",
) -> Expression:  # fmt: skip
    """output/source in lowest terms, from network equations that are linear in the unknowns.

    equations: as many as unknowns, in the frequency domain (impedances with s); output: an unknown or a formula in them;
    source: the name of the driving quantity; variable: by whose powers numerator and denominator are collected; normalized: "constant"
    or "leading", the coefficient of the denominator that is made 1. Raises NotSolved where the network is not determined.

    >>> import gelvo
    >>> gelvo.transfer_function(["V_i = R*I + V_o", "I = s*C*V_o"], "V_o", "V_i", ["I", "V_o"])
    1/(C*R*s + 1)
    >>> gelvo.transfer_function(["V_i = R*I + V_o", "I = s*C*V_o"], "V_o", "V_i", ["I", "V_o"], normalized="leading")
    1/(C*R*(s + 1/(C*R)))
    """
    if normalized not in ("", *COEFFICIENTS):
        raise DomainError(f"normalized names a coefficient of the denominator, {' or '.join(COEFFICIENTS)}, not {normalized!r}")
    listed = equations if isinstance(equations, (list, tuple)) else [equations]
    arguments = take(*listed, output, variables=[variable, source, *unknowns], given=given)
    s, drive, *wanted = arguments.names
    solved: Solutions = solve(list(arguments.values[:-1]), wanted, over="complex", given=given)
    if len(solved) != 1:
        raise NotSolved(f"the network equations have {len(solved)} solutions, not one")
    clash = [c for c in solved.conditions_of(0) if isinstance(c, Relation) and c.operator == "="]
    if clash:
        raise NotSolved(f"the network equations contradict each other: they hold only if {' and '.join(map(str, clash))}")
    value = substitute(one_expression(arguments.values[-1]), solved[0])
    if any(contains(value, u) for u in wanted):
        raise NotSolved("the network equations leave an unknown free")
    ratio = common_denominator(value / drive)
    if contains(ratio, drive):
        raise DomainError(f"{output} is not proportional to {source}: another source drives it too")
    return _by_powers(numerator(ratio), denominator(ratio), s, normalized)


def _by_powers(top: Expression, bottom: Expression, s: Name, normalized: str) -> Expression:
    """Numerator and denominator by falling powers of s, one coefficient of the denominator made 1 where that is asked for."""
    if not (contains(bottom, s) or contains(top, s)):
        return top / bottom
    found = power_table(expand(bottom), s) if normalized else {}
    place = (
        number(0)
        if normalized == "constant"
        else max(found, key=lambda k: real(k.value) if isinstance(k, Number) else 0, default=None)
    )
    one = total(found[place]) if place in found else number(1)
    divided = [total([e / one for e in terms_of(expand(part))]) for part in (top, bottom)]
    upper, lower = (collect(part, [s], factored) for part in divided)
    return upper / lower
