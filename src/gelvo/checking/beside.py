"""Functions beside their branch points and poles, by series that the check of an expansion knows from the literature.

Sources: DLMF 5.5, 10.8.1, 10.31.1 (Bessel), 19.5, 19.12 (elliptic), 25.2.4, 25.6 (zeta), 25.12.10 (polylogarithm); R. Corless, G. Gonnet,
D. Hare, D. Jeffrey, D. Knuth, "On the Lambert W Function" (1996), section 4.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple, Protocol

from gmpy2 import bincoef, fac, mpq

from gelvo.expression.building import call, constant, number, power
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Expression, Number
from gelvo.facts.store import Facts
from gelvo.functions.named import (
    BESSELK,
    BESSELY,
    DIGAMMA,
    ELLIPE,
    ELLIPK,
    EXP,
    GAMMA,
    LAMBERTW,
    LAMBERTW_LOWER,
    LN,
    LOGGAMMA,
    POLYGAMMA,
    POLYLOG,
    ZETA,
)

Key = tuple[mpq, int]  # the powers of u and of L


class Rough(NamedTuple):
    """terms and the order of the rest (None: nothing is left out)."""

    terms: dict[Key, Expression]
    order: mpq | None

    def lowest(self) -> mpq:
        listed = [p for p, _ in self.terms]
        if self.order is not None:
            listed.append(self.order)
        return min(listed) if listed else mpq(0)


class Work(Protocol):
    """The arithmetic of expansions with a bound on the rest."""

    facts: Facts

    def add(self, parts: list[Rough]) -> Rough: ...
    def scaled(self, a: Rough, c: Expression) -> Rough: ...
    def multiply(self, a: Rough, b: Rough) -> Rough: ...
    def compose(self, z: Rough, coefficient: Callable[[int], Expression]) -> Rough: ...
    def power(self, a: Rough, r: mpq) -> Rough: ...
    def log(self, a: Rough) -> Rough: ...


Row = Callable[[Work, tuple[Expression, ...], "Expression | None", Rough], "Rough | None"]
EULER = constant("euler_gamma")


def _central(k: int) -> mpq:
    """((2k)!/(4^k*k!^2))^2."""
    return mpq(bincoef(2 * k, k), 4**k) ** 2


# coefficients of z^k about z = 0, the last argument, of functions whose slopes are not told there
AT_ZERO: dict[str, Callable[[tuple[Expression, ...], int], Expression]] = {
    POLYLOG: lambda s, k: power(number(k), -s[0]) if k else ZERO,
    ELLIPK: lambda _, k: PI / 2 * number(_central(k)),
    ELLIPE: lambda _, k: PI / 2 * number(_central(k) / (1 - 2 * k)),
}


def _beyond(
    kind: str, outer: Callable[[Expression, Expression, int], Expression]
) -> Callable[[tuple[Expression, ...], int], Expression]:
    """A relative of the gamma function from beyond a pole, by its recurrence (DLMF 5.5.1, 5.5.2, 5.15.5)."""

    def form(arguments: tuple[Expression, ...], steps: int) -> Expression:
        *orders, v = arguments
        result = call(kind, *orders, v + steps)
        for j in range(steps):
            result = outer(result, v + j, int(orders[0].rational) if orders and orders[0].is_whole else 0)
        return result

    return form


BY_RECURRENCE: dict[str, Callable[[tuple[Expression, ...], int], Expression]] = {
    GAMMA: _beyond(GAMMA, lambda g, v, n: g / v),
    DIGAMMA: _beyond(DIGAMMA, lambda g, v, n: g - 1 / v),
    POLYGAMMA: _beyond(POLYGAMMA, lambda g, v, n: g - (-1) ** n * fac(n) / v ** (n + 1)),
    LOGGAMMA: _beyond(LOGGAMMA, lambda g, v, n: g - LN(v)),
}


def _plain(c: Expression) -> Rough:
    return Rough({(mpq(0), 0): c} if c is not ZERO else {}, None)


def _harmonic(k: int) -> Expression:
    """digamma(k + 1)."""
    return number(sum((mpq(1, j) for j in range(1, k + 1)), mpq(0))) - EULER


def _second_kind(sign: int) -> Row:
    """Y (sign -1) and 2*K (sign 1, but for the signs in front) of whole order at 0: a pole, a logarithm, a power series."""

    def row(work: Work, orders: tuple[Expression, ...], place: Expression | None, z: Rough) -> Rough | None:
        n = orders[0]
        if place is not ZERO or not (isinstance(n, Number) and n.is_whole and n.rational >= 0):
            return None
        m = int(n.rational)
        half = work.scaled(z, number(mpq(1, 2)))
        square = work.multiply(half, half)
        up, down = work.power(half, mpq(m)), work.power(half, mpq(-m))
        first = work.compose(square, lambda k: number(mpq(sign**k, fac(k) * fac(k + m))))
        last = work.compose(square, lambda k: (_harmonic(k) + _harmonic(k + m)) * number(mpq(sign**k, fac(k) * fac(k + m))))
        pole = work.compose(square, lambda k: number(mpq(fac(m - k - 1), fac(k)) * (-sign) ** k) if k < m else ZERO)
        parts = [work.multiply(work.log(half), work.multiply(up, first)), work.multiply(up, last), work.multiply(down, pole)]
        factors = (
            [2 / PI, -1 / PI, -1 / PI] if sign < 0 else [number((-1) ** (m + 1)), number(mpq((-1) ** m, 2)), number(mpq(1, 2))]
        )
        return work.add([work.scaled(p, c) for p, c in zip(parts, factors, strict=True)])

    return row


def _elliptic(e: bool) -> Row:
    """K and E where the parameter reaches 1 from below, by the distance p from there."""

    def row(work: Work, _: tuple[Expression, ...], place: Expression | None, rest: Rough) -> Rough | None:
        if place is not ONE:
            return None
        p = work.scaled(rest, number(-1))
        logarithm = work.scaled(work.log(p), number(mpq(-1, 2)))

        def size(k: int) -> mpq:  # (1/2)_k^2/k!^2, or (1/2)_k*(3/2)_k/((2)_k*k!)
            return _central(k) * mpq(2 * k + 1, 2 * k + 2) if e else _central(k)

        def beside(k: int) -> Expression:  # digamma(k + 1) - digamma(k + 1/2), less a fraction
            gap = 2 * LN(TWO) - number(sum((mpq(2, 2 * j - 1) - mpq(1, j) for j in range(1, k + 1)), mpq(0)))
            return gap - number(mpq(1, (2 * k + 1) * (2 * k + 2))) if e else gap

        plain = work.compose(p, lambda k: number(size(k)))
        other = work.compose(p, lambda k: number(size(k)) * beside(k))
        found = work.add([work.multiply(logarithm, plain), other])
        return work.add([_plain(ONE), work.multiply(p, found)]) if e else found

    return row


def _zeta(work: Work, _: tuple[Expression, ...], place: Expression | None, rest: Rough) -> Rough | None:
    """At its pole and at 0, to where the constants have names."""
    if place is ONE:
        return work.add([work.power(rest, mpq(-1)), _plain(EULER), Rough({}, rest.lowest())])
    if place is ZERO:
        return work.add([_plain(number(mpq(-1, 2))), work.scaled(rest, -LN(2 * PI) / 2), Rough({}, 2 * rest.lowest())])
    return None


def _lambert(lower: bool) -> Row:
    """At -1/e by p with p^2 = 2*(e*z + 1), on both branches; at 0 the main one by J. Lagrange's inversion."""

    def row(work: Work, _: tuple[Expression, ...], place: Expression | None, rest: Rough) -> Rough | None:
        if place is ZERO and not lower:
            return work.compose(rest, lambda k: number(mpq((-k) ** (k - 1), fac(k))) if k else ZERO)
        if place is not -EXP(number(-1)):
            return None
        p = work.power(work.scaled(rest, 2 * EXP(ONE)), mpq(1, 2))
        sign = -1 if lower else 1
        return work.compose(p, lambda k: number(_branch_coefficient(k) * sign**k))

    return row


def _branch_coefficient(k: int) -> mpq:
    """Of p^k in W = q - 1, where the sum of q^j*(j - 1)/j! is p^2/2: the coefficient of p^(k + 1) there is linear in the one of p^k in q."""
    while len(_Q) <= k:
        _Q.append(mpq(0))
        _Q[-1] = -_power_sum(len(_Q))
    return _Q[k] if k else mpq(-1)


_Q: list[mpq] = [mpq(0), mpq(1)]


def _power_sum(n: int) -> mpq:
    """The coefficient of p^n in the sum of q^j*(j - 1)/j!, of what is known of q."""
    total, piece = mpq(0), [mpq(1)] + [mpq(0)] * n
    for j in range(1, n + 1):
        piece = [sum((piece[i] * _Q[m - i] for i in range(m + 1) if m - i < len(_Q)), mpq(0)) for m in range(n + 1)]
        total += piece[n] * mpq(j - 1, fac(j))
    return total


BESIDE: dict[str, Row] = {
    BESSELY: _second_kind(-1),
    BESSELK: _second_kind(1),
    ELLIPK: _elliptic(False),
    ELLIPE: _elliptic(True),
    ZETA: _zeta,
    LAMBERTW: _lambert(False),
    LAMBERTW_LOWER: _lambert(True),
}
