"""Jacobi's elliptic functions: values by inverting the integral itself, identities, slopes, exact values, code."""

from __future__ import annotations

import mpmath
import pytest

import gelvo
from hunt.plain import read, value

POINTS = [(u, m) for u in ("1/2", "3", "-7/4", "11") for m in ("1/3", "9/10", "-2")] + [("1/3", "2"), ("-1/4", "3")]


@pytest.mark.parametrize(("u", "m"), POINTS)
@pytest.mark.parametrize("word", ["jacobiam", "jacobisn", "jacobicn", "jacobidn"])
def test_values_are_those_of_the_inverse_integral(word, u, m):
    wanted = value(read(f"{word}({u}, {m})"), {})
    with mpmath.workdps(40):
        assert abs(mpmath.mpf(str(gelvo.value(f"{word}({u}, {m})", 25))) - wanted) < mpmath.mpf(10) ** -22


@pytest.mark.parametrize(
    ("left", "right", "given"),
    [
        ("jacobisn(u, m)^2 + jacobicn(u, m)^2", "1", []),
        ("jacobidn(u, m)^2 + m*jacobisn(u, m)^2", "1", []),
        ("sin(jacobiam(u, m))", "jacobisn(u, m)", []),
        ("cos(2*jacobiam(u, m))", "1 - 2*jacobisn(u, m)^2", []),
        ("jacobidn(u, sin(a)^2)^2", "1 - sin(a)^2*jacobisn(u, sin(a)^2)^2", []),
        ("jacobisn(-u, m)", "-jacobisn(u, m)", []),
        ("jacobicn(-u, m)", "jacobicn(u, m)", []),
        ("jacobiam(u, 0)", "u", []),
        ("jacobisn(u, 1)", "tanh(u)", []),
        ("jacobicn(u, 1)", "1/cosh(u)", []),
        ("jacobisn(ellipk(m), m)", "1", []),
        ("jacobidn(ellipk(m), m)", "sqrt(1 - m)", []),
    ],
)
def test_identities_are_proved(left, right, given):
    assert gelvo.equal(left, right, given=given)


@pytest.mark.parametrize("other", ["sqrt(1 - m*jacobisn(u, m)^2)", "1"])
def test_what_is_not_proved_is_left_open(other):
    with pytest.raises(
        gelvo.Undecided
    ):  # beyond m = 1 the slope of the amplitude changes its sign; values have no rigorous bounds
        gelvo.equal("jacobidn(u, m)", other)


@pytest.mark.parametrize(
    ("formula", "slope"),
    [
        ("jacobiam(2*u, m)", "2*jacobidn(2*u, m)"),
        ("jacobisn(u, m)", "jacobicn(u, m)*jacobidn(u, m)"),
        ("jacobicn(u, m)", "-jacobisn(u, m)*jacobidn(u, m)"),
        ("jacobidn(u, m)", "-m*jacobisn(u, m)*jacobicn(u, m)"),
    ],
)
def test_slopes(formula, slope):
    assert gelvo.equal(gelvo.differentiate(formula, "u"), slope)
    with pytest.raises(gelvo.DomainError, match="no closed form"):
        gelvo.differentiate(formula, "m")


@pytest.mark.parametrize(
    ("fact", "given"),
    [
        ("jacobisn(u, m) <= 1", []),
        ("jacobidn(u, m) > 0", ["m < 1"]),
        ("ellipk(m) > 0", ["m < 1"]),
        ("sin(a)*jacobisn(u, m) >= -1", []),
        ("2*sin(a)*cos(b) <= 2", []),
        ("ellipk(sin(a/2)^2) > 0", ["a > 0", "a < pi"]),
    ],
)
def test_signs_and_bounds_are_known(fact, given):
    assert gelvo.is_known(fact, given=given)
    assert gelvo.is_known("jacobidn(u, m) > 0") is None


def test_code_runs_where_the_package_has_the_functions():
    for word in ("jacobisn", "jacobicn", "jacobidn", "jacobiam"):
        run = gelvo.numeric_function(f"{word}(u, 1/3)", ["u"])
        assert run(1.7) == pytest.approx(float(value(read(f"{word}(17/10, 1/3)"), {})), rel=1e-12)
    with pytest.raises(gelvo.ExportError):
        gelvo.export_code("jacobisn(u, 1/3)", ["u"], "c")
