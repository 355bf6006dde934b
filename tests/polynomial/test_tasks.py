"""The collected polynomial tasks, through the public operations."""

from __future__ import annotations

from fractions import Fraction

import pytest

import gelvo
from support import by_id, cases

TASKS = [*cases("polynomials.jsonl"), *cases("polynomials_own.jsonl")]


def of_kind(kind):
    return pytest.mark.parametrize("case", [c for c in TASKS if c["kind"] == kind], ids=by_id)


def count_terms(e):
    return len(getattr(e, "terms", [1])) + bool(getattr(e, "constant", 0))


@of_kind("expand")
def test_expanded_products(case):
    result = gelvo.expand(case["input"])
    assert count_terms(result) == case["terms"]
    for point, right in case["values"]:
        assert gelvo.substitute(result, {k: Fraction(v) for k, v in point.items()}) == Fraction(right)


@of_kind("factor")
def test_factors(case):
    result = gelvo.factor(gelvo.expand(case["input"]))
    assert gelvo.expand(result) is gelvo.expand(case["input"])
    found = len(list(getattr(result, "factors", [result])))
    assert found == case.get("exactly", len(case.get("factors", [])) or found) and found >= case.get("at_least", 1)


@of_kind("gcd")
def test_common_factors(case):
    found = gelvo.gcd(gelvo.expand(case["left"]), gelvo.expand(case["right"]))
    if "answer" in case:
        assert gelvo.equal(found, case["answer"]) or gelvo.equal(-found, case["answer"])
    else:
        assert (
            gelvo.gcd(found, gelvo.expand(case["contains"])) in (found, -found)
            or gelvo.denominator(found / gelvo.formula(case["contains"])) == 1
        )


@of_kind("partial_fractions")
def test_partial_fractions(case):
    result = gelvo.partial_fractions(case["input"], case["variable"])
    assert gelvo.equal(result, case.get("answer", case["input"]))
    assert gelvo.partial_fractions(result, case["variable"]) is result


@of_kind("collect")
def test_coefficients(case):
    found = gelvo.coefficients(case["input"], case["variable"])
    assert set(found) == {int(k) for k in case["coefficients"]}
    assert all(gelvo.equal(found[int(k)], v) for k, v in case["coefficients"].items())


@of_kind("common_denominator")
def test_lowest_terms(case):
    top, bottom = gelvo.numerator(case["input"]), gelvo.denominator(case["input"])
    assert gelvo.equal(top * gelvo.formula(case["denominator"]), bottom * gelvo.formula(case["numerator"]))
    assert gelvo.degree(gelvo.gcd(top, bottom), "x") in (0, gelvo.degree("0", "x"))


@of_kind("real_roots")
def test_real_roots(case):
    found = sorted(float(s[gelvo.variable("x")]) for s in gelvo.solve(gelvo.formula(case["polynomial"]), "x"))
    assert len(found) == case["count"]
    for value, (low, high) in zip(found, case.get("intervals", []), strict=False):
        assert float(Fraction(low)) <= value <= float(Fraction(high))


@of_kind("discriminant")
def test_discriminants(case):
    assert gelvo.equal(gelvo.discriminant(case["polynomial"], case["variable"]), case["answer"])


@of_kind("resultant")
def test_resultants(case):
    assert gelvo.equal(gelvo.resultant(case["left"], case["right"], case["variable"]), case["answer"])


@of_kind("groebner-solve")
def test_polynomial_systems(case):
    found = gelvo.solve(case["system"], case["unknowns"])
    assert len(found) == case["real_count"]
    for solution in list(found)[:2]:
        for text in case["system"]:
            equation = gelvo.formula(text)
            gap = gelvo.substitute(equation.left - equation.right, solution)
            assert gap == 0 or abs(float(gelvo.value(gap + 1, 20)) - 1) < 1e-15
