"""Integration by parts: which factor is differentiated, as it is taught."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.calculus.antiderivative.methods import BY_PARTS
from gelvo.calculus.lessons.line import Pupil, Step
from gelvo.expression.building import multiply_all, number
from gelvo.expression.constants import TWO
from gelvo.expression.nodes import Call, Expression, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, COSH, COT, CSC, EXP, SEC, SECH, SIN, SINH, TAN, TANH, is_a

SQUARES = (SEC, CSC, TAN, COT, SECH, TANH)
WAVES = (SIN, COS, SINH, COSH)


def _natural(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_whole and k.rational > 0


def _is_inverse(factor: Expression, pupil: Pupil) -> bool:
    """A logarithm or an inverse function, or a natural power of one."""
    base, k = base_and_exponent(factor)
    return isinstance(base, Call) and base.name in BY_PARTS and _natural(k) and contains(base, pupil.x)


def _is_polynomial(factor: Expression, pupil: Pupil) -> bool:
    return contains(factor, pupil.x) and uni.coefficients_of(factor, pupil.x) is not None


def _is_growth(factor: Expression, pupil: Pupil) -> bool:
    """exp(a*x + b), or a^x."""
    exponent = factor.arguments[0] if is_a(factor, EXP) else factor.exponent if isinstance(factor, Power) else None
    return exponent is not None and contains(exponent, pupil.x) and uni.linear_parts(exponent, pupil.x) is not None


def _is_wave(factor: Expression, pupil: Pupil) -> bool:
    return is_a(factor, *WAVES) and uni.linear_parts(factor.arguments[0], pupil.x) is not None


def _is_square(factor: Expression) -> bool:
    base, k = base_and_exponent(factor)
    return (k is TWO and is_a(base, *SQUARES)) or (k is number(-2) and is_a(base, *WAVES))


def _easy(factor: Expression, pupil: Pupil) -> bool:
    """What is integrated without a logarithm or an inverse function: powers, roots, exponentials, waves."""
    return not any(isinstance(n, Call) and not is_a(n, EXP, *WAVES) and contains(n, pupil.x) for n in postorder(factor))


# what is differentiated, and what all the rest has to be: logarithms and inverse functions first, then powers, then waves
ORDER = (
    (_is_inverse, _easy),
    (_is_polynomial, lambda g, pupil: _is_growth(g, pupil) or _is_wave(g, pupil) or _is_square(g)),
    (_is_wave, _is_growth),
)


def by_parts(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """x*exp(x)  ->  x*exp(x) - integral_of(exp(x), x)"""
    factors = [g for g in factors_in(f) if not pupil.free(g)]
    scale = multiply_all([number(getattr(f, "coefficient", 1)), *(g for g in factors_in(f) if pupil.free(g))])
    for is_chosen, is_rest in ORDER:
        for chosen in factors:
            rest = [g for g in factors if g is not chosen]
            if not is_chosen(chosen, pupil) or not all(is_rest(g, pupil) for g in rest):
                continue
            if not rest and is_chosen is not _is_inverse:
                continue
            V = pupil.known(multiply_all(rest))
            if V is None:
                continue
            slope = differentiate(chosen, pupil.x)
            other = multiply_all(rest)
            rule = f"by parts: {chosen} is differentiated, {other} integrated to {V}"
            yield Step(rule, scale * chosen * V, ((-scale, factored(slope * V)),), before=(other,) if rest else ())
