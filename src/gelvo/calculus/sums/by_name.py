"""Infinite sums whose terms follow from each other by a rational ratio: hypergeometric series that have a name.

Source: M. Petkovšek, H. Wilf, D. Zeilberger, "A = B" (1996), chapter 3; DLMF 16.2.
"""

from __future__ import annotations

from gelvo.calculus.definite.named_hypergeometric import named
from gelvo.calculus.found import Found
from gelvo.calculus.summation import term_ratio
from gelvo.calculus.sums.rates import within_the_circle
from gelvo.errors import DomainError
from gelvo.expression.building import number, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.simplifying.partial_fractions import split_fraction


def hypergeometric_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """The first term times pFq of the limit of the ratios, which must lie below 1 where p = q + 1."""
    ratio = term_ratio(substitute(term, {k: k + lower}) if lower else term, k)
    first = substitute(term, {k: number(lower)})
    if ratio is None or first is ZERO:
        return None
    try:
        upper, lower_ones, z = parameters(ratio, k) or (None, None, ZERO)
        if upper is None or lower_ones is None or z is ZERO or len(upper) > len(lower_ones) + 1:
            return None
        conditions = facts.open_conditions(within_the_circle(z, facts, on_it=False)) if len(upper) == len(lower_ones) + 1 else ()
        value = named(upper, lower_ones, z, facts.with_facts(conditions))
    except DomainError:
        return None
    return None if value is None else Found(first * value, conditions, "a hypergeometric series with a name")


def parameters(ratio: Expression, k: Name) -> tuple[list[Expression], list[Expression], Expression] | None:
    """(upper, lower, z) of z times the product of (k + a) over that of (k + b) and k + 1; None where a factor is not linear."""
    top, bottom = quotient_parts(factored(ratio))
    sides: list[list[Expression]] = []
    outer = ONE
    for part, sign in ((top, 1), (bottom, -1)):
        zeros: list[Expression] = []
        upper, content, factors = split_fraction(1 / part, k)
        for base, times in factors:
            if len(base) != 2:
                return None
            zeros += [uni.lowest_terms(base[0] / base[1])] * times
            outer = outer * base[1] ** (times * sign)
        outer = outer * (content / upper[0]) ** sign
        sides.append(zeros)
    above, below = sides
    if ONE in below:
        below.remove(ONE)
    else:
        above.append(ONE)
    return above, below, factored(total([outer]))
