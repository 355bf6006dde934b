"""Orthogonal polynomials, spherical Bessel and Struve functions, incomplete beta: values, derivatives, recurrences, code, integrals."""

from __future__ import annotations

from random import Random

import mpmath
import numpy as np
import pytest
from gmpy2 import mpq
from mpmath import mp

import gelvo
from gelvo.expression.registry import FUNCTIONS
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic
from sample_tasks import numeric

HALF = mpmath.mpf("0.5")


def spherical(kind):
    return lambda n, x: mp.sqrt(mp.pi / (2 * x)) * kind(n + HALF, x)


REFERENCES = {
    "legendre": mp.legendre, "hermite": mp.hermite, "laguerre": lambda n, x: mp.laguerre(n, 0, x), "chebyt": mp.chebyt,
    "chebyu": mp.chebyu, "struveh": mp.struveh, "struvel": mp.struvel, "sphericalj": spherical(mp.besselj),
    "sphericaly": spherical(mp.bessely), "gamma_inc": mp.gammainc,
}  # fmt: skip
ORDERS = dict.fromkeys(REFERENCES, ("3", "30", "5/2", "1/3"))
CASES = [(name, order) for name, orders in ORDERS.items() for order in orders if (name, order) != ("gamma_inc", "30")]
AT = "0.37"


@pytest.mark.parametrize(("name", "order"), CASES)
def test_values_and_slopes_agree_with_another_library(name, order):
    with mp.workdps(40):
        n, at = mp.mpf(order.split("/")[0]) / int((order + "/1").split("/")[1]), mp.mpf(AT)
        wanted, slope = REFERENCES[name](n, at), mp.diff(lambda x: REFERENCES[name](n, x), at)
        found = numeric(gelvo.formula(f"{name}({order}, x)"), {"x": AT})
        rate = numeric(gelvo.differentiate(f"{name}({order}, x)", "x"), {"x": AT})
        assert abs(found - wanted) < 1e-18 * abs(wanted)
        assert abs(rate - slope) < 1e-12 * (1 + abs(slope))


RECURRENCES = [
    ("(n + 1)*legendre(n + 1, x)", "(2*n + 1)*x*legendre(n, x) - n*legendre(n - 1, x)"),
    ("hermite(n + 1, x)", "2*x*hermite(n, x) - 2*n*hermite(n - 1, x)"),
    ("(n + 1)*laguerre(n + 1, x)", "(2*n + 1 - x)*laguerre(n, x) - n*laguerre(n - 1, x)"),
    ("chebyt(n + 2, x) + chebyt(n, x)", "2*x*chebyt(n + 1, x)"),
    ("chebyu(n, x) - chebyu(n - 2, x)", "2*chebyt(n, x)"),
    ("sphericalj(n - 1, x) + sphericalj(n + 1, x)", "(2*n + 1)*sphericalj(n, x)/x"),
    ("sphericalj(1, x)", "sin(x)/x^2 - cos(x)/x"),
    ("sphericaly(0, x)", "-cos(x)/x"),
]


@pytest.mark.parametrize(("left", "right"), RECURRENCES)
def test_recurrences_are_proved(left, right):
    assert gelvo.equal(left, right, given=["x > 0"])
    try:
        same = gelvo.equal(left, f"{right} + x/1000", given=["x > 0"])
    except gelvo.Undecided:  # without error bounds nothing is told apart
        same = False
    assert not same


EXACT = [
    ("legendre(3, x)", "5*x^3/2 - 3*x/2"),
    ("legendre(-3, x)", "3*x^2/2 - 1/2"),
    ("legendre(n, 1)", "1"),
    ("hermite(3, x)", "8*x^3 - 12*x"),
    ("laguerre(2, x)", "1 - 2*x + x^2/2"),
    ("laguerre(n, 0)", "1"),
    ("chebyt(-4, x)", "8*x^4 - 8*x^2 + 1"),
    ("chebyu(-1, x)", "0"),
    ("chebyu(n, 1)", "n + 1"),
    ("sphericalj(0, 0)", "1"),
    ("struveh(1, 0)", "0"),
    ("beta_inc(2, 3, 1)", "1/12"),
    ("beta_inc(a, 2, 0)", "beta_inc(a, 2, 0)"),
]


@pytest.mark.parametrize(("text", "wanted"), EXACT, ids=[t for t, _ in EXACT])
def test_exact_values(text, wanted):
    assert str(gelvo.formula(text)) == str(gelvo.formula(wanted))


@pytest.mark.parametrize(
    "text", ["legendre(31, x)", "hermite(26, x)", "struveh(1, x)", "sphericalj(2, x)", "beta_inc(2/3, 4/3, x)"]
)
def test_code_for_arrays_agrees_and_c_refuses(text):
    places = np.array([0.21, 0.4, 0.83])
    wanted = [float(numeric(gelvo.formula(text), {"x": str(p)}).real) for p in places]
    assert gelvo.numeric_function(text, ["x"])(places) == pytest.approx(wanted, rel=1e-11)
    with pytest.raises(gelvo.ExportError, match="no counterpart"):
        gelvo.export_code({"y": gelvo.formula(text)}, ["x"], language="c", name="f")


@pytest.mark.parametrize("text", ["legendre(n, x)", "struveh(n, x)", "sphericalj(n, x)", "beta_inc(n, 2, x)"])
def test_derivatives_by_the_order_are_refused(text):
    with pytest.raises(gelvo.DomainError, match="no closed form"):
        gelvo.differentiate(text, "n")


INTEGRALS = [
    ("legendre(n, x)", "(legendre(n + 1, x) - x*legendre(n, x))/n"),
    ("hermite(n, x)", "hermite(n + 1, x)/(2*(n + 1))"),
    ("laguerre(n, x)", "laguerre(n, x) - laguerre(n + 1, x)"),
    ("chebyu(n, x)", "chebyt(n + 1, x)/(n + 1)"),
    ("x^2*sphericalj(0, x)", "x^2*sphericalj(1, x)"),
    ("sphericalj(0, x)", "Si(x)"),
    ("legendre(n, x)*legendre(m, x)", None),
    ("exp(-x^2)*hermite(n, x)*hermite(m, x)", None),
    ("besselj(n, x)*besselj(m, x)/x", None),
    ("x^(1/3)*exp(-2*x)", "-2^(2/3)*gamma_inc(4/3, 2*x)/4"),
    ("x^n*(1 - x^2)^m", "beta_inc((n + 1)/2, m + 1, x^2)/2"),
]


@pytest.mark.parametrize(("f", "wanted"), INTEGRALS, ids=[f for f, _ in INTEGRALS])
def test_integrals_follow_the_rules_of_the_families(f, wanted):
    answer = gelvo.integrate(f, "x", given=["0 < x", "x < 1", "n > 0", "m > 0"])
    assert not answer.reason and answer.verdict == "proved"
    if wanted is not None:
        assert gelvo.equal(
            answer.expression, gelvo.formula(wanted, names_from=answer.expression), given=["0 < x", "x < 1", "n > 0", "m > 0"]
        )
    step = mp.mpf("1e-5")

    def at(k):
        return numeric(answer.expression, {"n": "2.5", "m": "1.25", "x": mp.nstr(mp.mpf(AT) + k * step, 22)})

    with mp.workdps(25):
        slope = (at(-2) - 8 * at(-1) + 8 * at(1) - at(2)) / (12 * step)
        assert abs(slope - numeric(gelvo.formula(f), {"n": "2.5", "m": "1.25", "x": AT})) < 1e-12


BOUNDED = {
    "sphericalj": spherical(mp.besselj), "sphericaly": spherical(mp.bessely), "struveh": mp.struveh, "struvel": mp.struvel,
    "besseli": mp.besseli, "gamma_inc": mp.gammainc, "beta_inc": lambda p, q, x: mp.betainc(p, q, 0, x),
}  # fmt: skip


@pytest.mark.parametrize("name", BOUNDED)
def test_bounds_hold_the_value_at_many_points(name):
    rng, arithmetic = Random(name), Arithmetic(90)
    bounds = FUNCTIONS[name].bounds
    for _ in range(40):
        broken = [mpq(rng.randint(1, 99), 16) for _ in range(2)]
        orders = {"gamma_inc": broken[:1], "beta_inc": broken}.get(name, [mpq(rng.randint(0, 7))])
        x = mpq(rng.randint(1, 63), 64) * (1 if name == "beta_inc" else 30)
        box = bounds(arithmetic, *[Box(arithmetic.rational(q)) for q in (*orders, x)]).real
        with mp.workdps(60):
            wanted = BOUNDED[name](*[mp.mpf(int(q.numerator)) / int(q.denominator) for q in (*orders, x)])
            low, high = (mp.mpf(int(mpq(v).numerator)) / int(mpq(v).denominator) for v in box)
            assert low <= wanted <= high
            assert high - low < mp.mpf(2) ** -20 * (1 + abs(wanted))
