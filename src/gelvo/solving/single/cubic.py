"""Cubic and quartic equations with letters: by radicals, or by cosines where three real roots have none over the reals.

Sources: G. Cardano, "Ars magna" (1545), with L. Ferrari's solution of the quartic; F. Viète, "De aequationum recognitione" (1615).
"""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, power, relation, sqrt
from gelvo.expression.constants import IMAGINARY, PI, ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names
from gelvo.facts.conditions import nonzero, without_positive_factors, zero_where
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, ACOS, CBRT, COS, SIGN
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
    gap = _against_three(p, q, solver.facts)
    sign = solver.facts.decide(gap)
    found: list[Root] = []
    if sign & (bits.POS | bits.NIL):
        found.append(Root(_by_radicals(p, q), _when(solver, relation("<=", ZERO, gap))))
        if sign & bits.NIL:
            apart = _when(solver, nonzero(p))  # where p = q = 0 the first root is all
            found.append(Root(uni.lowest_terms(-3 * q / (2 * p)), (*_when(solver, zero_where(gap)), *apart)))
        if not sign & ~bits.POSITIVE:
            solver.further += 2
            solver.roads["Cardano's formula"] = None
            return found
    if sign & bits.NEG:
        three = (relation("<", gap, ZERO),)
        found += [Root(value, _when(solver, *three)) for value in _by_cosines(solver, p, q, three)]
    solver.roads["cases of the discriminant: Cardano's formula, or three cosines"] = None
    return found


def _against_three(p: Expression, q: Expression, facts: Facts) -> Expression:
    """Of the sign of 27*q^2 + 4*p^3: negative where t^3 + p*t + q has three real roots."""
    return without_positive_factors(factored(27 * q**2 + 4 * p**3), facts)


def _by_radicals(p: Expression, q: Expression) -> Expression:
    inside = sqrt(expand(q**2 / 4 + p**3 / 27))
    return CBRT(-q / 2 + inside) + CBRT(-q / 2 - inside)


def _by_cosines(solver: Work, p: Expression, q: Expression, where: Sequence[Condition]) -> list[Expression]:
    """Three real roots, the largest first."""
    under = solver.facts.with_facts([*where, relation("<", p, ZERO)])  # three roots need p < 0
    third = ACOS(simplify(3 * q / (2 * p) * sqrt(-3 / p), under).expression) / 3
    size = simplify(2 * sqrt(-p / 3), under).expression
    return [size * COS(third - 2 * PI * number(mpq(k, 3))) for k in range(3)]


def _when(solver: Work, *conditions: Condition) -> tuple[Condition, ...]:
    return tuple(c for condition in conditions for c in solver.condition(condition) or ())


def _complex(solver: Work, p: Expression, q: Expression) -> list[Expression]:
    """All roots of t^3 + p*t + q with p != 0: u - p/(3*u) for the three cube roots u of one number."""
    turns = [number(1), (-1 + IMAGINARY * sqrt(3)) / 2, (-1 - IMAGINARY * sqrt(3)) / 2]
    if p is ZERO:
        return [w * power(-q, number(mpq(1, 3))) for w in turns]
    solver.need(nonzero(p))
    solver.roads["Cardano's formula"] = None
    u = power(-q / 2 + sqrt(expand(q**2 / 4 + p**3 / 27)), number(mpq(1, 3)))
    return [w * u - p * uni.lowest_terms(expand(1 / w)) / (3 * u) if w is not turns[0] else u - p / (3 * u) for w in turns]


def quartic(solver: Work, coefficients: Sequence[Expression], depth: int) -> list[Root]:
    """The roots of a quartic as those of two quadratics in t = x + b/(4*a), by a root of its resolvent cubic."""
    e, d, c, b, a = coefficients
    shift = uni.lowest_terms(b / (4 * a))
    p = uni.lowest_terms((8 * a * c - 3 * b**2) / (8 * a**2))
    q = uni.lowest_terms((b**3 - 4 * a * b * c + 8 * a**2 * d) / (8 * a**3))
    r = uni.lowest_terms((-3 * b**4 + 256 * a**3 * e - 64 * a**2 * b * d + 16 * a * b**2 * c) / (256 * a**4))
    if not solver.real:
        return [Root(v - shift) for v in _complex_quartic(solver, p, q, r)]
    roots = _real_quartic(solver, p, q, r, nonzero(a))
    flat = _case(solver, zero_where(q))
    if flat is not None:
        u = solver.facts.new_name("u", solver.unknown, *coefficients, *solver.taken)
        for root in solver.inner(u**4 + p * u**2 + r, u, depth, solver.unknown + shift):
            roots.append(root._replace(conditions=(*flat, *root.conditions)))
    return [root if root.value is solver.unknown else root._replace(value=root.value - shift) for root in roots]


def _complex_quartic(solver: Work, p: Expression, q: Expression, r: Expression) -> list[Expression]:
    if q is ZERO:  # a quadratic in t^2
        gap = sqrt(uni.lowest_terms(p**2 - 4 * r))
        squares = [(-p + sign * gap) / 2 for sign in (1, -1)]
        return [sign * sqrt(square) for square in squares for sign in (1, -1)]
    solver.need(nonzero(q))
    y = cubic(solver, _resolvent(p, q, r))[0].value
    solver.roads["Ferrari's method"] = None
    root = sqrt(y)
    return [(one * root + two * sqrt(-(2 * p + y + one * 2 * q / root))) / 2 for one in (1, -1) for two in (1, -1)]


def _resolvent(p: Expression, q: Expression, r: Expression) -> list[Expression]:
    """The cubic of which each root is the square of a sum of two roots of t^4 + p*t^2 + q*t + r."""
    return [-(q**2), uni.lowest_terms(p**2 - 4 * r), 2 * p, number(1)]


def _real_quartic(solver: Work, p: Expression, q: Expression, r: Expression, leading: Condition) -> list[Root]:
    """The real roots of t^4 + p*t^2 + q*t + r with q != 0: the largest root y of the resolvent is positive, of two real quadratics.

    Where y is the only real root of the resolvent, t^2 + sign(q)*sqrt(y)*t + … has two roots and the other none; at the border there is
    the double root too; where the resolvent has three, both have two if p < 0 and 4*r < p^2, else none.
    """
    apart = nonzero(q)
    square = uni.lowest_terms(-(p**2 + 12 * r) / 3), uni.lowest_terms(-2 * p**3 / 27 + 8 * p * r / 3 - q**2)
    under = solver.facts.with_facts([c for c in (leading, apart) if names(c)])
    gap = _against_three(*square, under)
    found: list[Root] = []
    few = _case(solver, apart, relation("<=", ZERO, gap))
    if few is not None:
        y = _by_radicals(*square) - 2 * p / 3
        size, side = (simplify(f(q), solver.facts).expression for f in (ABS, SIGN))
        found += [Root((sign * sqrt(2 * size / sqrt(y) - 2 * p - y) - side * sqrt(y)) / 2, few) for sign in (-1, 1)]
    below = uni.lowest_terms(9 * q**2 - 8 * p * r + 2 * p**3)
    simple = under.with_facts([nonzero(below)] if names(below) else [])
    double = _case(solver, apart, _vanishes(gap, simple), nonzero(below))
    if double is not None:
        found.append(Root(uni.lowest_terms(-q * (12 * r + p**2) / below), double))
    outer, inner = (without_positive_factors(factored(g), under) for g in (p, p**2 - 4 * r))
    four = relation("<", gap, ZERO), relation("<", outer, ZERO), relation("<", ZERO, inner)
    many = _case(solver, apart, *four)
    if many is not None:
        y = _by_cosines(solver, *square, four)[0] - 2 * p / 3
        rests = [(side, sqrt(side * 2 * q / sqrt(y) - 2 * p - y)) for side in (1, -1)]
        found += [Root((sign * rest - side * sqrt(y)) / 2, many) for side, rest in rests for sign in (-1, 1)]
    solver.roads["Ferrari's method by cases of the discriminant"] = None
    return found


def _vanishes(gap: Expression, facts: Facts) -> Condition:
    """That a product is zero, without the factors that are not."""
    return zero_where(multiply_all([f for f in factors_in(gap) if not facts.is_nonzero(f)]))


def _case(solver: Work, *conditions: Condition) -> tuple[Condition, ...] | None:
    """What of the conditions is open; None where they cannot hold together."""
    try:
        under = solver.facts.with_facts([c for c in conditions if names(c)])
    except DomainError:
        return None
    kept = [solver.condition(c) for c in conditions]
    if None in kept or False in [under.holds(c) for c in conditions]:
        return None
    return tuple(c for part in kept if part is not None for c in part)
