"""Fortran 2008: compiled with all warnings as errors, run, and held against correctly rounded values."""

from __future__ import annotations

import subprocess

import pytest

import gelvo

PROGRAMS = [
    ({"u": "sin(a*t)*exp(-b*t)"}, ["a", "t", "b"]),
    ({"u": "x^2 + 1", "v": "sqrt(x^2 + 1)/3"}, ["x"]),
    ({"u": "ln(x)*x^(3/2)"}, ["x"]),
    ({"u": "cases(x when x > 0, otherwise x^2)"}, ["x"]),
    ({"u": "cases(1 when x > 0 and y < 1, otherwise 2)"}, ["x", "y"]),
    ({"u": "abs(x) + sign(x) + heaviside(x)"}, ["x"]),
    ({"u": "atan2(y, x) + min(x, y) + max(x, 2)"}, ["x", "y"]),
    ({"u": "floor(x) + ceil(y)"}, ["x", "y"]),
    ({"u": "cbrt(x)*erf(x)"}, ["x"]),
    ({"u": "gamma(x) + factorial(x)"}, ["x"]),
    ({"u": "asinh(x) + acosh(2 + x^2) + atanh(x/(1 + x^2))"}, ["x"]),
    ({"u": "3"}, ["x"]),
    ({"energy": "m*v^2/2", "ENERGY": "m*v^2"}, ["m", "v"]),
    ({"u": "real*if + end"}, ["real", "if", "end"]),
    ({"u": "t*T"}, ["t", "T"]),
    ({"u": " + ".join(f"a_{k}*sin({k}*x)" for k in range(1, 25))}, [*[f"a_{k}" for k in range(1, 25)], "x"]),
]


@pytest.mark.parametrize(("outputs", "inputs"), PROGRAMS, ids=[next(iter(o.values()))[:30] for o, _ in PROGRAMS])
def test_fortran_has_the_right_values(outputs, inputs):
    bundle = gelvo.export_code(outputs, inputs, "fortran", "sample", check=False)
    outcome = bundle.check()
    assert outcome.passed, outcome.message


def test_the_files_stand_alone(tmp_path):
    bundle = gelvo.export_code("x^2*exp(-x)", ["x"], "fortran", "hump", units={"x": "m"})
    assert sorted(bundle.files) == ["hump.f90", "test_hump.f90"]
    bundle.write(tmp_path)
    subprocess.run(["gfortran", "-std=f2008", "hump.f90", "test_hump.f90", "-o", "own"], cwd=tmp_path, check=True)
    done = subprocess.run(["./own"], cwd=tmp_path, capture_output=True, text=True, check=True)
    assert "points agree" in done.stdout
    assert "x in m" in bundle.files["hump.f90"]
    assert max(len(line) for line in bundle.files["hump.f90"].splitlines()) <= 132


def test_what_fortran_cannot_say_is_refused():
    with pytest.raises(gelvo.ExportError, match="no counterpart"):
        gelvo.export_code("zeta(x)", ["x"], "fortran", "f")
    with pytest.raises(gelvo.ExportError, match="cannot be the name"):
        gelvo.export_code("x", ["x"], "fortran", "function")
    with pytest.raises(gelvo.ExportError, match="target language"):
        gelvo.export_code("x", ["x"], "cobol", "f")


def test_complex_sizes_become_real_code():
    for language in ("numpy", "c", "fortran", "javascript"):
        bundle = gelvo.export_code("abs(1/(1 + 1j*w*tau))", ["w", "tau"], language, "gain")
        assert bundle.check().passed
    with pytest.raises(gelvo.ExportError, match="complex"):
        gelvo.export_code("gamma(1j*w)", ["w"], "c", "f")
