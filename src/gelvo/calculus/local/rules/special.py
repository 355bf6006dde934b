"""Incomplete gamma and beta functions at 0, polylogarithms at 1 and far out, real and imaginary parts, Struve's functions at 0.

Source: DLMF 8.7.3, 8.17.7, 11.2 and 25.12; D. Wood, "The Computation of Polylogarithms" (1992), formula 9.3 about 1 and 11.1 far out.
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.local.expansion import Expansion, Unclear, apart, constant_term, falling
from gelvo.calculus.local.table import Expanding, far, local, scaled
from gelvo.expression.building import call, number
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Expression
from gelvo.functions.named import BETA, BETA_INC, GAMMA, GAMMA_INC, IM, POLYLOG, RE, STRUVEH, STRUVEL, ZETA

LARGEST_ORDER = 12


def _shares(at: Expanding, order: Expression, z: Expansion, coefficient: Callable[[int], Expression]) -> Expansion:
    """z^order times the sum of coefficient(k)*z^k/(order + k), for a positive rational order."""
    if not (order.is_rational and order.rational > 0):
        raise Unclear(f"the power {order} at 0 is not known")
    return at.multiply(at.power(z, order.rational), at.compose(z, lambda k: coefficient(k) / (order + k)))


@local(GAMMA_INC)
def _incomplete_gamma(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    place, z = apart(inner)
    if place is not ZERO:
        return at.ordinary(node, 1, inner)
    order = node.arguments[0]
    below = _shares(at, order, z, lambda k: number(mpq((-1) ** k, fac(k))))
    return at.add([constant_term(GAMMA(order)), scaled(at, -ONE, below)])


@local(BETA_INC)
def _incomplete_beta(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    p, q, _ = node.arguments
    place, z = apart(inner)
    if place is ONE:
        rest = _shares(at, q, scaled(at, -ONE, z), lambda k: (-1) ** k * falling(p - 1, k))
        return at.add([constant_term(BETA(p, q)), scaled(at, -ONE, rest)])
    if place is not ZERO:
        return at.ordinary(node, 2, inner)
    return _shares(at, p, z, lambda k: (-1) ** k * falling(q - 1, k))


@local(STRUVEH, STRUVEL)
def _struve(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """(z/2)^(n + 1) times the sum of (-+z^2/4)^k/(gamma(k + 3/2)*gamma(k + n + 3/2))."""
    place, z = apart(inner)
    order = node.arguments[0]
    if place is not ZERO:
        return at.ordinary(node, 1, inner)
    if not (order.is_rational and order.rational > -1):
        raise Unclear(f"the power {order} at 0 is not known")
    half, sign = scaled(at, number(mpq(1, 2)), z), -1 if node.name == STRUVEH else 1

    def coefficient(k: int) -> Expression:
        j, odd = divmod(k, 2)
        return ZERO if odd else number(sign**j) / (GAMMA(number(mpq(2 * j + 3, 2))) * GAMMA(order + number(mpq(2 * j + 3, 2))))

    return at.multiply(at.power(half, order.rational + 1), at.compose(half, coefficient))


def _order_of(node: Call) -> int:
    order = node.arguments[0]
    if not (order.is_whole and 2 <= order.rational <= LARGEST_ORDER):
        raise Unclear(f"polylog of the order {order} is not expanded there")
    return int(order.rational)


@local(POLYLOG)
def _polylogarithm(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """About 1 in the logarithm m of the argument: m^(n - 1)/(n - 1)!*(H_(n - 1) - ln(-m)) and the powers m^k*zeta(n - k)/k!."""
    place, z = apart(inner)
    if place is ZERO:
        return at.compose(z, lambda k: number(k) ** -node.arguments[0] if k else ZERO)
    if place is not ONE:
        return at.ordinary(node, 1, inner)
    n = _order_of(node)
    m = at.log(inner)
    powers = at.compose(m, lambda k: ZERO if k == n - 1 else ZETA(number(n - k)) / number(fac(k)))
    harmonic = number(sum((mpq(1, k) for k in range(1, n)), mpq(0)))
    logarithm = at.log(scaled(at, -ONE, m))
    special = at.multiply(at.power(m, mpq(n - 1)), at.add([constant_term(harmonic), scaled(at, -ONE, logarithm)]))
    return at.add([powers, scaled(at, number(mpq(1, fac(n - 1))), special)])


def polylogarithm_far_out(n: int) -> list[tuple[Expression, int]]:
    """(coefficient, power of w) of what Li_n(-exp(w)) is besides (-1)^(n - 1)*Li_n(-exp(-w)): minus twice eta(2*k)*w^(n - 2*k)/(n - 2*k)!."""
    etas = [number(mpq(1, 2)), *((1 - number(mpq(2, 4**k))) * ZETA(number(2 * k)) for k in range(1, n // 2 + 1))]
    return [(-2 * eta / number(fac(n - 2 * k)), n - 2 * k) for k, eta in enumerate(etas)]


@far(POLYLOG)
def _polylogarithm_far_out(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    if at.rises(inner):
        raise Unclear("polylog above 1 is not real")
    n = _order_of(node)
    w = at.log(scaled(at, -ONE, inner))
    powers = [constant_term(ONE)]
    while len(powers) <= n:
        powers.append(at.multiply(powers[-1], w))
    pieces = [scaled(at, c, powers[k]) for c, k in polylogarithm_far_out(n)]
    turned = at.compose(at.power(inner, mpq(-1)), lambda j: number(mpq(1, j**n)) if j else ZERO)
    return at.add([*pieces, scaled(at, number((-1) ** (n - 1)), turned)])


@local(RE, IM)
def _part(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """Part by part, as u and its logarithm are real."""
    return Expansion({e: call(node.name, c) for e, c in inner.terms.items() if call(node.name, c) is not ZERO}, inner.order)
