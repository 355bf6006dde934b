"""Sums by residues, by names, by complex exponentials, and products by pairs of zeros: each held against another library's numbers."""

from __future__ import annotations

import pytest

import gelvo
from hunt.plain import mp, read, value
from sample_tasks import numeric

POINT = {"a": "0.7", "x": "1.3", "r": "0.4", "s": "3.25", "n": "7", "m": "0.3"}
GIVEN = ["0 < a", "a < 1", "0 < x", "x < pi", "0 < r", "r < 1", "s > 1", "n natural", "0 < m", "m < 1"]

# term, index, lower: held against the sum itself
INFINITE = [
    "1/(k^4 + 4)", "1/(k^2 + k + 1)", "1/(k^2 + a^2)", "1/(k^2 + a^2)^2", "(-1)^k/(k^2 + a^2)", "1/(k^2 - a^2)", "1/(k^2 + 2*k + 5)",
    "(-1)^k/(k^2 + 9)", "cos(k*x)/(k^2 + a^2)", "k*sin(k*x)/(k^2 + a^2)", "(-1)^k*cos(k*x)/(k^2 + a^2)",
    "r^k*cos(k*x)", "r^k*sin(k*x)", "cos(k*x)/factorial(k)", "sin(k*x)/factorial(k)", "sin(k*x)/k", "cos(k*x)/k",
    "cos(k*x)/k^2", "r^k/(2*k + 1)", "(-r)^k/(2*k + 1)", "r^k/(2*k + 1)^2", "1/((2*k + 1)*4^k)", "1/(4*k + 1)^2", "(-1)^k/(3*k + 1)",
    "(-1)^k/(4*k + 3)^2", "1/k^s", "(-1)^k*(x/2)^(2*k)/factorial(k)^2", "x^k/factorial(k)^2",
    "(factorial(2*k)/(4^k*factorial(k)^2))^2*m^k", "factorial(2*k)*(m/4)^k/factorial(k)^2", "r^k/k^2", "k^2*r^k",
]  # fmt: skip


FROM_ZERO = ("(-1)^k*(x/2)", "x^k", "(factorial", "factorial", "1/((2*k", "1/(4*k", "(-1)^k/(3*k", "(-1)^k/(4*k")


def plainly(text):
    """The value at a whole k, worked out by code that the library does not share."""
    tree, letters = read(text), {n: mp.mpf(v) for n, v in POINT.items()}
    return lambda k: value(tree, {**letters, "k": mp.mpf(int(k))})


@pytest.mark.parametrize("term", INFINITE)
def test_infinite_sums_agree_with_numbers(term):
    lower = 0 if term.startswith(FROM_ZERO) or "x)/factorial" in term else 1
    answer = gelvo.add_up(term, "k", lower, "inf", given=GIVEN)
    assert "sum_of" not in str(answer)
    at, found = plainly(term), numeric(answer.expression, POINT)
    with mp.workdps(30):
        if ("cos(" in term or "sin(" in term) and "r^k" not in term and "factorial" not in term:
            # no rule of extrapolation knows its turns: sums that are damped less and less
            steps = (mp.mpf(1) / 50, mp.mpf(1) / 100)
            sums = [mp.fsum(at(k) * mp.exp(-((h * k) ** 2)) for k in range(lower, int(9 / h))) for h in steps]
            assert abs(found - (4 * sums[1] - sums[0]) / 3) < 1e-4
            return
        falls_fast = "r^k" in term or "factorial" in term
        wanted = mp.fsum(at(k) for k in range(lower, 150)) if falls_fast else mp.nsum(at, [lower, mp.inf])
    assert abs(found - wanted) < 1e-8 * max(1, abs(wanted))


FINITE = ["1/k", "1/k^2", "1/(2*k + 1)", "1/(k + a)^3", "sin(2*pi*k + x)", "cos(pi*k + x)", "3*sin(k*x)", "1/(k^2 + 3*k + 2)"]


@pytest.mark.parametrize("term", FINITE)
def test_finite_sums_agree_with_numbers(term):
    answer = gelvo.add_up(term, "k", 1, "n", given=GIVEN)
    assert "sum_of" not in str(answer)
    at = plainly(term)
    assert abs(numeric(answer.expression, POINT) - sum(at(k) for k in range(1, 8))) < 1e-14


PRODUCTS = [
    ("1 + 1/k^2", 1), ("1 - 1/k^2", 2), ("1 - a^2/k^2", 1), ("1 + a^2/k^2", 1), ("1 - x^2/(k^2*pi^2)", 1), ("1 - x^4/(k^4*pi^4)", 1),
    ("4*k^2/(4*k^2 - 1)", 1), ("(k^3 - 1)/(k^3 + 1)", 2), ("1 + 1/k^3", 1), ("(k^2 + k)/(k^2 + k + 1)", 1), ("1 + 4/(2*k + 1)^2", 0),
    ("(k + a)*(k + 1 - a)/(k*(k + 1))", 1),
]  # fmt: skip


@pytest.mark.parametrize(("factor", "lower"), PRODUCTS, ids=[p[0] for p in PRODUCTS])
def test_infinite_products_agree_with_numbers(factor, lower):
    answer = gelvo.multiply_up(factor, "k", lower, "inf", given=GIVEN)
    assert "product_of" not in str(answer)
    with mp.workdps(30):
        wanted = mp.nprod(plainly(factor), [lower, mp.inf])
    assert abs(numeric(answer.expression, POINT) - wanted) < 1e-8


@pytest.mark.parametrize("factor", ["1 + 1/k", "(k + 1)/(k + 3)", "1 + a/k", "(k^2 + 1)/(2*k^2)"])
def test_products_that_do_not_converge_have_no_value(factor):
    assert "product_of" in str(gelvo.multiply_up(factor, "k", 1, "inf", given=["a > 0"]))


@pytest.mark.parametrize(("term", "said"), [("x^k/k", "abs(x) < 1"), ("r^k*cos(k)", "abs(r) < 1"), ("1/k^s", "1 < s")])
def test_where_a_series_converges_is_a_condition(term, said):
    answer = gelvo.add_up(term, "k", 1, "inf")
    assert said in str(answer) or said.replace("1 < s", "s > 1") in str(answer)
