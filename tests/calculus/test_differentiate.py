"""Derivatives of everything the library can build."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

CASES = [
    ("x^3 - x", "3*x^2 - 1"),
    ("sin(x)^2", "2*cos(x)*sin(x)"),
    ("x^x", "x^x + x^x*ln(x)"),
    ("a^x", "a^x*ln(a)"),
    ("x^a", "a*x^(a - 1)"),
    ("sqrt(x)", "1/(2*sqrt(x))"),
    ("1/(x + 1)", "-1/(x + 1)^2"),
    ("ln(abs(x))", "1/x"),
    ("ln(x + 1)", "1/(x + 1)"),
    ("exp(-x^2)", "-2*x*exp(-x^2)"),
    ("atan2(y, x)", "-y/(x^2 + y^2)"),
    ("abs(x)", "sign(x)"),
    ("heaviside(x)", "dirac_delta(x)"),
    ("floor(x)", "derivative_of(floor(x), x)"),
    ("y", "0"),
    ("cases(x^2 when x > 0, otherwise 0)", "cases(2*x when x > 0, otherwise 0)"),
    ("integral_of(exp(-x^2), x)", "exp(-x^2)"),
    ("integral_of(t^2, t, 0, x)", "x^2"),
    ("integral_of(x*t, t, 0, 1)", "integral_of(t, t, 0, 1)"),
    ("integral_of(sin(t), t, x, x^2)", "2*x*sin(x^2) - sin(x)"),
    ("sum_of(x*k, k, 1, 3)", "sum_of(k, k, 1, 3)"),
    ("derivative_of(exp(sin(x)), x)", "derivative_of(exp(sin(x)), x, 2)"),
    ("erf(x)", "2*exp(-x^2)/sqrt(pi)"),
    ("factorial(x)", "digamma(x + 1)*gamma(x + 1)"),
    ("5", "0"),
]


@pytest.mark.parametrize(("text", "change"), CASES, ids=[c[0] for c in CASES])
def test_derivatives(text, change):
    assert str(gelvo.differentiate(text, "x")) == str(gelvo.formula(change))


def test_several_variables_and_times():
    assert gelvo.differentiate("x^3*y^2", "x", "y") is gelvo.formula("6*x^2*y")
    assert gelvo.differentiate("x^5", "x", times=3) is gelvo.formula("60*x^2")
    assert gelvo.differentiate("x^5", "x", times=0) is gelvo.formula("x^5")


def test_unknown_functions():
    t = gelvo.variable("t")
    q = gelvo.unknown_function("q", t)
    assert str(gelvo.differentiate(q**2, t)) == "2*q'(t)*q(t)"
    assert str(gelvo.differentiate(q.derivative(), "t", times=2)) == "q'''(t)"
    assert gelvo.differentiate(q**2, q) is 2 * q
    assert str(gelvo.differentiate(q(2 * t), t)) == "2*q'(2*t)"


def test_an_equation_is_differentiated_on_both_sides():
    assert str(gelvo.differentiate("x^2 + y^2 = r^2", "x")) == "2*x = 0"


def test_a_derivative_with_its_certificate():
    answer = gelvo.differentiate("sin(x)*exp(x)", "x", steps=True)
    assert answer.verdict == "proved"
    assert "difference quotients" in answer.certificate().evidence


@pytest.mark.parametrize(
    ("arguments", "said"),
    [(("x^2",), "needs a variable"), (("x^2", "x + 1"), "variable is needed"), (("x^2", 3), "variable is needed")],
)
def test_bad_input_is_told(arguments, said):
    with pytest.raises(gelvo.GelvoError, match=said):
        gelvo.differentiate(*arguments)


@pytest.mark.parametrize("times", [-1, 1.5])
def test_the_number_of_derivatives_is_natural(times):
    with pytest.raises(gelvo.DomainError, match="natural"):
        gelvo.differentiate("x", "x", times=times)


COMPLEX_VALUES = {
    "abs(1 + 1j*x)": lambda x: abs(1 + 1j * x),
    "abs(3 + 1j*(x - 1/x))": lambda x: abs(3 + 1j * (x - 1 / x)),
    "abs(exp(1j*x)*(2 + x))": lambda x: abs(mpmath.exp(1j * x) * (2 + x)),
    "arg(x + 2*1j)": lambda x: mpmath.arg(x + 2j),
    "arg(1 + 1j*x^2)": lambda x: mpmath.arg(1 + 1j * x**2),
    "sign(1 + 1j*x)": lambda x: (1 + 1j * x) / abs(1 + 1j * x),
    "ln(abs(x^2 + 1j*x + 3))": lambda x: mpmath.log(abs(x**2 + 1j * x + 3)),
    "re((x + 1j)^3)": lambda x: ((x + 1j) ** 3).real,
    "conj(exp(1j*x))": lambda x: mpmath.conj(mpmath.exp(1j * x)),
}


@pytest.mark.parametrize("text", COMPLEX_VALUES)
@pytest.mark.parametrize("place", ["7/10", "-13/10"])
def test_sizes_and_angles_of_complex_values(text, place):
    slope = gelvo.differentiate(text, "x")
    found = complex(gelvo.value(gelvo.substitute(slope, {"x": place}), 15))
    top, bottom = map(int, place.split("/"))
    assert abs(found - complex(mpmath.diff(COMPLEX_VALUES[text], mpmath.mpf(top) / bottom))) < 1e-9
