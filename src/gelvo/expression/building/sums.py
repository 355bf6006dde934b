"""Sums, and numbers times formulas."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from gelvo.errors import DomainError
from gelvo.expression import known as facts
from gelvo.expression.building.leaves import known_of_number, number
from gelvo.expression.interning import interned
from gelvo.expression.nodes import Bound, Expression, Number, Product, Sum
from gelvo.expression.order import ordered
from gelvo.numbers import exact
from gelvo.numbers.exact import MINUS_ONE, ONE, ZERO, Gaussian, Scalar


def _make_sum(constant_part: Scalar, terms: Sequence[Expression], table: dict[Expression, Scalar]) -> Expression:
    in_order = tuple(ordered(terms))
    return make_sum(constant_part, in_order, tuple([table[t] for t in in_order]))


def make_sum(constant_part: Scalar, in_order: tuple[Expression, ...], coefficients: tuple[Scalar, ...]) -> Expression:
    """A sum node from ordered terms without coefficients of their own."""
    return interned(Sum, (constant_part, in_order, coefficients), _known_of_new_sum)


def _known_of_new_sum(node: Sum) -> int:
    return known_of_sum(node, [t.known for t in node.terms])


def known_of_scaled(known: int, coefficient: Scalar) -> int:
    if isinstance(coefficient, Gaussian):
        return facts.ANY if known & facts.NIL else facts.NONZERO
    return facts.scaled(known, 1 if coefficient > 0 else -1, coefficient.denominator == 1)


def known_of_sum(node: Sum, terms: Sequence[int]) -> int:
    parts = [(known_of_scaled(k, c), 1) for k, c in zip(terms, node.coefficients, strict=True)]
    if node.constant:
        parts.append((known_of_number(node.constant), 1))
    return facts.sum_known(parts)


def total(terms: Iterable[Expression]) -> Expression:
    """The sum of many terms, in one pass; like terms are collected.

    >>> from gelvo.expression.building import name, total
    >>> print(total([name("x"), name("y"), name("x")]))
    2*x + y
    """
    terms = [t for t in terms if not (isinstance(t, Number) and not t.value)]
    if len(terms) == 1:
        return terms[0]
    table: dict[Expression, Scalar] = {}
    constant_part: Scalar = ZERO
    for term in terms:
        coefficient: Scalar = ONE
        if isinstance(term, Product) and len(term.factors) == 1 and isinstance(term.factors[0], Sum):
            coefficient, term = term.coefficient, term.factors[0]
        if isinstance(term, Number):
            constant_part = constant_part + term.value
        elif isinstance(term, Sum):
            constant_part = constant_part + coefficient * term.constant
            for inner, factor in term.items():
                table[inner] = table.get(inner, ZERO) + coefficient * factor
        elif isinstance(term, Bound):
            raise DomainError(f"{term.kind} is not a number and cannot stand in a sum")
        else:
            core, coefficient = split_coefficient(term)
            table[core] = table.get(core, ZERO) + coefficient
    remaining = [t for t, c in table.items() if c]
    if not remaining:
        return number(constant_part)
    if len(remaining) == 1 and not constant_part:
        return scale(remaining[0], table[remaining[0]])
    return _make_sum(constant_part, remaining, table)


def weighted_terms(e: Expression) -> list[tuple[Expression, Scalar]]:
    """The terms of a formula that are no numbers, each as (term without coefficient, coefficient)."""
    return list(e.items()) if isinstance(e, Sum) else [split_coefficient(e)]


def split_coefficient(term: Expression) -> tuple[Expression, Scalar]:
    """A term as (term without coefficient, coefficient)."""
    if isinstance(term, Product) and term.coefficient != ONE:
        if len(term.factors) == 1:
            return term.factors[0], term.coefficient
        return make_product(ONE, term.factors), term.coefficient
    if isinstance(term, Number):
        return number(ONE), term.value
    return term, ONE


def scale(term: Expression, coefficient: Scalar) -> Expression:
    """A number times an expression."""
    if not coefficient:
        return number(ZERO)
    if isinstance(term, Number):
        return number(term.value * coefficient)
    if isinstance(term, Product):
        combined = term.coefficient * coefficient
        if combined == ONE and len(term.factors) == 1:
            return term.factors[0]
        return make_product(combined, term.factors)
    if coefficient == ONE:
        return term
    if isinstance(term, Bound):
        raise DomainError(f"{term.kind} is not a number and cannot stand in a product")
    return make_product(coefficient, (term,))


def make_product(coefficient: Scalar, factors: tuple[Expression, ...]) -> Expression:
    """A product node from ordered factors of different bases."""
    return interned(Product, (coefficient, factors), _known_of_product)


def _known_of_product(node: Product) -> int:
    return known_of_scaled(facts.product_known([f.known for f in node.factors]), node.coefficient)


def negate(term: Expression) -> Expression:
    if isinstance(term, Bound):
        return -term
    return scale(term, MINUS_ONE)


def distributed(node: Expression) -> Expression:
    """A rational times a sum, multiplied out: so that an argument and its negative are told apart."""
    if isinstance(node, Product) and len(node.factors) == 1 and isinstance(node.factors[0], Sum):
        inner = node.factors[0]
        table = {t: c * node.coefficient for t, c in inner.items()}
        return _make_sum(inner.constant * node.coefficient, list(table), table)
    return node


def looks_negative(node: Expression) -> bool:
    """Whether the sign in front of a formula is a minus: the same answer for a formula and its negative never comes."""
    if isinstance(node, Number):
        leading = node.value
    elif isinstance(node, Product):
        leading = node.coefficient
        if leading == ONE and len(node.factors) == 1:
            return looks_negative(node.factors[0])
    elif isinstance(node, Sum):
        leading = node.coefficients[0]
    else:
        return False
    real, imag = exact.parts(leading)
    return bool(real < 0 or (real == 0 and imag < 0))
