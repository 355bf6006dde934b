"""Rules that need no antiderivative, each with letters, against quadratures of another library at values of the letters."""

from __future__ import annotations

import pytest
from mpmath import mp, mpf

import gelvo
from sample_tasks import numeric

POSITIVE = ["a > 0", "b > 0", "s > 0", "z > 0"]
AT = {"a": 1.3, "b": 0.6, "s": 0.7, "z": 1.9, "n": 2, "m": 3}

TO_INFINITY = [
    ("exp(-a*x)*besselj(0, b*x)", []),
    ("exp(-a*x)*besselj(n, b*x)", ["n natural"]),
    ("x*exp(-a*x)*besselj(1, b*x)", []),
    ("x*exp(-a*x^2)*besselj(0, b*x)", []),
    ("x^2*exp(-a*x^2)*besselj(1, b*x)", []),
    ("x^s*exp(-a*x^2)", []),
    ("x^s*exp(-a*x)*cos(b*x)", []),
    ("x^s*exp(-a*x^2)*sin(b*x^2)", []),
    ("erfc(a*x)*exp(-b*x)", []),
    ("x*erfc(a*x)", []),
    ("erfc(a*x)^2", []),
    ("x*besselk(0, a*x)", []),
    ("x*airyai(x)", []),
    ("exp(-a*x)*Ci(b*x)", []),
    ("x*Ei(-a*x)", []),
    ("x^(s - 1)/(1 + a*x)^2", []),
    ("x^(s - 1)*ln(x)/(1 + x)", ["s < 1"]),
    ("ln(x)^2*exp(-a*x)", []),
    ("1/(1 + x^(2 + s))", []),
    ("exp(-a*x - b/x)/sqrt(x)", []),
    ("x^(s + 1)/(exp(a*x) - 1)", []),
    ("x^s/(exp(a*x) + 1)", []),
    ("x^4*exp(x)/(exp(x) - 1)^2", []),
    ("(exp(-a*x) - exp(-b*x))/x", []),
    ("(exp(-a*x) - exp(-b*x))/x^(3/2)", []),
    ("exp(-a*x)*(1 - cos(b*x))/x", []),
    ("exp(-a*x)*sin(b*x)/x", []),
    ("exp(-a*x)*sin(b*x)^2/x", []),
]
OVER_THE_LINE = [
    ("cos(a*x)/cosh(b*x)", []),
    ("1/cosh(a*x)", []),
    ("x^2/cosh(a*x)", []),
    ("x/sinh(a*x)", []),
    ("sin(b*x)/sinh(a*x)", []),
    ("x*cos(b*x)/sinh(a*x)", []),
    ("exp(s*x)/(1 + exp(x))", ["s < 1"]),
    ("x*exp(s*x)/(1 + exp(x))", ["s < 1"]),
    ("x^2*exp(x)/(1 + exp(x))^2", []),
    ("exp(-a*x^2)*cos(b*x)", []),
    ("x*exp(-a*x^2)*sin(b*x)", []),
    ("exp(-a*x^2 + b*x)", []),
    ("exp(-(a + 1j*b)*x^2)", []),
    ("sin(x)^3*exp(-a*x^2)", []),
    ("cos(b*x)/(x^2 + a^2)^2", []),
]
BETWEEN_ENDS = [
    ("x^(a - 1)*(1 - x)^(b - 1)", 0, "1", []),
    ("x^a*(z - x)^b", 0, "z", []),
    ("x^a*(1 - x^3)^b", 0, "1", []),
    ("x^a*(1 - x^2)^b*ln(x)", 0, "1", []),
    ("(x - 1)^a*(3 - x)^b", "1", "3", []),
    ("sin(x)^a*cos(x)^b", 0, "pi/2", []),
    ("sin(x)^a", 0, "pi", []),
    ("sin(x)^a*cos(x)^2", 0, "pi", []),
    ("tan(x)^b", 0, "pi/2", ["b < 1"]),
    ("cos(z*sin(x))", 0, "pi", []),
    ("cos(z*cos(x))", 0, "2*pi", []),
    ("cos(n*x - z*sin(x))", 0, "pi", ["n integer"]),
    ("sin(n*x)*exp(a)", 0, "2*pi", ["n integer", "n > 0"]),
    ("exp(z*cos(x))", 0, "2*pi", []),
    ("exp(z*cos(x))*cos(n*x)", 0, "pi", ["n integer"]),
    ("exp(a*cos(x) + b*sin(x))", 0, "2*pi", []),
    ("ln(1 + tan(x))", 0, "pi/4", []),
    ("x*sin(x)/(1 + cos(x)^2)", 0, "pi", []),
    ("legendre(n, x)^2", "-1", "1", ["n natural"]),
    ("legendre(m, x)*legendre(n, x)", "-1", "1", ["n natural", "m natural", "m > n"]),
    ("laguerre(n, x)^2*exp(-x)", 0, "inf", ["n natural"]),
    ("hermite(n, x)^2*exp(-x^2)", "-inf", "inf", ["n natural"]),
    ("besselj(0, x)*besselj(1, x)", 0, "z", []),
]
ROWS = [(f, 0, "inf", g) for f, g in TO_INFINITY] + [(f, "-inf", "inf", g) for f, g in OVER_THE_LINE] + BETWEEN_ENDS


def quadrature(f, low, high):
    """By tanh-sinh steps of mpmath, on the far side only where exponentials are next to nothing."""
    formula, at = gelvo.formula(f), {k: v for k, v in AT.items() if k in f or k == high}
    step = mpf("1e-9")

    def inside(x):
        place = x if x else step
        if "/x)" in f and place < mpf("1e-4"):  # next to nothing, and too small to be written
            return mpf(0)
        return numeric(formula, {**at, "x": mp.nstr(place, 22)})

    ends = [
        mp.mpf(60) if e == "inf" else mp.mpf(-60) if e == "-inf" else mp.re(numeric(gelvo.formula(str(e)), at))
        for e in (low, high)
    ]
    algebraic = high == "inf" and not any(w in f for w in ("exp", "erfc", "besselk", "airy", "cosh", "sinh", "Ei"))
    cuts = [c for c in (-20, -5, -1, 0, 1, 5, 20) if ends[0] < c < ends[1]]
    if algebraic and low == 0:  # with exp(t) for x both ends die away
        return mp.quad(lambda t: inside(mp.exp(t)) * mp.exp(t), [-80, -20, -5, 0, 5, 20, 80])
    if algebraic:
        return mp.quad(inside, [-mp.inf, *cuts, mp.inf])
    return mp.quad(inside, [ends[0], *cuts, ends[1]])


@pytest.mark.parametrize(("f", "low", "high", "given"), ROWS, ids=[r[0] for r in ROWS])
def test_rules_agree_with_quadratures(f, low, high, given):
    answer = gelvo.integrate(f, "x", low, high, given=[*POSITIVE, *given])
    assert not answer.reason
    assert answer.verdict in ("proved", "supported", "undecided")
    with mp.workdps(15):
        wanted = quadrature(f, low, high)
        found = numeric(answer.expression, AT)
        assert abs(found - wanted) < mpf("1e-6") * (1 + abs(wanted))


WITH_CONDITIONS = [
    ("x^(a - 1)*(1 - x)^(b - 1)", 0, 1, ["a > 0", "b > 0"]),
    ("exp(-a*x)*besselj(0, x)", 0, "inf", ["a > 0"]),
    ("x^(s - 1)/(1 + x)", 0, "inf", ["s > 0", "-s + 1 > 0"]),
    ("sin(x)^a", 0, "pi/2", ["(a + 1)/2 > 0"]),
]


@pytest.mark.parametrize(("f", "low", "high", "wanted"), WITH_CONDITIONS, ids=[r[0] for r in WITH_CONDITIONS])
def test_a_table_says_its_conditions(f, low, high, wanted):
    answer = gelvo.integrate(f, "x", low, high)
    assert not answer.reason
    assert all(any(gelvo.is_known(w, given=[c]) for c in answer.conditions) for w in wanted)


REFUSED = [("exp(-a*x)*besselj(0, x)", ["a < 0"]), ("x^(a - 1)*(1 - x)^(b - 1)", ["a < 0"]), ("x^(s - 1)/(1 + x)", ["s > 1"])]


@pytest.mark.parametrize(("f", "given"), REFUSED)
def test_where_a_condition_fails_nothing_is_claimed(f, given):
    answer = gelvo.integrate(f, "x", 0, 1 if "1 - x" in f else "inf", given=given)
    assert answer.reason or str(answer.expression) in ("inf", "-inf", "undefined")


def test_degrees_that_may_be_equal_give_both_cases():
    value = gelvo.integrate("legendre(m, x)*legendre(n, x)", "x", -1, 1, given=["m natural", "n natural"]).expression
    text = str(value)
    assert "m = n" in text and "2/(2*n + 1)" in text
    assert gelvo.equal(gelvo.substitute(value, {"m": 2, "n": 2}), "2/5")
    assert gelvo.equal(gelvo.substitute(value, {"m": 1, "n": 2}), "0")
