"""Zeros without closed form in generated code: found by halving their bracket, held against the zeros that are proved."""

import numpy
import pytest

import gelvo

ORBIT = ["0 < e", "e < 1"]


@pytest.fixture(scope="module")
def anomaly():
    return gelvo.solve("E = M + e*sin(E)", "E", given=ORBIT).single


@pytest.mark.parametrize("language", ["numpy", "c", "fortran", "javascript"])
def test_a_zero_with_letters_in_code(anomaly, language):
    bundle = gelvo.export_code(
        {"E": anomaly}, ["M", "e"], language=language, name="kepler", given=ORBIT, ranges={"M": (0.1, 6), "e": (0.01, 0.9)}
    )
    outcome = bundle.check()
    assert outcome.passed and outcome.points > 20 and outcome.worst_ulp["E"] < 8


def test_a_zero_is_held_to_its_own_condition_where_no_ranges_are_told(anomaly):
    outcome = gelvo.export_code(anomaly, ["M", "e"], "c", "kepler", given=ORBIT).check()
    assert outcome.passed and outcome.points > 20


@pytest.mark.parametrize("place", [1, 2, 3])
def test_one_of_several_zeros_in_code(place):
    found = gelvo.solve("x^5 - x = a", "x", given=["a > 0", "a < 1/2"])
    bundle = gelvo.export_code(found[place - 1]["x"], ["a"], "numpy", "z", given=["a > 0", "a < 1/2"])
    assert bundle.check().passed


def test_a_zero_between_endless_ends_in_code():
    place = gelvo.solve("x^5 + a*x = 1", "x", given=["a > 0"]).single
    assert gelvo.export_code({"x": place}, ["a"], language="c", name="place", given=["a > 0"]).check().passed


def test_a_zero_as_a_function_of_arrays(anomaly):
    function = gelvo.numeric_function([anomaly, anomaly**2 + 1], ["M", "e"])
    M = numpy.linspace(0, 6, 13)
    found, square = function(M, 0.5)
    assert numpy.allclose(found - 0.5 * numpy.sin(found), M, atol=1e-14) and numpy.allclose(square, found**2 + 1)
    right = float(gelvo.value(gelvo.substitute(anomaly, {"M": M[3], "e": "1/2"}), 17))
    assert found[3] == pytest.approx(right, rel=4e-16)


def test_a_zero_without_letters_is_a_number_in_code():
    place = gelvo.solve("x^2 = cos(x)", "x")[1]["x"]
    assert (
        "0.824132312302522" in gelvo.export_code({"y": place * gelvo.variable("k")}, ["k"], language="c", name="f").files["f.c"]
    )
