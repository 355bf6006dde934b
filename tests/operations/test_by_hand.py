"""Integrals worked by hand: recurrences, splitting, derivatives under the integral sign; held against quadrature."""

import pytest
from scipy.integrate import quad

import gelvo

RECURRENCES = [
    ("sin(x)^n", "(n - 1)*integral_of(sin(x)^(n - 2), x)/n - cos(x)*sin(x)^(n - 1)/n"),
    ("cos(x)^n", "cos(x)^(n - 1)*sin(x)/n + (n - 1)*integral_of(cos(x)^(n - 2), x)/n"),
    ("tan(x)^n", "tan(x)^(n - 1)/(n - 1) - integral_of(tan(x)^(n - 2), x)"),
    ("sec(x)^n", "sec(x)^(n - 2)*tan(x)/(n - 1) + (n - 2)*integral_of(sec(x)^(n - 2), x)/(n - 1)"),
    ("cosh(x)^n", "cosh(x)^(n - 1)*sinh(x)/n + (n - 1)*integral_of(cosh(x)^(n - 2), x)/n"),
    ("asin(x)^n", "x*asin(x)^n + n*sqrt(1 - x^2)*asin(x)^(n - 1) - n*(n - 1)*integral_of(asin(x)^(n - 2), x)"),
    ("x^n*exp(a*x)", "x^n*exp(a*x)/a - n*integral_of(x^(n - 1)*exp(a*x), x)/a"),
    ("x^n*sin(x)", "n*x^(n - 1)*sin(x) - x^n*cos(x) - n*(n - 1)*integral_of(x^(n - 2)*sin(x), x)"),
    ("ln(x)^n", "x*ln(x)^n - n*integral_of(ln(x)^(n - 1), x)"),
    ("x^m*ln(x)^n", "x^(m + 1)*ln(x)^n/(m + 1) - n*integral_of(x^m*ln(x)^(n - 1), x)/(m + 1)"),
    ("x^n*sqrt(x + 1)", "2*x^n*(x + 1)^(3/2)/(2*n + 3) - 2*n*integral_of(x^(n - 1)*sqrt(x + 1), x)/(2*n + 3)"),
    ("x^n/(x^2 + 1)", "x^(n - 1)/(n - 1) - integral_of(x^(n - 2)/(x^2 + 1), x)"),
]


@pytest.mark.parametrize(("f", "expected"), RECURRENCES, ids=[f for f, _ in RECURRENCES])
def test_a_recurrence_lowers_the_letter(f, expected):
    answer = gelvo.recurrence(f"integral_of({f}, x)", "n")
    assert answer.expression == gelvo.formula(expected) and answer.verdict == "proved"


BETWEEN = [
    ("sin(x)^n", 0, "pi/2", "n > 1", "proved"),
    ("(1 - x^2)^n", -1, 1, "n > 0", "proved"),
    ("tan(x)^n", 0, "pi/4", "n > 1", "proved"),
    ("x^n*exp(-x)", 0, "inf", "n > 0", "proved"),
    ("x^n*exp(-x^2)", 0, "inf", "n > 1", "proved"),
]


@pytest.mark.parametrize(("f", "low", "high", "given", "verdict"), BETWEEN, ids=[f for f, *_ in BETWEEN])
def test_between_ends_both_sides_agree_with_quadrature(f, low, high, given, verdict):
    whole = f"integral_of({f}, x, {low}, {high})"
    answer = gelvo.recurrence(whole, "n", given=[given])
    assert answer.verdict == verdict and "integral_of" in str(answer.expression)
    left, right = (
        gelvo.value(gelvo.carry_out(gelvo.substitute(e, {"n": 4})).expression) for e in (gelvo.formula(whole), answer.expression)
    )
    low, high = (float("inf") if e == "inf" else float(gelvo.formula(str(e))) for e in (low, high))
    by_numbers = quad(gelvo.numeric_function(gelvo.substitute(f, {"n": 4}), ["x"]), low, high)[0]
    assert float(left) == pytest.approx(by_numbers, rel=1e-9) and float(right) == pytest.approx(by_numbers, rel=1e-9)


@pytest.mark.parametrize(
    ("call", "fragment"),
    [
        (lambda: gelvo.recurrence("integral_of(gamma(x)^n, x)", "n"), "no recurrence in n"),
        (lambda: gelvo.recurrence("integral_of(sin(x), x)", "n"), "no letter of"),
        (lambda: gelvo.recurrence("integral_of(x^n*exp(-x), x, 0, inf)", "n"), "no finite limit at 0"),
        (lambda: gelvo.split_integral("integral_of(1/x - 1/(x + 1), x, 1, inf)"), "it is not known whether"),
        (lambda: gelvo.split_integral("integral_of(1/x, x, -1, 2)", at=0), "it is not known whether"),
        (lambda: gelvo.split_integral("integral_of(x, x)", at=0), "has no ends"),
        (lambda: gelvo.split_integral("x + 1"), "one integral_of(f, x) is needed"),
        (lambda: gelvo.differentiate_under("integral_of(x, x, 0, 1)", "a"), "no letter of"),
    ],
    ids=["unknown", "no letter", "limit", "divergent parts", "pole", "no ends", "no integral", "letter"],
)
def test_what_cannot_be_done_is_said(call, fragment):
    with pytest.raises(gelvo.GelvoError, match=fragment.replace("(", r"\(").replace(")", r"\)")):
        call()


SPLIT = [
    ("integral_of(abs(x), x, -1, 2)", [0, 1], "integral_of(abs(x), x, -1, 0) + integral_of(abs(x), x, 0, 1) + integral_of(abs(x), x, 1, 2)"),
    ("integral_of(exp(-x) + exp(-2*x), x, 0, inf)", None, "integral_of(exp(-x), x, 0, inf) + integral_of(exp(-2*x), x, 0, inf)"),
    ("integral_of(x*(x + 1), x)", None, "integral_of(x, x) + integral_of(x^2, x)"),
]  # fmt: skip


@pytest.mark.parametrize(("whole", "at", "expected"), SPLIT, ids=[w for w, *_ in SPLIT])
def test_an_integral_is_split(whole, at, expected):
    answer = gelvo.split_integral(whole, at)
    assert answer.expression == gelvo.formula(expected) and answer.verdict == "proved"


UNDER = [
    ("integral_of(sin(a*x)/x, x, 1, 2)", [], "integral_of(cos(a*x), x, 1, 2)", "proved"),
    (
        "integral_of(exp(a*x^2), x, a, a^2)",
        ["a > 0"],
        "2*a*exp(a^5) - exp(a^3) + integral_of(x^2*exp(a*x^2), x, a, a^2)",
        "proved",
    ),
    ("integral_of(exp(-a*x), x, 0, inf)", ["a > 0"], "integral_of(-x*exp(-a*x), x, 0, inf)", "proved"),
    ("integral_of(ln(1 + a*x)/x, x)", [], "integral_of(1/(a*x + 1), x)", "proved"),
    ("integral_of(1/(x - a), x, 0, 1)", [], "integral_of(1/(x - a)^2, x, 0, 1)", "undecided"),  # a may lie between the ends
]


@pytest.mark.parametrize(("whole", "given", "expected", "verdict"), UNDER, ids=[w for w, *_ in UNDER])
def test_a_derivative_is_taken_under_the_integral(whole, given, expected, verdict):
    answer = gelvo.differentiate_under(whole, "a", given=given)
    assert answer.expression == gelvo.formula(expected) and answer.verdict == verdict
