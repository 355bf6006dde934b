"""Steps, bars and whole parts between two ends where they cannot change, and signs by bounds up to zeros at the ends."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.checking.pieces import settled, sign_between
from gelvo.facts.store import Facts

# (formula, lower, upper, what it is between them: None where it may change)
SETTLED = [
    ("floor(x)", "2", "3", "2"),
    ("floor(x)*x", "-1", "0", "-x"),
    ("ceil(x)", "2", "3", "3"),
    ("floor(2*x)", "1/2", "1", "1"),
    ("floor(x^2)", "1", "sqrt(2)", "1"),
    ("floor(x)", "1", "3", None),
    ("abs(x - 1)", "1", "4", "x - 1"),
    ("abs(x - 1)", "-2", "1", "1 - x"),
    ("abs(x - 1)", "0", "2", None),
    ("abs(sin(x))", "0", "pi", "sin(x)"),
    ("abs(sin(x))", "pi", "2*pi", "-sin(x)"),
    ("abs(sin(x))", "0", "2*pi", None),
    ("abs(cos(x) - sin(x))", "pi/4", "5*pi/4", "sin(x) - cos(x)"),
    ("sign(x^2 - 2)", "sqrt(2)", "5", "1"),
    ("sign(ln(x))", "1/3", "1", "-1"),
    ("heaviside(x - 2)*x", "2", "3", "x"),
    ("heaviside(x - 2)*x", "0", "2", "0"),
    ("heaviside(x - a)", "0", "2", None),
    ("abs(exp(x) - 1)", "0", "3", "exp(x) - 1"),
    ("abs(x^2*(x - 1))", "0", "1", "x^2*(1 - x)"),
    ("cases(x when x < 1, otherwise 2 - x)", "0", "1", "x"),
    ("cases(x when x < 1, otherwise 2 - x)", "1", "3", "2 - x"),
    ("cases(x when x < 1, otherwise 2 - x)", "0", "3", None),
    ("cases(x when x < 1, x^2 when x <= 2, otherwise 0)", "1", "2", "x^2"),
    ("cases(x when x < a, otherwise 2)", "0", "1", None),
    ("max(sin(x), 0)", "0", "pi", "sin(x)"),
    ("max(sin(x), 0)", "pi", "2*pi", "0"),
    ("min(x, 1 - x)", "0", "1/2", "x"),
    ("min(x, 1 - x)", "0", "1", None),
    ("max(x, x^2, 1/2)", "1", "4", "x^2"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "plain"), SETTLED)
def test_steps_are_settled_between_ends(f, lower, upper, plain):
    x, a = gelvo.variable("x"), gelvo.variable("a")
    formula = gelvo.formula(f, names_from=[x, a])
    found = settled(formula, x, gelvo.formula(lower), gelvo.formula(upper), Facts())
    assert found is formula if plain is None else gelvo.equal(found, gelvo.formula(plain, names_from=[x]))


SIGNS = [
    ("x", "0", "1", 1),
    ("-x", "0", "1", -1),
    ("x - 1", "0", "1", -1),
    ("x - 1/2", "0", "1", 0),
    ("cos(x)", "-pi/2", "pi/2", 1),
    ("sin(x)*cos(x)", "0", "pi/2", 1),
    ("exp(x) - 1 - x", "1", "2", 1),
    ("x^3 - 2", "2", "3", 1),
    ("1/x", "0", "1", 0),
    ("sqrt(x - 2)", "0", "1", 0),
    ("a*x", "0", "1", 0),
]


@pytest.mark.parametrize(("f", "lower", "upper", "sign"), SIGNS)
def test_signs_between_ends(f, lower, upper, sign):
    x, a = gelvo.variable("x"), gelvo.variable("a")
    formula = gelvo.formula(f, names_from=[x, a])
    assert sign_between(formula, x, gelvo.formula(lower), gelvo.formula(upper), Facts()) == sign


PROVED = [
    ("floor(x)", "0", "4", "6"),
    ("floor(x)*x", "0", "3", "13/2"),
    ("x - floor(x)", "0", "5", "5/2"),
    ("abs(sin(x))", "0", "10*pi", "20"),
    ("abs(cos(x) - sin(x))", "0", "2*pi", "4*sqrt(2)"),
    ("abs(x^2 - 1)", "-2", "2", "4"),
    ("sign(x)*x^3", "-1", "1", "1/2"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "value"), PROVED)
def test_integrals_with_steps_are_proved(f, lower, upper, value):
    answer = gelvo.integrate(f, "x", lower, upper)
    assert gelvo.equal(answer.expression, value) and answer.verdict == "proved"
