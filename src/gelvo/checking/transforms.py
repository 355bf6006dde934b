"""Transforms held against quadratures of their defining integrals."""

from __future__ import annotations

import math

from gelvo.algebra.facts import Facts
from gelvo.checking.certificate import SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.limits import samples
from gelvo.errors import GelvoError
from gelvo.evaluation.value import value as value_of
from gelvo.expression.building import number
from gelvo.expression.nodes import Call, Expression, Name
from gelvo.expression.traversal import postorder, substitute

FREQUENCIES = (0.3, 1.1, 2.7)
METHOD = "quadrature of the defining integral at sample values"


def check_laplace(f: Expression, t: Name, s: Name, transform: Expression, facts: Facts) -> Certificate:
    """The transform at some s against the integral from 0 to infinity; where there are impulses nothing is claimed."""
    claim = f"the Laplace transform of {f} is {transform}"
    agreed = 0
    for sample in samples([f, transform], t, facts, 2, s):
        table = {n: number(v) for n, v in sample.items()}
        for place in (1.5, 2.5, 6.0):
            found = _compare(substitute(f, table), t, substitute(transform, table), s, place, (0.0, math.inf), complex(-place, 0))
            if found is None:
                continue
            if found > 1e-6:
                return Certificate(claim, UNDECIDED, METHOD, {"disagreement": f"{found:.2g} at {s} = {place}"})
            agreed += 1
    if agreed:
        return Certificate(claim, SUPPORTED, METHOD, {"agreement": f"to 6 digits at {agreed} points"})
    return Certificate(claim, UNDECIDED, METHOD)


def check_fourier(
    f: Expression, t: Name, w: Name, transform: Expression, facts: Facts, kernel: tuple[Expression, Expression], word: str
) -> Certificate:
    """The transform at some frequencies against the integral of outer*f*exp(1j*rate*w*t) over the line, kernel = (outer, rate)."""
    outer, rate = complex(value_of(kernel[0], 15)), complex(value_of(kernel[1], 15)).real
    claim = f"the Fourier transform ({word}) of {f} is {transform}"
    agreed = 0
    for sample in samples([f, transform], t, facts, 2, w):
        table = {n: number(v) for n, v in sample.items()}
        for place in FREQUENCIES:
            found = _compare(
                substitute(f, table),
                t,
                substitute(transform, table),
                w,
                place,
                (-math.inf, math.inf),
                complex(0, rate * place),
                outer,
            )
            if found is None:
                continue
            if found > 1e-5:
                return Certificate(claim, UNDECIDED, METHOD, {"disagreement": f"{found:.2g} at {w} = {place}"})
            agreed += 1
    if agreed:
        return Certificate(claim, SUPPORTED, METHOD, {"agreement": f"to 5 digits at {agreed} points"})
    return Certificate(claim, UNDECIDED, METHOD)


def _compare(
    f: Expression, t: Name, transform: Expression, target: Name, place: float, ends: tuple[float, float], rate: complex,
    outer: complex = 1.0,
) -> float | None:  # fmt: skip
    """How far the transform is from the integral of f*exp(rate*t), relative to its size; None where that cannot be told."""
    import mpmath

    from gelvo.evaluation.floats import float_function

    if any(isinstance(n, Call) and n.name == "dirac_delta" for n in postorder(f)):
        return None
    try:
        claimed = complex(value_of(substitute(transform, {target: number_of(place)}), 15))
    except (GelvoError, ArithmeticError, ValueError):
        return None
    at = float_function(f, t)
    cut = 60.0
    points = [p for p in (-cut, -20.0, -8.0, -3.0, -1.0, 0.0, 1.0, 3.0, 8.0, 20.0, cut) if ends[0] <= p <= ends[1]]

    def integrand(x: object) -> object:
        value = at(float(x))  # type: ignore[arg-type]
        return mpmath.mpc(value) * mpmath.exp(mpmath.mpc(rate) * x)

    try:
        for steps in _step_places(f, t):
            points.append(steps)
        points = sorted(set(points))
        found, error = mpmath.quad(integrand, points, error=True, maxdegree=8)
        tail = max(
            abs(complex(integrand(p)))  # type: ignore[call-overload]
            for p in (points[0], points[-1])
            if p
        )
    except (GelvoError, ArithmeticError, ValueError, TypeError):
        return None
    if tail > 1e-9 or error > 1e-6:
        return None  # it does not die away fast enough for a plain quadrature
    return abs(outer * complex(found) - claimed) / max(1e-3, abs(claimed))


def _step_places(f: Expression, t: Name) -> list[float]:
    """Where steps stand, so that the quadrature is cut there."""
    found = []
    for node in postorder(f):
        if isinstance(node, Call) and node.name in ("heaviside", "abs", "sign"):
            from gelvo.algebra.univariate import linear_parts

            parts = linear_parts(node.arguments[0], t)
            if parts is not None:
                found.append(float(-parts[1] / parts[0]))
    return found


def number_of(x: float) -> Expression:
    from fractions import Fraction

    from gmpy2 import mpq

    return number(mpq(Fraction(str(x))))
