"""Powers of x beside tan, cot, sec, csc, sech, csch: polylogarithms of exponentials, in real form.

Each function is the real part of a sum of c*Li_0(p*exp(r*u)), and the integral of Li_s(p*exp(r*u)) is Li_(s+1)(p*exp(r*u))/r.

Source: L. Lewin, "Polylogarithms and Associated Functions" (1981), chapters 4 and 7.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.antiderivative.support import Search, whole_number
from gelvo.calculus.found import Found
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import IMAGINARY, ONE
from gelvo.expression.nodes import Call, Expression, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, ATAN, COS, COSH, COT, CSC, CSCH, EXP, IM, LN, POLYLOG, RE, SEC, SECH, SIN, SINH, TAN, TANH
from gelvo.numbers.exact import parts


class Poles(NamedTuple):
    """The real part of the sum of c*Li_0(p*exp(rate*u)) over (c, p), and its first antiderivative, which is elementary."""

    rate: Expression
    shares: tuple[tuple[Expression, Expression], ...]
    first: Callable[[Expression], Expression]


J = IMAGINARY
TANGENT = Poles(2 * J, ((2 * J, -ONE),), lambda u: -LN(2 * ABS(COS(u))))
COTANGENT = Poles(2 * J, ((-2 * J, ONE),), lambda u: LN(2 * ABS(SIN(u))))
SECANT = Poles(J, ((-J, J), (J, -J)), lambda u: (LN(1 + SIN(u)) - LN(1 - SIN(u))) / 2)
COSECANT = Poles(J, ((-J, ONE), (J, -ONE)), lambda u: (LN(1 - COS(u)) - LN(1 + COS(u))) / 2)
HYPERBOLIC_SECANT = Poles(-ONE, ((-2 * J, J),), lambda u: -2 * ATAN(EXP(-u)))
HYPERBOLIC_COSECANT = Poles(-ONE, ((ONE, ONE), (-ONE, -ONE)), lambda u: LN(ABS(TANH(u / 2))))
TABLE: dict[frozenset[tuple[str, int]], Poles] = {
    frozenset({(TAN, 1)}): TANGENT,
    frozenset({(SIN, 1), (COS, -1)}): TANGENT,
    frozenset({(COT, 1)}): COTANGENT,
    frozenset({(TAN, -1)}): COTANGENT,
    frozenset({(COS, 1), (SIN, -1)}): COTANGENT,
    frozenset({(SEC, 1)}): SECANT,
    frozenset({(COS, -1)}): SECANT,
    frozenset({(CSC, 1)}): COSECANT,
    frozenset({(SIN, -1)}): COSECANT,
    frozenset({(SECH, 1)}): HYPERBOLIC_SECANT,
    frozenset({(COSH, -1)}): HYPERBOLIC_SECANT,
    frozenset({(CSCH, 1)}): HYPERBOLIC_COSECANT,
    frozenset({(SINH, -1)}): HYPERBOLIC_COSECANT,
}


def power_beside_pole(f: Expression, search: Search) -> Found | None:
    """x*tan(x)  ->  -x*ln(2*abs(cos(x))) - im(polylog(2, -exp(2j*x)))/2"""
    x = search.variable
    calls = {g: base_and_exponent(g) for g in factors_in(f) if isinstance(base_and_exponent(g)[0], Call) and contains(g, x)}
    arguments = {base.arguments[0] for base, _ in calls.values() if isinstance(base, Call) and len(base.arguments) == 1}
    entry = TABLE.get(frozenset((base.name, whole_number(k) or 0) for base, k in calls.values() if isinstance(base, Call)))
    if entry is None or len(arguments) != 1:
        return None
    u = arguments.pop()
    if not search.facts.is_real(u):  # real parts are taken
        return None
    line, beside = uni.linear_parts(u, x), f / multiply_all(list(calls))
    coefficients = uni.coefficients_of(beside, x)
    if line is None or coefficients is None or len(coefficients) < 2:
        return None
    terms: list[Expression] = []
    for k in range(len(coefficients)):  # by parts: the power falls, the order rises
        terms.append((-1) ** k * beside * _antiderivative(entry, k + 1, u) / line[0] ** (k + 1))
        beside = expand(differentiate(beside, x))
    return Found(total(terms), search.nonzero(line[0]), "polylogarithms of exponentials")


def _antiderivative(entry: Poles, order: int, u: Expression) -> Expression:
    if order == 1:
        return entry.first(u)
    terms = []
    for c, p in entry.shares:
        front, li = c / power(entry.rate, number(order)), POLYLOG(number(order), p * EXP(entry.rate * u))
        assert isinstance(front, Number)
        real, imaginary = (number(q) for q in parts(front.value))
        terms.append(real * RE(li) - imaginary * IM(li))
    return total(terms)
