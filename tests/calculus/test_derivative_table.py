"""A table of derivatives: each agrees with difference quotients of 60 digits, and its certificate proves it."""

from __future__ import annotations

import pytest
from gmpy2 import mpq

import gelvo
from support import box_at

x, a = gelvo.variables("x", "a")
STEP = mpq(1, 10**25)

FORMULAS = [
    "sin(x)",
    "sin(2*x + 1)",
    "sin(x^2)",
    "sin(a*x)",
    "sin(sqrt(x))",
    "sin(1/x)",
    "sin(-x)",
    "sin(x/3)",
    "sin(exp(x))",
    "sin(ln(x + 3))",
    "cos(x)",
    "cos(2*x + 1)",
    "cos(x^2)",
    "cos(a*x)",
    "cos(sqrt(x))",
    "cos(1/x)",
    "cos(-x)",
    "cos(x/3)",
    "cos(exp(x))",
    "cos(ln(x + 3))",
    "tan(x)",
    "tan(2*x + 1)",
    "tan(x^2)",
    "tan(a*x)",
    "tan(sqrt(x))",
    "tan(1/x)",
    "tan(-x)",
    "tan(x/3)",
    "tan(exp(x))",
    "tan(ln(x + 3))",
    "exp(x)",
    "exp(2*x + 1)",
    "exp(x^2)",
    "exp(a*x)",
    "exp(sqrt(x))",
    "exp(1/x)",
    "exp(-x)",
    "exp(x/3)",
    "exp(exp(x))",
    "exp(ln(x + 3))",
    "atan(x)",
    "atan(2*x + 1)",
    "atan(x^2)",
    "atan(a*x)",
    "atan(sqrt(x))",
    "atan(1/x)",
    "atan(-x)",
    "atan(x/3)",
    "atan(exp(x))",
    "atan(ln(x + 3))",
    "sinh(x)",
    "sinh(2*x + 1)",
    "sinh(x^2)",
    "sinh(a*x)",
    "sinh(sqrt(x))",
    "sinh(1/x)",
    "sinh(-x)",
    "sinh(x/3)",
    "sinh(exp(x))",
    "sinh(ln(x + 3))",
    "cosh(x)",
    "cosh(2*x + 1)",
    "cosh(x^2)",
    "cosh(a*x)",
    "cosh(sqrt(x))",
    "cosh(1/x)",
    "cosh(-x)",
    "cosh(x/3)",
    "cosh(exp(x))",
    "cosh(ln(x + 3))",
    "tanh(x)",
    "tanh(2*x + 1)",
    "tanh(x^2)",
    "tanh(a*x)",
    "tanh(sqrt(x))",
    "tanh(1/x)",
    "tanh(-x)",
    "tanh(x/3)",
    "tanh(exp(x))",
    "tanh(ln(x + 3))",
    "asinh(x)",
    "asinh(2*x + 1)",
    "asinh(x^2)",
    "asinh(a*x)",
    "asinh(sqrt(x))",
    "asinh(1/x)",
    "asinh(-x)",
    "asinh(x/3)",
    "asinh(exp(x))",
    "asinh(ln(x + 3))",
    "erf(x)",
    "erf(2*x + 1)",
    "erf(x^2)",
    "erf(a*x)",
    "erf(sqrt(x))",
    "erf(1/x)",
    "erf(-x)",
    "erf(x/3)",
    "erf(exp(x))",
    "erf(ln(x + 3))",
    "x^2*sin(x)",
    "x*exp(-x)*cos(x)",
    "(x + 1)/(x - 2)",
    "(x^2 + 1)^(3/2)",
    "1/(1 + x^2)^2",
    "x^x",
    "a^x*x^a",
    "ln(x)/x",
    "ln(ln(x + 3))",
    "sqrt(1 + sqrt(x))",
    "sin(x)^3*cos(x)^2",
    "sin(sin(x))",
    "exp(exp(x))",
    "atan2(x, a)",
    "abs(x)*x",
    "x*abs(x - 1)",
    "log10(x^2 + 1)",
    "log2(x + 1)",
    "cbrt(x)*x",
    "gamma(x + 1)",
    "factorial(x)/x",
    "asin(x/5)",
    "acos(x/5)",
    "atanh(x/5)",
    "acosh(x + 2)",
    "sec(x)*csc(x)",
    "cot(x)/x",
    "sech(x)^2",
    "coth(x)*x",
    "min(x, 3)*1 + x - min(x, 3)",
    "erfc(x)*x",
    "x^(1/3) + x^(-2/3)",
    "(a*x + 1)^a",
    "2^x*3^(-x)",
    "exp(-a*x^2)",
    "a/(x + a/x)",
    "x*ln(x) - x",
    "(exp(x) - exp(-x))/(exp(x) + exp(-x))",
    "sqrt(a^2 + x^2)",
    "sin(a*x)/(a*x)",
]


@pytest.mark.parametrize("formula", FORMULAS)
def test_derivatives_agree_with_difference_quotients(formula):
    e = gelvo.formula(formula)
    answer = gelvo.differentiate(e, "x", steps=True)
    looked = 0
    for place in (mpq(3, 7), mpq(5, 4), mpq(13, 6)):
        point = {a: mpq(5, 3)}
        boxes = [box_at(f, {**point, x: place + h}, 400) for f, h in ((e, STEP), (e, -STEP), (answer.expression, mpq(0)))]
        if any(b is None or b.imag is not None for b in boxes):
            continue
        up, down, slope = (mpq(b.real.low) for b in boxes)
        assert abs((up - down) / (2 * STEP) - slope) < mpq(1, 10**18) * max(1, abs(slope))
        looked += 1
    assert looked >= 1


@pytest.mark.parametrize("formula", FORMULAS[::4])
def test_certificates_of_derivatives(formula):
    assert gelvo.differentiate(formula, "x", steps=True, given=["x > 1", "a > 1"]).verdict == "proved"
