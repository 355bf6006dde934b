"""A region of the plane with the order in which it is integrated: strips along the first variable, one after the other along the second."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from gelvo.errors import DomainError
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import free_names, substitute
from gelvo.figures.plotting import COLOURS, literal
from gelvo.operations.inputs import take

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

STRIPS, POINTS = 13, 181


def plot_region(
    ranges: Mapping[Any, Any], *, values: Mapping[Any, Any] | None = None, coordinates: str = "cartesian", title: str = ""
) -> Figure:
    """A matplotlib Figure of a region {first: (lower, upper), second: (lower, upper)}; ends of the first may hold the second."""
    import numpy

    if len(ranges) != 2 or coordinates not in ("cartesian", "polar"):
        raise DomainError("a region of the plane has two variables, cartesian or polar")
    (inner, first), (outer, second) = ranges.items()
    table = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    taken = take(*first, *second, *table.values(), variables=[inner, outer])
    numbers = dict(zip(table, taken.expressions[4:], strict=True))
    low, high, start, stop = (_with_numbers(e, numbers) for e in taken.expressions[:4])
    inner, outer = taken.names[:2]
    ends = [float(_values(e, outer, numpy.zeros(1))[0]) for e in (start, stop)]
    grid = numpy.linspace(ends[0], ends[1], POINTS)
    sides = [_values(e, outer, grid) for e in (low, high)]
    return _drawn(inner.name, outer.name, grid, sides, coordinates == "polar", title)


def _with_numbers(e: Expression, numbers: Mapping[str, Expression]) -> Expression:
    if isinstance(e, Bound):
        raise DomainError("a region that is drawn has finite ends")
    return substitute(e, {n: numbers[n.name] for n in free_names(e) if n.name in numbers})


def _values(e: Expression, x: Name, places: Any) -> Any:
    """An end at many places; DomainError where letters are left."""
    import numpy

    from gelvo.code.numeric import numeric_function  # noqa: PLC0415  (loaded by who evaluates)

    missing = [n.name for n in free_names(e) if n is not x]
    if missing:
        raise DomainError(f"a region needs numbers for {', '.join(missing)}: say with {missing[0]} = …")
    return numpy.broadcast_to(numpy.asarray(numeric_function(e, [x])(places), dtype=float), places.shape)


def _drawn(inner: str, outer: str, grid: Any, sides: list[Any], polar: bool, title: str) -> Figure:
    import matplotlib
    import numpy
    from matplotlib.figure import Figure

    def placed(first: Any, second: Any) -> tuple[Any, Any]:
        if polar:
            r, angle = (first, second) if inner == "r" else (second, first)
            return r * numpy.cos(angle), r * numpy.sin(angle)
        return (first, second) if inner == "x" else (second, first)

    with matplotlib.rc_context({"svg.hashsalt": "gelvo", "font.size": 11, "mathtext.fontset": "dejavusans"}):
        figure = Figure(figsize=(7.2, 5.6), layout="constrained")
        axis = figure.add_subplot()
        strips = [placed(*_strip(grid, sides, k)) for k in numpy.linspace(0, POINTS - 1, STRIPS + 2).astype(int)]
        across = [placed(side, grid) for side in sides]
        edge = [numpy.concatenate([across[0][k], strips[-1][k], across[1][k][::-1], strips[0][k][::-1]]) for k in (0, 1)]
        axis.fill(*edge, color=COLOURS[0], alpha=0.18, linewidth=0)
        axis.plot(*edge, color=COLOURS[0], linewidth=1.8)
        for x, y in strips[1:-1]:
            axis.plot(x, y, color=COLOURS[1], linewidth=1.0)
            axis.annotate("", (x[-1], y[-1]), (x[-4], y[-4]), arrowprops={"arrowstyle": "->", "color": COLOURS[1]})
        axis.set_aspect("equal" if polar else "auto")
        _dress(axis, ("x", "y") if polar else placed(inner, outer), title or order_in_words(inner, outer))
        figure.draw_without_rendering()
        figure.set_layout_engine("none")
    return figure


def _strip(grid: Any, sides: list[Any], k: int) -> tuple[Any, Any]:
    """The way of the first variable at a place of the second; it is curved in polar coordinates."""
    import numpy

    return numpy.linspace(sides[0][k], sides[1][k], 40), numpy.full(40, grid[k])


def _dress(axis: Axes, names: tuple[str, str], title: str) -> None:
    axis.set_xlabel(literal(names[0]))
    axis.set_ylabel(literal(names[1]))
    axis.grid(True, color="#d9dde0", linewidth=0.7)
    axis.spines[["top", "right"]].set_visible(False)
    axis.set_title(literal(title), loc="left")


def order_in_words(inner: object, outer: object) -> str:
    """Which variable comes first.

    >>> order_in_words("y", "x")
    'first along y (the strips), then along x'
    """
    return f"first along {inner} (the strips), then along {outer}"
