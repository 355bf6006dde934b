"""The coefficient of u^n of an expansion in natural powers, for a letter n.

A fraction goes by its poles, a power of b + c*u by the binomial series, an exponential times a wave by the powers of a complex number;
any other function by the quotient of its coefficients one or two places apart, where that is a rational function of the place: it is
guessed from the first coefficients, and whoever asks has to prove the sum. Source: D. Knuth, "The Art of Computer Programming",
volume 1 (1997), 1.2.9; P. Flajolet, R. Sedgewick, "Analytic Combinatorics" (2009), IV.5 (poles).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import pairwise
from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.calculus.antiderivative.waves import linear_waves
from gelvo.calculus.local.expander import expanded
from gelvo.calculus.local.expansion import Unclear
from gelvo.calculus.poles import NoPoles, poles_of_factor, without_pole
from gelvo.calculus.summation import linear_factors, product_of_ratio
from gelvo.errors import DomainError
from gelvo.expression.building import call, multiply_all, number, power, total
from gelvo.expression.constants import HALF, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ATAN2, BINOMIAL, COS, EXP, FACTORIAL, GAMMA, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.polynomial.linear import reduced_rows
from gelvo.simplifying.partial_fractions import split_fraction

FIRST, LAST, MOST_DEGREE = 5, 26, 3


class Piece(NamedTuple):
    """That the sum of term*u^n from n = 0 on is the function, but for finitely many terms."""

    function: Expression
    term: Expression


def general_term(f: Expression, u: Name, n: Name, facts: Facts) -> list[Piece] | None:
    """Pieces whose terms add up to the coefficient of u^n for all n but a few; None where one has no form.

    >>> from gelvo.expression.building import name
    >>> u, n = name("u"), name("n", "natural")
    >>> print(*[p.term for p in general_term(EXP(2 * u), u, n, Facts())])
    2^n/factorial(n)
    """
    whole = _of_fraction(factored(f), u, n, facts)
    if whole is not None:
        return whole
    pieces: list[Piece] = []
    for term in terms_of(linear_waves(expand(f), facts)):
        found = _of_term(term, u, n, facts)
        if found is None:
            return _of_coefficients(f, u, n, facts)  # together they may have powers that they lack apart
        pieces += found
    return pieces


def _of_term(term: Expression, u: Name, n: Name, facts: Facts) -> list[Piece] | None:
    """A power of u is taken out: it moves the places."""
    moving = [g for g in factors_in(term) if contains(g, u)]
    powers = [g for g in moving if base_and_exponent(g)[0] is u]
    core = multiply_all([g for g in moving if g not in powers])
    outer = term / multiply_all(moving)
    shift = base_and_exponent(powers[0])[1] if powers else ZERO
    if not (isinstance(shift, Number) and shift.is_whole):
        return None
    for rule in RULES:
        found = rule(core, u, n, facts)
        if found is not None:
            moved = {n: n - shift}
            return [Piece(outer * power(u, shift) * p.function, outer * substitute(p.term, moved)) for p in found]
    return None


# --- fractions --------------------------------------------------------------------------------------------------------


def _of_fraction(f: Expression, u: Name, n: Name, facts: Facts) -> list[Piece] | None:
    """1/(u - p)^m is (-1)^m*p^(-m)*the sum of binomial(n + m - 1, m - 1)*(u/p)^n."""
    try:
        _, _, factors = split_fraction(f, u)
    except DomainError:
        return None
    terms: list[Expression] = []
    for base, times in factors:
        if base[0] is ZERO:
            continue  # a pole at zero itself leaves finitely many terms
        try:
            poles = poles_of_factor(base, facts)
        except NoPoles:
            return None
        for pole, twice in poles:
            rest = without_pole(f, u, pole, base, times)
            for j in range(times):
                slope = differentiate(rest, u, j) if j else rest
                w = substitute(slope, {u: pole}) / number(fac(j))
                terms.append(_of_pole(w, pole, times - j, n, twice, facts))
    return [Piece(f, total(terms))]


def _of_pole(w: Expression, pole: Expression, m: int, n: Name, twice: bool, facts: Facts) -> Expression:
    count = BINOMIAL(n + number(m - 1), number(m - 1)) if m > 1 else ONE
    sign = number((-1) ** m)
    if not twice:
        return sign * w * count * power(pole, number(-m)) * power(1 / pole, n)
    (a, b), (x, y) = real_and_imaginary(w, facts), real_and_imaginary(pole, facts)
    angle = ATAN2(y, x) * (n + m)
    size = power(factored(expand(x**2 + y**2)), number(-HALF.rational) * (n + m))
    return 2 * sign * count * size * (a * COS(angle) + b * SIN(angle))


# --- powers and exponentials --------------------------------------------------------------------------------------------------


def _of_power(core: Expression, u: Name, n: Name, facts: Facts) -> list[Piece] | None:
    """(b + c*u)^a with a positive b."""
    if not isinstance(core, Power) or contains(core.exponent, u):
        return None
    parts = uni.linear_parts(expand(core.base), u)
    if parts is None or not facts.is_positive(parts[1]):
        return None
    c, b = parts
    a = core.exponent
    term = BINOMIAL(a, n) * power(b, a) * power(c / b, n)
    if isinstance(a, Number):
        guessed = _of_coefficients(power(1 + u, a), u, n, facts)
        if guessed is not None:
            term = guessed[0].term * power(b, a) * power(c / b, n)
    return [Piece(core, term)]


def _of_exponential(core: Expression, u: Name, n: Name, facts: Facts) -> list[Piece] | None:
    """exp(p*u), and times cos(q*u + r) or sin(q*u + r): a part of (p + 1j*q)^n*exp(1j*r)/n!."""
    rate: Expression = ZERO
    waves: list[tuple[Call, Expression, Expression]] = []
    for g in factors_in(core):
        parts = uni.linear_parts(expand(g.arguments[0]), u) if is_a(g, EXP, COS, SIN) else None
        if parts is None:
            return None
        if is_a(g, SIN, COS):
            waves.append((g, *parts))
        elif parts[1] is not ZERO:
            return None
        else:
            rate = rate + parts[0]
    if len(waves) > 1 or not waves:
        return None if waves or rate is ZERO else [Piece(core, power(rate, n) / FACTORIAL(n))]
    wave, q, phase = waves[0]
    if not (facts.is_real(rate) and facts.is_real(q) and facts.is_real(phase)):
        return None
    size = ONE if rate is ZERO else power(expand(rate**2 + q**2), n / 2)
    turn = PI * n / 2 if rate is ZERO else n * ATAN2(q, rate)
    outer = power(q, n) if rate is ZERO else size
    return [Piece(core, outer * call(wave.name, turn + phase) / FACTORIAL(n))]


# --- by the first coefficients ------------------------------------------------------------------------------------------------


def _of_coefficients(core: Expression, u: Name, n: Name, facts: Facts) -> list[Piece] | None:
    """Coefficients whose quotients one or two places apart are a rational function of the place."""
    core, scale = _without_scale(core, u)
    if set(names(core)) - {u}:
        return None
    row = _row(core, u, facts, FIRST)
    if row is None or (row := _row(core, u, facts, LAST)) is None:
        return None
    term = _one_apart(row, n) or _two_apart(row, n)
    if term is None:
        return None
    return [Piece(substitute(core, {u: scale * u}), power(scale, n) * term)]


def _row(core: Expression, u: Name, facts: Facts, last: int) -> list[Expression] | None:
    """The coefficients up to a place; None where there is another kind of power, or they are no rational multiples of one number."""
    try:
        found = expanded(core, u, facts, mpq(last))
    except (Unclear, DomainError):
        return None
    if any(e.denominator != 1 or e < 0 or contains(c, u) for e, c in found.terms.items()):
        return None
    row = [found.terms.get(mpq(k), ZERO) for k in range(last + 1)]
    late = [c for c in row[2:] if c is not ZERO]
    quotients = [uni.lowest_terms(c / late[0]) for c in late]
    return row if all(isinstance(q, Number) and q.is_rational for q in quotients) else None


def _without_scale(core: Expression, u: Name) -> tuple[Expression, Expression]:
    """(F(u), c) of F(c*u) with letters in c."""
    letters = set(names(core)) - {u}
    if not letters:
        return core, ONE
    for g in dict.fromkeys(a for a in _arguments(core) if contains(a, u)):
        parts = uni.linear_parts(expand(g), u)
        if parts is not None and not letters.isdisjoint(names(parts[0])):
            plain = substitute(core, {u: u / parts[0]})
            return (plain, parts[0]) if letters.isdisjoint(names(plain)) else (core, ONE)
    return core, ONE


def _arguments(core: Expression) -> Iterable[Expression]:
    for g in factors_in(core):
        base, _ = base_and_exponent(g)
        yield base
        yield from (c for c in base.children if isinstance(c, Expression))


def _quotients(row: list[Expression], first: int, step: int) -> list[tuple[int, mpq]] | None:
    """(place, the coefficient `step` further on over the one there), from the first one that is not zero; None for zeros in between."""
    places = list(range(first, len(row), step))
    while places and row[places[0]] is ZERO:
        places.pop(0)
    pairs: list[tuple[int, mpq]] = []
    for here, there in pairwise(places):
        if row[here] is ZERO:
            return None
        q = uni.lowest_terms(row[there] / row[here])
        if not (isinstance(q, Number) and q.is_rational) or not q.value:
            return None
        pairs.append((here, q.rational))
    return pairs


def _rational_through(pairs: list[tuple[int, mpq]], n: Name) -> Expression | None:
    """The rational function of low degree through all the points."""
    for degree in range(MOST_DEGREE + 1):
        if len(pairs) < 2 * degree + 4:
            return None
        rows = [[*(mpq(k) ** j for j in range(degree + 1)), *(-q * mpq(k) ** j for j in range(degree + 1))] for k, q in pairs]
        reduced, pivots = reduced_rows(rows)
        free = [j for j in range(2 * degree + 2) if j not in pivots]
        if not free:
            continue
        vector = [mpq(0)] * (2 * degree + 2)
        vector[free[0]] = mpq(1)
        for row, pivot in zip(reduced, pivots, strict=False):
            vector[pivot] = -row[free[0]]
        top, bottom = (
            total([number(c) * n**j for j, c in enumerate(part)]) for part in (vector[: degree + 1], vector[degree + 1 :])
        )
        return None if bottom is ZERO else factored(top / bottom)
    return None


def _one_apart(row: list[Expression], n: Name) -> Expression | None:
    start = 1 if row[0] is not ZERO and row[1] is not ZERO else 0  # the first one is often an exception
    for first in (0, start, 2):
        pairs = _quotients(row, first, 1)
        ratio = _rational_through(pairs, n) if pairs else None
        if ratio is not None and pairs:
            place = pairs[0][0]
            grown = product_of_ratio(ratio, n, place)
            return None if grown is None else row[place] * grown
    return None


def _two_apart(row: list[Expression], n: Name) -> Expression | None:
    """Each class by the places modulo 2; at least one of them is not zero all through."""
    terms = []
    for first in (0, 1):
        late = [c for k, c in enumerate(row) if k % 2 == first and k > 1]
        if all(c is ZERO for c in late):
            continue
        term = _of_class(row, first, n)
        if term is None:
            return None
        terms.append(term)
    return total(terms) if terms else None


def _of_class(row: list[Expression], first: int, n: Name) -> Expression | None:
    for begin in (first, first + 2):
        pairs = _quotients(row, begin, 2)
        ratio = _rational_through(pairs, n) if pairs else None
        if ratio is None or not pairs:
            continue
        place = pairs[0][0]
        top, bottom = (uni.coefficients_of(p, n) for p in quotient_parts(ratio))
        if top is None or bottom is None:
            return None
        above, below = _grown(top, n, place), _grown(bottom, n, place)
        if above is None or below is None:
            return None
        z = uni.lowest_terms(top[-1] / bottom[-1])
        size = power(-z if _is_negative(z) else z, (n - place) / 2)
        even = not first
        only = (
            (COS(PI * n / 2) if even else SIN(PI * n / 2))
            if _is_negative(z)
            else (1 + power(number(-1), n) * (1 if even else -1)) / 2
        )
        turned = (-1) ** (place // 2) if _is_negative(z) else 1
        return number(turned) * row[place] * only * size * above / below
    return None


def _is_negative(z: Expression) -> bool:
    return isinstance(z, Number) and z.rational < 0


def _grown(p: uni.Coefficients, n: Name, start: int) -> Expression | None:
    """The product of the monic p at start, start + 2, …, n - 2; two factors one apart are a factorial."""
    shifts: list[mpq] = []
    for factor, times in linear_factors(p, n):
        s = uni.lowest_terms(factor[0] / factor[1]) if len(factor) == 2 else None
        if s is None or not (isinstance(s, Number) and s.is_rational):
            return None
        shifts += [s.rational] * times
    result: Expression = ONE
    shifts.sort()
    while shifts:
        s = shifts.pop(0)
        if s + 1 in shifts:
            shifts.remove(s + 1)
            result = result * _gamma(n + number(s), s) / _gamma(number(start + s), s)
        else:
            half, first = (n + number(s)) / 2, (start + s) / 2  # a natural number where the first one is
            result = result * power(number(2), (n - start) / 2) * _gamma(half, first) / _gamma(number(first), first)
    return result


def _gamma(at: Expression, s: mpq) -> Expression:
    return FACTORIAL(at - 1) if s.denominator == 1 else GAMMA(at)


Rule = Callable[[Expression, Name, Name, Facts], list[Piece] | None]
RULES: tuple[Rule, ...] = (_of_fraction, _of_power, _of_exponential, _of_coefficients)
