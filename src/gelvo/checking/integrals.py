"""Definite integrals checked by quadrature with sample values, and proved where an antiderivative has no break.

The breaks are looked for by bounded evaluation and by the facts, not by the integration code.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

from gmpy2 import mpfr, mpq, sign

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.divergence import by_comparison, by_two_sequences
from gelvo.checking.ends import value_at
from gelvo.checking.pieces import nonzero_by_bounds, places_of_steps, settled
from gelvo.checking.proposals import proposed_antiderivative, proposed_without_roots
from gelvo.checking.samples import samples
from gelvo.checking.values.by_theorem import values_by_splitting, values_by_theorem
from gelvo.checking.values.converging import facts_between
from gelvo.checking.values.slopes import Proof, by_number, by_slope
from gelvo.checking.values.value import Question, Value
from gelvo.deciding.complex_paths import is_complex, may_cross_cut
from gelvo.deciding.cross_check import quadrature_agreement
from gelvo.deciding.equality import Decision, decide_zero, witness_text
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import enclose, surely_not_real
from gelvo.expression.building import number, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, UNDEFINED
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.continuity import breaks, has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.bounds import difference, joined
from gelvo.forms.differentiation import differentiate
from gelvo.forms.impulses import has_impulse, separated
from gelvo.normal.prepare import prepared
from gelvo.numbers.interval import NoValue


def check_definite(
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts, claim: str = "",
    places: tuple[Expression, ...] = (),
) -> Certificate:  # fmt: skip
    """The value of a definite integral."""
    claim = claim or f"integral_of({f}, {x}, {lower}, {upper}) = {value}"
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
    return _check_plain(f, x, (lower, upper), value, facts, claim, places)


def _check_plain(
    f: Expression, x: Name, ends: tuple[Expression, Expression], value: Expression, facts: Facts, claim: str,
    places: tuple[Expression, ...],
) -> Certificate:  # fmt: skip
    """Of an integrand without impulses, from the lower to the upper end: quadratures, then an antiderivative, then theorems."""
    evidence: dict[str, object] = {}
    agreement = _quadratures(f, x, *ends, value, facts, evidence, places)
    if agreement is False:
        return Certificate(claim, REFUTED, "adaptive quadrature at sample values", evidence)
    f = _without_roots(f, x, facts, evidence)
    question, infinite = (f, *ends), isinstance(value, Bound)
    far = any(isinstance(end, Bound) for end in ends)  # where an antiderivative is unlikelier than a slope by a letter
    theorem = "" if infinite else _by_theorem(question, x, value, facts, False) or _by_slopes(question, x, value, facts, far)
    if theorem:
        return Certificate(claim, PROVED, theorem, evidence)
    for cut in dict.fromkeys(((), _inside((*places, *places_of_steps(f, x)), *ends, facts))):
        proof = None if cut is None else _by_ends(f, x, ends, value, facts, evidence, cut)
        if proof is not None and proof.zero is not None:
            return _told_by_ends(claim, proof, evidence)
    theorem = "" if infinite else _by_theorem(question, x, value, facts, True)
    if not (theorem or infinite or far):
        theorem = _by_slopes(question, x, value, facts, True)
    if theorem:
        return Certificate(claim, PROVED, theorem, evidence)
    if agreement:
        return Certificate(claim, SUPPORTED, "adaptive quadrature at sample values", evidence)
    if isinstance(value, Bound):
        return _check_divergence(f, x, *ends, value, facts, claim, places)
    return Certificate(claim, UNDECIDED, "no quadrature and no proof could be made", evidence)


def _without_roots(f: Expression, x: Name, facts: Facts, evidence: dict[str, object]) -> Expression:
    plain = proposed_without_roots(f, x, facts)
    if plain is f or not decide_zero(plain - f, facts).zero:
        return f
    evidence["the integrand"] = f"{plain}, proved to be the same"
    return plain


def _by_theorem(question: Question, x: Name, value: Expression, facts: Facts, moved: bool) -> str:
    """The theorem that gives the value of the integral, or of what it is moved to, in words; empty where none is known."""
    if moved:
        return _road_to(value, values_by_theorem(question, x, facts, _antiderivatives), facts)
    direct = _road_to(value, values_by_theorem(question, x, facts, None), facts)
    return direct or _road_to(value, values_by_splitting(question, x, facts, _antiderivatives), facts)


def _road_to(value: Expression, known: Iterable[Value], facts: Facts) -> str:
    """How the first of the known values was found that is this one; empty where none is."""
    return next((k.road for k in known if decide_zero(k.value - value, facts).zero), "")


def _by_slopes(question: Question, x: Name, value: Expression, facts: Facts, numbers: bool) -> str:
    """numbers: whether a letter may be put in the place of a number."""

    def known(other: Question, under: Facts) -> Iterator[Value]:
        yield from values_by_theorem(other, x, under, None)
        yield from _antiderivatives(other, x, under)

    told = by_slope(question, x, value, facts, _told(x))
    return told or ("" if not numbers else by_number(question, x, value, facts, _told(x), known))


def _antiderivatives(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    found = _piece(question[0], x, question[1], question[2], facts, {})
    if found is not None and not isinstance(found[0], Bound):
        yield Value(found[0], f"the antiderivative {found[1]}, differentiated back")


def _told(x: Name) -> Proof:
    """How the value of another integral over x is proved."""

    def proof(question: Question, value: Expression, facts: Facts) -> str:
        direct = _by_theorem(question, x, value, facts, False)
        plain = direct or _road_to(value, _antiderivatives(question, x, facts), facts)
        return plain or _by_theorem(question, x, value, facts, True)

    return proof


def _told_by_ends(claim: str, proof: Decision, evidence: dict[str, object]) -> Certificate:
    if proof.zero:
        evidence["established"] = "the slope of F is the integrand between the ends; F is continuous up to them; its values there"
        road = "an antiderivative differentiated back, without breaks on the interval; its ends"
        return Certificate(claim, PROVED, road, evidence)
    if proof.point is not None:
        evidence["counterexample"] = witness_text(proof)
    return Certificate(claim, REFUTED, "an antiderivative differentiated back; its ends", evidence)


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
    ordered = isinstance(low, Bound) or isinstance(high, Bound) or facts.is_nonnegative(high - low)
    within = _facts_within(x, low, high, facts, ordered)
    f = settled(f, x, low, high, within) if ordered else f
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
        unclear = [b for b in breaks(F, x, kinks=False, facts=within) if not _nonzero_between(b, x, low, high, within)]
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


def _facts_within(x: Name, low: Expression, high: Expression, facts: Facts, ordered: bool) -> Facts:
    """What holds of a variable between two ends; of ends whose order is not known, that it is positive where both are."""
    ends = [(e, relation) for e, relation in ((low, low < x), (high, x < high)) if not isinstance(e, Bound)]
    if ordered:
        return facts.with_facts([relation for _, relation in ends])
    return facts.with_facts([x > number(0)]) if all(facts.is_positive(e) for e, _ in ends) else facts


def _nonzero_between(b: Expression, x: Name, lower: Expression, upper: Expression, within: Facts) -> bool:
    """Whether an expression has no zero between two ends: by the facts, or by bounded evaluation up to them."""
    return within.is_nonzero(b) or nonzero_by_bounds(b, x, lower, upper)


def _check_divergence(
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Bound, facts: Facts, claim: str,
    places: tuple[Expression, ...],
) -> Certificate:  # fmt: skip
    """By comparison with powers; of what has no limit by two sequences; else by the growth of an antiderivative."""
    inner = _inside(places or _linear_breaks(f, x, facts), lower, upper, facts)
    cuts = [lower, *(inner or ()), upper]
    proof = by_comparison(f, x, cuts, value, facts, lambda low, high: _continuous_between(f, x, low, high, facts), claim)
    if proof is not None:
        return proof
    F = proposed_antiderivative(f, x, facts)
    if F is None or decide_zero(differentiate(F, x) - f, facts).zero is not True:
        return Certificate(claim, UNDECIDED, NOT_SEEN)
    parted = _parted(F, x, lower, upper, facts) if value is UNDEFINED else ""
    if parted:
        evidence: dict[str, object] = {"antiderivative": F, "sequences": parted}
        return Certificate(claim, PROVED, "an antiderivative differentiated back, followed along two sequences", evidence)
    return _growing(F, x, (lower, upper), value, facts, claim, places)


NOT_SEEN = "no place was seen where an antiderivative grows without bound"


def _parted(F: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> str:
    return by_two_sequences(F, x, lower, "above", facts) or by_two_sequences(F, x, upper, "below", facts)


def _growing(
    F: Expression,
    x: Name,
    ends: tuple[Expression, Expression],
    value: Bound,
    facts: Facts,
    claim: str,
    places: tuple[Expression, ...],
) -> Certificate:
    """Divergence is supported where a proved antiderivative grows without bound, in the direction that is claimed, at all samples."""
    undecided = Certificate(claim, UNDECIDED, NOT_SEEN)
    lower, upper = ends
    wanted = {"inf": {1}, "-inf": {-1}}.get(value.kind, {1, -1})
    growth: dict[str, None] = {}
    for sample in samples([F, lower, upper], x, facts, 4, degenerates=True):
        table = {n: number(v) for n, v in sample.items()}
        try:
            inside_F, low, high, *breaks_inside = [substitute(e, table) for e in (F, lower, upper, *places)]
            found = _growth_at(inside_F, x, low, high, breaks_inside)
        except (NoValue, GelvoError, ArithmeticError):
            return undecided
        if {direction for _, direction in found} != wanted:
            return undecided
        growth |= dict.fromkeys(str(place) for place, _ in found)
    evidence = {"antiderivative": F, "growth": f"without bound towards {x} = {', '.join(growth)}"}
    return Certificate(claim, SUPPORTED, "an antiderivative differentiated back, followed towards its breaks", evidence)


def _linear_breaks(f: Expression, x: Name, facts: Facts) -> tuple[Expression, ...]:
    """Where the breaks of a formula that are linear in the variable lie."""
    lines = [uni.linear_parts(b, x) for b in breaks(f, x, kinks=False, facts=facts)]
    return tuple(dict.fromkeys(-line[1] / line[0] for line in lines if line is not None))


def _continuous_between(f: Expression, x: Name, low: Expression, high: Expression, facts: Facts) -> bool:
    within = facts_between(x, low, high, facts)
    try:
        return all(_nonzero_between(b, x, low, high, within) for b in breaks(f, x, kinks=False, facts=within))
    except GelvoError:
        return False


def _growth_at(
    F: Expression, x: Name, lower: Expression, upper: Expression, places: Sequence[Expression]
) -> list[tuple[Expression, int]]:
    """(place, sign of the infinite part of the integral) where F grows without bound on the way from end to end; no other names."""
    low, high = (_size(e) for e in (lower, upper))
    turned = -1 if low > high else 1
    (low, first), (high, last) = sorted(((low, lower), (high, upper)), key=lambda pair: pair[0])
    inner = [p for p in places if low < _size(p) < high]
    found = []
    for place, side in ((first, 1), (last, -1), *((p, s) for p in inner for s in (1, -1))):
        direction = _growth_towards(F, x, place, side)
        if direction:
            found.append((place, -side * turned * direction))
    return found


def _size(place: Expression) -> mpfr:
    if isinstance(place, Bound):
        return mpfr("inf") if place is INFINITE else mpfr("-inf")
    return enclose(place, {}, 100).real.low


def _growth_towards(F: Expression, x: Name, place: Expression, side: int) -> int:
    """The sign of F where |F| grows at distances of 10^-digits from a place (far out at 10^digits); 0 where it does not."""
    for digits in ((5, 20, 80), (1, 2, 3)) if isinstance(place, Bound) else ((5, 20, 80),):
        towards = [
            number(-side * mpq(10) ** k) if isinstance(place, Bound) else place + number(mpq(side) / mpq(10) ** k) for k in digits
        ]
        try:
            sizes = [enclose(substitute(F, {x: near}), {}, 600).real.low for near in towards]
        except NoValue:
            if digits[0] == 5 and isinstance(place, Bound):
                continue  # too large for bounds so far out
            raise
        return int(sign(sizes[2])) if 2 * abs(sizes[0]) < abs(sizes[1]) and 2 * abs(sizes[1]) < abs(sizes[2]) else 0
    return 0
