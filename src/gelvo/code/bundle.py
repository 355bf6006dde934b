"""`export_code`: files with their own test, and the check that runs them."""

from __future__ import annotations

import ctypes
import importlib.util
import os
import shutil
import subprocess
import tempfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any, NamedTuple

from gelvo.algebra.facts import Facts
from gelvo.code import accuracy, c_target, fortran_target, numpy_target
from gelvo.code.program import Program, make_program
from gelvo.errors import CheckFailed, ExportError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.nodes import Expression, Name
from gelvo.operations.inputs import one_expression, plain_variable, take

C_FLAGS = ("-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", "-O2")
FORTRAN_FLAGS = ("-std=f2008", "-Wall", "-Wextra", "-Werror", "-Wno-compare-reals", "-Wno-unused-dummy-argument", "-O2")
TARGETS = {"numpy": numpy_target, "c": c_target, "fortran": fortran_target}


class Accuracy(NamedTuple):
    """The outcome of a check: the worst error of each output in ULP, where, and whether it is within its bar."""

    passed: bool
    worst_ulp: dict[str, float]
    points: int
    message: str

    def __str__(self) -> str:
        return self.message


class CodeBundle:
    """Generated files; `.files` maps names to text."""

    def __init__(
        self, name: str, language: str, program: Program, files: Mapping[str, str], points: list[list[float]], facts: Facts
    ) -> None:
        self.name, self.language, self.program, self.files = name, language, program, dict(files)
        self._points, self._facts = points, facts

    def write(self, folder: str | Path) -> list[Path]:
        """Writes the files into a folder, each by rename; returns their paths."""
        target = Path(folder)
        target.mkdir(parents=True, exist_ok=True)
        return [write_file(target / name, text) for name, text in self.files.items()]

    def check(self) -> Accuracy:
        """Compiles and runs the code at sample points, edges included, against correctly rounded values."""
        with tempfile.TemporaryDirectory() as folder:
            paths = self.write(folder)
            loaders = {"numpy": lambda: _load_numpy(paths[0], self.name), "c": lambda: _load_c(Path(folder), self)}
            evaluate = loaders.get(self.language, lambda: _load_fortran(Path(folder), self, self._points))()
            outcome = self._compare(evaluate)
            _run_own_test(Path(folder), self)
        return outcome

    def _compare(self, evaluate: Any) -> Accuracy:
        worst = dict.fromkeys(self.program.outputs, 0.0)
        failed = ""
        for point in self._points:
            found = evaluate(point)
            for (name, e), value in zip(self.program.outputs.items(), found, strict=True):
                right = accuracy.right_value(Enclosure(e), self.program.inputs, point)
                if right is None:
                    continue
                error = accuracy.ulps(value, right)
                worst[name] = max(worst[name], error)
                bar = accuracy.BAR_ULP * (1 + accuracy.condition(e, self.program.inputs, point))
                if error > bar and not failed:
                    failed = f"{name} is {value!r} at {point}, but {right!r} is right: {error:.1f} ULP, allowed {bar:.1f}"
        shown = ", ".join(f"{n} {v:.2g} ULP" for n, v in worst.items())
        message = failed or f"worst error at {len(self._points)} points: {shown}"
        return Accuracy(not failed, worst, len(self._points), message)

    def __repr__(self) -> str:
        return f"CodeBundle({self.name}, {self.language}: {', '.join(self.files)})"


def write_file(path: Path, text: str) -> Path:
    """Writes a text file so that it appears whole or not at all."""
    temporary = path.with_name(path.name + ".part")
    temporary.write_text(text, encoding="utf-8")
    os.replace(temporary, path)
    return path


def export_code(
    outputs: Any,
    inputs: Any,
    language: str = "numpy",
    name: str = "formula",
    units: Any = None,
    check: bool = True,
    given: Any = (),
) -> CodeBundle:
    """A bundle of code for one or several outputs."""
    target = TARGETS.get(language)
    if target is None:
        raise ExportError(f"{language!r} is not a target language; choose one of {', '.join(TARGETS)}")
    reserved = target.RESERVED
    if not name.isidentifier() or not name.isascii() or name in reserved:
        raise ExportError(f"{name!r} cannot be the name of a function in {language}")
    named = dict(outputs) if isinstance(outputs, Mapping) else {name: outputs}
    arguments = take(*named.values(), given=given)
    read = {k: one_expression(v) for k, v in zip(named, arguments.values, strict=True)}
    places = [plain_variable(i, arguments.context) for i in (inputs if isinstance(inputs, (list, tuple)) else [inputs])]
    program = make_program(read, places, target.FUNCTIONS)
    facts = arguments.facts
    points = accuracy.sample_points(list(program.outputs.values()), places, facts)
    documentation = _documentation(name, read, places, units or {})
    files = _files(program, name, language, documentation, points)
    bundle = CodeBundle(name, language, program, files, points, facts)
    if check:
        outcome = bundle.check()
        if not outcome.passed:
            raise CheckFailed(outcome.message)
    return bundle


def _documentation(name: str, outputs: Mapping[str, Expression], inputs: list[Name], units: Mapping[str, str]) -> dict[str, str]:
    def with_unit(word: str) -> str:
        unit = str(units.get(word, "")).replace("\\", "/").replace('"', "'").replace("\n", " ")
        return f"{word} in {unit}" if unit else word

    shown = [f"{with_unit(k)} = {v}" for k, v in outputs.items()]
    facts = [f"{with_unit(n.name)} ({n.domain})" for n in inputs]
    lines = [*shown, "", "inputs, in this order: " + (", ".join(facts) or "none")]
    text = "\n".join(lines)
    return {"title": f"{name}: made by Gelvo from exact formulas", "docstring": text if len(text) < 4000 else lines[-1]}


def _files(
    program: Program, name: str, language: str, documentation: Mapping[str, str], points: list[list[float]]
) -> dict[str, str]:
    few = points[:12]
    expected = [[accuracy.right_value(Enclosure(e), program.inputs, p) or 0.0 for e in program.outputs.values()] for p in few]
    bars = []
    for point, row in zip(few, expected, strict=True):
        scale = [accuracy.BAR_ULP * (1 + accuracy.condition(e, program.inputs, point)) for e in program.outputs.values()]
        bars.append([float(f"{s * max(abs(v), 2.3e-308) * 2.3e-16:.3g}") for s, v in zip(scale, row, strict=True)])
    if language == "numpy":
        documentation = {
            k: v.replace("\n", "\n    ").replace("    \n", "\n") if k == "docstring" else v for k, v in documentation.items()
        }
        return {
            f"{name}.py": numpy_target.module(program, name, documentation),
            f"test_{name}.py": numpy_target.test_module(name, few, expected, bars),
        }
    if language == "fortran":
        return {
            f"{name}.f90": fortran_target.module(program, name, documentation),
            f"test_{name}.f90": fortran_target.test_program(program, name, few, expected, bars),
        }
    return {
        f"{name}.c": c_target.source(program, name),
        f"{name}.h": c_target.header(program, name, documentation),
        f"test_{name}.c": c_target.test_program(program, name, few, expected, bars),
    }


def _load_numpy(path: Path, name: str) -> Any:
    import numpy

    spec = importlib.util.spec_from_file_location(f"gelvo_export_{name}", path)
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    function = getattr(module, name)

    def evaluate(point: list[float]) -> list[float]:
        with numpy.errstate(all="ignore"):
            result = function(*point)
        return [float(v) for v in (result if isinstance(result, tuple) else (result,))]

    return evaluate


def compiler() -> str:
    """The C compiler, or an ExportError that says what is missing."""
    for candidate in (os.environ.get("CC"), "cc", "gcc", "clang"):
        if candidate and shutil.which(candidate):
            return candidate
    raise ExportError("no C compiler was found: install one (cc), or export with check=False")


def fortran_compiler() -> str:
    """The Fortran compiler, or an ExportError that says what is missing."""
    for candidate in (os.environ.get("FC"), "gfortran", "flang", "ifx"):
        if candidate and shutil.which(candidate):
            return candidate
    raise ExportError("no Fortran compiler was found: install one (gfortran), or export with check=False")


def _run(command: list[str], folder: Path, given: str = "") -> str:
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=120, input=given)
    if done.returncode:
        raise CheckFailed(f"{' '.join(command[:2])} … failed: {(done.stderr or done.stdout)[:800]}")
    return done.stdout


def _load_c(folder: Path, bundle: CodeBundle) -> Any:
    library = folder / f"{bundle.name}.so"
    _run([compiler(), *C_FLAGS, "-shared", "-fPIC", f"{bundle.name}.c", "-o", library.name, "-lm"], folder)
    function = getattr(ctypes.CDLL(str(library)), bundle.name)
    count, outputs = len(bundle.program.inputs), len(bundle.program.outputs)
    if outputs == 1:
        function.restype, function.argtypes = ctypes.c_double, [ctypes.c_double] * count
        return lambda point: [function(*point)]
    buffer = (ctypes.c_double * outputs)()
    function.restype, function.argtypes = None, [ctypes.c_double] * count + [ctypes.c_double * outputs]

    def evaluate(point: list[float]) -> list[float]:
        function(*point, buffer)
        return list(buffer)

    return evaluate


def _load_fortran(folder: Path, bundle: CodeBundle, points: list[list[float]]) -> Any:
    """All values at once, from a program that reads the points."""
    write_file(folder / "drive.f90", fortran_target.driver(bundle.program, bundle.name, len(points)))
    _run([fortran_compiler(), *FORTRAN_FLAGS, f"{bundle.name}.f90", "drive.f90", "-o", "drive"], folder)
    given = "\n".join(" ".join(repr(float(v)) for v in p) or "0.0" for p in points) + "\n"
    rows = [[float(w) for w in line.split()] for line in _run([str(folder / "drive")], folder, given).splitlines()]
    by_point = {tuple(p): row for p, row in zip(points, rows, strict=True)}
    return lambda point: by_point[tuple(point)]


def _run_own_test(folder: Path, bundle: CodeBundle) -> None:
    if bundle.language == "c":
        _run([compiler(), *C_FLAGS, f"test_{bundle.name}.c", f"{bundle.name}.c", "-o", "own_test", "-lm"], folder)
        _run([str(folder / "own_test")], folder)
    if bundle.language == "fortran":
        _run([fortran_compiler(), *FORTRAN_FLAGS, f"{bundle.name}.f90", f"test_{bundle.name}.f90", "-o", "own_test"], folder)
        _run([str(folder / "own_test")], folder)
