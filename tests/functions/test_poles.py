"""Places where functions have no value: refused as text, and their values grow beyond bounds near by."""

from __future__ import annotations

import mpmath
import pytest

import gelvo

# the text at the place, and the function near by
POLES = [
    ("bessely(0, 0)", lambda h: mpmath.bessely(0, h)),
    ("bessely(2, 0)", lambda h: mpmath.bessely(2, h)),
    ("besselk(1/2, 0)", lambda h: mpmath.besselk(0.5, h)),
    ("besselj(-1/3, 0)", lambda h: mpmath.besselj(mpmath.mpf(-1) / 3, h)),
    ("besseli(-5/2, 0)", lambda h: mpmath.besseli(-2.5, h)),
    ("Ei(0)", mpmath.ei),
    ("Ci(0)", mpmath.ci),
    ("Chi(0)", mpmath.chi),
    ("li(1)", lambda h: mpmath.li(1 + h)),
    ("ellipk(1)", lambda h: mpmath.ellipk(1 - h)),
    ("lambertw_lower(0)", lambda h: mpmath.lambertw(-h, -1).real),
    ("atanh(1)", lambda h: mpmath.atanh(1 - h)),
    ("atanh(-1)", lambda h: mpmath.atanh(-1 + h)),
    ("acoth(1)", lambda h: mpmath.acoth(1 + h)),
    ("coth(0)", mpmath.coth),
    ("csch(0)", mpmath.csch),
    ("asech(0)", lambda h: mpmath.asech(h)),
    ("digamma(0)", mpmath.digamma),
    ("digamma(-3)", lambda h: mpmath.digamma(-3 + h)),
    ("polygamma(1, -1)", lambda h: mpmath.polygamma(1, -1 + h)),
    ("loggamma(0)", mpmath.loggamma),
    ("hyp2f1(1, 1, 1, 1)", lambda h: mpmath.hyp2f1(1, 1, 1, 1 - h)),
    ("hyp2f1(1/2, 1/2, 1, 1)", lambda h: mpmath.hyp2f1(0.5, 0.5, 1, 1 - h)),
]


@pytest.mark.parametrize(("text", "near"), POLES, ids=[p[0] for p in POLES])
def test_a_pole_has_no_value(text, near):
    with pytest.raises(gelvo.FormulaError, match="has no value"):
        gelvo.formula(text)
    with mpmath.workdps(100):
        sizes = [abs(near(mpmath.mpf(10) ** -k)) for k in (4, 20, 80)]
    assert sizes[0] + 1 < sizes[1] and sizes[1] + 1 < sizes[2]  # also a logarithm grows


VALUED = [
    ("bessely(-1/2, 0)", 0),
    ("besselj(0, 0)", 1),
    ("besseli(2, 0)", 0),
    ("hyp2f1(1, 1, 3, 1)", 2),
    ("hyp2f1(-2, 1, 1, 1)", 0),
]


@pytest.mark.parametrize(("text", "wanted"), VALUED, ids=[v[0] for v in VALUED])
def test_beside_them_there_are_values(text, wanted):
    formula = gelvo.formula(text)
    assert text.startswith("bessely") or float(gelvo.value(formula, 15)) == pytest.approx(wanted)
