"""Sums and products held against induction, partial sums and the size of their terms."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from contextlib import suppress
from typing import TYPE_CHECKING, SupportsInt

from gmpy2 import log2, mpfr, mpq

from gelvo.calculus.summation import antidifference
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.ends import value_at
from gelvo.checking.proposals import proposed_antiderivative
from gelvo.checking.samples import samples
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.value import value as value_of
from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import INFINITE, UNDEFINED
from gelvo.expression.nodes import Bound, Expression, Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import LN
from gelvo.numbers.interval import NoValue
from gelvo.roads import on_the_way, unnoted

if TYPE_CHECKING:
    from mpmath import mpf


def check_sum(term: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts) -> Certificate:
    """A finite sum by induction over its upper end; an infinite one by its partial sums."""
    claim = f"sum_of({term}, {k}, {lower}, {upper}) = {value}"
    if isinstance(value, Bound) and not isinstance(upper, Bound):
        return Certificate(claim, REFUTED, "a sum of finitely many terms is a number")
    if isinstance(value, Bound):
        return _diverges(term, k, lower, value, claim, facts)
    if isinstance(upper, Bound):
        return _infinite(term, k, lower, value, facts, claim)
    letters = names(upper)
    proof = None
    if len(letters) == 1 and decide_zero(substitute(upper, {letters[0]: letters[0] + 1}) - upper - 1).zero:
        proof = _by_induction(term, k, lower, upper, letters[0], value, facts)
    if proof is not None:
        method, established = proof
        return Certificate(claim, PROVED, method, {"established": established})
    return _exact_sums(term, k, lower, upper, value, facts, claim)


def _by_induction(
    term: Expression, k: Name, lower: Expression, upper: Expression, n: Name, value: Expression, facts: Facts
) -> tuple[str, str] | None:
    """The method of an induction over n, the letter of the upper end, and what it established; None where it does not close."""
    whole = facts.with_facts([DomainFact(n, "integer")] if n.domain == "real" else [])
    induction = start = None
    with suppress(GelvoError):
        step = substitute(value, {n: n + 1}) - value - substitute(term, {k: upper + 1})
        induction = decide_zero(step, whole).zero
        start = decide_zero(substitute(value, {n: lower - 1 - (upper - n)}), facts).zero
    if induction and start:
        method = "induction: the difference of two neighbours is the term, and the empty sum is zero"
        return method, "the step to the next upper end; the empty sum"
    if start is None and induction:
        with suppress(GelvoError):
            first = substitute(value, {n: lower - (upper - n)}) - substitute(term, {k: lower})
            if decide_zero(first, facts).zero:
                return "induction from a sum of one term", "the step to the next upper end; the sum of one term"
    return None


MOST_TERMS_WRITTEN = 20_000


def _exact_sums(
    term: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts, claim: str
) -> Certificate:
    method = "sums written out for small upper ends"
    agreed = 0
    letters = names(upper)
    for j in range(2, 9):
        table = {n: number(j) for n in letters}
        low, high = substitute(lower, table), substitute(upper, table)
        if (
            not (isinstance(low, Number) and low.is_whole and isinstance(high, Number) and high.is_whole)
            or high.rational < low.rational
        ):
            continue
        if high.rational - low.rational > MOST_TERMS_WRITTEN:
            continue
        try:
            listed = [
                substitute(substitute(term, table), {k: number(i)}) for i in range(int(low.rational), int(high.rational) + 1)
            ]
            decision = decide_zero(total(listed) - substitute(value, table), facts)
        except GelvoError:
            continue
        if decision.zero is False:
            return Certificate(claim, REFUTED, method, {"counterexample": ", ".join(f"{n} = {j}" for n in letters)})
        agreed += decision.zero is True
        if not letters and decision.zero:
            return Certificate(claim, PROVED, "written out")
    verdict = SUPPORTED if agreed >= 3 else UNDECIDED
    return Certificate(claim, verdict, method, {"agreement": f"exactly equal for {agreed} upper ends"})


def _infinite(term: Expression, k: Name, lower: Expression, value: Expression, facts: Facts, claim: str) -> Certificate:
    """By telescoping; else partial sums at a sample of the other names, where the terms were seen to fall fast enough."""
    proof = _by_telescoping(term, k, lower, value, facts, claim)
    if proof is not None:
        return proof
    agreed = 0
    for sample in samples([term, lower, value], k, facts, 4, degenerates=True):
        table = {n: number(v) for n, v in sample.items()}
        inner, first = substitute(term, table), substitute(lower, table)
        if not (isinstance(first, Number) and first.is_whole):
            continue
        shown = ", ".join(f"{n} = {v}" for n, v in sample.items())
        how = _how_terms_fall(_near_terms(inner, k))
        if how == "stay":
            return Certificate(claim, REFUTED, "the terms do not vanish", {"counterexample": shown or "no other names"})
        if how == "not known":
            return Certificate(claim, UNDECIDED, METHOD, {"terms": f"were not seen to fall fast enough  {shown}"})
        numeric = _partial_sums(inner, k, int(first.rational), how == "geometric")
        try:
            exact = complex(value_of(substitute(value, table), 15))
        except (NoValue, GelvoError, ArithmeticError, ValueError, TypeError):
            continue
        if numeric is None:
            continue
        if abs(numeric - exact) > 1e-10 * max(1.0, abs(exact)):
            evidence = {"disagreement": f"{numeric:.10g}, not {exact:.10g}  {shown}"}  # an extrapolation is no proof against it
            return Certificate(claim, REFUTED if how == "geometric" else UNDECIDED, METHOD, evidence)
        agreed += 1
    if agreed:
        return Certificate(claim, SUPPORTED, METHOD, {"agreement": f"to 10 digits at {agreed} sample points"})
    return Certificate(claim, UNDECIDED, METHOD)


def _by_telescoping(
    term: Expression, k: Name, lower: Expression, value: Expression, facts: Facts, claim: str
) -> Certificate | None:
    """z with z(k + 1) - z(k) = term, proved, and the limit of z far out."""
    whole = facts.with_facts([DomainFact(k, "integer")] if k.domain == "real" else [])
    try:
        with unnoted():
            found = antidifference(term, k, whole)
        if found is None:
            return None
        z = found.factor * term
        if decide_zero(substitute(z, {k: k + 1}) - z - term, whole).zero is not True:
            return None
        end = value_at(z, k, INFINITE, facts.without(k))
        if end is None or isinstance(end, Bound) or decide_zero(end - substitute(z, {k: lower}) - value, facts).zero is not True:
            return None
    except (GelvoError, ArithmeticError):
        return None
    evidence = {"z": z, "established": "z(k + 1) - z(k) is the term; the limit of z; its first value"}
    return Certificate(claim, PROVED, "a sum that telescopes", evidence)


METHOD = "partial sums at sample values (by mpmath extrapolated, where the terms fall like a power)"
PLACES = (40, 160, 640, 2560)
FAR = tuple(mpq(10) ** k for k in (2500, 5000, 10_000))


def _terms(term: Expression, k: Name, places: Sequence[mpq | int]) -> list[tuple[mpfr, mpfr]] | None:
    """Real and imaginary parts of terms; None where one has no value, or bounds too wide."""
    enclosure, found = Enclosure(term), []
    for place in places:
        try:
            box = enclosure.at({k: mpq(place)}, 200)
        except (NoValue, GelvoError, OverflowError, ValueError):
            return None
        parts = [(p.low, p.high) if p is not None else (mpfr(0), mpfr(0)) for p in (box.real, box.imag)]
        noise = max(abs(high - low) for low, high in parts)
        if noise and not noise < max(abs(low) for low, _ in parts) / 2**60:
            return None
        found.append(tuple(low if abs(low) > noise else mpfr(0) for low, _ in parts))
    return found


def _near_terms(term: Expression, k: Name) -> list[tuple[mpfr, mpfr]] | None:
    """Two neighbours at each of the places."""
    return _terms(term, k, [p + j for p in PLACES for j in (0, 1)])


def _how_terms_fall(pairs: list[tuple[mpfr, mpfr]] | None) -> str:
    """ "geometric", "power" (below 1/k^1.05, or with alternating signs), "stay" or "not known", as terms at the places tell."""
    if pairs is None:
        return "not known"
    sizes = [max(_log2(*pairs[i]), _log2(*pairs[i + 1])) for i in range(0, len(pairs), 2)]
    steps = [b - a for a, b in itertools.pairwise(sizes)]
    if all(math.isinf(s) or s < -100 for s in sizes[2:]) and all(t < -20 or math.isnan(t) for t in steps[1:]):
        return "geometric"
    if all(t > -0.02 for t in steps) and sizes[-1] > -10:
        return "stay"
    alternating = all(pairs[i][0] * pairs[i + 1][0] < 0 and not pairs[i][1] for i in range(0, len(pairs), 2))
    if all(t < -2.1 for t in steps) or (alternating and all(t < -0.3 for t in steps)):  # each place is four times as far
        return "power"
    return "not known"


def _log2(real: mpfr, imag: mpfr) -> float:
    size = max(abs(real), abs(imag))
    return float(log2(size)) if size else -math.inf


@on_the_way("partial sums (mpmath)")
def _partial_sums(term: Expression, k: Name, first: int, geometric: bool) -> complex | None:
    import mpmath

    context = mpmath.mp.clone()
    context.dps = 20
    enclosure = Enclosure(term)

    def one(index: SupportsInt) -> mpf:
        box = enclosure.at({k: mpq(int(index))}, context.prec + 20)
        real = context.mpf(str(box.real.low))
        return real if box.imag is None else context.mpc(real, str(box.imag.low))

    try:
        if geometric:
            return complex(context.fsum(one(j) for j in range(first, max(first, 0) + PLACES[2])))
        return complex(context.nsum(one, [first, context.inf]))
    except (NoValue, GelvoError, ArithmeticError, ValueError, TypeError):
        return None


def _diverges(term: Expression, k: Name, lower: Expression, value: Expression, claim: str, facts: Facts) -> Certificate:
    """Terms of one sign that stay, or fall no faster than 1/k or 1/(k*ln(k)) very far out; undefined: terms that change sign and stay."""
    proof = _by_integral(term, k, lower, value, claim, facts)
    if proof is not None:
        return proof
    undecided = Certificate(claim, UNDECIDED, "no proof of divergence by another road")
    method = ""
    for sample in samples([term, lower], k, facts, 4, degenerates=True):
        inner = substitute(term, {n: number(v) for n, v in sample.items()})
        near = _near_terms(inner, k)
        if near is None or any(imag for _, imag in near):
            return undecided
        signs = {1 if real > 0 else -1 for real, _ in near if real}
        stays = _how_terms_fall(near) == "stay"
        if value is UNDEFINED:
            if not stays or signs != {1, -1}:
                return undecided
            method = "terms that change their sign and do not vanish"
            continue
        if signs != {1 if value is INFINITE else -1}:
            return undecided
        if not stays and not _slow(inner, k):
            return undecided
        method = (
            "terms of one sign that do not vanish" if stays else "terms of one sign, no smaller than 1/k or 1/(k*ln(k)) far out"
        )
    return Certificate(claim, SUPPORTED, method) if method else undecided


def _by_integral(term: Expression, k: Name, lower: Expression, value: Expression, claim: str, facts: Facts) -> Certificate | None:
    """The integral test (Maclaurin 1742, Cauchy 1827): terms of one sign that fall, and an antiderivative that grows without bound."""
    if value is UNDEFINED:
        return None
    positive_term = term if value is INFINITE else -term
    beyond = facts.without(k).with_facts([lower <= k])
    try:
        if not (beyond.is_positive(positive_term) and beyond.is_nonpositive(factored(differentiate(positive_term, k)))):
            return None
        F = proposed_antiderivative(positive_term, k, beyond)
        if F is None or decide_zero(differentiate(F, k) - positive_term, beyond).zero is not True:
            return None
        if value_at(F, k, INFINITE, facts.without(k)) is not INFINITE:
            return None
    except (GelvoError, ArithmeticError):
        return None
    evidence = {"antiderivative": F, "established": "the sign of the terms; that they fall; the growth of their integral"}
    return Certificate(claim, PROVED, "the integral test", evidence)


def _slow(term: Expression, k: Name) -> bool:
    for scaled in (term * k, term * k * LN(k)):
        far = _terms(scaled, k, FAR)
        if far is not None and all(_log2(*b) > _log2(*a) - 0.02 for a, b in itertools.pairwise(far)) and _log2(*far[-1]) > -60:
            return True
    return False


def check_product(f: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts) -> Certificate:
    """A product by induction over its upper end."""
    claim = f"product_of({f}, {k}, {lower}, {upper}) = {value}"
    if isinstance(value, Bound) or isinstance(upper, Bound):
        return Certificate(claim, UNDECIDED, "products without end were not looked at")
    letters = names(upper)
    if len(letters) != 1:
        if not (isinstance(lower, Number) and lower.is_whole and isinstance(upper, Number) and upper.is_whole):
            return Certificate(claim, UNDECIDED, "a product of which the ends are no whole numbers was not looked at")
        written_out = multiply_all([substitute(f, {k: number(j)}) for j in range(int(lower.rational), int(upper.rational) + 1)])
        same = decide_zero(written_out - value, facts).zero
        return Certificate(claim, PROVED if same else UNDECIDED if same is None else REFUTED, "written out")
    n = letters[0]
    if not decide_zero(substitute(upper, {n: n + 1}) - upper - 1).zero:
        return Certificate(claim, UNDECIDED, "a product of which the end does not grow by one was not looked at")
    if n in names(f) or n in names(lower):
        return _exact_products(f, k, lower, upper, value, n, facts, claim)
    whole = facts.with_facts([DomainFact(n, "natural")] if n.domain == "real" else [])
    step = substitute(value, {n: n + 1}) / value - substitute(f, {k: upper + 1})
    first = substitute(value, {n: lower - (upper - n)}) - substitute(f, {k: lower})
    decided = [decide_zero(step, whole).zero, decide_zero(first, facts).zero]
    verdict = PROVED if all(decided) else REFUTED if False in decided else UNDECIDED
    return Certificate(claim, verdict, "induction: the quotient of two neighbours is the factor, and the product of one factor")


def _exact_products(
    f: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, n: Name, facts: Facts, claim: str
) -> Certificate:
    """Products written out for small ends, where the factor itself changes with the end and no induction runs over it."""
    method = "products written out for small upper ends"
    agreed = 0
    for j in range(1, 7):
        table = {n: number(j)}
        ends = [substitute(e, table) for e in (lower, upper)]
        if not all(isinstance(e, Number) and e.is_whole for e in ends):
            return Certificate(claim, UNDECIDED, method)
        listed = range(int(ends[0].rational), int(ends[1].rational) + 1)
        inside = substitute(f, table)
        try:
            gap = multiply_all([substitute(inside, {k: number(i)}) for i in listed]) - substitute(value, table)
            same = decide_zero(gap, facts.without(n)).zero
        except GelvoError:
            continue
        if same is False:
            return Certificate(claim, REFUTED, method, {"counterexample": f"{n} = {j}"})
        agreed += bool(same)
    return Certificate(claim, SUPPORTED if agreed > 2 else UNDECIDED, method, {"agreed": f"at {agreed} ends"})
