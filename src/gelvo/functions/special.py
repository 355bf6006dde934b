"""Factorials, the gamma function and the error function."""

from __future__ import annotations

from gmpy2 import bincoef, fac

from gelvo.errors import DomainError
from gelvo.expression.building import constant, multiply_all, scale
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.support import (
    TWO,
    Arithmetic,
    Box,
    Expression,
    FunctionName,
    Interval,
    NoValue,
    Number,
    at_zero,
    beside_poles,
    facts,
    mpq,
    nowhere,
    number,
    only_real,
    pole_at_negative_integers,
    positive,
    relation,
    sign_of_argument,
    sqrt,
)
from gelvo.numbers.exact import LARGEST_POWER_BITS, bits_of, told

factorial, gamma, loggamma, digamma = (
    FunctionName("factorial"),
    FunctionName("gamma"),
    FunctionName("loggamma"),
    FunctionName("digamma"),
)
erf, erfc, exp, binomial = FunctionName("erf"), FunctionName("erfc"), FunctionName("exp"), FunctionName("binomial")
LARGEST_FACTORIAL = 100_000


def _factorial_at(x: Expression) -> Expression | None:
    if not isinstance(x, Number) or not x.is_rational or x.rational.denominator != 1:
        return None
    n = int(x.rational)
    if n < 0:
        raise DomainError(f"factorial({told(n)}) has no value: it is a pole")
    if n > LARGEST_FACTORIAL:
        raise DomainError(f"factorial({told(n)}) is too large to work out exactly (the limit is {LARGEST_FACTORIAL})")
    return number(mpq(fac(n)))


def _gamma_at(x: Expression) -> Expression | None:
    if not isinstance(x, Number) or not x.is_rational:
        return None
    value = x.rational
    if value.denominator == 1:
        if value <= 0:
            raise DomainError(f"gamma({value}) has no value: it is a pole")
        return _factorial_at(number(value - 1))
    if value.denominator == 2 and abs(value) < 1000:
        result, at = sqrt(PI), mpq(1, 2)
        while at < value:
            result, at = result * at, at + 1
        while at > value:
            at -= 1
            result = result / at
        return result
    return None


def _starts_of_digamma() -> dict[mpq, Expression]:
    """digamma(x) + euler_gamma at the fractions where it has a short form (C. Gauss; DLMF 5.4.12, 5.4.13, 5.4.19)."""
    ln, two, three = FunctionName("ln"), number(2), number(3)
    of_thirds, of_quarters, of_sixths = (
        (PI / (2 * sqrt(three)), 3 * ln(three) / 2),
        (PI / 2, 3 * ln(two)),
        (PI * sqrt(three) / 2, 2 * ln(two) + 3 * ln(three) / 2),
    )
    found: dict[mpq, Expression] = {mpq(1): ZERO, mpq(1, 2): -2 * ln(two)}
    for denominator, (turn, rest) in ((3, of_thirds), (4, of_quarters), (6, of_sixths)):
        found[mpq(1, denominator)], found[mpq(denominator - 1, denominator)] = -turn - rest, turn - rest
    return found


def _digamma_at(x: Expression) -> Expression | None:
    """From the start between 0 and 1 by digamma(x + 1) = digamma(x) + 1/x."""
    if (
        not isinstance(x, Number)
        or not x.is_rational
        or not 0 < x.rational < 1000
        or x.rational.denominator not in (1, 2, 3, 4, 6)
    ):
        return None
    steps = int(-(-x.rational // 1)) - 1
    start = mpq(x.rational) - steps
    early = sum((1 / (start + k) for k in range(steps)), mpq(0))
    return _starts_of_digamma()[start] - constant("euler_gamma") + number(early)


def _binomial_at(n: Expression, k: Expression) -> Expression | None:
    if isinstance(k, Number) and k.is_whole:
        count = int(k.rational)
        if count < 0:
            return ZERO
        if isinstance(n, Number):
            whole = n.is_whole and n.rational >= 0
            if whole:
                if n.rational < count:
                    return ZERO
                count = min(count, int(n.rational) - count)
            if count > LARGEST_FACTORIAL or count * bits_of(n.value) > LARGEST_POWER_BITS:
                return None  # stays as it is: the number would be too large to write out
            if whole:
                return number(mpq(bincoef(n.rational.numerator, count)))
            return scale(multiply_all([n - i for i in range(count)]), mpq(1, fac(count)))
        if count <= 1:
            return n if count else ONE
    return None


def _gamma_bounds(a: Arithmetic, x: Box) -> Box:
    return Box(a.gamma(only_real(x, "gamma")))


def _loggamma_bounds(a: Arithmetic, x: Box) -> Box:
    real = only_real(x, "loggamma")
    if real.low <= 0:
        raise NoValue("loggamma of a number that is not positive", certain=False)
    return Box(a.rising("lngamma", real) if real.low >= 1.47 else a.log(a.gamma(real)))


def _digamma_bounds(a: Arithmetic, x: Box) -> Box:
    real = only_real(x, "digamma")
    if real.low <= 0:
        raise NoValue("digamma bounds are built for positive numbers")
    return Box(a.rising("digamma", real))


def _erf_at(x: Expression) -> Expression | None:
    return ZERO if isinstance(x, Number) and not x.value else None


register(
    Function(
        name="factorial", about="n! = 1*2*…*n, and gamma(x + 1) for other numbers.", example=("5", "120"), real_beyond=True, breaks=lambda x: (x + 1,), jumps=lambda x: (x + 1,),
        at=_factorial_at, zeros=nowhere, derivative=lambda x: gamma(x + 1) * digamma(x + 1),
        known=lambda k: facts.POS if not k & ~facts.NATURAL else facts.POSITIVE if facts.is_nonnegative(k) else facts.ANY,
        regular_when=lambda x: beside_poles(x + 1),
        real_when=lambda x: (relation("<=", ZERO, x),), bounds=lambda a, x: _gamma_bounds(a, Box(a.add(only_real(x, "factorial"), a.one))),
        as_elementary=lambda x: gamma(x + 1), latex="factorial",
    )
)  # fmt: skip
register(
    Function(
        name="gamma", about="The gamma function, the integral of t^(x - 1)*exp(-t) over t > 0 continued.", example=("1/2", "sqrt(pi)"), real_beyond=True,
        at=_gamma_at, zeros=nowhere, derivative=lambda x: gamma(x) * digamma(x), real_when=positive, breaks=lambda x: (x,),
        regular_when=beside_poles, jumps=lambda x: (x,), known=lambda k: facts.POSITIVE if facts.is_positive(k) else facts.ANY, bounds=_gamma_bounds,
        latex=r"\Gamma", source="DLMF 5.2",
    )
)  # fmt: skip
register(
    Function(
        name="loggamma", about="The logarithm of the gamma function of a positive number.", example=("1", "0"), real_beyond=True,
        no_value=lambda x: x is ZERO,
        at=lambda x: ZERO if x in (ONE, number(2)) else None, zeros=lambda n: (ONE, TWO), derivative=digamma, real_when=positive,
        breaks=lambda x: (x,), jumps=lambda x: (x,), regular_when=beside_poles, bounds=_loggamma_bounds, agreed="loggamma",
        known=lambda k: facts.REAL if facts.is_positive(k) else facts.ANY,
        latex=r"\ln\Gamma",
    )
)  # fmt: skip
register(
    Function(
        name="digamma", about="The derivative of ln(gamma(x)).", example=("1", "-euler_gamma"), real_beyond=True,
        no_value=pole_at_negative_integers,
        at=_digamma_at, derivative=lambda x: FunctionName("polygamma")(ONE, x), real_when=positive, breaks=lambda x: (x,), jumps=lambda x: (x,), bounds=_digamma_bounds,
        regular_when=beside_poles,
        agreed="digamma", known=lambda k: facts.REAL if facts.is_positive(k) else facts.ANY,
        latex=r"\psi",
    )
)  # fmt: skip
register(
    Function(
        name="binomial", about="The number of ways to choose k of n things, continued by the gamma function.", example=("5", "2", "10"),
        arguments=(2, 2), at=_binomial_at, bounds=None, agreed="binomial",
        as_elementary=lambda n, k: gamma(n + 1) / (gamma(k + 1) * gamma(n - k + 1)),
        latex="binomial",
    )
)  # fmt: skip
# MPFR 4.2.2 aborts the whole process in erf(x) and erfc(x) where x^2 is nearer to 3 than the smallest double
ABORTS, LONG = (1.732, 1.7321), 900


def _aborts(a: Arithmetic, x: Interval) -> bool:
    return a.precision > LONG and any(ABORTS[0] < v < ABORTS[1] for v in (x.low, x.high))


def _beside_the_line(a: Arithmetic, real: Box, x: Box) -> Box:
    """From the value below (or above) on the real line, and the slope 2*exp(-z^2)/sqrt(pi) on the way."""
    assert x.imag is not None
    if max(a.up.sub(x.real.high, x.real.low), a.up.sub(x.imag.high, x.imag.low)) < a.up.exp2(-20):
        raise NoValue("the error function at one complex place has no rigorous evaluation here")
    height = a.absolute(x.imag).high
    nearest = a.zero.low if x.real.contains_zero() else a.absolute(x.real).low
    growth = a.up.exp(a.up.sub(a.up.mul(height, height), a.down.mul(nearest, nearest)))
    away = a.up.mul(a.up.mul(a.up.plus(mpq(1129, 1000)), height), growth)
    return Box(Interval(a.down.sub(real.real.low, away), a.up.add(real.real.high, away)), Interval(-away, away))


def _erf_bounds(a: Arithmetic, x: Box) -> Box:
    if x.imag is not None:
        return _beside_the_line(a, _erf_bounds(a, Box(x.real)), x)
    real = x.real
    if not _aborts(a, real):
        return Box(a.rising("erf", real))
    # 2*x/sqrt(pi)*exp(-x^2) * sum of 2^k*x^(2k)/(2k+1)!!, DLMF 7.6.2
    square = a.multiply(real, real)
    term = total = a.one
    for k in range(1, 20 * a.precision):
        term = a.divide(a.multiply(term, a.multiply(a.integer(2), square)), a.integer(2 * k + 1))
        total = a.add(total, term)
        if 2 * k > 8 * square.high and term.high < a.up.exp2(-a.precision - 8):
            break  # each term is less than half of the one before
    total = a.add(total, Interval(term.low * 0, term.high))
    outer = a.divide(a.multiply(a.integer(2), real), a.multiply(a.sqrt(a.pi()), a.rising("exp", square)))
    return Box(a.multiply(outer, total))


def _erfc_bounds(a: Arithmetic, x: Box) -> Box:
    if x.imag is not None:
        return _beside_the_line(a, _erfc_bounds(a, Box(x.real)), x)
    real = x.real
    if not _aborts(a, real):
        return Box(a.falling("erfc", real))
    return Box(a.add(a.one, a.negate(_erf_bounds(a, x).real)))


register(
    Function(
        name="erf", about="The error function: 2/sqrt(pi) times the integral of exp(-t^2) from 0 to x.", example=("0", "0"), breaks=nowhere, jumps=nowhere,
        at=_erf_at, zeros=at_zero, derivative=lambda x: 2 * exp(-(x**2)) / sqrt(PI), odd=True,
        antiderivative=lambda x: x * erf(x) + exp(-(x**2)) / sqrt(PI), known=sign_of_argument, rising=True,
        range=(lambda: -ONE, lambda: ONE, True), bounds=_erf_bounds,
        agreed="erf", agreed_at_complex=True, at_infinity=(lambda: ONE, lambda: -ONE),
        latex=r"\operatorname{erf}", source="DLMF 7.2",
    )
)  # fmt: skip
register(
    Function(
        name="erfc", about="1 - erf(x).", example=("0", "1"), breaks=nowhere, jumps=nowhere,
        at=lambda x: ONE if _erf_at(x) is not None else None, zeros=nowhere, derivative=lambda x: -2 * exp(-(x**2)) / sqrt(PI),
        antiderivative=lambda x: x * erfc(x) - exp(-(x**2)) / sqrt(PI),
        known=lambda k: facts.POSITIVE if facts.is_real(k) else facts.ANY,
        bounds=_erfc_bounds, as_elementary=lambda x: 1 - erf(x),
        at_infinity=(lambda: ZERO, lambda: number(2)),
        latex=r"\operatorname{erfc}",
    )
)  # fmt: skip
