"""Definite integrals by other means than an antiderivative: reflection, Mellin's pairs, Frullani's theorem, residues.

Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), chapter 6. Every value is held against quadratures
before it is believed (`between.py`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import ParamSpec

from gmpy2 import fac, mpq

from gelvo.calculus.definite.beta import powers_beyond_an_end, powers_of_the_ends, powers_of_waves
from gelvo.calculus.definite.circle import exponentials_of_waves
from gelvo.calculus.definite.convolution import by_convolution
from gelvo.calculus.definite.exponential_integrals import beside_a_quotient
from gelvo.calculus.definite.growing_bessel import beside_growing_bessel
from gelvo.calculus.definite.keyhole import keyhole
from gelvo.calculus.definite.line import exponentials_over_the_line
from gelvo.calculus.definite.logarithms import log_of_a_shifted_wave, log_wave
from gelvo.calculus.definite.mellin import mellin, mellin_continued, mellin_terms
from gelvo.calculus.definite.orthogonal import orthogonal
from gelvo.calculus.definite.pendulum import swing
from gelvo.calculus.definite.poles import Pole, upper_poles
from gelvo.calculus.definite.shifted import over_two_exponentials
from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.limits import limit_beside
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.expression.building import number, total
from gelvo.expression.constants import IMAGINARY as I
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, EXP, LN, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.roads import on_the_way

Question = ParamSpec("Question")
Rule = Callable[[Expression, Name, Facts], Found | None]
RuleOfEnds = Callable[[Expression, Name, Expression, Expression, Facts], Found | None]


def by_other_means(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Iterator[Found]:
    """What each rule that fits says, one after the other."""
    f = transform(f, lambda n: EXP(expand(n.arguments[0])) if is_a(n, EXP) else n)  # a*(x + 1/x)
    if lower is ZERO and upper is INFINITE:
        yield from _said(TO_INFINITY, f, x, facts)
        if factored(substitute(f, {x: -x}) - f) is ZERO:
            yield from (whole._replace(value=whole.value / 2) for whole in _said(OVER_THE_LINE, f, x, facts))
        yield from _said(LAST_TO_INFINITY, f, x, facts)
    if lower is MINUS_INFINITE and upper is INFINITE:
        yield from _said(OVER_THE_LINE, f, x, facts)
        if factored(substitute(f, {x: -x}) - f) is ZERO:
            for half in by_other_means(f, x, ZERO, INFINITE, facts):
                yield half._replace(value=2 * half.value)
    for rule in BETWEEN_ENDS:
        found = _asked(rule, f, x, lower, upper, facts)
        if found is not None:
            yield found


def _said(rules: tuple[Rule, ...], f: Expression, x: Name, facts: Facts) -> Iterator[Found]:
    for rule in rules:
        found = _asked(rule, f, x, facts)
        if found is not None:
            yield found


@on_the_way("integrals with a name")
def _asked(rule: Callable[Question, Found | None], *question: Question.args, **named: Question.kwargs) -> Found | None:
    try:
        return rule(*question, **named)
    except (DomainError, ZeroDivisionError):
        return None


# --- Frullani ---------------------------------------------------------------------------------------------------------------------


def frullani(f: Expression, x: Name, facts: Facts) -> Found | None:
    """(g(a*x) - g(b*x))/x: (g(0) - g(inf))*ln(b/a)."""
    terms = terms_of(expand(f * x))
    if len(terms) != 2:
        return None
    first, second = terms
    for n in postorder(first):
        if not isinstance(n, Call):
            continue
        one = uni.linear_parts(n.arguments[0], x)
        mates = [m for m in postorder(second) if isinstance(m, Call) and m.name == n.name]
        if one is None or one[1] is not ZERO or len(mates) != 1:
            continue
        two = uni.linear_parts(mates[0].arguments[0], x)
        if two is None or two[1] is not ZERO:
            continue
        ratio = factored(two[0] / one[0])
        if not facts.is_positive(ratio) or not decide_zero(substitute(first, {x: ratio * x}) + second, facts).zero:
            continue
        near, far = limit_beside(first, x, ZERO, "above", facts), limit_at_infinity(first, x, facts)
        if near is None or far is None or isinstance(near, Bound) or isinstance(far, Bound):
            continue
        return Found((near - far) * LN(ratio), (), "Frullani's theorem")
    return None


# --- residues ---------------------------------------------------------------------------------------------------------------------


def _residue(top: Expression, x: Name, pole: Pole) -> Expression:
    regular = differentiate(top / pole.others, x, pole.order - 1)
    return substitute(regular, {x: pole.place}) / number(mpq(fac(pole.order - 1)))


def residues(f: Expression, x: Name, facts: Facts) -> Found | None:
    """R(x)*cos(a*x), R(x)*sin(a*x) and R(x) over the line, for a rational R; where the wave takes a simple real pole away it counts half."""
    waves = [n for n in postorder(f) if is_a(n, SIN, COS) and contains(n, x)]
    if len(set(waves)) > 1:
        return None
    rate, wave = ZERO, None
    core = f
    if waves:
        wave = waves[0]
        parts = uni.linear_parts(wave.arguments[0], x)
        core = factored(f / wave)
        if parts is None or parts[1] is not ZERO or any(isinstance(n, Call) and contains(n, x) for n in postorder(core)):
            return None
        rate = parts[0]
    top, bottom = quotient_parts(factored(core))
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if upper is None or lower is None or len(lower) - len(upper) < (1 if wave is not None else 2):
        return None
    needed = what_must_be_positive(facts, rate) if wave is not None else ()
    if needed is None:
        return None
    poles = upper_poles(bottom, x, facts)
    if poles is None:
        return None
    kernel = EXP(I * rate * x) if wave is not None else ONE
    above, on = poles
    if any(p.order > 1 for p in on) or (on and wave is None):
        return None
    sums = [2 * _residue(top * kernel, x, pole) for pole in above]
    sums += [_residue(top * kernel, x, pole) for pole in on]
    whole = expand(PI * I * total(sums))
    real, imag = real_and_imaginary(whole, facts.with_facts(needed))
    value = imag if wave is not None and is_a(wave, SIN) else real
    return Found(factored(value), needed, "residues in the upper half plane")


TO_INFINITY: tuple[Rule, ...] = (
    mellin,
    keyhole,
    frullani,
    beside_a_quotient,
    beside_growing_bessel,
    by_convolution,
    mellin_terms,
    mellin_continued,
)
LAST_TO_INFINITY: tuple[Rule, ...] = (over_two_exponentials,)  # digamma where nothing shorter is found
OVER_THE_LINE: tuple[Rule, ...] = (residues, exponentials_over_the_line)
BETWEEN_ENDS: tuple[RuleOfEnds, ...] = (
    orthogonal,
    log_wave,
    log_of_a_shifted_wave,
    powers_of_the_ends,
    powers_beyond_an_end,
    powers_of_waves,
    swing,
    exponentials_of_waves,
)
