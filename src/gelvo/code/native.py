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
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gelvo.code.bundle import CodeBundle, unchecked_code
from gelvo.code.c_target import FLAGS, array_name, compiler
from gelvo.errors import DomainError, ExportError
from gelvo.files import write_file

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

NATIVE = (*FLAGS, "-O3", "-march=native", "-shared", "-fPIC")
LONG, LONGEST_BUILD_SECONDS = 40_000, 300  # so many points are divided among the processors


class NativeFunction:
    """A compiled formula as a function of numbers or arrays in the order of the inputs: one array, or a tuple for several outputs.

    `.bundle` is the code and what is known of its digits; `.path` is the library.
    """

    def __init__(self, bundle: CodeBundle) -> None:
        self.bundle = bundle
        self.names = [n.name for n in bundle.program.inputs]
        self.__doc__ = f"{', '.join(bundle.program.outputs)} as a compiled function of {', '.join(self.names)}"

    @cached_property
    def path(self) -> Path:
        """The shared library, built now where it was not built before."""
        return _built(self.bundle.files[f"{self.bundle.name}.c"], self.bundle.files[f"{self.bundle.name}.h"], self.bundle.name)

    @cached_property
    def _routine(self) -> Any:
        routine = getattr(ctypes.CDLL(str(self.path)), array_name(self.bundle.name))
        pointers = len(self.names) + len(self.bundle.program.outputs)
        routine.argtypes = [ctypes.c_size_t, *[ctypes.c_void_p] * pointers]
        routine.restype = None
        return routine

    def __call__(self, *inputs: object, **named: object) -> NDArray[float64] | tuple[NDArray[float64], ...]:
        import numpy

        given = self._in_order(inputs, named)
        columns = numpy.broadcast_arrays(*[numpy.asarray(v, dtype=float) for v in given]) if given else [numpy.zeros(())]
        shape = columns[0].shape
        columns = [numpy.ascontiguousarray(c) for c in columns] if given else []
        outputs = [numpy.empty(shape) for _ in self.bundle.program.outputs]
        self._run([*columns, *outputs], int(numpy.prod(shape)))
        return outputs[0] if len(outputs) == 1 else tuple(outputs)

    def _in_order(self, inputs: Sequence[object], named: dict[str, object]) -> list[object]:
        rest = self.names[len(inputs) :]
        if len(inputs) > len(self.names) or set(named) != set(rest):
            raise DomainError(
                f"the function takes {', '.join(self.names) or 'nothing'}: {len(inputs)} in order and {sorted(named)} were given"
            )
        return [*inputs, *[named[n] for n in rest]]

    def _run(self, arrays: Sequence[NDArray[float64]], count: int) -> None:
        """The loop over all points, in as many parts as there are processors where there are many points."""
        parts = min(os.cpu_count() or 1, max(1, count // LONG))
        ends = [count * k // parts for k in range(parts + 1)]

        def part(k: int) -> None:
            places = [a.ctypes.data + 8 * ends[k] for a in arrays]
            self._routine(ends[k + 1] - ends[k], *places)

        if parts == 1:
            part(0)
            return
        with ThreadPoolExecutor(parts) as pool:
            list(pool.map(part, range(parts)))

    def __reduce__(self) -> tuple[object, ...]:
        return NativeFunction, (self.bundle,)


def native_function(expression: object, inputs: object, **options: Any) -> NativeFunction:
    """The compiled function of one formula, or of several by name."""
    stated = {"given": (), "ranges": None, "digits": None} | options
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


def _built(source: str, header: str, name: str) -> Path:
    command = [compiler(), *NATIVE]
    key = hashlib.sha256("\0".join([*command, _version(command[0]), source, header]).encode()).hexdigest()
    folder = _cache()
    library, told = folder / f"{key}.so", folder / f"{key}.sha256"
    if _is_what_was_built(library, told):
        return library
    with tempfile.TemporaryDirectory(dir=folder) as place:
        for ending, text in ((".c", source), (".h", header)):
            write_file(Path(place) / f"{name}{ending}", text)
        made = Path(place) / "made.so"
        try:
            done = subprocess.run(
                [*command, f"{name}.c", "-o", made.name, "-lm"],
                cwd=place,
                capture_output=True,
                text=True,
                timeout=LONGEST_BUILD_SECONDS,
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


def _version(program: str) -> str:
    return subprocess.run([program, "--version"], capture_output=True, text=True, timeout=30).stdout
