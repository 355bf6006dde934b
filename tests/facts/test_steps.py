"""Formulas in sections as steps that set in: the same value everywhere but at the joints, and left alone where the joints are open."""

from __future__ import annotations

from fractions import Fraction

import pytest

import gelvo
from gelvo.facts.steps import as_steps
from gelvo.operations.inputs import take

SECTIONS = [
    ("cases(1 when x < 1, otherwise 0)", []),
    ("cases(x when x < 1, 2 - x when x < 2, otherwise 0)", []),
    ("cases(x^2 when x <= -1, x when x < 3, otherwise 5)", []),
    ("cases(1 when x > 2, otherwise x)", []),
    ("cases(1 when x > -1 and x < 1, otherwise 0)", []),
    ("cases(1 when x < -2 or x > 2, otherwise sin(x))", []),
    ("abs(x - 1)", []),
    ("abs(3 - 2*x)", []),
    ("sign(x + 2)", []),
    ("x*heaviside(1 - x)", []),
    ("heaviside(2*x - 3)", []),
    ("max(x, 2)", []),
    ("min(2*x, x + 1)", []),
    ("abs(x)*sign(x - 2) + max(x, -x)", []),
    ("cases(a when x < T, otherwise 0)", ["T > 0"]),
    ("cases(a when x < T, 2*a when x < 2*T, otherwise 0)", ["T > 0"]),
]


@pytest.mark.parametrize(("text", "given"), SECTIONS, ids=[s[0] for s in SECTIONS])
def test_steps_have_the_value_of_the_sections(text, given):
    arguments = take(text, "x", given=given)
    e, x = arguments.expressions
    found = as_steps(e, x, arguments.facts)
    assert "cases" not in str(found) and "abs" not in str(found) and "heaviside(-" not in str(found)
    for place in (
        Fraction(-37, 10),
        Fraction(-11, 10),
        Fraction(3, 10),
        Fraction(13, 10),
        Fraction(17, 10),
        Fraction(23, 10),
        Fraction(41, 10),
    ):
        table = {"x": str(place), "a": "7/3", "T": "3/2"}
        left, right = (gelvo.value(gelvo.substitute(f, table), 12) for f in (e, found))
        assert str(left) == str(right), (place, found)


@pytest.mark.parametrize(
    "text",
    [
        "cases(1 when x < a, 2 when x < b, otherwise 0)",
        "abs(x^2 - 1)",
        "cases(1 when sin(x) > 0, otherwise 0)",
        "heaviside(a*x - 1)",
    ],
)
def test_sections_with_open_joints_are_left_as_they_are(text):
    arguments = take(text, "x")
    e, x = arguments.expressions
    assert as_steps(e, x, arguments.facts) is e


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("heaviside(1 - t) + heaviside(t - 1)", "1"),
        ("heaviside(pi - t)", "1 - heaviside(t - pi)"),
        ("heaviside(-2*t - 3)", "1 - heaviside(2*t + 3)"),
    ],
)
def test_a_step_backwards_is_one_less_the_step_forwards(text, value):
    assert gelvo.equal(text, value)
