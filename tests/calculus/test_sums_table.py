"""Sums and products against textbook values, held against written-out sums where they are finite."""

from __future__ import annotations

import pytest

import gelvo

FINITE = [
    ("1", 1, "n"),
    ("k", 1, "n*(n + 1)/2"),
    ("k", 0, "n*(n + 1)/2"),
    ("k^2", 1, "n*(n + 1)*(2*n + 1)/6"),
    ("k^3", 1, "n^2*(n + 1)^2/4"),
    ("k^4", 1, "n*(n + 1)*(2*n + 1)*(3*n^2 + 3*n - 1)/30"),
    ("2*k - 1", 1, "n^2"),
    ("(2*k - 1)^2", 1, "n*(2*n - 1)*(2*n + 1)/3"),
    ("k*(k + 1)", 1, "n*(n + 1)*(n + 2)/3"),
    ("k*(k + 1)*(k + 2)", 1, "n*(n + 1)*(n + 2)*(n + 3)/4"),
    ("a*k + b", 0, "a*n*(n + 1)/2 + b*(n + 1)"),
    ("2^k", 0, "2^(n + 1) - 1"),
    ("3^k", 1, "(3^(n + 1) - 3)/2"),
    ("(1/2)^k", 0, "2 - (1/2)^n"),
    ("k*2^k", 1, "(n - 1)*2^(n + 1) + 2"),
    ("k^2*2^k", 0, "(n^2 - 2*n + 3)*2^(n + 1) - 6"),
    ("1/(k*(k + 1))", 1, "n/(n + 1)"),
    ("1/(k*(k + 2))", 1, "3/4 - (2*n + 3)/(2*(n + 1)*(n + 2))"),
    ("1/(4*k^2 - 1)", 1, "n/(2*n + 1)"),
    ("1/(k*(k + 1)*(k + 2))", 1, "1/4 - 1/(2*(n + 1)*(n + 2))"),
    ("(2*k + 1)/(k^2*(k + 1)^2)", 1, "1 - 1/(n + 1)^2"),
    ("k*factorial(k)", 1, "factorial(n + 1) - 1"),
    ("binomial(n, k)", 0, "2^n"),
    ("k*binomial(n, k)", 0, "n*2^(n - 1)"),
    ("(-1)^k*2^k*binomial(n, k)", 0, "(-1)^n"),
    ("binomial(n, k)*x^k", 0, "(1 + x)^n"),
    ("binomial(n, k)^2", 0, "factorial(2*n)/factorial(n)^2"),
]


@pytest.mark.parametrize(("term", "lower", "wanted"), FINITE, ids=[c[0] for c in FINITE])
def test_finite_sums(term, lower, wanted):
    n, k = gelvo.variable("n"), gelvo.variable("k")
    answer = gelvo.add_up(term, k, lower, n)
    target = gelvo.formula(wanted, names_from=answer)
    e = gelvo.formula(term)
    for upper in (3, 5, 8):
        written = gelvo.total(
            [gelvo.substitute(e, {k: gelvo.formula(str(j)), n: gelvo.formula(str(upper))}) for j in range(lower, upper + 1)]
        )
        assert gelvo.equal(written, gelvo.substitute(answer.expression, {n: gelvo.formula(str(upper))}))
        assert gelvo.equal(written, gelvo.substitute(target, {n: gelvo.formula(str(upper))}))
    assert answer.verdict in ("proved", "supported")


INFINITE = [
    ("1/2^k", 0, "2"),
    ("1/3^k", 1, "1/2"),
    ("k/2^k", 1, "2"),
    ("k^2/2^k", 1, "6"),
    ("(-1/2)^k", 0, "2/3"),
    ("1/(k*(k + 1))", 1, "1"),
    ("1/(4*k^2 - 1)", 1, "1/2"),
    ("1/k^2", 1, "pi^2/6"),
    ("1/k^2", 3, "pi^2/6 - 5/4"),
    ("1/k^4", 1, "pi^4/90"),
    ("1/k^3", 1, "zeta(3)"),
    ("1/(2*k + 1)^2", 0, "pi^2/8"),
    ("(-1)^(k + 1)/k", 1, "ln(2)"),
    ("(-1)^k/(2*k + 1)", 0, "pi/4"),
    ("(-1)^(k + 1)/k^2", 1, "pi^2/12"),
    ("1/factorial(k)", 0, "exp(1)"),
    ("k/factorial(k)", 0, "exp(1)"),
    ("2^k/factorial(k)", 0, "exp(2)"),
    ("(-1)^k/factorial(k)", 0, "exp(-1)"),
    ("1/factorial(2*k)", 0, "cosh(1)"),
    ("(-1)^k/factorial(2*k + 1)", 0, "sin(1)"),
    ("1/(k*2^k)", 1, "ln(2)"),
    ("1/(k*(2*k - 1))", 1, "2*ln(2)"),
    ("1/(k^2 + 1)", 1, "pi*coth(pi)/2 - 1/2"),
    ("1/k", 1, "inf"),
    ("1/sqrt(k)", 1, "inf"),
    ("ln(k)/k", 2, "inf"),
    ("1/(k*ln(k))", 2, "inf"),
    ("k/(k + 1)", 1, "inf"),
    ("-1/k", 1, "-inf"),
    ("(-1)^k", 0, "undefined"),
    ("2^k", 0, "inf"),
]


@pytest.mark.parametrize(("term", "lower", "wanted"), INFINITE, ids=[f"{c[0]} from {c[1]}" for c in INFINITE])
def test_infinite_sums(term, lower, wanted):
    answer = gelvo.add_up(term, "k", lower, "inf")
    target = gelvo.formula(wanted)
    assert answer.expression is target if wanted in ("inf", "-inf", "undefined") else gelvo.equal(answer, target)


CONDITIONAL = [
    ("r^k", 0, [], "1/(1 - r)", "abs(r) < 1"),
    ("k*r^k", 1, ["abs(r) < 1"], "r/(1 - r)^2", ""),
    ("x^k/k", 1, [], "-ln(1 - x)", "abs(x) < 1"),
    ("x^k/factorial(k)", 0, [], "exp(x)", ""),
    ("binomial(a, k)*x^k", 0, [], "(1 + x)^a", "abs(x) < 1"),
    ("cos(k*x)/k^2", 1, ["0 <= x", "x <= 2*pi"], "pi^2/6 - pi*x/2 + x^2/4", ""),
    ("sin(k*x)/k", 1, ["0 < x", "x < 2*pi"], "(pi - x)/2", ""),
]


@pytest.mark.parametrize(("term", "lower", "given", "wanted", "condition"), CONDITIONAL, ids=[c[0] for c in CONDITIONAL])
def test_series_say_where_they_converge(term, lower, given, wanted, condition):
    answer = gelvo.add_up(term, "k", lower, "inf", given=given)
    known = [*given, *answer.conditions]
    assert gelvo.equal(answer, gelvo.formula(wanted, names_from=answer), given=known)
    assert (condition in [str(c) for c in answer.conditions]) if condition else not answer.conditions


PRODUCTS = [
    ("k", 1, "n", "factorial(n)"),
    ("2", 1, "n", "2^n"),
    ("2*k", 1, "n", "2^n*factorial(n)"),
    ("(k + 1)/k", 1, "n", "n + 1"),
    ("k^2", 1, "n", "factorial(n)^2"),
    ("x^k", 1, "n", "x^(n*(n + 1)/2)"),
    ("k + 2", 0, 4, "720"),
]


@pytest.mark.parametrize(("factor", "lower", "upper", "wanted"), PRODUCTS, ids=[c[0] for c in PRODUCTS])
def test_products(factor, lower, upper, wanted):
    answer = gelvo.multiply_up(factor, "k", lower, upper)
    target = gelvo.formula(wanted, names_from=answer)
    for value in (2, 4):
        table = {"n": value} if "n" in wanted else {}
        assert gelvo.equal(answer.expression.substitute(table), target.substitute(table), given=["x > 0"])


def test_sums_refuse_what_has_no_value():
    with pytest.raises(gelvo.DomainError, match="no value at k = 0"):
        gelvo.add_up("1/k", "k", 0, "n")
    with pytest.raises(gelvo.DomainError, match="whole numbers"):
        gelvo.add_up("k", "k", "1/2", 3)
    assert str(gelvo.add_up("sin(k^2)", "k", 1, "n").expression) == "sum_of(sin(k^2), k, 1, n)"
