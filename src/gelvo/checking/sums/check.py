"""Sums held against induction, theorems on series, and their partial sums."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.calculus.summation import antidifference
from gelvo.checking.certificate import PROVED, REFUTED, Certificate
from gelvo.checking.ends import proved_limit
from gelvo.checking.sums.creative import by_creative_telescoping
from gelvo.checking.sums.divergence import check_divergence
from gelvo.checking.sums.finite import by_induction, exact_sums
from gelvo.checking.sums.fourier import by_fourier
from gelvo.checking.sums.generating import by_power_series
from gelvo.checking.sums.partial import by_partial_form
from gelvo.checking.sums.partial_sums import by_partial_sums
from gelvo.checking.sums.poles import by_polygamma
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.constants import INFINITE
from gelvo.expression.nodes import Bound, Expression, Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.roads import unnoted


def check_sum(term: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts) -> Certificate:
    """A finite sum by induction over its upper end; an infinite one by the theorems of `ROADS`, else by its partial sums."""
    claim = f"sum_of({term}, {k}, {lower}, {upper}) = {value}"
    if isinstance(value, Bound) and not isinstance(upper, Bound):
        return Certificate(claim, REFUTED, "a sum of finitely many terms is a number")
    if isinstance(value, Bound):
        return check_divergence(term, k, lower, value, claim, facts)
    if isinstance(upper, Bound):
        return _infinite(term, k, lower, value, facts, claim)
    letters = names(upper)
    proof = None
    if len(letters) == 1 and decide_zero(substitute(upper, {letters[0]: letters[0] + 1}) - upper - 1).zero:
        proof = by_induction(term, k, lower, upper, letters[0], value, facts)
    if proof is not None:
        method, established = proof
        return Certificate(claim, PROVED, method, {"established": established})
    told = by_creative_telescoping(term, k, lower, upper, value, facts, claim)
    if told is not None:
        return told
    return exact_sums(term, k, lower, upper, value, facts, claim)


Road = Callable[[Expression, Name, int, Expression, Facts, str], Certificate | None]
ROADS: tuple[Road, ...] = (by_polygamma, by_power_series, by_fourier)


def _infinite(term: Expression, k: Name, lower: Expression, value: Expression, facts: Facts, claim: str) -> Certificate:
    proof = _by_telescoping(term, k, lower, value, facts, claim)
    if proof is None and isinstance(lower, Number) and lower.is_whole:
        proof = next((c for road in ROADS if (c := road(term, k, int(lower.rational), value, facts, claim)) is not None), None)
    proof = proof or by_partial_form(term, k, lower, value, facts, claim)
    return proof or by_partial_sums(term, k, lower, value, facts, claim)


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
        end = proved_limit(z, k, INFINITE, facts.without(k))
        if end is None or isinstance(end, Bound) or decide_zero(end - substitute(z, {k: lower}) - value, facts).zero is not True:
            return None
    except (GelvoError, ArithmeticError):
        return None
    evidence = {"z": z, "established": "z(k + 1) - z(k) is the term; the limit of z; its first value"}
    return Certificate(claim, PROVED, "a sum that telescopes", evidence)
