"""Exact numbers, and intervals that hold the truth."""

from __future__ import annotations

from random import Random

import mpmath
import pytest
from gmpy2 import mpq, mpz

from gelvo.errors import DomainError
from gelvo.numbers import box as boxes
from gelvo.numbers import exact
from gelvo.numbers.box import Box
from gelvo.numbers.exact import Gaussian
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, arithmetic

A = Arithmetic(80)


def g(real, imag):
    return exact.gaussian(mpq(real), mpq(imag))


@pytest.mark.parametrize(
    ("found", "right"),
    [
        (lambda: g(1, 2) + g(3, -2), mpq(4)),
        (lambda: g(1, 2) - mpq(1), g(0, 2)),
        (lambda: mpq(1) - g(1, 2), g(0, -2)),
        (lambda: g(1, 2) * g(1, -2), mpq(5)),
        (lambda: g(1, 1) / g(1, -1), g(0, 1)),
        (lambda: mpq(2) / g(0, 1), g(0, -2)),
        (lambda: g(0, 1) ** 4, mpq(1)),
        (lambda: g(1, 1) ** -2, g(0, mpq(-1, 2))),
        (lambda: -g(1, 2), g(-1, -2)),
        (lambda: exact.conjugate(g(1, 2)), g(1, -2)),
        (lambda: exact.power(mpq(2, 3), -2), mpq(9, 4)),
        (lambda: exact.power(mpq(-1), 10**9), mpq(1)),
        (lambda: exact.from_decimal_text("12.5e-2"), mpq(1, 8)),
        (lambda: exact.from_decimal_text("7"), mpq(7)),
        (lambda: exact.rational_sqrt(mpq(9, 16)), mpq(3, 4)),
        (lambda: exact.rational_sqrt(mpq(2)), None),
        (lambda: exact.rational_sqrt(mpq(-4)), None),
        (lambda: exact.rational(3), mpq(3)),
    ],
)
def test_exact_arithmetic(found, right):
    assert found() == right


def test_gaussians_hash_and_show():
    assert hash(g(1, 2)) == hash(g(1, 2)) and g(1, 2) != g(2, 1)
    assert repr(g(1, 2)) == "Gaussian(1, 2)" and bool(Gaussian(mpq(0), mpq(1)))


def test_factors_of_integers():
    for n in (1, 2, 12, 97, 360, 10007 * 10009, 2**40, 6**20, 10**30 + 57):
        product = mpz(1)
        for p, k in exact.small_factors(mpz(n)):
            product *= p**k
        assert product == n


@pytest.mark.parametrize("text", ["1e999999999", "1e-999999999"])
def test_decimals_beyond_reason_are_refused(text):
    with pytest.raises(DomainError):
        exact.from_decimal_text(text)


@pytest.mark.parametrize("seed", range(20))
def test_interval_operations_hold_the_exact_result(seed):
    random = Random(seed)
    x, y = (mpq(random.randint(-50, 50), random.randint(1, 9)) for _ in range(2))
    a, b = A.rational(x), A.rational(y)
    pairs = [
        (A.add(a, b), x + y),
        (A.subtract(a, b), x - y),
        (A.multiply(a, b), x * y),
        (A.power(a, 2), x**2),
        (A.power(a, 3), x**3),
        (A.absolute(a), abs(x)),
    ]
    if y:
        pairs.append((A.divide(a, b), x / y))
        pairs.append((A.power(b, -2), 1 / y**2))
    for interval, right in pairs:
        assert mpq(interval.low) <= right <= mpq(interval.high)


@pytest.mark.parametrize("name", ["sine", "cosine", "gamma"])
@pytest.mark.parametrize("seed", range(12))
def test_wide_intervals_hold_all_values_inside(name, seed):
    random = Random(seed)
    low = random.uniform(0.1, 8) if name == "gamma" else random.uniform(-9, 9)
    width = random.choice((1e-6, 0.05, 0.9, 3.0))
    interval = Interval(A.rational(mpq(low)).low, A.rational(mpq(low + width)).high)
    found = getattr(A, name)(interval)
    function = {"sine": mpmath.sin, "cosine": mpmath.cos, "gamma": mpmath.gamma}[name]
    for k in range(41):
        value = float(function(low + width * k / 40))
        assert float(found.low) - 1e-12 <= value <= float(found.high) + 1e-12


@pytest.mark.parametrize(
    "make",
    [
        lambda: A.sqrt(A.integer(-1)),
        lambda: A.log(A.integer(0)),
        lambda: A.divide(A.one, A.zero),
        lambda: A.root(A.integer(-2), 4),
        lambda: A.inside("asin", A.integer(2), -1, 1),
        lambda: A.atan2(A.zero, A.zero),
        lambda: A.gamma(A.integer(-1)),
        lambda: boxes.logarithm(A, Box(A.zero)),
    ],
)
def test_no_value_is_certain_where_it_is(make):
    with pytest.raises(NoValue) as caught:
        make()
    assert caught.value.certain


@pytest.mark.parametrize("seed", range(15))
def test_complex_boxes_hold_the_value(seed):
    random = Random(seed)
    z = complex(random.uniform(-3, 3), random.uniform(-3, 3))
    w = complex(random.uniform(-2, 2), random.uniform(-2, 2))

    def box(value):
        return Box(A.rational(mpq(value.real)), A.rational(mpq(value.imag)))

    with mpmath.workdps(30):
        pairs = [
            (boxes.multiply(A, box(z), box(w)), mpmath.mpc(z) * mpmath.mpc(w)),
            (boxes.invert(A, box(z)), 1 / mpmath.mpc(z)),
            (boxes.exponential(A, box(z)), mpmath.exp(z)),
            (boxes.logarithm(A, box(z)), mpmath.log(z)),
            (boxes.power(A, box(z), box(w)), mpmath.power(z, w)),
            (boxes.square_root(A, box(z)), mpmath.sqrt(z)),
            (boxes.sine(A, box(z)), mpmath.sin(z)),
            (boxes.cosine(A, box(z)), mpmath.cos(z)),
            (boxes.integer_power(A, box(z), 5), mpmath.mpc(z) ** 5),
            (boxes.integer_power(A, box(z), -3), mpmath.mpc(z) ** -3),
        ]
        for found, right in pairs:
            assert abs(float(found.real.low) - float(right.real)) < 1e-9
            assert abs(float(boxes.imaginary(A, found).low) - float(right.imag)) < 1e-9
    assert abs(float(boxes.modulus(A, box(z)).low) - abs(z)) < 1e-12
    assert abs(float(boxes.argument(A, box(z)).low) - float(mpmath.arg(z))) < 1e-12


def test_precisions_are_kept_apart():
    assert arithmetic(100) is arithmetic(100)
    assert arithmetic(300).rational(mpq(1, 3)).low.precision == 300
    coarse, fine = Arithmetic(20).rational(mpq(1, 3)), Arithmetic(200).rational(mpq(1, 3))
    assert coarse.low <= fine.low <= fine.high <= coarse.high
    assert coarse.sign == 1 and Interval(coarse.low, coarse.low).finite
