"""Cubic and quartic equations with letters: by radicals, or by cosines where three real roots have none over the reals.

Sources: G. Cardano, "Ars magna" (1545), with L. Ferrari's solution of the quartic; F. Viète, "De aequationum recognitione" (1615).
"""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import number, power, relation, sqrt
from gelvo.expression.constants import IMAGINARY, PI, ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.facts.conditions import nonzero, without_positive_factors, zero_where
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ACOS, CBRT, COS
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


def cubic(solver: Work, coefficients: Sequence[Expression]) -> list[Root]:
    """The roots of d + c*x + b*x^2 + a*x^3 by x = t - b/(3*a): over the reals by the sign of the discriminant."""
    d, c, b, a = coefficients
    shift = uni.lowest_terms(b / (3 * a))
    p = uni.lowest_terms((3 * a * c - b**2) / (3 * a**2))
    q = uni.lowest_terms((2 * b**3 - 9 * a * b * c + 27 * a**2 * d) / (27 * a**3))
    if p is ZERO and solver.real:
        solver.further += 2
        solver.roads["roots"] = None
        return [Root(CBRT(-q) - shift)]
    roots = _real(solver, p, q) if solver.real else [Root(v) for v in _complex(solver, p, q)]
    return [r._replace(value=r.value - shift) for r in roots]


def _real(solver: Work, p: Expression, q: Expression) -> list[Root]:
    """The real roots of t^3 + p*t + q: one where 27*q^2 + 4*p^3 > 0, three where it is negative."""
    gap = without_positive_factors(factored(27 * q**2 + 4 * p**3), solver.facts)
    sign = solver.facts.decide(gap)
    found: list[Root] = []
    if sign & (bits.POS | bits.NIL):
        inside = sqrt(expand(q**2 / 4 + p**3 / 27))
        found.append(Root(CBRT(-q / 2 + inside) + CBRT(-q / 2 - inside), _when(solver, relation("<=", ZERO, gap))))
        if sign & bits.NIL:
            apart = _when(solver, nonzero(p))  # where p = q = 0 the first root is all
            found.append(Root(uni.lowest_terms(-3 * q / (2 * p)), (*_when(solver, zero_where(gap)), *apart)))
        if not sign & ~bits.POSITIVE:
            solver.further += 2
            solver.roads["Cardano's formula"] = None
            return found
    if sign & bits.NEG:
        under = solver.facts.with_facts([relation("<", gap, ZERO), relation("<", p, ZERO)])  # the first needs the second
        third = ACOS(simplify(3 * q / (2 * p) * sqrt(-3 / p), under).expression) / 3
        size = simplify(2 * sqrt(-p / 3), under).expression
        swings = [size * COS(third - 2 * PI * number(mpq(k, 3))) for k in range(3)]
        found += [Root(value, _when(solver, relation("<", gap, ZERO))) for value in swings]
    solver.roads["cases of the discriminant: Cardano's formula, or three cosines"] = None
    return found


def _when(solver: Work, condition: Condition) -> tuple[Condition, ...]:
    return solver.condition(condition) or ()


def _complex(solver: Work, p: Expression, q: Expression) -> list[Expression]:
    """All roots of t^3 + p*t + q with p != 0: u - p/(3*u) for the three cube roots u of one number."""
    turns = [number(1), (-1 + IMAGINARY * sqrt(3)) / 2, (-1 - IMAGINARY * sqrt(3)) / 2]
    if p is ZERO:
        return [w * power(-q, number(mpq(1, 3))) for w in turns]
    solver.need(nonzero(p))
    solver.roads["Cardano's formula"] = None
    u = power(-q / 2 + sqrt(expand(q**2 / 4 + p**3 / 27)), number(mpq(1, 3)))
    return [w * u - p * uni.lowest_terms(expand(1 / w)) / (3 * u) if w is not turns[0] else u - p / (3 * u) for w in turns]


def quartic(solver: Work, coefficients: Sequence[Expression]) -> list[Root]:
    """All complex roots of a quartic by a root m of its resolvent cubic: with t = x + b/(4*a) two quadratics in t."""
    e, d, c, b, a = coefficients
    shift = uni.lowest_terms(b / (4 * a))
    p = uni.lowest_terms((8 * a * c - 3 * b**2) / (8 * a**2))
    q = uni.lowest_terms((b**3 - 4 * a * b * c + 8 * a**2 * d) / (8 * a**3))
    r = uni.lowest_terms((-3 * b**4 + 256 * a**3 * e - 64 * a**2 * b * d + 16 * a * b**2 * c) / (256 * a**4))
    if q is ZERO:  # a quadratic in t^2
        gap = sqrt(uni.lowest_terms(p**2 - 4 * r))
        squares = [(-p + sign * gap) / 2 for sign in (1, -1)]
        return [Root(sign * sqrt(square) - shift) for square in squares for sign in (1, -1)]
    solver.need(nonzero(q))
    m = cubic(solver, [-(q**2) / 8, p**2 / 4 - r, p, number(1)])[0].value
    solver.roads["Ferrari's method"] = None
    root = sqrt(2 * m)
    return [
        Root((one * root + two * sqrt(-(2 * p + 2 * m + one * 2 * q / root))) / 2 - shift) for one in (1, -1) for two in (1, -1)
    ]
