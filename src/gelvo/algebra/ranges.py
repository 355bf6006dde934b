"""The sign of a polynomial on an interval, by the isolation of its real roots."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.nodes import Expression, Name
from gelvo.polynomial import dense
from gelvo.polynomial.roots import isolate_real, refine

LARGEST_DEGREE = 40
MOST_BITS = 400


def sign_between(expression: Expression, variable: Name, low: mpq | None, high: mpq | None) -> int:
    """What the value may be while the variable stays strictly between two rational numbers (None: no end).

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> bits.describe(sign_between(x**2 - 2, x, mpq(3, 2), None))
    'positive'
    """
    from gelvo.algebra.algebraic import integer_coefficients

    coefficients = integer_coefficients(expression, variable)
    if coefficients is None or not 2 <= len(coefficients) <= LARGEST_DEGREE + 1:
        return bits.ANY
    p = dense.primitive(coefficients)
    separate = dense.exact_quotient(p, dense.gcd(p, dense.derivative(p))) or p
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
    place = _between(low, high)
    from gelvo.expression.building import number
    from gelvo.expression.traversal import substitute

    value = substitute(expression, {variable: number(place)})
    mask = value.known
    return (bits.POSITIVE if not mask & bits.NEG else bits.NEGATIVE) if mask & (bits.POS | bits.NEG) else bits.ANY


def _between(low: mpq | None, high: mpq | None) -> mpq:
    if low is not None and high is not None:
        return (low + high) / 2
    if low is not None:
        return low + 1
    return mpq(0) if high is None else high - 1
