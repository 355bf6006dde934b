"""One equation for one unknown: candidates put back, conditions told, families cut to a stated range."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import number, relation, split_coefficient, weighted_terms
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Power
from gelvo.expression.traversal import contains, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.exact import Gaussian
from gelvo.numbers.interval import NoValue
from gelvo.simplifying.search import simplify
from gelvo.solving.putting_back import (
    about,
    keep_once,
    letter_conditions,
    put_back,
    read_easily,
    real_conditions,
    real_part_conditions,
)
from gelvo.solving.roots import Root, Roots, window
from gelvo.solving.single.solver import Solver
from gelvo.solving.single.transcendental import bases_that_vanish

MOST_MEMBERS = 200


def solve_single(g: Expression, unknown: Name, facts: Facts, real: bool, written: tuple[Condition, ...] = ()) -> Roots:
    """The roots of g = 0 for one unknown, each put back into the equation.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(r.value) for r in solve_single(x**2 - 4, x, Facts(), True).found]
    ['-2', '2']
    """
    under = facts if real else Facts(facts.given, [unknown, *facts.complex_names], facts.spelled)
    nowhere = _without_real_value(g, unknown, under) if real else None
    if nowhere is not None:
        return Roots((), excluded=((unknown, f"{nowhere} has no real value"),), road="a part of the equation has no real value")
    solver = Solver(unknown, under, real)
    roots = solver.solve(_real_candidates(g, under) if real else g)
    if len(roots) == 1 and roots[0].value is unknown:
        about_all = (*written, *solver.conditions, *roots[0].conditions, *(real_conditions(g, unknown, under) if real else ()))
        conditions = tuple(dict.fromkeys(under.open_conditions(map(read_easily, about_all))))
        return Roots((), conditions, everything=True, road="identity")
    vanishing = bases_that_vanish(solver, g) if real else []
    kept: list[Root] = []
    excluded: list[tuple[Expression, str]] = []
    about_unknown = [c for c in (*written, *solver.conditions) if contains(c, unknown)]
    others = [c for c in (*written, *solver.conditions) if not contains(c, unknown)]
    try:
        under_all = under.with_facts([c for c in others if names(c)])
    except DomainError:  # what is needed contradicts the facts
        roots = []
    for part in real_conditions(g, unknown, under) if real else ():
        about_unknown.append(part)
    about_letters = letter_conditions(g, unknown, under_all) if real and roots else {}
    for root, there in [*((_first_turn(r), g) for r in roots), *vanishing]:
        shown = set(postorder(root.value))  # a part that the root itself has tells what it needs
        hidden = [c for node, listed in about_letters.items() if node not in shown for c in listed]
        root = root._replace(conditions=tuple(dict.fromkeys((*root.conditions, *hidden))))
        verdict, root = put_back(there, root, unknown, under_all, about_unknown, real, solver.implied)
        if verdict and there is g:  # to a base that vanishes no step led
            excluded.append((root.value, verdict))
        elif not verdict:
            for member in _members_in_range(_numbered(root, under, g, unknown), unknown, under):
                keep_once(kept, member, under_all)
    return Roots(
        _sorted(kept),
        tuple(dict.fromkeys(under.open_conditions(dict.fromkeys(map(read_easily, others))))),
        tuple(excluded),
        False,
        solver.further,
        "; ".join(solver.roads),
        tuple(solver.lost),
    )


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


def _numbered(root: Root, facts: Facts, *formulas: Expression) -> Root:
    """A family whose integers are the first that are free: those of different solutions may be the same."""
    table = dict(zip(root.families, facts.new_names("n", *formulas, domain="integer"), strict=False))
    conditions = tuple(substitute(c, table) for c in root.conditions)
    return Root(substitute(root.value, table), conditions, tuple(table.values()))


def _members_in_range(root: Root, x: Name, facts: Facts) -> list[Root]:
    """A family cut to a range of numbers that the facts give to the unknown; else the root itself."""
    low, high = window(x, facts)
    if len(root.families) != 1 or isinstance(low, Bound) or isinstance(high, Bound) or names(low, high):
        return [root]
    n = root.families[0]
    parts = uni.linear_parts(root.value, n)
    if parts is None or any(m is not n for m in names(root.value)):
        return [root]
    ends = sorted(float((end - parts[1]) / parts[0]) for end in (low, high))
    if ends[1] - ends[0] > MOST_MEMBERS:
        return [root]
    found: list[Root] = []
    stated = [c for c in (about(f, x) for f in facts.given) if c is not None]
    for k in range(int(ends[0]) - 2, int(ends[1]) + 3):
        value = simplify(substitute(root.value, {n: number(k)}), facts).expression
        about_member = [substitute(c, {n: number(k)}) for c in root.conditions]
        needed = [*about_member, *(substitute(c, {x: value}) for c in stated)]
        if all(facts.holds(c) is not False for c in needed) and _inside(low, value, high):
            found.append(Root(value, tuple(facts.open_conditions(about_member))))
    return found


def _inside(low: Expression, value: Expression, high: Expression) -> bool:
    return all(Facts().holds(relation("<=", a, b)) is not False for a, b in ((low, value), (value, high)))


def _sorted(roots: list[Root]) -> tuple[Root, ...]:
    """Real numbers ascending; formulas as they were found."""
    keyed: list[tuple[float, float, int, Root]] = []
    for place, root in enumerate(roots):
        if names(root.value):
            return tuple(roots)
        try:
            box = enclose(root.value, {}, 80)
        except NoValue:
            return tuple(roots)
        keyed.append((float(box.real.low), 0.0 if box.imag is None else float(box.imag.low), place, root))
    return tuple(entry[3] for entry in sorted(keyed, key=lambda e: e[:3]))


def isolated(g: Expression, x: Name, facts: Facts) -> list[tuple[Expression, Name | None]] | None:
    """All real zeros of g where each is certain: (place, free integer or None); None where that cannot be said."""
    solver = Solver(x, facts, True)
    try:
        roots = solver.solve(g)
    except (NotSolved, DomainError):
        return None
    if (
        solver.lost
        or any(not contains(c, x) for c in solver.conditions)
        or any(r.conditions or len(r.families) > 1 for r in roots)
    ):
        return None
    return [(r.value, r.families[0] if r.families else None) for r in roots]


def _first_turn(root: Root) -> Root:
    """2*pi*n + 2*pi - 5 as 2*pi*n - 5: whole periods in a family are in its integer already."""
    if len(root.families) != 1:
        return root
    n = root.families[0]
    parts = uni.linear_parts(expand(root.value), n)
    if parts is None:
        return root
    (unit, period), offset = split_coefficient(parts[0]), expand(parts[1])
    if unit is not PI or isinstance(period, Gaussian):
        return root
    multiple = next((c for term, c in weighted_terms(offset) if term is PI and not isinstance(c, Gaussian)), mpq(0))
    # the multiple of pi that stays is above -1/2 and at most 1/2 of a period
    turns = -((mpq(1, 2) - multiple / period).__floor__())
    if not turns:
        return root
    table = {n: n - int(turns)}
    return Root(expand(substitute(root.value, table)), tuple(substitute(c, table) for c in root.conditions), root.families)
