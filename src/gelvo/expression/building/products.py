"""Products and powers, each made of the other: powers of one base are merged, powers of products taken apart."""

from __future__ import annotations

from collections.abc import Iterable

from gmpy2 import mpq, mpz

from gelvo.errors import DomainError
from gelvo.expression import known as facts
from gelvo.expression.building.calls import call
from gelvo.expression.building.leaves import number, shown_short
from gelvo.expression.building.sums import make_product, scale, total, weighted_terms
from gelvo.expression.interning import interned
from gelvo.expression.nodes import Bound, Call, Expression, Number, Power, Product, Sum
from gelvo.expression.order import ordered
from gelvo.numbers import exact
from gelvo.numbers.exact import MINUS_ONE, ONE, ZERO, Gaussian, Scalar, is_integer, parts


def _base(factor: Expression) -> Expression:
    """The x of x^n; exp(1) of exp(u)."""
    if isinstance(factor, Power):
        return factor.base
    return call("exp", number(ONE)) if isinstance(factor, Call) and factor.function.name == "exp" else factor


def _exponent(factor: Expression) -> Expression:
    """The n of x^n; the u of exp(u)."""
    if isinstance(factor, Power):
        return factor.exponent
    return factor.arguments[0] if isinstance(factor, Call) and factor.function.name == "exp" else number(ONE)


def multiply_all(factors: Iterable[Expression]) -> Expression:
    """The product of many factors, in one pass; powers of one base are merged.

    >>> from gelvo.expression.building import name, multiply_all
    >>> print(multiply_all([name("x"), name("y"), name("x")]))
    x^2*y
    """
    coefficient: Scalar = ONE
    by_base: dict[Expression, Expression] = {}
    work = list(factors)
    work.reverse()
    bounded: Bound | None = None
    while work:
        factor = work.pop()
        if isinstance(factor, Number):
            coefficient = coefficient * factor.value
        elif isinstance(factor, Product):
            coefficient = coefficient * factor.coefficient
            work.extend(reversed(factor.factors))
        elif isinstance(factor, Bound):
            bounded = factor
        else:
            base = _base(factor)
            earlier = by_base.pop(base, None)
            if earlier is None:
                by_base[base] = factor
            else:
                work.append(power(base, total((_exponent(earlier), _exponent(factor)))))
    if bounded is not None:
        raise DomainError(f"{bounded.kind} is not a number and cannot stand in a product")
    if not coefficient or not by_base:
        return number(coefficient)
    if len(by_base) == 1:
        return scale(next(iter(by_base.values())), coefficient)
    return make_product(coefficient, tuple(ordered(by_base.values())))


def divide(top: Expression, bottom: Expression) -> Expression:
    if isinstance(bottom, Number):
        if not bottom.value:
            raise DomainError(f"division by zero in {shown_short(top)}/0")
        return scale(top, exact.reciprocal(bottom.value))
    return multiply_all((top, power(bottom, number(MINUS_ONE))))


def _make_power(base: Expression, exponent: Expression) -> Expression:
    return interned(Power, (base, exponent), _known_of_new_power)


def _known_of_new_power(node: Power) -> int:
    return known_of_power(node, node.base.known, node.exponent.known)


def known_of_power(node: Power, base: int, exponent: int) -> int:
    if isinstance(node.exponent, Number) and is_integer(node.exponent.value):
        return facts.integer_power_known(base, int(node.exponent.rational))
    if isinstance(node.exponent, Number) and facts.is_negative(exponent) and facts.is_nonnegative(base):
        return facts.POSITIVE
    return facts.power_known(base, exponent)


def power(base: Expression, exponent: Expression) -> Expression:
    """base ^ exponent in canonical form."""
    if isinstance(base, Bound) or isinstance(exponent, Bound):
        raise DomainError("inf and undefined cannot stand in a power; use limit(…)")
    if isinstance(exponent, Number) and exponent.is_rational:
        if exponent.rational.denominator == 1:
            return _integer_power(base, int(exponent.rational))
        return _rational_power(base, exponent.rational)
    return _symbolic_power(base, exponent)


def sqrt(x: Expression | int) -> Expression:
    """The square root that is not negative, or has a positive real part.

    >>> print(sqrt(12))
    2*sqrt(3)
    """
    return power(x if isinstance(x, Expression) else number(x), number(exact.HALF))


def _integer_power(base: Expression, exponent: int) -> Expression:
    if exponent == 0:
        return number(ONE)
    if exponent == 1:
        return base
    if isinstance(base, Number):
        if not base.value and exponent < 0:
            raise DomainError(f"division by zero: 0^({exponent})")
        return number(exact.power(base.value, exponent))
    if isinstance(base, Power):
        return power(base.base, scale(base.exponent, mpq(exponent)))
    if isinstance(base, Product):
        factors = [number(exact.power(base.coefficient, exponent))]
        return multiply_all(factors + [power(f, number(exponent)) for f in base.factors])
    if isinstance(base, Call) and base.function.name == "exp":
        return call("exp", scale(base.arguments[0], mpq(exponent)))
    return _make_power(base, number(exponent))


def _rational_power(base: Expression, exponent: mpq) -> Expression:
    if isinstance(base, Number):
        return _radical(base.value, exponent)
    if isinstance(base, Product):
        outside, inside = _positive_part(base)
        if outside:
            return multiply_all([power(f, number(exponent)) for f in (*outside, inside)])
    if isinstance(base, Power):
        inner = base.exponent
        if isinstance(inner, Number) and inner.is_rational:
            if -1 < inner.rational <= 1 or facts.is_positive(base.base.known):
                return power(base.base, number(inner.rational * exponent))
            if facts.is_nonnegative(base.base.known) and inner.rational > 0:
                return power(base.base, number(inner.rational * exponent))
        elif facts.is_positive(base.base.known) and facts.is_real(inner.known):
            return power(base.base, scale(inner, exponent))
    if isinstance(base, Call) and base.function.name == "exp" and facts.is_real(base.arguments[0].known):
        return call("exp", scale(base.arguments[0], exponent))
    return _make_power(base, number(exponent))


def _positive_part(base: Product) -> tuple[list[Expression], Expression]:
    """The factors of a product that come out of a root: positive ones, and those that may be zero where the rest is not negative.

    sqrt(a*x) is 0 at x = 0 for every a, sqrt(a)*sqrt(x) has no real value there for a < 0.
    """
    settled = not isinstance(base.coefficient, Gaussian) and base.coefficient > 0
    settled = settled and all(facts.is_nonnegative(f.known) for f in base.factors)
    outward = facts.is_nonnegative if settled else facts.is_positive
    outside = [f for f in base.factors if outward(f.known)]
    inside = [f for f in base.factors if not outward(f.known)]
    coefficient = base.coefficient
    if isinstance(coefficient, Gaussian):
        if not outside:
            return [], base
        return outside, multiply_all([number(coefficient), *inside])
    size = abs(coefficient)
    if not inside and coefficient < 0:
        outside.append(number(size))
        return outside, number(MINUS_ONE)
    if size != 1:
        outside.append(number(size))
    if not outside:
        return [], base
    return outside, multiply_all([number(MINUS_ONE if coefficient < 0 else ONE), *inside])


def _radical(value: Scalar, exponent: mpq) -> Expression:  # noqa: C901
    """A rational power of an exact number: integers split into prime powers with exponents between 0 and 1."""
    if not value:
        if exponent < 0:
            raise DomainError(f"division by zero: 0^({exponent})")
        return number(ZERO)
    whole = exponent.numerator // exponent.denominator
    rest = exponent - whole
    if isinstance(value, Gaussian):
        outside = number(exact.power(value, int(whole)))
        root = exact.square_root(value) if rest == exact.HALF else None
        if root is not None:
            return multiply_all((outside, number(root)))
        return multiply_all((outside, _make_power(number(value), number(rest))))
    coefficient: Scalar = ONE
    factors: list[Expression] = []
    if value < 0:
        coefficient = MINUS_ONE if whole % 2 else ONE
        if rest == exact.HALF:
            coefficient = coefficient * Gaussian(ZERO, ONE)
        else:
            factors.append(_make_power(number(MINUS_ONE), number(rest)))
        value = -value
    exponents: dict[mpz, mpq] = {}
    for integer, sign in ((value.numerator, 1), (value.denominator, -1)):
        for prime, count in exact.small_factors(integer):
            exponents[prime] = exponents.get(prime, ZERO) + sign * count * exponent
    for prime, power_of in exponents.items():
        outside_exponent = int(power_of.numerator // power_of.denominator)
        coefficient = coefficient * exact.power(mpq(prime), outside_exponent)
        if power_of != outside_exponent:
            factors.append(_make_power(number(mpq(prime)), number(power_of - outside_exponent)))
    if not factors:
        return number(coefficient)
    if len(factors) == 1:
        return scale(factors[0], coefficient)
    return make_product(coefficient, tuple(ordered(factors)))


def _symbolic_power(base: Expression, exponent: Expression) -> Expression:  # noqa: C901
    if isinstance(base, Number):
        if base.value == ONE:
            return base
        if base.value == MINUS_ONE and facts.is_integer(exponent.known):
            return _sign_power(exponent)
        if isinstance(exponent, Sum) and base.value and not isinstance(exponent.constant, Gaussian):
            whole = exponent.constant.numerator // exponent.constant.denominator
            if whole:  # the fraction stays with the rest, with which a root of the base would merge again
                rest = total((exponent, number(-whole)))
                return multiply_all((power(base, number(whole)), power(base, rest)))
    if isinstance(base, Call) and base.function.name == "exp":
        inner = base.arguments[0]
        if facts.is_integer(exponent.known) or facts.is_real(inner.known):
            return call("exp", multiply_all((inner, exponent)))
    if isinstance(base, Power):
        real = facts.is_positive(base.base.known) and facts.is_real(base.exponent.known)
        inner = base.exponent
        root = isinstance(inner, Number) and inner.is_rational and -1 < inner.rational <= 1  # the angle stays within (-pi, pi]
        if real or root or facts.is_integer(exponent.known):
            return power(base.base, multiply_all((base.exponent, exponent)))
    if isinstance(base, Product):
        if facts.is_integer(exponent.known):
            return multiply_all([power(f, exponent) for f in (number(base.coefficient), *base.factors)])
        outside, inside = _positive_part(base)
        if outside:
            return multiply_all([power(f, exponent) for f in (*outside, inside)])
    return _make_power(base, exponent)


def _sign_power(exponent: Expression) -> Expression:
    """(-1)^n for an integer n: even multiples of integers drop out."""
    sign = ONE
    odd: list[Expression] = []
    items = weighted_terms(exponent)
    if isinstance(exponent, Sum) and is_integer(exponent.constant):
        sign = MINUS_ONE if parts(exponent.constant)[0] % 2 else ONE
    elif isinstance(exponent, Sum) and exponent.constant:
        return _make_power(number(MINUS_ONE), exponent)
    for term, coefficient in items:
        if not (is_integer(coefficient) and facts.is_integer(term.known)):
            return _make_power(number(MINUS_ONE), exponent)
        if parts(coefficient)[0] % 2:
            odd.append(term)
    if not odd:
        return number(sign)
    return scale(_make_power(number(MINUS_ONE), total(odd)), sign)
