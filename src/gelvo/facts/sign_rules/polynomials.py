"""Signs of quadratics, and of polynomials in one name that the facts keep between two numbers."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import negate, number, total
from gelvo.expression.nodes import Name, Number, Power, Product, Sum
from gelvo.expression.traversal import names, postorder
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.polynomial_signs import Span, sign_between
from gelvo.forms.collecting import polynomial_coefficients
from gelvo.numbers.exact import Gaussian, real


def quadratic(facts: Knowledge, expression: Sum) -> int:
    """A quadratic with real coefficients and negative discriminant has one sign; where it may be zero, the quadratic may be too."""
    for variable in names(expression):
        table = polynomial_coefficients(expression, variable)
        if table is None or max(table) != 2 or bits.NONREAL & facts.known(variable):
            continue
        a, b, c = (table.get(k, number(0)) for k in (2, 1, 0))
        if (facts.known(b) | facts.known(c)) & bits.NONREAL:
            continue
        leading = facts.known(a)
        if bits.is_positive(leading) or bits.is_negative(leading):
            discriminant = total((b * b, negate(4 * a * c)))
            below = facts.known(discriminant)
            if bits.is_nonpositive(below):
                return leading if bits.is_negative(below) else leading | bits.NIL
    return bits.ANY


def between_bounds(facts: Knowledge, expression: Sum) -> int:
    """The sign of a polynomial in one name between the numbers that facts put around the name: no root lies there."""
    found = {n for n in postorder(expression) if isinstance(n, Name)}
    plain = (Sum, Product, Power, Name, Number)
    if len(found) != 1 or not all(isinstance(n, plain) for n in postorder(expression)):
        return bits.ANY
    variable = found.pop()
    if facts.known(variable) & bits.NONREAL:
        return bits.ANY
    return sign_between(expression, variable, span_of(facts, variable))


def span_of(facts: Knowledge, variable: Name) -> Span:
    """Rational numbers between which the facts keep a name."""
    span = Span()
    mask = facts.known(variable)
    if not mask & bits.NEG:
        span = span.above(mpq(0), bool(mask & bits.NIL))
    if not mask & bits.POS:
        span = span.below(mpq(0), bool(mask & bits.NIL))
    for core, fact in facts.sums:
        if isinstance(core, Sum) and core.terms == (variable,) and not isinstance(core.constant, Gaussian):
            slope = real(core.coefficients[0])
            end, rising = -core.constant / slope, slope > 0
            if not fact & (bits.NEG if rising else bits.POS):
                span = span.above(end, bool(fact & bits.NIL))
            if not fact & (bits.POS if rising else bits.NEG):
                span = span.below(end, bool(fact & bits.NIL))
    return span
