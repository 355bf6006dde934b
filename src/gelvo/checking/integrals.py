"""Definite integrals checked by quadrature with sample values, and proved where an antiderivative has no break.

The breaks are looked for by bounded evaluation and by the facts, not by the integration code.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace

from gelvo.algebra.bounds import difference, joined
from gelvo.algebra.complex_paths import is_complex, may_cross_cut
from gelvo.algebra.continuity import breaks, has_no_break_at
from gelvo.algebra.cross_check import quadrature_agreement
from gelvo.algebra.differentiation import differentiate
from gelvo.algebra.equality import Decision, decide_zero, witness_text
from gelvo.algebra.facts import Facts
from gelvo.algebra.impulses import has_impulse, separated
from gelvo.algebra.normal import prepared
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.ends import value_at
from gelvo.checking.proposals import proposed_antiderivative
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import surely_not_real
from gelvo.evaluation.sampling import points
from gelvo.expression.building import bound, number, total
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import names, substitute

INFINITE, MINUS_INFINITE, UNDEFINED = bound("inf"), bound("-inf"), bound("undefined")


def check_definite(
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts, claim: str = "",
    places: tuple[Expression, ...] = (),
) -> Certificate:  # fmt: skip
    """The value of a definite integral."""
    claim = claim or f"integral_of({f}, {x}, {lower}, {upper}) = {value}"
    evidence: dict[str, object] = {}
    if lower is upper:
        zero = decide_zero(value, facts) if not isinstance(value, Bound) else Decision(False)
        verdict = PROVED if zero.zero else REFUTED if zero.zero is False else UNDECIDED
        return Certificate(claim, verdict, "both ends are the same, so the integral is zero")
    if not all(isinstance(end, Bound) or facts.is_real(end) or not surely_not_real(end) for end in (lower, upper)):
        return Certificate(claim, UNDECIDED, "ends that are not real: the way between them is not looked at")
    if _runs_back(lower, upper, facts):
        turned = value if value is UNDEFINED else -value
        return replace(check_definite(f, x, upper, lower, turned, facts, "", places), claim=claim)
    if has_impulse(f, x):
        return _with_impulses(f, x, (lower, upper), value, facts, claim)
    agreement = _quadratures(f, x, lower, upper, value, facts, evidence, places)
    if agreement is False:
        return Certificate(claim, REFUTED, "adaptive quadrature at sample values", evidence)
    for cut in dict.fromkeys(((), _inside(places, lower, upper, facts))):
        proof = None if cut is None else _by_ends(f, x, (lower, upper), value, facts, evidence, cut)
        if proof is not None and proof.zero:
            evidence["established"] = (
                "the slope of F is the integrand between the ends; F is continuous up to them; its values there"
            )
            return Certificate(
                claim, PROVED, "an antiderivative differentiated back, without breaks on the interval; its ends", evidence
            )
        if proof is not None and proof.zero is False:
            if proof.point is not None:
                evidence["counterexample"] = witness_text(proof)
            return Certificate(claim, REFUTED, "an antiderivative differentiated back; its ends", evidence)
    if agreement:
        return Certificate(claim, SUPPORTED, "adaptive quadrature at sample values", evidence)
    if isinstance(value, Bound):
        return _check_divergence(f, x, lower, upper, facts, claim, places)
    return Certificate(claim, UNDECIDED, "no quadrature and no proof could be made", evidence)


def _runs_back(lower: Expression, upper: Expression, facts: Facts) -> bool:
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return lower is INFINITE or upper is MINUS_INFINITE
    return facts.is_negative(upper - lower)


def _with_impulses(
    f: Expression, x: Name, ends: tuple[Expression, Expression], value: Expression, facts: Facts, claim: str
) -> Certificate:
    """The impulses between the ends sifted; the rest is checked as an integral of its own."""
    method = "the impulses between the ends by their weights, the rest as an integral"
    parts = separated(f, x)
    if parts is None or isinstance(value, Bound):
        return Certificate(claim, UNDECIDED, method)
    low, high = ends
    sifted: list[Expression] = []
    for impulse in parts[1]:
        pairs = [
            (a, b)
            for a, b in ((low, impulse.place), (impulse.place, high))
            if not isinstance(a, Bound) and not isinstance(b, Bound)
        ]
        sides = [_before(a, b, facts) for a, b in pairs]
        if any(_before(b, a, facts) for a, b in pairs):
            continue  # outside
        if not all(sides) or not has_no_break_at(impulse.rest, x, impulse.place, facts):
            return Certificate(
                claim, UNDECIDED, method, {"impulse": f"at {impulse.place}: an end, a break, or not known to lie inside"}
            )
        sifted.append(impulse.weight)
    weights = total(sifted)
    rest = check_definite(parts[0], x, *ends, value - weights, facts)
    return Certificate(claim, rest.verdict, method, {"weights": weights}, rest.conditions, parts=(rest,))


def _inside(places: Sequence[Expression], lower: Expression, upper: Expression, facts: Facts) -> tuple[Expression, ...] | None:
    """The places that lie between the ends, in rising order; None where that is not known."""
    order: list[Expression] = []
    for place in places:
        sides = [isinstance(e, Bound) or _before(a, b, facts) for e, a, b in ((lower, lower, place), (upper, place, upper))]
        if None in sides:
            return None
        if False in sides or any(decide_zero(place - other, facts).zero for other in order):
            continue
        before = [other for other in order if _before(other, place, facts)]
        if any(_before(place, other, facts) is None for other in order if other not in before):
            return None
        order.insert(len(before), place)
    return tuple(order)


def _before(a: Expression, b: Expression, facts: Facts) -> bool | None:
    gap = b - a
    return True if facts.is_positive(gap) else False if facts.is_nonpositive(gap) else None


def _quadratures(
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts,
    evidence: dict[str, object], places: tuple[Expression, ...],
) -> bool | None:  # fmt: skip
    if isinstance(value, Bound):
        return None
    found = quadrature_agreement(f, x, lower, upper, value, facts, places, wanted=3, candidates=16)
    if found.counterexample:
        evidence["counterexample"] = found.counterexample
        return False
    if found.points:
        evidence["quadrature"] = f"agrees to 8 digits at {found.points} sample {'point' if found.points == 1 else 'points'}"
        return True
    evidence["quadrature"] = "could not be taken"
    return None


def _by_ends(
    f: Expression, x: Name, ends: tuple[Expression, Expression], value: Expression, facts: Facts,
    evidence: dict[str, object], places: Sequence[Expression] = (),
) -> Decision | None:  # fmt: skip
    """The difference of claim and ends, piece by piece: on each piece F' = f is proved and F has no break inside.

    places: where pieces may meet, as a proposal; they lie between the ends, in rising order.
    """
    cuts = [ends[0], *places, ends[1]]
    pieces: list[Expression] = []
    used: dict[Expression, None] = {}
    for low, high in itertools.pairwise(cuts):
        found = _piece(f, x, low, high, facts, evidence)
        if found is None:
            return None
        pieces.append(found[0])
        used[found[1]] = None
    evidence["antiderivative"] = "; ".join(map(str, used))
    whole = joined(pieces)
    if isinstance(whole, Bound) or isinstance(value, Bound):
        # pieces that run off in both directions have no integral
        return Decision(whole is value) if isinstance(whole, Bound) else Decision(False)
    return decide_zero(whole - value, facts)


def _piece(
    f: Expression, x: Name, low: Expression, high: Expression, facts: Facts, evidence: dict[str, object]
) -> tuple[Expression, Expression] | None:
    """(F(high) - F(low), F) with one-sided limits, for an antiderivative F without a break between the two."""
    within = facts
    ordered = isinstance(low, Bound) or isinstance(high, Bound) or facts.is_nonnegative(high - low)
    for end, relation in ((low, low < x), (high, x < high)):
        if not isinstance(end, Bound) and ordered:
            within = within.with_facts([relation])
    plain, F = f, proposed_antiderivative(f, x, within)
    if F is None and ordered:  # bars and signs give way on a piece
        plain = prepared(f, within, waves=False)
        F = proposed_antiderivative(plain, x, within)
    if F is None or (is_complex(f, x, low, high) and may_cross_cut(F, x, within)):
        return None
    if decide_zero(differentiate(F, x) - plain, within).zero is not True or decide_zero(plain - f, within).zero is not True:
        return None
    try:
        # F continuous between the ends and F' = f but for isolated places is enough: kinks do no harm
        unclear = [b for b in breaks(F, x, kinks=False) if not _nonzero_between(b, x, low, high, within)]
    except GelvoError:
        return None
    if unclear:
        evidence["breaks"] = f"{unclear[0]} may vanish between the ends"
        return None
    at_high, at_low = value_at(F, x, high, within.without(x), "below"), value_at(F, x, low, within.without(x), "above")
    if at_high is None or at_low is None:
        return None
    if not ordered and isinstance(difference(at_high, at_low), Bound):
        return None
    return difference(at_high, at_low), F


def _nonzero_between(b: Expression, x: Name, lower: Expression, upper: Expression, within: Facts) -> bool:
    """Whether an expression has no zero between two ends: by the facts, or by bounded evaluation up to them."""
    return within.is_nonzero(b) or _bounded_away(b, x, lower, upper)


def _bounded_away(b: Expression, x: Name, lower: Expression, upper: Expression, pieces: int = 64) -> bool:
    from gelvo.evaluation.enclose import Enclosure, enclose
    from gelvo.numbers.box import Box
    from gelvo.numbers.interval import Interval, NoValue, arithmetic

    if isinstance(lower, Bound) or isinstance(upper, Bound) or [n for n in names(b, lower, upper) if n is not x]:
        return False
    a = arithmetic(96)
    from gmpy2 import mpq

    start, stop = mpq(enclose(lower, {}, 96).real.low), mpq(enclose(upper, {}, 96).real.high)
    enclosure = Enclosure(b)
    for k in range(pieces):
        left, right = start + (stop - start) * k / pieces, start + (stop - start) * (k + 1) / pieces
        try:
            if enclosure.at({x: Box(Interval(a.rational(left).low, a.rational(right).high))}, 96).contains_zero():
                return False
        except NoValue:
            return False
    return True


def _check_divergence(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, claim: str,
    places: tuple[Expression, ...],
) -> Certificate:  # fmt: skip
    """Divergence is supported where a proved antiderivative grows without bound towards an end or a break."""
    undecided = Certificate(claim, UNDECIDED, "no place was seen where an antiderivative grows without bound")
    F = proposed_antiderivative(f, x, facts)
    if F is None or decide_zero(differentiate(F, x) - f, facts).zero is not True:
        return undecided
    for place in dict.fromkeys((lower, upper, *places)):
        for side in (1, -1):
            if any(_grows_towards(F, x, place, side, facts, digits) for digits in ((5, 20, 80), (1, 2, 3))):
                evidence = {"antiderivative": F, "growth": f"without bound towards {x} = {place}"}
                return Certificate(
                    claim, SUPPORTED, "an antiderivative differentiated back, followed towards its breaks", evidence
                )
    return undecided


def _grows_towards(F: Expression, x: Name, place: Expression, side: int, facts: Facts, digits: tuple[int, ...]) -> bool:
    """|F| at distances of 10^-digits (or at 10^digits towards infinity) at sample values of the other names."""
    from gelvo.evaluation.enclose import Enclosure
    from gelvo.numbers.interval import NoValue

    if isinstance(place, Bound):
        towards = [number(10**k) * (1 if place.kind == "inf" else -1) for k in digits]
    else:
        towards = [place + number(side) / number(10**k) for k in digits]
    others = [n for n in names(F, *towards) if n is not x]
    for point in points(others, facts.known, 4 if others else 1):
        sizes = []
        for near in towards:
            try:
                box = Enclosure(substitute(F, {x: near})).at(point, 600)
            except (NoValue, GelvoError):
                break
            sizes.append(abs(box.real.low))
        if len(sizes) == 3 and 2 * sizes[0] < sizes[1] and 2 * sizes[1] < sizes[2]:
            return True
    return False
