"""Integrals worked line by line: the rules that are taken, the check of each line, and the same by quadrature."""

import re

import pytest
from scipy.integrate import quad

import gelvo
from gelvo.expression.nodes import Written
from gelvo.expression.traversal import postorder, transform
from support import names_in

LESSONS = [
    ("3*x^2 + 2*sin(x)", ["term by term", "power rule", "table: sin"]),
    ("x*exp(x^2)", ["substitution, u = x^2", "table: exp"]),
    ("ln(x)^2", ["by parts: ln(x)^2", "by parts: ln(x)", "a constant"]),
    ("x^2*cos(3*x)", ["table: cos for 3*x", "by parts: x^2", "table: sin for 3*x", "by parts: x "]),
    ("exp(2*x)*sin(3*x)", ["table: exp", "by parts: sin", "by parts: cos", "the integral came back, -9/4 times"]),
    ("cos(ln(x))", ["substitution, u = ln(x)", "table: exp", "by parts", "by parts", "the integral came back"]),
    ("sin(x)^2", ["products of waves as sums", "table: cos for 2*x", "a constant"]),
    ("sin(3*x)*cos(5*x)", ["products of waves as sums", "table: sin for 2*x", "table: sin for 8*x"]),
    ("sin(x)^2*cos(x)^3", ["substitution: beside a formula of sin(x)", "multiplied out", "power rule", "power rule"]),
    ("tan(x)^4", ["reduction formula for powers of tan", "table: tan(x)^2"]),
    ("sec(x)^3", ["reduction formula for powers of sec", "table: sec"]),
    ("sinh(x)^4", ["reduction formula for powers of sinh", "reduction formula for powers of sinh"]),
    ("1/(x^2 + 1)^2", ["reduction formula for powers of a quadratic", "table: 1/(x^2 + a^2), arctangent"]),
    ("1/(x^2 - 1)", ["partial fractions", "table: 1/x, logarithm, for x - 1", "table: 1/x"]),
    ("(3*x + 1)/(x^2 + 2*x + 5)", ["the slope of the denominator", "substitution", "table: 1/x", "square completed", "table: 1/(x^2"]),
    ("1/(x^4 + 1)", ["partial fractions", "the slope of the denominator"]),
    ("1/(1 + sqrt(x))", ["substitution, u = sqrt(x) + 1", "partial fractions", "table: 1/x", "a constant"]),
    ("x*sqrt(x + 1)", ["the root as new variable, u = sqrt(x + 1)", "multiplied out"]),
    ("sqrt(4 - x^2)", ["substitution x = 2*sin(u)", "products of waves as sums"]),
    ("x^2/sqrt(x^2 + 4)", ["substitution x = 2*sinh(u)", "term by term"]),
    ("1/sqrt(x^2 + 2*x + 5)", ["square completed", "table: 1/sqrt(x^2 + a^2), area sine"]),
    ("1/(1 + exp(x))", ["substitution, u = 1 + exp(x)", "partial fractions"]),
    ("exp(2*x)/(1 + exp(3*x))", ["the exponential as new variable", "partial fractions"]),
    ("1/(2 + cos(x))", ["the tangent of half the angle as new variable", "table: 1/(x^2"]),
    ("1/(1 + tan(x))", ["the tangent as new variable", "partial fractions"]),
    ("x*atan(x)", ["power rule", "by parts: atan(x)", "partial fractions"]),
    ("x*sec(x)^2", ["table: sec(x)^2", "by parts: x", "table: tan"]),
    ("x^3*exp(asin(x))/sqrt(1 - x^2)", ["substitution x = sin(u)", "products of waves as sums", "table: exp"]),
    ("x^2*exp(-x^2)", ["table: exp(-x^2), error function"]),
    ("2^x*x", ["table: a^x, exponential", "by parts: x"]),
]  # fmt: skip
PLACES = (0.31, 0.62)


@pytest.mark.parametrize(("text", "rules"), LESSONS, ids=[text for text, _ in LESSONS])
def test_an_integral_is_worked_line_by_line(text, rules):
    answer = gelvo.integrate(text, "x", steps=True)
    assert [s.rule[: len(r)] for s, r in zip(answer.steps, rules, strict=False)] == rules
    assert {s.verdict for s in answer.steps} == {"proved"}
    assert answer.steps[-1].statement == f"integral_of({gelvo.formula(text)}, x) = {answer.expression}"


def _number(e, x, at):
    return float(gelvo.numeric_function(e, [x])(at)) if x in names_in(e) else float(e)


def _growth(side, x, low, high):
    """By how much a side of a line grows between two places; written integrals by quadrature."""
    sizes = {
        f: quad(gelvo.numeric_function(f.body + 0 * x, [x]), low, high)[0] for f in postorder(side) if isinstance(f, Written)
    }
    at_low, at_high = (transform(side, lambda n, k=k: gelvo.formula(repr(k * sizes[n])) if n in sizes else n) for k in (0, 1))
    return _number(at_high, x, high) - _number(at_low, x, low)


@pytest.mark.parametrize(
    "text", ["x*exp(x^2)", "exp(2*x)*sin(3*x)", "sqrt(4 - x^2)", "1/(x^4 + 1)", "x*atan(x)", "1/(2 + cos(x))"]
)
def test_both_sides_of_a_line_grow_alike_by_quadrature(text):
    for step in gelvo.integrate(text, "x", steps=True).steps:
        x, inner, ends = step.equation.left.variable, step.equation.left.variable, PLACES
        if change := re.search(r", (u(?:_\d)?) = (.*)", step.rule):
            inner, place = gelvo.variable(change[1]), gelvo.formula(change[2])
            ends = tuple(_number(place, x, p) for p in PLACES)
        left, right = _growth(step.equation.left, x, *PLACES), _growth(step.equation.right, inner, *ends)
        assert left == pytest.approx(right, abs=1e-9), step


def test_a_definite_integral_is_explained_by_an_antiderivative_and_its_ends():
    steps = gelvo.integrate("x*atan(x)", "x", 0, 1, steps=True).steps
    assert steps[-1].rule == "the antiderivative at the ends" and steps[-1].statement.endswith("= (pi - 2)/4")
    assert "by parts" in steps[1].rule


def test_what_has_no_elementary_form_is_explained_by_the_proof():
    (step,) = gelvo.integrate("exp(-x^3)", "x", steps=True).steps
    assert step.verdict == "proved" and "no elementary antiderivative" in step.statement


def test_what_no_lesson_reaches_names_the_road_of_the_answer():
    (step,) = gelvo.integrate("1/sqrt(1 - k*sin(x)^2)", "x", given=["0 < k", "k < 1"], steps=True).steps
    assert "Legendre" in step.rule or "elliptic" in step.rule
