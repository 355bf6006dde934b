"""The sign of a polynomial on an interval, by the isolation of its real roots."""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import number
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.forms.univariate import integer_coefficients
from gelvo.polynomial import dense
from gelvo.polynomial.roots import isolate_real, refine

LARGEST_DEGREE = 40
MOST_BITS = 400


class Span(NamedTuple):
    """Rational numbers between which a name stays (None: no end), and whether it may reach them."""

    low: mpq | None = None
    high: mpq | None = None
    low_reached: bool = True
    high_reached: bool = True

    def above(self, end: mpq, reached: bool) -> Span:
        """With a further lower end; of two equal ones the open one counts."""
        if self.low is None or end > self.low:
            return self._replace(low=end, low_reached=reached)
        return self if end < self.low or reached else self._replace(low_reached=False)

    def below(self, end: mpq, reached: bool) -> Span:
        """With a further upper end."""
        if self.high is None or end < self.high:
            return self._replace(high=end, high_reached=reached)
        return self if end > self.high or reached else self._replace(high_reached=False)


def sign_between(expression: Expression, variable: Name, span: Span) -> int:
    """What the value may be while the variable stays in a span; an end that is reached belongs to it.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> bits.describe(sign_between(x**2 - 2, x, Span(low=mpq(3, 2)))), bits.describe(sign_between(x - 2, x, Span(low=mpq(2))))
    ('positive', 'nonnegative')
    """
    low, high = span.low, span.high
    coefficients = integer_coefficients(expression, variable)
    if coefficients is None or not 2 <= len(coefficients) <= LARGEST_DEGREE + 1:
        return bits.ANY
    p = dense.primitive(coefficients)
    separate = dense.exact_quotient(p, dense.gcd(p, dense.derivative(p))) or p
    at_end = False
    for end, reached in ((low, span.low_reached), (high, span.high_reached)):
        if end is not None and reached:
            at_end = at_end or not substitute(expression, {variable: number(end)}).known & ~bits.NIL
    for root in isolate_real(separate):
        size = 8
        while size <= MOST_BITS:
            root = refine(separate, root, size)
            outside = (low is not None and root.high <= low) or (high is not None and root.low >= high)
            inside = (low is None or root.low > low) and (high is None or root.high < high)
            if outside or inside:
                break
            size *= 2
        if not outside:
            return bits.ANY
    if low is not None and low == high:
        return substitute(expression, {variable: number(low)}).known if span.low_reached and span.high_reached else bits.ANY
    mask = substitute(expression, {variable: number(_between(low, high))}).known
    if not mask & (bits.POS | bits.NEG):
        return bits.ANY
    strict, weak = (bits.POSITIVE, bits.NONNEGATIVE) if not mask & bits.NEG else (bits.NEGATIVE, bits.NONPOSITIVE)
    return weak if at_end else strict


def _between(low: mpq | None, high: mpq | None) -> mpq:
    if low is not None and high is not None:
        return (low + high) / 2
    if low is not None:
        return low + 1
    return mpq(0) if high is None else high - 1
