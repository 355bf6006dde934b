"""Limits far out from the inside out: right where they are told, and silent where a part is not known."""

from __future__ import annotations

import random

import pytest
from mpmath import mp

import gelvo
from gelvo.checking.germs import limit_far_out
from gelvo.facts.store import Facts
from sample_tasks import numeric

# (formula of x, facts, limit as x grows: None where it must not be told)
FAR_OUT = [
    ("1/x", [], "0"),
    ("3 - 2/x", [], "3"),
    ("x", [], "inf"),
    ("-x^2", [], "-inf"),
    ("a*x", [], None),
    ("a*x", ["a > 0"], "inf"),
    ("a*x", ["a < 0"], "-inf"),
    ("x/(2*x + 1)", [], "1/2"),
    ("(x^2 + 1)/(3*x^2 - x)", [], "1/3"),
    ("(x^2 + 1)/(3*x - 1)", [], "inf"),
    ("x - x^2", [], "-inf"),
    ("sqrt(1 + x^2)/x", [], "1"),
    ("x^(2/3)/x^(1/2)", [], "inf"),
    ("(x + 1)^(1/3)/x", [], "0"),
    ("x^n", ["n < 0"], "0"),
    ("x^n", ["n > 0"], None),  # that it grows is told by the ends, which look at a power alone
    ("x^n", [], None),
    ("x^n*exp(-x)", [], "0"),
    ("x^n*exp(x)", [], None),
    ("exp(-x)*ln(x)^5*x^7", [], "0"),
    ("exp(x)/x^100", [], "inf"),
    ("exp(-x)*exp(2*x)", [], "inf"),
    ("exp(2*x)/exp(x)", [], "inf"),
    ("exp(-x^2)*x^9", [], "0"),
    ("exp(-a*x)", ["a > 0"], "0"),
    ("exp(-a*x)", [], None),
    ("exp(-a*x + 1j*b*x)", ["a > 0"], "0"),
    ("x*exp(-a*x - 1j*b*x)", ["a > 0"], "0"),
    ("exp(1j*x)/x", [], "0"),
    ("exp(1j*x)", [], None),
    ("ln(x)", [], "inf"),
    ("ln(x)/sqrt(x)", [], "0"),
    ("ln(x)^9/x^(1/100)", [], "0"),
    ("ln(1 + x^2) - 2*ln(x)", [], None),
    ("ln(1 + exp(x))/x", [], "1"),
    ("ln(1 + exp(-x))*exp(x/2)", [], None),
    ("ln(1 + 1/x)*x", [], "1"),
    ("ln(2 + 1/x)", [], "ln(2)"),
    ("sin(x)", [], None),
    ("sin(x)/x", [], "0"),
    ("x*sin(1/x)", [], "1"),
    ("x*(1 - cos(1/x))", [], None),
    ("cos(1/x)", [], "1"),
    ("tan(1/x)*x", [], "1"),
    ("atan(x)", [], "pi/2"),
    ("atan(-x)", [], "-pi/2"),
    ("atan(exp(x))", [], "pi/2"),
    ("atan(sinh(x))", [], "pi/2"),
    ("atan(1/x)*x", [], "1"),
    ("x*(atan(x) - pi/2)", [], None),
    ("tanh(x)^2", [], "1"),
    ("tanh(x/2) - 1", [], "0"),
    ("coth(3*x)", [], "1"),
    ("sech(x)*x^4", [], "0"),
    ("csch(x)*x", [], "0"),
    ("sinh(x)/exp(x)", [], None),  # rates of exponentials are not compared
    ("cosh(x)", [], "inf"),
    ("erf(x)", [], "1"),
    ("erf(x)*exp(-x)", [], "0"),
    ("erfc(x)*x^3", [], "0"),
    ("erfc(-x)", [], None),
    ("Si(x)", [], "pi/2"),
    ("Ci(x)*sqrt(x)", [], "0"),
    ("Ei(-x)*x^2", [], "0"),
    ("besselj(0, x)", [], "0"),
    ("besselj(3, x)*x^(1/4)", [], "0"),
    ("besselj(0, x)*x", [], None),
    ("bessely(1, 2*x)", [], "0"),
    ("besselk(2, x)*x^5", [], "0"),
    ("airyai(x)*x^2", [], "0"),
    ("airyai_prime(x)*x^2", [], "0"),
    ("airyai(-x)", [], None),
    ("gamma_inc(2, x)*x^3", [], "0"),
    ("polylog(2, exp(-x))", [], "0"),
    ("polylog(2, 1 - 1/x)", [], "pi^2/6"),
    ("exp(1/x)", [], "1"),
    ("exp(-1/x)*x", [], "inf"),
    ("x^2*(exp(1/x) - 1)", [], "inf"),
    ("x*(exp(1/x) - 1)", [], "1"),
    ("1/(1 + exp(-x))", [], "1"),
    ("1/(1 + exp(x))", [], "0"),
    ("x/(exp(x) - 1)", [], "0"),
    ("floor(x)", [], "inf"),
    ("gamma(x)", [], None),
    ("ln(sin(1/x))/x", [], "0"),
    ("sqrt(x)*ln(1 - 1/x)", [], "0"),
    ("abs(x)/x", [], "1"),
]  # fmt: skip


@pytest.mark.parametrize(("formula", "given", "limit"), FAR_OUT, ids=[f"{f} {g}" for f, g, _ in FAR_OUT])
def test_limits_far_out(formula, given, limit):
    x = gelvo.variable("x", domain="positive")
    letters = {n: gelvo.variable(n) for n in "abn"}
    facts = Facts([gelvo.formula(g, names_from=list(letters.values())) for g in given])
    found = limit_far_out(gelvo.formula(formula, names_from=[x, *letters.values()]), x, facts)
    assert (found is None) == (limit is None)
    assert limit is None or gelvo.equal(found, gelvo.formula(limit)) or str(found) == limit


LEAVES = ("x", "1/x", "x^2", "exp(-x)", "ln(x)", "sqrt(x)", "2", "1/3")
GROWN = (
    "({0} + {1})",
    "({0} * {1})",
    "({0} - {1})",
    "atan({0})",
    "exp(-({0})^2)",
    "ln(1 + ({0})^2)",
    "sqrt(1 + ({0})^2)",
    "({0})/({1})",
)


def _tower(pick: random.Random, depth: int) -> str:
    if not depth:
        return pick.choice(LEAVES)
    return pick.choice(GROWN).format(_tower(pick, depth - 1), _tower(pick, depth - 1))


@pytest.mark.parametrize("seed", range(10))
def test_random_towers_go_where_numbers_go(seed):
    pick, x = random.Random(seed), gelvo.variable("x", domain="positive")
    for _ in range(6):
        text = _tower(pick, 3)
        try:
            formula = gelvo.formula(text, names_from=[x])
        except gelvo.GelvoError:
            continue  # a division by zero
        found = limit_far_out(formula, x, Facts())
        if found is None or str(found) in ("inf", "-inf"):
            continue
        try:
            with mp.workdps(60), gelvo.time_limit(1):
                far = [abs(numeric(formula, {"x": 10**k}) - numeric(found, {})) for k in (1, 3)]
        except (gelvo.Undecided, gelvo.TimeLimitReached):  # too small for digits
            continue
        assert far[1] < 1e-3 or far[1] < far[0], (text, found)
