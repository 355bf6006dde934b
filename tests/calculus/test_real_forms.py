"""Antiderivatives whose real form is a part of a complex value: Gaussians with waves, arctangent integrals; held against numbers."""

from __future__ import annotations

from random import Random

import pytest
from mpmath import mp, mpf

import gelvo
from sample_tasks import is_open, numeric


def holds_by_numbers(f, answer, at, place="0.37"):
    step = mpf("1e-5")

    def value(k):
        return numeric(answer.expression, {**at, "x": mp.nstr(mpf(place) + k * step, 24)})

    with mp.workdps(30):
        slope = (value(-2) - 8 * value(-1) + 8 * value(1) - value(2)) / (12 * step)
        wanted = numeric(gelvo.formula(f), {**at, "x": place})
        return abs(slope - wanted) < mpf("1e-13") * (1 + abs(wanted))


def random_gaussian_wave(rng):
    a, b, c = rng.choice([1, 2, "1/2", "3/4"]), rng.choice([0, 1, -2, "1/3"]), rng.choice([0, 1, "-1/2"])
    w, p = rng.choice([1, 2, 3, "1/2"]), rng.choice([0, 1, "pi/4"])
    power = rng.randint(0, 3)
    return f"x^{power}*exp(-({a})*x^2 + ({b})*x + ({c}))*{rng.choice(['sin', 'cos'])}(({w})*x + ({p}))"


@pytest.mark.parametrize("seed", range(24))
def test_gaussians_with_waves_are_proved_and_right(seed):
    f = random_gaussian_wave(Random(seed))
    answer = gelvo.integrate(f, "x")
    assert not is_open(answer) and answer.verdict == "proved"
    assert holds_by_numbers(f, answer, {})


WITH_LETTERS = [
    ("exp(-a*x^2)*sin(b*x)", ["a > 0"]),
    ("x*exp(-a*x^2)*cos(b*x)", ["a > 0"]),
    ("exp(-a*x^2 + b*x)*cos(x)", ["a > 0"]),
    ("atan(x/a)/x", ["a > 0"]),
    ("ln(x)/(x^2 + a^2)", ["a > 0", "x > 0"]),
    ("atan(2*x)/x", []),
    ("ln(x)/(4*x^2 + 9)", ["x > 0"]),
    ("(1 + atan(x))/x", ["x > 0"]),
    ("ln(x)*(1 + 1/(x^2 + 1))", ["x > 0"]),
    ("x*ln(x)/(x^2 + a^2)", ["a > 0", "x > 0"]),
    ("(x + 1)*ln(x)/(x^2 + 1)", ["x > 0"]),
    ("atan(x)*ln(x)", ["x > 0"]),
]


@pytest.mark.parametrize(("f", "given"), WITH_LETTERS, ids=[f for f, _ in WITH_LETTERS])
def test_letters_stand_where_they_should(f, given):
    answer = gelvo.integrate(f, "x", given=given)
    assert not is_open(answer) and answer.verdict == "proved"
    assert holds_by_numbers(f, answer, {"a": "1.4", "b": "0.6"})


def test_a_gaussian_that_grows_is_not_taken_for_one_that_falls():
    answer = gelvo.integrate("exp(a*x^2)*sin(x)", "x", given=["a > 0"])
    assert is_open(answer)
    conditional = gelvo.integrate("exp(-a*x^2)*sin(x)", "x")
    assert [str(c) for c in conditional.conditions] == ["a > 0"]


POWERS = [
    ("x^(1/3)*exp(-2*x)", "gamma_inc"),
    ("x^(3/2)*exp(-x^2)", "gamma_inc"),
    ("exp(-x^(3/2))", "gamma_inc"),
    ("x^p*exp(-x^q)", "gamma_inc"),
    ("x^(1/3)*(1 - x)^(1/5)", "beta_inc"),
    ("x^p*(1 - x^2)^q", "beta_inc"),
    ("(2 - x^3)^(1/4)", "beta_inc"),
]


@pytest.mark.parametrize(("f", "name"), POWERS, ids=[f for f, _ in POWERS])
def test_powers_lead_to_incomplete_functions(f, name):
    answer = gelvo.integrate(f, "x", given=["0 < x", "x < 1", "p > 0", "q > 0"])
    assert name in str(answer.expression) and answer.verdict == "proved"
    assert holds_by_numbers(f, answer, {"p": "0.7", "q": "1.6"})


@pytest.mark.parametrize(("f", "given"), [("x^(1/3)*(1 + x)^(1/5)", []), ("x^p*(1 - x)^q", ["x < 0"]), ("x^(1/3)*exp(x)", [])])
def test_where_they_would_not_be_real_they_are_not_used(f, given):
    answer = gelvo.integrate(f, "x", given=given)
    assert is_open(answer) or "_inc" not in str(answer.expression) or "x > 0" in str(answer.conditions)


@pytest.mark.parametrize("f", ["atan(2*x)/(x^2 + 1)", "atan(x)/(x^2 + 4)", "x*atan(2*x)/(x^2 + 1)"])
def test_arctangents_of_different_scales_are_proved_to_have_no_elementary_form(f):
    answer = gelvo.integrate(f, "x")
    assert is_open(answer) and answer.verdict == "proved"
    assert "no elementary antiderivative" in answer.reason


def test_a_complex_function_never_joins_by_itself():
    """Of im(polylog(2, 1j*x)) the part is real; the function inside of it is not, and stays inside."""
    answer = gelvo.integrate("x*ln(x)/(x^2 + 1)", "x")
    assert "1j" not in str(answer.expression) and answer.verdict == "proved"


@pytest.mark.parametrize("low", [0, "1/2"])
def test_between_ends_the_real_forms_have_values(low):
    """The inverse tangent integral: Catalan's constant from 0 to 1, as a textbook says."""
    whole = gelvo.integrate("atan(x)/x", "x", low, 1)
    wanted = mp.quad(lambda x: mp.atan(x) / x, [mpf(0.5) if low else 0, 1])
    assert abs(float(gelvo.value(whole.expression)) - float(wanted)) < 1e-12
    assert whole.verdict in ("proved", "supported")


@pytest.mark.parametrize("ends", [(0, 1), (-1, "1/2")])
def test_a_damped_wave_under_a_gaussian_has_its_integral_between_ends(ends):
    whole = gelvo.integrate("exp(-x^2)*cos(2*x)", "x", *ends)
    wanted = mp.quad(lambda x: mp.exp(-(x**2)) * mp.cos(2 * x), [mpf(float(gelvo.formula(str(e)))) for e in ends])
    assert abs(float(gelvo.value(whole.expression)) - float(wanted)) < 1e-12
