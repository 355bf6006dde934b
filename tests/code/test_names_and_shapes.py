"""Generated code builds whatever the names, and however long or deep the formula; the check refuses what loses digits."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys

import pytest

import gelvo
from gelvo.code.bundle import TARGETS
from gelvo.code.naming import function_name, safe_names
from gelvo.code.program import make_program
from gelvo.code.target import Samples
from gelvo.expression.building import name as make_name
from gelvo.expression.traversal import free_names

LANGUAGES = ["numpy", pytest.param("c", marks=pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")),
             pytest.param("fortran", marks=pytest.mark.skipif(shutil.which("gfortran") is None, reason="no Fortran compiler")),
             pytest.param("javascript", marks=pytest.mark.skipif(shutil.which("node") is None, reason="no interpreter of JavaScript")),
             pytest.param("c++", marks=pytest.mark.skipif(shutil.which("c++") is None, reason="no C++ compiler")), "numba", "python"]  # fmt: skip
# all functions in one file, as one program would have them; the headers are read by a compiler of C++ too
BUILD = {
    "numpy": (".py", [[sys.executable, "-P", "all.py"]]),
    "c": (".c", [["cc", "-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", "-fsyntax-only", "all.c"], ["g++", "-Wall", "-Werror", "-fsyntax-only", "all.cc"]]),
    "fortran": (".f90", [["gfortran", "-std=f2008", "-Wall", "-Wextra", "-Werror", "-Wno-unused-dummy-argument", "-fsyntax-only", "all.f90"]]),
    "javascript": (".mjs", [["node", "--check", "all.mjs"]]),
    "c++": (".hpp", [["c++", "-std=c++17", "-Wall", "-Wextra", "-Werror", "-pedantic", "-fsyntax-only", "-x", "c++", "all.hpp"]]),
    "numba": (".py", [[sys.executable, "-P", "all.py"]]),
    "python": (".py", [[sys.executable, "-P", "all.py"]]),
}  # fmt: skip


def build(files, language, folder):
    ending, commands = BUILD[language]
    for name, text in files.items():
        (folder / name).write_text(text, encoding="utf-8")
        if language == "fortran":
            assert max(map(len, text.splitlines())) <= 132
    (folder / f"all{ending}").write_text("\n".join(t for n, t in files.items() if n.endswith(ending)), encoding="utf-8")
    (folder / "all.cc").write_text("".join(f'#include "{n}"\n' for n in files if n.endswith(".h")), encoding="utf-8")
    for command in commands:
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True)
        assert done.returncode == 0, (done.stderr + done.stdout)[:2000]


def files_of(formula, inputs, language, function):
    """The module alone: what a name can break."""
    target = TARGETS[language]
    program = make_program({function: formula}, inputs, target.functions)
    made = target.files(program, function, [function], Samples([[1.0] * len(inputs)], [[1.0]], [[1.0]]))
    return {n: t for n, t in made.items() if not n.startswith("test_")}


@pytest.mark.parametrize("language", LANGUAGES)
def test_every_reserved_word_may_be_an_input(language, tmp_path):
    """One function for each word of the table, and for each word with capitals."""
    words = sorted(
        {
            w
            for word in TARGETS[language].reserved
            for w in (word, word.upper(), word.capitalize())
            if w.isidentifier() and w.isascii()
        }
    )
    files = {}
    for k, word in enumerate(words):
        x = make_name(word)  # whatever the word: a formula text would not take each of them
        files.update(files_of(2 * x + 1, [x], language, f"f_{k}"))
    build(files, language, tmp_path)


@pytest.mark.parametrize("language", LANGUAGES)
def test_every_reserved_word_may_name_a_derivation(language, tmp_path):
    """A function is named after its file; a word that has a meaning gets an underscore."""
    target = TARGETS[language]
    words = sorted(target.reserved | target.modules)
    x = gelvo.variable("x")
    files = {}
    for word in words:
        made = function_name(word, target)
        assert made != word and made not in words
        files.update(files_of(x + 1, [x], language, made))
        with pytest.raises(gelvo.ExportError):
            gelvo.export_code("x", "x", language, word)
    build(files, language, tmp_path)


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize(
    "wanted", ["value", "drive", "found", "points", "expected", "allowed", "wrong", "i", "k", "part", "out", "typing", "math", "program", "wp", "X1", "test"]
)  # fmt: skip
def test_what_the_test_calls_its_own_is_no_clash(wanted, language):
    made = function_name(wanted, TARGETS[language])
    own = gelvo.export_code("x", "x", language, "plain", check=False).files
    if not any(re.search(rf"\b{wanted}\b", text) for name, text in own.items() if name.startswith("test_")):
        return  # the test of this language calls nothing so
    inputs = list(dict.fromkeys(["value", "found", "x", "out", "point", "numpy", wanted]))
    gelvo.export_code("+".join(f"{k + 1}*{n}^2" for k, n in enumerate(inputs)), inputs, language, made)


@pytest.mark.parametrize("language", LANGUAGES)
def test_names_are_short_enough_and_apart(language):
    long = "mass_of_the_body_number_" + "one_" * 30
    names = [long + "a", long + "b", "t", "T", "Mass", "mass", "MASS", "_x", "__y", "θ", "u3b8", "mass_", "lambda_", "lambda"]
    target = TARGETS[language]
    made = safe_names(names, target, ("f",))
    fold = str.lower if target.folds else str
    assert len({fold(m) for m in made.values()}) == len(names) and max(map(len, made.values())) <= target.longest
    e = gelvo.total([gelvo.variable(n) ** (k + 1) for k, n in enumerate(names)])
    assert gelvo.export_code(e, names, language, "f").check().passed
    with pytest.raises(gelvo.ExportError, match="letters"):
        gelvo.export_code("x", "x", language, "f" * 500)


def nested(text, times):
    e = "x"
    for k in range(times):
        e = text.format(e, k)
    return e


SHAPES = {
    "2000 terms": lambda: (gelvo.total([gelvo.variable(f"a_{k % 60}") * gelvo.variable(f"b_{k // 60}") * (k % 7 + 1) for k in range(2000)]),
                           [f"{n}_{k}" for n in "ab" for k in range(60)]),
    "200 inputs": lambda: ("+".join(f"x_{k}" for k in range(200)), [f"x_{k}" for k in range(200)]),
    "200 inputs in sevenths": lambda: ("+".join(f"{k + 1}*x_{k}/7" for k in range(200)), [f"x_{k}" for k in range(200)]),
    "300 factors": lambda: ("*".join(f"x_{k}" for k in range(300)), [f"x_{k}" for k in range(300)]),
    "200 cases": lambda: ("cases(" + ", ".join(f"{k}*x when x < {k}" for k in range(200)) + ", otherwise 0)", ["x"]),
    "200 nested cases": lambda: (nested("cases({0} + 1 when x > {1}, otherwise 2)", 200), ["x"]),
    "99 least": lambda: ("min(" + ", ".join(f"x_{k}" for k in range(99)) + ")", [f"x_{k}" for k in range(99)]),
    "40 floors": lambda: (nested("floor({0} + x/2)", 40), ["x"]),
    "long names": lambda: ("*".join(f"(length_of_the_beam_in_the_middle_{k} + 1)" for k in range(12)), [f"length_of_the_beam_in_the_middle_{k}" for k in range(12)]),
}  # fmt: skip
TOO_LARGE = ("300 factors", "2000 terms")


@pytest.mark.parametrize("language", LANGUAGES)
def test_long_and_deep_formulas_build_and_are_right(language):
    outputs, inputs = {}, []
    for k, (formula, own) in enumerate(made() for shape, made in SHAPES.items() if shape not in TOO_LARGE):
        outputs[f"f_{k}"] = formula
        inputs += [n for n in own if n not in inputs]
    outcome = gelvo.export_code(outputs, inputs, language, "quantity", check=False, given=["abs(x) < 1e6"]).check()
    assert outcome.points and outcome.passed, outcome.message


@pytest.mark.skipif(shutil.which("gfortran") is None, reason="no Fortran compiler")
@pytest.mark.parametrize("shape", TOO_LARGE)
def test_formulas_beyond_what_fortran_lets_go_on_build_too(shape):
    """Their values are beyond doubles or lose digits at most points: they are built and run."""
    formula, inputs = SHAPES[shape]()
    assert gelvo.export_code(formula, inputs, "fortran", "quantity", check=False).check().points


@pytest.mark.parametrize("language", LANGUAGES)
def test_chains_of_a_thousand_functions_build(language, tmp_path):
    e = gelvo.variable("x")
    for k in range(1000):
        e = gelvo.cos(e) + k % 3 if k % 2 else gelvo.sqrt(1 + e**2)
    build(files_of(e, [gelvo.variable("x")], language, "chain"), language, tmp_path)


WAVES = [
    "A*cos(2*pi*f*t)",
    "cos(4*pi*x)",
    "sin(2*pi*x)",
    "sin(x^20)",
    "tan(pi*x/4)",
    "A*sin(w*t + p)*exp(-c*t)",
    "cos(k*x - w*t) + cos(k*x + w*t)",
    "sin(1/x)",
]
ACCURATE = [
    *WAVES, "sqrt(x + 1) - sqrt(x)", "exp(x) - 1", "(1 + x)^y - 1", "x^3 - 6*x^2 + 11*x - 6", "ln(1 + x^2)", "(x - y)*(x + y) - x^2", "r - sqrt(r^2 - s^2)",
    "1/x - 1/(x + 1)", "cosh(x) - sinh(x)", "1 - exp(-t/T)", "exp(-a*t) - exp(-b*t)", "x*ln(x) - (x + 1)*ln(x + 1)", "sqrt(x^2 + y^2) - x",
    "cases(exp(x) - 1 when x < 1, otherwise x - 1)", "min(x, y)*(1/x - 1/(x + 1))", "x^(1/3) - (x + 1)^(1/3)", "gamma(x)", "besselj(0, x)*x", "floor(x)/2",
]  # fmt: skip


@pytest.mark.parametrize("language", [*LANGUAGES[1:], LANGUAGES[0]])
def test_right_formulas_pass_the_check(language):
    """One file of them, so that it is built once; javascript has no gamma, and besselj has no standard name in C."""
    left_out = {"numpy": (), "javascript": ("bessel", "gamma"), "numba": ("bessel",)}.get(language, ("bessel",))
    outputs = {f"f_{k}": f for k, f in enumerate(ACCURATE) if not any(word in f for word in left_out)}
    inputs = sorted({n for f in outputs.values() for n in inputs_of(gelvo.formula(f))})
    gelvo.export_code(outputs, inputs, language, "quantity", given=[f"{n} > 0" for n in inputs if n != "p"])
    if language == "javascript":
        with pytest.raises(gelvo.ExportError, match="no counterpart"):
            gelvo.export_code("gamma(x)", "x", language)


def inputs_of(e):
    return sorted(n.name for n in free_names(e))


@pytest.mark.parametrize(
    "formula", ["1 - cos(x)", "(1 - cos(x))/x^2", "x - sin(x)", "tanh(x) - x", "cos(x) - cos(x + y)", "atan(x + 1) - atan(x)"]
)
def test_a_formula_whose_digits_are_lost_is_refused_as_it_is_and_kept_in_another_form(formula):
    """The bar is the condition of the formula, however bad the algorithm is."""
    read = gelvo.formula(formula)
    with pytest.raises(gelvo.CheckFailed, match="Digits are lost there"):
        gelvo.export_code(read, inputs_of(read), digits="plain")
    bundle = gelvo.export_code(read, inputs_of(read))
    assert bundle.check().passed and 4 * bundle.digits["formula"].after < bundle.digits["formula"].before
    assert gelvo.export_code("1 - cos(x)", "x", given=["x > 1/2", "x < 3/2"]).check().passed


def test_the_condition_comes_from_the_derivative():
    from gelvo.code.accuracy import Judge

    x = gelvo.variable("x")
    for formula, place, wanted in (
        ("x^7", 3.0, 7), ("exp(x)", 20.0, 20), ("1 - cos(x)", 1e-8, 2), ("x - 1", 1.001, 1001), ("sqrt(x)", 5.0, 0.5), ("5", 1.0, 0), ("abs(x)", -2.0, 1),
    ):  # fmt: skip
        assert Judge(gelvo.formula(formula), [x]).condition([place]) == pytest.approx(wanted, rel=1e-6)
    right, allowed = Judge(gelvo.formula("cos(4*pi*x)"), [x]).at([1e8])
    assert right == 1 and 1e-15 < allowed < 1e-12  # a maximum: the rounding of x, and not the derivative there, moves the value


@pytest.mark.parametrize("language", LANGUAGES)
def test_without_a_sample_point_nothing_is_claimed(language, tmp_path):
    bundle = gelvo.export_code("sqrt(-1 - x^2)", "x", language, "nowhere", check=False)
    outcome = bundle.check()
    assert not outcome.passed and outcome.points == 0 and "not checked" in str(outcome)
    with pytest.raises(gelvo.CheckFailed, match="not checked"):
        gelvo.export_code("sqrt(-1 - x^2)", "x", language, "nowhere")
    bundle.write(tmp_path)
    commands = {
        "numpy": [sys.executable, "test_nowhere.py"], "c": ["sh", "-c", "cc test_nowhere.c -o t && ./t"],
        "fortran": ["sh", "-c", "gfortran test_nowhere.f90 -o t && ./t"], "javascript": ["node", "test_nowhere.mjs"],
        "c++": ["sh", "-c", "c++ test_nowhere.cpp -o t && ./t"], "numba": [sys.executable, "test_nowhere.py"], "python": [sys.executable, "test_nowhere.py"],
    }  # fmt: skip
    done = subprocess.run(commands[language], cwd=tmp_path, capture_output=True, text=True)
    assert done.returncode == 77 and "not checked" in done.stdout + done.stderr
    if language == "numpy":
        tried = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", "."], cwd=tmp_path, capture_output=True, text=True
        )
        assert "1 skipped" in tried.stdout


def test_an_export_that_was_not_checked_is_marked(tmp_path):
    from click.testing import CliRunner

    from gelvo.cli import main

    path = tmp_path / "day.gelvo"
    path.write_text("let f be sqrt(-1 - x^2)\nexport f as numpy\n", encoding="utf-8")
    done = CliRunner().invoke(main, ["run", str(path)])
    assert done.exit_code == 1 and "? undecided" in done.output and "not checked" in done.output
    assert (tmp_path / "day-results" / "day.py").exists()


def test_checked_code_runs_in_a_process_of_its_own(monkeypatch):
    import builtins

    imported: list[str] = []
    real = builtins.__import__
    monkeypatch.setattr(builtins, "__import__", lambda name, *rest: imported.append(name) or real(name, *rest))
    bundle = gelvo.export_code("x^2 + 1", "x", "numpy", "apart")
    assert bundle.check().passed and not any(name.startswith(("apart", "ctypes.util")) for name in [*imported, *sys.modules])


def test_numbers_that_no_double_holds_are_refused():
    for formula in ("10^400*x", "x + 10^(-400)", "x^(10^400)", "x/7^500"):
        with pytest.raises(gelvo.ExportError, match="double"):
            gelvo.export_code(formula, "x")
