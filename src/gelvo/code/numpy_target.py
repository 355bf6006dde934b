"""Python with NumPy: the table of functions, and the module."""

from __future__ import annotations

import builtins
import keyword
import re
import sys
from collections.abc import Sequence

from gelvo.code.careful import arithmetic
from gelvo.code.digits.numeric import CAREFUL, is_numeric
from gelvo.code.folding import WIDTH, folded, python_folded
from gelvo.code.layout import STRUCTURE, VECTOR, chunks
from gelvo.code.naming import members, result_class
from gelvo.code.pieces import Line, Loop, Statement
from gelvo.code.program import Program
from gelvo.code.running import PYTHON
from gelvo.code.target import PAIRS, Commands, Samples, Target, harmless
from gelvo.code.writer import Writer
from gelvo.expression.nodes import Cases
from gelvo.expression.traversal import postorder

_ONE = {
    "exp": "exp", "ln": "log", "log10": "log10", "log2": "log2", "cbrt": "cbrt", "sqrt": "sqrt", "abs": "abs", "sign": "sign",
    "floor": "floor", "ceil": "ceil", "sin": "sin", "cos": "cos", "tan": "tan", "asin": "arcsin", "acos": "arccos",
    "atan": "arctan", "sinh": "sinh", "cosh": "cosh", "tanh": "tanh", "asinh": "arcsinh", "acosh": "arccosh", "atanh": "arctanh",
}  # fmt: skip
FUNCTIONS: dict[str, str] = (
    {name: f"numpy.{target}({{0}})" for name, target in _ONE.items()}
    | {
        "expm1": "numpy.expm1({0})",
        "log1p": "numpy.log1p({0})",
        "hypot": "numpy.hypot({0}, {1})",
        "grouped": "({0})",
        "binade": "numpy.ldexp(1.0, numpy.frexp({0})[1] - 1)",
        "atan2": "numpy.arctan2({0}, {1})",
        "min": "numpy.minimum({0}, {1})",
        "max": "numpy.maximum({0}, {1})",
        "heaviside": "numpy.heaviside({0}, 0.5)",
        "gamma": "special.gamma({0})",
        "factorial": "special.gamma({0} + 1.0)",
        "loggamma": "special.gammaln({0})",
        "digamma": "special.digamma({0})",
        "binomial": "special.binom({0}, {1})",
        "erf": "special.erf({0})",
        "erfc": "special.erfc({0})",
        "beta": "special.beta({0}, {1})",
        "zeta": "special.zeta({0})",
        "lambertw": "special.lambertw({0}).real",
        "besselj": "special.jv({0}, {1})",
        "bessely": "special.yv({0}, {1})",
        "besseli": "special.iv({0}, {1})",
        "besselk": "special.kv({0}, {1})",
        "ellipk": "special.ellipk({0})",
        "airyai": "special.airy({0})[0]",
        "airyai_prime": "special.airy({0})[1]",
        "airybi": "special.airy({0})[2]",
        "airybi_prime": "special.airy({0})[3]",
        "hyp0f1": "special.hyp0f1({0}, {1})",
        "hyp1f1": "special.hyp1f1({0}, {1}, {2})",
        "hyp2f1": "special.hyp2f1({0}, {1}, {2}, {3})",
        "ellipe": "special.ellipe({0})",
        "ellipf": "special.ellipkinc({0}, {1})",
        "legendre": "special.eval_legendre({0}, {1})",
        "hermite": "(2.0**{0}*numpy.sqrt(numpy.pi)*(special.hyp1f1(-{0}/2.0, 0.5, {1}*{1})*special.rgamma((1.0 - {0})/2.0) - 2.0*{1}*special.hyp1f1((1.0 - {0})/2.0, 1.5, {1}*{1})*special.rgamma(-{0}/2.0)))",  # of any real degree
        "laguerre": "special.eval_laguerre({0}, {1})",
        "chebyt": "special.eval_chebyt({0}, {1})",
        "chebyu": "special.eval_chebyu({0}, {1})",
        "struveh": "special.struve({0}, {1})",
        "struvel": "special.modstruve({0}, {1})",
        "sphericalj": "numpy.where({1} == 0.0, numpy.where({0} == 0.0, 1.0, 0.0), numpy.sqrt(numpy.pi/2.0)*numpy.where({1} < 0.0, numpy.where({0} == numpy.rint({0}), numpy.cos(numpy.pi*{0}), numpy.nan), 1.0)*special.jv({0} + 0.5, numpy.abs({1}))/numpy.sqrt(numpy.where({1} == 0.0, 1.0, numpy.abs({1}))))",
        "sphericaly": "(numpy.sqrt(numpy.pi/2.0)*special.yv({0} + 0.5, {1})/numpy.sqrt({1}))",
        "beta_inc": "(special.beta({0}, {1})*special.betainc({0}, {1}, {2}))",
        "gamma_inc": "(special.gamma({0})*special.gammaincc({0}, {1}))",
        "ellipeinc": "special.ellipeinc({0}, {1})",
        "jacobisn": "special.ellipj({0}, {1})[0]",
        "jacobicn": "special.ellipj({0}, {1})[1]",
        "jacobidn": "special.ellipj({0}, {1})[2]",
        "jacobiam": "special.ellipj({0}, {1})[3]",
        "lambertw_lower": "special.lambertw({0}, -1).real",
        "erfi": "numpy.where(numpy.abs({0}) < 2.0, 1.1283791670955126*{0}*special.hyp1f1(0.5, 1.5, numpy.minimum({0}*{0}, 4.0)), special.erfi({0}))",  # special.erfi loses three digits near zero
        "fresnels": "special.fresnel({0})[0]",
        "fresnelc": "special.fresnel({0})[1]",
        "Shi": "special.shichi({0})[0]",
        "Chi": "special.shichi({0})[1]",
        "li": "special.expi(numpy.log({0}))",
        "polygamma": "special.polygamma({0}, {1})",
        "Ei": "special.expi({0})",
        "Si": "special.sici({0})[0]",
        "Ci": "special.sici({0})[1]",
    }
)
SYNTAX = {
    "wide": "numpy.asarray({0}, dtype=float)", "narrow": "numpy.float32({0})",
    "pi": "numpy.pi", "euler_gamma": "numpy.euler_gamma", "catalan": "0.915965594177219", "power": "numpy.power({0}, {1})",
    "nan": "numpy.nan", "choose": "numpy.where({0}, {1}, {2})", "and": "&", "or": "|", "true": "True", "false": "False",
    "high": "{0}[0]", "low": "{0}[1]", "fused": "sum_of_products({0}, {1}, {2}, 1.0)",
}  # fmt: skip
SINGLE = (FUNCTIONS | {"binade": "numpy.ldexp(numpy.float32(1.0), numpy.frexp({0})[1] - 1)"}, SYNTAX)
WHERE_ONLY = '''def where_only(condition, inside, values, outside):
    """The function inside of the values where the condition holds, the value outside elsewhere."""
    condition, outside, *values = numpy.broadcast_arrays(condition, outside, *values)
    result = numpy.array(outside)
    if numpy.any(condition):
        result[condition] = inside(*[v[condition] for v in values])
    return result[()]'''
BUILTINS = {"float": float, "tuple": tuple, "map": map, "any": any, "range": range, "len": len}  # what a function may name
RESERVED = frozenset(
    (
        "where_only",
        "out",
        "NamedTuple",
        *keyword.kwlist,
        *keyword.softkwlist,
        "numpy",
        "special",
        "result",
        "shape",
        *BUILTINS,
        *PAIRS,
    )
)
# a file of such a name would hide a module that the test, or Python itself, imports
MODULES = frozenset((*sys.stdlib_module_names, *dir(builtins), "scipy", "pytest", "conftest", "setup", "test"))


def function_source(program: Program, name: str, prose: Sequence[str] = (), named: bool = False) -> str:
    """One function; arrays broadcast, and constants take the shape of the inputs.

    named: whether several outputs come back by name.
    """
    writer = Writer(program, TARGET, name)
    number = "numpy.float32" if program.precision.is_single else "numpy.float64"
    prose, inputs = [*prose, *writer.renamed], writer.inputs
    lines = _opening(program, name, writer, prose, number)
    pad = "    "
    if any(isinstance(n, Cases) or is_numeric(n, CAREFUL) for e in program.outputs.values() for n in postorder(e)):
        # what is not chosen may be out of its domain
        lines.append('    with numpy.errstate(all="ignore"):')
        pad = "        "
    functions: list[str] = []
    lines += _block(writer.statements, pad, inputs, functions)
    lines += [
        *listed(f"{pad}result = (", writer.results, ")"),
        *_in_shape(program, inputs, number),
        *_returned(program, name, writer, named),
    ]
    helpers = arithmetic(writer.code, "pairs.py", "\n\n\n")
    return "\n\n\n".join([*helpers, *[WHERE_ONLY] * bool(functions), *functions, "\n".join(lines)]) + "\n"


def _in_shape(program: Program, inputs: Sequence[str], number: str) -> list[str]:
    """The results with the shape that all inputs have together, also those that are the same everywhere; numbers for numbers.

    The members of a vector have one shape.
    """
    layout = program.layout
    apart = [w for p, group in layout.starts() for w in inputs[p : p + (1 if group.kind == VECTOR else len(group.members))]]
    shapes = ", ".join(f"{w}.shape" for w in apart)
    plain = [f"result = tuple(map({number}, result))"] * any(not o.shape for o in layout.outputs)
    shape = ["    shape = ()"] * any(len(o.shape) > 1 for o in layout.outputs)
    if not apart:
        return [*shape, *[f"    {line}" for line in plain]]
    return [
        *shape,
        *(folded(f"    if any([{', '.join(f'{w}.ndim' for w in apart)}]):") if len(apart) > 1 else [f"    if {apart[0]}.ndim:"]),
        *folded(f"        shape = numpy.broadcast_shapes({shapes})"),
        "        result = tuple(",
        f"            v if numpy.shape(v) == shape else numpy.broadcast_to(v, shape).astype({number})",
        "            for v in result",
        "        )",
        *[part for line in plain for part in ("    else:", f"        {line}")],
    ]


def _opening(program: Program, name: str, writer: Writer, prose: Sequence[str], number: str) -> list[str]:
    """The first lines of the function, with names for the numbers that come in; number: their type."""
    layout, inputs = program.layout, writer.inputs
    given = [g for g, group in zip(writer.groups, layout.groups, strict=True) if group.kind != STRUCTURE]
    keywords = [w for p, group in layout.starts() if group.kind == STRUCTURE for w in inputs[p : p + len(group.members)]]
    in_place = ["out=None"] * (len(layout.outputs) == 1 and bool(layout.outputs[0].shape))
    lines = [*folded(f"def {name}({', '.join([*given, *keywords, *in_place])}):"), *docstring(prose, "    ")]
    for (place, group), word in zip(layout.starts(), writer.groups, strict=True):
        own = inputs[place : place + len(group.members)]
        if group.kind == VECTOR:
            lines += folded(f"    {', '.join(own)}{',' * (len(own) == 1)} = numpy.asarray({word}, dtype={number})")
        else:
            lines += [f"    {w} = {number}({w})" for w in own]
    return lines


def listed(opening: str, values: Sequence[str], closing: str) -> list[str]:
    """A literal on one line, or with one value a line."""
    line = f"{opening}{', '.join(values)}{',' * (len(values) == 1)}{closing}"
    if len(line) <= WIDTH:
        return [line]
    pad = opening[: len(opening) - len(opening.lstrip())]
    return [opening, *[part for v in values for part in folded(f"{pad}    {v},")], f"{pad}{closing}"]


def _returned(program: Program, name: str, writer: Writer, named: bool) -> list[str]:
    """What the function gives back, of the numbers in result: those of an array along its first axes."""
    outputs = program.layout.outputs
    if all(not o.shape for o in outputs):
        whole = f"{result_class(name)}(*result)" if named else "result"
        return ["    return result[0]" if len(outputs) == 1 else f"    return {whole}"]
    places = [f"result[{k}]" for k in range(len(writer.results))]
    parts: list[str] = []
    for output, own in chunks(outputs, places):
        first, last = own[0][7:-1], str(int(own[-1][7:-1]) + 1)
        rows = f"numpy.array(result[{first}:{last}])"
        parts.append(
            own[0] if not output.shape else rows if len(output.shape) == 1 else f"{rows}.reshape({output.shape} + shape)"
        )
    if len(outputs) > 1:
        return listed(f"    return {result_class(name)}(", parts, ")")
    return [
        f"    result = {parts[0]}", "    if out is None:", "        return result", "    out[...] = result", "    return out"
    ]  # fmt: skip


def structure_class(program: Program, name: str, target: Target) -> list[str]:
    """Several outputs by name."""
    if len(program.layout.outputs) == 1:
        return []
    fields = [f"    {word}: object" for word in members(program.layout, target)]
    return [f"class {result_class(name)}(NamedTuple):", f'    """The outputs of {name}."""', "", *fields, "", ""]


def _block(statements: Sequence[Line], pad: str, known: Sequence[str], functions: list[str]) -> list[str]:
    """Statements; what only some elements of an array need becomes a function of its own, called with those."""
    lines: list[str] = []
    known = list(known)
    for s in statements:
        assert not isinstance(s, Loop)
        known.append(s.name)
        if isinstance(s, Statement):
            lines += python_folded(f"{pad}{s.name} = {s.right}")
            continue
        *chosen, last = s.branches
        lines += _block(last.statements, pad, known[:-1], functions)
        value = last.right
        for branch in reversed(chosen):
            ending = python_folded(f"    result = {branch.right}")
            body = [*_block(branch.statements, "    ", known[:-1], functions), *ending, "    return result"]
            words = set(re.findall(r"[A-Za-z_]\w*", " ".join(body)))
            needed = [w for w in dict.fromkeys(known[:-1]) if w in words]
            title = f"only_{s.name}" if len(chosen) == 1 else f"only_{s.name}_{chosen.index(branch) + 1}"
            functions.append("\n".join([f"def {title}({', '.join(needed)}):", *body]))
            value = f"where_only({branch.condition}, {title}, ({', '.join(needed)}{',' * (len(needed) == 1)}), {value})"
        lines += python_folded(f"{pad}{s.name} = {value}")
    return lines


def docstring(prose: Sequence[str], pad: str = "") -> list[str]:
    """Text as a docstring: a harmless line has neither quotes nor backslashes, so nothing in it ends the string."""
    ready = [f"{pad}{harmless(line)}".rstrip() for line in prose]
    if len(ready) < 2:
        return [f'{pad}"""{line.strip()}"""' for line in ready]
    return [f'{pad}"""{ready[0].strip()}', *ready[1:], f'{pad}"""']


def files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """A module with one documented function, and its test."""
    source, several = function_source(program, name, prose[2:], named=True), structure_class(program, name, TARGET)
    imports = [
        *["from typing import NamedTuple", ""] * bool(several),
        "import numpy",
        *["from scipy import special"] * ("special." in source),
    ]
    module = "\n".join([*docstring(prose[:1]), "", *imports, "", "", *several, source])
    return {f"{name}.py": module, f"test_{name}.py": test_source(name, called(program, "point"), samples)}


def called(program: Program, point: str, vector: str = "[{0}]") -> str:
    """The list of all numbers that the function gives for a point; vector: how one is written, of its numbers."""
    arguments: list[str] = []
    for place, group in program.layout.starts():
        own = [f"{point}[{place + k}]" for k in range(len(group.members))]
        arguments += [vector.format(", ".join(own))] if group.kind == VECTOR else own
    call = f"generated({', '.join(arguments)})"
    if len(program.layout.outputs) == 1:
        return f"numpy.ravel({call})"
    return f"numpy.concatenate([numpy.ravel(part) for part in {call}])"


def test_source(name: str, call: str, samples: Samples) -> str:
    """A test that runs on its own, or with a test runner; without any point it says so instead of passing."""
    if not samples.points:
        return f'''"""{name} is not checked: no point was found at which it has a real value."""

import unittest


def test_{name}_has_the_right_values():
    raise unittest.SkipTest("not checked: no point was found at which {name} has a real value")


if __name__ == "__main__":
    print("{name}: not checked, no point was found at which it has a real value")
    raise SystemExit(77)
'''
    return f'''"""Compares {name} with correctly rounded values at sample points."""

import numpy

from {name} import {name} as generated

POINTS = {_listed(samples.points)}
EXPECTED = {_listed(samples.expected)}
ALLOWED = {_listed(samples.allowed)}


def test_{name}_has_the_right_values():
    for point, expected, allowed in zip(POINTS, EXPECTED, ALLOWED):
        found = {call}
        for value, right, bar in zip(found, expected, allowed):
            assert abs(value - right) <= bar, (point, value, right)


if __name__ == "__main__":
    test_{name}_has_the_right_values()
    print("{name}:", len(POINTS), "points agree")
'''


def _listed(rows: list[list[float]]) -> str:
    return "[\n" + "".join(f"    {row!r},\n" for row in rows) + "]"


def driver(program: Program, name: str, count: int) -> dict[str, str]:
    """A program that reads points, one a line, and prints the outputs of each."""
    call = called(program, "point")
    return {
        f"{name}_driver.py": f"""import sys

import numpy

sys.path.insert(0, ".")
from {name} import {name} as generated

numpy.seterr(all="ignore")
for line in sys.stdin.read().splitlines()[:{count}]:
    point = [float.fromhex(word) for word in line.split()]
    print(*[float(v).hex() for v in {call}])
"""
    }


def commands(name: str) -> Commands:
    """How the driver and the module's own test are run, each in a process of its own."""
    alone = f"import sys, runpy; sys.path.insert(0, '.'); runpy.run_path('test_{name}.py', run_name='__main__')"
    return Commands([[*PYTHON, f"{name}_driver.py"]], [[*PYTHON, "-c", alone]])


TARGET = Target("numpy", FUNCTIONS, SYNTAX, RESERVED, files, driver, commands, MODULES, single=SINGLE)
