"""`simulation_module`: the files of a motion for programs downstream, and the check that builds and runs them."""

from __future__ import annotations

import subprocess
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from importlib.resources import files as resources
from pathlib import Path
from typing import Any

from gelvo.code.bundle import TARGETS, Accuracy, unchecked_code
from gelvo.code.c_target import FLAGS, compiler
from gelvo.code.naming import check_function_name
from gelvo.code.numba_target import TARGET as PYTHON
from gelvo.errors import CheckFailed, ExportError
from gelvo.files import write_file, write_together
from gelvo.simulating.model import Model, model_of
from gelvo.simulating.unit import archive, build_description, description, library_place, token
from gelvo.simulating.wrapping import c_model, python_module

CORE = ("integrate.h", "unit.h", "main.c", "fmi2.c", "fmi3.c")
GLUE = "model"
LONGEST_SECONDS, ROWS, END = 120, 20, 1.0
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
            for language in ("c", "numba") for kind, outputs in model.functions.items()
        }  # fmt: skip
        self.files = self._files()

    def _files(self) -> dict[str, str]:
        made = {
            f"{'c' if language == 'c' else 'python'}/{n}": t
            for (language, _), b in self.bundles.items()
            for n, t in b.files.items()
        }
        made |= {f"c/{n}": resources("gelvo.simulating").joinpath("c", n).read_text(encoding="utf-8") for n in CORE}
        kinds = list(self.model.functions)
        mark = token(made)
        made |= {f"c/{n}": t for n, t in c_model(self.model, kinds, mark).items()}
        made[f"python/{self.model.name}.py"] = python_module(self.model, kinds, self.units)
        for version in (2, 3):
            sources = self._sources(version)
            made[f"fmi{version}/modelDescription.xml"] = description(self.model, self.units, version, mark, sources)
        made["fmi3/buildDescription.xml"] = build_description(self.model, self._sources(3))
        return made

    def _sources(self, version: int) -> list[str]:
        own = sorted(
            n
            for (language, _), b in self.bundles.items()
            if language == "c"
            for n in b.files
            if n.endswith(".c") and not n.startswith("test_")
        )
        return [*own, "model.c", f"fmi{version}.c"]

    def write(self, folder: str | Path) -> list[Path]:
        """Writes all files into a folder, each by rename; returns their paths."""
        return write_together({Path(folder) / name: text for name, text in self.files.items()})

    def write_unit(self, path: str | Path, version: int = 3) -> Path:
        """Builds the unit of a version of the interface (2 or 3) for this machine, and writes it as one archive, NAME.fmu.

        Raises ExportError without a C compiler.
        """
        if version not in (2, 3):
            raise ExportError(f"units are written for versions 2 and 3 of the interface, not {version!r}")
        text = {n[2:]: t for n, t in self.files.items() if n.startswith("c/") and not n.startswith("c/test_") and n != "c/main.c"}
        packed = {f"sources/{n}": t.encode() for n, t in text.items() if not n.startswith("fmi") or n == f"fmi{version}.c"}
        packed["modelDescription.xml"] = self.files[f"fmi{version}/modelDescription.xml"].encode()
        if version == 3:
            packed["sources/buildDescription.xml"] = self.files["fmi3/buildDescription.xml"].encode()
        with tempfile.TemporaryDirectory() as place:
            self._build(Path(place), [*self._sources(version)], ["-shared", "-fPIC"], "unit")
            packed[library_place(self.model.name, version)] = (Path(place) / "unit").read_bytes()
        return write_file(path, archive(packed))

    def _build(self, folder: Path, sources: Sequence[str], options: Sequence[str], result: str) -> None:
        write_together({folder / n[2:]: t for n, t in self.files.items() if n.startswith("c/")})
        _run([compiler(), *FLAGS, *options, *sources, "-o", result, "-lm"], folder)

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
            self._build(folder, [n for n in self._sources(2) if not n.startswith("fmi")] + ["main.c"], [], "simulate")
            in_c = _table(_run(["./simulate", repr(end), str(ROWS)], folder))
            in_python = folder / "python"
            write_together({folder / n: t for n, t in self.files.items() if n.startswith("python/")})
            code = f"import sys; sys.path.insert(0, '.'); import {self.model.name} as m; m.print_table(0.0, {end!r}, {ROWS + 1})"
            found = _table(_run([*PYTHON.commands("x").driver[0][:-1], "-c", code], in_python))
        columns = slice(1, 1 + len(self.model.states))
        size = numpy.maximum(numpy.abs(in_c[:, columns]).max(axis=0), 1e-300)
        return float((numpy.abs(in_c[:, columns] - found[:, columns]) / size).max())

    def __repr__(self) -> str:
        return f"SimulationModule({self.model.name}: {', '.join(n.name for n in self.model.states)})"


def _table(text: str) -> Any:
    import numpy

    return numpy.array([[float(w) for w in line.split(",")] for line in text.splitlines()[1:]])


def _run(command: Sequence[str], folder: Path) -> str:
    try:
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=LONGEST_SECONDS)
    except subprocess.TimeoutExpired:
        raise CheckFailed(f"{command[0]} … was stopped after {LONGEST_SECONDS} s") from None
    if done.returncode:
        raise CheckFailed(f"{' '.join(command[:2])} … failed: {(done.stderr or done.stdout)[:800]}")
    return done.stdout


def simulation_module(
    motion: Any, unknowns: Any = None, name: str = "motion", values: Mapping[Any, Any] | None = None, start: Mapping[Any, Any] | None = None,
    inputs: Sequence[Any] = (), outputs: Mapping[str, Any] | None = None, events: Mapping[str, Any] | None = None,
    units: Mapping[str, str] | None = None, given: Iterable[Any] = (), ranges: Mapping[Any, Any] | None = None,
    digits: str = "condition", check: bool = True,
) -> SimulationModule:  # fmt: skip
    """The files of a motion for other programs."""
    if name == GLUE:
        raise ExportError(f"{name!r} is what the files themselves call a motion: choose another name")
    for language in ("c", "numba"):
        check_function_name(f"{name}_jacobian", TARGETS[language])
        check_function_name(name, TARGETS[language])
    model = model_of(motion, unknowns, name, values or {}, start or {}, inputs, outputs or {}, events or {}, given)
    module = SimulationModule(model, units or {}, digits, ranges or {})
    if check:
        outcome = module.check()
        if not outcome.passed:
            raise CheckFailed(outcome.message)
    return module
