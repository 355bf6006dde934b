"""Equations over the complex numbers: every place that an independent search comes to is a member of a family, and each member is a root."""

from __future__ import annotations

from random import Random

import mpmath
import pytest

import gelvo

FUNCTIONS = ("exp", "sin", "cos", "tan", "cot", "sinh", "cosh", "tanh", "coth")
VALUES = ("2", "-1/2", "3j", "1 + 2j", "-2 - 1j/3")


def members(solutions, n):
    """The places of all families at one whole number, as complex numbers."""
    places = [place for solution in solutions for place in solution.values()]
    return [complex(gelvo.value(gelvo.substitute(place, {"n_1": n}), 20)) for place in places]


def newton(f, wanted, place):
    """A root of f(z) = wanted near a place, by Newton's method with a difference quotient; None where it runs away."""
    for _ in range(60):
        gap = f(place) - wanted
        if abs(gap) < 1e-11:
            return place
        slope = (f(place + 1e-7) - f(place - 1e-7)) / 2e-7
        if not slope or not abs(gap / slope) < 20:
            return None
        place -= gap / slope
        if abs(place) > 12:
            return None
    return None


@pytest.mark.parametrize("value", VALUES)
@pytest.mark.parametrize("function", FUNCTIONS)
def test_all_roots_of_a_value(function, value):
    solutions = gelvo.solve(f"{function}(z) = {value}", "z", over="complex")
    assert solutions.complete
    wanted, f = complex(gelvo.value(value)), getattr(mpmath, function)
    family = [place for n in range(-6, 7) for place in members(solutions, n)]
    assert all(abs(f(place) - wanted) < 1e-9 * (1 + abs(wanted)) for place in family)
    random, met = Random(7), 0
    for k in range(120):
        wide, narrow = random.uniform(-4, 4), random.uniform(-1, 1)  # far from the axis a tangent is flat
        start = mpmath.mpc(wide, narrow) if k % 2 else mpmath.mpc(narrow, wide)
        root = newton(f, wanted, start)
        if root is not None:
            assert min(abs(root - place) for place in family) < 1e-8, (root, start)
            met += 1
    assert met >= 3


@pytest.mark.parametrize(
    ("equation", "said"),
    [
        ("exp(z) = 0", "no solution"),
        ("tan(z) = 1j", "no solution"),
        ("tanh(z) = 1", "no solution"),
        ("exp(z) = a", "z = ln(a) + 2j*pi*n_1 if a != 0"),
        ("coth(z) = 3", "z = ln(2)/2 + 1j*pi*n_1"),
    ],
)
def test_values_that_are_not_taken_are_told(equation, said):
    assert str(gelvo.solve(equation, "z", over="complex")) == said
