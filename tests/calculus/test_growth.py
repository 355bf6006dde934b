"""Limits at infinity and beside a point, as definite integrals need them; zeros on an interval."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.limits import limit_beside
from gelvo.calculus.zeros import NotKnown, order, zeros_between
from gelvo.facts.store import Facts
from gelvo.reading.context import Context
from gelvo.reading.stated import read_facts

x = gelvo.variable("x")

AT_INFINITY = [
    ("1/x", [], "0"),
    ("x", [], "inf"),
    ("-x^2", [], "-inf"),
    ("(3*x^2 - x + 4)/(2*x^2 + 5*x - 7)", [], "3/2"),
    ("x*exp(-x)", [], "0"),
    ("exp(x)/x^10", [], "inf"),
    ("ln(x)/x", [], "0"),
    ("ln(x)", [], "inf"),
    ("x*ln(x)", [], "inf"),
    ("atan(x)", [], "pi/2"),
    ("atan(-2*x)", [], "-pi/2"),
    ("erf(a*x)", ["a > 0"], "1"),
    ("tanh(x)", [], "1"),
    ("exp(-a*x)*x^3", ["a > 0"], "0"),
    ("exp(-a*x)", ["a < 0"], "inf"),
    ("sin(x)/x", [], "0"),
    ("exp(-x)*cos(x)", [], "0"),
    ("sin(1/x)*x", [], "1"),
    ("sqrt(x^2 + 1)/x", [], "1"),
    ("x^2/(x + 1) - x", [], "-1"),
    ("ln(x + 1) - ln(x)", [], "0"),
    ("ln(x + 1) - ln(x) + 3", [], "3"),
    ("x*(ln(x + 1) - ln(x))", [], "1"),
    ("a/x + b", [], "b"),
    ("exp(1/x)", [], "1"),
    ("sinh(x)/exp(x)", [], "1/2"),
    ("abs(x)/x", [], "1"),
]


@pytest.mark.parametrize(("text", "given", "limit"), AT_INFINITY, ids=[c[0] for c in AT_INFINITY])
def test_limits_at_infinity(text, given, limit):
    e = gelvo.formula(text)
    facts = Facts(read_facts(given, Context.of(e)))
    assert limit_at_infinity(e, x, facts) is gelvo.formula(limit)


@pytest.mark.parametrize("text", ["sin(x)", "x*sin(x)", "exp(a*x)", "x + sin(x)*x", "x^a"])
def test_what_is_not_decided_is_none(text):
    assert limit_at_infinity(gelvo.formula(text), x, Facts()) is None


BESIDE = [
    ("1/x", "0", "above", "inf"),
    ("1/x", "0", "below", "-inf"),
    ("1/x^2", "0", "below", "inf"),
    ("ln(x)", "0", "above", "-inf"),
    ("x*ln(x)", "0", "above", "0"),
    ("sqrt(x)", "0", "above", "0"),
    ("exp(-1/x)", "0", "above", "0"),
    ("sin(x)/x", "0", "above", "1"),
    ("(x^2 - 1)/(x - 1)", "1", "above", "2"),
    ("atan(1/x)", "0", "below", "-pi/2"),
]


@pytest.mark.parametrize(("text", "point", "side", "limit"), BESIDE, ids=[f"{c[0]} {c[2]} {c[1]}" for c in BESIDE])
def test_one_sided_limits(text, point, side, limit):
    assert limit_beside(gelvo.formula(text), x, gelvo.formula(point), side, Facts()) is gelvo.formula(limit)


ZEROS = [
    ("x - 1", "0", "2", ["1"]),
    ("x - 3", "0", "2", []),
    ("x^2 - 2", "-2", "2", ["-sqrt(2)", "sqrt(2)"]),
    ("x^2 + 1", "-2", "2", []),
    ("x*(x - 1)*(x - 5)", "0", "3", ["0", "1"]),
    ("sin(x)", "0", "7", ["0", "pi", "2*pi"]),
    ("cos(2*x)", "0", "pi", ["pi/4", "3*pi/4"]),
    ("exp(x)", "-5", "5", []),
    ("ln(x)", "1/2", "3", ["1"]),
    ("exp(x) - 2", "0", "5", ["ln(2)"]),
    ("2 + cos(x)", "0", "10", []),
    ("x", "-inf", "inf", ["0"]),
    ("x - a", "0", "2*a", ["a"]),
    ("sqrt(x) - 1", "0", "4", ["1"]),
    ("exp(x) + x^2 + 1", "0", "3", []),
    ("sin(pi*x^2)", "1/2", "2", ["1", "sqrt(2)", "sqrt(3)", "2"]),
    ("sin(pi/x)", "1/3", "2", ["1/3", "1/2", "1"]),
    ("cos(pi*exp(x))", "0", "1", ["ln(3/2)", "ln(5/2)"]),
    ("sin(2*sin(x))", "0", "7", ["0", "pi", "2*pi"]),
    ("cos(x^2 + 1)", "0", "1", ["sqrt(pi/2 - 1)"]),
]


@pytest.mark.parametrize(("g", "lower", "upper", "places"), ZEROS, ids=[f"{z[0]} in {z[1]}..{z[2]}" for z in ZEROS])
def test_zeros_on_an_interval(g, lower, upper, places):
    facts = Facts(read_facts(["a > 0"], Context()))
    found = zeros_between(gelvo.formula(g), x, gelvo.formula(lower), gelvo.formula(upper), facts)
    assert len(found) == len(places)
    for mine, right in zip(found, places, strict=True):
        assert gelvo.equal(mine, right)


@pytest.mark.parametrize(
    ("g", "lower", "upper"),
    [
        ("x - b", "0", "1"),
        ("sin(x)", "0", "inf"),
        ("x - tan(x) + b", "0", "5"),
        ("x^2 - b", "0", "1"),
        ("sin(1/x)", "0", "1"),
        ("sin(b*x^2)", "0", "1"),
        ("sin(x^2)", "0", "100"),
    ],
)
def test_zeros_that_are_not_known(g, lower, upper):
    with pytest.raises(NotKnown):
        zeros_between(gelvo.formula(g), x, gelvo.formula(lower), gelvo.formula(upper), Facts())


def test_the_order_of_places():
    facts = Facts(read_facts(["a > 0", "b > a"], Context()))
    a, b = gelvo.variables("a", "b")
    assert order(a, b, facts) == -1 and order(b, a, facts) == 1 and order(a, a, facts) == 0
    assert order(gelvo.formula("sqrt(2)"), gelvo.formula("3/2"), facts) == -1
    assert order(gelvo.formula("sqrt(2)*sqrt(3)"), gelvo.formula("sqrt(6)"), facts) == 0
    assert order(a, gelvo.inf, facts) == -1 and order(-gelvo.inf, a, facts) == -1
    with pytest.raises(NotKnown):
        order(gelvo.variable("c"), a, facts)
