"""A whole number that is positive is at least one: signs, sizes and conditions of what lies a number beside it."""

from __future__ import annotations

from contextlib import suppress

import pytest

import gelvo

SIGNS = [
    ("n - 1", ["n natural", "n > 0"], "n - 1"),
    ("1 - n", ["n natural", "n > 0"], "n - 1"),
    ("n + 1", ["n integer", "n < 0"], "-n - 1"),
    ("2*n - 1", ["n natural", "n > 0"], "2*n - 1"),
    ("2*n - 2", ["n natural", "n > 0"], "2*n - 2"),
    ("n + m - 1", ["n natural", "m natural", "n > 0"], "n + m - 1"),
    ("n - 1/2", ["n natural", "n > 0"], "n - 1/2"),
    ("n*m - 1", ["n natural", "m natural", "n > 0", "m > 0"], "n*m - 1"),
]


@pytest.mark.parametrize(("inner", "facts", "size"), SIGNS, ids=[row[0] for row in SIGNS])
def test_the_size_of_what_lies_beside_a_whole_number_is_known(inner, facts, size):
    assert gelvo.simplify(f"abs({inner})", given=facts) == gelvo.formula(size, given=facts) or gelvo.equal(
        f"abs({inner})", size, given=facts
    )


OPEN = [
    ("n - 1", ["n > 0"]),  # not said to be whole
    ("n - 2", ["n natural", "n > 0"]),  # n may be 1
    ("n - 1", ["n natural"]),  # n may be 0
    ("n/2 - 1/2", ["n integer"]),
]


@pytest.mark.parametrize(("inner", "facts"), OPEN, ids=[str(row) for row in OPEN])
def test_no_more_is_known_than_the_facts_say(inner, facts):
    with suppress(gelvo.Undecided):
        assert not gelvo.equal(f"abs({inner})", inner, given=facts)


CONDITIONS = [
    ("k*binomial(n, k)", ["n natural"], ()),
    ("(-1)^k*binomial(n, k)", ["n natural"], ("n != 0",)),
    ("(-1)^k*binomial(n, k)", ["n natural", "n > 0"], ()),
    ("binomial(n, k)^2*k", ["n natural", "n > 0"], ()),
]


@pytest.mark.parametrize(("term", "facts", "conditions"), CONDITIONS, ids=[str(row) for row in CONDITIONS])
def test_sums_say_for_which_numbers_they_hold(term, facts, conditions):
    answer = gelvo.add_up(term, "k", 0, "n", given=facts)
    assert tuple(map(str, answer.conditions)) == conditions and answer.verdict == "proved"


SHIFTED = [
    ("(1 - p)^n*p + (1 - p)^(n + 1) - (1 - p)^n", []),
    ("(x + y)^(n + 2) - (x + y)^n*(x^2 + 2*x*y + y^2)", ["x > 0", "y > 0"]),
    ("(1 + t)^(n - 1)*(1 + 2*t + t^2) - (1 + t)^(n + 1)", ["t > 0"]),
    ("(a*b + 1)^(2*n + 1) - (a*b + 1)*((a*b + 1)^n)^2", ["a > 0", "b > 0", "n natural"]),
]


@pytest.mark.parametrize(("zero", "facts"), SHIFTED, ids=[row[0] for row in SHIFTED])
def test_powers_with_shifted_exponents_are_told_to_be_multiples(zero, facts):
    assert gelvo.equal(zero, 0, given=facts)
    assert not gelvo.equal(f"{zero} + 1/100", 0, given=facts)
    assert gelvo.equal(gelvo.simplify(zero, given=facts), 0, given=facts)
