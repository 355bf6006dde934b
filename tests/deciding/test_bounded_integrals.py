"""Numbers of written integrals with error bounds: all digits right, said to be bounded, and refused where nothing is seen."""

from __future__ import annotations

import pytest
from gmpy2 import mpfr, mpq
from mpmath import mp, mpf

import gelvo
from gelvo.deciding.bounded_integrals.analytic import Analytic
from gelvo.deciding.bounded_integrals.integral import bounded_integral
from gelvo.deciding.bounded_integrals.legendre import nodes_and_weights
from gelvo.deciding.bounded_integrals.tails import tail_bound
from gelvo.evaluation.value import value as value_of
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue

# (integrand, lower, upper, value)
VALUES = [
    ("x^3/(exp(x) - 1)", "0", "inf", "pi^4/15"),
    ("x/(exp(x) + 1)", "0", "inf", "pi^2/12"),
    ("x/sinh(x)", "0", "inf", "pi^2/4"),
    ("x^2/cosh(x)^2", "-inf", "inf", "pi^2/6"),
    ("exp(-x^2)", "-inf", "inf", "sqrt(pi)"),
    ("exp(-x^2)", "0", "1", "sqrt(pi)*erf(1)/2"),
    ("exp(-x^4)", "0", "inf", "gamma(1/4)/4"),
    ("x^2*exp(-3*x)", "0", "inf", "2/27"),
    ("exp(-x)*sin(x)", "0", "inf", "1/2"),
    ("exp(-2*x)*cos(3*x)", "1", "inf", "exp(-2)*(2*cos(3) - 3*sin(3))/13"),
    ("exp(x)", "-inf", "0", "1"),
    ("exp(-x)", "2", "inf", "exp(-2)"),
    ("x*erfc(x)", "0", "inf", "1/4"),
    ("exp(-x - 1/x)/sqrt(x)", "0", "inf", "sqrt(pi)*exp(-2)"),
    ("1/(1 + x^2)", "0", "inf", "pi/2"),
    ("1/(1 + x^4)", "-inf", "inf", "pi/sqrt(2)"),
    ("1/(x^(1/3)*(1 + x))", "0", "inf", "2*pi/sqrt(3)"),
    ("sqrt(x)/(1 + x^2)", "0", "inf", "pi/sqrt(2)"),
    ("1/x^2", "1", "inf", "1"),
    ("1/x^(3/2)", "4", "inf", "1"),
    ("sqrt(x)", "0", "1", "2/3"),
    ("1/sqrt(x)", "0", "4", "4"),
    ("x^(1/3)", "0", "8", "12"),
    ("1/sqrt(1 - x^2)", "0", "1", "pi/2"),
    ("1/sqrt(1 - x^2)", "-1", "1", "pi"),
    ("sqrt(1 - x^2)", "-1", "1", "pi/2"),
    ("1/sqrt(x*(2 - x))", "0", "2", "pi"),
    ("ln(x)", "0", "2", "2*ln(2) - 2"),
    ("ln(x)^2", "0", "3", "3*ln(3)^2 - 6*ln(3) + 6"),
    ("ln(x)*ln(1 - x)", "0", "1", "2 - pi^2/6"),
    ("ln(x)/(1 + x)", "0", "1", "-pi^2/12"),
    ("ln(1 + x)/x", "0", "1", "pi^2/12"),
    ("ln(sin(x))", "0", "pi", "-pi*ln(2)"),
    ("atan(x)/x", "0", "1", "catalan"),
    ("sin(x)/x", "0", "1", "Si(1)"),
    ("(1 - cos(x))/x^2", "0", "2", "Si(2) - (1 - cos(2))/2"),
    ("(exp(x) - 1)/x", "0", "1", "Ei(1) - euler_gamma"),
    ("x/tan(x)", "0", "pi/2", "pi*ln(2)/2"),
    ("1/(2 + cos(x))", "0", "2*pi", "2*pi/sqrt(3)"),
    ("exp(cos(x))", "0", "pi", "pi*besseli(0, 1)"),
    ("cos(3*sin(x))", "0", "pi", "pi*besselj(0, 3)"),
    ("1/(1 + x^2)", "-3", "5", "atan(3) + atan(5)"),
    ("x^40", "0", "1", "1/41"),
    ("cos(100*x)", "0", "1", "sin(100)/100"),
    ("1/(x^2 + 1/10000)", "-1", "1", "200*atan(100)"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "wanted"), VALUES, ids=[f"{v[0]} {v[1]}" for v in VALUES])
def test_digits_are_right_and_bounded(f, lower, upper, wanted):
    for digits in (15, 30):
        found = gelvo.value(f"integral_of({f}, x, {lower}, {upper})", digits)
        assert found.bounded
        with mp.workdps(40):
            exact = mpf(str(gelvo.value(wanted, 40)))
            assert abs(mpf(str(found)) - exact) <= mpf(10) ** (1 - digits) * abs(exact)


LETTERS = [
    ("integral_of(exp(-a*x), x, 0, inf)", {"a": 2}, "1/2"),
    ("integral_of(x^k, x, 0, a)", {"a": 2, "k": 3}, "4"),
    ("1 + integral_of(ln(x), x, 0, a)", {"a": 5}, "5*ln(5) - 4"),
]


@pytest.mark.parametrize(("formula", "at", "wanted"), LETTERS)
def test_letters_have_their_numbers(formula, at, wanted):
    found = gelvo.value(gelvo.substitute(formula, at), 20)
    assert float(found) == pytest.approx(float(gelvo.value(wanted, 20)), rel=1e-15) and found.bounded


# no number may come out of these: they diverge, or are not analytic, or their tails do not die
REFUSED = [
    ("1/x", "0", "1"),
    ("1/x", "-1", "1"),
    ("1/x", "1", "inf"),
    ("1/(x - 1)", "0", "inf"),
    ("1/(x - 1/3)^2", "0", "1"),
    ("x", "0", "inf"),
    ("sin(x)", "0", "inf"),
    ("sin(x)/x", "0", "inf"),
    ("exp(x)", "0", "inf"),
    ("abs(x - 1/3)", "0", "1"),
    ("floor(3*x)", "0", "1"),
    ("gamma(1 + x)", "0", "1"),
    ("1/(x*ln(x)^2)", "2", "inf"),
    ("tan(x)", "0", "pi"),
    ("x^(-3/2)", "0", "1"),
]


@pytest.mark.parametrize(("f", "lower", "upper"), REFUSED)
def test_what_is_not_seen_is_refused(f, lower, upper):
    x = gelvo.variable("x")
    ends = [{"inf": gelvo.inf}.get(e) or gelvo.formula(e) for e in (lower, upper)]
    with gelvo.time_limit(20), pytest.raises(NoValue):
        bounded_integral(gelvo.formula(f, names_from=[x]), x, *ends, 60)


@pytest.mark.parametrize("n", [1, 2, 3, 5, 8, 20, 51])
def test_nodes_and_weights_integrate_polynomials_exactly(n):
    pairs = nodes_and_weights(n, 80)
    for k in range(0, 2 * n, 2):
        total = mpq(0)
        for node, weight in pairs:
            assert node.low <= node.high and weight.low <= weight.high
            place, share = mpq(node.low), mpq(weight.low)
            total += share * place**k * (1 if node.low <= 0 <= node.high else 2)
        assert abs(total - mpq(2, k + 1)) < mpq(1, 2**70)


CUTS = [("sqrt(x)", -1, 1), ("ln(x)", -2, -1), ("1/x", -1, 1), ("atan(x)", -2, 2), ("1/(1 + x^2)", -1, 1), ("1/(x^2 - 1)", 0, 2)]


@pytest.mark.parametrize(("f", "left", "right"), CUTS)
def test_boxes_with_a_cut_or_a_pole_have_no_bounds(f, left, right):
    x = gelvo.variable("x")
    box = Box(Interval(mpfr(left), mpfr(right)), Interval(mpfr(-2), mpfr(2)))
    with pytest.raises((NoValue, gelvo.GelvoError)):
        Analytic(gelvo.formula(f, names_from=[x]), x).at(box, 60)


TAILS = [
    ("exp(-x)", 10, "exp(-10)"),
    ("x^2*exp(-x)", 10, "122*exp(-10)"),
    ("exp(-x^2)", 4, "sqrt(pi)*erfc(4)/2"),
    ("exp(-x)*sin(x)", 10, "exp(-10)*abs(sin(10) + cos(10))/2"),
    ("exp(-x)/(1 - exp(-x))", 5, "-ln(1 - exp(-5))"),
    ("exp(-2*x)*ln(x)", 6, "integral_of(exp(-2*x)*ln(x), x, 6, inf)"),
    ("exp(-x)/(1 + x^2)", 6, "integral_of(exp(-x)/(1 + x^2), x, 6, inf)"),
    ("exp(-exp(x))", 2, "-Ei(-exp(2))"),
]


@pytest.mark.parametrize(("f", "start", "tail"), TAILS)
def test_tails_lie_below_their_bounds(f, start, tail):
    x = gelvo.variable("x")
    bound = tail_bound(Analytic(gelvo.formula(f, names_from=[x]), x, from_zero=False), mpq(start))
    size = float(value_of(gelvo.formula(tail), 15))
    assert size <= float(bound) * (1 + 1e-9)
    assert float(bound) < 40 * max(size, 1e-300) or "sin" in f
