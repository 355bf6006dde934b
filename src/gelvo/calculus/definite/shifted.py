"""Powers, exponentials and a wave over one sum of two exponentials, from 0 to infinity: digamma and polygamma functions.

Over 1 - exp(-q*x) the integral of x^n*exp(-r*x) is (-1)^(n + 1)*polygamma(n, r/q)/q^(n + 1), by the geometric series; a wave is an
exponential with an imaginary rate, for which the imaginary part of digamma is known at whole and half real parts. Source: DLMF 5.7, 5.9, 5.15.
"""

from __future__ import annotations

from math import gcd, lcm

from gmpy2 import mpq

from gelvo.calculus.definite.line import in_powers
from gelvo.calculus.definite.mellin import power_and_rest
from gelvo.calculus.found import Found
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Name, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, COTH, DIGAMMA, POLYGAMMA, SIN, TANH, is_a

Terms = list[tuple[Expression, Expression]]  # (c, r) of c*exp(-r*x)
LARGEST_POWER = 8
MOST_ROOTS = 24  # of 1, among which those of a denominator are looked for
ROAD = "geometric series of exponentials"


def over_two_exponentials(f: Expression, x: Name, facts: Facts) -> Found | None:
    """x*exp(-x/2)/(exp(x) - 1)  ->  polygamma(1, 3/2)"""
    outer, k, rest = power_and_rest(f, x)
    waves = [g for g in rest if is_a(g, SIN, COS)]
    found = _geometric(k, [g for g in rest if g not in waves], x, facts) if len(waves) <= 1 else None
    if found is None:
        return None
    n, terms, q, sign = found
    needed = what_must_be_positive(facts, *(r for _, r in terms))
    if needed is None:
        return None
    value = (
        _beside_a_wave(terms, q, sign, waves[0].arguments[0], is_a(waves[0], SIN), n, x, facts)
        if waves
        else _moments(terms, q, sign, n)
    )
    return None if value is None else Found(outer * value, needed, ROAD)


def geometric_terms(f: Expression, x: Name, facts: Facts) -> tuple[int, Terms, Expression, int] | None:
    """(n, terms c*exp(-r*x), q, s) of f = x^n*(the sum of the terms)/(1 + s*exp(-q*x))."""
    outer, k, rest = power_and_rest(f, x)
    found = _geometric(k, rest, x, facts)
    return None if found is None else (found[0], [(outer * c, r) for c, r in found[1]], *found[2:])


def _geometric(k: Expression, rest: list[Expression], x: Name, facts: Facts) -> tuple[int, Terms, Expression, int] | None:
    """The same of x^k beside other factors, which are functions of exponentials."""
    t = facts.new_name("t", k, *rest)
    inside = in_powers(multiply_all(rest), x, t)
    if inside is None or not (k.is_whole and 0 <= k.rational <= LARGEST_POWER):
        return None
    found = _decaying(inside, t, facts) or _decaying(factored(inside), t, facts)  # unfactored: t^12 + 1 stays two terms
    return None if found is None else (int(k.rational), *found)


def _decaying(g: Expression, t: Name, facts: Facts) -> tuple[Terms, Expression, int] | None:
    """(terms c*t^(-r), q, s) of g = (the sum of the terms)/(1 + s*t^(-q)), s = 1 or -1, q > 0."""
    sums = [h for h in factors_in(g) if isinstance(h, Power) and h.exponent is number(-1) and isinstance(h.base, Sum)]
    top, bottom = map(expand, (g / sums[0], sums[0].base) if len(sums) == 1 else quotient_parts(g))
    below = [_monomial(b, t) for b in terms_of(bottom)]
    if len(below) > 2:
        return _completed([_monomial(a, t) for a in terms_of(top)], below)
    if len(below) != 2:
        return None
    gap = factored(below[0][1] - below[1][1])
    first, second = below if facts.is_positive(gap) else below[::-1]
    if not (facts.is_positive(gap) or facts.is_negative(gap)):
        return None
    ratio = factored(second[0] / first[0])
    if ratio not in (ONE, -ONE):
        return None
    above = [_monomial(a, t) for a in terms_of(top)]
    terms = [(c / first[0], factored(first[1] - p)) for c, p in above]
    return (
        (terms, factored(first[1] - second[1]), 1 if ratio is ONE else -1) if not any(contains(c, t) for c, _ in terms) else None
    )


def _completed(above: Terms, below: Terms) -> tuple[Terms, Expression, int] | None:
    """1/(1 + y + y^2) as (1 - y)/(1 - y^3), with y = t^(-gap): any factor of 1 - y^m of a small m."""
    numbers = [n for c, p in (*above, *below) for n in (c, p)]
    if not all(isinstance(n, Number) and n.is_rational for n in numbers):
        return None
    highest = max(p.rational for _, p in below)
    rates = [highest - p.rational for _, p in below]
    gap = mpq(gcd(*(int(r * (shared := lcm(*(int(r.denominator) for r in rates)))) for r in rates)), shared)
    divisor = [mpq(0)] * (int(max(rates) / gap) + 1)
    for (c, _), rate in zip(below, rates, strict=True):
        divisor[int(rate / gap)] += c.rational
    for m in range(len(divisor), MOST_ROOTS + 1):
        quotient = _share_of(m, divisor)
        if quotient is not None:
            terms: Terms = [
                (c * number(q), number(highest - p.rational + j * gap)) for c, p in above for j, q in enumerate(quotient) if q
            ]
            return terms, number(m * gap), -1
    return None


def _share_of(m: int, divisor: list[mpq]) -> list[mpq] | None:
    """(1 - y^m) over a polynomial, from the lowest power on; None where it is no factor."""
    rest = [mpq(1), *[mpq(0)] * (m - 1), mpq(-1)]
    quotient: list[mpq] = []
    for k in range(m + 2 - len(divisor)):
        quotient.append(rest[k] / divisor[0])
        for j, c in enumerate(divisor):
            rest[k + j] -= quotient[-1] * c
    return None if any(rest) else quotient


def _monomial(term: Expression, t: Name) -> tuple[Expression, Expression]:
    outer, k, rest = power_and_rest(term, t)
    return multiply_all([outer, *rest]), k


def _moments(terms: Terms, q: Expression, sign: int, n: int) -> Expression | None:
    if sign < 0 and n == 0 and factored(total([c for c, _ in terms])) is not ZERO:
        return None
    return total([c * _moment(r, q, sign, n) for c, r in terms])


def _moment(r: Expression, q: Expression, sign: int, n: int) -> Expression:
    """Of x^n*exp(-r*x)/(1 + sign*exp(-q*x)); over 1 + E it is (1 - E)/(1 - E^2)."""
    if sign < 0:
        u = factored(r / q)
        weight = number((-1) ** (n + 1)) / power(q, number(n + 1))
        return weight * (DIGAMMA(u) if n == 0 else POLYGAMMA(number(n), u))
    return _moment(r, 2 * q, -1, n) - _moment(factored(r + q), 2 * q, -1, n)


def _beside_a_wave(
    terms: Terms, q: Expression, sign: int, angle: Expression, sine: bool, n: int, x: Name, facts: Facts
) -> Expression | None:
    """Of x^n*sin(a*x) for even n, of x^n*cos(a*x) for odd n: slopes by a of the integral with sin(a*x) alone."""
    line = uni.linear_parts(angle, x)
    if line is None or line[1] is not ZERO or sine != (n % 2 == 0) or what_must_be_positive(facts, line[0]) != ():
        return None
    a = facts.new_name("a", angle, *[r for _, r in terms], q)
    shares = [_imaginary_parts(r, q, sign, a) for _, r in terms]
    if None in shares:
        return None
    value = total([c * s for (c, _), s in zip(terms, shares, strict=True) if s is not None])
    turn = number((-1) ** (n // 2))  # sin, x*cos, -x^2*sin, -x^3*cos
    return turn * substitute(differentiate(value, a, n), {a: line[0]})


def _imaginary_parts(r: Expression, q: Expression, sign: int, a: Name) -> Expression | None:
    """Of sin(a*x)*exp(-r*x)/(1 + sign*exp(-q*x))."""
    if sign < 0:
        part = _imaginary_digamma(factored(r / q), a / q)
        return None if part is None else part / q
    one, other = _imaginary_parts(r, 2 * q, -1, a), _imaginary_parts(factored(r + q), 2 * q, -1, a)
    return None if one is None or other is None else one - other


def _imaginary_digamma(u: Expression, y: Expression) -> Expression | None:
    """The imaginary part of digamma(u + 1j*y) for u = 1, 2, … and 1/2, 3/2, …: by digamma(z + 1) = digamma(z) + 1/z."""
    if not isinstance(u, Number) or not (2 * u).is_whole or not 0 < u.rational <= LARGEST_POWER:
        return None
    whole = u.is_whole
    start = PI / 2 * (COTH(PI * y) if whole else TANH(PI * y)) - (1 / (2 * y) if whole else ZERO)
    first = mpq(1) if whole else mpq(1, 2)
    steps = int(mpq(u.rational) - first)
    return start - total([y / (number((first + j) ** 2) + y**2) for j in range(steps)])
