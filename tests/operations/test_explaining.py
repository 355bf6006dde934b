"""Explained steps: each rule is named, each claim inside is checked, and the last step is the answer."""

from __future__ import annotations

import pytest

import gelvo

DERIVATIVES = [
    ("x^3", ["power rule"]),
    ("5*x^2", ["power rule", "a constant factor stays"]),
    ("x^2 + sin(x)", ["power rule", "derivative of sin", "term by term"]),
    ("x*exp(x)", ["derivative of exp", "product rule"]),
    ("sin(x^2)", ["power rule", "chain rule: sin of x^2"]),
    ("(x^2 + 1)^3", ["term by term", "power rule, then the derivative of the inside"]),
    ("2^x", ["exponential"]),
    ("ln(cos(x))", ["derivative of cos", "chain rule: ln of cos(x)"]),
    ("sqrt(1 - x^2)", ["power rule, then"]),
    ("exp(-a*x)*cos(w*x)", ["chain rule: exp", "chain rule: cos", "product rule"]),
]


@pytest.mark.parametrize(("text", "rules"), DERIVATIVES, ids=[c[0] for c in DERIVATIVES])
def test_derivatives_are_explained_rule_by_rule(text, rules):
    answer = gelvo.differentiate(text, "x", steps=True)
    shown = [str(s) for s in answer.steps]
    for rule in rules:
        assert any(rule in line for line in shown), rule
    assert all(s.verdict == "proved" for s in answer.steps)
    assert shown[-1].startswith(f"derivative_of({gelvo.formula(text)}, x) = {answer}")


SOLUTIONS = [
    ("2*x + 3 = 7", ["2*x - 4 = 0", "2*x = 4", "x = 2"]),
    ("a*x = b", ["a*x = b", "x = b/a"]),
    ("x^2 = 5*x - 6", ["x^2 - 5*x + 6 = 0", "a = 1, b = -5, c = 6", "1", "two roots"]),
    ("x^2 + 2*x + 1 = 0", ["a = 1, b = 2, c = 1", "0", "x = -1"]),
    ("x^2 + x + 1 = 0", ["-3", "negative: no real root"]),
]


@pytest.mark.parametrize(("text", "statements"), SOLUTIONS, ids=[c[0] for c in SOLUTIONS])
def test_linear_and_quadratic_equations_are_explained(text, statements):
    found = gelvo.solve(text, "x", steps=True)
    said = [s.statement for s in found.steps]
    for statement in statements:
        assert any(statement in line for line in said), (statement, said)
    assert not gelvo.solve(text, "x").steps


def test_other_equations_tell_what_was_reached_and_put_back():
    steps = gelvo.solve("exp(x) = 2", "x", steps=True).steps
    assert [s.rule for s in steps] == ["everything on one side", "method", "put back into the equation"]
    assert steps[-1].statement == "x = ln(2)" and steps[-1].verdict == "proved"


def test_integrals_by_hand_are_explained():
    step = gelvo.by_parts("integral_of(x*cos(x), x)", differentiate="x")
    assert step.steps[0].rule.startswith("the factor") and step.steps[1].verdict == "proved"
    change = gelvo.change_variable("integral_of(x*exp(x^2), x, 0, 1)", "u = x^2")
    assert change.steps[-1].statement == "from 0 to 1" and change.steps[1].verdict == "proved"
