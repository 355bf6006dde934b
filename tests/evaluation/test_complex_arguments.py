"""Functions with values at complex arguments, and the derivatives of real and imaginary parts along a real variable."""

from __future__ import annotations

from itertools import product

import pytest
from mpmath import mp, mpc, mpf

import gelvo
from sample_tasks import numeric

PLACES = [("1/2", "1/3"), ("-3/2", "2"), ("0", "5/4"), ("7/3", "-1/5"), ("-1/7", "-3")]
KINDS = {
    "erf(z)": mp.erf,
    "polylog(2, z)": lambda z: mp.polylog(2, z),
    "polylog(3, z)": lambda z: mp.polylog(3, z),
    "exp(z)*erf(z)": lambda z: mp.exp(z) * mp.erf(z),
}


def by_mpmath(pair):
    return [mpf(a) / mpf(b) for a, _, b in ((f"{part}/1".split("/")[0], "/", f"{part}/1".split("/")[1]) for part in pair)]


@pytest.mark.parametrize(("text", "pair"), list(product(KINDS, PLACES)))
def test_values_at_complex_places_agree_with_another_library(text, pair):
    with mp.workdps(40):
        wanted = KINDS[text](mpc(*by_mpmath(pair)))
        found = numeric(gelvo.substitute(text, {"z": f"{pair[0]} + 1j*({pair[1]})"}), {})
        assert abs(found - wanted) < mpf("1e-20") * (1 + abs(wanted))


@pytest.mark.parametrize("text", ["besselj(0, 1 + 1j)", "zeta(1 + 1j)", "lambertw(3j)"])
def test_others_say_that_they_have_none(text):
    with pytest.raises(gelvo.Undecided, match="complex"):
        gelvo.value(text)


PARTS = [
    ("im(exp(1j*x))", "sin(x)"),
    ("re(exp(-x^2 + 1j*x))", "exp(-x^2)*cos(x)"),
    ("im(ln(1 - 1j*x))", "-atan(x)"),
    ("re(ln(1 + 1j*x))", "ln(1 + x^2)/2"),
    ("im(ln(2 + x^2 + 1j*x))", "atan(x/(2 + x^2))"),
    ("re((1 + 1j*x)^3)", "1 - 3*x^2"),
    ("im(1/(x + 1j))", "-1/(x^2 + 1)"),
    ("re(sin(x + 1j))", "sin(x)*cosh(1)"),
    ("re(conj(x + 1j*x))", "x"),
]


@pytest.mark.parametrize(("text", "wanted"), PARTS, ids=[t for t, _ in PARTS])
def test_parts_are_known_in_real_form(text, wanted):
    assert gelvo.equal(text, wanted)
    assert gelvo.equal(gelvo.differentiate(text, "x"), gelvo.differentiate(wanted, "x"))


@pytest.mark.parametrize(
    "text", ["re(erf(x + 1j))", "im(erf(2*x - 1j/2))", "im(polylog(2, 1j*x))", "re(polylog(2, (1 + 1j)*x))", "im(erf(x + 1j)^2)"]
)
def test_slopes_of_parts_agree_with_numbers(text):
    step = mpf("1e-5")

    def at(k):
        return numeric(gelvo.formula(text), {"x": mp.nstr(mpf("0.3") + k * step, 24)})

    with mp.workdps(30):
        slope = (at(-2) - 8 * at(-1) + 8 * at(1) - at(2)) / (12 * step)
        assert abs(slope - numeric(gelvo.differentiate(text, "x"), {"x": "0.3"})) < 1e-14


@pytest.mark.parametrize("part", ["re", "im"])
def test_a_part_of_a_complex_name_has_no_derivative_by_it(part):
    z = gelvo.variable("z", domain="complex")
    slope = gelvo.differentiate(getattr(gelvo, part)(z), z)
    assert "derivative_of" in str(slope)
