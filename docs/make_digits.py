"""Writes the table and the figure of docs/digits.md: formulas that lose digits, before and after. Run it after a change of the search."""

from __future__ import annotations

import importlib.util
import json
import math
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy

import gelvo
from gelvo.code.accuracy import Judge

HERE = Path(__file__).parent
SHOWN = ("unit-cosine", "sqrt-step", "atan-step", "second-difference-exp", "area-sine", "softplus", "quadratic-root", "log-mean",
         "interest", "x-minus-sin", "langevin", "haversine")  # fmt: skip
START, END = "<!-- table -->\n", "<!-- end -->"


def table() -> str:
    """Formula, range, largest error before and after, and the way."""
    rows = {r["id"]: r for r in map(json.loads, (HERE.parent / "tests" / "data" / "lost_digits.jsonl").read_text().splitlines())}
    lines = ["| formula | where | as written, ULP | code, ULP | how |", "|---|---|---|---|---|"]
    for name in SHOWN:
        row = rows[name]
        ranges = {n: tuple(map(float, ends)) for n, ends in row["ranges"].items()}
        known = gelvo.export_code(row["formula"], list(ranges), "numpy", ranges=ranges, check=False).digits["formula"]
        where = ", ".join(f"{n}: {low:g} … {high:g}" for n, (low, high) in ranges.items())
        before = "no number" if known.before > 1e300 else f"{known.before:.1e}"
        lines.append(f"| `{row['formula']}` | {where} | {before} | {known.after:.0f} | {', '.join(known.road)} |")
    return "\n".join(lines) + "\n"


def figure(place: Path) -> None:
    """The error over the range, of a formula as it is written and of its code."""
    import matplotlib

    matplotlib.use("Agg")
    from matplotlib import pyplot

    formula, ranges = "(x - sin(x))/x^3", {"x": (1e-9, 10)}
    x = numpy.logspace(-9, 1, 900)
    judge = Judge(gelvo.formula(formula), [gelvo.variable("x")])
    right = [judge.right([v]) for v in x]
    shown, axes = pyplot.subplots(figsize=(9, 4.2), dpi=110)
    for digits, label, colour in (("plain", f"{formula} as it is written", "#b3541e"), ("full", "the generated code", "#1f5fa8")):
        errors = [abs(v - r) / math.ulp(r) for v, r in zip(_function(formula, ranges, digits)(x), right, strict=True)]
        axes.loglog(x, numpy.maximum(errors, 0.1), ".", markersize=3, color=colour, label=label)
    axes.axhline(4, color="0.4", linewidth=1)
    axes.annotate("4 units in the last place", (1.3e-9, 6), color="0.3")
    axes.set_xlabel("x")
    axes.set_ylabel("error in units in the last place (at the bottom: none)")
    axes.legend(loc="upper right", frameon=False)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    shown.tight_layout()
    shown.savefig(place)


def _function(formula: str, ranges: dict[str, tuple[float, float]], digits: str) -> Callable[[numpy.ndarray], numpy.ndarray]:
    """The generated function, without warnings."""
    with tempfile.TemporaryDirectory() as folder:
        gelvo.export_code(formula, list(ranges), "numpy", "shown", ranges=ranges, digits=digits, check=False).write(folder)
        spec = importlib.util.spec_from_file_location("shown", Path(folder) / "shown.py")
        module = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(module)
        return numpy.errstate(all="ignore")(module.shown)


if __name__ == "__main__":
    page = HERE / "digits.md"
    before, _, rest = page.read_text(encoding="utf-8").partition(START)
    page.write_text(before + START + table() + END + rest.partition(END)[2], encoding="utf-8")
    figure(HERE / "screenshots" / "digits.png")
