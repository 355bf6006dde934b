"""Sums without a value: terms that do not vanish, the integral test, and comparison with 1/k."""

from __future__ import annotations

import itertools

from gelvo.calculus.sums.rates import fall_of_quotient, geometric_rate
from gelvo.checking.certificate import PROVED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.ends import proved_limit, value_at
from gelvo.checking.proposals import proposed_antiderivative
from gelvo.checking.samples import samples
from gelvo.checking.sums.partial_sums import FAR, how_terms_fall, near_terms, size_of, terms_at
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power
from gelvo.expression.constants import INFINITE, UNDEFINED
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import LN


def check_divergence(term: Expression, k: Name, lower: Expression, value: Expression, claim: str, facts: Facts) -> Certificate:
    """Terms of one sign that stay, or fall no faster than 1/k or 1/(k*ln(k)) very far out; undefined: terms that change sign and stay."""
    proof = (
        _by_comparison(term, k, value, claim, facts)
        or _two_limits(term, k, value, claim, facts)
        or _by_integral(term, k, lower, value, claim, facts)
    )
    if proof is not None:
        return proof
    undecided = Certificate(claim, UNDECIDED, "no proof of divergence by another road")
    method = ""
    for sample in samples([term, lower], k, facts, 4, degenerates=True):
        inner = substitute(term, {n: number(v) for n, v in sample.items()})
        near = near_terms(inner, k)
        if near is None or any(imag for _, imag in near):
            return undecided
        signs = {1 if real > 0 else -1 for real, _ in near if real}
        stays = how_terms_fall(near) == "stay"
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


def _by_comparison(term: Expression, k: Name, value: Expression, claim: str, facts: Facts) -> Certificate | None:
    """Terms whose quotient by 1, 1/k or 1/(k*ln(k)) tends to a number of one sign, or without bound: those sums grow without bound."""
    if value is UNDEFINED:
        return None
    for scale in (number(1), k, k * LN(k)):
        end = proved_limit(term * scale, k, INFINITE, facts.without(k))
        if end is value or (end is not None and not isinstance(end, Bound) and _has_sign_of(end, value, facts)):
            evidence = {"established": f"the limit of the term over {1 / scale}: {end}"}
            return Certificate(claim, PROVED, "comparison with a sum that grows without bound", evidence)
    return None


def _has_sign_of(end: Expression, value: Expression, facts: Facts) -> bool:
    return bool(facts.is_positive(end) if value is INFINITE else facts.is_negative(end))


def _two_limits(term: Expression, k: Name, value: Expression, claim: str, facts: Facts) -> Certificate | None:
    """(-1)^k*R(k) where R tends to a number that is not zero: the sums of pairs converge, to one end for even and another for odd numbers."""
    if value is not UNDEFINED or geometric_rate(term, k) is not number(-1):
        return None
    plain = factored(term / power(number(-1), k))
    if fall_of_quotient(plain, k) is None:
        return None
    end = proved_limit(plain, k, INFINITE, facts.without(k))
    if end is None or isinstance(end, Bound) or not facts.is_nonzero(end):
        return None
    evidence = {"established": f"the terms without their sign tend to {end}; two neighbours differ by O(1/k^2)"}
    return Certificate(claim, PROVED, "the sums to even and to odd places have different limits", evidence)


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
        far = terms_at(scaled, k, FAR)
        if (
            far is not None
            and all(size_of(*b) > size_of(*a) - 0.02 for a, b in itertools.pairwise(far))
            and size_of(*far[-1]) > -60
        ):
            return True
    return False
