"""Values to any number of right digits, and the admission where there are none."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

DIGITS = [
    ("pi", 20, "3.1415926535897932385"),
    ("sqrt(2)", 30, "1.41421356237309504880168872421"),
    ("sqrt(10^40 + 1) - 10^20", 20, "5.0000000000000000000e-21"),
    ("exp(pi*sqrt(163)) - 262537412640768744", 20, "-7.4992740280181431112e-13"),
    ("1/4", 15, "0.25"),
    ("1/3", 5, "0.33333"),
    ("2/3", 5, "0.66667"),
    ("10^20", 3, "1e20"),
    ("123456789", 3, "1.23e8"),
    ("1/1024", 3, "0.000977"),
    ("exp(-100)", 5, "3.7201e-44"),
    ("sin(10^22)", 20, "-0.85220084976718880177"),
    ("gamma(1/3)", 30, "2.67893853470774763365569294097"),
    ("ln(2)", 10, "0.6931471806"),
    ("euler_gamma", 15, "0.577215664901533"),
    ("catalan", 10, "0.9159655942"),
    ("erf(1/2)", 15, "0.520499877813047"),
    ("cbrt(2)", 12, "1.25992104989"),
    ("sqrt(-2)", 5, "1.4142j"),
    ("(-8)^(1/3)", 6, "1.00000 + 1.73205j"),
    ("ln(-1)", 8, "3.1415927j"),
    ("1 + 2j", 5, "1 + 2j"),
    ("sqrt(2)*sqrt(3) - sqrt(6)", 10, "0"),
    ("sqrt(3 + 2*sqrt(2)) - 1 - sqrt(2)", 20, "0"),
    ("sin(1)^2 + cos(1)^2 - 1", 20, "0"),
    ("cos(pi/7)*cos(2*pi/7)*cos(4*pi/7)", 10, "-0.1250000000"),
    ("atan(10^30) - pi/2", 6, "-1.00000e-30"),
    ("floor(exp(20))", 12, "485165195"),
    ("abs(3 - pi)", 5, "0.14159"),
    ("min(sqrt(2), 3/2)", 5, "1.4142"),
    ("cases(1 when sqrt(2) < 3/2, otherwise 2)", 4, "1"),
    ("2^100", 31, "1267650600228229401496703205376"),
    ("asin(1/3) + acos(1/3) - pi/2", 10, "0"),
    ("loggamma(10)", 10, "12.80182748"),
    ("digamma(1/2)", 10, "-1.963510026"),
    ("binomial(5/2, 1/2)", 10, "1.875000000"),
]


@pytest.mark.parametrize(("text", "digits", "shown"), DIGITS, ids=[d[0] for d in DIGITS])
def test_digits_are_right(text, digits, shown):
    assert str(gelvo.value(text, digits)) == shown


def test_many_digits():
    with mpmath.workdps(1010):
        expected = mpmath.nstr(mpmath.pi, 1000, strip_zeros=False)
    assert str(gelvo.value("pi", 1000)) == expected


def test_a_value_tells_how_its_digits_are_known():
    assert gelvo.value("sqrt(2)").bounded is True
    assert gelvo.value("sqrt(2)").digits == 15
    assert gelvo.value("integral_of(exp(-x^2), x, 0, 1)", 12).bounded is True
    assert gelvo.value("integral_of(gamma(x), x, 1, 2)", 12).bounded is False
    assert str(gelvo.value("integral_of(exp(-x^2), x, 0, 1)", 12)) == "0.746824132812"


def test_values_are_python_numbers():
    value = gelvo.value("sqrt(2)", 17)
    assert float(gelvo.value("sqrt(2)", 25)) == 2**0.5
    assert float(gelvo.formula("sqrt(2)")) == 2**0.5
    assert complex(gelvo.formula("sqrt(-2)")) == complex(0, 2**0.5)
    assert value == "1.4142135623730950"
    with pytest.raises(gelvo.DomainError, match="not real"):
        float(gelvo.value("1j"))


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("x + 1", "needs numbers for x"),
        ("ln(sin(pi) + 0)", "no value|logarithm"),
        ("asin(2)", "no value"),
        ("derivative_of(x, x)", "needs|worked out"),
    ],
)
def test_what_has_no_value_says_so(text, said):
    with pytest.raises(gelvo.GelvoError, match=said):
        gelvo.value(text)


@pytest.mark.parametrize("digits", [0, -3, 10**7])
def test_digits_are_bounded(digits):
    with pytest.raises(gelvo.DomainError, match="digits"):
        gelvo.value("pi", digits)


def test_what_cannot_be_decided_says_so():
    # no proof is built for this combination of numbers, which is zero
    text = "gamma(1/6) - 2^(-1/3)*sqrt(3/pi)*gamma(1/3)^2"
    with pytest.raises(gelvo.Undecided):
        gelvo.value(text, 5)


def test_rounding_is_half_to_even():
    rounded = [("5/2", 1, "2"), ("7/2", 1, "4"), ("12345", 4, "1.234e4"), ("12355", 4, "1.236e4"), ("0", 4, "0")]
    assert [str(gelvo.value(text, digits)) for text, digits, _ in rounded] == [right for *_, right in rounded]


@pytest.mark.parametrize("text", ["sin(exp(exp(exp(4))))", "tan(exp(exp(30)))", "cos(exp(10^9))"])
def test_angles_beyond_all_reduction_end_soon(text):
    with pytest.raises(gelvo.GelvoError):
        gelvo.value(text, 5)
