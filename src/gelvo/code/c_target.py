"""C99: the table of functions, header, source and test program."""

from __future__ import annotations

import re
import subprocess
import tempfile
from collections.abc import Sequence
from functools import cache
from pathlib import Path

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
from gelvo.code.careful import arithmetic
from gelvo.code.folding import all_folded, folded
from gelvo.code.layout import NUMBER, STRUCTURE, VECTOR
from gelvo.code.naming import members, result_type, safe_names
from gelvo.code.pieces import in_braces
from gelvo.code.program import Program
from gelvo.code.running import tool
from gelvo.code.target import PAIRS, Commands, Samples, Target
from gelvo.code.writer import Writer

_SAME = ("exp", "log10", "log2", "cbrt", "sqrt", "floor", "ceil", "sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh", "tanh",
         "asinh", "acosh", "atanh", "erf", "erfc")  # fmt: skip
FUNCTIONS: dict[str, str] = {n: f"{n}({{0}})" for n in _SAME} | {
    "ln": "log({0})",
    "expm1": "expm1({0})",
    "log1p": "log1p({0})",
    "hypot": "hypot({0}, {1})",
    "grouped": "({0})",
    "binade": "ldexp(1.0, ilogb(isfinite({0}) && {0} > 0.0 ? {0} : 1.0))",
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
    "nan": "NAN", "choose": "({0} ? {1} : {2})", "and": "&&", "or": "||", "true": "1", "false": "0", "high": "{0}.high", "low": "{0}.low", "fused": "fma({0}, {1}, {2})",
    "wide": "(double){0}", "narrow": "(float)({0})",
}  # fmt: skip
SINGLE = (
    {n: in_single(re.sub(r"\b(?!isfinite)([a-z]\w*)\(", r"\1f(", text)) for n, text in FUNCTIONS.items()},
    SYNTAX | {"pi": "3.1415927f", "euler_gamma": "0.5772157f", "catalan": "0.91596556f", "power": "powf({0}, {1})", "literal": "f"},
)  # fmt: skip
FLAGS = ("-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Wshadow", "-Werror", "-pedantic", "-O2", "-ffp-contract=off")
SANITIZERS = ("-fsanitize=address,undefined", "-fno-sanitize-recover=all")
RESERVED = frozenset(
    (
        # C, and what later standards of C added
        "auto break case char const continue default do double else enum extern float for goto if inline int long register restrict "
        "return short signed sizeof static struct switch typedef union unsigned void volatile while asm fortran alignas alignof "
        "constexpr nullptr static_assert thread_local typeof typeof_unqual bool true false complex imaginary noreturn main "
        # C++, in which the header can be read too
        "and and_eq bitand bitor catch char8_t char16_t char32_t class co_await co_return co_yield compl concept const_cast consteval "
        "constinit decltype delete dynamic_cast explicit export final friend import module mutable namespace new noexcept not not_eq "
        "operator or or_eq override private protected public reinterpret_cast requires static_cast template this throw try typeid "
        "typename using virtual wchar_t xor xor_eq std "
        # macros and functions of the headers
        "NAN INFINITY HUGE_VAL HUGE_VALF HUGE_VALL NULL EOF BUFSIZ FILENAME_MAX RAND_MAX CHAR_BIT errno EDOM ERANGE stdin stdout stderr "
        "assert offsetof I DOMAIN SING OVERFLOW UNDERFLOW PLOSS TLOSS FP_NAN FP_INFINITE FP_ZERO FP_SUBNORMAL FP_NORMAL FP_FAST_FMA "
        "FP_ILOGB0 FP_ILOGBNAN MATH_ERRNO MATH_ERREXCEPT math_errhandling M_E M_LOG2E M_LOG10E M_LN2 M_LN10 M_PI M_PI_2 M_PI_4 M_1_PI "
        "M_2_PI M_2_SQRTPI M_SQRT2 M_SQRT1_2 MAXFLOAT fpclassify isfinite isinf isnan isnormal signbit isgreater isgreaterequal isless "
        "islessequal islessgreater isunordered unix linux i386 vax sun hpux bsd near far huge pascal cdecl small interface min max TRUE "
        "FALSE IN OUT OPTIONAL CONST ERROR major minor makedev FILE fpos_t size_t float_t double_t div_t va_list "
        "acos asin atan atan2 ceil cos cosh exp fabs floor fmod frexp ldexp log log10 modf pow sin sinh sqrt tan tanh acosh asinh atanh "
        "cbrt copysign erf erfc exp2 expm1 fdim fma fmax fmin hypot ilogb lgamma llrint llround log1p log2 logb lrint lround nan nearbyint "
        "nextafter nexttoward remainder remquo rint round scalbln scalbn tgamma trunc j0 j1 jn y0 y1 yn gamma signgam scalb significand "
        "drem finite exp10 pow10 sincos printf puts putc getc putchar getchar scanf remove rename abs labs div ldiv time clock index "
        "rindex exit abort out"
    ).split()
) | set(PAIRS)
# what the test and the driver call their own, and the C library its functions
MODULES = frozenset(
    "points point parameters error expected allowed found wrong i k read write open close link unlink access wait kill signal select send recv bind listen "
    "accept connect system getenv malloc free calloc realloc qsort bsearch rand srand atof atoi strtod memcpy memset strlen strcpy".split()
)


# what keeps the order of the operations, and with it the digits
BUILD = ("", "Build it without -ffast-math, and with -ffp-contract=off, as it was checked.")


def signature(program: Program, name: str, writer: Writer) -> str:
    """One number is returned; a vector or a matrix is stored in out[], several outputs in a structure."""
    words = {
        NUMBER: f"{number_word(program)} {{0}}",
        VECTOR: f"const {number_word(program)} {{0}}[{{1}}]",
        STRUCTURE: f"const struct {program.layout.parameters_type(name)} *{{0}}",
    }
    layout = program.layout
    listed = [words[g.kind].format(word, len(g.members)) for g, word in zip(layout.groups, writer.groups, strict=True)]
    if len(layout.outputs) > 1:
        return f"void {name}({', '.join([*listed, f'struct {result_type(name)} *out'])})"
    if layout.outputs[0].shape:
        return f"void {name}({', '.join([*listed, declared(layout.outputs[0], 'out', '[]', number_word(program))])})"
    return f"{number_word(program)} {name}({', '.join(listed) or 'void'})"


def array_name(name: str) -> str:
    """What the function for arrays is called."""
    return f"{name}_array"


class _Loop:
    """The names in the function for arrays: none of them is an input."""

    def __init__(self, program: Program, name: str, inputs: Sequence[str]) -> None:
        count = len(program.outputs)
        outputs = [f"out_{k + 1}" for k in range(count)] if count > 1 else ["result"]  # no words of the user
        given = safe_names(["count", "index", "values", *outputs], TARGET, (name, array_name(name), *inputs))
        self._number = number_word(program)
        self.count, self.index, self.values, *self.outputs = given.values()

    def signature(self, name: str, inputs: Sequence[str], qualifier: str = "", fixed: Sequence[str] = ()) -> str:
        """One array an input and one an output; in the source they are said not to overlap. fixed: inputs that are one number."""
        taken = [f"{self._number} {i}" if i in fixed else f"const {self._number} *{qualifier}{i}" for i in inputs]
        given = [f"{self._number} *{qualifier}{o}" for o in self.outputs]
        return f"void {name}(size_t {self.count}, {', '.join([*taken, *given])})"


def array_function(
    program: Program, name: str, inputs: Sequence[str], words: Sequence[str], title: str, fixed: Sequence[str] = ()
) -> list[str]:
    """The loop over all elements; it holds nothing that keeps a compiler from working on several at a time."""
    loop = _Loop(program, name, inputs)
    call = f"{name}({', '.join(i if i in fixed else f'{i}[{loop.index}]' for i in inputs)}"
    lines = ["", loop.signature(title, inputs, "restrict ", fixed), "{", f"    size_t {loop.index};"]
    lines.append(f"    for ({loop.index} = 0; {loop.index} < {loop.count}; {loop.index}++) {{")
    if len(program.outputs) == 1:
        lines.append(f"        {loop.outputs[0]}[{loop.index}] = {call});")
    else:
        lines.append(f"        struct {result_type(name)} {loop.values};")
        lines.append(f"        {call}{', ' * bool(inputs)}&{loop.values});")
        lines += [f"        {o}[{loop.index}] = {loop.values}.{m};" for o, m in zip(loop.outputs, words, strict=True)]
    return [*lines, "    }", "}"]


def files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """Header, source and test program."""
    writer = writer_for(program, TARGET, name, "->")
    head, guard = signature(program, name, writer), f"{name.upper()}_H"
    prose = [*prose, *writer.renamed, *BUILD]
    lines = [f"/* {comment(prose[0])}", *[f" * {comment(line)}".rstrip() for line in prose[1:]], " */"]
    loop: list[str] = []
    if program.layout.is_plain:
        loop = ["/* the same for arrays of a length; none may overlap another */"]
        loop += folded(f"{_Loop(program, name, writer.inputs).signature(array_name(name), writer.inputs)};")
    header = "\n".join([
        *lines, f"#ifndef {guard}", f"#define {guard}", "", "#ifdef __cplusplus", 'extern "C" {', "#endif", "",
        *["#include <stddef.h>", ""] * bool(loop), *structures(program, name, writer, "[]"), *folded(f"{head};"), *loop, "",
        "#ifdef __cplusplus", "}", "#endif", "", "#endif", "",
    ])  # fmt: skip
    call = _call(program, name, "points[i]")
    opening = [
        f"/* Compares {name} with correctly rounded values: cc -std=c99 test_{name}.c {name}.c -lm */",
        f'#include "{name}.h"', "", "#include <math.h>", "#include <stdio.h>",
    ]  # fmt: skip
    return {
        f"{name}.c": _source(program, name, writer, head),
        f"{name}.h": header,
        f"test_{name}.c": test_source(name, opening, call, program, samples),
    }


def _source(program: Program, name: str, writer: Writer, head: str) -> str:
    helpers = arithmetic(writer.code, "pairs.c", "\n\n")
    lines = [f'#include "{name}.h"', "", "#include <math.h>", "", *[line for block in helpers for line in (block, "")], head, "{"]
    lines += unpacked(program, writer, "->")
    lines += in_braces(writer.statements, "    ", f"const {number_word(program)}", "const pair", number_word(program))
    lines += [f"    return {writer.results[0]};"] if program.layout.is_number else stored(program, writer, "->")
    lines.append("}")
    if program.layout.is_plain:
        lines += array_function(program, name, writer.inputs, writer.outputs, array_name(name))
    return "\n".join(all_folded([*lines, ""]))


def _call(program: Program, name: str, point: str) -> list[str]:
    """The statements of a test that make found[] from a point."""
    lines, arguments, layout = list[str](), list[str](), program.layout
    for place, group in layout.starts():
        if group.kind == STRUCTURE:
            listed = ", ".join(f"{point}[{place + k}]" for k in range(len(group.members)))
            lines.append(f"const struct {program.layout.parameters_type(name)} parameters = {{{listed}}};")
        words = {NUMBER: f"{point}[{place}]", VECTOR: f"&{point}[{place}]", STRUCTURE: "&parameters"}
        arguments.append(words[group.kind])
    if program.layout.is_number:
        return [*lines, f"const {number_word(program)} found[1] = {{{name}({', '.join(arguments)})}};"]
    several = len(layout.outputs) > 1
    lines.append(
        f"struct {result_type(name)} out;" if several else f"{declared(layout.outputs[0], 'out', '[]', number_word(program))};"
    )
    lines.append(f"{name}({', '.join([*arguments, '&out' if several else 'out'])});")
    return [*lines, f"const {number_word(program)} found[] = {{{', '.join(places(program, members(program.layout, TARGET)))}}};"]


def driver(program: Program, name: str, count: int) -> dict[str, str]:
    """A program that reads points, one a line, and prints the outputs of each."""
    call = _call(program, name, "point")
    opening = [f'#include "{name}.h"', ""]
    return {f"{name}_driver.c": driver_source(name, opening, call, program, count)}


def commands(name: str) -> Commands:
    """How the driver and the test are built and run; the test with what finds undefined behaviour, where the compiler has that."""
    build = [compiler(), *FLAGS]
    careful = [*build, *sanitizers(build[0])]
    return Commands(
        [[*build, "-c", f"{name}.c"], [*build, f"{name}_driver.c", f"{name}.o", "-o", "run_driver", "-lm"], ["./run_driver"]],
        [[*careful, f"test_{name}.c", f"{name}.c", "-o", "run_test", "-lm"], ["./run_test"]],
    )


@cache
def sanitizers(program: str) -> tuple[str, ...]:
    """The flags for reads and writes out of place and undefined behaviour, () where a program built with them does not run."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "empty.c"
        source.write_text("int main(void) { return 0; }\n", encoding="utf-8")
        try:
            subprocess.run(
                [program, *SANITIZERS, source.name, "-o", "empty"], cwd=folder, check=True, capture_output=True, timeout=60
            )
            subprocess.run([f"{folder}/empty"], check=True, capture_output=True, timeout=60)
        except (OSError, subprocess.SubprocessError):
            return ()
    return SANITIZERS


def compiler() -> str:
    """The C compiler, or an ExportError that says what is missing."""
    return tool("CC", ("cc", "gcc", "clang"), "no C compiler was found: install one (cc)")


TARGET = Target("c", FUNCTIONS, SYNTAX, RESERVED, files, driver, commands, MODULES, single=SINGLE, has_loops=True)
