"""Each road to a definite integral by its own rows: the value, in words how it was found, its conditions, and what is left alone."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.calculus.definite.keyhole import keyhole
from gelvo.calculus.definite.mirrors import has_a_constant_mean, has_an_image, quotients_between
from gelvo.calculus.definite.poles import upper_poles
from gelvo.expression.building import number
from gelvo.facts.store import Facts
from sample_tasks import is_open

KEYHOLE = "residues around the positive half of the line"
INTEGRALS = "exponential integrals of partial fractions"
GEOMETRIC = "geometric series of exponentials"
POISSON = "Poisson's integral of a logarithm"
MIRROR = "mirror image"

# (integrand, lower, upper, facts, value, words of the road)
ROWS = [
    ("ln(x)/(x^2 + x + 1)", "0", "inf", [], "0", KEYHOLE),
    ("ln(x)/(x^2 + 2*x + 4)", "0", "inf", [], "pi*sqrt(3)*ln(2)/9", KEYHOLE),
    ("ln(x)/(x^2 + 2*a*x + 4*a^2)", "0", "inf", ["a > 0"], "pi*ln(2*a)/(3*sqrt(3)*a)", KEYHOLE),
    ("ln(x)/((x + 1)*(x + 5))", "0", "inf", [], "ln(5)^2/8", KEYHOLE),
    ("ln(x)/((x + a)*(x + b))", "0", "inf", ["a > 0", "b > a"], "(ln(b)^2 - ln(a)^2)/(2*(b - a))", KEYHOLE),
    ("ln(x)^2/((x + 1)*(x + 2))", "0", "inf", [], "ln(2)^3/3 + pi^2*ln(2)/3", KEYHOLE),
    ("ln(x)^3/((x + 1)*(x + 2))", "0", "inf", [], "ln(2)^4/4 + pi^2*ln(2)^2/2", KEYHOLE),
    ("ln(x)^2/(x^2 + x + 1)", "0", "inf", [], "16*pi^3*sqrt(3)/243", KEYHOLE),
    ("ln(x)/(x^2 - 1)", "0", "inf", [], "pi^2/4", KEYHOLE),
    ("ln(x)/((x - 1)*(x + 2))", "0", "inf", [], "pi^2/6 + ln(2)^2/6", KEYHOLE),
    ("x^a/((x + 1)*(x + 3))", "0", "inf", ["a > 0", "a < 1"], "pi*(3^a - 1)/(2*sin(pi*a))", KEYHOLE),
    ("x^a/(x^2 + 2*x*cos(t) + 1)", "0", "inf", ["a > 0", "a < 1", "t > 0", "t < pi"], "pi*sin(a*t)/(sin(pi*a)*sin(t))", KEYHOLE),
    ("sqrt(x)/((x + 1)*(x + 4))", "0", "inf", [], "pi/3", ""),
    ("x^(1/3)/(x^2 + 3*x + 2)", "0", "inf", [], "2*pi*(2^(1/3) - 1)/sqrt(3)", ""),
    ("1/(sqrt(x)*(x^2 + 2*x + 5))", "0", "inf", [], "pi/sqrt(10*(1 + sqrt(5)))", ""),
    ("sqrt(x)*ln(x)/(x^2 + 3*x + 2)", "0", "inf", [], "pi*sqrt(2)*ln(2)", KEYHOLE),
    ("cos(2*x)/((x^2 + 2)*(x^2 + 3))", "-inf", "inf", [], "pi*(exp(-2*sqrt(2))/sqrt(2) - exp(-2*sqrt(3))/sqrt(3))", "residues"),
    ("1/((x^2 + 2)^3*(x^2 + 3))", "-inf", "inf", [], "pi*(81*sqrt(2) - 64*sqrt(3))/192", ""),
    ("cos(x)/(x^4 + 4)", "-inf", "inf", [], "pi*exp(-1)*(cos(1) + sin(1))/4", "residues"),
    ("cos(x)/(x^4 + a^4)", "0", "inf", ["a > 0"], "pi*exp(-a/sqrt(2))*(cos(a/sqrt(2)) + sin(a/sqrt(2)))/(2*sqrt(2)*a^3)", "residues"),
    ("cos(x)/(x^4 + 5*x^2 + 4)", "-inf", "inf", [], "pi*(2*exp(-1) - exp(-2))/6", "residues"),
    ("x*sin(x)/((x^2 + 2)^2*(x^2 + 5))", "-inf", "inf", [], "pi*(3*sqrt(2)*exp(-sqrt(2)) - 4*exp(-sqrt(2)) + 4*exp(-sqrt(5)))/36", "residues"),
    ("sin(a*x)/(x^2 + b^2)", "0", "inf", ["a > 0", "b > 0"], "(Ei(a*b)*exp(-a*b) - Ei(-a*b)*exp(a*b))/(2*b)", INTEGRALS),
    ("x*cos(a*x)/(x^2 + b^2)", "0", "inf", ["a > 0", "b > 0"], "-(Ei(a*b)*exp(-a*b) + Ei(-a*b)*exp(a*b))/2", INTEGRALS),
    ("exp(-a*x)/(x + b)", "0", "inf", ["a > 0", "b > 0"], "-Ei(-a*b)*exp(a*b)", ""),
    ("exp(-x)/(x^2 + 1)", "0", "inf", [], "Ci(1)*sin(1) + (pi/2 - Si(1))*cos(1)", ""),
    ("x*exp(-x)/(x^2 + 9)", "0", "inf", [], "(pi/2 - Si(3))*sin(3) - Ci(3)*cos(3)", ""),
    ("sin(x)/(x^2 + 1)^2", "0", "inf", [], "Ei(1)*exp(-1)/2", INTEGRALS),
    ("sin(x)/(x*(x + 1))", "0", "inf", [], "pi/2 - Ci(1)*sin(1) - (pi/2 - Si(1))*cos(1)", ""),
    ("exp(-x)/((x + 1)*(x + 2))", "0", "inf", [], "Ei(-2)*exp(2) - Ei(-1)*exp(1)", ""),
    ("x*exp(-x/2)/(exp(x) + 1)", "0", "inf", [], "4*(1 - catalan)", ""),
    ("x*exp(-x/3)/(exp(x) - 1)", "0", "inf", [], "polygamma(1, 4/3)", GEOMETRIC),
    ("exp(-x/3)/(1 + exp(-x))", "0", "inf", [], "ln(2) + pi/sqrt(3)", ""),
    ("(exp(-a*x) - exp(-b*x))/(1 - exp(-x))", "0", "inf", ["a > 0", "b > 0"], "digamma(b) - digamma(a)", GEOMETRIC),
    ("sin(a*x)/(exp(b*x) - 1)", "0", "inf", ["a > 0", "b > 0"], "pi/(2*b)*coth(pi*a/b) - 1/(2*a)", GEOMETRIC),
    ("sin(a*x)/(exp(b*x) + 1)", "0", "inf", ["a > 0", "b > 0"], "1/(2*a) - pi/(2*b*sinh(pi*a/b))", GEOMETRIC),
    ("x*cos(x)/(exp(x) - 1)", "0", "inf", [], "1/2 - pi^2/(2*sinh(pi)^2)", GEOMETRIC),
    ("sin(x)*exp(-2*x)/sinh(x)", "0", "inf", [], "pi*tanh(pi/2)/2 - 1 + 1/(exp(pi) + 1) - 1/(exp(pi) + 1)", ""),
    ("sinh(a*x)/sinh(b*x)", "-inf", "inf", ["a > 0", "b > a"], "pi*tan(pi*a/(2*b))/b", "exp(x) as the variable"),
    ("cosh(a*x)/cosh(b*x)", "-inf", "inf", ["a > 0", "b > a"], "pi/(b*cos(pi*a/(2*b)))", "exp(x) as the variable"),
    ("x^(q - 1)*exp(-p*x - x)", "0", "inf", ["p > 0", "q > 0"], "gamma(q)/(p + 1)^q", "gamma integral"),
    ("1/(1 + a*x^2 + b*x^2)", "0", "inf", ["a > 0", "b > 0"], "pi/(2*sqrt(a + b))", ""),
    ("x^4*exp(-x^2)*cos(2*x)", "0", "inf", [], "-5*sqrt(pi)*exp(-1)/8", ""),
    ("x^2*exp(-a*x^2)*cos(b*x)", "0", "inf", ["a > 0", "b > 0"], "sqrt(pi)*(2*a - b^2)*exp(-b^2/(4*a))/(8*a^(5/2))", ""),
    ("(x^a - x^b)/ln(x)", "0", "1", ["a > 0", "b > 0"], "ln((a + 1)/(b + 1))", "exp(-t)"),
    ("ln(1 - x)*ln(x)/x", "0", "1", [], "zeta(3)", "exp(-t)"),
    ("ln(1 - x)*ln(x)^3/x", "0", "1", [], "6*zeta(5)", "exp(-t)"),
    ("x^p*ln(1/x)^(q - 1)", "0", "1", ["p > 0", "q > 0"], "gamma(q)/(p + 1)^q", "exp(-t)"),
    ("ln(ln(1/x))", "0", "1", [], "-euler_gamma", "exp(-t)"),
    ("sinh(x)*exp(-2*x)/x", "0", "inf", [], "ln(3)/2", "by exponentials"),
    ("exp(-x)*ln(1 + x^2)", "0", "inf", [], "2*((pi/2 - Si(1))*sin(1) - Ci(1)*cos(1))", "by parts"),
    ("exp(-x)*atan(2*x)", "0", "inf", [], "Ci(1/2)*sin(1/2) + (pi/2 - Si(1/2))*cos(1/2)", "by parts"),
    ("atan(1/x)*sin(x)", "0", "inf", [], "pi*(1 - exp(-1))/2", "by parts"),
    ("cos(x + 1)/(x^2 + 4)", "-inf", "inf", [], "pi*cos(1)*exp(-2)/2", "term by term"),
    ("sin(x)^2/(x^2 + 1)", "-inf", "inf", [], "pi*(1 - exp(-2))/2", "term by term"),
    ("sin(x)*cos(3*x)/(x*(x^2 + 1))", "0", "inf", [], "pi*(exp(-2) - exp(-4))/4", "term by term"),
    ("ln(a + b*cos(x))", "0", "pi", ["b > 0", "a > b"], "pi*ln((a + sqrt(a^2 - b^2))/2)", POISSON),
    ("ln(1 - 2*a*cos(x) + a^2)", "0", "2*pi", ["a > 1"], "4*pi*ln(a)", POISSON),
    ("ln(5 + 4*cos(x))", "0", "2*pi", [], "4*pi*ln(2)", POISSON),
    ("ln(2 + sin(x))", "-pi", "pi", [], "2*pi*ln(1 + sqrt(3)/2)", POISSON),
    ("ln(1 + x)/(1 + x^2)", "0", "1", [], "pi*ln(2)/8", MIRROR),
    ("ln(a + x)/(a^2 + x^2)", "0", "a", ["a > 0"], "pi*ln(2*a^2)/(8*a)", MIRROR),
    ("ln(x)/(x^2 + 4)", "1", "4", [], "(atan(2) - atan(1/2))*ln(2)/2", MIRROR),
    ("1/(1 + tan(x)^7)", "0", "pi/2", [], "pi/4", MIRROR),
    ("1/(1 + tan(x)^sqrt(2))", "0", "pi/2", [], "pi/4", MIRROR),
    ("sqrt(x)/(sqrt(x) + sqrt(3 - x))", "0", "3", [], "3/2", MIRROR),
    ("cos(x)/(1 + exp(x))", "-1", "1", [], "sin(1)", MIRROR),
    ("ln(1 + x^2)/(x^2 + 7)", "0", "inf", [], "pi*ln(1 + sqrt(7))/sqrt(7)", "slope by"),
    ("ln(1 + 5*x^2)/(x^2 + 3)", "0", "inf", [], "pi*ln(1 + sqrt(15))/sqrt(3)", "slope by"),
    ("cases(h*x/a when x < a, otherwise h*(L - x)/(L - a))*sin(n*pi*x/L)", "0", "L", ["a > 0", "L > a", "n natural", "n > 0"], "h*L^3*sin(pi*a*n/L)/(pi^2*a*n^2*(L - a))", ""),
    ("cases(x when x < a, a when x < 2*a, otherwise 0)", "0", "inf", ["a > 0"], "3*a^2/2", ""),
    ("max(0, sin(x))*cos(2*n*x)", "0", "2*pi", ["n natural"], "-2/(4*n^2 - 1)", ""),
    ("min(x, a)", "0", "1", ["a > 0", "a < 1"], "a - a^2/2", ""),
    ("max(1 - x, 0)*exp(-x)", "0", "inf", [], "exp(-1)", ""),
    ("(2 + sin(x))/((x - 1)^2*x^2)", "-1", "3", [], "inf", "runs off"),
    ("(2 + sin(x))/(x - 1)", "0", "3", [], "undefined", "runs off"),
    ("x^(1/3)/(x^2 + 4*x + 1)", "0", "inf", [], "pi*((2 + sqrt(3))^(1/3) - (2 - sqrt(3))^(1/3))/3", "half of the line"),
    ("ln(x)/(x^2 + 5*x + 3)", "0", "inf", [], "sqrt(13)*ln(3)*ln((19 + 5*sqrt(13))/6)/26", "half of the line"),
    ("x^a/(x^2 + 4*x + 1)", "0", "inf", ["a > 0", "a < 1"], "pi*((2 + sqrt(3))^a - (2 - sqrt(3))^a)/(2*sqrt(3)*sin(pi*a))", "half of the line"),
    ("exp(-x)/(x^2 + 4*x + 1)", "0", "inf", [], "(Ei(-2 - sqrt(3))*exp(2 + sqrt(3)) - Ei(sqrt(3) - 2)*exp(2 - sqrt(3)))/(2*sqrt(3))", "partial fractions"),
    ("-exp(x)/(x - 1/2)^2", "0", "3", [], "-inf", "runs off"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value", "road"), ROWS, ids=[f"{r[0]} {r[1]}..{r[2]}" for r in ROWS])
def test_a_road_gives_its_value(f, lower, upper, given, value, road):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert road in answer.road and answer.verdict in ("proved", "supported")
    if value in ("inf", "-inf", "undefined"):
        assert str(answer.expression) == value
        return
    assert gelvo.check(f"{answer.expression} = {value}", given=[*given, *map(str, answer.conditions)]).verdict in (
        "proved",
        "supported",
    )


# no value is made up: a pole on the way, letters without facts, nothing known
LEFT = [
    ("ln(x)/(x - 2)", "0", "1", []),
    ("asinh(x)/(exp(x) + 1)", "0", "1", []),
    ("atan(x)*tanh(x)", "0", "1", []),
    ("exp(-x)*cos(x)/(x^2 + x + 7)", "0", "inf", []),
    ("ln(a + b*cos(x))", "0", "pi", ["b > a", "a > 0"]),
    ("sinh(a*x)/sinh(b*x)", "0", "inf", ["a > 0"]),
]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "given"), LEFT, ids=[r[0] for r in LEFT])
def test_what_is_not_known_stays_written(f, lower, upper, given):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    conditional = any("b" in str(c) for c in answer.conditions)
    assert is_open(answer) or answer.verdict == "proved" or conditional


BETA = [
    ("sin(x)^15*cos(x)^9", "0", "pi/2", [], "1/7920"), ("sin(x)^20", "0", "pi", [], "46189*pi/262144"), ("cos(x)^24", "-pi", "pi", [], "676039*pi/2097152"),
    ("sin(x)^21*cos(x)^14", "pi/2", "2*pi", [], "-262144/115707975075"), ("sin(x)^11", "-pi/2", "pi/2", [], "0"), ("cos(x)^11", "pi/2", "2*pi", [], "-256/693"),
    ("sin(x)^(2*n)", "0", "2*pi", ["n natural"], "2*beta(n + 1/2, 1/2)"), ("sin(x)^(2*n + 1)", "0", "2*pi", ["n natural"], "0"), ("3*sin(x)^(7/2)*cos(x)^20", "0", "pi/2", [], "3*beta(9/4, 21/2)/2"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value"), BETA)
def test_powers_of_waves_over_quarter_turns(f, lower, upper, given, value):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert answer.verdict == "proved" and gelvo.equal(answer.expression, value, given=given)


@pytest.mark.parametrize(
    ("f", "lower", "upper"), [("sin(x)^n", "0", "2*pi"), ("cos(x)^a", "0", "pi"), ("sin(x)^(1/3)", "-pi/2", "0")]
)
def test_powers_of_negative_numbers_are_not_guessed(f, lower, upper):
    assert is_open(gelvo.integrate(f, "x", lower, upper, given=["n natural", "a > 0"]))


HALVES = [
    ("sqrt(1 + cos(x))", "0", "pi", [], "2*sqrt(2)"), ("sqrt(1 - cos(x))", "0", "6*pi", [], "12*sqrt(2)"), ("sqrt(a - a*cos(x))", "0", "2*pi", ["a > 0"], "4*sqrt(2*a)"), ("(1 - cos(x))^(3/2)", "0", "2*pi", [], "16*sqrt(2)/3"),
    ("x*sqrt(1 - cos(x))", "0", "2*pi", [], "4*pi*sqrt(2)"), ("sqrt(r^2*(2 - 2*cos(x)))", "0", "2*pi", ["r > 0"], "8*r"), ("1/sqrt(1 + sin(x))", "0", "2*pi", [], "inf"), ("1/sqrt(1 + cos(x))", "0", "pi", [], "inf"), ("sqrt(3 + cos(x))", "0", "0", [], "0"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value"), HALVES)
def test_roots_of_waves_are_bars_around_half_angles(f, lower, upper, given, value):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert answer.verdict == "proved"
    assert str(answer.expression) == value or gelvo.equal(answer.expression, value, given=given)


SERIES = [  # of exponentials, also behind logarithms
    ("ln(x)^2/(1 + x^2)", "0", "1", "pi^3/16"), ("ln(x)/(1 + x^2)", "0", "1", "-catalan"), ("x*ln(x)/(1 + x)", "0", "1", "pi^2/12 - 1"), ("ln(x)^2/(1 - x^2)", "0", "1", "7*zeta(3)/4"), ("ln(x)/(x^2 - 1)", "0", "1", "pi^2/8"),
    ("ln(x)^2/(x^4 + x^2 + 1)", "0", "1", "(42*zeta(3) + pi^3*sqrt(3))/54"), ("ln(x)/(1 + x + x^2)", "0", "1", "2*(2*pi^2 - 3*polygamma(1, 1/3))/27"), ("ln(x)/(1 - x)^2", "0", "1", "-inf"), ("ln(x)*sqrt(x)/(1 + x)", "0", "1", "4*(catalan - 1)"),
    ("x^2/cosh(x)", "0", "inf", "pi^3/8"), ("x^4/cosh(x)", "0", "inf", "5*pi^5/32"), ("x/cosh(x)", "0", "inf", "2*catalan"), ("x^2*exp(-x/3)/(1 + exp(-x))", "0", "inf", "(351*zeta(3) + 10*pi^3*sqrt(3))/18"),
    ("x^2/(exp(x) + 1 + exp(-x))", "0", "inf", "8*pi^3*sqrt(3)/243"), ("(1 - exp(-x))/(exp(2*x) + exp(x) + 1)", "0", "inf", "ln(3) - 1"), ("ln(x)/(x^2 + 4)", "0", "1", "-im(polylog(2, 1j/2))/2"), ("gamma_inc(3, x)", "0", "inf", "6"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "value"), SERIES)
def test_series_of_exponentials_are_proved(f, lower, upper, value):
    answer = gelvo.integrate(f, "x", lower, upper)
    assert answer.verdict == "proved" and (str(answer.expression) == value or gelvo.equal(answer.expression, value))


LOGARITHMS = [
    ("ln(a^2*cos(x)^2 + b^2*sin(x)^2)", "0", "pi/2", ["a > 0", "b > 0"], "pi*ln((a + b)/2)"), ("ln(5 + 4*cos(2*x))", "0", "pi", [], "2*pi*ln(2)"), ("ln(1 + sin(x)^2)", "0", "pi", [], "pi*ln((3 + 2*sqrt(2))/4)"), ("ln(1 + 2*tan(x)^2)", "0", "pi/2", [], "pi*asinh(1)"), ("ln(tan(x))^2", "0", "pi/2", [], "pi^3/8"),
    ("sin(x)*cos(x)/x", "0", "inf", [], "pi/4"), ("1/(exp((x - m)/k) + 1)", "0", "inf", ["m > 0", "k > 0"], "k*ln(1 + exp(m/k))"), ("x*besselj(0, x)/(x^2 + 1)", "0", "inf", [], "besselk(0, 1)"), ("Ci(x)*exp(-x)", "0", "inf", [], "-ln(2)/2"), ("besselk(0, x)^2", "0", "inf", [], "pi^2/4"), ("x/sin(x)", "0", "pi/2", [], "2*catalan"),
]  # fmt: skip
STEPS = [
    ("floor(x^2)", "0", "2", [], "5 - sqrt(2) - sqrt(3)"), ("floor(1/x)", "1/3", "1", [], "5/6"), ("floor(2*sin(x))", "0", "2*pi", [], "-pi"), ("sign(cos(x^2))*x", "0", "3", [], "3*(pi - 3)/2"), ("floor(sqrt(x))", "0", "10", [], "16"), ("floor(exp(x))", "0", "1", [], "2 - ln(2)"),
    ("1/sqrt(cos(x) - cos(a))", "0", "a", ["a > 0", "a < pi"], "sqrt(2)*ellipk(sin(a/2)^2)"), ("1/sqrt(2*g/l*(cos(x) - cos(a)))", "-a", "a", ["a > 0", "a < pi", "g > 0", "l > 0"], "2*sqrt(l/g)*ellipk(sin(a/2)^2)"), ("1/sqrt(cos(x) - 1/2)", "-pi/3", "pi/3", [], "2*sqrt(2)*ellipk(1/4)"),
]  # fmt: skip
ENDS = [  # powers that vanish at an end, and what grows less than its companion falls
    ("(1 - x^n)^(1/n)", "0", "1", ["n > 0"], "beta(1/n, 1 + 1/n)/n"), ("1/sqrt(x^3 - 1)", "1", "inf", [], "beta(1/6, 1/2)/3"), ("sqrt(x^3 - 8)/x^4", "2", "inf", [], "pi*sqrt(2)/24"), ("x^3*sqrt(2 - x^3)", "0", "2^(1/3)", [], "2*2^(5/6)*beta(4/3, 3/2)/3"),
    ("1/(x*(x^n - 1)^(1/n))", "1", "inf", ["n > 2"], "beta(1/n, (n - 1)/n)/n"), ("x^2/(x^4 - 16)^(5/8)", "2", "inf", [], "inf"), ("besseli(0, x)*exp(-2*x)", "0", "inf", [], "sqrt(3)/3"), ("besseli(1, a*x)*exp(-b*x)", "0", "inf", ["a > 0", "b > a"], "b/(a*sqrt(b^2 - a^2)) - 1/a"),
    ("exp(-a*(x + 1/x))", "0", "inf", ["a > 0"], "2*besselk(1, 2*a)"), ("Si(x)*exp(-x)", "0", "inf", [], "pi/4"), ("cos(a*x)/cosh(x)", "-inf", "inf", [], "pi/cosh(pi*a/2)"), ("sin(5*x)/sinh(x/7)", "-inf", "inf", [], "7*pi*tanh(35*pi/2)"),
    ("exp(7*x/9)/(exp(x) + 1)", "-inf", "inf", [], "pi/sin(2*pi/9)"), ("exp(-9*x)*erf(x/7)", "0", "inf", [], "erfc(63/2)*exp(3969/4)/9"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value"), [*ENDS, *STEPS, *LOGARITHMS])
def test_ends_and_tails_are_proved(f, lower, upper, given, value):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert answer.verdict == "proved"
    assert str(answer.expression) == value or gelvo.equal(answer.expression, value, given=given)


PROVED = [("ln(2 + sin(x))", "-pi", "pi"), ("ln(x)/(x^2 + 5*x + 3)", "0", "inf"), ("x^(1/4)/(x^2 + 4*x + 1)^2", "0", "inf"), ("cos(x)/(x^2 + 4*x + 1)", "0", "inf")]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper"), PROVED)
def test_what_needed_whole_turns_or_irrational_poles_is_proved(f, lower, upper):
    assert gelvo.integrate(f, "x", lower, upper).verdict == "proved"


def test_a_letter_at_which_the_sine_vanishes_is_a_condition():
    answer = gelvo.integrate("x^a/((x + 1)*(x + 2))", "x", 0, "inf", given=["a > -1", "a < 1"])
    assert [str(c) for c in answer.conditions] == ["a != 0"]


@pytest.mark.parametrize("f", ["ln(x)/(x - 2)^2", "ln(x)/(x^2 - 4)", "x^(1/2)/(x + 1)", "ln(x)/(x + 1)", "1/x", "x^a/(x^2 + 1)"])
def test_the_contour_is_refused_where_the_integral_does_not_converge(f):
    assert keyhole(gelvo.formula(f), gelvo.variable("x"), Facts()) is None or "a" in f


# (denominator, the poles above the line with their orders, those on it)
POLES = [
    ("x^2 + 4", ["2j 1"], []),
    ("(x^2 + 2*x + 5)^3", ["-1 + 2j 3"], []),
    ("(x + 2)^2*(x - 1)", [], ["-2 2", "1 1"]),
    ("x*(x^2 + 1)", ["1j 1"], ["0 1"]),
    ("x^4 + 5*x^2 + 4", ["1j 1", "2j 1"], []),
    ("x^4 + 4", ["1 + 1j 1", "-1 + 1j 1"], []),
    ("x^2 + 4*x + 1", [], ["sqrt(3) - 2 1", "-sqrt(3) - 2 1"]),
    ("(2*x^2 - 3)^2*(x^2 + 1)", ["1j 1"], ["sqrt(3/2) 2", "-sqrt(3/2) 2"]),
    ("x^6 + 1", ["1j 1", "-sqrt(3)/2 + 1j/2 1", "sqrt(3)/2 + 1j/2 1"], []),
]


@pytest.mark.parametrize(("bottom", "above", "on"), POLES, ids=[p[0] for p in POLES])
def test_poles_and_what_is_left_of_the_denominator(bottom, above, on):
    x = gelvo.variable("x")
    formula = gelvo.formula(bottom, names_from=[x])
    found = upper_poles(formula, x, Facts())
    for poles, wanted in zip(found, (above, on), strict=True):
        listed = {(complex(gelvo.value(p.place)), p.order) for p in poles}
        asked = {(complex(gelvo.value(w.rsplit(" ", 1)[0])), int(w.rsplit(" ", 1)[1])) for w in wanted}
        assert {(round(z.real, 9), round(z.imag, 9), k) for z, k in listed} == {
            (round(z.real, 9), round(z.imag, 9), k) for z, k in asked
        }
        for p in poles:
            assert gelvo.equal(p.others * (x - p.place) ** p.order, formula)


MEANS = [("1/(1 + tan(x)^3)", "0", "pi/2", True), ("x", "0", "2", True), ("sin(x)^2", "0", "pi/2", True), ("x^2", "0", "1", False), ("1/x", "-1", "1", True), ("ln(x)", "-1", "1", False)]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "constant"), MEANS)
def test_constant_means_are_seen_by_numbers(f, lower, upper, constant):
    x = gelvo.variable("x")
    assert has_a_constant_mean(gelvo.formula(f), x, gelvo.formula(lower), gelvo.formula(upper)) is constant


IMAGES = [("ln(1 + x)/(1 + x^2)", 0, 1, "(1 - x)/(1 + x)"), ("ln(x)/(x^2 + 4)", 1, 4, "4/x"), ("atan(x)/(x^2 + x + 1)", 0, 1, None), ("sin(x)/(1 + x^2)", 0, 1, None)]  # fmt: skip


@pytest.mark.parametrize(("f", "lower", "upper", "image"), IMAGES)
def test_images_swap_the_ends(f, lower, upper, image):
    x = gelvo.variable("x")
    ends = number(lower), number(upper)
    inside = Facts([ends[0] < x, x < ends[1]])
    found = list(quotients_between(gelvo.formula(f), x, *ends, inside))
    assert has_an_image(gelvo.formula(f), x, *ends, Facts()) is bool(found)
    for place in found:
        assert gelvo.equal(gelvo.substitute(place, {x: ends[0]}), ends[1])
        assert gelvo.equal(gelvo.substitute(place, {x: ends[1]}), ends[0])
    assert image is None or any(gelvo.equal(place, gelvo.formula(image)) for place in found)
