"""Differential equations: resonance, equal rates, cases of letters, lost branches, impulses; each answer with what must hold for it."""

from __future__ import annotations

import pytest

import gelvo

TABLE = [
    (
        "x'' + w^2*x = F*cos(p*t)",
        "t",
        [],
        "x(t) = C_1*cos(w*t) + C_2*sin(w*t) + F*cos(p*t)/(w^2 - p^2) if w != 0 and p - w != 0 and p + w != 0 or x(t) = C_2*t + C_1 - F*cos(p*t)/p^2 if w = 0   # if p != 0",
    ),
    (
        "x'' + w^2*x = F*cos(p*t)",
        "t",
        ["w > 0", "p > 0"],
        "x(t) = C_1*cos(w*t) + C_2*sin(w*t) + F*cos(p*t)/(w^2 - p^2) if p - w != 0 or x(t) = F*t*sin(w*t)/(2*w) + C_1*cos(w*t) + C_2*sin(w*t) if p - w = 0",
    ),
    ("x'' + w^2*x = cos(w*t)", "t", ["w > 0"], "x(t) = t*sin(w*t)/(2*w) + C_1*cos(w*t) + C_2*sin(w*t)"),
    (
        "x' + a*x = exp(-b*t)",
        "t",
        [],
        "x(t) = C_1*exp(-a*t) + exp(-b*t)/(a - b) if a - b != 0 or x(t) = t*exp(-b*t) + C_1*exp(-b*t) if a - b = 0",
    ),
    ("x' + a*x = t", "t", [], "x(t) = C_1*exp(-a*t) + (a*t - 1)/a^2 if a != 0 or x(t) = t^2/2 + C_1 if a = 0"),
    ("x' + a*x = 1", "t", [], "x(t) = C_1*exp(-a*t) + 1/a if a != 0 or x(t) = t + C_1 if a = 0"),
    (
        "x'' + a*x' = t",
        "t",
        [],
        "x(t) = C_1 + C_2*exp(-a*t) + (a*t^2/2 - t)/a^2 if a != 0 or x(t) = t^3/6 + C_2*t + C_1 if a = 0",
    ),
    (
        "x''' + a*x' = t",
        "t",
        [],
        "x(t) = t^2/(2*a) + C_1 + C_2*cos(sqrt(a)*t) + C_3*sin(sqrt(a)*t) if a > 0 or x(t) = t^2/(2*a) + C_1 + C_2*exp(sqrt(-a)*t) + C_3*exp(-sqrt(-a)*t) if a < 0 or x(t) = t^4/24 + C_3*t^2 + C_2*t + C_1 if a = 0",
    ),
    (
        "x''' + a*x' = 0",
        "t",
        [],
        "x(t) = C_1 + C_2*cos(sqrt(a)*t) + C_3*sin(sqrt(a)*t) if a > 0 or x(t) = C_1 + C_2*exp(sqrt(-a)*t) + C_3*exp(-sqrt(-a)*t) if a < 0 or x(t) = C_3*t^2 + C_2*t + C_1 if a = 0",
    ),
    (
        "x'' + a*x = 0",
        "t",
        [],
        "x(t) = C_1*cos(sqrt(a)*t) + C_2*sin(sqrt(a)*t) if a > 0 or x(t) = C_1*exp(sqrt(-a)*t) + C_2*exp(-sqrt(-a)*t) if a < 0 or x(t) = C_2*t + C_1 if a = 0",
    ),
    (
        "x'' = a*x",
        "t",
        [],
        "x(t) = C_1*cos(sqrt(-a)*t) + C_2*sin(sqrt(-a)*t) if a < 0 or x(t) = C_1*exp(sqrt(a)*t) + C_2*exp(-sqrt(a)*t) if a > 0 or x(t) = C_2*t + C_1 if a = 0",
    ),
    # what the equation divides by is no case of its own
    (
        "x'' + x/C = 0",
        "t",
        [],
        "x(t) = C_1*cos(t/sqrt(C)) + C_2*sin(t/sqrt(C)) if C > 0 or x(t) = C_1*exp(t/sqrt(-C)) + C_2*exp(-t/sqrt(-C)) if C < 0   # if C != 0",
    ),
    (
        "L*x'' + x/C = 0",
        "t",
        [],
        "x(t) = C_1*cos(t/sqrt(C*L)) + C_2*sin(t/sqrt(C*L)) if C*L > 0 or x(t) = C_1*exp(t/sqrt(-C*L)) + C_2*exp(-t/sqrt(-C*L)) if C*L < 0",
    ),
    ("x'' = x/(a - b)", "t", ["a > b"], "x(t) = C_1*exp(t/sqrt(a - b)) + C_2*exp(-t/sqrt(a - b))"),
    (
        "x'' + x/m = f/m",
        "t",
        ["x(0) = 0", "x'(0) = 0"],
        "x(t) = f*(1 - cos(t/sqrt(m))) if m > 0 or x(t) = f - f*cosh(t/sqrt(-m)) if m < 0   # if m != 0",
    ),
    (  # 1/(a*p) has the sign of a*p
        "x/(a*p) + x'' = heaviside(t)",
        "t",
        ["x(0) = -2/3", "x'(0) = 0"],
        "x(t) = (a*p - a*p*cos(sqrt(a*p)*t/(a*p)))*heaviside(t) - 2*cos(t/sqrt(a*p))/3 if a*p > 0 or x(t) = a*p*heaviside(t) - a*p*cosh(sqrt(-a*p)*t/(a*p))*heaviside(t) - 2*cosh(t/sqrt(-a*p))/3 if a*p < 0",
    ),
    ("y' + y/x = y^3", "x", [], "y(x) = -1/sqrt(x*(C_1*x + 2)) or y(x) = 1/sqrt(x*(C_1*x + 2)) or y(x) = 0"),
    ("y' = y^2", "t", [], "y(t) = 1/(C_1 - t) or y(t) = 0"),
    ("y' = y^2", "t", ["y(0) = 0"], "y(t) = 0"),
    ("y' = a*y*(1 - y)", "t", [], "y(t) = 1/(1 + C_1*exp(-a*t)) or y(t) = 0"),
    ("y' = y*(1-y)", "t", [], "y(t) = exp(t)/(C_1 + exp(t)) or y(t) = 0"),
    ("y' = y*(1-y)", "t", ["y(0) = 1"], "y(t) = 1"),
    ("y' = sqrt(y)", "t", [], "y(t) = (t/2 + C_1)^2 if t/2 + C_1 >= 0 or y(t) = 0"),
    ("y' = y^3 + y", "t", [], "y(t) = -exp(t)/sqrt(C_1 - exp(2*t)) or y(t) = exp(t)/sqrt(C_1 - exp(2*t)) or y(t) = 0"),
    ("t^2*x'' + t*x' - x = 0", "t", [], "x(t) = C_1*t + C_2/t if t != 0"),
    ("t^2*x'' - 3*t*x' + 4*x = 0", "t", [], "x(t) = C_1*t^2 + C_2*t^2*ln(t) if t > 0"),
    ("t^2*x'' + t*x' + 4*x = 0", "t", [], "x(t) = C_1*cos(2*ln(t)) + C_2*sin(2*ln(t)) if t > 0"),
    ("x'' + x = dirac_delta(t)", "t", ["x(0) = 0", "x'(0) = 0"], "x(t) = heaviside(t)*sin(t)"),
    ("x'' + x = dirac_delta(t)", "t", [], "x(t) = C_1*cos(t) + C_2*sin(t) + heaviside(t)*sin(t)"),
    ("x'' + x = dirac_delta(t-1)", "t", ["x(0) = 0", "x'(0) = 0"], "x(t) = heaviside(t - 1)*sin(t - 1)"),
    ("x' + x = dirac_delta(t)", "t", ["x(0) = 1"], "x(t) = exp(-t)*(1 + heaviside(t))"),
    (
        "x'' + 3*x' + 2*x = exp(-a*t)",
        "t",
        [],
        "x(t) = C_1*exp(-t) + C_2*exp(-2*t) + exp(-a*t)/((a - 2)*(a - 1))   # if a != 2 and a != 1",
    ),
    (
        "x'' + c*x' + x = 0",
        "t",
        [],
        "x(t) = exp(-c*t/2)*(C_1*cos(sqrt(4 - c^2)*t/2) + C_2*sin(sqrt(4 - c^2)*t/2)) if c^2 < 4 or x(t) = C_1*exp(-(c - sqrt(c^2 - 4))*t/2) + C_2*exp(-(c + sqrt(c^2 - 4))*t/2) if c^2 > 4 or x(t) = (C_2*t + C_1)*exp(-c*t/2) if c^2 = 4",
    ),
    (
        "x'' - a^2*x = exp(b*t)",
        "t",
        [],
        "x(t) = C_1*exp(a*t) + C_2*exp(-a*t) + exp(b*t)/(b^2 - a^2)   # if a != 0 and a - b != 0 and a + b != 0",
    ),
    (
        "x'' + 2*a*x' + b^2*x = 0",
        "t",
        [],
        "x(t) = exp(-a*t)*(C_1*cos(sqrt(b^2 - a^2)*t) + C_2*sin(sqrt(b^2 - a^2)*t)) if a^2 < b^2 or x(t) = C_1*exp(-(a - sqrt(a^2 - b^2))*t) + C_2*exp(-(a + sqrt(a^2 - b^2))*t) if b^2 < a^2 or x(t) = (C_2*t + C_1)*exp(-a*t) if b^2 = a^2",
    ),
    ("(a-1)*x' + x = 0", "t", [], "x(t) = C_1*exp(-t/(a - 1))   # if a != 1"),
    ("y' = y^2*x", "x", [], "y(x) = 1/(C_1 - x^2/2) or y(x) = 0"),
    ("y' + 2*x*y = x*y^2", "x", [], "y(x) = 2/(1 + 2*C_1*exp(x^2)) or y(x) = 0"),
    ("x*y' = y + x", "x", [], "y(x) = C_1*x + x*ln(abs(x)) if x != 0"),
    ("y' = (x+y)/(x-y)", "x", [], "ln(y(x)^2/x^2 + 1)/2 - atan(y(x)/x) = C_1 - ln(abs(x))"),
    ("x*y' = y", "x", ["y(0) = 0"], "y(x) = C_1*x"),
    ("x*y' = y", "x", ["y(1) = 2"], "y(x) = 2*x"),
    ("y'' + y = 0", "t", ["y(0) = 0", "y(pi) = 0"], "y(t) = C_2*sin(t)"),
    ("y'' + w^2*y = 0", "t", ["y(0) = 0", "y(L) = 0"], "y(t) = 0 if w != 0 and sin(L*w) != 0 or y(t) = 0 if w = 0 and L != 0"),
    (
        "y'' + w^2*y = 0",
        "t",
        ["y(0) = 0", "y(L) = 1"],
        "y(t) = sin(w*t)/sin(L*w) if w != 0 and sin(L*w) != 0 or y(t) = t/L if w = 0 and L != 0",
    ),
    ("y' = abs(y)", "t", [], "y(t) = exp(t + C_1) or y(t) = -exp(-t - C_1) or y(t) = 0"),
    ("y'^2 = y", "t", [], "y(t) = (t - C_1)^2/4 or y(t) = 0"),
    (
        "y' = cos(y)",
        "t",
        [],
        "y(t) = 2*pi*n_1 - asin((C_1 + exp(2*t))/(C_1 - exp(2*t))) or y(t) = 2*pi*n_1 + asin((C_1 + exp(2*t))/(C_1 - exp(2*t))) + pi or y(t) = pi/2 + pi*n_1",
    ),
    ("y'' = 0", "t", ["y(a) = 0", "y(b) = 1"], "y(t) = (t - a)/(b - a)   # if a - b != 0"),
    ("x'' + x = heaviside(t)", "t", ["x(0) = 0", "x'(0) = 0"], "x(t) = (1 - cos(t))*heaviside(t)"),
    ("x' + x = heaviside(t+1)", "t", [], "x(t) = (1 - exp(-(t + 1)))*heaviside(t + 1) + C_1*exp(-t)"),
    ("x' + x = heaviside(t+1)", "t", ["x(0) = 0"], "x(t) = (1 - exp(-t - 1))*heaviside(t + 1) - exp(-t) + exp(-t - 1)"),
    ("x' + x = abs(t)", "t", ["x(0) = 0"], "x(t) = (2*heaviside(t) - 1)*(t + exp(-t) - 1)"),
    ("x' = heaviside(t-2) - 2*dirac_delta(t-3)", "t", ["x(0) = 1"], "x(t) = 1 + (t - 2)*heaviside(t - 2) - 2*heaviside(t - 3)"),
    (
        "m*x'' + c*x' + k*x = J*dirac_delta(t)",
        "t",
        ["m > 0", "c > 0", "k > 0", "c^2 < 4*k*m", "x(0) = 0", "x'(0) = 0"],
        "x(t) = 2*J*exp(-c*t/(2*m))*heaviside(t)*sin(sqrt(4*m*k - c^2)*t/(2*m))/sqrt(4*m*k - c^2)",
    ),
    ("y*y' = y", "t", [], "y(t) = t + C_1 or y(t) = 0"),
    ("y*y' = t", "t", [], "y(t) = -sqrt(t^2 + C_1) or y(t) = sqrt(t^2 + C_1)"),
    ("y' = 2*t*y^2", "t", ["y(0) = y_0"], "y(t) = 1/(1/y_0 - t^2) if y_0 != 0 and y_0*t^2 != 1 or y(t) = 0 if y_0 = 0"),
    ("y' = y^(1/3)", "t", ["y(0) = 0"], "y(t) = 2*sqrt(6)*t^(3/2)/9 if t >= 0 or y(t) = 0"),
    ("y' = y^2 - 1", "t", [], "y(t) = -(1 + C_1*exp(2*t))/(C_1*exp(2*t) - 1) or y(t) = -1"),
    ("y' = exp(y)", "x", [], "y(x) = ln(-1/(x + C_1))"),
    ("y' = sin(t)*y^3", "t", [], "y(t) = -1/sqrt(C_1 + 2*cos(t)) or y(t) = 1/sqrt(C_1 + 2*cos(t)) or y(t) = 0"),
    ("t*y' = y^2", "t", [], "y(t) = 1/(C_1 - ln(abs(t))) if t != 0 or y(t) = 0"),
    ("y'' + y'^2 = 0", "t", [], "y(t) = C_2 + ln(abs(t + C_1)) or y(t) = C_2"),
    ("y'' = y'", "t", [], "y(t) = C_1 + C_2*exp(t)"),
    (
        "y'' + w*y = 0",
        "t",
        ["y(0) = 1/3", "y'(0) = -2"],
        "y(t) = cos(sqrt(w)*t)/3 - 2*sin(sqrt(w)*t)/sqrt(w) if w > 0 or y(t) = cosh(sqrt(-w)*t)/3 - 2*sinh(sqrt(-w)*t)/sqrt(-w) if w < 0 or y(t) = (1 - 6*t)/3 if w = 0",
    ),
    ("y' = t*y + t/y", "t", [], "y(t) = -sqrt(C_1*exp(t^2) - 1) or y(t) = sqrt(C_1*exp(t^2) - 1)"),
    (
        "y'' + b^2*y = t^2",
        "t",
        [],
        "y(t) = C_1*cos(b*t) + C_2*sin(b*t) + (b^2*t^2 - 2)/b^4 if b != 0 or y(t) = t^4/12 + C_2*t + C_1 if b = 0",
    ),
    ("t*y' = y + t", "t", ["y(0) = 0"], "DomainError"),
    ("y' = y/t + 1", "t", ["y(0) = 0"], "DomainError"),
    ("y' = y/t", "t", ["y(0) = 1"], "DomainError"),
    ("y' = 1/t", "t", ["y(0) = 1"], "DomainError"),
    ("t*y' = y^2", "t", ["y(0) = 1"], "DomainError"),
    (
        "a*y + w*y'' = t",
        "t",
        ["w > 0"],
        "y(t) = t/a + C_1*cos(sqrt(a/w)*t) + C_2*sin(sqrt(a/w)*t) if a > 0 or y(t) = t/a + C_1*exp(sqrt(-a/w)*t) + C_2*exp(-sqrt(-a/w)*t) if a < 0 or y(t) = t^3/(6*w) + C_2*t + C_1 if a = 0",
    ),
    (
        "x'' + w*x = heaviside(t-1)",
        "t",
        ["x(0) = 0", "x'(0)=1"],
        "x(t) = (1/w - cos(sqrt(w)*(t - 1))/w)*heaviside(t - 1) + sin(sqrt(w)*t)/sqrt(w) if w > 0 or x(t) = sinh(sqrt(-w)*t)/sqrt(-w) - cosh(sqrt(-w) - sqrt(-w)*t)*heaviside(t - 1)/w + heaviside(t - 1)/w if w < 0 or x(t) = t + (t - 1)^2*heaviside(t - 1)/2 if w = 0",
    ),
    ("y' = -y + y^3", "t", [], "y(t) = -1/sqrt(1 + C_1*exp(2*t)) or y(t) = 1/sqrt(1 + C_1*exp(2*t)) or y(t) = 0"),
    ("y' = y + y^3", "t", ["y(0) = 1"], "y(t) = exp(t)/sqrt(2 - exp(2*t)) if 2 - exp(2*t) > 0"),
    ("y' = y + y^3", "t", ["y(0) = -1"], "y(t) = -exp(t)/sqrt(2 - exp(2*t)) if 2 - exp(2*t) > 0"),
    ("y' = y - y^2", "t", ["y(0) = 1/2"], "y(t) = 1/(1 + exp(-t))"),
    ("y' = y - y^2", "t", ["y(0) = 0"], "y(t) = 0"),
    ("y' = y - y^2", "t", ["y(0) = y_0"], "y(t) = y_0*exp(t)/(1 + y_0*exp(t) - y_0) if y_0 - y_0*exp(t) - 1 != 0"),
    ("y' = y - y^2", "t", [], "y(t) = exp(t)/(C_1 + exp(t)) or y(t) = 0"),
    ("y' = y/t + y^3", "t", ["y(1) = 2"], "y(t) = 2*sqrt(3)*abs(t)/sqrt(11 - 8*t^3) if 11 - 8*t^3 > 0"),
    ("y' = -y + 1/y", "t", ["y(0) = -2"], "y(t) = -sqrt(1 + 3*exp(-2*t))"),
    ("y' = y + sqrt(y)", "t", [], "y(t) = (C_1*exp(t/2) - 1)^2 if C_1*exp(t/2) - 1 >= 0 or y(t) = 0"),
    ("y' = y + sqrt(y)", "t", ["y(0) = 1"], "y(t) = (2*exp(t/2) - 1)^2 if 2*exp(t/2) - 1 >= 0"),
    ("y' = y + sqrt(y)", "t", ["y(0) = 0"], "y(t) = (exp(t/2) - 1)^2 if exp(t/2) - 1 >= 0 or y(t) = 0"),
]


@pytest.mark.parametrize(("equation", "by", "given", "expected"), TABLE, ids=[f"{c[0]} {c[2]}" for c in TABLE])
def test_solutions_with_their_conditions(equation, by, given, expected):
    unknown = gelvo.unknown_function(next(letter for letter in "xyz" if f"{letter}'" in equation), by)
    stated = gelvo.formula(equation, names_from=unknown)
    if expected in ("NotSolved", "DomainError"):
        with pytest.raises(getattr(gelvo, expected)):
            gelvo.solve(stated, unknown, given=given)
        return
    found = gelvo.solve(stated, unknown, given=given)
    assert str(found) == expected and found.verdict == "proved"


def test_the_case_that_a_condition_hides_is_told():
    x = gelvo.unknown_function("x", "t")
    found = gelvo.solve(gelvo.formula("x'' + w^2*x = cos(p*t)", names_from=x), x, given=["w > 0", "p > 0"])
    assert found.cases == ("off resonance", "resonance") and "p - w = 0" in map(str, found.conditions_of(1))
    assert str(found.case("resonance").single) == "t*sin(w*t)/(2*w) + C_1*cos(w*t) + C_2*sin(w*t)"
    started = gelvo.solve(gelvo.formula("x' + a*x = exp(-b*t)", names_from=x), x, given=["x(0) = 1"])
    assert started.cases == () and gelvo.equal(started[1][x], "(t + 1)*exp(-b*t)")


LAGRANGE = [
    # (equation, solutions with the family as relations, whether all are told)
    (
        "y = 2*x*y' + y'^2",
        ["-x*y(x) - 2*x^3/3 - 2*(y(x) + x^2)^(3/2)/3", "2*(y(x) + x^2)^(3/2)/3 - 2*x^3/3 - x*y(x)", "y(x)"],
        True,
    ),
    ("y = x*y'^2 + y'^3", ["y(x)", "y(x)"], False),
]


@pytest.mark.parametrize(("equation", "left", "complete"), LAGRANGE, ids=[c[0] for c in LAGRANGE])
def test_the_slope_as_a_parameter_leads_to_relations_or_is_told(equation, left, complete):
    found = gelvo.solve(equation, "y(x)")
    assert [str(next(iter(s))) for s in found] == left and found.verdict == "proved" and found.complete is complete
    assert complete or "the family is told by the slope" in found.reason


def test_a_value_cannot_be_stated_where_the_solution_does_not_reach():
    y = gelvo.unknown_function("y", "t")
    with pytest.raises(gelvo.DomainError, match="cannot be imposed"):
        gelvo.solve(gelvo.formula("t*y' = y + t", names_from=y), y, given=["y(0) = 0"])


def test_constant_solutions_come_in_families():
    y = gelvo.unknown_function("y", "t")
    found = gelvo.solve(gelvo.formula("y' = cos(y)^2", names_from=y), y)
    assert any("n_" in str(s[y]) and "C_1" not in str(s[y]) for s in found)


SYSTEMS = [
    (["x' = y", "y' = -w^2*x"], [], ["w != 0", "w = 0"], 2),
    (["x' = y", "y' = -k*x"], ["x(0) = 1", "y(0) = 0"], ["k > 0", "k < 0", "k = 0"], 3),
    (["x' = y", "y' = -k*x"], ["x(0) = 1", "y(0) = 0", "k > 0"], [], 1),
    (["x' = -a*x", "y' = a*x - b*y"], ["x(0) = 1", "y(0) = 0"], ["a - b != 0", "a - b = 0"], 2),
    (["x' = a*x + y", "y' = a*y"], [], [], 1),
    (["x' + y = dirac_delta(t)", "y' - x = 0"], ["x(0) = 0", "y(0) = 0"], [], 1),
]


@pytest.mark.parametrize(("equations", "given", "conditions", "count"), SYSTEMS, ids=[f"{s[0]} {s[1]}" for s in SYSTEMS])
def test_systems_list_the_cases_of_their_letters(equations, given, conditions, count):
    unknowns = [gelvo.unknown_function(n, "t") for n in "xy"]
    found = gelvo.solve([gelvo.formula(e, names_from=unknowns) for e in equations], unknowns, given=given)
    assert len(found) == count and found.complete and found.verdict == "proved"
    assert [str(c) for k in range(count) for c in found.conditions_of(k)] == conditions


def test_a_case_that_no_letter_gives_is_left_and_said():
    unknowns = [gelvo.unknown_function(n, "t") for n in "xy"]
    found = gelvo.solve([gelvo.formula(e, names_from=unknowns) for e in ("x' = a*y", "y' = b*x")], unknowns)
    assert not found.complete and "a*b = 0" in found.reason
