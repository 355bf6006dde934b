"""Difference quotients, quadrature rules and interpolation on sampled data (NumPy and SciPy)."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from gelvo.errors import DomainError

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

KINDS = {"linear": 1, "quadratic": 2, "cubic": 3}
RULES = ("left", "trapezoid", "simpson")


def _arrays(places: object, values: object, least: int) -> tuple[NDArray[float64], NDArray[float64]]:
    import numpy

    x, y = _numbers(places, "places"), _numbers(values, "values")
    if x.shape != y.shape or x.ndim != 1:
        raise DomainError(f"places and values need the same number of entries, not {x.shape} and {y.shape}")
    if len(x) < least:
        raise DomainError(f"at least {least} samples are needed, not {len(x)}")
    if not (numpy.diff(x) > 0).all():
        raise DomainError("the places of the samples must rise")
    return x, y


def _numbers(given: Any, what: str) -> NDArray[float64]:
    import numpy

    try:
        found = numpy.asarray(given, dtype=float)
    except (TypeError, ValueError):
        raise DomainError(f"{what} of samples are a list of numbers such as [0, 0.5, 1], not {given!r:.60}") from None
    if not numpy.isfinite(found).all():
        raise DomainError(f"{what} of samples must be finite numbers")
    return found


def difference_samples(places: Any, values: Any) -> NDArray[float64]:
    """The difference quotients of samples: central inside, one-sided at the ends.

    >>> import gelvo
    >>> gelvo.difference_samples([0, 1, 2], [0, 1, 4]).tolist()
    [1.0, 2.0, 3.0]
    """
    import numpy

    x, y = _arrays(places, values, 2)
    found = numpy.empty_like(y)
    found[0], found[-1] = (y[1] - y[0]) / (x[1] - x[0]), (y[-1] - y[-2]) / (x[-1] - x[-2])
    found[1:-1] = (y[2:] - y[:-2]) / (x[2:] - x[:-2])
    return found


def integrate_samples(places: Any, values: Any, rule: str = "trapezoid") -> float:
    """The integral of samples by a rule: "left" (steps), "trapezoid" or "simpson".

    >>> import gelvo
    >>> gelvo.integrate_samples([0, 1, 2], [0, 1, 4], "simpson")
    2.6666666666666665
    """
    import numpy
    from scipy import integrate

    if rule not in RULES:
        raise DomainError(f"a quadrature rule is one of {', '.join(RULES)}, not {rule!r}")
    x, y = _arrays(places, values, 3 if rule == "simpson" else 2)
    if rule == "left":
        return float(numpy.sum(y[:-1] * numpy.diff(x)))
    return float(integrate.trapezoid(y, x) if rule == "trapezoid" else integrate.simpson(y, x=x))


def interpolate(places: Any, values: Any, kind: str = "cubic") -> Callable[[Any], NDArray[float64]]:
    """A function through samples: "linear", "quadratic" or "cubic"; outside their range it refuses.

    >>> import gelvo
    >>> float(gelvo.interpolate([0, 1, 2], [0, 1, 4], "linear")(0.5))
    0.5
    """
    from scipy.interpolate import make_interp_spline

    if kind not in KINDS:
        raise DomainError(f"an interpolation is one of {', '.join(KINDS)}, not {kind!r}")
    x, y = _arrays(places, values, KINDS[kind] + 1)
    spline = make_interp_spline(x, y, k=KINDS[kind])

    def function(place: object) -> NDArray[float64]:
        wanted = _numbers(place, "places")
        outside = (
            wanted[(wanted < x[0]) | (wanted > x[-1])]
            if wanted.ndim
            else wanted[None][(wanted[None] < x[0]) | (wanted[None] > x[-1])]
        )
        if outside.size:
            raise DomainError(f"{outside.flat[0]:g} is outside the samples, which reach from {x[0]:g} to {x[-1]:g}")
        return spline(wanted)

    return function
