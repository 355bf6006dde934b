"""Forcing that repeats in sections for all time: proved within any one period and across its joint, and held against a plain integration."""

from __future__ import annotations

import math

import pytest
from scipy.integrate import solve_ivp

import gelvo

# (equation, coefficients from the lowest derivative on, the forcing in plain Python, the state at 0)
DRIVEN = [
    ("x' + x = floor(t)", (1, 1), math.floor, (0,)),
    ("x' + x = t - floor(t)", (1, 1), lambda t: t % 1, (2,)),
    ("x' + 2*x = sign(cos(2*t + pi/3))", (2, 1), lambda t: math.copysign(1, math.cos(2 * t + math.pi / 3)), (1,)),
    ("x' + x = ceil(2*t - 1/2)", (1, 1), lambda t: math.ceil(2 * t - 0.5), (0,)),
    ("x' + x = floor(-t)", (1, 1), lambda t: math.floor(-t), (0,)),
    ("x' + x = floor(t/2) + abs(sin(pi*t))", (1, 1), lambda t: t // 2 + abs(math.sin(math.pi * t)), (0,)),
    ("x'' + x = abs(sin(t))", (1, 0, 1), lambda t: abs(math.sin(t)), (0, 0)),
    ("x'' + 2*x = sign(sin(t))", (2, 0, 1), lambda t: math.copysign(1, math.sin(t)), (1, 0)),
    ("x'' + 4*x' + 4*x = max(cos(t), 0)", (4, 4, 1), lambda t: max(math.cos(t), 0), (0, 0)),
    ("x'' + 2*x' + 5*x = heaviside(sin(pi*t))", (5, 2, 1), lambda t: float(math.sin(math.pi * t) > 0), (0, 1)),
    ("x'' + x = cases(1 when t - floor(t) < 1/4, otherwise 0)", (1, 0, 1), lambda t: float(t % 1 < 0.25), (0, 0)),
    # resonance: the response grows with every period
    ("x'' + x = sign(sin(t))", (1, 0, 1), lambda t: math.copysign(1, math.sin(t)), (0, 0)),
    ("x'' = sign(cos(t))", (0, 0, 1), lambda t: math.copysign(1, math.cos(t)), (0, 0)),
    ("x' = t - floor(t)", (0, 1), lambda t: t % 1, (1,)),
]
PLACES = (0.3, 1.7, 3.3, 5.9, 8.2, 9.6)


@pytest.mark.parametrize(("equation", "coefficients", "forcing", "state"), DRIVEN, ids=[d[0] for d in DRIVEN])
def test_the_motion_is_that_of_a_plain_integration(equation, coefficients, forcing, state):
    given = [f"x{chr(39) * k}(0) = {v}" for k, v in enumerate(state)]
    found = gelvo.solve(equation, "x(t)", given=given)
    assert found.verdict == "proved"
    order = len(state)

    def rates(t, y):
        pushed = forcing(t) - sum(c * v for c, v in zip(coefficients, y, strict=False))
        return [*y[1:order], pushed / coefficients[order]]

    plain = solve_ivp(rates, (0, 10), state, max_step=0.01, rtol=1e-9, atol=1e-10, dense_output=True)
    motion = gelvo.numeric_function(found.single, ["t"])
    assert [motion(t) for t in PLACES] == pytest.approx([plain.sol(t)[0] for t in PLACES], abs=2e-4)


@pytest.mark.parametrize(
    ("equation", "given", "shown"),
    [
        ("x' + x = t - floor(t)", ["x(0) = 0"], None),
        ("R*C*x' + x = V*sign(sin(w*t))", ["R > 0", "C > 0", "w > 0"], "tanh"),
        ("x'' + w^2*x = sign(sin(p*t))", ["w > 0", "p > 0"], "tan(pi*w/(2*p))"),
        ("x'' + x = sign(sin(t))", [], "floor(t/(2*pi))"),
        ("x' + 3*x = abs(cos(w*t))", ["w > 0"], None),
    ],
)
def test_letters_and_general_solutions_are_proved(equation, given, shown):
    found = gelvo.solve(equation, "x(t)", given=given)
    assert found.verdict == "proved" and (shown is None or shown in str(found))
    assert "period" in found.road


@pytest.mark.parametrize("forcing", ["1/abs(sin(t))", "ln(abs(cos(t)))", "abs(tan(t))", "sqrt(abs(sin(t)))"])
def test_forcing_without_bounds_or_slopes_stays_a_written_integral(forcing):
    found = gelvo.solve(f"x' + x = {forcing}", "x(t)")
    assert "integral_of" in str(found) and "floor" not in str(found) and found.verdict != "refuted"


def test_a_value_that_comes_back_leaves_the_periodic_response_alone():
    found = gelvo.solve("y' + y = x - floor(x)", "y(x)", given=["y(0) = y(1)"])
    assert found.verdict == "proved" and not found.constants
    assert gelvo.equal(found.single, gelvo.substitute(found.single, {"x": "x + 1"}))


@pytest.mark.parametrize(
    ("value", "verdict"),
    [
        ("floor(t) - exp(-(t - floor(t))) + exp(1 - t)/(exp(1) - 1) - exp(-(t - floor(t)))/(exp(1) - 1)", "proved"),
        ("floor(t)", "refuted"),  # within a period it is right; at the joints it jumps
        ("floor(t) - exp(-(t - floor(t)))", "refuted"),
    ],
)
def test_a_stated_response_is_looked_at_within_a_period_and_at_the_joint(value, verdict):
    x = gelvo.unknown_function("x", "t")
    assert gelvo.check(gelvo.formula("x' + x = floor(t)", names_from=x), {x: value}).verdict == verdict
