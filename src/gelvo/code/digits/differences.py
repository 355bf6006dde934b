"""f(a) - f(b) without cancellation: one row a function, in the difference d = a - b, which is worked out beforehand.

M. Abramowitz and I. A. Stegun, "Handbook of Mathematical Functions" (1964), 4.3.34 to 4.3.38, 4.4.34, 4.5.41 to 4.5.45;
R. W. Hamming, "Numerical Methods for Scientists and Engineers", 2nd ed. 1973, ch. 3.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gmpy2 import mpq

from gelvo.code.digits.numeric import expm1, log1p
from gelvo.expression.building import call, number, power, scale, sqrt, total
from gelvo.expression.constants import ONE, PI
from gelvo.expression.nodes import Call, Expression, Number, Power, Sum
from gelvo.expression.terms import base_and_exponent
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import FunctionName
from gelvo.numbers.exact import HALF

sin, cos, tan, exp, ln, sinh, cosh, tanh, cbrt, atan2, erfc, acos, asin = map(
    FunctionName, ("sin", "cos", "tan", "exp", "ln", "sinh", "cosh", "tanh", "cbrt", "atan2", "erfc", "acos", "asin")
)
THIRD = mpq(1, 3)
Row = Callable[[Expression, Expression, Expression], Expression]


def _half(e: Expression) -> Expression:
    return scale(e, HALF)


def _middle(b: Expression, d: Expression) -> Expression:
    return expand(b + _half(d))


DIFFERENCES: dict[str, Row] = {
    "sin": lambda a, b, d: 2 * cos(_middle(b, d)) * sin(_half(d)),
    "cos": lambda a, b, d: -2 * sin(_middle(b, d)) * sin(_half(d)),
    "tan": lambda a, b, d: sin(d) / (cos(a) * cos(b)),
    "exp": lambda a, b, d: exp(b) * expm1(d),
    "ln": lambda a, b, d: log1p(d / b),
    "sinh": lambda a, b, d: 2 * cosh(_middle(b, d)) * sinh(_half(d)),
    "cosh": lambda a, b, d: 2 * sinh(_middle(b, d)) * sinh(_half(d)),
    "tanh": lambda a, b, d: sinh(d) / (cosh(a) * cosh(b)),
    "atan": lambda a, b, d: atan2(d, ONE + a * b),
    "cbrt": lambda a, b, d: d / (cbrt(a) ** 2 + cbrt(a) * cbrt(b) + cbrt(b) ** 2),
    "asin": lambda a, b, d: asin(d * (a + b) / (a * sqrt((1 - b) * (1 + b)) + b * sqrt((1 - a) * (1 + a)))),
}

# c*f(u) + k*c for numbers k: what f(u) + k is
WITH_A_NUMBER: dict[str, Callable[[Expression, Expression], Expression | None]] = {
    "exp": lambda u, k: expm1(u) if k == -ONE else None,
    "cos": lambda u, k: -2 * sin(_half(u)) ** 2 if k == -ONE else 2 * cos(_half(u)) ** 2 if k == ONE else None,
    "cosh": lambda u, k: 2 * sinh(_half(u)) ** 2 if k == -ONE else 2 * cosh(_half(u)) ** 2 if k == ONE else None,
    "sin": lambda u, k: 2 * k * sin(PI / 4 + k * _half(u)) ** 2 if k in (ONE, -ONE) else None,
    "tanh": lambda u, k: 2 * k / (exp(-2 * k * u) + ONE) if k in (ONE, -ONE) else None,
    "erf": lambda u, k: -k * erfc(-k * u) * -ONE if k in (ONE, -ONE) else None,
    "erfc": lambda u, k: -call("erf", u) if k == -ONE else None,
}
# the same where the number is a multiple of pi
WITH_PI: dict[str, Callable[[Expression, mpq], Expression | None]] = {
    "atan": lambda u, k: -atan2(ONE, u) if k == -HALF else atan2(ONE, -u) if k == HALF else None,
    "asin": lambda u, k: -acos(u) if k == -HALF else acos(-u) if k == HALF else None,
    "acos": lambda u, k: -asin(u) if k == -HALF else -acos(-u) if k == -1 else None,
}


def gaps(a: Expression, b: Expression) -> tuple[Expression, ...]:
    """a - b, multiplied out and in factors."""
    plain = expand(a - b)
    return tuple(dict.fromkeys((plain, factored(plain)))) if isinstance(plain, Sum) else (plain,)


def of_powers(a: Expression, p: Expression, b: Expression, q: Expression) -> Iterator[Expression]:
    """a^p - b^q for equal exponents, or for equal bases."""
    if a is b:
        yield power(b, q) * expm1((p - q) * ln(b))
    elif p is q:
        for d in gaps(a, b):
            if isinstance(p, Number):
                yield from _of_rational_powers(a, b, d, p.rational)
            if not isinstance(p, Number) or p.rational.denominator > 2:
                yield power(b, p) * expm1(p * log1p(d / b))


def _of_rational_powers(a: Expression, b: Expression, d: Expression, r: mpq) -> Iterator[Expression]:
    """a^r - b^r for d = a - b."""
    if r == -1:
        yield -d / (a * b)
    elif abs(r) == HALF:
        rise = d / (sqrt(a) + sqrt(b))
        yield rise if r > 0 else -rise / (sqrt(a) * sqrt(b))
    elif r.denominator == 1 and 2 <= abs(r) <= 6:
        n = abs(int(r))
        rise = d * total([power(a, number(k)) * power(b, number(n - 1 - k)) for k in range(n)])
        yield rise if r > 0 else -rise / (power(a, number(n)) * power(b, number(n)))
    elif r == THIRD:
        first, second = power(a, number(r)), power(b, number(r))
        yield d / (first**2 + first * second + second**2)


def of_calls(one: Call, other: Call) -> Iterator[Expression]:
    """f(a) - f(b)."""
    row = DIFFERENCES.get(one.name)
    if row is None:
        return
    a, b = one.arguments[0], other.arguments[0]
    for d in gaps(a, b):
        yield row(a, b, d)
        if one.name == "exp":
            yield -exp(a) * expm1(-d)


def of_factors(one: Expression, other: Expression) -> Iterator[Expression]:
    """one - other where they are the same function of different arguments, or powers."""
    if isinstance(one, Call) and isinstance(other, Call) and one.function is other.function and len(one.arguments) == 1:
        yield from of_calls(one, other)
    elif isinstance(one, Power) or isinstance(other, Power):
        (a, p), (b, q) = base_and_exponent(one), base_and_exponent(other)
        if (p is q or a is b) and not (p is ONE and q is ONE):
            yield from of_powers(a, p, b, q)


def with_number(factor: Expression, k: Expression) -> Iterator[Expression]:
    """factor + k for a number k; with the square root of a sum the difference is made of squares elsewhere."""
    if isinstance(factor, Call):
        row = WITH_A_NUMBER.get(factor.name)
        found = row(factor.arguments[0], k) if row is not None else None
        if found is not None:
            yield found
    elif isinstance(factor, Power) and isinstance(k, Number) and k.rational < 0:
        a, p = factor.base, factor.exponent
        if k == -ONE:
            yield expm1(p * ln(a))
            if isinstance(a, Sum):
                for d in gaps(a, ONE):
                    yield expm1(p * log1p(d))
        if isinstance(p, Number) and p.is_rational:
            b = power(-k, power(p, number(-1)))
            if isinstance(b, Number):
                yield from of_powers(a, p, b, p)


def with_pi(factor: Expression, k: mpq) -> Iterator[Expression]:
    """factor + k*pi."""
    if isinstance(factor, Call) and factor.name in WITH_PI:
        found = WITH_PI[factor.name](factor.arguments[0], k)
        if found is not None:
            yield found
