"""Motions followed by numbers: read between the tabulated times, with events, watched quantities, an error, stiff ones too."""

from __future__ import annotations

import numpy as np
import pytest
from mpmath import ellipfun, ellipk, mp
from scipy.integrate import solve_ivp

import gelvo

SWING = ("theta'' + w^2*sin(theta) = 0", "theta(t)")


@pytest.fixture(scope="module")
def swing():
    return gelvo.solve_numerically(
        *SWING, span=(0, 10), values={"w": 2}, given=["theta(0) = 3", "theta'(0) = 0"], events={"bottom": "theta"},
        watch={"energy": "theta'^2/2 - 4*cos(theta)"},
    )  # fmt: skip


def test_the_swing_agrees_with_the_elliptic_sine(swing):
    k = mp.sin(mp.mpf(3) / 2)
    for time in (0.3, 1.7, 5.21, 9.99):
        exact = 2 * mp.asin(k * ellipfun("sn", ellipk(k**2) - 2 * mp.mpf(time), m=k**2))
        assert abs(swing.at(time)["theta"] - exact) < 2 * max(swing.error["theta"], 1e-9)
    assert swing.error["theta"] < 1e-5 and swing.drift["energy"] < 1e-6
    assert swing.events["bottom"] == pytest.approx([float(ellipk(k**2)) / 2, float(ellipk(k**2)) * 1.5], abs=1e-5)


def test_a_course_is_told_and_drawn(swing):
    told = str(swing)
    assert (
        "theta_dot" in told
        and "error at most" in told
        and "energy leaves its first value" in told
        and "bottom is zero at 2.0194" in told
    )
    assert len(swing.table(5).splitlines()) == 6
    figure = swing.plot(["theta"], title="a swing", units={"theta": "deg"})
    (line,) = figure.axes[0].get_lines()
    assert line.get_ydata()[0] == pytest.approx(np.degrees(3))
    with pytest.raises(gelvo.DomainError, match="outside of 0 to 10"):
        swing.at(11)
    with pytest.raises(gelvo.DomainError, match="is not among theta, theta_dot"):
        swing["phi"]
    with pytest.raises(gelvo.DomainError, match="2 to 60 rows"):
        swing.table(1)


def test_a_stiff_motion_takes_the_method_with_the_jacobian():
    relax = gelvo.solve_numerically(
        "y'' - m*(1 - y^2)*y' + y = 0", "y", span=(0, 300), values={"m": 200}, given=["y(0) = 2", "y'(0) = 0"], stiff=True
    )
    reference = solve_ivp(
        lambda t, y: [y[1], 200 * (1 - y[0] ** 2) * y[1] - y[0]],
        (0, 300),
        [2, 0],
        method="LSODA",
        rtol=1e-11,
        atol=1e-13,
        t_eval=[300],
    )
    assert "Radau" in relax.method and relax["y"][-1] == pytest.approx(reference.y[0, -1], abs=1e-5)


REFUSED = [
    (("y' = y^2", "y(t)"), {"span": (0, 2), "given": ["y(0) = 1"]}, gelvo.NotSolved, "beyond t = 1"),
    (("y'' = y", "y(t)"), {"span": (0, 2), "given": ["y(0) = 1"]}, gelvo.DomainError, r"initial value is missing: y'\(0\)"),
    (("y' = y", "y(t)"), {"span": (1, 1), "given": ["y(1) = 1"]}, gelvo.DomainError, "range from 1 to 1 is empty"),
    (("y' = y", "y(t)"), {"span": (1,), "given": ["y(1) = 1"]}, gelvo.DomainError, r"\(from, to\)"),
    (("y' = a*y", "y(t)"), {"span": (0, 1), "given": ["y(0) = 1"]}, gelvo.ExportError, "lacks a"),
]


@pytest.mark.parametrize(("asked", "options", "error", "message"), REFUSED, ids=[c[3] for c in REFUSED])
def test_what_cannot_be_followed_is_said(asked, options, error, message):
    with pytest.raises(error, match=message):
        gelvo.solve_numerically(*asked, **options)
