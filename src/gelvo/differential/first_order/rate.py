"""y' = F(t, y): the task that all methods of the first order share, and when a formula is believed to solve it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.deciding.equality import is_zero
from gelvo.differential.problem import Outcome, Problem, Solved, stated_places, with_values, without_bars
from gelvo.errors import DomainError
from gelvo.expression.building import distributed, looks_negative, multiply_all, number, power
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node, Power, Relation, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import ABS, ACOS, ASIN, ATAN, CBRT, COS, EXP, SIGN, SIN, TAN, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.putting_back import real_conditions


class Start(NamedTuple):
    """y = value at a place."""

    place: Expression
    value: Expression


class Rate(NamedTuple):
    """The problem, and its slope as a formula in the variable and in a plain name for the function."""

    problem: Problem
    slope: Expression
    y: Name

    @property
    def t(self) -> Name:
        return self.problem.variable

    @property
    def unknown(self) -> Applied:
        return self.problem.unknowns[0]

    @property
    def facts(self) -> Facts:
        return self.problem.facts

    def constant(self) -> Name:
        """A free constant that stands nowhere in the problem, nor in the slope."""
        return next(iter(self.facts.new_names("C", *self.problem.formulas, self.unknown, self.slope)))

    @property
    def start(self) -> Start | None:
        """The one value that is stated, or None."""
        return start_of(self.problem)


def start_of(problem: Problem) -> Start | None:
    """The one stated value of the function itself; DomainError where something else is stated."""
    if not problem.stated:
        return None
    if len(problem.stated) > 1 or not isinstance(problem.stated[0].left, Applied) or any(problem.stated[0].left.orders):
        raise DomainError("one initial value of the function itself belongs to an equation of the first order")
    return Start(problem.stated[0].left.arguments[0], problem.stated[0].right)


def integral(f: Expression, x: Name, facts: Facts) -> Expression | None:
    """An antiderivative, or None."""
    if f is ZERO:
        return ZERO
    found = antiderivative(f, x, facts)
    value = None if found is None else _without_turns(found.value)
    if value is not None and not any(is_a(n, SIGN) and contains(n, x) for n in postorder(value)):
        return value
    other = _by_reflection(f, x, facts)
    if other is not None or value is not None:
        return other if other is not None else value
    apart = transform(f, lambda node: _sum_apart(node, x))
    return None if apart is f else integral(simplify(apart, facts).expression, x, facts)


def _sum_apart(node: Node, x: Name) -> Node:
    """tan(c - atan(x)) as (tan(c) - x)/(1 + tan(c)*x), and the waves of such sums."""
    if not is_a(node, TAN, SIN, COS) or not isinstance(node.arguments[0], Sum):
        return node
    inverse = [t for t, _ in node.arguments[0].items() if is_a(t, ATAN, ASIN, ACOS) and contains(t, x)]
    if len(inverse) != 1:
        return node
    share = next(c for t, c in node.arguments[0].items() if t is inverse[0])
    b = multiply_all([number(share), inverse[0]])
    a = node.arguments[0] - b
    if is_a(node, TAN):
        return (TAN(a) + TAN(b)) / (1 - TAN(a) * TAN(b))
    return SIN(a) * COS(b) + COS(a) * SIN(b) if is_a(node, SIN) else COS(a) * COS(b) - SIN(a) * SIN(b)


def _without_turns(e: Expression) -> Expression:
    """u for atan(tan(u)): the slopes are the same."""
    turned = {n: n.arguments[0].arguments[0] for n in postorder(e) if is_a(n, ATAN) and is_a(n.arguments[0], TAN)}
    return substitute(e, turned) if turned else e


def _by_reflection(f: Expression, x: Name, facts: Facts) -> Expression | None:
    """An antiderivative through that on the right of 0, where f is even or odd and its roots or bars tell the sides apart."""
    if not any(_tells_sides(n) and contains(n, x) for n in postorder(f)):
        return None
    size = facts.new_name("x", f, x, domain="positive")
    right, left = (simplify(_without_cube_roots(substitute(f, {x: side}), facts), facts).expression for side in (size, -size))
    sign = 1 if left is right else -1 if left is -right else 0
    if not sign:
        return None
    found = antiderivative(right, size, facts)
    if found is None:
        return None
    whole = substitute(found.value, {size: ABS(x)})
    return simplify(SIGN(x) * whole if sign > 0 else whole, facts).expression


def _tells_sides(n: Node) -> bool:
    """abs(u), cbrt(u), sqrt(u)."""
    return is_a(n, ABS, CBRT) or (isinstance(n, Power) and n.exponent.is_rational and not n.exponent.is_whole)


def _without_cube_roots(f: Expression, facts: Facts) -> Expression:
    """cbrt(u) as u^(1/3) where u is not negative."""
    roots = [n for n in postorder(f) if is_a(n, CBRT) and facts.is_nonnegative(n.arguments[0])]
    return substitute(f, {n: power(n.arguments[0], number(mpq(1, 3))) for n in roots})


def growth(inner: Expression, x: Name, facts: Facts) -> Expression:
    """exp(inner). Absolute values inside logarithms go where the power is whole: their sign is a constant factor."""
    plain = simplify(EXP(without_bars(inner)), facts).expression
    whole = simplify(EXP(inner), facts).expression
    needed = set(real_conditions(whole, x, facts))
    broken = [
        c for c in real_conditions(plain, x, facts) if not (isinstance(c, Relation) and c.operator == "!=") and c not in needed
    ]
    return whole if broken else plain


def accepted(problem: Problem, value: Expression, conditions: Iterable[Condition] = ()) -> Solved | None:
    """The formula as a solution, with those of the conditions that it needs; None where it is not proved to solve the equations."""
    u, listed = problem.unknowns[0], [c for c in conditions if names(c)]
    tries: list[list[Condition]] = [[]]
    if listed and not any(isinstance(c, Relation) and c.operator == "=" and contains(c, problem.variable) for c in listed):
        tries += [listed, [*listed, *real_conditions(value, problem.variable, problem.facts)]]  # else at single places only
    for needed in tries:
        try:
            facts = problem.facts.with_facts(needed)
            residuals = [with_values(e, {u: value}, problem.variable) for e in problem.equations]
            if (
                all(is_zero(r, facts) is True for r in residuals)
                and _starts_right(problem, value, facts)
                and _reaches_start(problem, [*needed, *real_conditions(value, problem.variable, facts)])
            ):
                return Solved({u: value}, tuple(problem.facts.open_conditions(needed)))
        except DomainError:
            continue
    return None


def _reaches_start(problem: Problem, conditions: Iterable[Condition]) -> bool:
    """Whether what a formula needs of the variable does not fail where a value is stated."""
    places = stated_places(problem)
    return not any(problem.facts.holds(substitute(c, {problem.variable: p})) is False for c in conditions for p in places)


def _starts_right(problem: Problem, value: Expression, facts: Facts) -> bool:
    rows = [with_values(e.left - e.right, {problem.unknowns[0]: value}, problem.variable) for e in problem.stated]
    return all(is_zero(row, facts) is True for row in rows)


def both_ways(slopes: Sequence[Expression]) -> list[Expression]:
    """The slopes, where abs(u)*w and -abs(u)*w are both among them u*w and -u*w, which have the same solutions together."""
    whole = set(slopes)
    found = []
    for slope in slopes:
        bars: dict[Node, Expression] = {n: n.arguments[0] for n in factors_in(slope) if is_a(n, ABS)} if -slope in whole else {}
        found.append(substitute(slope, bars) if bars else slope)
    return found


def distinct(found: Iterable[Solved], constants: tuple[Name, ...], facts: Facts) -> list[Solved]:
    """Solutions that differ by more than a constant with the other sign, or turned over."""
    kept: list[Solved] = []
    turned: list[dict[Node, Expression]] = [{}, {c: -c for c in constants}]
    turned += [{c: 1 / c} for c in constants]
    for s in found:
        values = list(s.values.values())
        if not any(
            _same(o, v, table, facts) for v in values[:1] for k in kept for o in list(k.values.values())[:1] for table in turned
        ):
            kept.append(s)
    return kept


def _same(one: Expression, other: Expression, table: dict[Node, Expression], facts: Facts) -> bool:
    try:
        return is_zero(substitute(one, table) - other, facts) is True
    except DomainError:  # no value for such constants
        return False


def told(rate: Rate, left: Expression, right: Expression, road: str, lost: tuple[str, ...] = ()) -> Outcome:
    """A relation between function and variable, where it is not solved for the function."""
    problem, start = rate.problem, rate.start
    if looks_negative(left):
        left, right = -left, -right
    left = distributed(left)
    constants: tuple[Name, ...] = () if start else (rate.constant(),)
    if start:
        table = {rate.y: start.value, rate.t: start.place}
        try:
            settled = is_zero(substitute(differentiate(left, rate.y), table), problem.facts) is False
        except DomainError:  # the slope has no value there
            settled = False
        if not settled:
            raise DomainError(f"{problem.stated[0]} cannot be imposed: no one solution goes through there")
        side = right + simplify(substitute(left - right, table), problem.facts).expression
    else:
        side = right + constants[0]
    return Outcome([Solved({}, (), Equation(substitute(left, {rate.y: rate.unknown}), side))], constants, road, lost)
