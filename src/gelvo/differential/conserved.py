"""Systems that are not linear: with a conserved sum, along their paths in a plane, and with a rotation as their symmetry.

Source: S. Strogatz, "Nonlinear Dynamics and Chaos" (1994), chapters 5 to 7.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable

from gelvo.deciding.equality import is_zero
from gelvo.differential.first_order.methods import first_order
from gelvo.differential.first_order.rate import integral
from gelvo.differential.problem import (
    Outcome,
    Problem,
    Solved,
    Values,
    constants_in,
    derivative_of,
    imposed,
    value_at,
    with_own_constants,
    with_values,
)
from gelvo.differential.slopes_of_systems import slopes
from gelvo.differential.systems import one_after_another
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, relation, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Expression, Name, Written
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.univariate import coefficients_of
from gelvo.functions.named import ATAN2, COS, SIN
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear
from gelvo.solving.single.complete import solve_single
from gelvo.solving.systems import solve_system

Solve = Callable[[Problem], Outcome]


def in_the_plane(problem: Problem, solve: Solve) -> Outcome | None:
    """Two functions: the first way that leads to formulas; solve: what solves the smaller problems."""
    told = _own_slopes(problem) if len(problem.unknowns) == 2 else None
    if told is None:
        return None
    for way in (with_sum_and_difference, along_paths, around_the_origin):
        with contextlib.suppress(NotSolved):
            outcome = way(problem, *told, solve)
            if outcome is not None:
                return outcome
    return None


def _own_slopes(problem: Problem) -> tuple[list[Name], list[Expression]] | None:
    """The slopes, where they do not depend on the variable itself."""
    found = slopes(problem)
    return None if found is None or any(contains(r, problem.variable) for r in found[1]) else found


def with_conserved_sum(problem: Problem, solve: Solve) -> Outcome | None:
    """k_1*x + k_2*y + … does not change: one unknown function is told by the others."""
    slopes_told = _own_slopes(problem)
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
    stated = [e for e in problem.stated if e.left is not value_at(gone, _place(problem), 0)]
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
    return [s for s in listed if not any(_becomes(one.values[first], s.values[first], c, problem.facts) for one in found)]


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


def with_sum_and_difference(problem: Problem, plain: list[Name], rates: list[Expression], solve: Solve) -> Outcome | None:
    """x' = x^2 + y^2, y' = 2*x*y: each of x + y and x - y by itself, or one after the other."""
    t, facts = problem.variable, problem.facts
    words = (f"{problem.unknowns[0].name}_{side}" for side in ("sum", "gap"))
    p, q = (applied(facts.new_name(word, *problem.formulas).name, (t,), (0,)) for word in words)
    table = {plain[0]: (p + q) / 2, plain[1]: (p - q) / 2}
    turned = [factored(substitute(rates[0] + sign * rates[1], table)) for sign in (1, -1)]
    if contains(turned[0], q) and contains(turned[1], p):
        return None
    back = {problem.unknowns[0]: (p + q) / 2, problem.unknowns[1]: (p - q) / 2}
    equations = [derivative_of(v, 1) - rate for v, rate in zip((p, q), turned, strict=True)]
    inner = one_after_another(Problem(equations, [p, q], t, [], facts), solve)
    if inner is None or any(s.relation is not None for s in inner.found):
        return None
    found = []
    for s in inner.found:
        values: Values = {u: simplify(with_values(v, s.values, t), facts).expression for u, v in back.items()}
        found.append(Solved(values, s.conditions))
    outcome = inner._replace(found=found, road=f"sum and difference; {inner.road}")
    return imposed(problem, outcome) if problem.stated else outcome


def along_paths(problem: Problem, plain: list[Name], rates: list[Expression], solve: Solve) -> Outcome | None:
    """The path y(x) from dy/dx = y'/x' first, then the motion along it."""
    if ZERO in rates:
        return None
    start = _start(problem)
    still = [s for i in (0, 1) for s in _with_one_still(problem, plain, rates, i, start)]
    if start and still:
        return Outcome(still[:1], (), "one function stays as it is")
    for i, j in ((0, 1), (1, 0)):
        moving = _along(problem, plain, rates, (i, j), start)
        if moving is not None:
            found = [*moving.found, *still, *_at_rest(problem, plain, rates)]
            return moving._replace(found=_different(found, problem.facts))
    return None


def kept_quantity(problem: Problem) -> Expression | None:
    """What does not change along the solutions of a system of two functions, where their paths are told by a relation."""
    told = _own_slopes(problem) if len(problem.unknowns) == 2 else None
    if told is None or ZERO in told[1]:
        return None
    plain, rates = told
    path = applied(problem.facts.new_name("path", *problem.formulas).name, (plain[0],), (0,))
    equation = derivative_of(path, 1) - factored(substitute(rates[1] / rates[0], {plain[1]: path}))
    try:
        paths = first_order(Problem([equation], [path], plain[0], [], problem.facts))
    except (DomainError, NotSolved):
        return None
    relations = [s.relation for s in paths.found if s.relation is not None] if paths is not None else []
    if not relations or any(isinstance(n, Written) for e in relations[:1] for n in postorder(e.left - e.right)):
        return None
    gap = relations[0].left - relations[0].right
    whole = substitute(gap, {**dict.fromkeys(paths.constants if paths is not None else (), ZERO), path: problem.unknowns[1]})
    return substitute(whole, {plain[0]: problem.unknowns[0]})


def _along(
    problem: Problem, plain: list[Name], rates: list[Expression], order: tuple[int, int], start: list[Expression] | None
) -> Outcome | None:
    """One function as a function of the other, which is then a function of the variable."""
    (i, j), t, facts = order, problem.variable, problem.facts
    u, place = problem.unknowns[i], plain[i]
    path = applied(facts.new_name(f"{problem.unknowns[j].name}_along", *problem.formulas).name, (place,), (0,))
    stated = [Equation(value_at(path, start[i], 0), start[j])] if start else []
    equation = derivative_of(path, 1) - factored(substitute(rates[j] / rates[i], {plain[j]: path}))
    try:
        paths = first_order(Problem([equation], [path], place, stated, facts))
    except (DomainError, NotSolved):
        return None
    if paths is None or any(s.relation is not None for s in paths.found):
        return None
    found: list[Solved] = []
    constants: tuple[Name, ...] = paths.constants
    begun = [Equation(value_at(u, ZERO if start is None else _place(problem), 0), start[i])] if start else []
    lost, road = list(paths.lost), ""
    for s in paths.found:
        height = s.values[path]
        rate = simplify(substitute(rates[i], {plain[j]: height}), facts).expression
        timed = _timed(
            Problem([derivative_of(u, 1) - substitute(rate, {place: u})], [u], t, begun, facts),
            constants_in(rate, paths.constants),
        )
        if timed is None:
            return None
        road = timed.road
        lost += timed.lost
        constants = tuple(dict.fromkeys((*constants, *timed.constants)))
        for one in timed.found:
            own = {c: ZERO for c in constants_in(height, paths.constants) if one.values.get(c) is ZERO}
            formula = one.values[u]
            other = simplify(
                substitute(substitute(height, own), {place: formula}), facts.with_facts([c for c in one.conditions if names(c)])
            ).expression
            found.append(Solved({u: formula, problem.unknowns[j]: other}, one.conditions))
    return Outcome(
        found,
        constants,
        f"the paths {problem.unknowns[j]} over {u} ({paths.road}), then the motion along them; {road}",
        tuple(lost),
    )


def _timed(problem: Problem, constants: tuple[Name, ...]) -> Outcome | None:
    """The motion along a path, for each sign of its constant where the formulas differ; a constant that must be 0 is among the values."""
    if not constants:
        outcome = first_order(problem)
        return None if outcome is None or any(s.relation is not None for s in outcome.found) else outcome
    c, u = constants[0], problem.unknowns[0]
    parts: list[Outcome] = []
    for case in (relation("<", ZERO, c), relation("<", c, ZERO)):
        try:
            part = first_order(problem._replace(facts=problem.facts.with_facts([case])))
        except DomainError:
            part = None
        if part is None or any(s.relation is not None for s in part.found):
            return None
        parts.append(part._replace(found=[s._replace(conditions=(case, *s.conditions)) for s in part.found]))
    found = [s for part in parts for s in part.found]
    if len(parts[0].found) == len(parts[1].found) and all(
        a.values[u] is b.values[u] for a, b in zip(parts[0].found, parts[1].found, strict=True)
    ):
        found = [s._replace(conditions=s.conditions[1:]) for s in parts[0].found]
    for s in _without_constant(problem, c):
        if not any(_becomes(one.values[u], s.values[u], c, problem.facts) for one in found):
            found.append(Solved({**s.values, c: ZERO}, s.conditions))
    return parts[0]._replace(found=found, constants=tuple(dict.fromkeys(k for p in parts for k in p.constants)))


def _without_constant(problem: Problem, c: Name) -> list[Solved]:
    try:
        none = first_order(problem._replace(equations=[substitute(e, {c: ZERO}) for e in problem.equations]))
    except DomainError:
        return []
    return [s for s in none.found if s.relation is None] if none is not None else []


def _becomes(general: Expression, special: Expression, c: Name, facts: Facts) -> bool:
    """Whether a formula for any constant is that for the constant 0."""
    try:
        return is_zero(substitute(general, {c: ZERO}) - special, facts) is True
    except DomainError:
        return False


def _with_one_still(
    problem: Problem, plain: list[Name], rates: list[Expression], i: int, start: list[Expression] | None
) -> list[Solved]:
    """The solutions in which one function does not change, whatever the other is."""
    u, v = problem.unknowns[i], problem.unknowns[1 - i]
    levels: list[Expression] = []
    for factor in factor_list(rates[i]):
        if contains(factor, plain[i]) and not contains(factor, plain[1 - i]):
            levels += [
                r.value for r in solve_single(factor, plain[i], problem.facts, True, formulas_only=True).found if not r.families
            ]
    found: list[Solved] = []
    for level in levels:
        if start and is_zero(level - start[i], problem.facts) is not True:
            continue
        rate = substitute(rates[1 - i], {plain[i]: level, plain[1 - i]: v})
        begun = [Equation(value_at(v, _place(problem), 0), start[1 - i])] if start else []
        rest = first_order(Problem([derivative_of(v, 1) - rate], [v], problem.variable, begun, problem.facts))
        if rest is not None:
            found += [Solved({u: level, **s.values}, s.conditions) for s in rest.found if s.relation is None]
    return found


def _at_rest(problem: Problem, plain: list[Name], rates: list[Expression]) -> list[Solved]:
    """Single points where nothing moves."""
    if problem.stated:
        return []
    try:
        points = solve_system(rates, plain, problem.facts, True, ()).found
    except (NotSolved, DomainError):
        return []
    found = []
    for p in points:
        values: Values = {u: p.values[n] for u, n in zip(problem.unknowns, plain, strict=True)}
        if not p.families and not any(contains(v, n) for v in values.values() for n in plain):
            found.append(Solved(values, p.conditions))
    return found


def _different(found: list[Solved], facts: Facts) -> list[Solved]:
    kept: list[Solved] = []
    for s in found:
        if not any(all(is_zero(k.values[u] - s.values[u], facts) is True for u in s.values) for k in kept):
            kept.append(s)
    return kept


def around_the_origin(problem: Problem, plain: list[Name], rates: list[Expression], solve: Solve) -> Outcome | None:
    """x = r*cos(p), y = r*sin(p), where neither r' nor p' depends on p."""
    t, facts = problem.variable, problem.facts
    r, p = facts.new_name("r", *problem.formulas, domain="positive"), facts.new_name("p", *problem.formulas)
    turned = [substitute(rate, {plain[0]: r * COS(p), plain[1]: r * SIN(p)}) for rate in rates]
    outwards = simplify(turned[0] * COS(p) + turned[1] * SIN(p), facts).expression
    around = simplify((turned[1] * COS(p) - turned[0] * SIN(p)) / r, facts).expression
    if contains(outwards, p) or contains(around, p):
        return None
    start = _start(problem)
    radius = applied(facts.new_name(f"{problem.unknowns[0].name}_r", *problem.formulas).name, (t,), (0,))
    stated = []
    if start:
        distance = simplify(sqrt(start[0] ** 2 + start[1] ** 2), facts).expression
        stated = [Equation(value_at(radius, _place(problem), 0), distance)]
    inner = first_order(Problem([derivative_of(radius, 1) - substitute(outwards, {r: radius})], [radius], t, stated, facts))
    if inner is None or any(s.relation is not None for s in inner.found):
        return None
    phase = ATAN2(start[1], start[0]) if start else problem.constants(len(inner.constants) + 1)[-1]
    found: list[Solved] = []
    for s in inner.found:
        size = s.values[radius]
        known = facts.with_facts([c for c in s.conditions if names(c)])
        angle = integral(simplify(substitute(around, {r: size}), known).expression, t, known)
        if angle is None:
            return None
        angle += phase - (substitute(angle, {t: _place(problem)}) if start else ZERO)
        values: Values = {
            u: simplify(size * wave(angle), known).expression for u, wave in zip(problem.unknowns, (COS, SIN), strict=True)
        }
        opposite = any(is_zero(size + k.values[radius], facts) is True for k in inner.found[: inner.found.index(s)])
        if not opposite:
            found.append(Solved(values, s.conditions))
    constants = (*inner.constants, *([phase] if isinstance(phase, Name) and not start else []))
    return inner._replace(found=found, constants=constants, road=f"polar coordinates; {inner.road}")


def _start(problem: Problem) -> list[Expression] | None:
    """The values of all functions at one place; None where nothing is stated."""
    if not problem.stated:
        return None
    given = {e.left: e.right for e in problem.stated}
    wanted = [value_at(u, _place(problem), 0) for u in problem.unknowns]
    if set(wanted) != set(given):
        raise NotSolved("values of all functions at one place are needed")
    return [given[w] for w in wanted]


def _place(problem: Problem) -> Expression:
    (first,) = problem.stated[:1]
    return first.left.arguments[0] if isinstance(first.left, Applied) else ZERO


def _at_start(problem: Problem, whole: Expression) -> Expression | None:
    """The value of a sum of the functions where they are all stated."""
    start = _start(problem)
    if start is None:
        return None
    return expand(substitute(whole, dict(zip(problem.unknowns, start, strict=True))))
