"""Functions defined by integrals and series: beta, zeta, polylogarithm, Lambert's W, complete elliptic integrals, Ei, Si, Ci."""

from __future__ import annotations

import gmpy2
from gmpy2 import mpfr

from gelvo.errors import DomainError
from gelvo.expression.building import constant, multiply_all
from gelvo.expression.constants import IMAGINARY, ONE, PI, TWO, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.duplication import bounds_of, first, second
from gelvo.functions.elliptic import by_parameter_of_first
from gelvo.functions.entire import by_rows, cosine_integral, inverse, logarithm_and_gamma, one, plain, sine_integral, within
from gelvo.functions.support import (
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
    fraction,
    mpq,
    nowhere,
    number,
    only_real,
    pole_at_zero,
    positive,
    relation,
    sqrt,
)

gamma, digamma, ln, exp, sin, cos = (FunctionName(n) for n in ("gamma", "digamma", "ln", "exp", "sin", "cos"))
beta, zeta, polylog, lambertw = (FunctionName(n) for n in ("beta", "zeta", "polylog", "lambertw"))
ellipk, ellipe, lambertw_lower = FunctionName("ellipk"), FunctionName("ellipe"), FunctionName("lambertw_lower")
LARGEST_ZETA, LARGEST_ORDER = 60, 10_000


def _whole(x: Expression) -> int | None:
    return int(x.rational) if isinstance(x, Number) and x.is_whole else None


def _beta_at(a: Expression, b: Expression) -> Expression | None:
    if isinstance(a, Number) and isinstance(b, Number) and a.is_rational and b.is_rational and a.rational > 0 and b.rational > 0:
        if max(a.rational.denominator, b.rational.denominator) <= 2:
            return gamma(a) * gamma(b) / gamma(a + b)
    return None


def _beta_bounds(a: Arithmetic, x: Box, y: Box) -> Box:
    top = a.multiply(a.gamma(only_real(x, "beta")), a.gamma(only_real(y, "beta")))
    return Box(a.divide(top, a.gamma(a.add(x.real, y.real))))


def bernoulli(n: int) -> mpq:
    """The Bernoulli number B_n, with B_1 = -1/2 (Akiyama-Tanigawa table).

    >>> str(bernoulli(4))
    '-1/30'
    """
    row = [mpq(0)] * (n + 1)
    for m in range(n + 1):
        row[m] = mpq(1, m + 1)
        for j in range(m, 0, -1):
            row[j - 1] = j * (row[j - 1] - row[j])
    return -row[0] if n == 1 else row[0]


def _zeta_at(s: Expression) -> Expression | None:
    n = _whole(s)
    if n is None or abs(n) > LARGEST_ZETA:
        return None
    if n == 1:
        raise DomainError("zeta(1) has no value: it is a pole")
    if n <= 0:
        return fraction(-1, 2) if n == 0 else number(-bernoulli(1 - n) / (1 - n))
    if n % 2 == 0:
        return number(abs(bernoulli(n)) * mpq(2) ** (n - 1) / gmpy2.fac(n)) * PI**n
    return None


_GOLDEN = sqrt(5)


def _polylog_at(s: Expression, x: Expression) -> Expression | None:
    order = _whole(s)
    if x is ZERO:
        return ZERO
    if order == 1:
        return -ln(1 - x)
    if order == 0:
        return x / (1 - x)
    if order is not None and order < 0 and order > -20:
        # polylog(s - 1, x) = x * d/dx polylog(s, x): the numbers of E. Euler's triangle stand above
        n = -order
        row = [1]
        for k in range(2, n + 1):
            row = [(j + 1) * (row[j] if j < len(row) else 0) + (k - j) * (row[j - 1] if j else 0) for j in range(k)]
        top: Expression = ZERO
        for j, c in enumerate(row):
            top = top + c * x ** (n - j)
        return multiply_all((top, (1 - x) ** (-(n + 1))))
    if order is not None and order >= 2 and x is ONE:
        return zeta(s)
    if order is not None and 2 <= order <= LARGEST_ORDER and isinstance(x, Number) and x.value == -1:
        return -(1 - number(mpq(2) ** (1 - order))) * zeta(s)
    if order == 2:
        return _dilogarithm_at(x)
    return None


def _dilogarithm_at(x: Expression) -> Expression | None:
    """The other exact values of polylog(2, x) (L. Lewin, "Polylogarithms and Associated Functions", 1981, ch. 1)."""
    if x in (IMAGINARY, -IMAGINARY):
        return x * constant("catalan") - PI**2 / 48
    golden = ln((1 + _GOLDEN) / 2)
    table = {
        fraction(1, 2): PI**2 / 12 - ln(TWO) ** 2 / 2, (3 - _GOLDEN) / 2: PI**2 / 15 - golden**2,
        (_GOLDEN - 1) / 2: PI**2 / 10 - golden**2, (1 - _GOLDEN) / 2: -(PI**2) / 15 + golden**2 / 2,
        -(1 + _GOLDEN) / 2: -(PI**2) / 10 - golden**2,
    }  # fmt: skip
    return table.get(x)


def _polylog_bounds(a: Arithmetic, s: Box, x: Box) -> Box:
    if not (s.real.low == s.real.high == 2):
        raise NoValue("polylog has bounds for the order 2")
    real = only_real(x, "polylog")
    if real.high > 1:
        raise NoValue("polylog above 1 is not real", certain=real.low > 1)
    return Box(a.rising("li2", real))


def _lambertw_at(x: Expression) -> Expression | None:
    if x is ZERO:
        return ZERO
    return ONE if x is exp(ONE) else -ONE if x is -exp(-ONE) else None


def _lambertw_bounds(a: Arithmetic, x: Box) -> Box:
    real = only_real(x, "lambertw")
    return Box(Interval(_inverse_of_growth(a, real.low)[0], _inverse_of_growth(a, real.high)[1]))


def _inverse_of_growth(a: Arithmetic, x: mpfr) -> tuple[mpfr, mpfr]:
    """Bounds of the w >= -1 with w*exp(w) = x: Newton's steps, then a proof that the value lies between both ends."""
    w = a.up.log(a.up.add(x, 2)) if x > -0.3 else mpfr(-0.5, a.precision)
    context = a.up
    for _ in range(60 + a.precision.bit_length()):
        e = context.exp(w)
        slope = context.mul(e, context.add(w, 1))
        if not slope > 0:
            break
        step = context.div(context.sub(context.mul(w, e), x), slope)
        w = context.sub(w, step)
        if abs(step) <= abs(w) * context.exp2(-a.precision + 4):
            break
    gap = context.mul(abs(w) + context.exp2(-a.precision), context.exp2(-a.precision + 12))
    low, high = a.down.sub(w, gap), a.up.add(w, gap)
    low = max(low, mpfr(-1, a.precision))
    if a.up.mul(low, a.up.exp(low) if low > 0 else a.down.exp(low)) <= x and x <= a.down.mul(
        high, a.down.exp(high) if high > 0 else a.up.exp(high)
    ):
        return low, high
    raise NoValue("lambertw near its branch point, or below it")


def _lambertw_lower_bounds(a: Arithmetic, x: Box) -> Box:
    """Bounds of the w <= -1 with w*exp(w) = x: a guess by mpmath, then a proof that the value lies between both ends."""
    import mpmath

    real = only_real(x, "lambertw_lower")
    ends = []
    for end in (real.high, real.low):  # the branch falls
        if not -0.3678 < end < 0:
            raise NoValue("lambertw_lower near its branch point, or outside of -1/e <= x < 0")
        with mpmath.workprec(a.precision + 20):
            guess = mpfr(str(mpmath.lambertw(mpmath.mpf(str(end)), -1).real), a.precision)
        gap = a.up.mul(-guess, a.up.exp2(-a.precision + 12))
        low, high = a.down.sub(guess, gap), a.up.add(guess, gap)
        if not (high < -1 and a.down.mul(low, a.up.exp(low)) >= end >= a.up.mul(high, a.down.exp(high))):
            raise NoValue("lambertw_lower could not be bounded there")
        ends.append((low, high))
    return Box(Interval(ends[0][0], ends[1][1]))


MOST_BITS_OF_ZETA = 600  # one call of MPFR's, which nothing stops


def _zeta_bounds(a: Arithmetic, s: Box) -> Box:
    """It falls from its largest value near -2.7 up to its pole, and after it."""
    real = only_real(s, "zeta")
    if a.precision > MOST_BITS_OF_ZETA:
        raise NoValue("zeta to so many digits")
    if real.low <= 1 <= real.high or real.low < mpfr("-2.5"):
        raise NoValue("zeta has bounds from -2.5 on, off its pole", certain=real.low == real.high == 1)
    return Box(a.falling("zeta", real))


def _ellipf_at(phi: Expression, m: Expression) -> Expression | None:
    return ZERO if phi is ZERO else phi if m is ZERO else ellipk(m) if phi is PI / 2 and m is not ONE else None


def _ellipk_bounds(a: Arithmetic, m: Box) -> Box:
    real = only_real(m, "ellipk")
    if real.high >= 1:
        raise NoValue("ellipk at 1 and above", certain=real.low >= 1)
    root = a.sqrt(a.subtract(a.one, real))
    mean = Interval(a.down.agm(a.one.low, root.low), a.up.agm(a.one.high, root.high))
    return Box(a.divide(a.pi(), a.multiply(a.integer(2), mean)))


def _ellip_at(x: Expression) -> Expression | None:
    return PI / 2 if x is ZERO else None


def _no_derivative(*arguments: Expression) -> Expression:
    raise DomainError("this derivative has no closed form here")


_REAL_IF_POSITIVE = lambda k: facts.REAL if facts.is_positive(k) else facts.ANY

register(
    Function(
        name="beta", about="gamma(a)*gamma(b)/gamma(a + b).", example=("2", "3", "1/12"), real_beyond=True,
        arguments=(2, 2), at=_beta_at, as_elementary=lambda a, b: gamma(a) * gamma(b) / gamma(a + b), bounds=_beta_bounds,
        derivative=(lambda a, b: beta(a, b) * (digamma(a) - digamma(a + b)), lambda a, b: beta(a, b) * (digamma(b) - digamma(a + b))),
        real_when=lambda a, b: (*positive(a), *positive(b)), breaks=lambda a, b: (a, b), jumps=lambda a, b: (a, b),
        regular_when=lambda a, b: (*beside_poles(a), *beside_poles(b)),
        known=lambda a, b: facts.POSITIVE if facts.is_positive(a) and facts.is_positive(b) else facts.ANY,
        latex=r"\mathrm{B}", source="DLMF 5.12",
    )
)  # fmt: skip
register(
    Function(
        name="zeta", about="Riemann's zeta function, the sum of 1/n^s continued.", example=("2", "pi^2/6"), real_beyond=True,
        at=_zeta_at, bounds=_zeta_bounds, agreed="zeta", breaks=lambda s: (s - 1,), jumps=lambda s: (s - 1,),
        real_when=lambda s: (relation("!=", s, ONE),), latex=r"\zeta", source="DLMF 25.2",
    )
)  # fmt: skip
register(
    Function(
        name="polylog", about="The sum of x^n/n^s over n = 1, 2, …, from s and x.", example=("1", "x", "-ln(-x + 1)"), real_beyond=True,
        arguments=(2, 2), at=_polylog_at, derivative=(_no_derivative, lambda s, x: polylog(s - 1, x) / x),
        bounds=_polylog_bounds, agreed="polylog", agreed_at_complex=True, real_when=lambda s, x: (relation("<=", x, ONE),),
        breaks=lambda s, x: (x - 1,), jumps=lambda s, x: (), latex=r"\operatorname{Li}", source="DLMF 25.12",
    )
)  # fmt: skip
register(
    Function(
        name="lambertw", about="The w >= -1 with w*exp(w) = x: Lambert's function.", example=("0", "0"),
        at=_lambertw_at, zeros=at_zero, derivative=lambda x: lambertw(x) / (x * (1 + lambertw(x))), bounds=_lambertw_bounds,
        agreed="lambertw", real_when=lambda x: (relation("<=", -exp(-ONE), x),), breaks=lambda x: (x + exp(-ONE),), jumps=lambda x: (),
        known=lambda k: k | facts.FRACTIONAL if facts.is_nonnegative(k) else facts.ANY,
        latex="W", source="DLMF 4.13",
    )
)  # fmt: skip
register(
    Function(
        name="lambertw_lower", about="The w <= -1 with w*exp(w) = x: the lower branch of Lambert's function.", example=("-exp(-1)", "-1"),
        no_value=pole_at_zero,
        at=lambda x: -ONE if x is -exp(-ONE) else None, agreed=("lambertw", -1),
        zeros=nowhere, derivative=lambda x: lambertw_lower(x) / (x * (1 + lambertw_lower(x))),
        real_when=lambda x: (relation("<=", -exp(-ONE), x), relation("<", x, ZERO)), breaks=lambda x: (x + exp(-ONE), x), jumps=lambda x: (x,),
        known=lambda k: facts.ANY, latex="W_{-1}", source="DLMF 4.13", bounds=_lambertw_lower_bounds,
    )
)  # fmt: skip
register(
    Function(
        name="ellipk", about="The complete elliptic integral of the first kind, of the parameter m (the square of the modulus).", example=("0", "pi/2"),
        no_value=lambda m: m is ONE,
        at=_ellip_at, zeros=nowhere, derivative=lambda m: (ellipe(m) - (1 - m) * ellipk(m)) / (2 * m * (1 - m)), bounds=_ellipk_bounds,
        agreed="ellipk", real_when=lambda m: (relation("<", m, ONE),), breaks=lambda m: (1 - m,), jumps=lambda m: (1 - m,),
        latex="K", source="DLMF 19.2",
    )
)  # fmt: skip
register(
    Function(
        name="ellipf", about="The incomplete elliptic integral of the first kind, of an angle and the parameter m (the square of the modulus).",
        example=("phi", "0", "phi"), arguments=(2, 2), at=_ellipf_at,
        derivative=(lambda phi, m: 1 / sqrt(1 - m * sin(phi) ** 2), by_parameter_of_first), bounds=bounds_of("ellipf", first, ("phi", "m")), agreed="ellipf",
        real_when=lambda phi, m: (relation("<", m * sin(phi) ** 2, ONE),), breaks=lambda phi, m: (1 - m * sin(phi) ** 2,),
        latex="F", source="DLMF 19.2",
    )
)  # fmt: skip
register(
    Function(
        name="ellipe", about="The complete elliptic integral of the second kind, of the parameter m (the square of the modulus).", example=("1", "1"),
        at=lambda m: ONE if m is ONE else _ellip_at(m), zeros=nowhere, derivative=lambda m: (ellipe(m) - ellipk(m)) / (2 * m), bounds=bounds_of("ellipe", second, ("m",)), agreed="ellipe",
        real_when=lambda m: (relation("<=", m, ONE),), breaks=lambda m: (1 - m,), jumps=lambda m: (),
        latex="E", source="DLMF 19.2",
    )
)  # fmt: skip
register(
    Function(
        name="Ei", about="The exponential integral: the principal value of the integral of exp(t)/t from -inf to x.", example=("x", "Ei(x)"),
        no_value=pole_at_zero,
        derivative=lambda x: exp(x) / x, agreed="ei", breaks=lambda x: (x,), jumps=lambda x: (x,),
        real_when=lambda x: (relation("!=", x, ZERO),),
        known=lambda k: facts.NEGATIVE if facts.is_negative(k) else facts.REAL if facts.is_positive(k) else facts.ANY,
        bounds=lambda a, x: Box(_exponential_integral(a, only_real(x, "Ei"))),
        latex=r"\operatorname{Ei}", source="DLMF 6.2",
    )
)  # fmt: skip
register(
    Function(
        name="Si", about="The sine integral: the integral of sin(t)/t from 0 to x.", example=("0", "0"),
        at=lambda x: ZERO if x is ZERO else None, zeros=at_zero, derivative=lambda x: sin(x) / x, odd=True, bounds=by_rows("Si", [(plain(mpq(1)), sine_integral(-1))], within(one)), agreed="si",
        known=lambda k: facts.sum_known([(k, 1)]) | facts.FRACTIONAL if facts.is_nonnegative(k) else facts.REAL if facts.is_real(k) else facts.ANY,
        at_infinity=(lambda: PI / 2, lambda: -PI / 2), latex=r"\operatorname{Si}", source="DLMF 6.2", breaks=nowhere, jumps=nowhere,
    )
)  # fmt: skip


def _complex_end() -> Expression:
    raise DomainError("Ci of negative numbers is complex")


register(
    Function(
        name="Ci", about="The cosine integral: minus the integral of cos(t)/t from x to inf.", example=("x", "Ci(x)"),
        no_value=pole_at_zero,
        derivative=lambda x: cos(x) / x, bounds=by_rows("Ci", [(plain(mpq(1)), cosine_integral(-1))], within(inverse), logarithm_and_gamma), agreed="ci", real_when=positive, breaks=lambda x: (x,), jumps=lambda x: (x,),
        at_infinity=(lambda: ZERO, _complex_end),
        known=_REAL_IF_POSITIVE, latex=r"\operatorname{Ci}", source="DLMF 6.2",
    )
)  # fmt: skip


def _exponential_integral(a: Arithmetic, x: Interval) -> Interval:
    """Falling before its pole, rising after it."""
    if x.low <= 0 <= x.high:
        raise NoValue("Ei at its pole", certain=x.low == x.high)
    return a.rising("eint", x) if x.low > 0 else a.falling("eint", x)
