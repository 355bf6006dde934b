"""Lessons for the collection of integrals: no line may fail its check, and most of the routine ones are worked without the search."""

from __future__ import annotations

from collections import Counter

import pytest

import gelvo
from gelvo.calculus.antiderivative.support import apart
from gelvo.calculus.lessons.line import Pupil
from gelvo.calculus.lessons.products import by_parts
from gelvo.calculus.lessons.tables import tables
from gelvo.calculus.lessons.teacher import lesson
from gelvo.facts.store import Facts
from sample_tasks import positive
from support import by_id, cases, names_in

ROUTINE = [c for c in cases("integrals_own.jsonl") if c["level"] <= 2 and c["expected"] == "proved"]
HARDER = [c for c in cases("integrals_own.jsonl") if c["level"] == 3 and c["expected"] == "proved"][::8]
X = gelvo.variable("x")


@pytest.mark.parametrize("case", [*ROUTINE[::5], *HARDER], ids=by_id)
def test_no_line_of_a_lesson_is_left_unproved(case):
    answer = gelvo.integrate(case["integrand"], case["variable"], given=positive(case["parameters"]), steps=True)
    steps = answer.steps
    assert steps and {s.verdict for s in steps} == {"proved"}
    assert steps[-1].equation.right == answer.expression
    assert str(steps[0].equation.left).startswith("integral_of(")


def test_most_of_the_routine_is_taught():
    """Lessons by the rules alone, for what a first or second year brings; the rest names the road of the answer."""
    taught = Counter()
    for case in ROUTINE:
        if len(case["integrand"]) > 60:  # long denominators are for the procedure
            continue
        given = positive(case["parameters"])
        f = gelvo.formula(case["integrand"], given=given)
        x = next(n for n in names_in(f) if n.name == case["variable"])
        taught[lesson(f, x, Facts()) is not None] += 1
    assert taught[True] >= 0.6 * (taught[True] + taught[False])


TABLES = [
    ("x^3", "x^4/4"),
    ("1/x", "ln(abs(x))"),
    ("(2*x + 1)^5", "(2*x + 1)^6/12"),
    ("cos(3*x)", "sin(3*x)/3"),
    ("1/cos(x)^2", "tan(x)"),
    ("1/(x^2 + 9)", "atan(x/3)/3"),
    ("1/sqrt(4 - x^2)", "asin(x/2)"),
    ("2^x", "2^x/ln(2)"),
    ("exp(-x^2)", "sqrt(pi)*erf(x)/2"),
    ("sin(x)/x", "Si(x)"),
    ("7", "7*x"),
]


@pytest.mark.parametrize(("f", "wanted"), TABLES, ids=[f for f, _ in TABLES])
def test_the_tables_have_what_stands_in_a_table(f, wanted):
    pupil = Pupil(X, Facts(), lambda g: None)
    assert gelvo.equal(next(tables(gelvo.formula(f), pupil)).closed, wanted, given=["x > 0", "x < 2"])
    assert next(tables(gelvo.formula(f), pupil)).rule.split()[0] in ("power", "table:", "a")


@pytest.mark.parametrize("f", ["x*exp(x^2)", "tan(x)*x", "1/(x^4 + 1)", "ln(x)", "exp(x)*sin(x)"])
def test_the_tables_have_nothing_else(f):
    assert next(tables(gelvo.formula(f), Pupil(X, Facts(), lambda g: None)), None) is None


@pytest.mark.parametrize(
    ("f", "chosen"),
    [("x*exp(x)", "x"), ("x^2*ln(x)", "ln(x)"), ("exp(x)*sin(2*x)", "sin(2*x)"), ("x*asin(x)", "asin(x)"), ("x^3*cos(x)", "x^3")],
)
def test_by_parts_differentiates_what_is_taught(f, chosen):
    pupil = Pupil(X, Facts(), lambda g: gelvo.integrate(g, X).expression)
    step = next(by_parts(gelvo.formula(f), pupil))
    assert step.rule.startswith(f"by parts: {chosen} is differentiated")
    whole = gelvo.differentiate(step.closed, "x") + sum(c * g for c, g in step.parts)
    assert gelvo.equal(whole, f)


def test_constants_are_set_apart():
    a = gelvo.variable("a")
    assert apart(3 * a * X**2, X) == (3 * a, X**2)
    assert apart(a + 1, X) == (a + 1, 1) and apart(X, X) == (1, X)


@pytest.mark.parametrize("n", range(2, 7))
@pytest.mark.parametrize("family", ["sin(x)^n", "x^n*exp(-x)", "tan(x)^n", "ln(x)^n"])
def test_a_recurrence_taken_again_and_again_ends_at_the_integral(family, n):
    """From n down to 0 or 1 by the recurrence alone, against the integral itself."""
    value = gelvo.formula(f"integral_of({family.replace('n(', '#(').replace('n', str(n)).replace('#(', 'n(')}, x)")
    whole = gelvo.recurrence(f"integral_of({family}, x)", "n").expression
    by_hand = gelvo.carry_out(gelvo.substitute(whole, {"n": n})).expression
    by_itself = gelvo.carry_out(value).expression
    assert gelvo.equal(gelvo.differentiate(by_hand, "x"), gelvo.differentiate(by_itself, "x"))
