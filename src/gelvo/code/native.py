"""Compiled code at once: the C of a formula built as a shared library, loaded, and called with numbers or arrays.

What was built is kept by its content: the same code is not built twice. A library is loaded only from a folder that nobody else can
write to, and only where its bytes are those that were built.
"""

from __future__ import annotations

import ctypes
import hashlib
import os
import subprocess
import tempfile
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import cache, cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gelvo.code.bundle import CodeBundle, unchecked_code
from gelvo.code.c_target import FLAGS, TARGET, array_function, compiler
from gelvo.code.naming import safe_names
from gelvo.errors import DomainError, ExportError
from gelvo.files import write_file

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

NATIVE = (*[f for f in FLAGS if f != "-Werror"], "-O3", "-march=native", "-shared", "-fPIC")
LOOP = "loop_over_arrays"
LONG, LONGEST_BUILD_SECONDS = 40_000, 300  # so many points are divided among the processors


class NativeFunction:
    """A compiled formula as a function of numbers or arrays in the order of the inputs: one array, or a tuple for several outputs.

    `.bundle` is the code and what is known of its digits; `.path` is the library.
    """

    def __init__(self, bundle: CodeBundle) -> None:
        self.bundle = bundle
        self._routines: dict[tuple[int, ...], Any] = {}
        self.names = [n.name for n in bundle.program.inputs]
        self.__doc__ = f"{', '.join(bundle.program.outputs)} as a compiled function of {', '.join(self.names)}"

    @cached_property
    def path(self) -> Path:
        """The shared library for arrays of all inputs, built now where it was not built before."""
        return self._library(())

    def _library(self, fixed: Sequence[int]) -> Path:
        name, program = self.bundle.name, self.bundle.program
        inputs = list(safe_names(self.names, TARGET, (name,)).values())
        members = list(safe_names(list(program.outputs), TARGET, (name,)).values())
        loop = array_function(program, name, inputs, members, LOOP, [inputs[k] for k in fixed])
        sources = {f"{name}.c": self.bundle.files[f"{name}.c"], f"{name}.h": self.bundle.files[f"{name}.h"]}
        return _built(sources | {"loop.c": "\n".join([f'#include "{name}.c"', *loop, ""])}, "loop.c")

    def _routine(self, fixed: tuple[int, ...]) -> Any:
        """The loop in which some inputs are one number, so that what depends on those alone is worked out once."""
        if fixed not in self._routines:
            routine = getattr(ctypes.CDLL(str(self._library(fixed))), LOOP)
            kinds = [ctypes.c_double if k in fixed else ctypes.c_void_p for k in range(len(self.names))]
            routine.argtypes = [ctypes.c_size_t, *kinds, *[ctypes.c_void_p] * len(self.bundle.program.outputs)]
            routine.restype = None
            self._routines[fixed] = routine
        return self._routines[fixed]

    def __call__(self, *inputs: object, **named: object) -> NDArray[float64] | tuple[NDArray[float64], ...]:
        import numpy

        given = [numpy.asarray(v, dtype=float) for v in self._in_order(inputs, named)]
        shape = numpy.broadcast_shapes(*[v.shape for v in given])
        fixed = tuple(k for k, v in enumerate(given) if v.ndim == 0)
        columns = [v if v.ndim == 0 else numpy.ascontiguousarray(numpy.broadcast_to(v, shape)) for v in given]
        outputs = [numpy.empty(shape) for _ in self.bundle.program.outputs]
        self._run(self._routine(fixed), [*columns, *outputs], int(numpy.prod(shape)))
        return outputs[0] if len(outputs) == 1 else tuple(outputs)

    def _in_order(self, inputs: Sequence[object], named: dict[str, object]) -> list[object]:
        rest = self.names[len(inputs) :]
        if len(inputs) > len(self.names) or set(named) != set(rest):
            raise DomainError(
                f"the function takes {', '.join(self.names) or 'nothing'}: {len(inputs)} in order and {sorted(named)} were given"
            )
        return [*inputs, *[named[n] for n in rest]]

    def _run(self, routine: Any, arrays: Sequence[NDArray[float64]], count: int) -> None:
        """The loop over all points, in as many parts as there are processors where there are many points."""
        parts = min(os.cpu_count() or 1, max(1, count // LONG))
        ends = [count * k // parts for k in range(parts + 1)]
        inputs = len(self.names)

        def part(k: int) -> None:
            places = [float(a) if j < inputs and a.ndim == 0 else a.ctypes.data + 8 * ends[k] for j, a in enumerate(arrays)]
            routine(ends[k + 1] - ends[k], *places)

        if parts == 1:
            part(0)
            return
        with ThreadPoolExecutor(parts) as pool:
            list(pool.map(part, range(parts)))

    def __reduce__(self) -> tuple[object, ...]:
        return NativeFunction, (self.bundle,)


def native_function(expression: object, inputs: object, **options: Any) -> NativeFunction:
    """The compiled function of one formula, or of several by name."""
    stated = {"given": (), "ranges": None, "digits": "condition"} | options
    bundle = unchecked_code(expression, inputs, "c", "formula", None, stated["given"], stated["ranges"], stated["digits"])
    found = NativeFunction(bundle)
    _ = found.path  # a missing compiler is told here
    return found


def _cache() -> Path:
    """A folder of one's own for what was built; a new one for this process where there is none that only the owner can write to."""
    wanted = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "gelvo" / "native"
    try:
        wanted.mkdir(parents=True, exist_ok=True, mode=0o700)
        state = wanted.stat()
        if state.st_uid == os.getuid() and not state.st_mode & 0o022:
            return wanted
    except (OSError, AttributeError):  # no home that can be written to, or a system without owners
        pass
    return Path(tempfile.mkdtemp(prefix="gelvo_native_"))


def _built(sources: Mapping[str, str], main: str) -> Path:
    command = [compiler(), *NATIVE]
    key = hashlib.sha256("\0".join([*command, _version(command[0]), *sources.values()]).encode()).hexdigest()
    folder = _cache()
    library, told = folder / f"{key}.so", folder / f"{key}.sha256"
    if _is_what_was_built(library, told):
        return library
    with tempfile.TemporaryDirectory(dir=folder) as place:
        for name, text in sources.items():
            write_file(Path(place) / name, text)
        made = Path(place) / "made.so"
        try:
            done = subprocess.run(
                [*command, main, "-o", made.name, "-lm"], cwd=place, capture_output=True, text=True, timeout=LONGEST_BUILD_SECONDS
            )
        except subprocess.TimeoutExpired:
            raise ExportError(f"the compiler was stopped after {LONGEST_BUILD_SECONDS} s") from None
        if done.returncode:
            raise ExportError(f"the compiler refused the code: {done.stderr[:800]}")
        digest = hashlib.sha256(made.read_bytes()).hexdigest()
        made.replace(library)
    write_file(told, digest)
    return library


def _is_what_was_built(library: Path, told: Path) -> bool:
    try:
        return hashlib.sha256(library.read_bytes()).hexdigest() == told.read_text(encoding="utf-8")
    except OSError:
        return False


@cache
def _version(program: str) -> str:
    return subprocess.run([program, "--version"], capture_output=True, text=True, timeout=30).stdout
