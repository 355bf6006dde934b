"""What C and C++ have in common: structures, the unpacking of groups, and the programs that test and drive a function."""

from __future__ import annotations

import re
from collections.abc import Sequence

from gelvo.code.layout import NUMBER, STRUCTURE, VECTOR, Output
from gelvo.code.naming import members, result_type
from gelvo.code.program import Program, used_inputs
from gelvo.code.target import Samples, Target, harmless
from gelvo.code.writer import Writer


def comment(text: str) -> str:
    """Text for a comment: a harmless line in which no comment ends or begins."""
    return harmless(text).replace("*/", "* /").replace("/*", "/ *")


def structures(program: Program, name: str, writer: Writer, vector: str) -> list[str]:
    """The structures of the parameters and of several outputs; vector: how an array of them is declared, of its name and shape."""
    layout, lines = program.layout, list[str]()
    for place, group in layout.starts():
        if group.kind == STRUCTURE:
            own = writer.inputs[place : place + len(group.members)]
            guard = f"{layout.parameters_type(name).upper()}_DEFINED"
            lines += [f"#ifndef {guard}", f"#define {guard}"] * bool(layout.shared)
            lines += [f"struct {layout.parameters_type(name)} {{", *[f"    {number_word(program)} {word};" for word in own], "};"]
            lines += [*["#endif"] * bool(layout.shared), ""]
    if len(layout.outputs) > 1:
        lines.append(f"struct {result_type(name)} {{")
        lines += [
            f"    {declared(o, word, vector, number_word(program))};"
            for o, word in zip(layout.outputs, writer.outputs, strict=True)
        ]
        lines += ["};", ""]
    return lines


def declared(output: Output, word: str, vector: str, number: str) -> str:
    """The declaration of one output as part of a structure."""
    if not output.shape:
        return f"{number} {word}"
    if vector == "[]":
        return f"{number} {word}{''.join(f'[{n}]' for n in output.shape)}"
    return f"{array_type(output.shape, number)} {word}"


def number_word(program: Program) -> str:
    """The type of the numbers of a program."""
    return "float" if program.precision.is_single else "double"


def in_single(text: str) -> str:
    """A template with numbers of single precision.

    >>> in_single("(double)({0} > 0.0)")
    '(float)({0} > 0.0f)'
    """
    return re.sub(r"(\d\.\d+)", r"\1f", text.replace("(double)", "(float)"))


def array_type(shape: Sequence[int], number: str = "double") -> str:
    """std::array of a shape.

    >>> array_type((2, 3))
    'std::array<std::array<double, 3>, 2>'
    """
    inner = number
    for count in reversed(shape):
        inner = f"std::array<{inner}, {count}>"
    return inner


def unpacked(program: Program, writer: Writer, member: str) -> list[str]:
    """Names for the members of vectors and structures, those that are used; what is not used at all is said to be so."""
    used = {n.name for n in used_inputs(program) if hasattr(n, "name")}
    lines: list[str] = []
    for (place, group), word in zip(program.layout.starts(), writer.groups, strict=True):
        if not used & set(group.members):
            lines.append(f"    (void){word};")
            continue
        for k, own in enumerate(group.members):
            if group.kind == NUMBER or own not in used or program.inputs[place + k] in writer.read_in_place:
                continue
            local = writer.inputs[place + k]
            right = f"{word}[{k}]" if group.kind == VECTOR else f"{word}{member}{local}"
            lines.append(f"    const {number_word(program)} {local} = {right};")
    return lines


def places(program: Program, words: Sequence[str], name: str = "out", member: str = ".") -> list[str]:
    """Each number of the outputs as a place; words: what the outputs are called; member: what stands between a structure and its part."""
    several = len(program.layout.outputs) > 1
    found: list[str] = []
    for output, word in zip(program.layout.outputs, words, strict=True):
        start = f"{name}{member}{word}" if several else name
        found += [start + "".join(f"[{k}]" for k in place) for place in output.places]
    return found


def writer_for(program: Program, target: Target, name: str, member: str) -> Writer:
    """The statements of a program, those of a long one with the places of its outputs."""
    if program.layout.is_number:
        return Writer(program, target, name)
    return Writer(program, target, name, places=places(program, members(program.layout, target), member=member))


def stored(program: Program, writer: Writer, member: str) -> list[str]:
    """The statements that put the numbers into the outputs, where they are not among those before."""
    if writer.is_stored:
        return []
    where = places(program, writer.outputs, member=member)
    return [f"    {place} = {value};" for place, value in zip(where, writer.results, strict=True)]


def test_source(name: str, opening: Sequence[str], call: Sequence[str], program: Program, samples: Samples) -> str:
    """A program that compares with correctly rounded values: 1 where one is off, 77 where there is nothing to compare.

    opening: its first line and the headers; call: statements that make found[] from points[i].
    """
    count, inputs, outputs = len(samples.points), len(program.inputs), len(program.outputs)
    if not count:
        return (
            f"/* {name} is not checked: no point was found at which it has a real value. */\n#include <stdio.h>\n\n"
            f'int main(void)\n{{\n    printf("{name}: not checked, no point was found at which it has a real value\\n");\n'
            "    return 77;\n}\n"
        )
    lines = [
        *opening, "",
        f"static const {number_word(program)} points[{count}][{max(inputs, 1)}] = {_array([p or [0.0] for p in samples.points])};",
        f"static const double expected[{count}][{outputs}] = {_array(samples.expected)};",
        f"static const double allowed[{count}][{outputs}] = {_array(samples.allowed)};", "",
        "int main(void)", "{", "    int i, k, wrong = 0;", f"    for (i = 0; i < {count}; i++) {{", "        (void)points;",
        *[f"        {line}" for line in call],
        f"        for (k = 0; k < {outputs}; k++) {{",
        "            const double error = found[k] - expected[i][k];",
        "            if (!((error < 0 ? -error : error) <= allowed[i][k])) {",
        '                printf("point %d, output %d: found %.17g, expected %.17g\\n", i, k, found[k], expected[i][k]);',
        "                wrong = 1;", "            }", "        }", "    }", "    if (!wrong)",
        f'        printf("{name}: {count} points agree\\n");', "    return wrong;", "}", "",
    ]  # fmt: skip
    return "\n".join(lines)


def driver_source(name: str, opening: Sequence[str], call: Sequence[str], program: Program, count: int) -> str:
    """A program that reads points, one a line, and prints the outputs of each; call: statements that make found[] from point."""
    number, inputs, outputs = number_word(program), len(program.inputs), len(program.outputs)
    read = "%a" if program.precision.is_single else "%la"
    lines = [
        *opening, "#include <stdio.h>", "", "int main(void)", "{", "    int i, k;", f"    for (i = 0; i < {count}; i++) {{",
        f"        {number} point[{max(inputs, 1)}] = {{0.0}};", f"        for (k = 0; k < {inputs}; k++)",
        f'            if (scanf("{read}", &point[k]) != 1)', "                return 1;", "        (void)point;",
        *[f"        {line}" for line in call],
        f"        for (k = 0; k < {outputs}; k++)", '            printf("%a ", found[k]);', '        printf("\\n");', "    }",
        "    return 0;", "}", "",
    ]  # fmt: skip
    return "\n".join(lines)


def _array(rows: list[list[float]]) -> str:
    return "{\n" + ",\n".join("    {" + ", ".join(_literal(v) for v in row) + "}" for row in rows) + "\n}"


def _literal(value: float) -> str:
    return "HUGE_VAL" if value == float("inf") else repr(float(value))
