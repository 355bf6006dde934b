"""Products of powers of sine and cosine over whole quarters of a turn.

Source: NIST, "Digital Library of Mathematical Functions", 5.12.2: over the first quarter
2*integral sin(x)^m*cos(x)^n = gamma((m + 1)/2)*gamma((n + 1)/2)/gamma((m + n)/2 + 1). The others are mirror images of it.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.checking.values.value import Question, Value
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, GAMMA, SIN, TAN, is_a

MOST_QUARTERS = 40
SHARES: dict[str, tuple[int, int]] = {SIN: (1, 0), COS: (0, 1), TAN: (1, -1)}  # the powers of sine and cosine in one factor


def powers_of_sine_and_cosine(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """c*sin(x)^m*cos(x)^n between multiples of pi/2, both powers above -1."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return
    first, last = _quarters(lower), _quarters(upper)
    if first is None or last is None or not 0 < last - first <= MOST_QUARTERS:
        return
    m: Expression = ZERO
    n: Expression = ZERO
    outer = f
    for g in factors_in(f):
        base, k = base_and_exponent(g)
        if is_a(base, *SHARES) and base.arguments[0] is x and not contains(k, x):
            of_sine, of_cosine = SHARES[base.name]
            m, n, outer = m + of_sine * k, n + of_cosine * k, outer / g
    if contains(outer, x) or outer is f or not (facts.is_positive(m + 1) and facts.is_positive(n + 1)):
        return
    signs = [_sign(m, q % 4 in (2, 3), facts) * _sign(n, q % 4 in (1, 2), facts) for q in range(first, last)]
    if 0 in signs:
        return
    quarter = GAMMA(factored((m + 1) / 2)) * GAMMA(factored((n + 1) / 2)) / (2 * GAMMA(factored((m + n) / 2 + 1)))
    yield Value(outer * sum(signs) * quarter, "DLMF 5.12.2, quarter by quarter")


def _quarters(end: Expression) -> int | None:
    found = factored(2 * end / PI)
    return int(found.rational) if isinstance(found, Number) and found.is_whole else None


def _sign(k: Expression, negative: bool, facts: Facts) -> int:
    """Of a negative number to the power k; 0 where it is none, or not known."""
    if not negative or facts.is_integer(k / 2):
        return 1
    return -1 if facts.is_integer((k - 1) / 2) else 0
