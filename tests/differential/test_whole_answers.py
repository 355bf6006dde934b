"""First-order equations with roots, equations of higher order, and values where special functions begin: each with its whole answer."""

from __future__ import annotations

import pytest

import gelvo

TABLE = [
    ("y' = sqrt(x*y)", [], "y(x) = (2*x^(3/2)/3 + C_1)^2/4 if x > 0 and 2*x^(3/2)/3 + C_1 >= 0 or y(x) = -(C_1 - 2*(-x)^(3/2)/3)^2/4 if x < 0 and C_1 - 2*(-x)^(3/2)/3 <= 0 or y(x) = 0"),
    ("y' = sqrt(x*y)", ["y(1) = 4"], "y(x) = (x^(3/2) + 5)^2/9 if x > 0"),
    ("y' = x/y*sqrt((1 + y^2)/(1 + x^2))", ["y(0) = 1"], "y(x) = sqrt((sqrt(x^2 + 1) + sqrt(2) - 1)^2 - 1)"),
    ("y' = x*sqrt(y*(1 + x^2))", [], "y(x) = (sqrt(x^2 + 1)*(x^2/3 + 1/3) + C_1)^2/4 if sqrt(x^2 + 1)*(x^2/3 + 1/3) + C_1 >= 0 or y(x) = 0"),
    ("(x*y^2 + x^3)*y' = y^3", [], "y(x) = C_1*exp(-lambertw(C_1^2/x^2)/2) if x != 0 or y(x) = 0"),
    ("y' = y/x + tan(y/x)", [], "y(x) = x*(2*pi*n_1 + asin(C_1*x)) or y(x) = x*(2*pi*n_1 - asin(C_1*x) + pi)"),
    ("y' = -k*y^(3/2)", ["y(0) = a", "a > 0", "k > 0"], "y(x) = 4*a/(k*sqrt(a)*x + 2)^2 if k*x/2 + 1/sqrt(a) > 0"),
    ("y' = sqrt(y^2 - 1)", [], "y(x) = C_1*exp(x)/4 + exp(-x)/C_1 if (C_1*exp(x) - 2)*(2 + C_1*exp(x))/C_1 >= 0 and C_1 != 0 or y(x) = 1 or y(x) = -1"),
    ("x*y' = sqrt(1 + y^2)", [], "y(x) = (C_1*x - 1/(C_1*x))/2 if C_1*x > 0"),
    ("x*y'' = sqrt(1 + y'^2)", [], "y(x) = C_1*x^2/4 + C_2 - ln(abs(x))/(2*C_1) if C_1*x > 0"),
    ("(1 + x^2)*y'' + y'^2 + 1 = 0", [], "y(x) = (1 + tan(C_1)^2)*ln(abs(1 + x*tan(C_1)))/tan(C_1)^2 + C_2 - x/tan(C_1) if tan(C_1) != 0 or y(x) = C_2 - x^2/2 or y(x) = C_2 + ln(abs(x)) if x != 0"),
    ("y'' = k*sqrt(1 + y'^2)/x", ["y(1) = 0", "y'(1) = 0", "k > 1"], "y(x) = x^(k + 1)/(2*(k + 1)) - x^(1 - k)/(2*(1 - k)) - k/(k^2 - 1) if x > 0"),
    ("y''' + k*y = 0", ["k > 0"], "y(x) = C_1*exp(k^(1/3)*x/2)*cos(sqrt(3)*k^(1/3)*x/2) + C_2*exp(k^(1/3)*x/2)*sin(sqrt(3)*k^(1/3)*x/2) + C_3*exp(-k^(1/3)*x)"),
    ("y'''' + 4*a^4*y = 0", ["a > 0"], "y(x) = C_1*exp(a*x)*cos(a*x) + C_2*exp(a*x)*sin(a*x) + C_3*exp(-a*x)*cos(a*x) + C_4*exp(-a*x)*sin(a*x)"),
    ("y'''' - k*y = 0", ["k > 0"], "y(x) = C_1*exp(k^(1/4)*x) + C_2*cos(k^(1/4)*x) + C_3*sin(k^(1/4)*x) + C_4*exp(-k^(1/4)*x)"),
    ("(2 - x)*y''' + (2*x - 3)*y'' - x*y' + y = 0", [], "y(x) = C_1*x + C_3*x*exp(x) + C_2*exp(x)"),
    ("x*y''' - y'' + x*y' - y = 0", [], "y(x) = C_1*x + C_2*sin(x) - C_3*cos(x)"),
    ("y'' + x^2*y = 0", ["y(0) = 1", "y'(0) = 0"], "y(x) = hyp0f1(3/4, -x^4/16)"),
    ("x*y'' + y = 0", ["y(0) = 0", "y'(0) = 1"], "y(x) = x*hyp0f1(2, -x)"),
    ("y' + y = max(x, 1)^2", ["y(0) = 0"], "y(x) = 1 + (x - 1)^2*heaviside(x - 1) - exp(-x)"),
    ("y'' - y = exp(-abs(x))", ["y(0) = 0", "y'(0) = 1"], "y(x) = x*cosh(x)/2 - x*cosh(x)*heaviside(x) + x*sinh(x)/2 + heaviside(x)*sinh(x) + sinh(x)/2"),
    ("(x - 2)^2*y'' - 3*(x - 2)*y' + 4*y = x", ["y(3) = 1", "y'(3) = 0"], "y(x) = (6*x - x^2 - 7)/2 if x > 2"),
    ("sin(x)^2*y'' = 2*y", [], "y(x) = C_2*(1 - x*cot(x)) + C_1*cot(x) if sin(x) != 0"),
    ("x*y'' + 3*y' + x^3*y = 0", [], "y(x) = C_1*cos(x^2/2)/x^2 + C_2*sin(x^2/2)/x^2 if x != 0"),
    ("y' = 1/(x^2 + y*x)", ["y(1) = 0"], "(sqrt(2*pi)*x*erfi(sqrt(2)*y(x)/2) + 2*exp(y(x)^2/2))/(2*x) = 1"),
    ("y' = sin(x)*(y^2 - 1)", ["y(0) = 0"], "y(x) = tanh(cos(x) - 1)"),
    ("y' = sin(x)*sqrt(y)", [], "y(x) = (C_1 - cos(x)/2)^2 if C_1 - cos(x)/2 >= 0 or y(x) = 0"),
    ("y'' = g - k*y'^2", ["y(0) = 0", "y'(0) = 0", "g > 0", "k > 0"], "y(x) = ln(cosh(sqrt(g*k)*x))/k"),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "given", "wanted"), TABLE, ids=[f"{t[0]} {t[1]}" for t in TABLE])
def test_the_whole_answer(equation, given, wanted):
    found = gelvo.solve(equation, "y(x)", given=given)
    assert str(found) == wanted and found.verdict == "proved"


def test_each_sign_of_what_decides_is_a_case():
    found = gelvo.solve("E*y'''' - T*y'' + k*y = 0", "y(x)", given=["E > 0", "T > 0", "k > 0"])
    assert found.verdict == "proved" and len(found) == 3
    told = [" and ".join(map(str, found.conditions_of(n))) for n in range(3)]
    assert told == ["T^2 < 4*E*k", "4*E*k < T^2", "4*E*k = T^2"]
    under = gelvo.solve("E*y'''' - T*y'' + k*y = 0", "y(x)", given=["E = 1", "T = 5", "k = 4"])
    assert str(under) == "y(x) = C_1*exp(x) + C_2*exp(-x) + C_3*exp(2*x) + C_4*exp(-2*x)"


@pytest.mark.parametrize("place", ["0", "2", "-1", "a"])
def test_eulers_equation_around_any_place(place):
    given = ["a > 0"] if place == "a" else []
    found = gelvo.solve(f"(x - ({place}))^2*y'' - 2*y = 0", "y(x)", given=given)
    assert found.verdict == "proved" and len(found.constants) == 2
    shown = str(gelvo.formula(f"(x - ({place}))^2"))
    assert shown in str(found) and "!=" in str(found)


def test_no_member_of_a_family_is_lost_where_its_constant_has_no_value():
    found = gelvo.solve("(1 + x^2)*y'' + y'^2 + 1 = 0", "y(x)")
    values = [str(v) for s in found for v in s.values()]
    assert "C_2 + ln(abs(x))" in values and "C_2 - x^2/2" in values
