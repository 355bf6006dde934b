"""Fortran 2008: the table of functions, the module and its test program."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from gelvo.code.careful import arithmetic
from gelvo.code.layout import NUMBER, STRUCTURE, VECTOR, Output
from gelvo.code.naming import members, result_type
from gelvo.code.pieces import WIDE as WIDE_KIND
from gelvo.code.pieces import Line, Loop, Statement, names_in
from gelvo.code.program import Program, used_inputs
from gelvo.code.running import tool
from gelvo.code.target import PAIRS, Commands, Samples, Target, harmless
from gelvo.code.writer import Writer
from gelvo.errors import ExportError

_SAME = ("exp", "log10", "sqrt", "abs", "sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh", "tanh", "asinh", "acosh", "atanh",
         "erf", "erfc", "gamma")  # fmt: skip
FUNCTIONS: dict[str, str] = {n: f"{n}({{0}})" for n in _SAME} | {
    "ln": "log({0})",
    "expm1": "c_expm1({0})",
    "log1p": "c_log1p({0})",
    "hypot": "hypot({0}, {1})",
    "grouped": "({0})",
    "binade": "scale(1.0_wp, exponent(min({0}, huge({0}))) - 1)",
    "log2": "(log({0})/log(2.0_wp))",
    "cbrt": "sign(abs({0})**(1.0_wp/3.0_wp), {0})",
    "sign": "merge(0.0_wp, sign(1.0_wp, {0}), {0} == 0.0_wp)",
    "heaviside": "merge(0.5_wp, merge(1.0_wp, 0.0_wp, {0} > 0.0_wp), {0} == 0.0_wp)",
    # not by the integer that floor() gives, which ends at 9.2e18
    "floor": "(aint({0}) - merge(1.0_wp, 0.0_wp, {0} < aint({0})))",
    "ceil": "(aint({0}) + merge(1.0_wp, 0.0_wp, {0} > aint({0})))",
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
    "false": ".false.", "literal": "_wp", "differs": "/=", "high": "{0}%high", "low": "{0}%low", "fused": "sum_of_products({0}, {1}, {2}, 1.0_wp)", "wide": "real({0}, dp)",
}  # fmt: skip
SINGLE = (
    FUNCTIONS,
    SYNTAX | {"pi": "3.1415927_wp", "euler_gamma": "0.5772157_wp", "catalan": "0.91596556_wp", "narrow": "real({0}, wp)"},
)


def _in_double(table: Mapping[str, str]) -> dict[str, str]:
    return {n: text.replace("_wp", "_dp").replace("c_", "wide_") for n, text in table.items()}


WIDE = _in_double(FUNCTIONS), _in_double(SYNTAX)
FLAGS = ("-std=f2008", "-Wall", "-Wextra", "-Werror", "-Wno-compare-reals", "-Wno-unused-dummy-argument", "-O2")
RESERVED = (
    frozenset(
        (
            # statements and attributes
            "abstract allocatable allocate assign assignment associate asynchronous backspace bind block blockdata call case character class "
            "close codimension common complex concurrent contains contiguous continue critical cycle data deallocate default deferred "
            "dimension do double doubleprecision elemental else elseif elsewhere end endassociate endblock enddo endfile endforall endfunction "
            "endif endinterface endmodule endprocedure endprogram endselect endsubroutine endtype endwhere entry enum enumerator equivalence "
            "error exit extends external final flush forall format function generic go goto if implicit import impure in include inout inquire "
            "integer intent interface intrinsic is kind len lock logical module namelist none non_overridable nopass nullify only open operator "
            "optional out parameter pass pause pointer precision print private procedure program protected public pure read real recursive "
            "result return rewind rewrite save select selectcase selecttype sequence stop submodule subroutine sync target then to type "
            "unformatted unlock use value volatile wait where while write wp real64 "
            # intrinsic procedures
            "abs achar acos acosh adjustl adjustr aimag aint all allocated anint any asin asinh associated atan atan2 atanh bessel_j0 bessel_j1 "
            "bessel_jn bessel_y0 bessel_y1 bessel_yn bge bgt bit_size ble blt btest ceiling char cmplx command_argument_count conjg cos cosh "
            "count cpu_time cshift date_and_time dble digits dim dot_product dprod dshiftl dshiftr eoshift epsilon erf erfc erfc_scaled "
            "execute_command_line exp exponent extends_type_of findloc floor fraction gamma get_command get_command_argument "
            "get_environment_variable huge hypot iachar iall iand iany ibclr ibits ibset ichar ieor image_index index int ior iparity ishft ishftc "
            "iso_c_binding iso_fortran_env ieee_arithmetic ieee_value ieee_quiet_nan lbound lcobound leadz len_trim lge lgt lle llt log log10 "
            "log_gamma maskl maskr matmul max maxexponent maxloc maxval merge merge_bits min minexponent minloc minval mod modulo move_alloc "
            "mvbits nearest new_line nint norm2 not null num_images pack parity popcnt poppar present product radix random_number random_seed "
            "range rank repeat reshape rrspacing same_type_as scale scan selected_char_kind selected_int_kind selected_real_kind set_exponent "
            "shape shifta shiftl shiftr sign sin sinh size spacing spread sqrt storage_size sum system_clock tan tanh this_image tiny trailz "
            "transfer transpose trim ubound ucobound unpack verify"
        ).split()
    )
    | {"c_expm1", "c_log1p", "wide_expm1", "wide_log1p", "dp", "real32"}
    | set(PAIRS)
)
WIDTH, MOST_LINES = 98, 250  # a statement has at most 255 continuation lines of at most 132 letters
TYPES = {"pair": "type(pair)", WIDE_KIND: "real(dp)"}
OF_C = ("expm1", "log1p")  # what the C library has and Fortran has not
GENERATED = "generated_function"  # what a test calls the function, whose own name may be that of a variable there


def comment(text: str) -> list[str]:
    """Text as comment lines; a harmless line ends nowhere but where it is folded, and no directive begins like that."""
    ready = harmless(text)
    return [f"! {ready[k : k + WIDTH]}".rstrip() for k in range(0, max(len(ready), 1), WIDTH)]


def files(program: Program, name: str, prose: Sequence[str], samples: Samples) -> dict[str, str]:
    """A module with one pure procedure, and its test program."""
    writer = Writer(program, TARGET, name, ("value", "out"))  # a pure function's result is a variable too
    head = [*prose, *writer.renamed]
    return {f"{name}.f90": _module(program, name, writer, head), f"test_{name}.f90": _test(program, name, samples)}


def _module(program: Program, name: str, writer: Writer, prose: Sequence[str]) -> str:
    """A function for one number, a subroutine with out for what is more; elemental where no vector is among the arguments."""
    layout, single = program.layout, program.layout.is_number
    helpers = arithmetic(writer.code, "pairs.f90", "\n\n")
    arguments = ", ".join(writer.groups if single else [*writer.groups, "out"])
    is_elemental = layout.groups and not layout.group_of(VECTOR) and (single or len(layout.outputs) > 1)
    kind = "elemental" if is_elemental else "pure"
    head = f"  {kind} function {name}({arguments}) result(value)" if single else f"  {kind} subroutine {name}({arguments})"
    lines = [row for line in prose for row in comment(line)]
    lines += [f"module {name}_module", f"  use, intrinsic :: iso_fortran_env, only: {_kinds(program)}"]
    if "ieee" in writer.code:
        lines.append("  use, intrinsic :: ieee_arithmetic, only: ieee_value, ieee_quiet_nan")
    of_c = [(kind, word) for word in OF_C for kind in ("c", "wide") if f"{kind}_{word}(" in writer.code]
    structures = _structures(program, name, writer)
    public = [name, *[line.split()[-1] for line in structures if line.startswith("  type ::")]]
    lines += ["  implicit none", "  private", *_folded(f"  public :: {', '.join(public)}"), *structures]
    lines += [line for kind, word in of_c for line in _interface(kind, word, program.precision.is_single and kind == "c")]
    if helpers:
        lines += ["  type :: pair", "    real(wp) :: high, low", "  end type pair"]
    lines += ["contains", "", *_folded(head)]
    lines += _declared(program, name, writer)
    unpacked = _unpacked(program, writer)
    lines += [f"    real(wp) :: {word}" for word, _ in unpacked]
    lines += [f"    {TYPES.get(kind, 'real(wp)')} :: {word}" for word, kind in names_in(writer.statements)]
    lines += [line for word, right in unpacked for line in _folded(f"    {word} = {right}")]
    lines += _block(writer.statements, "    ")
    for place, right in zip(["value"] if single else _parts(program), writer.results, strict=True):
        lines += _folded(f"    {place} = {right}")
    lines += [f"  end {'function' if single else 'subroutine'} {name}", *[line for block in helpers for line in ("", block)]]
    return "\n".join([*lines, "", f"end module {name}_module", ""])


def _kinds(program: Program) -> str:
    """The kinds of numbers; a program of single precision has doubles where digits would be lost."""
    return "wp => real32, dp => real64" if program.precision.is_single else "wp => real64"


def _interface(kind: str, word: str, single: bool) -> list[str]:
    """A function of the C library."""
    number, suffix = ("c_float", "f") if single else ("c_double", "")
    return [
        "  interface", f"    pure function {kind}_{word}(x) result(value) bind(c, name='{word}{suffix}')", f"      use, intrinsic :: iso_c_binding, only: {number}",
        f"      real({number}), intent(in), value :: x", f"      real({number}) :: value", f"    end function {kind}_{word}", "  end interface",
    ]  # fmt: skip


def _declared(program: Program, name: str, writer: Writer) -> list[str]:
    """The declarations of what comes in and goes out."""
    layout = program.layout
    words = {NUMBER: "real(wp), intent(in) :: {0}", VECTOR: "real(wp), intent(in) :: {0}({1})",
             STRUCTURE: f"type({layout.parameters_type(name)}), intent(in) :: {{0}}"}  # fmt: skip
    groups = zip(layout.groups, writer.groups, strict=True)
    lines = [f"    {words[group.kind].format(word, len(group.members))}" for group, word in groups]
    if program.layout.is_number:
        return [*lines, "    real(wp) :: value"]
    if len(layout.outputs) > 1:
        return [*lines, f"    type({result_type(name)}), intent(out) :: out"]
    return [*lines, f"    real(wp), intent(out) :: out{_dimensions(layout.outputs[0])}"]


def _structures(program: Program, name: str, writer: Writer) -> list[str]:
    """The types of the parameters and of several outputs."""
    layout, lines = program.layout, list[str]()
    for place, group in layout.starts():
        if group.kind == STRUCTURE:
            own = writer.inputs[place : place + len(group.members)]
            lines += [
                f"  type :: {layout.parameters_type(name)}",
                *[f"    real(wp) :: {word}" for word in own],
                f"  end type {layout.parameters_type(name)}",
            ]
    if len(layout.outputs) > 1:
        lines.append(f"  type :: {result_type(name)}")
        lines += [f"    real(wp) :: {word}{_dimensions(o)}" for o, word in zip(layout.outputs, writer.outputs, strict=True)]
        lines.append(f"  end type {result_type(name)}")
    return lines


def _dimensions(output: Output) -> str:
    return f"({', '.join(map(str, output.shape))})" if output.shape else ""


def _unpacked(program: Program, writer: Writer) -> list[tuple[str, str]]:
    """Names for the members of vectors and structures, those that are used, and where they are."""
    used = {str(n) for n in used_inputs(program)}
    found: list[tuple[str, str]] = []
    for (place, group), word in zip(program.layout.starts(), writer.groups, strict=True):
        for k, own in enumerate(group.members):
            local = writer.inputs[place + k]
            if group.kind != NUMBER and own in used:
                found.append((local, f"{word}({k + 1})" if group.kind == VECTOR else f"{word}%{local}"))
    return found


def _parts(program: Program) -> list[str]:
    """Each number of the outputs as a part of out."""
    several = len(program.layout.outputs) > 1
    found: list[str] = []
    for output, word in zip(program.layout.outputs, members(program.layout, TARGET), strict=True):
        start = f"out%{word}" if several else "out"
        found += [f"{start}({', '.join(str(k + 1) for k in place)})" if place else start for place in output.places]
    return found


def _block(statements: Sequence[Line], pad: str) -> list[str]:
    lines: list[str] = []
    for s in statements:
        assert not isinstance(s, Loop)
        if isinstance(s, Statement):
            lines += _folded(f"{pad}{s.name} = {s.right}")
            continue
        for k, branch in enumerate(s.branches):
            opening = f"if ({branch.condition}) then" if branch.condition else ""
            lines += _folded(f"{pad}{'else ' if k else ''}{opening}".rstrip())
            lines += [*_block(branch.statements, pad + "  "), *_folded(f"{pad}  {s.name} = {branch.right}")]
        lines.append(f"{pad}end if")
    return lines


def _folded(line: str) -> list[str]:
    """A statement in lines of at most 132 letters: & at the end of one and the beginning of the next joins them as they are."""
    pieces: list[str] = []
    rest = line
    while len(rest) > WIDTH:
        cut = max(rest.rfind(mark, 40, WIDTH) for mark in (" ", "*", "/", ",")) + 1 or WIDTH
        pieces.append(rest[:cut] + "&")
        rest = "      &" + rest[cut:]
    if len(pieces) > MOST_LINES:
        raise ExportError(f"a statement of {len(line)} letters is longer than Fortran allows: use fewer inputs or outputs")
    return [*pieces, rest]


def _call(program: Program, name: str) -> list[str]:
    """The statements of a test that make found from point."""
    arguments: list[str] = []
    for place, group in program.layout.starts():
        listed = ", ".join(f"point({place + k + 1})" for k in range(len(group.members)))
        arguments.append(
            {NUMBER: listed, VECTOR: f"[{listed}]", STRUCTURE: f"{program.layout.parameters_type(name)}({listed})"}[group.kind]
        )
    if program.layout.is_number:
        return [f"found(1) = {GENERATED}({', '.join(arguments)})"]
    stored = [f"found({k + 1}) = {part}" for k, part in enumerate(_parts(program))]
    return [f"call {GENERATED}({', '.join([*arguments, 'out'])})", *stored]


def _opening(program: Program, name: str, title: str, arrays: Sequence[str]) -> list[str]:
    layout = program.layout
    sizes = [f"point({max(len(program.inputs), 1)})", *[f"{a}({len(program.outputs)})" for a in arrays]]
    types = [layout.parameters_type(name)] * bool(layout.group_of(STRUCTURE)) + [result_type(name)] * (len(layout.outputs) > 1)
    lines = [
        f"program {title}", f"  use, intrinsic :: iso_fortran_env, only: wp => {'real32' if program.precision.is_single else 'real64'}",
        *_folded(f"  use {name}_module, only: {', '.join([f'{GENERATED} => {name}', *types])}"), "  implicit none", f"  real(wp) :: {', '.join(sizes)}",
    ]  # fmt: skip
    if len(layout.outputs) > 1:
        return [*lines, f"  type({result_type(name)}) :: out"]
    return lines if program.layout.is_number else [*lines, f"  real(wp) :: out{_dimensions(layout.outputs[0])}"]


def _test(program: Program, name: str, samples: Samples) -> str:
    """A program that compares with correctly rounded values: 1 where one is off, 77 where there is nothing to compare."""
    if not samples.points:
        told = f"{name}: not checked, no point was found at which it has a real value"
        return "\n".join(
            [
                f"program test_{name}",
                "  implicit none",
                *_folded(f"  print *, '{told}'"),
                "  stop 77",
                f"end program test_{name}",
                "",
            ]
        )
    lines = [
        f"! Compares {name} with correctly rounded values: gfortran {name}.f90 test_{name}.f90",
        *_opening(program, name, f"test_{name}", ("found", "expected", "allowed")), "  logical :: wrong", "  wrong = .false.", "  point = 0.0_wp",
    ]  # fmt: skip
    call = [row for line in _call(program, name) for row in _folded(f"  {line}")]
    for point, right, bar in zip(*samples, strict=True):
        for what, row in (("point", point or [0.0]), ("expected", right), ("allowed", bar)):
            lines += _folded(f"  {what} = [{', '.join(_literal(v) for v in row)}]")
        lines += [*call, "  if (.not. all(abs(found - expected) <= allowed)) wrong = .true."]
    lines += [
        "  if (wrong) then", "    print *, 'values are off'", "    stop 1", "  end if",
        *_folded(f"  print *, '{name}: {len(samples.points)} points agree'"), f"end program test_{name}", "",
    ]  # fmt: skip
    return "\n".join(lines)


def _literal(value: float) -> str:
    return f"{float(value)!r}_wp"


def driver(program: Program, name: str, count: int) -> dict[str, str]:
    """A program that reads points, one a line, and prints the outputs of each with all digits."""
    lines = [
        *_opening(program, name, f"{name}_driver", ("found",)), "  integer :: i", f"  do i = 1, {count}", "    read (*, *) point",
        *[row for line in _call(program, name) for row in _folded(f"    {line}")],
        f"    print '({len(program.outputs)}es26.17e3)', found", "  end do",
        f"end program {name}_driver", "",
    ]  # fmt: skip
    return {f"{name}_driver.f90": "\n".join(lines)}


def commands(name: str) -> Commands:
    """How the driver and the test are built and run."""
    build = [compiler(), *FLAGS]
    return Commands(
        [[*build, "-c", f"{name}.f90"], [*build, f"{name}_driver.f90", f"{name}.o", "-o", "run_driver"], ["./run_driver"]],
        [[*build, f"test_{name}.f90", f"{name}.o", "-o", "run_test"], ["./run_test"]],
    )


def compiler() -> str:
    """The Fortran compiler, or an ExportError that says what is missing."""
    return tool("FC", ("gfortran", "flang", "ifx"), "no Fortran compiler was found: install one (gfortran)")


TARGET = Target(
    "fortran",
    FUNCTIONS,
    SYNTAX,
    RESERVED,
    files,
    driver,
    commands,
    frozenset((GENERATED,)),
    folds=True,
    longest=63,
    word=repr,
    single=SINGLE,
    wide=WIDE,
)
