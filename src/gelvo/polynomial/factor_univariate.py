"""Factors of a polynomial in one variable over the integers.

Method: factors modulo a small prime by distinct and equal degrees (D. Cantor, H. Zassenhaus, "A new algorithm for
factoring polynomials over finite fields", 1981), lifted (K. Hensel, 1904) and recombined with trial division
(H. Zassenhaus, "On Hensel factorization", 1969). Polynomials are lists of integers, constant term first.
"""

from __future__ import annotations

from itertools import combinations
from random import Random

from gmpy2 import gcd, invert, isqrt, mpz, next_prime

Dense = list[mpz]
MOST_SUBSETS = 200_000


def trim(a: Dense) -> Dense:
    while a and not a[-1]:
        a.pop()
    return a


def _mod(a: Dense, p: mpz) -> Dense:
    return trim([c % p for c in a])


def _multiply(a: Dense, b: Dense, p: mpz | None = None) -> Dense:
    if not a or not b:
        return []
    result = [mpz(0)] * (len(a) + len(b) - 1)
    for i, x in enumerate(a):
        if x:
            for j, y in enumerate(b):
                result[i + j] += x * y
    return _mod(result, p) if p else trim(result)


def _subtract(a: Dense, b: Dense, p: mpz) -> Dense:
    size = max(len(a), len(b))
    return _mod([(a[i] if i < len(a) else 0) - (b[i] if i < len(b) else 0) for i in range(size)], p)


def _divide(a: Dense, b: Dense, p: mpz) -> tuple[Dense, Dense]:
    """Quotient and remainder modulo p; the leading coefficient of b must be invertible."""
    a = list(a)
    inverse = invert(b[-1], p)
    quotient = [mpz(0)] * max(0, len(a) - len(b) + 1)
    for i in range(len(a) - len(b), -1, -1):
        factor = a[i + len(b) - 1] * inverse % p
        quotient[i] = factor
        if factor:
            for j, c in enumerate(b):
                a[i + j] = (a[i + j] - factor * c) % p
    return trim(quotient), trim(a[: len(b) - 1] if len(a) >= len(b) else a)


def _monic(a: Dense, p: mpz) -> Dense:
    inverse = invert(a[-1], p)
    return [c * inverse % p for c in a]


def _gcd(a: Dense, b: Dense, p: mpz) -> Dense:
    while b:
        a, b = b, _divide(a, b, p)[1]
    return _monic(a, p) if a else a


def _power(a: Dense, exponent: mpz, modulus: Dense, p: mpz) -> Dense:
    result: Dense = [mpz(1)]
    while exponent:
        if exponent & 1:
            result = _divide(_multiply(result, a, p), modulus, p)[1]
        exponent >>= 1
        if exponent:
            a = _divide(_multiply(a, a, p), modulus, p)[1]
    return result


def _factors_modulo(a: Dense, p: mpz) -> list[Dense]:
    """Monic irreducible factors of a monic square-free polynomial modulo an odd prime."""
    result: list[Dense] = []
    x: Dense = [mpz(0), mpz(1)]
    frobenius, degree = x, 0
    while len(a) - 1 >= 2 * (degree + 1):
        degree += 1
        frobenius = _power(frobenius, p, a, p)
        common = _gcd(a, _subtract(frobenius, x, p), p)
        if len(common) > 1:
            result.extend(_equal_degree(common, degree, p))
            a = _divide(a, common, p)[0]
            frobenius = _divide(frobenius, a, p)[1] if len(a) > 1 else frobenius
    if len(a) > 1:
        result.append(a)
    return result


def _equal_degree(a: Dense, degree: int, p: mpz) -> list[Dense]:
    random = Random(12345)  # a fixed seed: the same factors in the same order on every run
    work, done = [a], []
    while work:
        f = work.pop()
        if len(f) - 1 == degree:
            done.append(f)
            continue
        while True:
            trial = trim([mpz(random.randrange(int(p))) for _ in range(len(f) - 1)])
            if len(trial) < 2:
                continue
            half = _power(trial, (p**degree - 1) // 2, f, p)
            common = _gcd(f, _subtract(half, [mpz(1)], p), p)
            if 1 < len(common) < len(f):
                work += [common, _divide(f, common, p)[0]]
                break
    return done


def _bezout(a: Dense, b: Dense, p: mpz) -> tuple[Dense, Dense]:
    """s, t with s*a + t*b = 1 modulo p, for coprime a and b."""
    old: tuple[Dense, Dense, Dense] = (a, [mpz(1)], [])
    new: tuple[Dense, Dense, Dense] = (b, [], [mpz(1)])
    while new[0]:
        quotient, remainder = _divide(old[0], new[0], p)
        step = (
            remainder,
            _subtract(old[1], _multiply(quotient, new[1], p), p),
            _subtract(old[2], _multiply(quotient, new[2], p), p),
        )
        old, new = new, step
    inverse = invert(old[0][-1], p)
    return [c * inverse % p for c in old[1]], [c * inverse % p for c in old[2]]


def _lift(f: Dense, g: Dense, h: Dense, p: mpz, target: mpz) -> tuple[Dense, Dense, mpz]:
    """f = g*h modulo p lifted to a modulus of at least `target`, h monic (quadratic Hensel steps)."""
    s, t = _bezout(g, h, p)
    modulus = p
    while modulus < target:
        modulus = modulus * modulus
        error = _subtract(f, _multiply(g, h), modulus)
        quotient, remainder = _divide(_multiply(s, error, modulus), h, modulus)
        g = _mod(_sum(g, _sum(_multiply(t, error, modulus), _multiply(quotient, g, modulus))), modulus)
        h = _mod(_sum(h, remainder), modulus)
        fault = _subtract(_sum(_multiply(s, g, modulus), _multiply(t, h, modulus)), [mpz(1)], modulus)
        quotient, remainder = _divide(_multiply(s, fault, modulus), h, modulus)
        s = _subtract(s, remainder, modulus)
        t = _subtract(t, _sum(_multiply(t, fault, modulus), _multiply(quotient, g, modulus)), modulus)
    return g, h, modulus


def _sum(a: Dense, b: Dense) -> Dense:
    size = max(len(a), len(b))
    return trim([(a[i] if i < len(a) else mpz(0)) + (b[i] if i < len(b) else mpz(0)) for i in range(size)])


def _lift_all(f: Dense, factors: list[Dense], p: mpz, target: mpz) -> tuple[list[Dense], mpz]:
    """Monic factors lifted one after the other; f's leading coefficient stays with the rest."""
    lifted: list[Dense] = []
    modulus = p
    while modulus < target:
        modulus = modulus * modulus
    rest = _mod(f, modulus)
    for i, h in enumerate(factors[:-1]):
        others: Dense = [f[-1] % p]
        for other in factors[i + 1 :]:
            others = _multiply(others, other, p)
        g, h, modulus = _lift(rest, others, h, p, target)
        lifted.append(h)
        rest = g
    lifted.append(_monic(rest, modulus))
    return lifted, modulus


def _balanced(a: Dense, modulus: mpz) -> Dense:
    half = modulus // 2
    return trim([c - modulus if c > half else c for c in (x % modulus for x in a)])


def _primitive(a: Dense) -> Dense:
    content = gcd(*a) if len(a) > 1 else abs(a[0])
    if a[-1] < 0:
        content = -content
    return [c // content for c in a]


def exact_quotient(a: Dense, b: Dense) -> Dense | None:
    """a / b over the integers, or None where it leaves a remainder."""
    if b[0] and a[0] % b[0]:
        return None
    rest = list(a)
    quotient = [mpz(0)] * (len(a) - len(b) + 1)
    for i in range(len(a) - len(b), -1, -1):
        factor, remainder = divmod(rest[i + len(b) - 1], b[-1])
        if remainder:
            return None
        quotient[i] = factor
        if factor:
            for j, c in enumerate(b):
                rest[i + j] -= factor * c
    return None if any(rest) else quotient


def factor_square_free(f: Dense) -> list[Dense]:
    """The irreducible factors of a primitive square-free polynomial with a positive leading coefficient.

    >>> [[int(c) for c in g] for g in factor_square_free([mpz(-1), mpz(0), mpz(0), mpz(0), mpz(1)])]
    [[-1, 1], [1, 1], [1, 0, 1]]
    """
    found: list[Dense] = []
    if not f[0]:
        found.append([mpz(0), mpz(1)])
        f = f[1:]
    if len(f) <= 2:
        return found + ([f] if len(f) == 2 else [])
    p, modular = _best_prime(f)
    if len(modular) == 1:
        return [*found, f]
    norm = isqrt(sum(c * c for c in f)) + 1
    target = 2 * abs(f[-1]) * norm * mpz(2) ** (len(f) - 1) + 1
    lifted, modulus = _lift_all(f, modular, p, target)
    found.extend(_recombine(f, lifted, modulus))
    return sorted(found, key=lambda g: (len(g), [abs(c) for c in reversed(g)], g))


def _best_prime(f: Dense) -> tuple[mpz, list[Dense]]:
    """Of a few primes that keep the polynomial square-free, the one with the fewest factors."""
    best: tuple[mpz, list[Dense]] | None = None
    p, tried = mpz(2), 0
    change = trim([i * c for i, c in enumerate(f)][1:])
    while tried < 4:
        p = next_prime(p)
        if f[-1] % p == 0:
            continue
        reduced = _mod(f, p)
        if len(_gcd(reduced, _mod(change, p), p)) != 1:
            continue
        tried += 1
        factors = _factors_modulo(_monic(reduced, p), p)
        if best is None or len(factors) < len(best[1]):
            best = p, factors
        if len(factors) == 1:
            break
    assert best is not None
    return best


def _recombine(f: Dense, factors: list[Dense], modulus: mpz) -> list[Dense]:
    found: list[Dense] = []
    size, tries = 1, 0
    while 2 * size <= len(factors):
        for chosen in combinations(range(len(factors)), size):
            tries += 1
            if tries > MOST_SUBSETS:
                return [*found, f]
            constant = f[-1]
            for i in chosen:
                constant = constant * factors[i][0] % modulus
            constant = constant - modulus if constant > modulus // 2 else constant
            if constant and (f[-1] * f[0]) % constant:
                continue
            candidate: Dense = [f[-1]]
            for i in chosen:
                candidate = _multiply(candidate, factors[i], modulus)
            candidate = _primitive(_balanced(candidate, modulus))
            quotient = exact_quotient(f, candidate)
            if quotient is not None:
                found.append(candidate)
                f = _primitive(quotient)
                factors = [g for i, g in enumerate(factors) if i not in chosen]
                break
        else:
            size += 1
    return [*found, f] if len(f) > 1 else found
