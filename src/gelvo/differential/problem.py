"""What all methods for ordinary differential equations share: the problem, its solutions, stated values imposed."""

from __future__ import annotations

from itertools import islice
from typing import NamedTuple

from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import sign_at
from gelvo.expression.building import applied
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node
from gelvo.expression.traversal import contains, names, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import letter_where_zero
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, DIRAC_DELTA, FLOOR, HEAVISIDE, LN, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear
from gelvo.solving.single.complete import solve_single
from gelvo.solving.systems import solve_system

Values = dict[Expression, Expression]


class Solved(NamedTuple):
    """One solution: a formula for each unknown function, and when it holds; or a relation that is not solved for the function."""

    values: Values
    conditions: tuple[Condition, ...] = ()
    relation: Equation | None = None


class Outcome(NamedTuple):
    """All solutions (several where the letters have cases), their free constants, the method; `lost`: why some may be missing."""

    found: list[Solved]
    constants: tuple[Name, ...]
    road: str
    lost: tuple[str, ...] = ()
    families: tuple[Name, ...] = ()
    cases: tuple[str, ...] = ()  # what the solutions are called, where their conditions are cases with names


class Problem(NamedTuple):
    """The equations (left sides, = 0), the unknown functions of one variable, initial or boundary values, facts."""

    equations: list[Expression]
    unknowns: list[Applied]
    variable: Name
    stated: list[Equation]
    facts: Facts

    def constants(self, count: int) -> tuple[Name, ...]:
        """Free constants C_1, C_2, …, none of them a letter of the problem."""
        return tuple(islice(self.facts.new_names("C", *self.formulas, *self.unknowns), count))

    @property
    def formulas(self) -> list[Expression]:
        """All that the problem spells: its equations and both sides of what is stated."""
        return [*self.equations, *[side for e in self.stated for side in (e.left, e.right)]]


def stated_places(problem: Problem) -> list[Expression]:
    """Where values are stated, each place once."""
    sides = [n for e in problem.stated for n in postorder(e.left) if isinstance(n, Applied)]
    return list(dict.fromkeys(n.arguments[0] for n in sides))


def order_of(problem: Problem, u: Applied) -> int:
    orders = [sum(n.orders) for e in problem.equations for n in postorder(e) if isinstance(n, Applied) and n.name == u.name]
    return max(orders, default=0)


def derivative_of(u: Applied, k: int) -> Expression:
    return applied(u.name, u.arguments, (k,))


def value_at(u: Applied, place: Expression, k: int) -> Expression:
    return applied(u.name, (place,), (k,))


def imposed(problem: Problem, outcome: Outcome) -> Outcome:
    """The stated values solved for the constants."""
    found: list[Solved] = []
    only: list[str] = []
    constants = list(outcome.constants)
    for solution in outcome.found:
        try:
            rows = _rows(problem, solution)
        except DomainError as fault:
            only.append(str(fault))
            continue
        facts = problem.facts.with_facts([c for c in solution.conditions if names(c)])
        table = linear_rows(rows, constants)
        if table is None:
            found += _imposed_in_all_ways(problem, solution, rows, constants, facts)
            continue
        solved = solve_linear(table, constants, facts)
        if not solved.found or any(facts.holds(c) is False for c in solved.conditions):
            continue
        needed = facts.open_conditions(solved.conditions)
        if any(getattr(c, "operator", "") == "=" for c in needed):
            only.append(f"the stated values can hold only if {' and '.join(map(str, needed))}")
            continue
        # a whole state at one place gives one solution; what its formula divides by is said with the formula
        said = () if _is_state(problem) else needed
        values = {u: simplify(substitute(v, solved.found[0].values), facts).expression for u, v in solution.values.items()}
        found.append(Solved(values, (*solution.conditions, *said)))
    if not found:
        raise DomainError(next(iter(only), "the initial values contradict each other or the equation"))
    left = tuple(c for c in outcome.constants if any(contains(v, c) for s in found for v in s.values.values()))
    return outcome._replace(found=found, constants=left, road=f"{outcome.road}; constants from the stated values")


def _rows(problem: Problem, solution: Solved) -> list[Expression]:
    """What must vanish for the stated values."""
    rows: list[Expression] = []
    for e in problem.stated:
        try:
            rows.append(with_values(e.left - e.right, solution.values, problem.variable))
        except DomainError:
            raise DomainError(f"{e} cannot be imposed: the solution has no value there") from None
    return rows


def constants_for(family: Expression, constant: Name, problem: Problem) -> list[Expression]:
    """The values of a free constant with which a family has the one stated value; none where they are not found."""
    start = problem.stated[0]
    if not isinstance(start.left, Applied):
        return []
    row = substitute(family, {problem.variable: start.left.arguments[0]}) - start.right
    try:
        return [r.value for r in solve_single(row, constant, problem.facts, True).found]
    except (NotSolved, DomainError):
        return []


def _imposed_in_all_ways(
    problem: Problem, solution: Solved, rows: list[Expression], constants: list[Name], facts: Facts
) -> list[Solved]:
    """The members of a family with the stated values, which are not linear in its constants."""
    try:
        roots = solve_system(rows, constants, facts, True, ())
    except NotSolved:
        raise NotSolved("the stated values are not solved for the constants") from None
    found = []
    for root in roots.found:
        values = {u: simplify(substitute(v, root.values), facts).expression for u, v in solution.values.items()}
        conditions = tuple(substitute(c, root.values) for c in (*solution.conditions, *root.conditions))
        residuals = [with_values(e, values, problem.variable) for e in problem.equations]
        stated = [with_values(e.left - e.right, values, problem.variable) for e in problem.stated]
        if all(is_zero(r, facts) is True for r in (*residuals, *stated)):
            found.append(Solved(values, tuple(problem.facts.open_conditions(conditions))))
    return found


def breaks_where_zero(solution: Solved, gap: Expression, facts: Facts) -> bool:
    """Whether a formula of a solution has no value where a gap of letters vanishes."""
    letter = letter_where_zero(gap, facts)
    if letter is None:
        return False
    try:
        for value in solution.values.values():
            substitute(value, dict([letter]))
    except DomainError:
        return True
    return False


def constants_in(formula: Expression, constants: tuple[Name, ...]) -> tuple[Name, ...]:
    """Those of the constants that stand in a formula."""
    return tuple(c for c in constants if contains(formula, c))


def with_own_constants(then: Outcome, taken: tuple[Name, ...], inside: list[Expression], rest: Problem) -> Outcome:
    """The outcome with other names for its constants, where they have the names of constants that do not stand in its equations."""
    doubled = [c for c in then.constants if c in taken and not any(contains(e, c) for e in inside)]
    free = (c for c in rest.constants(len(taken) + 2 * len(then.constants)) if c not in (*taken, *then.constants))
    table: dict[Node, Expression] = dict(zip(doubled, free, strict=False))
    if not table:
        return then
    found = [
        Solved({u: substitute(v, table) for u, v in s.values.items()}, tuple(substitute(c, table) for c in s.conditions))
        for s in then.found
    ]
    constants = tuple(c for c in (table.get(c, c) for c in then.constants) if isinstance(c, Name))
    return then._replace(found=found, constants=constants)


def is_initial(problem: Problem) -> bool:
    """Whether the stated values are the whole state at 0."""
    wanted = {value_at(u, ZERO, k) for u in problem.unknowns for k in range(order_of(problem, u))}
    return {e.left for e in problem.stated} == wanted and bool(wanted)


def _is_state(problem: Problem) -> bool:
    """Whether the stated values are all values and derivatives below the order, at one place."""
    stated = [e.left for e in problem.stated]
    places = {e.arguments[0] for e in stated if isinstance(e, Applied)}
    wanted = {value_at(u, p, k) for p in places for u in problem.unknowns for k in range(order_of(problem, u))}
    return len(places) == 1 and set(stated) == wanted


class State(NamedTuple):
    """A value and a rate at one place."""

    place: Expression
    value: Expression
    rate: Expression


def state_of(problem: Problem) -> State | None:
    """What is stated of one function of an equation of second order, where it is a value and a rate at one place."""
    u = problem.unknowns[0]
    given = {e.left: e.right for e in problem.stated}
    places = [e.arguments[0] for e in given if isinstance(e, Applied)]
    if len(given) != 2 or len(set(places)) != 1:
        return None
    value, rate = (given.get(value_at(u, places[0], k)) for k in (0, 1))
    return None if value is None or rate is None else State(places[0], value, rate)


def slopes_of(relation: Equation, u: Applied, y: Name, order: int) -> list[Expression]:
    """y', y'', … in t and y, where a relation holds between them (differentiated implicitly)."""
    (t,) = u.arguments
    assert isinstance(t, Name)
    f = transform(substitute(relation.left - relation.right, {u: y}), _logarithm_without_bars)
    first = factored(-differentiate(f, t) / differentiate(f, y))
    found = [first]
    while len(found) < order:
        found.append(factored(differentiate(found[-1], t) + differentiate(found[-1], y) * first))
    return found


def without_bars(e: Expression) -> Expression:
    """The formula with u for abs(u)."""
    return substitute(e, {n: n.arguments[0] for n in postorder(e) if is_a(n, ABS)})


def _logarithm_without_bars(node: Node) -> Node:
    """ln(u) for ln(abs(u)): both have the derivative u'/u."""
    return LN(without_bars(node.arguments[0])) if is_a(node, LN) else node


def with_relation(e: Expression, relation: Equation, u: Applied, y: Name, order: int) -> Expression:
    """A formula in a function and its derivatives, in t and y where the relation holds."""
    table: dict[Node, Expression] = {u: y}
    for k, slope in enumerate(slopes_of(relation, u, y, order), 1):
        table[derivative_of(u, k)] = slope
    return substitute(e, table)


def before_steps(formula: Expression, t: Name, place: Expression, facts: Facts | None = None) -> Expression:
    """The formula as it is just before a place: steps there and later have not come yet, those before have.

    facts: what tells whether a step at a letter comes before the place; without them such steps stay as they are.
    """
    table: dict[Node, Expression] = {}
    for node in postorder(formula):
        if is_a(node, HEAVISIDE, DIRAC_DELTA) and contains(node, t):
            after = substitute(node.arguments[0], {t: place})
            sign = _side(after, facts)
            if sign is None:
                continue
            table[node] = ONE if is_a(node, HEAVISIDE) and sign > 0 else ZERO
    return substitute(formula, table)


def early_derivative(formula: Expression, t: Name, place: Expression, order: int, facts: Facts | None = None) -> Expression:
    """A derivative as it is just before a place."""
    return substitute(differentiate(before_steps(formula, t, place, facts), t, order), {t: place})


def derivative_in_period(
    formula: Expression, u: Name, n: Name, length: Expression, place: Expression, order: int, facts: Facts
) -> Expression:
    """A derivative just before a place, of a formula at u in the n-th period of this length."""
    turn = FLOOR(place / length)
    return early_derivative(substitute(formula, {n: turn}), u, place - length * turn, order, facts)


def _side(after: Expression, facts: Facts | None) -> int | None:
    """1 for what is positive, -1 or 0; None where it is not known."""
    if not names(after):
        return 0 if after is ZERO else sign_at(after, {})
    if facts is None:
        return None
    return 1 if facts.is_positive(after) else -1 if facts.is_nonpositive(after) else None


def with_values(e: Expression, values: Values, t: Name) -> Expression:
    """Unknown functions and their derivatives at places replaced by the formulas."""
    table: dict[Node, Expression] = {}
    for node in postorder(e):
        if isinstance(node, Applied):
            formula = next((v for u, v in values.items() if isinstance(u, Applied) and u.name == node.name), None)
            if formula is not None:
                place = node.arguments[0]
                inside = formula if place is t else before_steps(formula, t, place)
                table[node] = substitute(differentiate(inside, t, sum(node.orders)), {t: place})
    return substitute(e, table)
