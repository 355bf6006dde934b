"""Limits against textbook values, from each side and at infinity; each answer is also held against numbers by its certificate."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

LIMITS = [
    ("sin(x)/x", "0", None, "1"),
    ("sin(7*x)/(3*x)", "0", None, "7/3"),
    ("tan(2*x)/sin(5*x)", "0", None, "2/5"),
    ("(1 - cos(x))/x^2", "0", None, "1/2"),
    ("(1 - cos(3*x))/(x*sin(x))", "0", None, "9/2"),
    ("(x - sin(x))/x^3", "0", None, "1/6"),
    ("(tan(x) - x)/x^3", "0", None, "1/3"),
    ("(tan(x) - sin(x))/x^3", "0", None, "1/2"),
    ("(exp(x) - 1)/x", "0", None, "1"),
    ("(exp(x) - 1 - x)/x^2", "0", None, "1/2"),
    ("(exp(3*x) - exp(-x))/x", "0", None, "4"),
    ("ln(1 + x)/x", "0", None, "1"),
    ("(ln(1 + x) - x)/x^2", "0", None, "-1/2"),
    ("asin(x)/x", "0", None, "1"),
    ("(atan(x) - x)/x^3", "0", None, "-1/3"),
    ("(sinh(x) - x)/x^3", "0", None, "1/6"),
    ("(2^x - 1)/x", "0", None, "ln(2)"),
    ("(3^x - 2^x)/x", "0", None, "ln(3/2)"),
    ("(sqrt(1 + x) - 1)/x", "0", None, "1/2"),
    ("(sqrt(4 + x) - 2)/x", "0", None, "1/4"),
    ("(cbrt(8 + x) - 2)/x", "0", None, "1/12"),
    ("((1 + x)^5 - 1)/x", "0", None, "5"),
    ("(1 + 3*x)^(1/x)", "0", None, "exp(3)"),
    ("(1 - x)^(2/x)", "0", None, "exp(-2)"),
    ("(cos(x))^(1/x^2)", "0", None, "exp(-1/2)"),
    ("(1 + sin(x))^(1/x)", "0", None, "exp(1)"),
    ("1/sin(x) - 1/x", "0", None, "0"),
    ("1/x - 1/(exp(x) - 1)", "0", None, "1/2"),
    ("1/ln(1 + x) - 1/x", "0", None, "1/2"),
    ("cot(x) - 1/x", "0", None, "0"),
    ("1/sin(x)^2 - 1/x^2", "0", None, "1/3"),
    ("x*cot(3*x)", "0", None, "1/3"),
    ("x*ln(x)", "0", "above", "0"),
    ("x^2*ln(x)", "0", "above", "0"),
    ("ln(x)", "0", "above", "-inf"),
    ("1/x", "0", "above", "inf"),
    ("1/x", "0", "below", "-inf"),
    ("1/x", "0", None, "undefined"),
    ("1/x^2", "0", None, "inf"),
    ("-1/x^4", "0", None, "-inf"),
    ("abs(x)/x", "0", None, "undefined"),
    ("abs(x)/x", "0", "above", "1"),
    ("abs(x)/x", "0", "below", "-1"),
    ("exp(1/x)", "0", "above", "inf"),
    ("exp(1/x)", "0", "below", "0"),
    ("exp(-1/x^2)", "0", None, "0"),
    ("exp(-1/x^2)/x^8", "0", None, "0"),
    ("atan(1/x)", "0", "above", "pi/2"),
    ("atan(1/x)", "0", "below", "-pi/2"),
    ("x*atan(1/x)", "0", None, "0"),
    ("x^sin(x)", "0", "above", "1"),
    ("sin(1/x)", "0", None, "undefined"),
    ("x*sin(1/x)", "0", None, "0"),
    ("x^2*cos(1/x)", "0", None, "0"),
    ("floor(x)", "2", "above", "2"),
    ("floor(x)", "2", "below", "1"),
    ("ceil(x)", "3", "above", "4"),
    ("sign(x - 1)", "1", None, "undefined"),
    ("heaviside(x)", "0", "above", "1"),
    ("(x^2 - 9)/(x - 3)", "3", None, "6"),
    ("(x^3 - 8)/(x^2 - 4)", "2", None, "3"),
    ("(x^4 - 1)/(x^3 - 1)", "1", None, "4/3"),
    ("(x^2 - 5*x + 6)/(x^2 - 4)", "2", None, "-1/4"),
    ("(sqrt(x) - 3)/(x - 9)", "9", None, "1/6"),
    ("(sqrt(x + 1) - 2)/(x - 3)", "3", None, "1/4"),
    ("ln(x)/(x - 1)", "1", None, "1"),
    ("(x^x - x)/(1 - x + ln(x))", "1", None, "-2"),
    ("x^(1/(1 - x))", "1", None, "exp(-1)"),
    ("sin(x)/(x - pi)", "pi", None, "-1"),
    ("cos(x)/(x - pi/2)", "pi/2", None, "-1"),
    ("(x - pi/2)*tan(x)", "pi/2", None, "-1"),
    ("tan(x)", "pi/2", "below", "inf"),
    ("tan(x)", "pi/2", "above", "-inf"),
    ("1/(x - 2)^3", "2", "below", "-inf"),
    ("gamma(x)*x", "0", None, "1"),
    ("gamma(x)*(x + 1)", "-1", None, "-1"),
    ("(2*x^2 + 3*x)/(5*x^2 - 1)", "inf", None, "2/5"),
    ("(x + 1)/(x^2 + 1)", "inf", None, "0"),
    ("(x^3 + 1)/(x^2 + 1)", "inf", None, "inf"),
    ("(x^3 + 1)/(x^2 + 1)", "-inf", None, "-inf"),
    ("(1 + 1/x)^x", "inf", None, "exp(1)"),
    ("(1 - 3/x)^(2*x)", "inf", None, "exp(-6)"),
    ("(1 + 1/x^2)^x", "inf", None, "1"),
    ("((x + 2)/(x - 1))^x", "inf", None, "exp(3)"),
    ("x^(1/x)", "inf", None, "1"),
    ("ln(x)/x", "inf", None, "0"),
    ("ln(x)^5/sqrt(x)", "inf", None, "0"),
    ("x^10*exp(-x)", "inf", None, "0"),
    ("exp(x)/x^3", "inf", None, "inf"),
    ("exp(x) - x^2", "inf", None, "inf"),
    ("ln(exp(x) + 1) - x", "inf", None, "0"),
    ("ln(2*x + 1) - ln(x)", "inf", None, "ln(2)"),
    ("sqrt(x^2 + 3*x) - x", "inf", None, "3/2"),
    ("sqrt(x^2 + 3*x) + x", "-inf", None, "-3/2"),
    ("sqrt(x + 1) - sqrt(x)", "inf", None, "0"),
    ("sqrt(x)*(sqrt(x + 1) - sqrt(x))", "inf", None, "1/2"),
    ("cbrt(x^3 + x^2) - x", "inf", None, "1/3"),
    ("x*(ln(x + 1) - ln(x))", "inf", None, "1"),
    ("x*sin(1/x)", "inf", None, "1"),
    ("x^2*(1 - cos(1/x))", "inf", None, "1/2"),
    ("sin(x)/x", "inf", None, "0"),
    ("sin(x)", "inf", None, "undefined"),
    ("exp(-x)*cos(x)", "inf", None, "0"),
    ("atan(x)", "inf", None, "pi/2"),
    ("x*(pi/2 - atan(x))", "inf", None, "1"),
    ("tanh(x)", "-inf", None, "-1"),
    ("sinh(x)/cosh(x)", "inf", None, "1"),
    ("exp(x)/(exp(x) + 1)", "-inf", None, "0"),
    ("(3^x + 2^x)/(3^x - 2^x)", "inf", None, "1"),
    ("(2^x + 3^x)^(1/x)", "inf", None, "3"),
    ("erf(x)", "inf", None, "1"),
    ("x - floor(x)", "4", None, "undefined"),
    # waves that add up, cancel, or are tamed
    ("1 - cos(x)", "inf", None, "undefined"),
    ("exp(x)*(1 - cos(x))", "inf", None, "undefined"),
    ("exp(-x)*(1 - cos(x))", "inf", None, "0"),
    ("sin(x) - sin(x + 1)", "inf", None, "undefined"),
    ("(1 - cos(1/x))^2/x", "0", None, "undefined"),
    ("x + x*sin(x)", "inf", None, "undefined"),
    ("x^2 + x*sin(x)", "inf", None, "inf"),
    ("abs(sin(x))", "inf", None, "undefined"),
    ("sin(x/2) + sin(x/3)", "inf", None, "undefined"),
    ("exp(sin(x))", "inf", None, "undefined"),
    ("1/(2 + sin(x))", "inf", None, "undefined"),
    ("tan(x)", "inf", None, "undefined"),
    # the rest beside the part that varies most rapidly
    ("exp(x)/x - 1/x", "0", None, "1"),
    ("(x*exp(x) - ln(1 + x))/x^2", "0", "above", "3/2"),
    ("x*exp(1/x) - x", "inf", None, "1"),
    ("x^(1 + 1/x) - x - ln(x)", "inf", None, "0"),
    ("(x + 1)^(1 + 1/x) - x^(1 + 1/(x + 1))", "inf", None, "1"),
    ("exp(x + exp(-x)) - exp(x)", "inf", None, "1"),
    ("exp(x)*(exp(1/x + exp(-x)) - exp(1/x))", "inf", None, "1"),
    ("x*((1 + 1/x)^x - exp(1))", "inf", None, "-exp(1)/2"),
    ("struveh(0, x)/x", "0", "above", "2/pi"),
    ("beta_inc(2, 3, x)/x^2", "0", "above", "1/2"),
    ("(1/12 - beta_inc(2, 3, x))/(1 - x)^3", "1", "below", "1/3"),
    ("gamma_inc(5/2, x)", "0", "above", "3*sqrt(pi)/4"),
    ("(gamma_inc(5/2, x) - 3*sqrt(pi)/4)/x^(5/2)", "0", "above", "-2/5"),
    ("gamma_inc(5/2, x)*exp(x)/x^(3/2)", "inf", None, "1"),
    ("x*besselk(0, x)", "inf", None, "0"),
    ("besselk(1, x)*besseli(1, x)*x", "inf", None, "1/2"),
    ("besselj(0, x)", "inf", None, "0"),
    ("x*sphericalj(1, x)^2", "inf", None, "0"),
    ("airyai(x)*airybi(x)*sqrt(x)", "inf", None, "1/(2*pi)"),
    ("x*erfc(x)*exp(x^2)", "inf", None, "1/sqrt(pi)"),
    ("Ei(x)*x*exp(-x)", "inf", None, "1"),
    ("(pi^2/6 - polylog(2, 1 - x))/(x*ln(x))", "0", "above", "-1"),
    ("polylog(2, -exp(x)) + x^2/2", "inf", None, "-pi^2/6"),
    ("polylog(3, -x) + ln(x)^3/6 + pi^2*ln(x)/6", "inf", None, "0"),
    ("im(polylog(2, exp(2j*x)))/(x*ln(x))", "0", "above", "-2"),
    ("im(polylog(2, 1j*x))/x", "0", None, "1"),
]


@pytest.mark.parametrize(("text", "point", "side", "wanted"), LIMITS, ids=[f"{c[0]} at {c[1]} {c[2] or ''}" for c in LIMITS])
def test_limits_have_their_values(text, point, side, wanted):
    answer = gelvo.limit(text, "x", point, side)
    target = gelvo.formula(wanted)
    if wanted in ("inf", "-inf", "undefined"):
        assert answer.expression is target
    else:
        assert gelvo.equal(answer, target)
    assert answer.verdict in ("proved", "supported", "undecided")


WITH_LETTERS = [
    ("(exp(a*x) - exp(b*x))/x", "0", [], "a - b"),
    ("(1 + a/x)^x", "inf", [], "exp(a)"),
    ("sin(a*x)/sin(b*x)", "0", ["b != 0"], "a/b"),
    ("(x^n - 1)/(x - 1)", "1", [], "n"),
    ("exp(-a*x)*x^2", "inf", ["a > 0"], "0"),
    ("(a^x - 1)/x", "0", ["a > 0"], "ln(a)"),
    ("h*nu/(exp(h*nu/(k*T)) - 1)", "0", ["nu > 0", "k > 0", "T > 0"], "k*T"),
    ("(f_0 - exp(-c*x))*x", "inf", ["f_0 > 0", "c > 0"], "inf"),
]


@pytest.mark.parametrize(("text", "point", "given", "wanted"), WITH_LETTERS, ids=[c[0] for c in WITH_LETTERS])
def test_limits_with_letters(text, point, given, wanted):
    variable = "h" if "h*nu" in text else "x"
    answer = gelvo.limit(text, variable, point, given=given)
    target = gelvo.formula(wanted, names_from=answer)
    assert answer.expression is target if wanted == "inf" else gelvo.equal(answer, target, given=given)


REFUSED = [(("x", "x", 0, "left"), {}, "above"), (("x", "x", "inf", "above"), {}, "one side only")]


@pytest.mark.parametrize(("arguments", "options", "said"), REFUSED)
def test_bad_questions_are_refused(arguments, options, said):
    with pytest.raises(gelvo.DomainError, match=said):
        gelvo.limit(*arguments, **options)


WAVES_TOGETHER = {  # what the phases do not tell is left written, or right
    "cos(x) - cos(x + 2*pi)": "0",
    "sin(x)^2 + cos(x)^2 + 1/x": "1",
    "sin(sqrt(x + 1)) - sin(sqrt(x))": "0",
    "sin(x) + sin(pi*x)": "undefined",
    "sin(floor(x))": "undefined",
}


@pytest.mark.parametrize("text", WAVES_TOGETHER)
def test_waves_whose_phases_tell_nothing_are_left_or_right(text):
    answer = gelvo.limit(text, "x", "inf")
    assert answer.reason or answer.expression is gelvo.formula(WAVES_TOGETHER[text])


AT_CUTS = {
    "arg(-1 + 1j*x)": lambda x: mpmath.arg(-1 + 1j * x),
    "ln(-1 + 1j*x)": lambda x: mpmath.log(-1 + 1j * x),
    "sqrt(-1 + 1j*x)": lambda x: mpmath.sqrt(-1 + 1j * x),
    "asin(2 + 1j*x)": lambda x: mpmath.asin(2 + 1j * x),
    "acosh(1/2 + 1j*x)": lambda x: mpmath.acosh(0.5 + 1j * x),
    "atan(2*1j + x)": lambda x: mpmath.atan(2j + x),
}


@pytest.mark.parametrize("side", ["above", "below"])
@pytest.mark.parametrize("text", AT_CUTS)
def test_a_limit_at_a_cut_is_that_of_its_side(text, side):
    answer = gelvo.limit(text, "x", 0, side)
    near = complex(AT_CUTS[text](mpmath.mpf(1 if side == "above" else -1) / 10**12))
    assert answer.reason or abs(complex(gelvo.value(answer.expression, 15)) - near) < 1e-5


def test_an_undecided_limit_stays_written_or_raises():
    answer = gelvo.limit("exp(a*x)", "x", "inf")
    assert answer.reason and str(answer) == f"limit_of(exp(a*x), x, inf)   # not worked out: {answer.reason}"
    with pytest.raises(gelvo.NoClosedForm):
        gelvo.limit("exp(a*x)", "x", "inf", otherwise="error")


SERIES = [
    ("exp(x)", "0", 4, {0: "1", 1: "1", 2: "1/2", 3: "1/6", 4: "1/24"}),
    ("sin(x)", "0", 5, {1: "1", 3: "-1/6", 5: "1/120", 2: "0"}),
    ("cos(x)", "0", 4, {0: "1", 2: "-1/2", 4: "1/24"}),
    ("tan(x)", "0", 5, {1: "1", 3: "1/3", 5: "2/15"}),
    ("sec(x)", "0", 4, {0: "1", 2: "1/2", 4: "5/24"}),
    ("ln(1 + x)", "0", 4, {1: "1", 2: "-1/2", 3: "1/3", 4: "-1/4"}),
    ("1/(1 - x)", "0", 4, dict.fromkeys(range(5), "1")),
    ("1/(1 + x^2)", "0", 6, {0: "1", 2: "-1", 4: "1", 6: "-1"}),
    ("sqrt(1 + x)", "0", 3, {0: "1", 1: "1/2", 2: "-1/8", 3: "1/16"}),
    ("(1 + x)^a", "0", 2, {0: "1", 1: "a", 2: "a*(a - 1)/2"}),
    ("asin(x)", "0", 5, {1: "1", 3: "1/6", 5: "3/40"}),
    ("atan(x)", "0", 5, {1: "1", 3: "-1/3", 5: "1/5"}),
    ("sinh(x)", "0", 3, {1: "1", 3: "1/6"}),
    ("tanh(x)", "0", 3, {1: "1", 3: "-1/3"}),
    ("erf(x)", "0", 3, {1: "2/sqrt(pi)", 3: "-2/(3*sqrt(pi))"}),
    ("exp(-x^2)", "0", 6, {0: "1", 2: "-1", 4: "1/2", 6: "-1/6"}),
    ("x/(exp(x) - 1)", "0", 4, {0: "1", 1: "-1/2", 2: "1/12", 4: "-1/720"}),
    ("1/sin(x)", "0", 3, {-1: "1", 1: "1/6", 3: "7/360"}),
    ("cot(x)", "0", 3, {-1: "1", 1: "-1/3", 3: "-1/45"}),
    ("1/(x^2*(1 - x))", "0", 1, {-2: "1", -1: "1", 0: "1", 1: "1"}),
    ("sin(x)/x^2", "0", 3, {-1: "1", 1: "-1/6", 3: "1/120"}),
    ("gamma(x)", "0", 0, {-1: "1", 0: "-euler_gamma"}),
    ("ln(x)", "1", 3, {1: "1", 2: "-1/2", 3: "1/3"}),
    ("1/x", "2", 3, {0: "1/2", 1: "-1/4", 2: "1/8", 3: "-1/16"}),
    ("sqrt(x)", "4", 2, {0: "2", 1: "1/4", 2: "-1/64"}),
    ("cos(x)", "pi/3", 2, {0: "1/2", 1: "-sqrt(3)/2", 2: "-1/4"}),
    ("exp(x)", "a", 2, {0: "exp(a)", 1: "exp(a)", 2: "exp(a)/2"}),
    ("1/(x^2 - 1)", "1", 1, {-1: "1/2", 0: "-1/4", 1: "1/8"}),
    ("besselj(0, x)", "0", 4, {0: "1", 2: "-1/4", 4: "1/64"}),
    ("sqrt(x + x^2)", "0", "5/2", {"1/2": "1", "3/2": "1/2", "5/2": "-1/8"}),
    ("exp(sqrt(x))", "0", 1, {0: "1", "1/2": "1", 1: "1/2"}),
    ("x/(x + 1)", "inf", 3, {0: "1", 1: "-1", 2: "1", 3: "-1"}),
    ("sqrt(x^2 + 1)", "inf", 3, {-1: "1", 1: "1/2", 3: "-1/8"}),
    ("atan(x)", "inf", 3, {0: "pi/2", 1: "-1", 3: "1/3"}),
    ("exp(1/x)", "inf", 2, {0: "1", 1: "1", 2: "1/2"}),
]


@pytest.mark.parametrize(("text", "about", "through", "wanted"), SERIES, ids=[f"{c[0]} about {c[1]}" for c in SERIES])
def test_series_have_their_coefficients(text, about, through, wanted):
    found = gelvo.series(text, "x", about, through)
    for power, coefficient in wanted.items():
        assert gelvo.equal(found.coefficient(power), gelvo.formula(coefficient, names_from=found)), power
    assert found.verdict in ("proved", "supported")


def test_a_series_says_what_is_left_out():
    found = gelvo.series("sin(x)", "x", through=4)
    assert found.next_power == 5
    with pytest.raises(gelvo.DomainError, match="left out"):
        found.coefficient(7)
    with pytest.raises(gelvo.NoClosedForm):
        gelvo.series("exp(1/x)", "x")
    with pytest.raises(gelvo.DomainError, match="up to 200"):
        gelvo.series("exp(x)", "x", through=500)
