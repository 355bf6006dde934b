"""Inverse transforms of a polynomial over an irreducible one of degree three or more: exact sums over all its roots.

Letters are taken out of the roots where they only stretch them all: those of m^2*s^4 + 5*k*m*s^2 + k^2 are sqrt(k/m) times numbers.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.transforms.pattern import Unknown
from gelvo.expression import known as bits
from gelvo.expression.building import number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Expression, Name, Number, Product
from gelvo.expression.traversal import fresh_name, names
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.univariate import Coefficients, integer_coefficients, lowest_terms
from gelvo.functions.named import COS, COSH, EXP, IM, RE, SIN, SINH
from gelvo.spectra.over_roots import parts_of, shown_roots, upper_roots


def response_of_roots(digit: Coefficients, base: Coefficients, t: Name, facts: Facts) -> Expression:
    """The function of t whose transform is digit(s)/base(s); Unknown where the roots have no form here.

    >>> from gelvo.expression.building import name
    >>> m, k = name("m", "positive"), name("k", "positive")
    >>> print(stretched([k**2, ZERO, 5*k*m, ZERO, m**2], Facts())[1])
    sqrt(k)/sqrt(m)
    """
    found = stretched(base, facts)
    if found is None:
        raise Unknown
    numbers, stretch = found
    size = lowest_terms(1 / (base[-1] * power(stretch, number(len(base) - 2))))
    scaled = [lowest_terms(d * power(stretch, number(j)) * size) for j, d in enumerate(digit)]
    time = stretch * t
    if not any(c is not ZERO for c in numbers[1::2]):
        squares = _of_squares(scaled, numbers[::2], time, facts)
        if squares is not None:
            return squares
    return _of_all(scaled, numbers, time, facts)


def stretched(base: Coefficients, facts: Facts) -> tuple[Coefficients, Expression] | None:
    """(rational coefficients with 1 before the highest power, the positive factor of all roots); None for other letters."""
    top = len(base) - 1
    shares = {top - k: lowest_terms(c / base[-1]) for k, c in enumerate(base[:-1]) if c is not ZERO}
    stretch: Expression = ONE
    if any(names(c) for c in shares.values()):
        step = min(shares)
        unit = _without_number(shares[step])
        if not facts.is_positive(unit):
            return None
        stretch = _root(unit, step)
        shares = {k: lowest_terms(c / _root(unit, mpq(step, k))) for k, c in shares.items()}
    if not all(isinstance(c, Number) and c.is_rational for c in shares.values()):
        return None
    return [shares.get(top - k, ZERO) for k in range(top)] + [ONE], stretch


def _root(unit: Expression, degree: int | mpq) -> Expression:
    return sqrt(unit) if degree == 2 else power(unit, number(1 / mpq(degree)))


def _without_number(e: Expression) -> Expression:
    return e / number(e.coefficient) if isinstance(e, Product) else e


def _weights(digit: Coefficients, base: Coefficients) -> Coefficients:
    """digit/base' at the roots of base, as a polynomial in the root."""
    slope = [c * number(k) for k, c in enumerate(base)][1:]
    return uni.divide(uni.multiply(uni.trim(list(digit)), uni.inverse_modulo(slope, base)), base)[1]


def _roots(base: Coefficients, facts: Facts) -> list[Expression] | None:
    mark = fresh_name("s", *base)
    whole = integer_coefficients(uni.expression_of(base, mark), mark)
    return None if whole is None else shown_roots(base, mark, facts)


def _of_squares(digit: Coefficients, base: Coefficients, time: Expression, facts: Facts) -> Expression | None:
    """digit(s)/base(s^2) where base has real roots: plain waves for negative ones, hyperbolic ones for positive ones."""
    roots = _roots(base, facts)
    if roots is None or not all(bits.is_real(r.known) for r in roots):
        return None
    even, odd = _weights(digit[::2], base), _weights(digit[1::2], base)
    terms: list[Expression] = []
    for root in roots:
        falling = bits.is_negative(root.known)
        rate = sqrt(-root if falling else root)
        cosine, sine = (COS(rate * time), SIN(rate * time)) if falling else (COSH(rate * time), SINH(rate * time))
        terms += [_at(odd, root) * cosine, _at(even, root) * sine / rate]
    return total(terms)


def _at(weights: Coefficients, root: Expression) -> Expression:
    return total([w * power(root, number(k)) for k, w in enumerate(weights)])


def _of_all(digit: Coefficients, base: Coefficients, time: Expression, facts: Facts) -> Expression:
    roots = _roots(base, facts)
    if roots is None:
        raise Unknown
    weights = _weights(digit, base)
    terms: list[Expression] = []
    for root, real, imag in upper_roots(roots, facts):
        if imag is ZERO:
            terms.append(_at(weights, root) * EXP(real * time))
            continue
        powers = [_real_and_imaginary(root, k, facts) for k in range(len(weights))]
        over, across = (total([w * p[side] for w, p in zip(weights, powers, strict=True)]) for side in (0, 1))
        terms.append(EXP(real * time) * (2 * over * COS(imag * time) - 2 * across * SIN(imag * time)))
    return total(terms)


def _real_and_imaginary(root: Expression, k: int, facts: Facts) -> tuple[Expression, Expression]:
    if k == 0:
        return ONE, ZERO
    whole = power(root, number(k))
    return (RE(whole), IM(whole)) if isinstance(root, AlgebraicNumber) else parts_of(whole, facts)
