"""Integrals with names of their own: the imaginary error function, the logarithmic integral, Fresnel's, and their relatives."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import constant, scale, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.entire import (
    ERFI,
    FRESNEL_COSINE,
    FRESNEL_SINE,
    by_rows,
    cosine_integral,
    exponential,
    exponential_of_square,
    exponential_over,
    logarithm_and_gamma,
    one,
    over_root_of_pi,
    plain,
    root_of_half_pi,
    sine_integral,
    within,
)
from gelvo.functions.support import (
    HALF,
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
    nowhere,
    number,
    only_real,
    pole_at_negative_integers,
    pole_at_zero,
    positive,
    relation,
    sign_of_argument,
    sqrt,
)

exp, sin, cos, cot, sinh, cosh, ln = (FunctionName(n) for n in ("exp", "sin", "cos", "cot", "sinh", "cosh", "ln"))
erfi, li, fresnels, fresnelc, Shi, Chi, polygamma = (
    FunctionName(n) for n in ("erfi", "li", "fresnels", "fresnelc", "Shi", "Chi", "polygamma")
)
Ei = FunctionName("Ei")
digamma, zeta, factorial = FunctionName("digamma"), FunctionName("zeta"), FunctionName("factorial")


def _zero_at_zero(x: Expression) -> Expression | None:
    return ZERO if x is ZERO else None


def _polygamma_at(n: Expression, x: Expression) -> Expression | None:
    """From the start between 0 and 1 by polygamma(n, x + 1) = polygamma(n, x) + (-1)^n*n!/x^(n + 1); order zero is digamma."""
    if n is ZERO:
        return digamma(x)
    if not (isinstance(n, Number) and n.is_whole and 0 < n.rational < 50):
        return None
    if not (isinstance(x, Number) and x.is_rational and 0 < x.rational < 200):
        return None
    k = int(n.rational)
    steps = int(-(-x.rational // 1)) - 1
    start = mpq(x.rational) - steps
    first = _polygamma_below_one(k, start, steps > 0)
    if first is None:
        return None
    early = sum((1 / (start + j) ** (k + 1) for j in range(steps)), mpq(0))
    return first + number((-1) ** k) * factorial(n) * number(early)


def _polygamma_below_one(k: int, z: mpq, left: bool = True) -> Expression | None:
    """At 1, 1/2, thirds, quarters and sixths, by reflection and multiplication (DLMF 5.15.5 to 5.15.7): those of odd order by their
    value at 1/3 and 1/4, which is left as it is; None for that itself, unless it may be left."""
    at_one = number((-1) ** (k + 1)) * factorial(number(k)) * zeta(number(k + 1))
    if z == 1 or z == HALF:
        return at_one * number(1 if z == 1 else 2 ** (k + 1) - 1)
    if z.denominator not in PAIRS:
        return None
    if k % 2 == 0:
        return scale(at_one * number(PAIRS[z.denominator](k + 1)) - _cotangent_slope(k, z), mpq(1, 2))
    if k == 1 and z.denominator == 4:
        return PI**2 + (8 if z.numerator == 1 else -8) * constant("catalan")
    if z > HALF:
        other = _polygamma_below_one(k, 1 - z)
        return None if other is None else -other - _cotangent_slope(k, 1 - z)
    if z.denominator == 6:
        thirds = [_polygamma_below_one(k, mpq(j, 3)) for j in (1, 2)]
        return None if None in thirds else number(2 ** (k + 1)) * thirds[0] - thirds[1]  # type: ignore[operator]
    return polygamma(number(k), number(z)) if left else None


# what the values at both numerators add up to, over that at 1, from m^p = the sum over j/m of all j from 1 to m
PAIRS: dict[int, Callable[[int], int]] = {3: lambda p: 3**p - 1, 4: lambda p: 4**p - 2**p, 6: lambda p: 6**p - 3**p - 2**p + 1}


def _cotangent_slope(k: int, z: mpq) -> Expression:
    """pi times the k-th derivative of cot(pi*z), a polynomial in cot(pi*z)."""
    c = [0, 1]
    for _ in range(k):
        slope = [-j * c[j] for j in range(1, len(c))]
        c = [(slope[j] if j < len(slope) else 0) + (slope[j - 2] if j >= 2 else 0) for j in range(len(slope) + 2)]
    at_z = cot(number(z) * PI)
    return PI ** (k + 1) * total([number(a) * at_z**j for j, a in enumerate(c) if a])


def _li_bounds(a: Arithmetic, x: Box) -> Box:
    """Ei of the logarithm, falling up to 1 and rising after it."""
    logarithm = a.log(only_real(x, "li"))
    if logarithm.low <= 0 <= logarithm.high:
        raise NoValue("li at its pole", certain=logarithm.low == logarithm.high)
    return Box(a.rising("eint", logarithm) if logarithm.low > 0 else a.falling("eint", logarithm))


def _by_half_pi(a: Arithmetic, x: Interval) -> Interval:
    return a.multiply(x, root_of_half_pi(a))


def _over_half_pi(a: Arithmetic, x: Interval) -> Interval:
    return a.divide(a.one, root_of_half_pi(a))


def _no_derivative(n: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of polygamma by its order has no closed form here")


register(
    Function(
        name="erfi", about="2/sqrt(pi) times the integral of exp(t^2) from 0 to x.", example=("0", "0"),
        at=_zero_at_zero, zeros=at_zero, derivative=lambda x: 2 * exp(x**2) / sqrt(PI), odd=True, bounds=by_rows("erfi", [(over_root_of_pi(2), ERFI)], within(exponential_of_square)), agreed="erfi", rising=True,
        antiderivative=lambda x: x * erfi(x) - exp(x**2) / sqrt(PI), known=sign_of_argument, breaks=nowhere, jumps=nowhere,
        latex=r"\operatorname{erfi}", source="DLMF 7.2",
    )
)  # fmt: skip
register(
    Function(
        name="li", about="The logarithmic integral: the principal value of the integral of 1/ln(t) from 0 to x.", example=("0", "0"),
        no_value=lambda x: x is ONE,
        at=_zero_at_zero, derivative=lambda x: 1 / ln(x), bounds=_li_bounds, agreed="li", breaks=lambda x: (x, x - 1), jumps=lambda x: (x - 1,),
        antiderivative=lambda x: x * li(x) - Ei(2 * ln(x)), real_when=positive,
        known=lambda k: facts.REAL if facts.is_positive(k) else facts.ANY, latex=r"\operatorname{li}", source="DLMF 6.2",
    )
)  # fmt: skip


def _fresnel(
    name: str, word: str, wave: Callable[..., Expression], mate: Callable[..., Expression], sign: Expression
) -> Function:
    own = FunctionName(name)
    return Function(
        name=name, about=f"Fresnel's integral of {word}(pi*t^2/2) from 0 to x.", example=("0", "0"), at=_zero_at_zero, zeros=at_zero, derivative=lambda x: wave(PI * x**2 / 2), odd=True, bounds=by_rows(name, [(_over_half_pi, FRESNEL_SINE if word == "sin" else FRESNEL_COSINE)], within(one), scale=_by_half_pi), agreed=name,
        antiderivative=lambda x: x * own(x) + sign * mate(PI * x**2 / 2) / PI,
        known=lambda k: facts.REAL if facts.is_real(k) else facts.ANY, breaks=nowhere, jumps=nowhere,
        at_infinity=(lambda: number(HALF), lambda: -number(HALF)), latex=name[-1].upper(), source="DLMF 7.2",
    )  # fmt: skip


register(_fresnel("fresnels", "sin", sin, cos, ONE))
register(_fresnel("fresnelc", "cos", cos, sin, -ONE))
register(
    Function(
        name="Shi", about="The hyperbolic sine integral: the integral of sinh(t)/t from 0 to x.", example=("0", "0"),
        at=_zero_at_zero, zeros=at_zero, derivative=lambda x: sinh(x) / x, odd=True, bounds=by_rows("Shi", [(plain(mpq(1)), sine_integral(1))], within(exponential)), agreed="shi", rising=True, known=sign_of_argument,
        breaks=nowhere, jumps=nowhere, latex=r"\operatorname{Shi}", source="DLMF 6.2",
    )
)  # fmt: skip
register(
    Function(
        name="Chi", about="The hyperbolic cosine integral: euler_gamma + ln(x) + the integral of (cosh(t) - 1)/t from 0 to x.", example=("x", "Chi(x)"),
        no_value=pole_at_zero,
        derivative=lambda x: cosh(x) / x, bounds=by_rows("Chi", [(plain(mpq(1)), cosine_integral(1))], within(exponential_over), logarithm_and_gamma), agreed="chi", real_when=positive, breaks=lambda x: (x,), jumps=lambda x: (x,),
        known=lambda k: facts.REAL if facts.is_positive(k) else facts.ANY, latex=r"\operatorname{Chi}", source="DLMF 6.2",
    )
)  # fmt: skip
register(
    Function(
        name="polygamma", about="The derivative of order n of digamma, from n and x.", example=("0", "1", "-euler_gamma"), real_beyond=True,
        no_value=pole_at_negative_integers,
        arguments=(2, 2), at=_polygamma_at, agreed="polygamma", real_when=lambda n, x: (relation("<", ZERO, x),),
        derivative=(_no_derivative, lambda n, x: polygamma(n + 1, x)), breaks=lambda n, x: (x,), jumps=lambda n, x: (x,),
        regular_when=lambda n, x: beside_poles(x),
        known=lambda n, k: facts.REAL if facts.is_positive(k) else facts.ANY,
        latex=r"\psi", source="DLMF 5.15",
    )
)  # fmt: skip
