"""Sums and products as they are asked for and shown: what is found, what it needs, how it was checked, and what cannot be asked."""

from __future__ import annotations

import pytest

import gelvo

SHOWN = [
    (lambda: gelvo.add_up("x^k/factorial(k)", "k", 0, "inf"), "exp(x)"),
    (lambda: gelvo.add_up("1/k^p", "k", 1, "inf"), "zeta(p)   # if p > 1"),
    (lambda: gelvo.add_up("r^k*cos(k*x)", "k", 0, "inf", given=["0 < r", "r < 1"]), "(r*cos(x) - 1)/(2*r*cos(x) - r^2 - 1)"),
    (lambda: gelvo.add_up("cos(k*x)/k", "k", 1, "inf", given=["0 < x", "x < pi"]), "-ln(2*sin(x/2))"),
    (lambda: gelvo.add_up("ln(1 + 1/k)", "k", 1, "n", given=["n natural"]), "ln(n + 1)"),
    (lambda: gelvo.add_up("ln(1 + 1/k)", "k", 1, "inf"), "inf"),
    (lambda: gelvo.add_up("1/(k^2*binomial(2*k, k))", "k", 1, "inf"), "pi^2/18"),
    (lambda: gelvo.multiply_up("cos(x/2^k)", "k", 1, "inf", given=["0 < x", "x < 1"]), "sin(x)/x"),
    (lambda: gelvo.multiply_up("(k^3 - 1)/(k^3 + 1)", "k", 2, "inf"), "2/3"),
    (lambda: gelvo.carry_out("1 + sum_of(1/k^2, k, 1, inf)"), "1 + pi^2/6"),
    (lambda: gelvo.value("sum_of(1/k^2, k, 1, 1000)", 12), "1.64393456668"),
    (lambda: gelvo.value("2*product_of(1 - 1/(4*k^2), k, 1, inf)*pi", 12), "4.00000000000"),
]  # fmt: skip


@pytest.mark.parametrize(("make", "text"), SHOWN, ids=[row[1] for row in SHOWN])
def test_what_is_shown(make, text):
    assert str(make()) == text


ROADS = [
    ("binomial(n, k)", "n", ["n natural"], "creative telescoping", "G/F"),
    ("x^k/factorial(k)", "inf", [], "Abel", "functions of y"),
    ("1/(k + 1)^2", "inf", [], "digamma", "sum"),
    ("atan(1/(k^2 + k + 1))", "inf", [], "induction", "to n"),
]


@pytest.mark.parametrize(("term", "upper", "facts", "method", "witness"), ROADS, ids=[row[0] for row in ROADS])
def test_a_certificate_shows_its_witness(term, upper, facts, method, witness):
    certificate = gelvo.add_up(term, "k", 0, upper, given=facts).certificate()
    assert certificate.verdict == "proved" and method in certificate.method and witness in certificate.evidence
    assert certificate.method in str(certificate) and certificate.to_dict()["verdict"] == "proved"


REFUSED = [
    (lambda: gelvo.add_up("1/(k - 3)", "k", 1, "inf"), "no value at k = 3"),
    (lambda: gelvo.add_up("k", "k", "1/2", 3), "whole numbers"),
    (lambda: gelvo.value("sum_of(a/k^2, k, 1, inf)"), "needs numbers for a"),
    (lambda: gelvo.value("sum_of(1/k, k, 1, inf)"), "do not fall fast enough"),
    (lambda: gelvo.value("sum_of(k, k, 1/2, 3)"), "whole numbers"),
]


@pytest.mark.parametrize(("make", "words"), REFUSED, ids=[row[1] for row in REFUSED])
def test_what_cannot_be_asked_says_why(make, words):
    with pytest.raises(gelvo.GelvoError, match=words):
        make()
