"""The third case: all solutions are algebraic, w = z'/z is a root of a polynomial of degree 4, 6 or 12 over the rational functions.

Source: J. Kovacic, "An Algorithm for Solving Second Order Linear Homogeneous Differential Equations" (1986), section 5.1.
"""

from __future__ import annotations

from functools import reduce
from math import factorial

from gmpy2 import lcm, mpq, mpz

from gelvo.differential.second_order.kovacic.search import Search
from gelvo.differential.second_order.singular_places import Place, degree, leading_at, leading_far_out
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.matrices.echelon import null_space
from gelvo.matrices.matrix import Matrix
from gelvo.polynomial.dense import Dense, derivative, multiply, negate, subtract

DEGREES = (4, 6, 12)


def equation_of_slope(r: Expression, x: Name, places: list[Place], search: Search) -> list[Expression] | None:
    """The coefficients of an equation for z'/z, constant term first; None where there is none of degree 4, 6 or 12.

    >>> from gelvo.expression.building import name
    >>> from gelvo.differential.second_order.singular_places import poles
    >>> x = name("x")
    >>> r = number(3)/(16*x*(x - 1)) - number(3)/(16*x**2) - number(2)/(9*(x - 1)**2)
    >>> len(equation_of_slope(r, x, poles(r, x), Search()))
    5
    """
    order = 1000 if r is ZERO else -(degree(r, x) or 0)
    if order < 2 or any(place.order > 2 for place in places):
        return None
    if not all(isinstance(place.value, Number) and place.value.is_rational for place in places):
        search.complete = False
        return None
    for n in DEGREES:
        far = _around(leading_far_out(r, x, 2), n)
        finite = [_around(leading_at(r, x, c, 2), n) if k == 2 else [12] for c, k in places]
        work = _Recursion(r, x, places, n)
        for e_far, *chosen in search.families(far, *finite):
            size = search.degree(number(mpq(n, 12) * (e_far - sum(chosen))))
            if size is not None and (found := work.solved(chosen, size)) is not None:
                return found
    return None


def _around(b: Expression, n: int) -> list[int]:
    """The whole numbers among 6 + 12*k/n*sqrt(1 + 4*b) for k from -n/2 to n/2."""
    root = uni.lowest_terms(sqrt(expand(1 + 4 * b)))
    if not (isinstance(root, Number) and root.is_rational):
        return [6]
    found = {6 + mpq(12 * k, n) * root.rational for k in range(-n // 2, n // 2 + 1)}
    return sorted(int(e) for e in found if e.denominator == 1)


class _Recursion:
    """P_n = -P, P_(i-1) = -S*P_i' + ((n - i)*S' - S*theta)*P_i - (n - i)*(i + 1)*S^2*r*P_(i+1); P_(-1) = 0 decides on P.

    A number before S stands before all terms alike: here it makes all coefficients whole.
    """

    def __init__(self, r: Expression, x: Name, places: list[Place], n: int) -> None:
        self.x, self.n, self.places = x, n, places
        plain = multiply_all([x - c for c, _ in places])
        parts = (plain, factored(plain**2 * r), *[plain / (12 * (x - c)) for c, _ in places])
        self.whole = plain * number(reduce(lcm, (c.denominator for e in parts for c in _rationals(e, x)), mpz(1)))
        self.s = [mpz(c) for c in _rationals(self.whole, x)]
        self.square = [mpz(c) for c in _rationals(factored(self.whole**2 * r), x)]

    def solved(self, chosen: list[int], size: int) -> list[Expression] | None:
        theta = [number(mpq(self.n * e, 12)) / (self.x - c) for e, (c, _) in zip(chosen, self.places, strict=True)]
        inside = [mpz(c) for c in _rationals(factored(self.whole * total(theta)), self.x)]
        chains = [self._chain(inside, [mpz(0)] * k + [mpz(1)]) for k in range(size + 1)]
        height = max(len(c[-1]) for c in chains)
        rows = [[number(c[-1][k] if k < len(c[-1]) else 0) for c in chains] for k in range(height)]
        basis = null_space(Matrix(rows), Facts())[0] if rows else [Matrix([[ONE]] * (size + 1))]
        weights = next((v.flat() for v in basis if v[size, 0] is not ZERO), None)
        if weights is None:
            return None
        found = []
        for i in range(self.n + 1):  # P_i stands at n - i in a chain
            p = total(
                [
                    w * number(c) * self.x**k
                    for w, chain in zip(weights, chains, strict=True)
                    for k, c in enumerate(chain[self.n - i])
                ]
            )
            found.append(p * power(self.whole, number(i)) / number(factorial(self.n - i)))
        return found

    def _chain(self, theta: Dense, start: Dense) -> list[Dense]:
        """P_n, P_(n-1), …, P_(-1)."""
        above: Dense = []
        chain = [negate(start)]
        slope = derivative(self.s)
        for i in range(self.n, -1, -1):
            p, rest = chain[-1], self.n - i
            middle = subtract([rest * c for c in slope], theta)
            below = subtract(multiply(middle, p), multiply(self.s, derivative(p)))
            chain.append(subtract(below, [rest * (i + 1) * c for c in multiply(self.square, above)]))
            above = p
        return chain


def _rationals(e: Expression, x: Name) -> list[mpq]:
    return [c.rational for c in uni.coefficients_of(expand(e), x) or [] if isinstance(c, Number)]
