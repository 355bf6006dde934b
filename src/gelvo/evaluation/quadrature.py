"""Numeric integrals for cross-checks: adaptive, with an error estimate, cut at the places that are named."""

from __future__ import annotations

import itertools
import math
import warnings
from collections.abc import Iterable, Mapping

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import names, substitute
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
    from scipy.integrate import IntegrationWarning, quad

    from gelvo.evaluation.floats import float_function

    if [n for n in names(f) if n is not x]:
        return None
    evaluate = float_function(f, x)
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
    total, error = 0.0, 0.0
    with warnings.catch_warnings():
        warnings.simplefilter("error", IntegrationWarning)
        warnings.simplefilter("error", RuntimeWarning)
        for left, right in itertools.pairwise(cuts):
            try:
                value, estimate = quad(evaluate, left, right, epsabs=1e-13, epsrel=1e-11, limit=400)
            except (IntegrationWarning, RuntimeWarning, NoValue, GelvoError, OverflowError, ZeroDivisionError, ValueError):
                return None
            total, error = total + value, error + estimate
    if not math.isfinite(total) or error > 1e-8 * max(1.0, abs(total)):
        return None
    return complex(total), error
