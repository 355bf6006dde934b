"""Integrals by their slope along a letter, or along a letter that stands for a number: values, conditions, and the proof."""

from __future__ import annotations

import pytest
from mpmath import mp, mpf

import gelvo
from gelvo.calculus.definite.letters import is_for_a_letter, with_a_letter
from gelvo.facts.store import Facts
from sample_tasks import numeric

# (integrand, lower, upper, facts, value)
VALUES = [
    ("ln(1 + a^2*x^2)/(1 + x^2)", "0", "inf", ["a > 0"], "pi*ln(1 + a)"),
    ("ln(1 + a*x^2)/x^2", "0", "inf", ["a > 0"], "pi*sqrt(a)"),
    ("atan(a*x)/(x*(1 + x^2))", "0", "inf", ["a > 0"], "pi*ln(1 + a)/2"),
    ("ln(1 - 2*a*cos(x) + a^2)", "0", "pi", ["a > 0", "a < 1"], "0"),
    ("ln(1 + a*cos(x))/cos(x)", "0", "pi", ["a > 0", "a < 1"], "pi*asin(a)"),
    ("atan(3*x)/(x*(1 + x^2))", "0", "inf", [], "pi*ln(2)"),
    ("ln(1 + x^2)/(1 + x^2)", "0", "inf", [], "pi*ln(2)"),
    ("ln(1 + x^2/2)/(x^2 + 1/2)", "0", "inf", [], "pi*sqrt(2)*ln(3/2)"),
    ("ln(1 + x)/x", "0", "1", [], "pi^2/12"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value"), VALUES, ids=[v[0] for v in VALUES])
def test_values_along_a_letter(f, lower, upper, given, value):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    if answer.reason:
        pytest.skip(f"left: {answer.reason}")
    with mp.workdps(25):
        found, wanted = (numeric(e, {"a": "1/3"}) for e in (answer.expression, gelvo.formula(value)))
        assert abs(found - wanted) < mpf("1e-15") * (1 + abs(wanted))
    assert answer.verdict == "proved" and not [c for c in answer.conditions if "!=" in str(c)]


# (formula, with a letter for its number, the number: None where there is none)
LETTERED = [
    ("ln(1 + 5*x^2)/(1 + x^2)", "ln(1 + a*x^2)/(1 + x^2)", "5"),
    ("atan(x/2)/x", "atan(a*x)/x", "1/2"),
    ("ln(1 + x)/x", "ln(1 + a*x)/x", "1"),
    ("ln(2 + x)/x", "ln(1 + a*(1 + x))/x", "1"),
    ("ln(1 - x)/x", None, None),
    ("ln(1 + b*x)/x", None, None),
    ("ln(1 + x)*x^3", None, None),
    ("ln(1 + x)*ln(1 + x^2)/x", None, None),
    ("sin(x)/x", None, None),
]


@pytest.mark.parametrize(("f", "lettered", "number"), LETTERED)
def test_a_number_as_a_letter(f, lettered, number):
    x, b = gelvo.variable("x"), gelvo.variable("b")
    found = with_a_letter(gelvo.formula(f, names_from=[x, b]), x, Facts())
    if lettered is None:
        assert found is None
        return
    g, letter, c = found
    assert gelvo.equal(g, gelvo.formula(lettered, names_from=[x, letter])) and str(c) == number
    assert Facts().is_positive(letter)


ASKED_FIRST = {
    "ln(1 + a^2*x^2)/(1 + x^2)": True,
    "atan(a*x)/(x*(1 + x^2))": True,
    "ln(1 - 2*a*cos(x) + a^2)": True,
    "ln(3/2 + x)*x^3": False,
    "ln(x)/(1 + x^2)": False,
    "exp(-a*x)*ln(x)": False,
    "1/(1 + a*x^2)": False,
}


@pytest.mark.parametrize("f", ASKED_FIRST)
def test_where_a_letter_is_asked_first(f):
    x, a = gelvo.variable("x"), gelvo.variable("a")
    assert is_for_a_letter(gelvo.formula(f, names_from=[x, a]), x) is ASKED_FIRST[f]


# (integrand, lower, upper, value as it is shown)
SHOWN = [
    ("x/sin(x)", "0", "pi/2", "2*catalan"),
    ("atan(x)/x", "0", "1", "catalan"),
    ("ln(x)/(1 + x^2)", "0", "1", "-catalan"),
    ("ln(1 + tan(x))", "0", "pi/4", "pi*ln(2)/8"),
    ("ln(sin(x))", "0", "pi/2", "-pi*ln(2)/2"),
    ("ln(tan(x))", "0", "pi/2", "0"),
    ("4*sqrt(L/g)/sqrt(1 - sin(theta/2)^2*sin(x)^2)", "0", "pi/2", "4*sqrt(L/g)*ellipk(sin(theta/2)^2)"),
    ("exp(-x/tau)*exp(-1j*w*x)", "0", "inf", "tau/(1 + 1j*tau*w)"),
    ("sin(x)/(x*(x^2 + 1))", "0", "inf", "pi*(1 - exp(-1))/2"),
    ("x*dirac_delta(x^2 - 4)", "0", "inf", "1/2"),
    ("dirac_delta(x^2 + 1)", "-1", "1", "0"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "shown"), SHOWN)
def test_values_are_short(f, lower, upper, shown):
    given = ["L > 0", "g > 0", "0 < theta", "theta < pi", "tau > 0"]
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert str(answer.expression) == shown and not answer.conditions
