"""Steps that bring in a new variable."""

from __future__ import annotations

from collections.abc import Iterator
from math import gcd, lcm
from typing import TypeGuard

from gmpy2 import mpq

from gelvo.calculus.antiderivative.methods import changes_by, inner_functions
from gelvo.calculus.antiderivative.substitutions import by_tangents, old_variable, one_beside, roots_in
from gelvo.calculus.antiderivative.support import half_odd
from gelvo.calculus.definite import inside_facts
from gelvo.calculus.lessons.line import Change, Pupil, Step
from gelvo.expression import known as bits
from gelvo.expression.building import number, power, sqrt
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, distinct_nodes, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ACOSH, ASIN, ASINH, CBRT, COSH, EXP, SIN, SINH, TAN, is_a
from gelvo.normal.prepare import prepared
from gelvo.normal.waves_of_one_angle import OneAngle, one_angle
from gelvo.simplifying.search import simplify


def _in_new(rule: str, g: Expression, change: Change) -> Step:
    return Step(rule, parts=((ONE, g),), change=change)


def inner_function(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """x*exp(x^2)  ->  integral_of(exp(u), u)/2 with u = x^2"""
    yield from _inner_functions(f, pupil, 0)


def inner_function_at_length(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """cos(ln(x))  ->  integral_of(cos(u)*exp(u), u) with u = ln(x): the new integrand may be a little longer"""
    yield from _inner_functions(f, pupil, 2)


def _inner_functions(f: Expression, pupil: Pupil, longer: int) -> Iterator[Step]:
    x = pupil.x
    if len({n.base for n in postorder(f) if _below_the_line(n, x)}) > 1:
        return  # several factors in a denominator: partial fractions
    found: list[tuple[bool, int, Step]] = []
    inner = (u for u in inner_functions(f, x) if uni.linear_parts(u, x) is None)
    for u, new, g in changes_by(inner, f, x, pupil.facts):
        if distinct_nodes(g) <= distinct_nodes(f) + longer:
            step = _in_new("substitution", g, Change(new, u, _signs(u, pupil)))
            found.append((is_a(u, EXP), distinct_nodes(g), step))
    yield from (step for *_, step in sorted(found, key=lambda entry: entry[:2]))


def _signs(u: Expression, pupil: Pupil) -> int:
    return pupil.facts.known(u) | (bits.POSITIVE if pupil.facts.is_positive(u) else bits.REAL)


def _below_the_line(node: Node, x: Name) -> TypeGuard[Power]:
    """A whole negative power of what is no power of the variable itself."""
    whole = isinstance(node, Power) and contains(node.base, x) and node.base is not x and node.exponent.is_whole
    return whole and node.exponent.rational < 0  # type: ignore[attr-defined]


def shifted(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """A quadratic under a root or in a denominator, its square completed: x^2 + 2*x + 5 = u^2 + 4 with u = x + 1."""
    x = pupil.x
    below = [n for n in postorder(f) if isinstance(n, Power) and isinstance(n.exponent, Number) and contains(n.base, x)]
    squares = {n.base: uni.coefficients_of(n.base, x) for n in below if n.base is not x}
    if len(squares) != 1:
        return
    base, square = next(iter(squares.items()))
    if square is None or len(square) != 3 or square[1] is ZERO:
        return
    move = uni.lowest_terms(square[1] / (2 * square[2]))
    new = pupil.new_name(f)
    plain = uni.expression_of([uni.lowest_terms(square[0] - square[2] * move**2), ZERO, square[2]], new)
    powers: dict[Node, Expression] = {n: power(plain, n.exponent) for n in below if n.base is base}
    yield _in_new("square completed", substitute(substitute(f, powers), {x: new - move}), Change(new, x + move))


def root_as_variable(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """1/(1 + sqrt(x))  ->  2*integral_of(u/(1 + u), u) with u = sqrt(x)"""
    x, bases = pupil.x, roots_in(f, pupil.x)
    if len(bases) != 1:
        return
    base, n = next(iter(bases.items()))
    new = pupil.new_name(f)
    place = old_variable(base, n, x, new)
    if place is None or any(is_a(v, CBRT) for v in postorder(f)):
        return

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and node.base is base and node.exponent.is_rational:
            return power(new, number(node.exponent.rational * n))
        return node

    g = factored(substitute(transform(f, visit), {x: place}) * differentiate(place, new))
    if not contains(g, x) and not roots_in(g, new):
        yield _in_new("the root as new variable", g, Change(new, power(base, number(mpq(1, n))), bits.NONNEGATIVE))


def exponential_as_variable(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """1/(1 + exp(x))  ->  integral_of(1/(u*(1 + u)), u) with u = exp(x)"""
    x = pupil.x
    rates = [uni.linear_parts(n.arguments[0], x) for n in postorder(f) if is_a(n, EXP) and contains(n, x)]
    if not rates or any(r is None or not isinstance(r[0], Number) or not r[0].is_rational for r in rates):
        return
    shares = [r[0].rational for r in rates if r is not None]
    common = lcm(*[int(s.denominator) for s in shares])
    unit = mpq(gcd(*[int(s * common) for s in shares]), common)
    new = pupil.new_name(f)
    table: dict[Node, Expression] = {}
    for n in postorder(f):
        parts = uni.linear_parts(n.arguments[0], x) if is_a(n, EXP) and contains(n, x) else None
        if parts is not None:
            table[n] = new ** number(parts[0].rational / unit) * EXP(parts[1])
    g = substitute(f, table)
    if not contains(g, x):
        rate = number(unit)
        change = Change(new, EXP(rate * x), bits.POSITIVE)
        yield _in_new("the exponential as new variable", factored(g / (rate * new)), change)


def slope_beside(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """sin(x)^3*cos(x)^2  ->  -integral_of((1 - u^2)*u^2, u) with u = cos(x)"""
    found = one_angle(f, pupil.x, pupil.facts)
    angles = {n.arguments[0] for n in postorder(f) if isinstance(n, Call)}
    if found is not None and len(angles) == 1 and isinstance(quotient_parts(found.function)[1], Number):
        yield from _beside(f, found, pupil)


def _beside(f: Expression, found: OneAngle, pupil: Pupil) -> Iterator[Step]:
    new = pupil.new_name(f, found.s, found.c)
    for g, wave in one_beside(found, new):
        yield _in_new(f"substitution: beside a formula of {wave} stands its slope", g, Change(new, wave))


def wave_as_variable(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """1/(2 + cos(x)): one wave beside a formula of the other; else the tangent, or that of half the angle."""
    found = one_angle(f, pupil.x, pupil.facts)
    if found is None:
        return
    yield from _beside(f, found, pupil)
    new = pupil.new_name(f, found.s, found.c)
    for g, tangent in by_tangents(found, new):
        which = "the tangent" if tangent is TAN(found.angle) else "the tangent of half the angle"
        yield _in_new(f"{which} as new variable", g, Change(new, tangent))


def wave_for_variable(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """sqrt(a^2 - x^2) with x = a*sin(u), sqrt(a^2 + x^2) with x = a*sinh(u), sqrt(x^2 - a^2) with x = a*cosh(u)."""
    x, facts = pupil.x, pupil.facts
    roots = [n for n in postorder(f) if isinstance(n, Power) and half_odd(n.exponent) and contains(n.base, x)]
    square = uni.coefficients_of(roots[0].base, x) if len({r.base for r in roots}) == 1 else None
    if square is None or len(square) != 3 or square[1] is not ZERO:
        return
    signs = tuple(1 if facts.is_positive(square[k]) else -1 if facts.is_negative(square[k]) else 0 for k in (0, 2))
    for wanted, wave, inverse, ends in PUT_IN:
        if signs == wanted:
            size = prepared(sqrt(uni.lowest_terms(wanted[0] * wanted[1] * square[0] / square[2])), facts, waves=False)
            new = pupil.new_name(f)
            old = size * wave(new)
            inner = inside_facts(new, *ends, facts)
            g = simplify(factored(substitute(f, {x: old}) * differentiate(old, new)), inner).expression
            yield _in_new(f"substitution {x} = {old}", g, Change(new, inverse(x / size)))


# signs of q and p in sqrt(q + p*x^2), what is put for x, its inverse, and where the new variable lies
PUT_IN = (
    ((1, -1), SIN, ASIN, (-PI / 2, PI / 2)),
    ((1, 1), SINH, ASINH, (MINUS_INFINITE, INFINITE)),
    ((-1, 1), COSH, ACOSH, (ZERO, INFINITE)),
)
