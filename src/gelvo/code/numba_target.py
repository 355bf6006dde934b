"""Python for one point at a time, compiled where Numba is installed: the table of functions, and the module."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from gelvo.code.careful import arithmetic
from gelvo.code.folding import folded, python_folded
from gelvo.code.layout import STRUCTURE, VECTOR, chunks, nested
from gelvo.code.naming import result_class
from gelvo.code.numpy_target import MODULES, called, docstring, listed, structure_class, test_source
from gelvo.code.numpy_target import RESERVED as NUMPY_RESERVED
from gelvo.code.numpy_target import commands as as_it_is
from gelvo.code.pieces import Line, Loop, Statement
from gelvo.code.program import Program
from gelvo.code.running import PYTHON
from gelvo.code.target import Commands, Samples, Target
from gelvo.code.writer import Writer

_SAME = ("exp", "log10", "log2", "sqrt", "sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh", "tanh", "asinh", "acosh", "atanh",
         "expm1", "log1p", "erf", "erfc", "gamma")  # fmt: skip
FUNCTIONS: dict[str, str] = {n: f"math.{n}({{0}})" for n in _SAME} | {
    "ln": "math.log({0})",
    "hypot": "math.hypot({0}, {1})",
    "grouped": "({0})",
    "binade": "math.ldexp(1.0, math.frexp({0})[1] - 1)",
    "cbrt": "numpy.cbrt({0})",
    "abs": "abs({0})",
    "sign": "float(({0} > 0.0) - ({0} < 0.0))",
    "heaviside": "(0.5*(({0} > 0.0) - ({0} < 0.0)) + 0.5)",
    "floor": "numpy.floor({0})",
    "ceil": "numpy.ceil({0})",
    "atan2": "math.atan2({0}, {1})",
    "min": "min({0}, {1})",
    "max": "max({0}, {1})",
    "factorial": "math.gamma({0} + 1.0)",
    "loggamma": "math.lgamma({0})",
}
SYNTAX = {
    "pi": "math.pi", "euler_gamma": "0.5772156649015329", "catalan": "0.915965594177219", "power": "math.pow({0}, {1})",
    "nan": "math.nan", "choose": "({1} if {0} else {2})", "and": "and", "or": "or", "true": "True", "false": "False",
    "high": "{0}[0]", "low": "{0}[1]", "fused": "sum_of_products({0}, {1}, {2}, 1.0)",
}  # fmt: skip
RESERVED = NUMPY_RESERVED | frozenset("math njit numba abs min max".split())
OPENING = """try:
    from numba import njit
except ImportError:  # the same code in plain Python: slower, and an error where compiled code gives inf or nan

    def njit(**options):
        return lambda function: function"""
EITHER = """def pair_either(holds, one, other):
    return one if holds else other"""
VECTORS = "numpy.array([{0}])"
MARK = '@njit(error_model="numpy")'


PLAIN = "Stops with an ArithmeticError or a ValueError where a step has no finite value"


def files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """A module with one documented function, and its test."""
    return _files(program, name, prose, samples, MARK)


def plain_files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """The same that nothing compiles: at once ready, and faster for a few operations than a call of what is compiled."""
    return _files(program, name, [*prose, "", PLAIN], samples, "")


def _files(program: Program, name: str, prose: Sequence[str], samples: Samples, mark: str) -> dict[str, str]:
    writer, above = Writer(program, TARGET, name), [mark] if mark else []
    given, unpacked = _arguments(program, writer, bool(mark))
    results = [nested(o, values) for o, values in chunks(program.layout.outputs, writer.results)]
    arrays = [f"numpy.array({r})" if o.shape else r for o, r in zip(program.layout.outputs, results, strict=True)]
    returned = (
        listed(f"    return {result_class(name)}(", arrays, ")") if len(arrays) > 1 else python_folded(f"    return {arrays[0]}")
    )
    on_pairs = arithmetic(writer.code, "pairs.py", "\n\n\n")
    helpers = ["\n".join([*above, _of_one(block)]) for block in [*[EITHER] * bool(on_pairs), *on_pairs]]
    function = [
        *above, *folded(f"def {name}({', '.join(given)}):"), *docstring([*prose[2:], *writer.renamed], "    "), *unpacked,
        *blocks(writer.statements, "    "), *returned,
    ]  # fmt: skip
    several = structure_class(program, name, TARGET)
    below = [*several, *[line for h in helpers for line in (h, "", "")], *function]
    used = "\n".join([*helpers, writer.code, *unpacked, *returned])  # none of the text of the user
    standard = [*["import math"] * ("math." in used), *["from typing import NamedTuple"] * bool(several)]
    opening = [*standard, *[""] * bool(standard), *["import numpy"] * ("numpy." in used), *["", OPENING] * bool(mark)]
    module = [*docstring(prose[:1]), "", *opening, *["", ""] * bool(opening), *below, ""]
    return {f"{name}.py": "\n".join(module), f"test_{name}.py": test_source(name, called(program, "point", VECTORS), samples)}


def _arguments(program: Program, writer: Writer, compiled: bool) -> tuple[list[str], list[str]]:
    """(the arguments of the function, the statements that take vectors apart)."""
    given: list[str] = []
    unpacked: list[str] = []
    for (place, group), word in zip(program.layout.starts(), writer.groups, strict=True):
        own = writer.inputs[place : place + len(group.members)]
        given += own if group.kind == STRUCTURE else [word]
        if group.kind == VECTOR and compiled:
            unpacked += [f"    {local} = {word}[{k}]" for k, local in enumerate(own)]
        elif group.kind == VECTOR:  # numbers of plain Python are faster than those of arrays
            unpacked += folded(f"    {', '.join(own)}{',' * (len(own) == 1)} = numpy.asarray({word}).tolist()")
    return given, unpacked


def _of_one(block: str) -> str:
    """A function on pairs of arrays for numbers."""
    return block.replace("numpy.where(", "pair_either(").replace("numpy.isfinite(", "math.isfinite(")


def blocks(lines: Sequence[Line], pad: str) -> list[str]:
    """Statements and choices of Python for one point."""
    out: list[str] = []
    for line in lines:
        assert not isinstance(line, Loop)
        if isinstance(line, Statement):
            out += python_folded(f"{pad}{line.name} = {line.right}")
            continue
        for k, branch in enumerate(line.branches):
            out += folded(f"{pad}{'elif' if k else 'if'} {branch.condition}:" if branch.condition else f"{pad}else:")
            out += [*blocks(branch.statements, f"{pad}    "), *python_folded(f"{pad}    {line.name} = {branch.right}")]
    return out


def driver(program: Program, name: str, count: int) -> dict[str, str]:
    """A program that reads points, one a line, and prints the outputs of each; nan where plain Python has no value."""
    return {
        f"{name}_driver.py": f"""import sys

import numpy

sys.path.insert(0, ".")
from {name} import {name} as generated

for line in sys.stdin.read().splitlines()[:{count}]:
    point = [float.fromhex(word) for word in line.split()]
    try:
        values = {called(program, "point", VECTORS)}
    except (ArithmeticError, ValueError):
        values = [numpy.nan]*{len(program.outputs)}
    print(*[float(v).hex() for v in values])
"""
    }


def commands(name: str) -> Commands:
    """How the driver and the module's own test are run, each in a process of its own: compiled, and in plain Python."""
    plain = (
        "import os, sys, runpy; os.environ['NUMBA_DISABLE_JIT'] = '1'; sys.path.insert(0, '.')\n"
        f"try: runpy.run_path('test_{name}.py', run_name='__main__')\n"
        "except (ArithmeticError, ValueError): pass  # where compiled code has inf or nan on the way"
    )
    return Commands([[*PYTHON, f"{name}_driver.py"]], [[*PYTHON, "-c", plain]])


TARGET = Target("numba", FUNCTIONS, SYNTAX, RESERVED, files, driver, commands, MODULES)
PYTHON_TARGET = replace(TARGET, name="python", files=plain_files, commands=as_it_is)
