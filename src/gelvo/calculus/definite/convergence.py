"""Whether an integral converges at its ends and breaks, by orders of growth; what diverges says where and how.

At a place p the part beside it is looked at far out in u = 1/|x - p|, where the integral of f is that of f/u^2. Far out the integrand
is a sum of terms g and g*wave: the integral of g is told by its leading term, that of a wave times a g which falls to zero
converges (P. Dirichlet's test; K. Knopp, "Theory and Application of Infinite Series" (1928), for comparison with powers).
"""

from __future__ import annotations

import itertools
from typing import NamedTuple

from gelvo.calculus import growth
from gelvo.calculus.far_out import SIZES, by_comparison
from gelvo.calculus.growth import Growth, Unclear
from gelvo.calculus.local.expander import Local
from gelvo.calculus.local.expansion import Short
from gelvo.calculus.local.expansion import Unclear as NotTold
from gelvo.deciding.suppositions import attempt
from gelvo.errors import DomainError, GelvoError
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, PI, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, has_imaginary_unit, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, COS, COTH, CSCH, EXP, LN, SECH, SIN, TANH, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.simplifying.families.waves import by_multiple_angles

CONVERGES, CONDITIONALLY = "converges", "converges conditionally"


class Tail(NamedTuple):
    """What an integral does towards one end: `kind` converges, conditionally, or the Bound it runs off to; and the order, in words."""

    kind: str | Bound
    reason: str


def towards(f: Expression, x: Name, end: Expression, side: str, facts: Facts) -> Tail | None:
    """What the integral of f does towards an end (inf, -inf, or a place that is reached from "above" or "below"); None where it is not told."""
    u = facts.new_name("u", f, end)
    if isinstance(end, Bound):
        inside = substitute(f, {x: u if end is INFINITE else -u})
    else:
        inside = substitute(f, {x: end + 1 / u if side == "above" else end - 1 / u}) / u**2
    if not all(facts.is_real(n) for n in postorder(f) if isinstance(n, Name)):
        return None
    if has_imaginary_unit(f):
        return _of_parts(f, x, end, side, facts)
    if has_call(inside, (TANH, COTH, SECH, CSCH)):
        inside = factored(transform(inside, _by_exponentials))
    told = far_out(inside, u, facts.with_facts([u > number(10)]), f"{x} = {end}")
    return told if told is not None or isinstance(end, Bound) else _beside(f, x, end, side, facts)


def _by_exponentials(node: Node) -> Node:
    if not is_a(node, TANH, COTH, SECH, CSCH):
        return node
    assert node.function.as_elementary is not None
    return node.function.as_elementary(*node.arguments)


def _of_parts(f: Expression, x: Name, end: Expression, side: str, facts: Facts) -> Tail | None:
    """A complex integrand by its real and imaginary part: it converges where both do."""
    try:
        told = [towards(p, x, end, side, facts) for p in real_and_imaginary(f, facts) if p is not ZERO]
    except DomainError:
        return None
    if None in told:
        return None
    worse = [t for t in told if t is not None and isinstance(t.kind, Bound)]
    return worse[0]._replace(kind=UNDEFINED) if worse else told[-1]


@attempt
def _beside(f: Expression, x: Name, place: Expression, side: str, facts: Facts) -> Tail | None:
    """By the leading power of the distance from a place."""
    h = facts.new_name("h", f, place)
    own = Local(h, facts, 6)
    try:
        exponent, c, _ = own.leading(own.of(substitute(f, {x: place + h if side == "above" else place - h})))
    except (NotTold, Short, GelvoError, ZeroDivisionError):
        return None
    if exponent > -1:
        return Tail(CONVERGES, f"absolutely at {x} = {place}")
    sign = 0 if contains(c, h) else 1 if facts.is_positive(c) else -1 if facts.is_negative(c) else 0
    return (
        Tail(
            INFINITE if sign > 0 else MINUS_INFINITE,
            f"it runs off at {x} = {place}, where the integrand is like the power {exponent} of the distance",
        )
        if sign
        else None
    )


@attempt
def far_out(f: Expression, u: Name, facts: Facts, place: str) -> Tail | None:
    """What the integral of f over all large u does."""
    try:
        plain = _plain(f, u, facts)
        if plain is not None:
            return _of_growth(plain, place, facts)
    except (Unclear, GelvoError):
        pass
    swung = by_multiple_angles(f, facts, False) if _waves(f, u) and not has_call(f, (ABS,)) else None
    terms = [_sized(t, u) for t in terms_of(expand(f if swung is None else swung))]
    found = [_of_term(t, u, facts, place) for t in terms]
    return _together([t for t in found if t is not None]) if None not in found else None


def _plain(f: Expression, u: Name, facts: Facts) -> Growth | None:
    """The leading term of what holds no waves, or is so small that waves do not matter."""
    found = growth.leading(f, u, facts)
    unknown = found.coefficient is ZERO and not found.exact  # it dies away at a rate that is not known
    return None if unknown or (found.bounded and not _is_small(found, facts)) else found


def _is_small(found: Growth, facts: Facts) -> bool:
    """Whether the integral over c*exp(rate)*u^power*ln(u)^logs converges."""
    for rate in reversed(found.rate):
        if rate is not ZERO:
            if not (facts.is_positive(rate) or facts.is_negative(rate)):
                raise Unclear
            return facts.is_negative(rate)
    return found.power < -1 or (found.power == -1 and found.logs < -1)


def _of_growth(found: Growth, place: str, facts: Facts) -> Tail | None:
    if found.coefficient is ZERO:
        return Tail(CONVERGES, "") if found.exact else None
    if _is_small(found, facts):
        return Tail(CONVERGES, f"absolutely at {place}")
    sign = 1 if facts.is_positive(found.coefficient) else -1 if facts.is_negative(found.coefficient) else 0
    if not sign or found.bounded:
        return None
    return Tail(INFINITE if sign > 0 else MINUS_INFINITE, f"it runs off at {place}, {_size_in_words(found, place)}")


def _size_in_words(found: Growth, place: str) -> str:
    """How large the integrand is: beside a place p the power is that of 1/|x - p|, less the two that the change of variable takes."""
    if any(r is not ZERO for r in found.rate):
        return "where the integrand grows like an exponential"
    x, _, end = place.partition(" = ")
    beside = end not in ("inf", "-inf")
    size = -found.power - 2 if beside else found.power
    logarithms = f" and the power {found.logs} of a logarithm" if found.logs else ""
    of = f"the distance from {end}" if beside else f"|{x}|"
    return f"where the integrand is like the power {size} of {of}{logarithms}"


def _sized(term: Expression, u: Name) -> Expression:
    """Factors such as erfc(u) as the formulas of their size."""
    sizes = {}
    for g in factors_in(term):
        base = base_and_exponent(g)[0]
        if isinstance(base, Call) and base.name in SIZES and uni.coefficients_of(base.arguments[-1], u) is not None:
            sizes[base] = EXP(expand(SIZES[base.name](*base.arguments)))
    return _powers_joined(substitute(term, sizes)) if sizes else term


def _powers_joined(e: Expression) -> Expression:
    """exp(a + b*ln(u)) as u^b*exp(a)."""

    def visit(node: Node) -> Node:
        if not is_a(node, EXP):
            return node
        parts = terms_of(node.arguments[0])
        logarithms = [t for t in parts if any(is_a(g, LN) for g in factors_in(t))]
        rest = total([t for t in parts if t not in logarithms])
        powers = [power(g.arguments[0], t / g) for t in logarithms for g in factors_in(t) if is_a(g, LN)]
        return multiply_all([EXP(rest), *powers])

    return transform(e, visit)


def _of_term(term: Expression, u: Name, facts: Facts, place: str) -> Tail | None:
    """One term, with at most one wave as a factor."""
    sizes = [g for g in factors_in(term) if is_a(g, ABS) and _single_wave(g.arguments[0], u) is not None]
    if sizes:  # a wave without its sign: its mean 2/pi, and the rest swings about zero
        smooth = term / sizes[0]
        return None if _waves(smooth, u) else _mean_of(2 * smooth / PI, u, facts, place)
    waves = [g for g in factors_in(term) if is_a(g, SIN, COS) and contains(g, u)]
    rest = multiply_all(
        [number(term.coefficient) if isinstance(term, Product) else number(1), *[g for g in factors_in(term) if g not in waves]]
    )
    if len(waves) > 1 or _waves(rest, u):
        return None
    try:
        beside = growth.leading(rest, u, facts)
        return _of_wave(beside, waves[0].arguments[0], u, facts, place) if waves else _of_growth(beside, place, facts)
    except (Unclear, GelvoError):  # an exponential of a root, or deeper
        return Tail(CONVERGES, f"absolutely at {place}") if by_comparison(rest * u**2, u, facts) is ZERO else None


def _mean_of(smooth: Expression, u: Name, facts: Facts, place: str) -> Tail | None:
    try:
        return _of_growth(growth.leading(smooth, u, facts), place, facts)
    except (Unclear, GelvoError):
        return None


def _of_wave(beside: Growth, angle: Expression, u: Name, facts: Facts, place: str) -> Tail | None:
    """g times a wave of an angle that grows: by the size of g over the slope of the angle."""
    if _is_small(beside, facts):
        return Tail(CONVERGES, f"absolutely at {place}")
    phase = growth.leading(angle, u, facts)
    if phase.rate or phase.logs or phase.power <= 0 or phase.bounded or any(r is not ZERO for r in beside.rate):
        return None
    order = beside.power - (phase.power - 1)
    if order < 0 or (order == 0 and beside.logs < 0):
        return Tail(CONDITIONALLY, f"by the swings of the wave at {place}")
    return Tail(UNDEFINED, f"it swings for ever at {place}")


def _together(tails: list[Tail]) -> Tail | None:
    """Of a sum: one kind of divergence beside what converges; several waves that do not fall may cancel, and tell nothing."""
    worse = [t for t in tails if isinstance(t.kind, Bound)]
    if len(worse) > 1 and (len({t.kind for t in worse}) > 1 or worse[0].kind is UNDEFINED):
        return None
    if worse:
        return worse[0]
    conditional = [t for t in tails if t.kind == CONDITIONALLY]
    return conditional[0] if conditional else tails[0]


def _waves(f: Expression, u: Name) -> bool:
    return any(is_a(n, SIN, COS) and contains(n, u) for n in postorder(f))


def _single_wave(e: Expression, u: Name) -> Call | None:
    """A wave of a linear angle, with a number in front."""
    waves = [g for g in factors_in(e) if is_a(g, SIN, COS)]
    if len(waves) != 1 or contains(e / waves[0], u) or uni.linear_parts(waves[0].arguments[0], u) is None:
        return None
    return waves[0]


def divergence(f: Expression, x: Name, cuts: list[Expression], facts: Facts) -> Tail | None:
    """What an integral over pieces does that meet at `cuts`, each looked at from both sides; None where some piece is not told."""
    worse: list[Tail] = []
    for low, high in itertools.pairwise(cuts):
        for end, side in ((low, "above"), (high, "below")):
            told = towards(f, x, end, side, facts)
            if told is None:
                return None
            if isinstance(told.kind, Bound):
                worse.append(told)
    if not worse:
        return Tail(CONVERGES, "")
    kinds = {t.kind for t in worse}
    reason = "; ".join(dict.fromkeys(t.reason for t in worse))
    return worse[0] if len(worse) == 1 else Tail(kinds.pop() if len(kinds) == 1 else UNDEFINED, reason)
