"""z'' = (a/x^2 + b*x^m)*z by Bessel functions of a power of the variable (Airy's equation is among these), z'' = (a + b*exp(k*x))*z likewise.

Source: F. Olver et al., "NIST Digital Library of Mathematical Functions" (2010), section 10.13.
"""

from __future__ import annotations

from gelvo.expression.building import call, power, relation, sqrt
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import power_table
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.bessel import half_order
from gelvo.functions.named import AIRYAI, AIRYBI, BESSELI, BESSELJ, BESSELK, BESSELY, CBRT, EXP, HYP0F1, is_a
from gelvo.simplifying.search import simplify


def bessel_basis(r: Expression, x: Name, facts: Facts) -> tuple[list[Expression], list[Condition]] | None:
    """Two solutions, and what they need; None for another r, or where a sign is open.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(b) for b in bessel_basis(-x, x, Facts())[0]]
    ['airyai(-x)', 'airybi(-x)']
    """
    straight = _of_straight_line(r, x, facts)
    if straight is not None:
        return straight, []
    grown = _of_exponential(r, x, facts)
    if grown is not None:
        return grown, []
    table = power_table(expand(r), x)
    shares = {k: simplify(sum(terms[1:], terms[0]), facts).expression for k, terms in table.items()}
    if any(contains(c, x) for c in shares.values()):
        return None
    a = next((c for k, c in shares.items() if lowest_terms(k + 2) is ZERO), ZERO)
    others = [(k, c) for k, c in shares.items() if lowest_terms(k + 2) is not ZERO]
    if len(others) != 1:
        return None
    m, b = others[0]
    gamma = lowest_terms((m + 2) / 2)
    order = simplify(sqrt(expand(a + ONE / 4)) / gamma, facts.with_facts([x > 0])).expression
    pair = _pair(order, b, 1 / gamma, power(x, gamma), facts)
    return None if pair is None else ([sqrt(x) * f for f in pair], [relation("<", ZERO, x)])


def around_zero(solution: Expression, x: Name, facts: Facts) -> Expression:
    """A solution by the power series of its Bessel functions, up to a factor: as x*hyp0f1(5/4, -x^4/16) it has a value at 0 too.

    The functions of the second kind stand for those of the negative order, where that is no whole number (DLMF 10.16.9).
    """
    table: dict[Node, Expression] = {}
    for node in postorder(solution):
        if not is_a(node, BESSELJ, BESSELI, BESSELY, BESSELK):
            continue
        order, z = node.arguments
        if is_a(node, BESSELY, BESSELK):
            if not order.is_rational or order.is_whole:
                continue
            order = -order
        sign = 1 if is_a(node, BESSELI, BESSELK) else -1
        table[node] = power(z, order) * call(HYP0F1, order + 1, sign * z**2 / 4)
    right = facts.with_facts([relation("<", ZERO, x)])
    return simplify(substitute(solution, table), right).expression if table else solution


def _pair(order: Expression, b: Expression, scale: Expression, place: Expression, facts: Facts) -> list[Expression] | None:
    """J and Y of sqrt(-b)*scale*place for a negative b, I and K for a positive one."""
    below = facts.is_negative(b)
    if not below and not facts.is_positive(b):
        return None
    inside = simplify(sqrt(expand(-b if below else b)), facts).expression * scale * place
    kinds = (BESSELJ, BESSELY) if below else (BESSELI, BESSELK)
    if order.is_rational and order.rational.denominator == 2:  # sines and exponentials
        elementary = [half_order(f, order.rational, inside) for f in kinds]
        if None not in elementary:
            return [e for e in elementary if e is not None]
    return [f(order, inside) for f in kinds]


def _of_straight_line(r: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    """r = a*x + b: Airy's functions of cbrt(a)*(x + b/a)."""
    parts = uni.linear_parts(expand(r), x)
    if parts is None or not facts.is_real(parts[0]) or not facts.is_real(parts[1]):
        return None
    slope, start = parts
    place = simplify(CBRT(slope), facts).expression * (x + lowest_terms(start / slope))
    return [AIRYAI(place), AIRYBI(place)]


def _of_exponential(r: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    """r = a + b*exp(k*x): Bessel functions of exp(k*x/2)."""
    waves = [n for n in postorder(r) if is_a(n, EXP) and contains(n, x)]
    parts = uni.linear_parts(expand(r), waves[0]) if len(waves) == 1 else None
    rate = uni.linear_parts(expand(waves[0].arguments[0]), x) if parts is not None else None
    if parts is None or rate is None or contains(parts[0], x) or contains(parts[1], x):
        return None
    k, start = rate
    order = simplify(2 * sqrt(expand(parts[1])) / k, facts).expression
    return _pair(order, parts[0], 2 / k, EXP((k * x + start) / 2), facts)
