"""Powers undone: u^q = v for a rational q, for an exponent with letters, and the unknown in the exponent."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number, power, relation
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Condition, Expression, Number, Power
from gelvo.expression.traversal import contains
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, ATAN2, CBRT, COS, EXP, LN, SIGN, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.solving.putting_back import is_whole
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


def power_step(solver: Work, g: Power, value: Expression, depth: int) -> list[tuple[Expression, Root]] | None:
    x = solver.unknown
    if contains(g.base, x) and isinstance(g.exponent, Number) and g.exponent.is_rational:
        return [(g.base, r) for r in undo_power(solver, g.exponent.rational, value, depth)]
    if contains(g.base, x) and not contains(g.exponent, x) and solver.real:
        return [(g.base, r) for r in _undo_letter_power(solver, g.exponent, value)]
    if contains(g.exponent, x) and not contains(g.base, x):
        solver.roads["logarithm"] = None
        if not solver.real:
            condition = solver.condition(nonzero(value))
            if condition is None:
                return []
            n = solver.free_integer(g, value)
            solver.need(relation("!=", g.base, ONE))
            return [(g.exponent, Root((LN(value) + 2 * PI * IMAGINARY * n) / LN(g.base), condition, (n,)))]
        if g.base is ZERO:  # 0^u is 0 for u > 0, and has no value else
            if solver.facts.holds(relation("=", value, ZERO)) is False:
                return []
            raise NotSolved("0 to a power is 0 for every positive exponent: that is no list")
        if solver.facts.is_negative(g.base):
            return _exponent_of_negative(solver, g, value)
        solver.need(relation("<", ZERO, g.base))
        solver.need(relation("!=", g.base, ONE))
        condition = solver.condition(relation("<", ZERO, value))
        return [] if condition is None else [(g.exponent, Root(LN(value) / LN(g.base), condition))]
    return None


def _undo_letter_power(solver: Work, k: Expression, value: Expression) -> list[Root]:
    """The real u with u^k = value, for a k with letters: positive ones, zero, and negative ones where k is known to be whole."""
    solver.roads["roots"] = None
    solver.need(nonzero(k))
    found: list[Root] = []
    positive = solver.condition(relation("<", ZERO, value))
    if positive is not None:
        found.append(Root(power(value, 1 / k), positive))
    if solver.facts.holds(relation("=", value, ZERO)) is not False:
        zero, rising = solver.condition(relation("=", value, ZERO)), solver.condition(relation("<", ZERO, k))
        if zero is not None and rising is not None:
            found.append(Root(ZERO, zero + rising))
    if value is ZERO:
        return found
    # an even whole k gives the negative of a root too, an odd one a negative root of a negative value
    even, odd = (solver.condition(is_whole(expand(u))) for u in (k / 2, (k + 1) / 2))
    if even is not None:
        found = [*[Root(-r.value, r.conditions + even, r.families) for r in found if r.value is not ZERO], *found]
    negative = solver.condition(relation("<", value, ZERO))
    if odd is not None and negative is not None:
        found.insert(0, Root(-power(-value, 1 / k), negative + odd))
    return found


def _exponent_of_negative(solver: Work, g: Power, value: Expression) -> list[tuple[Expression, Root]] | None:
    """b^u = value with b < 0: real for whole u only, an even one where the value is positive."""
    size, k = solver.condition(nonzero(value)), solver.free_integer(g, value)
    if size is None:
        return []
    if g.base is number(-1):
        even, odd = (solver.condition(relation("=", value, number(sign))) for sign in (1, -1))
        steps = [(2 * k, even), (2 * k + 1, odd)]
        return [(g.exponent, Root(place, condition, (k,))) for place, condition in steps if condition is not None]
    solver.implied = True
    return [(g.exponent, Root(LN(ABS(value)) / LN(-g.base), size))]


def undo_power(solver: Work, q: mpq, value: Expression, depth: int) -> list[Root]:
    """The u with u^q = value."""
    solver.roads["roots"] = None
    if q < 0:
        condition = solver.condition(nonzero(value))
        if condition is None:
            return []
        return [Root(r.value, condition + r.conditions, r.families) for r in undo_power(solver, -q, 1 / value, depth)]
    return _undo_real_power(solver, q, value) if solver.real else _undo_complex_power(solver, q, value)


def _undo_real_power(solver: Work, q: mpq, value: Expression) -> list[Root]:
    top, bottom = int(q.numerator), int(q.denominator)
    conditions: tuple[Condition, ...] = ()
    if bottom > 1:
        open_condition = solver.condition(relation("<=", ZERO, value))
        if open_condition is None:
            return []
        conditions, value = open_condition, power(value, number(bottom))
    if top == 1 or value is ZERO:
        return [Root(value, conditions)]
    if top % 2:
        return [Root(_real_root(value, top, solver.facts), conditions)]
    inside = solver.condition(relation("<=", ZERO, value))
    if inside is None:
        solver.further += top
        return []
    root = power(value, number(mpq(1, top)))
    signs = [root] if bottom > 1 else [-root, root]
    return [Root(r, conditions + inside) for r in signs]


def _undo_complex_power(solver: Work, q: mpq, value: Expression) -> list[Root]:
    top, bottom = int(q.numerator), int(q.denominator)
    if bottom > 1:
        turned = _by_angle(q, value)
        if turned is not None:
            return turned
        solver.implied = True
        value = power(value, number(bottom))
    if top == 1 or value is ZERO:
        return [Root(value)]
    turned = _by_angle(mpq(top), value) if isinstance(value, Number) and not value.is_rational else None
    if turned is not None:
        return turned
    root = power(value, number(mpq(1, top)))
    return [Root(root * _as_root(EXP(IMAGINARY * 2 * PI * number(mpq(k, top))))) for k in range(top)]


def _by_angle(q: mpq, value: Expression) -> list[Root] | None:
    """The complex u with u^q = value: the angles in (-pi, pi] that q turns to that of the value."""
    try:
        real, imaginary = real_and_imaginary(value, Facts())
    except DomainError:
        return None
    share = expand(ATAN2(imaginary, real) / PI)
    if not isinstance(share, Number) or not share.is_rational:
        return None
    size = power(ABS(value), number(1 / q))
    most = int(q) + 2
    angles = [(share.rational + 2 * k) / q for k in range(-most, most + 1)]
    turns = [COS(PI * number(a)) + IMAGINARY * SIN(PI * number(a)) for a in angles if -1 < a <= 1]
    return [Root(expand(size * turn)) for turn in turns]


def _as_root(turn: Expression) -> Expression:
    """A root of unity in square roots where that is short."""
    if is_a(turn, EXP):
        angle = turn.arguments[0] / IMAGINARY
        return COS(angle) + IMAGINARY * SIN(angle)
    return turn


def _real_root(value: Expression, degree: int, facts: Facts) -> Expression:
    if facts.is_nonnegative(value):
        return power(value, number(mpq(1, degree)))
    if facts.is_nonpositive(value):
        return -power(-value, number(mpq(1, degree)))
    if degree == 3:
        return CBRT(value)
    return SIGN(value) * power(ABS(value), number(mpq(1, degree)))
