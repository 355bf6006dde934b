"""Products of a power of x and a power of a - b*x^k, between the zeros of both or from one to infinity.

Source: NIST, "Digital Library of Mathematical Functions", 5.12.1 with t = b*x^k/a, and with t = a/(b*x^k) beyond the zero.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.checking.values.terms import parted, start_and_monomial
from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import power
from gelvo.expression.constants import INFINITE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Number
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.functions.named import GAMMA


def beta_integrals(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """c*x^(s-1)*(a - b*x^k)^q from 0 to the zero, and c*x^(s-1)*(b*x^k - a)^q beyond it, for positive a, b, k."""
    f, lower, upper = question
    outer, s, logarithms, rest = parted(f, x)
    if logarithms or len(rest) != 1:
        return
    base, q = base_and_exponent(rest[0])
    inner = start_and_monomial(base, x)
    if inner is None or contains(q, x) or (isinstance(q, Number) and q.is_whole):  # which are sums of powers
        return
    start, c, k = inner
    beyond = upper is INFINITE
    a, b, end = (-start, c, lower) if beyond else (start, -c, upper)
    if isinstance(end, Bound) or not all(map(facts.is_positive, (a, b, k, end, q + 1))):
        return
    if (not beyond and lower is not ZERO) or not prove_zero(a - b * power(end, k), facts):
        return
    first = factored(-s / k - q if beyond else s / k)
    if facts.is_positive(first):
        yield Value(outer * power(a, q) * power(end, s) / k * _beta(first, q + 1), "DLMF 5.12.1")


def _beta(p: Expression, q: Expression) -> Expression:
    return GAMMA(p) * GAMMA(q) / GAMMA(factored(p + q))
