"""Partial differential equations by separation: equations, ends, and initial data held against numbers that share nothing with them."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.linalg import expm
from scipy.special import j0, j1, jn_zeros

import gelvo

NUMBERS = {"a": 0.5, "L": 2.0, "T": 3.0, "c": 1.5, "v": 0.8, "q": 0.7, "T_1": 1.0, "T_2": 4.0, "b": 1.2, "R": 2.0, "V": 5.0}
ENDS = ["u(0, t) = 0", "u(L, t) = 0", "L > 0"]


def at(solved, x, t, terms=40):
    names = [str(a) for a in solved._work.asked.arguments]
    table = NUMBERS | dict(zip(names, (x, t), strict=True))
    return float(gelvo.value(gelvo.substitute(solved.partial(terms), {n: str(v) for n, v in table.items()}), 12))


def second_differences(n, step, free=False):
    d = (np.diag(-2 * np.ones(n)) + np.diag(np.ones(n - 1), 1) + np.diag(np.ones(n - 1), -1)) / step**2
    if free:
        d[0, 1] *= 2
        d[-1, -2] *= 2
    return d


def heat(start, source=0.0, low=0.0, high=0.0, time=0.6, n=199):
    """Lines in space, the exponential of a matrix in time."""
    x = np.linspace(0, NUMBERS["L"], n + 2)
    d = NUMBERS["a"] * second_differences(n, x[1])
    f = np.full(n, source)
    f[0] += NUMBERS["a"] * low / x[1] ** 2
    f[-1] += NUMBERS["a"] * high / x[1] ** 2
    rest = np.linalg.solve(d, -f)
    return x[1:-1], rest + expm(d * time) @ (start(x[1:-1]) - rest)


HEAT = [
    (["u(x, 0) = T", *ENDS], "u_t = a*u_xx", lambda x: np.full_like(x, 3.0), {}),
    (["u(x, 0) = x*(L - x)", *ENDS], "u_t = a*u_xx", lambda x: x * (2 - x), {}),
    (["u(x, 0) = 0", "u(0, t) = T_1", "u(L, t) = T_2", "L > 0"], "u_t = a*u_xx", lambda x: 0 * x, {"low": 1.0, "high": 4.0}),
    (["u(x, 0) = 0", *ENDS], "u_t = a*u_xx + q", lambda x: 0 * x, {"source": 0.7}),
]


@pytest.mark.parametrize(("given", "equation", "start", "options"), HEAT, ids=[h[1] + h[0][0] for h in HEAT])
def test_a_rod_agrees_with_lines_in_space(given, equation, start, options):
    solved = gelvo.separate_variables(equation, "u(x, t)", given=[*given, "a > 0"])
    assert solved.verdict == "proved"
    x, wanted = heat(start, **options)
    for k in (20, 77, 150):
        assert at(solved, round(float(x[k]), 9), 0.6) == pytest.approx(wanted[k], abs=2e-3)


def test_a_string_is_two_waves_that_run_apart():
    solved = gelvo.separate_variables(
        "u_tt = c^2*u_xx", "u(x, t)", given=[*ENDS, "u(x, 0) = x*(L - x)", "u_t(x, 0) = 0", "c > 0"]
    )
    assert solved.verdict == "proved"

    def periodic(x):
        x = (x + 2) % 4 - 2
        return x * (2 - abs(x))

    for x, t in ((0.3, 0.4), (1.1, 2.0), (1.7, 0.9)):
        assert at(solved, x, t, 80) == pytest.approx((periodic(x - 1.5 * t) + periodic(x + 1.5 * t)) / 2, abs=1e-3)


def test_a_drum_and_a_ball_cool_down():
    disc = gelvo.separate_variables("u_t = a*(u_rr + u_r/r)", "u(r, t)", given=["u(R, t) = 0", "u(r, 0) = T", "a > 0", "R > 0"])
    assert disc.solution is None and disc.verdict == "proved" and "besselj(0, z) = 0" in str(disc)
    zeros = jn_zeros(0, 30)
    wanted = sum(2 * 3 * math.exp(-0.5 * z**2 * 0.3 / 4) * j0(z * 0.7 / 2) / (z * j1(z)) for z in zeros)
    assert at(disc, 0.7, 0.3, 8) == pytest.approx(wanted, abs=1e-8)
    ball = gelvo.separate_variables("u_t = a*(u_rr + 2*u_r/r)", "u(r, t)", given=["u(R, t) = 0", "u(r, 0) = T", "a > 0", "R > 0"])
    wanted = sum(
        2
        * 3
        * 2
        * (-1) ** (n + 1)
        * math.exp(-0.5 * (n * math.pi / 2) ** 2 * 0.3)
        * math.sin(n * math.pi * 0.35)
        / (n * math.pi * 0.7)
        for n in range(1, 40)
    )
    assert ball.verdict == "proved" and at(ball, 0.7, 0.3) == pytest.approx(wanted, abs=1e-9)


def test_potentials_take_the_values_at_the_sides():
    box = gelvo.separate_variables(
        "u_xx + u_yy = 0", "u(x, y)", given=["u(0, y) = 0", "u(L, y) = 0", "u(x, 0) = 0", "u(x, b) = V", "L > 0", "b > 0"]
    )
    assert box.verdict == "proved" and at(box, 1.0, 1.2, 120) == pytest.approx(5.0, abs=0.05)
    n, m = 59, 35
    laplace = np.kron(np.eye(m), second_differences(n, 2 / (n + 1))) + np.kron(second_differences(m, 1.2 / (m + 1)), np.eye(n))
    right = np.zeros(n * m)
    right[-n:] = -5 / (1.2 / (m + 1)) ** 2
    inside = np.linalg.solve(laplace, right).reshape(m, n)
    assert at(box, 1.0, 1.2 * 18 / 36) == pytest.approx(inside[17, 29], abs=2e-2)
    disc = gelvo.separate_variables(
        "u_rr + u_r/r + u_pp/r^2 = 0", "u(r, p)",
        given=["u(r, 0) = u(r, 2*pi)", "u_p(r, 0) = u_p(r, 2*pi)", "u(R, p) = p*(2*pi - p)", "R > 0"],
    )  # fmt: skip
    angles = np.linspace(0, 2 * np.pi, 20001)
    kernel = (4 - 1) / (4 - 4 * np.cos(1.3 - angles) + 1)  # Poisson's formula at r = 1, R = 2
    wanted = np.trapezoid(kernel * angles * (2 * np.pi - angles), angles) / (2 * np.pi)
    assert disc.verdict == "proved" and at(disc, 1.0, 1.3) == pytest.approx(wanted, abs=1e-5)


BALL = "u_rr + 2*u_r/r + (u_tt + cos(t)*u_t/sin(t))/r^2 = 0"


def poisson(data, r, t, radius):
    """The potential inside a sphere from its values there, by Poisson's integral over a grid of the sphere."""
    nodes, weights = np.polynomial.legendre.leggauss(80)
    around = np.linspace(0, 2 * math.pi, 160, endpoint=False)
    cosine, angle = np.meshgrid(nodes, around, indexing="ij")
    between = math.cos(t) * cosine + math.sin(t) * np.sqrt(1 - cosine**2) * np.cos(angle)
    kernel = radius * (radius**2 - r**2) / (radius**2 + r**2 - 2 * radius * r * between) ** 1.5
    return float((weights[:, None] * kernel * data(np.arccos(cosine))).sum() * 2 * math.pi / 160 / (4 * math.pi))


@pytest.mark.parametrize(
    ("values", "data"),
    [
        ("V*cos(t)", lambda t: 5 * np.cos(t)),
        ("V*cos(t)^2 + q", lambda t: 5 * np.cos(t) ** 2 + 0.7),
        ("cos(3*t) - sin(t)*sin(2*t)", lambda t: np.cos(3 * t) - np.sin(t) * np.sin(2 * t)),
    ],
)
def test_a_ball_takes_the_values_over_its_polar_angle(values, data):
    solved = gelvo.separate_variables(BALL, "u(r, t)", given=[f"u(R, t) = {values}", "R > 0"])
    assert solved.verdict == "proved"
    for r, t in ((0.4, 0.3), (1.1, 1.9)):
        assert at(solved, r, t) == pytest.approx(poisson(data, r, t, 2.0), abs=1e-9)


def test_between_two_spheres_and_what_is_no_polynomial():
    shell = gelvo.separate_variables(BALL, "u(r, t)", given=["u(a, t) = V*cos(t)", "u(b, t) = 0", "a > 0", "b > a"])
    assert str(shell.solution) == "V*a^2*(b^3/r^2 - r)*cos(t)/(b^3 - a^3)" and shell.verdict == "proved"
    with pytest.raises(gelvo.NotSolved, match="no polynomial of cos"):
        gelvo.separate_variables(BALL, "u(r, t)", given=["u(R, t) = t", "R > 0"])


def test_numbers_without_a_form_and_the_figure():
    solved = gelvo.separate_variables("u_t = u_xx", "u(x, t)", given=["u(0, t) = 0", "u(1, t) + u_x(1, t) = 0", "u(x, 0) = 1"])
    assert solved.verdict == "proved" and "over all z > 0" in str(solved)
    rod = gelvo.separate_variables("u_t = a*u_xx", "u(x, t)", given=["u(x, 0) = T", *ENDS, "a > 0"])
    figure = rod.plot([0, "1/10", 1], values={"a": 1, "L": 2, "T": 20})
    curves = figure.axes[0].get_lines()
    assert len(curves) == 3 and max(curves[2].get_ydata()) < max(curves[1].get_ydata()) < 25


MODES_IN_THE_DATA = [
    ("sin(pi*x)", "exp(-pi^2*t)*sin(pi*x)"),
    ("3*sin(2*pi*x) - sin(5*pi*x)", "3*exp(-4*pi^2*t)*sin(2*pi*x) - exp(-25*pi^2*t)*sin(5*pi*x)"),
    ("x + sin(2*pi*x)", None),
]


@pytest.mark.parametrize(("data", "wanted"), MODES_IN_THE_DATA, ids=[m[0] for m in MODES_IN_THE_DATA])
def test_data_that_are_modes_themselves_are_not_lost(data, wanted):
    solved = gelvo.separate_variables("u_t = u_xx", "u(x, t)", given=["u(0, t) = 0", "u(1, t) = 0", f"u(x, 0) = {data}"])
    assert solved.verdict == "proved"
    if wanted is not None:
        assert gelvo.equal(solved.solution, wanted)
    else:
        plain = gelvo.separate_variables("u_t = u_xx", "u(x, t)", given=["u(0, t) = 0", "u(1, t) = 0", "u(x, 0) = x"])
        assert gelvo.equal(solved.partial(6) - plain.partial(6), "exp(-4*pi^2*t)*sin(2*pi*x)")


REFUSED = [
    ("u_t = u_xx", ["u(0, t) = 0", "u(1, t) = 0", "u(x, 0) = sin(k*x)"], "hold only if"),
    ("u_t = u_xx + u^2", ["u(0, t) = 0", "u(1, t) = 0", "u(x, 0) = 1"], "not linear"),
    ("u_t = u_xt", ["u(0, t) = 0", "u(1, t) = 0", "u(x, 0) = 1"], "mixed derivative"),
    ("u_t = u_xx*(x + t)", ["u(0, t) = 0", "u(1, t) = 0", "u(x, 0) = 1"], "do not separate"),
    ("u_t = u_xx", ["u(0, t) = t", "u(1, t) = 0", "u(x, 0) = 1"], "change in time"),
    ("u_t = u_xx", ["u(0, t) = 0", "u(1, t) = 0"], "are missing"),
]


@pytest.mark.parametrize(("equation", "given", "message"), REFUSED, ids=[r[2] for r in REFUSED])
def test_what_does_not_separate_is_said(equation, given, message):
    with pytest.raises(gelvo.NotSolved, match=message):
        gelvo.separate_variables(equation, "u(x, t)", given=given)
    with pytest.raises(gelvo.DomainError, match="two variables"):
        gelvo.separate_variables("u' = u", "u(x)")
