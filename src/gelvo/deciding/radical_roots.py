"""Roots of polynomials of degree three and four, and of polynomials in a power, written with radicals.

Sources: G. Cardano, "Ars magna" (1545), with L. Ferrari's quartic; F. Viète's cosines for three real roots.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import constant, number, power
from gelvo.expression.constants import HALF, IMAGINARY
from gelvo.expression.nodes import AlgebraicNumber, Expression, Number
from gelvo.facts.store import Facts
from gelvo.forms.measure import measure
from gelvo.functions.named import ACOS, CBRT, COS, SIN

LONGEST = 60


def radical_form(root: AlgebraicNumber) -> Expression | None:
    """The root with radicals (or with cosines, for a cubic with three real roots), or None where none is short."""
    candidates = [c for c in _candidates([number(mpq(c)) for c in root.coefficients]) if _same(c, root)]
    return candidates[0] if candidates else None


def _same(candidate: Expression, root: AlgebraicNumber) -> bool:
    if measure(candidate) > LONGEST:
        return False
    box = Enclosure(candidate - root).at({}, 256)
    return box.contains_zero()


def _candidates(c: list[Expression]) -> list[Expression]:
    size = len(c) - 1
    steps = [k for k in range(1, size + 1) if size % k == 0 and all(_zero(c[i]) for i in range(size + 1) if i % k)]
    step = max(steps)
    inner = c[::step]
    if len(inner) == 2:
        roots = [-inner[0] / inner[1]]
    elif len(inner) == 3:
        roots = _quadratic(*inner)
    elif len(inner) == 4 and step == 1:
        roots = _cubic(*inner)
    else:
        return []
    return [turn for r in roots for turn in _turned(r, step)] if step > 1 else roots


def _zero(e: Expression) -> bool:
    return isinstance(e, Number) and not e.value


def _quadratic(c: Expression, b: Expression, a: Expression) -> list[Expression]:
    step = power(b * b - 4 * a * c, HALF)
    return [(-b - step) / (2 * a), (-b + step) / (2 * a)]


def _turned(r: Expression, n: int) -> list[Expression]:
    """All n-th roots: the principal one times the roots of unity, each with plain radicals where these exist."""
    if n % 2 and Facts().is_negative(r):
        principal = -power(-r, number(mpq(1, n)))
    else:
        principal = power(r, number(mpq(1, n)))
    result = []
    for k in range(n):
        angle = constant("pi") * mpq(2 * k, n)
        turn = COS(angle) + IMAGINARY * SIN(angle)
        result.append(principal * turn)
    if n % 2 == 0:
        negative = power(-r, number(mpq(1, n)))
        for k in range(n):
            angle = constant("pi") * mpq(2 * k + 1, n)
            turn = COS(angle) + IMAGINARY * SIN(angle)
            result.append(negative * turn)
    return result


def _cubic(d: Expression, c: Expression, b: Expression, a: Expression) -> list[Expression]:
    """Roots of a*x^3 + b*x^2 + c*x + d with rational coefficients, by x = t - b/(3*a)."""
    shift = b / (3 * a)
    p = c / a - b * b / (3 * a * a)
    q = 2 * b**3 / (27 * a**3) - b * c / (3 * a * a) + d / a
    gap = q * q / 4 + p**3 / 27
    assert isinstance(gap, Number) and isinstance(p, Number) and isinstance(q, Number)
    if gap.rational < 0:
        size = 2 * power(-p / 3, HALF)
        angle = ACOS(3 * q / (p * size)) / 3
        return [size * COS(angle - constant("pi") * mpq(2 * k, 3)) - shift for k in range(3)]
    step = power(gap, HALF)
    u, v = CBRT(-q / 2 + step), CBRT(-q / 2 - step)
    turn = IMAGINARY * power(number(3), HALF) / 2 * (u - v)
    middle = -(u + v) / 2 - shift
    return [u + v - shift, middle + turn, middle - turn]
