"""Integrals along the real line of what is complex: an antiderivative must not jump across a cut on the way."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.evaluation.enclose import surely_not_real
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Number, Power
from gelvo.expression.traversal import contains, has_imaginary_unit, postorder, substitute
from gelvo.facts.continuity import BRANCHED
from gelvo.facts.store import Facts
from gelvo.functions.named import ABS, LN, SIGN, is_a


def middle_of(lower: Expression, upper: Expression) -> Expression:
    """A place between two ends."""
    if isinstance(lower, Bound) and isinstance(upper, Bound):
        return ZERO
    if isinstance(lower, Bound):
        return upper - 1
    return lower + 1 if isinstance(upper, Bound) else (lower + upper) / 2


def is_complex(f: Expression, x: Name, lower: Expression, upper: Expression) -> bool:
    """Whether an integrand has values that are not real between two ends, as far as a few of them tell."""
    if has_imaginary_unit(f):
        return True
    middle = middle_of(lower, upper)
    beside = [] if isinstance(lower, Bound) or isinstance(upper, Bound) else [(middle + lower) / 2, (middle + upper) / 2]
    for place in (middle, *beside):
        try:
            inside = substitute(f, {x: place})
        except DomainError:
            continue
        if surely_not_real(inside):
            return True
    return False


def may_cross_cut(F: Expression, x: Name, facts: Facts) -> bool:
    """Whether a formula may jump on a path through complex values, or forget them, as ln|u| does."""
    for node in postorder(F):
        if isinstance(node, Power):
            root = not (isinstance(node.exponent, Number) and node.exponent.is_whole)
            if root and contains(node.base, x) and not facts.is_real(node.base):
                return True
        elif isinstance(node, Call) and contains(node, x):
            if (node.name in BRANCHED and not facts.is_real(node)) or (
                is_a(node, LN, ABS) and not facts.is_real(node.arguments[0])
            ):
                return True
    return False


def real_where(e: Expression, facts: Facts) -> tuple[Condition, ...]:
    """Conditions under which what stands in bars is real: of the logarithms and roots in it, as far as that makes it so."""
    found: dict[Condition, None] = {}
    for bars in postorder(e):
        if not (is_a(bars, ABS, SIGN)) or facts.is_real(bars.arguments[0]):
            continue
        for node in postorder(bars):
            if is_a(node, LN) and not facts.is_real(node):
                found[node.arguments[0] > ZERO] = None
            elif isinstance(node, Power) and not facts.is_real(node):
                found[node.base > ZERO] = None
    return tuple(c for c in found if isinstance(c, Condition))
