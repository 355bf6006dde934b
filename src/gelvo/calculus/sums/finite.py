"""Finite sums: telescoping, waves of arithmetic progressions, recurrences of definite sums."""

from __future__ import annotations

from contextlib import suppress

from gmpy2 import fac, mpq

from gelvo.calculus.found import Found
from gelvo.calculus.summation import antidifference, product_of_ratio, telescoper
from gelvo.calculus.sums.joined import joined
from gelvo.calculus.sums.telescoping import by_identity
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import call, multiply_all, number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Node, Number, Power, Product
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, names, substitute, transform
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
    waves = _wave(term, k, lower, upper, facts) or by_identity(term, k, lower, upper, facts)
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
    difference = transform(ends[0] - ends[1], lambda node: _beyond_the_triangle(node, facts))
    value = factored(difference) if not has_factorials(term) else difference
    conditions = tuple(nonzero(p) for p in found.nonzero if names(p) and not contains(p, k))
    return Found(value, conditions, "difference of an antidifference, which Gosper's algorithm finds")


def _beyond_the_triangle(node: Node, facts: Facts) -> Node:
    """binomial(n, n + 1) and its like are zero for a natural n."""
    if not is_a(node, BINOMIAL):
        return node
    n, gap = node.arguments[0], expand(node.arguments[1] - node.arguments[0])
    beyond = isinstance(gap, Number) and gap.is_whole and gap.rational > 0
    return ZERO if beyond and facts.is_integer(n) and facts.is_nonnegative(n) else node


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
        recurrence = telescoper(term, k, n, facts)
    except DomainError:
        return None
    if recurrence is None:
        return None
    for start in (0, 1, 2):
        with suppress(DomainError):
            first = _exact(term, k, lower, upper, n, start)
            value = None if first is None else _solved(recurrence, term, (k, lower, upper), (n, start, first), facts)
            if value is not None and _holds(value, term, k, lower, upper, n, start, facts):
                return Found(value, (), ROAD)
    return None


ROAD = "a recurrence in the upper end (creative telescoping), held against seven exact sums"


def _holds(
    value: Expression, term: Expression, k: Name, lower: Number, upper: Expression, n: Name, start: int, facts: Facts
) -> bool:
    for j in range(start, start + 7):
        exact = _exact(term, k, lower, upper, n, j)
        if exact is None or not is_zero(exact - substitute(value, {n: number(j)}), facts.without(n)):
            return False
    return True


def _solved(
    recurrence: tuple[Expression, Expression, Expression],
    term: Expression,
    question: tuple[Name, Number, Expression],
    beginning: tuple[Name, int, Expression],
    facts: Facts,
) -> Expression | None:
    """S(n) from p*S(n) + q*S(n + 1) = the terms at the ends and S(start): the solution without a right side times a sum."""
    p, q, R = recurrence
    (k, lower, upper), (n, start, first) = question, beginning
    if is_zero(q, facts) is not False:
        return None
    alone = product_of_ratio(factored(-p / q), n, start)
    if alone is None:
        return None
    if first is not ZERO and _holds(first * alone, term, k, lower, upper, n, start, facts):
        return first * alone
    parts = uni.linear_parts(upper, n)
    if parts is None or parts[0] is not ONE:
        return None
    later = substitute(term, {n: n + 1})
    right = substitute(R * term, {k: upper}) - substitute(R * term, {k: lower}) + p * substitute(term, {k: upper})
    right = right + q * (substitute(later, {k: upper}) + substitute(later, {k: upper + 1}))
    share = multiply_all([_plain(right, n), 1 / q, 1 / substitute(alone, {n: n + 1})])
    found = _telescoped(share, n, number(start), n - 1, facts)
    return None if found is None else alone * (first + found.value)


def _plain(right: Expression, n: Name) -> Expression:
    """Over its first term a rational function, where the terms follow from each other by one."""
    pieces = terms_of(expand(transform(right, _written_out)))
    return total(pieces) if len(pieces) < 2 else pieces[0] * factored(total([factored(piece / pieces[0]) for piece in pieces]))


def _written_out(node: Node) -> Node:
    """binomial(n, n - j) as a polynomial."""
    if not is_a(node, BINOMIAL):
        return node
    gap = expand(node.arguments[0] - node.arguments[1])
    if not (isinstance(gap, Number) and gap.is_whole and 0 <= gap.rational <= 8):
        return node
    return multiply_all([(node.arguments[0] - i) / number(i + 1) for i in range(int(gap.rational))])


def _exact(term: Expression, k: Name, lower: Number, upper: Expression, n: Name, j: int) -> Expression | None:
    last = substitute(upper, {n: number(j)})
    if not (isinstance(last, Number) and last.is_whole):
        return None
    at = substitute(term, {n: number(j)})
    return total([substitute(at, {k: number(i)}) for i in range(int(lower.rational), int(last.rational) + 1)])
