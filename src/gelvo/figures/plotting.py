"""Curves of formulas over a range, with axis names, units and a legend that hides nothing."""

from __future__ import annotations

import io
import re
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple, TypeAlias

from gmpy2 import mpq

from gelvo.calculus.definite import poles_between
from gelvo.errors import DomainError, visible
from gelvo.evaluation.value import value as value_of
from gelvo.expression.building import name as make
from gelvo.expression.building import number
from gelvo.expression.nodes import Applied, Bound, Cases, Expression, Name
from gelvo.expression.traversal import free_names, postorder, relations_of, substitute
from gelvo.expression.writing import came_in_with, with_typed
from gelvo.facts.store import Facts
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import HEAVISIDE, SIGN, is_a
from gelvo.operations.inputs import take
from gelvo.typesetting import typeset
from gelvo.typesetting.letters import LETTERS
from gelvo.typesetting.text import SUPERSCRIPTS

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from numpy import float64
    from numpy.typing import NDArray

    Curve: TypeAlias = tuple[NDArray[float64], NDArray[float64]]  # places, values
    DataSet: TypeAlias = tuple[Any, Any, str]  # places, values, label

POINTS, MOST_POINTS = 1201, 1_000_000
COLOURS = ("#0b6e99", "#c2571a", "#5b7f2b", "#8a4f9e", "#b0902f", "#5a6472")
MARKS = ("o", "s", "^", "D", "v")  # of points, one set after the other
SCALES = ("linear", "log")
PANELS = ("by unit", "each")
DASHES = ("-", "--", "-.", ":")


def _curve_name(e: Expression, k: int) -> str:
    """The formula as a label, where it is short and stands on one line."""
    shown = typeset(e) if len(str(e)) < 60 else ""
    return f"${shown}$" if shown and _drawable(f"${shown}$") else f"curve {k + 1}"


def _drawable(formula: str) -> bool:
    """Whether the figure's own small typesetter takes it; it has no cases, matrices or stacked numbers."""
    from matplotlib.mathtext import MathTextParser

    try:
        MathTextParser("path").parse(formula)
    except ValueError:
        return False
    return True


class Style(NamedTuple):
    """How a figure is drawn beside its curves."""

    units: Mapping[str, str]
    title: str
    scales: tuple[str, str]
    separate: bool
    data: tuple[DataSet, ...]
    impulses: Mapping[float, float]
    area: bool = False
    breaks: tuple[float, ...] = ()


def plot(
    expressions: Any, variable: Any, lower: Any, upper: Any, *, values: Mapping[Any, Any] | None = None,
    units: Mapping[str, str] | None = None, labels: Sequence[str] | None = None, title: str = "", points: int = POINTS,
    x_scale: str = "linear", y_scale: str = "linear", panels: str = "by unit", data: Any = None,
    impulses: Mapping[Any, Any] | None = None, area: bool = False,
) -> Figure:  # fmt: skip
    """A matplotlib Figure: curves in one panel, or in panels one under another where their units differ (or "each").

    Curves are cut at jumps; a curve whose unit is "deg" is turned from radians; impulses {place: strength} stand as arrows;
    area: what lies between a curve and zero is shaded, and dashed lines mark the places where a formula breaks.
    """
    for scale in (x_scale, y_scale):
        if scale not in SCALES:
            raise DomainError(f"an axis is {' or '.join(SCALES)}, not {scale!r}")
    if not 2 <= points <= MOST_POINTS:
        raise DomainError(f"a curve has 2 to {MOST_POINTS} points, not {points}")
    if panels not in PANELS:
        raise DomainError(f"panels are {' or '.join(PANELS)}, not {panels!r}")
    listed = list(expressions) if isinstance(expressions, (list, tuple)) else [expressions]
    table = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    read, x, numbers, ends = _taken(listed, variable, lower, upper, table)
    if not ends[0] < ends[1]:
        raise DomainError(f"the range from {ends[0]:g} to {ends[1]:g} is empty")
    if x_scale == "log" and ends[0] <= 0:
        raise DomainError(f"a logarithmic axis begins above zero, not at {ends[0]:g}")
    with with_typed(came_in_with(listed)):
        names = list(labels) if labels else [_curve_name(e, k) for k, e in enumerate(read)]
    curves = [_curve(_inside(e, numbers), x, ends, points, x_scale == "log") for e in read]
    known = dict(units or {})
    curves = [_turned(c) if known.get(n) in ("deg", "°") else c for n, c in zip(names, curves, strict=True)]
    arrows = {float(take(k).expressions[0]): float(v) for k, v in (impulses or {}).items()}
    breaks = _breaks([_inside(e, numbers) for e in read], x, ends) if area else ()
    look = Style(known, title, (x_scale, y_scale), panels == "each", _data_sets(data), arrows, area, breaks)
    return _draw(curves, names, x, look)


def _breaks(formulas: Sequence[Expression], x: Name, ends: Sequence[float]) -> tuple[float, ...]:
    """The places between the ends where a formula has a pole, as far as they are found."""
    low, high = (number(mpq(e)) for e in ends)
    found = [p for e in formulas for p in poles_between(e, x, low, high, Facts()) or ()]
    return tuple(sorted({float(value_of(p, 17)) for p in found}))


def plot_curves(
    curves: Sequence[Curve], names: Sequence[str], variable: Name, *, units: Mapping[str, str] | None = None, title: str = "",
    panels: str = "by unit",
) -> Figure:  # fmt: skip
    """A figure of numbers that are there already, (places, values) for each name, as `plot` draws formulas."""
    if panels not in PANELS:
        raise DomainError(f"panels are {' or '.join(PANELS)}, not {panels!r}")
    known = dict(units or {})
    turned = [_turned(c) if known.get(n) in ("deg", "°") else c for n, c in zip(names, curves, strict=True)]
    return _draw(turned, list(names), variable, Style(known, title, ("linear", "linear"), panels == "each", (), {}))


def plot_path(
    components: Sequence[Any], variable: Any, lower: Any, upper: Any, *, values: Mapping[Any, Any] | None = None,
    labels: Sequence[str] | None = None, title: str = "", points: int = POINTS,
) -> Figure:  # fmt: skip
    """A figure of a path with two components (a plane curve) or three (drawn in space)."""
    if not 2 <= points <= MOST_POINTS:
        raise DomainError(f"a curve has 2 to {MOST_POINTS} points, not {points}")
    if len(components) not in (2, 3):
        raise DomainError(f"a path has two or three components, not {len(components)}")
    table = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    read, x, numbers, ends = _taken(components, variable, lower, upper, table)
    if not ends[0] < ends[1]:
        raise DomainError(f"the range from {ends[0]:g} to {ends[1]:g} is empty")
    rows = [_curve(_inside(e, numbers), x, ends, points, False)[1] for e in read]
    return _draw_path(rows, list(labels or "xyz"[: len(read)]), title)


def _data_sets(data: Any) -> tuple[DataSet, ...]:
    """One set of points (x values, y values, label), or a list of them."""
    listed = (
        [] if data is None else [data] if isinstance(data, tuple) and len(data) == 3 and isinstance(data[2], str) else list(data)
    )
    for points in listed:
        if len(points) != 3 or len(points[0]) != len(points[1]):
            raise DomainError("data are points: (x values, as many y values, label), or a list of such")
    return tuple((places, values, str(label)) for places, values, label in listed)


def _taken(
    formulas: Sequence[object], variable: object, lower: object, upper: object, table: Mapping[str, object]
) -> tuple[list[Expression], Name, dict[str, Expression], list[float]]:
    """The formulas, their variable, the numbers of other names, and the ends of the range."""
    arguments = take(*formulas, lower, upper, *table.values(), variables=[variable])
    read, rest = arguments.expressions[: len(formulas)], arguments.expressions[len(formulas) :]
    numbers = dict(zip(table, rest[2:], strict=True))
    return list(read), arguments.names[0], numbers, [float(_inside(e, numbers)) for e in rest[:2]]


def _draw_path(rows: Sequence[NDArray[float64]], names: Sequence[str], title: str) -> Figure:
    import matplotlib
    from matplotlib.figure import Figure

    solid = len(rows) == 3
    with matplotlib.rc_context({"svg.hashsalt": "gelvo", "font.size": 11, "mathtext.fontset": "dejavusans"}):
        figure = Figure(figsize=(7.2, 5.6), layout="constrained")
        axis = figure.add_subplot(projection="3d" if solid else None)
        axis.plot(*rows, color=COLOURS[0], linewidth=1.8)
        axis.plot(*[[r[0]] for r in rows], marker="o", color=COLOURS[1])
        for word, name in zip("xyz", names, strict=False):
            getattr(axis, f"set_{word}label")(_axis_name(name, {}))
        if not solid:
            axis.set_aspect("equal", adjustable="datalim")
            axis.grid(True, color="#d9dde0", linewidth=0.7)
        if title:
            axis.set_title(literal(title), loc="left")
        figure.draw_without_rendering()
        figure.set_layout_engine("none")
    return figure


def _turned(curve: Curve) -> Curve:
    """Radians as degrees."""
    import numpy

    return curve[0], numpy.degrees(curve[1])


def _inside(e: Expression, numbers: Mapping[str, Expression]) -> Expression:
    table = {n: numbers[n.name] for n in free_names(e) if n.name in numbers}
    return substitute(e, table) if table else e


def _curve(e: Expression, x: Name, ends: Sequence[float], points: int, logarithmic: bool = False) -> Curve:
    import numpy

    from gelvo.code.numeric import numeric_function  # noqa: PLC0415  (loaded by who evaluates)

    missing = [n.name for n in free_names(e) if n is not x]
    if missing:
        raise DomainError(f"a curve needs numbers for {', '.join(missing)}: say with {missing[0]} = …")
    if isinstance(e, (Applied, Bound)):
        raise DomainError(f"{e} cannot be drawn")
    grid = numpy.geomspace(ends[0], ends[1], points) if logarithmic else numpy.linspace(ends[0], ends[1], points)
    cuts = [c for c in jumps_of(e, x) if ends[0] < c < ends[1]]
    for cut in cuts:  # both sides of a jump are drawn, and nothing between them
        step = 1e-9 * (ends[1] - ends[0])
        grid = numpy.sort(numpy.concatenate([grid[numpy.abs(grid - cut) > step], [cut - step, cut, cut + step]]))
    with numpy.errstate(all="ignore"):
        heights = numpy.asarray(numeric_function(e, [x])(grid), dtype=float)
    heights = numpy.where(numpy.isfinite(heights), heights, numpy.nan)
    for cut in cuts:
        heights = numpy.where(grid == cut, numpy.nan, heights)
    if numpy.isnan(heights).all():
        raise DomainError(f"{e} has no real values between {ends[0]:g} and {ends[1]:g}")
    return grid, heights


def jumps_of(e: Expression, x: Name) -> list[float]:
    """The places where a formula in one variable may jump, as far as they stand in it plainly: steps and cases."""
    found: dict[float, None] = {}
    for node in postorder(e):
        borders: list[Expression] = []
        if is_a(node, HEAVISIDE, SIGN):
            borders = [node.arguments[0]]
        elif isinstance(node, Cases):
            borders = [r.left - r.right for c in node.conditions for r in relations_of(c)]
        for border in borders:
            parts = linear_parts(border, x)
            if parts is not None and not free_names(parts[0]) and not free_names(parts[1]):
                found[float(-parts[1] / parts[0])] = None
    return sorted(found)


def _axis_name(name: str, units: Mapping[str, str]) -> str:
    shown = _label(name)
    unit = literal(unit_text(units.get(name, "")))
    return f"{shown}  [{unit}]" if unit else shown


def _label(name: str) -> str:
    """A name as it is typeset, a formula between dollar signs as it is, and any other text letter by letter."""
    if name.isidentifier() and (name in LETTERS or len(name) == 1 or not name.isalpha()):
        return f"${typeset(make(name))}$"
    return name if len(name) > 2 and name[0] == name[-1] == "$" and name.count("$") == 2 else literal(name)


def literal(text: str) -> str:
    """Text that a figure shows as it is: a dollar sign opens no formula there."""
    return visible(text).replace("$", r"\$")


def unit_text(unit: str) -> str:
    """kg m^2 as kg m²."""
    return re.sub(r"\^(-?\d+)", lambda m: m.group(1).translate(SUPERSCRIPTS), unit)


def _draw(curves: list[Curve], names: list[str], x: Name, look: Style) -> Figure:
    import matplotlib
    from matplotlib.figure import Figure

    groups: dict[str, list[int]] = {}
    for k, name in enumerate(names):
        groups.setdefault(name if look.separate else look.units.get(name, ""), []).append(k)
    with matplotlib.rc_context({"svg.hashsalt": "gelvo", "font.size": 11, "mathtext.fontset": "dejavusans"}):
        figure = Figure(figsize=(8.0, 1.2 + 3.0 * len(groups)), layout="constrained")
        axes = figure.subplots(len(groups), 1, sharex=True, squeeze=False)[:, 0]
        for axis, members in zip(axes, groups.values(), strict=True):
            for k in members:
                style = DASHES[(k // len(COLOURS) + members.index(k)) % len(DASHES)]
                axis.plot(*curves[k], color=COLOURS[k % len(COLOURS)], linestyle=style, linewidth=1.8, label=_label(names[k]))
            if look.area:
                _shade(axis, [curves[k] for k in members], look.breaks)
            _dress(axis, [names[k] for k in members], look)
        _draw_data(axes[0], look)
        _draw_impulses(axes[-1], look)
        axes[-1].set_xlabel(_axis_name(x.name, look.units))
        if look.title:
            axes[0].set_title(literal(look.title), loc="left")
        # the layout is settled once: drawing again must not move anything
        figure.draw_without_rendering()
        figure.set_layout_engine("none")
    return figure


def _shade(axis: Axes, curves: Sequence[Curve], breaks: Sequence[float]) -> None:
    """The areas of curves, and dashed lines at breaks, beside which the height is that of most of the curve."""
    import numpy

    for k, (places, heights) in enumerate(curves):
        axis.fill_between(places, heights, 0.0, color=COLOURS[k % len(COLOURS)], alpha=0.18, linewidth=0)
    for place in breaks:
        axis.axvline(place, color=COLOURS[1], linestyle="--", linewidth=1.2)
    if breaks:
        everything = numpy.concatenate([heights for _, heights in curves])
        size = 2.0 * float(numpy.nanpercentile(numpy.abs(everything), 85))
        axis.set_ylim(max(-size, float(numpy.nanmin(everything))), min(size, float(numpy.nanmax(everything))))
    axis.axhline(0.0, color=COLOURS[5], linewidth=0.8)


def _dress(axis: Axes, names: list[str], look: Style) -> None:
    """Grid, scales, and what is measured; a legend beside several curves."""
    unit = look.units.get(names[0], "")
    axis.grid(True, color="#d9dde0", linewidth=0.7)
    axis.spines[["top", "right"]].set_visible(False)
    axis.margins(x=0)
    axis.set_xscale(look.scales[0])
    axis.set_yscale(look.scales[1])
    if len(names) == 1:
        axis.set_ylabel(_axis_name(names[0], look.units))
    elif unit:
        axis.set_ylabel(f"[{literal(unit_text(unit))}]")
    if len(names) > 1:
        axis.legend(loc="upper left", bbox_to_anchor=(1.01, 1.0), borderaxespad=0, frameon=False)


def _draw_data(axis: Axes, look: Style) -> None:
    for k, (places, values, label) in enumerate(look.data):
        colour, mark = COLOURS[(k + 1) % len(COLOURS)], MARKS[k % len(MARKS)]
        axis.plot(places, values, mark, markersize=4, color=colour, label=literal(label))
        axis.legend(frameon=False)


def _draw_impulses(axis: Axes, look: Style) -> None:
    for place, strength in look.impulses.items():
        arrow = {"arrowstyle": "-|>", "color": COLOURS[1], "linewidth": 1.8}
        axis.annotate("", (place, strength), (place, 0), arrowprops=arrow)
        axis.update_datalim([(place, strength)])
    if look.impulses:
        axis.autoscale_view()


def svg_of(figure: Figure) -> str:
    """The figure as SVG text without a file header, the same on every run."""
    import matplotlib

    out = io.StringIO()
    with matplotlib.rc_context({"svg.hashsalt": "gelvo", "svg.fonttype": "path"}):
        figure.savefig(out, format="svg", metadata={"Date": None, "Creator": None})
    text = out.getvalue()
    return text[text.index("<svg") :]


def png_of(figure: Figure) -> bytes:
    out = io.BytesIO()
    figure.savefig(out, format="png", dpi=130, metadata={"Software": None})
    return out.getvalue()
