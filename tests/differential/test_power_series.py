"""Power series as solutions: terms, exponents, logarithms; general coefficients against the terms, and all of it against numbers."""

from __future__ import annotations

import pytest
from mpmath import mp

import gelvo

TABLE = [
    ("y'' + y = 0", 0, "(0, 0)", "(1 - x^2/2 + x^4/24, x - x^3/6)", 2),
    ("y'' - x*y = 0", 0, "(0, 0)", "(1 + x^3/6, x + x^4/12)", 2),
    ("x*y'' + y' + x*y = 0", 0, "(0, 0)", "(1 - x^2/4 + x^4/64, x^2/4 - 3*x^4/128 + ln(x)*(1 - x^2/4 + x^4/64))", 1),
    ("2*x*y'' + (1 + x)*y' + y = 0", 0, "(0, 1/2)", "(1 - x + x^2/3 - x^3/15 + x^4/105, sqrt(x)*(1 - x/2 + x^2/8 - x^3/48 + x^4/384))", 2),
    ("x^2*y'' + x*y' + (x^2 - 1/4)*y = 0", 0, "(1/2, -1/2)", "(sqrt(x)*(1 - x^2/6 + x^4/120), (1 - x^2/2 + x^4/24)/sqrt(x))", 1),
    ("x*y'' - y = 0", 0, "(0, 1)", "(1 - x - 5*x^2/4 - 5*x^3/18 - 47*x^4/1728 + (x + x^2/2 + x^3/12 + x^4/144)*ln(x), x + x^2/2 + x^3/12 + x^4/144 + x^5/2880)", 1),
    ("x^2*y'' + (x^2 - 2)*y = 0", 0, "(2, -1)", "(x^2*(1 - x^2/10 + x^4/280), (1 + x^2/2 - x^4/8)/x)", 1),
    ("y''' = x*y", 0, "(0, 0, 0)", "(1 + x^4/24, x, x^2)", 3),
    ("y' = x*y", 0, "(0,)", "(1 + x^2/2 + x^4/8,)", 1),
    ("(1 - x^2)*y'' - 2*x*y' + 6*y = 0", 1, "(0, 0)", None, 0),
    ("x^2*y'' + x*y' + (x^2 - p^2)*y = 0", 0, "(p, -p)", None, 2),
    ("y'' - 2*x*y' + 2*n*y = 0", 0, "(0, 0)", None, 2),
    ("(1 - x^2)*y'' - 2*x*y' + n*(n + 1)*y = 0", 0, "(0, 0)", None, 2),
    ("x*(1 - x)*y'' + (c - (a + b + 1)*x)*y' - a*b*y = 0", 0, "(0, 1 - c)", None, 2),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "about", "exponents", "terms", "generals"), TABLE, ids=[t[0] for t in TABLE])
def test_terms_exponents_and_general_coefficients(equation, about, exponents, terms, generals):
    found = gelvo.series_solution(equation, "y(x)", about, through=4)
    assert found.verdict == "proved"
    assert all(
        gelvo.equal(a, b) for a, b in zip(found.exponents, gelvo.matrix(f"[{exponents.strip('(),')}]").flat(), strict=True)
    )
    if terms is not None:
        wanted = gelvo.matrix(f"[{terms[1:-1].rstrip(',')}]").flat()
        assert all(gelvo.equal(a, b, given=["x > 0"]) for a, b in zip(found.solutions, wanted, strict=True))
    assert sum(g is not None for g in found.general) == generals
    for branch, first in zip(found.found.branches, range(3), strict=False):
        if branch.general is None:
            continue
        offset = first if branch.exponent == 0 and len({str(e) for e in found.exponents}) == 1 else 0
        for k in range(1, (4 - offset) // branch.step + 1):
            told = gelvo.substitute(branch.general, {"k": k})
            assert gelvo.equal(told, branch.coefficients[offset + k * branch.step])


@pytest.mark.parametrize(
    "equation", ["x*y'' + y' + x*y = 0", "x*y'' - y = 0", "x^2*y'' + x*y' + (x^2 - 1)*y = 0", "y'' - x*y = 0"]
)
def test_a_long_series_agrees_with_numeric_integration(equation):
    found = gelvo.series_solution(equation, "y(x)", through=40)
    rates = {
        "x*y'' + y' + x*y = 0": lambda x, y: [y[1], -y[1] / x - y[0]],
        "x*y'' - y = 0": lambda x, y: [y[1], y[0] / x],
        "x^2*y'' + x*y' + (x^2 - 1)*y = 0": lambda x, y: [y[1], -y[1] / x - (1 - 1 / x**2) * y[0]],
        "y'' - x*y = 0": lambda x, y: [y[1], x * y[0]],
    }[equation]
    for solution in found.solutions:
        slope = gelvo.differentiate(solution, "x")
        at = lambda e, x: mp.mpf(str(gelvo.value(gelvo.substitute(e, {"x": x}), 20)))
        path = mp.odefun(rates, 1, [at(solution, 1), at(slope, 1)])
        assert abs(path(2)[0] - at(solution, 2)) < 1e-9


REFUSED = [
    ("x^3*y'' + y = 0", 0, "irregular"),
    ("y'' + y = x", 0, "without a term of its own"),
    ("y'' + sin(x)*y = 0", 0, "rational coefficients"),
    ("x^2*y'' + x*y' + y = 0", 0, "complex"),
]


@pytest.mark.parametrize(("equation", "about", "message"), REFUSED, ids=[r[0] for r in REFUSED])
def test_what_has_no_such_series_is_said(equation, about, message):
    with pytest.raises(gelvo.NotSolved, match=message):
        gelvo.series_solution(equation, "y(x)", about)


def test_it_is_told_with_its_radius_and_its_recurrence():
    found = gelvo.series_solution("(1 + x^2)*y'' + y = 0", "y", through=3)
    assert str(found.radius) == "1" and "converges for abs(x) < 1" in str(found) and "c(n - 2)" in str(found)
    assert "sin(2*pi*p) != 0" in str(gelvo.series_solution("x^2*y'' + x*y' + (x^2 - p^2)*y = 0", "y(x)"))
    with pytest.raises(gelvo.DomainError, match="0 to 60 powers"):
        gelvo.series_solution("y' = y", "y(x)", through=61)


def test_stated_values_choose_one_series():
    found = gelvo.series_solution("y'' - x*y' - y = 0", "y(x)", given=["y(0) = a", "y'(0) = 2"], through=4)
    assert str(found.particular) == "a*x^4/8 + 2*x^3/3 + a*x^2/2 + 2*x + a" and found.verdict == "proved"
    assert "C_1" not in str(found)
    for equation, given in (("y'' - y = 0", ["y(0) = 1"]), ("x*y'' - y' - y = 0", ["y(0) = 1", "y'(0) = 0"])):
        with pytest.raises(gelvo.DomainError, match="values are stated at an ordinary point"):
            gelvo.series_solution(equation, "y(x)", given=given)
