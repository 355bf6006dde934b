"""Quadratures to infinity for cross-checks: waves, Bessel functions, functions without bounds; none where the tail is not trusted."""

from __future__ import annotations

import math

import pytest

import gelvo
from gelvo.evaluation.quadrature import quadrature
from gelvo.expression.constants import INFINITE, MINUS_INFINITE

EULER = 0.5772156649015329
FROM_ZERO = {
    "exp(-x)": 1.0,
    "exp(-x)*sin(x)": 0.5,
    "sin(x)/x": math.pi / 2,
    "sin(x)^2/x^2": math.pi / 2,
    "sin(x)^3/x^3": 3 * math.pi / 8,
    "sin(x)^3/x": math.pi / 4,
    "(1 - cos(2*x))/x^2": math.pi,
    "sin(2*x)*cos(x)/x": math.pi / 2,
    "sin(3*x)*sin(x)/x^2": math.pi / 2,
    "cos(x)/(1 + x^2)": math.pi / 2 / math.e,
    "x*sin(x)/(1 + x^2)": math.pi / 2 / math.e,
    "sin(x^2)": math.sqrt(math.pi / 8),
    "cos(x^2)": math.sqrt(math.pi / 8),
    "sin(x^3)": math.gamma(1 / 3) / 6,
    "cos(x)/sqrt(x)": math.sqrt(math.pi / 2),
    "besselj(0, x)": 1.0,
    "besselj(1, x)/x": 1.0,
    "besselj(2, 3*x)": 1 / 3,
    "exp(-x)*besselj(0, 2*x)": 1 / math.sqrt(5),
    "besselk(0, x)": math.pi / 2,
    "airyai(x)": 1 / 3,
    "exp(-x)*Ci(x)": -math.log(2) / 2,
    "exp(-x)*ln(x)": -EULER,
    "1/(1 + x^4)": math.pi / 2 / math.sqrt(2),
    "exp(7*x/9)/(exp(x) + 1)": 3.95356102381666,
    "sin(5*x)/sinh(x/7)": 7 * math.pi / 2 * math.tanh(35 * math.pi / 2),
    "cos(9*x)/cosh(x/9)": 0.0,
    "exp(-2*x)*besseli(0, x)": 1 / math.sqrt(3),
    "besselj(0, 2*x)/sqrt(x)": math.gamma(1 / 4) / (2 * math.gamma(3 / 4)),
}


@pytest.mark.parametrize("f", FROM_ZERO)
def test_from_zero_on(f):
    x = gelvo.variable("x")
    found = quadrature(gelvo.formula(f, names_from=[x]), x, gelvo.formula("0"), INFINITE)
    assert found is not None
    assert abs(found[0] - FROM_ZERO[f]) < 1e-7 + 10 * found[1]
    assert found[1] < 1e-5


OVER_THE_LINE = {
    "exp(-x^2)": math.sqrt(math.pi),
    "exp(x/2)/(1 + exp(x))": math.pi,
    "x/sinh(x)": math.pi**2 / 2,
    "cos(x)/cosh(x)": math.pi / math.cosh(math.pi / 2),
    "cos(x)/(1 + x^2)": math.pi / math.e,
    "1/(1 + x^2)": math.pi,
}


@pytest.mark.parametrize("f", OVER_THE_LINE)
def test_over_the_line(f):
    x = gelvo.variable("x")
    found = quadrature(gelvo.formula(f, names_from=[x]), x, MINUS_INFINITE, INFINITE)
    assert found is not None and abs(found[0] - OVER_THE_LINE[f]) < 1e-7 + 10 * found[1]


NOT_TRUSTED = [
    "1/(1 + x)", "1/ln(x + 2)", "1/((x + 2)*ln(x + 2))", "sin(x)", "x*sin(x)", "exp(x)*sin(x)", "sin(x)^2/(1 + x)", "1/sqrt(x)",
    "besselj(0, x)^2", "x*besselj(0, x)", "cos(x)^2", "x*cos(x^2)^2", "dirac_delta(x - 1)", "sin(x)*sin(x^2)", "tan(x)/x^3",
]  # fmt: skip


@pytest.mark.parametrize("f", NOT_TRUSTED)
def test_tails_that_are_not_trusted_give_no_number(f):
    x = gelvo.variable("x")
    assert quadrature(gelvo.formula(f, names_from=[x]), x, gelvo.formula("0"), INFINITE) is None


def test_ends_in_reverse_and_the_other_side():
    x = gelvo.variable("x")
    whole = quadrature(gelvo.formula("exp(x)*cos(x)", names_from=[x]), x, MINUS_INFINITE, gelvo.formula("0"))
    assert whole is not None and abs(whole[0] - 0.5) < 1e-9
    turned = quadrature(gelvo.formula("exp(-x)", names_from=[x]), x, gelvo.formula("3"), gelvo.formula("1"))
    assert turned is not None and abs(turned[0] - (math.exp(-3) - math.exp(-1))) < 1e-12
