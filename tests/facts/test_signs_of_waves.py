"""Signs of sums with waves and their squares, and of sums with imaginary coefficients: what follows, and what stays open."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.facts.store import Facts

# (statement, facts): it follows
FOLLOWS = [
    ("5 - 4*cos(x) > 0", ""),
    ("2 + sin(x) + cos(y)/2 > 0", ""),
    ("1 - 2*a*cos(x) + a^2 > 0", "a > 0; a < 1"),
    ("1 - 2*a*cos(x) + a^2 >= 0", "a > 0"),
    ("x^2 - 2*a*x*cos(t) + a^2 > 0", "a > 0; x > 0; t > 0; t < pi"),
    ("x^2 + 2*x*cos(t) + 1 > 0", "x > 0; t > 0; t < pi"),
    ("1 + cos(t) > 0", "t > 0; t < pi"),
    ("1 - cos(t) > 0", "t > 0; t < pi"),
    ("cos(t) - 1 < 0", "t > 0; t < pi"),
    ("1 + sin(t) > 0", "-pi/2 < t; t < pi/2"),
    ("a^2*cos(x)^2 + b^2*sin(x)^2 > 0", "a > 0; b > 0"),
    ("a^2*cos(x)^2 + b^2*sin(x)^2 >= 0", ""),
    ("-a^2*cos(x)^2 - b^2*sin(x)^2 < 0", "a > 0; b > 0"),
    ("a*cos(x)^2 + b*sin(x)^2 > 0", "a > 0; b > 0"),
    ("a*cos(x)^2 + b*sin(x)^2 + c > 0", "a > 0; b > 0; c > 0"),
    ("1 - k^2*sin(x)^2 > 0", "k > 0; k < 1"),
    ("1 - sin(t/2)^2*sin(x)^2 > 0", "t > 0; t < pi"),
    ("1 - sin(t)^2*cos(x)^2 > 0", "t > 0; t < pi/2"),
    ("3 - cos(x)^2 - sin(x) > 0", ""),
    ("a + 1j*b != 0", "a > 0"),
    ("a + 1j*b != 0", "b < 0"),
    ("-1/a - 1j*b != 0", "a > 0"),
    ("a^2 + 1 + 1j*b*c != 0", ""),
    ("a - 1j*(1 + b^2) != 0", ""),
    ("2 + 1j*a*b - c*1j != 0", ""),
]
# (statement, facts): it must stay open
OPEN = [
    ("1 - 2*a*cos(x) + a^2 > 0", "a > 0"),
    ("x^2 - 2*a*x*cos(t) + a^2 > 0", "a > 0; x > 0"),
    ("1 + cos(t) > 0", "t > 0"),
    ("1 + cos(t) > 0", "t >= 0; t <= pi"),
    ("a^2*cos(x)^2 + b^2*sin(x)^2 > 0", "a > 0"),
    ("a*cos(x)^2 + b*sin(x)^2 > 0", "a > 0"),
    ("a*cos(x)^2 + b*sin(y)^2 > 0", "a > 0; b > 0"),
    ("1 - sin(t)^2*sin(x)^2 > 0", "t > 0; t < pi"),
    ("1 - k^2*sin(x)^2 > 0", "k > 0"),
    ("a*sin(x)^2 + a > 0", ""),
    ("a + 1j*b != 0", ""),
    ("a + 1j*b != 0", "a >= 0"),
    ("a + 1j*b*c != 0", "b > 0"),
    ("a*1j - b*1j != 0", "a > 0; b > 0"),
]


def _facts(given: str) -> tuple[Facts, list[gelvo.Expression]]:
    names = [gelvo.variable(n) for n in "abcktxy"]
    return Facts([gelvo.formula(g, names_from=names) for g in given.split(";") if g]), names


@pytest.mark.parametrize(("statement", "given"), FOLLOWS, ids=[f"{s} | {g}" for s, g in FOLLOWS])
def test_signs_that_follow(statement, given):
    facts, names = _facts(given)
    assert facts.holds(gelvo.formula(statement, names_from=names)) is True


@pytest.mark.parametrize(("statement", "given"), OPEN, ids=[f"{s} | {g}" for s, g in OPEN])
def test_signs_that_stay_open(statement, given):
    facts, names = _facts(given)
    assert facts.holds(gelvo.formula(statement, names_from=names)) is None
