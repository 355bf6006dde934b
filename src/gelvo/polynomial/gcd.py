"""Greatest common divisors over the rationals in several variables: this file picks the method.

Dense ones go by one integer gcd (`gcd_heuristic`), sparse ones by images modulo primes (`gcd_modular`); where neither works, a
primitive remainder sequence does (D. Knuth, "Seminumerical Algorithms", 1969, 4.6.1).
"""

from __future__ import annotations

from gmpy2 import gcd as integer_gcd
from gmpy2 import mpq

from gelvo.polynomial import sparse
from gelvo.polynomial.gcd_heuristic import gcd_heuristic
from gelvo.polynomial.sparse import Polynomial

FEW_TERMS = 60  # terms from which a look at the degrees of the common factor pays


def gcd(p: Polynomial, q: Polynomial) -> Polynomial:
    """The greatest common divisor with coprime integer coefficients and a positive leading one.

    >>> x_minus_1, x_plus_1 = {1: mpq(1), 0: mpq(-1)}, {1: mpq(1), 0: mpq(1)}
    >>> gcd(sparse.multiply(x_minus_1, x_plus_1), sparse.multiply(x_minus_1, x_minus_1)) == x_minus_1
    True
    """
    if not p or not q:
        return sparse.primitive(p or q)[1]
    monomial = _common_monomial(sparse.monomial_content(p), sparse.monomial_content(q))
    p, q = _without_monomial(p), _without_monomial(q)
    _, p = sparse.primitive(p)
    _, q = sparse.primitive(q)
    found = _gcd(p, q)
    return {m + monomial: c for m, c in found.items()}


def _common_monomial(m: int, n: int) -> int:
    size = max(m.bit_length(), n.bit_length())
    return sum(min((m >> s) & sparse.FIELD, (n >> s) & sparse.FIELD) << s for s in range(0, size, sparse.BITS))


def _without_monomial(p: Polynomial) -> Polynomial:
    content = sparse.monomial_content(p)
    return {m - content: c for m, c in p.items()} if content else p


def content_in(p: Polynomial, index: int) -> Polynomial:
    """The greatest common divisor of the coefficients in one variable."""
    result: Polynomial = {}
    for coefficient in sorted(sparse.by_powers(p, index).values(), key=len):
        result = gcd(result, coefficient)
        if len(result) == 1 and 0 in result:
            break
    return result


def _gcd(p: Polynomial, q: Polynomial) -> Polynomial:  # noqa: C901
    one: Polynomial = {0: mpq(1)}
    if len(p) == 1 or len(q) == 1:
        return one
    if p == q:
        return p
    mine, theirs = sparse.variables(p), sparse.variables(q)
    for index in mine:
        if index not in theirs:
            return gcd(content_in(p, index), q)
    for index in theirs:
        if index not in mine:
            return gcd(p, content_in(q, index))
    if len(p) + len(q) > FEW_TERMS:
        from gelvo.polynomial.gcd_modular import degree_bounds  # noqa: PLC0415  (loads NumPy)

        bounds = degree_bounds(p, q, mine)
        for index, bound in zip(mine, bounds, strict=True):
            if not bound:
                return gcd(content_in(p, index), content_in(q, index)) if any(bounds) else one
    found = gcd_heuristic(p, q, mine)
    if found is None and len(mine) > 1:
        found = _by_images(p, q, mine)
    return found if found is not None else _remainder_sequence(p, q, mine[-1])


def _by_images(p: Polynomial, q: Polynomial, used: list[int]) -> Polynomial | None:
    from gelvo.polynomial.gcd_modular import gcd_modular  # noqa: PLC0415  (loads NumPy)

    main = min(used, key=lambda k: (sparse.degree(p, k) + sparse.degree(q, k), k))
    contents = content_in(p, main), content_in(q, main)
    common = gcd(*contents)
    a, b = (sparse.primitive(sparse.divide_exactly(f, c) or {})[1] for f, c in zip((p, q), contents, strict=True))
    gamma = gcd(sparse.leading_coefficient(a, main), sparse.leading_coefficient(b, main))
    gamma = sparse.scale(gamma, mpq(_leading_number(a, b, main)))
    found = gcd_modular(a, b, gamma, [main, *[k for k in used if k != main]])
    if found is None:
        return None
    found = sparse.divide_exactly(found, content_in(found, main)) or {}
    if sparse.divide_exactly(a, found) is None or sparse.divide_exactly(b, found) is None:
        return None
    return sparse.primitive(sparse.multiply(found, common))[1]


def _leading_number(a: Polynomial, b: Polynomial, main: int) -> int:
    """The integer part of the common leading coefficient, which the primitive gcd of the leading coefficients leaves out."""
    numbers = [sparse.integer_content(sparse.leading_coefficient(f, main)) for f in (a, b)]
    return int(integer_gcd(numbers[0].numerator, numbers[1].numerator))


def _remainder_sequence(p: Polynomial, q: Polynomial, index: int) -> Polynomial:
    content_p, content_q = content_in(p, index), content_in(q, index)
    common = gcd(content_p, content_q)
    a, b = sparse.divide_exactly(p, content_p) or {}, sparse.divide_exactly(q, content_q) or {}
    if sparse.degree(a, index) < sparse.degree(b, index):
        a, b = b, a
    while b:
        remainder = pseudo_remainder(a, b, index)
        a = b
        if not remainder:
            break
        inner = content_in(remainder, index)
        b = sparse.primitive(sparse.divide_exactly(remainder, inner) or {})[1]
        if sparse.degree(b, index) == 0:
            return common
    return sparse.primitive(sparse.multiply(a, common))[1]


def pseudo_remainder(a: Polynomial, b: Polynomial, index: int) -> Polynomial:
    """The remainder of a multiple of a on division by b, in one variable, without fractions."""
    shift = sparse.BITS * index
    size = sparse.degree(b, index)
    leading = sparse.by_powers(b, index)[size]
    while a and sparse.degree(a, index) >= size:
        gap = sparse.degree(a, index) - size
        top = sparse.by_powers(a, index)[gap + size]
        shifted = {m + (gap << shift): c for m, c in b.items()}
        a = sparse.subtract(sparse.multiply(a, leading), sparse.multiply(shifted, top))
    return a


def lcm(p: Polynomial, q: Polynomial) -> Polynomial:
    return sparse.multiply(p, sparse.divide_exactly(q, gcd(p, q)) or {})


def square_free(p: Polynomial) -> list[tuple[Polynomial, int]]:
    """Parts without repeated factors and how often each occurs, of a primitive polynomial (Yun, 1976).

    >>> [(len(f), k) for f, k in square_free({2: mpq(1), 1: mpq(2), 0: mpq(1)})]
    [(2, 2)]
    """
    used = sparse.variables(p)
    if not used:
        return []
    index = used[-1]
    result: list[tuple[Polynomial, int]] = []
    content = content_in(p, index)
    if sparse.variables(content):
        result.extend(square_free(content))
        p = sparse.divide_exactly(p, content) or {}
    change = sparse.derivative(p, index)
    common = gcd(p, change)
    part = sparse.divide_exactly(p, common) or {}
    rest = sparse.subtract(sparse.divide_exactly(change, common) or {}, sparse.derivative(part, index))
    times = 1
    while sparse.degree(part, index) > 0:
        factor = gcd(part, rest) if rest else sparse.primitive(part)[1]
        part = sparse.divide_exactly(part, factor) or {}
        quotient = sparse.divide_exactly(rest, factor) or {}
        rest = sparse.subtract(quotient, sparse.derivative(part, index))
        if sparse.degree(factor, index) > 0:
            result.append((sparse.primitive(factor)[1], times))
        times += 1
    return result
