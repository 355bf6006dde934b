"""Sums of rational terms by the series of digamma and its derivatives, one for each pole.

The sum of w/(k - p) over poles whose w add up to zero is that of -w*digamma(lower - p); of w/(k - p)^m it is
w*(-1)^m/(m - 1)!*polygamma(m - 1, lower - p). Source: DLMF 5.7.6, 5.15.1; zeta by its definition, DLMF 25.2.1.
"""

from __future__ import annotations

from gmpy2 import fac, mpq

from gelvo.calculus.sums.rates import fall_of_quotient, geometric_rate
from gelvo.checking.certificate import PROVED, REFUTED, Certificate
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import DIGAMMA, POLYGAMMA, ZETA
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.rules.signs import whole_part
from gelvo.simplifying.partial_fractions import split_fraction


def by_polygamma(term: Expression, k: Name, lower: int, value: Expression, facts: Facts, claim: str) -> Certificate | None:
    """The certificate of a sum of a rational term, or of one with alternating signs; None for any other."""
    try:
        known = facts.without(k)
        found = _of_a_power(term, k, lower, known) or _of_poles(term, k, lower, known)
        same = None if found is None else decide_zero(found[0] - value, known).zero
    except (GelvoError, ArithmeticError):
        return None
    if found is None or same is None:
        return None
    evidence = {"sum": found[0], "established": found[1]}
    return Certificate(claim, PROVED if same else REFUTED, "the series of digamma and its derivatives", evidence)


def _of_a_power(term: Expression, k: Name, lower: int, facts: Facts) -> tuple[Expression, str] | None:
    """c/k^s with s > 1."""
    moving = [f for f in factors_in(term) if contains(f, k)]
    base, exponent = base_and_exponent(moving[0]) if len(moving) == 1 else (ONE, ONE)
    if base is not k or contains(exponent, k) or lower < 1 or not facts.is_positive(-exponent - 1):
        return None
    early = total([power(number(j), exponent) for j in range(1, lower)])
    return term / moving[0] * (ZETA(-exponent) - early), "the definition of zeta, whose exponent is above 1"


def _of_poles(term: Expression, k: Name, lower: int, facts: Facts) -> tuple[Expression, str] | None:
    rate = geometric_rate(term, k)
    if rate in (None, ONE):
        return _rational(factored(term), k, lower, facts)
    if rate is not number(-1):
        return None
    plain = factored(term / power(number(-1), k))
    if not (fall_of_quotient(plain, k) or 0) > 0:
        return None
    pairs = [substitute(plain, {k: 2 * k + (lower + j)}) for j in (0, 1)]  # the terms go to zero: they may be taken in pairs
    found = _rational(factored(pairs[0] - pairs[1]), k, 0, facts)
    return None if found is None else (number((-1) ** (lower % 2)) * found[0], found[1])


def _rational(rational: Expression, k: Name, lower: int, facts: Facts) -> tuple[Expression, str] | None:
    """The sum of a quotient of polynomials that falls like 1/k^2."""
    if not (fall_of_quotient(rational, k) or 0) > 1:
        return None
    parts = _parts(rational, k, facts)
    if parts is None or not all(_has_no_pole(lower - p, facts) for _, p, _ in parts):
        return None
    residues = total([w for w, _, m in parts if m == 1])
    identity = total([w / power(k - p, number(m)) for w, p, m in parts]) - rational
    if decide_zero(residues, facts).zero is not True or decide_zero(identity, facts).zero is not True:
        return None
    return total([_series(w, lower - p, m) for w, p, m in parts]), "the partial fractions; that their residues add up to zero"


def _series(w: Expression, place: Expression, m: int) -> Expression:
    if m == 1:
        return -w * DIGAMMA(place)
    return w * number(mpq((-1) ** m, fac(m - 1))) * POLYGAMMA(number(m - 1), place)


def _has_no_pole(place: Expression, facts: Facts) -> bool:
    """Whether no whole number from here on meets the pole; where letters decide it, terms and value lack a value at the same ones."""
    if facts.is_positive(place) or names(place):
        return True
    real, imaginary = real_and_imaginary(place, facts)
    if imaginary is not ZERO:
        return facts.is_nonzero(imaginary)
    return whole_part(real, False) is not None  # told for what lies between two whole numbers


def _parts(rational: Expression, k: Name, facts: Facts) -> list[tuple[Expression, Expression, int]] | None:
    """Partial fractions over linear factors, those of quadratic ones included."""
    _, _, factors = split_fraction(rational, k)
    found: list[tuple[Expression, Expression, int]] = []
    for base, times in factors:
        for pole, other in zeros_of(base):
            plain = factored(rational * power(uni.expression_of(base, k), number(times)))
            plain = plain / power(base[-1], number(times))
            if other is not None:
                plain = plain / power(k - other, number(times))
            for j in range(times):
                slope = differentiate(plain, k, j) if j else plain
                found.append((substitute(slope, {k: pole}) / number(fac(j)), pole, times - j))
    return found


def zeros_of(base: uni.Coefficients) -> list[tuple[Expression, Expression | None]]:
    """(zero, the other one) of a factor of degree one or two; GelvoError for any other."""
    if len(base) == 2:
        return [(uni.lowest_terms(-base[0] / base[1]), None)]
    if len(base) != 3:
        raise GelvoError("a factor of higher degree")
    middle = uni.lowest_terms(-base[1] / (2 * base[2]))
    root = sqrt(expand(middle**2 - base[0] / base[2]))
    return [(middle + root, middle - root), (middle - root, middle + root)]
