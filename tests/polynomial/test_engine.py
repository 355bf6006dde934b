"""The polynomial engine alone: products, factors, common factors, resultants, roots, bases, extensions; against slow plain ways."""

from __future__ import annotations

from itertools import combinations, pairwise
from math import comb
from random import Random

import numpy
import pytest
from gmpy2 import mpq, mpz

from gelvo.errors import DomainError
from gelvo.polynomial import dense, extension, prime_field, product, series, sparse
from gelvo.polynomial.factor import factor
from gelvo.polynomial.factor_univariate import factor_square_free, lift_factors
from gelvo.polynomial.gcd import gcd
from gelvo.polynomial.gcd_heuristic import gcd_heuristic
from gelvo.polynomial.gcd_modular import degree_bounds
from gelvo.polynomial.groebner import Reducer, change_order, groebner_basis, minimal_polynomial
from gelvo.polynomial.lattice import independent_rows, reduce_basis
from gelvo.polynomial.packing import Layout, pack, unpack
from gelvo.polynomial.resultant import discriminant, resultant, subresultants
from gelvo.polynomial.roots import IsolatingInterval, isolate_complex, isolate_real, refine

B = sparse.BITS


def random_integers(random, terms, degree, variables, size=50):
    result = {}
    while len(result) < terms:
        key = sum(random.randint(0, degree) << (B * k) for k in range(variables))
        result[key] = mpz(random.randint(1, size) * random.choice((1, -1)))
    return result


def rational(p):
    return {m: mpq(c) for m, c in p.items()}


@pytest.mark.parametrize(
    ("terms", "degree", "variables", "size"),
    [(40, 60, 1, 9), (60, 5, 3, 10**6), (200, 30, 3, 9), (220, 40, 4, 10**12), (180, 3000, 3, 7), (20, 4, 2, 10**40)],
)
def test_every_road_to_a_product_agrees(terms, degree, variables, size):
    random = Random(terms)
    p, q = (random_integers(random, terms, degree, variables, size) for _ in range(2))
    assert product.multiply(p, q) == product.by_dictionary(p, q)


@pytest.mark.parametrize(("terms", "exponent"), [(2, 30), (4, 9), (6, 5), (12, 3), (3, 0), (5, 1)])
def test_powers_are_repeated_products(terms, exponent):
    p = random_integers(Random(exponent), terms, 3, 3)
    expected = {0: mpz(1)}
    for _ in range(exponent):
        expected = product.by_dictionary(expected, p)
    assert product.power(p, exponent) == expected


@pytest.mark.parametrize("seed", range(8))
def test_packed_division_is_exact_or_refused(seed):
    random = Random(seed)
    p, q = random_integers(random, 40, 9, 2), random_integers(random, 20, 7, 2)
    whole = product.multiply(p, q)
    assert product.divide_exactly(whole, q) == p
    whole[0] = whole.get(0, mpz(0)) + 1
    assert product.divide_exactly({m: c for m, c in whole.items() if c}, q) is None


def test_packing_and_its_limits():
    values = [mpz(-(2**30)), mpz(7), mpz(0), mpz(2**30 - 1)]
    assert unpack(pack(values, 32), 32, 4) == values
    with pytest.raises(OverflowError):
        unpack(mpz(1) << 200, 10, 3)
    layout = Layout((0, 2), (4, 5))
    p = {1 + (3 << (2 * B)): mpz(5), 2: mpz(-7)}
    assert layout.unpack(layout.pack(p, 16), 16) == p
    with pytest.raises(DomainError):
        product.multiply(random_integers(Random(1), 7000, 10**6, 2), random_integers(Random(2), 7000, 10**6, 2))


@pytest.mark.parametrize("seed", range(10))
def test_dense_polynomials(seed):
    random = Random(seed)
    a, b, g = ([mpz(random.randint(-99, 99)) for _ in range(n)] + [mpz(3)] for n in (30, 41, 12))
    expected = [mpz(0)] * (len(a) + len(b) - 1)
    for i, x in enumerate(a):
        for j, y in enumerate(b):
            expected[i + j] += x * y
    assert dense.multiply(a, b) == expected
    assert dense.exact_quotient(dense.multiply(a, g), g) == a
    found = dense.gcd(dense.multiply(a, g), dense.multiply(b, g))
    assert dense.exact_quotient(found, dense.primitive(g)) is not None
    assert dense._gcd_by_remainders(dense.multiply(a, g), dense.multiply(b, g)) in (found, dense.negate(found))
    x = mpq(random.randint(-9, 9), 7)
    assert dense.evaluate(dense.compose(a, b), x) == dense.evaluate(a, dense.evaluate(b, x))
    assert dense.evaluate(dense.shifted(a, mpz(5)), x) == dense.evaluate(a, x + 5)
    assert dense.sign_at(a, x) == (dense.evaluate(a, x) > 0) - (dense.evaluate(a, x) < 0)


@pytest.mark.parametrize("p", [3, 101, 709, 1048573])
def test_factors_modulo_a_prime_multiply_back(p):
    random = Random(p)
    a = numpy.array([random.randrange(p) for _ in range(24)] + [1], dtype=numpy.int64)
    if len(prime_field.gcd(a, prime_field.derivative(a, p), p)) > 1:
        a[0] = (a[0] + 1) % p
    whole = numpy.array([1], dtype=numpy.int64)
    for f in prime_field.factor(a, p):
        whole = prime_field.multiply(whole, f, p)
    assert whole.tolist() == a.tolist()


def swinnerton_dyer(primes):
    """The polynomial whose roots are all sums of ± square roots: f(x - sqrt(p))*f(x + sqrt(p)), one prime after the other."""
    f = [mpz(0), mpz(1)]
    for p in primes:
        even, odd = [mpz(0)] * len(f), [mpz(0)] * len(f)
        for k, c in enumerate(f):
            for j in range(k + 1):
                (odd if j % 2 else even)[k - j] += c * comb(k, j) * mpz(p) ** (j // 2)
        squares = [dense.multiply(dense.trim(row), dense.trim(row)) for row in (even, odd)]
        f = dense.subtract(squares[0], [p * c for c in squares[1]])
    return f


@pytest.mark.parametrize("count", [2, 3, 4, 5])
def test_many_modular_factors_are_recombined(count):
    f = swinnerton_dyer([2, 3, 5, 7, 11][:count])
    assert factor_square_free(f) == [f]
    other = dense.add(f, [mpz(2)])
    found = factor_square_free(dense.primitive(dense.multiply(f, other)))
    assert f in found and dense.exact_quotient(dense.multiply(f, other), found[0]) is not None


def test_lifted_factors_multiply_back():
    f = [mpz(c) for c in (-6, 1, 7, 2, 5)]
    p = mpz(709)
    image = prime_field.residues(f, 709)
    modular = [[mpz(c) for c in g.tolist()] for g in prime_field.factor(image, 709)]
    lifted, modulus = lift_factors(f, modular, p, mpz(10) ** 30)
    whole = [f[-1]]
    for g in lifted:
        whole = dense.reduced(dense.multiply(whole, g), modulus)
    assert whole == dense.reduced(f, modulus)


@pytest.mark.parametrize("seed", range(12))
def test_reduced_lattices_are_the_same_lattice(seed):
    random = Random(seed)
    basis = [[mpz(random.randint(-50, 50)) for _ in range(4)] for _ in range(4)]
    basis = independent_rows(basis)
    if len(basis) < 4:
        return
    short, gram = reduce_basis(basis)
    assert gram[-1] == _gram(basis) == _gram(short)
    assert min(sum(c * c for c in row) for row in short) <= min(sum(c * c for c in row) for row in basis)


def _gram(rows):
    matrix = [[mpq(sum(x * y for x, y in zip(a, b, strict=True))) for b in rows] for a in rows]
    determinant = mpq(1)
    for k in range(len(matrix)):
        determinant *= matrix[k][k]
        for i in range(k + 1, len(matrix)):
            ratio = matrix[i][k] / matrix[k][k]
            matrix[i] = [x - ratio * y for x, y in zip(matrix[i], matrix[k], strict=True)]
    return determinant


@pytest.mark.parametrize(
    ("variables", "terms", "seed"), [(2, 4, 1), (2, 6, 2), (3, 4, 3), (3, 5, 4), (4, 4, 5), (3, 3, 6), (2, 5, 7)]
)
def test_multivariate_factors(variables, terms, seed):
    random = Random(seed)
    pieces = [rational(random_integers(random, terms, 3, variables, 9)) for _ in range(3)]
    whole = sparse.multiply(sparse.multiply(pieces[0], pieces[1]), sparse.multiply(pieces[2], pieces[2]))
    content, found = factor(whole)
    back = {0: content}
    for f, times in found:
        back = sparse.multiply(back, sparse.power(f, times))
    assert back == whole
    assert sum(times for _, times in found) >= 4


@pytest.mark.parametrize(("variables", "terms", "degree"), [(3, 60, 8), (3, 60, 30), (5, 25, 5), (2, 80, 40), (6, 30, 4)])
def test_common_factors_of_large_polynomials(variables, terms, degree):
    random = Random(degree)
    g, a, b = (rational(random_integers(random, n, degree, variables)) for n in (terms, 12, 12))
    p, q = sparse.multiply(g, a), sparse.multiply(g, b)
    found = gcd(p, q)
    assert sparse.divide_exactly(found, sparse.primitive(g)[1]) is not None
    assert all(sparse.divide_exactly(f, found) is not None for f in (p, q))
    assert gcd(rational(random_integers(random, terms, degree, variables)), a) == {0: 1}


def test_degree_bounds_hold():
    x, y = sparse.variable(0), sparse.variable(1)
    g = sparse.add(sparse.multiply(x, x), y)
    p, q = (sparse.multiply(g, sparse.add(x, {0: mpq(k)})) for k in (1, 2))
    assert all(b >= d for b, d in zip(degree_bounds(p, q, [0, 1]), (2, 1), strict=True))
    assert gcd_heuristic(p, q, [0, 1]) == g


def sylvester(p, q):
    """The determinant of the Sylvester matrix of two lists, constant term first."""
    m, n = len(p) - 1, len(q) - 1
    rows = [[mpq(0)] * i + [mpq(c) for c in reversed(p)] + [mpq(0)] * (n - 1 - i) for i in range(n)]
    rows += [[mpq(0)] * i + [mpq(c) for c in reversed(q)] + [mpq(0)] * (m - 1 - i) for i in range(m)]
    value = mpq(1)
    for k in range(len(rows)):
        pivot = next((i for i in range(k, len(rows)) if rows[i][k]), None)
        if pivot is None:
            return mpq(0)
        if pivot != k:
            rows[k], rows[pivot] = rows[pivot], rows[k]
            value = -value
        value *= rows[k][k]
        for i in range(k + 1, len(rows)):
            ratio = rows[i][k] / rows[k][k]
            rows[i] = [x - ratio * y for x, y in zip(rows[i], rows[k], strict=True)]
    return value


@pytest.mark.parametrize("seed", range(15))
def test_resultants_are_sylvester_determinants(seed):
    random = Random(seed)
    p, q = ([mpq(random.randint(-9, 9)) for _ in range(random.randint(1, 6))] + [mpq(2)] for _ in range(2))
    left, right = ({k << B: c for k, c in enumerate(row) if c} for row in (p, q))
    assert resultant(left, right, 1).get(0, 0) == sylvester(p, q)
    assert subresultants(left, right, 1)[0] in (left, right)
    n = len(p) - 1
    slope = [k * c for k, c in enumerate(p)][1:]
    expected = sylvester(p, slope) / p[-1] * (-1) ** (n * (n - 1) // 2) if n > 1 else 1
    assert discriminant(left, 1).get(0, 0) == expected


@pytest.mark.parametrize("seed", range(12))
def test_real_roots_are_isolated(seed):
    random = Random(seed)
    roots = sorted({mpq(random.randint(-40, 40), random.choice((1, 2, 3, 7))) for _ in range(6)})
    f = [mpz(1)]
    for r in roots:
        f = dense.multiply(f, [-r.numerator, r.denominator])
    f = dense.multiply(f, [mpz(3), mpz(1), mpz(1)])
    found = isolate_real(f)
    assert len(found) == len(roots)
    for interval, r in zip(found, roots, strict=True):
        assert interval.low <= r <= interval.high
        narrow = refine(f, interval, 60)
        assert narrow.low <= r <= narrow.high and narrow.high - narrow.low <= mpq(1, 2**60)


def test_refinement_of_irrational_roots():
    found = refine([mpz(-2), mpz(0), mpz(1)], IsolatingInterval(mpq(1), mpq(2)), 2000)
    assert found.low**2 < 2 < found.high**2 and found.high - found.low <= mpq(1, mpz(2) ** 2000)


@pytest.mark.parametrize(
    "coefficients", [(1, 0, 0, 0, 1), (-1, -1, 0, 0, 0, 1), (5, 2, 0, -3, 1), (1, 1, 1, 1, 1, 1, 1), (2, 0, -4, 0, 1)]
)
def test_complex_roots_are_in_their_discs(coefficients):
    f = [mpz(c) for c in coefficients]
    discs = isolate_complex(f, 40)
    assert len(discs) == len(f) - 1
    assert sum(d.real for d in discs) == len(isolate_real(f))
    for z in numpy.roots([int(c) for c in reversed(f)]):
        assert sum(abs(complex(d.real_part, d.imaginary_part) - z) < 1e-6 for d in discs) == 1
    assert all(
        one.imaginary_part < two.imaginary_part for one, two in pairwise(discs) if not one.real and one.real_part == two.real_part
    )


def cyclic(n):
    """The cyclic roots of order n."""
    result = [{sum(1 << (B * ((i + j) % n)) for j in range(k)): mpq(0) for i in range(n)} for k in range(1, n)]
    for k, p in enumerate(result, 1):
        for i in range(n):
            p[sum(1 << (B * ((i + j) % n)) for j in range(k))] += 1
    return [*result, {sum(1 << (B * i) for i in range(n)): mpq(1), 0: mpq(-1)}]


@pytest.mark.parametrize(("system", "count", "solutions"), [(cyclic(3), 3, 6), (cyclic(5), 5, 70)])
def test_groebner_bases_of_known_systems(system, count, solutions):
    variables = list(range(count))
    basis = groebner_basis(system, variables)
    reducer = Reducer(basis, variables)
    assert len(reducer.standard_monomials()) == solutions
    assert all(reducer.remainder(p) == {} for p in system)
    for p, q in combinations(basis[:6], 2):
        assert reducer.remainder(sparse.subtract(sparse.multiply(p, q), sparse.multiply(q, p))) == {}
    again = groebner_basis(reversed(basis), variables)
    assert again == basis


def test_orders_and_elimination():
    circle = {2: mpq(1), 2 << B: mpq(1), 0: mpq(-4)}
    product_is_one = {1 + (1 << B): mpq(1), 0: mpq(-1)}
    basis = groebner_basis([circle, product_is_one], [0, 1])
    eliminated = minimal_polynomial(basis, [0, 1], 1)
    assert eliminated == {4 << B: 1, 2 << B: -4, 0: 1}
    lexicographic = change_order(basis, [0, 1])
    assert lexicographic[0] == eliminated == groebner_basis([circle, product_is_one], [0, 1], "lexicographic")[0]
    assert change_order([circle], [0, 1]) is None and Reducer([circle], [0, 1]).standard_monomials() is None
    assert groebner_basis([circle, {0: mpq(3)}], [0, 1]) == [{0: 1}]
    with pytest.raises(DomainError, match="too large"):
        groebner_basis(cyclic(5), list(range(5)), steps=200)


def square_root_of(index, d):
    return extension.AdjoinedRoot(index, {2 << (B * index): mpq(1), 0: mpq(-d)})


@pytest.mark.parametrize(
    ("p", "roots", "count"),
    [
        ({4: mpq(1), 0: mpq(1)}, [(5, 2)], 2),
        ({4: mpq(1), 0: mpq(1)}, [(5, -1)], 2),
        ({4: mpq(1), 0: mpq(1)}, [(5, 2), (6, -1)], 4),
        ({4: mpq(1), 2: mpq(-10), 0: mpq(1)}, [(5, 2), (6, 3)], 4),
        ({2: mpq(1), 2 << B: mpq(1)}, [(5, -1)], 2),
        ({6: mpq(1), 0: mpq(-1)}, [(5, -3)], 6),
        ({2: mpq(1), 0: mpq(-7)}, [(5, 2)], 1),
        ({4: mpq(1), 2: mpq(-4), 0: mpq(4)}, [(5, 2)], 4),
    ],
)
def test_factors_over_roots(p, roots, count):
    field = [square_root_of(*r) for r in roots]
    leading, found = extension.factor_over(p, field)
    whole = leading
    for f, times in found:
        for _ in range(times):
            whole = extension.multiply(whole, f, field)
    assert whole == p and sum(times for _, times in found) == count


def test_numbers_of_a_field_have_inverses():
    field = [square_root_of(0, 2), square_root_of(1, 3)]
    value = {0: mpq(1), 1: mpq(2), 1 << B: mpq(-1), 1 + (1 << B): mpq(5)}
    assert extension.multiply(value, extension.inverse(value, field), field) == {0: 1}
    with pytest.raises(ZeroDivisionError):
        extension.inverse({1 << B: mpq(1), 1: mpq(-1)}, [square_root_of(0, 2), square_root_of(1, 2)])


@pytest.mark.parametrize("seed", range(6))
def test_power_series_and_interpolation(seed):
    random = Random(seed)
    a, b = ([mpq(random.randint(1, 9), random.choice((1, 2, 3))) for _ in range(9)] for _ in range(2))
    assert series.multiply(a, series.inverse(a, 8), 8) == [1] + [0] * 8
    inner = [mpq(0), *b[1:]]
    assert series.compose([mpq(1), mpq(1), mpq(1)], inner, 8) == [
        x + y + z for x, y, z in zip([1] + [0] * 8, inner, series.multiply(inner, inner, 8), strict=True)
    ]
    top, bottom = series.pade(a, 4, 4)
    assert series.multiply(bottom, a, 8)[: len(top)] == top and not any(series.multiply(bottom, a, 8)[len(top) :])
    points = [(mpq(k, 2), mpq(random.randint(-9, 9))) for k in range(6)]
    through = series.interpolate(points)
    assert all(sum(c * x**k for k, c in enumerate(through)) == y for x, y in points)


def test_impossible_series_are_refused():
    for work in (
        lambda: series.inverse([mpq(0), mpq(1)], 3),
        lambda: series.compose([mpq(1)], [mpq(1)], 2),
        lambda: series.pade([mpq(0), mpq(0), mpq(1)], 1, 1),
        lambda: series.interpolate([(mpq(1), mpq(1)), (mpq(1), mpq(2))]),
    ):
        with pytest.raises(DomainError):
            work()
