"""Arguments of functions in one form, and a formula by its factors: what every rule of the normal form stands on."""

from __future__ import annotations

from typing import Any

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.constants import ONE as UNIT
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Constant,
    Expression,
    Name,
    Node,
    Number,
    Power,
    Product,
    Sum,
)
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.functions.named import ABS, EXP, is_a
from gelvo.normal.relations import reduced_with_factor
from gelvo.numbers.exact import ONE, Gaussian, parts
from gelvo.polynomial import sparse


def is_elementary(node: Expression) -> bool:
    return isinstance(node, (Number, Name, Constant, AlgebraicNumber, Applied))


def as_argument(node: Expression, facts: Facts) -> Expression:
    """An argument in lowest terms and expanded, so that equal arguments become the same node."""
    if is_elementary(node) or isinstance(node, Bound):
        return node
    form = Form([node], facts)
    top, bottom = form.lowest_terms(form.of(node))
    top, factor = reduced_with_factor(form, top)
    below = sparse.multiply(bottom, factor)
    whole, top = _divided(top, below)
    if whole:  # b/(b - a) is 1 + a/(b - a): exponents that differ by a number show that they do
        return total([expand(form.expression(whole)), _over(form.expression(top), form.expression(below))])
    return _over(form.expression(top), form.expression(below))


def _over(upper: Expression, lower: Expression) -> Expression:
    """A quotient, term by term."""
    if isinstance(lower, Number):
        found = expand(upper / lower)
    elif isinstance(upper, Sum):
        inverse = power(lower, number(-1))
        found = total([multiply_all((t, inverse, number(c))) for t, c in upper.items()] + [scale(inverse, upper.constant)])
    else:
        found = upper / lower
    return transform(found, exponent_in_terms)


def _divided(top: sparse.Polynomial, below: sparse.Polynomial) -> tuple[sparse.Polynomial, sparse.Polynomial]:
    """(quotient, remainder) by the first variable in which the denominator has a number as its leading coefficient."""
    if len(below) < 2 or sparse.has_gaussian(top) or sparse.has_gaussian(below):
        return {}, top
    for index in sparse.variables(below):
        lead = sparse.leading_coefficient(below, index)
        if set(lead) != {0}:
            continue
        degree = sparse.degree(below, index)
        whole: sparse.Polynomial = {}
        while top and sparse.degree(top, index) >= degree:
            step = sparse.scale(sparse.leading_coefficient(top, index), 1 / lead[0])
            step = (
                sparse.multiply(step, sparse.variable(index, sparse.degree(top, index) - degree))
                if sparse.degree(top, index) > degree
                else step
            )
            whole = sparse.add(whole, step)
            top = sparse.subtract(top, sparse.multiply(step, below))
        return whole, top
    return {}, top


def without_bars(x: Expression, facts: Facts) -> Expression:
    """2*|u|/|v| as 2*u/v with real u and v, which is the same but for its sign."""
    if not isinstance(x, (Call, Power, Product)):
        return x
    plain: list[Expression] = [number(getattr(x, "coefficient", ONE))]
    for factor in factors_in(x):
        base, k = base_and_exponent(factor)
        if is_a(base, ABS) and is_odd(k) and facts.is_real(base.arguments[0]):
            factor = power(base.arguments[0], k)
        plain.append(factor)
    return multiply_all(plain)


def is_even(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_whole and not exponent.rational % 2


def is_odd(exponent: Expression) -> bool:
    return (
        isinstance(exponent, Number)
        and exponent.is_rational
        and exponent.rational.denominator == 1
        and bool(exponent.rational % 2)
    )


def exponent_in_terms(node: Node) -> Node:
    """exp(-2*x - 2*c) for exp(-(2*x + 2*c)): its generators are those of exp(x) and exp(c)."""
    return EXP(expand(node.arguments[0])) if is_a(node, EXP) and isinstance(node.arguments[0], Product) else node


def factors_of(x: Expression) -> tuple[mpq, list[tuple[Expression, Expression]]]:
    """(rational content, [(base, exponent)]) of a formula, factored over the rationals."""
    x = transform(x, exponent_in_terms)
    form = Form([x])
    top, bottom = form.lowest_terms(form.of(x))
    if not top:
        return mpq(0), []
    if sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return _content_of_complex(x)
    product = multiply_all((form.factored(top), power(form.factored(bottom), number(-1))))
    content: Any = getattr(product, "coefficient", ONE)
    if isinstance(product, Number):
        return (product.rational, []) if product.is_rational else (mpq(0), [])
    if isinstance(content, Gaussian):
        return mpq(0), []
    pieces = getattr(product, "factors", None) if hasattr(product, "coefficient") else None
    result: list[tuple[Expression, Expression]] = []
    for factor in pieces if pieces is not None else (product,):
        if isinstance(factor, Power):
            result.append((factor.base, factor.exponent))
        elif is_a(factor, EXP):
            result.append((EXP(UNIT), factor.arguments[0]))
        else:
            result.append((factor, UNIT))
    return content, result


def _content_of_complex(x: Expression) -> tuple[mpq, list[tuple[Expression, Expression]]]:
    """The rational content of a sum with complex coefficients, and the rest as one factor."""
    if not isinstance(x, Sum):
        return mpq(0), []
    listed = [mpq(q) for c in (*x.coefficients, x.constant) for q in parts(c) if q]
    content = abs(sparse.integer_content(dict(enumerate(listed))))
    return content, [(scale(x, 1 / content), UNIT)]
