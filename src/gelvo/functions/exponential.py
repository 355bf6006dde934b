"""Exponential, logarithms and the real cube root."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, scale, total, weighted_terms
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Power
from gelvo.expression.registry import Function, register
from gelvo.functions.support import (
    HALF,
    Arithmetic,
    Box,
    Call,
    Expression,
    FunctionName,
    Number,
    Product,
    Sum,
    at_one,
    at_zero,
    boxes,
    call,
    facts,
    fraction,
    mpq,
    nowhere,
    number,
    only_real,
    positive,
    power,
)
from gelvo.numbers.exact import Gaussian, is_integer, small_factors

exp, ln, cbrt, absolute = FunctionName("exp"), FunctionName("ln"), FunctionName("cbrt"), FunctionName("abs")


def _exp_at(x: Expression) -> Expression | None:
    if isinstance(x, Number) and not x.value:
        return ONE
    items = weighted_terms(x)
    taken: list[Expression] = []
    rest: list[Expression] = [number(x.constant)] if isinstance(x, Sum) else []
    for term, coefficient in items:
        value = _exp_of_term(term, coefficient)
        if value is None:
            rest.append(scale(term, coefficient))
        else:
            taken.append(value)
    return multiply_all([*taken, exp(total(rest))]) if taken else None


def _exp_of_term(term: Expression, coefficient: object) -> Expression | None:
    """exp(c*ln(x)) = x^c, which is the meaning of a power; exp(1j*pi*r) for quarter turns."""
    if isinstance(term, Call) and term.name == "ln":
        return power(term.arguments[0], number(coefficient))
    if isinstance(term, Product):
        logarithms = [f for f in term.factors if isinstance(f, Call) and f.name == "ln"]
        if len(logarithms) == 1:
            others = [f for f in term.factors if f is not logarithms[0]]
            return power(logarithms[0].arguments[0], multiply_all([number(coefficient), *others]))
    if term is PI and isinstance(coefficient, Gaussian) and not coefficient.real and is_integer(2 * coefficient.imag):
        return power(IMAGINARY, number(2 * coefficient.imag))
    return None


def _ln_at(x: Expression) -> Expression | None:
    if isinstance(x, Number):
        return _ln_of_number(x)
    if isinstance(x, Call) and x.name == "exp":
        inner = x.arguments[0]
        if facts.is_real(inner.known):
            return inner
    if isinstance(x, Power):
        exponent = x.exponent
        plain = isinstance(exponent, Number) and exponent.is_rational and -1 < exponent.rational <= 1
        if plain or (facts.is_positive(x.base.known) and facts.is_real(exponent.known)):
            return multiply_all((exponent, ln(x.base)))
    return None


def _ln_of_number(x: Number) -> Expression | None:
    value = x.value
    if not value:
        raise DomainError("ln(0) has no value")
    if isinstance(value, Gaussian):
        if not value.real:
            quarter = number(Gaussian(mpq(0), HALF if value.imag > 0 else -HALF))
            return total((ln(number(abs(value.imag))), multiply_all((quarter, PI))))
        return None
    if value == 1:
        return ZERO
    if value < 0:
        return total((ln(number(-value)), multiply_all((IMAGINARY, PI))))
    if 0 < value < 1 and value.numerator == 1:
        return -ln(number(1 / value))
    if value > 1 and value.denominator == 1:
        factors = small_factors(value.numerator)
        if len(factors) == 1 and factors[0][1] > 1:
            return scale(ln(number(mpq(factors[0][0]))), mpq(factors[0][1]))
    return None


def _exp_bounds(a: Arithmetic, x: Box) -> Box:
    return boxes.exponential(a, x)


def _ln_known(known: int) -> int:
    return facts.REAL if facts.is_positive(known) else facts.ANY


def _cbrt_at(x: Expression) -> Expression | None:
    if isinstance(x, Number) and x.is_rational:
        root = power(number(abs(x.rational)), fraction(1, 3))
        return -root if x.rational < 0 else root
    if facts.is_nonnegative(x.known):
        return power(x, fraction(1, 3))
    return None


register(
    Function(
        name="exp",
        breaks=nowhere,
        jumps=nowhere,
        about="The exponential function.",
        example=("ln(2)", "2"),
        zeros=nowhere,
        derivative=exp,
        antiderivative=exp,
        at=_exp_at,
        solve_for=lambda c, n: ((ln(c), positive(c)),),
        known=lambda k: facts.POSITIVE if facts.is_real(k) else facts.NONZERO,
        rising=True,
        bounds=_exp_bounds,
        at_infinity=(lambda: call("exp", ONE), lambda: ZERO),
        latex=r"\exp",
        source="DLMF 4.2",
    )
)
register(
    Function(
        name="ln",
        about="The natural logarithm, with an imaginary part above -pi and at most pi.",
        example=("exp(2)", "2"),
        zeros=at_one,
        derivative=lambda x: 1 / x,
        antiderivative=lambda x: x * ln(x) - x,
        at=_ln_at,
        inverse=None,
        solve_for=lambda c, n: ((exp(c), ()),),
        real_when=positive,
        breaks=lambda x: (x,),
        jumps=lambda x: (x,),
        known=_ln_known,
        rising=True,
        bounds=boxes.logarithm,
        latex=r"\ln",
        source="DLMF 4.2",
    )
)
for _name, _base, _mpfr, _c in (("log10", 10, "log10", "log10"), ("log2", 2, "log2", "log2")):

    def _record(base: int, mpfr_name: str, c_name: str, own: str) -> Function:
        base_node = number(base)

        def at(x: Expression) -> Expression | None:
            if isinstance(x, Number) and x.is_rational and x.rational > 0:
                value, count = x.rational, 0
                while value >= base and count < 4000:
                    value, count = value / base, count + 1
                while value < 1 and count > -4000:
                    value, count = value * base, count - 1
                return number(count) if value == 1 else None
            return None

        return Function(
            name=own,
            about=f"The logarithm to the base {base}.",
            example=(str(base**3), "3"),
            zeros=at_one,
            derivative=lambda x: 1 / (x * ln(base_node)),
            antiderivative=lambda x: (x * ln(x) - x) / ln(base_node),
            at=at,
            solve_for=lambda c, n: ((power(base_node, c), ()),),
            real_when=positive,
            breaks=lambda x: (x,),
            jumps=lambda x: (x,),
            known=_ln_known,
            rising=True,
            bounds=lambda a, x: Box(a.log(only_real(x, own), mpfr_name)),
            as_elementary=lambda x: ln(x) / ln(base_node),
            latex=rf"\log_{{{base}}}",
        )

    register(_record(_base, _mpfr, _c, _name))

register(
    Function(
        name="cbrt",
        about="The real cube root of a real number.",
        example=("-27", "-3"),
        zeros=at_zero,
        derivative=lambda x: 1 / (3 * power(cbrt(x), number(2))),
        antiderivative=lambda x: fraction(3, 4) * x * cbrt(x),
        at=_cbrt_at,
        odd=True,
        solve_for=lambda c, n: ((power(c, number(3)), ()),),
        breaks=lambda x: (x,),
        jumps=lambda x: (),
        known=lambda k: k | facts.FRACTIONAL if facts.is_real(k) else facts.ANY,
        rising=True,
        bounds=lambda a, x: Box(a.cbrt(only_real(x, "cbrt"))),
        latex=r"\sqrt[3]",
    )
)
