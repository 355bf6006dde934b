"""Moments of the kernels against quadratures that share nothing with them, and their power series against derivatives at zero."""

from __future__ import annotations

import math

import pytest
from mpmath import mp, mpf

import gelvo
from gelvo.checking.values.kernels import KERNELS, SERIES, power_of_a_sum
from gelvo.expression.building import call, number
from gelvo.expression.traversal import substitute
from gelvo.forms.differentiation import differentiate
from sample_tasks import numeric

# (kernel as mpmath has it, places s inside of its strip)
OF_MPMATH = {
    "exp": (lambda t: mp.exp(-t), ["1/2", "1", "5/2"]),
    "ln": (lambda t: mp.log(1 + t), ["-1/2", "-1/3", "-3/4"]),
    "atan": (mp.atan, ["-1/2", "-1/4", "-3/4"]),
    "Ei": (lambda t: mp.ei(-t), ["1/2", "1", "3"]),
    "erfc": (mp.erfc, ["1/2", "1", "2"]),
    "airyai": (mp.airyai, ["1/2", "1", "2"]),
}
WAVES = {"cos": (mp.cos, ["1/2", "1/3", "3/4"]), "sin": (mp.sin, ["1/2", "-1/2", "1/3"]), "Ci": (mp.ci, ["1/2", "1/3"])}


def _value(moment: gelvo.Expression) -> mpf:
    return numeric(moment, {})


@pytest.mark.parametrize("name", OF_MPMATH)
def test_moments_are_the_integrals(name):
    kernel, (function, places) = KERNELS[name], OF_MPMATH[name]
    for place in places:
        s = mpf(eval(place))
        with mp.workdps(25):
            wanted = mp.quad(lambda t, s=s: t ** (s - 1) * function(t), [0, 0.01, 1, 10, 100, mp.inf])
            assert abs(_value(kernel.moment(gelvo.formula(place))) - wanted) < mpf("1e-6") * (1 + abs(wanted))
            if kernel.other is not None:
                assert abs(_value(kernel.other(gelvo.formula(place))) - wanted) < mpf("1e-6") * (1 + abs(wanted))


@pytest.mark.parametrize("name", WAVES)
def test_moments_of_waves_are_the_integrals(name):
    kernel, (function, places) = KERNELS[name], WAVES[name]
    for place in places:
        s = mpf(eval(place))
        with mp.workdps(20):
            near = mp.quad(lambda t, s=s: t ** (s - 1) * function(t), [0, 0.01, 1])
            far = mp.quadosc(lambda t, s=s: t ** (s - 1) * function(t), [1, mp.inf], omega=1)
            assert abs(_value(kernel.moment(gelvo.formula(place))) - near - far) < mpf("1e-5")


@pytest.mark.parametrize("order", ["0", "1", "3/2"])
def test_moments_of_bessel_functions(order):
    n, s = mpf(eval(order)), mpf(2)
    moment = KERNELS["besselk"].moment(number(2), gelvo.formula(order))
    with mp.workdps(20):
        wanted = mp.quad(lambda t: t ** (s - 1) * mp.besselk(n, t), [0, 1, 10, 60])
        assert abs(_value(moment) - wanted) < mpf("1e-8")
    half = KERNELS["besselj"].moment(gelvo.formula("1/2"), gelvo.formula(order))
    with mp.workdps(20):
        found = mp.quad(lambda t: mp.besselj(n, t) / mp.sqrt(t), [0, 1]) + mp.quadosc(
            lambda t: mp.besselj(n, t) / mp.sqrt(t), [1, mp.inf], omega=1
        )
        assert abs(_value(half) - found) < mpf("1e-7")


@pytest.mark.parametrize(("p", "s"), [("1", "1/2"), ("2", "1/2"), ("5/2", "2"), ("3", "1")])
def test_moments_of_powers_of_a_sum(p, s):
    kernel = power_of_a_sum(gelvo.formula(p))
    with mp.workdps(20):
        wanted = mp.beta(mpf(eval(s)), mpf(eval(p)) - mpf(eval(s)))
        assert abs(_value(kernel.moment(gelvo.formula(s))) - wanted) < mpf("1e-12")


@pytest.mark.parametrize("name", [n for n in SERIES if n != "besselj"])
def test_power_series_have_the_derivatives_at_zero(name):
    row, kernel = SERIES[name], KERNELS[name]
    t = gelvo.variable("t")
    function = call(name, kernel.start + kernel.sign * t)
    start = row.a()
    for k in range(4):
        power = int(str(start + row.m * k))
        slope = substitute(differentiate(function, t, power), {t: number(0)})
        coefficient = row.b**power * (-1) ** k * row.phi(number(k)) / math.factorial(k)
        assert gelvo.equal(slope / math.factorial(power), coefficient), (name, k)
