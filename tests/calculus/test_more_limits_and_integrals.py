"""Further courses of limits, definite integrals, series and sums: values from textbooks, each compared exactly."""

from __future__ import annotations

import pytest

import gelvo

LIMITS = [
    ("(exp(x) - exp(-x))/sin(x)", "0", "2"),
    ("(exp(x) - 1)^2/(1 - cos(x))", "0", "2"),
    ("ln(cos(x))/x^2", "0", "-1/2"),
    ("ln(1 + 2*x)/ln(1 + 3*x)", "0", "2/3"),
    ("(sin(x) - tan(x))/x^3", "0", "-1/2"),
    ("(x*cos(x) - sin(x))/x^3", "0", "-1/3"),
    ("(exp(x^2) - cos(x))/x^2", "0", "3/2"),
    ("(sqrt(1 + x) - sqrt(1 - x))/x", "0", "1"),
    ("(sqrt(1 + x^2) - cos(x))/x^2", "0", "1"),
    ("(asin(x) - atan(x))/x^3", "0", "1/2"),
    ("(tan(x) - x)/(x - sin(x))", "0", "2"),
    ("(cosh(x) - cos(x))/x^2", "0", "1"),
    ("(1/x)*(1/sin(x) - 1/tan(x))", "0", "1/2"),
    ("(exp(x) + exp(-x) - 2)/x^2", "0", "1"),
    ("(a^x - b^x)/x", "0", "ln(a) - ln(b)"),
    ("(cos(a*x) - cos(b*x))/x^2", "0", "(b^2 - a^2)/2"),
    ("(1 + a*x)^(b/x)", "0", "exp(a*b)"),
    ("erf(x)/x", "0", "2/sqrt(pi)"),
    ("besselj(1, x)/x", "0", "1/2"),
    ("(1 - besselj(0, x))/x^2", "0", "1/4"),
    ("x/(exp(a*x) - 1)", "0", "1/a"),
    ("(gamma(1 + x) - 1)/x", "0", "-euler_gamma"),
    ("(x^3 - 1)/(x - 1)", "1", "3"),
    ("(x^(1/3) - 1)/(x - 1)", "1", "1/3"),
    ("(sin(x) - sin(a))/(x - a)", "a", "cos(a)"),
    ("(x*exp(1) - exp(x))/(x - 1)^2", "1", "-exp(1)/2"),
    ("(tan(x) - 1)/(x - pi/4)", "pi/4", "2"),
    ("(1 - tan(x))/cos(2*x)", "pi/4", "1"),
    ("(x^5 - 32)/(x - 2)", "2", "80"),
    ("(1 + 1/(3*x))^x", "inf", "exp(1/3)"),
    ("(1 + 1/x)^(x^2)*exp(-x)", "inf", "exp(-1/2)"),
    ("x*(exp(1/x) - 1)", "inf", "1"),
    ("x^2*(cosh(1/x) - 1)", "inf", "1/2"),
    ("x*(a^(1/x) - 1)", "inf", "ln(a)"),
    ("sqrt(x^2 + a*x) - sqrt(x^2 + b*x)", "inf", "(a - b)/2"),
    ("(sqrt(4*x^2 + 1) - 1)/x", "inf", "2"),
    ("(sqrt(4*x^2 + 1) - 1)/x", "-inf", "-2"),
    ("(2*x + sin(x))/(3*x - cos(x))", "inf", "2/3"),
    ("ln(1 + exp(2*x))/x", "inf", "2"),
    ("exp(x)/exp(x + exp(-x))", "inf", "1"),
    ("ln(ln(x))/ln(x)", "inf", "0"),
    ("x^(ln(x)/x)", "inf", "1"),
    ("(ln(x + 1)/ln(x))^x", "inf", "1"),
    ("(1 - exp(-x))^(exp(x))", "inf", "exp(-1)"),
    ("x*(sqrt(x^2 + 1) - x)", "inf", "1/2"),
    ("x^3*(tan(1/x) - sin(1/x))", "inf", "1/2"),
    ("tanh(x)^(exp(2*x))", "inf", "exp(-2)"),
    ("(x - 1)^2/(x^2*(1 - 1/x)^2)", "inf", "1"),
]


@pytest.mark.parametrize(("text", "point", "wanted"), LIMITS, ids=[f"{c[0]} at {c[1]}" for c in LIMITS])
def test_limits(text, point, wanted):
    given = ["a > 0", "b > 0"]
    answer = gelvo.limit(text, "x", point, given=given)
    assert not answer.reason
    assert gelvo.equal(answer, gelvo.formula(wanted, names_from=answer), given=given)


DEFINITE = [
    ("sin(x)", "0", "pi", "2"),
    ("sin(x)^2", "0", "pi", "pi/2"),
    ("sin(x)^4", "0", "pi/2", "3*pi/16"),
    ("cos(x)^3", "0", "pi/2", "2/3"),
    ("sin(m*x)^2", "0", "pi/m", "pi/(2*m)"),
    ("sin(2*x)*cos(3*x)", "0", "pi", "-4/5"),
    ("x*sin(x)", "0", "pi", "pi"),
    ("x^2*cos(x)", "0", "pi", "-2*pi"),
    ("x*exp(-x)", "0", "1", "1 - 2*exp(-1)"),
    ("x^3*exp(-x^2)", "0", "inf", "1/2"),
    ("exp(-x)*sin(x)", "0", "inf", "1/2"),
    ("exp(-a*x)*cos(b*x)", "0", "inf", "a/(a^2 + b^2)"),
    ("x*exp(-a*x)", "0", "inf", "1/a^2"),
    ("x^5*exp(-a*x)", "0", "inf", "120/a^6"),
    ("exp(-a*x^2)", "0", "inf", "sqrt(pi)/(2*sqrt(a))"),
    ("x*exp(-a*x^2)", "0", "inf", "1/(2*a)"),
    ("exp(-a*x^2 - b*x)", "-inf", "inf", "sqrt(pi/a)*exp(b^2/(4*a))"),
    ("1/(x^2 + a^2)", "0", "inf", "pi/(2*a)"),
    ("1/(x^2 + a^2)^2", "0", "inf", "pi/(4*a^3)"),
    ("x^2/(x^2 + a^2)^2", "0", "inf", "pi/(4*a)"),
    ("1/((x^2 + 1)*(x^2 + 4))", "-inf", "inf", "pi/6"),
    ("1/(x^4 + 5*x^2 + 4)", "0", "inf", "pi/12"),
    ("a/(a^2 + x^2)^(3/2)", "-inf", "inf", "2/a"),
    ("1/sqrt(a^2 - x^2)", "0", "a", "pi/2"),
    ("sqrt(a^2 - x^2)", "0", "a", "pi*a^2/4"),
    ("x^2*sqrt(1 - x^2)", "0", "1", "pi/16"),
    ("1/(1 + sqrt(x))", "0", "4", "4 - 2*ln(3)"),
    ("x/sqrt(1 + x)", "0", "3", "8/3"),
    ("ln(x)", "1", "exp(1)", "1"),
    ("x*ln(x)", "0", "1", "-1/4"),
    ("ln(x)^2", "0", "1", "2"),
    ("ln(x)/x^2", "1", "inf", "1"),
    ("ln(1 + x)", "0", "1", "2*ln(2) - 1"),
    ("atan(x)", "0", "1", "pi/4 - ln(2)/2"),
    ("asin(x)", "0", "1", "pi/2 - 1"),
    ("x*atan(x)", "0", "1", "pi/4 - 1/2"),
    ("tan(x)", "0", "pi/4", "ln(2)/2"),
    ("sec(x)^2", "0", "pi/4", "1"),
    ("1/cos(x)", "0", "pi/4", "ln(1 + sqrt(2))"),
    ("1/(1 + cos(x))", "0", "pi/2", "1"),
    ("1/(2 + cos(x))", "0", "2*pi", "2*pi/sqrt(3)"),
    ("1/(3 + 2*sin(x))", "0", "2*pi", "2*pi/sqrt(5)"),
    ("cos(x)/(1 + sin(x)^2)", "0", "pi/2", "pi/4"),
    ("cosh(x/a)", "-b", "b", "2*a*sinh(b/a)"),
    ("1/cosh(x)^2", "-inf", "inf", "2"),
    ("1/cosh(x)", "-inf", "inf", "pi"),
    ("abs(sin(x))", "0", "2*pi", "4"),
    ("abs(x^2 - 1)", "0", "2", "2"),
    ("heaviside(x - 1)*x", "0", "3", "4"),
    ("cases(x when x < 1, otherwise 1)", "0", "2", "3/2"),
    ("x^(a - 1)*exp(-x)", "0", "inf", "gamma(a)"),
    ("x^2/(exp(x) - 1)", "0", "inf", "2*zeta(3)"),
    ("sin(x)/x", "0", "inf", "pi/2"),
    ("1/(1 + x^4)", "-inf", "inf", "pi/sqrt(2)"),
    ("x^2/(1 + x^4)", "-inf", "inf", "pi/sqrt(2)"),
    ("sqrt(sin(x))/(sqrt(sin(x)) + sqrt(cos(x)))", "0", "pi/2", "pi/4"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "wanted"), DEFINITE, ids=[f"{c[0]} {c[1]} {c[2]}" for c in DEFINITE])
def test_definite_integrals(f, lower, upper, wanted):
    given = ["a > 0", "b > 0", "m natural", "m > 0"]
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert not answer.reason, answer.reason
    assert gelvo.equal(answer, gelvo.formula(wanted, names_from=answer), given=given)
    assert answer.verdict in ("proved", "supported")


SERIES = [
    ("exp(x)*sin(x)", 4, ["0", "1", "1", "1/3", "0"]),
    ("exp(x)/(1 - x)", 3, ["1", "2", "5/2", "8/3"]),
    ("ln(1 + x)^2", 4, ["0", "0", "1", "-1", "11/12"]),
    ("sqrt(cos(x))", 4, ["1", "0", "-1/4", "0", "-1/96"]),
    ("1/cosh(x)", 4, ["1", "0", "-1/2", "0", "5/24"]),
    ("ln(cos(x))", 4, ["0", "0", "-1/2", "0", "-1/12"]),
    ("exp(cos(x) - 1)", 4, ["1", "0", "-1/2", "0", "1/6"]),
    ("x/sin(x)", 4, ["1", "0", "1/6", "0", "7/360"]),
    ("ln(1 + exp(x))", 4, ["ln(2)", "1/2", "1/8", "0", "-1/192"]),
    ("(1 + x)^x", 3, ["1", "0", "1", "-1/2"]),
    ("1/(1 + x + x^2)", 4, ["1", "-1", "0", "1", "-1"]),
    ("sqrt(1 - 2*a*x + x^2)", 2, ["1", "-a", "(1 - a^2)/2"]),
    ("asinh(x)", 3, ["0", "1", "0", "-1/6"]),
    ("atanh(x)", 3, ["0", "1", "0", "1/3"]),
    ("exp(a*x)*cos(b*x)", 2, ["1", "a", "(a^2 - b^2)/2"]),
    ("lambertw(x)", 4, ["0", "1", "-1", "3/2", "-8/3"]),
    ("erfc(x)", 3, ["1", "-2/sqrt(pi)", "0", "2/(3*sqrt(pi))"]),
    ("Si(x)", 3, ["0", "1", "0", "-1/18"]),
    ("polylog(2, x)", 3, ["0", "1", "1/4", "1/9"]),
    ("besseli(0, x)", 4, ["1", "0", "1/4", "0", "1/64"]),
]


@pytest.mark.parametrize(("text", "through", "wanted"), SERIES, ids=[c[0] for c in SERIES])
def test_power_series(text, through, wanted):
    found = gelvo.series(text, "x", through=through)
    for power, coefficient in enumerate(wanted):
        assert gelvo.equal(found.coefficient(power), gelvo.formula(coefficient, names_from=found)), power


FACTS = [
    ("a + b*cos(x)", ["a > b", "b > 0"], True),
    ("a - b*sin(x)", ["a > b", "b > 0"], True),
    ("w + 1 - (w - 1)*cos(x)", ["w > 0"], True),
    ("a + b*cos(x)", ["b > a", "a > 0"], None),
    ("sqrt(b^2 - 4)", ["b > 2"], True),
    ("-2 - cos(x)", [], False),
]


@pytest.mark.parametrize(("text", "given", "positive"), FACTS, ids=[f"{c[0]} {c[1]}" for c in FACTS])
def test_signs_between_the_ends_of_a_wave(text, given, positive):
    e = gelvo.formula(text)
    known = [gelvo.is_known(e > 0, given=given), gelvo.is_known(e < 0, given=given)]
    assert known == {True: [True, False], False: [False, True], None: [None, None]}[positive]
