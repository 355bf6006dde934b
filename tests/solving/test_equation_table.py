"""Equations with numbers: every solution satisfies the equation to 40 digits, and a scan finds no other sign change."""

from __future__ import annotations

import pytest
from gmpy2 import mpq

import gelvo
from support import box_at

EQUATIONS = [
    "x^2 - 1*x + 0 = 0",
    "1*x + 4 = 2*x - 1",
    "x^2 = 1*x + 1",
    "exp(x) = 1",
    "ln(x) = -1/3",
    "sqrt(x + 1) = x",
    "1/x + 1/(x + 1) = 1",
    "x^4 - 1*x^2 = 0",
    "abs(x - 1) = 2",
    "x^3 = 1",
    "2^x = 1",
    "atan(x) = 1/20",
    "x^2 - 2*x + 1 = 0",
    "2*x + 5 = 2*x - 1",
    "x^2 = 2*x + 1",
    "exp(x) = 2",
    "ln(x) = -2/3",
    "sqrt(x + 2) = x",
    "1/x + 1/(x + 2) = 1",
    "x^4 - 2*x^2 = 0",
    "abs(x - 2) = 2",
    "x^3 = 2",
    "2^x = 2",
    "atan(x) = 2/20",
    "x^2 - 3*x + 2 = 0",
    "3*x + 6 = 2*x - 1",
    "x^2 = 3*x + 1",
    "exp(x) = 3",
    "ln(x) = -3/3",
    "sqrt(x + 3) = x",
    "1/x + 1/(x + 3) = 1",
    "x^4 - 3*x^2 = 0",
    "abs(x - 3) = 2",
    "x^3 = 3",
    "2^x = 3",
    "atan(x) = 3/20",
    "x^2 - 4*x + 3 = 0",
    "4*x + 7 = 2*x - 1",
    "x^2 = 4*x + 1",
    "exp(x) = 4",
    "ln(x) = -4/3",
    "sqrt(x + 4) = x",
    "1/x + 1/(x + 4) = 1",
    "x^4 - 4*x^2 = 0",
    "abs(x - 4) = 2",
    "x^3 = 4",
    "2^x = 4",
    "atan(x) = 4/20",
    "x^2 - 5*x + 4 = 0",
    "5*x + 8 = 2*x - 1",
    "x^2 = 5*x + 1",
    "exp(x) = 5",
    "ln(x) = -5/3",
    "sqrt(x + 5) = x",
    "1/x + 1/(x + 5) = 1",
    "x^4 - 5*x^2 = 0",
    "abs(x - 5) = 2",
    "x^3 = 5",
    "2^x = 5",
    "atan(x) = 5/20",
    "x^2 - 6*x + 5 = 0",
    "6*x + 9 = 2*x - 1",
    "x^2 = 6*x + 1",
    "exp(x) = 6",
    "ln(x) = -6/3",
    "sqrt(x + 6) = x",
    "1/x + 1/(x + 6) = 1",
    "x^4 - 6*x^2 = 0",
    "abs(x - 6) = 2",
    "x^3 = 6",
    "2^x = 6",
    "atan(x) = 6/20",
    "x^2 - 7*x + 6 = 0",
    "7*x + 10 = 2*x - 1",
    "x^2 = 7*x + 1",
    "exp(x) = 7",
    "ln(x) = -7/3",
    "sqrt(x + 7) = x",
    "1/x + 1/(x + 7) = 1",
    "x^4 - 7*x^2 = 0",
    "abs(x - 7) = 2",
    "x^3 = 7",
    "2^x = 7",
    "atan(x) = 7/20",
    "x^2 - 8*x + 7 = 0",
    "8*x + 11 = 2*x - 1",
    "x^2 = 8*x + 1",
    "exp(x) = 8",
    "ln(x) = -8/3",
    "sqrt(x + 8) = x",
    "1/x + 1/(x + 8) = 1",
    "x^4 - 8*x^2 = 0",
    "abs(x - 8) = 2",
    "x^3 = 8",
    "2^x = 8",
    "atan(x) = 8/20",
    "x^2 - 9*x + 8 = 0",
    "9*x + 12 = 2*x - 1",
    "x^2 = 9*x + 1",
    "exp(x) = 9",
    "ln(x) = -9/3",
    "sqrt(x + 9) = x",
    "1/x + 1/(x + 9) = 1",
    "x^4 - 9*x^2 = 0",
    "abs(x - 9) = 2",
    "x^3 = 9",
    "2^x = 9",
    "atan(x) = 9/20",
    "x^2 - 10*x + 9 = 0",
    "10*x + 13 = 2*x - 1",
    "x^2 = 10*x + 1",
    "exp(x) = 10",
    "ln(x) = -10/3",
    "sqrt(x + 10) = x",
    "1/x + 1/(x + 10) = 1",
    "x^4 - 10*x^2 = 0",
    "abs(x - 10) = 2",
    "x^3 = 10",
    "2^x = 10",
    "atan(x) = 10/20",
    "x^2 - 11*x + 10 = 0",
    "11*x + 14 = 2*x - 1",
    "x^2 = 11*x + 1",
    "exp(x) = 11",
    "ln(x) = -11/3",
    "sqrt(x + 11) = x",
    "1/x + 1/(x + 11) = 1",
    "x^4 - 11*x^2 = 0",
    "abs(x - 11) = 2",
    "x^3 = 11",
    "2^x = 11",
    "atan(x) = 11/20",
    "x^2 - 12*x + 11 = 0",
    "12*x + 15 = 2*x - 1",
    "x^2 = 12*x + 1",
    "exp(x) = 12",
    "ln(x) = -12/3",
    "sqrt(x + 12) = x",
    "1/x + 1/(x + 12) = 1",
    "x^4 - 12*x^2 = 0",
    "abs(x - 12) = 2",
    "x^3 = 12",
    "2^x = 12",
    "atan(x) = 12/20",
]


@pytest.mark.parametrize("text", EQUATIONS)
def test_solutions_satisfy_and_none_is_missing(text):
    equation = gelvo.formula(text)
    x = gelvo.variable("x")
    try:
        found = [s[x] for s in gelvo.solve(equation, x)]
    except gelvo.DomainError:
        assert "x" not in str(equation.left - equation.right)
        return
    residual = equation.left - equation.right
    places = []
    for value in found:
        box = box_at(gelvo.substitute(residual, {x: value}), {}, 300)
        assert box is not None and box.contains_zero()
        places.append(float(gelvo.value(value, 20)))
    previous = None
    for k in range(-400, 401):
        place = mpq(k, 20) + mpq(1, 1009)
        box = box_at(residual, {x: place}, 80)
        if box is None or box.imag is not None:
            previous = None
            continue
        sign = 1 if box.real.low > 0 else -1
        steep = abs(float(box.real.low)) > 30
        if previous is not None and sign != previous[0] and not steep and not previous[1]:
            assert any(abs(p - float(place)) < 0.06 for p in places), (text, float(place), places)
        previous = (sign, steep)
