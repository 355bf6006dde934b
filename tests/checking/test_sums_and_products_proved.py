"""Sums and products are proved by theorems on series, and what is wrong by little is refuted."""

from __future__ import annotations

from contextlib import suppress

import pytest

import gelvo

# (term, from, to, facts, a word of the method)
PROVED = [
    ("3^k*x^k/factorial(k)", 0, "inf", [], "differential equation"),
    ("(-1)^k*x^(2*k + 1)/factorial(2*k + 1)", 0, "inf", ["x > 0"], "differential equation"),
    ("1/((2*k + 1)*9^k)", 0, "inf", [], "differential equation"),
    ("x^k/k^3", 1, "inf", ["0 < x", "x < 1"], "differential equation"),
    ("k^2*x^k/factorial(k)", 0, "inf", [], "differential equation"),
    ("factorial(2*k)*x^k/factorial(k)^2", 0, "inf", ["0 < x", "x < 1/4"], "differential equation"),
    ("(-1)^k*sin(k*x)/k", 1, "inf", ["0 < x", "x < pi"], "differential equation"),
    ("sin(k*x)/(k*3^k)", 1, "inf", ["0 < x", "x < pi"], "differential equation"),
    ("r^k*cos(k*x)", 0, "inf", ["0 < r", "r < 1"], "differential equation"),
    ("cos(k*x)/factorial(k)", 0, "inf", [], "differential equation"),
    ("1/(k^2 + 4)", 1, "inf", [], "digamma"),
    ("(-1)^k/(k^2 + b^2)", 0, "inf", ["b > 0"], "digamma"),
    ("1/(k*(k + b))", 1, "inf", ["b > 0"], "digamma"),
    ("(-1)^k/(4*k + 1)", 0, "inf", [], "digamma"),
    ("1/k^p", 2, "inf", ["p > 1"], "digamma"),
    ("cos(k*x)/k^4", 1, "inf", ["0 < x", "x < 2*pi"], "Fourier"),
    ("sin((2*k + 1)*x)/(2*k + 1)", 0, "inf", ["0 < x", "x < pi"], "Fourier"),
    ("k*sin(k*x)/(k^2 + b^2)", 1, "inf", ["b > 0", "0 < x", "x < 2*pi"], "Fourier"),
    ("k*binomial(n, k)", 0, "n", ["n natural", "n > 0"], "creative"),
    ("binomial(n, k)/(k + 1)", 0, "n", ["n natural"], "creative"),
    ("(-1)^k*binomial(n, k)", 0, "n", ["n natural", "n > 0"], "creative"),
    ("binomial(n, k)*p^k*(1 - p)^(n - k)", 0, "n", ["n natural", "0 < p", "p < 1"], "creative"),
    ("binomial(m, k)*binomial(n, r - k)", 0, "r", ["m natural", "n natural", "r natural"], "creative"),
    ("binomial(n, k)^2", 0, "n", ["n natural"], "creative"),
    ("1/sqrt(k^2 + k)", 1, "inf", [], "comparison"),
    ("sin(2/k)", 1, "inf", [], "comparison"),
    ("(-1)^k*k/(k + 2)", 1, "inf", [], "different limits"),
]


@pytest.mark.parametrize(("term", "lower", "upper", "facts", "word"), PROVED, ids=[row[0] for row in PROVED])
def test_a_sum_is_proved_and_its_neighbour_refuted(term, lower, upper, facts, word):
    answer = gelvo.add_up(term, "k", lower, upper, given=facts)
    assert answer.verdict == "proved" and word in answer.certificate().method
    wrong = gelvo.formula(f"2*({answer.expression}) + 1/7" if answer.expression not in (gelvo.inf, gelvo.undefined) else "1")
    assert gelvo.check(f"sum_of({term}, k, {lower}, {upper}) = {wrong}", given=facts).verdict != "proved"


@pytest.mark.parametrize("claim", [
    "sum_of(1/k^2, k, 1, inf) = pi^2/6 + 1/10^9",
    "sum_of(x^k/factorial(k), k, 0, inf) = exp(x) + x^9/10^6",
    "sum_of(1/(4*k^2 - 1), k, 1, inf) = 1/2 + 1/10^12",
    "product_of(1 - 1/(4*k^2), k, 1, inf) = 2/pi + 1/10^9",
])  # fmt: skip
def test_what_is_wrong_by_little_is_refuted(claim):
    assert gelvo.check(claim).verdict == "refuted"


PRODUCTS = [("1 + 1/k^2", 1, "sinh(pi)/pi"), ("1 - 4/(9*k^2)", 1, "3*sqrt(3)/(4*pi)"), ("(k^3 - 1)/(k^3 + 1)", 2, "2/3")]


@pytest.mark.parametrize(("factor", "lower", "value"), PRODUCTS)
def test_products_without_end_are_proved(factor, lower, value):
    answer = gelvo.multiply_up(factor, "k", lower, "inf")
    assert answer.verdict == "proved" and gelvo.equal(answer, value)


IDENTITIES = [
    ("digamma(1 + 1j*a) - digamma(1 - 1j*a)", "1j*(pi*coth(pi*a) - 1/a)", ["a > 0"]),
    ("polygamma(1, 1 + a) + polygamma(1, 1 - a)", "pi^2/sin(pi*a)^2 - 1/a^2", ["0 < a", "a < 1"]),
    ("polygamma(2, x + 1)", "polygamma(2, x) + 2/x^3", ["x > 0"]),
    ("gamma(1 + 1j)*gamma(1 - 1j)", "pi/sinh(pi)", []),
    ("(1 - p)^n*p + (1 - p)^(n + 1)", "(1 - p)^n", ["0 < p", "p < 1"]),
    ("(2*x + 3)^(m + 2)", "(4*x^2 + 12*x + 9)*(2*x + 3)^m", ["x > 0"]),
]


@pytest.mark.parametrize(("left", "right", "facts"), IDENTITIES, ids=[row[0] for row in IDENTITIES])
def test_reflections_and_shifted_exponents_are_known(left, right, facts):
    assert gelvo.equal(left, right, given=facts)
    with suppress(gelvo.Undecided):  # of functions without bounds
        assert not gelvo.equal(left, f"{right} + 1/1000", given=facts)


@pytest.mark.parametrize("text", ["n - 1", "n + m - 1/2", "3*n + m - 1"])
def test_whole_numbers_go_in_steps(text):
    """n > 0 says n >= 1 for a whole n."""
    assert gelvo.equal(f"abs({text})", text, given=["n natural", "n > 0", "m natural"])
