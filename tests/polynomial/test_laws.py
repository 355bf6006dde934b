"""Laws that hold for all polynomials, tried on random ones: rings, ideals, fields of roots, and their public faces."""

from __future__ import annotations

from random import Random

import pytest
from gmpy2 import mpq, mpz

import gelvo
from gelvo.numbers.exact import gaussian as exact
from gelvo.polynomial import dense, extension, sparse
from gelvo.polynomial.factor import factor, square_root
from gelvo.polynomial.gcd import gcd, lcm, square_free
from gelvo.polynomial.groebner import Order, Reducer, groebner_basis
from gelvo.polynomial.resultant import discriminant, pseudo_remainder, resultant
from gelvo.polynomial.roots import bound_exponent, isolate_real

B = sparse.BITS
SEEDS = range(12)


def polynomial(random, terms=5, degree=3, variables=3, fractions=True):
    result = {}
    for _ in range(terms):
        key = sum(random.randint(0, degree) << (B * k) for k in range(variables))
        value = mpq(random.randint(-9, 9), random.choice((1, 1, 2, 3)) if fractions else 1)
        result[key] = result.get(key, mpq(0)) + value
    return {m: c for m, c in result.items() if c} or {0: mpq(1)}


def gaussian(random):
    p = polynomial(random)
    return {m: exact(c, mpq(random.randint(-3, 3))) for m, c in p.items()}


@pytest.mark.parametrize("seed", SEEDS)
def test_ring_laws(seed):
    random = Random(seed)
    p, q, r = (polynomial(random) for _ in range(3))
    assert sparse.multiply(p, q) == sparse.multiply(q, p)
    assert sparse.multiply(p, sparse.multiply(q, r)) == sparse.multiply(sparse.multiply(p, q), r)
    assert sparse.multiply(p, sparse.add(q, r)) == sparse.add(sparse.multiply(p, q), sparse.multiply(p, r))
    assert sparse.subtract(p, p) == {} and sparse.multiply(p, {}) == {}
    assert sparse.power(p, 5) == sparse.multiply(sparse.power(p, 2), sparse.power(p, 3))


@pytest.mark.parametrize("seed", SEEDS)
def test_gaussian_products(seed):
    random = Random(seed)
    p, q, r = gaussian(random), gaussian(random), gaussian(random)
    left = sparse.multiply(sparse.multiply(p, q), r)
    assert left == sparse.multiply(p, sparse.multiply(q, r))
    assert sparse.divide_exactly(sparse.multiply(p, q), q) == p


@pytest.mark.parametrize("seed", SEEDS)
def test_derivatives_obey_the_product_rule(seed):
    random = Random(seed)
    p, q = polynomial(random), polynomial(random)
    for k in range(3):
        whole = sparse.derivative(sparse.multiply(p, q), k)
        rule = sparse.add(sparse.multiply(sparse.derivative(p, k), q), sparse.multiply(p, sparse.derivative(q, k)))
        assert whole == rule


@pytest.mark.parametrize("seed", SEEDS)
def test_gcd_and_lcm_share_the_product(seed):
    random = Random(seed)
    p, q = (sparse.primitive(polynomial(random, fractions=False))[1] for _ in range(2))
    both = sparse.primitive(sparse.multiply(gcd(p, q), lcm(p, q)))[1]
    assert both == sparse.primitive(sparse.multiply(p, q))[1]
    assert gcd(p, p) == p and gcd(p, {0: mpq(6)}) == {0: 1}


@pytest.mark.parametrize("seed", SEEDS)
def test_square_free_parts_and_square_roots(seed):
    random = Random(seed)
    p, q = polynomial(random, 3, 2, 2, False), polynomial(random, 3, 2, 2, False)
    whole = sparse.primitive(sparse.multiply(sparse.multiply(p, p), q))[1]
    monomial = sparse.monomial_content(whole)
    inner = {m - monomial: c for m, c in whole.items()}
    back = {0: mpq(1)}
    for part, times in square_free(inner):
        back = sparse.multiply(back, sparse.power(part, times))
    assert sparse.primitive(back)[1] == inner
    root = square_root(sparse.multiply(p, p))
    assert root in (p, sparse.negate(p))


@pytest.mark.parametrize("seed", SEEDS)
def test_resultants_vanish_with_a_common_factor(seed):
    random = Random(seed)
    x = sparse.variable(0)
    p, q = (sparse.add(polynomial(random, 3, 2, 2), sparse.multiply(x, x)) for _ in range(2))
    shared = sparse.add(x, polynomial(random, 2, 2, 2))
    shared = sparse.add(shared, sparse.variable(0, 3))
    assert resultant(sparse.multiply(p, shared), sparse.multiply(q, shared), 0) == {}
    product = resultant(sparse.multiply(p, shared), q, 0)
    assert product == sparse.multiply(resultant(p, q, 0), resultant(shared, q, 0))
    assert discriminant(sparse.multiply(shared, shared), 0) == {}


@pytest.mark.parametrize("seed", SEEDS)
def test_pseudo_remainders_have_a_lower_degree(seed):
    random = Random(seed)
    p = sparse.add(polynomial(random, 4, 4, 2), sparse.variable(0, 5))
    q = sparse.add(polynomial(random, 3, 1, 2), sparse.variable(0, 2))
    assert sparse.degree(pseudo_remainder(p, q, 0), 0) < 2


@pytest.mark.parametrize("seed", range(8))
def test_members_of_an_ideal_reduce_to_zero(seed):
    random = Random(seed)
    generators = [polynomial(random, 3, 2, 2, False) for _ in range(2)]
    basis = groebner_basis(generators, [0, 1])
    reducer = Reducer(basis, [0, 1])
    for _ in range(4):
        member = sparse.total(sparse.multiply(polynomial(random, 3, 2, 2), g) for g in generators)
        assert reducer.remainder(member) == {}
    p = polynomial(random, 4, 3, 2)
    rest = reducer.remainder(p)
    assert reducer.remainder(sparse.subtract(p, rest)) == {} and reducer.remainder(rest) == rest


@pytest.mark.parametrize("kind", ["degree reverse", "lexicographic"])
def test_orders_are_orders_of_monomials(kind):
    order = Order([0, 1, 2], kind)
    exponents = [(a, b, c) for a in range(3) for b in range(3) for c in range(3)]
    keys = {e: sum(k * u for k, u in zip(e, order.units, strict=True)) for e in exponents}

    def plain(e):
        return (sum(e), *[-k for k in reversed(e)]) if kind == "degree reverse" else e

    assert sorted(exponents, key=keys.get) == sorted(exponents, key=plain)
    for one in exponents:
        for two in exponents:
            assert order.divides(keys[one], keys[two]) == all(a <= b for a, b in zip(one, two, strict=True))
            assert order.lcm(keys[one], keys[two]) == keys.get(tuple(map(max, one, two)))


@pytest.mark.parametrize("seed", range(8))
def test_factors_over_a_root_contain_the_factors_over_the_rationals(seed):
    random = Random(seed)
    d = random.choice((2, 3, 5, -1, -2))
    field = [extension.AdjoinedRoot(3, {2 << (3 * B): mpq(1), 0: mpq(-d)})]
    a, b = random.randint(1, 5), random.randint(1, 5)
    p = {2: mpq(1), 0: mpq(-d * a * a)}
    q = {2: mpq(1), 1: mpq(2 * b), 0: mpq(b * b - d)}
    _, plain = factor(sparse.multiply(p, q))
    _, over = extension.factor_over(sparse.multiply(p, q), field)
    assert sum(k for _, k in over) == 4 and sum(k for _, k in plain) == 2


@pytest.mark.parametrize("seed", SEEDS)
def test_root_bounds_hold(seed):
    random = Random(seed)
    roots = [random.randint(-60, 60) for _ in range(5)]
    f = [mpz(1)]
    for r in roots:
        f = dense.multiply(f, [mpz(-r), mpz(1)])
    assert max(map(abs, roots)) <= 2 ** bound_exponent(f)
    separate = dense.exact_quotient(f, dense.gcd(f, dense.derivative(f))) or f
    assert len(isolate_real(separate)) == len(set(roots))


@pytest.mark.parametrize("seed", range(10))
def test_public_gcd_resultant_and_discriminant_agree(seed):
    random = Random(seed)
    x, a = gelvo.variables("x", "a")
    p = x**3 + random.randint(-5, 5) * a * x + random.randint(1, 5)
    change = gelvo.differentiate(p, x)
    assert gelvo.expand(gelvo.resultant(p, change, x) + gelvo.discriminant(p, x)) == 0
    shared = gelvo.expand(p * (x - a))
    assert gelvo.resultant(shared, gelvo.expand((x - a) * (x + 1)), x) == 0
    assert gelvo.gcd(shared, gelvo.expand((x - a) ** 2)) in (x - a, a - x)
