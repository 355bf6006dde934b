"""Differential equations: each solution is put back exactly, constants and cases are counted."""

from __future__ import annotations

import pytest

import gelvo

t = gelvo.variable("t")
y, z = gelvo.unknown_function("y", t), gelvo.unknown_function("z", t)

# equation, facts and initial values, free constants, a solution for comparison (or None)
SINGLE = [
    ("y' = 0", [], 1, None),
    ("y' = 3", [], 1, None),
    ("y' = 2*t", ["y(0) = 1"], 0, "t^2 + 1"),
    ("y' + y = 0", [], 1, None),
    ("y' + y = 0", ["y(0) = 2"], 0, "2*exp(-t)"),
    ("y' + a*y = b", ["y(0) = 0", "a > 0"], 0, "b*(1 - exp(-a*t))/a"),
    ("y' - 2*y = exp(t)", [], 1, None),
    ("y' + y = sin(t)", ["y(0) = 0"], 0, "(sin(t) - cos(t) + exp(-t))/2"),
    ("y' + y/t = t^2", ["t > 0"], 1, None),
    ("y' + 2*t*y = t", [], 1, None),
    ("t*y' + y = cos(t)", ["t > 0"], 1, None),
    ("y' = y^2", ["y(0) = 1"], 0, "1/(1 - t)"),
    ("y' = y*(1 - y)", ["y(0) = 1/2"], 0, "exp(t)/(1 + exp(t))"),
    ("y' = t*y", ["y(0) = 3"], 0, "3*exp(t^2/2)"),
    ("y' = -k*y", ["y(0) = y_0"], 0, "y_0*exp(-k*t)"),
    ("y' = exp(t)*y", [], 1, None),
    ("y' = (y + t)/t", ["t > 0"], 1, None),
    ("y' + t*y = t*y^3", [], 1, None),
    ("y'' = 0", [], 2, None),
    ("y'' = -g", ["y(0) = h", "y'(0) = v"], 0, "h + v*t - g*t^2/2"),
    ("y'' + 4*y = 0", ["y(0) = a", "y'(0) = 0"], 0, "a*cos(2*t)"),
    ("y'' - 4*y = 0", [], 2, None),
    ("y'' + 2*y' + y = 0", ["y(0) = 1", "y'(0) = 0"], 0, "(1 + t)*exp(-t)"),
    ("y'' + 2*y' + 5*y = 0", ["y(0) = 0", "y'(0) = 2"], 0, "exp(-t)*sin(2*t)"),
    ("y'' + 3*y' + 2*y = 0", ["y(0) = 1", "y'(0) = 0"], 0, "2*exp(-t) - exp(-2*t)"),
    ("y'' + w^2*y = 0", ["w > 0", "y(0) = a", "y'(0) = b"], 0, "a*cos(w*t) + b*sin(w*t)/w"),
    ("y'' + y = sin(t)", [], 2, None),
    ("y'' + 4*y = cos(2*t)", ["y(0) = 0", "y'(0) = 0"], 0, "t*sin(2*t)/4"),
    ("y'' + y = t^2", [], 2, None),
    ("y'' - y = exp(t)", [], 2, None),
    ("y'' - 3*y' + 2*y = exp(3*t)", [], 2, None),
    ("y'' + y = 0", ["y(0) = 0", "y(pi/2) = 1"], 0, "sin(t)"),
    ("y'' - y = 0", ["y(0) = 1", "y'(1) = 0"], 0, "cosh(1 - t)/cosh(1)"),
    ("m*y'' + c*y' + k*y = 0", ["m > 0", "c > 0", "k > 0", "c^2 < 4*k*m"], 2, None),
    ("m*y'' + c*y' + k*y = 0", ["m > 0", "c > 0", "k > 0", "c^2 > 4*k*m"], 2, None),
    ("m*y'' + k*y = F*cos(w*t)", ["m > 0", "k > 0", "w > 0", "w^2*m != k"], 2, None),
    ("y''' - y = 0", [], 3, None),
    ("y''' + y' = 0", ["y(0) = 0", "y'(0) = 1", "y''(0) = 0"], 0, "sin(t)"),
    ("y'''' - y = 0", [], 4, None),
    ("y'''' + 2*y'' + y = 0", [], 4, None),
    ("t^2*y'' + t*y' - y = 0", ["t > 0"], 2, None),
    ("t^2*y'' - 2*y = 0", ["t > 0"], 2, None),
    ("t^2*y'' + t*y' + y = 0", ["t > 0"], 2, None),
    ("t*y'' = y'", ["t > 0"], 2, None),
    ("y'' + y = heaviside(t - 1)", ["y(0) = 0", "y'(0) = 0"], 0, None),
]


@pytest.mark.parametrize(("text", "given", "constants", "wanted"), SINGLE, ids=[f"{c[0]} {len(c[1])}" for c in SINGLE])
def test_one_equation(text, given, constants, wanted):
    equation = gelvo.formula(text, names_from=y)
    found = gelvo.solve(equation, y, given=given)
    assert len(found) >= 1
    assert len(found.constants) == constants
    assert found.verdict == "proved"
    if wanted is not None:
        facts = [g for g in given if "(" not in g]
        assert gelvo.equal(found.single, gelvo.formula(wanted, names_from=equation), given=[*facts, *found.conditions_of(0)])


def test_damping_comes_in_cases_where_facts_are_silent():
    found = gelvo.solve(gelvo.formula("m*y'' + c*y' + k*y = 0", names_from=y), y, given=["m > 0", "c > 0", "k > 0"])
    assert len(found) == 3
    assert [str(c) for k in range(3) for c in found.conditions_of(k)] == ["c^2 < 4*k*m", "c^2 = 4*k*m", "4*k*m < c^2"] or len(
        {str(found.conditions_of(k)) for k in range(3)}
    ) == 3
    assert found.verdict == "proved"


SYSTEMS = [
    (["y' = z", "z' = -y"], ["y(0) = 0", "z(0) = 1"], 0),
    (["y' = -y + z", "z' = y - z"], ["y(0) = 1", "z(0) = 0"], 0),
    (["y' = -2*y + z + 1", "z' = y - 2*z"], ["y(0) = 0", "z(0) = 0"], 0),
    (["y'' + 2*y - z = 0", "z'' + 2*z - y = 0"], ["y(0) = 1", "y'(0) = 0", "z(0) = 0", "z'(0) = 0"], 0),
    (["y' = a*y", "z' = y"], ["a > 0"], 2),
    (["y' + z = exp(-t)", "z' - y = 0"], ["y(0) = 0", "z(0) = 0"], 0),
    (["y' = z + 1/cos(t)", "z' = -y"], [], 2),  # no transform: variation of the constants
    (["y' = z + 1/cos(t)", "z' = -y"], ["y(0) = 0", "z(0) = 0"], 0),
    (["y' = y*z", "z' = -z"], [], 2),  # one after another
    (["y' = t*y", "z' = y + z"], [], 2),
]


@pytest.mark.parametrize(("texts", "given", "constants"), SYSTEMS, ids=[" ; ".join(c[0]) for c in SYSTEMS])
def test_linear_systems(texts, given, constants):
    equations = [gelvo.formula(e, names_from=[y, z]) for e in texts]
    found = gelvo.solve(equations, [y, z], given=given)
    assert len(found) == 1 and len(found.constants) == constants
    assert found.verdict == "proved"


REFUSED = [
    ("y'' + t*sin(y) = 0", [], gelvo.NotSolved, "solve_numerically"),
    ("y' = a*sqrt(y)", ["y(0) = -2", "a > 0"], gelvo.DomainError, "no real solution"),
    ("y'' + y = 0", ["y(0) = 0", "y(pi) = 1"], gelvo.DomainError, "contradict"),
    ("y' + y = 0", ["y'(0) = 1"], gelvo.DomainError, "follows from the equation"),
    ("y' + y = 0", ["y(0) = 0", "y(0) = 1"], gelvo.DomainError, "contradict"),
    ("y' = y(t - 1)", [], gelvo.NotSolved, "another place"),
    ("y' = t^2*sqrt(y)", ["y(1) = -1"], gelvo.DomainError, "not real"),
    ("t*y' = y^2", ["y(0) = 1"], gelvo.DomainError, "cannot be imposed"),
]


@pytest.mark.parametrize(("text", "given", "fault", "said"), REFUSED, ids=[f"{c[0]} {c[1]}" for c in REFUSED])
def test_what_is_not_solved_says_why(text, given, fault, said):
    with pytest.raises(fault, match=said):
        gelvo.solve(gelvo.formula(text, names_from=y), y, given=given)


def test_a_motion_by_numbers_agrees_with_the_formula():
    equation = gelvo.formula("y'' + y/5 + 4*y = 0", names_from=y)
    course = gelvo.solve_numerically(equation, y, span=(0, 5), given=["y(0) = 1", "y'(0) = 0"], points=11)
    exact = gelvo.solve(equation, y, given=["y(0) = 1", "y'(0) = 0"]).single
    right = gelvo.numeric_function(exact, [t])(course.times)
    assert abs(course["y"] - right).max() < 1e-7
    with pytest.raises(gelvo.DomainError, match="initial value is missing"):
        gelvo.solve_numerically(equation, y, span=(0, 5), given=["y(0) = 1"])
    with pytest.raises(gelvo.ExportError, match="a number for each parameter"):
        gelvo.solve_numerically(gelvo.formula("y' = a*y", names_from=y), y, span=(0, 1), given=["y(0) = 1"])
    with pytest.raises(gelvo.DomainError, match="not at the start"):
        gelvo.solve_numerically(gelvo.formula("y' = y", names_from=y), y, span=(1, 2), given=["y(0) = 1"])


PAPER = [
    ("y'' + y = 0", "y", ["y(0) = 1", "y'(0) = v_0"], "y(x) = cos(x) + v_0*sin(x)"),
    ("x_dot + k*x = 0", "x", ["x(0) = 2"], "x(t) = 2*exp(-k*t)"),
    ("x_ddot + 4*x = 0", "x(t)", ["x(0) = 0", "x_dot(0) = v"], "x(t) = v*cos(t)*sin(t)"),
    ("(r*T')' = 0", "T(r)", ["T(a) = T_1", "T'(b) = 0", "a > 0", "b > a"], "T(r) = T_1 if r > 0"),
    ("(r^2*R')'/r^2 = -q", "R(r)", ["R(a) = 0", "R'(0) = 0", "a > 0"], "R(r) = q*(a - r)*(r + a)/6"),
    ("(x*u)' = 0", "u", [], "u(x) = C_1/x if x != 0"),
    ("m*x_ddot + k*x = 0", "x(t)", ["m > 0", "k > 0"], "x(t) = C_1*cos(sqrt(k/m)*t) + C_2*sin(sqrt(k/m)*t)"),
    (["x' = y", "y' = -x"], ["x", "y"], [], "x(t) = C_1*cos(t) + C_2*sin(t), y(t) = C_2*cos(t) - C_1*sin(t)"),
    ("y' = (x + y)/(x - y)", "y", [], "ln(y(x)^2/x^2 + 1)/2 - atan(y(x)/x) = C_1 - ln(abs(x))"),
    ("y'' + w^2*sin(y) = 0", "y(t)", ["w > 0"], "y(t) = 2*jacobiam(sqrt(2*w^2 + C_1)*(t + C_2)/2, 4*w^2/(2*w^2 + C_1)) or y(t) = -2*jacobiam(sqrt(2*w^2 + C_1)*(t + C_2)/2, 4*w^2/(2*w^2 + C_1))   # if 2*w^2 + C_1 > 0"),
    ("y'' = sqrt(1 + y'^2)/a", "y(x)", ["a > 0", "y(0) = a", "y'(0) = 0"], "y(x) = a*cosh(x/a)"),
    ("y'' + (tan(x) - 2*cot(x))*y' = 0", "y(x)", [], "y(x) = C_1*sin(x)^3 - C_2/3"),
    ("x'' + w^2*x = dirac_delta(t - T)", "x(t)", ["w > 0", "T > 0", "x(0) = 0", "x'(0) = 0"], "x(t) = heaviside(t - T)*sin(w*(t - T))/w"),
    ("y'' + sin(y) = 0", "y(t)", ["y(0) = 0", "y'(0) = 1"], "y(t) = 2*jacobiam(t/2, 4)"),
    ("h' = -a*sqrt(h)", "h(t)", ["a > 0", "H > 0", "h(0) = H"], "h(t) = (sqrt(H) - a*t/2)^2 if sqrt(H) - a*t/2 >= 0"),
    ("y = x*y' + y'^2", "y(x)", [], "y(x) = C_1*x + C_1^2 or y(x) = -x^2/4"),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "unknown", "given", "wanted"), PAPER, ids=[str(c[0]) for c in PAPER])
def test_equations_are_taken_as_they_are_written_on_paper(equation, unknown, given, wanted):
    found = gelvo.solve(equation, unknown, given=given)
    assert str(found) == wanted and found.verdict == "proved"
    assert "text/latex" in found._repr_mimebundle_()


FORCED = [
    ("cases(1 when t < 1, otherwise 0)", "1 + (cos(t - 1) - 1)*heaviside(t - 1) - cos(t)"),
    ("cases(t when t < 1, 2 - t when t < 2, otherwise 0)", "t + (t - sin(t - 2) - 2)*heaviside(t - 2) + (2 + 2*sin(t - 1) - 2*t)*heaviside(t - 1) - sin(t)"),
    ("abs(t - 1)", "1 + sin(t) - cos(t) + (2*t - 2*sin(t - 1) - 2)*heaviside(t - 1) - t"),
    ("t*heaviside(1 - t)", "t + (sin(t - 1) + cos(t - 1) - t)*heaviside(t - 1) - sin(t)"),
    ("max(t, 2)", "2 - 2*cos(t) + (t - 2 - sin(t - 2))*heaviside(t - 2)"),
    ("cases(F when t < T, otherwise 0)", "F - F*cos(t) + (F*cos(t - T) - F)*heaviside(t - T)"),
]  # fmt: skip


@pytest.mark.parametrize(("forcing", "wanted"), FORCED, ids=[f[0] for f in FORCED])
def test_forcing_in_sections_is_checked_across_its_joints(forcing, wanted):
    found = gelvo.solve(f"x'' + x = {forcing}", "x(t)", given=["x(0) = 0", "x'(0) = 0", "T > 0"])
    assert found.verdict == "proved" and gelvo.equal(found.single, wanted)
    assert gelvo.equal("heaviside(1 - t) + heaviside(t - 1)", 1)
