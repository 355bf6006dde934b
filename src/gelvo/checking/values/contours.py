"""Rational functions times waves over the line, by the residues of one half plane; poles on the line count half.

Source: L. Ahlfors, "Complex Analysis" (1979), section 4.5.3: with C. Jordan's lemma for a quotient that falls as 1/x beside a wave,
and principal values, whose sum is the integral where the whole has no pole on the line.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import IMAGINARY, INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Number, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, EXP, SIN, is_a
from gelvo.simplifying.families.waves import by_multiple_angles


class _Turning(NamedTuple):
    """quotient*exp(1j*(rate*x + phase))."""

    quotient: Expression
    rate: Expression
    phase: Expression


class Pole(NamedTuple):
    place: Expression
    order: int
    rest: Expression  # (x - place)^order times the quotient
    side: int  # of the line: 1 above, 0 on it, -1 below


def residues_over_the_line(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """A sum of rational functions times waves, from minus infinity to infinity."""
    f, lower, upper = question
    if lower is not MINUS_INFINITE or upper is not INFINITE:
        return
    terms = _as_turning(f, x, facts)
    if terms is None:
        return
    found = [_of_one(t, x, facts) for t in terms]
    known = [v for v in found if v is not None]
    if len(known) < len(found):
        return
    on_the_line: dict[Expression, list[Expression]] = {}
    for _, on in known:
        for place, residue in on:
            on_the_line.setdefault(place, []).append(residue)
    if not all(prove_zero(total(residues), facts) for residues in on_the_line.values()):
        return  # the whole has a pole
    yield Value(total([v for v, _ in known]), "residues of a half plane" + (", halves on the line" if on_the_line else ""))


def _as_turning(f: Expression, x: Name, facts: Facts) -> list[_Turning] | None:
    turned = by_multiple_angles(f, facts, False) if any(is_a(n, SIN, COS) and contains(n, x) for n in postorder(f)) else f
    terms: list[_Turning] = []
    for term in terms_of(expand(f if turned is None else turned)):
        waves = [g for g in factors_in(term) if is_a(g, SIN, COS, EXP) and contains(g, x)]
        if len(waves) > 1:
            return None
        outer = term if not waves else factored(term / waves[0])
        if any(isinstance(n, Call) and contains(n, x) for n in postorder(outer)):
            return None
        if not waves:
            terms.append(_Turning(outer, ZERO, ZERO))
            continue
        angle = waves[0].arguments[0] if not is_a(waves[0], EXP) else factored(waves[0].arguments[0] / IMAGINARY)
        line = uni.linear_parts(angle, x)
        if line is None or not (facts.is_positive(line[0]) or facts.is_negative(line[0])):
            return None
        if is_a(waves[0], EXP):
            terms.append(_Turning(outer, *line))
        else:
            half = outer / 2 if is_a(waves[0], COS) else -IMAGINARY * outer / 2
            sign = 1 if is_a(waves[0], COS) else -1
            terms += [_Turning(half, *line), _Turning(sign * half, -line[0], -line[1])]
    return terms


def _of_one(term: _Turning, x: Name, facts: Facts) -> tuple[Expression, list[tuple[Expression, Expression]]] | None:
    """(the principal value of its integral, its poles on the line with their residues)."""
    top, bottom = quotient_parts(factored(term.quotient))
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    still = term.rate is ZERO
    if upper is None or lower is None or len(lower) - len(upper) < (2 if still else 1):
        return None
    poles = poles_of(top, bottom, x, facts)
    if poles is None or any(p.side == 0 and p.order > 1 for p in poles):
        return None
    direction = 1 if still or facts.is_positive(term.rate) else -1
    wave = EXP(IMAGINARY * (term.rate * x + term.phase))
    weights = {direction: 2 * PI * IMAGINARY * direction, 0: PI * IMAGINARY * direction}
    sums = [weights[p.side] * _residue(p, wave, x) for p in poles if p.side in weights]
    return total(sums), [(p.place, _residue(p, wave, x)) for p in poles if p.side == 0]


def _residue(p: Pole, wave: Expression, x: Name) -> Expression:
    return substitute(differentiate(p.rest * wave, x, p.order - 1), {x: p.place}) / number(mpq(fac(p.order - 1)))


def poles_of(top: Expression, bottom: Expression, x: Name, facts: Facts) -> list[Pole] | None:
    """The poles of a quotient whose denominator has linear and quadratic factors, and quartic ones in x^2, with real coefficients."""
    product = factored(bottom)
    outer: list[Expression] = [number(product.coefficient)] if isinstance(product, Product) else []
    roots: list[tuple[Expression, int, int]] = []
    for g in factors_in(product):
        base, k = base_and_exponent(g)
        if not contains(base, x):
            outer.append(g)
            continue
        parts = uni.coefficients_of(base, x)
        if parts is None or len(parts) > 5 or not isinstance(k, Number) or not k.is_whole or not all(map(facts.is_real, parts)):
            return None
        split = _roots(parts, facts)
        if split is None:
            return None
        outer.append(power(parts[-1], k))
        roots += [(r, int(k.rational), side) for r, side in split]
    lead = multiply_all(outer)
    poles = []
    for place, order, side in roots:
        others = [power(x - other, number(-times)) for other, times, _ in roots if other is not place]
        poles.append(Pole(place, order, top / lead * multiply_all(others), side))
    return poles if len({r for r, _, _ in roots}) == len(roots) else None


def _roots(parts: uni.Coefficients, facts: Facts) -> list[tuple[Expression, int]] | None:
    """The roots of a line or of a parabola that does not touch it, each with its side."""
    if len(parts) == 2:
        return [(factored(-parts[0] / parts[1]), 0)]
    if len(parts) > 3:
        return _roots_of_a_quartic(parts, facts)
    c, b, a = parts
    gap = factored(4 * a * c - b * b)
    if not (facts.is_positive(a) or facts.is_negative(a)):
        return None
    size = a if facts.is_positive(a) else -a
    middle = factored(-b / (2 * a))
    if facts.is_negative(gap):
        apart = sqrt(factored(-gap)) / (2 * size)
        return [(middle + apart, 0), (middle - apart, 0)]
    if not facts.is_positive(gap):
        return None
    height = sqrt(gap) / (2 * size)
    return [(middle + IMAGINARY * height, 1), (middle - IMAGINARY * height, -1)]


def _roots_of_a_quartic(parts: uni.Coefficients, facts: Facts) -> list[tuple[Expression, int]] | None:
    """Of a*x^4 + b*x^2 + c by its two quadratic factors: x^2 + p*x + q and x^2 - p*x + q, or two without a middle term."""
    if len(parts) != 5 or not parts[1] is parts[3] is ZERO:
        return None
    c, b = factored(parts[0] / parts[4]), factored(parts[2] / parts[4])
    gap = factored(4 * c - b * b)
    if facts.is_positive(gap):
        q = sqrt(c)
        p = sqrt(factored(2 * q - b))
        factors: list[uni.Coefficients] = [[q, side * p, ONE] for side in (1, -1)]
    elif facts.is_negative(gap) and facts.is_positive(b) and facts.is_positive(c):
        factors = [[(b + side * sqrt(-gap)) / 2, ZERO, ONE] for side in (1, -1)]
    else:
        return None
    found = [_roots(f, facts) for f in factors]
    return None if None in found else [r for roots in found if roots is not None for r in roots]
