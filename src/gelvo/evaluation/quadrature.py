"""Numeric integrals for cross-checks: adaptive, with an error estimate, cut at the places that are named."""

from __future__ import annotations

import cmath
import itertools
import math
import warnings
from collections.abc import Callable, Iterable, Mapping

from gmpy2 import log2, mpq

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.floats import NotReal, complex_function, float_function
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Call, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, names, postorder, substitute
from gelvo.functions.named import COS, DIRAC_DELTA, SIN, is_a
from gelvo.numbers.interval import NoValue
from gelvo.roads import on_the_way


def _float(expression: Expression) -> float:
    return float(Enclosure(expression).at({}, 80).real.low)


@on_the_way("quadrature (QUADPACK)")
def quadrature(
    f: Expression,
    x: Name,
    lower: Expression,
    upper: Expression,
    places: Iterable[Expression] = (),
    table: Mapping[Name, Expression] | None = None,
    cuts: Iterable[float] = (),
) -> tuple[complex, float] | None:
    """(value, error estimate) of an integral without other names; None where no trustworthy number came out.

    places, cuts: where the integrand breaks, or may have a peak. To infinity only where the integrand was seen to die away fast enough that its tail is bounded.
    """
    if [n for n in names(f) if n is not x] or has_call(f, (DIRAC_DELTA,), x):
        return None  # no sample meets an impulse
    if (isinstance(lower, Bound) or isinstance(upper, Bound)) and any(_is_wave(n, x) for n in postorder(f)):
        return _oscillating(f, x, lower, upper)
    ends = [_end(e) for e in (lower, upper)]
    sign = 1 if ends[0] <= ends[1] else -1
    low, high = min(ends), max(ends)
    if not all(tail_falls(f, x, end) for end in (low, high) if math.isinf(end)):
        return None
    # cut where no symmetry is, so that the two sides of a pole do not cancel by the places of the samples
    aside = 0.7357 if math.isinf(high - low) else low + 0.381966 * (high - low)
    try:
        breaks = [_float(substitute(place, table or {})) for place in places]
    except (GelvoError, NoValue):
        return None
    listed = sorted({c for c in (low, high, aside, *cuts, *breaks) if low <= c <= high})
    try:
        found = _adaptive(float_function(f, x), listed)
    except NotReal:
        found = _adaptive(complex_function(f, x), listed, complex_func=True)
    return None if found is None else (sign * found[0], found[1])


def _end(e: Expression) -> float:
    if isinstance(e, Bound):
        return math.inf if e.kind == "inf" else -math.inf
    return _float(e)


FAR = (mpq(1003, 3) * 10, mpq(10007, 3) * 100, mpq(100003, 3) * 10**4, mpq(1000003, 3) * 10**7)
NOTHING = -130.0  # as a power of two: what is next to nothing may stay so


def tail_falls(f: Expression, x: Name, end: float) -> bool:
    """Whether |f| falls faster than 1/|x| towards an infinite end, as far as four places tell: by a power, or below all of them."""
    # 1/ln(x) falls to two thirds at each hundredfold, and 1/(x*ln(x)) has no integral
    return _falls(f * x, x, math.log2(0.55), -1 if end < 0 else 1)


def _falls(g: Expression, x: Name, by: float, sign: int = 1) -> bool:
    """Whether the size of a formula falls by a factor (2^by), or is next to nothing, from each of the places far out to the next."""
    enclosure, sizes = Enclosure(g), []
    for place in FAR:
        try:
            box = enclosure.at({x: sign * place}, 200)
        except (NoValue, GelvoError, OverflowError, ValueError):
            return False
        ends = [abs(v) for part in (box.real, box.imag) if part is not None for v in (part.low, part.high)]
        sizes.append(max(float(log2(v)) if v else -math.inf for v in ends))
    return all(b < a + by or b < NOTHING for a, b in itertools.pairwise(sizes))


def _adaptive(evaluate: Callable[[float], complex], cuts: list[float], **kind: object) -> tuple[complex, float] | None:
    from scipy.integrate import IntegrationWarning, quad

    total, error = 0j, 0.0
    with warnings.catch_warnings():
        warnings.simplefilter("error", IntegrationWarning)
        warnings.simplefilter("error", RuntimeWarning)
        for left, right in itertools.pairwise(cuts):
            try:
                value, estimate = quad(evaluate, left, right, epsabs=1e-13, epsrel=1e-11, limit=150, **kind)
            except NotReal:
                raise
            except (IntegrationWarning, RuntimeWarning, NoValue, GelvoError, OverflowError, ZeroDivisionError, ValueError):
                return None
            total, error = total + value, error + abs(estimate)
    if not cmath.isfinite(total) or error > 1e-8 * max(1.0, abs(total)):
        return None
    return total, error


def _is_wave(node: object, x: Name) -> bool:
    return is_a(node, SIN, COS) and contains(node, x)


def _oscillating(f: Expression, x: Name, lower: Expression, upper: Expression) -> tuple[complex, float] | None:
    """g(x)*sin(w*x) or g(x)*cos(w*x) to infinity (QUADPACK's Fourier integrals); None for other waves, which would take for ever."""
    from scipy.integrate import IntegrationWarning, quad

    factors = factors_in(f)
    waves = [g for g in factors if _is_wave(g, x)]
    if len(waves) != 1 or not isinstance(waves[0], Call):
        return None
    rate = waves[0].arguments[0] / x
    rest = f / waves[0]
    if contains(rate, x) or any(_is_wave(n, x) for n in postorder(rest)):
        return None
    if (isinstance(lower, Bound) and lower.kind == "inf") or (isinstance(upper, Bound) and upper.kind == "-inf"):
        return None
    halves: list[tuple[Expression | None, Expression, float]] = [(lower, rest, 1.0)] if isinstance(upper, Bound) else []
    if isinstance(lower, Bound):
        start = -upper if not isinstance(upper, Bound) else None
        mirrored = substitute(rest, {x: -x})
        halves = [(start, mirrored, -1.0)] if start is not None else [(None, rest, 1.0), (None, mirrored, -1.0)]
    total, error = 0j, 0.0
    for start, g, sign in halves:
        at = _float(start) if start is not None else 0.0
        if not _falls(g, x, math.log2(0.8)):  # an amplitude that does not vanish
            return None
        odd = sign if is_a(waves[0], SIN) else 1.0
        near = quadrature(g * waves[0], x, number(mpq(at)), number(mpq(at) + 1))  # where g may be large, the wave tames it
        if near is None:
            return None
        total, error, at = total + odd * near[0], error + near[1], at + 1.0
        with warnings.catch_warnings():
            warnings.simplefilter("error", IntegrationWarning)
            try:
                value, estimate = quad(float_function(g, x), at, math.inf, weight=waves[0].name, wvar=_float(rate), limlst=200)
            except (IntegrationWarning, NoValue, GelvoError, ArithmeticError, ValueError):
                return None
        total, error = total + odd * value, error + estimate
    return (total, max(error, 1e-9)) if cmath.isfinite(total) and error < 1e-6 * max(1.0, abs(total)) else None
