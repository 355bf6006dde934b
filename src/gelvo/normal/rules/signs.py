"""Absolute values, signs, conjugates, steps and rounding."""

from __future__ import annotations

from gelvo.errors import DomainError, Undecided
from gelvo.evaluation.enclose import enclose
from gelvo.expression import known as bits
from gelvo.expression.building import call, looks_negative, multiply_all, number, power
from gelvo.expression.constants import HALF, ONE
from gelvo.expression.nodes import Applied, Expression, Name, Number, Power
from gelvo.expression.traversal import has_call, names, postorder
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, CEIL, CONJ, FLOOR, HEAVISIDE, SIGN, is_a
from gelvo.normal.arguments import as_argument, factors_of, is_even
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.interval import NoValue
from gelvo.numbers.interval import floor as floor_of


@rule(FLOOR)
def _floor(work: Work, x: Expression) -> Expression:
    return _rounded(work, x, FLOOR)


@rule(CEIL)
def _ceil(work: Work, x: Expression) -> Expression:
    return _rounded(work, x, CEIL)


def _rounded(work: Work, x: Expression, name: str) -> Expression:
    if work.facts.is_integer(x):
        return x
    known = whole_part(x, name == CEIL) if not isinstance(x, Number) and not names(x) else None
    return call(name, x) if known is None else known


def whole_part(x: Expression, up: bool) -> Expression | None:
    """The floor (or ceiling) of a number by bounds, as precise as its size asks; None where they do not tell."""
    precision = 64
    while precision <= 4096:
        try:
            box = enclose(x, {}, precision)
        except (NoValue, DomainError, Undecided):
            return None
        if box.imag is not None:
            return None
        low, high = floor_of(box.real.low), floor_of(box.real.high)
        if low == high and box.real.low != low:
            return number(low + 1 if up else low)
        precision *= 2
    return None


@rule(ABS)
def absolute(work: Work, x: Expression) -> Expression:
    """|x| by its factors; signs that are known drop out."""
    mask = work.facts.decide(x)
    if bits.is_nonnegative(mask):
        return x
    if bits.is_nonpositive(mask):
        return as_argument(-x, work.facts)
    if not bits.is_real(mask):
        found = _complex_size(work, x)
        if found is not None:
            return found
    content, factors = factors_of(x)
    if content == 0:
        return ABS(x)
    return multiply_all([number(abs(content)), *[_size_of_power(base, exponent, work.facts) for base, exponent in factors]])


def _size_of_power(base: Expression, exponent: Expression, facts: Facts) -> Expression:
    inner = facts.decide(base)
    if bits.is_nonnegative(inner) and facts.is_real(exponent):
        return power(base, exponent)
    if bits.is_nonpositive(inner) and isinstance(exponent, Number):
        return power(as_argument(-base, facts), exponent)
    if is_even(exponent) and bits.is_real(inner):
        return power(base, exponent)
    return power(ABS(base), exponent) if isinstance(exponent, Number) else ABS(power(base, exponent))


@rule(CONJ)
def mirrored(work: Work, x: Expression) -> Expression:
    """The conjugate, also through roots: that of a root of a negative number is its opposite times a power of -1."""
    made = CONJ(x)
    if not is_a(made, CONJ):
        return work.prepared(made) if has_call(made, (CONJ,)) else made
    (inner,) = made.arguments
    if bits.is_real(work.facts.decide(inner)):
        return inner
    if isinstance(inner, Power) and inner.exponent.is_rational and not names(inner):
        if bits.is_negative(work.facts.decide(inner.base)):
            return work.prepared(power(number(-1), -2 * inner.exponent) * inner)
        if _off_the_real_line(inner.base):
            return work.prepared(power(CONJ(inner.base), inner.exponent))
    return made


def _off_the_real_line(x: Expression) -> bool:
    try:
        box = enclose(x, {}, 128)
    except (NoValue, DomainError, Undecided):
        return False
    return box.imag is not None and not box.imag.contains_zero()


def _complex_size(work: Work, x: Expression) -> Expression | None:
    """|x| as the root of x times its conjugate, where that is written without `conj`."""
    other = mirrored(work, x)
    if has_call(other, (CONJ, ABS)):
        return None
    if not all(work.facts.is_real(n) for n in postorder(x) if isinstance(n, (Name, Applied))):
        return None
    return work.power(work.prepared(x * other), HALF)


@rule(HEAVISIDE)
def _heaviside(work: Work, x: Expression) -> Expression:
    if work.facts.is_positive(x):
        return ONE
    if work.facts.is_negative(x):
        return number(0)
    return ONE - HEAVISIDE(expand(-x)) if _falls(x) else HEAVISIDE(x)  # heaviside(0) = 1/2


def _falls(x: Expression) -> bool:
    """Whether all that has names in a formula has a minus before it: 3 - t, and neither t - 3 nor a - t."""
    moving = [t for t in terms_of(expand(x)) if names(t)]
    return bool(moving) and all(looks_negative(t) for t in moving)


@rule(SIGN)
def _sign(work: Work, x: Expression) -> Expression:
    mask = work.facts.decide(x)
    if bits.is_positive(mask):
        return ONE
    if bits.is_negative(mask):
        return number(-1)
    if bits.is_nonzero(mask):
        return x / absolute(work, x)
    return SIGN(x)
