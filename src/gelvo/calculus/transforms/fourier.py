"""Fourier transforms by rules: shifts, modulations, one-sided functions by Laplace transforms, and a few pairs.

Source: R. Bracewell, "The Fourier Transform and Its Applications" (1965).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.found import Found
from gelvo.calculus.transforms.by_definition import fourier_by_definition
from gelvo.calculus.transforms.laplace import laplace, prepared_terms
from gelvo.calculus.transforms.pattern import BY_RULES, Unknown, as_exponentials, calls_in, linear_in, need_positive, term_of
from gelvo.calculus.transforms.windows import by_steps
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import IMAGINARY, ONE, PI
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Number, Power, Product
from gelvo.expression.traversal import contains, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.impulses import sifted
from gelvo.functions.named import ABS, COS, DIRAC_DELTA, EXP, HEAVISIDE, RE, SIGN, SIN, is_a
from gelvo.numbers.exact import HALF


class _Work(NamedTuple):
    """The transform of one formula on its way: the integral over t of the formula times exp(-1j*v*t), and the conditions so far."""

    t: Name
    v: Name
    facts: Facts
    conditions: dict[Condition, None]


CONVENTIONS = {"angular": (ONE, number(-1)), "unitary": (power(2 * PI, number(-HALF)), number(-1)), "frequency": (ONE, -2 * PI)}


def kernel(convention: str, inverse: bool) -> tuple[Expression, Expression]:
    """(outer, rate): the transform is outer times the integral of f*exp(1j*rate*w*t)."""
    outer, rate = CONVENTIONS[convention]
    if not inverse:
        return outer, rate
    return {"angular": 1 / (2 * PI), "unitary": outer, "frequency": ONE}[convention], -rate


def fourier(e: Expression, t: Name, w: Name, facts: Facts, convention: str = "angular", inverse: bool = False) -> Found | None:
    """The integral of e*exp(-1j*w*t) over the whole line, in one of three conventions (`CONVENTIONS`)."""
    outer, rate = kernel(convention, inverse)
    v = facts.new_name("v", e, w)  # the plain transform at v; then v = -rate*w
    work = _Work(t, v, facts, {})
    frequency, road = -rate * w, BY_RULES
    try:
        whole = total([_fourier_term(p, work) for p in terms_of(expand(as_exponentials(by_steps(e, t, facts))))])
    except Unknown:
        found = fourier_by_definition(e, t, v, facts)
        if found is None:
            return None
        whole, road = found.value, found.road
        work.conditions.update(dict.fromkeys(found.conditions))
    value = transform(whole, _without_signs_squared)
    return Found(sifted(outer * substitute(value, {v: frequency})), tuple(work.conditions), road)


def _without_signs_squared(node: Node) -> Node:
    """sign(v)^2 is 1 but for one point."""
    if isinstance(node, Power) and is_a(node.base, SIGN) and isinstance(node.exponent, Number):
        exponent = node.exponent.rational
        return power(node.base, number(exponent % 2)) if node.exponent.is_whole else node
    return node


def _fourier_term(e: Expression, work: _Work) -> Expression:
    """One summand: pairs, shifts and modulations."""
    t, v, facts = work.t, work.v, work.facts
    factors = list(e.factors) if isinstance(e, Product) else [e]
    outer = multiply_all([number(e.coefficient) if isinstance(e, Product) else ONE, *[f for f in factors if not contains(f, t)]])
    inner = [f for f in factors if contains(f, t)]
    inner.sort(key=lambda f: not (is_a(f, HEAVISIDE) and facts.is_negative(linear_in(f.arguments[0], t)[0])))
    for k, f in enumerate(inner):
        others = multiply_all(inner[:k] + inner[k + 1 :])
        if isinstance(f, Call) and f.name in FACTORS:
            return outer * FACTORS[f.name](f, others, work)
        n = _natural_power(f, t)
        if n is not None and others is not ONE:
            return outer * power(IMAGINARY, number(n)) * differentiate(_fourier_term(others, work), v, n)
    core = multiply_all(inner)
    return outer * (2 * PI * DIRAC_DELTA(v) if core is ONE else _pair(core, work))


def _modulated(wave: Call, others: Expression, work: _Work) -> Expression:
    """cos(b*t + p)*g(t) and sin(b*t + p)*g(t): the transform of g, moved up and down by b."""
    t, v = work.t, work.v
    b, phase = linear_in(wave.arguments[0], t)
    plain = _fourier_term(others, work) if others is not ONE else 2 * PI * DIRAC_DELTA(v)
    high = EXP(IMAGINARY * phase) * substitute(plain, {v: v - b})
    low = EXP(-IMAGINARY * phase) * substitute(plain, {v: v + b})
    return (high + low) / 2 if is_a(wave, COS) else (high - low) / (2 * IMAGINARY)


def _sifted(impulse: Call, others: Expression, work: _Work) -> Expression:
    """An impulse times g(t): g and the wave at its place."""
    t, v = work.t, work.v
    slope, b = linear_in(impulse.arguments[0], t)
    return substitute(others * EXP(-IMAGINARY * v * t), {t: -b / slope}) / ABS(slope)


def _natural_power(f: Expression, t: Name) -> int | None:
    if f is t:
        return 1
    if (
        isinstance(f, Power)
        and f.base is t
        and isinstance(f.exponent, Number)
        and f.exponent.is_whole
        and 0 < f.exponent.rational < 12
    ):
        return int(f.exponent.rational)
    return None


def _one_sided(step: Call, others: Expression, work: _Work) -> Expression:
    """heaviside(t - c)*g(t) for a decaying g: the Laplace transform on the imaginary axis."""
    t, v, facts = work.t, work.v, work.facts
    slope, b = linear_in(step.arguments[0], t)
    place = -b / slope
    if facts.is_negative(slope):
        return _ending(step, others, work)
    for other in calls_in(others):
        if is_a(other, HEAVISIDE) and contains(other, t):  # the later of two steps counts
            rise, shift = linear_in(other.arguments[0], t)
            later = -shift / rise - place
            if facts.is_nonpositive(later):
                others = others / other
            elif facts.is_nonnegative(later):
                return _one_sided(other, others / other, work)
            else:
                raise Unknown
    moved = substitute(others, {t: t + place})
    s = facts.new_name("s", others, v)
    result = [
        # a plain step: its mean value is the impulse at zero frequency
        1 / (IMAGINARY * v) + PI * DIRAC_DELTA(v) * EXP(IMAGINARY * v * place)
        if p is ONE
        else substitute(_decaying(p, s, work), {s: IMAGINARY * v})
        for p in prepared_terms(moved, t, facts)
    ]
    return expand(EXP(-IMAGINARY * v * place) * total(result))


def _ending(step: Call, others: Expression, work: _Work) -> Expression:
    """A step that ends something, heaviside(c - t)*g(t): a window, or the mirror image."""
    t, v, facts = work.t, work.v, work.facts
    steps = [f for f in calls_in(others) if is_a(f, HEAVISIDE) and contains(f, t)]
    if any(not facts.is_negative(linear_in(f.arguments[0], t)[0]) for f in steps):
        # a window between two steps: all from the first step on, less what comes after the second
        plain = _fourier_term(others, work)
        return plain - _fourier_term(others * HEAVISIDE(-step.arguments[0]), work)
    mirrored = substitute(others * step, {t: -t})
    return substitute(_fourier_term(mirrored, work), {v: -v})


FACTORS: dict[str, Callable[[Call, Expression, _Work], Expression]] = {
    SIN: _modulated, COS: _modulated, HEAVISIDE: _one_sided, DIRAC_DELTA: _sifted,
}  # fmt: skip


def _decaying(p: Expression, s: Name, work: _Work) -> Expression:
    """The Laplace transform of a term that dies away; that it does is a condition where it is not known."""
    t, facts, conditions = work.t, work.facts, work.conditions
    decay = -term_of(p, t).rate
    real = RE(decay) if not facts.is_real(decay) else decay
    need_positive(real, facts, conditions)
    found = laplace(p, t, s, facts)
    if found is None:
        raise Unknown
    conditions.update(dict.fromkeys(found.conditions))
    return found.value


def _pair(f: Expression, work: _Work) -> Expression:
    """exp of a quadratic, exp(-a*|t - b|), sign(t - b), 1/((t - b)^2 + a^2), 1/t."""
    t, v, facts, conditions = work
    if is_a(f, EXP):
        return _exponential_pair(f.arguments[0], work)
    if is_a(f, SIGN):
        slope, shift = linear_in(f.arguments[0], t)
        return -2 * IMAGINARY * SIGN(slope) * EXP(IMAGINARY * v * shift / slope) / v
    if isinstance(f, Power) and f.exponent is number(-1):
        parts = uni.coefficients_of(expand(f.base), t)
        if parts is not None and len(parts) == 3:
            a2, b, c = parts[2], uni.lowest_terms(parts[1] / (2 * parts[2])), parts[0]
            gap = uni.lowest_terms(c / a2 - b * b)
            need_positive(gap, facts, conditions)
            root = sqrt(gap)
            return PI / (a2 * root) * EXP(-root * ABS(v)) * EXP(IMAGINARY * v * b)
        if f.base is t:
            return -IMAGINARY * PI * SIGN(v)
    raise Unknown


def _exponential_pair(argument: Expression, work: _Work) -> Expression:
    t, v, facts, conditions = work
    parts = uni.coefficients_of(expand(argument), t)
    if parts is not None and len(parts) == 3:
        c, b, a = parts
        need_positive(-a, facts, conditions)
        # exp(a*t^2 + (b - 1j*v)*t + c), a < 0
        return sqrt(PI / -a) * EXP(factored(expand(c + (b - IMAGINARY * v) ** 2 / (-4 * a))))
    if parts is not None and len(parts) == 2:
        rate = parts[1] / IMAGINARY
        if facts.is_real(rate):
            return 2 * PI * DIRAC_DELTA(v - rate) * EXP(parts[0])
        raise Unknown
    bars = [n for n in calls_in(argument) if is_a(n, ABS) and contains(n, t)]
    if len(bars) == 1:
        mark = facts.new_name("b", argument)
        outer = uni.linear_parts(expand(substitute(argument, {bars[0]: mark})), mark)
        if outer is not None and not contains(outer[0], t) and not contains(outer[1], t):
            slope, shift = linear_in(bars[0].arguments[0], t)
            a = -outer[0] * ABS(slope)
            need_positive(a, facts, conditions)
            return EXP(outer[1]) * EXP(IMAGINARY * v * shift / slope) * 2 * a / (a**2 + v**2)
    raise Unknown
