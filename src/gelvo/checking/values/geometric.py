"""Powers of x over differences of exponentials, from 0 to infinity: partial sums of exponentials, each by its geometric series.

Sources: NIST, "Digital Library of Mathematical Functions", 25.11.25 with 25.11.12 for x^n*exp(-r*x)/(1 - exp(-q*x)) with n = 1, 2, …, and
5.9.16 for n = 0, where the terms have the sum 0 at x = 0.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.checking.proposals import proposed_geometric_terms
from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import INFINITE, ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.facts.store import Facts
from gelvo.functions.named import DIGAMMA, EXP, POLYGAMMA


def geometric_series(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """c*x^n*exp(-r*x)/(1 - exp(-q*x)), added up: the terms are proposed, and proved to be the integrand."""
    f, lower, upper = question
    proposed = proposed_geometric_terms(f, x, facts) if lower is ZERO and upper is INFINITE else None
    if proposed is None:
        return
    n, terms, q, sign = proposed
    if sign > 0:  # 1/(1 + E) = (1 - E)/(1 - E^2)
        terms = [pair for c, r in terms for pair in ((c, r), (-c, r + q))]
        q = 2 * q
    if not (facts.is_positive(q) and all(facts.is_positive(r) for _, r in terms)):
        return
    if n == 0 and not prove_zero(total([c for c, _ in terms]), facts):
        return
    known = facts.with_facts([x > ZERO])
    whole = x**n / (1 - EXP(-q * x)) * total([c * EXP(-r * x) for c, r in terms])
    if prove_zero(whole - f, known):
        yield Value(total([c * _moment(n, r, q) for c, r in terms]), "geometric series of exponentials, DLMF 25.11.25")


def _moment(n: int, r: Expression, q: Expression) -> Expression:
    if n == 0:
        return -DIGAMMA(r / q) / q
    return (ONE if n % 2 else -ONE) * POLYGAMMA(number(n), r / q) / power(q, number(n + 1))
