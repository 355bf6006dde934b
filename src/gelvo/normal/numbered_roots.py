"""Numbered roots: quotients of one root without a denominator, and the relations that several roots of one polynomial satisfy.

Source of the relations: A.-L. Cauchy, "Usage des fonctions interpolaires dans la détermination des fonctions symétriques" (1840):
the divided differences of the polynomial vanish at different roots.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.constants import ONE
from gelvo.expression.nodes import AlgebraicNumber, Expression, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder
from gelvo.forms.fractions import Form
from gelvo.polynomial import sparse
from gelvo.polynomial.extension import AdjoinedRoot, inverse, reduce
from gelvo.polynomial.sparse import Polynomial

LARGEST_FIELD = 6000  # how many products of powers of the roots may stand beside each other
LARGEST_DEGREE = 40


def without_denominator(power: Power) -> Expression | None:
    """f(r)^-n as a polynomial in the one numbered root r; None where something else stands in f, or nothing needs to be done.

    >>> from gelvo.deciding.algebraic import root_of
    >>> r = root_of((-1, -1, 0, 1), 1)
    >>> print(without_denominator(1/r))
    polynomial_root(x^3 - x - 1, 1)^2 - 1
    """
    exponent = power.exponent
    if not (isinstance(exponent, Number) and exponent.is_whole and exponent.rational < 0):
        return None
    parts = postorder(power.base)
    root = next((n for n in parts if isinstance(n, AlgebraicNumber)), None)
    if root is None or len(root.coefficients) > LARGEST_DEGREE or not all(_of_root(n, root) for n in parts):
        return None
    form = Form([power.base, root])
    quotient = form.of(power.base)
    place = form.generators[(root, ONE)]
    field = [minimal_relation(root, place, form.roots_of[(root, ONE)])]
    top, bottom = reduce(quotient.top, field), reduce(form.denominator(quotient), field)
    if not top or sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return None
    inverted = reduce(sparse.multiply(bottom, inverse(top, field)), field)
    return form.expression(inverted) ** -exponent


def _of_root(node: object, root: AlgebraicNumber) -> bool:
    whole_power = isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_whole
    return node is root or whole_power or isinstance(node, (Number, Sum, Product))


def minimal_relation(root: AlgebraicNumber, place: int, degree: int) -> AdjoinedRoot:
    """f(g^degree) = 0 for a root of f whose root of that degree is the generator g at a place."""
    return AdjoinedRoot(place, {degree * k << (sparse.BITS * place): mpq(c) for k, c in enumerate(root.coefficients) if c})


def modulo_other_roots(form: Form, p: Polynomial) -> Polynomial:
    """p with the roots of each polynomial brought to as few products of powers as the divided differences allow; zero only where p is."""
    groups: dict[tuple[int, ...], list[tuple[int, int, int]]] = {}
    for (base, unit), place in form.generators.items():
        if isinstance(base, AlgebraicNumber) and unit is ONE:
            groups.setdefault(base.coefficients, []).append((base.index, place, form.roots_of[(base, unit)]))
    for coefficients, found in groups.items():
        places = [(place, degree) for _, place, degree in sorted(found)]
        size = 1
        for k, (_, degree) in enumerate(places):
            size *= (len(coefficients) - 1 - k) * degree
        if len(places) > 1 and size <= LARGEST_FIELD:
            p = reduce(p, _divided_differences(coefficients, places))
    return p


def _divided_differences(coefficients: tuple[int, ...], places: list[tuple[int, int]]) -> list[AdjoinedRoot]:
    """f[x_1], f[x_1, x_2], …: sums of the coefficients times the complete symmetric polynomials, x_k a power of its generator."""
    degree = len(coefficients) - 1
    complete: list[Polynomial] = [{0: mpq(1)}] + [{} for _ in range(degree)]  # of no variable
    found = []
    for k, (place, power) in enumerate(places):
        complete = [
            sparse.total(_shifted(complete[d - j], place, j * power) for j in range(d + 1)) if d <= degree - k else {}
            for d in range(degree + 1)
        ]
        terms = [sparse.scale(complete[m - k], mpq(coefficients[m])) for m in range(k, degree + 1) if coefficients[m]]
        found.append(AdjoinedRoot(place, sparse.total(terms)))
    return found


def _shifted(p: Polynomial, place: int, power: int) -> Polynomial:
    return {m + (power << (sparse.BITS * place)): c for m, c in p.items()}
