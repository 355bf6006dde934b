"""Definite integrals checked by quadrature with sample values, and proved where an antiderivative has no break.

The breaks are looked for by bounded evaluation and by the facts, not by the integration code.
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.algebra.complex_paths import is_complex, may_cross_cut
from gelvo.algebra.continuity import breaks
from gelvo.algebra.cross_check import quadrature_agreement
from gelvo.algebra.differentiation import differentiate
from gelvo.algebra.equality import Decision, decide_zero
from gelvo.algebra.facts import Facts
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.ends import proves
from gelvo.errors import GelvoError
from gelvo.evaluation.sampling import points
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import names, substitute

# set by `operations`: proposes an antiderivative, which is then differentiated back here
Proposal = Callable[[Expression, Name, Facts], Expression | None]


def check_definite(
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts, claim: str = "",
    propose: Proposal | None = None, places: tuple[Expression, ...] = (),
) -> Certificate:  # fmt: skip
    """The value of a definite integral."""
    claim = claim or f"integral_of({f}, {x}, {lower}, {upper}) = {value}"
    evidence: dict[str, object] = {}
    if lower is upper:
        zero = decide_zero(value, facts) if not isinstance(value, Bound) else Decision(False)
        verdict = PROVED if zero.zero else REFUTED if zero.zero is False else UNDECIDED
        return Certificate(claim, verdict, "both ends are the same, so the integral is zero")
    agreement = _quadratures(f, x, lower, upper, value, facts, evidence, places)
    if agreement is False:
        return Certificate(claim, REFUTED, "adaptive quadrature at sample values", evidence)
    if not isinstance(value, Bound):
        proof = _by_ends(f, x, lower, upper, value, facts, propose, evidence)
        if proof is not None and proof.zero:
            evidence["established"] = (
                "the slope of F is the integrand between the ends; F is continuous up to them; its values there"
            )
            return Certificate(
                claim, PROVED, "an antiderivative differentiated back, without breaks on the interval; its ends", evidence
            )
        if proof is not None and proof.zero is False:
            from gelvo.algebra.equality import witness_text

            evidence["counterexample"] = witness_text(proof)
            return Certificate(claim, REFUTED, "an antiderivative differentiated back; its ends", evidence)
    if agreement:
        return Certificate(claim, SUPPORTED, "adaptive quadrature at sample values", evidence)
    if isinstance(value, Bound):
        return _check_divergence(f, x, lower, upper, facts, claim, propose, places)
    return Certificate(claim, UNDECIDED, "no quadrature and no proof could be made", evidence)


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
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts,
    propose: Proposal | None, evidence: dict[str, object],
) -> Decision | None:  # fmt: skip
    """The difference of claim and ends where F' = f is proved and F has no break between finite ends."""
    if propose is None:
        return None
    within = facts
    ordered = isinstance(lower, Bound) or isinstance(upper, Bound) or facts.is_nonnegative(upper - lower)
    for end, relation in ((lower, lower < x), (upper, x < upper)):
        if not isinstance(end, Bound) and ordered:
            within = within.with_facts([relation])
    F = propose(f, x, within)
    if F is None or (is_complex(f, x, lower, upper) and may_cross_cut(F, x, within)):
        return None
    if decide_zero(differentiate(F, x) - f, within).zero is not True:
        return None
    try:
        # F continuous on the closed interval and F' = f but for isolated places is enough: kinks do no harm
        unclear = [b for b in breaks(F, x, kinks=False) if not _nonzero_on(b, x, lower, upper, within)]
    except GelvoError:
        return None
    if unclear:
        evidence["breaks"] = f"{unclear[0]} may vanish on the closed interval"
        return None
    evidence["antiderivative"] = F
    return proves(F, x, lower, upper, value, facts)


def _nonzero_on(b: Expression, x: Name, lower: Expression, upper: Expression, within: Facts) -> bool:
    """Whether an expression has no zero on the closed interval: inside by the facts, at both ends by value."""
    if not within.is_nonzero(b):
        return _bounded_away(b, x, lower, upper)
    for end in (lower, upper):
        if not isinstance(end, Bound) and not within.is_nonzero(substitute(b, {x: end})):
            return _bounded_away(b, x, lower, upper)
    return True


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
    propose: Proposal | None, places: tuple[Expression, ...],
) -> Certificate:  # fmt: skip
    """Divergence is supported where a proved antiderivative grows without bound towards an end or a break."""
    undecided = Certificate(claim, UNDECIDED, "no place was seen where an antiderivative grows without bound")
    F = None if propose is None else propose(f, x, facts)
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
