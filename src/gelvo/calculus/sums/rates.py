"""The rate of terms that grow or fall like a geometric series, and whether it is below one."""

from __future__ import annotations

from gelvo.expression.building import multiply_all, name, power, relation
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Call, Condition, Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, fresh_name, postorder, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import EXP, SIN, is_a
from gelvo.normal.complex_parts import angle_of_turn, size_beside_turns


def follows(condition: Condition, facts: Facts) -> bool:
    """r != 1 follows from abs(r) < 1."""
    left, right = getattr(condition, "left", None), getattr(condition, "right", None)
    if getattr(condition, "operator", "") != "!=" or left is None or right is None:
        return False
    for one, other in ((left, right), (right, left)):
        if isinstance(other, Number) and other.is_rational and abs(other.rational) >= 1:
            if all(facts.holds(c) for c in within_the_circle(one, facts, on_it=False)):
                return True
    return False


def geometric_rate(term: Expression, k: Name) -> Expression | None:
    """r where the term is a rational function of k times r^k."""
    rates: list[Expression] = []
    for f in factors_in(term):
        if not contains(f, k):
            continue
        base, exponent = base_and_exponent(f)
        if contains(exponent, k):
            parts = uni.linear_parts(exponent, k)
            if parts is None or contains(base, k):
                return None
            rates.append(power(base, parts[0]))
        elif is_a(base, EXP):
            parts = uni.linear_parts(base.arguments[0], k)
            if parts is None:
                return None
            rates.append(EXP(parts[0] * exponent))
        elif any(isinstance(n, Call) for n in postorder(base)):
            return None
    return multiply_all(rates) if rates else None


def within_the_circle(z: Expression, facts: Facts, on_it: bool) -> list[Condition]:
    """When a series in z^k converges: |z| < 1, where turns exp(1j*x) have the size 1.

    on_it: its terms also go to zero for |z| = 1: there z must not be 1.
    """
    angle = angle_of_turn(z, facts)
    if angle is not None and on_it:
        return [nonzero(SIN(expand(angle / 2)))]
    return [relation("<", size_beside_turns(z, facts), ONE)]


def fall_of_quotient(f: Expression, k: Name) -> int | None:
    """How many powers of k a quotient of polynomials falls by; None for any other formula."""
    top, bottom = (uni.coefficients_of(part, k) for part in quotient_parts(factored(f)))
    return None if top is None or bottom is None else len(bottom) - len(top)


def through_whole(e: Expression, k: Name) -> Expression:
    """A formula of an index that runs through whole numbers: (-1)^(2*k) is 1, sin(pi*k) is 0.

    >>> from gelvo.expression.building import name, number
    >>> k = name("k")
    >>> print(through_whole(power(number(-1), 2 * k) / k, k))
    1/k
    """
    whole = fresh_name(k.name, e)
    typed = name(whole.name, "integer")
    return substitute(substitute(e, {k: typed}), {typed: k})
