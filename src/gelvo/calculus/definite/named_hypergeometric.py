"""Hypergeometric series pFq(upper; lower; w) by the names they have: powers, waves, Bessel, error and elliptic functions, logarithms.

Source: DLMF 13.6 (Kummer), 15.4 (Gauss, elementary cases and the value at 1), 10.16.9 and 10.39.9 (Bessel), 19.5.1 (elliptic).
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.expression.building import call, number, power, sqrt, total
from gelvo.expression.constants import HALF, ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Number
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.functions.named import (
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    BESSELI,
    BESSELJ,
    COS,
    COSH,
    ELLIPE,
    ELLIPK,
    ERF,
    ERFI,
    EXP,
    GAMMA,
    GAMMA_INC,
    HYP0F1,
    HYP1F1,
    HYP2F1,
    LN,
    SIN,
    SINH,
)

Parameters = tuple[Expression, ...]


def named(upper: list[Expression], lower: list[Expression], w: Expression, facts: Facts) -> Expression | None:
    """The function with its name, its record's name where it has none of its own; None for series without a record."""
    upper, lower = _without_pairs(upper, lower)
    if w is ZERO or ZERO in upper:
        return ONE
    if not lower and not upper:
        return EXP(w)
    if not lower and len(upper) == 1:
        return power(factored(1 - w), -upper[0])
    if upper == [ONE] * 3 and len(lower) == 2 and set(lower) == {number(2), number(3) / 2}:
        return _squared_arcsine(w, facts)
    rows = {(0, 1): _bessel, (1, 1): _kummer, (2, 1): _gauss}.get((len(upper), len(lower)))
    return None if rows is None else rows(tuple(upper), lower[0], w, facts)


def _squared_arcsine(w: Expression, facts: Facts) -> Expression | None:
    """3F2(1, 1, 1; 3/2, 2; w) (J. Borwein, M. Chamberland, "Integer powers of arcsin", 2007)."""
    root, sign = _size(w, facts)
    return ((ASIN if sign > 0 else ASINH)(root) / root) ** 2 if sign else None


def _without_pairs(upper: list[Expression], lower: list[Expression]) -> tuple[list[Expression], list[Expression]]:
    """Equal parameters above and below cancel."""
    left, rest = list(lower), []
    for a in upper:
        mate = next((b for b in left if factored(a - b) is ZERO), None)
        if mate is None:
            rest.append(a)
        else:
            left.remove(mate)
    return rest, left


def _size(w: Expression, facts: Facts) -> tuple[Expression, int]:
    """(sqrt(|w|), sign of w), the sign 0 where it is not known."""
    if facts.is_negative(w):
        return _root(factored(-w)), -1
    return (_root(w), 1) if facts.is_positive(w) else (ZERO, 0)


def _root(w: Expression) -> Expression:
    return sqrt(factored(w))


def _bessel(upper: Parameters, b: Expression, w: Expression, facts: Facts) -> Expression:
    """0F1 by J for w < 0, by I for w > 0."""
    root, sign = _size(w, facts)
    if not sign:
        return call(HYP0F1, b, w)
    t = 2 * root
    if b is HALF:
        return (COS if sign < 0 else COSH)(t)
    if b is number(3) / 2:
        return (SIN if sign < 0 else SINH)(t) / t
    return GAMMA(b) * power(root, 1 - b) * (BESSELJ if sign < 0 else BESSELI)(b - 1, t)


def _kummer(upper: Parameters, b: Expression, w: Expression, facts: Facts) -> Expression:
    (a,) = upper
    root, sign = _size(w, facts)
    if a is HALF and b is number(3) / 2 and sign:
        return sqrt(PI) * (ERF if sign < 0 else ERFI)(root) / (2 * root)
    if factored(b - a - 1) is ZERO and sign < 0:  # the lower incomplete gamma function
        return a * power(-w, -a) * (GAMMA(a) - GAMMA_INC(a, -w))
    if factored(b - 2 * a) is ZERO and sign:
        return EXP(w / 2) * GAMMA(a + HALF) * power(root**2 / 4, HALF - a) * BESSELI(a - HALF, root**2 / 2)
    if _natural(factored(a - b)):  # Kummer's transformation: exp(w) times a series that ends
        return EXP(w) * _ending(factored(b - a), b, -w)
    return call(HYP1F1, a, b, w)


def _ending(a: Expression, b: Expression, w: Expression) -> Expression:
    """1F1(a; b; w) for a = 0, -1, -2, …"""
    term, terms = ONE, [ONE]
    while (shift := factored(a + len(terms) - 1)) is not ZERO:
        term = term * shift / (b + len(terms) - 1) * w / len(terms)
        terms.append(term)
    return total(terms)


def _natural(e: Expression) -> bool:
    return isinstance(e, Number) and e.is_whole and e.rational >= 0


# (a, b, c) -> the value at w = t^2 > 0 and at w = -t^2, by t
Row = Callable[[Expression], Expression]
GAUSS: dict[tuple[Expression, Expression, Expression], tuple[Row, Row]] = {
    (HALF, ONE, number(3) / 2): (lambda t: ATANH(t) / t, lambda t: ATAN(t) / t),
    (HALF, HALF, number(3) / 2): (lambda t: ASIN(t) / t, lambda t: ASINH(t) / t),
    (ONE, ONE, number(2)): (lambda t: -LN(1 - t**2) / t**2, lambda t: LN(1 + t**2) / t**2),
    (HALF, HALF, ONE): (lambda t: 2 * ELLIPK(t**2) / PI, lambda t: 2 * ELLIPK(-(t**2)) / PI),
    (-HALF, HALF, ONE): (lambda t: 2 * ELLIPE(t**2) / PI, lambda t: 2 * ELLIPE(-(t**2)) / PI),
}


def _gauss(upper: Parameters, c: Expression, w: Expression, facts: Facts) -> Expression | None:
    a, b = upper
    if w is ONE:
        return GAMMA(c) * GAMMA(c - a - b) / (GAMMA(c - a) * GAMMA(c - b)) if facts.is_positive(c - a - b) else None
    root, sign = _size(w, facts)
    for first, second in ((a, b), (b, a)):
        row = GAUSS.get((first, second, c))
        if row is not None and sign:
            return row[0 if sign > 0 else 1](root)
        if factored(second - first - HALF) is ZERO:
            found = _half_apart(first, c, w, root, sign)
            if found is not None:
                return found
    if factored(c - a) is not ZERO and _natural(a - c):
        a, b = b, a
    if _natural(b - c) or _natural(a - c):  # Euler's: a power times one that ends
        return power(1 - w, factored(c - a - b)) * call(HYP2F1, factored(c - a), factored(c - b), c, w)
    return call(HYP2F1, a, b, c, w)


def _half_apart(a: Expression, c: Expression, w: Expression, root: Expression, sign: int) -> Expression | None:
    """The parameters a, a + 1/2 (DLMF 15.4.7 to 15.4.9, 15.4.17, 15.4.18)."""
    if factored(c - 2 * a - 1) is ZERO:
        return power(HALF + sqrt(factored(1 - w)) / 2, -2 * a)
    if factored(c - 2 * a) is ZERO:
        return power(HALF + sqrt(factored(1 - w)) / 2, 1 - 2 * a) / sqrt(factored(1 - w))
    if c is HALF and sign < 0:
        return COS(2 * a * ATAN(root)) / power(1 + root**2, a)
    if c is number(3) / 2 and sign < 0 and a is not HALF:
        return SIN((2 * a - 1) * ATAN(root)) / ((2 * a - 1) * root * power(1 + root**2, a - HALF))
    return None
