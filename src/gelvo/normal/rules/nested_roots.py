"""Nested square roots opened where the facts allow it."""

from __future__ import annotations

from gelvo.expression.building import negate, number, power, scale, sqrt, total
from gelvo.expression.nodes import Expression, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import postorder, transform
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, is_a
from gelvo.normal.rules.table import Work
from gelvo.numbers.exact import HALF, Gaussian


def denested(work: Work, node: Expression) -> Expression:
    """sqrt(A + t) = sqrt((A + D)/2) ± sqrt((A - D)/2) with D = sqrt(A^2 - t^2), where t has a root and D has none."""
    if not (isinstance(node, Power) and isinstance(node.exponent, Number) and isinstance(node.base, Sum)):
        return node
    if not node.exponent.is_rational or abs(node.exponent.rational) != HALF:
        return node
    base = expand(node.base) if any(isinstance(f, Sum) for t in node.base.terms for f in factors_in(t)) else node.base
    for term, coefficient in base.items() if isinstance(base, Sum) else ():
        if isinstance(coefficient, Gaussian) or not _has_root(term):
            continue
        t = scale(term, coefficient)
        found = _opened(work, total((base, negate(t))), t)
        if found is not None:
            return found if node.exponent.rational > 0 else power(found, number(-1))
    return node


def _has_root(term: Expression) -> bool:
    factors = factors_in(term)
    return any(isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.value == HALF for f in factors)


def _roots_in(e: Expression) -> int:
    """How many terms have a root."""
    return sum(map(_has_root, e.terms)) if isinstance(e, Sum) else int(_has_root(e))


def _opened(work: Work, rest: Expression, t: Expression) -> Expression | None:
    facts = work.facts
    sign = 1 if facts.is_nonnegative(t) else -1 if facts.is_nonpositive(t) else 0
    if not sign:
        return None
    flat = expand(rest * rest - t * t)
    if _roots_in(flat) > _roots_in(rest):  # fewer roots at every step, or opening a root by a root may never end
        return None
    gap = factored(flat)
    root = work.prepared(sqrt(gap), waves=False)
    if any(isinstance(n, Power) and not _plain(n) for n in postorder(root)) and not isinstance(gap, Number):
        return None
    if isinstance(gap, Number) and not isinstance(root, Number):
        return None
    if sign > 0:  # the sum of both roots does not ask which is larger
        root = transform(root, lambda n: n.arguments[0] if is_a(n, ABS) else n)
    upper, lower = expand((rest + root) / 2), expand((rest - root) / 2)
    if facts.is_nonpositive(root):
        upper, lower = lower, upper
    elif sign < 0 and not facts.is_nonnegative(root):
        return None
    if not (facts.is_nonnegative(upper) and facts.is_nonnegative(lower)):
        return None
    half = number(HALF)
    return power(factored(upper), half) + sign * power(factored(lower), half)


def _plain(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole
