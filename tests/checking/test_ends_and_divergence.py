"""Ends of antiderivatives and proofs of divergence, by the checker's own code: right where told, and silent where a sign is not known."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.checking.divergence import by_two_sequences
from gelvo.checking.ends import value_at
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ZERO
from gelvo.facts.store import Facts

ENDS = {"inf": INFINITE, "-inf": MINUS_INFINITE, "0": ZERO}
# (formula, end, side, facts, limit: None where it must not be told)
LIMITS = [
    ("atan(x)", "inf", "", [], "pi/2"),
    ("atan(x)", "-inf", "", [], "-pi/2"),
    ("erf(2*x)", "inf", "", [], "1"),
    ("Si(3*x)", "inf", "", [], "pi/2"),
    ("Si(x)", "-inf", "", [], "-pi/2"),
    ("Ci(2*x)", "inf", "", [], "0"),
    ("Ci(x)", "-inf", "", [], None),
    ("erfc(x)", "inf", "", [], "0"),
    ("erfc(x)", "-inf", "", [], None),
    ("Ei(-x)", "inf", "", [], "0"),
    ("Ei(x)", "inf", "", [], None),
    ("besselk(0, x)", "inf", "", [], "0"),
    ("airyai(x)", "inf", "", [], "0"),
    ("airyai(x)", "-inf", "", [], None),
    ("gamma_inc(a, x)", "inf", "", ["a > 0"], "0"),
    ("gamma_inc(a, x)", "0", "above", ["a > 0"], "gamma(a)"),
    ("gamma_inc(a, x)", "0", "above", [], None),
    ("x*gamma_inc(a, 2*x)", "0", "above", ["a > 0"], "0"),
    ("x^n", "0", "above", ["n > 0"], "0"),
    ("x^n", "0", "above", [], None),
    ("x^n*ln(x)", "0", "above", ["n > 0"], "0"),
    ("x^n*ln(x)^3", "0", "above", ["n > 0"], "0"),
    ("x^n/x", "0", "above", ["n > 0"], None),
    ("x^(-n)", "inf", "", ["n > 0"], "0"),
    ("x^(-n)*x^2", "inf", "", ["n > 0"], None),
    ("x^(-n)*(1 + x)^2", "inf", "", ["n > 0"], None),
    ("x^(-n)*ln(x)", "inf", "", ["n > 0"], "0"),
    ("exp(-a*x)", "inf", "", ["a > 0"], "0"),
    ("exp(-a*x)", "inf", "", [], None),
    ("x^5*exp(-a*x)*sin(x)", "inf", "", ["a > 0"], "0"),
    ("exp(x)*sin(x)", "inf", "", [], None),
    ("sin(x)", "inf", "", [], None),
    ("sin(x)/x", "inf", "", [], "0"),
    ("ln(x)/x", "inf", "", [], "0"),
    ("ln(x)", "inf", "", [], "inf"),
    ("-x^2 + x", "inf", "", [], "-inf"),
    ("x - ln(x)", "inf", "", [], "inf"),
    ("a*x", "inf", "", [], None),
    ("ln((x + 1)/(x + 2))", "inf", "", [], "0"),
    ("exp(x) - exp(2*x)", "inf", "", [], None),
    ("x - ln(1 + exp(x - 2))", "inf", "", [], "2"),
    ("x - ln(3 + 2*exp(x))", "inf", "", [], "-ln(2)"),
    ("x/k - ln(1 + exp((x - m)/k))", "inf", "", ["k > 0"], "m/k"),
    ("x - ln(1 + exp(k*x))", "inf", "", [], None),
    ("ln(1 + exp(x))/x", "inf", "", [], "1"),
    ("1/x", "0", "above", [], "inf"),
    ("1/x", "0", "below", [], "-inf"),
    ("1/x^2", "0", "below", [], "inf"),
    ("x*ln(x)", "0", "above", [], "0"),
]


@pytest.mark.parametrize(("text", "end", "side", "given", "wanted"), LIMITS, ids=[f"{t} at {e} {g}" for t, e, _, g, _ in LIMITS])
def test_the_checker_knows_ends_of_its_own(text, end, side, given, wanted):
    x = gelvo.variable("x")
    facts = Facts([gelvo.formula(g) for g in given])
    found = value_at(gelvo.formula(text, names_from=[x]), x, ENDS[end], facts, side)
    if wanted is None or found is None:
        assert found is None or wanted is not None
        assert wanted is None
        return
    if wanted in ("inf", "-inf"):
        assert str(found) == wanted
    else:
        assert gelvo.equal(found, wanted, given=given)


# antiderivatives that swing for ever towards the end, and some that do not, or whose sequences go elsewhere
SEQUENCES = [
    ("-cos(x)", "inf", "", True),
    ("sin(x) - x*cos(x)", "inf", "", True),
    ("exp(x)*sin(x)", "inf", "", True),
    ("exp(x)*(sin(x) - cos(x))/2", "inf", "", True),
    ("sin(2*x) + cos(4*x)", "inf", "", True),
    ("-cos(x^2)/2", "inf", "", True),
    ("x/2 - sin(2*x)/4", "inf", "", False),
    ("sin(x)/x", "inf", "", False),
    ("exp(-x)*sin(x)", "inf", "", False),
    ("cos(x)^2 + sin(x)^2", "inf", "", False),
    ("cos(1/x)", "0", "above", True),
    ("cos(1/x)", "0", "below", False),
    ("cos(1/x)", "inf", "", False),
    ("cos(x)", "0", "above", False),
    ("x*cos(1/x)", "0", "above", False),
    ("sin(x) + sin(pi*x)", "inf", "", False),
    ("cos(a*x)", "inf", "", False),
    ("atan(x)", "inf", "", False),
]


@pytest.mark.parametrize(("text", "end", "side", "parts"), SEQUENCES, ids=[f"{t} at {e} {s}" for t, e, s, _ in SEQUENCES])
def test_two_sequences_are_found_where_there_are_some_and_nowhere_else(text, end, side, parts):
    x = gelvo.variable("x")
    assert bool(by_two_sequences(gelvo.formula(text, names_from=[x]), x, ENDS[end], side, Facts())) is parts


CLAIMS = [
    ("integral_of(1/x, x, -1, 1) = undefined", "proved"),
    ("integral_of(1/x^2, x, -1, 1) = inf", "proved"),
    ("integral_of(1/(x^2 - 4), x, 0, 3) = undefined", "proved"),
    ("integral_of(sin(x), x, 0, inf) = undefined", "proved"),
    ("integral_of(x*sin(x^2), x, 0, inf) = undefined", "proved"),
    ("integral_of(cos(x)/x, x, 0, inf) = inf", "proved"),
    ("integral_of(x^n, x, 0, 1) = 1/(n + 1)", "proved"),
    ("integral_of(1/x, x, 1, 2) = undefined", "refuted"),
    ("integral_of(exp(-x), x, 0, inf) = inf", "refuted"),
    ("integral_of(x^n, x, 0, 1) = 1/(n + 2)", "refuted"),
]


@pytest.mark.parametrize(("claim", "verdict"), CLAIMS, ids=[c for c, _ in CLAIMS])
def test_claims_about_integrals(claim, verdict):
    given = (
        ["n > 0"] if "n" in claim.replace("inf", "").replace("undefined", "").replace("integral", "").replace("sin", "") else []
    )
    integral, _, value = claim.partition(" = ")
    certificate = gelvo.check(f"{integral} = {value}", given=given) if value not in ("undefined",) else None
    if certificate is None:  # `undefined` is no value that an equation may have: the operation claims it
        body, name, low, high = integral.removeprefix("integral_of(").removesuffix(")").rsplit(", ", 3)
        answer = gelvo.integrate(body, name, low, high)
        assert (str(answer.expression) == "undefined" and answer.verdict == "proved") is (verdict == "proved")
        return
    assert certificate.verdict == verdict
