"""Common denominator, factors, expanded numerator: the rational forms of a formula."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression.building import distributed, multiply_all, negate, number, power, scale, total
from gelvo.expression.constants import IMAGINARY
from gelvo.expression.nodes import Expression, Node, Number, Product, Sum
from gelvo.expression.traversal import has_call, transform
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.functions.named import EXP
from gelvo.normal.prepare import prepared
from gelvo.normal.relations import reduced_quotient
from gelvo.numbers.exact import Gaussian, parts
from gelvo.simplifying.family import Shorter
from gelvo.simplifying.joining import common_factors_out, divided_into_sums, exponentials_into_sums


def rational_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """x/(x^2 - 1) + 1/(x + 1)  ->  (2*x - 1)/((x - 1)*(x + 1)) and its like, with the name of each form."""
    ready = prepared(expression, facts, waves=False)
    yield "signs, roots and logarithms sorted by the facts", ready
    yield "multiplied out", expand(ready)
    yield from _grouped(expression, ready)
    yield "sign moved into a difference", transform(ready, _sign_inside)
    form = Form([ready], facts)
    quotient = form.of(ready)
    top, bottom = reduced_quotient(form, quotient)
    if not top:
        yield "zero over a common denominator", number(0)
        return
    top, bottom = form.without_common_factors(top, bottom)
    upper, lower = form.expression(top), form.expression(bottom)
    yield "common denominator", upper / lower
    upper_factored = form.factored(top)
    lower_factored = form.factored(bottom)
    yield "factored", upper_factored / lower_factored
    if has_call(ready, (EXP,)):
        yield (
            "factored, exponentials multiplied into a sum",
            transform(exponentials_into_sums(upper_factored / lower_factored), _sign_inside),
        )
    yield "factored, sign moved into a difference", transform(upper_factored / lower_factored, _sign_inside)
    yield from _turned(upper, lower)
    yield "numerator multiplied out", _multiplied_out(upper_factored) / lower_factored
    if not isinstance(lower, Number):
        yield from _one_part_factored(upper, lower, upper_factored, lower_factored)


def _one_part_factored(
    upper: Expression, lower: Expression, upper_factored: Expression, lower_factored: Expression
) -> Iterator[tuple[str, Expression]]:
    yield "numerator factored", upper_factored / lower
    yield "denominator factored", upper / lower_factored
    if isinstance(upper, Sum):
        terms = [power(lower_factored, number(-1)) * t * number(c) for t, c in upper.items()]
        yield "term by term", total([*terms, number(upper.constant) / lower_factored])


def _multiplied_out(upper: Expression) -> Expression:
    """(v - u)*(v + u)/2 as v^2 - u^2 with its number in front."""
    if not isinstance(upper, Product) or sum(isinstance(f, Sum) for f in upper.factors) < 2:
        return upper
    content = number(upper.coefficient)
    return content * expand(upper / content)


def _turned(upper: Expression, lower: Expression) -> Iterator[tuple[str, Expression]]:
    """-1j/(w*R*C - 1j) -> 1/(1 + 1j*w*R*C)"""
    if isinstance(lower, Sum) and any(isinstance(c, Gaussian) for c in (*lower.coefficients, lower.constant)):
        for unit in (IMAGINARY, -IMAGINARY):
            yield "numerator and denominator turned", expand(unit * upper) / expand(unit * lower)


def _grouped(expression: Expression, ready: Expression) -> Iterator[tuple[str, Expression]]:
    """Sums by what their terms share."""
    yield "common factors taken out", common_factors_out(ready)
    yield "sign taken out of sums", transform(ready, _sign_outside)
    yield "divided term by term", common_factors_out(divided_into_sums(expression))


def _sign_outside(node: Node) -> Node:
    """(-a - b)*c  ->  -(a + b)*c"""
    if not isinstance(node, Product):
        return node
    turned = [f for f in node.factors if isinstance(f, Sum) and all(parts(c)[0] < 0 for c in (*f.coefficients, f.constant) if c)]
    table = {f: distributed(negate(f)) for f in turned}
    sign = number((-1) ** len(turned))
    return multiply_all([sign, number(node.coefficient), *[table.get(f, f) if isinstance(f, Sum) else f for f in node.factors]])


def _sign_inside(node: Node) -> Node:
    """-(a - b)*c  ->  (b - a)*c"""
    if not isinstance(node, Product) or isinstance(node.coefficient, Gaussian) or node.coefficient > 0:
        return node
    for factor in node.factors:
        if isinstance(factor, Sum) and any(
            not isinstance(c, Gaussian) and c < 0 for c in (*factor.coefficients, factor.constant)
        ):
            rest = [f for f in node.factors if f is not factor]
            turned = total([scale(t, -c) for t, c in factor.items()] + [number(-factor.constant)])
            return multiply_all([number(-node.coefficient), turned, *rest])
    return node
