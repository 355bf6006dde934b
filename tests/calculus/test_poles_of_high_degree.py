"""Inverse transforms over irreducible factors of degree three and more: numbers, letters that only stretch, squares; held against contours."""

from __future__ import annotations

from fractions import Fraction

import pytest
from mpmath import invertlaplace, mp, mpf

import gelvo

UNIT = {"L": "2", "C": "3/2", "k": "3", "m": "2", "R": "5/4", "a": "1.7"}
POSITIVE = [f"{n} > 0" for n in UNIT]

TRANSFORMS = [
    "1/(s^3 + s + 1)",
    "(s + 2)/(s^4 + s + 1)",
    "1/(s*(s^3 + 2*s^2 + 3*s + 4))",
    "(s^2 - 3)/(s^5 - s - 1)",
    "1/((s + 1)*(s^4 + 3*s^2 + 1))",
    # letters that stretch all poles alike
    "1/(m^3*s^6 + 5*m^2*k*s^4 + 6*m*k^2*s^2 + k^3)",
    "s/(m^3*s^6 + 5*m^2*k*s^4 + 6*m*k^2*s^2 + k^3)",
    "1/(s*(m^2*s^4 + 3*m*k*s^2 + k^2))",
    "1/(L^2*C^2*s^4 + 3*L*C*s^2 + 1)",
    "(s + a)/(R^3*C^3*s^3 + 5*R^2*C^2*s^2 + 6*R*C*s + 1)",
    "1/(s^3 + a^3*2)",
    # squares of poles that are not all of one sign
    "1/(s^6 - 3*s^4 + 1)",
    "(s^3 + s)/(s^6 - 3*s^4 + 1)",
]


def contour(text, t):
    """The inverse by the fixed Talbot contour, with numbers for the letters."""
    numbers = {n: mpf(Fraction(v).numerator) / Fraction(v).denominator for n, v in UNIT.items()}
    source = text.replace("^", "**")
    return invertlaplace(lambda s: eval(source, {}, {**numbers, "s": s}), t, method="talbot", degree=40)


@pytest.mark.parametrize("text", TRANSFORMS)
def test_the_response_agrees_with_a_contour(text):
    found = gelvo.inverse_laplace(text, "s", "t", given=POSITIVE)
    assert found.verdict in ("proved", "supported") and "integral" not in str(found)
    mp.dps = 25
    try:
        for place in (Fraction(1, 2), Fraction(2)):
            exact = gelvo.value(gelvo.substitute(found, {**UNIT, "t": str(place)}), 14)
            assert abs(mpf(str(exact)) - contour(text, mpf(place.numerator) / place.denominator)) < 1e-8
    finally:
        mp.dps = 15


LADDER = ["9/20", "5/4", "9/5", "2", "9/5", "5/4", "9/20"]


def test_a_ladder_of_seven_sections_has_its_step_response():
    s, voltage, current = gelvo.variable("s"), gelvo.formula("1"), gelvo.formula("1")
    for k, part in enumerate(LADDER):
        if k % 2:
            voltage = voltage + s * gelvo.formula(part) * current
        else:
            current = current + s * gelvo.formula(part) * voltage
    whole = gelvo.expand(voltage + current)
    found = gelvo.inverse_laplace(1 / (s * whole), "s", "t")
    assert found.verdict == "proved" and gelvo.limit(found, "t", "inf") == gelvo.formula("1/2")
    course = gelvo.numeric_function(found, ["t"])
    source = str(whole).replace("^", "**")
    for place in (1.0, 5.0, 14.0):
        wanted = invertlaplace(lambda z: 1 / (z * eval(source, {}, {"s": z})), place, method="talbot", degree=30)
        assert course(place) == pytest.approx(float(wanted), abs=1e-9)
