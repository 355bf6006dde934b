"""Transforms without a rule of their own: by the integral that defines them, forwards and back, held against another library's numbers."""

from __future__ import annotations

import mpmath
import pytest

import gelvo
from sample_tasks import numeric

POINT = {"a": "0.7", "b": "1.6", "s": "2.3", "t": "1.37", "w": "0.83"}
GIVEN = ["a > 0", "b > a", "s > 0"]

LAPLACE = [
    ("sin(t)/t", "atan(1/s)"),
    ("sin(a*t)/t", "atan(a/s)"),
    ("(1 - cos(a*t))/t", "ln(1 + a^2/s^2)/2"),
    ("(exp(-a*t) - exp(-b*t))/t", "ln((s + b)/(s + a))"),
    ("ln(t)", "-(ln(s) + euler_gamma)/s"),
    ("t^2*ln(t)", "(3 - 2*euler_gamma - 2*ln(s))/s^3"),
    ("ln(t)^2", "(pi^2/6 + (euler_gamma + ln(s))^2)/s"),
    ("besselj(0, a*t)", "1/sqrt(s^2 + a^2)"),
    ("besselj(1, a*t)", "(1 - s/sqrt(s^2 + a^2))/a"),
    ("t*besselj(0, t)", "s/(s^2 + 1)^(3/2)"),
    ("erf(t)", "exp(s^2/4)*erfc(s/2)/s"),
    ("erf(sqrt(t))", "1/(s*sqrt(s + 1))"),
    ("erfc(a/(2*sqrt(t)))", "exp(-a*sqrt(s))/s"),
    ("exp(-t^2)", "sqrt(pi)*exp(s^2/4)*erfc(s/2)/2"),
    ("Si(t)", "atan(1/s)/s"),
    ("Ci(t)", "-ln(1 + s^2)/(2*s)"),
    ("1/(t + a)", "-exp(a*s)*Ei(-a*s)"),
    ("exp(t)*erfc(sqrt(t))", "1/(sqrt(s)*(sqrt(s) + 1))"),
    ("exp(-a/t)/sqrt(t)", "sqrt(pi/s)*exp(-2*sqrt(a*s))"),
    ("laguerre(3, t)", "(s - 1)^3/s^4"),
    ("heaviside(t - a)", "exp(-a*s)/s"),
    ("t*heaviside(t - 1)", "(s + 1)*exp(-s)/s^2"),
    ("heaviside(t) - heaviside(t - a)", "(1 - exp(-a*s))/s"),
    ("dirac_delta(t - 2)", "exp(-2*s)"),
    ("t + dirac_delta(t)", "1 + 1/s^2"),
    ("abs(sin(t))", "coth(pi*s/2)/(s^2 + 1)"),
    ("floor(t)", "1/(s*(exp(s) - 1))"),
    ("t - floor(t)", "1/s^2 - 1/(s*(exp(s) - 1))"),
    ("(-1)^floor(t)", "tanh(s/2)/s"),
    ("sign(sin(pi*t))", "tanh(s/2)/s"),
    ("max(sin(t), 0)", "1/((s^2 + 1)*(1 - exp(-pi*s)))"),
]


@pytest.mark.parametrize(("f", "wanted"), LAPLACE, ids=[r[0] for r in LAPLACE])
def test_laplace_transforms_are_proved(f, wanted):
    answer = gelvo.laplace(f, "t", "s", given=GIVEN)
    assert answer.verdict == "proved"
    assert abs(numeric(answer.expression, POINT) - numeric(gelvo.formula(wanted), POINT)) < 1e-15


INVERSE = [
    "1/sqrt(s)", "1/s^(5/2)", "s^(-a)", "1/(s + b)^(3/2)", "ln(s)/s", "ln(s)/s^2", "ln(s)^2/s", "exp(-a*sqrt(s))", "exp(-a*sqrt(s))/s",
    "exp(-a*sqrt(s))/sqrt(s)", "exp(-a*sqrt(s))/s^2", "exp(-a*sqrt(s))/s^(5/2)", "exp(-sqrt(s + 1))/(s + 1)", "1/(sqrt(s) + a)",
    "1/(sqrt(s) + a)^2", "1/(sqrt(s)*(sqrt(s) + 1))", "1/(s*sqrt(s + 1))", "sqrt(s)/(s + 1)", "1/((s - 1)*sqrt(s))",
    "exp(-2*sqrt(s))/(sqrt(s) + 3)", "exp(-1/s)/s", "exp(-a/s)/s^2", "exp(2/s)/s^2", "exp(-1/s)/sqrt(s)", "1/sqrt(s^2 + a^2)",
    "1/sqrt(s^2 - a^2)", "1/(s^2 + 2*s + 5)^(3/2)", "s/(s^2 + 4)^(3/2)", "s/sqrt(s^2 + 1) - 1", "ln((s + a)/(s + b))", "ln(1 + 1/s^2)",
    "atan(1/s)", "atan(2/(s + 1))", "ln((s^2 + 4)/(s^2 + 9))", "1/(s^3 + 1)", "1/(s^4 + 4)", "1/(s^3 + s + 1)",
]  # fmt: skip


@pytest.mark.parametrize("image", INVERSE)
def test_the_defining_integral_of_an_inverse_is_the_image(image):
    answer = gelvo.inverse_laplace(image, "s", "t", given=["a > 0", "b > a", "t > 0"])
    assert answer.verdict in ("proved", "supported")

    def inside(u):  # t = u^2, as some run off at 0
        t = u * u
        if t < 1e-3 and image.startswith("exp(-") and "*sqrt(s" in image:  # exp(-a^2/(4*t))
            return 0
        return (
            2 * u * numeric(answer.expression, {**POINT, "t": mpmath.nstr(t, 25)}, 18).real * mpmath.exp(-t * mpmath.mpf("3.1"))
        )

    with mpmath.workdps(16):
        found = mpmath.quad(inside, [mpmath.mpf("1e-12"), 0.3, 0.8, 1.5, 2.5, 4], maxdegree=5)
    wanted = numeric(gelvo.formula(image), {**POINT, "s": "3.1"})
    assert abs(found - wanted) < 1e-5 * max(1, abs(wanted))


PULSES = {
    "1/(s*(exp(s) - 1))": lambda t: int(t),
    "1/(s*(1 + exp(-s)))": lambda t: 1 - int(t) % 2,
    "tanh(s/2)/s": lambda t: (-1) ** int(t),
    "1/(s*cosh(s))": lambda t: 2 * (int((t + 1) / 2) % 2),
    "1/(s^2*(1 - exp(-2*s)))": lambda t: sum(t - 2 * k for k in range(int(t / 2) + 1)),
    "(1 - exp(-s))^2/s^2": lambda t: t - 2 * max(t - 1, 0) + max(t - 2, 0),
    "exp(-3*s)/sqrt(s)": lambda t: mpmath.sqrt(1 / (mpmath.pi * (t - 3))) if t > 3 else 0,
    "exp(-s)/(s^2 + 1)": lambda t: mpmath.sin(t - 1) if t > 1 else 0,
}


@pytest.mark.parametrize("image", PULSES)
def test_delays_one_after_another(image):
    answer = gelvo.inverse_laplace(image, "s", "t", given=["t > 0"])
    for t in ("0.37", "1.61", "2.44", "3.18", "5.72"):
        assert abs(numeric(answer.expression, {"t": t}) - PULSES[image](float(t))) < 1e-12, t


@pytest.mark.parametrize("image", ["exp(s^2)", "exp(-sqrt(s) - sqrt(s + 1))", "sqrt(s)", "s^(1/3)", "1/(sqrt(s)*sqrt(s + 1))"])
def test_what_has_no_row_is_refused(image):
    """Two roots of different places are no product of both functions of t."""
    with pytest.raises(gelvo.NoClosedForm):
        gelvo.inverse_laplace(image, "s", "t")


def test_what_has_no_form_is_left():
    assert "integral_of" in str(gelvo.laplace("ellipk(-t)", "t", "s"))


FOURIER = [
    ("1/(1 + t^2)^2", "pi*(1 + abs(w))*exp(-abs(w))/2"),
    ("t/(t^2 + a^2)", "-1j*pi*sign(w)*exp(-a*abs(w))"),
    ("exp(-a*abs(t))", "2*a/(a^2 + w^2)"),
    ("exp(-a*t^2)", "sqrt(pi/a)*exp(-w^2/(4*a))"),
    ("t*exp(-a*t^2)", "-1j*w*sqrt(pi/a)*exp(-w^2/(4*a))/(2*a)"),
    ("1/cosh(a*t)", "pi/(a*cosh(pi*w/(2*a)))"),
    ("abs(t)*exp(-abs(t))", "2*(1 - w^2)/(1 + w^2)^2"),
    ("heaviside(t)*exp(-a*t)", "1/(a + 1j*w)"),
    ("heaviside(t + a) - heaviside(t - a)", "2*sin(a*w)/w"),
    ("(heaviside(t + pi/2) - heaviside(t - pi/2))*cos(t)", "2*cos(pi*w/2)/(1 - w^2)"),
    ("exp(-a*abs(t))*cos(b*t)", "a/(a^2 + (w - b)^2) + a/(a^2 + (w + b)^2)"),
    ("sin(a*t)/t", "pi*(heaviside(w + a) - heaviside(w - a))"),
    ("tanh(t)", "-1j*pi/sinh(pi*w/2)"),
    ("sign(t)", "-2*1j/w"),
    ("dirac_delta(t - a)", "exp(-1j*a*w)"),
]


@pytest.mark.parametrize(("f", "wanted"), FOURIER, ids=[r[0] for r in FOURIER])
def test_fourier_transforms_are_proved_on_both_sides(f, wanted):
    answer = gelvo.fourier(f, "t", "w", given=["a > 0", "b > a"])
    assert answer.verdict == "proved"
    for w in ("0.83", "-0.31", "2.6"):
        at = {**POINT, "w": w}
        assert abs(numeric(answer.expression, at) - numeric(gelvo.formula(wanted), at)) < 1e-15, w


IMPULSES = {
    "3": "6*pi*dirac_delta(w)",
    "cos(b*t)": "pi*(dirac_delta(b - w) + dirac_delta(b + w))",
    "exp(1j*b*t)": "2*pi*dirac_delta(b - w)",
    "heaviside(t)": "pi*dirac_delta(w) - 1j/w",
}


@pytest.mark.parametrize("f", IMPULSES)
def test_waves_and_steps_have_impulses(f):
    answer = gelvo.fourier(f, "t", "w", given=["b > 0"])
    assert str(answer.expression) == IMPULSES[f] and answer.verdict == "proved"


@pytest.mark.parametrize("false", ["2*a/(a^2 + w^2) + dirac_delta(w)", "a/(a^2 + w^2)", "2*a/(a^2 + (w - 1)^2)"])
def test_a_false_spectrum_is_not_proved(false):
    from gelvo.checking.transforms import check_fourier
    from gelvo.facts.store import Facts

    t, w = gelvo.variables("t", "w")
    facts = Facts([gelvo.formula("a > 0")])
    image = gelvo.formula(false, names_from=w)
    f = gelvo.formula("exp(-a*abs(t))", names_from=image)
    kernel = (gelvo.formula("1"), gelvo.formula("-1"))
    assert check_fourier(f, t, w, image, facts, kernel, "angular").verdict not in ("proved", "supported")
