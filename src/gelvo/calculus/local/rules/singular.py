"""Expansions about branch points and poles: inverse functions at ±1, elliptic integrals at 1, Lambert's function at -1/e, digamma and
zeta at their poles, Bessel functions at 0.

Sources: DLMF 4.24, 4.38, 5.5, 10.8, 10.31, 19.12, 25.2; R. Corless et al., "On the Lambert W Function" (1996), section 4.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from gmpy2 import bincoef, fac, mpq

from gelvo.calculus.local.expansion import Expansion, Unclear, apart, constant_term
from gelvo.calculus.local.table import Expanding, local, scaled, taylor
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import constant, number, sqrt
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Call, Expression, Number
from gelvo.functions.named import (
    ACOS,
    ACOSH,
    ASIN,
    ATANH,
    BESSELI,
    BESSELJ,
    BESSELK,
    BESSELY,
    COS,
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
    SIN,
    ZETA,
    is_a,
)

EULER = constant("euler_gamma")


def _constant_less(at: Expanding, c: Expression, a: Expansion) -> Expansion:
    return at.add([constant_term(c), scaled(at, -ONE, a)])


def _falls(at: Expanding, w: Expansion, what: str) -> None:
    """That a root of w is real: w is positive as the place is reached."""
    _, c, _ = at.leading(w)
    if not at.facts.is_positive(c):
        raise Unclear(f"{what} is real on one side only there")


def _angle(at: Expanding, w: Expansion, sign: int) -> Expansion:
    """acos(1 - w), or acosh(1 + w) with the sign -1: sqrt(2*w) times the sum of binomial(2*k, k)*(±w/8)^k/(2*k + 1)."""
    series = at.compose(w, lambda k: number(mpq(sign**k * bincoef(2 * k, k), 8**k * (2 * k + 1))))
    return scaled(at, sqrt(TWO), at.multiply(at.power(w, mpq(1, 2)), series))


@local(ASIN, ACOS, ACOSH)
def _at_the_end(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    place, z = apart(inner)
    hyperbolic = is_a(node, ACOSH)
    if place not in (ONE, -ONE) or (hyperbolic and place is not ONE) or (not z.terms and z.order is None):
        return at.ordinary(node, 0, inner)
    w = z if hyperbolic or place is -ONE else scaled(at, -ONE, z)
    _falls(at, w, node.name)
    angle = _angle(at, w, -1 if hyperbolic else 1)
    if hyperbolic:
        return angle
    if place is ONE:
        return angle if is_a(node, ACOS) else _constant_less(at, PI / 2, angle)
    return _constant_less(at, PI, angle) if is_a(node, ACOS) else at.add([constant_term(-PI / 2), angle])


@local(ATANH)
def _by_logarithms(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    place, _ = apart(inner)
    if place not in (ONE, -ONE):
        return at.ordinary(node, 0, inner)
    up, down = at.log(at.add([constant_term(ONE), inner])), at.log(_constant_less(at, ONE, inner))
    return scaled(at, number(mpq(1, 2)), at.add([up, scaled(at, -ONE, down)]))


# --- elliptic integrals ------------------------------------------------------------------------------------------------------------


def _middle(k: int) -> mpq:
    """(1/2)_k/k!."""
    return mpq(bincoef(2 * k, k), 4**k)


@taylor(ELLIPK, ELLIPE)
def _complete(name: str, place: Expression) -> Callable[[int], Expression] | None:
    if place is not ZERO:
        return None
    return lambda k: PI / 2 * number(_middle(k) ** 2 / (1 if name == ELLIPK else 1 - 2 * k))


def _digammas(k: int) -> Expression:
    """digamma(1 + k) - digamma(1/2 + k)."""
    return 2 * LN(TWO) - number(sum((mpq(2, (2 * j + 1) * (2 * j + 2)) for j in range(k)), mpq(0)))


@local(ELLIPK, ELLIPE)
def _complete_at_one(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    place, z = apart(inner)
    if place is not ONE:
        return at.ordinary(node, 0, inner)
    w = scaled(at, -ONE, z)
    _falls(at, w, node.name)
    half = scaled(at, number(mpq(-1, 2)), at.log(w))
    if is_a(node, ELLIPK):
        plain = at.compose(w, lambda k: number(_middle(k) ** 2))
        return at.add([at.multiply(half, plain), at.compose(w, lambda k: number(_middle(k) ** 2) * _digammas(k))])

    def share(k: int) -> Expression:  # of w^(k + 1)
        return number(_middle(k) * mpq(2 * k + 1) * _middle(k) / (2 * (k + 1)))

    plain = at.compose(w, lambda k: share(k - 1) if k else ZERO)
    beside = at.compose(w, lambda k: share(k - 1) * (_digammas(k - 1) - mpq(1, (2 * k - 1) * 2 * k)) if k else ONE)
    return at.add([at.multiply(half, plain), beside])


# --- Lambert's function ------------------------------------------------------------------------------------------------------------


@cache
def _lambert(k: int) -> tuple[mpq, mpq]:
    """(mu_k, alpha_k) of W = the sum of mu_k*p^k, p = sqrt(2*(e*x + 1))."""
    if k < 2:
        return ((mpq(-1), mpq(2)), (mpq(1), mpq(-1)))[k]
    alpha = sum((_lambert(j)[0] * _lambert(k + 1 - j)[0] for j in range(2, k)), mpq(0))
    below, before = _lambert(k - 2), _lambert(k - 1)
    mu = mpq(k - 1, k + 1) * (below[0] / 2 + below[1] / 4) - alpha / 2 - before[0] / (k + 1)
    return mu, alpha


@local(LAMBERTW, LAMBERTW_LOWER)
def _both_branches(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    place, z = apart(inner)
    if place is None or not is_zero(place + EXP(-ONE), at.facts):
        return at.ordinary(node, 0, inner)
    _falls(at, z, node.name)
    p = at.power(scaled(at, 2 * EXP(ONE), z), mpq(1, 2))
    sign = 1 if is_a(node, LAMBERTW) else -1
    return at.compose(p, lambda k: number(sign**k * _lambert(k)[0]))


# --- poles ---------------------------------------------------------------------------------------------------------------------------


@local(DIGAMMA, POLYGAMMA, LOGGAMMA)
def _relatives_of_gamma(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """By the recurrence, from one beyond the pole."""
    place, z = apart(inner)
    which = len(node.arguments) - 1
    if not (isinstance(place, Number) and place.is_whole and place.rational <= 0):
        return at.ordinary(node, which, inner)
    steps = 1 - int(place.rational)
    beyond = at.regular(node, which, place + steps, z)
    parts = [at.add([z, constant_term(place + j)]) for j in range(steps)]
    if is_a(node, LOGGAMMA):
        if steps > 1:
            raise Unclear("loggamma before its first pole")
        return at.add([beyond, scaled(at, -ONE, at.log(parts[0]))])
    order = 0 if is_a(node, DIGAMMA) else int(node.arguments[0].rational) if node.arguments[0].is_whole else -1
    if order < 0:
        raise Unclear("polygamma of an order that is no number")
    outer = number((-1) ** (order + 1) * fac(order))
    return at.add([beyond, *[scaled(at, outer, at.power(p, mpq(-order - 1))) for p in parts]])


@local(ZETA)
def _zeta(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """As far as the coefficients have names."""
    place, z = apart(inner)
    if place is None:
        return at.ordinary(node, 0, inner)
    known: list[Expression] = [ZETA(place)] if place is not ONE else [EULER]
    if place is ZERO:
        known.append(-LN(2 * PI) / 2)
    elif isinstance(place, Number) and place.is_whole and place.rational < 0 and place.rational % 2 == 0:
        n = -int(place.rational) // 2
        known.append(number((-1) ** n * mpq(fac(2 * n), 2)) * ZETA(number(2 * n + 1)) / (2 * PI) ** (2 * n))

    def coefficient(k: int) -> Expression:
        if k >= len(known):
            raise DomainError("that derivative of zeta has no name")
        return known[k]

    series = at.compose(z, coefficient)
    return series if place is not ONE else at.add([at.power(z, mpq(-1)), series])


# --- Bessel functions at zero --------------------------------------------------------------------------------------------------------


def _power_series(at: Expanding, half: Expansion, order: Expression, sign: int) -> Expansion:
    """J (sign -1) or I (sign 1) of a rational order, half = z/2: the sum of (sign*half^2)^k/(k!*gamma(order + k + 1)) times half^order."""

    def coefficient(j: int) -> Expression:
        k, odd = divmod(j, 2)
        return ZERO if odd else number(mpq(sign**k, fac(k))) / GAMMA(order + k + 1)

    series = at.compose(half, coefficient)
    if order.is_whole and order.rational >= 0:  # no division: the leading coefficient may vanish for some letters
        for _ in range(int(order.rational)):
            series = at.multiply(series, half)
        return series
    return at.multiply(at.power(half, order.rational), series)


@local(BESSELJ, BESSELI)
def _first_kind(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    order, (place, z) = node.arguments[0], apart(inner)
    if place is not ZERO or not order.is_rational or (order.is_whole and order.rational < 0):
        return at.ordinary(node, 1, inner)
    return _power_series(at, scaled(at, number(mpq(1, 2)), z), order, -1 if is_a(node, BESSELJ) else 1)


@local(BESSELY, BESSELK)
def _second_kind(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    order, (place, z) = node.arguments[0], apart(inner)
    if place is not ZERO:
        return at.ordinary(node, 1, inner)
    if not order.is_rational:
        raise Unclear(f"the power {order} at 0 is not known")
    half, sign = scaled(at, number(mpq(1, 2)), z), -1 if is_a(node, BESSELY) else 1
    if order.is_whole:
        return _of_whole_order(
            at, half, abs(int(order.rational)), sign, (-1) ** int(order.rational) if order.rational < 0 and sign < 0 else 1
        )
    up, down = (_power_series(at, half, s * order, sign) for s in (1, -1))
    if sign > 0:
        return scaled(at, PI / (2 * SIN(order * PI)), at.add([down, scaled(at, -ONE, up)]))
    turned = scaled(at, COS(order * PI), up)
    return scaled(at, 1 / SIN(order * PI), at.add([turned, scaled(at, -ONE, down)]))


def _of_whole_order(at: Expanding, half: Expansion, n: int, sign: int, turn: int) -> Expansion:
    """Y (sign -1) and K (sign 1): powers below n, a logarithm times J or I, and a series with digammas."""

    def poles(j: int) -> Expression:
        k, odd = divmod(j, 2)
        return ZERO if odd or k >= n else number(mpq((-sign) ** k * fac(n - k - 1), fac(k)))

    def first(j: int) -> Expression:
        k, odd = divmod(j, 2)
        return ZERO if odd else number(mpq(sign**k, fac(k) * fac(n + k)))

    def digammas(j: int) -> Expression:
        k, odd = divmod(j, 2)
        return ZERO if odd else first(j) * (DIGAMMA(number(k + 1)) + DIGAMMA(number(n + k + 1)))

    up, down = at.power(half, mpq(n)) if n else constant_term(ONE), at.power(half, mpq(-n)) if n else constant_term(ONE)
    low = at.multiply(down, at.compose(half, poles)) if n else Expansion({})
    middle = at.multiply(at.log(half), at.multiply(up, at.compose(half, first)))
    high = at.multiply(up, at.compose(half, digammas))
    shares: tuple[Expression, ...]
    if sign > 0:
        shares = (number(mpq(1, 2)), number((-1) ** (n + 1)), number(mpq((-1) ** n, 2)))
    else:
        shares = (-turn / PI, 2 * turn / PI, -turn / PI)
    return at.add([scaled(at, s, part) for s, part in zip(shares, (low, middle, high), strict=True)])
