"""Limits of sequences class by class, of what steps, and of functions far out and beside their branch points and poles."""

from __future__ import annotations

import mpmath
import pytest

import gelvo
from hunt.plain import mp, read, value
from sample_tasks import numeric

SEQUENCES = [
    ("(-1)^n", "undefined"), ("(-1)^n/n", "0"), ("(2*n + (-1)^n)/(n + 3)", "2"), ("sin(pi*n)", "0"), ("cos(pi*n)", "undefined"),
    ("cos(2*pi*n)", "1"), ("sin(pi*n/2)", "undefined"), ("cos(pi*n/3)/n", "0"), ("(1 + (-1)^n)*n", "undefined"),
    ("n + (-1)^n", "inf"), ("(-1)^(2*n)", "1"), ("(-1)^(n*(n + 1))", None), ("sin(pi*n/3)^2 + cos(pi*n/3)^2", "1"), ("n*sin(pi*n)", "0"),
    ("(n + cos(pi*n))/(n - cos(pi*n))", "1"), ("factorial(n)/n^n", "0"), ("(3^n + 5^n)^(1/n)", "5"), ("(1 - 2/n)^n", "exp(-2)"),
    ("n*sin(2*pi*exp(1)*factorial(n))", None), ("factorial(2*n)*sqrt(n)/(factorial(n)^2*4^n)", "1/sqrt(pi)"),
]  # fmt: skip


@pytest.mark.parametrize(("term", "wanted"), SEQUENCES, ids=[s[0] for s in SEQUENCES])
def test_sequences_have_their_limits(term, wanted):
    answer = gelvo.limit(term, "n", "inf", given=["n integer"])
    if wanted is None:
        assert "limit_of" in str(answer) or str(answer.expression) == "1"  # what is not known is not said
    elif wanted in ("undefined", "inf"):
        assert str(answer.expression) == wanted
    else:
        assert gelvo.equal(answer.expression, wanted) and answer.verdict in ("proved", "supported")


@pytest.mark.parametrize("term", ["a*(-1)^n", "(a - b)*cos(pi*n)", "a*cos(pi*n/2) + b"])
def test_letters_that_may_vanish_leave_it_open(term):
    """For a = 0 there is a limit."""
    assert "limit_of" in str(gelvo.limit(term, "n", "inf", given=["n integer"]))
    assert str(gelvo.limit(term, "n", "inf", given=["n integer", "a > 0", "b < 0"]).expression) == "undefined"


STEPS = [
    ("floor(x)/x", "inf", None, "1"), ("x*floor(1/x)", "0", None, "1"), ("x - floor(x)", "inf", None, "undefined"),
    ("floor(x)", "3", "below", "2"), ("floor(x)", "3", "above", "3"), ("ceil(x)", "3", "above", "4"), ("ceil(x)", "5/2", None, "3"),
    ("floor(x)", "inf", None, "inf"), ("floor(x)^2/x^2", "inf", None, "1"), ("(x - floor(x))/x", "inf", None, "0"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "point", "side", "wanted"), STEPS, ids=[f"{s[0]} at {s[1]}" for s in STEPS])
def test_steps_near_and_far(f, point, side, wanted):
    answer = gelvo.limit(f, "x", point, side)
    assert str(answer.expression) == wanted


SWINGING = ["cos(x)", "x*cos(x)", "sin(x) + cos(2*x)", "x - floor(x)", "sin(x)^2", "exp(sin(x))", "x*sin(x)^2"]


@pytest.mark.parametrize("f", SWINGING)
def test_no_limit_is_proved_by_two_sequences(f):
    answer = gelvo.limit(f, "x", "inf")
    assert str(answer.expression) == "undefined" and answer.verdict == "proved"
    assert "leads to" in str(answer.certificate())


# formula, its variable, where, the last power: the rest must shrink with the power that is left out
EXPANSIONS = [
    ("digamma(x)", "inf", 4), ("loggamma(x) - (x - 1/2)*ln(x) + x", "inf", 5), ("gamma(x + 1/2)/(gamma(x)*sqrt(x))", "inf", 3),
    ("gamma(x)*exp(x)*x^(1/2 - x)", "inf", 3), ("sqrt(pi)*x*exp(x^2)*erfc(x)", "inf", 6), ("x*exp(-x)*Ei(x)", "inf", 4),
    ("x*exp(x)*gamma_inc(0, x)", "inf", 3), ("exp(-x)*besseli(0, x)*sqrt(x)", "inf", 3), ("exp(x)*besselk(1, x)*sqrt(x)", "inf", 3),
    ("x^2*polygamma(1, x)", "inf", 3), ("exp(2*x^(3/2)/3)*airyai(x)*x^(1/4)", "inf", 3),
    ("exp(-2*x^(3/2)/3)*airybi(x)*x^(1/4)", "inf", 3), ("acos(1 - x)", "0", 3), ("asin(1 - x)", "0", 2), ("acosh(1 + x)", "0", 3),
    ("atanh(1 - x)", "0", 2), ("ellipk(1 - x)", "0", 2), ("ellipe(1 - x)", "0", 2), ("ellipk(x)", "0", 4), ("lambertw(x - exp(-1))", "0", 2),
    ("digamma(x)", "0", 1), ("digamma(x)", "-2", 1), ("polygamma(1, x)", "0", 1), ("loggamma(x)", "0", 2), ("gamma(x)", "-1", 0),
    ("zeta(x)", "1", 0), ("zeta(x)", "0", 1), ("bessely(0, x)", "0", 3), ("bessely(1, x)", "0", 3), ("besselk(0, x)", "0", 3),
    ("besselk(2, x)", "0", 3), ("besselk(1/3, x)", "0", 2), ("besselj(1/2, x)", "0", 3), ("bessely(1/4, x)", "0", 2), ("Ei(x)", "0", 3),
    ("Ci(x)", "0", 4), ("(1 + x)^(1/x)", "0", 3), ("(1 + 1/x)^x", "inf", 3), ("sin(x)^(1/3)", "0", 4),
]  # fmt: skip


@pytest.mark.parametrize(("f", "about", "through"), EXPANSIONS, ids=[f"{e[0]} at {e[1]}" for e in EXPANSIONS])
def test_the_rest_of_an_expansion_is_of_its_order(f, about, through):
    given = ["x > " + about] if about != "inf" else ["x > 0"]
    answer = gelvo.series(f, "x", about, through, given=given)
    source, rests = read(f), []
    for h in (mpmath.mpf(1) / 64, mpmath.mpf(1) / 256):
        place = 1 / h if about == "inf" else mpmath.mpf(about) + h
        at = {"x": mpmath.nstr(place, 40)}
        exact = (
            numeric(gelvo.formula(f), at, 40).real
            if "gamma_inc" in f or "zeta" in f
            else mpmath.mpf(str(value(source, {"x": mp.mpf(at["x"])})))
        )
        rests.append(abs(exact - numeric(answer.expression, at, 40).real))
    assert rests[1] < rests[0] / 4 ** (float(through) + 0.2)


KNOWN = [
    ("acos(1 - x)", "0", "proved"), ("digamma(x)", "inf", "proved"), ("gamma(x)", "0", "proved"), ("x/(exp(x) - 1)", "0", "proved"),
    ("cot(x)", "0", "proved"), ("exp(-x)*besseli(0, x)*sqrt(x)", "inf", "proved"), ("sqrt(x^2 + 1)", "inf", "proved"),
    ("x^x", "0", "proved"), ("sin(x)^(1/3)", "0", "proved"), ("(1 + x)^(1/x)", "0", "proved"),
]  # fmt: skip


@pytest.mark.parametrize(("f", "about", "verdict"), KNOWN, ids=[f"{k[0]} at {k[1]}" for k in KNOWN])
def test_expansions_are_proved(f, about, verdict):
    assert gelvo.series(f, "x", about, 3, given=["x > 0"]).verdict == verdict


def test_no_name_of_the_inside_is_shown():
    """ln(x) stays below in the expansion of li, so that there is none in powers of 1/x."""
    with pytest.raises(gelvo.NoClosedForm):
        gelvo.series("li(x)*ln(x)/x", "x", "inf", 2)
    for f in ("x*exp(-x)*Ei(x)", "gamma(x)*exp(x)*x^(1/2 - x)", "digamma(x) - ln(x)"):
        assert "far out" not in str(gelvo.limit(f, "x", "inf"))
