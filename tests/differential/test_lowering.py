"""Equations whose order can be lowered: without the function, the same for every multiple, the same in every scale."""

from __future__ import annotations

import pytest

import gelvo

TABLE = [
    ("x*y'' = y' + y'^3", [], "y(x) = C_2 + sqrt(C_1 - x^2) or y(x) = C_2 - sqrt(C_1 - x^2) or y(x) = C_2"),
    ("y''' = 2", ["y(0) = 0", "y'(0) = 1", "y''(0) = 0"], "y(x) = x^3/3 + x"),
    ("x*y'''' + 2*y''' = x", [], "y(x) = x^4/72 + C_2*x^2 + C_3*x + C_4*x*ln(x) + C_1 if x > 0"),
    ("y'' + 2*x*y'^2 = 0", ["y(0) = 1", "y'(0) = 1"], "y(x) = 1 + atan(x)"),
    ("y'' = 1 + y'^2", ["y(0) = 0", "y'(0) = 0"], "y(x) = -ln(cos(x)) if x > -pi/2 and x < pi/2"),
    ("a*y'' = sqrt(1 + y'^2)", ["a > 0", "y(0) = a", "y'(0) = 0"], "y(x) = a*cosh(x/a)"),
    ("y*y'' = y'^2", [], "y(x) = C_2*exp(C_1*x)"),
    ("y*y'' = y'^2 + y^2", [], "y(x) = C_2*exp(x^2/2 + C_1*x)"),
    ("y*y'' = 2*y'^2", [], "y(x) = C_2/(C_1 - x) or y(x) = C_2"),
    ("y*y'' - y'^2 = 6*x*y^2", [], "y(x) = C_2*exp(x^3 + C_1*x)"),
    ("x^2*y*y'' = (y - x*y')^2", [], "y(x) = C_2*x*exp(-C_1/x) if x != 0"),
    ("y*y'' = y'^2", ["y(0) = 1", "y'(0) = 2"], "y(x) = exp(2*x)"),
    ("y*y'' + 2*y'^2 = 0", ["y(0) = 1", "y'(0) = 1"], "y(x) = cbrt(3*x + 1)"),
    ("x*y*y'' - x*y'^2 + y*y' = 0", ["y(1) = 1", "y'(1) = 2"], "y(x) = x^2"),
    (
        "x^4*y'' = (y - x*y')^3",
        [],
        "y(x) = x*(C_2 - atan(sqrt(C_1*x^2 - 1))) or y(x) = x*(C_2 + atan(sqrt(C_1*x^2 - 1))) or y(x) = C_2*x",
    ),
    ("x*y*y'' + x*y'^2 - y*y' = 0", [], "y(x) = -sqrt(C_2*x^2 - C_1) or y(x) = sqrt(C_2*x^2 - C_1) or y(x) = C_1"),
]


@pytest.mark.parametrize(("equation", "given", "wanted"), TABLE, ids=[f"{c[0]} {c[1]}" for c in TABLE])
def test_solutions_with_all_their_constants(equation, given, wanted):
    found = gelvo.solve(equation, "y(x)", given=given)
    assert str(found) == wanted and found.verdict == "proved"


SCALES = [
    ("x^3*y'' = (y - x*y')^2", "ln(abs(C_1*x + 1))"),
    ("y'' + y'/x = exp(y)", "x^sqrt(C_1)"),
    ("y'' + 2*y'/x + y^5 = 0", "sqrt(x)*y(x)"),
]


@pytest.mark.parametrize(("equation", "part"), SCALES, ids=[s[0] for s in SCALES])
def test_scales_lead_to_an_equation_in_the_logarithm(equation, part):
    found = gelvo.solve(equation, "y(x)")
    assert found.verdict == "proved" and part in str(found) and "x > 0" in str(found)
    assert "scale" in found.road and not found.complete and "x < 0" in found.reason


@pytest.mark.parametrize("equation", ["y''' + y'^2 = 0", "y'' = y^2 + x", "y'' + y'^3 + x*y = 0"])
def test_what_has_no_method_is_handed_to_numbers(equation):
    with pytest.raises(gelvo.NotSolved, match="solve_numerically"):
        gelvo.solve(equation, "y(x)")


SLOPES = [
    ("y'^3 = y^2", [], "y(x) = (x + C_1)^3/27 or y(x) = 0"),
    ("y' = cbrt(y^2)", [], "y(x) = (x + C_1)^3/27 or y(x) = 0"),
    ("y'^2*(1 - y^2) = y^2", [], None),
    ("cos(x + y) + (3*y^2 + 2*y + cos(x + y))*y' = 0", [], "y(x)^2 + y(x)^3 + sin(y(x) + x) = C_1"),
    ("(4*x^2*y + 2*y^2) + (3*x^3 + 4*x*y)*y' = 0", [], "x^4*y(x)^3 + x^2*y(x)^4 = C_1 or y(x) = 0"),
    ("x*y' = y + sqrt(x^2 + y^2)", [], "y(x) = (C_1*x^2 - 1/C_1)/2 if x > 0 and C_1*x > 0"),
    ("sin(x)^2*y'' + sin(x)*cos(x)*y' - y = 0", [], None),
]


@pytest.mark.parametrize(("equation", "given", "wanted"), SLOPES, ids=[s[0] for s in SLOPES])
def test_roots_and_bars_of_slopes(equation, given, wanted):
    found = gelvo.solve(equation, "y(x)", given=given)
    assert found.verdict == "proved" and (wanted is None or str(found) == wanted)
