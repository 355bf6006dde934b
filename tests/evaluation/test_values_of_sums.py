"""Sums and products have values with proved digits, also without end and beyond what can be written out."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

# (form, digits, the value to 60 digits by other means)
VALUES = [
    ("sum_of(1/k^2, k, 1, 1000)", 30, lambda m: m.fsum(m.mpf(1) / k**2 for k in range(1, 1001))),
    ("sum_of(1/k^2, k, 1, inf)", 40, lambda m: m.pi**2 / 6),
    ("sum_of(1/k^3, k, 2, inf)", 30, lambda m: m.zeta(3) - 1),
    ("sum_of(1/k^2, k, 1, 10^9)", 25, lambda m: m.zeta(2) - m.psi(1, 10**9 + 1)),
    ("sum_of(1/factorial(k), k, 0, inf)", 40, lambda m: m.e),
    ("sum_of((-2)^k/factorial(2*k), k, 0, inf)", 30, lambda m: m.cos(m.sqrt(2))),
    ("sum_of((-1)^k/(2*k + 1), k, 0, inf)", 30, lambda m: m.pi / 4),
    ("sum_of((-1)^k/(k^2 + 3), k, -inf, inf)", 20, lambda m: m.pi / (m.sqrt(3) * m.sinh(m.pi * m.sqrt(3)))),
    ("sum_of(1/(k^2 + 1), k, -inf, inf)", 30, lambda m: m.pi * m.coth(m.pi)),
    ("sum_of(1/(k^2*binomial(2*k, k)), k, 1, inf)", 30, lambda m: m.pi**2 / 18),
    ("sum_of(sin(k), k, 1, 20)", 20, lambda m: m.fsum(m.sin(k) for k in range(1, 21))),
    ("sum_of(1j^k/2^k, k, 0, 30)", 15, lambda m: (1 - (m.mpc(0, 1) / 2) ** 31) / (1 - m.mpc(0, 1) / 2)),
    ("product_of(1 + 1/k^2, k, 1, inf)", 30, lambda m: m.sinh(m.pi) / m.pi),
    ("product_of(1 - 1/(4*k^2), k, 1, inf)", 25, lambda m: 2 / m.pi),
    ("product_of(1 + 1/k, k, 1, 25)", 10, lambda m: m.mpf(26)),
]  # fmt: skip


@pytest.mark.parametrize(("form", "digits", "right"), VALUES, ids=[row[0] for row in VALUES])
def test_a_sum_has_its_digits(form, digits, right):
    found = gelvo.value(form, digits)
    assert found.bounded
    context = mpmath.mp.clone()
    context.dps = 70
    wanted = context.mpmathify(right(context))
    have = context.mpc(found.real, found.imag or 0)
    assert abs(have - wanted) <= abs(wanted) * context.mpf(10) ** (1 - digits)


@pytest.mark.parametrize(
    "form",
    [
        "sum_of(1/k, k, 1, inf)",
        "sum_of(2^k, k, 0, inf)",
        "sum_of(zeta(k + 2), k, 0, inf)",
        "product_of(2, k, 1, inf)",
        "sum_of(1 + 1/k^2, k, 1, inf)",
        "sum_of((-1)^k*(1 + 1/k), k, 1, inf)",
        "product_of(2 + 2/k^2, k, 1, inf)",
        "product_of(1 + 1/k, k, 1, inf)",
    ],
)
def test_what_does_not_converge_or_is_not_bounded_has_no_value(form):
    with pytest.raises((gelvo.Undecided, gelvo.DomainError)):
        gelvo.value(form)


SERIES = [
    ("tan(sin(x)) - sin(tan(x))", 60),
    ("exp(sin(ln(1 + x)))", 200),
    ("x/(exp(x) - 1)", 30),
    ("sqrt(1 + x)*atanh(x)/cos(x)^3", 40),
]


@pytest.mark.parametrize(("f", "order"), SERIES)
def test_long_expansions_are_proved_and_agree_with_values(f, order):
    found = gelvo.series(f, "x", 0, order)
    assert found.verdict in ("proved", "supported")
    at = "1/1000"
    gap = gelvo.value(gelvo.formula(f"({f}) - ({found.expression})").substitute({"x": at}), 5)
    assert abs(mpmath.mpf(str(gap))) < mpmath.mpf(10) ** (-3 * order + 8)


POWERS = [
    ("(-2)^k", 5, "-32"),
    ("(-1/2)^(k + 1)", 3, "1/16"),
    ("(1j)^k", 6, "-1"),
    ("(-3)^(-k)", 2, "1/9"),
    ("0^k", 0, "1"),
    ("0^k", 4, "0"),
]


@pytest.mark.parametrize(("power", "k", "right"), POWERS)
def test_a_power_at_a_whole_place_is_that_of_a_whole_exponent(power, k, right):
    """The value of a term at a whole number is not taken through logarithms, whose cut a negative base meets."""
    from gmpy2 import mpq

    from gelvo.evaluation.enclose import Enclosure

    formula = gelvo.formula(power)
    box = Enclosure(formula).at({gelvo.formula("k"): mpq(k)}, 80)
    wanted = Enclosure(gelvo.formula(right)).at({}, 80)
    assert box.real.low <= wanted.real.high and wanted.real.low <= box.real.high
    assert box.imag is None or box.imag.contains_zero()
    assert abs(float(box.real.high - box.real.low)) < 1e-20
