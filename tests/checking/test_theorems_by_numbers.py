"""Each theorem of the checker against quadratures that share nothing with it, and what it must not say anything of."""

from __future__ import annotations

import math

import pytest
from scipy.integrate import quad

import gelvo
from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.definite.half_angles import by_half_angles
from gelvo.calculus.definite.shifted import geometric_terms
from gelvo.calculus.elementary.equation import solve
from gelvo.calculus.elementary.tower import Tower, Work
from gelvo.checking.values.beta import beta_integrals
from gelvo.checking.values.geometric import geometric_series
from gelvo.checking.values.swings import time_of_a_swing
from gelvo.checking.values.waves import powers_of_sine_and_cosine
from gelvo.errors import DomainError
from gelvo.evaluation.plain_floats import plain_function
from gelvo.expression.constants import INFINITE
from gelvo.facts.store import Facts

x = gelvo.variable("x")
ENDS = {"inf": INFINITE}


def question(f, lower, upper):
    return gelvo.formula(f, names_from=[x]), *(ENDS.get(e) or gelvo.formula(e) for e in (lower, upper))


def by_floats(f, lower, upper):
    """By halves, so that both ends may be singular."""
    work = plain_function(gelvo.formula(f, names_from=[x]), x)
    far = 60.0 if "exp" in f else math.inf
    low, high = (far if e == "inf" else float(gelvo.value(e)) for e in (lower, upper))
    middle = low + 1 if math.isinf(high) else (low + high) / 2
    return sum(quad(work, *ends, limit=200)[0] for ends in ((low, middle), (middle, high)))


SAID = [
    (powers_of_sine_and_cosine, "sin(x)^3*cos(x)^4", "0", "pi/2"),
    (powers_of_sine_and_cosine, "5*sin(x)^3*cos(x)^4", "pi/2", "2*pi"),
    (powers_of_sine_and_cosine, "sin(x)^6*cos(x)^3", "-pi/2", "pi"),
    (powers_of_sine_and_cosine, "sqrt(sin(x))*cos(x)^2", "0", "pi"),
    (powers_of_sine_and_cosine, "tan(x)^(1/3)", "0", "pi/2"),
    (beta_integrals, "x^2*(8 - x^3)^(1/2)", "0", "2"),
    (beta_integrals, "3*sqrt(x)*(4 - x^2)^(3/2)", "0", "2"),
    (beta_integrals, "sqrt(x^3 - 8)/x^4", "2", "inf"),
    (beta_integrals, "1/(x^3*sqrt(x - 1))", "1", "inf"),
    (geometric_series, "x^2*exp(-x)/(1 - exp(-3*x))", "0", "inf"),
    (geometric_series, "x/(exp(x) + 1 + exp(-x))", "0", "inf"),
    (geometric_series, "7*x^3*exp(-x/2)/(1 + exp(-2*x))", "0", "inf"),
    (geometric_series, "(exp(-x) - exp(-2*x))/(1 - exp(-5*x))", "0", "inf"),
    (time_of_a_swing, "1/sqrt(cos(x) - 1/2)", "0", "pi/3"),
    (time_of_a_swing, "3/sqrt(2*cos(x) + 1)", "-2*pi/3", "2*pi/3"),
    (time_of_a_swing, "1/sqrt(cos(x) - cos(2))", "0", "2"),
]


@pytest.mark.parametrize(("theorem", "f", "lower", "upper"), SAID, ids=[f"{c[1]} {c[2]}..{c[3]}" for c in SAID])
def test_a_theorem_is_the_integral(theorem, f, lower, upper):
    (found,) = theorem(question(f, lower, upper), x, Facts())
    assert float(gelvo.value(found.value)) == pytest.approx(by_floats(f, lower, upper), rel=1e-6, abs=1e-9)
    assert found.road


NOT_SAID = [
    (powers_of_sine_and_cosine, "sin(x)^3", "0", "1"),
    (powers_of_sine_and_cosine, "sqrt(sin(x))", "0", "2*pi"),
    (powers_of_sine_and_cosine, "sin(x)/cos(x)^2", "0", "pi/2"),
    (powers_of_sine_and_cosine, "sin(2*x)", "0", "pi/2"),
    (powers_of_sine_and_cosine, "x*sin(x)", "0", "pi/2"),
    (beta_integrals, "x^2*(8 - x^3)^(1/2)", "0", "1"),
    (beta_integrals, "(8 - x^3)^(-3/2)", "0", "2"),
    (beta_integrals, "1/(8 - x^3)^(1/2)/x^2", "0", "2"),
    (beta_integrals, "sqrt(x^3 - 8)/x^2", "2", "inf"),
    (geometric_series, "exp(-x)/(1 - exp(-x))", "0", "inf"),
    (geometric_series, "x/(1 - exp(-x))", "0", "inf"),
    (geometric_series, "x/(exp(x) - 2)", "0", "inf"),
    (geometric_series, "x*exp(-x^2)/(1 - exp(-x))", "0", "inf"),
    (time_of_a_swing, "1/sqrt(cos(x) - 1/2)", "0", "pi/4"),
    (time_of_a_swing, "x/sqrt(cos(x) - 1/2)", "0", "pi/3"),
    (time_of_a_swing, "1/sqrt(1/2 - cos(x))", "pi/3", "pi"),
]


@pytest.mark.parametrize(("theorem", "f", "lower", "upper"), NOT_SAID, ids=[f"{c[1]} {c[2]}..{c[3]}" for c in NOT_SAID])
def test_a_theorem_says_nothing_beyond_its_conditions(theorem, f, lower, upper):
    assert list(theorem(question(f, lower, upper), x, Facts())) == []


HALVES = [("sqrt(1 + cos(x))", True), ("(2 - 2*sin(3*x))^(3/2)", True), ("sqrt(2 + cos(x))", False), ("sqrt(1 + x)", False)]


@pytest.mark.parametrize(("f", "changed"), HALVES)
def test_roots_are_replaced_only_where_a_square_stands_below(f, changed):
    formula = gelvo.formula(f, names_from=[x])
    plain = by_half_angles(formula, x, Facts())
    assert (plain is not formula) is changed
    assert gelvo.equal(plain, formula)


def test_terms_over_sums_with_roots_of_one():
    n, terms, q, sign = geometric_terms(gelvo.formula("x^2/(exp(x) + 1 + exp(-x))", names_from=[x]), x, Facts())
    assert (n, sign, str(q)) == (2, -1, "3") and [(str(c), str(r)) for c, r in terms] == [("1", "1"), ("-1", "2")]


def test_the_work_of_a_search_is_bounded():
    tower = Tower(Work(1))
    generator = tower.add_primitive(tower.field.one)
    solve(tower, 0, generator.times(2), [tower.field.one])
    with pytest.raises(DomainError):
        solve(tower, 0, generator.times(2), [tower.field.one])


@pytest.mark.parametrize("f", ["x^(1/3)/(x^2 + 20*x + 5)", "1/(x^6 + 20*x^3 + 5)", "ln(2 + sin(x))", "asinh(x)*cosh(5*x/3)"])
def test_what_has_no_short_antiderivative_is_given_up_in_time(f):
    with gelvo.time_limit(30):
        assert antiderivative(gelvo.formula(f, names_from=[x]), x, Facts()) is None
