"""Sums of waves as Fourier series of what is claimed: smooth inside of a period, its coefficients are those of the sum.

Source: P. Dirichlet, "Sur la convergence des séries trigonométriques" (1829); C. Jordan (1881).
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.checking.certificate import PROVED, REFUTED, Certificate
from gelvo.checking.ends import value_at
from gelvo.checking.proposals import proposed_antiderivative
from gelvo.checking.values.converging import has_no_break_between
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import call
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import COS, SIN, is_a


class Waves(NamedTuple):
    """The sum of size(k)*wave(m*angle) where m = k, or m = 2*k + 1."""

    wave: str
    size: Expression
    angle: Expression
    odd: bool


def by_fourier(term: Expression, k: Name, lower: int, value: Expression, facts: Facts, claim: str) -> Certificate | None:
    """The certificate where the angle is a letter times what does not change; None where this does not decide."""
    waves = _waves(term, k)
    moving = names(waves.angle) if waves is not None else ()
    if waves is None or len(moving) != 1:
        return None
    parts = uni.linear_parts(waves.angle, moving[0])
    if parts is None or parts[1] is not ZERO or lower not in ((0,) if waves.odd else (0, 1)):
        return None
    try:
        known = facts.without(k)
        p = facts.new_name("p", term, value)
        claimed = substitute(value, {moving[0]: p / parts[0]}) - (
            substitute(waves.size, {k: ZERO}) if _has_constant(waves, lower) else 0
        )
        for low, high in ((ZERO, PI), (-PI, ZERO)) if waves.odd else ((ZERO, 2 * PI), (-PI, PI)):
            if known.is_positive(waves.angle - low) and known.is_positive(high - waves.angle):
                beside = known.without(moving[0])
                same = _has_coefficients(claimed, p, low, high, waves, k, beside)
                break
        else:
            return None
    except (GelvoError, ArithmeticError):
        return None
    if same is None:
        return None
    evidence = {"established": f"the Fourier coefficients from {low} to {high}, and that the value is smooth inside"}
    return Certificate(claim, PROVED if same else REFUTED, "Dirichlet's theorem on Fourier series", evidence)


def _waves(term: Expression, k: Name) -> Waves | None:
    found = [f for f in factors_in(term) if is_a(f, SIN, COS) and contains(f, k)]
    wave = found[0] if len(found) == 1 else None
    parts = None if wave is None else uni.linear_parts(wave.arguments[0], k)
    if wave is None or parts is None:
        return None
    size = term / wave
    if parts[1] is ZERO:
        return Waves(wave.name, size, parts[0], False)
    angle = parts[1]
    return Waves(wave.name, size, angle, True) if decide_zero(parts[0] - 2 * angle).zero else None


def _has_constant(waves: Waves, lower: int) -> bool:
    return not waves.odd and lower == 0 and waves.wave == COS


def _has_coefficients(
    f: Expression, p: Name, low: Expression, high: Expression, waves: Waves, k: Name, facts: Facts
) -> bool | None:
    """Whether f is smooth from low to high and has the coefficients of the sum, by antiderivatives that are differentiated back."""
    within = facts.with_facts([low < p, p < high])
    ends = [value_at(f, p, low, facts, "above"), value_at(f, p, high, facts, "below")]
    if not has_no_break_between(f, p, low, high, facts) or any(e is None or isinstance(e, Bound) for e in ends):
        return None
    sign = 1 if waves.wave == COS else -1
    length = high - low
    if not waves.odd and decide_zero(substitute(f, {p: low + high - p}) - sign * f, within).zero is not True:
        return None
    n = facts.new_name("n", f, waves.size, domain="natural")
    counted = facts.with_facts([DomainFact(n, "natural")])
    wanted: list[tuple[Expression, Expression]] = []
    if waves.odd:  # a series of half a period: the even places are empty
        wanted = [(2 * n + 1, substitute(waves.size, {k: n})), (2 * n + 2, ZERO)]
    else:
        wanted = [(n + 1, substitute(waves.size, {k: n + 1}))]
    if waves.wave == COS:
        wanted.append((ZERO, ZERO))
    for m, size in wanted:
        share = _integral(f * call(waves.wave, m * p), p, low, high, counted)
        if share is None:
            return None
        same = decide_zero(2 * share / length - size, counted).zero
        if not same:
            return same
    return True


def _integral(f: Expression, p: Name, low: Expression, high: Expression, facts: Facts) -> Expression | None:
    within = facts.with_facts([low < p, p < high])
    F = proposed_antiderivative(f, p, within)
    if (
        F is None
        or decide_zero(differentiate(F, p) - f, within).zero is not True
        or not has_no_break_between(F, p, low, high, facts)
    ):
        return None
    above, below = value_at(F, p, high, facts, "below"), value_at(F, p, low, facts, "above")
    if above is None or below is None or isinstance(above, Bound) or isinstance(below, Bound):
        return None
    return above - below


def _never_divides_by_zero(F: Expression, p: Name, facts: Facts) -> bool:
    """Whether an antiderivative holds for every place of the sum: the divisors with the index alone are shown not to vanish."""
    divisors = [
        node.base
        for node in postorder(F)
        if isinstance(node, Power) and not contains(node, p) and not facts.is_nonnegative(node.exponent)
    ]
    return all(facts.is_nonzero(d) for d in divisors)
