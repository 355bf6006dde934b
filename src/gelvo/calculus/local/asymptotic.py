"""Functions far out as an exponential, a power and a series in a small quantity, which expansions and comparisons take apart.

The series diverge; each of them is what the function is up to any power, so that a limit is told by its first terms. It stands in
formulas as an unknown function of the small quantity, under a name that no one writes.
Sources: DLMF 5.11 and 5.15 (gamma and its relatives), 6.12 (exponential integrals), 7.12 (error functions), 8.11, 9.7 (Airy), 10.40
(Bessel).
"""

from __future__ import annotations

from collections.abc import Callable
from math import prod
from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.expression.building import number, power, sqrt
from gelvo.expression.building.written import applied
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Applied, Call, Expression, Node, Number, Power
from gelvo.expression.traversal import postorder, transform
from gelvo.functions.integral_functions import bernoulli
from gelvo.functions.named import (
    AIRYAI,
    AIRYAI_PRIME,
    AIRYBI,
    AIRYBI_PRIME,
    BESSELI,
    BESSELK,
    CHI,
    DIGAMMA,
    EI,
    ERF,
    ERFC,
    ERFI,
    EXP,
    FACTORIAL,
    GAMMA,
    GAMMA_INC,
    LI,
    LN,
    LOGGAMMA,
    POLYGAMMA,
    SHI,
    is_a,
)

MARK = "far out "  # no spelling of a user has a blank in it
Series = Callable[..., Expression]  # (k, orders) -> the k-th coefficient


class Row(NamedTuple):
    """The function of u, and of what its series is called and made of; signs: where u may go, to inf or to -inf."""

    form: Callable[..., Expression]
    signs: tuple[int, ...] = (1,)


def _series(name: str, w: Expression, *orders: Expression) -> Expression:
    return applied(MARK + name, (*orders, w), (0,) * (len(orders) + 1))


def is_series(node: Node) -> bool:
    return isinstance(node, Applied) and node.name.startswith(MARK)


def coefficients(node: Applied, place: Expression) -> Callable[[int], Expression]:
    """Of the powers of what the argument is beyond a place: of the series itself at 0, else its derivatives there, as they are."""
    *orders, _ = node.arguments
    name, slope = node.name[len(MARK) :], node.orders[-1]
    if place is ZERO:
        return lambda k: number(mpq(fac(k + slope), fac(k))) * COEFFICIENTS[name](k + slope, *orders)
    return lambda k: applied(node.name, (*orders, place), (*node.orders[:-1], slope + k)) / number(fac(k))


def _rising(a: mpq, k: int) -> mpq:
    return prod((a + j for j in range(k)), start=mpq(1))


def _hankel(k: int, n: Expression) -> Expression:
    """a_k(n): the product of 4*n^2 - (2*j - 1)^2, over k!*8^k."""
    result: Expression = number(mpq(1, fac(k) * 8**k))
    for j in range(1, k + 1):
        result = result * (4 * n**2 - (2 * j - 1) ** 2)
    return result


def _airy(k: int) -> mpq:
    return mpq(prod(range(2 * k + 1, 6 * k, 2)), 216**k * int(fac(k)))


def _airy_slope(k: int) -> mpq:
    return mpq(6 * k + 1, 1 - 6 * k) * _airy(k)


def _stirling_rest(k: int) -> Expression:
    return number(bernoulli(k + 1) / (k * (k + 1))) if k % 2 else ZERO


def _digamma_rest(k: int) -> Expression:
    return number(mpq(-1, 2)) if k == 1 else ZERO if k % 2 or not k else number(-bernoulli(k) / k)


def _polygamma(k: int, m: Expression) -> Expression:
    """Of u^m times it, but for the sign."""
    if not (isinstance(m, Number) and m.is_whole):
        return ZERO
    n = int(m.rational)
    first = {0: number(fac(n - 1)), 1: number(mpq(fac(n), 2))}.get(k)
    return first if first is not None else ZERO if k % 2 else number(bernoulli(k) * fac(k + n - 1) / fac(k))


def _falling(k: int, a: Expression) -> Expression:
    result: Expression = number(1)
    for j in range(1, k + 1):
        result = result * (a - j)
    return result


COEFFICIENTS: dict[str, Series] = {
    EI: lambda k: number(fac(k)),
    ERFC: lambda k: number((-1) ** k * _rising(mpq(1, 2), k)),
    ERFI: lambda k: number(_rising(mpq(1, 2), k)),
    "Stirling": _stirling_rest,
    DIGAMMA: _digamma_rest,
    POLYGAMMA: _polygamma,
    BESSELI: lambda k, n: (-1) ** k * _hankel(k, n),
    BESSELK: _hankel,
    "falling Airy": lambda k: number((-1) ** k * _airy(k)),
    "growing Airy": lambda k: number(_airy(k)),
    "falling slope": lambda k: number((-1) ** k * _airy_slope(k)),
    "growing slope": lambda k: number(_airy_slope(k)),
    GAMMA_INC: _falling,
}


def _stirling(u: Expression) -> Expression:
    return (u - mpq(1, 2)) * LN(u) - u + LN(2 * PI) / 2 + _series("Stirling", 1 / u)


def _angle(u: Expression) -> Expression:
    return 2 * power(u, number(mpq(3, 2))) / 3


def _airy_like(name: str, sign: int, quarter: int, outer: Expression) -> Row:
    def form(u: Expression) -> Expression:
        z = _angle(u)
        return outer * EXP(sign * z) * power(u, number(mpq(quarter, 4))) / sqrt(PI) * _series(name, 1 / z)

    return Row(form)


ROWS: dict[str, Row] = {
    EI: Row(lambda u: EXP(u) / u * _series(EI, 1 / u), (1, -1)),
    LI: Row(lambda u: u / LN(u) * _series(EI, 1 / LN(u))),
    SHI: Row(lambda u: (EXP(u) / u * _series(EI, 1 / u) + EXP(-u) / u * _series(EI, -1 / u)) / 2, (1, -1)),
    CHI: Row(lambda u: (EXP(u) / u * _series(EI, 1 / u) - EXP(-u) / u * _series(EI, -1 / u)) / 2),
    ERFC: Row(lambda u: EXP(-(u**2)) / (u * sqrt(PI)) * _series(ERFC, 1 / u**2)),
    ERF: Row(lambda u: 1 - EXP(-(u**2)) / (u * sqrt(PI)) * _series(ERFC, 1 / u**2)),
    ERFI: Row(lambda u: EXP(u**2) / (u * sqrt(PI)) * _series(ERFI, 1 / u**2), (1, -1)),
    GAMMA: Row(lambda u: EXP(_stirling(u))),
    FACTORIAL: Row(lambda u: EXP(_stirling(u + 1))),
    LOGGAMMA: Row(_stirling),
    DIGAMMA: Row(lambda u: LN(u) + _series(DIGAMMA, 1 / u)),
    POLYGAMMA: Row(lambda m, u: (-1) ** (m - 1) * power(u, -m) * _series(POLYGAMMA, 1 / u, m)),
    BESSELI: Row(lambda n, u: EXP(u) / sqrt(2 * PI * u) * _series(BESSELI, 1 / u, n)),
    BESSELK: Row(lambda n, u: sqrt(PI / (2 * u)) * EXP(-u) * _series(BESSELK, 1 / u, n)),
    AIRYAI: _airy_like("falling Airy", -1, -1, number(mpq(1, 2))),
    AIRYBI: _airy_like("growing Airy", 1, -1, number(1)),
    AIRYAI_PRIME: _airy_like("falling slope", -1, 1, number(mpq(-1, 2))),
    AIRYBI_PRIME: _airy_like("growing slope", 1, 1, number(1)),
    GAMMA_INC: Row(lambda a, u: EXP(-u) * power(u, a - 1) * _series(GAMMA_INC, 1 / u, a)),
}


def written_far_out(e: Expression, direction: Callable[[Expression], int], moves: Callable[[Expression], bool]) -> Expression:
    """The formula with each function of something that grows, by its row.

    direction: 1, -1 or 0 for an argument that goes to inf, to -inf, or not without bound; moves: whether an argument does at all.
    """

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and is_a(node.base, EXP) and any(is_series(n) for n in postorder(node.base)):
            return EXP(node.exponent * node.base.arguments[0])
        row = ROWS.get(node.name) if isinstance(node, Call) else None
        if row is None or not isinstance(node, Call):
            return node
        *orders, u = node.arguments
        if not moves(u) or any(moves(o) for o in orders) or direction(u) not in row.signs:
            return node
        return row.form(*orders, u)

    return transform(e, visit)
