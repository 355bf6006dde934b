"""Hyperbolic functions and their inverses."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.expression.building import cases
from gelvo.expression.constants import IMAGINARY, ONE, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.support import (
    Arithmetic,
    Box,
    Expression,
    FunctionName,
    Interval,
    NoValue,
    Number,
    Product,
    at_one,
    at_zero,
    boxes,
    fraction,
    nonzero,
    nowhere,
    only_real,
    pole_at_one,
    pole_at_zero,
    real_and_positive,
    relation,
    rising,
    sign_of_argument,
    sqrt,
)
from gelvo.numbers.exact import Gaussian, parts

sinh, cosh, tanh, coth, sech, csch = (FunctionName(n) for n in ("sinh", "cosh", "tanh", "coth", "sech", "csch"))
sin, sinhc, Shi = FunctionName("sin"), FunctionName("sinhc"), FunctionName("Shi")
asinh, acosh, atanh, acoth, asech, acsch = (FunctionName(n) for n in ("asinh", "acosh", "atanh", "acoth", "asech", "acsch"))
exp, ln, atan, absolute = FunctionName("exp"), FunctionName("ln"), FunctionName("atan"), FunctionName("abs")
HALF = fraction(1, 2)


def _zero_to(value: Expression) -> Callable[[Expression], Expression | None]:
    return lambda x: value if isinstance(x, Number) and not x.value else None


def _complex_or(method: str, formula: Callable[[Arithmetic, Box, Box], Box]) -> Callable[[Arithmetic, Box], Box]:
    """MPFR on the real line, the exponential formula elsewhere."""

    def bounds(a: Arithmetic, x: Box) -> Box:
        if x.imag is None and method != "cosh":
            return Box(a.rising(method, x.real))
        if x.imag is None:
            return Box(a.rising("cosh", a.absolute(x.real)))
        return formula(a, boxes.exponential(a, x), boxes.exponential(a, boxes.negate(a, x)))

    return bounds


def _half_difference(a: Arithmetic, up: Box, down: Box) -> Box:
    return boxes.multiply(a, Box(a.rational(HALF.rational)), boxes.add(a, up, boxes.negate(a, down)))


def _half_sum(a: Arithmetic, up: Box, down: Box) -> Box:
    return boxes.multiply(a, Box(a.rational(HALF.rational)), boxes.add(a, up, down))


def _ratio(a: Arithmetic, up: Box, down: Box) -> Box:
    return boxes.multiply(a, _half_difference(a, up, down), boxes.invert(a, _half_sum(a, up, down)))


_SINH = _complex_or("sinh", _half_difference)
_COSH = _complex_or("cosh", _half_sum)
_TANH = _complex_or("tanh", _ratio)


def _acosh_bounds(a: Arithmetic, x: Box) -> Box:
    if x.imag is None and x.real.low >= 1:
        return Box(a.rising("acosh", x.real))
    if x.imag is None and x.real.high >= 1:
        raise NoValue("acosh around 1")
    one = Box(a.one)
    below, above = boxes.add(a, x, boxes.negate(a, one)), boxes.add(a, x, one)
    root = boxes.multiply(a, boxes.square_root(a, below), boxes.square_root(a, above))
    return boxes.logarithm(a, boxes.add(a, x, root))


def _atanh_bounds(a: Arithmetic, x: Box) -> Box:
    real = only_real(x, "atanh")
    if real.low <= -1 or real.high >= 1:
        raise NoValue("atanh outside (-1, 1)", certain=real.low >= 1 or real.high <= -1)
    return Box(a.rising("atanh", real))


def _of_reciprocal(inner: Callable[[Arithmetic, Box], Box]) -> Callable[[Arithmetic, Box], Box]:
    return lambda a, x: inner(a, boxes.invert(a, x))


def _sinhc_bounds(a: Arithmetic, x: Box) -> Box:
    """It rises with abs(x) on the real line; |sinhc(z) - 1| <= sinhc(|z|) - 1, since all coefficients of its series are positive."""

    def at(size: Any) -> Interval:
        return a.divide(a.both("sinh", size), Interval(size, size)) if size > 0 else a.one

    if x.imag is None:
        size = a.absolute(x.real)
        return Box(Interval(at(size.low).low, at(size.high).high))
    if not x.contains_zero():
        return boxes.multiply(a, _SINH(a, x), boxes.invert(a, x))
    away = a.subtract(at(boxes.modulus(a, x).high), a.one)
    around = a.hull(a.negate(away), away)
    return Box(a.add(a.one, around), around)


def _sinhc_at(x: Expression) -> Expression | None:
    if isinstance(x, Number):
        return None if x.value else ONE
    if isinstance(x, Product) and isinstance(x.coefficient, Gaussian) and not parts(x.coefficient)[0]:
        angle = -IMAGINARY * x
        return sin(angle) / angle
    return None


def _sinhc_in_code(x: Expression) -> Expression:
    return cases([(sinh(x) / x, relation("!=", x, ZERO))], ONE)


_ASINH = rising("asinh")


register(
    Function(
        name="sinh", about="The hyperbolic sine, (exp(x) - exp(-x))/2.", example=("0", "0"), breaks=nowhere, jumps=nowhere,
        zeros=at_zero, derivative=cosh, antiderivative=cosh, at=_zero_to(ZERO), odd=True, inverse="asinh",
        solve_for=lambda c, n: ((asinh(c), ()),), known=sign_of_argument, rising=True, bounds=_SINH,
        as_elementary=lambda x: (exp(x) - exp(-x)) / 2, latex=r"\sinh",
    )
)  # fmt: skip
register(
    Function(
        name="cosh", about="The hyperbolic cosine, (exp(x) + exp(-x))/2.", example=("0", "1"), breaks=nowhere, jumps=nowhere,
        zeros=nowhere, derivative=sinh, antiderivative=sinh, at=_zero_to(ONE), even=True, inverse="acosh",
        solve_for=lambda c, n: ((acosh(c), (relation("<=", ONE, c),)), (-acosh(c), (relation("<=", ONE, c),))),
        known=real_and_positive, range=(lambda: ONE, None, False), bounds=_COSH, as_elementary=lambda x: (exp(x) + exp(-x)) / 2,
        latex=r"\cosh",
    )
)  # fmt: skip
register(
    Function(
        name="tanh", about="The hyperbolic tangent, sinh/cosh.", example=("0", "0"), breaks=nowhere, jumps=nowhere,
        zeros=at_zero, derivative=lambda x: 1 - tanh(x) ** 2, antiderivative=lambda x: ln(cosh(x)), at=_zero_to(ZERO), odd=True,
        inverse="atanh", solve_for=lambda c, n: ((atanh(c), (relation("<", -ONE, c), relation("<", c, ONE))),),
        known=sign_of_argument, rising=True, range=(lambda: -ONE, lambda: ONE, True), bounds=_TANH, as_elementary=lambda x: (exp(x) - exp(-x)) / (exp(x) + exp(-x)),
        at_infinity=(lambda: ONE, lambda: -ONE), latex=r"\tanh",
    )
)  # fmt: skip
register(
    Function(
        name="coth", about="The hyperbolic cotangent, cosh/sinh.", example=("-x", "-coth(x)"),
        no_value=pole_at_zero,
        zeros=nowhere, derivative=lambda x: 1 - coth(x) ** 2, antiderivative=lambda x: ln(absolute(sinh(x))), odd=True,
        inverse="acoth", solve_for=lambda c, n: ((acoth(c), (relation("<", ONE, absolute(c)),)),), real_when=nonzero,
        breaks=lambda x: (x,), jumps=lambda x: (x,), bounds=lambda a, x: boxes.invert(a, _TANH(a, x)),
        as_elementary=lambda x: (exp(x) + exp(-x)) / (exp(x) - exp(-x)), at_infinity=(lambda: ONE, lambda: -ONE),
        latex=r"\coth",
    )
)  # fmt: skip
register(
    Function(
        name="sech", about="1/cosh.", example=("0", "1"), breaks=nowhere, jumps=nowhere,
        zeros=nowhere, derivative=lambda x: -sech(x) * tanh(x), antiderivative=lambda x: atan(sinh(x)), at=_zero_to(ONE), even=True,
        inverse="asech",
        solve_for=lambda c, n: tuple((s * asech(c), (relation("<", ZERO, c), relation("<=", c, ONE))) for s in (ONE, -ONE)),
        known=real_and_positive, range=(lambda: ZERO, lambda: ONE, False), bounds=lambda a, x: boxes.invert(a, _COSH(a, x)),
        as_elementary=lambda x: 2 / (exp(x) + exp(-x)), at_infinity=(lambda: ZERO, lambda: ZERO),
        latex=r"\operatorname{sech}",
    )
)  # fmt: skip
register(
    Function(
        name="csch", about="1/sinh.", example=("-x", "-csch(x)"),
        no_value=pole_at_zero,
        zeros=nowhere, derivative=lambda x: -csch(x) * coth(x), antiderivative=lambda x: ln(absolute(tanh(x / 2))), odd=True,
        inverse="acsch", solve_for=lambda c, n: ((acsch(c), nonzero(c)),), real_when=nonzero, breaks=lambda x: (x,),
        jumps=lambda x: (x,), bounds=lambda a, x: boxes.invert(a, _SINH(a, x)),
        as_elementary=lambda x: 2 / (exp(x) - exp(-x)), at_infinity=(lambda: ZERO, lambda: ZERO),
        latex=r"\operatorname{csch}",
    )
)  # fmt: skip
register(
    Function(
        name="sinhc", about="sinh(x)/x, and 1 at 0: one formula for growth, for swinging and for what lies between them.",
        example=("0", "1"), breaks=nowhere, jumps=nowhere, zeros=nowhere, derivative=lambda x: (cosh(x) - sinhc(x)) / x,
        at=_sinhc_at, even=True, known=real_and_positive, range=(lambda: ONE, None, False), bounds=_sinhc_bounds,
        as_elementary=lambda x: (exp(x) - exp(-x)) / (2 * x), antiderivative=Shi, in_code=_sinhc_in_code, latex=r"\operatorname{sinhc}",
    )
)  # fmt: skip
register(
    Function(
        name="asinh", about="The number with a given hyperbolic sine.", example=("0", "0"), breaks=nowhere, jumps=nowhere,
        zeros=at_zero, derivative=lambda x: 1 / sqrt(x**2 + 1), antiderivative=lambda x: x * asinh(x) - sqrt(x**2 + 1),
        at=_zero_to(ZERO), odd=True, solve_for=lambda c, n: ((sinh(c), ()),), known=sign_of_argument, rising=True, bounds=_ASINH,
        as_elementary=lambda x: ln(x + sqrt(x**2 + 1)),
        latex=r"\operatorname{arsinh}", source="DLMF 4.37",
    )
)  # fmt: skip
register(
    Function(
        name="acosh", about="The number that is not negative with a given hyperbolic cosine.", example=("1", "0"),
        zeros=at_one, derivative=lambda x: 1 / (sqrt(x - 1) * sqrt(x + 1)),
        antiderivative=lambda x: x * acosh(x) - sqrt(x - 1) * sqrt(x + 1), at=lambda x: ZERO if x is ONE else None,
        solve_for=lambda c, n: ((cosh(c), (relation("<=", ZERO, c),)),), real_when=lambda x: (relation("<=", ONE, x),),
        breaks=lambda x: (x - 1,), jumps=lambda x: (), rising=True, bounds=_acosh_bounds,
        as_elementary=lambda x: ln(x + sqrt(x - 1) * sqrt(x + 1)),
        latex=r"\operatorname{arcosh}",
    )
)  # fmt: skip
register(
    Function(
        name="atanh", about="The number with a given hyperbolic tangent.", example=("0", "0"),
        no_value=pole_at_one,
        zeros=at_zero, derivative=lambda x: 1 / (1 - x**2), antiderivative=lambda x: x * atanh(x) + ln(1 - x**2) / 2,
        at=_zero_to(ZERO), odd=True, solve_for=lambda c, n: ((tanh(c), ()),),
        real_when=lambda x: (relation("<", -ONE, x), relation("<", x, ONE)), breaks=lambda x: (1 - x**2,),
        jumps=lambda x: (1 - x**2,), rising=True, bounds=_atanh_bounds, as_elementary=lambda x: (ln(1 + x) - ln(1 - x)) / 2,
        latex=r"\operatorname{artanh}",
    )
)  # fmt: skip
register(
    Function(
        name="acoth", about="The number with a given hyperbolic cotangent.", example=("-x", "-acoth(x)"),
        no_value=pole_at_one,
        zeros=nowhere, derivative=lambda x: 1 / (1 - x**2), antiderivative=lambda x: x * acoth(x) + ln(x**2 - 1) / 2, odd=True,
        solve_for=lambda c, n: ((coth(c), nonzero(c)),), real_when=lambda x: (relation("<", ONE, absolute(x)),),
        breaks=lambda x: (x**2 - 1, x), jumps=lambda x: (x**2 - 1, x), bounds=_of_reciprocal(_atanh_bounds),
        as_elementary=lambda x: atanh(1 / x), at_infinity=(lambda: ZERO, lambda: ZERO), latex=r"\operatorname{arcoth}",
    )
)  # fmt: skip
register(
    Function(
        name="asech", about="The number that is not negative with a given 1/cosh.", example=("1", "0"),
        no_value=pole_at_zero,
        zeros=at_one, derivative=lambda x: -1 / (x * sqrt(1 - x**2)), at=lambda x: ZERO if x is ONE else None,
        solve_for=lambda c, n: ((sech(c), (relation("<=", ZERO, c),)),),
        real_when=lambda x: (relation("<", ZERO, x), relation("<=", x, ONE)), breaks=lambda x: (x, 1 - x), jumps=lambda x: (x,),
        bounds=_of_reciprocal(_acosh_bounds), as_elementary=lambda x: acosh(1 / x), latex=r"\operatorname{arsech}",
    )
)  # fmt: skip
register(
    Function(
        name="acsch", about="The number with a given 1/sinh.", example=("-x", "-acsch(x)"),
        no_value=pole_at_zero,
        zeros=nowhere, derivative=lambda x: -1 / (absolute(x) * sqrt(x**2 + 1)), odd=True, real_when=nonzero,
        solve_for=lambda c, n: ((csch(c), nonzero(c)),), breaks=lambda x: (x,), jumps=lambda x: (x,),
        bounds=_of_reciprocal(_ASINH), as_elementary=lambda x: asinh(1 / x), at_infinity=(lambda: ZERO, lambda: ZERO),
        latex=r"\operatorname{arcsch}",
    )
)  # fmt: skip
