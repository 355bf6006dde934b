"""Groebner bases over the rationals, reduction by them, and a change of the order of monomials.

Sources: B. Buchberger (1965); R. Gebauer, H. Möller, "On an installation of Buchberger's algorithm" (1988), for the pairs that
need no look; A. Giovini and others, "One sugar cube, please" (1991), for their order; J. Faugère, P. Gianni, D. Lazard, T. Mora,
"Efficient computation of zero-dimensional Gröbner bases by change of ordering" (1993).

A monomial is one integer whose upper fields compare as the order demands and whose lower fields are the exponents: products are
sums, comparison is comparison, and divisibility is one subtraction and one mask.
"""

from __future__ import annotations

import heapq
from collections.abc import Iterable, Mapping

from gmpy2 import gcd as integer_gcd
from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.polynomial import sparse

WIDTH = 16
MASK = (1 << WIDTH) - 1
MOST_STEPS = 4_000_000
Terms = dict[int, mpz]
Row = tuple[dict[int, mpq], dict[int, mpq]]


class Order:
    """An order of monomials in some variables: "degree reverse" (total degree, ties by the last variable) or "lexicographic".

    The first variable weighs most.
    """

    def __init__(self, variables: list[int], kind: str = "degree reverse") -> None:
        self.variables, self.kind = variables, kind
        n = len(variables)
        self.guards = sum(1 << (WIDTH * k + WIDTH - 1) for k in range(n))
        self.exponents = (1 << (WIDTH * n)) - 1
        self.units: list[int] = []
        for place in range(n):
            upper = 0
            if kind == "lexicographic":
                upper = 1 << (WIDTH * (n - 1 - place))
            else:  # fields: total degree, then partial sums without the last variables
                for level in range(n):
                    if place < n - level:
                        upper |= 1 << (WIDTH * (n - 1 - level))
            self.units.append((upper << (WIDTH * n)) | (1 << (WIDTH * place)))

    def encoded(self, p: sparse.Polynomial) -> dict[int, mpq]:
        """The same polynomial with the monomials of this order."""
        result = {}
        for m, c in p.items():
            key = 0
            for index, unit in zip(self.variables, self.units, strict=True):
                key += sparse.exponent_of(m, index) * unit
            result[key] = c
        return result

    def encode(self, p: sparse.Polynomial) -> Terms:
        """A multiple of the polynomial with coprime integer coefficients and a positive leading one."""
        return _primitive(self.encoded(sparse.integers(p)[1]))

    def decode(self, p: Mapping[int, mpq | mpz]) -> sparse.Polynomial:
        result = {}
        for key, c in p.items():
            m = 0
            for place, index in enumerate(self.variables):
                m |= ((key >> (WIDTH * place)) & MASK) << (sparse.BITS * index)
            result[m] = mpq(c)
        return result

    def divides(self, a: int, b: int) -> bool:
        e = self.exponents
        return not (((b & e) | self.guards) - (a & e)) & self.guards ^ self.guards

    def lcm(self, a: int, b: int) -> int:
        result = 0
        for place, unit in enumerate(self.units):
            result += max((a >> (WIDTH * place)) & MASK, (b >> (WIDTH * place)) & MASK) * unit
        return result

    def degree(self, a: int) -> int:
        return sum((a >> (WIDTH * place)) & MASK for place in range(len(self.units)))


def _primitive(p: Terms) -> Terms:
    if not p:
        return p
    common = mpz(0)
    for c in p.values():
        common = integer_gcd(common, c)
        if common == 1:
            break
    if p[max(p)] < 0:
        common = -common
    return p if common == 1 else {m: c // common for m, c in p.items()}


class _Work:
    """A budget of elementary steps, so that a hopeless computation ends with a sentence."""

    def __init__(self, steps: int) -> None:
        self.left = steps

    def spend(self, steps: int) -> None:
        self.left -= steps
        if self.left < 0:
            raise DomainError("the Groebner basis of this system is too large to compute")


class _Element:
    __slots__ = ("leading", "rest", "sugar", "top")

    def __init__(self, p: Terms, sugar: int) -> None:
        self.top = max(p)
        self.leading = p[self.top]
        self.rest = [(m, c) for m, c in p.items() if m != self.top]
        self.sugar = sugar

    def terms(self) -> Terms:
        return {self.top: self.leading, **dict(self.rest)}


def _reduce(p: Terms, basis: list[_Element], order: Order, work: _Work) -> Terms:  # noqa: C901
    """The remainder of a multiple of p, every term reduced."""
    remaining = dict(p)
    heap = [-m for m in remaining]
    heapq.heapify(heap)
    done: Terms = {}
    guards, exponents = order.guards, order.exponents
    count = 0
    while heap:
        checkpoint()
        m = -heapq.heappop(heap)
        c = remaining.get(m)
        if not c:
            remaining.pop(m, None)
            continue
        target = (m & exponents) | guards
        for g in basis:
            if (target - (g.top & exponents)) & guards == guards:
                break
        else:
            done[m] = remaining.pop(m)
            continue
        del remaining[m]
        common = integer_gcd(c, g.leading)
        multiplier, factor = g.leading // common, c // common
        if multiplier < 0:
            multiplier, factor = -multiplier, -factor
        if multiplier != 1:
            for k in remaining:
                remaining[k] *= multiplier
            for k in done:
                done[k] *= multiplier
        gap = m - g.top
        for n, d in g.rest:
            key = n + gap
            old = remaining.get(key)
            if old is None:
                remaining[key] = -factor * d
                heapq.heappush(heap, -key)
            else:
                remaining[key] = old - factor * d
        count += 1
        work.spend(len(g.rest) + 1)
        if multiplier != 1 and count % 8 == 0:
            common = mpz(0)
            for v in (*remaining.values(), *done.values()):
                common = integer_gcd(common, v)
                if common == 1:
                    break
            if common > 1:
                remaining = {k: v // common for k, v in remaining.items()}
                done = {k: v // common for k, v in done.items()}
    return done


def _updated(basis: list[_Element], active: list[int], pairs: list[tuple[int, int, int, int]], order: Order) -> None:
    """Adds the pairs of the last element of the basis, without those that two criteria show to reduce to zero."""
    new = len(basis) - 1
    h = basis[new]
    kept = []
    for sugar, lcm, i, j in pairs:
        if order.divides(h.top, lcm) and order.lcm(basis[i].top, h.top) != lcm and order.lcm(basis[j].top, h.top) != lcm:
            continue
        kept.append((sugar, lcm, i, j))
    fresh: list[tuple[int, int, bool]] = []
    for i in active:
        lcm = order.lcm(basis[i].top, h.top)
        fresh.append((lcm, i, lcm == basis[i].top + h.top))
    fresh.sort(key=lambda t: (t[0], not t[2]))
    chosen: list[tuple[int, int, bool]] = []
    for lcm, i, coprime in fresh:
        if any(order.divides(other, lcm) for other, _, _ in chosen):
            continue
        chosen.append((lcm, i, coprime))
    for lcm, i, coprime in chosen:
        if not coprime:
            degree = order.degree(lcm)
            sugar = max(basis[i].sugar - order.degree(basis[i].top), h.sugar - order.degree(h.top)) + degree
            kept.append((sugar, lcm, i, new))
    pairs[:] = kept
    heapq.heapify(pairs)
    active[:] = [i for i in active if not order.divides(h.top, basis[i].top)] + [new]


def groebner_basis(
    polynomials: Iterable[sparse.Polynomial], variables: list[int], kind: str = "degree reverse", steps: int = MOST_STEPS
) -> list[sparse.Polynomial]:
    """The reduced Groebner basis of an ideal over the rationals, with coprime integer coefficients, in ascending order.

    polynomials: generators; variables: the first one weighs most; kind: "degree reverse" or "lexicographic".
    Every element is a combination of the generators and every pair reduces to zero, in exact arithmetic.
    Raises DomainError when more than `steps` elementary steps are needed.

    >>> x, y = sparse.variable(0), sparse.variable(1)
    >>> circle = {2: mpq(1), 2 << sparse.BITS: mpq(1), 0: mpq(-1)}
    >>> [len(g) for g in groebner_basis([circle, sparse.subtract(x, y)], [0, 1])]
    [2, 2]
    """
    order = Order(variables, kind)
    work = _Work(steps)
    inputs = sorted((order.encode(p) for p in polynomials if p), key=lambda p: (max(p), len(p)))
    basis: list[_Element] = []
    active: list[int] = []
    pairs: list[tuple[int, int, int, int]] = []
    for p in inputs:
        rest = _reduce(p, [basis[i] for i in active], order, work)
        if rest:
            _insert(_primitive(rest), max(map(order.degree, p)), basis, active, pairs, order)
    while pairs:
        sugar, lcm, i, j = heapq.heappop(pairs)
        a, b = basis[i], basis[j]
        common = integer_gcd(a.leading, b.leading)
        left, right = b.leading // common, a.leading // common
        s: Terms = {m + lcm - a.top: c * left for m, c in a.rest}
        for m, c in b.rest:
            key = m + lcm - b.top
            s[key] = s.get(key, mpz(0)) - c * right
        s = {m: c for m, c in s.items() if c}
        work.spend(len(s) + 1)
        if not s:
            continue
        rest = _reduce(s, [basis[k] for k in active], order, work)
        if rest:
            _insert(_primitive(rest), sugar, basis, active, pairs, order)
            if max(rest) == 0:
                return [{0: mpq(1)}]
    elements = sorted((basis[k] for k in active), key=lambda g: g.top)
    reduced: list[_Element] = []
    for g in elements:
        tail = _reduce(g.terms(), [h for h in elements if h.top < g.top], order, work)
        reduced.append(_Element(_primitive(tail), g.sugar))
    return [order.decode(g.terms()) for g in reduced]


def _insert(
    p: Terms, sugar: int, basis: list[_Element], active: list[int], pairs: list[tuple[int, int, int, int]], order: Order
) -> None:
    basis.append(_Element(p, sugar))
    _updated(basis, active, pairs, order)


class Reducer:
    """Remainders by a Groebner basis: zero just for members of the ideal."""

    def __init__(self, basis: list[sparse.Polynomial], variables: list[int], kind: str = "degree reverse") -> None:
        self.order = Order(variables, kind)
        self.elements = [_Element(self.order.encode(p), 0) for p in basis if p]

    def remainder(self, p: sparse.Polynomial) -> sparse.Polynomial:
        """The remainder of p: p less a member of the ideal, without multiples of leading monomials.

        >>> square = {2: mpq(1), 0: mpq(-2)}
        >>> Reducer([square], [0]).remainder({4: mpq(1)}) == {0: 4}
        True
        """
        return self.order.decode(_reduce_exactly(self.order.encoded(p), self.elements, self.order))

    def standard_monomials(self) -> list[int] | None:
        """The monomials that no leading monomial divides, or None when there are infinitely many."""
        order = self.order
        tops = [g.top for g in self.elements]
        for unit in order.units:
            if not any(self._is_power(top, unit) for top in tops):
                return None
        found, waiting, seen = [], [0], {0}
        while waiting:
            m = heapq.heappop(waiting)
            if any(order.divides(t, m) for t in tops):
                continue
            found.append(m)
            for unit in order.units:
                if m + unit not in seen:
                    seen.add(m + unit)
                    heapq.heappush(waiting, m + unit)
        return found

    def _is_power(self, top: int, unit: int) -> bool:
        degree = self.order.degree(top)
        return top == degree * unit


def _reduce_exactly(p: dict[int, mpq], basis: list[_Element], order: Order) -> dict[int, mpq]:
    """The remainder with rational coefficients."""
    remaining = dict(p)
    done: dict[int, mpq] = {}
    heap = [-m for m in remaining]
    heapq.heapify(heap)
    while heap:
        m = -heapq.heappop(heap)
        c = remaining.pop(m, None)
        if not c:
            continue
        for g in basis:
            if order.divides(g.top, m):
                break
        else:
            done[m] = c
            continue
        factor, gap = c / g.leading, m - g.top
        for n, d in g.rest:
            key = n + gap
            if key in remaining:
                remaining[key] -= factor * d
            else:
                remaining[key] = -factor * d
                heapq.heappush(heap, -key)
    return done


def _eliminated(vector: dict[int, mpq], combination: dict[int, mpq], rows: list[Row]) -> Row:
    """A vector less multiples of the rows until it has none of their pivots, and the same done to what it stands for."""
    for row, trace in rows:
        pivot = max(row)
        factor = vector.get(pivot)
        if factor:
            vector = sparse.subtract(vector, sparse.scale(row, factor / row[pivot]))
            combination = sparse.subtract(combination, sparse.scale(trace, factor / row[pivot]))
    return vector, combination


def minimal_polynomial(basis: list[sparse.Polynomial], variables: list[int], index: int) -> sparse.Polynomial | None:
    """The polynomial of lowest degree in one variable that lies in a zero-dimensional ideal, from its Groebner basis.

    >>> square = {2: mpq(1), 0: mpq(-2)}
    >>> minimal_polynomial([square], [0], 0) == square
    True
    """
    reducer = Reducer(basis, variables)
    standard = reducer.standard_monomials()
    if standard is None:
        return None
    x = sparse.variable(index)
    power: sparse.Polynomial = {0: mpq(1)}
    rows: list[Row] = []
    for k in range(len(standard) + 1):
        vector, combination = _eliminated(power, {k: mpq(1)}, rows)
        if not vector:
            return sparse.primitive({j << (sparse.BITS * index): c for j, c in combination.items()})[1]
        rows.append((vector, combination))
        rows.sort(key=lambda r: -max(r[0]))
        power = reducer.remainder(sparse.multiply(power, x))
    return None


def change_order(basis: list[sparse.Polynomial], variables: list[int]) -> list[sparse.Polynomial] | None:
    """The lexicographic basis of a zero-dimensional ideal from its degree-reverse one, by linear algebra.

    >>> x, y = sparse.variable(0), sparse.variable(1)
    >>> product = {1 + (1 << sparse.BITS): mpq(1), 0: mpq(-1)}
    >>> circle = {2: mpq(1), 2 << sparse.BITS: mpq(1), 0: mpq(-4)}
    >>> start = groebner_basis([circle, product], [0, 1])
    >>> [sorted(sparse.variables(g)) for g in change_order(start, [0, 1])]
    [[1], [0, 1]]
    """
    reducer = Reducer(basis, variables)
    standard = reducer.standard_monomials()
    if standard is None:
        return None
    order = Order(variables, "lexicographic")
    places = dict(zip(order.units, variables, strict=True))
    found: list[sparse.Polynomial] = []
    tops: list[int] = []
    rows: list[Row] = []
    waiting = [0]
    images: dict[int, sparse.Polynomial] = {0: reducer.remainder({0: mpq(1)})}
    seen = {0}
    while waiting:
        m = heapq.heappop(waiting)
        if any(order.divides(t, m) for t in tops):
            continue
        vector, combination = _eliminated(images[m], {m: mpq(1)}, rows)
        if not vector:
            found.append(sparse.primitive(order.decode(combination))[1])
            tops.append(m)
            continue
        rows.append((vector, combination))
        rows.sort(key=lambda r: -max(r[0]))
        for unit in order.units:
            key = m + unit
            if key not in seen:
                seen.add(key)
                images[key] = reducer.remainder(sparse.multiply(images[m], sparse.variable(places[unit])))
                heapq.heappush(waiting, key)
    return found
