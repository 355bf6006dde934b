"""C99: the table of functions, header, source and test program."""

from __future__ import annotations

from collections.abc import Mapping

from gelvo.code.program import Program, Writer, identifiers
from gelvo.expression.nodes import Node

_SAME = ("exp", "log10", "log2", "cbrt", "sqrt", "floor", "ceil", "sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh", "tanh",
         "asinh", "acosh", "atanh", "erf", "erfc")  # fmt: skip
FUNCTIONS: dict[str, str] = {n: f"{n}({{0}})" for n in _SAME} | {
    "ln": "log({0})",
    "abs": "fabs({0})",
    "sign": "(double)(({0} > 0.0) - ({0} < 0.0))",
    "heaviside": "(0.5*(double)(({0} > 0.0) - ({0} < 0.0)) + 0.5)",
    "atan2": "atan2({0}, {1})",
    "min": "fmin({0}, {1})",
    "max": "fmax({0}, {1})",
    "gamma": "tgamma({0})",
    "factorial": "tgamma({0} + 1.0)",
    "loggamma": "lgamma({0})",
}
SYNTAX = {
    "pi": "3.141592653589793", "euler_gamma": "0.5772156649015329", "catalan": "0.915965594177219", "power": "pow({0}, {1})",
    "nan": "NAN", "choose": "({0} ? {1} : {2})", "and": "&&", "or": "||", "true": "1", "false": "0",
}  # fmt: skip
KEYWORDS = set(
    (
        "auto break case char const continue default do double else enum extern float for goto if inline int long "
        "register restrict return short signed sizeof static struct switch typedef union unsigned void volatile while "
        "_Bool _Complex _Imaginary asm typeof bool true false complex imaginary main out errno NAN INFINITY"
    ).split()
)
LIBRARY = set(
    (
        "acos asin atan atan2 ceil cos cosh exp fabs floor fmod frexp ldexp log log10 modf pow sin sinh sqrt tan tanh "
        "acosh asinh atanh cbrt copysign erf erfc exp2 expm1 fdim fma fmax fmin hypot ilogb lgamma llrint llround log1p "
        "log2 logb lrint lround nan nearbyint nextafter nexttoward remainder remquo rint round scalbln scalbn tgamma "
        "trunc j0 j1 jn y0 y1 yn gamma signgam printf puts abs labs div time clock index"
    ).split()
)
RESERVED = KEYWORDS | LIBRARY


def signature(program: Program, name: str) -> str:
    """One output is returned; several are stored in out[]."""
    table = identifiers(program, name, RESERVED)
    inputs = [f"double {table[n]}" for n in program.inputs]
    if len(program.outputs) == 1:
        return f"double {name}({', '.join(inputs) or 'void'})"
    return f"void {name}({', '.join([*inputs, f'double out[{len(program.outputs)}]'])})"


def header(program: Program, name: str, documentation: Mapping[str, str]) -> str:
    guard = f"{name.upper()}_H"
    return (
        f"/* {documentation['title']}\n *\n{_comment(documentation['docstring'])}\n */\n"
        f'#ifndef {guard}\n#define {guard}\n\n#ifdef __cplusplus\nextern "C" {{\n#endif\n\n{signature(program, name)};\n\n'
        "#ifdef __cplusplus\n}\n#endif\n\n#endif\n"
    )


def _comment(text: str) -> str:
    return "\n".join(f" * {line}".rstrip() for line in text.replace("*/", "* /").splitlines())


def source(program: Program, name: str) -> str:
    writer = Writer(program, identifiers(program, name, RESERVED), FUNCTIONS, SYNTAX)
    lines = [f'#include "{name}.h"', "", "#include <math.h>", "", signature(program, name), "{"]
    used = {n for e in program.outputs.values() for n in _names(e)}
    lines += [f"    (void){writer.names[n]};" for n in program.inputs if n not in used]
    lines += [f"    const double {target} = {right};" for target, right in writer.statements()]
    results = writer.results()
    if len(results) == 1:
        lines.append(f"    return {results[0]};")
    else:
        lines += [f"    out[{k}] = {r};" for k, r in enumerate(results)]
    return "\n".join([*lines, "}", ""])


def _names(e: object) -> list[Node]:
    from gelvo.expression.traversal import free_names

    return list(free_names(e))  # type: ignore[arg-type]


def test_program(
    program: Program, name: str, points: list[list[float]], expected: list[list[float]], bars: list[list[float]]
) -> str:
    """A program that compares with correctly rounded values and returns 1 where one is off."""
    inputs, outputs = len(program.inputs), len(program.outputs)
    arguments = [f"points[i][{k}]" for k in range(inputs)]
    if outputs == 1:
        call = f"found[0] = {name}({', '.join(arguments)});"
    else:
        call = f"{name}({', '.join([*arguments, 'found'])});"
    width = max(inputs, 1)
    return (
        f"/* Compares {name} with correctly rounded values: cc -std=c99 test_{name}.c {name}.c -lm */\n"
        f'#include "{name}.h"\n\n#include <math.h>\n#include <stdio.h>\n\n'
        f"static const double points[{len(points)}][{width}] = {_array([p or [0.0] for p in points])};\n"
        f"static const double expected[{len(points)}][{outputs}] = {_array(expected)};\n"
        f"static const double allowed[{len(points)}][{outputs}] = {_array(bars)};\n\n"
        "int main(void)\n{\n    int i, k, wrong = 0;\n"
        f"    for (i = 0; i < {len(points)}; i++) {{\n        double found[{outputs}];\n        (void)points;\n        {call}\n"
        f"        for (k = 0; k < {outputs}; k++) {{\n"
        "            if (!(fabs(found[k] - expected[i][k]) <= allowed[i][k])) {\n"
        '                printf("point %d, output %d: found %.17g, expected %.17g\\n", i, k, found[k], expected[i][k]);\n'
        "                wrong = 1;\n            }\n        }\n    }\n"
        f'    if (!wrong)\n        printf("{name}: {len(points)} points agree\\n");\n    return wrong;\n}}\n'
    )


def _array(rows: list[list[float]]) -> str:
    return "{\n" + ",\n".join("    {" + ", ".join(repr(float(v)) for v in row) + "}" for row in rows) + "\n}"
