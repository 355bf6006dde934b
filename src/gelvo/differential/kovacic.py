"""Solutions P*exp(integral of w) of z'' = r*z with rational r, P and w: the first case of Kovacic's algorithm.

Source: J. Kovacic, "An Algorithm for Solving Second Order Linear Homogeneous Differential Equations" (1986), section 3.1.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from math import factorial
from typing import NamedTuple

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression.building import number, power, sqrt, total
from gelvo.expression.constants import HALF, ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Number, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

HIGHEST = 24  # degree of the polynomial that is looked for
MOST_FAMILIES = 512


class Local(NamedTuple):
    """At one place: the part of the square root of r that is singular there, and the exponent, for one of its signs."""

    root: Expression
    exponent: Expression


def rational_exponents(r: Expression, x: Name, facts: Facts) -> Iterator[tuple[Expression, Expression]]:
    """(P, w) of each solution P*exp(integral of w) of z'' = r*z, as far as the poles are zeros of quadratic factors at most.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(e) for e in next(rational_exponents(x**2 + 3, x, Facts()))]
    ['x', 'x']
    """
    places = _places(r, x)
    if places is None:
        return
    finite = [_at_pole(r, x, c, order) for c, order in places]
    far = _far_out(r, x)
    if far is None or any(p is None for p in finite):
        return
    for count, family in enumerate(itertools.product(far, *[p for p in finite if p is not None])):
        checkpoint()
        if count > MOST_FAMILIES:
            return
        found = _with_family(r, x, family, [c for c, _ in places], facts)
        if found is not None:
            yield found


def _places(r: Expression, x: Name) -> list[tuple[Expression, int]] | None:
    """The poles with their orders."""
    found: list[tuple[Expression, int]] = []
    bottom = factored(quotient_parts(factored(r))[1])
    for piece in factors_in(bottom):
        base, times = (piece.base, piece.exponent) if isinstance(piece, Power) else (piece, ONE)
        if not contains(base, x):
            continue
        column = uni.coefficients_of(expand(base), x)
        if column is None or len(column) > 3 or not (isinstance(times, Number) and times.is_whole):
            return None
        found += [(place, int(times.rational)) for place in _zeros(column)]
    return found


def _zeros(column: list[Expression]) -> list[Expression]:
    if len(column) == 2:
        return [uni.lowest_terms(-column[0] / column[1])]
    c, b, a = column
    step = sqrt(expand(b * b - 4 * a * c))
    return [uni.lowest_terms((-b + sign * step) / (2 * a)) for sign in (1, -1)]


def _at_pole(r: Expression, x: Name, c: Expression, order: int) -> list[Local] | None:
    if order == 1:
        return [Local(ZERO, ONE)]
    if order == 2:
        top, bottom = quotient_parts(factored(r))
        return _by_exponents(
            uni.lowest_terms(expand(2 * substitute(top, {x: c}) / substitute(differentiate(expand(bottom), x, 2), {x: c})))
        )
    if order % 2:
        return None
    half = order // 2
    h = x - c
    regular = factored(r * h**order)
    column = _root_series([substitute(differentiate(regular, x, k), {x: c}) / number(factorial(k)) for k in range(half)])
    if column is None:
        return None
    singular = total([column[k] * power(h, number(k - half)) for k in range(half - 1)])
    square = expand(singular**2)
    b = substitute(factored((r - square) * h ** (half + 1)), {x: c})
    return [Local(sign * singular, uni.lowest_terms((sign * b / column[0] + half) / 2)) for sign in (1, -1)]


def _by_exponents(b: Expression) -> list[Local]:
    step = sqrt(expand(1 + 4 * b))
    return [Local(ZERO, uni.lowest_terms(HALF + sign * step / 2)) for sign in ((1, -1) if step is not ZERO else (1,))]


def _root_series(g: list[Expression]) -> list[Expression] | None:
    """The square root of a power series by its coefficients."""
    if not g or g[0] is ZERO:
        return None
    found = [sqrt(expand(g[0]))]
    for k in range(1, len(g)):
        rest = g[k] - total([found[j] * found[k - j] for j in range(1, k)])
        found.append(uni.lowest_terms(rest / (2 * found[0])))
    return found


def _far_out(r: Expression, x: Name) -> list[Local] | None:
    top, bottom = (uni.coefficients_of(expand(p), x) for p in quotient_parts(factored(r)))
    if top is None or bottom is None:
        return None
    order = len(bottom) - len(top)
    if r is ZERO or order > 2:
        return [Local(ZERO, ZERO), Local(ZERO, ONE)]
    if order == 2:
        return _by_exponents(uni.lowest_terms(top[-1] / bottom[-1]))
    if order % 2:
        return []
    half = -order // 2
    inside = factored(substitute(r, {x: 1 / x}) * power(x, number(2 * half)))  # by powers of 1/x
    g = [substitute(differentiate(inside, x, k), {x: ZERO}) / number(factorial(k)) for k in range(half + 1)]
    column = _root_series(g)
    if column is None:
        return None
    growing = total([column[k] * power(x, number(half - k)) for k in range(half + 1)])
    rest, below = (uni.coefficients_of(expand(p), x) for p in quotient_parts(factored(r - expand(growing**2))))
    b: Expression = ZERO
    if rest and below and len(rest) - len(below) == half - 1:
        b = uni.lowest_terms(rest[-1] / below[-1])
    return [Local(sign * growing, uni.lowest_terms((sign * b / column[0] - half) / 2)) for sign in (1, -1)]


def _with_family(
    r: Expression, x: Name, family: tuple[Local, ...], poles: list[Expression], facts: Facts
) -> tuple[Expression, Expression] | None:
    """The solution with one choice of signs, where the exponents leave a whole number for the degree of the polynomial."""
    far, *finite = family
    degree = uni.lowest_terms(far.exponent - total([p.exponent for p in finite]))
    if not (isinstance(degree, Number) and degree.is_whole and 0 <= degree.rational <= HIGHEST):
        return None
    parts = [far.root, *[p.root + p.exponent / (x - c) for p, c in zip(finite, poles, strict=True)]]
    w = factored(total(parts))
    letters = list(itertools.islice(facts.new_names("p", r, x, w), int(degree.rational)))
    polynomial = total([c * x**k for k, c in enumerate(letters)]) + x ** int(degree.rational)
    gap = differentiate(polynomial, x, 2) + 2 * w * differentiate(polynomial, x) + (differentiate(w, x) + w**2 - r) * polynomial
    rows = uni.coefficients_of(expand(quotient_parts(factored(gap))[0]), x)
    if rows is None:
        return None
    for table in _solved([row for row in rows if row is not ZERO], letters, facts):
        return substitute(polynomial, table), w
    return None


def _solved(rows: list[Expression], letters: list[Name], facts: Facts) -> Iterator[dict[Name, Expression]]:
    if not rows:
        yield {}
    elif letters:
        table = linear_rows(rows, letters)
        try:
            solved = solve_linear(table, letters, facts) if table is not None else None
        except DomainError:
            return
        if solved is not None and solved.found and not solved.conditions:
            yield {n: simplify(v, facts).expression for n, v in solved.found[0].values.items()}
