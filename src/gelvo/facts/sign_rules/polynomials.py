"""Signs of quadratics, and of polynomials in one name that the facts keep between two numbers."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import negate, number, scale, total
from gelvo.expression.nodes import Expression, Name, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import names, postorder
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.polynomial_signs import Span, sign_between
from gelvo.forms.collecting import polynomial_coefficients
from gelvo.forms.fractions import factored
from gelvo.numbers.exact import Gaussian, real

SQUARE_AND_REST = 4  # terms


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


def square_and_rest(facts: Knowledge, expression: Sum) -> int:
    """(w^2 - 1)^2 + c^2*w^2, multiplied out: a square and one more term of the same sign."""
    if len(expression.terms) + bool(expression.constant) != SQUARE_AND_REST or isinstance(expression.constant, Gaussian):
        return bits.ANY
    masks = [facts.known(scale(t, c)) for t, c in expression.items() if not isinstance(c, Gaussian)]
    up = sum(map(bits.is_positive, masks)) + (expression.constant > 0)
    down = sum(map(bits.is_negative, masks)) + (expression.constant < 0)
    if sorted((up, down)) != [1, SQUARE_AND_REST - 1]:  # one product of both parts of the square has the other sign
        return bits.ANY
    for term, coefficient in expression.items():
        if isinstance(coefficient, Gaussian):
            return bits.ANY
        mask = facts.known(scale(term, coefficient))
        if not (bits.is_positive(mask) or bits.is_negative(mask)):
            continue
        rest = factored(expression - scale(term, coefficient))
        if isinstance(rest, (Power, Product)) and all(_is_square(facts, f) for f in factors_in(rest)):
            size = rest.coefficient if isinstance(rest, Product) else mpq(1)
            if not isinstance(size, Gaussian) and (size > 0) == bits.is_positive(mask):
                return bits.POSITIVE if size > 0 else bits.NEGATIVE
    return bits.ANY


def _is_square(facts: Knowledge, factor: Expression) -> bool:
    base, k = base_and_exponent(factor)
    return k.is_whole and k.rational > 0 and k.rational % 2 == 0 and not bits.NONREAL & facts.known(base)


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
