"""One equation for one unknown: candidates put back, conditions told, families cut to a stated range."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import enclose
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Power, Relation
from gelvo.expression.traversal import contains, has_imaginary_unit, names, postorder, relations_of, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import quotient_parts
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.interval import NoValue
from gelvo.solving.putting_back import keep_once, letter_conditions, put_back, read_easily, real_conditions, real_part_conditions
from gelvo.solving.roots import Root, Roots
from gelvo.solving.single.families import first_turn, members_in_range, merged, numbered, steps_of_region
from gelvo.solving.single.moving_powers import bases_that_vanish
from gelvo.solving.single.solver import Solver


def solve_single(
    g: Expression, unknown: Name, facts: Facts, real: bool, written: tuple[Condition, ...] = (), formulas_only: bool = False
) -> Roots:
    """The roots of g = 0 for one unknown, each put back into the equation; formulas_only: without zeros that have no formula.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(r.value) for r in solve_single(x**2 - 4, x, Facts(), True).found]
    ['-2', '2']
    """
    under = facts if real else Facts(facts.given, [unknown, *facts.complex_names], facts.spelled)
    nowhere = _without_real_value(g, unknown, under) if real else None
    if nowhere is not None:
        return Roots((), excluded=((unknown, f"{nowhere} has no real value"),), road="a part of the equation has no real value")
    solver = Solver(unknown, under, real, formulas_only)
    roots = solver.solve(_real_candidates(g, under) if real else g)
    for_real = tuple(real_conditions(g, unknown, under)) if real else ()
    needed = (*written, *solver.conditions, *for_real)
    whole = next((r for r in roots if r.value is unknown and not any(contains(c, unknown) for c in r.conditions)), None)
    if whole is not None and (len(roots) == 1 or not whole.conditions) and not _on_ranges(needed, unknown, solver, g):
        conditions = tuple(dict.fromkeys(under.open_conditions(map(read_easily, (*needed, *whole.conditions)))))
        return Roots((), conditions, everything=True, road="; ".join(solver.roads) or "identity")
    regions = [(*c, *needed) for r in roots if r.value is unknown for c in steps_of_region(r, unknown)]
    roots = [r for r in roots if r.value is not unknown]
    found = _put_back_all(solver, roots, g, written, for_real)
    return found._replace(regions=tuple(regions))


def _put_back_all(
    solver: Solver, roots: list[Root], g: Expression, written: tuple[Condition, ...], for_real: tuple[Condition, ...]
) -> Roots:
    """The candidates that satisfy the equation, with what must hold for them; those that do not with the reason.

    for_real: where the parts of the equation are real.
    """
    unknown, under, real = solver.unknown, solver.facts, solver.real
    vanishing = bases_that_vanish(solver, g) if real else []
    kept: list[Root] = []
    excluded: list[tuple[Expression, str]] = []
    about_unknown = [c for c in (*written, *solver.conditions) if contains(c, unknown)]
    others = [c for c in (*written, *solver.conditions) if not contains(c, unknown)]
    under_all = under
    try:
        under_all = under.with_facts([c for c in others if names(c)])
    except DomainError:  # what is needed contradicts the facts
        roots = []
    about_unknown = [c for c in (*about_unknown, *for_real) if not _holds_at_roots(c, g, unknown, under_all)]
    about_letters = letter_conditions(g, unknown, under_all) if real and roots else {}
    for root, there in [*((first_turn(r), g) for r in roots), *vanishing]:
        shown = set(postorder(root.value))  # a part that the root itself has tells what it needs
        hidden = [c for node, listed in about_letters.items() if node not in shown for c in listed]
        root = root._replace(conditions=tuple(dict.fromkeys((*root.conditions, *hidden))))
        verdict, root = put_back(there, root, unknown, under_all, about_unknown, real, solver.implied)
        if verdict and there is g:  # to a base that vanishes no step led
            excluded.append((root.value, verdict))
        elif not verdict:
            for member in members_in_range(numbered(root, under, g, unknown), unknown, under):
                keep_once(kept, member, under_all)
    return Roots(
        tuple(_sorted(merged(kept))),
        tuple(dict.fromkeys(under.open_conditions(dict.fromkeys(map(read_easily, others))))),
        tuple(excluded),
        False,
        solver.further,
        "; ".join(solver.roads),
        tuple(solver.lost),
        trail=tuple(solver.trail),
    )


def _holds_at_roots(condition: Condition, g: Expression, x: Name, facts: Facts) -> bool:
    """Whether x != c holds wherever g vanishes, because its numerator does not vanish at c."""
    if not isinstance(condition, Relation) or condition.operator != "!=" or not [n for n in names(g) if n is not x]:
        return False  # numbers are looked at where they are
    top = quotient_parts(g)[0]
    lines = [uni.linear_parts(f, x) for f in factor_list(condition.left - condition.right) if contains(f, x)]
    if uni.coefficients_of(top, x) is None or not all(line is not None and facts.is_nonzero(line[0]) for line in lines):
        return False
    places = [uni.lowest_terms(-line[1] / line[0]) for line in lines if line is not None]
    return all(facts.is_nonzero(substitute(top, {x: place})) for place in places)


def _on_ranges(needed: Sequence[Condition], x: Name, solver: Solver, g: Expression) -> bool:
    """Whether what solves everywhere does so on ranges only: where parts are real, or as far as a step that goes one way tells."""
    about_x = [c for c in needed if contains(c, x) and solver.facts.holds(c) is not True]
    if any(isinstance(c, Relation) and c.operator in ("<", "<=") for c in about_x):
        return True
    return solver.implied and decide_zero(g, solver.facts).zero is not True


def _without_real_value(g: Expression, x: Name, facts: Facts) -> Expression | None:
    """A part without the unknown that is real nowhere, such as asin(2) or sqrt(-a) with a > 0; the imaginary unit itself may stand there."""
    for node in postorder(g):
        if isinstance(node, (Call, Power)) and not contains(node, x):
            if any(facts.holds(c) is False for c in real_part_conditions(node, facts)):
                return node
    return None


def _real_candidates(g: Expression, facts: Facts) -> Expression:
    """Over the reals an equation with the imaginary unit is two: the real one gives the candidates, which are put back into both."""
    if not has_imaginary_unit(g):
        return g
    try:
        parts = [expand(p) for p in real_and_imaginary(g, facts)]
    except DomainError:
        return g
    kept = [p for p in parts if p is not ZERO]
    return kept[0] if kept else ZERO


def _sorted(roots: list[Root]) -> list[Root]:
    """Real numbers ascending, families by the member of n = 0; formulas as they were found."""
    keyed: list[tuple[float, float, int, Root]] = []
    for place, root in enumerate(roots):
        if any(n not in root.families for n in names(root.value)):
            return roots
        try:
            box = enclose(substitute(root.value, dict.fromkeys(root.families, ZERO)), {}, 80)
        except (NoValue, DomainError):
            return roots
        keyed.append((float(box.real.low), 0.0 if box.imag is None else float(box.imag.low), place, root))
    return [entry[3] for entry in sorted(keyed, key=lambda e: e[:3])]


def isolated(g: Expression, x: Name, facts: Facts) -> list[tuple[Expression, Name | None]] | None:
    """All real zeros of g where each is certain: (place, free integer or None); None where that cannot be said."""
    solver = Solver(x, facts, True)
    try:
        roots = solver.solve(g)
    except (NotSolved, DomainError):
        return None
    if (
        solver.lost
        or any(r.value is x for r in roots)
        or any(not contains(c, x) for c in solver.conditions)
        or any(r.conditions or len(r.families) > 1 for r in roots)
    ):
        return None
    return [(r.value, r.families[0] if r.families else None) for r in roots]


def borders_of_zeros(g: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    """Places that cut the line into pieces on each of which g vanishes everywhere or nowhere; None where that cannot be said."""
    solver = Solver(x, facts, True)
    try:
        roots = solver.solve(g)
    except (NotSolved, DomainError):
        return None
    if solver.lost or any(r.families for r in roots) or any(not contains(c, x) for c in solver.conditions):
        return None
    places = [r.value for r in roots if r.value is not x]
    for region in (r for r in roots if r.value is x):
        for part in (p for c in region.conditions for p in relations_of(c)):
            ends = isolated(part.left - part.right, x, facts)
            if ends is None or any(family is not None for _, family in ends):
                return None
            places += [place for place, _ in ends]
    return places
