"""Random questions whose answers are held against numbers from elsewhere: limits, sums, integrals, equations, matrices."""

from __future__ import annotations

from random import Random

import mpmath
import numpy
import pytest
from gmpy2 import mpq

import gelvo

x, k, t = gelvo.variable("x"), gelvo.variable("k"), gelvo.variable("t")
SMALL = ("sin(x)", "tan(x)", "exp(x) - 1", "ln(1 + x)", "x", "atan(x)", "sinh(x)", "asin(x)", "1 - cos(x)", "sqrt(1 + x) - 1")


def numeric(e, place, digits=30):
    with mpmath.workdps(digits):
        return mpmath.mpf(str(gelvo.value(gelvo.substitute(e, {x: place}), digits)))


@pytest.mark.parametrize("seed", range(16))
def test_quotients_of_small_functions(seed):
    random = Random(seed)
    top = gelvo.multiply_all([gelvo.formula(random.choice(SMALL)) ** random.choice((1, 1, 2)) for _ in range(2)])
    bottom = gelvo.multiply_all([gelvo.formula(random.choice(SMALL)) ** random.choice((1, 1, 2)) for _ in range(2)])
    e = top / bottom
    answer = gelvo.limit(e, x, 0)
    if str(answer.expression) in ("inf", "-inf", "undefined"):
        near = [abs(numeric(e, gelvo.formula(f"1/10^{p}"))) for p in (4, 8)]
        assert near[1] > 100 * near[0]
    else:
        near = numeric(e, gelvo.formula("1/10^12"), 60)
        assert abs(near - mpmath.mpf(str(gelvo.value(answer, 30)))) < 1e-9


@pytest.mark.parametrize("seed", range(24))
def test_taylor_coefficients_agree_with_numeric_ones(seed):
    random = Random(100 + seed)
    inner = gelvo.formula(random.choice(SMALL)) * random.choice((1, 2, -1)) + gelvo.formula(
        random.choice(SMALL)
    ) * random.randint(0, 2)
    outer = random.choice(("exp", "cos", "sin", "cosh", "atan"))
    e = getattr(gelvo, outer)(inner)
    found = gelvo.series(e, x, through=5)
    step = mpq(1, 10**6)
    here = numeric(e, gelvo.formula(str(step)), 60)
    kept = numeric(found.expression, gelvo.formula(str(step)), 60)
    assert abs(here - kept) < mpmath.mpf(10) ** -30


@pytest.mark.parametrize("seed", range(30))
def test_sums_of_polynomials_times_powers(seed):
    random = Random(200 + seed)
    base = random.choice((1, 2, 3, mpq(1, 2), -1, -2))
    polynomial = gelvo.total([random.randint(-4, 4) * k**j for j in range(random.randint(1, 4))]) + 1
    term = polynomial * gelvo.formula(str(base)) ** k
    n = gelvo.variable("n")
    answer = gelvo.add_up(term, k, random.choice((0, 1, 2)), n)
    assert not answer.reason
    for upper in (4, 7):
        difference = gelvo.substitute(answer.expression, {n: gelvo.formula(str(upper))}) - gelvo.substitute(
            answer.expression, {n: gelvo.formula(str(upper - 1))}
        )
        assert gelvo.equal(difference, gelvo.substitute(term, {k: gelvo.formula(str(upper))}))


@pytest.mark.parametrize("seed", range(16))
def test_rational_integrals_agree_with_quadrature(seed):
    random = Random(300 + seed)
    bottom = gelvo.multiply_all(
        [random.choice((x**2 + 1, x**2 + x + 1, x + 3, (x + 4) ** 2, x**2 + 4, x**4 + 1)) for _ in range(2)]
    )
    top = gelvo.total([random.randint(-5, 5) * x**j for j in range(4)]) + 1
    answer = gelvo.integrate(top / bottom, x)
    if answer.reason:
        return
    ends = [numeric(answer.expression, gelvo.formula(e)) for e in ("1/2", "2")]
    f = gelvo.numeric_function(top / bottom, [x])
    with mpmath.workdps(20):
        right = mpmath.quad(lambda v: mpmath.mpf(float(f(float(v)))), [0.5, 1.2, 2])
    assert abs((ends[1] - ends[0]) - right) < 1e-9


@pytest.mark.parametrize("seed", range(9))
def test_rational_functions_of_waves_agree_with_quadrature(seed):
    random = Random(400 + seed)
    s, c = gelvo.sin(x), gelvo.cos(x)
    top = random.choice((gelvo.formula("1"), s, c, s * c, s**2, c**3, 1 + s))
    bottom = random.choice((2 + s, 3 + 2 * c, 1 + s**2, 4 - c**2, 5 + 3 * s + c, 2 + s * c))
    answer = gelvo.integrate(top / bottom, x, 0, "2*pi" if seed % 2 else "pi/3")
    if answer.reason:
        return
    f = gelvo.numeric_function(top / bottom, [x])
    grid = numpy.linspace(0, 2 * numpy.pi if seed % 2 else numpy.pi / 3, 4001)
    right = float(numpy.trapezoid(f(grid), grid))
    assert abs(float(answer) - right) < 1e-5


@pytest.mark.parametrize("seed", range(15))
def test_inequalities_hold_where_they_say(seed):
    random = Random(500 + seed)
    factors = [x - random.randint(-4, 4) for _ in range(random.randint(1, 4))]
    split = random.randint(0, len(factors))
    e = (
        gelvo.multiply_all(factors[:split]) / gelvo.multiply_all(factors[split:])
        if split < len(factors)
        else gelvo.multiply_all(factors)
    )
    sign = random.choice(("<", "<=", ">", ">="))
    condition = {"<": e < 1, "<=": e <= 1, ">": e > 1, ">=": e >= 1}[sign]
    if isinstance(condition, bool):
        return
    try:
        found = gelvo.solve(condition, x)
    except gelvo.NotSolved:
        return
    for _ in range(40):
        place = gelvo.formula(str(mpq(random.randint(-60, 60), 7)))
        try:
            value = gelvo.substitute(e, {x: place})
        except gelvo.DomainError:
            assert place not in found
            continue
        number = float(value)
        truth = {"<": number < 1, "<=": number <= 1, ">": number > 1, ">=": number >= 1}[sign]
        assert (place in found) is truth, (str(condition), str(place), str(found))


@pytest.mark.parametrize("seed", range(10))
def test_linear_differential_equations_with_random_coefficients(seed):
    random = Random(600 + seed)
    y = gelvo.unknown_function("y", t)
    a, b = random.randint(-4, 4), random.randint(-6, 6)
    forcing = random.choice(("0", "1", "t", "exp(t)", "sin(t)", "exp(-2*t)", "t*exp(-t)", "cos(2*t)"))
    equation = gelvo.equation(y.derivative(2) + a * y.derivative() + b * y, gelvo.formula(forcing))
    found = gelvo.solve(equation, y, given=["y(0) = 1", "y'(0) = -1"])
    assert found.verdict == "proved" and len(found) == 1
    course = gelvo.solve_numerically(equation, y, span=(0, 1), given=["y(0) = 1", "y'(0) = -1"], points=5)
    right = gelvo.numeric_function(found.single, [t])(course.times)
    assert abs(course["y"] - right).max() < 1e-6 * max(1.0, abs(right).max())


@pytest.mark.parametrize("seed", range(5))
def test_matrix_exponentials_agree_with_floating_point(seed):
    from scipy.linalg import expm

    random = Random(700 + seed)
    size = random.choice((2, 2, 3))
    A = gelvo.random_matrix(size, size, seed=seed, lowest=-2, highest=2)
    try:
        found = A.exponential("t")
    except gelvo.NotSolved:
        return
    plain = numpy.array([[float(e) for e in A.row(i)] for i in range(size)])
    at = found.substitute({"t": "1/2"})
    for i in range(size):
        for j in range(size):
            try:
                value = complex(gelvo.value(at[i, j], 15))
            except gelvo.Undecided:  # a sum over complex roots whose imaginary part is zero only to thousands of bits
                continue
            assert abs(value - expm(plain / 2)[i, j]) < 1e-9 * max(1.0, abs(expm(plain / 2)).max())


@pytest.mark.parametrize("seed", range(8))
def test_laplace_pairs_go_there_and_back(seed):
    random = Random(800 + seed)
    pieces = ("1", "t", "exp(-t)", "t*exp(-2*t)", "sin(3*t)", "cos(t)", "exp(-t)*sin(2*t)", "t^2", "cosh(t)")
    f = gelvo.total([random.randint(1, 4) * gelvo.formula(random.choice(pieces)) for _ in range(3)])
    there = gelvo.laplace(f, t, "s")
    back = gelvo.inverse_laplace(there.expression, "s", t)
    assert gelvo.equal(back, f, given=["t > 0"])
