"""Claims about sums, products, expansions and limits that are wrong in a small thing are never called proved."""

from __future__ import annotations

import pytest

import gelvo

# (claim, facts): each is right but for what the comment names
WRONG = [
    ("sum_of(k, k, 1, n) = n*(n - 1)/2", ["n natural"]),  # the end
    ("sum_of(2^k, k, 0, n) = 2^n - 1", ["n natural"]),  # one step
    ("sum_of(1/k^2, k, 2, inf) = pi^2/6", []),  # the beginning
    ("sum_of(1/k^2, k, 1, inf) = pi^2/6 - 1/10^8", []),  # a little
    ("sum_of((-1)^k/k, k, 1, inf) = ln(2)", []),  # the sign
    ("sum_of((-1)^k/(2*k + 1), k, 0, inf) = pi/3", []),
    ("sum_of(1/(k^2 + a^2), k, 1, inf) = pi*coth(pi*a)/(2*a)", ["a > 0"]),  # the term at zero
    ("sum_of(1/(k^2 - a^2), k, 1, inf) = 1/(2*a^2) + pi*cot(pi*a)/(2*a)", ["0 < a", "a < 1"]),  # the sign of a part
    ("sum_of(x^k, k, 0, inf) = 1/(1 + x)", ["0 < x", "x < 1"]),
    ("sum_of(x^k/k, k, 1, inf) = ln(1 - x)", ["0 < x", "x < 1"]),
    ("sum_of(x^k/factorial(k), k, 1, inf) = exp(x)", []),  # the beginning
    ("sum_of(x^k/factorial(2*k), k, 0, inf) = cos(sqrt(x))", ["x > 0"]),  # cosh
    ("sum_of(x^k/k^2, k, 1, inf) = polylog(3, x)", ["0 < x", "x < 1"]),
    ("sum_of(cos(k*x)/k, k, 1, inf) = ln(2*sin(x/2))", ["0 < x", "x < pi"]),
    ("sum_of(sin(k*x)/k, k, 1, inf) = (pi - x)/2 + sin(9*x)/10^6", ["0 < x", "x < pi"]),  # one coefficient
    ("sum_of(cos(k*x)/k^2, k, 1, inf) = x^2/4 - pi*x/2 + pi^2/6 + 1/10^6", ["0 < x", "x < 2*pi"]),  # the mean
    ("sum_of(cos(k*x)/k^2, k, 1, inf) = x^2/4 - pi*x/2 + pi^2/6", ["2*pi < x", "x < 4*pi"]),  # the wrong period
    ("sum_of(sin(k*x)/k, k, 1, inf) = (pi - x)/2", ["-pi < x", "x < 0"]),  # the wrong side
    ("sum_of(binomial(n, k), k, 0, n) = 2^n + 1", ["n natural"]),
    ("sum_of(binomial(n, k), k, 1, n) = 2^n", ["n natural"]),  # the beginning
    ("sum_of((-1)^k*binomial(n, k), k, 0, n) = 0", ["n natural"]),  # n = 0
    (
        "sum_of(binomial(n, k)^2, k, 0, n) = binomial(2*n, n) + n*(n - 1)*(n - 2)*(n - 3)",
        ["n natural"],
    ),  # right for the first four
    ("sum_of(k*binomial(n, k), k, 0, n) = n*2^n", ["n natural"]),
    ("sum_of(atan(2/k^2), k, 1, inf) = pi/4", []),  # a whole turn of the angle
    ("sum_of(atan(1/(k^2 + k + 1)), k, 1, n) = atan(n)", ["n natural"]),
    ("sum_of(ln(1 + 1/k), k, 1, n) = ln(n)", ["n natural"]),
    ("sum_of(1/k, k, 1, inf) = 10", []),
    ("sum_of((-1)^k, k, 0, inf) = 1/2", []),  # a mean is no sum
    ("sum_of(1/sqrt(k), k, 1, inf) = -inf", []),
    ("sum_of(1/k^2, k, 1, inf) = inf", []),
    ("sum_of(2^k, k, 0, inf) = -1", []),
    ("product_of(1 + 1/k^2, k, 1, inf) = sinh(pi)", []),
    ("product_of(1 - 1/k^2, k, 2, inf) = 1/3", []),
    ("product_of(k, k, 1, n) = factorial(n + 1)", ["n natural"]),
    ("product_of(cos(x/2^k), k, 1, inf) = sin(x)", ["0 < x", "x < 1"]),
    ("product_of(1 + x^(2^k), k, 0, inf) = 1/(1 + x)", ["0 < x", "x < 1"]),
    ("limit_of(lambertw(x)/ln(x), x, inf) = 0", []),
    ("limit_of(factorial(n)^(1/n)/n, n, inf) = 1", ["n natural"]),
    ("limit_of((3^x + 5^x)^(1/x), x, inf) = 3", []),
    ("limit_of(x*besselk(1, x), x, 0) = 2", ["x > 0"]),
]


@pytest.mark.parametrize(("claim", "facts"), WRONG, ids=[row[0] for row in WRONG])
def test_a_wrong_claim_is_not_proved(claim, facts):
    assert gelvo.check(claim, given=facts).verdict in ("refuted", "undecided")


# what has to be proved beside the wrong ones above, so that the checks are no empty ones
RIGHT = [
    ("sum_of(k, k, 1, n) = n*(n + 1)/2", ["n natural"]),
    ("sum_of(1/k^2, k, 2, inf) = pi^2/6 - 1", []),
    ("sum_of((-1)^k/k, k, 1, inf) = -ln(2)", []),
    ("sum_of(1/(k^2 + a^2), k, 1, inf) = pi*coth(pi*a)/(2*a) - 1/(2*a^2)", ["a > 0"]),
    ("sum_of(x^k/factorial(k), k, 1, inf) = exp(x) - 1", []),
    ("sum_of(x^k/factorial(2*k), k, 0, inf) = cosh(sqrt(x))", ["x > 0"]),
    ("sum_of(cos(k*x)/k, k, 1, inf) = -ln(2*sin(x/2))", ["0 < x", "x < pi"]),
    ("sum_of(binomial(n, k), k, 1, n) = 2^n - 1", ["n natural"]),
    ("sum_of(binomial(n, k)^2, k, 0, n) = binomial(2*n, n)", ["n natural"]),
    ("sum_of(atan(2/k^2), k, 1, inf) = 3*pi/4", []),
    ("sum_of(1/sqrt(k), k, 1, inf) = inf", []),
    ("product_of(1 - 1/k^2, k, 2, inf) = 1/2", []),
    ("product_of(cos(x/2^k), k, 1, inf) = sin(x)/x", ["0 < x", "x < 1"]),
]


@pytest.mark.parametrize(("claim", "facts"), RIGHT, ids=[row[0] for row in RIGHT])
def test_a_right_claim_is_proved(claim, facts):
    assert gelvo.check(claim, given=facts).verdict == "proved"


SERIES = [("sin(x)", 3, "x - x^3/5"), ("tan(x)", 5, "x + x^3/3 + x^5/15"), ("exp(x)*ln(1 + x)", 3, "x + x^2/2 + x^3/2")]


@pytest.mark.parametrize(("formula", "through", "wrong"), SERIES)
def test_a_wrong_coefficient_is_told_with_its_power(formula, through, wrong):
    from gmpy2 import mpq

    from gelvo.checking.series import check_series
    from gelvo.expression.constants import ZERO
    from gelvo.facts.store import Facts
    from gelvo.forms.univariate import coefficients_of

    f, polynomial = gelvo.formula(formula), gelvo.formula(wrong)
    x = next(n for n in f.children if str(n) == "x") if formula != "exp(x)*ln(1 + x)" else gelvo.formula("x")
    terms = {mpq(k): c for k, c in enumerate(coefficients_of(polynomial, x))}
    u = Facts().new_name("u", f)
    certificate = check_series(f, x, u, ZERO, None, terms, mpq(through), Facts())
    assert certificate.verdict == "refuted" and certificate.evidence["power"] == max(int(k) for k in terms)
    right = {mpq(k): gelvo.series(f, "x", 0, through).coefficient(k) for k in range(through + 1)}
    assert check_series(f, x, u, ZERO, None, right, mpq(through), Facts()).verdict == "proved"
