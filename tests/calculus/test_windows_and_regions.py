"""Windows written in every way have one spectrum; a Laplace transform says where it converges."""

from __future__ import annotations

import pytest

import gelvo
from hunt.plain import mp, read, value
from sample_tasks import numeric

WINDOWS = [
    ("heaviside(1 - abs(t))", "1", (-1, 1)), ("cases(1 when abs(t) < 2, otherwise 0)", "1", (-2, 2)), ("cases(t when 0 < t and t < 1, otherwise 0)", "t", (0, 1)), ("max(0, 1 - abs(t))", "1 - abs(t)", (-1, 0, 1)),
    ("max(0, 1 - abs(t))*cos(3*t)", "(1 - abs(t))*cos(3*t)", (-1, 0, 1)), ("heaviside(1 - abs(t))*(1 + cos(pi*t))/2", "(1 + cos(pi*t))/2", (-1, 1)), ("max(0, 1 - abs(t))^2", "(1 - abs(t))^2", (-1, 0, 1)),
    ("exp(-abs(t))*heaviside(1 - abs(t))", "exp(-abs(t))", (-1, 0, 1)), ("sign(t)*heaviside(1 - abs(t))", "sign(t)", (-1, 0, 1)), ("heaviside(2 - abs(t - 1))*t", "t", (-1, 3)), ("abs(t)*heaviside(t + 1)*heaviside(1 - t)", "abs(t)", (-1, 0, 1)),
    ("min(1, 2 - abs(t))*heaviside(2 - abs(t))", "min(1, 2 - abs(t))", (-2, -1, 1, 2)), ("cases(1 when t < 0, 2 when t < 1, otherwise 0)*heaviside(t + 1)", "cases(1 when t < 0, otherwise 2)", (-1, 0, 1)),
]  # fmt: skip


@pytest.mark.parametrize(("text", "inside", "ends"), WINDOWS)
def test_the_spectrum_of_a_window_is_its_integral(text, inside, ends):
    image = gelvo.fourier(text, "t", "w")
    assert image.verdict == "proved"
    tree = read(inside)
    for w in ("0.7", "-2.3", "5.1"):
        with mp.workdps(25):
            wanted = mp.quad(lambda t, w=w: value(tree, {"t": t}) * mp.expj(-mp.mpf(w) * t), list(map(mp.mpf, ends)))
        assert abs(numeric(image.expression, {"w": w}) - complex(wanted)) < 1e-12, w


REGIONS = [
    ("t*exp(-2*t)", [], ["s > -2"]), ("exp(a*t)", [], ["a < s"]), ("cosh(a*t)", ["a > 0"], ["a < s"]), ("exp(-t^2)", [], []), ("heaviside(t - 2)*exp(3*t)", [], ["s > 3"]), ("dirac_delta(t - 1)", [], []), ("exp(2*t) + exp(t)", [], ["s > 2"]),
    ("exp(a*t) + exp(b*t)", [], ["a < s", "b < s"]), ("sin(t)", ["s > 0"], []), ("besseli(0, t)", [], ["s > 1"]), ("exp(-a*t)*sin(t)", ["a > 0", "s > 0"], []), ("ln(t)", [], ["s > 0"]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "given", "region"), REGIONS)
def test_where_a_laplace_transform_converges(text, given, region):
    found = gelvo.laplace(text, "t", "s", given=given)
    assert [str(c) for c in found.conditions] == region
    assert found.verdict == "proved"


def test_a_complex_variable_by_its_real_part():
    s = gelvo.variable("s", domain="complex")
    assert [str(c) for c in gelvo.laplace("exp(-3*t)", "t", s).conditions] == ["re(s) > -3"]


@pytest.mark.parametrize(("convention", "kernel"), [("angular", "exp(-1j*w*t)"), ("unitary", "exp(-1j*w*t)"), ("frequency", "exp(-2j*pi*w*t)")])  # fmt: skip
def test_the_road_says_which_integral_is_meant(convention, kernel):
    road = gelvo.fourier("exp(-t^2)", "t", "w", convention=convention).road
    assert f"the integral of f(t)*{kernel} over the line" in road and convention in road
    assert (convention == "unitary") == road.startswith("1/sqrt(2*pi) times")


T = gelvo.variable("t")
Y, THETA = gelvo.unknown_function("y", T), gelvo.unknown_function("theta", T)
U = gelvo.variable("u")
EXPONENTIAL = gelvo.formula("exp(-a*t)", names_from=T)
UNKNOWN = [
    (Y, "Y(s)"), (Y.derivative(2) + 3 * Y.derivative() + 2 * Y, "s^2*Y(s) - y'(0) + 3*s*Y(s) - s*y(0) + 2*Y(s) - 3*y(0)"), (T * Y, "-Y'(s)"), (T**2 * Y.derivative(), "s*Y''(s) + 2*Y'(s)"),
    (EXPONENTIAL * Y, "Y(s + a)"), (gelvo.integral_of(Y(U), U, 0, T), "Y(s)/s"), (THETA.derivative() + Y, "s*Theta(s) + Y(s) - theta(0)"),
]  # fmt: skip


@pytest.mark.parametrize(("formula", "wanted"), UNKNOWN, ids=[row[1] for row in UNKNOWN])
def test_unknown_functions_with_their_values_at_the_start(formula, wanted):
    found = gelvo.laplace(formula, T, "s")
    assert (str(found), found.verdict) == (wanted, "proved")


def test_what_is_no_linear_rule_stays_written():
    assert gelvo.laplace(Y**2, T, "s").reason and gelvo.laplace(Y * THETA, T, "s").reason
