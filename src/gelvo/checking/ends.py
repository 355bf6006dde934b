"""The value of an antiderivative at an infinite end, proved term by term: no code of the integration is used.

A term that is a product of powers of x, exponentials that die away, and bounded functions goes to zero; the inverse tangent
and the error function are first written as their limit less a rest that goes to zero.
"""

from __future__ import annotations

from gelvo.algebra.collecting import polynomial_coefficients, terms_of
from gelvo.algebra.equality import Decision, decide_zero
from gelvo.algebra.expanding import expand
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import quotient_parts
from gelvo.expression.building import call, constant, name, number, total
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Power, Product
from gelvo.expression.traversal import contains, fresh_name, postorder, substitute
from gelvo.roads import on_the_way

LIMITS = {"atan": constant("pi") / 2, "erf": number(1), "tanh": number(1)}


@on_the_way("ends term by term")
def value_at(F: Expression, x: Name, end: Expression, facts: Facts) -> Expression | None:
    """The limit of F at an end; at a finite one the value itself. None where it is not proved."""
    if not isinstance(end, Bound):
        return substitute(F, {x: end})  # type: ignore[no-any-return]
    if end.kind == "-inf":
        mirrored = fresh_name("x", F)
        return value_at(substitute(F, {x: -mirrored}), mirrored, -end, facts)
    beyond = facts.with_facts([x > number(0)])
    staying: list[Expression] = []
    for term in terms_of(expand(_with_limits(F, x, beyond))):
        if not contains(term, x):
            staying.append(term)
        elif not _dies_away(term, x, beyond):
            return None
    return total(staying)


def _with_limits(F: Expression, x: Name, facts: Facts) -> Expression:
    """atan(u) as pi/2 less a rest, for u that grows: the rest is a fresh name known to die away."""
    table: dict[Expression, Expression] = {}
    for node in postorder(F):
        if isinstance(node, Call) and node.name in LIMITS and contains(node, x):
            sign = _growing(node.arguments[0], x, facts)
            if sign:
                # the rest, limit - f(u), is at most 1/u (or smaller): written as 1/x times a bounded wave
                table[node] = sign * LIMITS[node.name] + _bounded_rest(x)
    return substitute(F, table) if table else F  # type: ignore[no-any-return]


def _bounded_rest(x: Name) -> Expression:
    """A stand-in for a quantity of size at most const/x."""
    return call("sin", name("bounded_rest")) / x


def _growing(u: Expression, x: Name, facts: Facts) -> int:
    """1 or -1 where a polynomial argument goes to plus or minus infinity, else 0."""
    table = polynomial_coefficients(u, x)
    if table is None or max(table) < 1:
        return 0
    leading = table[max(table)]
    return 1 if facts.is_positive(leading) else -1 if facts.is_negative(leading) else 0


def _dies_away(term: Expression, x: Name, facts: Facts) -> bool:
    """Whether a product of powers, exponentials and bounded functions goes to zero."""
    power_of_x, falling = 0.0, False
    for factor in term.factors if isinstance(term, Product) else (term,):
        if not contains(factor, x):
            continue
        base, k = (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, number(1))
        if isinstance(factor, Call) and factor.name == "exp":
            rate = _growing(factor.arguments[0], x, facts)
            if rate >= 0:
                return False
            falling = True
        elif (
            isinstance(base, Call) and base.name in ("sin", "cos") and isinstance(k, Number) and k.is_rational and k.rational > 0
        ):
            continue
        elif isinstance(k, Number) and k.is_rational and (degree := _degree(base, x)) is not None:
            power_of_x += degree * float(k.rational)
        else:
            return False
    return falling or power_of_x < 0


def _degree(base: Expression, x: Name) -> int | None:
    """The degree of a rational function at infinity."""
    parts = [polynomial_coefficients(p, x) for p in quotient_parts(base)]
    if parts[0] is None or parts[1] is None:
        return None
    return max(parts[0]) - max(parts[1])


def proves(F: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts) -> Decision | None:
    """The decision whether value = F(upper) - F(lower), or None where an end is not proved."""
    high, low = value_at(F, x, upper, facts), value_at(F, x, lower, facts)
    return None if high is None or low is None else decide_zero(high - low - value, facts)
