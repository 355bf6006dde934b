"""What joins the generated functions of a model to an integrator: model.h and model.c, and the module for SciPy."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable, Mapping, Sequence

from gelvo.code.c_family import comment
from gelvo.code.layout import parameters_type
from gelvo.code.naming import safe_names
from gelvo.code.numba_target import TARGET as PYTHON
from gelvo.code.target import harmless
from gelvo.simulating.model import Model

LONG, WIDTH = 400, 92
OWN = (
    "time",
    "state",
    "inputs",
    "first",
    "last",
    "rows",
    "start",
    "method",
    "function",
)  # what the module for SciPy calls its own
GIVEN = "double time, const double *state, const double *inputs, const double *parameters"


def c_model(model: Model, kinds: Sequence[str], mark: str) -> dict[str, str]:
    """model.h and model.c: sizes, names, values at the beginning, and the functions by plain arrays of numbers."""
    sizes = {
        "STATES": model.states,
        "PARAMETERS": model.parameters,
        "INPUTS": model.inputs,
        "OUTPUTS": model.outputs,
        "EVENTS": model.events,
    }
    lines = [
        f"/* The motion {comment(model.name)} for an integrator: sizes, names, and functions of plain arrays. */",
        "#ifndef MODEL_H", "#define MODEL_H", "", f'#define MODEL_TOKEN "{mark}"',
        *[f"#define {word} {len(listed)}" for word, listed in sizes.items()], "#define ROOM(n) ((n) > 0 ? (n) : 1)", "",
        "extern const double model_start[ROOM(STATES)], model_defaults[ROOM(PARAMETERS)];",
        *[f"extern const char *const model_{w}_names[ROOM({w.upper()}S)];" for w in ("state", "parameter", "input", "output")], "",
        *[f"void model_{kind}({GIVEN}, double *result);" for kind in ("rates", "outputs", "events")], "", "#endif", "",
    ]  # fmt: skip
    source = [
        '#include "model.h"', "", "#include <string.h>", "", *[f'#include "{model.name}_{kind}.h"' for kind in kinds], "",
        _numbers("model_start", "STATES", model.start), _numbers("model_defaults", "PARAMETERS", model.values),
        *[_words(w, listed) for w, listed in (("state", model.states), ("parameter", model.parameters), ("input", model.inputs),
                                              ("output", list(model.outputs)))],
    ]  # fmt: skip
    for kind in ("rates", "outputs", "events"):
        source += _forwarded(model, kind, kind in kinds)
    return {"model.h": "\n".join(lines), "model.c": "\n".join([*source, ""])}


def _numbers(name: str, size: str, values: Sequence[float]) -> str:
    return f"const double {name}[ROOM({size})] = {{{', '.join(map(repr, values)) or '0.0'}}};"


def _words(what: str, names: Sequence[object]) -> str:
    shown = ", ".join(f'"{harmless(str(n))}"' for n in names) or '""'
    return f"const char *const model_{what}_names[ROOM({what.upper()}S)] = {{{shown}}};"


def _forwarded(model: Model, kind: str, is_there: bool) -> list[str]:
    lines = ["", f"void model_{kind}({GIVEN}, double *result)", "{"]
    unused = [w for w, needed in (("inputs", model.inputs), ("parameters", model.parameters)) if not needed or not is_there]
    unused += [] if is_there else ["time", "state", "result"]
    lines += [f"    (void){word};" for word in unused]
    if is_there:
        arguments = ["time", "state", *["inputs"] * bool(model.inputs), *["&own"] * bool(model.parameters), "result"]
        if model.parameters:
            lines += [f"    struct {parameters_type(model.name)} own;", "    memcpy(&own, parameters, sizeof own);"]
        lines.append(f"    {model.name}_{kind}({', '.join(arguments)});")
    return [*lines, "}"]


def python_module(model: Model, kinds: Sequence[str], units: Mapping[str, str]) -> str:
    """The module for SciPy: rates and jacobian as integrators call them, and a simulation with outputs and events."""
    from jinja2 import Environment, PackageLoader, StrictUndefined

    name = model.name
    words = safe_names([n.name for n in model.parameters], PYTHON, (f"{name}_rates", *OWN))
    told = [
        *model.notes,
        *[f"rate of {s}: {r}" for s, r in zip(model.states, model.rates, strict=True) if len(str(r)) < LONG],
        f"states: {_told([n.name for n in model.states], units)}",
        f"parameters: {_told([n.name for n in model.parameters], units) or 'none'}",
    ]
    with_inputs = bool(model.inputs)
    page = Environment(loader=PackageLoader("gelvo", "simulating"), undefined=StrictUndefined, keep_trailing_newline=True)
    return page.get_template("module.py.jinja").render(
        name=name, told=[part for line in told for part in textwrap.wrap(harmless(line), WIDTH, subsequent_indent="  ")], kinds=kinds,
        states=_tuple(model.states), start=repr(tuple(model.start)), inputs=_tuple(model.inputs), outputs=_tuple(model.outputs),
        events=_tuple(model.events), given=f", inputs={(0.0,) * len(model.inputs)!r}" * with_inputs,
        values=repr({words[n.name]: v for n, v in zip(model.parameters, model.values, strict=True)}),
        drive=f", inputs={(0.0,) * len(model.inputs)!r}" * with_inputs,
        arrays=", numpy.asarray(inputs, dtype=float)" * with_inputs, called=", numpy.asarray(at(time), dtype=float)" * with_inputs,
    )  # fmt: skip


def _tuple(names: Iterable[object]) -> str:
    return repr(tuple(harmless(str(n)) for n in names))


def _told(names: Sequence[str], units: Mapping[str, str]) -> str:
    return ", ".join(harmless(f"{n} in {units[n]}" if units.get(n) else n) for n in names)
