"""What code would give: a formula in doubles at many points at once, and how far that is from the correctly rounded values."""

from __future__ import annotations

import warnings
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

from gelvo.code.numpy_target import function_source
from gelvo.code.program import Program
from gelvo.expression.nodes import Expression, Name

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

WORST = 1e308  # in place of an error without bounds


def function_of(e: Expression, inputs: Sequence[Name]) -> Callable[..., Any]:
    """A formula in the functions of the numpy target as a function of arrays."""
    import numpy

    source = function_source(Program(tuple(inputs), {"value": e}), "value")
    space: dict[str, Any] = {"numpy": numpy, "__builtins__": {"float": float, "tuple": tuple, "range": range, "len": len}}
    if "special." in source:
        from scipy import special

        space["special"] = special
    # the source holds operators, literals and identifiers that the target made safe, never text of the user
    exec(compile(source, "<trial>", "exec"), space)
    function: Callable[..., Any] = space["value"]
    return function


def values_of(e: Expression, inputs: Sequence[Name], columns: Sequence[NDArray[float64]], count: int) -> NDArray[float64]:
    """The values of a formula in doubles at the points whose coordinates are the columns."""
    import numpy

    with warnings.catch_warnings(), numpy.errstate(all="ignore"):
        warnings.simplefilter("ignore")
        return numpy.broadcast_to(numpy.asarray(function_of(e, inputs)(*columns), dtype=float), (count,))


def errors_of(found: NDArray[float64], right: NDArray[float64]) -> NDArray[float64]:
    """The distance from the right values in units of their last places."""
    import numpy

    with numpy.errstate(all="ignore"):
        unit = numpy.spacing(numpy.abs(right))
        distance = numpy.abs(found - right) / unit
    return numpy.where(found == right, 0.0, numpy.where(numpy.isfinite(distance), numpy.minimum(distance, WORST), WORST))
