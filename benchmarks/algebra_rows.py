"""The rows of the exact algebra: the polynomial engine, equality, simplification. Times are in yardstick seconds."""

from __future__ import annotations

import json
import math
import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path
from random import Random

from timing import paired, seconds
from yardstick import measure

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE.parent / "examples"))


def dense_product() -> float:
    from gelvo.polynomial import sparse
    from gelvo.polynomial.packing import Layout

    one = {0: sparse.ONE}
    p = sparse.power(sparse.total([one, *[sparse.variable(k) for k in range(3)]]), 20)
    q = sparse.add(p, one)
    layout = Layout((0, 1, 2), (41, 41, 41))
    bits = -(-(max(p.values()).numerator * sum(c.numerator for c in q.values())).bit_length() // 8) * 8 + 8
    a, b = (layout.pack({m: c.numerator for m, c in f.items()}, bits) for f in (p, q))
    return paired(lambda: sparse.multiply(p, q), lambda: a * b, 9)


def expanded_expression() -> float:
    import gelvo

    count = iter(range(10**6))

    def work() -> None:
        letters = f"x{next(count)}_"  # new names, so that nothing is remembered
        gelvo.expand(gelvo.formula(f"(1+{letters}1+{letters}2+{letters}3)^20*((1+{letters}1+{letters}2+{letters}3)^20+1)"))

    work()
    return measure(work, 3)


def sparse_product() -> float:
    from gelvo.polynomial import sparse
    from gelvo.polynomial.support import BITS

    def base(order: tuple[int, ...]) -> dict:
        return sparse.total([{0: sparse.ONE}, *[sparse.variable(k, e) for k, e in zip(order, (1, 2, 3, 5), strict=True)]])

    p, q = sparse.power(base((0, 1, 2, 3)), 12), sparse.power(base((3, 2, 1, 0)), 12)
    found = seconds(lambda: sparse.multiply(p, q))
    print(f"         ({len(p) * len(q) / found:.3g} term products in a second, {BITS} bits an exponent)")
    return measure(lambda: sparse.multiply(p, q), 3)


def dense_univariate() -> float:
    from gmpy2 import mpz

    from gelvo.polynomial import dense
    from gelvo.polynomial.packing import pack

    random = Random(1)
    a, b = ([mpz(random.getrandbits(1000)) * random.choice((1, -1)) for _ in range(10_001)] for _ in range(2))
    bits = 2000 + 16
    left, right = pack(a, bits), pack(b, bits)
    return paired(lambda: dense.multiply(a, b), lambda: left * right, 5)


def _random_terms(random: Random, terms: int, degree: int) -> dict:
    from gmpy2 import mpq

    from gelvo.polynomial.support import BITS

    result: dict = {}
    while len(result) < terms:
        exponents = [random.randint(0, degree) for _ in range(3)]
        if sum(exponents) <= degree:
            result[sum(e << (BITS * k) for k, e in enumerate(exponents))] = mpq(random.randint(1, 99) * random.choice((1, -1)))
    return result


def common_factor() -> float:
    from gelvo.polynomial import sparse
    from gelvo.polynomial.gcd import gcd

    random = Random(5)
    g, a, b = (_random_terms(random, n, 8) for n in (100, 110, 110))
    p, q = sparse.multiply(g, a), sparse.multiply(g, b)
    return measure(lambda: gcd(p, q), 3)


def coprime_pair() -> float:
    from gelvo.polynomial.gcd import gcd

    random = Random(6)
    p, q = _random_terms(random, 1000, 17), _random_terms(random, 1000, 17)
    return measure(lambda: gcd(p, q), 3)


def cyclotomic() -> float:
    import gelvo

    gelvo.factor("x^7 - 1")
    e = gelvo.formula("x^105 - 1")
    return 1000 * min(seconds(lambda: gelvo.factor(e)) for _ in range(5))


def swinnerton_dyer() -> float:
    from gelvo.deciding.algebraic import minimal_polynomial
    from gelvo.expression.building import number, power, total
    from gelvo.polynomial.factor_univariate import factor_square_free

    f = minimal_polynomial(total([power(number(p), number(1) / 2) for p in (2, 3, 5, 7, 11)]))
    assert f is not None and len(f) == 33
    return measure(lambda: factor_square_free(f), 3)


def two_dense_factors() -> float:
    from gmpy2 import mpz

    from gelvo.polynomial import dense
    from gelvo.polynomial.factor_univariate import factor_square_free

    random = Random(3)
    a, b = ([mpz(random.randint(-100, 100)) for _ in range(101)] for _ in range(2))
    f = dense.primitive(dense.multiply(a, b))
    return measure(lambda: factor_square_free(f if f[-1] > 0 else dense.negate(f)), 3)


def factored_text(text: str) -> Callable[[], float]:
    def work() -> float:
        import gelvo

        e = gelvo.expand(text)
        return measure(lambda: gelvo.factor(e), 3)

    return work


def _katsura(n: int) -> list:
    from gmpy2 import mpq

    from gelvo.polynomial import sparse

    first = sparse.total([sparse.scale(sparse.variable(k), mpq(1 if k == 0 else 2)) for k in range(n + 1)])
    result = [sparse.subtract(first, {0: mpq(1)})]
    for m in range(n):
        terms = [
            sparse.multiply(sparse.variable(abs(i)), sparse.variable(abs(m - i))) for i in range(-n, n + 1) if abs(m - i) <= n
        ]
        result.append(sparse.subtract(sparse.total(terms), sparse.variable(m)))
    return result


def _cyclic(n: int) -> list:
    from gmpy2 import mpq

    from gelvo.polynomial.support import BITS

    def product(i: int, k: int) -> int:
        return sum(1 << (BITS * ((i + j) % n)) for j in range(k))

    last = {product(0, n): mpq(1), 0: mpq(-1)}
    return [*[{product(i, k): mpq(1) for i in range(n)} for k in range(1, n)], last]


def _noon(n: int) -> list:
    from gmpy2 import mpq

    from gelvo.polynomial.support import BITS

    result = []
    for i in range(n):
        p = {0: mpq(10), 1 << (BITS * i): mpq(-11)}
        p.update({(1 << (BITS * i)) + (2 << (BITS * j)): mpq(10) for j in range(n) if j != i})
        result.append(p)
    return result


def basis_of(system: Callable[[], list], count: int) -> Callable[[], float]:
    def work() -> float:
        from gelvo.polynomial.groebner import groebner_basis

        polynomials = system()
        return measure(lambda: groebner_basis(polynomials, list(range(count))), 3)

    return work


def chain_growth() -> float:
    """The fitted exponent of the time of simplify in the number of distinct nodes, for chains of two to five bodies."""
    import planar_chain

    import gelvo
    from gelvo.expression.traversal import distinct_nodes

    for e in planar_chain.equations(2):
        gelvo.simplify(e)
    sizes, times = [], []
    for count in (2, 3, 4, 5):
        equations = planar_chain.equations(count)
        sizes.append(math.log(sum(distinct_nodes(e) for e in equations)))
        times.append(math.log(min(seconds(lambda: [gelvo.simplify(e) for e in equations]) for _ in range(2))))  # noqa: B023
    return statistics.linear_regression(sizes, times).slope


def rational_identity() -> float:
    import gelvo

    right = gelvo.formula("(1 + a + b + c + d + f)^8*(a + 2*b)/((a - c)*(b + d)^2)")
    top = gelvo.expand("(1 + a + b + c + d + f)^8*(a + 2*b)")
    left = gelvo.total([t * c / gelvo.formula("(a - c)*(b + d)^2") for t, c in top.items()])
    print(f"         ({len(top.terms)} terms in the cleared numerator)")
    return measure(lambda: gelvo.equal(left, right), 3)


def simplify_cases() -> list[float]:
    import gelvo

    gelvo.simplify("sin(x)^2 + cos(x)^2")
    found = []
    for name in ("simplify.jsonl", "simplify_own.jsonl"):
        for line in (HERE.parent / "tests" / "data" / name).read_text(encoding="utf-8").splitlines():
            case = json.loads(line)
            found.append(seconds(lambda: gelvo.simplify(case["input"], given=case["facts"])))  # noqa: B023
    return sorted(found)


def simplify_most() -> float:
    from yardstick import yardstick

    times = simplify_cases()
    return times[int(0.9 * len(times))] / seconds(yardstick)


def simplify_slowest() -> float:
    from yardstick import yardstick

    return simplify_cases()[-1] / seconds(yardstick)


def stopping() -> float:
    """The longest time in milliseconds that slow work goes on after its limit."""
    import gelvo

    worst = 0.0
    for work in (
        lambda: gelvo.expand("(a + b + c + d + f + g)^30"),
        lambda: gelvo.factor(gelvo.expand("(x^9 + y*z + 3)*(x^11 + y^7 - z^5 + 2)*(x^6 + y^9 + z^8 + 1)*(x + y + z + 1)^6")),
        lambda: gelvo.simplify("(sin(x) + cos(y))^30*(sin(x + y) + cos(x - y))^18/(1 + tan(x)^9)^8"),
    ):
        start = time.perf_counter()
        try:
            with gelvo.time_limit(0.3):
                work()
        except gelvo.TimeLimitReached:
            worst = max(worst, time.perf_counter() - start - 0.3)
    return 1000 * worst


ROWS = [
    ("(1+x+y+z)^20*((1+x+y+z)^20+1) / the packed integer product", dense_product, 2.0, "x"),
    ("the same, expressions in and an expression out", expanded_expression, 0.25, "s"),
    ("sparse product of 3.3 million terms", sparse_product, 0.8, "s"),
    ("univariate product, degree 10^4, 1000 bits / packed product", dense_univariate, 1.25, "x"),
    ("gcd, 3 variables, 1000 terms, common factor of 100", common_factor, 1.0, "s"),
    ("gcd of a coprime pair of 1000 terms", coprime_pair, 1.0, "s"),
    ("factor x^105 - 1", cyclotomic, 50.0, "ms"),
    ("factor the Swinnerton-Dyer polynomial of degree 32", swinnerton_dyer, 5.0, "s"),
    ("factor a product of two random polynomials of degree 100", two_dense_factors, 5.0, "s"),
    ("factor (x+y+z)^10 - 1", factored_text("(x+y+z)^10 - 1"), 5.0, "s"),
    ("factor a determinant in 4 variables", factored_text("(a+b+c+d)*(a-b+c-d)*((a-c)^2+(b-d)^2)*(a*d-b*c)^2"), 5.0, "s"),
    ("Groebner basis of katsura-5", basis_of(lambda: _katsura(5), 6), 1.0, "s"),
    ("Groebner basis of cyclic-5", basis_of(lambda: _cyclic(5), 5), 1.0, "s"),
    ("Groebner basis of noon-3", basis_of(lambda: _noon(3), 3), 1.0, "s"),
    ("simplify on chains of 2 to 5 bodies: exponent of growth", chain_growth, 1.5, "power of n"),
    ("equal on a rational identity in 5 names", rational_identity, 0.3, "s"),
    ("simplify on 90 % of the collected cases", simplify_most, 0.3, "s"),
    ("simplify on the slowest collected case", simplify_slowest, 10.0, "s"),
    ("going on after a limit of time", stopping, 50.0, "ms"),
]
