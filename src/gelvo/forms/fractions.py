"""Formulas as quotients of polynomials over generators: the exact work horse of algebra.

A generator is base^(unit/L): x itself, sqrt(x) where roots of x occur, exp(u/L) for the least common denominator L of the
exponents that occur. So powers of one thing are powers of one generator, and relations between them need no rules.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any

from gmpy2 import lcm, mpq

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import distributed, looks_negative, multiply_all, number, power, scale, total
from gelvo.expression.constants import IMAGINARY, PI
from gelvo.expression.constants import ONE as UNIT
from gelvo.expression.long_sums import sum_of_products
from gelvo.expression.nodes import Expression, Node, Number, Power, Product, Sum
from gelvo.expression.order import ordered
from gelvo.forms.asking import Asked
from gelvo.functions.named import ABS, CBRT, EXP, is_a
from gelvo.numbers.exact import ONE, Gaussian, Scalar, parts, small_factors
from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor as factor_polynomial
from gelvo.polynomial.gcd import gcd
from gelvo.polynomial.sparse import Polynomial

Generator = tuple[Expression, Expression]
HIGH, MANY = 60, 8  # degree, and degree for each term, from which powers of a number are not factored
LONG = 30  # terms from which a sum is built in one go


def exponent_parts(exponent: Expression) -> Iterator[tuple[mpq, Expression]]:
    """An exponent as rational multiples of units; imaginary units are kept apart from real ones."""
    items: Iterable[tuple[Expression, Scalar]]
    exponent = distributed(exponent)  # -(a + b) in the units of a and b
    if isinstance(exponent, Number):
        items = [(UNIT, exponent.value)]
    elif isinstance(exponent, Sum):
        items = [*exponent.items()]
        if exponent.constant:
            items = [*items, (UNIT, exponent.constant)]
    elif isinstance(exponent, Product):
        items = [(scale(exponent, 1 / exponent.coefficient), exponent.coefficient)]
    else:
        items = [(exponent, ONE)]
    for unit, coefficient in items:
        real, imag = parts(coefficient)
        if real:
            yield real, unit
        if imag:
            yield imag, multiply_all((IMAGINARY, unit))


def euler() -> Expression:
    return EXP(UNIT)


class Quotient:
    """numerator / product of denominator factors ^ powers, over the generators of a `Form`."""

    __slots__ = ("bottom", "top")

    def __init__(self, top: Polynomial, bottom: dict[int, int]) -> None:
        self.top, self.bottom = top, bottom


class Form:
    """The generators of a group of formulas, and the formulas over them; squares: what the square of a function's value is."""

    def __init__(
        self,
        roots: Iterable[Expression],
        facts: Asked | None = None,
        opaque_denominators: bool = False,
        squares: Mapping[Expression, Expression] | None = None,
    ) -> None:
        self.opaque_denominators, self.squares = opaque_denominators, squares or {}
        self.is_real: Callable[[Expression], bool] = facts.is_real if facts else lambda e: bits.is_real(e.known)
        self.is_integer: Callable[[Expression], bool] = facts.is_integer if facts else lambda e: bits.is_integer(e.known)
        self.generators: dict[Generator, int] = {}
        self.roots_of: dict[Generator, Any] = {}
        self.denominators: list[Polynomial] = []
        self._known_denominators: dict[frozenset[tuple[int, Any]], int] = {}
        self._order: list[Node] = []
        self._done: dict[Node, Quotient] | None = None
        self._collect(list(roots))

    def _collect(self, roots: list[Expression]) -> None:
        found: dict[Generator, Any] = {}
        seen: set[Node] = set()
        stack: list[tuple[Node, bool]] = [(r, False) for r in reversed(roots)]
        while stack:
            node, ready = stack.pop()
            if ready:
                self._order.append(node)
            elif node not in seen:
                seen.add(node)
                stack.append((node, True))
                stack.extend((c, False) for c in reversed(self._noted(node, found)))
        in_order = ordered(dict.fromkeys(b for b, _ in found))
        place = {b: i for i, b in enumerate(in_order)}
        units = {u: i for i, u in enumerate(ordered(dict.fromkeys(u for _, u in found)))}
        for key in sorted(found, key=lambda k: (place[k[0]], units[k[1]])):
            self.generators[key] = len(self.generators)
            self.roots_of[key] = int(found[key])

    def _noted(self, node: Node, found: dict[Generator, object]) -> tuple[Node, ...]:
        """Notes the generators of one node; gives the parts that are looked at too."""
        if isinstance(node, (Sum, Product)):
            return node.children
        if isinstance(node, Power) and self._is_opaque(node):
            found[(power(node.base, number(-1)), UNIT)] = 1
            return ()
        if isinstance(node, Power) and _plain(node.exponent):
            return (node.base,)
        inner: list[Node] = []
        for base, unit, coefficient in () if isinstance(node, Number) else _atoms(node):
            found[(base, unit)] = lcm(found.get((base, unit), 1), coefficient.denominator)
            if unit is UNIT and isinstance(base, (Sum, Product)):
                inner.append(base)
            elif is_a(base, ABS, CBRT):
                inner.append(base.arguments[0])
            elif base in self.squares:
                inner.append(self.squares[base])
        return tuple(inner)

    def _is_opaque(self, node: Power) -> bool:
        """Whether a negative power of a sum is to stay as it is."""
        plain = self.opaque_denominators and isinstance(node.base, Sum) and _plain(node.exponent)
        return plain and node.exponent.rational < 0

    def convert(self) -> dict[Node, Quotient]:
        """Every node on the way as a quotient."""
        if self._done is None:
            self._done = {}
            for node in self._order:
                checkpoint()
                self._done[node] = self._quotient(node, self._done)
        return self._done

    def of(self, root: Expression) -> Quotient:
        return self.convert()[root]

    def _quotient(self, node: Node, done: dict[Node, Quotient]) -> Quotient:
        if isinstance(node, Number):
            return Quotient(sparse.constant(node.value), {})
        if isinstance(node, Sum):
            terms = [(done[t], c) for t, c in node.items()]
            return self.add_all([Quotient(sparse.constant(node.constant), {}), *[_scaled(q, c) for q, c in terms]])
        if isinstance(node, Product):
            result = Quotient(sparse.constant(node.coefficient), {})
            for factor in node.factors:
                result = self.multiply(result, done[factor])
            return result
        if isinstance(node, Power) and self._is_opaque(node):
            place = self.generators[(power(node.base, number(-1)), UNIT)]
            return Quotient(sparse.variable(place, -int(node.exponent.rational)), {})
        if isinstance(node, Power) and _plain(node.exponent):
            return self.power(done[node.base], int(node.exponent.rational))
        result = Quotient(sparse.constant(ONE), {})
        for base, unit, coefficient in _atoms(node):
            key = (base, unit)
            step = int(coefficient * self.roots_of[key])
            piece = Quotient(sparse.variable(self.generators[key], abs(step)), {})
            result = self.multiply(result, piece if step > 0 else self.invert(piece))
        return result

    def add_all(self, quotients: list[Quotient]) -> Quotient:
        common: dict[int, int] = {}
        for q in quotients:
            for index, k in q.bottom.items():
                common[index] = max(common.get(index, 0), k)
        groups: dict[tuple[tuple[int, int], ...], Polynomial] = {}
        for q in quotients:
            key = tuple(sorted(q.bottom.items()))
            present = groups.setdefault(key, {})
            for m, c in q.top.items():
                value = present.get(m, 0) + c
                if value:
                    present[m] = value
                else:
                    present.pop(m, None)
        result: Polynomial = {}
        for key, top in groups.items():
            missing = dict(key)
            for index, k in common.items():
                lacking = k - missing.get(index, 0)
                if lacking:
                    top = sparse.multiply(top, sparse.power(self.denominators[index], lacking))
            result = sparse.add(result, top)
        return Quotient(result, common if result else {})

    def multiply(self, a: Quotient, b: Quotient) -> Quotient:
        top = sparse.multiply(a.top, b.top)
        bottom = dict(a.bottom)
        for index, k in b.bottom.items():
            bottom[index] = bottom.get(index, 0) + k
        return self._cancel(Quotient(top, bottom if top else {}))

    def _cancel(self, q: Quotient) -> Quotient:
        """Removes denominator factors that are monomials or that divide a numerator exactly, where that is cheap."""
        for index in list(q.bottom):
            factor = self.denominators[index]
            while q.bottom.get(index) and (len(factor) == 1 or len(q.top) < 60):
                quotient = sparse.divide_exactly(q.top, factor)
                if quotient is None:
                    break
                q.top = quotient
                q.bottom[index] -= 1
                if not q.bottom[index]:
                    del q.bottom[index]
        return q

    def power(self, q: Quotient, exponent: int) -> Quotient:
        if exponent < 0:
            return self.power(self.invert(q), -exponent)
        return Quotient(sparse.power(q.top, exponent), {i: k * exponent for i, k in q.bottom.items()} if exponent else {})

    def invert(self, q: Quotient) -> Quotient:
        if not q.top:
            raise DomainError("division by an expression that is zero")
        top: Polynomial = {0: ONE}
        for index, k in q.bottom.items():
            top = sparse.multiply(top, sparse.power(self.denominators[index], k))
        bottom: dict[int, int] = {}
        content: Any = ONE
        rest = q.top
        monomial = sparse.monomial_content(rest)
        if monomial:
            rest = {m - monomial: c for m, c in rest.items()}
            for shift in range(0, monomial.bit_length(), sparse.BITS):
                k = (monomial >> shift) & sparse.FIELD
                if k:
                    bottom[self._denominator({1 << shift: ONE})] = k
        if sparse.has_gaussian(rest):
            content = rest[max(rest)]
            rest = {m: c / content for m, c in rest.items()}
        else:
            content, rest = sparse.primitive(rest)
        if len(rest) > 1 or 0 not in rest:
            index = self._denominator(rest)
            bottom[index] = bottom.get(index, 0) + 1
        return Quotient(sparse.scale(top, 1 / content), bottom)

    def _denominator(self, p: Polynomial) -> int:
        key = frozenset(p.items())
        index = self._known_denominators.get(key)
        if index is None:
            index = self._known_denominators[key] = len(self.denominators)
            self.denominators.append(p)
        return index

    def denominator(self, q: Quotient) -> Polynomial:
        result: Polynomial = {0: ONE}
        for index, k in q.bottom.items():
            result = sparse.multiply(result, sparse.power(self.denominators[index], k))
        return result

    def lowest_terms(self, q: Quotient) -> tuple[Polynomial, Polynomial]:
        """(numerator, denominator) without common factors, as far as generators are independent."""
        return self.without_common_factors(q.top, self.denominator(q))

    def without_common_factors(self, top: Polynomial, bottom: Polynomial) -> tuple[Polynomial, Polynomial]:
        """The same fraction in lowest terms, as far as generators are independent."""
        if sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
            return top, bottom
        if set(bottom) == {0}:  # a number
            return sparse.scale(top, ONE / bottom[0]), sparse.UNIT
        common = gcd(top, bottom)
        if len(common) > 1 or 0 not in common:
            top = sparse.divide_exactly(top, common) or {}
            bottom = sparse.divide_exactly(bottom, common) or {}
        content, bottom = sparse.primitive(bottom)
        return sparse.scale(top, 1 / content), bottom

    def generator_power(self, index: int, exponent: int) -> Expression:
        (base, unit), degree = list(self.roots_of.items())[index]
        return power(base, scale(unit, mpq(exponent, degree)))

    def expression(self, p: Polynomial) -> Expression:
        """A polynomial over the generators as an expanded formula."""
        if len(p) >= LONG:
            found = self._long(p)
            if found is not None:
                return found
        cache: dict[tuple[int, int], Expression] = {}
        pairs = list(self.roots_of.items())
        terms: list[Expression] = []
        for m, c in sorted(p.items(), reverse=True):
            factors: list[Expression] = [number(c)]
            index = 0
            while m:
                k = m & sparse.FIELD
                if k:
                    piece = cache.get((index, k))
                    if piece is None:
                        (base, unit), degree = pairs[index]
                        piece = cache[(index, k)] = power(base, scale(unit, mpq(k, degree)))
                    factors.append(piece)
                m >>= sparse.BITS
                index += 1
            terms.append(multiply_all(factors))
        return total(terms)

    def _long(self, p: Polynomial) -> Expression | None:
        """Many terms at once, where no two generators can merge with each other; else None."""
        pairs = list(self.roots_of.items())
        place: dict[tuple[int, int], int] = {}
        pieces: list[Expression] = []
        monomials = list(zip(p.values(), sparse.exponents(p), strict=True))
        for index, k in sorted({pair for _, listed in monomials for pair in listed}):
            (base, unit), degree = pairs[index]
            if unit is not UNIT or isinstance(base, (Number, Sum, Product)) or base is euler() or _is_exponential(base):
                return None
            place[(index, k)] = len(pieces)
            pieces.append(power(base, number(mpq(k, degree))))
        if any(isinstance(piece, (Number, Product, Sum)) for piece in pieces):
            return None
        return sum_of_products(pieces, [(c, tuple([place[pair] for pair in listed])) for c, listed in monomials])

    def factored(self, p: Polynomial) -> Expression:
        """A polynomial as a product of irreducible factors."""
        if not p:
            return number(0)
        if sparse.has_gaussian(p):
            return self.expression(p)
        content, factors = self._apart(p) or factor_polynomial(p)
        pieces: list[Expression] = []
        for f, k in factors:
            piece = self.expression(f)
            if _mostly_negative(piece):
                piece, content = self.expression(sparse.negate(f)), -content if k % 2 else content
            pieces.append(power(piece, number(k)))
        return multiply_all([number(content), *pieces])

    def _apart(self, p: Polynomial) -> tuple[mpq, list[tuple[Polynomial, int]]] | None:
        """Only the content of a few high powers of one exponential of a number: factors would be longer, and take seconds."""
        powers = [k for k, (base, unit) in enumerate(self.roots_of) if base is euler() and unit is UNIT]
        if not any(sparse.degree(p, k) > max(HIGH, MANY * len(p)) for k in powers):
            return None
        content, plain = sparse.primitive(p)
        shared = sparse.monomial_content(plain)
        return content, [({shared: ONE}, 1), ({m - shared: c for m, c in plain.items()}, 1)]


def _is_exponential(base: Expression) -> bool:
    return is_a(base, EXP)


def _mostly_negative(piece: Expression) -> bool:
    """Whether a sum is better read with all its signs turned."""
    if not isinstance(piece, Sum):
        return looks_negative(piece)
    real = [c for c in (*piece.coefficients, piece.constant) if c and not isinstance(c, Gaussian)]
    negative = sum(c < 0 for c in real)
    return 2 * negative > len(real) or (2 * negative == len(real) and looks_negative(piece))


def _scaled(q: Quotient, factor: Scalar) -> Quotient:
    return q if factor == ONE else Quotient(sparse.scale(q.top, factor), q.bottom)


def _plain(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_whole


def _atoms(node: Node) -> Iterator[tuple[Expression, Expression, mpq]]:
    """(base, unit, rational coefficient): the node is the product of base^(unit*coefficient)."""
    if is_a(node, EXP):
        for coefficient, unit in exponent_parts(node.arguments[0]):
            yield euler(), unit, coefficient
    elif isinstance(node, Power):
        base = node.base
        if isinstance(base, Number) and base.value == -1 and isinstance(node.exponent, Number):
            yield euler(), multiply_all((IMAGINARY, PI)), node.exponent.rational
            return
        for coefficient, unit in exponent_parts(node.exponent):
            if isinstance(base, Number) and base.is_rational and base.rational > 0 and unit is not UNIT:
                for integer, sign in ((base.rational.numerator, 1), (base.rational.denominator, -1)):
                    for prime, times in small_factors(integer):
                        yield number(mpq(prime)), unit, coefficient * sign * times
            else:
                yield base, unit, coefficient
    else:
        assert isinstance(node, Expression)
        yield node, UNIT, mpq(1)


def quotient_parts(expression: Expression) -> tuple[Expression, Expression]:
    """(numerator, denominator) in lowest terms, expanded."""
    form = Form([expression])
    top, bottom = form.lowest_terms(form.of(expression))
    return form.expression(top), form.expression(bottom)


def factored(expression: Expression) -> Expression:
    """Numerator and denominator in lowest terms, both as products of irreducible factors over the rationals.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(factored(x**2 - 1))
    (x - 1)*(x + 1)
    """
    form = Form([expression])
    top, bottom = form.lowest_terms(form.of(expression))
    return multiply_all((form.factored(top), power(form.factored(bottom), number(-1))))
