"""`simulation_module`: the files of a motion for programs downstream, and the check that builds and runs them."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from importlib.resources import files as resources
from pathlib import Path
from typing import Any

from gmpy2 import mpq

from gelvo.code.bundle import TARGETS, Accuracy, unchecked_code
from gelvo.code.c_target import FLAGS, compiler
from gelvo.code.digits.ranges import ends_stated
from gelvo.code.layout import outputs_stated
from gelvo.code.naming import check_function_name
from gelvo.code.running import PYTHON, run
from gelvo.errors import CheckFailed, ExportError, GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.nodes import Expression
from gelvo.expression.traversal import postorder
from gelvo.files import write_file, write_together
from gelvo.numbers.box import Box
from gelvo.numbers.interval import NoValue, arithmetic
from gelvo.simulating.model import Model, model_of
from gelvo.simulating.unit import VERSIONS, archive, build_description, description, library_place, token
from gelvo.simulating.wrapping import c_model, python_module

CORE = ("integrate.h", "unit.h", "main.c", "fmi2.c", "fmi3.c")
FOLDERS = {"c": "c", "numba": "python", "python": "python"}  # where the functions of each language stand
FEW, BITS = 40, 60  # operations that plain Python works out before a compiled function is called
GLUE = "model"
ROWS, END = 20, 1.0
AGREEMENT = 1e-6  # of two integrators with tolerances far below


class SimulationModule:
    """The files of one motion: `.files` maps paths to text, `.bundles` has the functions, `.model` what is simulated."""

    def __init__(self, model: Model, units: Mapping[str, str], digits: str, ranges: Mapping[Any, Any]) -> None:
        self.model, self.units = model, dict(units)
        around = {**model.usual, **{next((n for n in model.usual if n.name == str(k)), k): v for k, v in ranges.items()}}
        self.bundles = {
            (language, kind): unchecked_code(
                outputs, model.arguments, language, f"{model.name}_{kind}", units, model.given, around, digits,
                parameters=list(model.parameters), shared=model.name, by_largest=model.steps,
            )
            for kind, outputs in model.functions.items() for language in ("c", _python_for(model, outputs, around))
        }  # fmt: skip
        self.files = self._files()

    def _files(self) -> dict[str, str]:
        made = {f"{FOLDERS[language]}/{n}": t for (language, _), b in self.bundles.items() for n, t in b.files.items()}
        made |= {f"c/{n}": resources("gelvo.simulating").joinpath("c", n).read_text(encoding="utf-8") for n in CORE}
        kinds = list(self.model.functions)
        mark = token(made | c_model(self.model, kinds, ""))
        made |= {f"c/{n}": t for n, t in c_model(self.model, kinds, mark).items()}
        made[f"python/{self.model.name}.py"] = python_module(self.model, kinds, self.units)
        for version in VERSIONS:
            sources = self._sources(f"fmi{version}.c")
            made[f"fmi{version}/modelDescription.xml"] = description(self.model, self.units, version, mark, sources)
        made["fmi3/buildDescription.xml"] = build_description(self.model, self._sources("fmi3.c"))
        return made

    def _sources(self, last: str) -> list[str]:
        """What is built for a program: the functions, what joins them, and the source that is given."""
        return [*[f"{self.model.name}_{kind}.c" for kind in sorted(self.model.functions)], "model.c", last]

    def write(self, folder: str | Path) -> list[Path]:
        """Writes all files into a folder, each by rename; returns their paths."""
        return write_together({Path(folder) / name: text for name, text in self.files.items()})

    def write_unit(self, path: str | Path, version: int = 3) -> Path:
        """Builds the unit of a version of the interface (2 or 3) for this machine, and writes it as one archive, NAME.fmu.

        Raises ExportError without a C compiler.
        """
        if version not in VERSIONS:
            raise ExportError(
                f"units are written for versions {' and '.join(map(str, VERSIONS))} of the interface, not {version!r}"
            )
        left_out = ["main.c", *[f"test_{self.model.name}_{kind}.c" for kind in self.model.functions]]
        left_out += [f"fmi{v}.c" for v in VERSIONS if v != version]
        packed = {f"sources/{n}": t.encode() for n, t in self._in("c").items() if n not in left_out}
        packed["modelDescription.xml"] = self.files[f"fmi{version}/modelDescription.xml"].encode()
        if version == 3:
            packed["sources/buildDescription.xml"] = self.files["fmi3/buildDescription.xml"].encode()
        with tempfile.TemporaryDirectory() as place:
            self._build(Path(place), self._sources(f"fmi{version}.c"), ["-shared", "-fPIC"], "unit")
            packed[library_place(self.model.name, version)] = (Path(place) / "unit").read_bytes()
        return write_file(path, archive(packed))

    def _in(self, folder: str) -> dict[str, str]:
        """The files of one folder by their names there."""
        return {path.removeprefix(f"{folder}/"): text for path, text in self.files.items() if path.startswith(f"{folder}/")}

    def _build(self, folder: Path, sources: Sequence[str], options: Sequence[str], result: str) -> None:
        write_together({folder / n: t for n, t in self._in("c").items()})
        run([compiler(), *FLAGS, *options, *sources, "-o", result, "-lm"], folder)

    def check(self) -> Accuracy:
        """Checks each function at points, as `export_code` does, and holds the motion of the C program against that of SciPy."""
        worst: dict[str, float] = {}
        points = 0
        for (language, kind), bundle in self.bundles.items():
            outcome = bundle.check()
            worst |= {f"{kind} ({language}) {k}": v for k, v in outcome.worst_ulp.items()}
            points += outcome.points
            if not outcome.passed:
                return Accuracy(False, worst, points, f"{bundle.name} in {language}: {outcome.message}")
        apart = self.difference()
        told = f"{points} points within their bars; the motion in C and that in Python differ by {apart:.1g} of its size up to {self.model.time} = {END:g}"
        return Accuracy(apart <= AGREEMENT, worst, points, told)

    def difference(self, end: float = END) -> float:
        """How far the motions of the C program and of the Python module are apart, in parts of the size of each state."""
        import numpy

        with tempfile.TemporaryDirectory() as place:
            folder = Path(place)
            self._build(folder, self._sources("main.c"), [], "simulate")
            in_c = _table(run(["./simulate", repr(end), str(ROWS)], folder))
            in_python = folder / "python"
            write_together({in_python / n: t for n, t in self._in("python").items()})
            code = f"import sys; sys.path.insert(0, '.'); import {self.model.name} as m; m.print_table(0.0, {end!r}, {ROWS + 1})"
            found = _table(run([*PYTHON, "-c", code], in_python))
        columns = slice(1, 1 + len(self.model.states))
        size = numpy.maximum(numpy.abs(in_c[:, columns]).max(axis=0), 1e-300)
        return float((numpy.abs(in_c[:, columns] - found[:, columns]) / size).max())

    def __repr__(self) -> str:
        return f"SimulationModule({self.model.name}: {', '.join(n.name for n in self.model.states)})"


def _python_for(model: Model, outputs: Mapping[str, object], around: Mapping[Any, Any]) -> str:
    """Plain Python for few operations that have a value all over the ranges, compiled Python for others."""
    formulas = [e for e in outputs_stated(outputs, model.name)[1] if isinstance(e, Expression)]
    if model.steps or len(postorder(*formulas)) > FEW:
        return "numba"
    places = [model.time, *model.states, *model.inputs, *model.parameters]
    a, ends = arithmetic(BITS), ends_stated(around, places)
    boxes = {n: Box(a.hull(*[a.rational(mpq(end)) for end in ends[n]])) for n in places if all(map(math.isfinite, ends[n]))}
    try:
        found = Enclosure(*formulas).all_values(boxes, BITS).values()
    except GelvoError:
        return "numba"
    return "numba" if any(isinstance(v, NoValue) for v in found) else "python"


def _table(text: str) -> Any:
    import numpy

    return numpy.array([[float(w) for w in line.split(",")] for line in text.splitlines()[1:]])


def simulation_module(
    motion: Any, unknowns: Any = None, name: str = "motion", values: Mapping[Any, Any] | None = None, start: Mapping[Any, Any] | None = None,
    inputs: Sequence[Any] = (), outputs: Mapping[str, Any] | None = None, events: Mapping[str, Any] | None = None,
    units: Mapping[str, str] | None = None, given: Iterable[Any] = (), ranges: Mapping[Any, Any] | None = None,
    digits: str = "condition", check: bool = True,
) -> SimulationModule:  # fmt: skip
    """The files of a motion for other programs."""
    if name == GLUE:
        raise ExportError(f"{name!r} is what the files themselves call a motion: choose another name")
    for language in FOLDERS:
        check_function_name(f"{name}_jacobian", TARGETS[language])
        check_function_name(name, TARGETS[language])
    model = model_of(motion, unknowns, name, values or {}, start or {}, inputs, outputs or {}, events or {}, given)
    module = SimulationModule(model, units or {}, digits, ranges or {})
    if check:
        outcome = module.check()
        if not outcome.passed:
            raise CheckFailed(outcome.message)
    return module
