"""Products of logarithms and angles of numbers, which are zero only by relations between these."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.deciding.independent import by_independent

ALIKE = [
    ("ln((5 + sqrt(13))/2)^2 - ln((5 - sqrt(13))/2)^2", "ln(3)*ln((19 + 5*sqrt(13))/6)"),
    ("ln(2 + sqrt(3))*ln(2 - sqrt(3))", "-ln(7 + 4*sqrt(3))^2/4"),
    ("ln(12)*ln(18)", "(2*ln(2) + ln(3))*(ln(2) + 2*ln(3))"),
    ("ln((1 + sqrt(5))/2)^3", "-ln((sqrt(5) - 1)/2)^3"),
    ("atan(1/2)*atan(1/3)", "atan(1/2)*(pi/4 - atan(1/2))"),
    ("atan(sqrt(2))^2", "acos(1/sqrt(3))^2"),
    ("atan(2)*ln(6)^2", "(pi/2 - atan(1/2))*(ln(2) + ln(3))^2"),
    ("exp(x)*ln(2 + sqrt(3))^2", "exp(x)*ln(2 - sqrt(3))^2"),
    ("ln(3)*atanh(sqrt(13)/5)", "ln(3)*(ln(5 + sqrt(13)) - ln(2) - ln(3)/2)"),
    ("asinh(1)^2*pi", "pi*ln(sqrt(2) - 1)^2"),
    ("acos(1/3)*asin(1/3)", "acos(1/3)*(pi/2 - acos(1/3))"),
]
APART = [
    ("ln(2)*ln(3)", "ln(6)*ln(2)"),
    ("ln(2 + sqrt(3))^2", "ln(2 + sqrt(5))^2"),
    ("ln(2)^2", "ln(2)*ln(2 + 10^(-30))"),
    ("atan(1/2)*atan(1/3)", "pi^2/64"),
    ("ln(3)^2*x", "ln(2)*ln(5)*x"),
]


@pytest.mark.parametrize(("left", "right"), ALIKE)
def test_products_that_are_the_same_are_proved_so(left, right):
    assert gelvo.equal(left, right)


@pytest.mark.parametrize(("left", "right"), APART)
def test_products_that_differ_are_told_apart(left, right):
    assert not gelvo.equal(left, right)


def test_a_relation_is_believed_only_with_its_proof():
    formula = gelvo.formula("ln(2 + sqrt(3))^2 - ln(2 - sqrt(3))^2")
    assert by_independent(formula, lambda _: False, lambda _: False) is formula
    assert gelvo.simplify(by_independent(formula, lambda _: True, lambda _: False)).expression is gelvo.formula("0")
