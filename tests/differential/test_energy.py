"""Motions told by their energy: pendulums, cubic and exponential forces, from rest and through a place; each against a plain integration."""

from __future__ import annotations

import math

import pytest
from scipy.integrate import solve_ivp

import gelvo

# (equation, the force in plain Python, value and rate at 0, until when)
MOTIONS = [
    ("x'' = -x^3", lambda x: -(x**3), (1.0, 0.0), 9.0),
    ("x'' + x + x^3 = 0", lambda x: -x - x**3, (1.5, 0.0), 9.0),
    ("x'' + x - x^3 = 0", lambda x: x**3 - x, (0.5, 0.0), 9.0),
    ("x'' - x + x^3 = 0", lambda x: x - x**3, (2.0, 0.0), 9.0),
    ("x'' - x + x^3 = 0", lambda x: x - x**3, (1.25, 0.0), 9.0),
    ("x'' - x + x^3 = 0", lambda x: x - x**3, (0.5, 0.0), 9.0),
    ("x'' = x + x^3", lambda x: x + x**3, (1.0, 0.0), 1.0),
    ("x'' = x^3 - x", lambda x: x**3 - x, (2.0, 0.0), 0.6),
    ("x'' = -2*x^3", lambda x: -2 * x**3, (0.0, 1.0), 9.0),
    ("x'' = 2*x^3 - 2*x", lambda x: 2 * x**3 - 2 * x, (0.0, 0.5), 9.0),
    ("x'' = 2*x^3 - 2*x", lambda x: 2 * x**3 - 2 * x, (0.0, 1.0), 4.0),
    ("x'' = -sin(x)", lambda x: -math.sin(x), (2.0, 0.0), 9.0),
    ("x'' = -4*sin(x)", lambda x: -4 * math.sin(x), (-0.5, 0.0), 9.0),
    ("x'' = cos(x)", math.cos, (0.0, 0.0), 9.0),
    ("x'' = -sin(2*x)", lambda x: -math.sin(2 * x), (0.75, 0.0), 9.0),
    ("x'' = -sin(x)", lambda x: -math.sin(x), (0.0, 3.0), 9.0),
    ("x'' = -sin(x)", lambda x: -math.sin(x), (0.0, 2.0), 5.0),
    ("x'' = -exp(x)", lambda x: -math.exp(x), (0.0, 1.0), 5.0),
    ("x'' = -exp(x)", lambda x: -math.exp(x), (0.0, 0.0), 5.0),
    ("x'' = 1/x^3", lambda x: 1 / x**3, (1.0, 0.0), 5.0),
    ("x'' = -1/x^3", lambda x: -1 / x**3, (1.0, 0.0), 0.9),
    ("x'' = 3*x^2/2", lambda x: 1.5 * x**2, (1.0, 1.0), 1.5),
]


def exactly(v):
    """A start as formula text."""
    return str(int(v)) if v == int(v) else f"{int(v * 4)}/4"


@pytest.mark.parametrize(("equation", "force", "state", "until"), MOTIONS, ids=[f"{m[0]} {m[2]}" for m in MOTIONS])
def test_the_motion_is_that_of_a_plain_integration(equation, force, state, until):
    found = gelvo.solve(equation, "x(t)", given=[f"x(0) = {exactly(state[0])}", f"x'(0) = {exactly(state[1])}"])
    assert found.verdict == "proved" and len(found) == 1
    plain = solve_ivp(lambda _, y: (y[1], force(y[0])), (0, until), state, rtol=1e-11, atol=1e-12, dense_output=True)
    for k in (1, 3, 7, 10):
        place = until * k / 10
        value = gelvo.value(gelvo.substitute(found.single, {"t": f"{round(place * 1000)}/1000"}), 12)
        assert float(value) == pytest.approx(plain.sol(place)[0], rel=1e-7, abs=1e-8)


RELATIONS = [
    ("x'' = -k/x^2", ["k > 0", "R > 0", "x(0) = R", "x'(0) = 0"], {"k": 2.0, "R": 1.5}, lambda x, k: -k["k"] / x**2, "R", 0.7),
    ("x'' = k/x^2", ["k > 0", "R > 0", "x(0) = R", "x'(0) = 0"], {"k": 2.0, "R": 1.5}, lambda x, k: k["k"] / x**2, "R", 2.0),
    ("x'' = 6*x^2", ["x(0) = 1", "x'(0) = 0"], {}, lambda x, k: 6 * x**2, "1", 0.3),
    ("x'' = -1/x", ["x(0) = 1", "x'(0) = 0"], {}, lambda x, k: -1 / x, "1", 0.8),
    ("x'' = sinh(x)", ["x(0) = 1", "x'(0) = 0"], {}, lambda x, k: math.sinh(x), "1", 0.9),
]


@pytest.mark.parametrize(("equation", "given", "numbers", "force", "start", "until"), RELATIONS, ids=[r[0] for r in RELATIONS])
def test_from_rest_a_relation_holds_after_the_start(equation, given, numbers, force, start, until):
    found = gelvo.solve(equation, "x(t)", given=given)
    assert found.verdict == "proved" and not found.complete and "t >= 0" in map(str, found.conditions_of(0))
    ((left, right),) = found[0].items()
    began = numbers.get(start, 1.0)
    plain = solve_ivp(
        lambda _, y: (y[1], force(y[0], numbers)), (0, until), (began, 0.0), rtol=1e-11, atol=1e-12, dense_output=True
    )
    for share in (0.3, 0.6, 0.95):
        there = plain.sol(share * until)[0]
        text = str(left).replace("x(t)", f"({there:.14f})")
        level = gelvo.value(gelvo.substitute(text, {n: str(v) for n, v in numbers.items()}), 8)
        assert str(right) == "t" and float(level) == pytest.approx(share * until, abs=1e-6)


def test_all_motions_of_a_pendulum_in_both_directions():
    found = gelvo.solve("theta'' + w^2*sin(theta) = 0", "theta", given=["w > 0"])
    assert len(found) == 2 and found.verdict == "proved" and [str(c) for c in found.constants] == ["C_1", "C_2"]
    one, other = (next(iter(s.values())) for s in found)
    assert gelvo.equal(one, -other)
    turning = gelvo.substitute(one, {"w": 1, "C_1": 5, "C_2": 0})  # energy enough to go round
    assert float(gelvo.value(gelvo.substitute(turning, {"t": 9}), 10)) > 2 * math.pi


@pytest.mark.parametrize(
    ("equation", "constants"),
    [("y*y'' = 1 + y'^2", 2), ("y'' = exp(y)", 2), ("y'' + exp(y) = 0", 2), ("y*y'' + y'^2 + 1 = 0", 2), ("y'' = 1/y^3", 2)],
)
def test_each_sign_of_the_energy_has_its_formulas(equation, constants):
    found = gelvo.solve(equation, "y(x)")
    assert found.verdict == "proved" and len(found.constants) == constants
    assert all(str(next(iter(s))) == "y(x)" for s in found) and "C_1" in str(found)
