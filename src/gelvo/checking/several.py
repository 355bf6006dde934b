"""Limits of several variables proved by the leading forms of smooth factors, or refused by two paths with proved limits of their own.

A smooth function whose first derivatives vanish up to the order m - 1 is like its form of degree m, up to what is of the order r^(m + 1)
in all directions alike (B. Taylor). Source: R. Courant, "Differential and Integral Calculus" (1936), II.2.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.calculus.several import Approached, Place, directions_for, monomial, moves, never_vanishes, through_one
from gelvo.checking.certificate import PROVED, UNDECIDED, Certificate
from gelvo.checking.ends import ends_differ, proved_limit
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import call, number, power, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Number, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import postorder, substitute
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ATAN, COS, ERF, HEAVISIDE, LN, SIGN, SIN, TANH, is_a

MOST_ORDER = 12


class Form(NamedTuple):
    """Like c(direction)*r^order in all directions alike; definite: whether c is nowhere zero; small: only no larger than the order says."""

    order: mpq
    c: Expression
    definite: bool
    small: bool = False


BOUNDED = (SIN, COS, ATAN, TANH, SIGN, ERF, HEAVISIDE)
ONLY_BOUNDED = Form(mpq(0), ONE, False, True)
LESS_THAN_ANY_POWER = mpq(-1, 10**6)


class Unknown(Exception):
    """No form is told."""


def check_limit_of_several(f: Expression, place: Place, found: Approached, facts: Facts, claim: str) -> Certificate:
    """By leading forms; `undefined` by its two paths."""
    own = facts
    for x in place:
        own = own.without(x)
    if found.value is UNDEFINED:
        return _by_paths(f, found, own, claim)
    try:
        end = _end(f, place, own)
    except (Unknown, GelvoError, ArithmeticError):
        end = None
    if end is not None and (end is found.value or (not isinstance(end, Bound) and decide_zero(end - found.value, own).zero)):
        evidence = {"established": "the first derivatives that do not vanish; that no divisor vanishes in any direction"}
        return Certificate(claim, PROVED, "leading forms of smooth factors", evidence)
    return Certificate(claim, UNDECIDED, "leading forms of smooth factors")


def _by_paths(f: Expression, found: Approached, facts: Facts, claim: str) -> Certificate:
    method = "two paths with different limits"
    ends = [proved_limit(substitute(f, p.by), p.t, ZERO, facts, "above") for p in found.paths]
    evidence = {f"limit on {path}": str(path.end) for path in found.paths}
    one, other = ends
    apart = ends_differ(one, other, facts)
    return Certificate(claim, PROVED if apart else UNDECIDED, method, evidence)


def _end(f: Expression, place: Place, facts: Facts) -> Expression | None:
    outer = _value_at_smooth(f, place, facts)
    outer = _through_one(f, place, facts) if outer is None else outer
    if outer is not None:
        return outer
    terms = terms_of(expand(f))
    if len(terms) > 1:
        try:
            ends = [_of_product(factored(t), place, facts) for t in terms]
            if not any(e is None or isinstance(e, Bound) for e in ends):
                return total([e for e in ends if e is not None])
        except Unknown:
            pass
    if isinstance(f, Call) and len(f.arguments) == 1:
        return _through_call(f, place, facts)
    return _of_product(factored(f), place, facts)


def _value_at_smooth(f: Expression, place: Place, facts: Facts) -> Expression | None:
    return substitute(f, dict(place)) if _is_smooth(f, place, facts) else None


def _through_one(f: Expression, place: Place, facts: Facts) -> Expression | None:
    """A formula of one quantity of the variables."""
    inner = through_one(f, place, facts)
    if inner is None:
        return None
    ends = [
        proved_limit(inner.outer, inner.s, inner.at, facts, side) for side in ([inner.side] if inner.side else ["above", "below"])
    ]
    first = ends[0]
    if first is None or first is UNDEFINED or None in ends:
        return None
    same = all(e is first or (e is not None and not isinstance(e, Bound) and decide_zero(e - first, facts).zero) for e in ends)
    return first if same else None


def _through_call(f: Call, place: Place, facts: Facts) -> Expression | None:
    """A function of one argument, whose own limit is a place where the function does not break."""
    inner = _end(f.arguments[0], place, facts)
    if inner is None or isinstance(inner, Bound):
        return None
    s = facts.new_name("s", f)
    plain = call(f.name, s)
    return substitute(plain, {s: inner}) if has_no_break_at(plain, s, inner, facts, kinks=False) else None


def _of_product(f: Expression, place: Place, facts: Facts) -> Expression | None:
    r, letters, known = directions_for(f, place, facts)
    own = list(letters.values())
    order, c, plain, small = mpq(0), number(f.coefficient) if isinstance(f, Product) else ONE, True, False
    for factor in factors_in(f):
        base, q = base_and_exponent(factor)
        if not moves(factor, place):
            c = c * factor
            continue
        if not (isinstance(q, Number) and q.is_rational):
            raise Unknown
        form = _form_of(base, place, r, letters, known)
        whole = q.is_whole and q.rational > 0
        if not whole and not form.definite:
            return ZERO if _is_squeezed(f, place, known) else None
        if not q.is_whole and not known.is_positive(form.c):
            raise Unknown
        order, plain, small = order + form.order * q.rational, plain and form.definite, small or form.small
        c = c * power(form.c, q)
    if order > 0:
        return ZERO
    if small:
        raise Unknown
    if order < 0:
        if not plain:
            raise Unknown
        return INFINITE if known.is_positive(c) else MINUS_INFINITE if known.is_negative(c) else None
    at = substitute(c, {n: number(int(n is own[0])) for n in own})
    return at if decide_zero(c - at, known).zero else None


def _form_of(base: Expression, place: Place, r: Name, letters: dict[Name, Name], facts: Facts) -> Form:
    """By derivatives along a direction; of a wave that it is bounded, of a logarithm that it grows less than any power."""
    if is_a(base, LN):
        inner = _form_of(base.arguments[0], place, r, letters, facts)
        if inner.definite and inner.order > 0:
            return Form(LESS_THAN_ANY_POWER, ONE, False, True)
    if not _is_smooth(base, place, facts) and is_a(base, *BOUNDED) and facts.is_real(base.arguments[0]):
        return ONLY_BOUNDED
    if not _is_smooth(base, place, facts):
        raise Unknown
    slope = substitute(base, {x: a + r * letters[x] for x, a in place.items()})
    for k in range(MOST_ORDER):
        c = expand(substitute(slope, {r: ZERO}) / number(fac(k)))
        decision = decide_zero(c, facts)
        if decision.zero is None:
            raise Unknown
        if not decision.zero:
            return Form(mpq(k), c, never_vanishes(c, list(letters.values()), facts))
        slope = differentiate(slope, r)
    raise Unknown


def _is_squeezed(f: Expression, place: Place, facts: Facts) -> bool:
    """Whether a monomial over a sum of squares goes to zero: the sum is at least one term to the share w, times another to the share 1 - w."""
    if any(a is not ZERO for a in place.values()):
        return False
    top, bottom = quotient_parts(f)
    above = monomial(top, place)
    below = [monomial(t, place) for t in terms_of(expand(bottom))]
    if above is None or any(b is None or not facts.is_positive(b[1]) or any(k % 2 for k in b[0].values()) for b in below):
        return False
    rows = [_exponents(b[0]) for b in below if b is not None]
    return any(_beats(_exponents(above[0]), one, other) for one in rows for other in rows)


def _exponents(powers: Mapping[Name, int]) -> tuple[mpq, ...]:
    return tuple(mpq(k) for k in powers.values())


def _beats(above: tuple[mpq, ...], one: tuple[mpq, ...], other: tuple[mpq, ...]) -> bool:
    """Whether some share w in [0, 1] leaves no power of above - w*one - (1 - w)*other below zero, and one above it."""
    low, high = mpq(0), mpq(1)
    for a, p, q in zip(above, one, other, strict=True):
        gap, slope = a - q, p - q  # gap - w*slope >= 0
        if slope > 0:
            high = min(high, gap / slope)
        elif slope < 0:
            low = max(low, gap / slope)
        elif gap < 0:
            return False
    if low > high:
        return False
    return any(
        all(a - w * p - (1 - w) * q >= 0 for a, p, q in zip(above, one, other, strict=True))
        and any(a - w * p - (1 - w) * q > 0 for a, p, q in zip(above, one, other, strict=True))
        for w in (low, (low + high) / 2, high)
    )


def _is_smooth(f: Expression, place: Place, facts: Facts) -> bool:
    """Whether every part is smooth where its arguments are at the place."""
    return all(_one_is_smooth(node, place, facts) for node in postorder(f) if isinstance(node, Expression) and moves(node, place))


def _one_is_smooth(node: Node, place: Place, facts: Facts) -> bool:
    if isinstance(node, Call):
        *orders, argument = node.arguments
        if any(moves(o, place) for o in orders):
            return False
        s = facts.new_name("s", node)
        return has_no_break_at(call(node.name, *orders, s), s, substitute(argument, dict(place)), facts)
    if isinstance(node, Power):
        exponent = node.exponent
        if isinstance(exponent, Number) and exponent.is_whole and exponent.rational > 0:
            return True
        at = substitute(node.base, dict(place))
        if isinstance(exponent, Number) and exponent.is_whole:
            return facts.is_nonzero(at)
        return facts.is_positive(at)
    return isinstance(node, Expression)
