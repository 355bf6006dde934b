"""What an integral does towards its ends, by orders of growth; and that no value is ever given to what has none."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.calculus.definite.convergence import CONDITIONALLY, CONVERGES, towards
from gelvo.expression.constants import INFINITE
from gelvo.facts.store import Facts

FAR = {
    "1/x": "inf", "1/x^2": CONVERGES, "1/x^(11/10)": CONVERGES, "1/x^(9/10)": "inf", "exp(-x)": CONVERGES, "exp(-x^2)*x^7": CONVERGES,
    "-exp(x)": "-inf", "x^3": "inf", "1/(x*ln(x))": "inf", "1/(x*ln(x)^2)": CONVERGES, "ln(x)/x^2": CONVERGES, "ln(x)/x": "inf",
    "1/(1 + x^2)": CONVERGES, "x/(1 + x^2)": "inf", "-1/(1 + sqrt(x))": "-inf", "atan(x)/x": "inf", "atan(x)/x^2": CONVERGES,
    "1 - tanh(x)": CONVERGES, "erfc(x)": CONVERGES, "x^5*erfc(x)": CONVERGES, "besselk(0, x)": CONVERGES, "airyai(x)": CONVERGES,
    "x^2/(exp(x) - 1)": CONVERGES, "sin(x)": "undefined", "cos(3*x)": "undefined", "x*sin(x)": "undefined", "sin(x)/x": CONDITIONALLY,
    "cos(x)/sqrt(x)": CONDITIONALLY, "sin(x)/ln(x)": CONDITIONALLY, "sin(x)/x^2": CONVERGES, "sin(x^2)": CONDITIONALLY,
    "x*sin(x^2)": "undefined", "x*cos(x^4)": CONDITIONALLY, "x^2*sin(x^3)": "undefined", "sin(x^3)": CONDITIONALLY,
    "sin(x)^2/x": "inf", "sin(x)^2/x^2": CONVERGES, "sin(x)*cos(x)/x": CONDITIONALLY, "-cos(x)^2/x": "-inf", "sin(x)^3/x": CONDITIONALLY,
    "abs(sin(x))/x": "inf", "abs(sin(x))/x^2": CONVERGES, "abs(cos(2*x))": "inf", "exp(-x)*sin(x)": CONVERGES, "1/x + sin(x)/x": "inf",
    "1/x^2 + sin(x)": "undefined", "exp(-1j*x)": "undefined", "exp(-(1 + 1j)*x)": CONVERGES, "exp(1j*x)/x": CONDITIONALLY,
}  # fmt: skip


def told(f, end, side, given=()):
    x = gelvo.variable("x")
    place = INFINITE if end == "inf" else gelvo.formula(end)
    found = towards(gelvo.formula(f, names_from=[x]), x, place, side, Facts([gelvo.formula(g) for g in given]))
    return None if found is None else str(found.kind)


@pytest.mark.parametrize("f", FAR)
def test_tails_far_out(f):
    assert told(f, "inf", "below") == FAR[f]


NEAR = [
    ("1/x", "0", "above", "inf"),
    ("1/x", "0", "below", "-inf"),
    ("1/x^2", "0", "below", "inf"),
    ("1/x^3", "0", "below", "-inf"),
    ("1/sqrt(x)", "0", "above", CONVERGES),
    ("ln(x)", "0", "above", CONVERGES),
    ("ln(x)/x", "0", "above", "-inf"),
    ("ln(x)^3/sqrt(x)", "0", "above", CONVERGES),
    ("1/(x*ln(x)^2)", "0", "above", CONVERGES),
    ("1/(exp(x) - 1)", "0", "above", "inf"),
    ("1/ln(x)", "1", "below", "-inf"),
    ("1/ln(x)", "1", "above", "inf"),
    ("1/ln(x)", "0", "above", CONVERGES),
    ("tan(x)", "pi/2", "below", "inf"),
    ("tan(x)", "pi/2", "above", "-inf"),
    ("1/cos(x)^2", "pi/2", "above", "inf"),
    ("1/sin(x)", "pi", "below", "inf"),
    ("sin(x)/x^2", "0", "above", "inf"),
    ("(1 - cos(x))/x^2", "0", "above", CONVERGES),
    ("(1 - cos(x))/x^3", "0", "above", "inf"),
    ("sin(1/x)/x^2", "0", "above", "undefined"),
    ("sin(1/x)", "0", "above", CONVERGES),
    ("exp(-1/x)/x", "0", "above", CONVERGES),
    ("exp(1/x)", "0", "above", "inf"),
    ("x^x", "0", "above", CONVERGES),
    ("gamma(x)", "0", "above", "inf"),
    ("1/sqrt(1 - x^2)", "1", "below", CONVERGES),
    ("1/(1 - x^2)", "1", "below", "inf"),
    ("1/(1 - x^2)", "1", "above", "-inf"),
    ("bessely(0, x)", "0", "above", CONVERGES),
]


@pytest.mark.parametrize(("f", "place", "side", "kind"), NEAR, ids=[f"{f} at {p} from {s}" for f, p, s, _ in NEAR])
def test_ends_at_a_place(f, place, side, kind):
    assert told(f, place, side) in (kind, None)
    assert told(f, place, side) == kind or f in ("gamma(x)", "bessely(0, x)")


LETTERS = [
    ("x^(-a)", "inf", "below", ["a > 1"], (CONVERGES, None)),
    ("x^(-a)", "0", "above", ["a > 1"], ("inf", None)),
    ("exp(-a*x)", "inf", "below", ["a > 0"], (CONVERGES,)),
    ("exp(-a*x)", "inf", "below", [], (None,)),
    ("a/x", "inf", "below", [], (None,)),
    ("sin(a*x)/x", "inf", "below", ["a > 0"], (CONDITIONALLY,)),
    ("1/(x - a)", "a", "above", [], ("inf",)),
    ("1/(x - a)^2", "a", "below", [], ("inf",)),
]


@pytest.mark.parametrize(("f", "end", "side", "given", "kinds"), LETTERS, ids=[f"{f} {g}" for f, _, _, g, _ in LETTERS])
def test_letters_whose_sign_is_not_known_tell_nothing(f, end, side, given, kinds):
    assert told(f, end, side, given) in kinds


NO_VALUE = [
    ("1/x", -1, 1), ("1/x^2", -1, 1), ("tan(x)", 0, 3), ("1/(x^2 - 2)", 0, 2), ("1/(x^3 - x)", "1/2", 2), ("1/ln(x)", "1/2", 2),
    ("1/sin(x)", 1, 4), ("exp(x)/(exp(x) - 1)", -1, 1), ("1/(x*sqrt(x))", 0, 1), ("x", "-inf", "inf"), ("sin(x)^2", 0, "inf"),
    ("cosh(x)", "-inf", 0), ("1/(1 - cos(x))", -1, 1), ("ln(x)/(x - 1)^2", 0, 2), ("1/(sqrt(x) - 1)", 0, 4), ("gamma(x)", -1, 1),
    ("Ei(x)/x", 0, 1), ("1/(x + x^2)", 0, "inf"), ("cot(x)", -1, 1), ("1/atan(x)", -1, 1),
]  # fmt: skip


@pytest.mark.parametrize(("f", "low", "high"), NO_VALUE, ids=[f for f, _, _ in NO_VALUE])
def test_what_has_no_value_gets_none(f, low, high):
    answer = gelvo.integrate(f, "x", low, high)
    assert answer.reason or str(answer.expression) in ("inf", "-inf", "undefined")
    assert answer.verdict != "refuted"


WORDS = [
    ("1/x", 1, "inf", "it runs off at x = inf, where the integrand is like the power -1 of |x|"),
    ("1/(x - 1)^2", 0, 3, "it runs off at x = 1, where the integrand is like the power -2 of the distance from 1"),
    ("exp(x)", 0, "inf", "it runs off at x = inf, where the integrand grows like an exponential"),
    ("1/(x*ln(x))", 2, "inf", "the power -1 of |x| and the power -1 of a logarithm"),
    ("abs(sin(x))/x", 1, "inf", "orders of growth"),
]


@pytest.mark.parametrize(("f", "low", "high", "said"), WORDS, ids=[w[0] for w in WORDS])
def test_a_divergence_is_told_in_words(f, low, high, said):
    answer = gelvo.integrate(f, "x", low, high)
    assert str(answer.expression) == "inf" and said in answer.road
    assert not answer.reason
