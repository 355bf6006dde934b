"""y' + r*y = g over one or two logarithms and exponentials: planted solutions are never denied, known obstacles are seen."""

from __future__ import annotations

from random import Random

import pytest

import gelvo
from gelvo.checking.elementary import _over_x
from gelvo.checking.tower_equation import has_no_solution

X = gelvo.variable("x")
TOWERS = [
    ["exp(x)"],
    ["ln(x)"],
    ["exp(x^2)"],
    ["exp(1j*x)"],
    ["exp(x)", "exp(exp(x))"],
    ["ln(x)", "exp(x)"],
    ["exp(x)", "exp(x^2)"],
]


def asked(rate, right, tower, exponential):
    generators = [X, *map(gelvo.formula, tower)]
    return has_no_solution(rate, right, generators, exponential, lambda r, g, kind: _over_x(r, g, X, kind))


def random_function(rng, tower, with_fraction):
    def polynomial():
        terms = []
        for _ in range(rng.randint(1, 2)):
            powers = [(g, rng.choice((0, 0, 1, 2) if g in ("x", "ln(x)") else (0, 0, 1, -1, 2))) for g in ("x", *tower)]
            terms.append("*".join([str(rng.choice((1, 2, -1, 3))), *(f"({g})^({k})" for g, k in powers)]))
        return "(" + " + ".join(terms) + ")"

    return gelvo.formula(f"{polynomial()}/(1 + {polynomial()})" if with_fraction else polynomial())


@pytest.mark.parametrize("seed", range(42))
def test_a_planted_solution_is_never_denied(seed):
    rng = Random(seed)
    tower = TOWERS[seed % len(TOWERS)]
    y, rate = random_function(rng, tower, seed % 3 == 0), random_function(rng, tower, False)
    slope = gelvo.differentiate(y, "x")
    assert asked(rate, slope + rate * y, tower, True) is not True
    assert asked(rate, slope + 3 * rate, tower, False) is not True


@pytest.mark.parametrize(
    ("rate", "right", "tower", "exponential"),
    [
        ("cos(x)", "1", ["exp(1j*x)"], True),
        ("1 + ln(x)", "1", ["ln(x)"], True),
        ("exp(x)", "x", ["exp(x)"], True),
        ("1 + exp(x)", "1/x", ["exp(x)"], True),
        ("-4j*exp(2j*x)/(1 + exp(2j*x))^2", "1", ["exp(1j*x)"], True),
        ("-1j", "exp(-x^2)", ["exp(x^2)"], True),
        ("1/x", "exp(x^2)", ["exp(x^2)"], False),
        ("1/x", "exp(x)/x", ["exp(x)"], False),
        ("1/x", "1/(1 + exp(x))", ["exp(x)"], False),
        ("exp(x)/(1 + exp(x))", "exp(x^2)", ["exp(x)", "exp(x^2)"], False),
    ],
)
def test_known_obstacles_are_seen(rate, right, tower, exponential):
    assert asked(gelvo.formula(rate), gelvo.formula(right), tower, exponential) is True
