"""The characteristic polynomial in irreducible factors, each with its roots and with what a polynomial is at them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.errors import NotSolved
from gelvo.expression.building import number, sqrt, total
from gelvo.expression.constants import HALF, IMAGINARY, ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.matrices.matrix import Matrix, square
from gelvo.matrices.resolvent import characteristic_polynomial
from gelvo.numbers.exact import Scalar, parts
from gelvo.simplifying.search import simplify
from gelvo.solving.single.polynomial import square_parts
from gelvo.spectra.over_roots import roots_of

Coefficients = list[Expression]


class Pair(NamedTuple):
    """The two roots centre + half and centre - half of a quadratic factor: half = outside*root, half^2 = square."""

    centre: Expression
    square: Expression
    outside: Expression
    root: Expression


class Factor(NamedTuple):
    """A factor of the characteristic polynomial without a multiple root: coefficients, constant term first, and how often it stands there."""

    coefficients: Coefficients
    times: int
    roots: list[Expression]
    pair: Pair | None = None

    @property
    def degree(self) -> int:
        return len(self.coefficients) - 1

    def coordinates(self, polynomial: Sequence[Expression]) -> list[Expression]:
        """What `at_roots` needs of a polynomial of lower degree: for two roots the part they share and that before the square root."""
        if self.pair is None:
            return list(polynomial)
        constant, slope = (*polynomial, ZERO, ZERO)[:2]
        return [uni.lowest_terms(constant + slope * self.pair.centre), uni.lowest_terms(slope * self.pair.outside)]

    def at_roots(self, coordinates: Sequence[Expression]) -> list[Expression]:
        """The polynomial at each root."""
        if self.pair is not None:
            middle, slope = coordinates
            return [middle - slope * self.pair.root, middle + slope * self.pair.root]
        return [total([c * r**k for k, c in enumerate(coordinates)]) for r in self.roots]


def diagonal_blocks(m: Matrix) -> list[Matrix]:
    """The blocks on the diagonal after rows and columns are put in an order that makes the matrix block triangular.

    They share its eigenvalues: the blocks are the sets of places that reach each other over entries that are not zero.
    """
    import numpy
    from scipy.sparse.csgraph import connected_components

    n = square(m, "eigenvalues")
    pattern = numpy.array([[e is not ZERO for e in row] for row in m.entries])
    count, labels = connected_components(pattern, directed=True, connection="strong")
    blocks = [[i for i in range(n) if labels[i] == k] for k in range(count)]
    return [Matrix([[m[i, j] for j in block] for i in block]) for block in sorted(blocks)]


def factors(m: Matrix, facts: Facts) -> list[Factor]:
    """All factors, those of equal blocks put together; NotSolved where the roots of one have no form.

    >>> [(f.roots, f.times) for f in factors(Matrix([[2, 1], [1, 2]]), Facts())]
    [([1], 1), ([3], 1)]
    """
    x = facts.new_name("x", *m.flat())
    made = [f for coefficients, times in _counted(m, x, facts).items() for f in _with_roots(list(coefficients), times, x, facts)]
    return sorted(_joined(made), key=_place)


def without_roots(m: Matrix, facts: Facts) -> list[Factor]:
    """All factors, those of higher degree without their roots; with roots where the entries are no rational functions of letters,
    over which a factor is irreducible.

    >>> [(f.coefficients, f.times) for f in without_roots(Matrix([[0, 1], [2, 0]]), Facts())]
    [([-2, 0, 1], 1)]
    """
    if any(not _is_rational(node) for e in m.flat() for node in postorder(e)):
        return factors(m, facts)
    x = facts.new_name("x", *m.flat())
    made = [
        Factor(list(c), times, [uni.lowest_terms(-c[0])] if len(c) == 2 else []) for c, times in _counted(m, x, facts).items()
    ]
    return sorted(made, key=_place)


def _is_rational(node: Node) -> bool:
    if isinstance(node, Power):
        return node.exponent.is_whole
    return isinstance(node, (Name, Sum, Product)) or (isinstance(node, Number) and node.is_rational)


def _counted(m: Matrix, x: Name, facts: Facts) -> dict[tuple[Expression, ...], int]:
    """The coefficients of each factor, and how often it stands in the characteristic polynomial."""
    found: dict[tuple[Expression, ...], int] = {}
    for block in diagonal_blocks(m):
        for coefficients, times in _of_block(block, x, facts):
            found[coefficients] = found.get(coefficients, 0) + times
    return found


def _place(factor: Factor) -> tuple[bool, mpq]:
    """Rational eigenvalues first, ascending."""
    value = factor.roots[0] if factor.roots else ONE
    rational = factor.degree == 1 and isinstance(value, Number) and value.is_rational
    return not rational, value.rational if rational and isinstance(value, Number) else mpq(0)


def _of_block(block: Matrix, x: Name, facts: Facts) -> list[tuple[tuple[Expression, ...], int]]:
    if block.shape == (1, 1):
        return [((uni.lowest_terms(-block[0, 0]), ONE), 1)]
    polynomial = characteristic_polynomial(block, x)
    if any(isinstance(n, Call) for e in block.flat() for n in postorder(e)):  # cos(t)^2 + sin(t)^2
        polynomial = simplify(polynomial, facts).expression
    found: list[tuple[tuple[Expression, ...], int]] = []
    for f in factors_in(factored(polynomial)):
        base, times = (f.base, int(f.exponent.rational)) if isinstance(f, Power) and isinstance(f.exponent, Number) else (f, 1)
        if not contains(base, x):
            continue
        coefficients = uni.coefficients_of(base, x)
        if coefficients is None:
            raise NotSolved(f"{base} is no polynomial in {x}")
        found.append((tuple(uni.lowest_terms(c / coefficients[-1]) for c in coefficients), times))
    return found


def _with_roots(coefficients: Coefficients, times: int, x: Name, facts: Facts) -> list[Factor]:
    """The factor with its roots; one with multiple roots, which over roots and functions may still stand there, root by root."""
    degree = len(coefficients) - 1
    if degree == 1:
        return [Factor(coefficients, times, [uni.lowest_terms(-coefficients[0])])]
    if degree == 2:
        return _quadratic(coefficients, times, facts)
    roots = roots_of(coefficients, x, facts)
    if len(roots) == degree:
        return [Factor(coefficients, times, roots)]
    base = uni.expression_of(coefficients, x)
    counted = {r: next((k for k in range(1, degree + 1) if not _vanishes(base, x, r, k, facts)), degree) for r in roots}
    if sum(counted.values()) != degree:
        raise NotSolved(f"not all roots of the characteristic polynomial were found: {counted} of {degree}")
    return [Factor([-r, ONE], times * k, [r]) for r, k in counted.items()]


def _vanishes(base: Expression, x: Name, place: Expression, times: int, facts: Facts) -> bool:
    return is_zero(substitute(differentiate(base, x, times), {x: place}), facts) is True


def _quadratic(coefficients: Coefficients, times: int, facts: Facts) -> list[Factor]:
    centre = uni.lowest_terms(-coefficients[1] / 2)
    gap = factored(expand(coefficients[1] ** 2 - 4 * coefficients[0]))
    if any(isinstance(n, Call) for n in postorder(gap)):
        gap = factored(simplify(gap, facts).expression)
    if gap is ZERO or is_zero(gap, facts):
        return [Factor([-centre, ONE], 2 * times, [centre])]
    turned = facts.is_nonpositive(gap)
    outside, inside = square_parts(-gap if turned else gap, fractions=True)
    content = inside.value if isinstance(inside, Number) else inside.coefficient if isinstance(inside, Product) else mpq(1)
    square = sqrt(number(abs(content)) if isinstance(content, mpq) else ONE)  # what comes out of the root: 2 for 4, and 2 for 12
    size = square.rational if isinstance(square, Number) else square.coefficient if isinstance(square, Product) else mpq(1)
    root = sqrt(expand(inside / number(size) ** 2))
    outside = number(size) * HALF * outside
    if turned:
        root = IMAGINARY * root
    half = outside * root
    return [Factor(coefficients, times, [_sum(centre, -half), _sum(centre, half)], Pair(centre, gap / 4, outside, root))]


def _sum(centre: Expression, half: Expression) -> Expression:
    """centre + half, over 2 where that leaves no fraction."""
    doubled = [expand(2 * centre), expand(2 * half)]
    if _whole(centre, half) or not _whole(*doubled):
        return centre + half
    return total(doubled) * HALF


def _whole(*formulas: Expression) -> bool:
    """Whether no number before a term is a fraction."""
    return all(part.denominator == 1 for e in formulas for c in _numbers(e) for part in parts(c))


def _numbers(e: Expression) -> list[Scalar]:
    """The numbers before the terms of a sum."""
    if isinstance(e, Sum):
        return [*e.coefficients, e.constant]
    return [e.value if isinstance(e, Number) else e.coefficient if isinstance(e, Product) else mpq(1)]


def _joined(found: list[Factor]) -> list[Factor]:
    """Equal factors as one."""
    table: dict[tuple[Expression, ...], Factor] = {}
    for f in found:
        key = tuple(f.coefficients)
        table[key] = f._replace(times=f.times + table[key].times) if key in table else f
    return list(table.values())
