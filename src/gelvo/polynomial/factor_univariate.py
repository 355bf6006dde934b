"""Factors of a polynomial in one variable over the integers.

Cyclotomic parts are split off first. Then: factors modulo a small prime, lifted (K. Hensel, 1904; in a tree, after J. von zur
Gathen, J. Gerhard, "Modern Computer Algebra", 1999, ch. 15) and recombined: few factors by trying subsets (H. Zassenhaus, "On
Hensel factorization", 1969), many by short vectors in the lattice of their traces (M. van Hoeij, "Factoring polynomials and
the knapsack problem", 2002).
"""

from __future__ import annotations

from itertools import combinations
from math import gcd

from gmpy2 import invert, isqrt, mpz, next_prime

from gelvo.polynomial.dense import (
    Dense,
    add,
    balanced,
    cyclotomic,
    divide_monic,
    exact_quotient,
    multiply,
    primitive,
    reduced,
    sign_at,
    subtract,
)
from gelvo.polynomial.lattice import independent_rows, reduce_basis

FIRST_PRIME = 700  # large enough that few polynomials have repeated factors modulo it
TRIED_PRIMES = 4
FEW_FACTORS = 10
MOST_TRACES = 8


def factor_square_free(f: Dense) -> list[Dense]:
    """The irreducible factors of a primitive square-free polynomial with a positive leading coefficient.

    >>> [[int(c) for c in g] for g in factor_square_free([mpz(-1), mpz(0), mpz(0), mpz(0), mpz(1)])]
    [[-1, 1], [1, 1], [1, 0, 1]]
    """
    found: list[Dense] = []
    if not f[0]:
        found.append([mpz(0), mpz(1)])
        f = f[1:]
    cyclic, f = _cyclotomic_factors(f)
    found.extend(cyclic)
    step = _common_step(f)
    if step > 1:
        for g in factor_square_free(f[::step]):
            spread = [mpz(0)] * ((len(g) - 1) * step + 1)
            spread[::step] = g
            found.extend(_by_lifting(spread))
    else:
        found.extend(_by_lifting(f))
    return sorted(found, key=lambda g: (len(g), [abs(c) for c in reversed(g)], g))


def _common_step(f: Dense) -> int:
    step = 0
    for k, c in enumerate(f):
        if c:
            step = gcd(step, k)
    return step


def _cyclotomic_factors(f: Dense) -> tuple[list[Dense], Dense]:
    """Cyclotomic factors, and what is left; their ends are 1 or -1, and they vanish at a root of unity modulo a prime."""
    found: list[Dense] = []
    size = len(f) - 1
    if size < 1:
        return found, f
    if all(not c for c in f[1:-1]) and f[-1] == 1 and abs(f[0]) == 1:
        orders = [n for n in range(1, 2 * size + 1) if (2 * size) % n == 0 and ((size % n == 0) == (f[0] == -1))]
        return [list(cyclotomic(n)) for n in orders], [mpz(1)]
    for order in range(1, 60):
        phi = list(cyclotomic(order))
        if len(phi) > len(f) or (order > 12 and not _vanishes_at_unity(f, order)):
            continue
        quotient = exact_quotient(f, phi)
        if quotient is not None:
            found.append(phi)
            f = quotient
    return found, f


def _vanishes_at_unity(f: Dense, order: int) -> bool:
    p = mpz(order * 1000 + 1)
    while not p.is_prime():
        p += order
    root = mpz(1)
    base = mpz(2)
    divisors = [k for k in range(1, order) if order % k == 0]
    while any(pow(root, k, p) == 1 for k in divisors):
        root = pow(base, (p - 1) // order, p)
        base += 1
    value = mpz(0)
    for c in reversed(f):
        value = (value * root + c) % p
    return not value


def _by_lifting(f: Dense) -> list[Dense]:
    if len(f) <= 2:
        return [f] if len(f) == 2 else []
    p, modular = _best_prime(f)
    if len(modular) == 1:
        return [f]
    norm = isqrt(sum(c * c for c in f)) + 1
    target = 2 * abs(f[-1]) * norm * mpz(2) ** (len(f) // 2 + 1) + 1
    many = len(modular) > FEW_FACTORS
    if many:
        bound = len(f) * (abs(f[-1]) * _root_bound(f)) ** MOST_TRACES
        target = max(target, (4 * bound) << _kept_bits(len(modular)))
    lifted, modulus = lift_factors(f, modular, p, target)
    if many:
        split = _by_lattice(f, lifted, modulus)
        if split is not None:
            return split
    return _by_subsets(f, lifted, modulus)


def _best_prime(f: Dense) -> tuple[mpz, list[Dense]]:
    """Of a few primes that keep the polynomial square-free, the one with the fewest factors."""
    from gelvo.polynomial import prime_field  # noqa: PLC0415  (loads NumPy)

    best: tuple[mpz, list[Dense]] | None = None
    p, tried = mpz(FIRST_PRIME), 0
    while tried < TRIED_PRIMES:
        p = next_prime(p)
        if f[-1] % p == 0:
            continue
        image = prime_field.residues(f, int(p))
        if len(prime_field.gcd(image, prime_field.derivative(image, int(p)), int(p))) != 1:
            continue
        tried += 1
        factors = [[mpz(c) for c in g.tolist()] for g in prime_field.factor(image, int(p))]
        if best is None or len(factors) < len(best[1]):
            best = p, factors
        if len(factors) == 1:
            break
    assert best is not None
    return best


# --- lifting ------------------------------------------------------------------------------------------------------------


def lift_factors(f: Dense, factors: list[Dense], p: mpz, target: mpz) -> tuple[list[Dense], mpz]:
    """Monic factors of f modulo p, lifted to a power of p that is at least `target`; they multiply to f over its leading coefficient."""
    exponent, modulus = 1, p
    while modulus < target:
        exponent *= 2
        modulus = modulus * modulus
    monic = [c * invert(f[-1], modulus) % modulus for c in f]
    return _lift_tree(monic, factors, p, modulus), modulus


def _lift_tree(f: Dense, factors: list[Dense], p: mpz, modulus: mpz) -> list[Dense]:
    if len(factors) == 1:
        return [f]
    middle = len(factors) // 2
    left, right = _product(factors[:middle], p), _product(factors[middle:], p)
    g, h = _lift_pair(f, left, right, p, modulus)
    return _lift_tree(g, factors[:middle], p, modulus) + _lift_tree(h, factors[middle:], p, modulus)


def _product(factors: list[Dense], modulus: mpz) -> Dense:
    result: Dense = [mpz(1)]
    for g in factors:
        result = reduced(multiply(result, g), modulus)
    return result


def _lift_pair(f: Dense, g: Dense, h: Dense, p: mpz, modulus: mpz) -> tuple[Dense, Dense]:
    """f = g*h modulo p lifted by quadratic steps; all are monic."""
    from gelvo.polynomial import prime_field  # noqa: PLC0415  (loads NumPy)

    small = int(p)
    s, t = prime_field.bezout(prime_field.residues(g, small), prime_field.residues(h, small), small)
    left, right = [mpz(c) for c in s.tolist()], [mpz(c) for c in t.tolist()]
    q = p
    while q < modulus:
        q = q * q
        error = reduced(subtract(f, multiply(g, h)), q)
        quotient, rest = divide_monic(reduced(multiply(left, error), q), h, q)
        g = reduced(add(g, add(multiply(right, error), multiply(quotient, g))), q)
        h = reduced(add(h, rest), q)
        if q >= modulus:
            break
        fault = reduced(subtract(add(multiply(left, g), multiply(right, h)), [mpz(1)]), q)
        quotient, rest = divide_monic(reduced(multiply(left, fault), q), h, q)
        left = reduced(subtract(left, rest), q)
        right = reduced(subtract(right, add(multiply(right, fault), multiply(quotient, g))), q)
    return g, h


# --- recombination ------------------------------------------------------------------------------------------------------


def _candidate(f: Dense, chosen: list[Dense], modulus: mpz) -> tuple[Dense, Dense] | None:
    """(factor, cofactor) when the product of the chosen lifted factors is one over the integers."""
    constant = f[-1]
    for g in chosen:
        constant = constant * g[0] % modulus
    constant = constant - modulus if constant > modulus // 2 else constant
    if constant and (f[-1] * f[0]) % constant:
        return None
    product = [f[-1]]
    for g in chosen:
        product = reduced(multiply(product, g), modulus)
    found = primitive(balanced(product, modulus))
    for point in (mpz(1), mpz(-1)):
        value = sum((c if point > 0 or not k % 2 else -c) for k, c in enumerate(found))
        whole = sum((c if point > 0 or not k % 2 else -c) for k, c in enumerate(f))
        if value and whole % value:
            return None
    quotient = exact_quotient(f, found)
    return None if quotient is None else (found, primitive(quotient))


def _by_subsets(f: Dense, factors: list[Dense], modulus: mpz) -> list[Dense]:
    found: list[Dense] = []
    size = 1
    while 2 * size <= len(factors):
        for chosen in combinations(range(len(factors)), size):
            split = _candidate(f, [factors[i] for i in chosen], modulus)
            if split is not None:
                found.append(split[0])
                f = split[1]
                factors = [g for i, g in enumerate(factors) if i not in chosen]
                break
        else:
            size += 1
    return [*found, f] if len(f) > 1 else found


def _power_sums(g: Dense, count: int, modulus: mpz) -> list[mpz]:
    """Sums of the k-th powers of the roots of a monic polynomial, k = 1 … count (Newton's identities)."""
    n = len(g) - 1
    e = [g[n - k] if k <= n else mpz(0) for k in range(count + 1)]
    sums: list[mpz] = []
    for k in range(1, count + 1):
        total = -k * e[k]
        for i in range(1, k):
            total -= e[i] * sums[k - i - 1]
        sums.append(total % modulus)
    return sums


def _root_bound(f: Dense) -> mpz:
    """A whole number larger than the size of every root (A. Cauchy, 1829)."""
    bound = mpz(1)
    while sign_at([abs(f[-1]), *[-abs(c) for c in reversed(f[:-1])]][::-1], bound) <= 0:
        bound *= 2
    return bound


def _kept_bits(r: int) -> int:
    """Digits of a trace that force at least one long vector out of the lattice."""
    return (r + 1) * (r + 2).bit_length() + 12


def _by_lattice(f: Dense, factors: list[Dense], modulus: mpz) -> list[Dense] | None:
    """The partition of the lifted factors by short vectors, or None where the precision was not enough.

    A true factor is a sum of lifted ones whose power sums are small whole numbers; the upper digits of the power sums of the
    lifted factors therefore add up to almost nothing, and the vectors that say so span a lattice of few dimensions.
    """
    r, n = len(factors), len(f) - 1
    bound, leading = _root_bound(f), f[-1]
    rows: list[list[mpz]] = [[mpz(int(i == j)) for j in range(r)] for i in range(r)]
    most = r + (r + 2) ** 2
    sums = [_power_sums(g, MOST_TRACES, modulus) for g in factors]
    for count in range(1, MOST_TRACES + 1):
        limit = n * (leading * bound) ** count
        cut = max(mpz(2) << int(limit).bit_length(), modulus >> _kept_bits(r))
        height = modulus // cut
        if height < 4:
            return None
        traces = [balanced([leading**count * s[count - 1]], modulus) for s in sums]
        digits = [(2 * t[0] + cut) // (2 * cut) if t else mpz(0) for t in traces]
        basis = [[*row, sum((c * t for c, t in zip(row, digits, strict=True)), mpz(0))] for row in rows]
        basis.append([mpz(0)] * r + [height])
        short, d = reduce_basis(basis)
        kept = len(short)
        while kept and d[kept] > most * d[kept - 1]:
            kept -= 1
        rows = independent_rows([row[:r] for row in short[:kept]])
        if len(rows) == 1:
            return [f]
        partition = _partition(rows, r)
        split = _split_by(f, factors, partition, modulus) if partition is not None else None
        if split is not None:
            return split
    return None


def _partition(rows: list[list[mpz]], size: int) -> list[list[int]] | None:
    """Classes of equal columns, when there are as many as rows."""
    classes: dict[tuple[mpz, ...], list[int]] = {}
    for j in range(size):
        classes.setdefault(tuple(row[j] for row in rows), []).append(j)
    return list(classes.values()) if len(classes) == len(rows) else None


def _split_by(f: Dense, factors: list[Dense], partition: list[list[int]], modulus: mpz) -> list[Dense] | None:
    found: list[Dense] = []
    for group in partition[:-1]:
        split = _candidate(f, [factors[i] for i in group], modulus)
        if split is None:
            return None
        found.append(split[0])
        f = split[1]
    return [*found, f]
