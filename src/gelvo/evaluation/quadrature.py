"""Numeric integrals for cross-checks: adaptive, with an error estimate, cut at the places that are named."""

from __future__ import annotations

import cmath
import itertools
import math
import warnings
from collections.abc import Callable, Iterable, Mapping
from typing import Any

from gmpy2 import mpq

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Call, Expression, Name, Product
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.numbers.interval import NoValue


def _float(expression: Expression) -> float:
    return float(Enclosure(expression).at({}, 80).real.low)


def quadrature(
    f: Expression,
    x: Name,
    lower: Expression,
    upper: Expression,
    places: Iterable[Expression] = (),
    table: Mapping[Name, Expression] | None = None,
) -> tuple[complex, float] | None:
    """(value, error estimate) of an integral without other names; None where no trustworthy number came out."""
    from gelvo.evaluation.floats import NotReal, complex_function, float_function

    if [n for n in names(f) if n is not x]:
        return None
    if any(isinstance(n, Call) and n.name == "dirac_delta" and contains(n, x) for n in postorder(f)):
        return None  # no sample meets an impulse
    if (isinstance(lower, Bound) or isinstance(upper, Bound)) and any(_is_wave(n, x) for n in postorder(f)):
        return _oscillating(f, x, lower, upper)
    ends = [
        -math.inf if e is lower and isinstance(e, Bound) and e.kind == "-inf" else math.inf if isinstance(e, Bound) else _float(e)
        for e in (lower, upper)
    ]
    cuts = [ends[0]]
    for place in places:
        try:
            position = _float(substitute(place, table or {}))
        except (GelvoError, NoValue):
            return None
        if ends[0] < position < ends[1]:
            cuts.append(position)
    cuts = [*sorted(cuts), ends[1]]
    try:
        return _adaptive(float_function(f, x), cuts)
    except NotReal:
        return _adaptive(complex_function(f, x), cuts, complex_func=True)


def _adaptive(evaluate: Callable[[float], complex], cuts: list[float], **kind: Any) -> tuple[complex, float] | None:
    from scipy.integrate import IntegrationWarning, quad

    from gelvo.evaluation.floats import NotReal

    total, error = 0j, 0.0
    with warnings.catch_warnings():
        warnings.simplefilter("error", IntegrationWarning)
        warnings.simplefilter("error", RuntimeWarning)
        for left, right in itertools.pairwise(cuts):
            try:
                value, estimate = quad(evaluate, left, right, epsabs=1e-13, epsrel=1e-11, limit=400, **kind)
            except NotReal:
                raise
            except (IntegrationWarning, RuntimeWarning, NoValue, GelvoError, OverflowError, ZeroDivisionError, ValueError):
                return None
            total, error = total + value, error + abs(estimate)
    if not cmath.isfinite(total) or error > 1e-8 * max(1.0, abs(total)):
        return None
    return total, error


def _is_wave(node: object, x: Name) -> bool:
    return isinstance(node, Call) and node.name in ("sin", "cos") and contains(node, x)


def _oscillating(f: Expression, x: Name, lower: Expression, upper: Expression) -> tuple[complex, float] | None:
    """g(x)*sin(w*x) or g(x)*cos(w*x) to infinity (QUADPACK's Fourier integrals); None for other waves, which would take for ever."""
    from scipy.integrate import IntegrationWarning, quad

    from gelvo.evaluation.floats import float_function

    factors = f.factors if isinstance(f, Product) else (f,)
    waves = [g for g in factors if _is_wave(g, x)]
    if len(waves) != 1 or not isinstance(waves[0], Call):
        return None
    rate = waves[0].arguments[0] / x
    rest = f / waves[0]
    if contains(rate, x) or any(_is_wave(n, x) for n in postorder(rest)):
        return None
    halves: list[tuple[Expression | None, Expression, float]] = [(lower, rest, 1.0)] if isinstance(upper, Bound) else []
    if isinstance(lower, Bound):
        start = -upper if not isinstance(upper, Bound) else None
        mirrored = substitute(rest, {x: -x})
        halves = [(start, mirrored, -1.0)] if start is not None else [(None, rest, 1.0), (None, mirrored, -1.0)]
    total, error = 0j, 0.0
    for start, g, sign in halves:
        at = _float(start) if start is not None else 0.0
        odd = sign if waves[0].name == "sin" else 1.0
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
