"""Systems of two functions that are not linear: sum and difference, the motion along the paths, and polar coordinates.

Source: S. Strogatz, "Nonlinear Dynamics and Chaos" (1994), chapters 5 to 7.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from typing import NamedTuple

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
from gelvo.differential.systems.conserved import becomes
from gelvo.differential.systems.one_after_another import one_after_another
from gelvo.differential.systems.slopes import own_slopes, place_of_start, start_of_system
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, relation, sqrt
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import ATAN2, COS, SIN
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single
from gelvo.solving.systems import solve_system

Solve = Callable[[Problem], Outcome]


class Plane(NamedTuple):
    """The problem, plain names for its two functions, their slopes in these, and their values at the start (or None)."""

    problem: Problem
    plain: list[Name]
    rates: list[Expression]
    start: list[Expression] | None

    def alone(self, i: int, rate: Expression) -> Problem:
        """The equation u' = rate of one of the functions, from its own start."""
        u, problem = self.problem.unknowns[i], self.problem
        begun = [Equation(value_at(u, place_of_start(problem), 0), self.start[i])] if self.start else []
        return Problem([derivative_of(u, 1) - rate], [u], problem.variable, begun, problem.facts)


def in_the_plane(problem: Problem, solve: Solve) -> Outcome | None:
    """The first way that leads to formulas; solve: what solves the smaller problems."""
    told = own_slopes(problem) if len(problem.unknowns) == 2 else None
    if told is None:
        return None
    plane = Plane(problem, *told, start_of_system(problem))
    ways: tuple[Callable[[], Outcome | None], ...] = (
        lambda: with_sum_and_difference(plane, solve),
        lambda: along_paths(plane),
        lambda: around_the_origin(plane),
        lambda: by_elimination(plane, solve),
    )
    for way in ways:
        with contextlib.suppress(NotSolved):
            outcome = way()
            if outcome is not None and all(_solves(problem, s) for s in outcome.found):
                return outcome
    return None


def _solves(problem: Problem, s: Solved) -> bool:
    """Whether functions are put back to zero: a path through a turning place may have lost the one that turns."""
    known = problem.facts.with_facts([c for c in s.conditions if names(c)])
    return all(is_zero(with_values(e, s.values, problem.variable), known) for e in problem.equations)


def with_sum_and_difference(plane: Plane, solve: Solve) -> Outcome | None:
    """x' = x^2 + y^2, y' = 2*x*y: each of x + y and x - y by itself, or one after the other."""
    problem, plain, rates, _ = plane
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


def along_paths(plane: Plane) -> Outcome | None:
    """The path y(x) from dy/dx = y'/x' first, then the motion along it."""
    if ZERO in plane.rates:
        return None
    still = [s for i in (0, 1) for s in _with_one_still(plane, i)]
    if plane.start and still:
        return Outcome(still[:1], (), "one function stays as it is")
    for i in (0, 1):
        moving = _along(plane, i)
        if moving is not None:
            found = [*moving.found, *still, *_at_rest(plane)]
            return moving._replace(found=_different(found, plane.problem.facts))
    return None


def _along(plane: Plane, i: int) -> Outcome | None:
    """The other function as a function of this one, which is then a function of the variable."""
    j, problem, plain, facts = 1 - i, plane.problem, plane.plain, plane.problem.facts
    path = applied(facts.new_name(f"{problem.unknowns[j].name}_along", *problem.formulas).name, (plain[i],), (0,))
    stated = [Equation(value_at(path, plane.start[i], 0), plane.start[j])] if plane.start else []
    equation = derivative_of(path, 1) - factored(substitute(plane.rates[j] / plane.rates[i], {plain[j]: path}))
    try:
        paths = first_order(Problem([equation], [path], plain[i], stated, facts))
    except (DomainError, NotSolved):
        return None
    if paths is None or any(s.relation is not None for s in paths.found):
        return None
    found: list[Solved] = []
    constants: tuple[Name, ...] = paths.constants
    for s in paths.found:
        try:
            timed = _on_path(plane, i, s.values[path], paths.constants)
        except DomainError:  # along this path the slopes have no value
            continue
        if timed is None:
            return None
        constants = tuple(dict.fromkeys((*constants, *timed.constants)))
        found += timed.found
        paths = paths._replace(lost=(*paths.lost, *timed.lost))
    road = f"the paths {problem.unknowns[j]} over {problem.unknowns[i]} ({paths.road}), then the motion along them"
    return Outcome(found, constants, road, paths.lost)


def _on_path(plane: Plane, i: int, height: Expression, free: tuple[Name, ...]) -> Outcome | None:
    """The motion along one family of paths."""
    problem, facts, plain = plane.problem, plane.problem.facts, plane.plain
    u, other = problem.unknowns[i], problem.unknowns[1 - i]
    rate = simplify(substitute(plane.rates[i], {plain[1 - i]: height}), facts).expression
    alone = plane.alone(i, substitute(rate, {plain[i]: u}))
    timed = _timed(alone, constants_in(rate, free))
    if timed is None:
        return None
    timed = with_own_constants(timed, free, [*alone.equations, *constants_in(rate, free)], problem)
    found: list[Solved] = []
    for one in timed.found:
        level = {c: ZERO for c in free if one.values.get(c) is ZERO}
        known = facts.with_facts([c for c in one.conditions if names(c)])
        beside = simplify(substitute(substitute(height, level), {plain[i]: one.values[u]}), known).expression
        found.append(Solved({u: one.values[u], other: beside}, one.conditions))
    return timed._replace(found=found)


def _timed(problem: Problem, constants: tuple[Name, ...]) -> Outcome | None:
    """The motion for each sign of the constant of a path where the formulas differ; a constant that is 0 is among the values."""
    if not constants:
        return _by_formulas(problem)
    c, u = constants[0], problem.unknowns[0]
    parts: list[Outcome] = []
    for case in (relation("<", ZERO, c), relation("<", c, ZERO)):
        part = _by_formulas(problem._replace(facts=problem.facts.with_facts([case])))
        if part is None:
            return None
        parts.append(part._replace(found=[s._replace(conditions=(case, *s.conditions)) for s in part.found]))
    found = [s for part in parts for s in part.found]
    if [s.values[u] for s in parts[0].found] == [s.values[u] for s in parts[1].found]:
        found = [s._replace(conditions=s.conditions[1:]) for s in parts[0].found]
    with contextlib.suppress(DomainError):
        at_zero = _by_formulas(problem._replace(equations=[substitute(e, {c: ZERO}) for e in problem.equations]))
        for s in at_zero.found if at_zero is not None else ():
            if not any(becomes(one.values[u], s.values[u], c, problem.facts) for one in found):
                found.append(Solved({**s.values, c: ZERO}, s.conditions))
    return parts[0]._replace(found=found, constants=tuple(dict.fromkeys(k for p in parts for k in p.constants)))


def _by_formulas(problem: Problem) -> Outcome | None:
    try:
        found = first_order(problem)
    except DomainError:
        return None
    return None if found is None or any(s.relation is not None for s in found.found) else found


def _with_one_still(plane: Plane, i: int) -> list[Solved]:
    """The solutions in which one function does not change, whatever the other is."""
    problem, plain = plane.problem, plane.plain
    levels: list[Expression] = []
    for factor in factor_list(plane.rates[i]):
        if contains(factor, plain[i]) and not contains(factor, plain[1 - i]):
            roots = solve_single(factor, plain[i], problem.facts, True, formulas_only=True)
            levels += [r.value for r in roots.found if not r.families]
    found: list[Solved] = []
    for level in levels:
        if plane.start and is_zero(level - plane.start[i], problem.facts) is not True:
            continue
        try:
            rate = substitute(plane.rates[1 - i], {plain[i]: level, plain[1 - i]: problem.unknowns[1 - i]})
        except DomainError:  # the other slope has no value there
            continue
        rest = _by_formulas(plane.alone(1 - i, rate))
        found += [Solved({problem.unknowns[i]: level, **s.values}, s.conditions) for s in rest.found] if rest else []
    return found


def _at_rest(plane: Plane) -> list[Solved]:
    """Single points where nothing moves."""
    if plane.start:
        return []
    try:
        points = solve_system(plane.rates, plane.plain, plane.problem.facts, True, ()).found
    except (NotSolved, DomainError):
        return []
    found = []
    for p in points:
        values: Values = {u: p.values[n] for u, n in zip(plane.problem.unknowns, plane.plain, strict=True)}
        if not p.families and not any(contains(v, n) for v in values.values() for n in plane.plain):
            found.append(Solved(values, p.conditions))
    return found


def _different(found: list[Solved], facts: Facts) -> list[Solved]:
    kept: list[Solved] = []
    for s in found:
        if not any(all(is_zero(k.values[u] - s.values[u], facts) is True for u in s.values) for k in kept):
            kept.append(s)
    return kept


def by_elimination(plane: Plane, solve: Solve) -> Outcome | None:
    """x' = a(x)*y + b(x): y is told by x and x', and the other equation is one of second order for x."""
    for i in (0, 1):
        parts = linear_parts(expand(plane.rates[i]), plane.plain[1 - i])
        if parts is not None and not any(contains(p, plane.plain[1 - i]) for p in parts):
            found = _eliminated(plane, i, parts, solve)
            if found is not None:
                return found
    return None


def _eliminated(plane: Plane, i: int, parts: tuple[Expression, Expression], solve: Solve) -> Outcome | None:
    problem, t, facts = plane.problem, plane.problem.variable, plane.problem.facts
    u, v = problem.unknowns[i], problem.unknowns[1 - i]
    a, b = (substitute(p, {plane.plain[i]: u}) for p in parts)
    told = (derivative_of(u, 1) - b) / a
    rate = substitute(plane.rates[1 - i], {plane.plain[i]: u, plane.plain[1 - i]: told})
    stated = []
    if plane.start:
        place, here = place_of_start(problem), dict(zip(plane.plain, plane.start, strict=True))
        stated = [
            Equation(value_at(u, place, 0), plane.start[i]),
            Equation(value_at(u, place, 1), substitute(plane.rates[i], here)),
        ]
    inner = solve(Problem([factored(differentiate(told, t) - rate)], [u], t, stated, facts))
    if any(s.relation is not None for s in inner.found):
        return None
    found = [
        Solved({**s.values, v: simplify(with_values(told, s.values, t), facts).expression}, s.conditions) for s in inner.found
    ]
    return inner._replace(found=found, road=f"{v} told by {u} and its slope; {inner.road}")


def around_the_origin(plane: Plane) -> Outcome | None:
    """x = r*cos(p), y = r*sin(p), where neither r' nor p' depends on p."""
    problem, plain, facts = plane.problem, plane.plain, plane.problem.facts
    r, p = facts.new_name("r", *problem.formulas, domain="positive"), facts.new_name("p", *problem.formulas)
    turned = [substitute(rate, {plain[0]: r * COS(p), plain[1]: r * SIN(p)}) for rate in plane.rates]
    outwards = simplify(turned[0] * COS(p) + turned[1] * SIN(p), facts).expression
    around = simplify((turned[1] * COS(p) - turned[0] * SIN(p)) / r, facts).expression
    if contains(outwards, p) or contains(around, p):
        return None
    radius = applied(facts.new_name(f"{problem.unknowns[0].name}_r", *problem.formulas).name, (problem.variable,), (0,))
    stated = []
    if plane.start:
        distance = simplify(sqrt(plane.start[0] ** 2 + plane.start[1] ** 2), facts).expression
        stated = [Equation(value_at(radius, place_of_start(problem), 0), distance)]
    equation = derivative_of(radius, 1) - substitute(outwards, {r: radius})
    inner = _by_formulas(Problem([equation], [radius], problem.variable, stated, facts))
    return None if inner is None else _turning(plane, inner, radius, substitute(around, {r: radius}))


def _turning(plane: Plane, inner: Outcome, radius: Expression, around: Expression) -> Outcome | None:
    """Both functions from the radius and the rate of the angle."""
    problem, t, facts, start = plane.problem, plane.problem.variable, plane.problem.facts, plane.start
    free = problem.constants(len(inner.constants) + 1)[-1:] if start is None else ()
    phase = ATAN2(start[1], start[0]) if start else free[0]
    found: list[Solved] = []
    sizes: list[Expression] = []
    for s in inner.found:
        size = s.values[radius]
        if any(is_zero(size + other, facts) is True for other in sizes):
            continue  # the same path, half a turn further
        sizes.append(size)
        known = facts.with_facts([c for c in s.conditions if names(c)])
        try:
            turn = simplify(substitute(around, {radius: size}), known).expression
        except DomainError:  # the slopes have no value there
            continue
        angle = integral(turn, t, known)
        if angle is None:
            return None
        angle += phase - (substitute(angle, {t: place_of_start(problem)}) if start else ZERO)
        formulas = [simplify(size * wave(angle), known).expression for wave in (COS, SIN)]
        found.append(Solved(dict(zip(problem.unknowns, formulas, strict=True)), s.conditions))
    return inner._replace(found=found, constants=(*inner.constants, *free), road=f"polar coordinates; {inner.road}")
