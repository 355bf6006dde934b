"""Circular functions and their inverses, with exact values at rational multiples of pi."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.errors import DomainError
from gelvo.expression.building import scale, total, weighted_terms
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Condition
from gelvo.expression.registry import Function, register
from gelvo.functions.support import (
    HALF,
    Arithmetic,
    Box,
    Call,
    Expression,
    FunctionName,
    NoValue,
    Number,
    Product,
    Sum,
    at_one,
    at_zero,
    between,
    boxes,
    call,
    facts,
    fraction,
    mpq,
    nonzero,
    nowhere,
    number,
    only_real,
    pi_multiple,
    pole_at_zero,
    power,
    real_if_real,
    relation,
    sign_of_argument,
    sqrt,
)

sin, cos, tan, cot, sec, csc = (FunctionName(n) for n in ("sin", "cos", "tan", "cot", "sec", "csc"))
asin, acos, atan, acot, asec, acsc = (FunctionName(n) for n in ("asin", "acos", "atan", "acot", "asec", "acsc"))
ln, absolute = FunctionName("ln"), FunctionName("abs")

# sin(r*pi) for the r between 0 and 1/2 that have short square-root values.
SINES: dict[mpq, Expression] = {
    mpq(0): ZERO,
    mpq(1, 12): (sqrt(6) - sqrt(2)) / 4,
    mpq(1, 10): (sqrt(5) - 1) / 4,
    mpq(1, 8): sqrt(2 - sqrt(2)) / 2,
    mpq(1, 6): fraction(1, 2),
    mpq(1, 5): sqrt((5 - sqrt(5)) / 8),
    mpq(1, 4): sqrt(2) / 2,
    mpq(3, 10): (sqrt(5) + 1) / 4,
    mpq(1, 3): sqrt(3) / 2,
    mpq(3, 8): sqrt(2 + sqrt(2)) / 2,
    mpq(2, 5): sqrt((5 + sqrt(5)) / 8),
    mpq(5, 12): (sqrt(6) + sqrt(2)) / 4,
    mpq(1, 2): ONE,
}
TANGENTS: dict[mpq, Expression] = {
    mpq(0): ZERO,
    mpq(1, 12): 2 - sqrt(3),
    mpq(1, 8): sqrt(2) - 1,
    mpq(1, 6): sqrt(3) / 3,
    mpq(1, 4): ONE,
    mpq(1, 3): sqrt(3),
    mpq(3, 8): sqrt(2) + 1,
    mpq(5, 12): 2 + sqrt(3),
}


def _turn(x: Expression) -> tuple[Expression, int, Expression]:
    """x = rest + quarter*pi/2 + n*pi with a quarter in 0..3 and n a sum of declared integers."""
    items = weighted_terms(x)
    quarter = 0
    whole: list[Expression] = []
    rest: list[Expression] = [number(x.constant)] if isinstance(x, Sum) else []
    for term, coefficient in items:
        integer = _integer_times_pi(term)
        if term is PI and isinstance(coefficient, mpq) and (2 * coefficient).denominator == 1 and isinstance(x, Sum):
            quarter += int(2 * coefficient)
        elif integer is not None and isinstance(coefficient, mpq) and coefficient.denominator == 1:
            whole.append(scale(integer, coefficient))
        else:
            rest.append(scale(term, coefficient))
    return total(rest), quarter % 4, total(whole)


def _integer_times_pi(term: Expression) -> Expression | None:
    if isinstance(term, Product) and PI in term.factors:
        rest = [f for f in term.factors if f is not PI]
        if rest and all(facts.is_integer(f.known) for f in rest):
            product: Expression = ONE
            for factor in rest:
                product = product * factor
            return product
    return None


def _wave_at(shift: int) -> Callable[[Expression], Expression | None]:
    """Exact values of sine (shift 0) and cosine (shift 1), and whole shifts by quarter turns."""

    def at(x: Expression) -> Expression | None:
        multiple = pi_multiple(x)
        if multiple is not None:
            return _sine_of_turns(multiple + shift * HALF, multiple, shift)
        rest, quarter, whole = _turn(x)
        if not quarter and whole is ZERO:
            return None
        sign = power(number(-1), whole)
        quarters = (quarter + shift) % 4
        value = sin(rest) if quarters % 2 == 0 else cos(rest)
        return sign * value if quarters < 2 else -sign * value

    return at


def _sine_of_turns(turns: mpq, multiple: mpq, shift: int) -> Expression | None:
    """sin(turns*pi) by symmetry from the first quarter; None where it stands in lowest form already."""
    reduced = turns % 2
    negative = reduced > 1
    if negative:
        reduced -= 1
    if reduced > HALF:
        reduced = 1 - reduced
    value = SINES.get(reduced)
    if value is None:
        # one name for one number: the argument with the smaller denominator, sine where both are alike
        other = HALF - reduced
        own = (0, reduced) if reduced.denominator <= other.denominator else (1, other)
        if (shift, multiple) == own and not negative:
            return None
        value = call("cos" if own[0] else "sin", number(own[1]) * PI)
    return -value if negative else value


def _tan_at(x: Expression) -> Expression | None:
    multiple = pi_multiple(x)
    if multiple is not None:
        reduced = multiple % 1
        sign = 1
        if reduced > HALF:
            reduced, sign = 1 - reduced, -1
        if reduced == HALF:
            raise DomainError(f"tan({x}) has no value: the tangent has a pole there")
        value = TANGENTS.get(reduced)
        if value is None:
            if reduced == multiple:
                return None
            value = tan(number(reduced) * PI)
        return sign * value
    rest, quarter, whole = _turn(x)
    if quarter or whole is not ZERO:
        return tan(rest) if quarter % 2 == 0 else -1 / tan(rest)
    return None


def _by_quotient(top: str, bottom: str) -> Callable[[Expression], Expression | None]:
    """Exact values of a quotient where both parts have them; also moves whole turns out."""

    def at(x: Expression) -> Expression | None:
        multiple = pi_multiple(x)
        if multiple is None:
            return None
        upper: Expression = ONE if top == "1" else call(top, x)
        lower = call(bottom, x)
        if isinstance(upper, Call) or isinstance(lower, Call):
            return None
        return upper / lower

    return at


def _inverse_table(values: dict[mpq, Expression], transform: Callable[[mpq], mpq]) -> dict[Expression, Expression]:
    return {v: number(transform(r)) * PI for r, v in values.items()}


_ASIN = _inverse_table(SINES, lambda r: r)
_ATAN = _inverse_table(TANGENTS, lambda r: r)


def _acos_at(x: Expression) -> Expression | None:
    value = _asin_value(x)
    return None if value is None else PI / 2 - value


def _asin_value(x: Expression) -> Expression | None:
    if x in _ASIN:
        return _ASIN[x]
    negative = -x
    return -_ASIN[negative] if negative in _ASIN else None


def _reciprocal_of(inner: Callable[[Expression], Expression | None]) -> Callable[[Expression], Expression | None]:
    def at(x: Expression) -> Expression | None:
        return None if isinstance(x, Number) and not x.value else inner(1 / x) if isinstance(x, Number) else None

    return at


def _tan_bounds(a: Arithmetic, x: Box) -> Box:
    if x.imag is not None:
        return boxes.multiply(a, boxes.sine(a, x), boxes.invert(a, boxes.cosine(a, x)))
    if a.poles_inside(x.real, 1):
        raise NoValue("the tangent at a pole")
    return Box(a.rising("tan", x.real))


def _one_over(inner: Callable[[Arithmetic, Box], Box]) -> Callable[[Arithmetic, Box], Box]:
    return lambda a, x: boxes.invert(a, inner(a, x))


def _of_reciprocal(inner: Callable[[Arithmetic, Box], Box]) -> Callable[[Arithmetic, Box], Box]:
    return lambda a, x: inner(a, boxes.invert(a, x))


def _asin_bounds(a: Arithmetic, x: Box) -> Box:
    return Box(a.inside("asin", only_real(x, "asin"), -1, 1))


def _acos_bounds(a: Arithmetic, x: Box) -> Box:
    return Box(a.inside("acos", only_real(x, "acos"), -1, 1, falling=True))


def _atan_bounds(a: Arithmetic, x: Box) -> Box:
    """Off the cuts of complex numbers by logarithms (DLMF 4.23.26)."""
    if x.imag is None:
        return Box(a.rising("atan", x.real))
    if x.real.contains_zero() and not (x.imag.low > -1 and x.imag.high < 1):
        raise NoValue("atan of complex numbers on its cuts")
    one, turned = Box(a.one), boxes.multiply(a, Box(a.zero, a.one), x)
    above = boxes.logarithm(a, boxes.add(a, one, turned))
    below = boxes.logarithm(a, boxes.add(a, one, boxes.negate(a, turned)))
    return boxes.multiply(a, Box(a.zero, a.rational(mpq(-1, 2))), boxes.add(a, above, boxes.negate(a, below)))


def _within_one(c: Expression) -> tuple[Condition, ...]:
    return between(-1, c, 1)


def _outside_one(c: Expression) -> tuple[Condition, ...]:
    return (relation("<=", ONE, absolute(c)),)


def _unit_known(known: int) -> int:
    return facts.REAL if facts.is_real(known) else facts.ANY


UNIT_RANGE = (lambda: -ONE, lambda: ONE, False)
TURN = lambda: TWO * PI
HALF_TURN = lambda: PI

register(
    Function(
        name="sin", about="The sine of an angle in radians.", example=("pi/6", "1/2"), breaks=nowhere, jumps=nowhere,
        zeros=lambda n: (n * PI,), derivative=cos, antiderivative=lambda x: -cos(x), at=_wave_at(0), odd=True, inverse="asin", period=TURN,
        solve_for=lambda c, n: ((asin(c) + 2 * PI * n, _within_one(c)), (PI - asin(c) + 2 * PI * n, _within_one(c))),
        known=_unit_known, range=UNIT_RANGE, bounds=boxes.sine, latex=r"\sin", source="DLMF 4.14",
    )
)  # fmt: skip
register(
    Function(
        name="cos", about="The cosine of an angle in radians.", example=("pi/3", "1/2"), breaks=nowhere, jumps=nowhere,
        zeros=lambda n: ((n + HALF) * PI,), derivative=lambda x: -sin(x), antiderivative=sin, at=_wave_at(1), even=True, inverse="acos", period=TURN,
        solve_for=lambda c, n: ((acos(c) + 2 * PI * n, _within_one(c)), (-acos(c) + 2 * PI * n, _within_one(c))),
        known=_unit_known, range=UNIT_RANGE, bounds=boxes.cosine, latex=r"\cos", source="DLMF 4.14",
    )
)  # fmt: skip
register(
    Function(
        name="tan", about="The tangent of an angle in radians, sin/cos.", example=("pi/4", "1"),
        zeros=lambda n: (n * PI,), derivative=lambda x: 1 + tan(x) ** 2, antiderivative=lambda x: -ln(absolute(cos(x))), at=_tan_at, odd=True,
        inverse="atan", period=HALF_TURN, solve_for=lambda c, n: ((atan(c) + PI * n, ()),),
        real_when=lambda x: nonzero(cos(x)), breaks=lambda x: (cos(x),), jumps=lambda x: (cos(x),), known=real_if_real,
        bounds=_tan_bounds, as_elementary=lambda x: sin(x) / cos(x), latex=r"\tan",
    )
)  # fmt: skip
register(
    Function(
        name="cot", about="The cotangent of an angle in radians, cos/sin.", example=("pi/6", "sqrt(3)"),
        zeros=lambda n: ((n + HALF) * PI,), derivative=lambda x: -1 - cot(x) ** 2, antiderivative=lambda x: ln(absolute(sin(x))),
        at=_by_quotient("cos", "sin"), odd=True, inverse="acot", period=HALF_TURN,
        solve_for=lambda c, n: ((PI / 2 - atan(c) + PI * n, ()),),
        real_when=lambda x: nonzero(sin(x)), breaks=lambda x: (sin(x),), jumps=lambda x: (sin(x),), known=real_if_real,
        bounds=lambda a, x: boxes.multiply(a, boxes.cosine(a, x), boxes.invert(a, boxes.sine(a, x))),
        as_elementary=lambda x: cos(x) / sin(x), latex=r"\cot",
    )
)  # fmt: skip
register(
    Function(
        name="sec", about="The secant, 1/cos.", example=("pi/3", "2"),
        zeros=nowhere, derivative=lambda x: sec(x) * tan(x), antiderivative=lambda x: ln(absolute(sec(x) + tan(x))),
        at=_by_quotient("1", "cos"), even=True, inverse="asec", period=TURN,
        solve_for=lambda c, n: ((asec(c) + 2 * PI * n, _outside_one(c)), (-asec(c) + 2 * PI * n, _outside_one(c))),
        real_when=lambda x: nonzero(cos(x)), breaks=lambda x: (cos(x),), jumps=lambda x: (cos(x),),
        known=lambda k: facts.NONZERO_REAL if facts.is_real(k) else facts.ANY, bounds=_one_over(boxes.cosine),
        as_elementary=lambda x: 1 / cos(x), latex=r"\sec",
    )
)  # fmt: skip
register(
    Function(
        name="csc", about="The cosecant, 1/sin.", example=("pi/6", "2"),
        zeros=nowhere, derivative=lambda x: -csc(x) * cot(x), antiderivative=lambda x: -ln(absolute(csc(x) + cot(x))),
        at=_by_quotient("1", "sin"), odd=True, inverse="acsc", period=TURN,
        solve_for=lambda c, n: ((acsc(c) + 2 * PI * n, _outside_one(c)), (PI - acsc(c) + 2 * PI * n, _outside_one(c))),
        real_when=lambda x: nonzero(sin(x)), breaks=lambda x: (sin(x),), jumps=lambda x: (sin(x),),
        known=lambda k: facts.NONZERO_REAL if facts.is_real(k) else facts.ANY, bounds=_one_over(boxes.sine),
        as_elementary=lambda x: 1 / sin(x), latex=r"\csc",
    )
)  # fmt: skip
register(
    Function(
        name="asin", about="The angle between -pi/2 and pi/2 with a given sine.", example=("1/2", "pi/6"),
        zeros=at_zero, derivative=lambda x: 1 / sqrt(1 - x**2), antiderivative=lambda x: x * asin(x) + sqrt(1 - x**2),
        at=lambda x: _ASIN.get(x), odd=True, solve_for=lambda c, n: ((sin(c), (relation("<=", -PI / 2, c), relation("<=", c, PI / 2))),),
        real_when=_within_one, breaks=lambda x: (1 - x**2,), jumps=lambda x: (), known=lambda k: facts.ANY, rising=True,
        bounds=_asin_bounds, latex=r"\arcsin", source="DLMF 4.23",
    )
)  # fmt: skip
register(
    Function(
        name="acos", about="The angle between 0 and pi with a given cosine.", example=("-1", "pi"),
        zeros=at_one, derivative=lambda x: -1 / sqrt(1 - x**2), antiderivative=lambda x: x * acos(x) - sqrt(1 - x**2),
        at=_acos_at, solve_for=lambda c, n: ((cos(c), (relation("<=", ZERO, c), relation("<=", c, PI))),),
        real_when=_within_one, breaks=lambda x: (1 - x**2,), jumps=lambda x: (), known=lambda k: facts.ANY,
        bounds=_acos_bounds, as_elementary=lambda x: PI / 2 - asin(x),
        latex=r"\arccos",
    )
)  # fmt: skip
register(
    Function(
        name="atan", about="The angle between -pi/2 and pi/2 with a given tangent.", example=("1", "pi/4"), breaks=nowhere, jumps=nowhere,
        zeros=at_zero, derivative=lambda x: 1 / (1 + x**2), antiderivative=lambda x: x * atan(x) - ln(1 + x**2) / 2,
        at=lambda x: _ATAN.get(x), odd=True, solve_for=lambda c, n: ((tan(c), (relation("<", -PI / 2, c), relation("<", c, PI / 2))),),
        known=sign_of_argument, rising=True, range=(lambda: -PI / 2, lambda: PI / 2, True), bounds=_atan_bounds, at_infinity=(lambda: PI / 2, lambda: -PI / 2),
        latex=r"\arctan",
    )
)  # fmt: skip
register(
    Function(
        name="acot", about="The angle with a given cotangent, atan(1/x).", example=("1", "pi/4"),
        zeros=nowhere, derivative=lambda x: -1 / (1 + x**2), antiderivative=lambda x: x * acot(x) + ln(1 + x**2) / 2,
        at=lambda x: PI / 2 if x is ZERO else _reciprocal_of(lambda y: _ATAN.get(y))(x), odd=False,
        solve_for=lambda c, n: ((1 / tan(c), (relation("<", -PI / 2, c), relation("<=", c, PI / 2), relation("!=", c, ZERO))),),
        breaks=lambda x: (x,), jumps=lambda x: (x,), known=real_if_real,
        bounds=_of_reciprocal(_atan_bounds), as_elementary=lambda x: atan(1 / x), at_infinity=(lambda: ZERO, lambda: ZERO),
        latex=r"\operatorname{arccot}", source="acot(x) = atan(1/x): DLMF 4.23.9",
    )
)  # fmt: skip
register(
    Function(
        name="asec", about="The angle with a given secant, acos(1/x).", example=("2", "pi/3"),
        no_value=pole_at_zero,
        zeros=at_one, derivative=lambda x: 1 / (absolute(x) * sqrt(x**2 - 1)), at=_reciprocal_of(_acos_at),
        solve_for=lambda c, n: ((1 / cos(c), (relation("<=", ZERO, c), relation("<=", c, PI), relation("!=", c, PI / 2))),),
        real_when=_outside_one, breaks=lambda x: (x**2 - 1, x), jumps=lambda x: (x,), bounds=_of_reciprocal(_acos_bounds),
        as_elementary=lambda x: PI / 2 - asin(1 / x), at_infinity=(lambda: PI / 2, lambda: PI / 2),
        latex=r"\operatorname{arcsec}",
    )
)  # fmt: skip
register(
    Function(
        name="acsc", about="The angle with a given cosecant, asin(1/x).", example=("2", "pi/6"),
        no_value=pole_at_zero,
        zeros=nowhere, derivative=lambda x: -1 / (absolute(x) * sqrt(x**2 - 1)), at=_reciprocal_of(_asin_value), odd=True,
        solve_for=lambda c, n: ((1 / sin(c), (relation("<=", -PI / 2, c), relation("<=", c, PI / 2), relation("!=", c, ZERO))),),
        real_when=_outside_one, breaks=lambda x: (x**2 - 1, x), jumps=lambda x: (x,), bounds=_of_reciprocal(_asin_bounds),
        as_elementary=lambda x: asin(1 / x), at_infinity=(lambda: ZERO, lambda: ZERO), latex=r"\operatorname{arccsc}",
    )
)  # fmt: skip


def _atan2_at(y: Expression, x: Expression) -> Expression | None:
    """The angle where the quadrant is known from declared domains."""
    if facts.is_positive(x.known):
        return atan(y / x)
    if facts.is_negative(x.known) and facts.is_nonnegative(y.known):
        return atan(y / x) + PI
    if facts.is_negative(x.known) and facts.is_negative(y.known):
        return atan(y / x) - PI
    if x is ZERO and facts.is_positive(y.known):
        return PI / 2
    if x is ZERO and facts.is_negative(y.known):
        return -PI / 2
    return None


register(
    Function(
        name="atan2", about="The angle of the point (x, y), from its ordinate y and its abscissa x, above -pi and at most pi.", example=("1", "-1", "3*pi/4"),
        arguments=(2, 2), at=_atan2_at,
        derivative=(lambda y, x: x / (x**2 + y**2), lambda y, x: -y / (x**2 + y**2)),
        breaks=lambda y, x: (y, x), jumps=lambda y, x: (y,), known=lambda j, k: facts.REAL if facts.is_real(j | k) else facts.ANY,
        bounds=lambda a, y, x: Box(a.atan2(only_real(y, "atan2"), only_real(x, "atan2"))),
        latex=r"\operatorname{atan2}",
    )
)  # fmt: skip
