"""The poles of rational functions: places, orders, and what the denominator is without them."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.deciding.algebraic import all_roots
from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import IMAGINARY as I
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import integer_coefficients
from gelvo.functions.named import ABS
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.prepare import prepared


class Pole(NamedTuple):
    """A place with its order; `others`: the denominator without (x - place)^order."""

    place: Expression
    order: int
    others: Expression


def upper_poles(bottom: Expression, x: Name, facts: Facts) -> tuple[list[Pole], list[Pole]] | None:
    """(the poles above the real line, those on it); None where a factor is not understood."""
    above: list[Pole] = []
    on: list[Pole] = []
    factors = factored(bottom)
    for g in factors_in(factors):
        base, k = base_and_exponent(g)
        if not contains(base, x):
            continue
        parts = uni.coefficients_of(base, x)
        if parts is None or not isinstance(k, Number) or not k.is_whole:
            return None
        rest = factors / g
        if len(parts) == 2 and facts.is_real(parts[0] / parts[1]):
            on.append(Pole(factored(-parts[0] / parts[1]), int(k.rational), rest * parts[1] ** k))
            continue
        crossed = _crossings(parts, facts) if len(parts) == 3 else []
        on += [Pole(place, int(k.rational), rest * _without_root(parts, x, place) ** k) for place in crossed]
        if crossed:
            continue
        found = _pole_of_a_square(parts, facts) if len(parts) == 3 else _poles_of_a_factor(base, x, facts)
        if found is None or (len(parts) != 3 and k.rational != 1):
            return None
        above += [Pole(pole, int(k.rational), rest * _without_root(parts, x, pole) ** k) for pole in found]
    return above, on


def _without_root(parts: uni.Coefficients, x: Name, root: Expression) -> Expression:
    """A polynomial over x - root, by the rule of Horner."""
    quotient = [parts[-1]]
    for c in reversed(parts[1:-1]):
        quotient.append(c + root * quotient[-1])
    return total([c * x**k for k, c in enumerate(reversed(quotient))])


def _pole_of_a_square(parts: uni.Coefficients, facts: Facts) -> list[Expression] | None:
    c, b, a = parts
    gap = factored(4 * a * c - b * b)
    if not facts.is_positive(gap):
        return None
    size = ABS(a) if not facts.is_positive(a) else a
    return [factored(-b / (2 * a)) + I * factored(prepared(sqrt(gap), facts, waves=False) / (2 * size))]


def _crossings(parts: uni.Coefficients, facts: Facts) -> list[Expression]:
    """The two real zeros of a parabola; none where it is not known to have two."""
    c, b, a = parts
    gap = factored(b * b - 4 * a * c)
    if not facts.is_positive(gap) or not (facts.is_real(b) and facts.is_nonzero(a)):
        return []
    root = prepared(sqrt(gap), facts, waves=False)
    return [factored(-b / (2 * a)) + side * factored(root / (2 * a)) for side in (1, -1)]


def _poles_of_a_factor(base: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    """Of a quartic in x^2, or of a factor with whole coefficients and no real root."""
    parts = uni.coefficients_of(base, x)
    if parts is not None and len(parts) == 5 and parts[1] is parts[3] is ZERO:
        return _poles_of_a_quartic(parts[0] / parts[4], parts[2] / parts[4], facts)
    whole = integer_coefficients(base, x)
    roots = [] if whole is None else all_roots(whole)
    if whole is None or any(map(facts.is_real, roots)):
        return None
    return [r for r in roots if facts.is_positive(real_and_imaginary(r, facts)[1])]


def _poles_of_a_quartic(c: Expression, b: Expression, facts: Facts) -> list[Expression] | None:
    """Of x^4 + b*x^2 + c above the real line: two beside each other, or two upon each other."""
    gap = factored(4 * c - b * b)

    def root(e: Expression) -> Expression:
        return prepared(sqrt(factored(e)), facts, waves=False)

    if facts.is_positive(gap):
        size = 2 * root(c)
        return [side * root(size - b) / 2 + I * root(size + b) / 2 for side in (1, -1)]
    if facts.is_negative(gap) and facts.is_positive(b) and facts.is_positive(c):
        return [I * root((b + side * root(-gap)) / 2) for side in (1, -1)]
    return None
