"""Infinite sums: divergence by comparison, telescoping to a limit, and series with a name."""

from __future__ import annotations

from gelvo.calculus import growth
from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.summation import antidifference
from gelvo.calculus.sums.by_name import hypergeometric_series
from gelvo.calculus.sums.finite import has_factorials, value_there
from gelvo.calculus.sums.joined import joined
from gelvo.calculus.sums.named import (
    binomial_series,
    coefficient_and_rate,
    exponential_series,
    halved_factorials,
    power_of_a_letter,
    powers_over_polynomial,
    wave_series,
)
from gelvo.calculus.sums.rates import follows, geometric_rate, through_whole, within_the_circle
from gelvo.calculus.sums.telescoping import by_identity
from gelvo.calculus.sums.waves import by_exponentials, over_odd_numbers
from gelvo.calculus.sums.whole_line import over_the_whole_line
from gelvo.deadline import checkpoint
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import number
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Number
from gelvo.expression.traversal import contains, names
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored


def infinite(term: Expression, k: Name, lower: Expression, facts: Facts) -> Found | None:
    checkpoint()
    if not contains(term, k):
        return _of_constants(term, facts)
    diverges = _divergent(term, k, facts) or _alternates(term, k, facts)
    if diverges is not None:
        return diverges
    found = _telescoped_to_infinity(term, k, lower, facts)
    if found is not None:
        return found
    if not (isinstance(lower, Number) and lower.is_whole):
        return None
    found = _to_the_limit(term, k, lower, facts)
    if found is not None:
        return found
    for method in METHODS:
        found = method(term, k, int(lower.rational), facts)
        if found is not None:
            return found
    pieces = terms_of(through_whole(expand(term), k))
    if len(pieces) > 1:
        parts = [infinite(p, k, lower, facts) for p in pieces]
        good = [p for p in parts if p is not None]
        if len(good) == len(parts) and not any(isinstance(p.value, Bound) for p in good):
            return joined(good)
    return None


def _through_exponentials(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    return by_exponentials(term, k, lower, facts, infinite) or over_odd_numbers(term, k, lower, facts, infinite)


METHODS = (
    exponential_series, power_of_a_letter, powers_over_polynomial, over_the_whole_line, binomial_series, halved_factorials, wave_series,
    hypergeometric_series, _through_exponentials,
)  # fmt: skip


def _of_constants(term: Expression, facts: Facts) -> Found | None:
    """The same term for ever: nothing, or a sign that decides."""
    if is_zero(term, facts):
        return Found(ZERO, (), "every term is zero")
    for one, end in ((term, INFINITE), (-term, MINUS_INFINITE)):
        if facts.is_nonnegative(one):
            return Found(end, facts.open_conditions([nonzero(term)]), "a constant term")
    return None


def _divergent(term: Expression, k: Name, facts: Facts) -> Found | None:
    """Comparison with powers and logarithms (the integral test), or a term that does not vanish."""
    try:
        lead = growth.leading(term, k, facts)
    except (growth.Unclear, DomainError):
        return None
    if lead.bounded or lead.coefficient is ZERO:
        return None
    sign = 1 if facts.is_positive(lead.coefficient) else -1 if facts.is_negative(lead.coefficient) else 0
    rates = [r for r in reversed(lead.rate) if r is not ZERO]
    grows = bool(rates) and facts.is_positive(rates[0])
    slow = not rates and (lead.power > -1 or (lead.power == -1 and lead.logs >= -1))
    if not sign or not (grows or slow):
        return None
    return Found(INFINITE if sign > 0 else MINUS_INFINITE, (), "comparison of the term with powers of its index (integral test)")


def _alternates(term: Expression, k: Name, facts: Facts) -> Found | None:
    """R(k)*r^k with a negative r of size one or more, whose terms do not vanish."""
    split = coefficient_and_rate(term, k)
    if split is None or not facts.is_nonnegative(-1 - split[1]):
        return None
    size = limit_at_infinity(split[0], k, facts)
    if split[1] is number(-1) and (size is None or size is ZERO):
        return None
    return Found(UNDEFINED, (), "the terms do not vanish and change their sign")


def _to_the_limit(term: Expression, k: Name, lower: Expression, facts: Facts) -> Found | None:
    """The limit of partial sums that telescope by an identity."""
    n = facts.new_name("n", term, domain="natural")
    partial = by_identity(term, k, lower, n, facts)
    end = None if partial is None else limit_at_infinity(partial.value, n, facts.without(k))
    return None if partial is None or end is None else partial._replace(value=end)


def _telescoped_to_infinity(term: Expression, k: Name, lower: Expression, facts: Facts) -> Found | None:
    try:
        found = antidifference(term, k, facts)
        if found is None:
            return None
        first = value_there(found.factor, term, k, lower)
        whole = found.factor * term
    except DomainError:
        return None
    conditions: tuple[Condition, ...] = ()
    end = limit_at_infinity(whole, k, facts)
    if end is None or isinstance(end, Bound):
        ratio = geometric_rate(term, k)
        if ratio is None:
            return None
        inside = within_the_circle(ratio, facts, on_it=False)[0]
        state = facts.holds(inside)
        if state is False:
            return None
        conditions, end = (() if state else (inside,)), ZERO
    known = tuple(nonzero(p) for p in found.nonzero if names(p) and not contains(p, k))
    under = facts.with_facts(conditions)
    value = factored(end - first) if not has_factorials(term) else end - first
    needed = tuple(c for c in under.open_conditions(known) if not follows(c, under))
    return Found(value, (*conditions, *needed), "limit of an antidifference, which Gosper's algorithm finds")
