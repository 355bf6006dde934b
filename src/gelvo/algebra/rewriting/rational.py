"""Common denominator, factors, expanded numerator: the rational forms of a formula."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.algebra.expanding import expand
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import Form
from gelvo.algebra.normal import prepared, reduce_relations
from gelvo.expression.building import number, power, total
from gelvo.expression.nodes import Expression, Number, Sum


def rational_forms(expression: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """x/(x^2 - 1) + 1/(x + 1)  ->  (2*x - 1)/((x - 1)*(x + 1)) and its like, with the name of each form."""
    ready = prepared(expression, facts, waves=False)
    yield "signs, roots and logarithms sorted by the facts", ready
    yield "multiplied out", expand(ready)
    form = Form([ready], facts.is_real)
    quotient = form.of(ready)
    top = reduce_relations(form, quotient.top)
    bottom = form.denominator(quotient)
    if not top:
        yield "zero over a common denominator", number(0)
        return
    quotient.top = top
    top, bottom = form.lowest_terms(quotient)
    upper, lower = form.expression(top), form.expression(bottom)
    yield "common denominator", upper / lower
    upper_factored = form.factored(top)
    lower_factored = form.factored(bottom)
    yield "factored", upper_factored / lower_factored
    if not isinstance(lower, Number):
        yield "numerator factored", upper_factored / lower
        yield "denominator factored", upper / lower_factored
        if isinstance(upper, Sum):
            terms = [power(lower_factored, number(-1)) * t * number(c) for t, c in upper.items()]
            yield "term by term", total([*terms, number(upper.constant) / lower_factored])
