"""C++17: a header with one inline function, arrays of the standard library, and a test program."""

from __future__ import annotations

import re
from collections.abc import Sequence

from gelvo.code.c_family import (
    comment,
    declared,
    driver_source,
    in_single,
    number_word,
    places,
    stored,
    structures,
    test_source,
    unpacked,
    writer_for,
)
from gelvo.code.c_target import BUILD, sanitizers
from gelvo.code.c_target import FLAGS as C_FLAGS
from gelvo.code.c_target import FUNCTIONS as C_FUNCTIONS
from gelvo.code.c_target import MODULES as C_MODULES
from gelvo.code.c_target import RESERVED as C_RESERVED
from gelvo.code.c_target import SINGLE as C_SINGLE
from gelvo.code.c_target import SYNTAX as C_SYNTAX
from gelvo.code.careful import arithmetic
from gelvo.code.folding import all_folded, folded
from gelvo.code.layout import NUMBER, STRUCTURE, VECTOR
from gelvo.code.naming import members, result_type
from gelvo.code.pieces import in_braces
from gelvo.code.program import Program
from gelvo.code.running import tool
from gelvo.code.target import Commands, Samples, Target
from gelvo.code.writer import Writer

FUNCTIONS = {name: re.sub(r"\b([a-z]\w*)\(", r"std::\1(", text) for name, text in C_FUNCTIONS.items()} | {
    "beta": "std::beta({0}, {1})",
    "zeta": "std::riemann_zeta({0})",
    "ellipk": "std::comp_ellint_1(std::sqrt({0}))",
    "ellipe": "std::comp_ellint_2(std::sqrt({0}))",
}
SYNTAX = C_SYNTAX | {
    "power": "std::pow({0}, {1})", "nan": "std::numeric_limits<double>::quiet_NaN()", "true": "true", "false": "false",
    "wide": "static_cast<double>({0})", "narrow": "static_cast<float>({0})",
}  # fmt: skip
SINGLE = (
    {name: in_single(text) for name, text in FUNCTIONS.items()},
    SYNTAX | {n: C_SINGLE[1][n] for n in ("pi", "euler_gamma", "catalan", "literal")} | {
        "nan": "std::numeric_limits<float>::quiet_NaN()",
    },
)  # fmt: skip
FLAGS = ("-std=c++17", *C_FLAGS[1:])
RESERVED = C_RESERVED | frozenset("nullptr thread_local wchar_t concept requires array numeric_limits".split())


def files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """A header that holds all, and its test program."""
    writer, guard = writer_for(program, TARGET, name, "."), f"{name.upper()}_HPP"
    helpers = arithmetic(writer.code, "pairs.c", "\n\n")
    shown = [*prose, *writer.renamed, *BUILD]
    declaration = [f"    {_result(program, name)} out;"]
    lines = [
        f"/* {comment(shown[0])}", *[f" * {comment(line)}".rstrip() for line in shown[1:]], " */", f"#ifndef {guard}", f"#define {guard}", "",
        "#include <array>", "#include <cmath>", "#include <limits>", "", *structures(program, name, writer, "std"),
        *[line for block in helpers for line in (_in_cpp(block), "")], *folded(_signature(program, name, writer)), "{",
        *unpacked(program, writer, "."), *declaration * writer.is_stored, *in_braces(writer.statements, "    ", f"const {number_word(program)}", "const pair", number_word(program)),
    ]  # fmt: skip
    if program.layout.is_number:
        lines.append(f"    return {writer.results[0]};")
    else:
        lines += [*declaration * (not writer.is_stored), *stored(program, writer, "."), "    return out;"]
    opening = [
        f"/* Compares {name} with correctly rounded values: c++ -std=c++17 test_{name}.cpp */", f'#include "{name}.hpp"', "", "#include <cstdio>",
        "using std::printf;",
    ]  # fmt: skip
    call = _call(program, name, "points[i]")
    return {
        f"{name}.hpp": "\n".join(all_folded([*lines, "}", "", "#endif", ""])),
        f"test_{name}.cpp": test_source(name, opening, call, program, samples),
    }


def _in_cpp(block: str) -> str:
    """A function on pairs: what is static in one source is inline in a header."""
    text = re.sub(r"^static ", "inline ", block, flags=re.MULTILINE)
    return re.sub(
        r"(?<![\w:])(fabs|floor|sqrt|rint|fma|isfinite|ldexp|frexp|exp|log|sin|cos|atan2|hypot|fmin|fmax)\(", r"std::\1(", text
    )


def _result(program: Program, name: str) -> str:
    """The type of what the function returns."""
    outputs = program.layout.outputs
    return result_type(name) if len(outputs) > 1 else declared(outputs[0], "", "std", number_word(program)).strip()


def _signature(program: Program, name: str, writer: Writer) -> str:
    words = {
        NUMBER: f"{number_word(program)} {{0}}",
        VECTOR: f"const std::array<{number_word(program)}, {{1}}>& {{0}}",
        STRUCTURE: f"const {program.layout.parameters_type(name)}& {{0}}",
    }
    groups = zip(program.layout.groups, writer.groups, strict=True)
    return (
        f"inline {_result(program, name)} {name}({', '.join(words[g.kind].format(word, len(g.members)) for g, word in groups)})"
    )


def _call(program: Program, name: str, point: str) -> list[str]:
    """The statements of a test that make found[] from a point."""
    arguments: list[str] = []
    for place, group in program.layout.starts():
        own = ", ".join(f"{point}[{place + k}]" for k in range(len(group.members)))
        arguments.append({NUMBER: own, VECTOR: f"{{{{{own}}}}}", STRUCTURE: f"{{{own}}}"}[group.kind])
    parts = ", ".join(places(program, members(program.layout, TARGET)))
    return [f"const auto out = {name}({', '.join(arguments)});", f"const {number_word(program)} found[] = {{{parts}}};"]


def driver(program: Program, name: str, count: int) -> dict[str, str]:
    """A program that reads points, one a line, and prints the outputs of each."""
    call = _call(program, name, "point")
    opening = [f'#include "{name}.hpp"', ""]
    return {f"{name}_driver.cpp": driver_source(name, opening, call, program, count)}


def commands(name: str) -> Commands:
    """How the driver and the test are built and run."""
    build = [compiler(), *FLAGS]
    return Commands(
        [[*build, f"{name}_driver.cpp", "-o", "run_driver", "-lm"], ["./run_driver"]],
        [[*build, *sanitizers(build[0]), f"test_{name}.cpp", "-o", "run_test", "-lm"], ["./run_test"]],
    )


def compiler() -> str:
    """The C++ compiler, or an ExportError that says what is missing."""
    return tool("CXX", ("c++", "g++", "clang++"), "no C++ compiler was found: install one (g++)")


TARGET = Target("c++", FUNCTIONS, SYNTAX, RESERVED, files, driver, commands, C_MODULES, single=SINGLE, has_loops=True)
