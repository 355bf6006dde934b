"""Proofs that an integral has no value: limit comparison with powers at its ends, and two sequences along which an antiderivative parts.

Limits are those of `checking/ends.py`; nothing of the integration code is used. Source: K. Knopp, "Theory and Application of Infinite
Series" (1928), on comparison of the first and second kind.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable

from gmpy2 import mpq

from gelvo.checking.certificate import PROVED, Certificate
from gelvo.checking.ends import value_at
from gelvo.checking.pieces import settled
from gelvo.checking.values.converging import facts_between
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power
from gelvo.expression.constants import IMAGINARY, INFINITE, MINUS_INFINITE, ONE, PI, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, COS, EXP, LN, SIN, is_a
from gelvo.simplifying.families.waves import by_multiple_angles

CONVERGES = "converges"
Continuous = Callable[[Expression, Expression], bool]  # whether the integrand is so between two ends
NEARER = tuple(mpq(k, 10) for k in (5, 9))  # powers below 1, compared with at a place
FARTHER = tuple(mpq(k, 10) for k in (20, 15, 11))  # powers above 1, compared with far out


def by_comparison(
    f: Expression, x: Name, cuts: list[Expression], value: Bound, facts: Facts, continuous: Continuous, claim: str
) -> Certificate | None:
    """A proof of divergence over pieces that meet at `cuts`; None where an end is not told, or tells something else."""
    tails: dict[str, str | Bound] = {}
    for low, high in itertools.pairwise(cuts):
        if not continuous(low, high):
            return None
        piece = settled(f, x, low, high, facts_between(x, low, high, facts)) if has_call(f, (ABS,), x) else f
        for end, side in ((low, "above"), (high, "below")):
            told = _tail(piece, x, end, side, facts)
            if told is None and value is not UNDEFINED:
                return None
            if told is not None:
                tails[f"{x} = {end}, from {side}" if not isinstance(end, Bound) else f"{x} = {end}"] = told
    endless = {t for t in tails.values() if isinstance(t, Bound)}
    right = {INFINITE, MINUS_INFINITE} <= endless if value is UNDEFINED else endless == {value}
    if not right:
        return None
    evidence: dict[str, object] = {
        place: f"the integral runs off to {kind}" for place, kind in tails.items() if isinstance(kind, Bound)
    }
    return Certificate(claim, PROVED, "limit comparison with powers at the ends and breaks", evidence)


def _tail(f: Expression, x: Name, end: Expression, side: str, facts: Facts) -> str | Bound | None:
    """What the integral does towards an end: the limit of f times a power of the distance (far out of |x|) tells."""
    far = isinstance(end, Bound)
    distance = (x if end is INFINITE else -x) if isinstance(end, Bound) else (x - end if side == "above" else end - x)
    for scale in _scales(distance, far, facts):
        first = _limit(f * scale, x, end, side, facts)
        if first is None:
            return _by_terms(f, x, end, side, facts)
        if first is INFINITE or first is MINUS_INFINITE:
            return first
        if first is not ZERO:
            return INFINITE if facts.is_positive(first) else MINUS_INFINITE if facts.is_negative(first) else None
        for p in FARTHER if far else NEARER:
            found = _limit(f * power(distance, number(p)), x, end, side, facts)
            if found is not None and not isinstance(found, Bound):
                return CONVERGES
    return _by_terms(f, x, end, side, facts)


def _scales(distance: Expression, far: bool, facts: Facts) -> tuple[Expression, ...]:
    """What an integrand is multiplied by: where the product does not go to zero, the integral runs off."""
    log = LN(distance) if far else -LN(distance)
    return distance, distance * log, distance * log * LN(log)


def _by_terms(f: Expression, x: Name, end: Expression, side: str, facts: Facts) -> str | Bound | None:
    """A swing that dies; waves by multiple angles term by term; bars of waves by a smaller square."""
    told: str | Bound | None = _swinging(f, x, end, facts)
    if told is not None or not isinstance(end, Bound):
        return told
    bars = [g for g in factors_in(f) if is_a(g, ABS) and is_a(g.arguments[0], SIN, COS)]
    if len(bars) == 1:
        below = f / bars[0] * bars[0].arguments[0] ** 2
        rest = f / bars[0]
        far = facts.without(x).with_facts([x > number(10) if end is INFINITE else x < number(-10)])
        told = _by_terms(below, x, end, side, facts) if far.is_positive(rest) else None
        return told if isinstance(told, Bound) else None
    turned = by_multiple_angles(f, facts, False) if has_call(f, (SIN, COS)) else None
    pieces = [] if turned is None else terms_of(expand(turned))
    if len(pieces) < 2:
        return None
    kinds = {_tail(piece, x, end, side, facts) for piece in pieces}
    endless = kinds - {CONVERGES}
    return endless.pop() if len(endless) == 1 else CONVERGES if not endless else None


def _limit(g: Expression, x: Name, end: Expression, side: str, facts: Facts) -> Expression | None:
    try:
        found = value_at(g, x, end, facts, "" if isinstance(end, Bound) else side)
        return found if found is not None else value_at(factored(g), x, end, facts, "" if isinstance(end, Bound) else side)
    except GelvoError:
        return None


def _swinging(f: Expression, x: Name, end: Expression, facts: Facts) -> str | None:
    """g(x)*sin(a*x + b) with a g that falls to zero converges (P. Dirichlet)."""
    waves = [g for g in factors_in(f) if is_a(g, SIN, COS)]
    if len(waves) != 1 or not isinstance(end, Bound):
        return None
    line, rest = uni.linear_parts(waves[0].arguments[0], x), f / waves[0]
    if line is None or any(is_a(n, SIN, COS) and contains(n, x) for n in postorder(rest)) or not facts.is_nonzero(line[0]):
        return None
    far = facts.without(x).with_facts([x > number(10) if end is INFINITE else x < number(-10)])
    slope = differentiate(rest, x)
    one_way = far.is_negative(slope) or far.is_positive(slope)
    return CONVERGES if one_way and _limit(rest, x, end, "", facts) is ZERO else None


PHASES = tuple(PI * mpq(k, 2) for k in range(4))


def by_two_sequences(F: Expression, x: Name, end: Expression, side: str, facts: Facts) -> str:
    """Two sequences towards an end along which an antiderivative goes to different ends, in words; empty where none were found."""
    F = _in_waves(F, x, facts)
    waves = [n for n in postorder(F) if is_a(n, SIN, COS) and contains(n, x)]
    unit = _unit(waves, x)
    if unit is None or not _reaches(unit[1], end, side, facts):
        return ""
    angle, (c, p) = unit
    k = facts.new_name("k", F, domain="positive")
    seen: list[tuple[Expression, Expression]] = []
    for phase in PHASES:
        place = power((2 * PI * k + phase) / c, number(1 / p))
        table: dict[Expression, Expression] = {}
        for wave in waves:
            share = expand(wave.arguments[0] / angle)
            table[wave] = (SIN if is_a(wave, SIN) else COS)(share * phase)
        try:
            along = substitute(substitute(F, table), {x: place})
        except GelvoError:
            continue
        value = _limit(along, k, INFINITE, "", facts)
        if value is None:
            continue
        for other, before in seen:
            apart = (
                value is not before if isinstance(value, Bound) or isinstance(before, Bound) else facts.is_nonzero(value - before)
            )
            if apart:
                return f"{before} where {angle} = 2*pi*k + {other}, {value} where it is 2*pi*k + {phase}, k = 1, 2, …"
        seen.append((phase, value))
    return ""


def _in_waves(F: Expression, x: Name, facts: Facts) -> Expression:
    """Exponentials of imaginary arguments as waves."""
    table: dict[Expression, Expression] = {}
    for n in postorder(F):
        if is_a(n, EXP) and contains(n, x):
            angle = expand(n.arguments[0] / IMAGINARY)
            if facts.is_real(angle):
                table[n] = COS(angle) + IMAGINARY * SIN(angle)
    return substitute(F, table) if table else F


def _reaches(unit: tuple[Expression, mpq], end: Expression, side: str, facts: Facts) -> bool:
    """Whether (angle/c)^(1/p) goes to the end, from its side, as the angle rises; p is 1 or -1 for a negative c."""
    c, p = unit
    up = facts.is_positive(c)
    if not up and not (facts.is_negative(c) and abs(p) == 1):
        return False
    if p > 0:
        return end is (INFINITE if up else MINUS_INFINITE)
    return end is ZERO and side == ("above" if up else "below")


def _unit(waves: list[Call], x: Name) -> tuple[Expression, tuple[Expression, mpq]] | None:
    """An angle c*x^p of which all angles are whole multiples, and (c, p); None where there is none."""
    angles = {expand(w.arguments[0]) for w in waves}
    for angle in sorted(angles, key=str):
        if not all(expand(a / angle).is_whole for a in angles):
            continue
        moving = [g for g in factors_in(angle) if contains(g, x)]
        base, p = base_and_exponent(moving[0]) if len(moving) == 1 else (ONE, ONE)
        if base is x and p.is_rational:
            return angle, (angle / moving[0], p.rational)
    return None
