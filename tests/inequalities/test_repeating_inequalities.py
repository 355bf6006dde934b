"""Inequalities that repeat: the intervals of one period, moved by every multiple of it."""

import math

import pytest

import gelvo

TOLD = [
    ("sin(x) > 0", "", "2*pi*n < x and x < pi + 2*pi*n", "2*pi"),
    ("cos(x) >= 1/2", "", "2*pi*n - pi/3 <= x and x <= pi/3 + 2*pi*n", "2*pi"),
    ("sin(x) >= 1", "", "x = pi/2 + 2*pi*n", "2*pi"),
    ("tan(x) > 1", "", "pi/4 + pi*n < x and x < pi/2 + pi*n", "pi"),
    ("1/sin(x) > 2", "", "(2*pi*n < x and x < pi/6 + 2*pi*n) or (5*pi/6 + 2*pi*n < x and x < pi + 2*pi*n)", "2*pi"),
    ("sin(x/3) > 1/2", "", "pi/2 + 6*pi*n < x and x < 5*pi/2 + 6*pi*n", "6*pi"),
    ("A*sin(w*x + 1) > 0", "A > 0; w > 0", "2*pi*n/w - 1/w < x and x < 2*pi*n/w + (pi - 1)/w", "2*pi/w"),
    ("cos(w*x) <= a", "0 < a; a < 1; w > 0", "2*pi*n/w + acos(a)/w <= x and x <= 2*pi*n/w + (2*pi - acos(a))/w", "2*pi/w"),
    ("sin(x) > 1/2", "x >= 0", "x >= 0 and pi/6 + 2*pi*n < x and x < 5*pi/6 + 2*pi*n", "2*pi"),
    ("sin(x) < 2", "", "every value solves", None),
    ("sin(x)^2 > 1", "", "no solution", None),
    ("sin(x) < 2", "x > 1", "x > 1", None),
]


@pytest.mark.parametrize(("text", "given", "told", "period"), TOLD, ids=[f"{r[0]} {r[1]}" for r in TOLD])
def test_the_intervals_of_one_period(text, given, told, period):
    found = gelvo.solve(text, "x", given=given.split("; ") if given else [])
    assert str(found) == told and found.verdict in ("proved", "supported")
    assert (str(found.period) if found.period is not None else None) == period


AGAINST_NUMBERS = {
    "sin(2*x) > cos(x)": lambda x: math.sin(2 * x) > math.cos(x),
    "tan(2*x)^2 >= 3": lambda x: math.tan(2 * x) ** 2 >= 3,
    "abs(sin(x)) > 1/2": lambda x: abs(math.sin(x)) > 0.5,
    "sqrt(sin(x)) < 1/2": lambda x: math.sin(x) >= 0 and math.sqrt(math.sin(x)) < 0.5,
    "sin(x)*cos(x) <= 1/4": lambda x: math.sin(x) * math.cos(x) <= 0.25,
    "cos(3*x) + cos(x) > 1/3": lambda x: math.cos(3 * x) + math.cos(x) > 1 / 3,
}


@pytest.mark.parametrize("text", AGAINST_NUMBERS)
def test_the_pieces_against_numbers(text):
    found = gelvo.solve(text, "x")
    pieces = [(float(p.lower), float(p.upper)) for p in found.intervals]
    period = float(found.period)
    for k in range(60):
        x = -9 + 0.3037 * k
        inside = any(low < x + period * n < high for low, high in pieces for n in range(-6, 7))
        assert inside == AGAINST_NUMBERS[text](x)
        if not k % 20:
            assert found.contains(gelvo.formula(f"{x:.4f}")) == inside


def test_letters_give_cases_and_sets_are_joined():
    table = str(gelvo.solve("sin(x) > a", "x").case_table()).splitlines()
    assert [" | ".join(part.strip() for part in row.split("   ", 1)) for row in table] == [
        "a >= 1 | no solution",
        "a > -1, a < 1 | 2*pi*n + asin(a) < x and x < 2*pi*n - asin(a) + pi",
        "a = -1 | 2*pi*n - pi/2 < x and x < 3*pi/2 + 2*pi*n",
        "a < -1 | every value solves",
    ]


def test_sets_that_repeat_are_joined_and_drawn():
    above = gelvo.solve("sin(x) > 0", "x")
    assert str(~above) == "2*pi*n - pi <= x and x <= 2*pi*n"
    assert str(above & gelvo.solve("x^2 <= 25", "x")) == "(x >= -5 and x < -pi) or (x > 0 and x < pi)"
    assert str(above | gelvo.solve("cos(x) > 0", "x")) == "2*pi*n - pi/2 < x and x < pi + 2*pi*n"
    assert above.number_line(30).endswith("and again after every 2*pi")
    with pytest.raises(gelvo.NotSolved, match="give a range"):
        gelvo.solve("sin(x) > cos(pi*x)", "x")
