"""Logarithms split where signs allow, and Lambert's W."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.constants import HALF, IMAGINARY, ONE
from gelvo.expression.nodes import Expression, Number, Power, Product, Sum
from gelvo.functions.named import ATAN2, EXP, LAMBERTW, LAMBERTW_LOWER, LN, is_a
from gelvo.normal.arguments import as_argument, factors_of, is_even, is_odd
from gelvo.normal.rules.signs import absolute
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import Gaussian, parts, small_factors


@rule(LN)
def logarithm(work: Work, x: Expression) -> Expression:
    """The logarithm of a product split where signs allow, of integers into primes."""
    if isinstance(x, Number):
        return _of_number(work, x)
    turned = _of_conjugate(x)
    if turned is not None:
        return _of_number(work, turned[0]) - LN(turned[1])
    content, factors = factors_of(x)
    if content == 0:
        return LN(x)
    outside: list[Expression] = []
    inside: list[Expression] = [number(-1)] if content < 0 else []
    if abs(content) != 1:
        outside.append(logarithm(work, number(abs(content))))
    for base, exponent in factors:
        mask = work.facts.decide(base)
        if bits.is_positive(mask) and work.facts.is_real(exponent):
            outside.append(multiply_all((exponent, _ln_of_size(work, base, base))))
        elif bits.is_real(mask) and is_even(exponent):
            outside.append(multiply_all((exponent, LN(absolute(work, base)))))
        elif bits.is_negative(mask) and is_odd(exponent):
            inside.append(number(-1))
            outside.append(multiply_all((exponent, _ln_of_size(work, base, as_argument(-base, work.facts)))))
        else:
            inside.append(power(base, exponent))
    rest = multiply_all(inside)
    if rest is not ONE:
        outside.append(LN(as_argument(rest, work.facts)))
    return total(outside)


def _of_number(work: Work, x: Number) -> Expression:
    if x.is_rational and x.rational > 0:
        pieces = []
        for integer, factor in ((x.rational.numerator, 1), (x.rational.denominator, -1)):
            for prime, times in small_factors(integer):
                pieces.append(scale(LN(number(mpq(prime))), mpq(factor * times)))
        return total(pieces)
    real, imag = parts(x.value)
    if imag:  # the principal logarithm of a complex number
        size = logarithm(work, number(real * real + imag * imag)) / 2
        return size + IMAGINARY * ATAN2(number(imag), number(real))
    return LN(x)


def _of_conjugate(x: Expression) -> tuple[Number, Expression] | None:
    """(n, c + d) for a positive c - d with a rational c and a square root d, where (c - d)*(c + d) = n: ln(2 - sqrt(3)) is -ln(2 + sqrt(3))."""
    if not isinstance(x, Sum) or len(x.terms) != 1 or not x.constant or isinstance(x.constant, Gaussian):
        return None
    (root, share), constant = next(iter(x.items())), mpq(x.constant)
    if not (isinstance(root, Power) and root.exponent is HALF and root.base.is_rational and root.base.rational > 0):
        return None
    if isinstance(share, Gaussian) or (constant > 0) == (share > 0):
        return None
    size = constant**2 - share**2 * root.base.rational
    if (constant > 0) != (size > 0):  # the value is negative
        return None
    positive = number(abs(constant)) + number(abs(share)) * root
    return number(abs(size)), positive


def _ln_of_size(work: Work, base: Expression, size: Expression) -> Expression:
    """The logarithm of a positive size = base or -base; of w = W(z), which is real, it is ln(z/w*size) - w, as exp(w) = z/w."""
    if is_a(base, LAMBERTW, LAMBERTW_LOWER):
        z = base.arguments[0]
        return logarithm(work, z if size is base else -z) - base
    return LN(size)


@rule(LAMBERTW)
def _lambertw(work: Work, x: Expression) -> Expression:
    """W(y*exp(y)) is y for y >= -1."""
    y = _beside_own_exponential(x)
    return y if y is not None and work.facts.is_nonnegative(y + 1) else LAMBERTW(x)


@rule(LAMBERTW_LOWER)
def _lambertw_lower(work: Work, x: Expression) -> Expression:
    """The lower branch of y*exp(y) is y for y <= -1."""
    y = _beside_own_exponential(x)
    return y if y is not None and work.facts.is_nonpositive(y + 1) else LAMBERTW_LOWER(x)


def _beside_own_exponential(x: Expression) -> Expression | None:
    """y where x is y*exp(y)."""
    if not isinstance(x, Product):
        return None
    for factor in x.factors:
        if is_a(factor, EXP):
            y = multiply_all([number(x.coefficient), *[f for f in x.factors if f is not factor]])
            if factor.arguments[0] is y:
                return y
    return None
