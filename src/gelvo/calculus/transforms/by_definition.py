"""Transforms by the integral that defines them, where no rule fits: over half the line, the line, or one period after another.

Source: G. Doetsch, "Introduction to the Theory and Application of the Laplace Transformation" (1974), sections 2 and 10.
"""

from __future__ import annotations

from gelvo.calculus.definite.between import definite_integral
from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.sums.up import add_up
from gelvo.calculus.transforms.pattern import beyond_growth, by_root
from gelvo.deciding.equality import is_zero
from gelvo.expression.building import bound, number, relation
from gelvo.expression.constants import IMAGINARY, INFINITE, ONE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Written
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.periods import in_one_period
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, COS, EXP, SIGN, SIN

BY_DEFINITION = "the defining integral"


def _settled(found: Found | None) -> bool:
    return found is not None and not any(isinstance(n, (Bound, Written)) for n in postorder(found.value))


def laplace_by_definition(e: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
    """The integral of e*exp(-s*t) from 0 on, for s beyond the growth of e; None where it has no form.

    >>> from gelvo.expression.building import name
    >>> t, s = name("t"), name("s")
    >>> print(laplace_by_definition(SIN(t)/t, t, s, Facts()).value)
    atan(1/s)
    """
    far = beyond_growth(e, t, s, facts)
    if far is None:
        return None
    periodic = _by_periods(e, t, s, far)
    if periodic is not None:
        return periodic
    for integrand, variable in filter(None, (by_root(e * EXP(-s * t), t, far), (e * EXP(-s * t), t))):
        found, _ = definite_integral(integrand, variable, ZERO, bound("inf"), far)
        if found is not None and _settled(found):
            return found._replace(road=f"{BY_DEFINITION}: {found.road}")
    return None


def _by_periods(e: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
    """The integral over one period, whose number stands in it as a letter, added up over all of them."""
    told = in_one_period(e, t, facts)
    if told is None:
        return None
    length, inside, u, n = told
    whole = facts.with_facts([DomainFact(n, "natural")])
    one, _ = definite_integral(inside * EXP(-s * u), u, ZERO, length, whole)
    if one is None or not _settled(one) or contains(one.value, u):
        return None
    found = add_up(expand(one.value) * EXP(-s * length * n), n, ZERO, INFINITE, facts)
    if found is None or not _settled(found) or contains(found.value, n):
        return None
    conditions = tuple(c for c in (*one.conditions, *found.conditions) if not contains(c, n) and not contains(c, s))
    return Found(found.value, conditions, f"{BY_DEFINITION}, one period after another")


def fourier_by_definition(e: Expression, t: Name, v: Name, facts: Facts) -> Found | None:
    """The integral of e*exp(-1j*v*t) over the line, from its even and its odd part at positive frequencies; e is real.

    >>> from gelvo.expression.building import name
    >>> t, v = name("t"), name("v")
    >>> print(fourier_by_definition(1/(1 + t**2)**2, t, v, Facts()).value)
    pi*(1 + abs(v))*exp(-abs(v))/2
    """
    if not facts.is_real(t) or any(n is IMAGINARY for n in postorder(e)):
        return None
    w = facts.new_name("w", e, v, domain="positive")
    over = facts.without(t).with_facts([relation("<", ZERO, t)])
    mirrored = substitute(e, {t: -t})
    even, odd = expand((e + mirrored) / 2), expand((e - mirrored) / 2)
    value, conditions, roads = ZERO, dict[object, None](), dict[str, None]()
    for part, wave, outer in ((even, COS, number(2)), (odd, SIN, -2 * IMAGINARY)):
        part, beside = _plain(part, t, over), ZERO
        if (
            wave is SIN
            and (end := limit_at_infinity(part, t, over)) is not None
            and not isinstance(end, Bound)
            and end is not ZERO
        ):
            part, beside = part - end, -2 * IMAGINARY * end / v  # a step beside what dies away
        value = value + beside
        if part is ZERO:
            continue
        found, _ = definite_integral(part * wave(w * t), t, ZERO, bound("inf"), over)
        if found is None or not _settled(found) or any(contains(c, w) for c in found.conditions):
            return None
        value = value + outer * _for_both_signs(found.value, w, v, wave is COS, facts)
        conditions.update(dict.fromkeys(found.conditions))
        roads[found.road] = None
    return Found(value, tuple(conditions), f"{BY_DEFINITION}: {'; '.join(roads)}")  # type: ignore[arg-type]


def _for_both_signs(e: Expression, w: Name, v: Name, even: bool, facts: Facts) -> Expression:
    """An even (or odd) function of v that is e for v = w > 0: e itself where its formula is even (odd)."""
    plain = substitute(e, {w: v})
    mirrored = substitute(plain, {v: -v})
    if not has_call(plain, (SIGN, ABS), v) and is_zero(plain - mirrored if even else plain + mirrored, facts):
        return plain
    return (ONE if even else SIGN(v)) * substitute(e, {w: ABS(v)})


def _plain(e: Expression, t: Name, facts: Facts) -> Expression:
    """|t| is t for t > 0."""
    return substitute(e, {n: t for n in postorder(e) if n is ABS(t)})
