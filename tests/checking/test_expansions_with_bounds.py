"""Proofs of limits and of series by expansions of their own arithmetic: what is right is proved, and what is not is never."""

from __future__ import annotations

import pytest
from gmpy2 import mpq

import gelvo
from gelvo.checking.expansions import expansion_beside, limit_by_expansion
from gelvo.checking.limits import check_limit
from gelvo.checking.series import check_series
from gelvo.checking.subsequences import two_sequences
from gelvo.expression.constants import INFINITE
from gelvo.facts.store import Facts

x = gelvo.variable("x")
LIMITS = [
    ("(exp(x) - 1 - x)/x^2", "0", "1/2"), ("(tan(x) - sin(x))/x^3", "0", "1/2"), ("(sin(tan(x)) - tan(sin(x)))/x^7", "0", "-1/30"),
    ("(cosh(x) - exp(x^2/2))/x^4", "0", "-1/12"), ("x*ln(x)", "0", "0"), ("x^x", "0", "1"), ("ln(x)", "0", "-inf"), ("1/x^2", "0", "inf"),
    ("(x^x - x)/(1 - x + ln(x))", "1", "-2"), ("(sin(x)/x)^(1/x^2)", "0", "exp(-1/6)"), ("(1 + 1/x)^x", "inf", "exp(1)"),
    ("x*(exp(1) - (1 + 1/x)^x)", "inf", "exp(1)/2"), ("cbrt(x^3 + x^2) - cbrt(x^3 - x^2)", "inf", "2/3"), ("x*(pi/2 - atan(x))", "inf", "1"),
    ("atan(x)", "inf", "pi/2"), ("x*exp(-x)", "inf", "0"), ("exp(-1/x)/x^5", "0", "0"), ("x*exp(x^2)*erfc(x)", "inf", "1/sqrt(pi)"),
    ("gamma(x + 1/2)/(sqrt(x)*gamma(x))", "inf", "1"), ("digamma(x) - ln(x)", "inf", "0"), ("x*gamma(x)", "0", "1"), ("floor(x)", "2", "2"),
    ("abs(x)/x", "0", "1"), ("Ci(x) - ln(x)", "0", "euler_gamma"), ("acos(1 - x)/sqrt(x)", "0", "sqrt(2)"), ("lambertw(x)/x", "0", "1"),
    ("cot(x) - 1/x", "0", "0"), ("erf(x)/x", "0", "2/sqrt(pi)"), ("(x + 2)*gamma(x)", "-2", "1/2"), ("x^2*(ln(1 + 1/x) - 1/x)", "inf", "-1/2"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "point", "wanted"), LIMITS, ids=[f"{f} at {p}" for f, p, _ in LIMITS])
def test_limits_from_above(f, point, wanted):
    found = limit_by_expansion(gelvo.formula(f), x, gelvo.formula(point), "above", Facts())
    assert found is not None and (str(found) == wanted or gelvo.equal(found, wanted))


LEFT = ["sin(1/x)", "exp(1/x)", "u(x)", "abs(sin(1/x))", "ln(ln(1/x))", "(-1)^(1/x)"]


@pytest.mark.parametrize("f", LEFT)
def test_what_has_no_expansion_is_left(f):
    assert (
        limit_by_expansion(
            gelvo.formula(f) if f != "u(x)" else gelvo.unknown_function("u", x), x, gelvo.formula("0"), "above", Facts()
        )
        is None
    )


@pytest.mark.parametrize(("f", "point"), [("1/(a*x + 1)", "inf"), ("x/(x + a)", "0"), ("sqrt(x + a)", "0"), ("ln(a + x)", "0")])
def test_letters_that_may_vanish_end_it(f, point):
    assert limit_by_expansion(gelvo.formula(f), x, gelvo.formula(point), "above", Facts()) is None


@pytest.mark.parametrize("row", LIMITS[:12], ids=[r[0] for r in LIMITS[:12]])
def test_a_false_limit_is_never_proved(row):
    f, point, wanted = row
    if wanted in ("inf", "-inf"):
        false = gelvo.formula("3")
    else:
        false = gelvo.formula(wanted) + gelvo.formula("1/1000")
    certificate = check_limit(gelvo.formula(f), x, gelvo.formula(point), "above", false, Facts())
    assert certificate.verdict not in ("proved", "supported")


def test_coefficients_and_the_first_order_left_out():
    found, u, L = expansion_beside(gelvo.formula("x^x"), x, gelvo.formula("0"), "above", Facts(), mpq(2))
    assert found.terms[mpq(1), 1] is -gelvo.formula("1") and gelvo.equal(found.terms[mpq(2), 2], "1/2") and found.order > 2
    assert u is not L


SERIES = [
    ("tan(x)", {1: "1", 3: "1/3"}),
    ("exp(x)*cos(x)", {0: "1", 1: "1", 3: "-1/3"}),
    ("1/sin(x)", {-1: "1", 1: "1/6", 3: "7/360"}),
]


@pytest.mark.parametrize(("f", "terms"), SERIES, ids=[s[0] for s in SERIES])
@pytest.mark.parametrize("wrong", [None, 1, 2])
def test_series_are_proved_and_wrong_ones_are_not(f, terms, wrong):
    listed = {mpq(p): gelvo.formula(c) for p, c in terms.items()}
    if wrong is not None:
        listed[mpq(wrong)] = listed.get(mpq(wrong), gelvo.formula("0")) + gelvo.formula("1/7")
    u = Facts().new_name("u", x)
    certificate = check_series(gelvo.formula(f), x, u, gelvo.formula("0"), None, listed, mpq(3), Facts())
    assert (certificate.verdict == "proved") == (wrong is None)


@pytest.mark.parametrize(
    ("f", "told"),
    [
        ("cos(x)", True),
        ("sin(x)/x", False),
        ("x*sin(x)", True),
        ("x - floor(x)", True),
        ("floor(x)/x", False),
        ("tan(x)", True),
        ("exp(-x)*sin(x)", False),
    ],
)
def test_two_sequences_are_found_just_where_there_is_no_limit(f, told):
    assert bool(two_sequences(gelvo.formula(f), x, INFINITE, "", Facts())) == told
