"""Fractions with roots of fractions keep their value when they are brought to lowest terms, and equal ones are told so."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.normal.relations import lowest_by_relations
from support import names_in

FRACTIONS = [
    "1/(sqrt(1/x^2 + 4)*(x*sqrt(1/x^2 + 4) + 1))",
    "2/(x^3*sqrt(1/x^2 + 4)*(2*sqrt(1/x^2 + 4) + 2/x))",
    "sqrt(a/x)^3/(1 + sqrt(a/x))",
    "(sqrt(1/x + 1/a) + 1)/(sqrt(1/x + 1/a) - 3)^2",
    "abs(x/a)^3/(abs(x/a) + 1)",
]


@pytest.mark.parametrize("text", FRACTIONS)
def test_lowest_terms_have_the_same_value(text):
    plain = gelvo.formula(text)
    short = lowest_by_relations(plain)
    for point in ({"x": "7/5", "a": "3"}, {"x": "2/9", "a": "11/4"}):
        here = {str(n): point[str(n)] for n in names_in(plain)}
        one, two = (gelvo.value(gelvo.substitute(e, here), 25) for e in (plain, short))
        assert float(one) == pytest.approx(float(two), rel=1e-14)


@pytest.mark.parametrize("text", FRACTIONS)
def test_they_are_told_equal_and_not_equal_to_others(text):
    short = lowest_by_relations(gelvo.formula(text))
    assert gelvo.equal(text, short, given=["x > 0", "a > 0"])
    assert not gelvo.equal(text, short / gelvo.formula("x", names_from=short), given=["x > 0", "a > 0"])
