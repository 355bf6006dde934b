"""Definite integrals by other means than an antiderivative: reflection, Mellin's pairs, Frullani's theorem, residues.

Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), chapter 6. Every value is held against quadratures
before it is believed (`between.py`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import ParamSpec

from gmpy2 import fac, mpq

from gelvo.calculus.definite.beta import powers_of_the_ends, powers_of_waves
from gelvo.calculus.definite.circle import exponentials_of_waves
from gelvo.calculus.definite.convolution import by_convolution
from gelvo.calculus.definite.exponential_integrals import beside_a_quotient
from gelvo.calculus.definite.keyhole import keyhole
from gelvo.calculus.definite.line import exponentials_over_the_line
from gelvo.calculus.definite.mellin import mellin, mellin_continued, mellin_terms
from gelvo.calculus.definite.orthogonal import orthogonal
from gelvo.calculus.definite.poles import Pole, upper_poles
from gelvo.calculus.definite.shifted import over_two_exponentials
from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.calculus.limits import limit_beside
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.evaluation.plain_floats import plain_function
from gelvo.expression.building import number, total
from gelvo.expression.constants import IMAGINARY as I
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Product
from gelvo.expression.traversal import contains, fresh_name, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, EXP, LN, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.interval import NoValue
from gelvo.roads import on_the_way
from gelvo.simplifying.search import simplify

Question = ParamSpec("Question")
Rule = Callable[[Expression, Name, Facts], Found | None]
RuleOfEnds = Callable[[Expression, Name, Expression, Expression, Facts], Found | None]


def by_other_means(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Iterator[Found]:
    """What each rule that fits says, one after the other."""
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


def reflected(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Expression | None:
    """The mean of f and its mirror image in the middle of the interval, where that is simpler than f, or real while f is not."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    inside = facts.with_facts([lower < x, x < upper])
    both = simplify(f + substitute(f, {x: lower + upper - x}), inside).expression
    if contains(both, x) and decide_zero(differentiate(both, x), facts).zero:  # a constant that simplifying does not see
        both = substitute(both, {x: (lower + upper) / 2})
    size, before = (sum(contains(part, x) for part in postorder(e)) for e in (both, f))
    simpler = size < 0.7 * before or (size <= before and not contains_x_plainly(both, x))
    return both / 2 if simpler or (has_imaginary_unit(f) and not has_imaginary_unit(both)) else None


PLACES = (0.137, 0.291, 0.383, 0.442)  # shares of the way


def has_a_constant_mean(f: Expression, x: Name, lower: Expression, upper: Expression) -> bool:
    """Whether the mean of f and its mirror image is the same number at a few places: a hint, by plain floats."""
    if isinstance(lower, Bound) or isinstance(upper, Bound) or names(lower, upper) or set(names(f)) != {x}:
        return False
    work, *ends = (plain_function(e, x) for e in (f, lower, upper))
    if work is None or None in ends:
        return False
    try:
        low, high = (end(0.0) for end in ends if end is not None)
        means = [work(low + s * (high - low)) + work(high - s * (high - low)) for s in PLACES]
    except NoValue:
        return False
    return all(abs(m - means[0]) <= 1e-9 * (1 + abs(m)) for m in means)


def contains_x_plainly(e: Expression, x: Name) -> bool:
    """Whether x stands outside of every function."""
    waves = [n for n in postorder(e) if isinstance(n, Call) and contains(n, x)]
    return contains(substitute(e, {w: fresh_name("v", e) for w in waves}), x)


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
    return substitute(regular, {x: pole.place}) / number(_factorial(pole.order - 1))


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


def _factorial(n: int) -> mpq:
    return mpq(fac(n))


# --- logarithms of waves ----------------------------------------------------------------------------------------------------------


def log_wave(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """ln(c*sin(x)) or ln(c*cos(x)) over a whole number of quarter turns (L. Euler, 1769)."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    logarithms = [n for n in postorder(f) if is_a(n, LN) and contains(n, x)]
    if len(logarithms) != 1 or not isinstance(f, (Call, Product)):
        return None
    outer = factored(f / logarithms[0])
    inside = logarithms[0].arguments[0]
    waves = [n for n in postorder(inside) if is_a(n, SIN, COS) and n.arguments[0] is x]
    if contains(outer, x) or len(waves) != 1:
        return None
    scale = factored(inside / waves[0])
    quarters = factored((upper - lower) / PI * 2)
    starts: dict[tuple[str, int], tuple[Expression, ...]] = {
        (SIN, 1): (ZERO, PI / 2),
        (COS, 1): (ZERO, -PI / 2),
        (SIN, 2): (ZERO,),
        (COS, 2): (-PI / 2,),
    }
    if contains(scale, x) or not isinstance(quarters, Number) or quarters.rational not in (1, 2):
        return None
    if lower not in starts[(waves[0].name, int(quarters.rational))] or not facts.is_positive(scale):
        return None
    return Found(outer * (upper - lower) * (LN(scale) - LN(number(2))), (), "Euler's integral of ln(sin(x))")


TO_INFINITY: tuple[Rule, ...] = (
    mellin,
    keyhole,
    frullani,
    beside_a_quotient,
    over_two_exponentials,
    by_convolution,
    mellin_terms,
    mellin_continued,
)
LAST_TO_INFINITY: tuple[Rule, ...] = (over_two_exponentials,)  # digamma where nothing shorter is found
OVER_THE_LINE: tuple[Rule, ...] = (residues, exponentials_over_the_line)
BETWEEN_ENDS: tuple[RuleOfEnds, ...] = (orthogonal, log_wave, powers_of_the_ends, powers_of_waves, exponentials_of_waves)
