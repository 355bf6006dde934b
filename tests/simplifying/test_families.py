"""Each family of rewriting on its own, partial fractions, roots below the line, and what the search promises."""

from __future__ import annotations

import pytest
from gmpy2 import mpq

import gelvo
from gelvo.deciding.equality import decide_zero
from gelvo.expression import known as bits
from gelvo.facts.linear import Row, contradictory, row_of
from gelvo.facts.polynomial_signs import Span, sign_between
from gelvo.facts.store import Facts
from gelvo.forms.angles import angles_apart, products_as_sums
from gelvo.forms.measure import measure
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.reading.context import Context
from gelvo.reading.stated import read_facts
from gelvo.simplifying.families.inverses import inverse_forms
from gelvo.simplifying.families.numbers import number_forms
from gelvo.simplifying.families.signs import sign_forms
from gelvo.simplifying.partial_fractions import partial_fractions
from gelvo.simplifying.search import shorter
from support import same_value

X, Y, A, B = (gelvo.variable(n) for n in ("x", "y", "a", "b"))


def facts_of(*texts):
    return Facts(read_facts(texts, Context()))


FRACTIONS = [
    "1/(x^2 - 1)",
    "1/(x*(x + 1)*(x + 2))",
    "x^3/(x^2 + 1)",
    "(2*x + 1)/(x^2 + x + 1)^2",
    "1/(x^4 - 1)",
    "1/((x - a)*(x - b))",
    "x/((x + a)^2*(x^2 + b^2))",
    "(x^2 + 1)/(x^3*(x - 2)^2)",
    "a/(x^2 - a^2)",
    "1/(x^6 + 1)",
    "5",
    "x^2 + 1",
]


@pytest.mark.parametrize("text", FRACTIONS)
def test_partial_fractions_add_up(text):
    e = gelvo.formula(text)
    split = partial_fractions(e, X)
    assert gelvo.equal(split, e)
    assert partial_fractions(split, X) is split
    assert same_value(e, split, [X, A, B])


@pytest.mark.parametrize("text", ["1/(x^2 - 2)", "1/(x^3 - x - 1)", "x/(x^4 + 1)", "1/(x^2 + a)", "(x + 1)/(x^2 + 1)"])
def test_partial_fractions_over_roots_add_up(text):
    e = gelvo.formula(text)
    assert gelvo.equal(partial_fractions(e, X, roots=True), e)


BELOW = [
    "1/(1 + sqrt(2))",
    "1/(sqrt(2) + sqrt(3) + sqrt(5))",
    "1/(1 + 2^(1/3))",
    "1/(1 + 2^(1/3) + 4^(1/3))",
    "1/(2^(1/4) - 1)",
    "1/(sqrt(a) + sqrt(b))",
    "1/(1 + sqrt(x))",
    "x/(x - sqrt(x^2 - 1))",
    "1/(1 + (x + 1)^(1/3))",
    "1/(2 - 3j)",
    "(1 + 1j)/(1 - 1j)",
    "1/(x + 1j*y)",
    "1/(sqrt(2) + 1j)",
    "1/polynomial_root(x^3 - x - 1, 1)",
]


@pytest.mark.parametrize("text", BELOW)
def test_nothing_irrational_is_left_below(text):
    e = gelvo.formula(text)
    result = rationalize_denominator(e)
    assert gelvo.equal(result, e)
    below = str(result).partition("/(")[2]
    assert "sqrt" not in below and "1/3" not in below and "j" not in below


ANGLES = [
    "sin(x + y)",
    "cos(x - y)",
    "sin(3*x)",
    "cos(2*x + 3*y)",
    "sinh(x + y)",
    "cosh(2*x)",
    "tan(x + y)",
    "tanh(x + y)",
    "sin(x + pi/6)",
    "cos(x/2)",
]


@pytest.mark.parametrize("text", ANGLES)
def test_angles_apart(text):
    e = gelvo.formula(text)
    assert gelvo.equal(angles_apart(e), e)


@pytest.mark.parametrize(
    "text", ["sin(x)*cos(y)", "sin(x)^3", "cos(x)^2*sin(x)^2", "a*sin(x)*sin(2*x) + 1", "cos(x)^4", "x*cos(x)"]
)
def test_products_of_waves_become_sums(text):
    e = gelvo.formula(text)
    sums = products_as_sums(e)
    assert gelvo.equal(sums, e)
    assert "^" not in str(sums).replace("x^", "")


COMPLEX = [
    "exp(x + 1j*y)",
    "sin(x + 1j*y)",
    "cos(x + 1j*y)",
    "tan(x + 1j*y)",
    "sinh(x + 1j*y)",
    "cosh(x - 1j*y)",
    "(x + 1j*y)^3",
    "1/(x + 1j*y)",
    "(x + 1j*y)/(x - 1j*y)",
    "2^(x + 1j*y)",
    "conj(x + 1j*y)*x",
    "abs(x + 1j*y)",
]


@pytest.mark.parametrize("text", COMPLEX)
def test_real_and_imaginary_parts(text):
    e = gelvo.formula(text)
    real, imag = real_and_imaginary(e, Facts())
    assert Facts().is_real(real) and Facts().is_real(imag)
    assert gelvo.equal(real + gelvo.formula("1j") * imag, e)


def test_parts_of_what_may_be_complex_are_refused():
    with pytest.raises(gelvo.DomainError, match="not known"):
        real_and_imaginary(gelvo.formula("z + 1", given=["z complex"]), Facts())


NUMBERS = [
    ("sin(pi/7)*sin(2*pi/7)*sin(3*pi/7)", "sqrt(7)/8"),
    ("cbrt(5*sqrt(2) + 7) - cbrt(5*sqrt(2) - 7)", "2"),
    ("4*atan(1/5) - atan(1/239)", "pi/4"),
    ("tan(3*pi/11) + 4*sin(2*pi/11)", "sqrt(11)"),
    ("x*(tan(3*pi/11) + 4*sin(2*pi/11))", "sqrt(11)*x"),
]


@pytest.mark.parametrize(("text", "wanted"), NUMBERS, ids=[t for t, _ in NUMBERS])
def test_numbers_are_recognised(text, wanted):
    assert gelvo.formula(wanted) in [e for _, e in number_forms(gelvo.formula(text), Facts(), shorter)]


def test_numbers_are_not_guessed():
    assert list(number_forms(gelvo.formula("exp(pi*sqrt(163)) - 262537412640768744"), Facts(), shorter)) == []
    assert list(number_forms(gelvo.formula("sin(1) + cos(1)"), Facts(), shorter)) == []


INVERSES = [
    ("atan(x) + atan(1/x)", ["x > 0"], "pi/2"),
    ("atan(x) + atan(1/x)", ["x < 0"], "-pi/2"),
    ("asin(x) + acos(x)", ["x > -1", "x < 1"], "pi/2"),
    ("asin(2*x*sqrt(1 - x^2))", ["x > -7/10", "x < 7/10"], "2*asin(x)"),
    ("acos(1 - 2*x^2)", ["x > 0", "x < 1"], "2*asin(x)"),
    ("atan(2*x/(1 - x^2))", ["x > -1", "x < 1"], "2*atan(x)"),
]


@pytest.mark.parametrize(("text", "given", "wanted"), INVERSES, ids=[f"{t} {g}" for t, g, _ in INVERSES])
def test_inverse_functions_are_told_by_their_derivative(text, given, wanted):
    assert gelvo.formula(wanted) in [e for _, e in inverse_forms(gelvo.formula(text), facts_of(*given), shorter)]


def test_products_of_sizes_are_joined():
    (found,) = [e for _, e in sign_forms(gelvo.formula("abs(x + 1)*abs(x - 1)"), Facts(), shorter)]
    assert found is gelvo.formula("abs(x^2 - 1)") or gelvo.equal(found, "abs(x^2 - 1)")


@pytest.mark.parametrize(
    ("text", "low", "high", "known"),
    [
        ("x^2 - 2", mpq(3, 2), None, "positive"),
        ("x^2 - 2", mpq(0), mpq(1), "negative"),
        ("x^2 - 2", mpq(0), mpq(2), "complex"),
        ("x^2 - 4", mpq(2), None, "nonnegative"),
        ("x^2 - 4", mpq(-2), mpq(2), "real"),
        ("(x - 1)^2", mpq(1), mpq(1), "nonnegative"),
        ("x^2 + 1", None, None, "positive"),
        ("(x - 1)^2", mpq(1), None, "nonnegative"),
        ("x^3 - 3*x + 1", mpq(2), None, "positive"),
        ("1 - 2*x^2", mpq(-7, 10), mpq(7, 10), "positive"),
    ],
)
def test_polynomials_keep_their_sign_between_roots(text, low, high, known):
    assert bits.describe(sign_between(gelvo.formula(text), X, Span(low, high)) | bits.FRACTIONAL) == known


def test_linear_rows():
    assert row_of(gelvo.formula("2*x - 3"), True) == Row({X: mpq(2)}, mpq(-3), True)
    assert row_of(gelvo.formula("1j*x"), True) is None
    one, two = row_of(X - 1, False), row_of(1 - X, False)
    assert not contradictory([one, two]) and contradictory([one, two, row_of(X - 2, False)])
    assert contradictory([row_of(X - 1, True), row_of(1 - X, True)])


@pytest.mark.parametrize("seed", range(60))
def test_simplify_keeps_values_and_its_promises(seed):
    from random import Random

    from support import random_expression

    try:
        e = random_expression(Random(seed), [X, Y, A], depth=4)
    except gelvo.DomainError:
        return
    try:
        answer = gelvo.simplify(e).expression
    except gelvo.DomainError:
        return
    assert measure(answer) <= measure(e)
    assert decide_zero(e - answer, Facts()).zero is not False
    assert measure(gelvo.simplify(answer).expression) <= measure(answer)


@pytest.mark.parametrize(
    ("text", "short"),
    [
        ("2*ln(x) + ln(y)", "ln(x^2*y)"),
        ("36/13*ln(x^2 + 4) - 7/26*ln(x^2 + 1)", "(72*ln(x^2 + 4) - 7*ln(x^2 + 1))/26"),
        ("216*ln(x^2 + 4) - 21*ln(x^2 + 1)", "216*ln(x^2 + 4) - 21*ln(x^2 + 1)"),
    ],
)
def test_logarithms_are_joined_while_their_powers_can_be_read(text, short):
    assert str(gelvo.simplify(text, ["x > 0", "y > 0"])) == short


@pytest.mark.parametrize(
    ("text", "given", "short"),
    [
        ("binomial(n, k)*factorial(k)*factorial(n - k)", ["n integer", "k integer"], "factorial(n)"),
        ("gamma(n + 1)", [], "gamma(n + 1)"),
        ("3*y*gamma(x)*gamma(1 - x)", [], "3*pi*y/sin(pi*x)"),
        ("gamma(x)/gamma(1 - x)", [], "gamma(x)/gamma(1 - x)"),
    ],
)
def test_gamma_functions_of_whole_numbers_and_in_pairs(text, given, short):
    result = gelvo.simplify(text, given)
    assert str(result) == short
    if "x" in text:
        assert same_value(gelvo.formula(text), result.expression, [X, gelvo.variable("y")])
