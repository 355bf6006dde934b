"""Absolute value, sign, rounding, least and greatest, and the parts of complex numbers."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.errors import DomainError
from gelvo.expression.building import algebraic_number, distributed, looks_negative, multiply_all, negate, scale, sqrt, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Name, Power
from gelvo.expression.registry import Function, register
from gelvo.functions.support import (
    HALF,
    Arithmetic,
    Box,
    Call,
    Expression,
    FunctionName,
    Interval,
    NoValue,
    Number,
    Product,
    Sum,
    at_zero,
    boxes,
    call,
    facts,
    fraction,
    mpq,
    nonzero,
    nowhere,
    number,
    only_real,
    power,
    relation,
)
from gelvo.numbers import interval
from gelvo.numbers.exact import Gaussian, conjugate, is_integer, parts

absolute, sign, floor, ceil = FunctionName("abs"), FunctionName("sign"), FunctionName("floor"), FunctionName("ceil")
re, im, conj, arg, heaviside = (
    FunctionName("re"),
    FunctionName("im"),
    FunctionName("conj"),
    FunctionName("arg"),
    FunctionName("heaviside"),
)
minimum, maximum = FunctionName("min"), FunctionName("max")


def _abs_at(x: Expression) -> Expression | None:
    if isinstance(x, Number):
        real, imag = parts(x.value)
        return number(abs(real)) if not imag else sqrt(number(real * real + imag * imag))
    if facts.is_nonnegative(x.known):
        return x
    if facts.is_nonpositive(x.known):
        return -x
    if isinstance(x, Product):
        return multiply_all([absolute(number(x.coefficient)), *[absolute(f) for f in x.factors]])
    if isinstance(x, Power) and isinstance(x.exponent, Number) and x.exponent.is_whole:
        return power(absolute(x.base), x.exponent)  # of a root only the normal form: over the reals the root has its own domain
    if isinstance(x, Call) and x.name == "abs":
        return x
    if looks_negative(x):
        return absolute(distributed(negate(x)))
    return None


def _abs_known(known: int) -> int:
    return facts.NONNEGATIVE & (known & facts.NIL | ~facts.NIL) & (facts.ANY if known & facts.FRACTIONAL else ~facts.FRACTIONAL)


def _sign_at(x: Expression) -> Expression | None:
    if isinstance(x, Number) and x.is_rational:
        return number((x.rational > 0) - (x.rational < 0))
    if facts.is_positive(x.known):
        return ONE
    if facts.is_negative(x.known):
        return number(-1)
    if isinstance(x, Product) and not isinstance(x.coefficient, Gaussian):
        certain = [f for f in x.factors if facts.is_positive(f.known)]
        if x.coefficient != 1 or certain:
            rest = multiply_all([f for f in x.factors if f not in certain])
            return sign(number(x.coefficient)) * sign(rest)
    return None


def _sign_known(known: int) -> int:
    return facts.INTEGER & (known | ~(facts.NEG | facts.NIL | facts.POS)) if facts.is_real(known) else facts.ANY


def _sign_bounds(a: Arithmetic, x: Box) -> Box:
    real = only_real(x, "sign")
    if real.sign is None:
        raise NoValue("the sign of a number that may be zero")
    return Box(a.integer(real.sign))


def _step_bounds(method: str) -> Callable[[Arithmetic, Box], Box]:
    step = getattr(interval, method)

    def bounds(a: Arithmetic, x: Box) -> Box:
        real = only_real(x, method)
        low, high = step(real.low), step(real.high)
        if low != high:
            raise NoValue(f"{method} at a jump")
        return Box(a.integer(low))

    return bounds


def _rounded_at(method: str) -> Callable[[Expression], Expression | None]:
    def at(x: Expression) -> Expression | None:
        if facts.is_integer(x.known):
            return x
        if isinstance(x, Number) and x.is_rational:
            value = x.rational
            whole = value.numerator // value.denominator
            return number(mpq(whole + (1 if method == "ceil" and value.denominator != 1 else 0)))
        if not isinstance(x, Sum):
            return None
        whole = [scale(term, c) for term, c in x.items() if is_integer(c) and facts.is_integer(term.known)]
        if is_integer(x.constant) and x.constant:
            whole.append(number(x.constant))
        return total((*whole, call(method, total((x, *map(negate, whole)))))) if whole else None

    return at


def _extreme_at(pick: Callable[[list[mpq]], mpq], word: str) -> Callable[..., Expression | None]:
    def at(*arguments: Expression) -> Expression | None:
        flat: list[Expression] = []
        for argument in arguments:
            inner = argument.arguments if isinstance(argument, Call) and argument.name == word else (argument,)
            flat.extend(a for a in inner if a not in flat)
        numbers = [a.rational for a in flat if isinstance(a, Number)]
        rest = [a for a in flat if not isinstance(a, Number)]
        if numbers:
            rest.append(number(pick(numbers)))
        if len(rest) == 1:
            return rest[0]
        return None if tuple(rest) == arguments else call(word, *rest)

    return at


def _extreme_bounds(pick: Callable[..., object], word: str) -> Callable[..., Box]:
    def bounds(a: Arithmetic, *boxes_: Box) -> Box:
        reals = [only_real(b, word) for b in boxes_]
        return Box(Interval(pick(r.low for r in reals), pick(r.high for r in reals)))

    return bounds


def _extreme_as_cases(word: str) -> Callable[..., Expression]:
    def elementary(*arguments: Expression) -> Expression:
        result = arguments[0]
        for other in arguments[1:]:
            half_gap = absolute(result - other) / 2
            result = (result + other) / 2 + (half_gap if word == "max" else -half_gap)
        return result

    return elementary


def _part_at(part: str) -> Callable[[Expression], Expression | None]:
    """re, im and conj: through sums and products as far as parts are known."""

    def at(x: Expression) -> Expression | None:
        if isinstance(x, Number):
            real, imag = parts(x.value)
            return number({"re": real, "im": imag, "conj": conjugate(x.value)}[part])
        if facts.is_real(x.known):
            return ZERO if part == "im" else x
        if isinstance(x, Sum):
            return total([call(part, number(x.constant)), *[call(part, scale(t, c)) for t, c in x.items()]])
        if isinstance(x, Product):
            return _part_of_product(part, x)
        if isinstance(x, Name) and x.domain == "real":
            return ZERO if part == "im" else x
        if isinstance(x, Call) and x.name == "exp":
            return _part_of_exponential(part, x.arguments[0])
        return _mirrored(x) if part == "conj" else None

    return at


_REAL_ON_THE_LINE = ("sin", "cos", "sinh", "cosh", "tan", "tanh", "gamma", "re", "im")


def _mirrored(x: Expression) -> Expression | None:
    """The conjugate of a power, of a numbered root, or of a function that is real on the whole real line."""
    if isinstance(x, Power) and is_plain_integer(x.exponent):
        return power(conj(x.base), x.exponent)
    if isinstance(x, AlgebraicNumber):
        return algebraic_number(x.coefficients, x.index + _to_conjugate(x), x.known)
    if isinstance(x, Call) and x.name in _REAL_ON_THE_LINE:
        return call(x.name, conj(x.arguments[0]))
    return None


def _to_conjugate(x: AlgebraicNumber) -> int:
    """Complex roots follow the real ones in pairs, and there are as many real ones as the degree, but for pairs."""
    return -1 if (x.index - len(x.coefficients)) % 2 else 1


def is_plain_integer(x: Expression) -> bool:
    return isinstance(x, Number) and is_integer(x.value)


def _part_of_product(part: str, x: Product) -> Expression | None:
    if part == "conj":
        return multiply_all([number(conjugate(x.coefficient)), *[conj(f) for f in x.factors]])
    outside = [f for f in x.factors if facts.is_real(f.known) or (isinstance(f, Name) and f.domain == "real")]
    inside = [f for f in x.factors if f not in outside]
    real, imag = parts(x.coefficient)
    if not outside and not imag and real == 1:
        return None
    rest = multiply_all(inside)
    outer = multiply_all(outside)
    if part == "re":
        return outer * (real * re(rest) - imag * im(rest))
    return outer * (real * im(rest) + imag * re(rest))


def _part_of_exponential(part: str, inner: Expression) -> Expression:
    real, imag = re(inner), im(inner)
    if part == "conj":
        return call("exp", conj(inner))
    return call("exp", real) * call("cos" if part == "re" else "sin", imag)


def _arg_at(x: Expression) -> Expression | None:
    if facts.is_positive(x.known):
        return ZERO
    if facts.is_negative(x.known):
        return PI
    if isinstance(x, Number):
        real, imag = parts(x.value)
        return call("atan2", number(imag), number(real)) if x.value else _no_angle()
    return None


def _no_angle() -> Expression:
    raise DomainError("arg(0) has no value: zero has no angle")


def _heaviside_at(x: Expression) -> Expression | None:
    if isinstance(x, Number) and x.is_rational:
        return number(0) if x.rational < 0 else ONE if x.rational > 0 else fraction(1, 2)
    if facts.is_positive(x.known):
        return ONE
    return ZERO if facts.is_negative(x.known) else None


def _heaviside_bounds(a: Arithmetic, x: Box) -> Box:
    real = only_real(x, "heaviside")
    if real.sign is None:
        raise NoValue("heaviside at its jump")
    return Box(a.rational({1: mpq(1), -1: mpq(0), 0: HALF}[real.sign]))


def _delta_bounds(a: Arithmetic, x: Box) -> Box:
    if only_real(x, "dirac_delta").sign in (None, 0):
        raise NoValue("an impulse has no value at its place")
    return Box(a.zero)


register(
    Function(
        name="abs", about="The absolute value, the size of a complex number.", example=("3 + 4j", "5"),
        zeros=at_zero, derivative=sign, antiderivative=lambda x: x * absolute(x) / 2, at=_abs_at,
        solve_for=lambda c, n: ((c, (relation("<=", ZERO, c),)), (-c, (relation("<=", ZERO, c),))),
        breaks=lambda x: (x,), jumps=lambda x: (), known=_abs_known, bounds=lambda a, x: Box(boxes.modulus(a, x)),
        latex="abs",
    )
)  # fmt: skip
register(
    Function(
        name="sign", about="-1, 0 or 1 for a negative number, zero, a positive one.", example=("-7/2", "-1"),
        zeros=at_zero, derivative=lambda x: 2 * FunctionName("dirac_delta")(x), antiderivative=absolute, at=_sign_at, odd=True, breaks=lambda x: (x,),
        jumps=lambda x: (x,), known=_sign_known, bounds=_sign_bounds, at_infinity=(lambda: ONE, lambda: -ONE),
        latex=r"\operatorname{sgn}",
    )
)  # fmt: skip
for _word, _about, _value in (
    ("floor", "The largest whole number that is not above the argument.", "-4"),
    ("ceil", "The smallest whole number that is not below the argument.", "-3"),
):
    register(
        Function(
            name=_word, about=_about, example=("-7/2", _value), at=_rounded_at(_word), known=lambda k: facts.INTEGER if facts.is_real(k) else facts.ANY,
            breaks=lambda x: (call("sin", PI * x),), jumps=lambda x: (call("sin", PI * x),), bounds=_step_bounds(_word),
            latex=_word,
        )
    )  # fmt: skip
register(
    Function(
        name="min", about="The least of its arguments.", example=("3", "-2", "5", "-2"),
        arguments=(1, 99), at=_extreme_at(min, "min"), bounds=_extreme_bounds(min, "min"),
        breaks=lambda *xs: tuple(a - b for i, a in enumerate(xs) for b in xs[:i]), jumps=lambda *xs: (),
        as_elementary=_extreme_as_cases("min"), latex=r"\min",
    )
)  # fmt: skip
register(
    Function(
        name="max", about="The greatest of its arguments.", example=("3", "-2", "5", "5"),
        arguments=(1, 99), at=_extreme_at(max, "max"), bounds=_extreme_bounds(max, "max"),
        breaks=lambda *xs: tuple(a - b for i, a in enumerate(xs) for b in xs[:i]), jumps=lambda *xs: (),
        as_elementary=_extreme_as_cases("max"), latex=r"\max",
    )
)  # fmt: skip
register(
    Function(
        name="re", about="The real part.", example=("2 + 3j", "2"), breaks=nowhere, jumps=nowhere,
        as_elementary=lambda x: (x + conj(x)) / 2, at=_part_at("re"), known=lambda k: facts.REAL, bounds=lambda a, x: Box(x.real),
        latex=r"\operatorname{Re}",
    )
)  # fmt: skip
register(
    Function(
        name="im", about="The imaginary part.", example=("2 + 3j", "3"), breaks=nowhere, jumps=nowhere,
        as_elementary=lambda x: (x - conj(x)) * number(Gaussian(mpq(0), -HALF)), at=_part_at("im"), known=lambda k: facts.REAL, bounds=lambda a, x: Box(boxes.imaginary(a, x)),
        latex=r"\operatorname{Im}",
    )
)  # fmt: skip
register(
    Function(
        name="conj", about="The complex conjugate.", example=("2 + 3j", "2 - 3j"), breaks=nowhere, jumps=nowhere,
        at=_part_at("conj"), inverse="conj", known=lambda k: k,
        bounds=lambda a, x: Box(x.real, None if x.imag is None else a.negate(x.imag)),
        latex="conj",
    )
)  # fmt: skip
register(
    Function(
        name="arg", about="The angle of a complex number, above -pi and at most pi.", example=("1 + 1j", "pi/4"),
        at=_arg_at, real_when=nonzero, breaks=lambda x: (x,), jumps=lambda x: (x,), known=lambda k: facts.REAL,
        derivative=lambda x: ZERO, bounds=lambda a, x: Box(boxes.argument(a, x)), latex=r"\arg",
    )
)  # fmt: skip
register(
    Function(
        name="heaviside", about="The unit step: 0 before zero, 1 after it.", example=("3", "1"),
        at=_heaviside_at, antiderivative=lambda x: x * heaviside(x), breaks=lambda x: (x,),
        jumps=lambda x: (x,), known=lambda k: facts.NONNEGATIVE if facts.is_real(k) else facts.ANY, bounds=_heaviside_bounds,
        derivative=FunctionName("dirac_delta"), at_infinity=(lambda: ONE, lambda: ZERO), latex=r"\operatorname{H}",
    )
)  # fmt: skip
register(
    Function(
        name="dirac_delta", about="The unit impulse at zero: nothing elsewhere, and 1 as its integral.", example=("2", "0"),
        at=lambda x: ZERO if isinstance(x, Number) and x.value else None, even=True,
        antiderivative=heaviside, breaks=lambda x: (x,), jumps=lambda x: (x,), known=lambda k: facts.REAL if facts.is_real(k) else facts.ANY,
        bounds=_delta_bounds, at_infinity=(lambda: ZERO, lambda: ZERO), latex=r"\delta",
    )
)  # fmt: skip
