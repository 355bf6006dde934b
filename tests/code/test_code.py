"""Generated code: clean, right to the last places, and never in conflict with the user's names."""

from __future__ import annotations

import shutil
import subprocess
import sys
import warnings

import numpy
import pytest

import gelvo
from gelvo.code.c_target import FLAGS
from gelvo.files import write_file

needs_c = pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")
FORMULAS = [
    ("x^2 + 1", ["x"]),
    ("a*x^3 - x/3", ["x", "a"]),
    ("sin(x)*exp(-x^2)/(1 + x^2)", ["x"]),
    ("sqrt(x^2 + y^2) + atan2(y, x)", ["x", "y"]),
    ("ln(1 + x^2)*tanh(x) - cosh(x)/7", ["x"]),
    ("x^(1/3) + x^(3/2) + x^(-5/2)", ["x"]),
    ("abs(x) + sign(x) + floor(x) + ceil(x)", ["x"]),
    ("min(x, y, 2) + max(x, y)", ["x", "y"]),
    ("cases(sqrt(x) when x > 0, x^2 when x < -1, otherwise 0)", ["x"]),
    ("cases(ln(x) when x > 0 and x < 5, otherwise -1)", ["x"]),
    ("sec(x) + cot(x) + asinh(x) + acot(x)", ["x"]),
    ("erf(x) + erfc(x) + gamma(x^2 + 1)", ["x"]),
    ("log10(x^2 + 1) + log2(x^2 + 2) + cbrt(x)", ["x"]),
    ("x^y", ["x", "y"]),
    ("2^x*3^(-x)", ["x"]),
    ("pi*r^2", ["r"]),
    ("3", []),
    ("x", ["x", "unused"]),
    ("exp(x) - exp(x)*x + exp(x)^2", ["x"]),
    ("heaviside(x)*x", ["x"]),
    ("1/(1/x + 1/y)", ["x", "y"]),
    ("-x/2 - 1/8", ["x"]),
    ("(x + y)^4/(x - y)^3", ["x", "y"]),
]


@pytest.mark.parametrize(("formula", "inputs"), FORMULAS, ids=[f[0] for f in FORMULAS])
def test_exported_code_proves_its_accuracy(formula, inputs):
    outcome = gelvo.export_code(formula, inputs, "numpy", "quantity", check=False).check()
    assert outcome.passed, outcome.message
    assert outcome.points >= 1
    assert set(outcome.worst_ulp) == {"quantity"}


@needs_c
def test_exported_c_code_proves_its_accuracy():
    """All of them in one file, which is built once."""
    outputs = {f"f_{k}": formula for k, (formula, _) in enumerate(FORMULAS)}
    inputs = sorted({name for _, own in FORMULAS for name in own})
    outcome = gelvo.export_code(outputs, inputs, "c", "quantity", given=["x > 0", "y > 0", "r > 0"], check=False).check()
    assert outcome.passed and outcome.points >= 12, outcome.message
    assert set(outcome.worst_ulp) == set(outputs)


AWKWARD = [
    "lambda",
    "double",
    "theta_1",
    "numpy",
    "part1",
    "out",
    "sinf",
    "result",
    "def",
    "while",
    "pow",
    "float",
    "expf",
    "quantity",
]


@pytest.mark.parametrize("language", ["numpy", pytest.param("c", marks=needs_c)])
def test_names_of_the_user_never_clash(language):
    names = [gelvo.variable(n) for n in AWKWARD]
    e = gelvo.total([k * n * gelvo.exp(n) ** 2 for k, n in enumerate(names, start=1)]) + gelvo.sin(names[0]) * gelvo.exp(names[0])
    bundle = gelvo.export_code(e, names, language, "quantity", check=False)
    assert bundle.check().passed
    assert gelvo.export_code("θ + ω*λ", ["θ", "ω", "λ"], language, "greek", check=False).check().passed


@needs_c
def test_several_outputs_share_their_parts(tmp_path):
    outputs = {"place": "a*exp(-c*t)*cos(w*t)", "speed": "-a*exp(-c*t)*(c*cos(w*t) + w*sin(w*t))"}
    bundle = gelvo.export_code(outputs, ["t", "a", "c", "w"], "c", "motion", units={"t": "s", "place": 'm" */ #error'})
    source = bundle.files["motion.c"]
    assert source.count("exp(") == 1 and source.count("cos(") == 1
    assert "t in s" in bundle.files["motion.h"] and bundle.files["motion.h"].count("*/") == 2
    paths = bundle.write(tmp_path)
    assert {p.name for p in paths} == {"motion.c", "motion.h", "test_motion.c"}
    subprocess.run(["cc", *FLAGS, "test_motion.c", "motion.c", "-o", "run", "-lm"], cwd=tmp_path, check=True)
    done = subprocess.run(["./run"], cwd=tmp_path, capture_output=True, text=True)
    assert done.returncode == 0 and "points agree" in done.stdout
    broken = source.replace("out->speed = ", "out->speed = 1e-9 + ")
    (tmp_path / "motion.c").write_text(broken)
    subprocess.run(["cc", *FLAGS, "test_motion.c", "motion.c", "-o", "run", "-lm"], cwd=tmp_path, check=True)
    assert subprocess.run(["./run"], cwd=tmp_path, capture_output=True).returncode == 1


def test_the_numpy_module_runs_alone(tmp_path):
    bundle = gelvo.export_code("x^2*erf(x)", ["x"], "numpy", "curve")
    bundle.write(tmp_path)
    done = subprocess.run([sys.executable, "test_curve.py"], cwd=tmp_path, capture_output=True, text=True)
    assert done.returncode == 0 and "points agree" in done.stdout
    assert "gelvo" not in bundle.files["curve.py"].replace("made by Gelvo", "")


def test_a_bundle_whose_check_fails_raises(monkeypatch):
    from gelvo.code import numpy_target

    monkeypatch.setitem(numpy_target.FUNCTIONS, "sin", "numpy.cos({0})")
    with pytest.raises(gelvo.CheckFailed, match="is right"):
        gelvo.export_code("sin(x)", ["x"], "numpy", "wrong", digits="plain")
    assert gelvo.export_code("sin(x)", ["x"], "numpy", "wrong", check=False, digits="plain").check().passed is False


@pytest.mark.parametrize(
    ("outputs", "inputs", "options", "said"),
    [
        ("x + y", ["x"], {}, "depends on y"),
        ("integral_of(exp(sin(x)), x, 0, a)", ["a"], {}, "no numeric code"),
        ("gamma(1j*x)", ["x"], {}, "complex"),
        ("x", ["x"], {"language": "cobol"}, "target language"),
        ("x", ["x"], {"name": "for"}, "name of a function"),
        ("x", ["x"], {"name": "a b"}, "name of a function"),
        ("digamma(x)", ["x"], {"language": "c"}, "no counterpart"),
    ],
)
def test_what_cannot_be_exported_is_told(outputs, inputs, options, said):
    with pytest.raises(gelvo.ExportError, match=said):
        gelvo.export_code(outputs, inputs, **options)


class TestNumericFunction:
    def test_arrays_broadcast_and_constants_take_the_shape(self):
        function = gelvo.numeric_function("3*a", ["a", "b"])
        assert function(1, numpy.zeros((2, 3))).shape == (2, 3)
        assert function([1, 2], 0).tolist() == [3.0, 6.0]
        constant = gelvo.numeric_function("7", ["x"])
        assert constant(numpy.zeros(4)).tolist() == [7.0] * 4
        assert float(constant(1.0)) == 7.0

    def test_the_wrong_branch_gives_no_warning(self):
        function = gelvo.numeric_function("cases(sqrt(x) when x > 0, otherwise 0)", "x")
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            assert function(numpy.array([-1.0, 4.0])).tolist() == [0.0, 2.0]

    def test_several_outputs(self):
        a, b = gelvo.numeric_function(["x + 1", "x^2"], ["x"])(numpy.array([1.0, 2.0]))
        assert a.tolist() == [2.0, 3.0] and b.tolist() == [1.0, 4.0]

    def test_names_of_numpy_and_python_may_be_used(self):
        assert float(gelvo.numeric_function("numpy + lambda", ["numpy", "lambda"])(1, 2)) == 3.0

    def test_the_right_values_for_a_grid(self):
        t = numpy.linspace(0, 10, 1001)
        function = gelvo.numeric_function("exp(-t/5)*cos(3*t)", ["t"])
        assert numpy.allclose(function(t), numpy.exp(-t / 5) * numpy.cos(3 * t), rtol=1e-14)

    def test_integers_are_taken_as_numbers(self):
        assert gelvo.numeric_function("x/2", ["x"])(numpy.array([1, 2, 3])).tolist() == [0.5, 1.0, 1.5]


def test_files_appear_by_rename(tmp_path):
    target = write_file(tmp_path / "a.txt", "one")
    write_file(target, "two")
    assert target.read_text() == "two"
    assert [p.name for p in tmp_path.iterdir()] == ["a.txt"]
