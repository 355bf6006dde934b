"""Roots whose signs only facts tell: equal, not equal, and what stays open; the true ones held against numbers."""

from __future__ import annotations

from random import Random

import pytest

import gelvo

TRUE = [
    # products below a root, where a part has a known sign, in either spelling of the fact
    ("sqrt((1 - y^2)/(1 - x^2))", "sqrt(1 - y^2)/sqrt(1 - x^2)", ["x^2 < 1"], {"x": (-1, 1), "y": (-1, 1)}),
    ("sqrt((1 - y^2)/(1 - x^2))", "sqrt(1 - y^2)/sqrt(1 - x^2)", ["x > -1", "x < 1"], {"x": (-1, 1), "y": (-1, 1)}),
    ("sqrt((1 - y^2)/(1 - x^2))", "sqrt(y^2 - 1)/sqrt(x^2 - 1)", ["x^2 > 1"], {"x": (1, 4), "y": (1, 4)}),
    ("sqrt(w*(1 - x^2))", "sqrt(w)*sqrt(1 - x^2)", ["x > -1", "x < 1"], {"x": (-1, 1), "w": (0, 3)}),
    # squares of waves, of which the facts speak as they stand
    ("sqrt((c - cos(t))^2)", "c - cos(t)", ["c - cos(t) >= 0"], {"c": (1, 3), "t": (-3, 3)}),
    ("sin(t)*sqrt((c - cos(t))^2/4)", "sin(t)*(c - cos(t))/2", ["c - cos(t) >= 0"], {"c": (1, 3), "t": (-3, 3)}),
    # nothing is known of each factor, but of their product
    ("sqrt((e/4 + 1/e)^2 - 1)", "e/4 - 1/e", ["e/4 - 1/e >= 0"], {"e": (2, 9)}),
    ("sqrt(1 + (c*x - 1/(c*x))^2/4)", "(c*x + 1/(c*x))/2", ["c*x > 0"], {"c": (0.2, 3), "x": (0.2, 3)}),
    ("sqrt((c*exp(x)/4 + exp(-x)/c)^2 - 1)", "c*exp(x)/4 - exp(-x)/c", ["c*exp(x)/4 - exp(-x)/c >= 0"], {"c": (2, 5), "x": (0, 2)}),
    ("sqrt(1/e^2)", "1/e", ["1/e > 0"], {"e": (0.1, 3)}),
    # a square in disguise
    ("sqrt((1 - sqrt(4*a + 1))/2 + a)", "(1 - sqrt(4*a + 1))/2", ["1 - sqrt(4*a + 1) >= 0", "a >= -1/4"], {"a": (-0.25, 0)}),
    # exp(W/2) where the argument is a square
    ("exp(-lambertw(c^2/x^2)/2)^2", "lambertw(c^2/x^2)*x^2/c^2", [], {"c": (0.3, 2), "x": (0.3, 2)}),
]  # fmt: skip
FALSE = [
    ("sqrt((1 - y^2)/(1 - x^2))", "sqrt(1 - y^2)/sqrt(1 - x^2)", ["x > 2", "y > -1", "y < 1"]),
    ("sqrt((c - cos(t))^2)", "c - cos(t)", ["c - cos(t) < 0"]),
    ("sqrt((e/4 + 1/e)^2 - 1)", "e/4 - 1/e", ["e > 0", "e < 2"]),
    ("sqrt(1 + (c*x - 1/(c*x))^2/4)", "(c*x + 1/(c*x))/2", ["c*x < 0"]),
]


@pytest.mark.parametrize(("one", "other", "given", "ranges"), TRUE, ids=[f"{t[0]} {t[2]}" for t in TRUE])
def test_equal_under_facts_and_by_numbers(one, other, given, ranges):
    assert gelvo.equal(one, other, given=given)
    random = Random(one)
    for _ in range(4):
        place = {n: f"{round(random.uniform(low, high) * 1000)}/1000 + 1/9999" for n, (low, high) in ranges.items()}
        left, right = (complex(gelvo.value(gelvo.substitute(e, place), 20)) for e in (one, other))
        assert abs(left - right) < 1e-9 * (1 + abs(left))


@pytest.mark.parametrize(("one", "other", "given"), FALSE, ids=[f"{t[0]} {t[2]}" for t in FALSE])
def test_other_facts_make_them_unequal(one, other, given):
    try:
        assert not gelvo.equal(one, other, given=given)
    except gelvo.Undecided:
        pytest.fail("a point tells them apart")


WAVES_INSIDE = (
    "sin(x)*sin(y*cos(x))",
    "cos(x/2)*sin(sin(x) + x/2)",
    "cos(x - cos(2*x)) - cos(x + cos(2*x))",
    "exp(2*cos(x)) - exp(sin(x)^2)",
)


@pytest.mark.parametrize("text", WAVES_INSIDE)
def test_waves_inside_of_waves_keep_their_values(text):
    answer = gelvo.simplify(text)
    for k in range(1, 5):
        at = {"x": f"{k}/3", "y": f"{k}/7"}
        left, right = (float(gelvo.value(gelvo.substitute(e, at), 15)) for e in (text, str(answer)))
        assert left == pytest.approx(right, abs=1e-12)
