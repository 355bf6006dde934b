"""Derivatives of sums of towers, integrated back: the terms go together in groups, by a highest power, or by a product as the variable."""

from __future__ import annotations

from random import Random

import pytest

import gelvo
from sample_tasks import is_open

FUNCTIONS = ("exp", "ln", "sin", "cos", "tan", "atan", "sqrt", "sinh", "asin", "cbrt")
LEAVES = ("x", "x^2", "(x + 1)", "2*x", "(x^2 + 1)", "a*x")


def tower(rng, depth):
    if not depth:
        return rng.choice(LEAVES)
    kind = rng.random()
    inner = tower(rng, depth - 1)
    if kind < 0.6:
        return f"{rng.choice(FUNCTIONS)}({inner})"
    if kind < 0.75:
        return f"({inner} + {rng.choice(LEAVES)})"
    return f"({inner}*{rng.choice(LEAVES)})"


@pytest.mark.parametrize("seed", range(1, 23))
def test_random_sums_of_two_towers_come_back(seed):
    rng = Random(seed)
    text = f"{tower(rng, 2)} + {tower(rng, 1)}*{tower(rng, 1)}"
    slope = gelvo.differentiate(text, "x", given=["a > 0"])
    answer = gelvo.integrate(slope, "x", given=["a > 0"])
    assert not is_open(answer), text
    assert answer.verdict in ("proved", "supported")


TOGETHER = {
    "asin(ln(atan(x))) + cbrt(x + 1)*tan(a*x)/(2*x)": "two groups of functions",
    "asin((x + x^2)^2) + ln(ln(x^2 + 1))*x^3": "a root beside logarithms",
    "atan(exp(a*x)/(2*x)) + atan(2*x/(x^2 + x + 1))*(x + 1)/(2*x)": "a rational part that one group needs",
    "asin(atan(sin(a*x)))*atan(a*x)": "the highest power of an inverse function",
    "asin(asin(cbrt(x^2 + 1)))*(x + 3)": "a constant share of the slope",
    "asin(asin(x))^2*x": "a square of an inverse function",
    "atan(x^2*asin(x^2))": "a product as the variable",
    "asin(x*ln(x))": "a product below a root",
    "atan(x*exp(x)*sin(x))": "three factors as the variable",
    "asin(2*x)/(2*x) + a*x^3*(x^2 + 1)/(x^2 + x + 1)": "roots of fractions, proved term by term",
}


@pytest.mark.parametrize("text", TOGETHER, ids=TOGETHER.values())
def test_terms_that_have_an_antiderivative_together_only(text):
    answer = gelvo.integrate(gelvo.differentiate(text, "x"), "x", given=["a > 0"])
    assert not is_open(answer) and answer.verdict == "proved"


LEFT_WRITTEN = ["sin(sin(x)) + ln(ln(x))*sqrt(x)", "exp(exp(x))/x + atan(x)*x"]


@pytest.mark.parametrize("text", LEFT_WRITTEN)
def test_a_group_without_a_form_leaves_the_whole_written(text):
    answer = gelvo.integrate(text, "x")
    assert is_open(answer) and answer.reason
