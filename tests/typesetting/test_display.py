"""What is shown is what is meant: the parts of a product or relation as they are shown give the same formula again."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.expression import display
from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.nodes import Expression
from gelvo.expression.terms import factors_in

PRODUCTS = [
    "-(b^2 - a*c)",
    "-(x - 1)*(x + 1)",
    "(-x - 1)*exp(-x)",
    "-(-x - 1)*(y - 2)/3",
    "3*sqrt(6)/(4*sqrt(pi))",
    "sqrt(2)/(2*sqrt(pi)*sigma)",
    "sqrt(pi/2)*x",
    "sqrt(2/pi)*x^(-3/2)",
    "2^(1/3)*3^(1/3)*pi^(1/3)/y",
    "-1j*x/3",
    "(1 + 2j)*x*y^2",
    "sqrt(15)/5*sqrt(pi)",
    "pi*sqrt(2)*x*exp(-x)*cos(x)",
    "5*x/(7*y*(a - b))",
    "a^x*b^(-x)*2",
    "sqrt(2*g*h)",
    "sqrt(2*k/m)*t",
    "1/sqrt(2*a)",
    "1/sqrt(2*a/b)",
    "x/sqrt(3*g*h)",
    "sqrt(a/2)*sqrt(b)",
    "sqrt(6*a/(5*b))",
    "sqrt(-2*a)/(4*sqrt(a))",
    "(2*x*y)^(1/3)/3",
]


def product_of(factors):
    def one(factor):
        base = multiply_all([*factor.bases, *[power(d, number(-1)) for d in factor.divisors]])
        return power(base, factor.exponent if isinstance(factor.exponent, Expression) else number(factor.exponent))

    return multiply_all(one(f) for f in factors)


@pytest.mark.parametrize("text", PRODUCTS)
def test_the_parts_of_a_product_multiply_to_it(text):
    e = gelvo.formula(text)
    coefficient = getattr(e, "coefficient", number(1).value)
    negative, size, factors = display.signed(coefficient, factors_in(e))
    above, below = display.quotient(size, factors)
    shown = (-1 if negative else 1) * product_of(above) / product_of(below)
    assert gelvo.equal(shown, e)
    assert not negative or not text.startswith("-(")  # a difference takes the minus


@pytest.mark.parametrize("text", ["b^2 - 4*a*c", "x - 1", "1 - x", "x^2 + 2 - y - z/3", "a - 2*b + 5"])
def test_sides_without_minus_differ_by_the_same(text):
    e = gelvo.formula(text)
    left, right = display.sides_without_minus(e)
    assert left - right is e and "-" not in f"{left} {right}"


@pytest.mark.parametrize("text", ["x + 1", "-x - 1", "x", "1j*x - 2"])
def test_what_has_one_sign_stays_on_one_side(text):
    assert display.sides_without_minus(gelvo.formula(text)) is None


def test_a_turned_difference_is_arranged_once():
    """Each level of a formula that is turned on paper costs the same: no part is arranged again for every level above it."""
    a, e = gelvo.variable("a"), gelvo.variable("x")
    for _ in range(150):
        e = -2 * a * (1 - gelvo.exp(e))
    with gelvo.time_limit(5):
        assert gelvo.typeset(e, "latex").count(r"\mathrm{e}") == 150


def test_a_deep_fraction_in_an_exponent_stands_on_one_line():
    a, e = gelvo.variable("a"), gelvo.variable("x")
    for _ in range(800):
        e = a / (1 + e)
    assert r"\frac" not in gelvo.typeset(2**e, "latex")


def test_letters_of_a_root_beside_a_turned_difference():
    text = gelvo.typeset("-sqrt(a*sin(x)^2)*sqrt(3)*(-x - 1)/6", "latex")
    assert text == r"\frac{\sqrt{\frac{a \sin^{2}(x)}{3}}\, (x + 1)}{2}"


def test_complex_roots_have_their_decimals_beside_them():
    found = gelvo.typeset(gelvo.solve("x^3 + 2*x^2 + 2 = 0", "x", over="complex"), "text")
    assert "≈ −2.3593" in found and "≈ 0.17965 − 0.90301i" in found and "≈ 0.17965 + 0.90301i" in found
