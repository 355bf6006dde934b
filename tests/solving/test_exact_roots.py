"""Polynomial equations of any degree and polynomial systems: all solutions, exactly."""

from __future__ import annotations

import pytest

import gelvo

REAL = [
    ("x^3 - 3*x + 1 = 0", ["-2*cos(pi/9)", "2*cos(4*pi/9)", "2*cos(2*pi/9)"]),
    ("x^3 = 2", ["2^(1/3)"]),
    ("x^5 - x - 1 = 0", ["polynomial_root(x^5 - x - 1, 1)"]),
    ("x^4 + x + 1 = 0", []),
    ("x^4 - 10*x^2 + 1 = 0", ["-sqrt(2) - sqrt(3)", "sqrt(2) - sqrt(3)", "sqrt(3) - sqrt(2)", "sqrt(2) + sqrt(3)"]),
    ("(x^3 - x - 1)*(x - 4) = 0", ["4", "polynomial_root(x^3 - x - 1, 1)"]),
    ("x^6 - 2*x^3 - 2 = 0", ["(1 - sqrt(3))/abs(1 - sqrt(3))^(2/3)", "(1 + sqrt(3))^(1/3)"]),
]


@pytest.mark.parametrize(("equation", "wanted"), REAL, ids=[e for e, _ in REAL])
def test_real_roots(equation, wanted):
    found = gelvo.solve(equation, "x")
    values = sorted(float(s[gelvo.variable("x")]) for s in found)
    assert values == pytest.approx(sorted(float(gelvo.formula(w)) for w in wanted), rel=1e-12)
    assert found.complete
    assert not wanted or found.verdict == "proved"


@pytest.mark.parametrize(
    ("equation", "count"), [("x^3 = 1", 3), ("x^5 - x - 1 = 0", 5), ("x^4 + 1 = 0", 4), ("x^3 - 3*x + 1 = 0", 3)]
)
def test_complex_roots_are_all_there(equation, count):
    found = gelvo.solve(equation, "x", over="complex")
    assert len(found) == count
    e = gelvo.formula(equation)
    for solution in found:
        gap = gelvo.substitute(e.left - e.right, solution)
        assert abs(complex(gelvo.value(gap + 1, 20)) - 1) < 1e-14


def test_further_complex_roots_are_counted():
    assert gelvo.solve("x^5 - x - 1 = 0", "x").further == 4


SYSTEMS = [
    (["x^2 + y^2 = 5", "x*y = 2"], 4),
    (["x^2 + y^2 = 1", "x^2 + y^2 = 2"], 0),
    (["x^2 = 2", "y^2 = 3"], 4),
    (["x^3 = y", "y^3 = x"], 3),
    (["x + y + z = 3", "x*y + y*z + z*x = 3", "x*y*z = 1"], 1),
    (["x^2 - y = 1", "y^2 - x = 1"], 4),
    (["x*y = 1", "x^2 + y^2 = 4"], 4),
    (["x^2 + y = 3", "x + y^2 = 5"], 4),
    (["x^3 + y^3 = 9", "x + y = 3"], 2),
    (["(x - 1)^2 + y^2 = 1", "(x + 1)^2 + y^2 = 1"], 1),
]


@pytest.mark.parametrize(("system", "count"), SYSTEMS, ids=[" and ".join(s) for s, _ in SYSTEMS])
def test_polynomial_systems(system, count):
    unknowns = [n for n in ("x", "y", "z") if any(n in e for e in system)]
    found = gelvo.solve(system, unknowns)
    assert len(found) == count
    for solution in found:
        for text in system:
            e = gelvo.formula(text)
            gap = gelvo.substitute(e.left - e.right, solution)
            assert gap == 0 or gelvo.equal(gap, 0)


def test_faults_of_the_text_are_excluded():
    found = gelvo.solve(["x^2/y = y", "x*y - y^2 + y = 0"], ["x", "y"])
    for solution in found:
        assert solution[gelvo.variable("y")] != 0


def test_systems_with_letters_still_work():
    found = gelvo.solve(["x + y = s", "x - y = d"], ["x", "y"])
    assert found[0][gelvo.variable("x")] == gelvo.formula("(s + d)/2")
