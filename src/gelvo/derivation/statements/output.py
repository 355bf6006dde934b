"""What leaves a derivation: plots, animations, code, typeset formulas."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from gelvo.data.tables import read_table
from gelvo.derivation.exporting import export
from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.measuring import put, with_unit
from gelvo.derivation.results import Result
from gelvo.derivation.statements.parts import Handler, reads, refuse
from gelvo.errors import DomainError, FormulaError
from gelvo.figures.animation import animate
from gelvo.figures.plotting import plot, plot_path
from gelvo.forms.dimensions import has_quantities
from gelvo.reading.stated import split_commas
from gelvo.typesetting import typeset

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def _plot(derivation: State, parts: Clauses, line: Line) -> Result:
    """plot E, F for t from 0 to 60 with a = 1 as log x, log y, panels, path, data "file.csv\""""
    refuse(parts, "for", "from", "to", "with", "given", "as")
    variable, lower, upper = parts.get("for"), parts.get("from"), parts.get("to")
    if variable is None or lower is None or upper is None:
        raise reads(line, "plot E for t from 0 to 60", "a plot")
    texts = [t.strip() for t in split_commas(parts.head)]
    table = derivation.values(parts.get("with"))
    for t in texts:
        derivation.known(t, variable, *[n.name for n in table])
    measured = [with_unit(put(derivation.expression(t), table, derivation.units), {}) for t in texts]
    expressions = [e for e, _ in measured]
    ends = [derivation.end(variable, e) for e in (lower, upper)]
    values = {k.name: v for k, v in table.items() if not has_quantities(v)}
    labels = [t if re.fullmatch(r"\w+", t) else f"curve {k + 1}" if len(t) > 40 else t for k, t in enumerate(texts)]
    units = {**derivation.units, **{n: u for n, (_, u) in zip(labels, measured, strict=True) if u}}
    looks = [a.strip() for a in split_commas(parts.get("as") or "") if a.strip()]
    if "path" in looks:
        figure = plot_path(expressions, variable, *ends, values=values, labels=labels)
    else:
        figure = plot(expressions, variable, *ends, values=values, units=units, labels=labels, **_looks(derivation, looks, line))
    return Result("plot", line.text, line.number, [(t, e) for t, e in zip(texts, expressions, strict=True)], figure=figure)


def _looks(derivation: State, looks: list[str], line: Line) -> dict[str, Any]:
    """What `as …` says of a plot."""
    options: dict[str, Any] = {}
    for look in looks:
        data = re.fullmatch(r'data\s+"([^"]+)"', look)
        if look in ("log x", "log y"):
            options[f"{look[-1]}_scale"] = "log"
        elif look == "panels":
            options["panels"] = "each"
        elif data:
            table = read_table(derivation.file(data.group(1)))
            first, second = list(table)[:2] if len(table) > 1 else (None, None)
            if first is None or second is None:
                raise DomainError(f"{data.group(1)} needs two columns, one for each axis")
            options.setdefault("data", []).append((table[first], table[second], data.group(1)))
        else:
            raise FormulaError(
                f'`as {look}` is not known: a plot can be as log x, log y, panels, path, data "file.csv"',
                line.text,
                max(line.text.find(look), 0),
            )
    return options


def _animate(derivation: State, parts: Clauses, line: Line) -> Result:
    """animate E for x from -10 to 10 over t from 0 to 4, s from 1 to 2"""
    refuse(parts, "for", "from", "to", "over", "with", "as")
    listed = [(word, text) for word, text, _ in parts.parts if word in ("for", "from", "to", "over")]
    words = [w for w, _ in listed]
    if words[:4] != ["for", "from", "to", "over"] or words[4:6] != ["from", "to"]:
        raise reads(line, "animate E for x from -10 to 10 over t from 0 to 4", "an animation")
    texts = [t.strip() for t in split_commas(parts.head)]
    table = derivation.values(parts.get("with"))
    sliders: dict[str, tuple[Any, Any]] = {}
    place, name = 4, listed[3][1].strip()
    while place + 1 < len(listed) and words[place : place + 2] == ["from", "to"]:
        upper, _, following = listed[place + 1][1].partition(",")
        sliders[name] = (derivation.expression(listed[place][1]), derivation.expression(upper))
        name, place = following.strip(), place + 2
    for t in texts:
        derivation.known(t, listed[0][1], *sliders)
    expressions = [with_unit(put(derivation.expression(t), table, derivation.units), {})[0] for t in texts]
    low, high = derivation.expression(listed[1][1]), derivation.expression(listed[2][1])
    moving = animate(
        expressions, listed[0][1], low, high, sliders, labels=texts, title=derivation.title, path=parts.get("as") == "path"
    )
    stem = derivation.stem or "animation"
    number = 1 + sum(path.endswith(".html") for r in derivation.results for path, _ in r.files)
    files = [(f"{stem}_animation_{number}.html", moving.html())]
    return Result(
        "plot",
        line.text,
        line.number,
        [(t, e) for t, e in zip(texts, expressions, strict=True)],
        files=files,
        details=[f"animation in {files[0][0]}"],
    )


def _export(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "as", "to")
    formats = [f.strip() for f in (parts.get("as") or "").split(",") if f.strip()]
    if not formats:
        raise reads(line, 'export NAMES as c, numpy to "folder"', "an export")
    return export(derivation, [t.strip() for t in split_commas(parts.head)], formats, (parts.get("to") or "").strip('" '), line)


def _typeset(derivation: State, parts: Clauses, line: Line) -> Result:
    style = parts.get("as") or "latex"
    return Result("step", line.text, line.number, [], note=typeset(derivation.read(parts.head), style))


STATEMENTS: dict[str, Handler] = {"plot": _plot, "animate": _animate, "export": _export, "typeset": _typeset}
