"""Infinite sums with a name: of powers over polynomials, exponential, binomial and Fourier series.

Each method is (term, index, first place, facts) -> Found or None."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.found import Found
from gelvo.calculus.summation import term_ratio
from gelvo.calculus.sums.finite import has_factorials, pole_part
from gelvo.calculus.sums.rates import geometric_rate, within_the_circle
from gelvo.errors import DomainError
from gelvo.expression.building import call, constant, multiply_all, number, power, relation, sqrt, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import (
    ABS,
    ATAN,
    ATANH,
    COS,
    COSH,
    COT,
    COTH,
    DIGAMMA,
    EXP,
    FACTORIAL,
    LN,
    POLYGAMMA,
    POLYLOG,
    SIN,
    SINH,
    ZETA,
    is_a,
)
from gelvo.simplifying.partial_fractions import partial_fractions


def coefficient_and_rate(term: Expression, k: Name) -> tuple[Expression, Expression] | None:
    """(R(k), z) with term = R(k)*z^k and a rational R."""
    rate = geometric_rate(term, k)
    z = ONE if rate is None else rate
    rest = factored(_without_rate(term, k)) if z is not ONE else term
    if any(isinstance(n, (Call,)) and contains(n, k) for n in postorder(rest)):
        return None
    if any(isinstance(n, Power) and contains(n.exponent, k) for n in postorder(rest)):
        return None
    return rest, z


def _without_rate(term: Expression, k: Name) -> Expression:
    """The term over r^k, as its factors show it: what is left of an exponent that is linear in k stands in front."""
    rest: list[Expression] = [number(term.coefficient)] if isinstance(term, Product) else []
    for f in factors_in(term):
        base, exponent = base_and_exponent(f)
        if is_a(base, EXP):
            parts = uni.linear_parts(base.arguments[0] * exponent, k)
            rest.append(f if parts is None else EXP(parts[1]))
        else:
            parts = uni.linear_parts(exponent, k) if contains(exponent, k) else None
            rest.append(f if parts is None else power(base, parts[1]))
    return multiply_all(rest)


def exponential_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """P(k)*z^k/k!: exp(z) times a polynomial, by falling factorials."""
    bare = factored(term * FACTORIAL(k)) if has_factorials(term) else None
    if bare is None or has_factorials(bare):
        return None
    split = coefficient_and_rate(bare, k)
    if split is None:
        return None
    top, z = split
    coefficients = uni.coefficients_of(top, k)
    if coefficients is None:
        return None
    pieces: list[Expression] = []
    rest = list(coefficients)
    j = 0
    while rest:  # divide by k, k - 1, … in turn: the remainders are the coefficients of the falling factorials
        quotient, remainder = uni.divide(rest, [number(-j), ONE]) if len(rest) > 1 else ([], rest)
        pieces.append((remainder[0] if remainder else ZERO) * power(z, number(j)))
        rest = quotient
        j += 1
    value = EXP(z) * factored(total(pieces))
    early = [substitute(term, {k: number(i)}) for i in range(min(lower, 0), lower)]
    if lower < 0:
        return None
    return Found(value - total(early), (), "the exponential series")


def powers_over_polynomial(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """R(k)*z^k with a rational R: zeta, eta and polylog values, digamma for the simple poles, coth for k^2 + a^2."""
    split = coefficient_and_rate(term, k)
    if split is None:
        return None
    top, z = split
    try:
        pieces = terms_of(partial_fractions(factored(top), k))
    except DomainError:
        return None
    values: list[Expression] = []
    simple: list[tuple[Expression, Expression]] = []
    for piece in pieces:
        read = pole_part(piece, k)
        if read is None:
            return None
        scale, parts, m = read
        if len(parts) == 2 and z is ONE and m == 1:
            simple.append((scale / parts[1], uni.lowest_terms(parts[0] / parts[1])))
            continue
        value = _value_of_pole(parts, m, z, k, lower, facts)
        if value is None:
            return None
        values.append(scale * value)
    if simple:
        if factored(total([w for w, _ in simple])) is not ZERO:
            return None
        values += [-w * DIGAMMA(s + lower) for w, s in simple]
    inside = [] if z in (ONE, number(-1)) else within_the_circle(z, facts, on_it=len(values) == len(pieces))
    return Found(total(values), facts.open_conditions(inside), "partial fractions; values of zeta and its relatives")


def power_of_a_letter(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """c*k^(-s) for a letter s: zeta(s), less the first terms."""
    moving = [f for f in factors_in(term) if contains(f, k)]
    base, exponent = base_and_exponent(moving[0]) if len(moving) == 1 else (ONE, ONE)
    if base is not k or contains(exponent, k) or isinstance(exponent, Number) or lower < 1:
        return None
    early = total([power(number(j), exponent) for j in range(1, lower)])
    value = term / moving[0] * (ZETA(-exponent) - early)
    return Found(value, facts.open_conditions([relation("<", ONE, -exponent)]), "the definition of zeta")


def _value_of_pole(parts: uni.Coefficients, m: int, z: Expression, k: Name, lower: int, facts: Facts) -> Expression | None:
    """The sum of z^k/p(k)^m for a linear p, or for a p without a linear term."""
    if len(parts) == 2:
        value = _one_pole(uni.lowest_terms(parts[0] / parts[1]), m, z, k, lower, facts)
        return None if value is None else value / power(parts[1], number(m))
    if len(parts) == 3 and parts[1] is ZERO and m == 1 and z is ONE:
        return _square_pole(parts, lower, k, facts)
    return None


def _one_pole(shift: Expression, m: int, z: Expression, k: Name, lower: int, facts: Facts) -> Expression | None:
    """The sum of z^k/(k + shift)^m from `lower` on."""
    if not (isinstance(shift, Number) and shift.is_rational):
        return None
    q = shift.rational
    if q.denominator > 2 or (q.denominator == 2 and z not in (ONE, number(-1))):
        return _fractional(q, m, z, lower, facts)
    exponent = number(m)
    if q.denominator == 1:
        first = lower + int(q)  # the sum over j = k + shift from here
        if first < 1:
            return None
        whole = _from_one(m, z)
        early = total([power(z, number(j)) / power(number(j), exponent) for j in range(1, first)])
        return (whole - early) / power(z, number(q))
    if q.denominator == 2 and z in (ONE, number(-1)):
        first = int(lower + q - mpq(1, 2))  # the sum over j + 1/2 from here
        if first < 0:
            return None
        if z is ONE:
            whole = (power(number(2), exponent) - 1) * ZETA(exponent)
            sign = ONE
        else:
            known = _alternating_odd(m)
            if known is None:
                return None
            whole, sign = known, power(number(-1), number(lower - first))
        early = total([power(z, number(j)) / power(number(j + mpq(1, 2)), exponent) for j in range(first)])
        return sign * (whole - early)
    return None


def _fractional(q: mpq, m: int, z: Expression, lower: int, facts: Facts) -> Expression | None:
    """The same beside halves with signs, which have names of their own."""
    if z in (ONE, number(-1)) and lower + q > 0:
        return _by_polygamma(number(lower + q), m) if z is ONE else number((-1) ** lower) * _alternating(lower + q, m)
    return _odd_powers(int(lower + q - mpq(1, 2)), m, z, lower, facts) if q.denominator == 2 else None


def _by_polygamma(start: Expression, m: int) -> Expression:
    """The sum of 1/(k + start)^m from k = 0 on, m > 1 (DLMF 5.15.1)."""
    return number(mpq((-1) ** m, fac(m - 1))) * POLYGAMMA(number(m - 1), start)


def _alternating(start: mpq, m: int) -> Expression:
    """The same with changing signs: the even places less the odd ones."""
    even, odd = number(start / 2), number((start + 1) / 2)
    if m == 1:
        return (DIGAMMA(odd) - DIGAMMA(even)) / 2
    return (_by_polygamma(even, m) - _by_polygamma(odd, m)) / number(2**m)


def _odd_powers(first: int, m: int, z: Expression, lower: int, facts: Facts) -> Expression | None:
    """The sum of z^k/(j + 1/2)^m over j = k + first - lower from `first` on, by y = sqrt(|z|) and the odd numbers 2*j + 1."""
    if first < 0:
        return None
    up = facts.is_positive(z)
    if not up and not facts.is_negative(z):
        return None
    y = sqrt(z if up else -z)
    if m == 1:
        odd = ATANH(y) if up else ATAN(y)
    elif up:
        odd = (POLYLOG(number(m), y) - POLYLOG(number(m), -y)) / 2
    else:
        return None
    early = total([power(z, number(j)) / power(number(j + mpq(1, 2)), number(m)) for j in range(first)])
    return (number(2**m) * odd / y - early) * power(z, number(lower - first))


def _from_one(m: int, z: Expression) -> Expression:
    """The sum of z^j/j^m for j from 1."""
    if z is ONE:
        return ZETA(number(m))
    if m == 1:
        return -LN(1 - z)
    if z is number(-1):
        return (power(number(2), number(1 - m)) - 1) * ZETA(number(m))
    return POLYLOG(number(m), z)


def _alternating_odd(m: int) -> Expression | None:
    """The sum of (-1)^j/(j + 1/2)^m for j from 0."""
    known = {1: PI / 4, 2: constant("catalan"), 3: power(PI, number(3)) / 32}
    return None if m not in known else known[m] * number(2**m)


def _square_pole(parts: list[Expression], lower: int, k: Name, facts: Facts) -> Expression | None:
    """The sum of 1/(p*k^2 + r) from `lower` on."""
    ratio = uni.lowest_terms(parts[0] / parts[2])
    if facts.is_positive(ratio):
        a = sqrt(ratio)
        whole = PI * COTH(PI * a) / (2 * a) - 1 / (2 * ratio)
    elif facts.is_negative(ratio):
        a = sqrt(-ratio)
        whole = -1 / (2 * ratio) - PI * COT(PI * a) / (2 * a)
    else:
        return None
    if lower > 1:
        whole = whole - total([1 / (number(j * j) + ratio) for j in range(1, lower)])
    elif lower < 1:
        whole = whole + total([1 / (number(j * j) + ratio) for j in range(lower, 1)])
    return whole / parts[2]


def binomial_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """binomial(a, k)*z^k and its like: the sum is (1 + z)^a."""
    ratio = term_ratio(term, k)
    if ratio is None or lower != 0:
        return None
    top, bottom = (uni.coefficients_of(p, k) for p in quotient_parts(ratio))
    if top is None or bottom is None or len(top) != 2 or len(bottom) != 2:
        return None
    if uni.lowest_terms(bottom[0] - bottom[1]) is not ZERO:
        return None
    z, a = uni.lowest_terms(top[1] / bottom[1]), uni.lowest_terms(top[0] / top[1])
    start = substitute(term, {k: ZERO})
    if start is ZERO:
        return None
    conditions = facts.open_conditions([relation("<", ABS(z), ONE)])
    return Found(start * power(1 - z, -a), conditions, "the binomial series")


def halved_factorials(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """z^k/(2k)! and z^k/(2k + 1)!: cosh and sinh of sqrt(z), cos and sin for a negative z."""
    ratio = term_ratio(term, k)
    if ratio is None or lower != 0:
        return None
    top, bottom = (uni.coefficients_of(p, k) for p in quotient_parts(ratio))
    if top is None or bottom is None or len(top) != 1 or len(bottom) != 3:
        return None
    z = uni.lowest_terms(4 * top[0] / bottom[2])
    shape = [uni.lowest_terms(4 * c / bottom[2]) for c in bottom[:2]]
    start = substitute(term, {k: ZERO})
    negative = facts.is_negative(z)
    root = sqrt(-z if negative else z)
    if shape == [number(2), number(6)]:
        value = call(COS if negative else COSH, root)
    elif shape == [number(6), number(10)]:
        value = call(SIN if negative else SINH, root) / root
    else:
        return None
    return Found(start * value, (), "the series of the cosine or the sine")


def wave_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """cos(k*x)/k^2 and sin(k*x)/k for 0 <= x <= 2*pi: Bernoulli polynomials (J. Fourier, 1822)."""
    factors = [f for f in factors_in(term) if contains(f, k)]
    waves = [f for f in factors if is_a(f, SIN, COS)]
    powers = [f for f in factors if isinstance(f, Power) and f.base is k and isinstance(f.exponent, Number)]
    if lower != 1 or len(waves) != 1 or len(powers) != 1 or len(factors) != 2:
        return None
    x = waves[0].arguments[0] / k
    m = -powers[0].exponent.rational
    known: dict[tuple[str, int], Callable[[], Expression]] = {
        (SIN, 1): lambda: (PI - x) / 2,
        (COS, 1): lambda: -LN(2 * SIN(x / 2)),
        (COS, 2): lambda: PI**2 / 6 - PI * x / 2 + x**2 / 4,
        (SIN, 3): lambda: PI**2 * x / 6 - PI * x**2 / 4 + x**3 / 12,
        (COS, 4): lambda: PI**4 / 90 - PI**2 * x**2 / 12 + PI * x**3 / 12 - x**4 / 48,
    }
    make = known.get((waves[0].name, int(m)))
    if contains(x, k) or make is None:
        return None
    strict = m == 1
    word = "<" if strict else "<="
    conditions = facts.open_conditions([relation(word, ZERO, x), relation(word, x, 2 * PI)])
    outer = factored(term / multiply_all(factors))
    return Found(outer * make(), conditions, "a Fourier series of a polynomial")
