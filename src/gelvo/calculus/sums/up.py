"""add_up and multiply_up: finite sums in closed form, infinite ones by limits or by name, and divergence.

Sources: G. Boole, "A Treatise on the Calculus of Finite Differences" (1860) for the elementary rules; see `summation.py` for the rest."""

from __future__ import annotations

from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.summation import product_of_ratio
from gelvo.calculus.sums.finite import MOST_WRITTEN_OUT, finite
from gelvo.calculus.sums.infinite import infinite
from gelvo.calculus.sums.joined import joined
from gelvo.calculus.sums.products import infinite_product
from gelvo.calculus.sums.telescoping import halved_angles
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import INFINITE, ONE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored


def add_up(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """The sum of the term for k from lower to upper; None where no closed form was found.

    >>> from gelvo.expression.building import name
    >>> k, n = name("k"), name("n")
    >>> print(add_up(k, k, number(1), n, Facts()).value)
    n*(n + 1)/2
    """
    if isinstance(lower, Bound):
        if isinstance(upper, Bound):
            parts = [add_up(term, k, ZERO, upper, facts), add_up(substitute(term, {k: -k}), k, ONE, upper, facts)]
            return None if None in parts else joined([p for p in parts if p is not None])
        return add_up(substitute(term, {k: -k}), k, -upper, INFINITE, facts)
    facts = facts.with_facts([DomainFact(k, "integer")] if k.domain == "real" else [])
    _refuse_poles(term, k, lower, upper, facts)
    if not isinstance(upper, Bound):
        return finite(term, k, lower, upper, facts)
    inside = facts.with_facts([lower <= k] if not isinstance(lower, Number) else [number(lower.rational) <= k])
    return infinite(term, k, lower, inside)


def multiply_up(factor: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """The product of a rational factor for k from lower to upper, by factorials."""
    if isinstance(lower, Number) and isinstance(upper, Number) and upper.rational - lower.rational < MOST_WRITTEN_OUT:
        listed = range(int(lower.rational), int(upper.rational) + 1)
        return Found(multiply_all([substitute(factor, {k: number(j)}) for j in listed]), (), "written out")
    if not contains(factor, k):
        return Found(power(factor, factored(upper - lower + 1)), (), "a power")
    halved = _halved(factor, k, lower, upper, facts)
    if halved is not None:
        return halved
    if not (isinstance(lower, Number) and lower.is_whole):
        return None
    if isinstance(upper, Bound):
        return infinite_product(factor, k, int(lower.rational), facts) if upper is INFINITE else None
    if isinstance(factor, Power) and not contains(factor.base, k):
        inner = add_up(factor.exponent, k, lower, upper, facts)
        return None if inner is None else Found(power(factor.base, inner.value), inner.conditions, "the sum of the exponents")
    try:
        value = product_of_ratio(factor, k, int(lower.rational))
    except DomainError:
        return None
    return None if value is None else Found(substitute(value, {k: upper + 1}), (), "factorials")


def _halved(factor: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """Angles that are halved, to a finite end or to the limit."""
    if not isinstance(upper, Bound):
        return halved_angles(factor, k, lower, upper, facts)
    n = facts.new_name("n", factor, domain="natural")
    found = halved_angles(factor, k, lower, n, facts) if upper is INFINITE else None
    outer = facts.without(k)
    limit = None if found is None else limit_at_infinity(found.value, n, outer)
    if found is None or limit is None or isinstance(limit, Bound):
        return None
    return Found(limit, tuple(c for c in found.conditions if not contains(c, n)), found.road)


def _refuse_poles(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> None:
    """A term that has no value at a whole number in the range."""
    if not (isinstance(lower, Number) and lower.is_whole):
        return
    bottoms = [
        n.base
        for n in postorder(term)
        if isinstance(n, Power) and isinstance(n.exponent, Number) and n.exponent.is_rational and n.exponent.rational < 0
    ]
    for bottom in bottoms:
        parts = uni.coefficients_of(bottom, k)
        if parts is None or not all(isinstance(c, Number) and c.is_rational for c in parts):
            continue
        last = int(upper.rational) if isinstance(upper, Number) else int(lower.rational) + 50
        for j in range(int(lower.rational), min(last, int(lower.rational) + 50) + 1):
            if substitute(bottom, {k: number(j)}) is ZERO:
                raise DomainError(f"the term has no value at {k} = {j}, where {bottom} is zero")
