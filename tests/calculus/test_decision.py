"""The room of the decision: fields, towers, the Risch differential equation, logarithmic derivatives, real forms."""

from __future__ import annotations

import pytest
from gmpy2 import mpq
from mpmath import log, mpf

import gelvo
from gelvo.calculus.antiderivative.decision import decide
from gelvo.calculus.antiderivative.search import Attempts, _search_of
from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.constants import null_space, rational_solution
from gelvo.calculus.elementary.equation import solve
from gelvo.calculus.elementary.field import Field
from gelvo.calculus.elementary.integral import integral
from gelvo.calculus.elementary.kernels import OutsideOfTowers, Translation
from gelvo.calculus.elementary.lattice import basis, coordinates
from gelvo.calculus.elementary.leaving import expression_of
from gelvo.calculus.elementary.logarithmic import logarithmic_derivative
from gelvo.calculus.elementary.rational_logarithms import arctangents
from gelvo.calculus.elementary.real_form import RealForm
from gelvo.facts.store import Facts
from sample_tasks import near, numeric

X = gelvo.variable("x")


def translated(*texts):
    """The tower of some formulas, and the formulas over it."""
    formulas = [gelvo.formula(t) for t in texts]
    translation = Translation(formulas, X, Facts())
    return translation, [translation.element(f) for f in formulas]


# --- fields -------------------------------------------------------------------------------------------------------------------


def field_with_roots():
    """x, t = exp(x), s = sqrt(x^2 + 1), r = sqrt(2)."""
    field = Field()
    x = field.add_generator(field.one)
    t = field.add_generator(field.zero)
    field.slopes[1] = t
    s = field.add_root([-(x * x + field.one), field.zero])
    r = field.add_root([field.number(-2), field.zero])
    return field, x, t, s, r


def samples_of_field():
    field, x, t, s, r = field_with_roots()
    return [x, t, s, r, x + s, t * s - r, (x + t) / (s + r), s / (x + field.one) - t * r, field.one / (x * s + t), r * s * t - x]


@pytest.mark.parametrize("i", range(10))
def test_an_element_times_its_inverse_is_one(i):
    e = samples_of_field()[i]
    assert e * e.inverse() == e.field.one
    assert e - e == e.field.zero and not (e - e)
    assert (e / e) == e.field.one


@pytest.mark.parametrize(("i", "j"), [(i, j) for i in range(10) for j in range(i)])
def test_products_and_quotients_have_the_slopes_of_the_books(i, j):
    elements = samples_of_field()
    a, b = elements[i], elements[j]
    field = a.field = b.field
    assert a * b == b * a and (a + b) * (a - b) == a * a - b * b
    assert field.slope(a * b) == field.slope(a) * b + a * field.slope(b)
    assert field.slope(a + b) == field.slope(a) + field.slope(b)
    assert field.slope(a / b) == (field.slope(a) * b - a * field.slope(b)) / (b * b)


def test_a_root_squared_is_its_radicand():
    field, x, _, s, r = field_with_roots()
    assert s * s == x * x + field.one and r**2 == field.number(2) and r**-2 == field.number(mpq(1, 2))
    assert field.slope(s) == x / s
    assert field.is_constant(r) and not field.is_constant(s)
    with pytest.raises(ZeroDivisionError):
        (s * s - x * x - field.one).inverse()


@pytest.mark.parametrize(
    ("p", "q", "common"),
    [
        ([-1, 0, 1], [1, 2, 1], [1, 1]),
        ([2, 3, 1], [1, 0, 1], [1]),
        ([0, 0, 1], [0, 1], [0, 1]),
        ([-6, 11, -6, 1], [2, -3, 1], [2, -3, 1]),
    ],
)
def test_common_factors_of_lists(p, q, common):
    field = Field()
    one, other = ([field.number(c) for c in row] for row in (p, q))
    found = poly.gcd(one, other)
    assert [c.rational() for c in found] == common
    assert not poly.divide(one, found)[1] and not poly.divide(other, found)[1]


def test_square_free_factors_multiply_back():
    field = Field()
    row = [field.number(c) for c in (0, 0, 1, 3, 3, 1)]  # x^2*(x + 1)^3
    parts = poly.square_free(row)
    assert [(len(p) - 1, k) for p, k in parts] == [(1, 2), (1, 3)]
    whole = [field.one]
    for p, k in parts:
        whole = poly.multiply(whole, poly.power(p, k, field))
    assert whole == poly.monic(row)


def test_constants_that_solve_linear_equations():
    translation, (x, t) = translated("x", "exp(x)")
    field = translation.field
    rows = [[x, x.times(2), t], [field.one, field.number(2), field.zero]]
    assert [[c.rational() for c in v] for v in null_space(field, rows, 3)] == [[-2, 1, 0]]
    assert rational_solution(field, [[x.times(3), -x, t]], 3) == [1, 3, 0]
    assert rational_solution(field, [[t, x]], 2) is None


@pytest.mark.parametrize(
    ("vectors", "rank", "example", "whole"),
    [
        ([(2,), (3,)], 1, (1,), [1]),
        ([("1/2", 0), (0, "1/3"), (1, 1)], 2, ("1/2", "2/3"), [1, 2]),
        ([(4, 2), (6, 3)], 1, (2, 1), [1]),
        ([(1, 0), (1, 1)], 2, (5, 3), [5, 3]),
    ],
)
def test_a_basis_of_exponents(vectors, rank, example, whole):
    rows = basis([tuple(mpq(c) for c in v) for v in vectors])
    assert len(rows) == rank
    assert coordinates(tuple(mpq(c) for c in example), rows) == whole
    assert all(coordinates(tuple(mpq(c) for c in v), rows) is not None for v in vectors)


# --- equations ----------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("rate", "right", "solution"),
    [
        ("2*x", "1", None),
        ("2*x", "x", "1/2"),
        ("1", "1/x - 1/x^2", "1/x"),
        ("1", "1/x", None),
        ("-1/x", "x", "x^2"),
        ("3*x^2", "3*x^4 + 2*x", "x^2"),
        ("1/x", "1/x^2", None),
        ("1", "(x^2 + 1)/(x + 1)^2", "(x - 1)/(x + 1)"),
        ("exp(x)", "exp(2*x) + exp(x)", "exp(x)"),
        ("exp(x)", "1", None),
        ("ln(x) + 1", "ln(x) + 1", "1"),
        ("ln(x) + 1", "1", None),
        ("2", "2*ln(x) + 1/x", "ln(x)"),
        ("exp(x)", "x*exp(x) + 1", "x"),
        ("1/(x*ln(x))", "1/x + 1/x", "ln(x)"),
        ("1 + exp(x)", "exp(-x)*(exp(x) + 0)", "exp(-x)"),
        ("cos(x)", "cos(x)*x + 1", "x"),
        ("cos(x)", "1", None),
    ],
)
def test_the_risch_differential_equation(rate, right, solution):
    texts = [rate, right, *([solution] if solution else [])]
    translation, (f, g, *y) = translated(*texts)
    tower = translation.tower
    pairs = solve(tower, len(tower.levels) - 1, f, [g])
    found = [p.function / p.constants[0] for p in pairs if p.constants[0]]
    for other in found:
        assert tower.field.slope(other) + f * other == g
    assert bool(found) == (solution is not None)
    if solution:
        assert tower.field.slope(y[0]) + f * y[0] == g


@pytest.mark.parametrize(
    ("sides", "free"),
    [
        (["1/x", "1/x^2"], 2),  # c_1/x + c_2/x^2 is a slope for c_1 = 0; and the constants
        (["ln(x)", "1/x"], 3),
        (["1/ln(x)", "1/ln(x)^2"], 2),
        (["exp(x)/x", "exp(x)/x^2"], 2),
        (["exp(x^2)", "exp(x^2)*x^2"], 2),
        (["tan(x)", "x*tan(x)"], 1),
    ],
)
def test_integrals_with_parameters_in_a_field(sides, free):
    translation, gs = translated(*sides)
    tower = translation.tower
    pairs = solve(tower, len(tower.levels) - 1, tower.field.zero, gs)
    assert len(pairs) == free
    for p in pairs:
        right = tower.field.total(c * g for c, g in zip(p.constants, gs, strict=True))
        assert tower.field.slope(p.function) == right


@pytest.mark.parametrize(
    ("f", "exponents"),
    [
        ("1/x", [1]), ("3/x - 2/(x + 1)", [-2, 3]), ("1/(2*x)", ["1/2"]), ("1/x^2", None), ("x", None), ("2*x/(x^2 + 1)", [1]),
        ("1 + 1/x", None), ("exp(x)/(exp(x) + 1)", [1]), ("1/(x*ln(x))", [1]), ("1/ln(x)", None), ("ln(x)", None),
    ],
)  # fmt: skip
def test_logarithmic_derivatives(f, exponents):
    translation, (e,) = translated(f)
    found = logarithmic_derivative(translation.tower, len(translation.tower.levels) - 1, e, [])
    if exponents is None:
        assert found is None
        return
    assert sorted(k for _, k in found.factors[1:]) == sorted(mpq(k) for k in exponents)
    total = translation.field.total(translation.field.slope(p) / p * translation.field.number(k) for p, k in found.factors)
    assert total == e


# --- towers -------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("texts", "generators"),
    [
        (["exp(x) + exp(2*x)"], ["x", "exp(x)"]),
        (["exp(x/2) + exp(x/3)"], ["x", "exp(x/6)"]),
        (["ln(x)*ln(2*x)"], ["x", "ln(2*x)"]),
        (["exp(x^2 + x)"], ["x", "exp(x^2 + x)"]),
        (["x^x"], ["x", "ln(x)", "x^x"]),
        (["exp(x)/(exp(-x) + 1)"], ["x", "exp(x)"]),
        (["atan(x)*ln(x)"], ["x", "atan(x)", "ln(x)"]),
        (["x^n*exp(x)"], ["x", "exp(x)", "x^n"]),
    ],
)
def test_a_tower_has_no_more_floors_than_it_needs(texts, generators):
    translation = Translation([gelvo.formula(t) for t in texts], X, Facts())
    shown = {str(translation.texts.generators[level.place]) for level in translation.tower.levels}
    assert shown == set(generators)


@pytest.mark.parametrize("text", ["sqrt(x)*exp(x)", "abs(x)", "floor(x)", "besselj(0, x)", "gamma(x)", "asin(x)"])
def test_what_is_outside_of_towers_is_refused(text):
    with pytest.raises(OutsideOfTowers):
        translated(text)


@pytest.mark.parametrize(
    "text",
    [
        "exp(x)/(x + exp(x))",
        "ln(x)^3 - x",
        "x^x*(ln(x) + 1)",
        "(exp(2*x) + x)/(exp(x) - 2)",
        "atan(x)^2/x",
        "a*exp(b*x) + c*x",
        "x*cosh(x)",
    ],
)
def test_formulas_come_back_out_of_their_tower(text):
    translation, (e,) = translated(text)
    assert gelvo.equal(expression_of(e, translation.texts), text)


@pytest.mark.parametrize(
    "text",
    [
        "sin(x)", "cos(x)^3", "sin(x)/(2 + cos(x))", "x/(x*sin(x) + cos(x))", "tan(x)^2", "exp(x)*sin(2*x)", "1/(1 + sin(x))", "sin(exp(x))/x",
        "cos(x + 1)*sin(x)", "1/(sin(x) + 2*cos(x))", "sec(x)*tan(x)", "(x^2 + sin(x))/(cos(x)^2 + 3)", "sin(a*x + b)*x",
    ],
)  # fmt: skip
def test_real_forms_have_the_values_of_what_they_stand_for(text):
    translation, (e,) = translated(text)
    angles = [translation.element(translation.texts.angles[k]) for k in sorted(translation.texts.angles)]
    form = RealForm(translation.texts, translation.field.roots, angles)
    shown = form.fraction(e)
    assert "1j" not in str(shown)
    for place in ("0.3", "0.9", "1.3"):
        point = {"x": place, "a": "0.7", "b": "0.4"}
        assert near(numeric(shown, point), numeric(gelvo.formula(text), point))


@pytest.mark.parametrize(
    ("a", "b"), [([0, 1], [1]), ([0, -3, 0, 1], [-2, 0, 1]), ([1, 0, 1], [0, 1]), ([2, 1], [1, 3, 1]), ([0, 0, 0, 1], [1, 1])]
)
def test_arctangents_without_jumps_have_the_slope_of_the_angle(a, b):
    """The direction of a + 1j*b as a sum of arctangents of polynomials."""
    field = Field()
    x = field.add_generator(field.one)
    one, other = ([field.number(c) for c in row] for row in (a, b))

    def value(p):
        return field.total(c * x**k for k, c in enumerate(p))

    slope = field.zero
    for p in arctangents(one, other):
        slope = slope + field.slope(value(p)).times(2) / (field.one + value(p) * value(p))
    u, v = value(one), value(other)
    wanted = (field.slope(u) * v - u * field.slope(v)).times(2) / (u * u + v * v)
    assert slope == wanted


# --- integrals ----------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("integrand", "left"),
    [
        ("exp(x)/x", ["exponential"]),
        ("1/ln(x)", ["residue"]),
        ("ln(x)/(x + 1)", ["primitive"]),
        ("exp(x)*(1 + 1/x - 1/x^2)", []),
        ("exp(x)/x + exp(2*x)/x", ["exponential", "exponential"]),
        ("1/(x*ln(x)) + 1/ln(x)^2", ["residue"]),
        ("tan(x) + 1/x", []),
        ("x/(exp(x) + 1)", ["residue"]),
    ],
)
def test_what_is_left_of_an_integral_and_the_rest_differentiated_back(integrand, left):
    translation, (f,) = translated(integrand)
    tower, field = translation.tower, translation.field
    parts = integral(tower, f)
    assert [entry.kind for entry in parts.left] == left
    back = field.slope(parts.rational) + parts.of_variable + field.total(entry.part for entry in parts.left)
    for c, argument in parts.logarithms:
        back = back + c * field.slope(argument) / argument
    assert not parts.sums and back == f


def test_the_elementary_part_is_split_off():
    search = _search_of(X, Facts(), 0, Attempts(60))
    outcome = decide(gelvo.formula("2*x*ln(x) + exp(x)/x + 1/x"), search)
    assert gelvo.equal(outcome.rest, "exp(x)/x") and outcome.obstacle.kind == "exponential"
    slope = gelvo.differentiate(outcome.found.value, "x")
    assert gelvo.equal(slope, "2*x*ln(x) + 1/x")
    assert near(numeric(slope, {"x": "1.3"}), mpf("2.6") * log(mpf("1.3")) + 1 / mpf("1.3"))
