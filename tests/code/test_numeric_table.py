"""Numeric functions of many formulas have the right values, for numbers and for arrays."""

from __future__ import annotations

import numpy
import pytest
from gmpy2 import mpq

import gelvo
from support import box_at

x, y = gelvo.variables("x", "y")
PLACES = [(0.7, 1.3), (2.5, 0.4), (1.1, 2.2)]

FORMULAS = [
    "sin(x*y)",
    "sin(x^2 - y)",
    "sin(x/(1 + y^2))",
    "sin(exp(-y)*x)",
    "cos(x*y)",
    "cos(x^2 - y)",
    "cos(x/(1 + y^2))",
    "cos(exp(-y)*x)",
    "tan(x*y)",
    "tan(x^2 - y)",
    "tan(x/(1 + y^2))",
    "tan(exp(-y)*x)",
    "exp(x*y)",
    "exp(x^2 - y)",
    "exp(x/(1 + y^2))",
    "exp(exp(-y)*x)",
    "atan(x*y)",
    "atan(x^2 - y)",
    "atan(x/(1 + y^2))",
    "atan(exp(-y)*x)",
    "sinh(x*y)",
    "sinh(x^2 - y)",
    "sinh(x/(1 + y^2))",
    "sinh(exp(-y)*x)",
    "cosh(x*y)",
    "cosh(x^2 - y)",
    "cosh(x/(1 + y^2))",
    "cosh(exp(-y)*x)",
    "tanh(x*y)",
    "tanh(x^2 - y)",
    "tanh(x/(1 + y^2))",
    "tanh(exp(-y)*x)",
    "asinh(x*y)",
    "asinh(x^2 - y)",
    "asinh(x/(1 + y^2))",
    "asinh(exp(-y)*x)",
    "erf(x*y)",
    "erf(x^2 - y)",
    "erf(x/(1 + y^2))",
    "erf(exp(-y)*x)",
    "x^2*y",
    "x^3*y",
    "x^4*y",
    "x^5*y",
    "x^6*y",
    "x^7*y",
    "x^8*y",
    "x^9*y",
    "x^10*y",
    "x^11*y",
    "x^(-5/2) + y",
    "x^(-3/2) + y",
    "x^(-1/2) + y",
    "x^(1/2) + y",
    "x^(3/2) + y",
    "x^(5/2) + y",
    "x^(7/2) + y",
    "(x + y)^-6",
    "(x + y)^-4",
    "(x + y)^-3",
    "(x + y)^-2",
    "(x + y)^2",
    "(x + y)^3",
    "(x + y)^4",
    "(x + y)^5",
    "(x + y)^6",
    "cases(sqrt(x - 1) when x > 1, otherwise 0)",
    "cases(ln(x) when x > 1, otherwise y)",
    "cases(x when x > 1, otherwise -x)",
    "cases(1/(x - 1) when x > 1, otherwise 1)",
]


@pytest.mark.parametrize("formula", FORMULAS)
def test_values_of_numbers_and_arrays(formula):
    e = gelvo.formula(formula)
    function = gelvo.numeric_function(e, ["x", "y"])
    grid = function(numpy.array([p[0] for p in PLACES]), numpy.array([p[1] for p in PLACES]))
    assert grid.shape == (3,)
    for (u, v), found in zip(PLACES, grid, strict=True):
        right = box_at(e, {x: mpq(u), y: mpq(v)})
        if right is None or right.imag is not None:
            continue
        assert float(found) == pytest.approx(float(right.real.low), rel=1e-12)
        assert float(function(u, v)) == pytest.approx(float(found), rel=1e-15)
