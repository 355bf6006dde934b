"""What systems that are not linear keep along their solutions: a sum of the functions, by which one of them is told, or a quantity of two.

Source: S. Strogatz, "Nonlinear Dynamics and Chaos" (1994), chapters 5 to 7.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable

from gelvo.deciding.equality import is_zero
from gelvo.differential.first_order.exact import exact_level
from gelvo.differential.first_order.rate import Rate
from gelvo.differential.first_order.separable import separated_level
from gelvo.differential.problem import Outcome, Problem, Solved, derivative_of, value_at, with_own_constants, with_values
from gelvo.differential.systems.slopes import own_slopes, place_of_start, start_of_system
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Written
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.univariate import coefficients_of
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

Solve = Callable[[Problem], Outcome]


def with_conserved_sum(problem: Problem, solve: Solve) -> Outcome | None:
    """k_1*x + k_2*y + … does not change: one unknown function is told by the others."""
    slopes_told = own_slopes(problem)
    weights = _conserved(*slopes_told, problem) if slopes_told is not None else None
    if slopes_told is None or weights is None:
        return None
    plain, rates = slopes_told
    gone = problem.unknowns[max(i for i, w in enumerate(weights) if w is not ZERO)]
    parts = dict(zip(problem.unknowns, weights, strict=True))
    whole = total([w * u for u, w in parts.items()])
    level = _at_start(problem, whole)
    constants = problem.constants(1) if level is None else ()
    told = ((constants[0] if level is None else level) - (whole - parts[gone] * gone)) / parts[gone]
    others = [u for u in problem.unknowns if u is not gone]
    table = {p: told if u is gone else u for p, u in zip(plain, problem.unknowns, strict=True)}
    equations = [
        derivative_of(u, 1) - substitute(r, table) for u, r in zip(problem.unknowns, rates, strict=True) if u is not gone
    ]
    stated = [e for e in problem.stated if e.left is not value_at(gone, place_of_start(problem), 0)]
    inside = problem._replace(equations=equations, unknowns=others, stated=stated)
    inner = with_own_constants(solve(inside), constants, equations, problem)
    if any(s.relation is not None for s in inner.found):
        return None
    found = [_with_the_other(s, gone, told, problem) for s in inner.found]
    for c in constants:
        found += _for_level_zero(inside, c, found, gone, told, solve)
    road = f"{whole} is conserved; {inner.road}"
    return inner._replace(found=found, constants=tuple(dict.fromkeys((*constants, *inner.constants))), road=road)


def _with_the_other(s: Solved, gone: Expression, told: Expression, problem: Problem) -> Solved:
    known = problem.facts.with_facts([c for c in s.conditions if names(c)])
    return Solved({**s.values, gone: simplify(with_values(told, s.values, problem.variable), known).expression}, s.conditions)


def _for_level_zero(
    problem: Problem, c: Name, found: list[Solved], gone: Expression, told: Expression, solve: Solve
) -> list[Solved]:
    """What the formulas for any value of a conserved sum do not have where it is 0."""
    table = {c: ZERO}
    try:
        inner = solve(problem._replace(equations=[substitute(e, table) for e in problem.equations]))
    except (NotSolved, DomainError):
        return []
    listed = [_with_the_other(s, gone, substitute(told, table), problem) for s in inner.found if s.relation is None]
    first = problem.unknowns[0]
    return [s for s in listed if not any(becomes(one.values[first], s.values[first], c, problem.facts) for one in found)]


def _conserved(plain: list[Name], rates: list[Expression], problem: Problem) -> list[Expression] | None:
    """Numbers or letters k with k_1*x' + k_2*y' + … = 0, the last that can be being 1."""
    marks = [problem.facts.new_name(f"k_{u.name}", *problem.formulas) for u in problem.unknowns]
    whole = quotient_parts(factored(total([m * r for m, r in zip(marks, rates, strict=True)])))[0]
    rows = [expand(whole)]
    for p in plain:
        parts = [coefficients_of(row, p) for row in rows]
        if any(part is None for part in parts):
            return None
        rows = [c for part in parts if part is not None for c in part if c is not ZERO]
    table = linear_rows(rows, marks)
    solved = solve_linear(table, marks, problem.facts) if table is not None else None
    if solved is None or not solved.found or problem.facts.open_conditions(solved.conditions):
        return None
    values = [solved.found[0].values[m] for m in marks]
    free = [m for m in marks if any(contains(v, m) for v in values)]
    if not free:
        return None
    chosen = {m: ONE if m is free[0] else ZERO for m in free}
    return [factored(substitute(v, chosen)) for v in values]


def kept_quantity(problem: Problem) -> Expression | None:
    """What does not change along the solutions of a system of two functions, where their paths are told by a relation."""
    told = own_slopes(problem) if len(problem.unknowns) == 2 else None
    if told is None or ZERO in told[1]:
        return None
    plain, rates = told
    rate = Rate(problem, factored(rates[1] / rates[0]), plain[1])._replace(problem=problem._replace(variable=plain[0]))
    for level in (separated_level, exact_level):
        with contextlib.suppress(DomainError, NotSolved):
            whole = level(rate)
            if whole is not None and not any(isinstance(n, Written) for n in postorder(whole)):
                back = dict(zip(plain, problem.unknowns, strict=True))
                return simplify(substitute(whole, back), problem.facts).expression
    return None


def becomes(general: Expression, special: Expression, c: Name, facts: Facts) -> bool:
    """Whether a formula for any constant is that for the constant 0."""
    try:
        return is_zero(substitute(general, {c: ZERO}) - special, facts) is True
    except DomainError:
        return False


def _at_start(problem: Problem, whole: Expression) -> Expression | None:
    """The value of a sum of the functions where they are all stated."""
    start = start_of_system(problem)
    if start is None:
        return None
    return expand(substitute(whole, dict(zip(problem.unknowns, start, strict=True))))
