"""Compiled code at once: the C of a formula built as a shared library, loaded, and called with numbers or arrays.

What was built is kept by its content: the same code is not built twice. A library is loaded only from a folder that nobody else can
write to, and only where its bytes are those that were built.
"""

from __future__ import annotations

import ctypes
import hashlib
import itertools
import os
import subprocess
import tempfile
import threading
from collections import namedtuple
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import cache, cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol

from gelvo.code.c_target import FLAGS, TARGET, array_function, compiler
from gelvo.code.layout import NUMBER, STRUCTURE, Group, Layout, slices
from gelvo.code.naming import members, result_class, safe_names
from gelvo.code.program import Program
from gelvo.errors import DomainError, ExportError
from gelvo.files import write_file

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

NATIVE = (*[f for f in FLAGS if f != "-Werror"], "-O3", "-march=native", "-shared", "-fPIC")
LOOP = "loop_over_arrays"
LONG, LONGEST_BUILD_SECONDS = 40_000, 300  # so many points are divided among the processors


class Built(Protocol):
    """Code in C: its name, what it works out, and its files."""

    name: str
    program: Program
    files: dict[str, str]


class NativeFunction:
    """A compiled formula as a function of its inputs in order: numbers or arrays, which broadcast; vectors and parameters as they were stated.

    One output comes back as an array, several as a tuple with their names. `.bundle` is the code and what is known of its digits; `.path` is
    the library.
    """

    def __init__(self, bundle: Built) -> None:
        self.bundle = bundle
        self._routines: dict[tuple[int, ...], Any] = {}
        self._layout = bundle.program.layout
        self._is_plain = self._layout.is_plain
        self.names = [n.name for n in bundle.program.inputs]
        fields = [o.name for o in self._layout.outputs]
        self._result = namedtuple(result_class(bundle.name), fields, rename=True)  # type: ignore[misc]
        self.__doc__ = f"{', '.join(fields)} as a compiled function of {', '.join(self.names)}"

    @cached_property
    def path(self) -> Path:
        """The shared library, built now where it was not built before."""
        return self._library(()) if self._is_plain else _built(self._sources(), f"{self.bundle.name}.c")

    def _sources(self) -> dict[str, str]:
        name = self.bundle.name
        return {f"{name}.{ending}": self.bundle.files[f"{name}.{ending}"] for ending in ("c", "h")}

    def _library(self, fixed: Sequence[int]) -> Path:
        name, program = self.bundle.name, self.bundle.program
        inputs = list(safe_names(self.names, TARGET, (name,)).values())
        loop = array_function(program, name, inputs, members(program.layout, TARGET), LOOP, [inputs[k] for k in fixed])
        return _built(self._sources() | {"loop.c": "\n".join([f'#include "{name}.c"', *loop, ""])}, "loop.c")

    def _routine(self, fixed: tuple[int, ...]) -> Any:
        """The loop in which some inputs are one number, so that what depends on those alone is worked out once."""
        if fixed not in self._routines:
            routine = getattr(ctypes.CDLL(str(self._library(fixed))), LOOP)
            kinds = [ctypes.c_double if k in fixed else ctypes.c_void_p for k in range(len(self.names))]
            routine.argtypes = [ctypes.c_size_t, *kinds, *[ctypes.c_void_p] * len(self.bundle.program.outputs)]
            routine.restype = None
            self._routines[fixed] = routine
        return self._routines[fixed]

    def __call__(self, *inputs: object, **named: object) -> Any:
        if not self._is_plain:
            return self._direct(inputs, named)
        import numpy

        given = [numpy.asarray(v, dtype=float) for v in in_order(self.names, inputs, named)]
        shape = numpy.broadcast_shapes(*[v.shape for v in given])
        fixed = tuple(k for k, v in enumerate(given) if v.ndim == 0)
        columns = [v if v.ndim == 0 else numpy.ascontiguousarray(numpy.broadcast_to(v, shape)) for v in given]
        outputs = [numpy.empty(shape) for _ in self.bundle.program.outputs]
        self._run(self._routine(fixed), [*columns, *outputs], int(numpy.prod(shape)))
        return outputs[0] if len(outputs) == 1 else self._result(*outputs)

    @cached_property
    def _direct(self) -> Callable[[Sequence[object], dict[str, object]], Any]:
        """The function itself, for one point: vectors by their place in memory, the structure of parameters as numbers in a row."""
        return direct(getattr(ctypes.CDLL(str(self.path)), self.bundle.name), self._layout, self._result)

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


class _Memory(threading.local):
    """Memory of one thread that the compiled function reads and writes: numbers for each vector and structure, and for the outputs."""

    def __init__(self, sizes: Sequence[int]) -> None:
        import numpy

        self.last: tuple[object, ...] = ()  # the parameters that it holds
        self.views = [numpy.zeros(max(n, 1)) for n in sizes]
        self.places = [v.ctypes.data for v in self.views]

    def put(self, k: int, group: Group, told: Sequence[Any]) -> int:
        """Writes a vector or a structure; returns its place."""
        if group.kind == STRUCTURE:
            parameters = tuple([float(v) for v in told])
            if parameters != self.last:  # they are the same for many calls
                self.views[k][:] = self.last = parameters
            return self.places[k]
        if len(told[0]) != len(group.members):
            members = ", ".join(group.members)
            raise DomainError(f"{group.name} is a vector of {len(group.members)} numbers ({members}), not of {len(told[0])}")
        self.views[k][:] = told[0]
        return self.places[k]


def direct(routine: Any, layout: Layout, result: Callable[..., Any]) -> Callable[[Sequence[object], dict[str, object]], Any]:
    """A compiled function as one of (what is given in order, what is given by name), for one point."""
    routine.argtypes = [ctypes.c_double if g.kind == NUMBER else ctypes.c_void_p for g in layout.groups]
    routine.argtypes += [] if layout.is_number else [ctypes.c_void_p]
    routine.restype = ctypes.c_double if layout.is_number else None
    names = [w for g in layout.groups for w in (g.members if g.kind == STRUCTURE else (g.name,))]
    memory = _Memory([*[len(g.members) for g in layout.groups], sum(len(o.places) for o in layout.outputs)])
    taken = list(itertools.accumulate((len(g.members) if g.kind == STRUCTURE else 1 for g in layout.groups), initial=0))
    rows = [(k, g, slice(taken[k], taken[k + 1])) for k, g in enumerate(layout.groups)]
    parts = slices(layout.outputs)
    is_number, is_array = layout.is_number, len(parts) == 1

    def call(given: Sequence[object], named: dict[str, object]) -> Any:
        values = in_order(names, given, named) if named or len(given) != len(names) else given
        arguments = [values[own.start] if group.kind == NUMBER else memory.put(k, group, values[own]) for k, group, own in rows]
        if is_number:
            return routine(*arguments)
        routine(*arguments, memory.places[-1])
        out = memory.views[-1].copy()
        if is_array:
            return out.reshape(parts[0][1])
        return result(*[out[part].reshape(shape) if shape else float(out[part.start]) for part, shape in parts])

    return call


def in_order(names: Sequence[str], given: Sequence[object], named: Mapping[str, object]) -> list[object]:
    """What was given, in the order of the names."""
    rest = names[len(given) :]
    if len(given) > len(names) or set(named) != set(rest):
        raise DomainError(
            f"the function takes {', '.join(names) or 'nothing'}: {len(given)} in order and {sorted(named)} were given"
        )
    return [*given, *[named[n] for n in rest]]


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
