"""Expansions are added, multiplied, put into each other, turned into the inverse function and into fractions; what is left out is kept."""

from __future__ import annotations

from math import comb

import pytest

import gelvo

S = gelvo.series

MADE = [
    (lambda: S("exp(x)", "x", through=4) + S("sin(x)", "x", through=4), "exp(x) + sin(x)", 5),
    (lambda: S("exp(x)", "x", through=4) * S("sin(x)", "x", through=4), "exp(x)*sin(x)", 5),
    (lambda: S("exp(x)", "x", through=4) / S("sin(x)", "x", through=4), "exp(x)/sin(x)", 3),
    (lambda: 1 / S("1 - a*x", "x", through=5), "1/(1 - a*x)", None),
    (lambda: S("cos(x)", "x", through=5) - 1, "cos(x) - 1", 6),
    (lambda: 3 - S("cos(x)", "x", through=5) * 2, "3 - 2*cos(x)", 6),
    (lambda: S("cos(x)", "x", through=7) ** -2, "1/cos(x)^2", 8),
    (lambda: S("1 + x", "x", through=5) ** gelvo.formula("1/2"), "sqrt(1 + x)", None),
    (lambda: S("exp(x)", "x", through=6).of(S("sin(x)", "x", through=6)), "exp(sin(x))", 7),
    (lambda: S("ln(x)", "x", 1, 4).of(S("cos(x)", "x", through=8)), "ln(cos(x))", 10),
    (lambda: S("x*exp(x)", "x", through=6).inverse_function("x"), "lambertw(x)", 7),
    (lambda: S("tan(x)", "x", through=7).inverse_function("x"), "atan(x)", 9),
    (lambda: S("exp(x)", "x", through=5).inverse_function("x"), "ln(x)", 6),
]  # fmt: skip


@pytest.mark.parametrize(("make", "formula", "end"), MADE, ids=[row[1] for row in MADE])
def test_what_is_made_has_the_terms_of_the_formula(make, formula, end):
    made = make()
    assert end is None or made.next_power == end
    about = 1 if formula == "ln(x)" else 0
    through = min(made.next_power, 7) - 1
    wanted = S(formula, "x", about, through)
    assert made.verdict == "proved"
    assert all(gelvo.equal(made.coefficient(k), wanted.coefficient(k)) for k in range(-1, through + 1) if k < made.next_power)


def test_the_inverse_function_with_letters_says_what_must_not_vanish():
    made = S("a*x + b*x^2", "x", through=4).inverse_function("y")
    assert [str(c) for c in made.conditions] == ["a != 0"]
    assert gelvo.equal(made.coefficient(3), "2*b^2/a^5", given=["a != 0"])


def test_fractions_and_bounds():
    geometric = S("1/(1 - x)^3", "x", through=8)
    assert [geometric.coefficient(k) for k in range(9)] == [comb(k + 2, 2) for k in range(9)]
    assert gelvo.equal(geometric.fraction(0, 3), "1/(1 - x)^3")
    assert gelvo.equal(S("exp(x)", "x", through=6).fraction(3, 3), "(x^3 + 12*x^2 + 60*x + 120)/(120 - 60*x + 12*x^2 - x^3)")
    for f, n in (("sin(x)", 5), ("exp(x)", 6), ("ln(1 + x)", 4)):
        found = S(f, "x", through=n)
        bound = float(found.rest_bound("-1/4", "1/2"))
        gaps = [
            abs(float(gelvo.value((gelvo.formula(f) - found.expression).substitute({"x": at}), 20)))
            for at in ("-1/4", "1/10", "1/2")
        ]
        assert max(gaps) <= bound <= 60 * max(gaps)
    assert S("exp(x)", "x", through=1).further(3).next_power == 4


REFUSED = [
    (lambda: S("exp(x)", "x") + S("exp(x)", "x", 1), "in powers of"),
    (lambda: (S("exp(x)", "x") * 2).further(9), "no more terms"),
    (lambda: S("sin(x)", "x", through=4).fraction(5, 5), "left out"),
    (lambda: S("exp(x)", "x").of(S("exp(x)", "x")), "has to start with 0"),
    (lambda: S("cos(x)", "x").inverse_function("y"), "slope is not zero"),
    (lambda: S("a*sin(x)", "x").rest_bound(0, 1), "substitute the letters"),
    (lambda: S("sqrt(1 - x)", "x").rest_bound(0, 1), "no bound"),
]  # fmt: skip


@pytest.mark.parametrize(("make", "word"), REFUSED, ids=[row[1] for row in REFUSED])
def test_what_cannot_be_made_says_why(make, word):
    with pytest.raises(gelvo.DomainError, match=word):
        make()
