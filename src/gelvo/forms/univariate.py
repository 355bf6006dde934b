"""Polynomials in one variable with formulas as coefficients: lists, constant term first, each coefficient in lowest terms."""

from __future__ import annotations

from gmpy2 import mpz

from gelvo.deadline import checkpoint
from gelvo.expression.building import number, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import contains
from gelvo.forms.collecting import polynomial_coefficients
from gelvo.forms.fractions import Form, factored
from gelvo.polynomial import dense, sparse
from gelvo.polynomial.dense import Dense

Coefficients = list[Expression]


def lowest_terms(x: Expression) -> Expression:
    """A coefficient as one quotient of factored polynomials."""
    return x if isinstance(x, (Number, Name)) else factored(x)


def trim(p: Coefficients) -> Coefficients:
    while p and p[-1] is ZERO:
        p.pop()
    return p


def coefficients_of(expression: Expression, variable: Expression) -> Coefficients | None:
    """The coefficients of a polynomial in a variable, or None."""
    table = polynomial_coefficients(expression, variable)
    if table is None or max(table) > 200:
        return None
    return trim([lowest_terms(table.get(k, ZERO)) for k in range(max(table) + 1)])


def linear_parts(expression: Expression, variable: Expression) -> tuple[Expression, Expression] | None:
    """(a, b) where the expression is a*variable + b with a not zero, else None."""
    if expression is variable:
        return ONE, ZERO
    table = polynomial_coefficients(expression, variable)
    if table is None or max(table) != 1 or any(contains(c, variable) for c in table.values()):
        return None
    return table[1], table.get(0, ZERO)


def add(p: Coefficients, q: Coefficients) -> Coefficients:
    size = max(len(p), len(q))
    return trim([lowest_terms((p[i] if i < len(p) else ZERO) + (q[i] if i < len(q) else ZERO)) for i in range(size)])


def scale(p: Coefficients, factor: Expression) -> Coefficients:
    return trim([lowest_terms(c * factor) for c in p])


def multiply(p: Coefficients, q: Coefficients) -> Coefficients:
    if not p or not q:
        return []
    sums: list[list[Expression]] = [[] for _ in range(len(p) + len(q) - 1)]
    for i, a in enumerate(p):
        checkpoint()
        for j, b in enumerate(q):
            sums[i + j].append(a * b)
    return trim([lowest_terms(total(s)) for s in sums])


def divide(p: Coefficients, q: Coefficients) -> tuple[Coefficients, Coefficients]:
    """Quotient and remainder."""
    rest = list(p)
    quotient = [ZERO] * max(0, len(p) - len(q) + 1)
    for i in range(len(p) - len(q), -1, -1):
        factor = lowest_terms(rest[i + len(q) - 1] / q[-1])
        quotient[i] = factor
        for j, c in enumerate(q):
            rest[i + j] = lowest_terms(rest[i + j] - factor * c)
    return trim(quotient), trim(rest[: len(q) - 1])


def inverse_modulo(a: Coefficients, m: Coefficients) -> Coefficients:
    """The polynomial b of lower degree with a*b = 1 modulo m, for coprime a and m."""
    old: tuple[Coefficients, Coefficients] = (m, [])
    new: tuple[Coefficients, Coefficients] = (divide(a, m)[1], [ONE])
    while new[0]:
        quotient, remainder = divide(old[0], new[0])
        step = add(old[1], scale(multiply(quotient, new[1]), number(-1)))
        old, new = new, (remainder, step)
    return scale(divide(old[1], m)[1], lowest_terms(1 / old[0][0]))


def expression_of(p: Coefficients, variable: Expression) -> Expression:
    return total([c * variable**k for k, c in enumerate(p)])


def integer_coefficients(p: Expression, variable: Name) -> Dense | None:
    """The integer coefficients of a multiple of a polynomial with rational coefficients, or None where it is none."""
    form = Form([p])
    top, bottom = form.lowest_terms(form.of(p))
    if len(bottom) != 1 or 0 not in bottom or sparse.has_gaussian(top):
        return None
    for key, index in form.generators.items():
        if sparse.degree(top, index) > 0 and (key != (variable, ONE) or form.roots_of[key] != 1):
            return None  # another name or function, a root of the name (x^(1/2)) or a power that moves with it (x^x)
    place = next((i for (base, unit), i in form.generators.items() if base is variable and unit is ONE), None)
    whole = sparse.integers(top)[1]
    result = [mpz(0)] * ((sparse.degree(top, place) if place is not None else 0) + 1)
    for m, c in whole.items():
        result[sparse.exponent_of(m, place) if place is not None else 0] = c
    return dense.trim(result)
