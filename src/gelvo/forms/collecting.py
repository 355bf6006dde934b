"""`collect` and the coefficients of powers of one name."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.nodes import Expression, Number, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored


def power_table(expression: Expression, target: Expression) -> dict[Expression, list[Expression]]:
    """The expanded terms by the exponent of the target; the key is the exponent as an expression."""
    result: dict[Expression, list[Expression]] = {}
    for term in terms_of(expand(expression)):
        factors = factors_in(term)
        exponent: Expression = number(0)
        rest: list[Expression] = [number(term.coefficient)] if isinstance(term, Product) else []
        for factor in factors:
            base, k = base_and_exponent(factor)
            if base is target:
                exponent = exponent + k
            else:
                rest.append(factor)
        result.setdefault(exponent, []).append(multiply_all(rest))
    return result


def terms_of(expression: Expression) -> list[Expression]:
    """The summands of a formula."""
    if isinstance(expression, Sum):
        terms = [scale(t, c) for t, c in expression.items()]
        return [*terms, number(expression.constant)] if expression.constant else terms
    if isinstance(expression, Product) and len(expression.factors) == 1 and isinstance(expression.factors[0], Sum):
        return [scale(t, expression.coefficient) for t in terms_of(expression.factors[0])]
    return [expression]


def polynomial_coefficients(expression: Expression, target: Expression) -> dict[int, Expression] | None:
    """power -> coefficient where the formula is a polynomial in the target, else None."""
    result: dict[int, Expression] = {}
    for exponent, terms in power_table(expression, target).items():
        if not isinstance(exponent, Number) or not exponent.is_rational or exponent.rational.denominator != 1:
            return None
        coefficient = total(terms)
        if exponent.rational < 0 or contains(coefficient, target):
            return None
        if not (isinstance(coefficient, Number) and not coefficient.value):
            result[int(exponent.rational)] = coefficient
    return result or {0: number(0)}


def coefficients(expression: Expression, target: Expression) -> dict[int, Expression]:
    """The coefficients of a polynomial in one name (or function), by power."""
    table = polynomial_coefficients(expression, target)
    if table is None:
        raise DomainError(f"{expression} is not a polynomial in {target}")
    return dict(sorted(table.items()))


def collect(
    expression: Expression, targets: Sequence[Expression], apply: Callable[[Expression], Expression] | None = None
) -> Expression:
    """The terms gathered by powers of several names or functions, a function applied to each coefficient (else factored).

    >>> from gelvo.expression.building import name
    >>> a, b, x, y = (name(n) for n in "abxy")
    >>> print(collect(a*x*y + b*x*y, [x, y]))
    (a + b)*x*y
    """
    groups: dict[Expression, list[Expression]] = {number(1): [expression]}
    for target in targets:
        further: dict[Expression, list[Expression]] = {}
        for outside, terms in groups.items():
            for exponent, coefficients_found in power_table(total(terms), target).items():
                further.setdefault(outside * power(target, exponent), []).extend(coefficients_found)
        groups = further
    pieces = []
    for outside, terms in groups.items():
        coefficient = total(terms)
        if apply is not None:
            coefficient = apply(coefficient)
        elif len(terms) > 1:
            coefficient = factored(coefficient)
        pieces.append(multiply_all((coefficient, outside)))
    return total(pieces)
