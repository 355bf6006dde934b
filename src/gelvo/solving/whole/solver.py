"""Equations over the whole numbers: which way is taken."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import islice
from math import ceil, floor

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number, power, relation, sqrt
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Relation
from gelvo.expression.traversal import names, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.solving.brackets import outwards
from gelvo.solving.roots import SystemRoots, Together, window
from gelvo.solving.single.families import last_integer
from gelvo.solving.whole.bounded import Range, bounded_search, every_place
from gelvo.solving.whole.divisors import by_divisors
from gelvo.solving.whole.linear import linear_over_integers
from gelvo.solving.whole.quadratic import Pell, on_ellipse, pell
from gelvo.solving.whole.reading import Whole, letters_beside, whole_polynomial

MOST_MEMBERS = 200
FARTHEST = 2000  # how many members of a linear family are looked at
# for two unknowns: a way that lists all solutions, and what is said of it
LISTS: tuple[tuple[str, Callable[[Whole, Sequence[Name]], Sequence[tuple[int, ...]] | None]], ...] = (
    ("an ellipse has points between exact bounds only", lambda p, unknowns: on_ellipse(p) if len(unknowns) == 2 else None),
    ("a product is a number: its divisors", by_divisors),
)


def solve_whole(equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts) -> SystemRoots:
    """All solutions in whole numbers: linear equations by Euclid's algorithm, products by divisors, quadratic ones, bounded searches.

    Raises NotSolved where no way applies.
    """
    linear = _linear(equations, unknowns, facts)
    if linear is not None:
        return linear
    polynomials = [whole_polynomial(e, unknowns) for e in equations]
    ranges = [_range(u, facts) for u in unknowns]
    if any(p is None for p in polynomials) and (tried := every_place(equations, unknowns, ranges)) is not None:
        return _listed(tried, unknowns, "all places between the bounds put in")
    if any(letters_beside(e, unknowns) for e in equations) or any(p is None for p in polynomials):
        raise NotSolved("over the whole numbers only polynomial equations without other letters are solved")
    read = [p for p in polynomials if p is not None]
    if len(read) == 1:
        for road, way in LISTS:
            found = way(read[0], unknowns)
            if found is not None:
                return _listed(found, unknowns, road)
    searched = bounded_search(read, ranges)
    if searched is not None:
        return _listed(searched, unknowns, "all places between proved bounds looked at")
    equation = pell(read[0]) if len(read) == 1 and len(unknowns) == 2 else None
    if equation is not None:
        return SystemRoots(
            tuple(_of_pell(equation, unknowns, ranges, facts)), (), (), "Pell's equation: the powers of its unit", (), True
        )
    raise NotSolved("no method finds all whole solutions: state bounds for the unknowns, such as given 0 <= x, x <= 100")


def _listed(found: Sequence[tuple[int, ...]], unknowns: Sequence[Name], road: str) -> SystemRoots:
    rows = tuple(Together({u: number(v) for u, v in zip(unknowns, row, strict=True)}) for row in found)
    return SystemRoots(rows, (), (), road)


def _range(u: Name, facts: Facts) -> Range:
    low, high = window(u, facts)
    return (
        None if isinstance(low, Bound) or names(low) else ceil(outwards(low, -1)),
        None if isinstance(high, Bound) or names(high) else floor(outwards(high, 1)),
    )


def _linear(equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts) -> SystemRoots | None:
    """Linear equations one after the other: each in the free integers that the ones before it left."""
    road = "extended algorithm of Euclid"
    values: dict[Name, Expression] = {u: u for u in unknowns}
    parameters = list(unknowns)
    names_left = facts.new_names("n", *equations, domain="integer")
    for equation in equations:
        try:
            inside = expand(substitute(equation, values))
        except DomainError:  # a denominator vanishes wherever the equations before hold
            return SystemRoots((), (), (), road)
        if inside is ZERO:
            continue
        if not names(inside):
            return SystemRoots((), (), (), road)
        free = list(islice(names_left, len(parameters)))
        solution = linear_over_integers(inside, parameters, free)
        if solution is None:
            return None
        if not solution:
            return SystemRoots((), (), (), road)
        values = {u: expand(substitute(v, solution)) for u, v in values.items()}
        parameters = [n for n in free if any(n in names(v) for v in values.values())]
    table = dict(zip(parameters, facts.new_names("n", *equations, domain="integer"), strict=False))
    values = {u: substitute(v, table) for u, v in values.items()}
    families = tuple(n for n in table.values() if isinstance(n, Name))
    few = _few_in_ranges(values, families, facts)
    return SystemRoots((Together(values, (), families),) if few is None else few, (), (), road)


def _few_in_ranges(values: dict[Name, Expression], families: tuple[Name, ...], facts: Facts) -> tuple[Together, ...] | None:
    """The members of a family inside the ranges of the unknowns, where these leave a few; else None."""
    if len(families) != 1:
        return None
    n = families[0]
    inside: list[Relation] = []
    for u, v in values.items():
        low, high = _range(u, facts)
        ends = [relation("<=", number(low), v)] if low is not None else []
        ends += [relation("<=", v, number(high))] if high is not None else []
        inside += [c for c in ends if isinstance(c, Relation)]
    first, last = (last_integer(inside, n, sign) for sign in (-1, 1))
    if first is None or last is None or last - first > FARTHEST:
        return None
    places = [k for k in range(first, last + 1) if all(facts.holds(substitute(c, {n: number(k)})) for c in inside)]
    return tuple(Together({u: substitute(v, {n: number(k)}) for u, v in values.items()}) for k in places)


def _of_pell(equation: Pell, unknowns: Sequence[Name], ranges: Sequence[Range], facts: Facts) -> Iterator[Together]:
    """Each class with both signs as a family; where the ranges leave a few members only, these."""
    natural = all(low is not None and low >= 0 for low, _ in ranges)
    if equation.starts == [(0, 0)]:
        yield Together(dict.fromkeys(unknowns, ZERO))
        return
    n = next(facts.new_names("n", *unknowns, domain="integer"))
    for start in equation.starts:
        upright = 1 if start[0] > 0 and (start[0] ** 2 > equation.square_free * start[1] ** 2 or start[1] > 0) else -1
        for sign in (upright,) if natural else (1, -1):
            signed = (sign * start[0], sign * start[1])
            first = _first_natural(equation, signed) if natural else 0
            rows = list(_few(equation, signed, first, ranges)) if natural else None
            if rows is not None and any(high is not None for _, high in ranges):
                yield from (Together({u: number(v) for u, v in zip(unknowns, row, strict=True)}) for row in rows)
                continue
            conditions: tuple[Condition, ...] = (relation("<=", ZERO, n),) if natural else ()
            yield Together(_member(equation, signed, n + first, unknowns), conditions, (n,))


def _step(equation: Pell, place: tuple[int, int], back: bool = False) -> tuple[int, int]:
    (x, y), (t, u), d = place, equation.unit, equation.square_free
    u = -u if back else u
    return x * t + d * y * u, x * u + y * t


def _first_natural(equation: Pell, start: tuple[int, int]) -> int:
    """The least power of the unit from which on both numbers are not negative."""
    k = 0
    while min(start) < 0:
        start, k = _step(equation, start), k + 1
    while min(back := _step(equation, start, back=True)) >= 0:
        start, k = back, k - 1
    return k


def _few(equation: Pell, start: tuple[int, int], first: int, ranges: Sequence[Range]) -> Iterator[tuple[int, int]]:
    for _ in range(abs(first)):
        start = _step(equation, start, back=first < 0)
    for _ in range(MOST_MEMBERS):
        if any(high is not None and v > high for v, (_, high) in zip(start, ranges, strict=True)):
            return
        if all(low is None or v >= low for v, (low, _) in zip(start, ranges, strict=True)):
            yield start
        start = _step(equation, start)


def _member(equation: Pell, start: tuple[int, int], n: Expression, unknowns: Sequence[Name]) -> dict[Name, Expression]:
    root = sqrt(number(equation.square_free))
    (a, b), (t, u) = start, equation.unit
    up, down = (a + b * root) * power(t + u * root, n), (a - b * root) * power(t + u * root, -n)  # the norm of the unit is 1
    x, y = unknowns
    return {x: (up + down) / 2, y: (up - down) / (2 * root)}
