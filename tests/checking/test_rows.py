"""Each integral with a name against a quadrature that shares nothing with it, at numbers for its letters."""

from __future__ import annotations

import itertools
import math

import mpmath
import pytest
from scipy.integrate import quad

import gelvo
from gelvo.checking.values.rows import ROWS, integrals_with_a_name
from gelvo.evaluation.plain_floats import plain_function
from gelvo.expression.building import number
from gelvo.facts.store import Facts
from gelvo.functions.named import LN

# numbers for the letters of the rows, in their order; orders first
NUMBERS = [
    (3, 2), (2,), (2,), (2, 3), (2,), (2,),
    (1, 2, 3), (1, 2, 3), (1, 2, 3), (1, 2, 3),
    (1, 3, 2), (1, 2, 3), (0, 1, 2, 3), (2, 3), (2, 3),
    (2, 1, 3), (1, 2, 3), (2, 1, 3), (1, 2, 3), (1, 2, 3), (2, 3), (2, 3), (2, 3),
    (2, 3), (2, 3), (2, 3), (2, 3), (0, 2),
    (2, 3), (2, 3), (2, 3), (2, 3), (2, 3), (2, 3),
    (2, 3), (3, 2),
    (2, 3), (2,), (2, 3), (2,), (2, 3), (2,),
]  # fmt: skip


@pytest.mark.parametrize("k", range(len(ROWS)), ids=[f"{k} {r.source}" for k, r in enumerate(ROWS)])
def test_a_row_is_the_integral(k):
    row, x = ROWS[k], gelvo.variable("x")
    letters = [number(n) for n in NUMBERS[k]]
    assert len(letters) == row.letters
    f = plain_function(row.integrand(x, *letters), x)
    low, high = ({"inf": 30.0, "-inf": -30.0}.get(str(e)) or float(gelvo.value(e)) for e in row.ends)
    places = [low + (high - low) * j / 12 for j in range(13)]
    if row.source.startswith("DLMF 10.22.46"):  # which swings for long
        with mpmath.workdps(20):
            whole = mpmath.quadosc(lambda t: t**2 * mpmath.besselj(1, 2 * t) / (3 + t**2), [0, mpmath.inf], omega=2)
        assert float(gelvo.value(row.value(*letters))) == pytest.approx(float(whole), rel=1e-7)
        return
    wanted = sum(quad(f, left, right)[0] for left, right in itertools.pairwise(places))
    if row.functions == (LN,) and row.ends[1] is gelvo.inf:  # which falls slowly
        wanted += quad(f, high, math.inf)[0]
    assert float(gelvo.value(row.value(*letters))) == pytest.approx(wanted, rel=1e-7, abs=1e-6)


RECOGNISED = [
    ("7*x*besselk(0, x)*besselj(0, a*x)", "0", "inf", ["a > 0"], "7/(1 + a^2)"),
    ("cos(b*x)*besselk(0, a*x)", "0", "inf", ["a > 0"], "pi/(2*sqrt(a^2 + b^2))"),
    ("sin(b*x)*besselk(0, a*x)", "0", "inf", ["a > 0"], "asinh(b/a)/sqrt(a^2 + b^2)"),
    ("exp(a*cos(x))*cos(2*x)", "0", "pi", [], "pi*besseli(2, a)"),
    (
        "x*exp(-a*x)/(exp(b*x) + 1)",
        "0",
        "inf",
        ["a > 0", "b > 0"],
        "(polygamma(1, (a + b)/(2*b)) - polygamma(1, a/(2*b) + 1))/(4*b^2)",
    ),
    ("2*sinh(a*x)/sinh(b*x)", "0", "inf", ["a > 0", "b > a"], "pi*tan(pi*a/(2*b))/b"),
    ("ln(a + b*cos(x))", "0", "pi", ["a > b", "b > 0"], "pi*ln((a + sqrt(a^2 - b^2))/2)"),
    ("ln(1 + a*x^2)/(b + x^2)", "0", "inf", ["a > 0", "b > 0"], "pi*ln(1 + sqrt(a*b))/sqrt(b)"),
    ("3*exp(-a*x)*besselj(1, b*x)*x", "0", "inf", ["a > 0"], "3*b/(a^2 + b^2)^(3/2)"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "given", "value"), RECOGNISED, ids=[r[0] for r in RECOGNISED])
def test_letters_are_read_off(f, lower, upper, given, value):
    x, a, b = (gelvo.variable(n) for n in "xab")
    facts = Facts([gelvo.formula(g, names_from=[a, b]) for g in given])
    ends = [gelvo.inf if e == "inf" else gelvo.formula(e) for e in (lower, upper)]
    found = list(integrals_with_a_name((gelvo.formula(f, names_from=[x, a, b]), *ends), x, facts))
    assert len(found) == 1 and gelvo.equal(found[0].value, gelvo.formula(value, names_from=[a, b]))


@pytest.mark.parametrize(
    "f",
    [
        "exp(-a*x)*besselj(0, b*x)",
        "cos(b*x)*besselk(0, a*x)",
        "besselj(0, x)*besselk(1, x)",
        "sinh(a*x)/sinh(b*x)",
        "sin(a*x)/(exp(b*x) - 1)",
    ],
)
def test_without_its_conditions_a_row_says_nothing(f):
    x, a, b = (gelvo.variable(n) for n in "xab")
    question = (gelvo.formula(f, names_from=[x, a, b]), number(0), gelvo.inf)
    assert not list(integrals_with_a_name(question, x, Facts()))
