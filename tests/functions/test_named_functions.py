"""The functions with names of their own: exact values, derivatives, code, typesetting, and what they refuse."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import pytest

import gelvo

EXACT = [
    ("erfi(0)", "0"),
    ("erfi(-x)", "-erfi(x)"),
    ("fresnels(0)", "0"),
    ("fresnelc(-x)", "-fresnelc(x)"),
    ("Shi(0)", "0"),
    ("Shi(-x)", "-Shi(x)"),
    ("dirac_delta(2)", "0"),
    ("dirac_delta(-x)", "dirac_delta(x)"),
    ("heaviside(3)", "1"),
    ("heaviside(-3)", "0"),
    ("polygamma(0, x)", "digamma(x)"),
    ("polygamma(1, 1)", "pi^2/6"),
    ("polygamma(1, 2)", "pi^2/6 - 1"),
    ("polygamma(2, 1)", "-2*zeta(3)"),
    ("digamma(1/2)", "-euler_gamma - 2*ln(2)"),
    ("digamma(3/2)", "2 - euler_gamma - 2*ln(2)"),
    ("digamma(1)", "-euler_gamma"),
    ("lambertw_lower(-exp(-1))", "-1"),
    ("lambertw(0)", "0"),
    ("lambertw(exp(1))", "1"),
]


@pytest.mark.parametrize(("text", "wanted"), EXACT, ids=[c[0] for c in EXACT])
def test_exact_values(text, wanted):
    assert gelvo.equal(text, wanted)


DERIVATIVES = [
    ("erfi(x)", "2*exp(x^2)/sqrt(pi)"),
    ("li(x)", "1/ln(x)"),
    ("fresnels(x)", "sin(pi*x^2/2)"),
    ("fresnelc(x)", "cos(pi*x^2/2)"),
    ("Shi(x)", "sinh(x)/x"),
    ("Chi(x)", "cosh(x)/x"),
    ("digamma(x)", "polygamma(1, x)"),
    ("polygamma(2, x)", "polygamma(3, x)"),
    ("heaviside(x - 1)", "dirac_delta(x - 1)"),
    ("lambertw(x)", "lambertw(x)/(x*(1 + lambertw(x)))"),
    ("lambertw_lower(x)", "lambertw_lower(x)/(x*(1 + lambertw_lower(x)))"),
    ("Ei(2*x)", "exp(2*x)/x"),
    ("Ci(x^2)", "2*cos(x^2)/x"),
]


@pytest.mark.parametrize(("text", "wanted"), DERIVATIVES, ids=[c[0] for c in DERIVATIVES])
def test_derivatives(text, wanted):
    assert gelvo.equal(gelvo.differentiate(text, "x"), wanted)


INTEGRALS = [
    ("erfi(x)", "x*erfi(x) - exp(x^2)/sqrt(pi)"),
    ("fresnels(x)", "x*fresnels(x) + cos(pi*x^2/2)/pi"),
    ("fresnelc(x)", "x*fresnelc(x) - sin(pi*x^2/2)/pi"),
    ("dirac_delta(x)", "heaviside(x)"),
]


@pytest.mark.parametrize(("text", "wanted"), INTEGRALS, ids=[c[0] for c in INTEGRALS])
def test_antiderivatives(text, wanted):
    answer = gelvo.integrate(text, "x")
    assert gelvo.equal(answer, wanted)


VALUES = [
    ("erfi(1/2)", lambda: mpmath.erfi(0.5)),
    ("li(3)", lambda: mpmath.li(3)),
    ("fresnels(2)", lambda: mpmath.fresnels(2)),
    ("fresnelc(2)", lambda: mpmath.fresnelc(2)),
    ("Shi(2)", lambda: mpmath.shi(2)),
    ("Chi(2)", lambda: mpmath.chi(2)),
    ("polygamma(3, 5/2)", lambda: mpmath.polygamma(3, 2.5)),
    ("lambertw_lower(-1/10)", lambda: mpmath.lambertw(-0.1, -1).real),
    ("polylog(3, 1/2)", lambda: mpmath.polylog(3, 0.5)),
]


@pytest.mark.parametrize(("text", "right"), VALUES, ids=[c[0] for c in VALUES])
def test_values_and_code(text, right):
    shown = gelvo.value(text, 15)
    assert abs(float(shown) - float(right())) < 1e-13 * max(1, abs(float(right())))


CODE = [
    ("erfi(x)", 0.7), ("li(x + 2)", 0.7), ("fresnels(x)", 0.7), ("fresnelc(x)", 0.7), ("Shi(x)", 0.7), ("Chi(x)", 0.7), ("Ei(x)", 0.7),
    ("polygamma(2, x)", 0.7), ("lambertw(x)", 0.7), ("lambertw_lower(-x/10)", 0.7), ("besselj(2, x)", 0.7), ("ellipk(x)", 0.7),
]  # fmt: skip


@pytest.mark.parametrize(("text", "place"), CODE, ids=[c[0] for c in CODE])
def test_numeric_functions_know_them(text, place):
    found = float(gelvo.numeric_function(text, ["x"])(place))
    exact = float(gelvo.value(gelvo.formula(text).substitute({"x": "7/10"}), 15))
    assert abs(found - exact) < 1e-12 * max(1.0, abs(exact))


LATEX = [
    ("erfi(x)", r"\operatorname{erfi}"),
    ("dirac_delta(x)", r"\delta"),
    ("fresnels(x)", "S"),
    ("li(x)", r"\operatorname{li}"),
    ("polygamma(1, x)", r"\psi"),
    ("lambertw_lower(x)", "W_{-1}"),
    ("heaviside(x)", r"\operatorname{H}"),
]


@pytest.mark.parametrize(("text", "part"), LATEX, ids=[c[0] for c in LATEX])
def test_they_are_typeset_by_their_usual_signs(text, part):
    assert part in gelvo.typeset(text, "latex")


IMPULSES = [
    ("x*dirac_delta(x)", "0"),
    ("(x^2 - 1)*dirac_delta(x - 1)", "0"),
    ("cos(x)*dirac_delta(x)", "dirac_delta(x)"),
    ("exp(-t)*dirac_delta(t - 2)", "exp(-2)*dirac_delta(t - 2)"),
]


@pytest.mark.parametrize(("text", "wanted"), IMPULSES, ids=[c[0] for c in IMPULSES])
def test_impulses_take_the_value_at_their_place(text, wanted):
    assert gelvo.equal(text, wanted)


def test_an_impulse_has_no_value_at_its_place():
    with pytest.raises(gelvo.GelvoError):
        gelvo.value("dirac_delta(0)")
    with pytest.raises(gelvo.GelvoError):
        gelvo.value("lambertw_lower(1)")


FRACTIONS = [Fraction(p, q) for q in (2, 3, 4, 6) for p in range(1, 2 * q + 2)]


@pytest.mark.parametrize("x", FRACTIONS, ids=str)
def test_digamma_and_its_slopes_at_fractions(x):
    for n in range(4):
        found = float(gelvo.value(f"polygamma({n}, {x})", 20))
        assert found == pytest.approx(float(mpmath.psi(n, mpmath.mpf(x.numerator) / x.denominator)), rel=1e-13)
    assert "digamma" not in str(gelvo.formula(f"digamma({x})"))


@pytest.mark.parametrize("x", ["-10", "-1", "-0.02", "0.02", "1", "20"])
def test_the_exponential_integral_has_bounds_on_both_sides_of_its_pole(x):
    value = gelvo.value(f"Ei({x})", 25)
    assert value.bounded and float(value) == pytest.approx(float(mpmath.ei(mpmath.mpf(x))), rel=1e-14)


def test_the_exponential_integral_below_zero():
    assert gelvo.check("Ei(a) < 0", given=["a < 0"]).verdict == "proved"
    with pytest.raises(gelvo.GelvoError):
        gelvo.value("Ei(0)")
