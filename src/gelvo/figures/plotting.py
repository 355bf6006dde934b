"""Curves of formulas over a range, with axis names, units and a legend that hides nothing."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any

from gelvo.code.numeric import numeric_function
from gelvo.errors import DomainError
from gelvo.expression.nodes import Applied, Bound, Expression, Name
from gelvo.expression.traversal import free_names, substitute
from gelvo.operations.inputs import one_expression, plain_variable, take
from gelvo.typesetting import typeset
from gelvo.typesetting.letters import GREEK
from gelvo.typesetting.text import SUPERSCRIPTS

POINTS = 1201
COLOURS = ("#0b6e99", "#c2571a", "#5b7f2b", "#8a4f9e", "#b0902f", "#5a6472")
DASHES = ("-", "--", "-.", ":")


def plot(
    expressions: Any, variable: Any, lower: Any, upper: Any, *, values: Mapping[Any, Any] | None = None,
    units: Mapping[str, str] | None = None, labels: Sequence[str] | None = None, title: str = "", points: int = POINTS,
) -> Any:  # fmt: skip
    """A matplotlib Figure: curves in one panel, or in panels one under another where their units differ."""
    listed = list(expressions) if isinstance(expressions, (list, tuple)) else [expressions]
    table = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    arguments = take(*listed, lower, upper, *table.values())
    read = [one_expression(v) for v in arguments.values[: len(listed)]]
    x = plain_variable(variable, arguments.context)
    numbers = dict(zip(table, arguments.values[len(listed) + 2 :], strict=True))
    ends = [float(_inside(one_expression(e), numbers)) for e in arguments.values[len(listed) : len(listed) + 2]]
    if not ends[0] < ends[1]:
        raise DomainError(f"the range from {ends[0]:g} to {ends[1]:g} is empty")
    names = list(labels) if labels else [f"${typeset(e)}$" if len(str(e)) < 60 else f"curve {k + 1}" for k, e in enumerate(read)]
    curves = [_curve(_inside(e, numbers), x, ends, points) for e in read]
    return _draw(curves, names, x, units or {}, title)


def _inside(e: Expression, numbers: Mapping[str, Any]) -> Expression:
    table = {n: numbers[n.name] for n in free_names(e) if n.name in numbers}
    return substitute(e, table) if table else e  # type: ignore[no-any-return]


def _curve(e: Expression, x: Name, ends: Sequence[float], points: int) -> tuple[Any, Any]:
    import numpy

    missing = [n.name for n in free_names(e) if n is not x]
    if missing:
        raise DomainError(f"a curve needs numbers for {', '.join(missing)}: say with {missing[0]} = …")
    if isinstance(e, (Applied, Bound)):
        raise DomainError(f"{e} cannot be drawn")
    grid = numpy.linspace(ends[0], ends[1], points)
    with numpy.errstate(all="ignore"):
        heights = numpy.asarray(numeric_function(e, [x])(grid), dtype=float)
    heights = numpy.where(numpy.isfinite(heights), heights, numpy.nan)
    if numpy.isnan(heights).all():
        raise DomainError(f"{e} has no real values between {ends[0]:g} and {ends[1]:g}")
    return grid, heights


def _axis_name(name: str, units: Mapping[str, str]) -> str:
    from gelvo.expression.building import name as make

    plain = name.isalpha() and len(name) > 1 and name not in GREEK
    shown = f"${typeset(make(name))}$" if name.isidentifier() and not plain else name
    unit = unit_text(units.get(name, ""))
    return f"{shown}  [{unit}]" if unit else shown


def unit_text(unit: str) -> str:
    """kg m^2 as kg m²."""
    return re.sub(r"\^(-?\d+)", lambda m: m.group(1).translate(SUPERSCRIPTS), unit)


def _draw(curves: list[tuple[Any, Any]], names: list[str], x: Name, units: Mapping[str, str], title: str) -> Any:
    import matplotlib
    from matplotlib.figure import Figure

    groups: dict[str, list[int]] = {}
    for k, name in enumerate(names):
        groups.setdefault(units.get(name, ""), []).append(k)
    with matplotlib.rc_context({"svg.hashsalt": "gelvo", "font.size": 11, "mathtext.fontset": "dejavusans"}):
        figure = Figure(figsize=(8.0, 1.2 + 3.0 * len(groups)), layout="constrained")
        axes = figure.subplots(len(groups), 1, sharex=True, squeeze=False)[:, 0]
        for axis, (unit, members) in zip(axes, groups.items(), strict=True):
            for k in members:
                style = DASHES[(k // len(COLOURS) + members.index(k)) % len(DASHES)]
                label = _axis_name(names[k], {}) if names[k].isidentifier() else names[k]
                axis.plot(*curves[k], color=COLOURS[k % len(COLOURS)], linestyle=style, linewidth=1.8, label=label)
            axis.grid(True, color="#d9dde0", linewidth=0.7)
            axis.spines[["top", "right"]].set_visible(False)
            axis.margins(x=0)
            if len(members) == 1:
                axis.set_ylabel(_axis_name(names[members[0]], units))
            elif unit:
                axis.set_ylabel(f"[{unit_text(unit)}]")
            if len(members) > 1:
                axis.legend(loc="upper left", bbox_to_anchor=(1.01, 1.0), borderaxespad=0, frameon=False)
        axes[-1].set_xlabel(_axis_name(x.name, units))
        if title:
            axes[0].set_title(title, loc="left")
        # the layout is settled once: drawing again must not move anything
        figure.draw_without_rendering()
        figure.set_layout_engine("none")
    return figure


def svg_of(figure: Any) -> str:
    """The figure as SVG text without a file header, the same on every run."""
    import io

    import matplotlib

    out = io.StringIO()
    with matplotlib.rc_context({"svg.hashsalt": "gelvo", "svg.fonttype": "path"}):
        figure.savefig(out, format="svg", metadata={"Date": None, "Creator": None})
    text = out.getvalue()
    return text[text.index("<svg") :]


def png_of(figure: Any) -> bytes:
    import io

    out = io.BytesIO()
    figure.savefig(out, format="png", dpi=130, metadata={"Software": None})
    return out.getvalue()
