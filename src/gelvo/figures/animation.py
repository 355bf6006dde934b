"""Animations: curves or paths with sliders, as a self-contained page and as a GIF."""

from __future__ import annotations

import html
import io
import itertools
import json
import os
import re
import tempfile
from collections.abc import Mapping, Sequence
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gelvo.errors import DomainError
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import free_names, substitute
from gelvo.figures.plotting import COLOURS, DASHES, literal
from gelvo.files import write_file
from gelvo.operations.inputs import take

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

POINTS = 241
STEPS = 25
MOST_NUMBERS = 400_000


class Animation:
    """Frames of curves; .html() is a page with sliders that needs no network, .gif() the bytes of a moving picture.

    .write(path): an .html or .gif file, by its ending.
    """

    def __init__(self, data: dict[str, Any], frames: Any) -> None:
        self.data, self.frames = data, frames

    def html(self) -> str:
        """One self-contained page: a canvas, a slider for each quantity, a button that plays the first."""
        page = resources.files("gelvo.figures").joinpath("animation.html").read_text(encoding="utf-8")
        # the data cannot end the script element early: `<` is written as an escape
        data = json.dumps(self.data, allow_nan=False, separators=(",", ":")).replace("<", "\\u003c")
        texts = {"title": html.escape(self.data["title"]), "data": data}
        return re.sub(r"\{\{(title|data)\}\}", lambda m: texts[m.group(1)], page)  # in one pass: no text is read again

    def gif(self, seconds: float = 4.0) -> bytes:
        """The first slider moved from end to end, as an animated GIF."""
        import matplotlib
        from matplotlib.animation import FuncAnimation, PillowWriter
        from matplotlib.figure import Figure

        with matplotlib.rc_context({"font.size": 10, "mathtext.fontset": "dejavusans"}):
            figure = Figure(figsize=(6.4, 4.0), layout="constrained")
            axis = figure.add_subplot(projection="3d" if self.data["kind"] == "path3" else None)
            lines: list[Any] = [axis.plot([], [], *([[]] if self.data["kind"] == "path3" else []), color=COLOURS[k % len(COLOURS)],
                               linestyle=DASHES[k % len(DASHES)], label=literal(label))[0] for k, label in enumerate(self.data["labels"])]  # fmt: skip
            self._axes(axis)
            count = len(self.data["sliders"][0]["values"])

            def draw(k: int) -> list[Artist]:
                for line, curve in zip(lines, self.frames[self._index(k)], strict=True):
                    if self.data["kind"] == "path3":
                        line.set_data_3d(*[[p for p in axis_values if p is not None] for axis_values in curve])
                    elif self.data["kind"] == "path2":
                        line.set_data(*curve)
                    else:
                        line.set_data(self.data["x"], [float("nan") if v is None else v for v in curve])
                slider = self.data["sliders"][0]
                axis.set_title(f"{slider['name']} = {slider['values'][k]:.4g}", loc="left")
                return lines

            moving = FuncAnimation(figure, draw, frames=count, blit=False)
            out = io.BytesIO()
            with tempfile.TemporaryDirectory() as folder:
                path = os.path.join(folder, "frames.gif")
                moving.save(path, writer=PillowWriter(fps=max(1, round(count / seconds))), dpi=90)
                out.write(Path(path).read_bytes())
        return out.getvalue()

    def _index(self, k: int) -> int:
        """The frame where the first slider is at k and the others in the middle."""
        sizes = [len(s["values"]) for s in self.data["sliders"]]
        index = k
        for size in sizes[1:]:
            index = index * size + size // 2
        return index

    def _axes(self, axis: Axes) -> None:
        ranges = self.data["ranges"]
        axis.set_xlim(*ranges[0])
        axis.set_ylim(*ranges[1])
        axis.set_xlabel(literal(self.data["names"][0]))
        axis.set_ylabel(literal(self.data["names"][1]))
        if len(ranges) > 2:
            assert hasattr(axis, "set_zlim") and hasattr(axis, "set_zlabel")
            axis.set_zlim(*ranges[2])
            axis.set_zlabel(literal(self.data["names"][2]))
        else:
            axis.grid(True, color="#d9dde0", linewidth=0.7)
        if len(self.data["labels"]) > 1:
            axis.legend(loc="upper right", frameon=False)

    def write(self, path: str | Path) -> Path:
        """Writes an .html or .gif file, by rename."""
        target = Path(path)
        target.parent.mkdir(parents=True, exist_ok=True)
        if target.suffix == ".html":
            return write_file(target, self.html())
        if target.suffix == ".gif":
            return write_file(target, self.gif())
        raise DomainError(f"an animation is written as .html or .gif, not {target.suffix or 'without an ending'}")

    def _repr_html_(self) -> str:
        return f'<iframe srcdoc="{html.escape(self.html(), quote=True)}" width="820" height="560" style="border:0"></iframe>'


def animate(
    expressions: Any, variable: Any, lower: Any, upper: Any, sliders: Mapping[Any, Sequence[Any]], *,
    values: Mapping[Any, Any] | None = None, labels: Sequence[str] | None = None, title: str = "", path: bool = False,
) -> Animation:  # fmt: skip
    """Curves over a variable (or, with `path=True`, one path of two or three components) with one or two sliders.

    sliders: {name: (from, to)} or {name: (from, to, steps)}; with a path, the variable itself grows with the first slider
    when that slider has the variable's name.
    """
    listed = list(expressions) if isinstance(expressions, (list, tuple)) else [expressions]
    numbers = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    spans = [e for ends in sliders.values() for e in ends]
    arguments = take(*listed, lower, upper, *numbers.values(), *spans, variables=[variable, *sliders])
    read = list(arguments.expressions[: len(listed)])
    x, *slid = arguments.names
    table = dict(zip(numbers, arguments.expressions[len(listed) + 2 :], strict=False))
    read = [substitute(e, {n: table[n.name] for n in free_names(e) if n.name in table}) for e in read]
    ends = [float(e) for e in arguments.expressions[len(listed) : len(listed) + 2]]
    numbers_of = iter(arguments.expressions[len(listed) + 2 + len(numbers) :])
    moving = [_slider(s, [float(next(numbers_of)) for _ in v]) for s, v in zip(slid, sliders.values(), strict=True)]
    if not 1 <= len(moving) <= 2:
        raise DomainError(f"an animation has one or two sliders, not {len(moving)}")
    if not ends[0] < ends[1]:
        raise DomainError(f"the range from {ends[0]:g} to {ends[1]:g} is empty")
    missing = [n.name for e in read for n in free_names(e) if n is not x and n not in [s[0] for s in moving]]
    if missing:
        raise DomainError(f"an animation needs numbers for {', '.join(dict.fromkeys(missing))}: values={{…}}, or a slider")
    if path and len(read) not in (2, 3):
        raise DomainError(f"a path has two or three components, not {len(read)}")
    return _made(read, x, ends, moving, list(labels or [str(e) for e in read]), title, path)


def _slider(name: Name, ends: Sequence[float]) -> tuple[Name, list[float]]:
    import numpy

    if not 2 <= len(ends) <= 3:
        raise DomainError(f"the slider of {name} needs two ends in rising order, and 2 to 200 steps")
    low, high, *steps = ends
    count = int(steps[0]) if steps else STEPS
    if not low < high or not 2 <= count <= 200:
        raise DomainError(f"the slider of {name} needs two ends in rising order, and 2 to 200 steps")
    return name, [float(v) for v in numpy.linspace(low, high, count)]


def _made(
    read: list[Expression],
    x: Name,
    ends: list[float],
    moving: list[tuple[Name, list[float]]],
    labels: list[str],
    title: str,
    path: bool,
) -> Animation:
    import numpy

    from gelvo.code.numeric import numeric_function  # noqa: PLC0415  (loaded by who evaluates)

    grid = numpy.linspace(ends[0], ends[1], POINTS)
    others = [s for s in moving if s[0] is not x]
    functions = [numeric_function(e, [x, *[s[0] for s in others]]) for e in read]
    total = POINTS * len(read)
    for _, v in moving:
        total *= len(v)
    if total > MOST_NUMBERS:
        raise DomainError(f"the animation would hold {total} numbers; the limit is {MOST_NUMBERS}: ask for fewer steps")
    frames: list[Any] = []
    for chosen in itertools.product(*[values for _, values in moving]):
        put = dict(zip([s for s, _ in moving], chosen, strict=True))
        with numpy.errstate(all="ignore"):
            rows: list[Any] = [numpy.asarray(f(grid, *[put[s[0]] for s in others]), dtype=float) for f in functions]
        if x in put:  # drawn only as far as the slider is
            rows = [numpy.where(grid <= put[x] + 1e-12, r, numpy.nan) for r in rows]
        rows = [[round(float(v), 6) if numpy.isfinite(v) else None for v in r] for r in rows]
        frames.append([rows] if path else rows)
    kind = f"path{len(read)}" if path else "curves"
    spans = _ranges(frames, ends, path, len(read))
    names = labels[: len(read)] if path else [str(x), labels[0] if len(labels) == 1 else ""]
    data = {
        "title": title or ", ".join(labels), "kind": kind, "labels": [title or "path"] if path else labels, "names": names,
        "x": [round(float(v), 6) for v in grid], "ranges": spans, "colours": list(COLOURS), "frames": frames,
        "sliders": [{"name": s[0].name, "values": s[1]} for s in moving],
    }  # fmt: skip
    return Animation(data, frames)


def _ranges(frames: list[Any], ends: list[float], path: bool, count: int) -> list[list[float]]:
    rows = [frame[0] for frame in frames] if path else frames
    spans = []
    for k in range(count) if path else [None]:
        values = [v for frame in rows for curve in ([frame[k]] if k is not None else frame) for v in curve if v is not None]
        if not values:
            raise DomainError("the formulas have no real values on the range")
        low, high = min(values), max(values)
        pad = 0.05 * (high - low) or 1.0
        spans.append([low - pad, high + pad])
    return spans if path else [ends, *spans]
