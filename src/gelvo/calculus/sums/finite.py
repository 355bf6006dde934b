"""Finite sums: telescoping, waves of arithmetic progressions, recurrences of definite sums."""

from __future__ import annotations

from gmpy2 import fac, mpq

from gelvo.calculus.found import Found
from gelvo.calculus.summation import antidifference, product_of_ratio, step_ratio
from gelvo.calculus.sums.joined import joined
from gelvo.errors import DomainError
from gelvo.expression.building import call, multiply_all, number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Number, Power, Product
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, names, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import BINOMIAL, COS, DIGAMMA, FACTORIAL, GAMMA, POLYGAMMA, SIN, is_a
from gelvo.functions.support import pi_multiple

MOST_WRITTEN_OUT = 200


def finite(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    if isinstance(lower, Number) and isinstance(upper, Number):
        if not (lower.is_whole and upper.is_whole):
            raise DomainError(f"a sum runs over whole numbers, not from {lower} to {upper}")
        if upper.rational - lower.rational < MOST_WRITTEN_OUT:
            listed = range(int(lower.rational), int(upper.rational) + 1)
            return Found(total([substitute(term, {k: number(j)}) for j in listed]), (), "written out")
    if not contains(term, k):
        return Found(factored(term * (upper - lower + 1)), (), "a constant term")
    whole = _telescoped(term, k, lower, upper, facts)
    if whole is not None:
        return whole
    waves = _wave(term, k, lower, upper, facts)
    if waves is not None:
        return waves
    pieces = terms_of(expand(term))
    if len(pieces) > 1:
        parts = [finite(p, k, lower, upper, facts) for p in pieces]
        if None not in parts:
            return joined([p for p in parts if p is not None])
    return _by_recurrence(term, k, lower, upper, facts) or _of_poles(term, k, lower, upper)


def _of_poles(term: Expression, k: Name, lower: Expression, upper: Expression) -> Found | None:
    """c/(a*k + b)^m: a difference of digamma or polygamma functions (DLMF 5.5.2, 5.15.5)."""
    read = pole_part(term, k)
    if read is None or len(read[1]) != 2:
        return None
    scale, parts, m = read
    shift = uni.lowest_terms(parts[0] / parts[1])
    ends = [place + shift for place in (upper + 1, lower)]
    outer = scale / power(parts[1], number(m)) * number(mpq((-1) ** (m - 1), fac(m - 1)))
    above, below = (DIGAMMA(e) if m == 1 else POLYGAMMA(number(m - 1), e) for e in ends)
    return Found(outer * (above - below), (), "the recurrence of digamma and its derivatives")


def pole_part(piece: Expression, k: Name) -> tuple[Expression, uni.Coefficients, int] | None:
    """(c, coefficients of p, m) of a piece c/p(k)^m."""
    factors = factors_in(piece)
    outer: list[Expression] = [number(piece.coefficient)] if isinstance(piece, Product) else []
    scale = multiply_all([*outer, *[f for f in factors if not contains(f, k)]])
    core = [f for f in factors if contains(f, k)]
    if len(core) != 1 or not isinstance(core[0], Power) or not core[0].exponent.is_whole or core[0].exponent.rational > -1:
        return None
    parts = uni.coefficients_of(core[0].base, k)
    return None if parts is None else (scale, parts, -int(core[0].exponent.rational))


def _telescoped(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    try:
        found = antidifference(term, k, facts)
    except DomainError:
        return None
    if found is None:
        return None
    ends = []
    for place in (upper + 1, lower):
        try:
            ends.append(value_there(found.factor, term, k, place))
        except DomainError:
            return None
    difference = ends[0] - ends[1]
    value = factored(difference) if not has_factorials(term) else difference
    conditions = tuple(nonzero(p) for p in found.nonzero if names(p) and not contains(p, k))
    return Found(value, conditions, "difference of an antidifference, which Gosper's algorithm finds")


def value_there(factor: Expression, term: Expression, k: Name, place: Expression) -> Expression:
    return substitute(factor * term, {k: place})


def has_factorials(term: Expression) -> bool:
    return has_call(term, (FACTORIAL, BINOMIAL, GAMMA))


def _wave(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """sin(a*k + b) and cos(a*k + b), from the difference of two shifted waves."""
    outer = [f for f in factors_in(term) if not contains(f, k)]
    inner = [f for f in factors_in(term) if contains(f, k)]
    if len(inner) != 1 or not is_a(inner[0], SIN, COS):
        return None
    parts = uni.linear_parts(inner[0].arguments[0], k)
    if parts is None:
        return None
    a, b = parts
    turns = pi_multiple(a)
    if turns is not None and turns.denominator == 1:  # the phase comes back: with the same sign, or the other one
        wave = call(inner[0].name, b) * power(number(-1), k * (int(turns.numerator) % 2))
        return finite(term / inner[0] * wave, k, lower, upper, facts)
    count, middle = factored(upper - lower + 1), factored(a * (lower + upper) / 2 + b)
    scale = multiply_all([*outer, number(term.coefficient)] if isinstance(term, Product) else outer)
    value = scale * SIN(factored(a * count / 2)) * call(inner[0].name, middle) / SIN(a / 2)
    return Found(value, facts.open_conditions([nonzero(SIN(a / 2))]), "the difference of two shifted waves")


def _by_recurrence(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """Sums such as that of binomial(n, k): a recurrence in the upper end, its product, and checks at whole numbers."""
    if not (isinstance(lower, Number) and lower.is_whole):
        return None
    letters = names(upper)
    if len(letters) != 1 or uni.linear_parts(upper, letters[0]) is None:
        return None
    n = letters[0]
    try:
        ratio = step_ratio(term, k, n, facts)
        if ratio is None:
            return None
        for start in (0, 1, 2):
            first = _exact(term, k, lower, upper, n, start)
            if first is None or first is ZERO:
                continue
            value = product_of_ratio(ratio, n, start)
            if value is None:
                return None
            value = first * value
            for j in range(start, start + 7):
                exact = _exact(term, k, lower, upper, n, j)
                if exact is None or factored(expand(exact - substitute(value, {n: number(j)}))) is not ZERO:
                    return None
            return Found(value, (), "a recurrence in the upper end (creative telescoping), held against seven exact sums")
    except DomainError:
        return None
    return None


def _exact(term: Expression, k: Name, lower: Number, upper: Expression, n: Name, j: int) -> Expression | None:
    last = substitute(upper, {n: number(j)})
    if not (isinstance(last, Number) and last.is_whole):
        return None
    at = substitute(term, {n: number(j)})
    return total([substitute(at, {k: number(i)}) for i in range(int(lower.rational), int(last.rational) + 1)])
