"""Integrals with a name: an integrand with letters, its ends, and its value; what stands for the letters is read off and then proved.

Source: NIST, "Digital Library of Mathematical Functions", with the numbers of the formulas.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.checking.values.value import Question, Value
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number, power, sqrt, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Power, Sum
from gelvo.expression.traversal import contains, has_call, names, postorder, transform
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import (
    ASINH,
    BESSELI,
    BESSELJ,
    BESSELK,
    CI,
    COS,
    COSH,
    COTH,
    DIGAMMA,
    EXP,
    FACTORIAL,
    GAMMA,
    HERMITE,
    LAGUERRE,
    LEGENDRE,
    LN,
    POLYGAMMA,
    SIN,
    SINH,
    TAN,
    TANH,
    FunctionName,
    is_a,
)
from gelvo.numbers.interval import NoValue

Letters = tuple[Expression, ...]


class Row(NamedTuple):
    """The integral of integrand(x, letters) between the ends is value(letters) where needs(letters, facts)."""

    functions: tuple[str, ...]  # of which one stands in the integrand
    letters: int
    integrand: Callable[..., Expression]
    ends: tuple[Expression, Expression]
    value: Callable[..., Expression]
    needs: Callable[..., bool]
    source: str


def _whole(facts: Facts, n: Expression, *others: Expression) -> bool:
    return facts.is_integer(n)


def _whole_from_zero(facts: Facts, n: Expression, *others: Expression) -> bool:
    return facts.is_integer(n) and facts.is_nonnegative(n)


def _two_whole(facts: Facts, m: Expression, n: Expression) -> bool:
    return _whole_from_zero(facts, m) and _whole_from_zero(facts, n) and facts.is_nonzero(m - n)


def _any(facts: Facts, *letters: Expression) -> bool:
    return True


def _damped(facts: Facts, n: Expression, a: Expression, b: Expression) -> bool:
    return facts.is_positive(a) and facts.is_real(b) and facts.is_positive(n + 1)


def _rates(facts: Facts, a: Expression, b: Expression) -> bool:
    return facts.is_positive(a) and facts.is_real(b)


def _both_positive(facts: Facts, b: Expression, c: Expression) -> bool:
    return facts.is_positive(b) and facts.is_positive(c)


def _any_and_positive(facts: Facts, a: Expression, b: Expression) -> bool:
    return facts.is_real(a) and facts.is_positive(b)


def _nonzero_and_positive(facts: Facts, a: Expression, b: Expression) -> bool:
    return _any_and_positive(facts, a, b) and facts.is_nonzero(a)


def _growing(facts: Facts, n: Expression, p: Expression, q: Expression) -> bool:
    return facts.is_positive(q) and facts.is_positive(p - q) and facts.is_positive(n + 1)


def _falling_order(facts: Facts, n: Expression, b: Expression, c: Expression) -> bool:
    return facts.is_positive(b) and facts.is_positive(c) and facts.is_positive(n + 1) and facts.is_positive(number(3) / 2 - n)


def _small_order(facts: Facts, n: Expression, a: Expression) -> bool:
    return facts.is_positive(a) and facts.is_positive(ONE / 2 - n) and facts.is_positive(ONE / 2 + n)


def _three_positive(facts: Facts, *letters: Expression) -> bool:
    return all(map(facts.is_positive, letters))


def _of_order(facts: Facts, n: Expression, a: Expression, q: Expression) -> bool:
    return facts.is_integer(n) and facts.is_positive(n) and facts.is_positive(a + q) and facts.is_positive(q)


def _both_rates(facts: Facts, n: Expression, a: Expression, q: Expression) -> bool:
    return facts.is_integer(n) and facts.is_positive(n) and facts.is_positive(a) and facts.is_positive(q)


def _below(facts: Facts, a: Expression, b: Expression) -> bool:
    return facts.is_positive(a) and facts.is_positive(b - a)


def _larger(facts: Facts, a: Expression, b: Expression) -> bool:
    return facts.is_positive(expand(a - b)) and facts.is_positive(expand(a + b))


def _both_orders(facts: Facts, m: Expression, n: Expression, a: Expression, b: Expression) -> bool:
    return _rates(facts, a, b) and facts.is_positive(n + 1 - m) and facts.is_positive(n + 1 + m)


def _orthogonal(
    polynomial: FunctionName,
    weight: Callable[[Expression], Expression],
    ends: tuple[Expression, Expression],
    norm: Callable[[Expression], Expression],
) -> tuple[Row, Row]:
    """Different degrees have the integral 0; the square has the norm."""
    apart = Row(
        (polynomial,),
        2,
        lambda x, m, n: polynomial(m, x) * polynomial(n, x) * weight(x),
        ends,
        lambda m, n: ZERO,
        _two_whole,
        "DLMF 18.3.1",
    )
    square = Row((polynomial,), 1, lambda x, n: polynomial(n, x) ** 2 * weight(x), ends, norm, _whole_from_zero, "DLMF 18.3.1")
    return apart, square


HALF_TURN = (ZERO, PI)
FORWARD = (ZERO, INFINITE)
ROWS: tuple[Row, ...] = (
    Row((SIN, COS), 2, lambda x, n, z: COS(n * x - z * SIN(x)), HALF_TURN, lambda n, z: PI * BESSELJ(n, z), _whole, "DLMF 10.9.2"),
    Row((SIN, COS), 1, lambda x, z: COS(z * SIN(x)), HALF_TURN, lambda z: PI * BESSELJ(ZERO, z), _any, "DLMF 10.9.1"),
    Row((SIN, COS), 1, lambda x, z: COS(z * COS(x)), HALF_TURN, lambda z: PI * BESSELJ(ZERO, z), _any, "DLMF 10.9.1"),
    Row((SIN, COS), 2, lambda x, n, z: EXP(z * COS(x)) * COS(n * x), HALF_TURN, lambda n, z: PI * BESSELI(n, z), _whole, "DLMF 10.32.3"),
    Row((SIN, COS), 1, lambda x, z: EXP(z * COS(x)), HALF_TURN, lambda z: PI * BESSELI(ZERO, z), _any, "DLMF 10.32.1"),
    Row((SIN, COS), 1, lambda x, z: EXP(z * SIN(x)), (-PI / 2, PI / 2), lambda z: PI * BESSELI(ZERO, z), _any, "DLMF 10.32.1"),
    Row((BESSELJ,), 3, lambda x, n, a, b: EXP(-a * x) * BESSELJ(n, b * x), FORWARD, lambda n, a, b: power((sqrt(a**2 + b**2) - a) / b, n) / sqrt(a**2 + b**2), _damped, "DLMF 10.22.49, with 15.4.18"),
    Row((BESSELJ,), 3, lambda x, n, a, b: EXP(-a * x) * BESSELJ(n, b * x) * power(x, n), FORWARD, lambda n, a, b: power(2 * b, n) * GAMMA(n + ONE / 2) / (sqrt(PI) * power(a**2 + b**2, n + ONE / 2)), _damped, "DLMF 10.22.49, with 15.4.6"),
    Row((BESSELJ,), 3, lambda x, n, a, b: EXP(-a * x) * BESSELJ(n, b * x) * power(x, n + 1), FORWARD, lambda n, a, b: 2 * a * power(2 * b, n) * GAMMA(n + number(3) / 2) / (sqrt(PI) * power(a**2 + b**2, n + number(3) / 2)), _damped, "DLMF 10.22.49, with 15.4.6"),
    Row((BESSELJ,), 3, lambda x, n, a, b: EXP(-a * x**2) * BESSELJ(n, b * x) * power(x, n + 1), FORWARD, lambda n, a, b: power(b, n) * power(2 * a, -n - 1) * EXP(-(b**2) / (4 * a)), _damped, "DLMF 10.22.51"),
    Row((BESSELI,), 3, lambda x, n, p, q: EXP(-p * x) * BESSELI(n, q * x), FORWARD, lambda n, p, q: power(q / (p + sqrt(p**2 - q**2)), n) / sqrt(p**2 - q**2), _growing, "I. Gradshteyn, I. Ryzhik, 6.611.4"),
    Row((BESSELJ,), 3, lambda x, n, b, c: power(x, n + 1) * BESSELJ(n, b * x) / (c + x**2), FORWARD, lambda n, b, c: power(c, n / 2) * BESSELK(n, b * sqrt(c)), _falling_order, "DLMF 10.22.46, with mu = 0"),
    Row((BESSELK,), 4, lambda x, m, n, a, b: BESSELK(m, a * x) * BESSELJ(n, b * x) * power(x, m + n + 1), FORWARD, lambda m, n, a, b: power(2 * a, m) * power(2 * b, n) * GAMMA(m + n + 1) / power(a**2 + b**2, m + n + 1), _both_orders, "DLMF 10.43(iv)"),
    Row((BESSELK,), 2, lambda x, a, b: BESSELK(ZERO, a * x) * COS(b * x), FORWARD, lambda a, b: PI / (2 * sqrt(a**2 + b**2)), _rates, "DLMF 10.43(iv)"),
    Row((BESSELK,), 2, lambda x, a, b: BESSELK(ZERO, a * x) * SIN(b * x), FORWARD, lambda a, b: ASINH(b / a) / sqrt(a**2 + b**2), _rates, "DLMF 10.43(iv)"),
    Row((EXP,), 3, lambda x, n, a, q: power(x, n) * EXP(-a * x) / (EXP(q * x) - 1), FORWARD, lambda n, a, q: power(number(-1), n + 1) * POLYGAMMA(n, a / q + 1) / power(q, n + 1), _of_order, "DLMF 25.11.25, with 25.11.12"),
    Row((EXP,), 3, lambda x, n, a, q: power(x, n) * EXP(-a * x) / (EXP(q * x) + 1), FORWARD, lambda n, a, q: power(number(-1), n + 1) * (POLYGAMMA(n, (a + q) / (2 * q)) - POLYGAMMA(n, a / (2 * q) + 1)) / power(2 * q, n + 1), _of_order, "DLMF 25.11.25, with 25.11.12"),
    Row((EXP,), 3, lambda x, n, a, q: power(x, n) * EXP(-a * x) / (1 - EXP(-q * x)), FORWARD, lambda n, a, q: power(number(-1), n + 1) * POLYGAMMA(n, a / q) / power(q, n + 1), _both_rates, "DLMF 25.11.25, with 25.11.12"),
    Row((EXP,), 3, lambda x, n, a, q: power(x, n) * EXP(-a * x) / (1 + EXP(-q * x)), FORWARD, lambda n, a, q: power(number(-1), n + 1) * (POLYGAMMA(n, a / (2 * q)) - POLYGAMMA(n, (a + q) / (2 * q))) / power(2 * q, n + 1), _both_rates, "DLMF 25.11.25, with 25.11.12"),
    Row((EXP,), 3, lambda x, a, b, q: (EXP(-a * x) - EXP(-b * x)) / (1 - EXP(-q * x)), FORWARD, lambda a, b, q: (DIGAMMA(b / q) - DIGAMMA(a / q)) / q, _three_positive, "DLMF 5.9.16"),
    Row((EXP,), 2, lambda x, a, q: EXP(-a * x) / (1 + EXP(-q * x)), FORWARD, lambda a, q: (DIGAMMA((a + q) / (2 * q)) - DIGAMMA(a / (2 * q))) / (2 * q), _both_positive, "DLMF 5.9.16, over 1 - exp(-2*q*x)"),
    Row((SIN,), 2, lambda x, a, q: SIN(a * x) / (EXP(q * x) + 1), FORWARD, lambda a, q: 1 / (2 * a) - PI / (2 * q * SINH(PI * a / q)), _both_positive, "I. Gradshteyn, I. Ryzhik, 3.911.1"),
    Row((SIN,), 2, lambda x, a, q: SIN(a * x) / (EXP(q * x) - 1), FORWARD, lambda a, q: PI / (2 * q) * COTH(PI * a / q) - 1 / (2 * a), _both_positive, "I. Gradshteyn, I. Ryzhik, 3.911.2"),
    Row((COS,), 2, lambda x, a, b: EXP(-a * x**2) * COS(b * x), FORWARD, lambda a, b: sqrt(PI / a) * EXP(-(b**2) / (4 * a)) / 2, _rates, "I. Gradshteyn, I. Ryzhik, 3.896.4"),
    Row((COS,), 2, lambda x, a, q: x * COS(a * x) / (EXP(q * x) + 1), FORWARD, lambda a, q: PI**2 * COSH(PI * a / q) / (2 * q**2 * SINH(PI * a / q) ** 2) - 1 / (2 * a**2), _both_positive, "I. Gradshteyn, I. Ryzhik, 3.911.1, its slope by a"),
    Row((COS,), 2, lambda x, a, q: x * COS(a * x) / (EXP(q * x) - 1), FORWARD, lambda a, q: 1 / (2 * a**2) - PI**2 / (2 * q**2 * SINH(PI * a / q) ** 2), _both_positive, "I. Gradshteyn, I. Ryzhik, 3.911.2, its slope by a"),
    Row((CI,), 2, lambda x, p, a: EXP(-p * x) * CI(a * x), FORWARD, lambda p, a: -LN(1 + p**2 / a**2) / (2 * p), _both_positive, "DLMF 6.14.2"),
    Row((BESSELK,), 2, lambda x, n, a: BESSELK(n, a * x) ** 2, FORWARD, lambda n, a: PI**2 / (4 * a * COS(PI * n)), _small_order, "I. Gradshteyn, I. Ryzhik, 6.576.4"),
    Row((SIN,), 2, lambda x, a, b: SIN(a * x) / SINH(b * x), FORWARD, lambda a, b: PI / (2 * b) * TANH(PI * a / (2 * b)), _any_and_positive, "I. Gradshteyn, I. Ryzhik, 3.981.1"),
    Row((COS,), 2, lambda x, a, b: x * COS(a * x) / SINH(b * x), FORWARD, lambda a, b: PI**2 / (4 * b**2 * COSH(PI * a / (2 * b)) ** 2), _any_and_positive, "I. Gradshteyn, I. Ryzhik, 3.981.1, its slope by a"),
    Row((COS,), 2, lambda x, a, b: COS(a * x) / COSH(b * x), FORWARD, lambda a, b: PI / (2 * b * COSH(PI * a / (2 * b))), _any_and_positive, "I. Gradshteyn, I. Ryzhik, 3.981.3"),
    Row((COS,), 2, lambda x, a, b: COS(a * x) / COSH(b * x) ** 2, FORWARD, lambda a, b: PI * a / (2 * b**2 * SINH(PI * a / (2 * b))), _nonzero_and_positive, "I. Gradshteyn, I. Ryzhik, 3.982.1"),
    Row((SINH,), 2, lambda x, a, b: SINH(a * x) / SINH(b * x), FORWARD, lambda a, b: PI / (2 * b) * TAN(PI * a / (2 * b)), _below, "I. Gradshteyn, I. Ryzhik, 3.511.2"),
    Row((COSH,), 2, lambda x, a, b: COSH(a * x) / COSH(b * x), FORWARD, lambda a, b: PI / (2 * b * COS(PI * a / (2 * b))), _below, "I. Gradshteyn, I. Ryzhik, 3.511.4"),
    Row((LN,), 2, lambda x, b, c: LN(1 + b * x**2) / (c + x**2), FORWARD, lambda b, c: PI / sqrt(c) * LN(1 + sqrt(b * c)), _both_positive, "I. Gradshteyn, I. Ryzhik, 4.295.7"),
    Row((LN,), 2, lambda x, a, b: LN(a + b * COS(x)), HALF_TURN, lambda a, b: PI * LN((a + sqrt(a**2 - b**2)) / 2), _larger, "I. Gradshteyn, I. Ryzhik, 4.224.9"),
    *_orthogonal(LEGENDRE, lambda x: ONE, (number(-1), ONE), lambda n: 2 / (2 * n + 1)),
    *_orthogonal(HERMITE, lambda x: EXP(-(x**2)), (MINUS_INFINITE, INFINITE), lambda n: sqrt(PI) * power(TWO, n) * FACTORIAL(n)),
    *_orthogonal(LAGUERRE, lambda x: EXP(-x), FORWARD, lambda n: ONE),
)  # fmt: skip


def integrals_with_a_name(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """What a row says: its letters are tried with what stands in the integrand."""
    f, lower, upper = question
    for row in ROWS:
        if (lower, upper) != row.ends or not has_call(f, row.functions):
            continue
        for letters in itertools.product(_candidates(f, x), repeat=row.letters):
            if not row.needs(facts, *letters):
                continue
            whole = transform(row.integrand(x, *letters), _multiplied_out)
            if whole is ZERO:
                continue
            if _differs(f / whole, x):
                continue
            ratio = factored(f / whole)
            if contains(ratio, x):
                continue
            yield Value(ratio * row.value(*letters), row.source)
            return


def _multiplied_out(node: Node) -> Node:
    return LN(expand(node.arguments[0])) if is_a(node, LN) else node


SAMPLES = (mpq(3, 7), mpq(11, 5))
PRIMES = (2, 3, 5, 7, 11, 13, 17)  # for letters, which may be orders


def _differs(ratio: Expression, x: Name) -> bool:
    """Whether a ratio surely has different values at two places: most candidates are told so without a common denominator."""
    if not contains(ratio, x):
        return False
    letters = sorted((n for n in names(ratio) if n is not x), key=str)
    table = dict(zip(letters, map(mpq, PRIMES), strict=False))
    try:
        first, second = (Enclosure(ratio).at({**table, x: place}, 80) for place in SAMPLES)
    except (NoValue, GelvoError, ArithmeticError, KeyError):
        return False
    return first.real.high < second.real.low or second.real.high < first.real.low


def _candidates(f: Expression, x: Name) -> tuple[Expression, ...]:
    """Orders, factors of x and of waves in arguments, with either sign, and what stands beside them in sums."""
    found: dict[Expression, None] = {}
    for n in postorder(f):
        if isinstance(n, Sum) and contains(n, x):
            found[total([t for t in terms_of(n) if not contains(t, x)])] = None
        if isinstance(n, Power) and n.base is x:
            found[n.exponent] = None
        if n is x:
            found[ONE] = None
        if not isinstance(n, Call) or not contains(n, x):
            continue
        found.update(dict.fromkeys(a for a in n.arguments[:-1] if not contains(a, x)))
        coefficients: dict[Expression, list[Expression]] = {}
        for term in terms_of(n.arguments[-1]):
            inner = next(
                (g for g in (x, x**2, SIN(x), COS(x)) if contains(term, x) and not contains(factored(term / g), x)), None
            )
            if inner is not None:
                coefficients.setdefault(inner, []).append(factored(term / inner))
        for c in map(total, coefficients.values()):
            found.update(dict.fromkeys((c, -c)))
    return tuple(found)
