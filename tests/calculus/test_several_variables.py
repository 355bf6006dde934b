"""Limits and expansions of formulas of several variables: one answer for all paths, or two paths that disagree."""

from __future__ import annotations

from itertools import product
from random import Random

import pytest

import gelvo
from hunt.plain import NoValue, mp, read, value

LIMITS = [
    ("x^2*y/(x^2 + y^2)", "0"), ("sin(x*y)/(x*y)", "1"), ("sin(x^2 + y^2)/(x^2 + y^2)", "1"), ("x*y/sqrt(x^2 + y^2)", "0"), ("1/(x^2 + y^2)", "inf"),
    ("(x^3 + y^3)/(x^2 + y^2)", "0"), ("exp(-1/(x^2 + y^2))", "0"), ("(1 - cos(x*y))/(x^2 + y^2)", "0"), ("x^2*y^2/(x^2 + y^4)", "0"), ("x*ln(x^2 + y^2)", "0"),
    ("(x + y)*sin(1/x)", "0"), ("atan(1/(x^2 + y^2))", "pi/2"), ("sqrt(x^2 + y^2)", "0"), ("(sqrt(x^2 + y^2 + 1) - 1)/(x^2 + y^2)", "1/2"), ("ln(1 + x^2 + y^2)/(x^2 + y^2)", "1"),
    ("exp(x^2*y/(x^2 + y^2))", "1"), ("x*y^3/(x^2 + x*y + 2*y^2)", "0"), ("(x^2 + y^2 + x^3)/(x^2 + y^2)", "1"), ("cos(x)/(1 + y)", "1"), ("-1/(2*x^2 + 3*y^2)", "-inf"), ("x*atan(1/y)", "0"),
]  # fmt: skip
APART = ["x*y/(x^2 + y^2)", "x^2*y/(x^4 + y^2)", "(x^2 - y^2)/(x^2 + y^2)", "x/(x^2 + y^2)", "x*y/(x + y)", "x*y^2/(x^2 + y^4)", "(exp(x*y) - 1)/(x^2 + x*y + y^2)", "(x - y)/(abs(x) + abs(y))", "x^3*y/(x^6 + y^2)", "sin(x)/y", "y/x"]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted"), LIMITS)
def test_one_value_for_all_paths(text, wanted):
    answer = gelvo.limit(text, ["x", "y"], [0, 0])
    assert (str(answer.expression), answer.verdict) == (wanted, "proved")
    far = {"inf": lambda v: v > 1000, "-inf": lambda v: v < -1000}.get(wanted, lambda v: abs(v - value(read(wanted), {})) < 1e-3)
    rng, seen = Random(1), 0
    for _ in range(40):  # on many paths, of numbers that share no code with the library
        r, p, q = mp.mpf(10) ** -6, rng.choice([1, 1, 2, 3]), rng.choice([1, 1, 2])
        try:
            v = value(read(text), {"x": mp.mpf(rng.randint(-9, 9)) * r**p, "y": mp.mpf(rng.randint(-9, 9)) * r**q})
        except NoValue:
            continue
        seen += 1
        assert far(v), text
    assert seen > 10


@pytest.mark.parametrize("text", APART)
def test_paths_that_disagree_are_told(text):
    answer = gelvo.limit(text, ["x", "y"], [0, 0])
    assert (str(answer.expression), answer.verdict) == ("undefined", "proved")
    assert answer.road.count(" on x = ") == 2
    assert len(answer.certificate().evidence) == 2


def test_three_variables_letters_and_other_places():
    assert gelvo.limit("x*y*z/(x^2 + y^2 + z^2)", ["x", "y", "z"], [0, 0, 0]).verdict == "proved"
    assert str(gelvo.limit("(x*y + y*z)/(x^2 + y^2 + z^2)", ["x", "y", "z"], [0, 0, 0]).expression) == "undefined"
    lettered = gelvo.limit("a*x*y/(x^2 + y^2)", ["x", "y"], [0, 0])
    assert str(lettered) == "undefined   # if a != 0"
    assert str(gelvo.limit("x*y/(x^2 + b*y^2)", ["x", "y"], [0, 0], given=["b > 0"]).expression) == "undefined"
    assert str(gelvo.limit("x*y^2/(x^2 + b*y^2)", ["x", "y"], [0, 0], given=["b > 0"])) == "0"
    assert str(gelvo.limit("(x - 1)^2*ln(x)/((x - 1)^2 + y^2)", ["x", "y"], [1, 0])) == "0"
    assert str(gelvo.limit("x*y", ["x", "y"], ["a", 2])) == "2*a"


EXPANDED = [("exp(x)*cos(y)", (0, 0), 4), ("ln(1 + x + y^2)", (0, 0), 4), ("1/(1 - x - y)", (0, 0), 3), ("x^y", (1, 1), 3), ("sin(x + 2*y)/(1 + x)", (0, 0), 4), ("sqrt(x + y)", (1, 3), 3), ("atan(y/x)", (1, 0), 3), ("besselj(0, x*y)", (0, 1), 3)]  # fmt: skip


@pytest.mark.parametrize(("text", "about", "through"), EXPANDED)
def test_expansions_in_two_variables(text, about, through):
    answer = gelvo.series(text, ["x", "y"], about, through)
    assert answer.verdict == "proved"
    polynomial = read(str(answer.expression))
    for sx, sy in product((1, -2), (1, 3)):
        gaps = []
        for h in ("1e-6", "1e-8"):
            at = {"x": about[0] + sx * mp.mpf(h), "y": about[1] + sy * mp.mpf(h)}
            gaps.append(abs(value(read(text), at) - value(polynomial, at)))
        assert gaps[0] < mp.mpf(10) ** -80 or gaps[1] < gaps[0] / 100 ** (through + mp.mpf("0.9"))


def test_what_is_kept_of_an_expansion():
    answer = gelvo.series("exp(x*y)", ["x", "y"], [0, 0], through=[2, 2])
    assert str(answer) == "1 + x*y + x^2*y^2/2   # + higher powers"
    assert (str(answer.coefficient([2, 2])), str(answer.coefficient([1, 0]))) == ("1/2", "0")
    assert str(gelvo.series("x^y", ["x", "y"], [1, 1], through=2)) == "1 + (x - 1) + (x - 1)*(y - 1)   # + terms of total power 3 and more"  # fmt: skip
    assert str(gelvo.series("x^2 + a*y", ["x", "y"], [0, 0], through=3)) == "a*y + x^2"
    assert str(gelvo.series("x/(a + y)", ["x", "y"], [0, 0], 2)).endswith("if a != 0")


BAD = [
    (lambda: gelvo.limit("x*y", ["x", "y"], 0), "list of 2 values"), (lambda: gelvo.limit("x*y", ["x", "y"], [0, 0], "above"), "no side"),
    (lambda: gelvo.limit("x*y", ["x", "x"], [0, 0]), "different names"), (lambda: gelvo.limit("x*y", ["x", "y"], [0, "inf"]), "u go to zero"),
    (lambda: gelvo.limit("x*y", ["x", "y"], ["y", 0]), "contains a variable"), (lambda: gelvo.series("sqrt(x^2 + y^2)", ["x", "y"], [0, 0]), "no expansion"),
    (lambda: gelvo.series("x*y", ["x", "y"], [0, 0], "a"), "natural number"), (lambda: gelvo.series("x*y", ["x", "y"], [0, 0]).coefficient(1), "a power for each"),
    (lambda: gelvo.series("x^2*y/(x^4 + y^2)", ["x", "y"], [0, 0]), "no expansion"),
]  # fmt: skip


@pytest.mark.parametrize(("work", "told"), BAD)
def test_what_is_asked_wrongly_is_told(work, told):
    with pytest.raises((gelvo.DomainError, gelvo.NoClosedForm), match=told):
        work()
