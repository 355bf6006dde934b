"""Answers held against numbers that mpmath finds from the same text by its own road: quadrature, sums, differences, roots."""

from __future__ import annotations

import itertools

import mpmath
import pytest

import gelvo

# What a text means to mpmath: neither our reader nor our evaluation has a part in it.
MEANING = {
    name: getattr(mpmath, name)
    for name in (
        "sin cos tan cot exp ln sqrt cbrt asin acos atan sinh cosh tanh asinh acosh atanh pi gamma erf beta zeta floor factorial ellipk"
    ).split()
}
MEANING |= {
    "abs": mpmath.fabs,
    "Si": mpmath.si,
    "Ci": mpmath.ci,
    "Ei": mpmath.ei,
    "lambertw": mpmath.lambertw,
    "sech": mpmath.sech,
    "inf": mpmath.inf,
}


def meant(text, **values):
    return mpmath.mpmathify(eval(text.replace("^", "**"), {"__builtins__": {}}, MEANING | values))


def ours(expression, digits=25, **values):
    if values:
        expression = gelvo.substitute(expression, {n: gelvo.formula(str(v)) for n, v in values.items()})
    return mpmath.mpmathify(
        complex(0) if expression == 0 else mpmath.mpmathify(str(gelvo.value(expression, digits)).replace(" ", ""))
    )


# integrand, lower end, upper end, breaks for the quadrature
AREAS = [
    ("x^3 - 2*x + 1", "-1", "2"),
    ("1/(x^2 + 1)", "0", "1"),
    ("1/(x^2 + x + 1)", "-1", "1"),
    ("1/(x^4 + 1)", "0", "2"),
    ("x/(x^3 + 1)", "0", "3"),
    ("(x^2 + 3)/(x^2 + 2*x + 5)", "-2", "4"),
    ("1/(x^2*(x + 1))", "1", "5"),
    ("1/((x + 1)*(x + 2)*(x + 3))", "0", "1"),
    ("x^5/(x^2 + 1)^3", "0", "2"),
    ("1/(x^3 + 8)", "0", "2"),
    ("1/(x^6 + 1)", "0", "1"),
    ("sqrt(x)", "0", "4"),
    ("x*sqrt(x + 1)", "0", "3"),
    ("sqrt(4 - x^2)", "0", "1"),
    ("sqrt(x^2 + 9)", "0", "4"),
    ("sqrt(x^2 - 1)", "1", "3"),
    ("1/sqrt(x^2 + 2*x + 5)", "0", "2"),
    ("x/sqrt(3 + 2*x - x^2)", "0", "2"),
    ("1/(1 + sqrt(x))", "0", "9"),
    ("cbrt(x)/(1 + x)", "0", "1"),
    ("exp(-2*x)", "0", "1"),
    ("x^3*exp(-x)", "0", "2"),
    ("exp(-x)*sin(3*x)", "0", "2*pi"),
    ("x*exp(-x)*cos(x)", "0", "3"),
    ("1/(1 + exp(x))", "-1", "2"),
    ("exp(x)/(1 + exp(2*x))", "0", "1"),
    ("1/(2 + exp(x) + exp(-x))", "0", "2"),
    ("exp(sqrt(x))", "0", "4"),
    ("exp(-x^2)", "-1", "2"),
    ("x^2*exp(-x^2)", "0", "3"),
    ("exp(-x)/x", "1", "4"),
    ("ln(x)", "1", "3"),
    ("x^2*ln(x)", "0", "2"),
    ("ln(x)^3", "1", "4"),
    ("ln(x)/x^2", "1", "5"),
    ("ln(1 + x^2)", "0", "2"),
    ("ln(x + sqrt(x^2 + 1))", "0", "2"),
    ("1/(x*(1 + ln(x)^2))", "1", "4"),
    ("sin(x)^4", "0", "pi/3"),
    ("sin(x)^3*cos(x)^2", "0", "2"),
    ("sin(3*x)*cos(5*x)", "0", "1"),
    ("cos(x)^6", "0", "pi"),
    ("x^2*sin(2*x)", "0", "pi"),
    ("x*sin(x)^2", "0", "3"),
    ("tan(x)^2", "0", "1"),
    ("tan(x)^3", "0", "1"),
    ("1/cos(x)", "0", "1"),
    ("1/(2 + cos(x))", "0", "3*pi"),
    ("1/(5 + 4*sin(x))", "-2", "5"),
    ("sin(x)/(1 + cos(x)^2)", "0", "4"),
    ("1/(1 + 3*sin(x)^2)", "0", "2*pi"),
    ("sin(x)/x", "1", "3"),
    ("cos(sqrt(x))", "0", "4"),
    ("sin(ln(x))", "1", "5"),
    ("exp(cos(x))*sin(x)", "0", "2"),
    ("asin(x)", "0", "1/2"),
    ("atan(x)", "0", "3"),
    ("x*atan(x)", "-1", "2"),
    ("atan(sqrt(x))", "0", "4"),
    ("acos(x)^2", "0", "1/2"),
    ("x^2*asin(x)", "0", "1"),
    ("sinh(x)^2", "0", "1"),
    ("x*cosh(2*x)", "0", "1"),
    ("tanh(x)^2", "-1", "2"),
    ("1/cosh(x)", "0", "2"),
    ("asinh(x)", "0", "2"),
    ("atanh(x)", "0", "1/2"),
    ("abs(x - 1)", "-1", "3", "1"),
    ("abs(x^2 - 4)*x", "0", "3", "2"),
    ("abs(sin(x))", "0", "2*pi", "pi"),
    ("floor(x)*x", "0", "3", "1", "2"),
    ("exp(-abs(x))", "-2", "3", "0"),
    ("exp(-x^2)", "0", "inf"),
    ("x^4*exp(-x^2)", "0", "inf"),
    ("exp(-x)*sin(x)/x", "0", "inf"),
    ("1/(x^2 + 4)", "-inf", "inf"),
    ("1/(x^2 + 1)^3", "0", "inf"),
    ("1/(x^4 + x^2 + 1)", "0", "inf"),
    ("x^(-3/2)", "1", "inf"),
    ("exp(-sqrt(x))", "0", "inf"),
    ("x/(exp(x) - 1)", "0", "inf"),
    ("ln(x)/(1 + x^2)", "0", "inf", "1"),
    ("1/(sqrt(x)*(1 + x))", "0", "inf"),
    ("1/cosh(x)^2", "-inf", "inf"),
    ("x*exp(-3*x)", "0", "inf"),
    ("ln(x)", "0", "1"),
    ("1/sqrt(1 - x^2)", "0", "1"),
    ("ln(1 - x)/x", "0", "1"),
    ("x^2*(1 - x)^3", "0", "1"),
    ("sqrt(x/(1 - x))", "0", "1"),
]


@pytest.mark.parametrize("case", AREAS, ids=[f"{c[0]} {c[1]} {c[2]}" for c in AREAS])
def test_areas_agree_with_quadrature(case):
    text, *places = case
    answer = gelvo.integrate(gelvo.formula(text), "x", places[0], places[1])
    assert not answer.reason
    with mpmath.workdps(30):
        ends = sorted(meant(p) for p in places)
        inner = [meant(p) for p in ("0", "1", "5")] if ends[0] == -mpmath.inf else []
        right = mpmath.quad(lambda v: meant(text, x=v), sorted({*ends, *inner}))
        assert abs(ours(answer.expression) - right) < 1e-8 * (1 + abs(right))


# what grows or dies away with factorials and other functions, whose limits hide exponentials; "" is left open
FAR_OUT = [
    ("2^n/factorial(n)", "0"),
    ("exp(n)/gamma(n)", "0"),
    ("n^n/factorial(n)", "inf"),
    ("n^2/factorial(n)", "0"),
    ("factorial(n)*exp(-n)", "inf"),
    ("-2*factorial(n)", "-inf"),
    ("factorial(n + 1)/factorial(n)", "inf"),
    ("factorial(n)/n^n", "0"),
    ("factorial(n)*exp(n)/(n^n*sqrt(n))", "sqrt(2*pi)"),
    ("factorial(2*n)*sqrt(n)/(4^n*factorial(n)^2)", "1/sqrt(pi)"),
    ("gamma(n + 1/2)/(gamma(n)*sqrt(n))", "1"),
    ("1 - 1/factorial(n + 1)", "1"),
    ("exp(-n)*sin(n)", "0"),
    ("exp(2*n)/erf(n)", "inf"),
    ("exp(n)*(1 - tanh(n))", "0"),
    ("exp(-abs(n))*n", "0"),
    ("abs(n)/n", "1"),
    ("cbrt(n^3 + n^2) - n", "1/3"),
    ("cbrt(n^2 - n^3) + n", "1/3"),
    ("cbrt(n)*exp(-n)", "0"),
    ("exp(n^2)*(1 - erf(n))", "0"),
    ("exp(-n)/sin(n)", ""),
    ("exp(-n)*tan(n)", ""),
    ("floor(exp(n))*exp(-n)", "1"),
    ("exp(-n)*Ei(n)", "0"),
    ("exp(n)*(2 + sin(n))", ""),
    ("exp(-2*n)*besseli(0, n)", "0"),
    ("factorial(n) - factorial(n)/n", "inf"),
]


@pytest.mark.parametrize(("text", "wanted"), FAR_OUT, ids=[c[0] for c in FAR_OUT])
def test_what_hides_an_exponential_is_not_taken_for_a_coefficient(text, wanted):
    answer = gelvo.limit(text, "n", "inf")
    assert bool(answer.reason) is (wanted == "")
    if wanted.lstrip("-") == "inf":
        assert str(answer.expression) == wanted
    elif wanted:
        assert gelvo.equal(answer, wanted)


# terms, first place; the sum runs to infinity
TOTALS = [
    ("1/2^n", 0),
    ("n/3^n", 1),
    ("n^2/2^n", 1),
    ("(2*n + 1)*(1/4)^n", 0),
    ("(-1)^n/5^n", 0),
    ("1/n^2", 1),
    ("1/n^4", 1),
    ("1/n^3", 2),
    ("(-1)^n/n^2", 1),
    ("1/(n*(n + 1))", 1),
    ("1/(n*(n + 3))", 1),
    ("1/(n^2 - 1)", 2),
    ("1/(4*n^2 - 1)", 1),
    ("1/((2*n + 1)*(2*n + 5))", 0),
    ("1/(n*(n + 1)*(n + 2))", 1),
    ("(2*n + 1)/(n^2*(n + 1)^2)", 1),
    ("1/factorial(n)", 0),
    ("2^n/factorial(n)", 0),
    ("n/factorial(n)", 1),
    ("n^2/factorial(n)", 0),
    ("(-1)^n/factorial(2*n)", 0),
    ("(-1)^n/factorial(2*n + 1)", 0),
    ("1/factorial(2*n)", 0),
    ("n/factorial(n + 1)", 1),
    ("(-1)^n/(2*n + 1)", 0),
    ("(-1)^(n + 1)/n", 1),
    ("1/(n*2^n)", 1),
    ("exp(-n)", 0),
    ("n*exp(-2*n)", 0),
]


@pytest.mark.parametrize(("text", "first"), TOTALS, ids=[c[0] for c in TOTALS])
def test_sums_without_end_agree_with_numeric_ones(text, first):
    answer = gelvo.add_up(gelvo.formula(text), "n", first, "inf")
    assert not answer.reason
    with mpmath.workdps(30):
        if any(fast in text for fast in ("exp", "factorial", "2^n", "3^n", "4)^n", "5^n")):
            right = mpmath.fsum(meant(text, n=mpmath.mpf(k)) for k in range(first, 160))
        else:
            pairs = lambda k: meant(text, n=2 * k + first) + meant(text, n=2 * k + 1 + first)
            right = mpmath.nsum(pairs, [0, mpmath.inf])
        assert abs(ours(answer.expression) - right) < 1e-12 * (1 + abs(right))


# equation as left = right, facts
ROOTS = [
    ("x^3 - 6*x^2 + 11*x - 6", "0"),
    ("x^3 - 3*x + 1", "0"),
    ("x^4 - 10*x^2 + 1", "0"),
    ("x^5 - x - 1", "0"),
    ("x^6 - 2*x^3 - 3", "0"),
    ("2*x^4 + 3*x^3 - 7*x^2 + 3*x + 2", "0"),
    ("1/x + 1/(x + 1)", "3/2"),
    ("(x + 1)/(x - 2)", "x"),
    ("x/(x^2 + 1)", "2/5"),
    ("sqrt(x + 5)", "x - 1"),
    ("sqrt(2*x + 3) - sqrt(x + 1)", "1"),
    ("sqrt(x) + sqrt(x + 3)", "3"),
    ("cbrt(x + 1)", "2"),
    ("x - 5*sqrt(x) + 6", "0"),
    ("abs(2*x - 1)", "x + 4"),
    ("abs(x^2 - 3*x)", "2"),
    ("abs(x) + abs(x - 2)", "5"),
    ("2^x", "10"),
    ("4^x - 3*2^x + 2", "0"),
    ("exp(2*x) - 5*exp(x) + 6", "0"),
    ("exp(x) + exp(-x)", "4"),
    ("3^(x + 1)", "5^x"),
    ("x*exp(x)", "2"),
    ("x*exp(x)", "-1/5"),
    ("exp(x)", "3 - x"),
    ("x + ln(x)", "3"),
    ("ln(x) + ln(x - 3)", "ln(10)"),
    ("ln(x^2 - 1)", "2"),
    ("x*ln(x)", "2"),
    ("sinh(x)", "3"),
    ("cosh(x)", "2"),
    ("tanh(x)", "1/3"),
    ("2*sinh(x) + cosh(x)", "4"),
    ("atan(x)", "1"),
    ("asin(2*x)", "pi/6"),
    ("acos(x - 1)", "2"),
    ("x^(3/2)", "8"),
    ("x^(2/3)", "4"),
    ("x^2 - 5", "abs(x - 1)"),
    ("ln(2*x + 1) - ln(x)", "1"),
    ("exp(3*x)", "7*exp(x)"),
    ("sqrt(x^2 - 3)", "x/2"),
    ("1/(x - 1)^2", "9"),
    ("x^8 - 17*x^4 + 16", "0"),
    ("sinh(x)^2", "2"),
    ("asinh(x)", "1/2"),
    ("atanh(x)", "x/2 + 1 - x/2"),
]


@pytest.mark.parametrize(("left", "right"), ROOTS, ids=[c[0] for c in ROOTS])
def test_roots_put_back_into_the_text_and_none_is_missing(left, right):
    found = gelvo.solve(f"{left} = {right}", "x", given=["x real"])
    with mpmath.workdps(30):

        def gap(v):
            return meant(left, x=v) - meant(right, x=v)

        roots = sorted(mpmath.re(ours(*values.values())) for values in found)
        for root in roots:
            assert abs(gap(root)) < 1e-15 * (1 + abs(root)) ** 4
        steps = [mpmath.mpf(k) / 16 + mpmath.mpf("0.0123") for k in range(-160, 640)]
        looked = []
        for v in steps:
            try:
                here = gap(v)
            except (ZeroDivisionError, ValueError):
                continue
            if abs(mpmath.im(here)) < 1e-20:
                looked.append((v, mpmath.re(here)))
        for (a, low), (b, high) in itertools.pairwise(looked):
            if low * high < 0 and abs(low) + abs(high) < 30 and b - a < 0.1:
                assert any(a <= r <= b for r in roots), (left, right, float(a), str(found))


# function of time; its transform is held against the integral itself at two places
TRANSFORMED = [
    "1",
    "t^3",
    "sqrt(t)",
    "1/sqrt(t)",
    "t^(3/2)",
    "exp(-t)",
    "t^2*exp(-3*t)",
    "sin(2*t)",
    "cos(3*t)",
    "t*sin(t)",
    "t^2*cos(t)",
    "exp(-t)*sin(2*t)",
    "exp(-2*t)*cos(t)",
    "t*exp(-t)*sin(t)",
    "sin(t)^2",
    "cos(t)^3",
    "sin(t)*cos(2*t)",
    "sin(t + 1)",
    "sinh(t/2)",
    "cosh(t/2)",
    "exp(-t)*sqrt(t)",
    "(1 + t)^2*exp(-t)",
    "2^t",
    "exp(-(t + 2))",
]


@pytest.mark.parametrize("text", TRANSFORMED)
def test_laplace_transforms_agree_with_their_integral(text):
    answer = gelvo.laplace(gelvo.formula(text), "t", "s")
    assert not answer.reason
    with mpmath.workdps(25):
        for s in (2, 3):
            right = mpmath.quad(lambda v, s=s: meant(text, t=v) * mpmath.exp(-s * v), [0, 0.01, 1, 5, 20, 60])
            assert abs(ours(answer.expression, s=s) - right) < 1e-6 * (1 + abs(right))


# function, place; four coefficients are held against numeric derivatives
EXPANDED = [
    ("exp(x)*cos(x)", "0"),
    ("ln(1 + sin(x))", "0"),
    ("sqrt(1 + x + x^2)", "0"),
    ("1/(1 - x - x^2)", "0"),
    ("tan(x)", "pi/4"),
    ("atan(x)", "1"),
    ("x^x", "1"),
    ("(1 + x)^(1/3)", "0"),
    ("exp(sin(x))", "0"),
    ("cos(sqrt(1 + x))", "0"),
    ("ln(x)", "2"),
    ("asin(x)", "1/2"),
    ("gamma(x)", "1"),
    ("erf(x)", "1"),
    ("sinh(x)/cosh(x)^2", "0"),
    ("x/(exp(x) - 1)", "1"),
    ("lambertw(x)", "1"),
    ("Si(x)", "2"),
    ("exp(-1/x)", "1"),
    ("sqrt(cosh(x))", "0"),
    ("1/(2 + cos(x))", "0"),
    ("ln(gamma(x))", "2"),
    ("abs(x - 3)", "1"),
    ("acosh(x)", "2"),
]


@pytest.mark.parametrize(("text", "place"), EXPANDED, ids=[c[0] for c in EXPANDED])
def test_expansions_agree_with_numeric_derivatives(text, place):
    found = gelvo.series(gelvo.formula(text), "x", place, through=4)
    with mpmath.workdps(40):
        centre = meant(place)
        numbers = mpmath.taylor(lambda v: meant(text, x=v), centre, 4)
        step = mpmath.mpf(1) / 64
        right = mpmath.fsum(c * step**j for j, c in enumerate(numbers))
        here = gelvo.substitute(found.expression, {"x": gelvo.formula(place) + gelvo.formula("1/64")})
        assert abs(ours(here, 35) - right) < 1e-16


# integrand of an integral without ends, and a place: the numeric derivative of the answer must be the integrand
UNENDED = [
    ("1/(x^5 + x^3)", "2"),
    ("(x^4 + 1)/(x^6 + 1)", "1/2"),
    ("x^3/(x^8 + 1)", "1/2"),
    ("1/(x^4 - 5*x^2 + 4)", "3"),
    ("(3*x + 1)/(x^2 - x + 7)^2", "-1"),
    ("x^2/sqrt(x^2 + 4)", "1"),
    ("sqrt(5 - 4*x - x^2)", "-1"),
    ("1/(x*sqrt(x^2 + 1))", "2"),
    ("1/(x^2*sqrt(4 - x^2))", "1"),
    ("x*sqrt(x^2 + x + 1)", "1"),
    ("sqrt((1 + x)/(1 - x))", "1/4"),
    ("1/(sqrt(x) + cbrt(x))", "5"),
    ("cbrt(x)*(1 + cbrt(x)^2)", "2"),
    ("sqrt(exp(x) - 1)", "1"),
    ("exp(3*x)/(exp(x) + 2)", "1/2"),
    ("x^2*2^x", "1"),
    ("exp(2*x)*cos(3*x)", "1/2"),
    ("x*exp(x)*sin(x)", "1"),
    ("(x + 1)*exp(x)/(x*exp(x) + 2)", "1"),
    ("exp(x)*(1/x - 1/x^2)", "2"),
    ("exp(1/x)/x^2", "2"),
    ("x^3*ln(x)^2", "2"),
    ("ln(x)/sqrt(x)", "3"),
    ("ln(ln(x))/x", "4"),
    ("ln(x^2 + x + 1)", "1"),
    ("ln(1 + sqrt(x))", "2"),
    ("sin(x)^5", "1"),
    ("sin(x)^2*cos(x)^4", "1"),
    ("sin(2*x)*sin(3*x)*cos(x)", "1"),
    ("1/(sin(x)*cos(x))", "1/2"),
    ("1/sin(x)^3", "1"),
    ("tan(x)^5", "1/2"),
    ("1/(3 + 5*cos(x))", "1"),
    ("cos(x)/(2 + sin(x)^2)", "1"),
    ("1/(1 + tan(x))", "1/2"),
    ("x/cos(x)^2", "1/2"),
    ("x*tan(x)^2", "1/2"),
    ("x/sin(3*x)^2", "1/2"),
    ("x*sech(2*x + 1)^2", "1/2"),
    ("x^3*cos(x^2)", "1"),
    ("sin(sqrt(x))", "2"),
    ("exp(x)*cos(exp(x))", "1"),
    ("x^2*atan(x)", "2"),
    ("atan(x)/x^2", "2"),
    ("asin(x)/sqrt(1 - x^2)", "1/4"),
    ("x*asin(x)", "1/4"),
    ("asin(x)^2", "1/4"),
    ("sinh(x)*cos(x)", "1"),
    ("x^2*cosh(x)", "1"),
    ("1/(3 + cosh(x))", "1"),
    ("tanh(x)^3", "1"),
    ("x*atanh(x)", "1/4"),
    ("sin(x^2)*x", "1"),
    ("exp(-x^2)*x^3", "1"),
    ("erf(x)", "1"),
    ("x*erf(x)", "1"),
    ("cos(x)/x", "2"),
    ("exp(x)/x^2", "2"),
    ("1/ln(x)", "3"),
]


@pytest.mark.parametrize(("text", "place"), UNENDED, ids=[c[0] for c in UNENDED])
def test_integrals_without_ends_have_the_integrand_as_slope(text, place):
    answer = gelvo.integrate(text, "x")
    assert not answer.reason
    with mpmath.workdps(60):
        step = mpmath.mpf(1) / 10**8
        here = [gelvo.formula(f"{place} + {j}/10^8") for j in (-2, -1, 1, 2)]
        a, b, c, d = (mpmath.re(ours(gelvo.substitute(answer.expression, {"x": p}), 60)) for p in here)
        slope = (a - 8 * b + 8 * c - d) / (12 * step)
        right = meant(text, x=meant(place))
        assert abs(slope - right) < 1e-25 * (1 + abs(right))


# function of time, places: the transform is held against the integral itself
SPECTRA = [
    ("exp(-t^2)", "1"),
    ("exp(-3*t^2 + 2*t)", "2"),
    ("exp(-abs(t))", "1"),
    ("t*exp(-t^2)", "1"),
    ("t^2*exp(-t^2/2)", "3/2"),
    ("exp(-2*abs(t))*cos(t)", "1"),
    ("exp(-(t - 1)^2)", "2"),
    ("cos(3*t)*exp(-t^2)", "2"),
]


@pytest.mark.parametrize(("text", "place"), SPECTRA, ids=[c[0] for c in SPECTRA])
def test_fourier_transforms_agree_with_their_integral(text, place):
    answer = gelvo.fourier(text, "t", "w")
    assert not answer.reason
    with mpmath.workdps(25):
        w = meant(place)
        right = mpmath.quad(lambda v: meant(text, t=v) * mpmath.expj(-w * v), [-40, -8, -2, 0, 1, 4, 12, 40])
        assert abs(ours(answer.expression, w=place) - right) < 1e-12
