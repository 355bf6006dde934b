"""What leaves a derivation: plots, animations, code, typeset formulas."""

from __future__ import annotations

import re
from typing import Any

from gelvo.data.tables import read_table
from gelvo.derivation.measuring import put, with_unit
from gelvo.derivation.results import Result
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.errors import DomainError
from gelvo.expression.nodes import Expression
from gelvo.figures.animation import animate
from gelvo.figures.plotting import plot, plot_path
from gelvo.figures.region import order_in_words, plot_region
from gelvo.forms.dimensions import has_quantities
from gelvo.reading.pieces import Cut
from gelvo.typesetting import typeset


def _measured(said: Said, texts: list[str], *variables: str) -> list[tuple[Expression, str]]:
    """Listed formulas as formulas of numbers, each with its unit; a name alone must stand for something."""
    for text in texts:
        said.derivation.known(text, *variables, *[n.name for n in said.values])
    put_in = [put(said.derivation.expression(t), said.values, said.derivation.units) for t in texts]
    return [with_unit(e, {}) for e in put_in]


def _plot(said: Said) -> Result:
    variable, texts = said["for"], said.listed()
    measured = _measured(said, texts, variable)
    expressions = [e for e, _ in measured]
    ends = said.ends(variable, "from", "to")
    values = {k.name: v for k, v in said.values.items() if not has_quantities(v)}
    labels = [t if re.fullmatch(r"\w+", t) else f"curve {k + 1}" if len(t) > 40 else t for k, t in enumerate(texts)]
    units = {**said.derivation.units, **{n: u for n, (_, u) in zip(labels, measured, strict=True) if u}}
    looks = [a for a in said.listed(said.get("as") or "") if a]
    if "path" in looks:
        figure = plot_path(expressions, variable, *ends, values=values, labels=labels)
    else:
        figure = plot(expressions, variable, *ends, values=values, units=units, labels=labels, **_looks(said, looks))
    return said.result(*zip(texts, expressions, strict=True), kind="plot", figure=figure)


def _plot_region(said: Said) -> Result:
    ranges = said.ranges()
    figure = plot_region(ranges, coordinates=said.get("in coordinates") or "cartesian")
    return said.result(kind="plot", figure=figure, note=order_in_words(*ranges))


def _looks(said: Said, looks: list[str]) -> dict[str, Any]:
    """What `as …` says of a plot."""
    options: dict[str, Any] = {}
    for look in looks:
        data = re.fullmatch(r'data\s+"([^"]+)"', look)
        if look in ("log x", "log y"):
            options[f"{look[-1]}_scale"] = "log"
        elif look == "panels":
            options["panels"] = "each"
        elif look == "area":
            options["area"] = True
        elif data:
            table = read_table(said.derivation.file(data.group(1)))
            first, second = list(table)[:2] if len(table) > 1 else (None, None)
            if first is None or second is None:
                raise DomainError(f"{data.group(1)} needs two columns, one for each axis")
            options.setdefault("data", []).append((table[first], table[second], data.group(1)))
        else:
            raise said.fault(
                f'`as {look}` is not known: a plot can be as log x, log y, panels, path, area, data "file.csv"', look
            )
    return options


def _animate(said: Said) -> Result:
    place, *sliding = (part for part in said.cuts[1:] if part.word not in ("as", "with"))
    if [place.word, *[part.word for part in sliding]] != ["for", "from", "to", "over", *["from", "to"] * (len(sliding) // 2 - 1)]:
        raise said.statement.fault(said.line.text)
    low, high = (said.derivation.expression(part.text) for part in sliding[:2])
    sliders = _sliders(said, sliding[2:])
    texts = said.listed()
    expressions = [e for e, _ in _measured(said, texts, place.text, *sliders)]
    moving = animate(
        expressions, place.text, low, high, sliders, labels=texts, title=said.derivation.title, path=said.get("as") == "path"
    )
    number = 1 + sum(path.endswith(".html") for r in said.derivation.results for path, _ in r.files)
    file = f"{said.derivation.stem or 'animation'}_animation_{number}.html"
    shown = zip(texts, expressions, strict=True)
    return said.result(*shown, kind="plot", files=[(file, moving.html())], details=[f"animation in {file}"])


def _sliders(said: Said, cuts: list[Cut]) -> dict[str, tuple[object, object]]:
    """`over t from 0 to 4, s from 1 to 2`: the next name stands behind the last comma of an end."""
    sliders: dict[str, tuple[Any, Any]] = {}
    name = cuts[0].text
    for lower, upper in zip(cuts[1::2], cuts[2::2], strict=True):
        end, _, following = upper.text.partition(",")
        sliders[name] = (said.derivation.expression(lower.text), said.derivation.expression(end))
        name = following.strip()
    return sliders


def _export(said: Said) -> Result:
    from gelvo.derivation.exporting import export  # noqa: PLC0415  (the target languages are loaded by who exports)

    formats = [f for f in said.listed(said["as"]) if f]
    return export(said.derivation, said.listed(), formats, (said.get("to") or "").strip('" '), said.line)


def _typeset(said: Said) -> Result:
    return said.result(note=typeset(said.read(said.head), said.get("as") or "latex"))


STATEMENTS = (
    Statement(
        "plot", "E, F for t from A to B [as LOOKS] [with VALUES] [given FACTS]", _plot, "plot exp(-t/5)*cos(w*t) for t from 0 to 20 with w = 2",
        'a figure; looks are log x, log y, panels, path, area (shaded, with its breaks), data "file.csv"',
    ),
    Statement(
        "plot region", "over RANGES [in coordinates WHICH] [with VALUES]", _plot_region, "plot region over y in 0..x, x in 0..1",
        "a region of the plane with the order in which it is integrated; cartesian or polar",
    ),
    Statement(
        "animate", "E, F for x from A to B over t from A to B [as LOOK] [with VALUES]", _animate,
        "animate sin(k*x - t) for x from -10 to 10 over t from 0 to 4, k from 1 to 2", "a page with sliders; the look is path",
    ),
    Statement(
        "export", "E, F as FORMATS [to FOLDER]", _export, "let f be a*sin(x)\nexport f as c, latex",
        "files of code, LaTeX or MathML, the code checked",
    ),
    Statement("typeset", "E [as STYLE]", _typeset, "typeset sqrt(a/b) as latex", "the text of a formula in latex, mathml or text"),
)  # fmt: skip
