"""Sums whose terms have an antiderivative together only: groups that share functions, and the highest power of a function taken first.

Source: M. Bronstein, "Symbolic Integration I" (2005), 5.8 (the highest power of a primitive function decides what goes with it).
"""

from __future__ import annotations

from gelvo.calculus.antiderivative.methods import BY_PARTS
from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found, summed
from gelvo.expression.building import total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Node, Power, Sum
from gelvo.expression.traversal import dependents, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored


def by_groups(f: Expression, search: Search) -> Found | None:
    """The terms in groups that have no function and no root in common, each group by itself."""
    if not isinstance(f, Sum):
        return None
    groups, plain = _groups(f, search)
    if len(groups) < 2:
        return None
    found: list[Found] = []
    for members in groups:
        part = search.integrate(total(members))
        if part is None and plain:  # logarithms may need a rational function beside them
            part, plain = search.integrate(total(members + plain)), []
        if part is None:
            return None
        found.append(part)
    if plain:
        part = search.integrate(total(plain))
        if part is None:
            return None
        found.append(part)
    return summed(found)


def _groups(f: Sum, search: Search) -> tuple[list[list[Expression]], list[Expression]]:
    """The terms by the functions and roots they share, and those that are rational."""
    groups: list[tuple[set[Node], list[Expression]]] = []
    plain: list[Expression] = []
    for term in terms_of(f):
        own, members = _functions(term, search), [term]
        if not own:
            plain.append(term)
            continue
        for group in [g for g in groups if g[0] & own]:
            groups.remove(group)
            own, members = own | group[0], group[1] + members
        groups.append((own, members))
    return [members for _, members in groups], plain


def _functions(term: Expression, search: Search) -> set[Node]:
    moving = dependents(term, search.variable)
    return {
        n for n in postorder(term) if n in moving and (isinstance(n, Call) or (isinstance(n, Power) and not n.exponent.is_whole))
    }


def by_highest_power(f: Expression, search: Search) -> Found | None:
    """asin(x)*a' + a*asin'(x)  ->  a*asin(x): the antiderivative of the highest coefficient goes with the power of the function."""
    if not isinstance(f, Sum):
        return None
    moving = dependents(f, search.variable)
    for chosen in [n for n in reversed(postorder(f)) if n in moving and isinstance(n, Call) and n.name in BY_PARTS]:
        new = search.facts.new_name("u", f)
        coefficients = uni.coefficients_of(substitute(f, {chosen: new}), new)
        if coefficients is None or len(coefficients) < 2:
            continue
        degree = len(coefficients) - 1
        outer = search.integrate(coefficients[degree])
        if outer is None:
            continue
        slope = differentiate(chosen, search.variable)
        below = factored(coefficients[degree - 1] - degree * outer.value * slope)
        share = factored(below / slope)  # a constant share of the slope belongs to the power itself
        if search.free(share):
            outer, below = outer._replace(value=outer.value + share / degree), ZERO
        rest = total([c * chosen**k for k, c in enumerate([*coefficients[: degree - 1], below])])
        inner = search.integrate(rest)
        if inner is not None:
            return Found(outer.value * chosen**degree + inner.value, outer.conditions + inner.conditions, "by parts")
    return None
