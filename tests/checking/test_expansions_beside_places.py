"""Expansions about branch points, poles and far out: proved by series of their own, and near the function as mpmath knows it."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

M = mpmath.mp.clone()
M.dps = 60

# (formula, place, through, facts, the function by mpmath, from which side it is looked at)
PLACES = [
    ("besselk(0, x)", "0", 4, ["x > 0"], lambda x: M.besselk(0, x), 1),
    ("besselk(1, x)", "0", 3, ["x > 0"], lambda x: M.besselk(1, x), 1),
    ("besselk(2, x)", "0", 2, ["x > 0"], lambda x: M.besselk(2, x), 1),
    ("bessely(0, x)", "0", 4, ["x > 0"], lambda x: M.bessely(0, x), 1),
    ("bessely(1, x)", "0", 3, ["x > 0"], lambda x: M.bessely(1, x), 1),
    ("x*besselk(1, x) + ln(x)", "0", 2, ["x > 0"], lambda x: x * M.besselk(1, x) + M.ln(x), 1),
    ("ellipk(1 - x)", "0", 2, ["x > 0"], lambda x: M.ellipk(1 - x), 1),
    ("ellipe(1 - x)", "0", 2, ["x > 0"], lambda x: M.ellipe(1 - x), 1),
    ("ellipk(x)", "0", 6, [], lambda x: M.ellipk(x), 1),
    ("ellipe(x)", "0", 6, [], lambda x: M.ellipe(x), -1),
    ("polylog(3, x)", "0", 6, [], lambda x: M.polylog(3, x), 1),
    ("polylog(2, x)*exp(x)", "0", 5, [], lambda x: M.polylog(2, x) * M.exp(x), -1),
    ("zeta(x)", "1", 0, ["x > 1"], lambda x: M.zeta(x), 1),
    ("lambertw(x - exp(-1))", "0", 2, ["x > 0"], lambda x: M.lambertw(x - M.exp(-1)).real, 1),
    ("lambertw(x)", "0", 6, [], lambda x: M.lambertw(x).real, -1),
    ("acosh(1 + x)", "0", 3, ["x > 0"], lambda x: M.acosh(1 + x), 1),
    ("acos(1 - x)", "0", 3, ["x > 0"], lambda x: M.acos(1 - x), 1),
    ("digamma(x)", "0", 3, ["x > 0"], lambda x: M.digamma(x), 1),
    ("gamma(x)", "0", 2, ["x > 0"], lambda x: M.gamma(x), 1),
]


@pytest.mark.parametrize(
    ("formula", "place", "through", "facts", "work", "side"), PLACES, ids=[f"{r[0]} at {r[1]}" for r in PLACES]
)
def test_an_expansion_beside_a_place_is_proved_and_near_the_function(formula, place, through, facts, work, side):
    found = gelvo.series(formula, "x", place, through, given=facts)
    assert found.verdict == "proved"
    gaps = []
    for h in ("1/1000", "1/100000"):
        at = gelvo.formula(f"{place} + {side}*{h}")
        value = gelvo.value(found.expression.substitute({"x": at}), 50)
        x = M.mpf(int(place)) + side * M.mpf(1) / int(h.split("/")[1])
        gaps.append(abs(M.mpf(value.real) - work(x)))
    beyond = M.mpf(str(float(found.next_power)))
    assert (
        gaps[1] <= gaps[0] * M.mpf(10) ** (-2 * beyond + 1) * 4 + M.mpf(10) ** -44
    )  # it falls like the power left out, but for logarithms


FAR_OUT = [
    ("exp(-x)*Ei(x)", 4, lambda x: M.exp(-x) * M.ei(x)),
    ("sqrt(pi)*exp(x^2)*erfc(x)", 7, lambda x: M.sqrt(M.pi) * M.exp(x**2) * M.erfc(x)),
    ("digamma(x) - ln(x)", 6, lambda x: M.digamma(x) - M.ln(x)),
    ("gamma(x + 1/2)/(gamma(x)*sqrt(x))", 3, lambda x: M.gamma(x + 0.5) / (M.gamma(x) * M.sqrt(x))),
    ("(1 + 1/x)^x", 3, lambda x: (1 + 1 / x) ** x),
    ("besseli(0, x)*exp(-x)*sqrt(x)", 2, lambda x: M.besseli(0, x) * M.exp(-x) * M.sqrt(x)),
]


@pytest.mark.parametrize(("formula", "through", "work"), FAR_OUT, ids=[row[0] for row in FAR_OUT])
def test_an_expansion_far_out_is_near_the_function(formula, through, work):
    found = gelvo.series(formula, "x", "inf", through)
    assert found.verdict in ("proved", "supported")
    gaps = [
        abs(M.mpf(gelvo.value(found.expression.substitute({"x": gelvo.formula(str(x))}), 50).real) - work(M.mpf(x)))
        for x in (10**3, 10**5)
    ]
    assert gaps[1] <= gaps[0] * M.mpf(10) ** (-2 * float(found.next_power) + 1) + M.mpf(10) ** -44


LIMITS = [
    ("lambertw(x)/ln(x)", "x", "inf", [], "1"),
    ("lambertw(x)*exp(lambertw(x))/x", "x", "inf", [], "1"),
    ("factorial(n)^(1/n)/n", "n", "inf", ["n natural"], "exp(-1)"),
    ("gamma(x + 1)^(1/x)/x", "x", "inf", [], "exp(-1)"),
    ("x*besselk(1, x)", "x", "0", ["x > 0"], "1"),
    ("besselk(0, x) + ln(x)", "x", "0", ["x > 0"], "ln(2) - euler_gamma"),
    ("(x - 1)*zeta(x)", "x", "1", [], "1"),
    ("zeta(x) - 1/(x - 1)", "x", "1", [], "euler_gamma"),
    ("ellipk(m) + ln(1 - m)/2", "m", "1", ["m < 1"], "2*ln(2)"),
    ("(lambertw(x - exp(-1)) + 1)/sqrt(x)", "x", "0", ["x > 0"], "sqrt(2)*exp(1/2)"),
    ("loggamma(x + 1)/x - ln(x)", "x", "inf", [], "-1"),
]


@pytest.mark.parametrize(("formula", "variable", "place", "facts", "value"), LIMITS, ids=[row[0] for row in LIMITS])
def test_limits_at_special_places_are_proved(formula, variable, place, facts, value):
    side = "above" if f"{variable} > 0" in facts else "below" if f"{variable} < 1" in facts else None
    answer = gelvo.limit(formula, variable, place, side, given=facts)
    assert gelvo.equal(answer, value) and answer.verdict == "proved"
    wrong = gelvo.check(f"limit_of({formula}, {variable}, {place}) = {value} + 1/1000", given=facts)
    assert wrong.verdict != "proved"


def test_a_tower_that_the_check_cannot_expand_is_no_fault():
    answer = gelvo.limit("exp(exp(exp(x)))/exp(exp(exp(x - exp(-exp(exp(x))))))", "x", "inf")
    assert answer == 1 and answer.verdict in ("proved", "supported", "undecided")


RATIONAL = [
    ("tan(sin(x)) - sin(tan(x))", 9, {7: "1/30", 9: "29/756"}),
    ("x/(exp(x) - 1)", 6, {0: "1", 1: "-1/2", 2: "1/12", 4: "-1/720", 6: "1/30240"}),
    ("1/sin(x)^2", 4, {-2: "1", 0: "1/3", 2: "1/15", 4: "2/189"}),
    ("cot(x) - coth(x)", 5, {1: "-2/3", 5: "-4/945"}),
    ("(1 + x)^(1/2)*(1 - x)^(-3/2)", 3, {0: "1", 1: "2", 2: "5/2", 3: "3"}),
    ("asin(x)^2", 6, {2: "1", 4: "1/3", 6: "8/45"}),
    ("exp(atanh(x))", 4, {0: "1", 1: "1", 2: "1/2", 3: "1/2", 4: "3/8"}),
    ("sec(x) + csch(x)", 3, {-1: "1", 0: "1", 1: "-1/6", 2: "1/2", 3: "7/360"}),
    ("(x^2 - x^4)^2/x", 7, {3: "1", 5: "-2", 7: "1"}),
    ("ln(1 + x)/x", 3, {0: "1", 1: "-1/2", 2: "1/3", 3: "-1/4"}),
]


@pytest.mark.parametrize(("formula", "through", "terms"), RATIONAL, ids=[row[0] for row in RATIONAL])
def test_expansions_with_rational_coefficients(formula, through, terms):
    found = gelvo.series(formula, "x", 0, through)
    assert {k: str(found.coefficient(k)) for k in range(-2, through + 1) if found.coefficient(k) != 0} == terms
    assert found.verdict in ("proved", "supported")


def test_a_long_expansion_takes_no_longer_than_its_square():
    import time

    def seconds(order):
        start = time.process_time()
        gelvo.series("exp(sin(x))/(1 - x)", "x", 0, order)
        return time.process_time() - start

    seconds(10)
    assert seconds(120) < 60 * max(seconds(30), 0.02)


LONG = [
    ("erf(x)", 45, lambda k: 2 * (-1) ** (k // 2) / (mpmath.sqrt(mpmath.pi) * mpmath.factorial(k // 2) * k) if k % 2 else 0),
    ("besselj(0, x)", 46, lambda k: (-1) ** (k // 2) / (mpmath.mpf(2) ** k * mpmath.factorial(k // 2) ** 2) if k % 2 == 0 else 0),
    ("besseli(1, x)", 45, lambda k: 1 / (mpmath.mpf(2) ** k * mpmath.factorial(k // 2) * mpmath.factorial(k // 2 + 1)) if k % 2 else 0),
    ("Si(x)", 45, lambda k: (-1) ** (k // 2) / (k * mpmath.factorial(k)) if k % 2 else 0),
    ("airyai(x)", 12, lambda k: mpmath.diff(mpmath.airyai, 0, k) / mpmath.factorial(k)),
]  # fmt: skip


@pytest.mark.parametrize(("text", "through", "wanted"), LONG, ids=[row[0] for row in LONG])
def test_long_expansions_of_special_functions(text, through, wanted):
    """Beyond forty derivatives, and for functions whose slopes are each other's."""
    found = gelvo.series(text, "x", through=through)
    for k in range(through + 1):
        have = mpmath.mpf(str(gelvo.value(found.coefficient(k), 25)))
        assert abs(have - wanted(k)) <= 1e-8 * abs(wanted(k)) + mpmath.mpf(10) ** (-9 if "airy" in text else -60), k
