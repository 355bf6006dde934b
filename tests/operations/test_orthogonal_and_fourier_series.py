"""Fourier series, expansions in orthogonal polynomials, transforms by their definition, held against quadratures of their own."""

from __future__ import annotations

import mpmath
import pytest

import gelvo
from hunt.plain import mp, read, value
from sample_tasks import numeric

PERIODIC = [
    ("x", "-pi", "pi", []), ("sign(x)", "-pi", "pi", ["0"]), ("abs(sin(x))", "-pi", "pi", ["0"]), ("exp(x)", "-pi", "pi", []), ("x^2", "0", "3", []), ("heaviside(x)*sin(x)", "-pi", "pi", ["0"]),
    ("cos(x)^3", "-pi", "pi", []), ("cases(1 when x < 1, otherwise 0)", "0", "2", ["1"]), ("x*cos(x)", "-pi", "pi", []), ("abs(x)", "-1", "1", ["0"]), ("exp(-2*abs(x))", "-1", "1", ["0"]), ("x*sin(5*x)", "-pi", "pi", []),
]  # fmt: skip


def number(text):
    return value(read(text), {})


def quadrature(text, low, high, breaks=()):
    tree = read(text)
    with mp.workdps(25):
        return mp.quad(lambda x: value(tree, {"x": x}), [number(low), *map(number, breaks), number(high)])


@pytest.mark.parametrize(("text", "low", "high", "breaks"), PERIODIC)
def test_fourier_coefficients_are_the_integrals(text, low, high, breaks):
    found = gelvo.fourier_series(text, "x", low, high)
    assert found.verdict == "proved"
    length = number(high) - number(low)
    mean = quadrature(text, low, high, breaks) / length
    assert abs(numeric(found.mean, {}).real - mpmath.mpf(str(mean))) < 1e-12
    for k in (1, 2, 3, 5, 8):
        for wave, have in zip(("cos", "sin"), found.harmonic(k), strict=True):
            wanted = 2 / length * quadrature(f"({text})*{wave}({k}*2*pi*x/(({high}) - ({low})))", low, high, breaks)
            assert abs(numeric(have, {}).real - mpmath.mpf(str(wanted))) < 1e-12, (k, wave)


def test_partial_sums_come_near_and_squares_add_up():
    square = gelvo.fourier_series("sign(x)", "x", "-pi", "pi")
    at = {"x": "1"}
    gaps = [abs(numeric(square.partial(n), at).real - 1) for n in (1, 9, 81)]
    assert gaps[2] < gaps[1] < gaps[0] < 0.1
    both = square.mean_square()
    assert gelvo.equal(gelvo.carry_out(both.left), gelvo.carry_out(both.right)) and str(gelvo.carry_out(both.right)) == "1"
    half = gelvo.fourier_series("heaviside(x)*sin(x)", "x", "-pi", "pi")
    assert list(half.exceptions) == [1] and str(half.harmonic(1).sine) == "1/2"
    lettered = gelvo.fourier_series("x^2", "x", 0, "L", given=["L > 0"])
    assert gelvo.equal(lettered.mean, "L^2/3") and str(lettered.frequency) == "2*pi/L"


POLYNOMIALS = [
    ("abs(x)", "legendre", "-1", "1", "1", ["0"]), ("exp(x)", "legendre", "-1", "1", "1", []), ("sign(x)", "legendre", "-1", "1", "1", ["0"]), ("sqrt(1 - x^2)", "legendre", "-1", "1", "1", []),
    ("x^3", "hermite", "-9", "9", "exp(-x^2)", []), ("exp(-x)", "laguerre", "0", "80", "exp(-x)", ["4", "20"]), ("x^2*exp(-x^2)", "hermite", "-9", "9", "exp(-x^2)", []),
]  # fmt: skip
BY_DEGREE = {"legendre": mpmath.legendre, "hermite": mpmath.hermite, "laguerre": lambda k, x: mpmath.laguerre(k, 0, x)}
NORMS = {
    "legendre": lambda k: mpmath.mpf(2) / (2 * k + 1),
    "hermite": lambda k: mpmath.sqrt(mpmath.pi) * 2**k * mpmath.factorial(k),
    "laguerre": lambda k: 1,
}


@pytest.mark.parametrize(("text", "family", "low", "high", "weight", "breaks"), POLYNOMIALS)
def test_coefficients_by_orthogonal_polynomials(text, family, low, high, weight, breaks):
    found = gelvo.orthogonal_series(text, "x", family, through=4)
    assert found.verdict == "proved"
    tree = read(f"({text})*({weight})")
    for k in range(5):
        ends = [mpmath.mpf(str(number(e))) for e in (low, *breaks, high)]
        wanted = mpmath.quad(lambda x, k=k: mpmath.mpf(str(value(tree, {"x": mp.mpf(str(x))}))) * BY_DEGREE[family](k, x), ends) / NORMS[family](k)  # fmt: skip
        assert abs(numeric(found.coefficient(k), {}).real - wanted) < 1e-9, k


def test_chebyshev_and_what_is_shown():
    found = gelvo.orthogonal_series("abs(x)", "x", "chebyt", through=4)
    assert str(found) == "(2/pi)*chebyt(0, x) + (4/(3*pi))*chebyt(2, x) + (-4/(15*pi))*chebyt(4, x)"
    assert gelvo.equal(gelvo.formula(str(found)), found.expression)


DEFINED = [
    ("mellin", ("exp(-t)", "t", "s"), {}, "gamma(s)", ["s > 0"]), ("mellin", ("1/(1 + t)", "t", "s"), {}, "pi/sin(pi*s)", None), ("mellin", ("ln(1 + t)", "t", "s"), {}, "pi/(s*sin(pi*s))", None),
    ("hankel", ("exp(-a*r)/r", "r", "k"), {"given": ["a > 0", "k > 0"]}, "1/sqrt(a^2 + k^2)", []), ("hankel", ("r*exp(-a*r^2)", "r", "k"), {"order": 1, "given": ["a > 0", "k > 0"]}, "k*exp(-k^2/(4*a))/(4*a^2)", []),
    ("hilbert", ("cos(a*t)", "t", "x"), {"given": ["a > 0"]}, "sin(a*x)", []), ("hilbert", ("1/(1 + t^2)", "t", "x"), {}, "x/(1 + x^2)", None),
    ("convolution", ("exp(-t)", "exp(-2*t)", "t"), {"over": "half line", "given": ["t > 0"]}, "exp(-t) - exp(-2*t)", []), ("convolution", ("exp(-t^2)", "exp(-t^2)", "t"), {}, "sqrt(pi/2)*exp(-t^2/2)", []),
    ("z_transform", ("a^n", "n", "z"), {"given": ["a > 0", "z > a"]}, "z/(z - a)", []), ("z_transform", ("n*2^n", "n", "z"), {"given": ["z > 2"]}, "2*z/(z - 2)^2", []), ("z_transform", ("1/factorial(n)", "n", "z"), {"given": ["z > 0"]}, "exp(1/z)", []),
    ("inverse_z_transform", ("z/(z - a)", "z", "n"), {}, "a^n", []), ("inverse_z_transform", ("z/(z - 1)^2", "z", "n"), {}, "n", []), ("inverse_z_transform", ("exp(1/z)", "z", "n"), {}, "1/factorial(n)", []),
]  # fmt: skip


@pytest.mark.parametrize(("word", "arguments", "named", "wanted", "conditions"), DEFINED)
def test_transforms_by_what_defines_them(word, arguments, named, wanted, conditions):
    found = getattr(gelvo, word)(*arguments, **named)
    assert found.verdict == "proved"
    given = [*named.get("given", []), *found.conditions]
    assert gelvo.equal(found.expression, gelvo.formula(wanted, names_from=found.expression), given=given)
    assert conditions is None or [str(c) for c in found.conditions] == conditions


GENERAL = ["exp(2*x)", "sin(x)", "cos(x)", "ln(1 + x)", "1/(1 - x - x^2)", "1/(1 + x^2)", "x/(1 - x)^2", "atan(x)", "asin(x)", "1/sqrt(1 - 4*x)", "(1 - sqrt(1 - 4*x))/(2*x)", "exp(-x)*sin(2*x)", "erf(x)", "sinh(x)", "polylog(2, x)", "ellipk(x)", "x^2*exp(x) + 3", "cos(sqrt(x))", "1/(1 - x^3)", "1/(x^2 + 2*x + 5)", "x*exp(-x^2)", "ln(2 + 3*x)"]  # fmt: skip


@pytest.mark.parametrize("text", GENERAL)
def test_the_coefficient_of_a_letter(text):
    series = gelvo.series(text, "x", through=9)
    found = series.coefficient("n")
    assert found.verdict == "proved"
    for k in range(10):
        have = found.expression.substitute({"n": str(k)})
        assert gelvo.equal(have, series.coefficient(k)), k


@pytest.mark.parametrize(("text", "wanted"), [("exp(a*x)", "a^n/factorial(n)"), ("(1 + x)^a", "binomial(a, n)"), ("1/(1 - a*x)", "a^n"), ("cos(a*x)", "a^n*cos(pi*n/2)/factorial(n)")])  # fmt: skip
def test_letters_in_it(text, wanted):
    found = gelvo.series(text, "x").coefficient("n")
    assert (str(found), found.verdict) == (wanted, "proved")


IMPLICIT = [("y + y^3 = x", "0", "0", "x - x^3 + 3*x^5"), ("x^2 + y^2 = 1", "0", "1", "1 - x^2/2 - x^4/8"), ("y*exp(y) = x", "0", "0", "x - x^2 + 3*x^3/2 - 8*x^4/3 + 125*x^5/24"), ("sin(y) + y = 2*x + x*y", "0", "0", None)]  # fmt: skip


@pytest.mark.parametrize(("equation", "about", "start", "wanted"), IMPLICIT)
def test_the_expansion_of_what_an_equation_defines(equation, about, start, wanted):
    found = gelvo.series_implicitly(equation, "y", "x", about, start)
    assert found.verdict == "proved"
    assert wanted is None or gelvo.equal(found.expression, wanted)
    left, right = map(read, equation.split("="))
    rests = []
    for h in ("1e-3", "1e-4"):
        at = {"x": mp.mpf(h), "y": value(read(str(found.expression)), {"x": mp.mpf(h)})}
        rests.append(abs(value(left, at) - value(right, at)))
    assert rests[1] < rests[0] / mp.mpf(10) ** 5


REFUSED = [
    (lambda: gelvo.fourier_series("1/x", "x", -1, 1), "no value"), (lambda: gelvo.fourier_series("n*x", "x", 0, 1), "another letter"), (lambda: gelvo.fourier_series("x", "x", 0, "inf"), "finite ends"),
    (lambda: gelvo.fourier_series("cos(m*x)", "x", "-pi", "pi", given=["m natural", "m > 0"]), "give it a number"), (lambda: gelvo.fourier_series("x", "x", 0, 1).harmonic(0), "counted from 1"),
    (lambda: gelvo.orthogonal_series("x", "x", "bessel"), "no family"), (lambda: gelvo.orthogonal_series("x", "x", through=-1), "last degree"), (lambda: gelvo.orthogonal_series("1/x", "x"), "no closed form, or no value"),
    (lambda: gelvo.orthogonal_series("x", "x", through=2).coefficient(3), "worked out for"), (lambda: gelvo.mellin("exp(-t)*s", "t", "s"), "stands in the formula"), (lambda: gelvo.convolution("t", "t", "t", over="x"), "half line"),
    (lambda: gelvo.inverse_z_transform("z^2", "z", "n"), "stands for 1/z"), (lambda: gelvo.series("tan(x)", "x").coefficient("n"), "no closed form"), (lambda: gelvo.series("n*x", "x").coefficient("n"), "already contains"),
    (lambda: gelvo.series("exp(1/x)", "x", "inf").coefficient("n"), "finite point"), (lambda: (gelvo.series("exp(x)", "x") * 2).coefficient("n"), "arithmetic"), (lambda: gelvo.series("sqrt(x)", "x").coefficient("n"), "no closed form"),
    (lambda: gelvo.series_implicitly("x^2 + y^2 = 1", "y", "x", 1, 0), "slope by y"), (lambda: gelvo.series_implicitly("y = 1 + x", "y", "x", 0, 0), "pass through"), (lambda: gelvo.series_implicitly("y = x", "y", "x", 0, 0, "a"), "last power"),
]  # fmt: skip


@pytest.mark.parametrize(("work", "told"), REFUSED)
def test_what_cannot_be_done_says_why(work, told):
    with pytest.raises((gelvo.DomainError, gelvo.NoClosedForm), match=told):
        work()
