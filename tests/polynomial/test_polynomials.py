"""Exact polynomial arithmetic, usable alone."""

from __future__ import annotations

from random import Random

import pytest
from gmpy2 import mpq, mpz

import gelvo
from gelvo.errors import DomainError
from gelvo.numbers.exact import Gaussian
from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor, square_root
from gelvo.polynomial.factor_univariate import exact_quotient, factor_square_free
from gelvo.polynomial.gcd import content_in, gcd, lcm, pseudo_remainder, square_free
from support import by_id, cases

X, Y, Z = (sparse.variable(k) for k in range(3))
ONE = {0: mpq(1)}


def random_polynomial(random, terms=4, degree=3, variables=3):
    result = {}
    for _ in range(terms):
        key = sum(random.randrange(degree) << (sparse.BITS * k) for k in range(variables))
        result = sparse.add(result, {key: mpq(random.choice([-7, -3, -2, -1, 1, 2, 5, 9]))})
    return result or ONE


def value(p, point):
    total = mpq(0)
    for m, c in p.items():
        term = mpq(c)
        for k, v in enumerate(point):
            term *= mpq(v) ** sparse.exponent_of(m, k)
        total += term
    return total


@pytest.mark.parametrize("seed", range(25))
def test_arithmetic_agrees_with_values(seed):
    random = Random(seed)
    p, q = random_polynomial(random), random_polynomial(random)
    point = [mpq(random.randint(-5, 5), random.choice((1, 2, 3))) for _ in range(3)]
    assert value(sparse.add(p, q), point) == value(p, point) + value(q, point)
    assert value(sparse.subtract(p, q), point) == value(p, point) - value(q, point)
    assert value(sparse.multiply(p, q), point) == value(p, point) * value(q, point)
    assert value(sparse.power(p, 3), point) == value(p, point) ** 3
    assert sparse.divide_exactly(sparse.multiply(p, q), q) == p
    assert sparse.from_powers(sparse.by_powers(p, 1), 1) == p
    at = sparse.evaluate(p, 1, mpz(3))
    assert value(at, [point[0], 0, point[2]]) == value(p, [point[0], 3, point[2]])


@pytest.mark.parametrize("seed", range(40))
def test_a_common_factor_is_found(seed):
    random = Random(seed)
    a, b, g = random_polynomial(random), random_polynomial(random), random_polynomial(random, 3)
    found = gcd(sparse.multiply(a, g), sparse.multiply(b, g))
    assert sparse.divide_exactly(found, sparse.primitive(g)[1]) is not None
    assert sparse.divide_exactly(sparse.multiply(a, g), found) is not None
    assert sparse.divide_exactly(sparse.multiply(b, g), found) is not None
    assert found[max(found)] > 0


@pytest.mark.parametrize("seed", range(25))
def test_factors_multiply_back(seed):
    random = Random(1000 + seed)
    p = sparse.multiply(random_polynomial(random, 3), sparse.power(random_polynomial(random, 2), 2))
    content, factors = factor(p)
    product = {0: content}
    for f, k in factors:
        product = sparse.multiply(product, sparse.power(f, k))
    assert product == p


def total(*pieces):
    return sparse.total(pieces)


FACTORED = [
    ("x^2 - y^2", total(sparse.power(X, 2), sparse.negate(sparse.power(Y, 2))), 2),
    ("x^4 - 1", total(sparse.power(X, 4), {0: mpq(-1)}), 3),
    ("x^4 + 4", total(sparse.power(X, 4), {0: mpq(4)}), 2),
    ("x^4 + 1", total(sparse.power(X, 4), {0: mpq(1)}), 1),
    ("x^6 - y^6", total(sparse.power(X, 6), sparse.negate(sparse.power(Y, 6))), 4),
    ("x^12 - 1", total(sparse.power(X, 12), {0: mpq(-1)}), 6),
    ("x^105 - 1", total(sparse.power(X, 105), {0: mpq(-1)}), 8),
    ("x*y + x + y + 1", total(sparse.multiply(X, Y), X, Y, ONE), 2),
    ("x^2 + y^2", total(sparse.power(X, 2), sparse.power(Y, 2)), 1),
    (
        "x^3 + y^3 + z^3 - 3xyz",
        total(
            sparse.power(X, 3),
            sparse.power(Y, 3),
            sparse.power(Z, 3),
            sparse.scale(sparse.multiply(sparse.multiply(X, Y), Z), mpq(-3)),
        ),
        2,
    ),
    ("x^5 - x - 1", total(sparse.power(X, 5), sparse.negate(X), {0: mpq(-1)}), 1),
    (
        "(x^2-2)(x^2-3)(x^2-6)",
        sparse.multiply(
            sparse.multiply(total(sparse.power(X, 2), {0: mpq(-2)}), total(sparse.power(X, 2), {0: mpq(-3)})),
            total(sparse.power(X, 2), {0: mpq(-6)}),
        ),
        3,
    ),
    ("x^4 - 10x^2 + 1", total(sparse.power(X, 4), sparse.scale(sparse.power(X, 2), mpq(-10)), ONE), 1),
    (
        "x^8 - 40x^6 + 352x^4 - 960x^2 + 576",
        total(
            sparse.power(X, 8),
            sparse.scale(sparse.power(X, 6), mpq(-40)),
            sparse.scale(sparse.power(X, 4), mpq(352)),
            sparse.scale(sparse.power(X, 2), mpq(-960)),
            {0: mpq(576)},
        ),
        1,
    ),
]


@pytest.mark.parametrize(("name", "p", "count"), FACTORED, ids=[f[0] for f in FACTORED])
def test_the_number_of_irreducible_factors(name, p, count):
    _, factors = factor(p)
    assert len(factors) == count
    for f, _times in factors:
        assert len(factor(f)[1]) == 1


def test_square_free_parts_and_square_roots():
    base = total(X, Y, ONE)
    assert square_free(sparse.power(base, 3)) == [(base, 3)]
    assert square_root(sparse.power(base, 4)) in (sparse.power(base, 2), sparse.negate(sparse.power(base, 2)))
    assert square_root(base) is None
    assert square_root({}) == {}
    assert square_root({0: mpq(2)}) is None


def test_contents_and_multiples():
    p = sparse.multiply(Y, total(X, ONE))
    assert content_in(p, 0) == Y
    assert sparse.primitive(sparse.scale(p, mpq(-6, 5)))[0] == mpq(-6, 5)
    assert sparse.monomial_content(sparse.multiply(p, sparse.power(X, 2))) == next(iter(sparse.multiply(Y, sparse.power(X, 2))))
    assert lcm(X, total(X, ONE)) == sparse.multiply(X, total(X, ONE))
    assert gcd({}, X) == X
    assert pseudo_remainder(sparse.power(X, 3), total(X, ONE), 0) == {0: mpq(-1)}


def test_gaussian_coefficients():
    p = {1: mpq(1), 0: Gaussian(mpq(0), mpq(1))}
    q = {1: mpq(1), 0: Gaussian(mpq(0), mpq(-1))}
    assert sparse.multiply(p, q) == {2: mpq(1), 0: mpq(1)}
    assert sparse.divide_exactly({2: mpq(1), 0: mpq(1)}, p) == q


def test_sizes_are_bounded():
    with pytest.raises(DomainError, match="too large"):
        sparse.variable(0, 1 << 23)
    with pytest.raises(DomainError, match="too large"):
        sparse.power(X, 1 << 23)


def test_univariate_factors_stand_alone():
    f = [mpz(c) for c in (-6, 11, -6, 1)]
    assert [[int(c) for c in g] for g in factor_square_free(f)] == [[-1, 1], [-2, 1], [-3, 1]]
    assert exact_quotient(f, [mpz(-1), mpz(1)]) == [mpz(6), mpz(-5), mpz(1)]
    assert exact_quotient(f, [mpz(-4), mpz(1)]) is None


@pytest.mark.parametrize("case", [c for c in cases("polynomials.jsonl") if c["kind"] in ("expand", "factor", "gcd")], ids=by_id)
def test_sample_polynomials(case):
    if case["kind"] == "gcd" or "input" not in case:
        return
    p = gelvo.formula(case["input"])
    result = gelvo.expand(p) if case["kind"] == "expand" else gelvo.factor(p)
    if case["kind"] == "expand" and "terms" in case:
        assert len(getattr(result, "terms", [1])) + bool(getattr(result, "constant", 0)) == case["terms"]
    for point, right in case.get("values", []):
        assert gelvo.substitute(result, point) == gelvo.formula(right)
    assert gelvo.expand(result) is gelvo.expand(p)
