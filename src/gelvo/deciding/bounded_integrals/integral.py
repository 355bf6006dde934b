"""Bounds of a definite integral: ends moved to where the integrand is analytic or dies away, then Gauss's rule on pieces."""

from __future__ import annotations

import math

from gmpy2 import mpfr, mpq

from gelvo.deadline import checkpoint
from gelvo.deciding.bounded_integrals.analytic import Analytic, dying_forms, plain
from gelvo.deciding.bounded_integrals.legendre import nodes_and_weights
from gelvo.deciding.bounded_integrals.tails import tail_bound
from gelvo.errors import GelvoError
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.functions.named import EXP
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic

MOST_PIECES, LEAST_WIDTH = 1500, mpq(1, 2**40)
PLACES = (6, 10, 14, 20, 28, 40, 56, 80, 112, 160)
ELLIPSES = (mpq(8), mpq(4), mpq(2))
ROUGH = 53


def bounded_integral(f: Expression, x: Name, lower: Expression, upper: Expression, precision: int) -> Box:
    """A box that surely holds the integral, about as narrow as the precision says; NoValue where none was found.

    f: without other names; the ends: numbers or infinite.
    """
    if isinstance(lower, Bound) and isinstance(upper, Bound):
        mirrored = bounded_integral(substitute(f, {x: -x}), x, ZERO, upper, precision)
        return boxes.add(arithmetic(precision), mirrored, bounded_integral(f, x, ZERO, upper, precision))
    if isinstance(lower, Bound):
        return bounded_integral(
            substitute(f, {x: -x}), x, -upper, INFINITE if lower is MINUS_INFINITE else MINUS_INFINITE, precision
        )
    if isinstance(upper, Bound):
        return _forwards(substitute(f, {x: x + lower}) if lower is not ZERO else f, x, precision)
    middle = (lower + upper) / 2
    half = upper - middle
    left = _from_zero(substitute(f, {x: lower + x}), x, half, precision)
    right = _from_zero(substitute(f, {x: upper - x}), x, half, precision)
    return boxes.add(arithmetic(precision), left, right)


def _forwards(f: Expression, x: Name, precision: int) -> Box:
    """From 0 to infinity."""
    near = _from_zero(f, x, ONE, precision)
    try:
        far = _to_infinity(Analytic(dying_forms(f, x), x, from_zero=False), mpq(1), precision)
    except NoValue:  # what falls as a power: x = exp(t)
        far = _to_infinity(
            Analytic(dying_forms(plain(substitute(f, {x: EXP(x)}) * EXP(x)), x), x, from_zero=False), mpq(0), precision
        )
    return boxes.add(arithmetic(precision), near, far)


def _from_zero(f: Expression, x: Name, width: Expression, precision: int) -> Box:
    """From 0, where a singularity may lie, to a width; half a line in t with x = width*exp(-t) where it does."""
    scaled, place = substitute(f, {x: width * x}) * width, EXP(-x)
    try:
        integrand = Analytic(scaled, x)
        integrand.at(Box(Interval(mpfr(0), NEAR), Interval(-NEAR, NEAR)), ROUGH)
    except NoValue:
        return _to_infinity(Analytic(scaled, x, place, place), mpq(0), precision)
    return _over(integrand, mpq(0), mpq(1), precision)


NEAR = mpfr(1) / 64


def _to_infinity(integrand: Analytic, start: mpq, precision: int) -> Box:
    a = arithmetic(precision)
    wanted = a.up.exp2(-precision - 4)
    stop = max(start, mpq(1)) + 4
    for _ in range(60):
        try:
            rest = tail_bound(integrand, stop)
            if rest < wanted:
                break
        except NoValue:
            if stop > 400:
                raise
        stop = stop * mpq(5, 4)
    else:
        raise NoValue("a tail that falls too slowly")
    found = _over(integrand, start, mpq(math.ceil(stop)), precision)
    return Box(Interval(a.down.sub(found.real.low, rest), a.up.add(found.real.high, rest)), found.imag)


def _over(f: Analytic, start: mpq, stop: mpq, precision: int) -> Box:
    """Over an interval without singularities, halved until bounds on an ellipse around each piece suffice."""
    a = arithmetic(precision)
    whole = Box(a.zero)
    waiting = [(start, stop)]
    pieces = 0
    while waiting:
        checkpoint()
        left, right = waiting.pop()
        pieces += 1
        if pieces > MOST_PIECES or right - left < LEAST_WIDTH * max(1, abs(right)):
            raise NoValue("too many pieces")
        rule = _rule(f, left, right, precision)
        if rule is None:
            middle = (left + right) / 2
            waiting += [(middle, right), (left, middle)]
            continue
        whole = boxes.add(a, whole, _gauss(f, left, right, *rule, precision))
    return whole


def _rule(f: Analytic, left: mpq, right: mpq, precision: int) -> tuple[int, mpfr] | None:
    """(places, bound of the error) that are enough on a piece; None where it has to be halved."""
    a = arithmetic(ROUGH)
    half, middle = (right - left) / 2, (left + right) / 2
    wanted = a.up.exp2(-precision - 6)
    best: tuple[int, mpfr] | None = None
    for rho in ELLIPSES:
        wide, high = half * (rho + 1 / rho) / 2, half * (rho - 1 / rho) / 2
        around = Box(
            Interval(a.rational(middle - wide).low, a.rational(middle + wide).high),
            Interval(a.rational(-high).low, a.rational(high).high),
        )
        try:
            box = f.at(around, ROUGH)
        except (NoValue, GelvoError):
            continue
        size = boxes.modulus(a, box).high
        if not size < mpfr("inf"):
            continue
        scale = a.up.mul(a.up.mul(size, mpfr(64 * half / 15)), a.up.div(1, a.down.sub(1, mpfr(1 / rho**2))))
        for n in PLACES:
            error = a.up.mul(scale, a.up.exp2(a.up.mul(mpfr(-2 * (n - 1)), a.down.log2(mpfr(rho)))))
            if error < wanted:
                if best is None or n < best[0]:
                    best = (n, error)
                break
    return best


def _gauss(f: Analytic, left: mpq, right: mpq, n: int, error: mpfr, precision: int) -> Box:
    a = arithmetic(precision + 10)
    half, middle = a.rational((right - left) / 2), a.rational((left + right) / 2)
    whole = Box(a.zero)
    for node, weight in nodes_and_weights(n, precision + 10):
        step = a.multiply(half, node)
        places = [a.add(middle, step)] if node.low <= 0 <= node.high else [a.add(middle, step), a.subtract(middle, step)]
        for place in places:
            value = f.at(Box(place), precision + 10)
            whole = boxes.add(a, whole, boxes.multiply(a, Box(weight), value))
    whole = boxes.multiply(a, whole, Box(half))
    real = Interval(a.down.sub(whole.real.low, error), a.up.add(whole.real.high, error))
    imag = whole.imag and Interval(a.down.sub(whole.imag.low, error), a.up.add(whole.imag.high, error))
    return Box(real, imag)
