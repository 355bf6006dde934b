"""Equations with letters and without closed form: the zero in an interval, where it can be told that there is one and no other.

Of a polynomial by Descartes' rule of signs: with no change of sign there is none, with one there is one. Of any formula by its slope: what
only rises has one zero where it is negative at one end and positive at the other.
"""

from __future__ import annotations

from itertools import pairwise

from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import multiply_all, number, relation, scale, total, written
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, names, substitute
from gelvo.facts.continuity import breaks
from gelvo.facts.sign_rules.sums import range_of
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import slope_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored
from gelvo.functions.named import COT, CSC, SEC, TAN
from gelvo.simplifying.expressing import express
from gelvo.solving.far_signs import sign_beyond, with_slopes
from gelvo.solving.roots import Root, between
from gelvo.solving.sign_cases import sign_of
from gelvo.solving.single.work import Work

SIMPLE = (0, 1, -1)  # where a zero that is known to be the only one is looked for


def zeros_with_letters(solver: Work, g: Expression, low: Expression, high: Expression) -> list[Root] | None:
    """The zeros between two ends; None where no rule tells how many there are."""
    coefficients = uni.coefficients_of(g, solver.unknown)
    if coefficients is None:
        return _by_slope(solver, g, low, high)
    if low is not MINUS_INFINITE or high is not INFINITE:
        return _by_descartes(solver, g, low, high, coefficients)
    try:
        halves = [_by_descartes(solver, g, start, end, coefficients) for start, end in ((low, ZERO), (ZERO, high))]
    except NotSolved:
        return _by_slope(solver, g, low, high)
    return list(dict.fromkeys(r for half in halves for r in half))


def zero_of(solver: Work, body: Expression, low: Expression, high: Expression) -> Expression:
    """The zero with a variable of its own: the unknown does not stand in its value."""
    r = solver.facts.new_name("r", body, *solver.taken)
    return written("root_of", substitute(body, {solver.unknown: r}), r, low, high)


# --- by Descartes' rule --------------------------------------------------------------------------------------------------


def _by_descartes(solver: Work, g: Expression, low: Expression, high: Expression, coefficients: list[Expression]) -> list[Root]:
    """The one zero in the interval, or none: by the signs of the coefficients of the polynomial over the interval as 0 < t < inf."""
    x = solver.unknown
    signs = [sign_of(c, solver.facts) for c in _over_interval(coefficients, low, high)]
    if None in signs:
        raise NotSolved(f"how many zeros {x} has between {low} and {high} is not told by the facts")
    kept = [s for s in signs if s]
    changes = sum(a != b for a, b in pairwise(kept))
    if changes > 1:
        raise NotSolved(f"there may be {changes} zeros between {low} and {high}: narrower bounds for {x} would tell")
    solver.roads["no closed form: Descartes' rule of signs counts the zeros in the interval"] = None
    at_ends = [Root(end) for end, k in ((low, 0), (high, -1)) if not isinstance(end, Bound) and signs[k] == 0]
    inside = [Root(zero_of(solver, g, low, high))] if changes else []
    return [*at_ends, *inside]


def _over_interval(coefficients: list[Expression], low: Expression, high: Expression) -> list[Expression]:
    """The coefficients in t of (1 + t)^n*p((low + high*t)/(1 + t)), or of p(low + t), p(high - t)."""
    degree = len(coefficients) - 1
    result: list[Expression] = [number(0)] * (degree + 1)
    for k, c in enumerate(coefficients):
        if isinstance(high, Bound):
            column = _power_of([low, number(1)], k)
        elif isinstance(low, Bound):
            column = _power_of([high, number(-1)], k)
        else:
            column = _times(_power_of([low, high], k), _power_of([number(1), number(1)], degree - k))
        for i, v in enumerate(column):
            result[i] = expand(result[i] + c * v)
    return result


def _power_of(line: list[Expression], k: int) -> list[Expression]:
    result: list[Expression] = [number(1)]
    for _ in range(k):
        result = _times(result, line)
    return result


def _times(a: list[Expression], b: list[Expression]) -> list[Expression]:
    result: list[list[Expression]] = [[] for _ in range(len(a) + len(b) - 1)]
    for i, u in enumerate(a):
        for j, v in enumerate(b):
            result[i + j].append(multiply_all((u, v)))
    return [expand(total(r)) for r in result]


# --- by the slope --------------------------------------------------------------------------------------------------------


def _by_slope(solver: Work, g: Expression, low: Expression, high: Expression) -> list[Root] | None:
    """The one zero of what only rises, or only falls, without a jump."""
    x, facts = solver.unknown, solver.facts
    try:
        inside = facts.with_facts([c for c in between(low, x, high) if names(c)])
        rising = _rising(g, x, inside)
        if not rising or not all(map(inside.is_nonzero, breaks(g, x, kinks=False, facts=inside))):
            return None
    except DomainError:
        return None
    for k in SIMPLE:
        if inside.holds(relation("=", x, number(k))) is not False and _vanishes(g, x, number(k), facts):
            solver.roads[ROAD] = None
            return [Root(number(k))]
    ends: list[Expression] = []
    signs: list[int] = []
    for end, side in ((low, -1), (high, 1)):
        found = at_infinity(g, x, side, rising, inside) if isinstance(end, Bound) else (end, sign_at(g, x, end, facts, inside))
        if found is None or found[1] is None:
            return None
        ends.append(found[0])
        signs.append(found[1])
    solver.roads[ROAD] = None
    at_ends = [Root(end) for end, sign in zip(ends, signs, strict=True) if sign == 0]
    return at_ends or ([Root(zero_of(solver, g, ends[0], ends[1]))] if signs[0] != signs[1] else [])


def _rising(g: Expression, x: Name, inside: Facts) -> int:
    """1 or -1 for what only rises or only falls; 0 where that is not known. A polynomial may have places without slope."""
    slope = slope_of(g, x)
    if slope is None:
        return 0
    if uni.coefficients_of(g, x) is not None and slope is not ZERO:
        return 1 if inside.is_nonnegative(slope) else -1 if inside.is_nonpositive(slope) else 0
    return sign_of(slope, inside) or 0


ROAD = "no closed form: a formula with a slope of one sign has one zero at most"


def _vanishes(g: Expression, x: Name, place: Expression, facts: Facts) -> bool:
    try:
        return decide_zero(substitute(g, {x: place}), facts).zero is True
    except DomainError:
        return False


def at_infinity(g: Expression, x: Name, side: int, rising: int, inside: Facts) -> tuple[Expression, int] | None:
    """(an end, the sign there) far to one side: beyond what functions of known range can outweigh, or where the slope grows outwards."""
    wanted = rising * side
    near = _line_outweighs(g, x, side, rising, inside)
    if near is not None:
        return near, wanted
    slope = slope_of(g, x)
    bend = None if slope is None else slope_of(slope, x)
    grows = bend is not None and (inside.is_nonnegative(bend) if rising == side else inside.is_nonpositive(bend))
    if grows or uni.coefficients_of(g, x) is not None or (slope is not None and _steep(slope, x, side, rising)):
        return (INFINITE if side > 0 else MINUS_INFINITE), wanted
    return None


def _steep(slope: Expression, x: Name, side: int, rising: int) -> bool:
    """Whether a slope without letters is larger than one from a place on."""
    if any(n is not x for n in names(slope)):
        return False
    functions = with_slopes(rising * slope - 1, x)
    return any(sign_beyond(functions, x, 2**k, side) == 1 for k in range(9))


def _line_outweighs(g: Expression, x: Name, side: int, rising: int, facts: Facts) -> Expression | None:
    """Where k*x + c outweighs the other terms of a sum, functions of known range times letters."""
    if not isinstance(g, Sum):
        return None
    terms = [scale(t, c) for t, c in g.items()] + [number(g.constant)]
    reached = {t: _reach(t, x, rising * side, facts) for t in terms if uni.linear_parts(t, x) is None and contains(t, x)}
    line = uni.linear_parts(total(t for t in terms if t not in reached), x)
    if not reached or None in reached.values() or line is None or sign_of(line[0], facts) != rising:
        return None
    return factored(-(total(r for r in reached.values() if r is not None) + line[1]) / line[0])


def _reach(term: Expression, x: Name, wanted: int, facts: Facts) -> Expression | None:
    """How far a term, a function of known range with factors of known sign, may go against a sign; beyond it where it may reach that."""
    functions = [f for f in factors_in(term) if contains(f, x)]
    rest = multiply_all([number(getattr(term, "coefficient", 1)), *(f for f in factors_in(term) if f not in functions)])
    sign = sign_of(rest, facts)
    ends = range_of(facts, functions[0]) if len(functions) == 1 and facts.is_real(functions[0]) else None
    if ends is None or not sign:
        return None
    end, beyond = (ends[0], -1) if sign == wanted else (ends[1], 1)
    return None if end is None else rest * (end if ends[2] else end + beyond)


def sign_at(g: Expression, x: Name, end: Expression, facts: Facts, inside: Facts) -> int | None:
    """The sign at an end, or near to one that is a pole; 0 for a zero there."""
    if isinstance(end, Bound):
        return None
    try:
        return sign_of(substitute(g, {x: end}), facts)
    except DomainError:
        pass
    plain = express(g, "sin, cos") if has_call(g, (TAN, COT, SEC, CSC)) else g
    form = Form([plain])
    top, bottom = (form.expression(p) for p in form.lowest_terms(form.of(plain)))
    if not _vanishes(bottom, x, end, facts):
        return None
    above, below = sign_of(substitute(top, {x: end}), facts), sign_of(bottom, inside)
    return above * below if above and below else None
