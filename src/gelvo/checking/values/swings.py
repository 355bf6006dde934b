"""The time of a swing up to its turning point: 1/sqrt(p + q*cos(x)) from 0, or from the other turning point, to the zero of the root.

Proof: sin(x/2) = k*sin(t) with k^2 = (q + p)/(2*q) makes p + q*cos(x) = 2*q*k^2*cos(t)^2 and dx = 2*k*cos(t)/sqrt(1 - k^2*sin(t)^2)*dt;
what is left is sqrt(2/q) times the complete elliptic integral (NIST, "Digital Library of Mathematical Functions", 19.2.8).
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import power
from gelvo.expression.constants import HALF, PI, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, ELLIPK


def time_of_a_swing(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """outer/sqrt(p + q*cos(x)), with q > 0 and the zero between 0 and half a turn."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return
    roots = [n.base for n in postorder(f) if isinstance(n, Power) and n.exponent is -HALF and contains(n, x)]
    if len(roots) != 1 or not (lower is ZERO or prove_zero(lower + upper, facts)):
        return
    mark = facts.new_name("c", f)
    inside = substitute(roots[0], {COS(x): mark})
    q = factored(differentiate(inside, mark))
    outer = factored(f * power(roots[0], HALF))
    if contains(inside, x) or contains(q, mark) or contains(outer, x):
        return
    if not all(map(facts.is_positive, (q, upper, PI - upper))) or not prove_zero(substitute(inside, {mark: COS(upper)}), facts):
        return
    square = factored((q + substitute(inside, {mark: ZERO})) / (2 * q))
    yield Value(_halves(lower) * outer * power(2 / q, HALF) * ELLIPK(square), "sin(x/2) = k*sin(t); DLMF 19.2.8")


def _halves(lower: Expression) -> int:
    return 1 if lower is ZERO else 2
