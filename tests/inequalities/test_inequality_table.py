"""Inequalities and equations with powers, W, waves of one angle and whole numbers: exactly the solutions listed."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

INEQUALITIES = [
    ("x < 3", [], "(-inf, 3)"),
    ("2*x + 1 >= 7", [], "[3, inf)"),
    ("3 - x > 1", [], "(-inf, 2)"),
    ("x^2 < 4", [], "(-2, 2)"),
    ("x^2 >= 4", [], "(-inf, -2] [2, inf)"),
    ("x^2 <= 0", [], "[0, 0]"),
    ("x^2 < 0", [], ""),
    ("x^2 + 1 > 0", [], "(-inf, inf)"),
    ("x^2 - 5*x + 6 <= 0", [], "[2, 3]"),
    ("x^3 - x > 0", [], "(-1, 0) (1, inf)"),
    ("(x - 1)*(x + 2)^2 >= 0", [], "[-2, -2] [1, inf)"),
    ("x*(x - 1)^2*(x + 2)^3 <= 0", [], "[-2, 0] [1, 1]"),
    ("1/x > 0", [], "(0, inf)"),
    ("1/x < 2", [], "(-inf, 0) (1/2, inf)"),
    ("(x - 1)/(x + 2) >= 2", [], "[-5, -2)"),
    ("(x^2 - 4)/(x^2 - 2*x - 3) <= 0", [], "[-2, -1) [2, 3)"),
    ("x/(x^2 + 1) > 2/5", [], "(1/2, 2)"),
    ("abs(x) < 2", [], "(-2, 2)"),
    ("abs(x - 1) >= 3", [], "(-inf, -2] [4, inf)"),
    ("abs(x - 2) < abs(x)", [], "(1, inf)"),
    ("sqrt(x) < 2", [], "[0, 4)"),
    ("sqrt(x) > x", [], "(0, 1)"),
    ("sqrt(x + 6) >= x", [], "[-6, 3]"),
    ("ln(x) > 0", [], "(1, inf)"),
    ("ln(x) <= 1", [], "(0, exp(1)]"),
    ("exp(x) < 5", [], "(-inf, ln(5))"),
    ("exp(2*x) - 3*exp(x) + 2 < 0", [], "(0, ln(2))"),
    ("sin(x) > 1/2", ["0 <= x", "x <= 2*pi"], "(pi/6, 5*pi/6)"),
    ("cos(x) <= 0", ["0 <= x", "x <= 2*pi"], "[pi/2, 3*pi/2]"),
    ("x^2 - 2 > 0", ["x > 0"], "(sqrt(2), inf)"),
    ("x^2 < 9 and x > 1", [], "(1, 3)"),
    ("x < -1 or x > 4", [], "(-inf, -1) (4, inf)"),
    ("a*x > b", ["a > 0"], "(b/a, inf)"),
    ("a*x + b > c", ["a < 0"], "(-inf, -(b - c)/a)"),
    ("x^2 < a^2", ["a > 0"], "(-a, a)"),
    ("(x - a)*(x - b) < 0", ["a < b"], "(a, b)"),
    ("floor(x)^2 - 3*floor(x) + 2 <= 0", [], "[1, 3)"),
    ("ceil(2*x - 1) <= 3", [], "(-inf, 2]"),
    ("floor(x)^2 < 2", [], "[-1, 2)"),
    ("floor(x/2 + 1) != 3", [], "(-inf, 4) [6, inf)"),
    ("1/floor(x) > 1/3", [], "[1, 3)"),
    ("gamma(x) > 0", ["x > 0"], "(0, inf)"),
    ("gamma(x) > 0", ["x > -5/2", "x < 2"], "(-2, -1) (0, 2)"),
    ("1/gamma(x) < 0", ["x > -5/2", "x < 2"], "(-5/2, -2) (-1, 0)"),
]


@pytest.mark.parametrize(("text", "given", "wanted"), INEQUALITIES, ids=[c[0] for c in INEQUALITIES])
def test_inequalities(text, given, wanted):
    found = gelvo.solve(text, "x", given=given)
    assert " ".join(map(str, found.intervals)) == wanted
    assert found.verdict in ("proved", "supported")


def test_a_solution_set_answers_and_refuses():
    found = gelvo.solve("x^2 < 4", "x")
    assert 1 in found and 2 not in found and str(found) == "x > -2 and x < 2"
    assert str(gelvo.solve("x^2 < -1", "x")) == "no solution"
    assert str(gelvo.solve("x^2 > -1", "x")) == "every value solves"
    with pytest.raises(gelvo.NotSolved, match="give a range"):
        gelvo.solve("sin(x) > cos(pi*x)", "x")
    with pytest.raises(gelvo.NotSolved, match="give a range"):
        gelvo.solve("gamma(x) > 0", "x")
    assert str(gelvo.solve("x + y < 1", ["x", "y"])) == "x < 1 - y"
    with pytest.raises(gelvo.NotSolved, match="not linear"):
        gelvo.solve("x*y < 1", ["x", "y"])
    assert str(gelvo.solve("x + 1 < x + 1", "x")) == "no solution" and str(gelvo.solve("x <= x", "x")) == "every value solves"
    with pytest.raises(gelvo.DomainError, match="does not occur"):
        gelvo.solve("y < 1", "x")
    with pytest.raises(gelvo.NotSolved, match="over the real"):
        gelvo.solve("x < 1", "x", over="complex")


EQUATIONS = [
    ("x*exp(x) = 1", "real", [], ["lambertw(1)"]),
    ("x*exp(x) = -1/5", "real", [], ["lambertw(-1/5)", "lambertw_lower(-1/5)"]),
    ("x*exp(x) = -1", "real", [], []),
    ("x + exp(x) = 0", "real", [], ["-lambertw(1)"]),
    ("x + ln(x) = 3", "real", [], ["lambertw(exp(3))"]),
    ("x^x = 2", "positive", [], ["exp(lambertw(ln(2)))"]),
    ("x^2 = 2^x", "real", [], ["2", "4", "-exp(-lambertw(ln(2)/2))"]),
    ("x*ln(x) = 1", "real", [], ["exp(lambertw(1))"]),
    ("x^ln(x) = exp(4)", "positive", [], ["exp(2)", "exp(-2)"]),
    ("(x^2 - 5*x + 5)^(x^2 - 9*x + 20) = 1", "real", [], ["1", "2", "3", "4", "5"]),
    ("(2*x - 5)^(x + 1) = 1", "real", [], ["3", "-1"]),
    ("x^x = x", "real", [], ["1", "-1"]),
    ("(x - 3)^x = 1", "real", [], ["0", "4", "2"]),
    ("sin(x) = cos(x)", "real", ["0 <= x", "x < 2*pi"], ["pi/4", "5*pi/4"]),
    ("sin(x) + cos(x) = 1", "real", ["0 <= x", "x < 2*pi"], ["0", "pi/2"]),
    ("sin(2*x) = sin(x)", "real", ["0 <= x", "x < 2*pi"], ["0", "pi/3", "pi", "5*pi/3"]),
    ("cos(2*x) + cos(x) = 0", "real", ["0 <= x", "x < 2*pi"], ["pi/3", "pi", "5*pi/3"]),
    ("tan(x) = 1", "real", ["0 <= x", "x < pi"], ["pi/4"]),
    ("2*sin(x)^2 = 1 + cos(x)", "real", ["0 <= x", "x <= pi"], ["pi/3", "pi"]),
    ("3*cosh(x) - sinh(x) = 3", "real", [], ["0", "ln(2)"]),
    ("a*cos(x) = 0", "real", ["a > 0", "0 <= x", "x <= pi"], ["pi/2"]),
]


@pytest.mark.parametrize(("text", "over", "given", "wanted"), EQUATIONS, ids=[c[0] for c in EQUATIONS])
def test_transcendental_equations(text, over, given, wanted):
    found = gelvo.solve(text, "x", over=over, given=given)
    values = [next(iter(s.values())) for s in found]
    assert len(values) == len(wanted)
    for target in wanted:
        assert any(gelvo.equal(v, target) for v in values), target


COMPLEX = [("4^x - 3*2^x - 4 = 0", 2), ("sin(z) = 2", 2), ("cos(z) = 3", 2), ("exp(z) = -1", 1), ("2^z = 8", 1)]


@pytest.mark.parametrize(("text", "count"), COMPLEX, ids=[c[0] for c in COMPLEX])
def test_complex_families_satisfy_their_equation(text, count):
    unknown = "x" if "x" in text.replace("exp", "") else "z"
    found = gelvo.solve(text, unknown, over="complex")
    assert len(found) == count and found.families
    equation = gelvo.formula(text)
    for solution in found:
        for n in (-1, 0, 2):
            value = next(iter(solution.values())).substitute(dict.fromkeys(found.families, n))
            gap = (equation.left - equation.right).substitute({unknown: value})
            try:
                assert abs(complex(gelvo.value(gap, 12))) < 1e-10
            except gelvo.Undecided:  # exactly zero, as far as thousands of bits can tell
                continue


WHOLE = [
    ("3*x + 5*y = 1", ["x", "y"], 1),
    ("6*x + 10*y = 4", ["x", "y"], 1),
    ("2*x + 4*y = 1", ["x", "y"], 0),
    ("6*x + 10*y + 15*z = 7", ["x", "y", "z"], 2),
    ("x/2 + y/3 = 1", ["x", "y"], 1),
]


@pytest.mark.parametrize(("text", "unknowns", "free"), WHOLE, ids=[c[0] for c in WHOLE])
def test_whole_number_equations(text, unknowns, free):
    found = gelvo.solve(text, unknowns, over="integer")
    assert len(found) == (1 if free else 0) and len(found.families) == free
    if free:
        assert found.verdict == "proved"


def test_special_cases_tell_what_a_condition_hides():
    line = gelvo.solve("a*x = b", "x")
    ((condition, case),) = line.special_cases
    assert str(condition) == "a = 0" and case.everything and "b = 0" in str(case)
    quadratic = gelvo.solve("a*x^2 + b*x + c = 0", "x", over="complex")
    ((_, linear),) = quadratic.special_cases
    assert len(linear) == 1 and str(linear.conditions[0]) == "b != 0"
    assert linear.special_cases[0][1].everything


ROOTS = [
    ("x^3 - 2*x", -2, 1, ["-sqrt(2)", "0"]),
    ("sin(x)", 1, 10, ["pi", "2*pi", "3*pi"]),
    ("exp(x) - 2", 0, 3, ["ln(2)"]),
    ("x^2 + 1", -5, 5, []),
    ("1/x", -1, 1, []),
    ("tan(x)", 0, 4, ["0", "pi"]),
    ("(x^2 - 1)/(x - 1)", -3, 3, ["-1"]),
    ("ln(x)*(x + 1)", -3, 3, ["1"]),
    ("sqrt(x - 5) - sqrt(3 - x)", 0, 9, []),
    ("(x - 1)^2*cos(x)", -1, 2, ["1", "pi/2"]),
    ("gamma(x) - 2", 1, 4, ["3"]),
    ("exp(x) - 3*x", 0, 3, ["-lambertw(-1/3)", "-lambertw_lower(-1/3)"]),
    ("x^5 - x - 1", -3, 3, ["polynomial_root(x^5 - x - 1, 1)"]),
]


@pytest.mark.parametrize(
    ("low", "high", "reason"), [(1, -1, "lower end comes first"), ("-inf", 1, "-inf is none"), (0, "a", "needs numbers")]
)
def test_ends_between_which_no_root_can_be_looked_for(low, high, reason):
    with pytest.raises(gelvo.DomainError, match=reason):
        gelvo.roots_between("exp(x) - 1", "x", low, high)


@pytest.mark.parametrize(("text", "low", "high", "wanted"), ROOTS, ids=[c[0] for c in ROOTS])
def test_roots_between_numbers(text, low, high, wanted):
    found = gelvo.roots_between(text, "x", low, high)
    assert len(found) == len(wanted) and all(gelvo.equal(a, b) for a, b in zip(found, wanted, strict=True))


def test_roots_without_a_form_are_bracketed():
    (root,) = gelvo.roots_between("x - cos(x)", "x", 0, 2)
    assert root.bounded and str(root) == "0.739085133215160641655312087674"
    assert len(gelvo.roots_between("sin(x) - x/4", "x", -4, 4)) == 3
    with pytest.raises(gelvo.DomainError, match="put values in"):
        gelvo.roots_between("a*x", "x", 0, 1)


BRACKETED = [
    ("bessely(0, x)", "1/2", 5, lambda x: mpmath.bessely(0, x), [0.9, 4]),
    ("besselj(1, x)", "1", 8, lambda x: mpmath.besselj(1, x), [3.8, 7]),
    ("Si(x) - 1", 0, 5, lambda x: mpmath.si(x) - 1, [1]),
    ("Ci(x)", "1/10", 5, mpmath.ci, [0.6, 3.4]),
    ("li(x)", "11/10", 5, mpmath.li, [1.45]),
    ("bessely(0, x)", 0, 10, lambda x: mpmath.bessely(0, x), [0.9, 4, 7]),
    ("bessely(3/2, x)", 0, 7, lambda x: mpmath.bessely(1.5, x), [2.8, 6.1]),
    ("besselk(0, x) - 1", 0, 5, lambda x: mpmath.besselk(0, x) - 1, [0.4]),
    ("Ci(x)", 0, 10, mpmath.ci, [0.6, 3.4, 6.4, 9.5]),
    ("Chi(x)", 0, 5, mpmath.chi, [0.5]),
    ("li(x)", 0, 5, mpmath.li, [1.45]),
    ("Ei(x)", -3, 2, mpmath.ei, [0.37]),
    ("Ei(x) + x", -3, 3, lambda x: mpmath.ei(x) + x, [0.3]),
    ("zeta(x) - 2", 0, 10, lambda x: mpmath.zeta(x) - 2, [1.7]),
    ("3 - 2*zeta(2*x)", "1/2", 10, lambda x: 3 - 2 * mpmath.zeta(2 * x), [1.1]),
    ("digamma(x)", 0, 5, mpmath.digamma, [1.46]),
    ("gamma(x) - 3", 0, 5, lambda x: mpmath.gamma(x) - 3, [0.3, 3.4]),
    ("ellipk(x) - 2", 0, 1, lambda x: mpmath.ellipk(x) - 2, [0.64]),
    ("Shi(x) - 1", 0, 3, lambda x: mpmath.shi(x) - 1, [0.95]),
    ("erfi(x) - 2", 0, 1, mpmath.erfi, []),
    ("tan(x) - x", "1/2", 8, lambda x: mpmath.tan(x) - x, [4.49, 7.72]),
]


@pytest.mark.parametrize(("text", "low", "high", "function", "near"), BRACKETED, ids=[c[0] for c in BRACKETED])
def test_zeros_of_special_functions_are_right_to_all_thirty_digits(text, low, high, function, near):
    found = gelvo.roots_between(text, "x", low, high)
    with mpmath.workdps(40):
        expected = [mpmath.findroot(function, place) for place in near]
        assert len(found) == len(expected)
        assert all(abs(mpmath.mpf(v.real) - w) < mpmath.mpf(10) ** -28 for v, w in zip(found, expected, strict=True))


def test_zeros_of_waves_in_waves_are_not_lost():
    found = gelvo.roots_between("2*tan(2*tan(3 - x) - 1) + 5", "x", -4, -2)
    assert [round(float(z), 6) for z in found] == [
        round(float(3 - mpmath.atan((1 + u) / 2) - 2 * mpmath.pi), 6)
        for u in (-mpmath.atan(2.5), -mpmath.atan(2.5) - mpmath.pi, -mpmath.atan(2.5) - 2 * mpmath.pi)
    ]


@pytest.mark.parametrize("text", ["x - x", "floor(x)", "sin(x)^2 + cos(x)^2 - 1"])
def test_zeros_that_cannot_be_counted_are_refused(text):
    with pytest.raises(gelvo.NotSolved):
        gelvo.roots_between(text, "x", -1, 2)


def test_numbers_for_systems_come_with_residuals():
    found = gelvo.solve_numerically(["x^2 + y^2 = 4", "x*y = 1"], ["x", "y"], start={"x": 2, "y": 0.5})
    assert max(abs(v) for v in found.residuals.values()) < 1e-10 and "x*y = 1" in found.table()
    with pytest.raises(gelvo.DomainError, match="as many"):
        gelvo.solve_numerically(["x = 1"], ["x", "y"])
    with pytest.raises(gelvo.DomainError, match="numbers are needed for a"):
        gelvo.solve_numerically(["x = a"], ["x"])
    refused = [
        ("x^2 = -1", 1, []),
        ("1/x = 0", 1, []),
        ("exp(-x) = 0", 1, []),
        ("x^2 = 4", -1, ["x > 0"]),
        ("sqrt(x - 5) = sqrt(3 - x)", 4, []),
    ]
    for equation, start, given in refused:
        with pytest.raises(gelvo.NotSolved, match="first guesses"):
            gelvo.solve_numerically([equation], ["x"], start={"x": start}, given=given)
