"""Boundary problems: strings, beams, wells, membranes; each mode and each number held against a discretised problem of its own."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from mpmath import mp
from scipy.linalg import eigh

import gelvo

HELD = ["y(0) = 0", "y(L) = 0", "L > 0"]
TOLD = [
    ("a string", "y'' + q*y = 0", HELD, "q = pi^2*n^2/L^2: y(x) = sin(pi*n*x/L), n = 1, 2, 3, …", "L/2"),
    ("free ends", "y'' + q*y = 0", ["y'(0) = 0", "y'(L) = 0", "L > 0"], "q = 0: y(x) = 1", "L/2"),
    ("one end free", "y'' + q*y = 0", ["y(0) = 0", "y'(L) = 0", "L > 0"], "q = pi^2*(2*n + 1)^2/(4*L^2)", "L/2"),
    ("a ring", "y'' + q*y = 0", ["y(0) = y(L)", "y'(0) = y'(L)", "L > 0"], "y(x) = cos(2*pi*n*x/L) and y(x) = sin(2*pi*n*x/L)", "L/2"),
    ("a beam on two supports", "y'''' = q*y", ["y(0) = 0", "y''(0) = 0", "y(L) = 0", "y''(L) = 0", "L > 0"], "q = pi^4*n^4/L^4", "L/2"),
    ("buckling", "y'''' + q*y'' = 0", ["y(0) = 0", "y''(0) = 0", "y(L) = 0", "y''(L) = 0", "L > 0"], "q = pi^2*n^2/L^2", "L/2"),
    ("a well", "-h^2/(2*m)*y'' = q*y", [*HELD, "h > 0", "m > 0"], "q = pi^2*h^2*n^2/(2*m*L^2)", "L/2"),
    ("damped in space", "y'' + 2*y' + q*y = 0", HELD, "q = pi^2*n^2/L^2 + 1: y(x) = exp(-x)*sin(pi*n*x/L)", "L/2"),
    ("Euler's", "x^2*y'' + x*y' + q*y = 0", ["y(1) = 0", "y(b) = 0", "b > 1"], "orthogonal with the weight 1/x", "ln(b)/2"),
    ("a square", "y'' + q^2*y = 0", HELD, "q = pi*n/L", "L/2"),
    ("a beam by its fourth power", "y'''' - q^4*y = 0", ["y(0) = 0", "y''(0) = 0", "y''(L) = 0", "y(L) = 0", "L > 0"], "q = pi*n/L", "L/2"),
]  # fmt: skip


@pytest.mark.parametrize(("title", "equation", "given", "told", "norm"), TOLD, ids=[t[0] for t in TOLD])
def test_modes_with_a_form(title, equation, given, told, norm):
    found = gelvo.eigenmodes(equation, "y(x)", "q", given=given)
    assert told in str(found)
    assert found.verdict == "proved"
    assert gelvo.equal(found.norm(), norm)


# the numbers z of rods and plates, from the literature's equations solved by another library
NUMBERS = [
    ("a clamped and free beam", "y'''' = q*y", ["y(0) = 0", "y'(0) = 0", "y''(1) = 0", "y'''(1) = 0"], lambda z: mp.cos(z) * mp.cosh(z) + 1),
    ("a clamped beam", "y'''' = q*y", ["y(0) = 0", "y'(0) = 0", "y(1) = 0", "y'(1) = 0"], lambda z: mp.cos(z) * mp.cosh(z) - 1),
    ("a spring at the end", "y'' + q*y = 0", ["y(0) = 0", "y(1) + y'(1) = 0"], lambda z: mp.sin(z) + z * mp.cos(z)),
    ("a drum", "y'' + y'/x + q*y = 0", ["y(1) = 0"], lambda z: mp.besselj(0, z)),
    ("a drum, two lines", "x^2*y'' + x*y' + (q*x^2 - 4)*y = 0", ["y(1) = 0"], lambda z: mp.besselj(2, z)),
]  # fmt: skip


@pytest.mark.parametrize(("title", "equation", "given", "zero"), NUMBERS, ids=[t[0] for t in NUMBERS])
def test_modes_with_numbers(title, equation, given, zero):
    found = gelvo.eigenmodes(equation, "y(x)", "q", given=given)
    numbers = [mp.mpf(str(z)) for z in found.z_values(4)]
    assert found.verdict == "proved" and found.weight is not None
    assert all(abs(zero(z)) < 1e-12 * mp.cosh(z) for z in numbers)
    fine = [mp.mpf(k) / 500 + mp.mpf("0.1001") for k in range(int(500 * numbers[-1]))]
    signs = [mp.sign(zero(z)) for z in fine if z < numbers[-1] + mp.mpf("0.01")]
    assert sum(a != b for a, b in pairwise(signs)) == 4  # none was left out


def test_the_lowest_values_of_a_clamped_beam_are_those_of_differences():
    n = 400
    step = 1 / n
    d2 = (np.diag(-2 * np.ones(n - 1)) + np.diag(np.ones(n - 2), 1) + np.diag(np.ones(n - 2), -1)) / step**2
    full = d2 @ d2
    full[0, 0] += 2 / step**4  # y' = 0 at both ends, by a mirrored point
    full[-1, -1] += 2 / step**4
    wanted = eigh((full + full.T) / 2, eigvals_only=True)[:3]
    found = gelvo.eigenmodes("y'''' = q*y", "y(x)", "q", given=["y(0) = 0", "y'(0) = 0", "y(1) = 0", "y'(1) = 0"])
    told = [float(gelvo.value(v, 12)) for v in found.values(3)]
    assert np.allclose(told, wanted, rtol=2e-2)


def test_single_modes_and_their_figure():
    string = gelvo.eigenmodes("y'' + q*y = 0", "y", "q", given=HELD)
    assert str(string.mode(3)) == "sin(3*pi*x/L)" and str(string.normalised()) == "sqrt(2)*sin(pi*n*x/L)/sqrt(L)"
    figure = string.plot(3, values={"L": 2}, title="a string")
    assert [t.get_text() for t in figure.axes[0].get_legend().get_texts()] == ["mode 1", "mode 2", "mode 3"]
    with pytest.raises(gelvo.DomainError, match="counted from 1"):
        string.mode(0)
    with pytest.raises(gelvo.DomainError, match="numbers are needed for L"):
        string.plot(2)


SOLVED = [
    ("y'' + q*y = 0", ["y'(0) = 0", "y'(L) = 0", "L > 0"], "y(x) = C_1*cos(pi*n*x/L), q = pi^2*n^2/L^2 if n >= 1 or y(x) = C_1, q = 0"),
    ("y'' + q^2*y = 0", ["y(0) = 0", "y(pi) = 0"], "y(x) = C_1*sin(n*x), q = n if n >= 1 or y(x) = C_1*sin(n*x), q = -n if n >= 1"),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "given", "wanted"), SOLVED)
def test_solve_takes_a_function_and_a_letter(equation, given, wanted):
    found = gelvo.solve(equation, ["y(x)", "q"], given=given)
    assert str(found) == wanted and found.verdict == "proved"


REFUSED = [
    ("y'' + q*y = 1", HELD, "a term without it"),
    ("y'' + y*sin(q) = 0", HELD, "as a plain factor"),
    ("y'' + q*y = 0", ["y(0) = 1", "y(L) = 0", "L > 0"], "must be 0"),
    ("y'' + q*y = 0", ["y(0) = 0", "y(L) = 0"], "order of the ends is open"),
    ("y'' + q*y^2 = 0", HELD, "not linear"),
    ("q*y'' + y = 0", HELD, "lower derivatives"),
]


@pytest.mark.parametrize(("equation", "given", "message"), REFUSED)
def test_what_is_no_such_problem_is_said(equation, given, message):
    with pytest.raises(gelvo.NotSolved, match=message):
        gelvo.eigenmodes(equation, "y(x)", "q", given=given)
