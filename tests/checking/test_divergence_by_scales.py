"""Divergence by comparison with powers and logarithms, under bars and with waves; what converges is never said to diverge."""

from __future__ import annotations

import pytest

import gelvo

# (integrand, lower, upper, facts, what it is)
DIVERGING = [
    ("1/x", "1", "inf", [], "inf"),
    ("1/x", "0", "1", [], "inf"),
    ("-1/x^2", "0", "1", [], "-inf"),
    ("1/(x*ln(x))", "2", "inf", [], "inf"),
    ("ln(x)/x", "1", "inf", [], "inf"),
    ("1/ln(x)", "0", "1", [], "-inf"),
    ("1/(1 - x)", "0", "1", [], "inf"),
    ("tan(x)", "0", "pi/2", [], "inf"),
    ("tan(x)", "0", "pi", [], "undefined"),
    ("1/cos(x)^2", "0", "pi", [], "inf"),
    ("1/sin(x)", "0", "1", [], "inf"),
    ("sin(x)/x^2", "0", "inf", [], "inf"),
    ("sin(x)^2/x", "0", "inf", [], "inf"),
    ("sin(x)^2/x", "1", "inf", [], "inf"),
    ("cos(x)^2/sqrt(x)", "1", "inf", [], "inf"),
    ("abs(sin(x))/x", "1", "inf", [], "inf"),
    ("sin(x)^2", "0", "inf", [], "inf"),
    ("cos(a*x)^2", "0", "inf", ["a > 0"], "inf"),
    ("sin(x)", "0", "inf", [], "undefined"),
    ("exp(-1j*w*x)", "0", "inf", ["w > 0"], "undefined"),
    ("x^(-a)", "0", "1", ["a > 1"], "inf"),
    ("x^a", "1", "inf", ["a > 0"], "inf"),
    ("exp(x)/x", "1", "inf", [], "inf"),
    ("exp(1/x)", "0", "1", [], "inf"),
    ("atan(x)", "0", "inf", [], "inf"),
    ("tanh(x) - 2", "0", "inf", [], "-inf"),
]


@pytest.mark.parametrize(("f", "lower", "upper", "given", "kind"), DIVERGING, ids=[f"{d[0]} {d[1]}" for d in DIVERGING])
def test_divergence_is_proved(f, lower, upper, given, kind):
    answer = gelvo.integrate(f, "x", lower, upper, given=given)
    assert str(answer.expression) == kind
    assert answer.verdict in ("proved", "supported")
    claim = f"integral_of({f}, x, {lower}, {upper})"
    for other in {"inf", "-inf", "undefined", "1"} - {kind}:
        assert gelvo.check(f"{claim} = {other}", given=given).verdict not in ("proved", "supported")


CONVERGING = [
    ("1/(x*ln(x)^2)", "2", "inf", []),
    ("1/sqrt(x)", "0", "1", []),
    ("ln(x)", "0", "1", []),
    ("sin(x)/x", "0", "inf", []),
    ("sin(x)/sqrt(x)", "0", "inf", []),
    ("cos(x)/sqrt(x)", "0", "inf", []),
    ("sin(x)^2/x^2", "0", "inf", []),
    ("sin(x^2)", "0", "inf", []),
    ("x^(-a)", "0", "1", ["a > 0", "a < 1"]),
    ("x^(-a)", "1", "inf", ["a > 1"]),
    ("exp(-x)*ln(x)", "0", "inf", []),
    ("1/sqrt(sin(x))", "0", "pi", []),
    ("exp(-1/x)/x^2", "0", "1", []),
    ("exp(-a*x - 1j*b*x)", "0", "inf", ["a > 0"]),
]


@pytest.mark.parametrize(("f", "lower", "upper", "given"), CONVERGING, ids=[f"{c[0]} {c[1]}" for c in CONVERGING])
def test_what_converges_is_not_said_to_diverge(f, lower, upper, given):
    claim = f"integral_of({f}, x, {lower}, {upper})"
    for kind in ("inf", "-inf", "undefined"):
        assert gelvo.check(f"{claim} = {kind}", given=given).verdict not in ("proved", "supported")
    assert str(gelvo.integrate(f, "x", lower, upper, given=given).expression) not in ("inf", "-inf", "undefined")
