"""JavaScript (ECMAScript 2015): the table of functions, a module and its test."""

from __future__ import annotations

import shutil
from collections.abc import Sequence

from gelvo.code.careful import arithmetic
from gelvo.code.folding import all_folded
from gelvo.code.layout import NUMBER, STRUCTURE, VECTOR, chunks, nested, row
from gelvo.code.pieces import in_braces
from gelvo.code.program import Program
from gelvo.code.target import PAIRS, Commands, Samples, Target, harmless
from gelvo.code.writer import Writer
from gelvo.errors import ExportError

_SAME = ("exp", "log10", "log2", "cbrt", "sqrt", "abs", "sign", "floor", "ceil", "sin", "cos", "tan", "asin", "acos", "atan", "sinh",
         "cosh", "tanh", "asinh", "acosh", "atanh")  # fmt: skip
FUNCTIONS: dict[str, str] = {n: f"Math.{n}({{0}})" for n in _SAME} | {
    "ln": "Math.log({0})",
    "expm1": "Math.expm1({0})",
    "log1p": "Math.log1p({0})",
    "hypot": "Math.hypot({0}, {1})",
    "grouped": "({0})",
    "binade": "(2**Math.floor(Math.log2(Number.isFinite({0}) && {0} > 0.0 ? {0} : 1.0)))",
    "heaviside": "(0.5*Math.sign({0}) + 0.5)",
    "atan2": "Math.atan2({0}, {1})",
    "min": "Math.min({0}, {1})",
    "max": "Math.max({0}, {1})",
}
SYNTAX = {
    "pi": "Math.PI", "euler_gamma": "0.5772156649015329", "catalan": "0.915965594177219", "power": "Math.pow({0}, {1})",
    "nan": "NaN", "choose": "({0} ? {1} : {2})", "and": "&&", "or": "||", "true": "true", "false": "false", "high": "{0}.high",
    "low": "{0}.low", "fused": "sum_of_products({0}, {1}, {2}, 1.0)",
}  # fmt: skip
RESERVED = frozenset(
    "arguments async await boolean break byte case catch char class const continue debugger default delete do double else enum eval "
    "export extends false final finally float for from function get goto if implements import in instanceof int interface let long "
    "native new null of package private protected public return set short static super switch synchronized this throw throws "
    "transient true try typeof undefined var void volatile while with yield Math NaN Infinity Number Object Array String globalThis "
    "isNaN isFinite parseFloat parseInt console process".split()
) | set(PAIRS)
# what the test and the driver call their own
MODULES = frozenset("generated points expected allowed found wrong readFileSync line point value row i k".split())


def comment(prose: Sequence[str]) -> list[str]:
    """Text as a comment: a harmless line in which no comment ends."""
    return ["/**", *[f" * {harmless(line).replace('*/', '* /')}".rstrip() for line in prose], " */"]


def files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """A module with one documented function, and its test."""
    writer, layout = Writer(program, TARGET, name), program.layout
    helpers = arithmetic(writer.code, "pairs.mjs", "\n\n")
    given: list[str] = []
    for (place, group), word in zip(layout.starts(), writer.groups, strict=True):
        own = writer.inputs[place : place + len(group.members)]
        given.append(
            f"{{{', '.join(own)}}}" if group.kind == STRUCTURE else f"[{', '.join(own)}]" if group.kind == VECTOR else word
        )
    results = [nested(o, values) for o, values in chunks(layout.outputs, writer.results)]
    named = [w if w == r else f"{w}: {r}" for w, r in zip(writer.outputs, results, strict=True)]
    result = results[0] if len(results) == 1 else "{\n" + "".join(f"    {part},\n" for part in named) + "  }"
    lines = [
        *comment(prose[:1]), "", *[line for block in helpers for line in (block, "")], *comment([*prose[2:], *writer.renamed]),
        f"export function {name}({', '.join(given)}) {{",
        *in_braces(writer.statements, "  ", "const", "const", "let"), f"  return {result};", "}", "",
    ]  # fmt: skip
    return {
        f"{name}.mjs": "\n".join(all_folded(lines)),
        f"test_{name}.mjs": _test(name, _called(program, writer, "point"), samples),
    }


def _called(program: Program, writer: Writer, point: str) -> str:
    """The list of all numbers that the function gives for a point."""
    arguments: list[str] = []
    for place, group in program.layout.starts():
        own = [f"{point}[{place + k}]" for k in range(len(group.members))]
        named = ", ".join(f"{word}: {value}" for word, value in zip(writer.inputs[place : place + len(own)], own, strict=True))
        arguments.append({NUMBER: own[0], VECTOR: row(own), STRUCTURE: f"{{{named}}}"}[group.kind])
    call = f"generated({', '.join(arguments)})"
    if len(program.layout.outputs) > 1:
        return f"Object.values({call}).flat(2)"
    return f"[{call}].flat(3)"


def _test(name: str, call: str, samples: Samples) -> str:
    """A program that compares with correctly rounded values: 1 where one is off, 77 where there is nothing to compare."""
    if not samples.points:
        return f'console.log("{name}: not checked, no point was found at which it has a real value");\nprocess.exitCode = 77;\n'
    return f"""// Compares {name} with correctly rounded values:  node test_{name}.mjs
import {{{name} as generated}} from "./{name}.mjs";

const points = {_listed(samples.points)};
const expected = {_listed(samples.expected)};
const allowed = {_listed(samples.allowed)};

let wrong = 0;
points.forEach((point, i) => {{
  {call}.forEach((value, k) => {{
    if (!(Math.abs(value - expected[i][k]) <= allowed[i][k])) {{
      console.log(`point ${{i}}, output ${{k}}: found ${{value}}, expected ${{expected[i][k]}}`);
      wrong = 1;
    }}
  }});
}});
if (!wrong) console.log("{name}: " + points.length + " points agree");
process.exitCode = wrong;
"""


def _listed(rows: list[list[float]]) -> str:
    return "[\n" + "".join(f"  [{', '.join(_literal(v) for v in row)}],\n" for row in rows) + "]"


def _literal(value: float) -> str:
    return "Infinity" if value == float("inf") else repr(float(value))


def driver(program: Program, name: str, count: int) -> dict[str, str]:
    """A program that reads points, one a line, and prints the outputs of each."""
    call = _called(program, Writer(program, TARGET, name), "point")
    return {
        f"{name}_driver.mjs": f"""import {{readFileSync}} from "node:fs";
import {{{name} as generated}} from "./{name}.mjs";

for (const line of readFileSync(0, "utf8").split("\\n").slice(0, {count})) {{
  const point = line.trim().split(/\\s+/).map(Number);
  console.log({call}.map((value) => value.toPrecision(17)).join(" "));
}}
"""
    }


def commands(name: str) -> Commands:
    """How the driver and the test are run."""
    node = shutil.which("node")
    if node is None:
        raise ExportError("no interpreter of JavaScript was found: install one (node), or export with check=False")
    return Commands([[node, f"{name}_driver.mjs"]], [[node, f"test_{name}.mjs"]])


TARGET = Target("javascript", FUNCTIONS, SYNTAX, RESERVED, files, driver, commands, MODULES, word=repr)
