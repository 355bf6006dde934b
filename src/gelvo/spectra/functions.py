"""Any function of a matrix, from the partial fractions of its resolvent: the sum of f and its derivatives at the eigenvalues.

Two conjugate eigenvalues are told together and stay real; of more roots of one factor the exact ones are summed.
Source: F. Gantmacher, "The Theory of Matrices" (1959), chapter 5 (components of a matrix); roots of a factor are treated all at once.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import factorial

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, relation, sqrt, total
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Call, Condition, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import ATAN2, COS, COSH, IM, RE, SIN, SINH, SINHC
from gelvo.matrices.matrix import Matrix, identity, square
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.spectra import jordan, patterns
from gelvo.spectra.factors import Factor, Pair, factors
from gelvo.spectra.over_roots import parts_of
from gelvo.spectra.scalar import MatrixFunction, grouped
from gelvo.spectra.scaling import scaled

Coefficients = list[Expression]
ROAD = "partial fractions of the resolvent"


def applied_power(m: Matrix, n: Name, facts: Facts) -> tuple[Matrix, tuple[Condition, ...]]:
    """(A^n, what n must be at least where 0 is an eigenvalue) for a whole number n."""
    longest: list[int] = []

    def at_zero(length: int) -> Expression:
        longest.append(length)
        return ZERO

    def parts(c: Expression, w: Expression) -> tuple[Expression, Expression]:
        size, angle = (w, PI / 2) if c is ZERO else (sqrt(uni.lowest_terms(c**2 + w**2)), ATAN2(w, c))
        return size**n * COS(n * angle), size**n * SIN(n * angle)

    found = applied(m, MatrixFunction(lambda z: z**n, parts, at_zero), facts)
    least = tuple(facts.open_conditions([relation(">=", n, number(max(longest)))])) if longest else ()
    return found, (*least, *_apart_in_chains(m, facts))


def _apart_in_chains(m: Matrix, facts: Facts) -> Iterator[Condition]:
    """Eigenvalues with letters whose powers are differentiated: n*a^(n - 1) needs a != 0 for n = 0."""
    letters = scaled(m)
    if not m.free_names or (letters is not None and letters.shift is ZERO):
        return
    for factor in factors(m, facts):
        if factor.times > 1 and any(names(r) for r in factor.roots) and jordan.index(m, factor, facts) > 1:
            yield from apart_from_zero(factor.coefficients[0], facts)


def minimal_polynomial(m: Matrix, found: Sequence[Factor], facts: Facts) -> tuple[Coefficients, list[int]]:
    """(its coefficients, constant term first; how often each factor stands in it)."""
    powers = [jordan.index(m, f, facts) for f in found]
    product: Coefficients = [ONE]
    for factor, times in zip(found, powers, strict=True):
        for _ in range(times):
            product = uni.multiply(product, factor.coefficients)
    return product, powers


def applied(m: Matrix, function: MatrixFunction, facts: Facts) -> Matrix:
    """f(A), entry by entry as the sum over the eigenvalues.

    >>> from gelvo.expression.constants import HALF
    >>> root = MatrixFunction(lambda z: z**HALF)
    >>> print(applied(Matrix([[1, 0], [3, 4]]), root, Facts()))
    [1, 0; 1, 2]
    """
    n = square(m, "a function of a matrix")
    letters = scaled(m)
    by_pattern = patterns.applied(m, function, facts) if letters is None and m.free_names else None
    if by_pattern is not None:
        return by_pattern
    work, moved = (m, (ZERO, ONE)) if letters is None else (letters.numbers, (letters.shift, letters.stretch))
    found = factors(work, facts)
    polynomial, powers = minimal_polynomial(work, found, facts)
    resolvent = _resolvent(work, polynomial)
    terms: list[list[Expression]] = [[] for _ in range(n * n)]
    for factor, times in zip(found, powers, strict=True):
        summed = _Summed(factor, times, polynomial, function, moved, facts)
        for place in range(n * n):
            checkpoint()
            terms[place] += summed.entry([part.entries[place // n][place % n] for part in resolvent])
    return Matrix([[grouped(terms[i * n + j]) for j in range(n)] for i in range(n)], m.conditions)


def _resolvent(m: Matrix, polynomial: Coefficients) -> list[Matrix]:
    """The matrices M_k of (x - A)^-1 = sum of M_k*x^k / minimal polynomial."""
    unit = identity(m.shape[0])
    found = [unit]
    for c in reversed(polynomial[1:-1]):
        found.append((found[-1] @ m + unit * c).map(uni.lowest_terms))
    return found[::-1]


class _Summed:
    """The share of one factor p of the minimal polynomial p^times*rest, modulo p."""

    def __init__(
        self, factor: Factor, times: int, polynomial: Coefficients, function: MatrixFunction, moved: tuple[Expression, Expression],
        facts: Facts,
    ) -> None:  # fmt: skip
        self.factor, self.times, self.facts = factor, times, facts
        self.shift, self.stretch = moved
        self.function = function
        behind = [self._below(_taylor(polynomial, times + k)) for k in range(times)]  # of polynomial(root + h)/h^times
        self.behind = behind
        self.plain = factor.degree > 2 and times == 1  # one fraction at each root is shorter than its inverse worked out
        self.inverse = [] if self.plain else self._series_inverse(behind)
        self.values = list(self._values())

    def _below(self, p: Coefficients) -> Coefficients:
        return uni.divide(p, self.factor.coefficients)[1] if len(p) > self.factor.degree else p

    def _product(self, p: Coefficients, q: Coefficients) -> Coefficients:
        return self._below(uni.multiply(p, q))

    def _series_inverse(self, p: list[Coefficients]) -> list[Coefficients]:
        """1/(p_0 + p_1*h + …) modulo the factor."""
        first = uni.inverse_modulo(p[0], self.factor.coefficients)
        found = [first]
        for k in range(1, self.times):
            rest: Coefficients = []
            for j in range(k):
                rest = uni.add(rest, self._product(p[k - j], found[j]))
            found.append(uni.scale(self._product(rest, first), number(-1)))
        return found

    def entry(self, resolvent: Coefficients) -> list[Expression]:
        """The terms of one entry, from its resolvent by powers of x."""
        top = uni.trim(list(resolvent))
        if not top:
            return []
        if self.plain:
            return self._at_many(self._below(top))
        series = [self._below(_taylor(top, k)) for k in range(self.times)]
        terms: list[Expression] = []
        for order in range(self.times):  # the coefficient of h^(times - 1 - order) belongs to the derivative of that order
            place = self.times - 1 - order
            component: Coefficients = []
            for k in range(place + 1):
                component = uni.add(component, self._product(series[k], self.inverse[place - k]))
            terms += self._weighted(self.factor.coordinates(component) if component else [], order)
        return terms

    # --- the function at the roots ------------------------------------------------------------------------------------------

    def _values(self) -> Iterator[list[Expression]]:
        """For each order what multiplies the coordinates of a component; for two roots a, b what `_together` tells."""
        z = self.facts.new_name("z", self.shift, self.stretch, *self.factor.coefficients)
        work = self.function.at(self.shift + self.stretch * z)
        for order in range(self.times):
            yield self._of_order(work, z, number(factorial(order)))
            work = differentiate(work, z)

    def _of_order(self, work: Expression, z: Name, below: Expression) -> list[Expression]:
        pair = self.factor.pair
        if pair is None:
            return [self._at(work, z, r) / below for r in self.factor.roots]
        half = pair.outside * pair.root
        one, other = self._together(work, z, pair, half) or _both(work, z, pair, half)
        return [one / below, other / below]

    def _at(self, work: Expression, z: Name, root: Expression) -> Expression:
        if uni.lowest_terms(self.shift + self.stretch * root) is ZERO:
            found = self.function.at_zero(self.times)
            if found is not None:
                return found
        return substitute(work, {z: root})

    def _together(self, work: Expression, z: Name, pair: Pair, half: Expression) -> tuple[Expression, Expression] | None:
        """(f(a) + f(b), (f(a) - f(b))/root) for the roots a, b = centre + half, centre - half, in a short form; None where there is none."""
        imaginary = half / IMAGINARY
        if self._is_real(imaginary):
            real = (
                self.function.parts(self.shift + self.stretch * pair.centre, self.stretch * imaginary)
                if self.times == 1
                else None
            )
            if real is None:
                try:
                    real = real_and_imaginary(substitute(work, {z: pair.centre + half}), self.facts)
                except DomainError:  # the sign of a part is open
                    return None
            return 2 * real[0], 2 * IMAGINARY * real[1] / pair.root
        return self._by_hyperbolic(work, z, pair, half)

    def _is_real(self, e: Expression) -> bool:
        return self.facts.is_real(e) and all(self.facts.is_real(c) for c in (self.shift, self.stretch, *self.factor.coefficients))

    def _by_hyperbolic(self, work: Expression, z: Name, pair: Pair, half: Expression) -> tuple[Expression, Expression] | None:
        """polynomial*exp(a*z) at both roots, with cosh and sinh."""
        rate = differentiate(self.function.at(self.shift + self.stretch * z), z) / self.function.at(self.shift + self.stretch * z)
        if contains(rate, z) or self.times > 1:
            return None
        before = 2 * substitute(work, {z: pair.centre})
        if self.function.one_formula and names(pair.root) and not self.facts.is_nonzero(pair.square):
            return before * COSH(rate * half), before * rate * pair.outside * SINHC(rate * half)
        return before * COSH(rate * half), before * SINH(rate * half) / pair.root

    def _weighted(self, coordinates: Coefficients, order: int) -> list[Expression]:
        """The sum over the roots of a component times the function there."""
        if not coordinates:
            return []
        if self.factor.pair is not None:
            root = self.factor.pair.root
            middle, slope = coordinates
            return [_sum(middle * self.values[order][0], uni.lowest_terms(slope * root**2) * self.values[order][1])]
        return [c * v for c, v in zip(self.factor.at_roots(coordinates), self.values[order], strict=True)]

    def _real_parts(self, root: Expression) -> tuple[Expression, Expression] | None:
        """Real and imaginary part of an eigenvalue of a real matrix of numbers, the latter zero or with a known sign; else None."""
        if names(root) or not self._is_real(ZERO):
            return None
        if isinstance(root, AlgebraicNumber):
            return (root, ZERO) if bits.is_real(root.known) else (RE(root), IM(root))
        real, imag = parts_of(root, self.facts)
        known = imag is ZERO or self.facts.is_positive(imag) or self.facts.is_negative(imag)
        return (real, imag) if known else None

    def _at_many(self, top: Coefficients) -> list[Expression]:
        """M(root)/p'(root) at every root; of conjugate ones the real part, twice."""
        found: list[Expression] = []
        for root, value in zip(self.factor.roots, self.values[0], strict=True):
            share = total([c * root**k for k, c in enumerate(top)]) / total([c * root**k for k, c in enumerate(self.behind[0])])
            where = self._real_parts(root)
            if where is None or where[1] is ZERO:
                found.append(share * value)
            elif self.facts.is_positive(where[1]):
                parts = self.function.parts(self.shift + self.stretch * where[0], self.stretch * where[1])
                real, imag = parts or (RE(value), IM(value))
                shares = (RE(share), IM(share)) if isinstance(root, AlgebraicNumber) else parts_of(share, self.facts)
                found += [2 * shares[0] * real, -2 * shares[1] * imag]
        return found


def _both(work: Expression, z: Name, pair: Pair, half: Expression) -> tuple[Expression, Expression]:
    one, other = (substitute(work, {z: pair.centre + sign * half}) for sign in (1, -1))
    return one + other, (one - other) / pair.root


def _sum(one: Expression, other: Expression) -> Expression:
    """The sum of two terms, common functions before the parenthesis."""
    common = [f for f in factors_in(one) if isinstance(f, Call) and f in factors_in(other)]
    if not common or ZERO in (one, other):
        return one + other
    before = multiply_all(common)
    return before * (one / before + other / before)


def _taylor(p: Coefficients, k: int) -> Coefficients:
    """The k-th derivative over k!, of a polynomial by its coefficients."""
    found = []
    for power in range(k, len(p)):
        factor = factorial(power) // (factorial(k) * factorial(power - k))
        found.append(uni.lowest_terms(p[power] * number(factor)))
    return uni.trim(found)
