"""Functions of t > 0 whose moments, integrals of t^(s-1)*K(t), follow from their power series or a theorem: one row each.

Source: S. Ramanujan's master theorem with the conditions of G. Hardy, "Ramanujan" (1940), chapter 11: what has the series
(b*t)^a*(phi(0) - phi(1)*u + phi(2)*u^2/2! - …) in u = (b*t)^m has the moments gamma(z)*phi(-z)/(m*b^s) with z = (s + a)/m.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.expression.building import number, power, sqrt
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Expression
from gelvo.functions.named import AIRYAI, ATAN, BESSELJ, BESSELK, CI, COS, EI, ERFC, EXP, GAMMA, GAMMA_INC, LN, SIN
from gelvo.numbers.exact import rational

HALF = number(rational(1, 2))
THREE_HALVES = number(rational(3, 2))


class Kernel(NamedTuple):
    """K(order, …, start + sign*t) with its moments for s above all of low and below high, functions of the orders; high None: no end.

    Each K is a sum of powers (and logarithms) of t near zero and of powers, or waves times powers, far out: so the moments continue
    beyond the strip as the sum of the parts below and above 1.
    """

    moment: Callable[..., Expression]
    low: Callable[..., tuple[Expression, ...]]
    high: Callable[..., Expression] | None
    source: str
    start: Expression = ZERO
    sign: Expression = ONE
    other: Callable[..., Expression] | None = None  # the same moments in another form
    parity: int = 0  # K(-t) = parity*K(t)


MASTER = "its power series and Ramanujan's master theorem"


class PowerSeries(NamedTuple):
    """(b*t)^a*(phi(0) - phi(1)*u + phi(2)*u^2/2! - …) with u = (b*t)^m."""

    a: Callable[..., Expression]
    b: Expression
    m: int
    phi: Callable[..., Expression]

    def moment(self, s: Expression, *orders: Expression) -> Expression:
        z = (s + self.a(*orders)) / self.m
        return GAMMA(z) * self.phi(-z, *orders) / (self.m * power(self.b, s))

    def low(self, *orders: Expression) -> tuple[Expression, ...]:
        return (-self.a(*orders),)


SERIES: dict[str, PowerSeries] = {
    EXP: PowerSeries(lambda: ZERO, ONE, 1, lambda k: ONE),
    COS: PowerSeries(lambda: ZERO, HALF, 2, lambda k: sqrt(PI) / GAMMA(k + HALF)),
    SIN: PowerSeries(lambda: ONE, HALF, 2, lambda k: sqrt(PI) / GAMMA(k + THREE_HALVES)),
    LN: PowerSeries(lambda: ONE, ONE, 1, lambda k: GAMMA(k + 1) / (k + 1)),
    ATAN: PowerSeries(lambda: ONE, ONE, 2, lambda k: GAMMA(k + 1) / (2 * k + 1)),
    BESSELJ: PowerSeries(lambda n: n, HALF, 2, lambda k, n: 1 / GAMMA(n + k + 1)),
}


def _by_series(name: str, high: Callable[..., Expression] | None, start: Expression = ZERO, sign: Expression = ONE) -> Kernel:
    row = SERIES[name]
    return Kernel(row.moment, row.low, high, MASTER, start, sign)


def _after(name: str, high: Callable[..., Expression] | None, sign: Expression = ONE) -> Kernel:
    """K with K' = g/t and K(inf) = 0, by parts: the moments of g by -s."""
    row = SERIES[name]
    return Kernel(
        lambda s: -row.moment(s) / s, lambda: (ZERO,), high, "by parts from the integrand of its definition", ZERO, sign
    )


KERNELS: dict[str, Kernel] = {
    EXP: _by_series(EXP, None, sign=-ONE),
    COS: _by_series(COS, lambda: ONE)._replace(other=lambda s: GAMMA(s) * COS(PI * s / 2), parity=1),
    SIN: _by_series(SIN, lambda: ONE)._replace(other=lambda s: GAMMA(s) * SIN(PI * s / 2), parity=-1),
    LN: _by_series(LN, lambda: ZERO, start=ONE)._replace(other=lambda s: PI / (s * SIN(PI * s))),
    ATAN: _by_series(ATAN, lambda: ZERO)._replace(other=lambda s: -PI / (2 * s * COS(PI * s / 2)), parity=-1),
    BESSELJ: _by_series(BESSELJ, lambda n: THREE_HALVES),
    EI: _after(EXP, None, -ONE),
    CI: _after(COS, lambda: ONE),
    # erfc' = -2*exp(-t^2)/sqrt(pi)
    ERFC: Kernel(lambda s: GAMMA((s + 1) / 2) / (sqrt(PI) * s), lambda: (ZERO,), None, "by parts from the integrand of its definition"),
    # gamma_inc' = -t^(a - 1)*exp(-t)
    GAMMA_INC: Kernel(lambda s, a: GAMMA(a + s) / s, lambda a: (ZERO, -a), None, "by parts from the integrand of its definition"),
    BESSELK: Kernel(lambda s, n: power(TWO, s - 2) * GAMMA((s - n) / 2) * GAMMA((s + n) / 2), lambda n: (n, -n), None, "DLMF 10.43.19"),
    AIRYAI: Kernel(
        lambda s: GAMMA(s) / (power(number(3), (s + 2) / 3) * GAMMA((s + 2) / 3)), lambda: (ZERO,), None, "DLMF 9.10.17"
    ),
}  # fmt: skip


def power_of_a_sum(p: Expression) -> Kernel:
    """(1 + t)^(-p)."""
    row = PowerSeries(lambda: ZERO, ONE, 1, lambda k: GAMMA(p + k) / GAMMA(p))
    return Kernel(row.moment, row.low, lambda: p, MASTER, other=(lambda s: PI / SIN(PI * s)) if p is ONE else None)
