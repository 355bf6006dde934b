"""Algebraic numbers: their polynomials, their order, their forms; numbers decided by norms, angles and logarithms."""

from __future__ import annotations

from random import Random

import pytest
from gmpy2 import mpz

import gelvo
from gelvo.deciding.algebraic import as_root, conjugates, minimal_polynomial, root_of
from gelvo.deciding.radical_roots import radical_form
from gelvo.expression.nodes import AlgebraicNumber
from gelvo.facts.store import Facts
from gelvo.forms.univariate import coefficients_of, integer_coefficients
from gelvo.normal.vanishing import vanishing
from gelvo.simplifying.families.numbers import nearby

X = gelvo.variable("x")

POLYNOMIALS = [
    ("sqrt(2)", "x^2 - 2"),
    ("sqrt(2) + sqrt(3)", "x^4 - 10*x^2 + 1"),
    ("sqrt(2) + sqrt(3) + sqrt(5)", "x^8 - 40*x^6 + 352*x^4 - 960*x^2 + 576"),
    ("sqrt(2)*sqrt(3)", "x^2 - 6"),
    ("(1 + sqrt(5))/2", "x^2 - x - 1"),
    ("2^(1/3)", "x^3 - 2"),
    ("2^(1/3) + 1", "x^3 - 3*x^2 + 3*x - 3"),
    ("1/(1 + 2^(1/3))", "3*x^3 - 3*x^2 + 3*x - 1"),
    ("cbrt(2) + sqrt(2)", "x^6 - 6*x^4 - 4*x^3 + 12*x^2 - 24*x - 4"),
    ("sqrt(2 + sqrt(2))", "x^4 - 4*x^2 + 2"),
    ("cos(pi/7)", "8*x^3 - 4*x^2 - 4*x + 1"),
    ("cos(pi/9)", "8*x^3 - 6*x - 1"),
    ("sin(pi/5)", "16*x^4 - 20*x^2 + 5"),
    ("tan(pi/8)", "x^2 + 2*x - 1"),
    ("1j", "x^2 + 1"),
    ("1 + 2j", "x^2 - 2*x + 5"),
    ("sqrt(2)*1j + 1", "x^2 - 2*x + 3"),
    ("exp(2*pi*1j/5)", "x^4 + x^3 + x^2 + x + 1"),
    ("polynomial_root(x^3 - x - 1, 1) + 1", "x^3 - 3*x^2 + 2*x - 1"),
    ("polynomial_root(x^3 - x - 1, 1)^2", "x^3 - 2*x^2 + x - 1"),
    ("3/7", "7*x - 3"),
]


@pytest.mark.parametrize(("text", "wanted"), POLYNOMIALS, ids=[t for t, _ in POLYNOMIALS])
def test_minimal_polynomials(text, wanted):
    assert gelvo.minimal_polynomial(text) is gelvo.formula(wanted)
    value = gelvo.formula(text)
    at = gelvo.substitute(gelvo.formula(wanted), {"x": value})
    assert gelvo.equal(at, 0)


@pytest.mark.parametrize("text", [t for t, _ in POLYNOMIALS])
def test_numbers_become_roots_of_their_polynomials(text):
    value = gelvo.formula(text)
    root = as_root(value)
    assert gelvo.equal(root, value)


@pytest.mark.parametrize("text", ["pi", "exp(1)", "ln(2)", "sin(1)", "sqrt(pi)", "x + 1"])
def test_other_numbers_have_no_polynomial(text):
    assert minimal_polynomial(gelvo.formula(text)) is None


ORDERED = [
    "x^3 - x - 1",
    "x^3 - 3*x + 1",
    "x^4 + 1",
    "x^5 - x - 1",
    "x^6 - 2*x^3 - 2",
    "(x^2 - 2)*(x^2 - 3)*(x - 1)",
    "(x - 1)^3*(x^2 + x + 1)",
    "2*x^4 - 3*x + 5",
]


@pytest.mark.parametrize("text", ORDERED)
def test_roots_come_in_order(text):
    coefficients = tuple(int(c) for c in integer_coefficients(gelvo.formula(text), X))
    roots, k = [], 1
    while True:
        try:
            roots.append(complex(gelvo.value(root_of(coefficients, k), 30)))
        except gelvo.DomainError:
            break
        k += 1
    real = [z.real for z in roots if abs(z.imag) < 1e-12]
    other = [z for z in roots if abs(z.imag) > 1e-12]
    assert real == sorted(real) and roots[: len(real)] == [z for z in roots if abs(z.imag) < 1e-12]
    assert [round(z.real, 9) for z in other] == sorted(round(z.real, 9) for z in other)
    assert all(
        one.imag < 0 < two.imag and abs(one - two.conjugate()) < 1e-12 for one, two in zip(other[::2], other[1::2], strict=True)
    )
    for z in roots:
        value = 0
        for c in reversed(coefficients):
            value = value * z + c
        assert abs(value) < 1e-9 * max(abs(c) for c in coefficients)


def test_conjugates_are_all_roots():
    root = gelvo.polynomial_root("x^5 - x - 1", 1)
    assert isinstance(root, AlgebraicNumber)
    found = conjugates(root)
    assert len(found) == 5 and found[0] is root
    assert abs(sum(complex(gelvo.value(r, 20)) for r in found)) < 1e-14


RADICALS = [
    ("polynomial_root(x^3 - 2, 1)", "2^(1/3)"),
    ("polynomial_root(x^3 + 2, 1)", "-2^(1/3)"),
    ("polynomial_root(x^4 - 10*x^2 + 1, 4)", "sqrt(2) + sqrt(3)"),
    ("polynomial_root(x^4 - 2, 2)", "2^(1/4)"),
    ("polynomial_root(x^6 - 2*x^3 - 2, 2)", "(1 + sqrt(3))^(1/3)"),
    ("polynomial_root(x^3 - 3*x + 1, 3)", "2*cos(2*pi/9)"),
    ("polynomial_root(x^3 - x - 1, 1)", "cbrt(1/2 + sqrt(69)/18) + cbrt(1/2 - sqrt(69)/18)"),
]


@pytest.mark.parametrize(("text", "wanted"), RADICALS, ids=[t for t, _ in RADICALS])
def test_readable_forms(text, wanted):
    root = gelvo.formula(text)
    assert gelvo.equal(radical_form(root), wanted)


def test_no_radicals_where_there_are_none():
    assert radical_form(gelvo.polynomial_root("x^5 - x - 1", 1)) is None


ZEROS = [
    "sqrt(2)*sqrt(3) - sqrt(6)",
    "(1 + sqrt(2))^5 - 41 - 29*sqrt(2)",
    "sqrt(10 + 2*sqrt(5)) - 4*sin(2*pi/5)",
    "cos(2*pi/17) - (sqrt(17) - 1 + sqrt(34 - 2*sqrt(17)) + 2*sqrt(17 + 3*sqrt(17) - sqrt(34 - 2*sqrt(17)) - 2*sqrt(34 + 2*sqrt(17))))/16",
    "cbrt(5*sqrt(2) + 7) - cbrt(5*sqrt(2) - 7) - 2",
    "cbrt(2 + sqrt(5)) - (1 + sqrt(5))/2",
    "2*cos(pi/9) - polynomial_root(x^3 - 3*x - 1, 3)",
    "cos(pi/11) + cos(3*pi/11) + cos(5*pi/11) + cos(7*pi/11) + cos(9*pi/11) - 1/2",
    "tan(3*pi/11) + 4*sin(2*pi/11) - sqrt(11)",
    "16*sin(pi/18)*sin(5*pi/18)*sin(7*pi/18) - 2",
    "5*atan(1/7) + 2*atan(3/79) - pi/4",
    "atan(1) + atan(2) + atan(3) - pi",
    "ln(7 + 4*sqrt(3)) - 2*ln(2 + sqrt(3))",
    "acosh(7) - 2*acosh(2)",
    "asinh(1) - ln(1 + sqrt(2))",
    "ln(2)*ln(9) - ln(4)*ln(3)",
    "polynomial_root(x^3 - x - 1, 1) + 2*re(polynomial_root(x^3 - x - 1, 2))",
    "polynomial_root(x^3 - x - 1, 1)*abs(polynomial_root(x^3 - x - 1, 3))^2 - 1",
    "im(polynomial_root(x^5 - x - 1, 2)) + im(polynomial_root(x^5 - x - 1, 3))",
    "re(sqrt(56 - 16*sqrt(17)))",
    "im(sqrt(1 - sqrt(2))) - sqrt(sqrt(2) - 1)",
    "re((1 - sqrt(2))^(1/3)) - (sqrt(2) - 1)^(1/3)/2",
    "abs(sqrt(1 + sqrt(2)*1j))^4 - 3",
    " - ".join(f"polynomial_root(x^3 - x - 1, 1)^({k}/2)" for k in (7, 3, 1)),
    "1/(3*polynomial_root(x^3 - x - 1, 1)^2 - 1) - (9*polynomial_root(x^3 - x - 1, 1) - 6*polynomial_root(x^3 - x - 1, 1)^2 + 4)/23",
    *(
        " + ".join(f"polynomial_root({p}, {k + 1})^{n}/({slope.format(f'polynomial_root({p}, {k + 1})')})" for k in range(degree))
        + f" - {wanted}"
        for p, slope, degree in (
            ("x^4 - x - 3", "4*{}^3 - 1", 4),
            ("x^5 - x - 1", "5*{}^4 - 1", 5),
            ("x^6 - 3*x + 1", "6*{}^5 - 3", 6),
        )
        for n, wanted in ((1, 0), (degree - 1, 1))  # Lagrange: the sum of r^n over the slope at r
    ),
]


@pytest.mark.parametrize("text", ZEROS)
def test_numbers_that_are_zero_are_proved_so(text):
    assert gelvo.equal(text, 0) is True


@pytest.mark.parametrize("text", ZEROS)
@pytest.mark.parametrize("size", ["10^(-25)", "10^(-60)"])
def test_numbers_that_are_almost_zero_are_told_apart(text, size):
    assert gelvo.equal(f"{text} + {size}", 0) is False


def test_a_square_root_of_a_numbered_root_is_no_root_of_its_polynomial():
    half = gelvo.formula("sqrt(polynomial_root(x^3 - x - 1, 1))")
    assert not vanishing(half**3 - half - 1, Facts())[0] and vanishing(half**6 - half**2 - 1, Facts())[0]


@pytest.mark.parametrize("seed", range(10))
def test_random_combinations_of_roots(seed):
    random = Random(seed)
    a, b, c = (random.randint(2, 30) for _ in range(3))
    left = gelvo.formula(f"(sqrt({a}) + sqrt({b}))^2*sqrt({c})")
    right = gelvo.formula(f"({a + b})*sqrt({c}) + 2*sqrt({a * b * c})")
    assert gelvo.equal(left, right) and not gelvo.equal(left, right + 1)


def test_fractions_are_read_from_digits_only_when_they_agree():
    from gmpy2 import mpq

    assert nearby(mpq(22, 7)) == mpq(22, 7)
    assert nearby(mpq(22, 7) + mpq(1, 10**20)) is None
    assert coefficients_of(gelvo.formula("sin(x)"), X) is None
    assert integer_coefficients(gelvo.formula("x/2 + 1/3"), X) == [mpz(2), mpz(3)]
