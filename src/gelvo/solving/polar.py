"""Equations in r*cos(phi) and r*sin(phi) alone: these two are new unknowns, from which r and phi follow as from a point of the plane."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import permutations

from gelvo.expression.building import sqrt
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, has_call, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ATAN2, COS, SIN
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root, SystemRoots, Together
from gelvo.solving.single.families import members_in_range

Solve = Callable[[Sequence[Expression], Sequence[Name]], SystemRoots]


def by_polar(equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts, solve: Solve) -> SystemRoots | None:
    """All solutions for a size r and its angle phi among the unknowns; None where the equations are of another kind."""
    if not any(has_call(e, (COS, SIN)) for e in equations):
        return None
    for r, phi in permutations(unknowns, 2):
        point = facts.new_name("X", *equations), facts.new_name("Y", *equations)
        table = {COS(phi): point[0] / r, SIN(phi): point[1] / r}
        inside = [expand(quotient_parts(substitute(e, table))[0]) for e in equations]
        if any(contains(e, r) or contains(e, phi) for e in inside) or not all(any(contains(e, p) for e in inside) for p in point):
            continue
        others = [u for u in unknowns if u not in (r, phi)]
        found = solve(inside, [*point, *others])
        squares = [factored(row.values[point[0]] ** 2 + row.values[point[1]] ** 2) for row in found.found]
        pairs = zip(found.found, squares, strict=True)
        rows = tuple(s for row, square in pairs for s in _back(row, square, r, phi, point, facts, equations))
        apart = [nonzero(s) for s in squares if s is not ZERO and not facts.is_positive(s)]  # at the origin every angle solves
        conditions = tuple(dict.fromkeys((*found.conditions, *apart)))
        return found._replace(
            found=rows, conditions=conditions, road=f"a point of the plane, its size and its angle; {found.road}"
        )
    return None


def _back(
    row: Together, square: Expression, r: Name, phi: Name, point: tuple[Name, Name], facts: Facts, equations: Sequence[Expression]
) -> Iterator[Together]:
    """The size, whose square is given, and the angle of a point; the other sign of r with the opposite direction, where r may be negative."""
    x, y = (row.values[p] for p in point)
    rest = {u: v for u, v in row.values.items() if u not in point}
    if square is ZERO:
        yield Together({r: ZERO, phi: phi, **rest}, row.conditions, row.families)
        return
    n = next(facts.new_names("n", *equations, domain="integer"))
    size = simplify(sqrt(square), facts).expression
    for sign in (1, -1):
        if sign < 0 and facts.is_nonnegative(r):
            return
        angle = ATAN2(sign * y, sign * x)
        for member in members_in_range(Root(angle + 2 * PI * n, (), (n,)), phi, facts):
            values = {r: sign * size, phi: member.value, **rest}
            yield Together(values, (*row.conditions, *member.conditions), (*row.families, *member.families))
