"""Laplace and Fourier pairs against textbook tables; each is also held against quadratures by its certificate."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

LAPLACE = [
    ("1", "1/s"),
    ("t", "1/s^2"),
    ("t^3", "6/s^4"),
    ("sqrt(t)", "sqrt(pi)/(2*s^(3/2))"),
    ("exp(-2*t)", "1/(s + 2)"),
    ("exp(a*t)", "1/(s - a)"),
    ("t*exp(-3*t)", "1/(s + 3)^2"),
    ("t^2*exp(t)", "2/(s - 1)^3"),
    ("sin(2*t)", "2/(s^2 + 4)"),
    ("cos(2*t)", "s/(s^2 + 4)"),
    ("sin(w*t)", "w/(s^2 + w^2)"),
    ("exp(-t)*sin(2*t)", "2/((s + 1)^2 + 4)"),
    ("exp(-t)*cos(3*t)", "(s + 1)/((s + 1)^2 + 9)"),
    ("t*sin(t)", "2*s/(s^2 + 1)^2"),
    ("t*cos(2*t)", "(s^2 - 4)/(s^2 + 4)^2"),
    ("sin(t)^2", "2/(s*(s^2 + 4))"),
    ("sin(t)*cos(t)", "1/(s^2 + 4)"),
    ("sinh(2*t)", "2/(s^2 - 4)"),
    ("cosh(3*t)", "s/(s^2 - 9)"),
    ("sin(2*t + pi/6)", "(2*sqrt(3)/2 + s/2)/(s^2 + 4)"),
    ("heaviside(t - 2)", "exp(-2*s)/s"),
    ("heaviside(t - 1)*t", "exp(-s)*(1/s^2 + 1/s)"),
    ("heaviside(t - 3)*exp(-t)", "exp(-3*s - 3)/(s + 1)"),
    ("dirac_delta(t - 1)", "exp(-s)"),
    ("3*t^2 - 2*t + 5", "6/s^3 - 2/s^2 + 5/s"),
    ("2^t", "1/(s - ln(2))"),
]


@pytest.mark.parametrize(("f", "wanted"), LAPLACE, ids=[c[0] for c in LAPLACE])
def test_laplace_pairs(f, wanted):
    answer = gelvo.laplace(f, "t", "s", given=["s > 20"] if "a*" not in f else [])
    assert gelvo.equal(answer, gelvo.formula(wanted, names_from=answer))
    plain = not any(word in f for word in ("heaviside", "dirac_delta", "sqrt", "^(1/2)", "^(3/2)", "^n", "2^t"))
    assert answer.verdict == "proved" or (answer.verdict == "supported" and not plain)


INVERSE = [
    ("1/s", "1"),
    ("1/s^3", "t^2/2"),
    ("1/(s + 4)", "exp(-4*t)"),
    ("1/(s*(s + 1))", "1 - exp(-t)"),
    ("1/((s + 1)*(s + 2))", "exp(-t) - exp(-2*t)"),
    ("s/((s + 1)*(s + 2))", "2*exp(-2*t) - exp(-t)"),
    ("1/(s^2*(s + 1))", "t - 1 + exp(-t)"),
    ("(2*s + 3)/(s^2 + 9)", "2*cos(3*t) + sin(3*t)"),
    ("1/(s^2 + 2*s + 5)", "exp(-t)*sin(2*t)/2"),
    ("(s + 3)/((s + 1)^2 + 4)", "exp(-t)*(cos(2*t) + sin(2*t))"),
    ("1/(s^2 + 1)^2", "(sin(t) - t*cos(t))/2"),
    ("s/(s^2 + 1)^2", "t*sin(t)/2"),
    ("1/(s*(s^2 + 4))", "(1 - cos(2*t))/4"),
    ("1/(s^2 - 4)", "sinh(2*t)/2"),
    ("1/(s^3 + s)", "1 - cos(t)"),
    ("1/(s^4 - 1)", "(sinh(t) - sin(t))/2"),
    ("exp(-2*s)/s^2", "heaviside(t - 2)*(t - 2)"),
    ("s/(s + 1)", "dirac_delta(t) - exp(-t)"),
    ("w/(s^2 + w^2)", "sin(w*t)"),
    ("1/((s + b)^2 + w^2)", "exp(-b*t)*sin(w*t)/w"),
]


@pytest.mark.parametrize(("F", "wanted"), INVERSE, ids=[c[0] for c in INVERSE])
def test_inverse_laplace_pairs(F, wanted):
    given = ["t > 0", "w > 0", "b > 0"]
    answer = gelvo.inverse_laplace(F, "s", "t", given=given)
    assert gelvo.equal(answer, gelvo.formula(wanted, names_from=answer), given=[*given, "t > 2"])


def test_the_sign_of_a_discriminant_is_a_condition_or_comes_from_facts():
    F = "1/(s^2 + 2*d*s + k)"
    assert gelvo.inverse_laplace(F, "s", "t").conditions
    swinging = gelvo.inverse_laplace(F, "s", "t", given=["d^2 < k", "k > 0"])
    assert not swinging.conditions and "sin" in str(swinging)
    creeping = gelvo.inverse_laplace(F, "s", "t", given=["d^2 > k", "k > 0"])
    assert "sin(" not in str(creeping)
    with pytest.raises(gelvo.NoClosedForm):
        gelvo.inverse_laplace("s^2", "s", "t")


FOURIER = [
    ("exp(-a*t^2)", "angular", "sqrt(pi/a)*exp(-w^2/(4*a))"),
    ("exp(-t^2/2)", "unitary", "exp(-w^2/2)"),
    ("exp(-pi*t^2)", "frequency", "exp(-pi*w^2)"),
    ("exp(-a*abs(t))", "angular", "2*a/(a^2 + w^2)"),
    ("heaviside(t)*exp(-a*t)", "angular", "1/(a + 1j*w)"),
    ("heaviside(t)*t*exp(-a*t)", "angular", "1/(a + 1j*w)^2"),
    ("heaviside(t)*exp(-a*t)*sin(b*t)", "angular", "b/((a + 1j*w)^2 + b^2)"),
    ("1/(t^2 + a^2)", "angular", "pi*exp(-a*abs(w))/a"),
    ("t*exp(-t^2)", "angular", "-1j*w*sqrt(pi)*exp(-w^2/4)/2"),
    ("exp(-(t - 1)^2)", "angular", "sqrt(pi)*exp(-1j*w - w^2/4)"),
    ("heaviside(t + 1) - heaviside(t - 1)", "angular", "2*sin(w)/w"),
    ("dirac_delta(t - 2)", "angular", "exp(-2j*w)"),
    ("exp(-t^2)*cos(3*t)", "angular", "sqrt(pi)*(exp(-(w - 3)^2/4) + exp(-(w + 3)^2/4))/2"),
    ("1", "angular", "2*pi*dirac_delta(w)"),
]


@pytest.mark.parametrize(("f", "convention", "wanted"), FOURIER, ids=[f"{c[0]} {c[1]}" for c in FOURIER])
def test_fourier_pairs(f, convention, wanted):
    given = ["a > 0", "b > 0"]
    answer = gelvo.fourier(f, "t", "w", given=given, convention=convention)
    assert gelvo.equal(answer, gelvo.formula(wanted, names_from=answer), given=given)
    assert convention in answer.road


def test_the_precision_of_the_caller_changes_nothing(monkeypatch):
    alone = gelvo.fourier("exp(-t^2)", "t", "w")
    monkeypatch.setattr(mpmath.mp, "prec", 4000)
    beside = gelvo.fourier("exp(-t^2)", "t", "w")
    assert beside.certificate().evidence == alone.certificate().evidence and mpmath.mp.prec == 4000


@pytest.mark.parametrize("convention", ["angular", "unitary", "frequency"])
@pytest.mark.parametrize("f", ["exp(-t^2)", "exp(-2*abs(t))"])
def test_there_and_back_again(f, convention):
    there = gelvo.fourier(f, "t", "w", convention=convention)
    back = gelvo.inverse_fourier(there.expression, "w", "t", convention=convention)
    assert gelvo.equal(back, f)


def test_transforms_refuse_clearly():
    with pytest.raises(gelvo.DomainError, match="convention"):
        gelvo.fourier("exp(-t^2)", "t", "w", convention="hertz")
    with pytest.raises(gelvo.DomainError, match="new variable"):
        gelvo.laplace("t", "t", "t")
    with pytest.raises(gelvo.DomainError, match="already contains"):
        gelvo.laplace("s*t", "t", "s")
    answer = gelvo.laplace("1/t", "t", "s")
    assert answer.reason and "integral_of" in str(answer)
