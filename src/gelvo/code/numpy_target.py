"""Python with NumPy: the table of functions, and the module."""

from __future__ import annotations

import keyword
from collections.abc import Mapping

from gelvo.code.program import Program, Writer, identifiers
from gelvo.expression.nodes import Cases
from gelvo.expression.traversal import postorder

_ONE = {
    "exp": "exp", "ln": "log", "log10": "log10", "log2": "log2", "cbrt": "cbrt", "sqrt": "sqrt", "abs": "abs", "sign": "sign",
    "floor": "floor", "ceil": "ceil", "sin": "sin", "cos": "cos", "tan": "tan", "asin": "arcsin", "acos": "arccos",
    "atan": "arctan", "sinh": "sinh", "cosh": "cosh", "tanh": "tanh", "asinh": "arcsinh", "acosh": "arccosh", "atanh": "arctanh",
}  # fmt: skip
FUNCTIONS: dict[str, str] = {name: f"numpy.{target}({{0}})" for name, target in _ONE.items()} | {
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
    "ellipe": "special.ellipe({0})",
    "lambertw_lower": "special.lambertw({0}, -1).real",
    "erfi": "special.erfi({0})",
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
SYNTAX = {
    "pi": "numpy.pi", "euler_gamma": "numpy.euler_gamma", "catalan": "0.915965594177219", "power": "numpy.power({0}, {1})",
    "nan": "numpy.nan", "choose": "numpy.where({0}, {1}, {2})", "and": "&", "or": "|", "true": "True", "false": "False",
}  # fmt: skip
HELPERS = {"numpy", "special", "result", "shape", "float", "tuple"}
RESERVED = set(keyword.kwlist) | set(keyword.softkwlist) | HELPERS


def function_source(program: Program, name: str, docstring: str = "") -> str:
    """One function; arrays broadcast, and constants take the shape of the inputs."""
    table = identifiers(program, name, RESERVED)
    writer = Writer(program, table, FUNCTIONS, SYNTAX)
    inputs = [table[n] for n in program.inputs]
    lines = [f"def {name}({', '.join(inputs)}):"]
    if docstring:
        lines.append(f'    """{docstring}"""')
    for name_in in inputs:
        lines.append(f"    {name_in} = numpy.asarray({name_in}, dtype=float)")
    shape = f"numpy.broadcast_shapes({', '.join(f'numpy.shape({i})' for i in inputs)})" if inputs else "()"
    body = [f"{target} = {right}" for target, right in writer.statements()]
    results = writer.results()
    guarded = any(isinstance(n, Cases) for e in program.outputs.values() for n in postorder(e))
    pad = "    "
    if guarded:
        # both branches are worked out by numpy.where; the one that is not chosen may be out of its domain
        lines.append('    with numpy.errstate(all="ignore"):')
        pad = "        "
    lines += [pad + line for line in body]
    whole = ", ".join(results)
    lines.append(f"{pad}result = ({whole},)")
    lines.append(f"    shape = {shape}")
    lines.append(
        "    result = tuple(v if numpy.shape(v) == shape else numpy.broadcast_to(v, shape).astype(float) for v in result)"
    )
    lines.append("    return result[0]" if len(results) == 1 else "    return result")
    return "\n".join(lines) + "\n"


def module(program: Program, name: str, documentation: Mapping[str, str]) -> str:
    """A module with one documented function."""
    lines = [f'"""{documentation["title"]}"""', "", "import numpy"]
    source = function_source(program, name, documentation["docstring"])
    if "special." in source:
        lines.append("from scipy import special")
    return "\n".join([*lines, "", "", source])


def test_module(name: str, inputs: list[list[float]], expected: list[list[float]], bars: list[list[float]]) -> str:
    """A test that runs on its own: `python test_NAME.py`, or with pytest."""
    return f'''"""Compares {name} with correctly rounded values at sample points."""

import numpy

from {name} import {name}

POINTS = {_listed(inputs)}
EXPECTED = {_listed(expected)}
ALLOWED = {_listed(bars)}


def test_{name}_has_the_right_values():
    for point, expected, allowed in zip(POINTS, EXPECTED, ALLOWED):
        found = numpy.atleast_1d({name}(*point))
        for value, right, bar in zip(found, expected, allowed):
            assert abs(value - right) <= bar, (point, value, right)


if __name__ == "__main__":
    test_{name}_has_the_right_values()
    print("{name}:", len(POINTS), "points agree")
'''


def _listed(rows: list[list[float]]) -> str:
    return "[\n" + "".join(f"    {row!r},\n" for row in rows) + "]"
