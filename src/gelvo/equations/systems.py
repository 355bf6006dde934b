"""Systems: linear ones by elimination over the field of formulas, others by solving one equation and putting it in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from gelvo.algebra import univariate as uni
from gelvo.algebra.equality import decide_zero
from gelvo.algebra.facts import Facts, nonzero
from gelvo.algebra.fractions import Form
from gelvo.algebra.simplification import simplify
from gelvo.equations.polynomial_systems import polynomial_solutions
from gelvo.equations.roots import Root
from gelvo.equations.single import ZERO, solve_single
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import relation, total
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import contains, names, substitute

Table = dict[Name, Expression]


class Together(NamedTuple):
    """One common solution of a system."""

    values: Table
    conditions: tuple[Condition, ...] = ()
    families: tuple[Name, ...] = ()


class SystemRoots(NamedTuple):
    found: tuple[Together, ...]
    conditions: tuple[Condition, ...]
    excluded: tuple[tuple[Table, str], ...]
    road: str


def linear_rows(equations: Sequence[Expression], unknowns: Sequence[Name]) -> list[list[Expression]] | None:
    """The augmented matrix [A | b] of A*u = b, or None where an equation is not linear."""
    rows: list[list[Expression]] = []
    for equation in equations:
        form = Form([equation])
        top, _ = form.lowest_terms(form.of(equation))
        rest = form.expression(top)
        row: list[Expression] = []
        for unknown in unknowns:
            coefficients = uni.coefficients_of(rest, unknown)
            if coefficients is None or len(coefficients) > 2:
                return None
            coefficient = coefficients[1] if len(coefficients) == 2 else ZERO
            if any(contains(coefficient, u) for u in unknowns):
                return None
            row.append(coefficient)
            rest = coefficients[0] if coefficients else ZERO
        rows.append([*row, uni.normal(-rest)])
    return rows


def solve_linear(rows: list[list[Expression]], unknowns: Sequence[Name], facts: Facts) -> SystemRoots:
    """Gauss-Jordan elimination; the product of the pivots must not vanish."""
    rows = [list(r) for r in rows]
    pivots: list[tuple[int, int]] = []
    conditions: dict[Condition, None] = {}
    used: set[int] = set()
    for column in range(len(unknowns)):
        candidates = [i for i in range(len(rows)) if i not in used and rows[i][column] is not ZERO]
        if not candidates:
            continue
        chosen = min(candidates, key=lambda i: (not facts.is_nonzero(rows[i][column]), len(str(rows[i][column])), i))
        pivot = rows[chosen][column]
        used.add(chosen)
        pivots.append((chosen, column))
        rows[chosen] = [uni.normal(c / pivot) for c in rows[chosen]]
        for i, row in enumerate(rows):
            if i != chosen and row[column] is not ZERO:
                factor = row[column]
                rows[i] = [uni.normal(a - factor * b) for a, b in zip(row, rows[chosen], strict=True)]
        if not facts.is_nonzero(pivot):
            conditions[nonzero(_numerator(pivot))] = None
    for i, row in enumerate(rows):
        if i not in used and row[-1] is not ZERO:
            decision = decide_zero(row[-1], facts)
            if decision.zero is False and not names(row[-1]):
                return SystemRoots((), (), (), "linear elimination: the equations contradict each other")
            conditions[relation("=", _numerator(row[-1]), ZERO)] = None
    free = [u for k, u in enumerate(unknowns) if k not in {c for _, c in pivots}]
    if any(u.domain in ("integer", "natural") for u in free):
        raise NotSolved("equations for integers with free unknowns are not solved here")
    values: Table = {}
    for i, column in pivots:
        terms = [rows[i][-1]]
        terms += [-rows[i][k] * u for k, u in enumerate(unknowns) if u in free]
        values[unknowns[column]] = simplify(total(terms), facts).expression
    for u in free:
        values[u] = u
    return SystemRoots((Together({u: values[u] for u in unknowns}),), tuple(conditions), (), "linear elimination")


def _numerator(pivot: Expression) -> Expression:
    form = Form([pivot])
    top, _ = form.lowest_terms(form.of(pivot))
    return form.factored(top)


def solve_system(
    equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts, real: bool, written: tuple[Condition, ...] = ()
) -> SystemRoots:
    """All common solutions found by elimination, each put back into every equation."""
    rows = linear_rows(equations, unknowns)
    if rows is not None:
        return solve_linear(rows, unknowns, facts)
    exact = polynomial_solutions(equations, unknowns, real)
    if exact is not None:
        return _without_faults(exact, equations, unknowns, written, facts)
    found = _eliminate(list(equations), list(unknowns), facts, real, 0)
    kept: list[Together] = []
    excluded: list[tuple[Table, str]] = []

    for candidate in found:
        reason = _put_back(candidate, equations, written, facts)
        if reason:
            excluded.append((candidate.values, reason))
        elif all(candidate.values != k.values for k in kept):
            kept.append(candidate)
    return SystemRoots(tuple(kept), (), tuple(excluded), "elimination by solving for one unknown after the other")


def _without_faults(
    found: list[Table], equations: Sequence[Expression], unknowns: Sequence[Name], written: tuple[Condition, ...], facts: Facts
) -> SystemRoots:
    """Solutions of the polynomials less those at which a denominator of the text vanishes or a fact fails."""
    kept: list[Together] = []
    excluded: list[tuple[Table, str]] = []
    for values in found:
        reason = _put_back(Together(values), [], written, facts)
        wrong = [
            f for f in facts.given if isinstance(f, Condition) and facts.with_facts([]).holds(substitute(f, values)) is False
        ]
        if reason or wrong:
            excluded.append((values, reason or f"it does not satisfy {wrong[0]}"))
        else:
            kept.append(Together(values))
    return SystemRoots(tuple(kept), (), tuple(excluded), "a Groebner basis, and the roots of the polynomial of a separating form")


def _put_back(candidate: Together, equations: Sequence[Expression], written: tuple[Condition, ...], facts: Facts) -> str:
    known = facts.with_facts([c for c in candidate.conditions if names(c)])
    for condition in written:
        try:
            if known.holds(substitute(condition, candidate.values)) is False:
                return f"a denominator would be zero ({condition} is needed)"
        except DomainError:
            return f"a denominator would be zero ({condition} is needed)"
    for equation in equations:
        try:
            if decide_zero(substitute(equation, candidate.values), known).zero is False:
                return "it does not satisfy every equation"
        except DomainError:
            return "an equation has no value there"
    return ""


def _eliminate(equations: list[Expression], unknowns: list[Name], facts: Facts, real: bool, depth: int) -> list[Together]:
    """One unknown is taken from the simplest equation that gives it, and put into the others."""
    equations = [e for e in equations if e is not ZERO]
    if not unknowns:
        return [Together({})] if all(decide_zero(e, facts).zero is not False for e in equations) else []
    if not equations:
        if any(u.domain in ("integer", "natural") for u in unknowns):
            raise NotSolved("equations for integers with free unknowns are not solved here")
        return [Together({u: u for u in unknowns})]
    reasons: list[str] = []
    for equation, unknown in _choices(equations, unknowns):
        try:
            roots = solve_single(equation, unknown, facts, real)
        except NotSolved as fault:
            reasons.append(str(fault))
            continue
        rest = [e for e in equations if e is not equation]
        others = [u for u in unknowns if u is not unknown]
        result: list[Together] = []
        try:
            for root in roots.found:
                result.extend(_with_root(root, roots.conditions, unknown, rest, others, facts, real, depth))
        except NotSolved as fault:
            reasons.append(str(fault))
            continue
        return result
    raise NotSolved("; ".join(dict.fromkeys(reasons)) or "no equation could be solved for one of the unknowns")


def _with_root(
    root: Root,
    conditions: tuple[Condition, ...],
    unknown: Name,
    rest: list[Expression],
    others: list[Name],
    facts: Facts,
    real: bool,
    depth: int,
) -> list[Together]:
    inside = [simplify(substitute(e, {unknown: root.value}), facts).expression for e in rest]
    known = facts.with_facts([c for c in (*root.conditions, *conditions) if names(c) and not any(contains(c, u) for u in others)])
    result: list[Together] = []
    for solution in _eliminate(inside, others, known, real, depth + 1):
        value = simplify(substitute(root.value, solution.values), known).expression
        own = [substitute(c, solution.values) for c in (*root.conditions, *conditions)]
        states = [facts.holds(c) for c in own]
        if False in states:
            continue
        still = tuple(c for c, s in zip(own, states, strict=True) if s is None)
        result.append(
            Together(
                {unknown: value, **solution.values},
                tuple(dict.fromkeys((*still, *solution.conditions))),
                root.families + solution.families,
            )
        )
    return result


def _choices(equations: list[Expression], unknowns: list[Name]) -> list[tuple[Expression, Name]]:
    """Pairs in the order of effort: linear first, short first."""
    pairs: list[tuple[int, int, int, Expression, Name]] = []
    for equation in equations:
        for place, unknown in enumerate(unknowns):
            if contains(equation, unknown):
                coefficients = uni.coefficients_of(equation, unknown)
                degree = 9 if coefficients is None else len(coefficients) - 1
                pairs.append((degree, len(str(equation)), place, equation, unknown))
    return [(e, u) for _, _, _, e, u in sorted(pairs, key=lambda p: p[:3])]
