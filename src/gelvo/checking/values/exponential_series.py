"""What depends on x by exponentials only, as a series in E = exp(-a*x) whose coefficients are known: its moments, term by term.

1/(1 - z*E)^k is the sum of binomial(n + k - 1, n)*z^n*E^n and ln(1 - z*E) that of -z^n*E^n/n; for x > 0 and |z| <= 1 the sums may be
integrated term by term where the whole converges (B. Levi; N. Abel on |z| = 1), which gives polylogarithms at z.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import prove_zero
from gelvo.deciding.suppositions import attempt
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, relation, total
from gelvo.expression.constants import ONE, TWO, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, COSH, COTH, CSCH, EXP, GAMMA, LN, POLYLOG, SECH, SINH, TANH, ZETA, is_a
from gelvo.simplifying.partial_fractions import simple_fractions, split_fraction

HALF = number(mpq(1, 2))
HYPERBOLIC = (SINH, COSH, TANH, COTH, SECH, CSCH)


class Series(NamedTuple):
    """The moment for every s > low."""

    moment: Callable[[Expression], Expression]
    low: Expression


class _Part(NamedTuple):
    """c*n^shift*z^n as the coefficients of E^n, n = 1, 2, …"""

    c: Expression
    shift: int
    z: Expression


@attempt
def exponential_series(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Series | None:
    """The moments of a product of functions of exponentials."""
    plain = multiply_all([transform(g, _by_exponentials) for g in rest])
    found = _in_one_exponential(plain, x, facts)
    if found is None:
        return None
    inside, E, rate = found
    try:
        if not prove_zero(substitute(factored(inside), {E: ZERO}), facts):
            return None  # what stays far out has no integral
        parts = _parts(inside, E, facts)
    except (DomainError, ZeroDivisionError):
        return None
    if parts is None:
        return None

    def moment(s: Expression) -> Expression:
        return GAMMA(s) / power(rate, s) * total([p.c * _powers_summed(s - p.shift, p.z) for p in parts])

    return Series(moment, number(max([0, *(p.shift + 1 for p in parts if p.z is ONE)])))


def _by_exponentials(node: Node) -> Node:
    if not isinstance(node, Call) or node.name not in HYPERBOLIC:
        return node
    assert node.function.as_elementary is not None
    return node.function.as_elementary(*node.arguments)


def _in_one_exponential(f: Expression, x: Name, facts: Facts) -> tuple[Expression, Name, Expression] | None:
    """(f as a function of E, E, a) with E = exp(-a*x), a > 0."""
    exponentials = [n for n in dict.fromkeys(postorder(f)) if is_a(n, EXP) and contains(n, x)]
    lines = [uni.linear_parts(n.arguments[0], x) for n in exponentials]
    if not lines or any(line is None or contains(line[0], x) for line in lines):
        return None
    first = next(line[0] for line in lines if line is not None)
    ratios: list[mpq] = []
    for line in lines:
        ratio = ZERO if line is None else factored(line[0] / first)
        if not isinstance(ratio, Number) or not ratio.is_rational:
            return None
        ratios.append(mpq(ratio.rational))
    step = mpq(1)
    for ratio in ratios:
        step = step / (ratio / step).denominator
    rate = first * number(step)
    if not (facts.is_positive(rate) or facts.is_negative(rate)):
        return None
    sign = -1 if facts.is_positive(rate) else 1
    E = facts.new_name("E", f, domain="positive")
    table: dict[Expression, Expression] = {}
    for node, ratio, line in zip(exponentials, ratios, lines, strict=True):
        assert line is not None
        table[node] = power(E, number(sign * ratio / step)) * EXP(line[1])
    inside, rate = substitute(f, table), -sign * rate
    if contains(inside, x):
        return None
    if prove_zero(substitute(inside, {E: -E}) - inside, facts):  # a function of E^2
        return factored(substitute(inside, {E: power(E, HALF)})), E, 2 * rate
    return inside, E, rate


def _parts(f: Expression, E: Name, facts: Facts) -> list[_Part] | None:
    """The coefficients of the series in E; None for what has none that is known."""
    parts: list[_Part] = []
    for term in terms_of(f):
        logarithms = [n for n in dict.fromkeys(postorder(term)) if is_a(n, LN) and contains(n, E)]
        found = _of_logarithm(term, logarithms[0], E, facts) if len(logarithms) == 1 else _of_quotient(term, E, facts)
        if found is None:
            return None
        parts += found
    return parts


def _of_logarithm(term: Expression, logarithm: Call, E: Name, facts: Facts) -> list[_Part] | None:
    """c*ln(1 - z*E)."""
    outer = factored(term / logarithm)
    line = uni.linear_parts(logarithm.arguments[0], E)
    if contains(outer, E) or line is None or line[1] is not ONE or not _in_the_disc(-line[0], facts):
        return None
    return [_Part(-outer, -1, factored(-line[0]))]


def _of_quotient(term: Expression, E: Name, facts: Facts) -> list[_Part] | None:
    quotient, pieces = simple_fractions(*split_fraction(factored(term), E))
    # a polynomial in E: c*E^m is no series of this kind; a constant alone has the moment 0
    if len(quotient) > 1:
        return None
    parts: list[_Part] = []
    for digit, base, k in pieces:
        if len(base) != 2 or len(digit) != 1:
            return None
        z = factored(-base[1] / base[0])
        if not _in_the_disc(z, facts):
            return None
        outer = digit[0] / power(base[0], number(k))
        parts += [_Part(outer * number(c), shift, z) for shift, c in enumerate(_binomial_in_n(k)) if c]
    return parts


def _in_the_disc(z: Expression, facts: Facts) -> bool:
    return (
        z in (ONE, number(-1))
        or facts.holds(relation("<", ABS(z), ONE)) is True
        or (facts.is_negative(z) and facts.holds(relation("<=", number(-1), z)) is True)
        or (facts.is_positive(z) and facts.holds(relation("<", z, ONE)) is True)
    )


def _binomial_in_n(k: int) -> list[mpq]:
    """binomial(n + k - 1, k - 1) by powers of n."""
    table = [mpq(1)]
    for j in range(1, k):  # times (n + j)/j
        table = [(low * j + high) / j for low, high in zip([*table, mpq(0)], [mpq(0), *table], strict=True)]
    return table


def _powers_summed(s: Expression, z: Expression) -> Expression:
    """The sum of z^n/n^s over n = 1, 2, …"""
    if z is ONE:
        return ZETA(s)
    if z is number(-1):
        return -LN(TWO) if s is ONE else (power(TWO, 1 - s) - 1) * ZETA(s)
    return POLYLOG(s, z)
