"""Definite integrals proved by theorems: the road that is named, and wrong values that no road proves."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.checking.integrals import _antiderivatives
from gelvo.checking.values.by_theorem import values_by_theorem
from gelvo.expression.building import number
from gelvo.facts.store import Facts

# (integrand, lower, upper, facts, value, words of the road)
PROVED = [
    ("x^(s - 1)*exp(-a*x)", "0", "inf", ["a > 0", "s > 0"], "gamma(s)/a^s", ""),
    ("x^(a - 1)*(1 - x)^(b - 1)", "0", "1", ["a > 0", "b > 0"], "beta(a, b)", "5.12.1"),
    ("1/(1 + x^n)", "0", "inf", ["n > 1"], "pi/(n*sin(pi/n))", "master theorem"),
    ("x^(s - 1)/(1 + x)", "0", "inf", ["s > 0", "s < 1"], "pi/sin(pi*s)", "master theorem"),
    ("x^(s - 1)/(1 + x)^2", "0", "inf", ["s > 0", "s < 2"], "pi*(1 - s)/sin(pi*s)", "master theorem"),
    ("sqrt(x)/(1 + x^2)", "0", "inf", [], "pi/sqrt(2)", "master theorem"),
    ("cos(x)/sqrt(x)", "0", "inf", [], "sqrt(pi/2)", "master theorem"),
    ("sin(x^3)", "0", "inf", [], "gamma(1/3)/6", "master theorem"),
    ("x^(p - 1)*sin(x)", "0", "inf", ["p > 0", "p < 1"], "gamma(p)*sin(pi*p/2)", "master theorem"),
    ("sin(x)^2/x^2", "0", "inf", [], "pi/2", "continued"),
    ("sin(x)^3/x^3", "0", "inf", [], "3*pi/8", "continued"),
    ("sin(x)^4/x^2", "0", "inf", [], "pi/4", "continued"),
    ("(1 - cos(a*x))/x^2", "0", "inf", ["a > 0"], "pi*a/2", "continued"),
    ("sin(a*x)*sin(b*x)/x^2", "0", "inf", ["a > b", "b > 0"], "pi*b/2", "continued"),
    ("(exp(-a*x) - exp(-b*x))/x", "0", "inf", ["a > 0", "b > 0"], "ln(b/a)", "continued"),
    ("exp(-a*x)*(1 - cos(b*x))/x", "0", "inf", ["a > 0", "b > 0"], "ln(1 + b^2/a^2)/2", "turned ray"),
    ("exp(-a*x)*sin(b*x)/x", "0", "inf", ["a > 0", "b > 0"], "atan(b/a)", "turned ray"),
    ("exp(-x)*ln(x)", "0", "inf", [], "-euler_gamma", "master theorem"),
    ("x*exp(-x)*ln(x)^2", "0", "inf", [], "(1 - euler_gamma)^2 + pi^2/6 - 1", "master theorem"),
    ("exp(-x^2)*ln(x)", "0", "inf", [], "-sqrt(pi)*(euler_gamma + 2*ln(2))/4", "master theorem"),
    ("ln(x)/(x^2 + a^2)", "0", "inf", ["a > 0"], "pi*ln(a)/(2*a)", "master theorem"),
    ("ln(x)^2/(1 + x^2)", "0", "inf", [], "pi^3/8", "master theorem"),
    ("ln(1 + x^2)/(1 + x^2)", "0", "inf", [], "pi*ln(2)", "master theorem"),
    ("ln(1 + x)/x^(3/2)", "0", "inf", [], "2*pi", "master theorem"),
    ("atan(x)/x^(3/2)", "0", "inf", [], "pi*sqrt(2)", "master theorem"),
    ("x*erfc(x)", "0", "inf", [], "1/4", "by parts"),
    ("x*Ei(-x)", "0", "inf", [], "-1/2", "by parts"),
    ("x^3*besselk(1, x)", "0", "inf", [], "3*pi/2", "10.43.19"),
    ("airyai(x)", "0", "inf", [], "1/3", "9.10.17"),
    ("besselj(n, x)/x", "0", "inf", ["n > 0"], "1/n", "master theorem"),
    ("exp(-x - 1/x)/sqrt(x)", "0", "inf", [], "sqrt(pi)*exp(-2)", "10.32.10"),
    ("exp(-a*x - b/x)/x", "0", "inf", ["a > 0", "b > 0"], "2*besselk(0, 2*sqrt(a*b))", "10.32.10"),
    ("x^3/(exp(x) - 1)", "0", "inf", [], "pi^4/15", "series of exponentials"),
    ("x/(exp(x) + 1)", "0", "inf", [], "pi^2/12", "series of exponentials"),
    ("x^(s - 1)/(exp(x) - 1)", "0", "inf", ["s > 1"], "gamma(s)*zeta(s)", "series of exponentials"),
    ("x^4*exp(x)/(exp(x) - 1)^2", "0", "inf", [], "4*pi^4/15", "series of exponentials"),
    ("x^2*exp(x)/(exp(x) + 1)^2", "-inf", "inf", [], "pi^2/3", "series of exponentials"),
    ("x/sinh(x)", "0", "inf", [], "pi^2/4", "series of exponentials"),
    ("x^2/cosh(x)^2", "-inf", "inf", [], "pi^2/6", "series of exponentials"),
    ("x^2*ln(1 - exp(-x))", "0", "inf", [], "-pi^4/45", "series of exponentials"),
    ("ln(1 + exp(-a*x))", "0", "inf", ["a > 0"], "pi^2/(12*a)", "series of exponentials"),
    ("ln(x)/(1 + x)", "0", "1", [], "-pi^2/12", "x = exp(-t)"),
    ("1/(x^3*(exp(1/x) - 1))", "0", "inf", [], "pi^2/6", "x = 1/t"),
    ("exp(a*x)/(1 + exp(x))", "-inf", "inf", ["a > 0", "a < 1"], "pi/sin(pi*a)", "x = ln(t)"),
    ("sin(x)^m*cos(x)^n", "0", "pi/2", ["m > 0", "n > 0"], "beta((m + 1)/2, (n + 1)/2)/2", "quarter by quarter"),
    ("ln(sin(x))", "0", "pi/2", [], "-pi*ln(2)/2", "x = atan(t)"),
    ("ln(tan(x))", "0", "pi/2", [], "0", "mirror image"),
    ("x*ln(sin(x))", "0", "pi", [], "-pi^2*ln(2)/2", "both halves"),
    ("x*sin(x)/(1 + cos(x)^2)", "0", "pi", [], "pi^2/4", "both halves"),
    ("cos(a*x)/(x^2 + b^2)", "0", "inf", ["a > 0", "b > 0"], "pi*exp(-a*b)/(2*b)", "partial fractions"),
    ("x*sin(a*x)/(x^2 + b^2)", "0", "inf", ["a > 0", "b > 0"], "pi*exp(-a*b)/2", "partial fractions"),
    ("exp(1j*k*x)/(x^2 + a^2)", "-inf", "inf", ["k > 0", "a > 0"], "pi*exp(-a*k)/a", "residues"),
    ("cos(x)/(x^2 + 1)^2", "-inf", "inf", [], "pi*exp(-1)", "residues"),
    ("x*cos(x)/(x^2 - 2*x + 10)", "-inf", "inf", [], "pi*exp(-3)*(cos(1) - 3*sin(1))/3", "residues"),
    ("1/(5 - 4*cos(x))", "0", "2*pi", [], "2*pi/3", "whole turns"),
    ("cos(3*x)/(5 - 4*cos(x))", "0", "2*pi", [], "pi/12", "whole turns"),
    ("1/(1 - 2*a*cos(x) + a^2)", "0", "2*pi", ["a > 0", "a < 1"], "2*pi/(1 - a^2)", "whole turns"),
    ("cos(z*sin(x))", "0", "pi", [], "pi*besselj(0, z)", "10.9.1"),
    ("cos(n*x - z*sin(x))", "0", "pi", ["n integer"], "pi*besselj(n, z)", "10.9.2"),
    ("exp(z*cos(x))", "0", "2*pi", [], "2*pi*besseli(0, z)", "10.32.1"),
    ("exp(-a*x)*besselj(0, b*x)", "0", "inf", ["a > 0", "b > 0"], "1/sqrt(a^2 + b^2)", "10.22.49"),
    ("x*exp(-a*x^2)*besselj(0, b*x)", "0", "inf", ["a > 0", "b > 0"], "exp(-b^2/(4*a))/(2*a)", "10.22.51"),
    ("legendre(m, x)*legendre(n, x)", "-1", "1", ["m integer", "n integer", "m >= 0", "n >= 0", "m != n"], "0", "18.3.1"),
    ("legendre(n, x)^2", "-1", "1", ["n integer", "n >= 0"], "2/(2*n + 1)", "18.3.1"),
    ("laguerre(n, x)^2*exp(-x)", "0", "inf", ["n integer", "n >= 0"], "1", "18.3.1"),
    ("x*cos(x)/(1 + sin(x)^2)", "-pi", "pi", [], "0", "odd"),
    ("sin(x)^3*exp(-x^2)", "-inf", "inf", [], "0", "odd"),
    ("(atan(a*x) - atan(b*x))/x", "0", "inf", ["a > 0", "b > 0"], "pi*ln(a/b)/2", "slope by a"),
    ("ln(1 + a^2*x^2)/(1 + x^2)", "0", "inf", ["a > 0"], "pi*ln(1 + a)", "4.295.7"),
    ("atan(a*x)/(x*(1 + x^2))", "0", "inf", ["a > 0"], "pi*ln(1 + a)/2", "slope by a"),
    ("ln(1 - 2*a*cos(x) + a^2)", "0", "pi", ["a > 0", "a < 1"], "0", "4.224.9"),
    ("atan(3*x)/(x*(1 + x^2))", "0", "inf", [], "pi*ln(4)/2", "a letter a for 3"),
    ("cos(x)/(x^4 + 4)", "-inf", "inf", [], "pi*exp(-1)*(cos(1) + sin(1))/4", "residues of a half plane"),
    ("cos(x)/(x^4 + 5*x^2 + 4)", "-inf", "inf", [], "pi*(2*exp(-1) - exp(-2))/6", "residues of a half plane"),
    ("ln(x)/(x^2 + x + 1)", "0", "inf", [], "0", "half of the line"),
    ("ln(x)/(x^2 + 2*x + 4)", "0", "inf", [], "pi*sqrt(3)*ln(2)/9", "half of the line"),
    ("ln(x)^2/((x + 1)*(x + 2))", "0", "inf", [], "ln(2)^3/3 + pi^2*ln(2)/3", "half of the line"),
    ("ln(x)/(x^2 - 1)", "0", "inf", [], "pi^2/4", "half of the line"),
    ("ln(x)/((x + 1)^2*(x + 2))", "0", "inf", [], "-ln(2)^2/2", "half of the line"),
    ("x^a/((x + 1)*(x + 3))", "0", "inf", ["a > 0", "a < 1"], "pi*(3^a - 1)/(2*sin(pi*a))", "half of the line"),
    ("sqrt(x)/((x + 1)*(x + 4))", "0", "inf", [], "pi/3", "half of the line"),
    ("ln(x)/(sqrt(x)*(x + 1)*(x + 4))", "0", "inf", [], "-pi*ln(4)/6", "half of the line"),
    ("sin(x)/(x^2 + 4)", "0", "inf", [], "(exp(-2)*Ei(2) - exp(2)*Ei(-2))/4", "partial fractions"),
    ("x*cos(a*x)/(x^2 + b^2)", "0", "inf", ["a > 0", "b > 0"], "-(exp(-a*b)*Ei(a*b) + exp(a*b)*Ei(-a*b))/2", "partial fractions"),
    ("exp(-x)/(x^2 + 1)", "0", "inf", [], "Ci(1)*sin(1) + (pi/2 - Si(1))*cos(1)", "partial fractions"),
    ("cos(x)/(x + 1)^2", "0", "inf", [], "1 - Ci(1)*sin(1) - (pi/2 - Si(1))*cos(1)", "partial fractions"),
    ("exp(-x)*ln(1 + x^2)", "0", "inf", [], "2*((pi/2 - Si(1))*sin(1) - Ci(1)*cos(1))", "by parts"),
    ("(x^a - x^b)/ln(x)", "0", "1", ["a > 0", "b > 0"], "ln((a + 1)/(b + 1))", "x = exp(-t)"),
    ("cos(x)^4*exp(-x^2)", "-inf", "inf", [], "sqrt(pi)*(3 + 4*exp(-1) + exp(-4))/8", "term by term"),
    ("x*exp(-x/3)/(exp(x) - 1)", "0", "inf", [], "polygamma(1, 4/3)", "25.11.25"),
    ("sin(a*x)/(exp(x) + 1)", "0", "inf", ["a > 0"], "1/(2*a) - pi/(2*sinh(pi*a))", "3.911.1"),
    ("cos(a*x)/cosh(b*x)", "-inf", "inf", ["a > 0", "b > 0"], "pi/(b*cosh(pi*a/(2*b)))", "3.981.3"),
    ("ln(3 + cos(x))", "0", "2*pi", [], "2*pi*ln((3 + sqrt(8))/2)", "4.224.9"),
    ("ln(2 + sin(x))", "0", "2*pi", [], "2*pi*ln(1 + sqrt(3)/2)", "whole turns"),
    ("ln(1 + x)/(1 + x^2)", "0", "1", [], "pi*ln(2)/8", "image"),
    ("ln(x)/(x^2 + 9)", "1", "9", [], "ln(3)*(atan(3) - atan(1/3))/3", "image"),
    ("1/(1 + tan(x)^5)", "0", "pi/2", [], "pi/4", "mirror image"),
    ("ln(1 + tan(x))", "0", "pi/4", [], "pi*ln(2)/8", "mirror image"),
    ("abs(x)*cos(x)/(1 + exp(x))", "-1", "1", [], "sin(1) + cos(1) - 1", "both halves"),
]


def _claim(f: str, lower: str, upper: str, value: str) -> str:
    return f"integral_of({f}, x, {lower}, {upper}) = {value}"


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value", "road"), PROVED, ids=[p[0] for p in PROVED])
def test_values_are_proved(f, lower, upper, given, value, road):
    certificate = gelvo.check(_claim(f, lower, upper, value), given=given)
    assert certificate.verdict == "proved", certificate
    assert road in certificate.method or "antiderivative" in certificate.method
    assert "theorems on integrals" in certificate.relies_on or "search for an antiderivative" not in certificate.relies_on


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value", "road"), PROVED[::4], ids=[p[0] for p in PROVED[::4]])
def test_other_values_are_not(f, lower, upper, given, value, road):
    wrong = gelvo.check(_claim(f, lower, upper, f"({value}) + 1/1000"), given=given)
    assert wrong.verdict in ("refuted", "undecided")


# what has no value, or not under these facts: nothing may be proved of a number
NEVER = [
    ("x^(s - 1)*exp(-x)", "0", "inf", [], "gamma(s)"),
    ("x^(s - 1)/(1 + x)", "0", "inf", ["s > 0"], "pi/sin(pi*s)"),
    ("1/x", "0", "inf", [], "0"),
    ("1/x", "-1", "1", [], "0"),
    ("tan(x)", "0", "pi", [], "0"),
    ("1/cos(x)", "0", "pi", [], "0"),
    ("x", "-inf", "inf", [], "0"),
    ("x/(1 + x^2)", "-inf", "inf", [], "0"),
    ("sin(x)", "-inf", "inf", [], "0"),
    ("cos(x)", "0", "inf", [], "0"),
    ("x*cos(x)", "0", "inf", [], "-1"),
    ("sin(x)^2/x", "0", "inf", [], "0"),
    ("(1 - cos(x))/x^3", "0", "inf", [], "-1/4"),
    ("exp(-x)/x", "0", "inf", [], "-euler_gamma"),
    ("1/(exp(x) - 1)", "0", "inf", [], "0"),
    ("x/(1 + exp(-x))", "0", "inf", [], "-pi^2/12"),
    ("1/(1 + exp(-x))", "0", "inf", [], "-ln(2)"),
    ("x^2*tanh(x)", "0", "inf", [], "-3*zeta(3)/8"),
    ("x^2*coth(x)", "0", "inf", [], "zeta(3)/2"),
    ("x*ln(1 + exp(x))", "0", "inf", [], "3*zeta(3)/4"),
    ("x^(-3/2)/(1 + x)", "0", "inf", [], "-pi"),
    ("ln(x)/x", "0", "inf", [], "0"),
    ("cos(x)/(x^2 - 1)", "-inf", "inf", [], "-pi*sin(1)"),
    ("sin(x)/(x^2 - 1)", "-inf", "inf", [], "0"),
    ("besselj(n, x)/x", "0", "inf", [], "1/n"),
    ("exp(-a*x)*besselj(0, b*x)", "0", "inf", [], "1/sqrt(a^2 + b^2)"),
    ("legendre(m, x)*legendre(n, x)", "-1", "1", ["m integer", "n integer", "m >= 0", "n >= 0"], "0"),
    ("legendre(n, x)^2", "-1", "1", [], "2/(2*n + 1)"),
    ("1/(1 - 2*a*cos(x) + a^2)", "0", "2*pi", ["a > 0"], "2*pi/(1 - a^2)"),
    ("ln(1 - 2*a*cos(x) + a^2)", "0", "pi", ["a > 0"], "0"),
    ("ln(x)/(x - 2)^2", "0", "inf", [], "-ln(2)/2"),
    ("ln(x)/(x^2 - 4)", "0", "inf", [], "pi^2/8"),
    ("1/(x^2 - 1)", "0", "inf", [], "0"),
    ("ln(x)/(x + 1)", "0", "inf", [], "-pi^2/6"),
    ("x^a/((x + 1)*(x + 3))", "0", "inf", [], "pi*(3^a - 1)/(2*sin(pi*a))"),
    ("x^a/((x + 1)*(x + 3))", "0", "inf", ["a > 0"], "pi*(3^a - 1)/(2*sin(pi*a))"),
    ("cos(x)/(x - 1)", "0", "inf", [], "Si(1)*sin(1)"),
    ("exp(-x)/(x - 2)", "0", "inf", [], "-exp(-2)*Ei(2)"),
    ("exp(x)/(x + 2)", "0", "inf", [], "-exp(-2)*Ei(2)"),
    ("sin(a*x)/(x^2 + 1)", "0", "inf", [], "(exp(-a)*Ei(a) - exp(a)*Ei(-a))/2"),
    ("cos(x)*ln(x)", "0", "inf", [], "-pi/2"),
    ("sinh(a*x)/sinh(b*x)", "0", "inf", ["a > b", "b > 0"], "pi*tan(pi*a/(2*b))/(2*b)"),
    ("exp(-x/3)/(exp(x) - 1)", "0", "inf", [], "-digamma(4/3)"),
    ("ln(1 + 2*cos(x))", "0", "pi", [], "pi*ln((1 + 1j*sqrt(3))/2)"),
]


def test_folding_states_no_sign_of_the_variable():
    x = gelvo.variable("x")
    question = (gelvo.formula("abs(x)/(1 + x^2)"), number(-1), number(3))
    values = [v.value for v in values_by_theorem(question, x, Facts(), _antiderivatives)]
    assert all(gelvo.equal(v, gelvo.formula("ln(2)/2 + ln(10)/2")) for v in values)


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value"), NEVER, ids=[f"{n[0]} {n[3]}" for n in NEVER])
def test_nothing_is_proved_of_what_does_not_converge(f, lower, upper, given, value):
    assert gelvo.check(_claim(f, lower, upper, value), given=given).verdict in ("refuted", "undecided", "supported")
    assert gelvo.check(_claim(f, lower, upper, value), given=given).verdict != "proved"
