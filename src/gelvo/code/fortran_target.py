"""Fortran 2008: the table of functions, the module and its test program."""

from __future__ import annotations

import textwrap
from collections.abc import Mapping

from gelvo.code.program import Program, Writer, identifiers
from gelvo.expression.nodes import Node

_SAME = ("exp", "log10", "sqrt", "abs", "sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh", "tanh", "asinh", "acosh", "atanh",
         "erf", "erfc", "gamma")  # fmt: skip
FUNCTIONS: dict[str, str] = {n: f"{n}({{0}})" for n in _SAME} | {
    "ln": "log({0})",
    "log2": "(log({0})/log(2.0_wp))",
    "cbrt": "sign(abs({0})**(1.0_wp/3.0_wp), {0})",
    "sign": "merge(0.0_wp, sign(1.0_wp, {0}), {0} == 0.0_wp)",
    "heaviside": "merge(0.5_wp, merge(1.0_wp, 0.0_wp, {0} > 0.0_wp), {0} == 0.0_wp)",
    "floor": "real(floor({0}, kind=selected_int_kind(18)), wp)",
    "ceil": "real(ceiling({0}, kind=selected_int_kind(18)), wp)",
    "atan2": "atan2({0}, {1})",
    "min": "min({0}, {1})",
    "max": "max({0}, {1})",
    "factorial": "gamma({0} + 1.0_wp)",
    "loggamma": "log_gamma({0})",
    "besselj": "bessel_jn(nint({0}), {1})",
    "bessely": "bessel_yn(nint({0}), {1})",
}
SYNTAX = {
    "pi": "3.141592653589793_wp", "euler_gamma": "0.5772156649015329_wp", "catalan": "0.915965594177219_wp", "power": "({0})**({1})",
    "nan": "ieee_value(0.0_wp, ieee_quiet_nan)", "choose": "merge({1}, {2}, {0})", "and": ".and.", "or": ".or.", "true": ".true.",
    "false": ".false.", "literal": "_wp", "differs": "/=",
}  # fmt: skip
RESERVED = set(
    (
        "abs acos acosh asin asinh atan atan2 atanh bessel_jn bessel_yn ceiling cos cosh erf erfc exp floor gamma log log10 "
        "log_gamma max merge min nint real selected_int_kind sign sin sinh sqrt tan tanh wp program module function subroutine end "
        "if then else do call return result use implicit none integer contains real64 pure elemental out intent in kind print stop "
        "size shape sum product scale fraction exponent index len mod modulo norm2 transpose matmul spread range precision epsilon huge "
        "tiny nearest spacing rank any all count maxval minval reshape pack unpack dot_product aint anint dble dim hypot ichar char kind "
        "logical character int bit_size digits radix set_exponent system_clock cpu_time date_and_time random_number trim repeat scan "
        "ieee_value ieee_quiet_nan interface type class allocate write read open close select case where parameter data common"
    ).split()
)
WIDTH = 118


def module(program: Program, name: str, documentation: Mapping[str, str]) -> str:
    """A module with one pure procedure: a function for one output, a subroutine with out(:) for several."""
    table = _case_blind(program, name)
    writer = Writer(program, table, FUNCTIONS, SYNTAX)
    inputs = [table[n] for n in program.inputs]
    statements = writer.statements()
    results = writer.results()
    single = len(results) == 1
    arguments = ", ".join(inputs if single else [*inputs, "out"])
    head = f"  pure function {name}({arguments}) result(value)" if single else f"  pure subroutine {name}({arguments})"
    lines = [f"! {line}".rstrip() for line in (documentation["title"], "", *documentation["docstring"].splitlines())]
    lines += [f"module {name}_module", "  use, intrinsic :: iso_fortran_env, only: wp => real64"]
    if any("ieee" in right for _, right in statements) or any("ieee" in r for r in results):
        lines.append("  use, intrinsic :: ieee_arithmetic, only: ieee_value, ieee_quiet_nan")
    lines += ["  implicit none", "  private", f"  public :: {name}", "contains", "", *_folded(head)]
    lines += [f"    real(wp), intent(in) :: {i}" for i in inputs]
    lines.append("    real(wp) :: value" if single else f"    real(wp), intent(out) :: out({len(results)})")
    lines += [f"    real(wp) :: {target}" for target, _ in statements]
    for target, right in statements:
        lines += _folded(f"    {target} = {right}")
    for k, r in enumerate(results):
        lines += _folded(f"    {'value' if single else f'out({k + 1})'} = {r}")
    kind = "function" if single else "subroutine"
    return "\n".join([*lines, f"  end {kind} {name}", "", f"end module {name}_module", ""])


def _case_blind(program: Program, name: str) -> dict[Node, str]:
    """Identifiers that stay apart where capitals do not count."""
    table = identifiers(program, name, RESERVED | {w.upper() for w in RESERVED})
    seen: dict[str, int] = {name.lower(): 1}
    result: dict[Node, str] = {}
    for key, word in table.items():
        count = seen.get(word.lower(), 0)
        seen[word.lower()] = count + 1
        result[key] = word if not count and word[0].isalpha() else f"v_{word.strip('_')}_{count}"
    return result


def _folded(line: str) -> list[str]:
    """Lines of at most 132 letters, continued with &."""
    if len(line) <= WIDTH:
        return [line]
    pieces = textwrap.wrap(line, WIDTH - 4, break_long_words=False, break_on_hyphens=False, drop_whitespace=False)
    return [
        p + " &" if k < len(pieces) - 1 else p for k, p in enumerate(("      " if k else "") + p for k, p in enumerate(pieces))
    ]


def test_program(
    program: Program, name: str, points: list[list[float]], expected: list[list[float]], bars: list[list[float]]
) -> str:
    """A program that compares with correctly rounded values and stops with 1 where one is off."""
    inputs, outputs = len(program.inputs), len(program.outputs)
    lines = [
        f"! Compares {name} with correctly rounded values: gfortran {name}.f90 test_{name}.f90", f"program test_{name}",
        "  use, intrinsic :: iso_fortran_env, only: wp => real64", f"  use {name}_module, only: {name}", "  implicit none",
        f"  real(wp) :: point({max(inputs, 1)}), found({outputs}), expected({outputs}), allowed({outputs})", "  logical :: wrong",
        "  wrong = .false.", "  point = 0.0_wp",
    ]  # fmt: skip
    arguments = [f"point({k + 1})" for k in range(inputs)]
    call = f"found(1) = {name}({', '.join(arguments)})" if outputs == 1 else f"call {name}({', '.join([*arguments, 'found'])})"
    for point, right, bar in zip(points, expected, bars, strict=True):
        for what, row in (("point", point or [0.0]), ("expected", right), ("allowed", bar)):
            lines += _folded(f"  {what} = [{', '.join(_literal(v) for v in row)}]")
        lines += _folded(f"  {call}")
        lines.append("  if (.not. all(abs(found - expected) <= allowed)) wrong = .true.")
    lines += [
        "  if (wrong) then", "    print *, 'values are off'", "    stop 1", "  end if",
        f"  print *, '{name}: {len(points)} points agree'", f"end program test_{name}", "",
    ]  # fmt: skip
    return "\n".join(lines)


def _literal(value: float) -> str:
    return f"{float(value)!r}_wp"


def driver(program: Program, name: str, count: int) -> str:
    """A program that reads points from standard input and prints the outputs with all digits."""
    inputs, outputs = len(program.inputs), len(program.outputs)
    arguments = [f"point({k + 1})" for k in range(inputs)]
    call = f"found(1) = {name}({', '.join(arguments)})" if outputs == 1 else f"call {name}({', '.join([*arguments, 'found'])})"
    lines = [
        f"program drive_{name}", "  use, intrinsic :: iso_fortran_env, only: wp => real64", f"  use {name}_module, only: {name}",
        "  implicit none", f"  real(wp) :: point({max(inputs, 1)}), found({outputs})", "  integer :: i", f"  do i = 1, {count}",
        "    read (*, *) point", *[f"  {line}" for line in _folded(f"  {call}")], f"    print '({outputs}es26.17e3)', found", "  end do",
        f"end program drive_{name}", "",
    ]  # fmt: skip
    return "\n".join(lines)
