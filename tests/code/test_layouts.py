"""Vectors, matrices and structures of inputs and outputs in every language, and programs of a person that use them."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys

import numpy
import pytest

import gelvo

LANGUAGES = {
    "numpy": sys.executable,
    "numba": sys.executable,
    "python": sys.executable,
    "c": "cc",
    "c++": "c++",
    "fortran": "gfortran",
    "javascript": "node",
}
needed = [pytest.param(k, marks=pytest.mark.skipif(shutil.which(v) is None, reason=f"no {v}")) for k, v in LANGUAGES.items()]

# a disc on a torsion wire with a magnet: states, what drives it, and what an engineer reads off
RATES = ["omega", "(torque - c*omega - kappa*sin(theta))/J"]
OUTPUTS = {"rates": RATES, "energy": "J*omega^2/2 + kappa*(1 - cos(theta))", "slopes": gelvo.jacobian(RATES, ["theta", "omega"])}
INPUTS, PARAMETERS = ["t", {"state": ["theta", "omega"]}, "torque"], ["J", "kappa", "c"]
GIVEN = ["J > 0", "kappa > 0"]
POINT = (0.5, (0.3, -1.2), 0.4, (2.0, 5.0, 0.1))


def by_hand(time, state, torque, parameters):
    (theta, omega), (inertia, kappa, c) = state, parameters
    last = (torque - c * omega - kappa * numpy.sin(theta)) / inertia
    energy = inertia * omega**2 / 2 + 2 * kappa * numpy.sin(theta / 2) ** 2
    return [omega, last, energy, 0.0, 1.0, -kappa * numpy.cos(theta) / inertia, -c / inertia]


# a main program of a person, in the language, that prints all numbers
PROGRAMS = {
    "numpy": ("main.py", """import numpy
from disc import disc
found = disc(0.5, [0.3, -1.2], 0.4, J=2.0, kappa=5.0, c=0.1)
print(*found.rates, found.energy, *numpy.ravel(found.slopes))""", [[sys.executable, "main.py"]]),
    "numba": ("main.py", """import numpy
from disc import disc
found = disc(0.5, numpy.array([0.3, -1.2]), 0.4, 2.0, 5.0, 0.1)
print(*found.rates, found.energy, *numpy.ravel(found.slopes))""", [[sys.executable, "main.py"]]),
    "python": ("main.py", """import numpy
from disc import disc
found = disc(0.5, [0.3, -1.2], 0.4, 2.0, 5.0, 0.1)
print(*found.rates, found.energy, *numpy.ravel(found.slopes))""", [[sys.executable, "main.py"]]),
    "c": ("main.c", """#include <stdio.h>
#include "disc.h"
int main(void)
{
    const double state[2] = {0.3, -1.2};
    const struct disc_parameters wire = {.J = 2.0, .kappa = 5.0, .c = 0.1};
    struct disc_result found;
    disc(0.5, state, 0.4, &wire, &found);
    printf("%.17g %.17g %.17g %.17g %.17g %.17g %.17g", found.rates[0], found.rates[1], found.energy, found.slopes[0][0], found.slopes[0][1],
           found.slopes[1][0], found.slopes[1][1]);
    return 0;
}""", [["cc", "-std=c99", "main.c", "disc.c", "-o", "run", "-lm"], ["./run"]]),
    "c++": ("main.cpp", """#include <cstdio>
#include "disc.hpp"
int main()
{
    disc_parameters wire;
    wire.J = 2.0; wire.kappa = 5.0; wire.c = 0.1;
    const auto found = disc(0.5, {0.3, -1.2}, 0.4, wire);
    std::printf("%.17g %.17g %.17g", found.rates[0], found.rates[1], found.energy);
    for (const auto& row : found.slopes)
        for (double value : row)
            std::printf(" %.17g", value);
}""", [["c++", "-std=c++17", "main.cpp", "-o", "run"], ["./run"]]),
    "fortran": ("main.f90", """program main
  use disc_module
  implicit none
  type(disc_result) :: found
  integer :: k
  call disc(0.5d0, [0.3d0, -1.2d0], 0.4d0, disc_parameters(2d0, 5d0, 0.1d0), found)
  print '(7es25.16)', found%rates, found%energy, (found%slopes(k, :), k = 1, 2)
end program main""", [["gfortran", "disc.f90", "main.f90", "-o", "run"], ["./run"]]),
    "javascript": ("main.mjs", """import {disc} from "./disc.mjs";
const found = disc(0.5, [0.3, -1.2], 0.4, {J: 2.0, kappa: 5.0, c: 0.1});
console.log([...found.rates, found.energy, ...found.slopes.flat()].join(" "));""", [["node", "main.mjs"]]),
}  # fmt: skip


@pytest.mark.parametrize("language", needed)
def test_a_program_of_a_person_calls_the_code_by_vectors_and_structures(language, tmp_path):
    bundle = gelvo.export_code(OUTPUTS, INPUTS, language, "disc", parameters=PARAMETERS, given=GIVEN)
    bundle.write(tmp_path)
    name, source, commands = PROGRAMS[language]
    (tmp_path / name).write_text(source, encoding="utf-8")
    for command in commands:
        done = subprocess.run(command, cwd=tmp_path, capture_output=True, text=True)
        assert done.returncode == 0, done.stderr
    assert [float(w) for w in done.stdout.split()] == pytest.approx(by_hand(*POINT), rel=1e-14)


@pytest.mark.parametrize("language", needed)
def test_a_vector_or_a_matrix_alone_and_one_number_pass_their_check(language):
    for outputs, inputs in (
        (RATES, INPUTS),
        (OUTPUTS["slopes"], ["theta", {"rest": ["omega", "torque"]}]),
        ("J*torque", [{"one": ["torque"]}]),
    ):
        bundle = gelvo.export_code(outputs, inputs, language, "disc", parameters=PARAMETERS, given=GIVEN, check=False)
        outcome = bundle.check()
        assert outcome.passed and outcome.points > 10, outcome.message


def test_arrays_broadcast_behind_the_axes_of_a_vector_and_may_be_filled_in_place(tmp_path):
    gelvo.export_code(RATES, INPUTS, "numpy", "disc", parameters=PARAMETERS).write(tmp_path)
    code = """import json, numpy
from disc import disc
states = numpy.array([[0.3, 0.1, 0.2], [-1.2, 0.0, 0.5]])
out = numpy.empty((2, 3))
back = disc(0.5, states, 0.4, 2.0, 5.0, 0.1, out=out)
print(json.dumps([back is out, out.tolist()]))"""
    done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, text=True, check=True)
    same, found = json.loads(done.stdout)
    assert same and numpy.array(found)[:, 0] == pytest.approx(by_hand(*POINT)[:2])


@pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")
def test_compiled_code_is_called_with_vectors_parameters_and_arrays():
    bundle = gelvo.export_code(OUTPUTS, INPUTS, "c", "disc", parameters=PARAMETERS, given=GIVEN, check=False)
    found = bundle.call(0.5, [0.3, -1.2], 0.4, J=2.0, kappa=5.0, c=0.1)
    assert [*found.rates, found.energy, *found.slopes.ravel()] == pytest.approx(by_hand(*POINT))
    other = bundle.call(0.5, [0.3, -1.2], 0.4, 2.0, 5.0, 0.2)  # other parameters are taken
    assert other.rates[1] == pytest.approx(by_hand(0.5, (0.3, -1.2), 0.4, (2.0, 5.0, 0.2))[1])
    assert gelvo.native_function(RATES, INPUTS, parameters=PARAMETERS)(*POINT[:3], *POINT[3]) == pytest.approx(
        by_hand(*POINT)[:2]
    )
    assert gelvo.native_function({"a": "x + y", "b": "x*y"}, ["x", "y"])([1.0, 2.0], 3.0).b.tolist() == [3.0, 6.0]


@pytest.mark.parametrize(
    ("outputs", "inputs", "options", "said"),
    [
        ([], "x", {}, "no entries"), ({}, "x", {}, "no output"), ([["x"], ["x", "x"]], "x", {}, "one length"), ("x", ["x", {"rest": []}], {}, "no members"),
        ("x", "x", {"also": ["slope"]}, "also='slope'"), (["x", "x^2"], "x", {"also": "hessian"}, "one number"), ("a", [], {"also": "gradient", "parameters": "a"}, "no input"),
        ("x", "x", {"accepted_ulp": -1}, "0 or more"), ("x", ["x", {"state": ["x"]}], {}, "twice|once"),
    ],
)  # fmt: skip
def test_a_layout_that_cannot_be_is_told(outputs, inputs, options, said):
    with pytest.raises(gelvo.GelvoError, match=said):
        gelvo.export_code(outputs, inputs, check=False, **options)


@pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")
def test_a_vector_of_another_length_and_a_language_that_is_not_loaded_are_told():
    rates = gelvo.native_function(RATES, INPUTS, parameters=PARAMETERS)
    with pytest.raises(gelvo.DomainError, match="state is a vector of 2 numbers"):
        rates(0.0, [1.0, 2.0, 3.0], 0.0, 1.0, 1.0, 1.0)
    with pytest.raises(gelvo.DomainError, match="the function takes t, state, torque, J, kappa, c"):
        rates(0.0, [1.0, 2.0])
    with pytest.raises(gelvo.ExportError, match="only C is loaded"):
        gelvo.export_code("x", "x", "numpy", check=False).call(1.0)


@pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")
def test_derivatives_come_beside_the_values_and_share_their_parts():
    energy = "m*l^2*omega^2/2 - m*g*l*cos(theta)"
    wanted = ["gradient", "hessian", "jacobian_product", "hessian_product"]
    bundle = gelvo.export_code(
        energy, ["theta", "omega"], "c", "energy", parameters=["m", "l", "g"], also=wanted, given=["m > 0", "l > 0"]
    )
    assert bundle.files["energy.c"].count("cos(") == 1 and bundle.check().passed
    found, (m, l, g) = bundle.call(0.4, 1.5, [2.0, -1.0], m=2.0, l=0.5, g=9.8), (2.0, 0.5, 9.8)
    slopes = numpy.array([m * g * l * numpy.sin(0.4), m * l**2 * 1.5])
    curves = numpy.diag([m * g * l * numpy.cos(0.4), m * l**2])
    assert found.gradient == pytest.approx(slopes) and found.hessian == pytest.approx(curves)
    assert found.jacobian_product == pytest.approx([slopes @ [2.0, -1.0]]) and found.hessian_product == pytest.approx(
        curves @ [2.0, -1.0]
    )
    rates = gelvo.export_code(RATES, INPUTS, "c", "disc", parameters=PARAMETERS, also="jacobian", given=GIVEN, check=False)
    assert [*rates.call(*POINT[:3], *POINT[3]).jacobian.ravel()] == pytest.approx(by_hand(*POINT)[3:])


@pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")
def test_a_complex_formula_comes_as_two_real_numbers_that_keep_their_digits_at_a_resonance():
    gain = {"gain": "R/(R + 1j*w*L + 1/(1j*w*C))", "two": ["1j*w", "w", "exp(1j*w*R)"]}
    bundle = gelvo.export_code(
        gain, ["w"], "c", "circuit", parameters=["R", "L", "C"], given=["R > 0", "L > 0", "C > 0", "w > 0"]
    )
    found, right = bundle.call(1e4, R=2.0, L=1e-3, C=1e-5), 2.0 / (2.0 + 10j + 1 / 0.1j)
    assert [found.gain_real, found.gain_imaginary] == pytest.approx([right.real, right.imag], rel=1e-12, abs=1e-12)
    assert found.two_real == pytest.approx([0, 1e4, numpy.cos(2e4)]) and found.two_imaginary == pytest.approx(
        [1e4, 0, numpy.sin(2e4)]
    )


def test_a_loss_of_digits_may_be_accepted_and_is_told():
    with pytest.raises(gelvo.CheckFailed, match="accepted_ulp="):
        gelvo.export_code("1 - cos(x)", "x", "c", digits="plain")
    bundle = gelvo.export_code("1 - cos(x)", "x", "c", digits="plain", accepted_ulp=1e17)
    assert "1e+17 ULP was accepted" in bundle.files["formula.h"] and bundle.check().worst_ulp["formula"] > 1e6


def test_what_several_formulas_have_in_common_is_worked_out_once():
    """a*b*c*d and a*b*c*e share a*b*c, and sums what they have in common behind any number."""
    names = "abcdefghkm"
    outputs = {f"f_{w}": f"a*b*c*{w} + 2*(x + 3*y) + {w}*x^2*z^3" for w in names[3:]}
    source = gelvo.export_code(outputs, [*names, "x", "y", "z"], "c", "many", check=False, given=["x > 0"]).files["many.c"]
    body = source.split("\n{\n")[1].split("\n}")[0]
    assert body.count("*") <= 28 and body.count("+") <= 16, body  # 7 outputs of 11 products and 3 sums each


@pytest.mark.parametrize("language", ["c", "c++"])
def test_outputs_that_are_one_formula_of_neighbours_are_a_loop(language):
    """A chain of 120 masses: its ends stand alone, what is between them is written once."""
    count = 120
    places, speeds = (gelvo.variables(*[f"{letter}_{k}" for k in range(count)]) for letter in ("x", "v"))
    i, c = gelvo.variables("i", "c")  # an input may be called as counters usually are
    forces = []
    for k in range(count):
        left, right = places[k - 1] if k else 0, places[k + 1] if k + 1 < count else 0
        forces.append(i * (left - 2 * places[k] + right) - c * speeds[k] + gelvo.sin(places[k]) ** 3)
    forces[70] = gelvo.cos(places[0])  # one in the middle is another
    bundle = gelvo.export_code({"force": forces}, [{"x": places}, {"v": speeds}, "i", "c"], language, "chain")
    text = bundle.files["chain.c" if language == "c" else "chain.hpp"]
    assert text.count("for (int ") == 2 and len(text.splitlines()) < 80
    assert "1; i_ < 70" in text.replace("i__", "i_") and "cos(x[0])" in text
    if language == "c":
        x, v = numpy.sin(numpy.arange(count)), numpy.cos(3.0 * numpy.arange(count))
        near = numpy.concatenate([[0.0], x, [0.0]])
        right = 2.5 * (near[:-2] - 2 * x + near[2:]) - 0.3 * v + numpy.sin(x) ** 3
        right[70] = numpy.cos(x[0])
        assert numpy.allclose(bundle.call(x, v, 2.5, 0.3), right, rtol=1e-14, atol=1e-15)


def test_two_outputs_at_a_time_are_a_loop_as_well():
    """Places and speeds that follow each other, as a state has them."""
    count = 50
    state = [n for k in range(count) for n in gelvo.variables(f"x_{k}", f"v_{k}")]
    k = gelvo.variable("state_at_2")  # as a place in a loop was once called
    rates = []
    for j in range(0, 2 * count, 2):
        left, right = state[j - 2] if j else 0, state[j + 2] if j + 2 < 2 * count else 0
        rates += [state[j + 1], k * (left + right - 2 * state[j])]
    bundle = gelvo.export_code({"rates": rates}, [{"state": state}, "state_at_2"], "c", "chain")
    assert "for (int i = 2; i < 98; i += 2) {\n        out[i] = state[i + 1];\n" in bundle.files["chain.c"]
    y = numpy.sin(numpy.arange(2.0 * count))
    near = numpy.concatenate([[0.0], y[::2], [0.0]])
    found = bundle.call(y, 4.0)
    assert numpy.array_equal(found[::2], y[1::2])
    assert numpy.allclose(found[1::2], 4 * (near[:-2] + near[2:] - 2 * y[::2]), rtol=1e-13, atol=1e-14)
