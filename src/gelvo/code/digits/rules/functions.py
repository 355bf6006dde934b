"""Other forms of logarithms, and of inverse functions near the ends of what they take."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.code.digits.differences import gaps
from gelvo.code.digits.numeric import EXPM1, expm1, log1p
from gelvo.expression.building import multiply_all, number, scale, sqrt, total
from gelvo.expression.constants import HALF as ONE_HALF
from gelvo.expression.constants import ONE, PI, TWO
from gelvo.expression.display import product_parts
from gelvo.expression.nodes import Call, Expression, Power, Product, Sum
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import FunctionName
from gelvo.numbers.exact import real

exp, ln, sinh, asin, acos, atan2, asinh, acosh, atanh, absolute, maximum = map(
    FunctionName, ("exp", "ln", "sinh", "asin", "acos", "atan2", "asinh", "acosh", "atanh", "abs", "max")
)


def logarithms(e: Expression, facts: Facts) -> Iterator[Expression]:
    """ln near 1 by log1p, of quotients by their difference, of sums of exponentials by the largest."""
    if not (isinstance(e, Call) and e.name == "ln"):
        return
    u = e.arguments[0]
    if isinstance(u, Sum):
        for d in gaps(u, ONE):
            yield log1p(d)
        yield from _of_exponentials(u)
        yield from _area(u)
    if isinstance(u, Call):
        yield from _of_function(u)
    top, bottom = _quotient(u)
    if bottom is not ONE:
        yield from _of_quotient(top, bottom)
    elif isinstance(u, Product):
        yield total([ln(f) for f in ([number(u.coefficient)] if u.coefficient != 1 else []) + list(u.factors)])


def _of_quotient(top: Expression, bottom: Expression) -> Iterator[Expression]:
    for d in gaps(top, bottom):
        yield log1p(d / bottom)
    for d in gaps(bottom, top):
        yield -log1p(d / top)
    yield log1p(top - 1) - log1p(bottom - 1)
    yield ln(top) - ln(bottom)
    yield 2 * atanh(factored((top - bottom) / (top + bottom)))


def _of_function(u: Call) -> Iterator[Expression]:
    inner = u.arguments[0]
    size = absolute(inner)
    if u.name == "cosh":
        yield size + log1p(exp(-2 * size)) - ln(TWO)
        yield ONE_HALF * log1p(sinh(inner) ** 2)
    elif u.name == "sinh":
        yield size + log1p(-exp(-2 * size)) - ln(TWO)
    elif u.function is EXPM1:
        yield inner + ln(-expm1(-inner))


def _quotient(u: Expression) -> tuple[Expression, Expression]:
    coefficient, top, bottom = product_parts(u)
    number_above, number_below = real(coefficient).numerator, real(coefficient).denominator
    return multiply_all([number(number_above), *top]), multiply_all([number(number_below), *bottom])


def _of_exponentials(u: Sum) -> Iterator[Expression]:
    """ln of a sum with exponentials: the largest exponent goes in front."""
    exponents = [t.arguments[0] for t in u.terms if isinstance(t, Call) and t.name == "exp"]
    if not exponents:
        return
    for v in exponents:
        rest = expand(total([scale(t, c) * exp(-v) for t, c in u.items() if t is not exp(v)] + [number(u.constant) * exp(-v)]))
        c = next(c for t, c in u.items() if t is exp(v))
        yield v + log1p(scale(rest, 1 / real(c))) + ln(number(c))
    every = [*exponents, *[number(0)] * bool(u.constant)]
    if len(every) == len(u.terms) + bool(u.constant) and len(every) >= 2:
        if len(every) == 2 and set(u.coefficients) == {1} and u.constant in (0, 1):
            a, b = every
            yield maximum(a, b) + log1p(exp(-absolute(a - b)))
        largest = maximum(*every)
        shifted = [scale(exp(v - largest), c) for v, c in zip(exponents, u.coefficients, strict=True)] + [
            number(u.constant) * exp(-largest)
        ] * bool(u.constant)
        yield largest + ln(total(shifted))


def _area(u: Sum) -> Iterator[Expression]:
    """ln(x + sqrt(x^2 + 1)) and ln(x + sqrt(x^2 - 1))."""
    for t, c in u.items():
        if isinstance(t, Power) and t.exponent == ONE_HALF and c == 1:
            x = u - t
            left = expand(t.base - x**2)
            if left == ONE:
                yield asinh(x)
            elif left == -ONE:
                yield acosh(x)


def inverse_functions(e: Expression, facts: Facts) -> Iterator[Expression]:
    """acos, asin, acosh and atanh near the ends of what they take."""
    if not isinstance(e, Call) or e.name not in ("acos", "asin", "acosh", "atanh"):
        return
    u = e.arguments[0]
    below, above = (factored(expand(ONE - u)), factored(expand(ONE + u))) if isinstance(u, (Sum, Product)) else (ONE - u, ONE + u)
    if e.name == "acos":
        yield 2 * asin(sqrt(below / 2))
        yield PI - 2 * asin(sqrt(above / 2))
        yield atan2(sqrt(below * above), u)
    elif e.name == "asin":
        yield atan2(u, sqrt(below * above))
        yield PI / 2 - 2 * asin(sqrt(below / 2))
        if isinstance(u, Power) and u.exponent == ONE_HALF:
            yield acos(sqrt(factored(expand(ONE - u.base))))
            yield atan2(u, sqrt(factored(expand(ONE - u.base))))
    elif e.name == "acosh":
        yield log1p(-below + sqrt(-below * above))
        yield 2 * asinh(sqrt(-below / 2))
    else:
        yield ONE_HALF * log1p(2 * u / below)
