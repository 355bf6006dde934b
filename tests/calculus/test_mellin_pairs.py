"""Each row of Mellin's pairs is held against quadratures of an independent library, and reaches the user."""

from __future__ import annotations

import mpmath
import pytest
from gmpy2 import mpq

import gelvo
from gelvo.calculus.definite.mellin import PAIRS
from gelvo.expression.building import number

# the function as the row means it, the period of its waves (0: it dies away), and a place of the strip
REFERENCES = {
    "exp": (lambda y: mpmath.exp(-y), 0, "7/10"), "sin": (mpmath.sin, 1, "4/10"), "cos": (mpmath.cos, 1, "7/10"),
    "ln": (lambda y: mpmath.log(1 + y), 0, "-6/10"), "atan": (mpmath.atan, 0, "-4/10"), "erfc": (mpmath.erfc, 0, "8/10"),
    "Ei": (lambda y: mpmath.ei(-y), 0, "9/10"), "Ci": (mpmath.ci, 1, "8/10"),
    "besselj": (lambda y: mpmath.besselj(2, y), 1, "3/10"), "besselk": (lambda y: mpmath.besselk(mpmath.mpf(1) / 3, y), 0, "3/2"),
    "gamma_inc": (lambda y: mpmath.gammainc(mpmath.mpf(3) / 4, y), 0, "6/10"),
}  # fmt: skip
ORDERS = {"besselj": (number(2),), "gamma_inc": (number(mpq(3, 4)),), "besselk": (number(mpq(1, 3)),)}


@pytest.mark.parametrize("name", PAIRS)
def test_a_pair_is_the_integral(name):
    f, waves, place = REFERENCES[name]
    u, pair, orders = mpq(place), PAIRS[name], ORDERS.get(name, ())
    assert all(float(str(gelvo.value(q))) > 0 for q in pair.strip(number(u), *orders))
    right = mpmath.mpf(str(gelvo.value(pair.value(number(u), *orders))))
    power = mpmath.mpf(int(u.numerator)) / int(u.denominator) - 1

    def g(y):
        return y**power * f(y)

    near = mpmath.quad(g, [0, 1e-9, 1e-6, 1e-3, 0.1, 1])
    far = mpmath.quadosc(g, [1, mpmath.inf], omega=1) if waves else mpmath.quad(g, [1, 10, 100, 1e4, 1e7, 1e11, mpmath.inf])
    assert abs(near + far - right) < 1e-3 * abs(right), (name, near + far, right)


@pytest.mark.parametrize(
    ("f", "given", "wanted"),
    [
        ("x^2*erfc(x)", [], "1/(3*sqrt(pi))"),
        ("erfc(sqrt(x))", [], "1/2"),
        ("x^n*erfc(x)", ["n > 0"], "gamma((n + 2)/2)/(sqrt(pi)*(n + 1))"),
        ("x^(a - 1)*exp(-b*x^2)", ["a > 0", "b > 0"], "b^(-a/2)*gamma(a/2)/2"),
        ("ln(1 + x^2)/x^2", [], "pi"),
        ("ln(1 + 1/x)/sqrt(x)", [], "2*pi"),
        ("x/(exp(x) - 1/2)", [], "pi^2/6 - ln(2)^2"),
        ("x^(s - 1)/(a + b*x^p)^m", ["a > 0", "b > 0", "p > 0", "s > 0", "m > s/p"], "a^(s/p - m)*b^(-s/p)*gamma(s/p)*gamma(m - s/p)/(p*gamma(m))"),
    ],
)  # fmt: skip
def test_integrals_from_zero_on(f, given, wanted):
    found = gelvo.integrate(f, "x", 0, gelvo.inf, given=given)
    assert gelvo.equal(found, wanted, given=given) and not found.conditions


def test_a_strip_becomes_a_condition():
    assert [str(c) for c in gelvo.integrate("x^(s - 1)*exp(-c*x^p)", "x", 0, gelvo.inf, given=["p > 0"]).conditions] == [
        "c > 0",
        "s > 0",
    ]
