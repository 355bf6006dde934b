"""Limits at a place, from a side, and far out: growth, comparison and bounded oscillation in turn."""

from __future__ import annotations

from gelvo.calculus import growth
from gelvo.calculus.far_out import by_comparison, limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.oscillation import oscillation
from gelvo.calculus.sequences import through_steps, through_whole_numbers
from gelvo.calculus.tidying import for_a_reader
from gelvo.deciding.equality import is_zero
from gelvo.deciding.suppositions import may_suppose_nonzero
from gelvo.expression.building import multiply_all, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.functions.named import COS, EXP, FACTORIAL, GAMMA, SIN, is_a
from gelvo.normal.far_out import logarithm_of_product, logarithms_taken_apart, without_lambert


def limit_beside(e: Expression, x: Name, point: Expression, side: str, facts: Facts) -> Expression | None:
    """The one-sided limit at a finite point."""
    return limit_at_infinity(*_far(e, x, point, side, facts), facts)


def _far(e: Expression, x: Name, point: Expression, side: str, facts: Facts) -> tuple[Expression, Name]:
    u = facts.new_name("u", e, point)
    return substitute(e, {x: point + 1 / u if side == "above" else point - 1 / u}), u


def limit(e: Expression, x: Name, point: Expression, side: str | None, facts: Facts) -> Found | None:
    """The limit at a point (also inf, -inf), from one side or from both; None where it is not decided.

    >>> from gelvo.expression.building import call, name, number
    >>> x = name("x")
    >>> from gelvo.functions.named import SIN
    >>> print(limit(SIN(x) / x, x, number(0), None, Facts()).value)
    1
    """
    if not contains(e, x):
        return Found(e, road="the formula does not contain the variable")
    if isinstance(point, Bound):
        moved = e if point is INFINITE else substitute(e, {x: -x})
        own = facts.without(x)
        whole = through_whole_numbers(moved, x, own, _far_away) if x.domain in ("integer", "natural") else None
        return whole or _far_away(moved, x, own)
    sides = ("above", "below") if side is None else (side,)
    own = facts.without(x)
    found = [_far_away(*_far(e, x, point, s, facts), own) for s in sides]
    if None in found:
        return None
    return _of_the_sides([f for f in found if f is not None], facts)


def _of_the_sides(found: list[Found], facts: Facts) -> Found | None:
    """From above, and from below: the limit where both are the same."""
    values, road = [f.value for f in found], found[0].road
    if len(values) == 1:
        return Found(values[0], road=road)
    if UNDEFINED in values:
        return Found(UNDEFINED, road=road)
    if values[0] is values[1]:
        return Found(values[0], road=f"{road}, from both sides")
    if any(isinstance(v, Bound) for v in values):
        return Found(UNDEFINED, road=f"{values[1]} from below, {values[0]} from above")
    gap = values[0] - values[1]
    if is_zero(gap, facts):
        return Found(values[0], road=f"{road}, from both sides")
    return Found(UNDEFINED, road=f"{values[1]} from below, {values[0]} from above") if may_suppose_nonzero(gap, facts) else None


def _far_away(e: Expression, x: Name, facts: Facts) -> Found | None:
    value = by_comparison(e, x, facts)
    if value is not None:
        return Found(value, road="leading terms in the most rapidly varying part")
    value = growth.limit_at_infinity(e, x, facts)
    if value is not None:
        return Found(value, road="orders of growth")
    shorter = for_a_reader(e, facts)
    if not contains(shorter, x):
        return Found(shorter, road="the formula does not depend on the variable")
    return (
        _term_by_term(e, x, facts)
        or through_steps(e, x, facts, _far_away)
        or oscillation(e, x, facts)
        or _in_new_variable(e, x, facts)
        or _by_logarithm(e, x, facts)
        or _with_logarithms_apart(e, x, facts)
        or _squeezed(e, x, facts)
    )


def _squeezed(e: Expression, x: Name, facts: Facts) -> Found | None:
    """What goes to zero times waves, which are bounded."""
    waves = [f for f in factors_in(e) if is_a(f, SIN, COS) and contains(f, x) and facts.is_real(f.arguments[0])]
    found = _far_away(e / multiply_all(waves), x, facts) if waves else None
    return (
        Found(ZERO, road=f"a bounded wave times what goes to zero: {found.road}")
        if found is not None and found.value is ZERO
        else None
    )


def _with_logarithms_apart(e: Expression, x: Name, facts: Facts) -> Found | None:
    apart = logarithms_taken_apart(e, x, facts)
    return None if apart is None else _far_away(apart, x, facts)


def _in_new_variable(e: Expression, x: Name, facts: Facts) -> Found | None:
    """With lambertw(x) as the variable: x is w*exp(w), and w grows with it."""
    w = facts.new_name("w", e)
    moved = without_lambert(e, x, w)
    return None if moved is None else _far_away(moved, w, facts)


def _by_logarithm(e: Expression, x: Name, facts: Facts) -> Found | None:
    """A power with a moving exponent and a gamma function in its base, by the logarithm of the whole formula."""
    logarithm = logarithm_of_product(e, x, facts, (GAMMA, FACTORIAL))
    found = None if logarithm is None else _far_away(logarithm, x, facts)
    if found is None:
        return None
    ends: dict[Expression, Expression] = {INFINITE: INFINITE, MINUS_INFINITE: ZERO}
    value = ends.get(found.value) if isinstance(found.value, Bound) else EXP(found.value)
    return None if value is None else Found(value, road=f"the logarithm: {found.road}")


def _term_by_term(e: Expression, x: Name, facts: Facts) -> Found | None:
    """A sum of terms that all go to numbers."""
    terms = terms_of(expand(e))
    if len(terms) < 2:
        return None
    ends = [_far_away(t, x, facts) if contains(t, x) else Found(t) for t in terms]
    if any(v is None or isinstance(v.value, Bound) for v in ends):
        return None
    return Found(total([v.value for v in ends if v is not None]), road="term by term")
