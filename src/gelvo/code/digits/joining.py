"""Two forms of a formula as one: each where it is good, divided at a place where both are."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from gmpy2 import mpq

from gelvo.code.accuracy import GOAL_ULP
from gelvo.expression.building import call, relation
from gelvo.expression.interning import interned
from gelvo.expression.known import REAL
from gelvo.expression.nodes import Cases, Expression, Name, Number, Relation
from gelvo.expression.traversal import free_names, postorder

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray


def cases(value: Expression, quantity: Expression, limit: Expression, otherwise: Expression) -> Expression:
    """One value where the quantity is smaller than the limit, the other elsewhere."""
    condition = relation("<", quantity, limit)
    return interned(Cases, ((value, otherwise), (condition,)), lambda node: REAL)


LARGEST, USUAL, LEAST, OUTER = 1e308, mpq(1, 4), 0.02, 0.6


def best_limit(
    inside: NDArray[float64],
    outside: NDArray[float64],
    sizes: NDArray[float64],
    most: float = math.inf,
    guarded: bool = False,
    far_out: bool = False,
) -> tuple[float, mpq] | None:
    """(worst error, limit) for one form where sizes lie below a limit and the other one elsewhere.

    guarded: the size is that of a sum against its terms, whose inverse is what the errors of the terms grow by; far_out: the limit shall be
    large, because what stands inside costs less.
    """
    import numpy

    order = numpy.argsort(sizes, kind="stable")
    size = numpy.nan_to_num(sizes[order], nan=numpy.inf)
    below = numpy.maximum.accumulate(inside[order])
    above = numpy.maximum.accumulate(outside[order][::-1])[::-1]
    both = numpy.maximum(below[:-1], above[1:])
    both[(size[1:] <= size[:-1]) | (size[:-1] > most) | ~numpy.isfinite(size[:-1])] = numpy.inf
    if not len(both) or not numpy.isfinite(both.min()):
        return None
    worst = float(both.min())
    good = numpy.flatnonzero(both <= max(worst, GOAL_ULP))
    first, last = float(size[good[0]]), float(min(size[good[-1] + 1], most * 1.0000001, LARGEST))
    if guarded and last < LEAST:
        return None  # a form that is good only where nearly nothing is left of a sum is so by chance
    if guarded and first < USUAL < last:
        return worst, USUAL
    return worst, round_between(max(first, last * OUTER) if far_out and last > 0 else first, last)


def round_between(low: float, high: float) -> mpq:
    """A short number between two, about in the middle of their sizes.

    >>> round_between(0.0103, 3.7), round_between(0.0, 1e-5), round_between(-2.0, 5.0)
    (mpq(1,5), mpq(1,200000), mpq(2,1))
    """
    if low < 0 < high:
        middle = (low + high) / 2
    elif low <= 0:
        middle = low / 2 if high <= 0 else high / 2
    else:
        middle = math.sqrt(low) * math.sqrt(high)
    if high < 0 or (high == 0 and low < 0):
        return -round_between(-high, -low)
    for digits in range(1, 17):
        found = mpq(f"{middle:.{digits - 1}e}")
        if low < found < high:
            return found
    return mpq(middle)


BESIDE = (0.5, 0.7, 0.9, 0.99, 1.0, 1.01, 1.1, 1.3, 1.6, 2.0)


def beside_limits(e: Expression, inputs: Sequence[Name], others: Sequence[tuple[float, ...]]) -> Iterator[tuple[float, ...]]:
    """Points on both sides of the limits that are set on one input."""
    for node in postorder(e):
        if isinstance(node, Relation) and isinstance(node.right, Number) and len(free_names(node.left)) == 1:
            place = list(inputs).index(free_names(node.left)[0])
            limit = float(node.right)
            for k, factor in enumerate(BESIDE):
                for sign in (1, -1):
                    point = others[(7 * k) % len(others)] if others else ()
                    yield (*point[:place], sign * factor * limit, *point[place + 1 :])


def quantities(inputs: Sequence[Expression]) -> Iterator[Expression]:
    """What a limit may be set on: the inputs and their sizes."""
    for name in inputs:
        yield name
        yield call("abs", name)
