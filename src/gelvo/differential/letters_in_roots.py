"""Characteristic polynomials with letters taken apart into real factors: s^n = c, and quadratics in s^2."""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression.building import number, power, relation, sqrt
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Expression
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS
from gelvo.simplifying.search import simplify


class Factors(NamedTuple):
    """Linear and quadratic factors, and facts that follow from those that tell them apart."""

    bases: list[uni.Coefficients]
    facts: Facts


def decisive(base: uni.Coefficients) -> Expression | None:
    """What is positive where no root is real: of a quadratic, of a*s^4 + b*s^2 + c, of a*s^n + c; None for other polynomials."""
    if len(base) == 3:
        return factored(4 * base[0] * base[2] - base[1] ** 2)
    if all(c is ZERO for c in base[1:-1]):
        return factored(base[0] * base[-1])
    if len(base) == 5 and base[1] is base[3] is ZERO:
        return factored(4 * base[0] * base[4] - base[2] ** 2)
    return None


def real_factors(base: uni.Coefficients, facts: Facts) -> Factors | None:
    """The real factors of a polynomial with letters; None where they are not known, or a sign that decides is not."""
    if all(c is ZERO for c in base[1:-1]):
        return _of_power(base, facts)
    return _of_square(base, facts) if len(base) == 5 and base[1] is base[3] is ZERO else None


def _of_power(base: uni.Coefficients, facts: Facts) -> Factors | None:
    """a*s^n + c: the n-th roots of -c/a."""
    n, right = len(base) - 1, uni.lowest_terms(-base[0] / base[-1])
    sign = 1 if facts.is_positive(right) else -1 if facts.is_negative(right) else 0
    if not sign:
        return None
    size = simplify(power(sign * right, number(mpq(1, n))), facts).expression
    bases: list[uni.Coefficients] = []
    for k in range(n // 2 + 1):
        turn = mpq(2 * k, n) if sign > 0 else mpq(2 * k + 1, n)  # the angle over pi
        if turn in (0, 1):
            bases.append([-size if turn == 0 else size, ONE])
        elif turn < 1:
            bases.append([size**2, -2 * size * COS(number(turn) * PI), ONE])
    return Factors(bases, facts.with_facts([relation("<", ZERO, size)]))


def _of_square(base: uni.Coefficients, facts: Facts) -> Factors | None:
    """a*s^4 + b*s^2 + c by the two values of s^2, or by two quadratics where these are complex."""
    product, middle = uni.lowest_terms(base[0] / base[4]), uni.lowest_terms(base[2] / base[4])
    gap = decisive(base)
    if gap is None:
        return None
    if facts.is_positive(gap):  # then the product is positive too
        size = simplify(sqrt(product), facts).expression
        step = simplify(sqrt(2 * size - middle), facts).expression
        follows = [relation("<", ZERO, 2 * size - middle), relation("<", ZERO, 2 * size + middle), relation("<", ZERO, size)]
        return Factors([[size, sign * step, ONE] for sign in (1, -1)], facts.with_facts(follows))
    if not facts.is_negative(gap):
        return None
    step = simplify(sqrt(middle**2 - 4 * product), facts).expression
    squares = [(-middle + sign * step) / 2 for sign in (1, -1)]
    follows = [relation("<", squares[1], squares[0])]
    if facts.is_positive(product) and facts.is_nonzero(middle):
        up = facts.is_negative(middle)
        follows += [relation("<", *((ZERO, q) if up else (q, ZERO))) for q in squares]
    elif facts.is_negative(product):
        follows += [relation("<", ZERO, squares[0]), relation("<", squares[1], ZERO)]
    else:
        return None
    return Factors([[-q, ZERO, ONE] for q in squares], facts.with_facts(follows))
