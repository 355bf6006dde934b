"""Signs of sums of a number and one rising function, such as 2*asin(a) + pi: those of its argument and the place it is compared with."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import name, scale, total
from gelvo.expression.constants import PI
from gelvo.expression.nodes import Call, Condition, Expression, Relation, Sum, Truth
from gelvo.expression.traversal import names
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.sign_rules.numbers import numbers_in_order
from gelvo.functions.named import ACOS, ASIN, EXP, LN, is_a
from gelvo.numbers.exact import Gaussian, real

NEVER = name("n", "integer")  # no function that only rises has a family of places


def of_rising(facts: Knowledge, expression: Sum) -> int:
    """k*f(u) + c has the sign of k*(u - place) where f(place) = -c/k, for a function f that only rises."""
    gap = behind_function(expression)
    if gap is None or expression in facts.busy:
        return bits.ANY
    facts.busy.add(expression)
    try:
        if not bits.is_real(facts.known(expression)):
            return bits.ANY
        known = facts.decide(gap)
        return known | bits.FRACTIONAL if bits.is_real(known) else bits.ANY
    finally:
        facts.busy.discard(expression)


def behind_function(expression: Expression) -> Expression | None:
    """k*(u - place) for k*f(u) + c with a number c that f reaches; None for other formulas.

    >>> print(behind_function(2*ASIN(name("a")) + PI))
    2*(a + 1)
    """
    items = expression.items() if isinstance(expression, Sum) else [(expression, mpq(1))]
    terms = [(t, c) for t, c in items if names(t)]
    if len(terms) != 1 or isinstance(terms[0][1], Gaussian):
        return None
    call, k = terms[0][0], real(terms[0][1])
    rest = total((expression, scale(call, -k)))
    if is_a(call, ACOS):
        call, k, rest = ASIN(call.arguments[0]), -k, rest + scale(PI, k / 2)
    if not (isinstance(call, Call) and call.function.rising and call.function.solve_for) or is_a(call, EXP, LN):
        return None
    try:
        places = call.function.solve_for(scale(rest, -1 / k), NEVER)
    except DomainError:
        return None
    if len(places) != 1 or any(names(places[0][0])):
        return None
    place, needed = places[0]
    return scale(call.arguments[0] - place, k) if all(map(_holds, needed)) else None


def _holds(condition: Condition) -> bool:
    """Whether a condition on numbers holds."""
    if isinstance(condition, Truth):
        return condition.holds
    return isinstance(condition, Relation) and condition.operator in ("<", "<=") and numbers_in_order(condition) is True
