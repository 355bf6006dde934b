"""Factors of a square-free polynomial in several variables over the integers.

All variables but one are given numbers; the factors of what is left are lifted back, one variable after the other, modulo a
prime beyond the size of every coefficient. Sources: P. Wang, "An improved multivariate polynomial factoring algorithm" (1978),
for the leading coefficients and the equations of the lifting; D. Musser, "Multivariate polynomial factorization" (1975).
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import combinations
from random import Random

from gmpy2 import gcd as integer_gcd
from gmpy2 import invert, mpq, mpz, next_prime

from gelvo.polynomial import dense, sparse
from gelvo.polynomial.dense import Dense
from gelvo.polynomial.factor_univariate import factor_square_free
from gelvo.polynomial.gcd import content_in
from gelvo.polynomial.product import Integers, multiply
from gelvo.polynomial.support import BITS, FIELD, degrees, variables_of

POINTS = 4
MOST_POINTS = 60
Factors = Callable[[sparse.Polynomial], tuple[mpq, list[tuple[sparse.Polynomial, int]]]]


def factor_by_lifting(p: sparse.Polynomial, factor: Factors) -> list[sparse.Polynomial]:
    """The irreducible factors of a primitive square-free polynomial without contents; `factor` does smaller polynomials."""
    whole = {m: c.numerator for m, c in p.items()}
    used = variables_of(whole)
    main = min(used, key=lambda k: (len(_leading(whole, k)), sparse.degree(p, k), k))
    lifting = _Lifting(whole, main, [k for k in used if k != main], factor)
    found = lifting.run()
    return [sparse.primitive({m: mpq(c) for m, c in g.items()})[1] for g in found]


def _leading(p: Integers, index: int) -> Integers:
    powers = sparse.by_powers(p, index)
    return powers[max(powers)]


def _reduced(p: Integers, q: mpz) -> Integers:
    return {m: r for m, c in p.items() if (r := c % q)}


def _balanced(p: Integers, q: mpz) -> Integers:
    half = q // 2
    return {m: r - q if r > half else r for m, c in p.items() if (r := c % q)}


def _to_dense(p: Integers, index: int) -> Dense:
    result = [mpz(0)] * (max(degrees(p, [index])[0], 0) + 1)
    for m, c in p.items():
        result[(m >> (BITS * index)) & FIELD] = c
    return dense.trim(result)


def _to_sparse(a: Dense, index: int) -> Integers:
    return {k << (BITS * index): c for k, c in enumerate(a) if c}


def _at(p: Integers, values: dict[int, mpz]) -> Integers:
    for index, value in values.items():
        p = sparse.evaluate(p, index, value)
    return p


def _shifted(p: Integers, values: dict[int, mpz], q: mpz) -> Integers:
    """Each variable replaced by itself plus a number."""
    for index, value in values.items():
        if value:
            shift, result = BITS * index, dict[int, mpz]()
            for m, coefficient in _columns(p, index).items():
                for k, c in enumerate(dense.shifted(coefficient, value)):
                    if c:
                        result[m + (k << shift)] = c % q
            p = {m: c for m, c in result.items() if c}
    return p


def _columns(p: Integers, index: int) -> dict[int, Dense]:
    shift = BITS * index
    mask = FIELD << shift
    result: dict[int, Dense] = {}
    for m, c in p.items():
        column = result.setdefault(m & ~mask, [])
        k = (m >> shift) & FIELD
        column.extend([mpz(0)] * (k + 1 - len(column)))
        column[k] = c
    return result


class _Lifting:
    """The main variable x, the others, and the polynomial to be split."""

    def __init__(self, p: Integers, main: int, others: list[int], factor: Factors) -> None:
        self.p, self.main, self.others = p, main, others
        self.leading = _leading(p, main)
        content, parts = factor({m: mpq(c) for m, c in self.leading.items()})
        self.content = content.numerator
        self.leading_factors = [({m: c.numerator for m, c in g.items()}, k) for g, k in parts]
        size = sum(degrees(p, variables_of(p)))
        height = max(map(abs, p.values()))
        self.bound = height * mpz(3) ** size * abs(self.content) * 4

    def run(self) -> list[Integers]:
        random = Random(2718)  # a fixed seed: the same factors on every run
        fewest, tries, good = 0, 0, 0
        best: tuple[dict[int, mpz], list[Dense], mpz] | None = None
        while tries < MOST_POINTS and good < POINTS:
            spread = 1 + tries // 3
            values = {k: mpz(0 if not tries else random.randint(-spread, spread)) for k in self.others}
            tries += 1
            image = self._image(values)
            if image is None:
                continue
            good += 1
            content = dense.content(image)
            parts = factor_square_free(dense.primitive(image))
            if len(parts) == 1:
                return [self.p]
            if best is None or len(parts) < fewest:
                best, fewest = (values, parts, content), len(parts)
            leads = self._distributed(values, parts, content)
            if leads is not None and len(parts) == fewest:
                found = self._lifted(self.p, values, parts, content, leads, subsets=False)
                if found is not None:
                    return found
        if best is None:
            return [self.p]
        return self._with_common_leading(*best)

    def _image(self, values: dict[int, mpz]) -> Dense | None:
        image = _to_dense(_at(self.p, values), self.main)
        if len(image) - 1 != degrees(self.p, [self.main])[0]:
            return None
        return image if len(dense.gcd(image, dense.derivative(image))) == 1 else None

    def _distributed(self, values: dict[int, mpz], parts: list[Dense], content: mpz) -> list[Integers] | None:
        """Which factors of the leading coefficient belong to which factor: told by primes that occur in one of them only."""
        if not self.leading_factors:
            return [{0: mpz(1)} for _ in parts]
        marks: list[mpz] = []
        for g, _ in self.leading_factors:
            mark = abs(_at(g, values).get(0, mpz(0)))
            for other in [abs(content * self.content), *marks]:
                common = integer_gcd(mark, other)
                while common != 1:
                    mark //= common
                    common = integer_gcd(mark, common)
            if mark <= 1:
                return None
            marks.append(mark)
        leads: list[Integers] = [{0: mpz(1)} for _ in parts]
        for (g, times), mark in zip(self.leading_factors, marks, strict=True):
            left = times
            for j, part in enumerate(parts):
                value = part[-1] * content
                while left and value % mark == 0:
                    value //= mark
                    leads[j] = multiply(leads[j], g)
                    left -= 1
            if left:
                return None
        return leads

    def _with_common_leading(self, values: dict[int, mpz], parts: list[Dense], content: mpz) -> list[Integers]:
        """Every factor gets the whole leading coefficient, the polynomial one more of it for each further factor."""
        p = self.p
        for _ in parts[1:]:
            p = multiply(p, self.leading)
            self.bound *= max(map(abs, self.leading.values())) * len(self.leading)
        extra = sum(degrees(self.leading, self.others)) * len(parts)
        self.bound *= mpz(3) ** extra
        leads = [self.leading for _ in parts]
        at = _at(self.leading, values).get(0, mpz(0))
        found = self._lifted(p, values, parts, content * at ** (len(parts) - 1), leads, subsets=True)
        return found or [self.p]

    def _lifted(
        self, p: Integers, values: dict[int, mpz], parts: list[Dense], content: mpz, leads: list[Integers], subsets: bool
    ) -> list[Integers] | None:
        q = next_prime(2 * self.bound)
        moved = _shifted(_reduced({m: c * invert(content, q) for m, c in p.items()}, q), values, q)
        pieces: list[Integers] = []
        tops: list[Integers] = []
        back: list[mpz] = []
        for part, lead in zip(parts, leads, strict=True):
            at = _at(lead, values).get(0, mpz(0))
            ratio = part[-1] * invert(at, q) % q
            back.append(invert(ratio, q))
            tops.append(_shifted(_reduced({m: c * ratio for m, c in lead.items()}, q), values, q))
            pieces.append(_to_sparse(dense.reduced(part, q), self.main))
        if subsets:  # the product of the pieces is the image of p up to the powers of the common leading coefficient
            scale = mpz(1)
            for top, piece in zip(tops, parts, strict=True):
                scale = scale * top.get(0, mpz(0)) * invert(piece[-1], q) % q
            moved = _reduced({m: c * scale for m, c in moved.items()}, q)
        solver = _Equations([_to_dense(g, self.main) for g in pieces], self.main, q)
        for depth, index in enumerate(self.others):
            later = self.others[depth + 1 :]
            target = _at(moved, dict.fromkeys(later, mpz(0)))
            lifted = self._lift_one(pieces, [_at(t, dict.fromkeys(later, mpz(0))) for t in tops], target, depth, index, solver, q)
            if lifted is None:
                return None
            pieces = lifted
        home = {k: -v for k, v in values.items()}
        restored = [_shifted(_reduced({m: c * b for m, c in g.items()}, q), home, q) for g, b in zip(pieces, back, strict=True)]
        return self._by_subsets(restored, q) if subsets else self._all_divide(restored, q)

    def _lift_one(
        self, pieces: list[Integers], tops: list[Integers], target: Integers, depth: int, index: int, solver: _Equations, q: mpz
    ) -> list[Integers] | None:
        start = pieces
        lifted = []
        for g, top in zip(pieces, tops, strict=True):
            powers = sparse.by_powers(g, self.main)
            powers[max(powers)] = top
            lifted.append(sparse.from_powers(powers, self.main))
        inner = self.others[:depth]
        limits = dict(zip(inner, degrees(target, inner), strict=True))
        shift = BITS * index
        highest = degrees(target, [index])[0]
        for k in range(1, highest + 1):
            error = sparse.subtract(target, self._product(lifted, q))
            error = _reduced(error, q)
            if not error:
                return lifted
            coefficient = sparse.by_powers(error, index).get(k, {})
            if coefficient:
                for j, change in enumerate(solver.solve(start, coefficient, inner, limits)):
                    lifted[j] = _reduced(sparse.add(lifted[j], {m + (k << shift): c for m, c in change.items()}), q)
        error = _reduced(sparse.subtract(target, self._product(lifted, q)), q)
        return lifted if not error else None

    def _product(self, pieces: list[Integers], q: mpz) -> Integers:
        result = pieces[0]
        for g in pieces[1:]:
            result = _reduced(multiply(result, g), q)
        return result

    def _whole(self, g: Integers, q: mpz) -> sparse.Polynomial:
        """A lifted product as a primitive polynomial over the integers, its content in the main variable taken out."""
        candidate = {m: mpq(c) for m, c in _balanced({m: c * self.content for m, c in g.items()}, q).items()}
        candidate = sparse.primitive(candidate)[1]
        inner = content_in(candidate, self.main)
        return candidate if len(inner) == 1 and 0 in inner else sparse.divide_exactly(candidate, inner) or {}

    def _all_divide(self, pieces: list[Integers], q: mpz) -> list[Integers] | None:
        rest: sparse.Polynomial = {m: mpq(c) for m, c in self.p.items()}
        found: list[Integers] = []
        for g in pieces:
            candidate = self._whole(g, q)
            quotient = sparse.divide_exactly(rest, candidate)
            if quotient is None:
                return None
            found.append(sparse.integers(candidate)[1])
            rest = sparse.primitive(quotient)[1]
        return found

    def _by_subsets(self, pieces: list[Integers], q: mpz) -> list[Integers]:
        rest: sparse.Polynomial = {m: mpq(c) for m, c in self.p.items()}
        found: list[Integers] = []
        size = 1
        while 2 * size <= len(pieces):
            for chosen in combinations(range(len(pieces)), size):
                candidate = self._whole(self._product([pieces[i] for i in chosen], q), q)
                quotient = sparse.divide_exactly(rest, candidate)
                if quotient is not None:
                    found.append(sparse.integers(candidate)[1])
                    rest = sparse.primitive(quotient)[1]
                    pieces = [g for i, g in enumerate(pieces) if i not in chosen]
                    break
            else:
                size += 1
        return [*found, sparse.integers(rest)[1]] if sparse.variables(rest) else found


class _Equations:
    """Solves sum of d_j * (product of the other factors) = e for d_j of lower degree than factor j, modulo a prime."""

    def __init__(self, factors: list[Dense], main: int, q: mpz) -> None:
        self.factors, self.main, self.q = factors, main, q
        self.inverses = []
        for j, g in enumerate(factors):
            others: Dense = [mpz(1)]
            for i, h in enumerate(factors):
                if i != j:
                    others = _remainder(dense.multiply(others, h), g, q)
            self.inverses.append(_inverse(others, g, q))

    def _product(self, pieces: list[Integers]) -> Integers:
        product: Integers = {0: mpz(1)}
        for other in pieces:
            product = _reduced(multiply(product, other), self.q)
        return product

    def solve(self, pieces: list[Integers], e: Integers, inner: list[int], limits: dict[int, int]) -> list[Integers]:
        if not e:
            return [{} for _ in pieces]
        if not inner:
            row = _to_dense(e, self.main)
            own = zip(self.factors, self.inverses, strict=True)
            return [_to_sparse(_remainder(dense.multiply(row, s), g, self.q), self.main) for g, s in own]
        index, rest = inner[-1], inner[:-1]
        zero = {index: mpz(0)}
        lower = [_at(g, zero) for g in pieces]
        found = self.solve(lower, _at(e, zero), rest, limits)
        shift = BITS * index
        cofactors = [self._product(pieces[:j] + pieces[j + 1 :]) for j in range(len(pieces))]
        error = self._error(e, found, cofactors)
        for k in range(1, limits[index] + 1):
            if not error:
                break
            coefficient = sparse.by_powers(error, index).get(k, {})
            if coefficient:
                changes = self.solve(lower, coefficient, rest, limits)
                moved = [{m + (k << shift): c for m, c in d.items()} for d in changes]
                found = [_reduced(sparse.add(f, d), self.q) for f, d in zip(found, moved, strict=True)]
                error = self._error(error, moved, cofactors)
        return found

    def _error(self, e: Integers, found: list[Integers], cofactors: list[Integers]) -> Integers:
        for d, b in zip(found, cofactors, strict=True):
            if d:
                e = sparse.subtract(e, multiply(d, b))
        return _reduced(e, self.q)


def _remainder(a: Dense, g: Dense, q: mpz) -> Dense:
    inverse = invert(g[-1], q)
    return dense.divide_monic(dense.reduced(a, q), [c * inverse % q for c in g], q)[1]


def _inverse(a: Dense, g: Dense, q: mpz) -> Dense:
    """The inverse of a modulo g and q, by Euclid's algorithm."""
    old, new = g, dense.reduced(a, q)
    s_old: Dense = []
    s_new: Dense = [mpz(1)]
    while len(new) > 1:
        inverse = invert(new[-1], q)
        monic = [c * inverse % q for c in new]
        quotient, rest = dense.divide_monic(old, monic, q)
        quotient = [c * inverse % q for c in quotient]
        old, new = new, rest
        s_old, s_new = s_new, dense.reduced(dense.subtract(s_old, dense.multiply(quotient, s_new)), q)
    if not new:
        raise ZeroDivisionError("the factors share a root modulo the prime")
    inverse = invert(new[0], q)
    return _remainder([c * inverse % q for c in s_new], g, q)
