"""Sums in closed form: antidifferences of hypergeometric terms, recurrences of definite sums, and series with a name.

Sources: R. W. Gosper, "Decision procedure for indefinite hypergeometric summation" (1978); D. Zeilberger, "The method of
creative telescoping" (1991); both as told in M. Petkovsek, H. Wilf, D. Zeilberger, "A = B" (1996).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import looks_negative, multiply_all, number, power
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored, quotient_parts
from gelvo.forms.univariate import Coefficients
from gelvo.functions.named import BINOMIAL, EXP, FACTORIAL, GAMMA
from gelvo.polynomial.factor import factor
from gelvo.roads import on_the_way

MOST_SHIFT = 60
MOST_DEGREE = 14


class Ratio(NamedTuple):
    """t(k + 1)/t(k) as polynomials in k."""

    top: Coefficients
    bottom: Coefficients


def term_ratio(term: Expression, k: Name, step: Name | None = None) -> Expression | None:
    """t(step + 1)/t(step) as a rational function of k, or None where it is none; `step` is k itself unless given."""
    moving = k if step is None else step
    pieces: list[Expression] = []
    for factor_of in factors_in(term):
        if not contains(factor_of, moving):
            continue
        base, exponent = base_and_exponent(factor_of)
        if contains(exponent, moving):
            parts = uni.linear_parts(exponent, moving)
            if parts is None or contains(base, moving) or contains(parts[0], k):
                return None
            pieces.append(power(base, parts[0]))
            continue
        one = _ratio_of_base(base, moving)
        if one is None:
            return None
        pieces.append(power(one, exponent))
    return factored(multiply_all(pieces))


def _ratio_of_base(base: Expression, moving: Name) -> Expression | None:
    if not isinstance(base, Call):
        return substitute(base, {moving: moving + 1}) / base
    work = RATIOS.get(base.name)
    return None if work is None else work(moving, *base.arguments)


def _exponential_ratio(moving: Name, argument: Expression) -> Expression | None:
    parts = uni.linear_parts(argument, moving)
    return None if parts is None else EXP(parts[0])


def _binomial_ratio(moving: Name, n: Expression, j: Expression) -> Expression | None:
    above, first, second = (_gamma_ratio(moving, z) for z in (n + 1, j + 1, n - j + 1))
    return None if above is None or first is None or second is None else above / (first * second)


def _gamma_ratio(moving: Name, argument: Expression) -> Expression | None:
    """gamma(a*(m + 1) + b)/gamma(a*m + b) for a whole a."""
    if not contains(argument, moving):
        return ONE
    parts = uni.linear_parts(argument, moving)
    if parts is None or not (isinstance(parts[0], Number) and parts[0].is_whole) or abs(parts[0].rational) > 20:
        return None
    a = int(parts[0].rational)
    if a > 0:
        return multiply_all([argument + j for j in range(a)])
    return 1 / multiply_all([argument - j for j in range(1, -a + 1)])


# f(…, at the next place)/f(…) of functions whose terms make it rational, or constant
RATIOS: dict[str, Callable[..., Expression | None]] = {
    EXP: _exponential_ratio,
    GAMMA: _gamma_ratio,
    FACTORIAL: lambda moving, n: _gamma_ratio(moving, n + 1),
    BINOMIAL: _binomial_ratio,
}


def _polynomials(ratio: Expression, k: Name) -> Ratio | None:
    top, bottom = quotient_parts(ratio)
    upper, lower = uni.coefficients_of(top, k), uni.coefficients_of(bottom, k)
    return None if upper is None or lower is None else Ratio(upper, lower)


def shifted(p: Coefficients, k: Name, by: Expression | int) -> Coefficients:
    found = uni.coefficients_of(substitute(uni.expression_of(p, k), {k: k + by}), k)
    assert found is not None
    return found


def linear_factors(p: Coefficients, k: Name) -> list[tuple[Coefficients, int]]:
    """Irreducible factors with their powers."""
    expression = uni.expression_of(p, k)
    form = Form([expression])
    top, _ = form.lowest_terms(form.of(expression))
    _, pieces = factor(top)
    found = []
    for piece, times in pieces:
        coefficients = uni.coefficients_of(form.expression(piece), k)
        if coefficients is None:
            raise DomainError("not a polynomial")
        if len(coefficients) > 1:
            found.append((coefficients, times))
    return found


def _shift_between(a: Coefficients, b: Coefficients, k: Name) -> int | None:
    """The natural h with a(k) = b(k + h) up to a constant, for irreducible a and b."""
    if len(a) != len(b):
        return None
    gap = uni.lowest_terms((a[-2] / a[-1] - b[-2] / b[-1]) / (len(a) - 1))
    if not (isinstance(gap, Number) and gap.is_whole) or not 0 <= gap.rational <= MOST_SHIFT:
        return None
    h = int(gap.rational)
    moved = shifted(b, k, h)
    size = a[-1] / moved[-1]
    return h if all(uni.lowest_terms(x - size * y) is ZERO for x, y in zip(a, moved, strict=True)) else None


def gosper_form(ratio: Ratio, k: Name) -> tuple[Coefficients, Coefficients, Coefficients]:
    """(a, b, c) with ratio = a(k)/b(k) * c(k + 1)/c(k), where a(k) and b(k + h) are coprime for every natural h."""
    a, b = list(ratio.top), list(ratio.bottom)
    c: Coefficients = [ONE]
    below = linear_factors(ratio.bottom, k)
    left = [times for _, times in below]
    for p, times in linear_factors(ratio.top, k):
        for j, (other, _) in enumerate(below):
            h = _shift_between(p, other, k)
            if h is None:
                continue
            common = min(times, left[j])
            for _ in range(common):
                a, b = uni.divide(a, p)[0], uni.divide(b, shifted(p, k, -h))[0]
                for i in range(1, h + 1):
                    c = uni.multiply(c, shifted(p, k, -i))
            times -= common
            left[j] -= common
    return a, b, c


class Antidifference(NamedTuple):
    """z with z(k + 1) - z(k) = term(k), as the factor z/term, and what must not be zero."""

    factor: Expression
    nonzero: tuple[Expression, ...]


@on_the_way("Gosper's algorithm")
def antidifference(term: Expression, k: Name, facts: Facts) -> Antidifference | None:
    """Gosper's algorithm: complete for terms whose ratio is a rational function.

    >>> from gelvo.expression.building import name
    >>> k = name("k")
    >>> print(antidifference(k * number(2)**k, k, Facts()).factor)
    (k - 2)/k
    """
    ratio = term_ratio(term, k)
    if ratio is None:
        return None
    parts = _polynomials(ratio, k)
    if parts is None:
        return None
    a, b, c = gosper_form(parts, k)
    before = shifted(b, k, -1)
    found = _solve_difference(a, before, [c], k, facts)
    if found is None:
        return None
    x, _, pivots = found
    return Antidifference(factored(uni.expression_of(before, k) * x / uni.expression_of(c, k)), pivots)


def _degree_bound(a: Coefficients, b: Coefficients, degree: int) -> int:
    """The highest degree of x in a(k)*x(k + 1) - b(k)*x(k) = c(k)."""
    if len(a) != len(b) or uni.lowest_terms(a[-1] - b[-1]) is not ZERO:
        return degree - (max(len(a), len(b)) - 1)
    d = len(a) - 1
    first = degree - d + 1
    if d == 0:
        return first
    gap = uni.lowest_terms((b[-2] - a[-2]) / a[-1])
    if isinstance(gap, Number) and gap.is_whole:
        return max(first, int(gap.rational))
    return first


def _solve_difference(
    a: Coefficients, b: Coefficients, rights: list[Coefficients], k: Name, facts: Facts
) -> tuple[Expression, list[Expression], tuple[Expression, ...]] | None:
    """A polynomial x with a(k)*x(k + 1) - b(k)*x(k) = the sum of weights*rights; one right side has weight 1."""
    bound = min(_degree_bound(a, b, max(len(r) for r in rights) - 1), MOST_DEGREE)
    if bound < 0:
        return None
    columns: list[Coefficients] = []
    for j in range(bound + 1):
        power_of = [ZERO] * j + [ONE]
        columns.append(uni.add(uni.multiply(a, shifted(power_of, k, 1)), uni.scale(uni.multiply(b, power_of), number(-1))))
    homogeneous = len(rights) > 1
    columns += [uni.scale(r, number(-1)) for r in rights]
    size = max(len(c) for c in columns)
    rows = [[c[i] if i < len(c) else ZERO for c in columns] for i in range(size)]
    free = len(columns) - 1
    solved = _eliminate(rows, facts, free if not homogeneous else None)
    if solved is None:
        return None
    values, pivots = solved
    if homogeneous and all(v is ZERO for v in values[bound + 1 :]):
        return None
    return factored(uni.expression_of(values[: bound + 1], k)), values[bound + 1 :], pivots


def _clear_column(rows: list[list[Expression]], place: int, column: int) -> None:
    """Makes the pivot 1 and all else in its column 0."""
    pivot = rows[place][column]
    rows[place] = [uni.lowest_terms(v / pivot) if v is not ZERO else v for v in rows[place]]
    for r, row in enumerate(rows):
        if r != place and row[column] is not ZERO:
            scale = row[column]
            rows[r] = [uni.lowest_terms(v - scale * w) if w is not ZERO else v for v, w in zip(row, rows[place], strict=True)]


def _eliminate(
    rows: list[list[Expression]], facts: Facts, fixed: int | None
) -> tuple[list[Expression], tuple[Expression, ...]] | None:
    """A vector of the null space whose last free entry is 1 (the entry `fixed`, where that is asked for)."""
    count = len(rows[0])
    rows = [list(r) for r in rows]
    pivots: list[int] = []
    assumed: list[Expression] = []
    place = 0
    for column in range(count):
        best = next((r for r in range(place, len(rows)) if rows[r][column] is not ZERO), None)
        if best is None:
            continue
        rows[place], rows[best] = rows[best], rows[place]
        pivot = rows[place][column]
        if not facts.is_nonzero(pivot):
            assumed.append(pivot)
        _clear_column(rows, place, column)
        pivots.append(column)
        place += 1
    free = [c for c in range(count) if c not in pivots]
    if not free or (fixed is not None and fixed not in free):
        return None
    chosen = fixed if fixed is not None else free[-1]
    values = [ZERO] * count
    values[chosen] = ONE
    for row, column in zip(rows, pivots, strict=False):
        values[column] = uni.lowest_terms(-row[chosen])
    return values, tuple(dict.fromkeys(assumed))


def telescoper(term: Expression, k: Name, n: Name, facts: Facts) -> tuple[Expression, Expression, Expression] | None:
    """(p(n), q(n), R) with p*F(n, k) + q*F(n + 1, k) = G(n, k + 1) - G(n, k) for the term F and G = R*F; None where there are none."""
    by_n = term_ratio(term, k, n)
    by_k = term_ratio(term, k)
    if by_n is None or by_k is None:
        return None
    top, bottom = quotient_parts(by_n)
    u, v = uni.coefficients_of(top, k), uni.coefficients_of(bottom, k)
    if u is None or v is None:
        return None
    lowered = factored(by_k * bottom / substitute(bottom, {k: k + 1}))
    parts = _polynomials(lowered, k)
    if parts is None:
        return None
    a, b, c = gosper_form(parts, k)
    before = shifted(b, k, -1)
    found = _solve_difference(a, before, [uni.multiply(c, v), uni.multiply(c, u)], k, facts)
    if found is None:
        return None
    x, (first, second), _ = found
    return first, second, factored(uni.expression_of(before, k) * x / (uni.expression_of(c, k) * bottom))


def product_of_ratio(ratio: Expression, n: Name, start: int) -> Expression | None:
    """P(n) with P(n + 1)/P(n) = ratio and P(start) = 1, by factorials and powers; None where a root is not rational."""
    parts = _polynomials(ratio, n)
    if parts is None:
        return None
    result: Expression = power(factored(parts.top[-1] / parts.bottom[-1]), n - start)
    for coefficients, sign in ((parts.top, 1), (parts.bottom, -1)):
        for p, times in linear_factors(coefficients, n):
            if len(p) != 2:
                return None
            shift = uni.lowest_terms(p[0] / p[1])  # the factor n + shift
            if isinstance(shift, Number) and not shift.is_rational:
                return None
            rising = _rising(n, shift.rational, start) if isinstance(shift, Number) else _with_letters(n, shift, start)
            result = result * power(rising, number(sign * times))
    return result


def _with_letters(n: Name, shift: Expression, start: int) -> Expression:
    """The same for a shift with letters: downwards where it has a minus in front."""
    if looks_negative(shift):
        top = expand(1 - shift - start)
        return power(number(-1), n - start) * GAMMA(top) / GAMMA(expand(top - n + start))
    return GAMMA(n + shift) / GAMMA(shift + start)


def _rising(n: Name, shift: mpq, start: int) -> Expression:
    """The product of (j + shift) for j from start to n - 1."""
    if shift.denominator == 1 and start + shift >= 1:
        return FACTORIAL(n + number(shift - 1)) / FACTORIAL(number(start + shift - 1))
    if shift.denominator == 2 and start + shift > 0:
        m = n + number(shift - mpq(1, 2))  # gamma(m + 1/2) = sqrt(pi)*(2m)!/(4^m*m!)
        m_start = number(start + shift - mpq(1, 2))
        upper = FACTORIAL(2 * m) / (power(number(4), m) * FACTORIAL(m))
        lower = FACTORIAL(2 * m_start) / (power(number(4), m_start) * FACTORIAL(m_start))
        return upper / lower
    return GAMMA(n + number(shift)) / GAMMA(number(start + shift))
