"""Equations without closed form: the zeros on an interval, certified, each as the one zero between two numbers.

Without an interval, bounds are looked for beyond which the formula keeps its sign.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import Enclosure, enclose
from gelvo.expression.building import name, number, relation, total
from gelvo.expression.nodes import Bound, Expression, Name, Relation, Sum, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COT, CSC, EXP, SEC, TAN
from gelvo.numbers.box import Box
from gelvo.numbers.interval import INFINITE as ENDLESS
from gelvo.numbers.interval import Interval, NoValue, arithmetic
from gelvo.simplifying.expressing import express
from gelvo.solving.brackets import Zero, at_end, certified_zeros, outwards
from gelvo.solving.far_signs import sign_beyond, with_slopes
from gelvo.solving.putting_back import real_conditions
from gelvo.solving.roots import Root, window
from gelvo.solving.single.exponentials import growth, rates_of, rest_of
from gelvo.solving.single.monotone import by_monotone_pieces
from gelvo.solving.single.work import Work
from gelvo.solving.single.zeros_with_letters import zero_of, zeros_with_letters

FARTHEST = 1 << 10


def no_formula(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """The zeros of g on the interval of the unknown, or on all of the line; only over the reals."""
    x = solver.unknown
    inside = (solver.nested or (depth and solver.implied)) and uni.coefficients_of(g, x) is None
    if not solver.real or solver.formulas_only or inside or any(isinstance(n, Written) for n in postorder(g)):
        return None
    low, high = _where_real(g, x, solver.facts)
    if any(n is not x for n in names(g)):
        return _with_letters(solver, g, low, high)
    ends = [_end(g, x, end, sign) for end, sign in ((low, -1), (high, 1))]
    if ends[0] is None or ends[1] is None or names(low) or names(high):
        return None
    zeros = _zeros(g, x, ends[0], ends[1])
    told = f"{len(zeros)} zero{'s' if len(zeros) != 1 else ''} between {float(ends[0]):.6g} and {float(ends[1]):.6g}"
    solver.roads[f"no closed form: {told}, certified by bounds of the formula and its slope"] = None
    return [
        Root(number(z.place) if z.exact else at_end(body, x, z, (low, high)) or zero_of(solver, body, *_bracket(z)))
        for z, body in zeros
    ]


def _with_letters(solver: Work, g: Expression, low: Expression, high: Expression) -> list[Root] | None:
    """The one zero between the ends, else zeros piece by piece; of a quartic, which has a formula, the former or None."""
    quartic = len(uni.coefficients_of(g, solver.unknown) or ()) == 5
    found, why = None, None
    try:
        found = zeros_with_letters(solver, g, low, high)
    except NotSolved as fault:
        why = fault
    if found is None and not quartic:
        found = by_monotone_pieces(solver, g, low, high)
    if found is None and why is not None and not quartic:
        raise why
    return found


def _where_real(g: Expression, x: Name, facts: Facts) -> tuple[Expression, Expression]:
    """The range of the unknown, and what the domains of the functions in g leave of it, as far as these say x < c or x > c."""
    conditions = [c for c in real_conditions(g, x, facts) if isinstance(c, Relation) and c.operator in ("<", "<=")]
    lines = [(c, uni.linear_parts(c.right - c.left, x)) for c in conditions]
    needed = []
    for condition, line in lines:
        if line is not None and not names(*line):
            place = uni.lowest_terms(-line[1] / line[0])
            rising = facts.is_positive(line[0])
            needed.append(relation(condition.operator, place, x) if rising else relation(condition.operator, x, place))
    try:
        return window(x, facts.with_facts(needed))
    except DomainError:
        return window(x, facts)


def _end(g: Expression, x: Name, end: Expression, sign: int) -> mpq | None:
    """An end of the interval as a number; of an open one a place beyond which there is no zero, or None."""
    if not isinstance(end, Bound):
        return None if names(end) else _off_border(g, x, end, -sign)
    ways = [with_slopes(g, x), *([Enclosure(h)] for h in _by_a_term(g, x))]
    far = 1
    while far <= FARTHEST:
        if any(sign_beyond(functions, x, far, sign) for functions in ways):
            return mpq(sign * far)
        far *= 2
    return None


def _by_a_term(g: Expression, x: Name) -> list[Expression]:
    """A sum of exponentials divided by each of them: by the one that grows fastest it is a number and what dies out."""
    if not isinstance(g, Sum):
        return []
    terms = [*((t, c) for t, c in g.items()), (number(1), g.constant)]
    read = [(number(c) * rest_of(t, x), rates_of(t, x)) for t, c in terms]
    if any(rates is None for _, rates in read):
        return []
    grown = [(c, growth(rates)) for c, rates in read if rates is not None]
    return [total(c * EXP(expand(r - lead) * x) for c, r in grown) for lead in dict.fromkeys(r for _, r in grown)]


def _off_border(g: Expression, x: Name, end: Expression, inwards: int) -> mpq:
    """The end itself; where g has no value there, a place up to which g keeps its sign: by x = end ± exp(-t) with a large t."""
    place = outwards(end, -inwards)
    a = arithmetic(80)
    function = Enclosure(g)
    near = a.rational(place + inwards * mpq(1, 2**40))
    whole = Interval(min(near.low, a.rational(place).low), max(near.high, a.rational(place).high))
    try:
        function.at({x: Box(whole)}, 80)
        return place
    except NoValue:
        pass
    t = name("t", "positive")
    moved = Enclosure(expand(substitute(g, {x: end + inwards * EXP(-t)})))
    for far in (1, 2, 4, 8, 16, 32):
        try:
            box = moved.at({t: Box(Interval(a.integer(far).low, ENDLESS))}, 80)
        except (NoValue, DomainError):
            continue
        if box.imag is None and box.real.sign in (1, -1):
            return place + inwards * mpq(enclose(EXP(number(-far)), {}, 80).real.low)
    return place


def _zeros(g: Expression, x: Name, low: mpq, high: mpq) -> list[tuple[Zero, Expression]]:
    """The zeros of each factor of the numerator where no denominator vanishes, with that factor."""
    product = factored(express(g, "sin, cos") if has_call(g, (TAN, COT, SEC, CSC)) else g)
    found: list[tuple[Zero, Expression]] = []
    below: list[Expression] = []
    for factor in factors_in(product):
        base, k = base_and_exponent(factor)
        if not contains(base, x):
            continue
        if k.is_rational and k.rational > 0:
            found += [(z, base) for z in certified_zeros(base, x, low, high)]
        else:
            below.append(base)
    return sorted((f for f in found if not any(_vanishes(b, x, f[0]) for b in below)), key=lambda f: f[0].place)


def _vanishes(base: Expression, x: Name, zero: Zero) -> bool:
    """Whether a denominator vanishes at a zero; NotSolved where it nearly does."""
    a = arithmetic(100)
    width = mpq(1, 10**24)
    box = Box(Interval(a.rational(zero.place - width).low, a.rational(zero.place + width).high))
    try:
        apart = not Enclosure(base).at({x: box}, 100).contains_zero()
    except NoValue:
        apart = False
    if not apart and not zero.exact:
        raise NotSolved(f"near {x} = {float(zero.place):.10g} numerator and denominator vanish together, or nearly so")
    return not apart


def _bracket(zero: Zero) -> tuple[Expression, Expression]:
    """Short numbers around a zero inside its bracket."""
    low, high, bottom = zero.low, zero.high, 1
    while bottom < 2**60:
        below, above = mpq((zero.place * bottom).__floor__(), bottom), mpq(-((-zero.place * bottom).__floor__()), bottom)
        if zero.low <= below < zero.place < above <= zero.high:
            low, high = below, above
            break
        bottom *= 10
    return number(low), number(high)
