"""Powers and roots: what is known to be positive comes out, of squares of real numbers the absolute value."""

from __future__ import annotations

import gmpy2
from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import distributed, multiply_all, number, power, scale
from gelvo.expression.constants import ONE as UNIT
from gelvo.expression.nodes import Expression, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import has_call, names
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, CBRT, CONJ, LAMBERTW, LAMBERTW_LOWER, LN, is_a
from gelvo.normal.arguments import as_argument, factors_of, is_elementary, is_even
from gelvo.normal.rules.logarithms import logarithm
from gelvo.normal.rules.nested_roots import denested
from gelvo.normal.rules.signs import absolute
from gelvo.normal.rules.table import Work, rule
from gelvo.normal.rules.waves import exponential, parity
from gelvo.numbers.exact import ONE, parts


def opened_root(work: Work, node: Power) -> Expression:
    """sqrt(x + 2*sqrt(x - 1)) as sqrt(x - 1) + 1, where the facts allow it."""
    if not names(node.base) or not isinstance(node.base, Sum):
        return node  # numbers are decided exactly without this
    return denested(work, node)


@rule(CBRT)
def _cbrt(work: Work, x: Expression) -> Expression:
    facts = work.facts
    mask = facts.decide(x)
    if bits.is_nonnegative(mask):
        return prepared_power(work, x, number(mpq(1, 3)))
    if bits.is_nonpositive(mask):
        return -prepared_power(work, -x, number(mpq(1, 3)))
    content, factors = factors_of(x)
    outside: list[Expression] = []
    inside: list[Expression] = [number(content)]
    for base, k in factors:  # cubes of real numbers come out, whatever their sign
        if isinstance(k, Number) and k.is_whole and abs(k.rational) >= 3 and facts.is_real(base):
            whole, rest = divmod(int(k.rational), 3)
            outside.append(power(base, number(whole)))
            inside.append(power(base, number(rest)))
        else:
            inside.append(power(base, k))
    return multiply_all([*outside, _cbrt(work, multiply_all(inside))]) if outside else CBRT(x)


def prepared_power(work: Work, base: Expression, exponent: Expression) -> Expression:
    """base^exponent for parts in normal form: by the first rule that applies."""
    for first in (_of_bars, _whole_power, _sign_power, _roots_taken_out):
        found = first(work, base, exponent)
        if found is not None:
            return found
    base = base if is_elementary(base) else as_argument(base, work.facts)
    exponent = exponent if is_elementary(exponent) else as_argument(exponent, work.facts)
    if isinstance(base, Number):
        return _power_of_number(work, base, exponent)
    if exponent.is_rational:
        return _root(work, base, exponent.rational)
    return _power_with_letters(work, base, exponent)


def _of_bars(work: Work, base: Expression, exponent: Expression) -> Expression | None:
    """|z|^2 is z*conj(z)."""
    if not (is_a(base, ABS) and exponent.is_whole) or exponent.rational % 2:
        return None
    inside = base.arguments[0]
    if work.facts.is_real(inside):
        return None
    return prepared_power(work, work.prepared(inside * CONJ(inside)), exponent / 2)


def _whole_power(work: Work, base: Expression, exponent: Expression) -> Expression | None:
    if not exponent.is_whole:
        return None
    if is_a(base, CBRT) and abs(exponent.rational) >= 3:
        whole, rest = divmod(int(exponent.rational), 3)
        return multiply_all([power(base.arguments[0], number(whole)), power(base, number(rest))])
    return power(base, exponent)


def _sign_power(work: Work, base: Expression, exponent: Expression) -> Expression | None:
    """(-1)^n for an n that is known to be even, or odd."""
    if isinstance(base, Number) and base.value == -1 and names(exponent):
        for shift, value in ((0, 1), (1, -1)):
            if work.facts.is_integer(expand((exponent + shift) / 2)):
                return number(value)
    return None


def taken_out(node: Power, facts: Facts) -> Expression | None:
    """sqrt((c - cos(t))^2*u) as (c - cos(t))*sqrt(u) where c - cos(t) is known not to be negative; None where nothing comes out."""
    if node.exponent.is_whole or not node.exponent.is_rational or not isinstance(node.base, (Product, Power)):
        return None
    outside, inside = _known_roots(node.base, node.exponent.rational, facts)
    return multiply_all([*outside, power(inside, node.exponent)]) if outside else None


def _roots_taken_out(work: Work, base: Expression, exponent: Expression) -> Expression | None:
    if not (exponent.is_rational and isinstance(base, (Product, Power))):
        return None
    outside, inside = _known_roots(base, exponent.rational, work.facts)
    if not outside:
        return None
    split = [prepared_power(work, *base_and_exponent(root)) for root in outside]  # as the root of 1 - x^2 by itself would be
    return multiply_all([*split, prepared_power(work, inside, exponent)])


def _power_of_number(work: Work, base: Number, exponent: Expression) -> Expression:
    if not base.value and work.facts.is_positive(exponent):
        return base
    if base.value == -1 and work.facts.is_integer(exponent):
        return power(base, parity(exponent))
    if not exponent.is_rational:
        inverse = base.is_rational and base.rational > 0 and _below_is_logarithm(exponent)
        if not base.is_rational or (isinstance(exponent, Number) and base.rational < 0) or inverse:
            return _by_exponential(work, base, exponent)
    return power(base, exponent)


def _by_exponential(work: Work, base: Expression, exponent: Expression) -> Expression:
    return exponential(work, as_argument(exponent * logarithm(work, base), work.facts))


def _power_with_letters(work: Work, base: Expression, exponent: Expression) -> Expression:
    facts = work.facts
    if facts.is_positive(base) and (_below_is_logarithm(exponent) or has_call(exponent, (LAMBERTW, LAMBERTW_LOWER))):
        return _by_exponential(work, base, exponent)
    if facts.is_integer(exponent) or facts.is_positive(base):
        content, factors = factors_of(base)
        if content < 0 and facts.is_integer(exponent):
            return multiply_all([prepared_power(work, number(-1), exponent), prepared_power(work, -base, exponent)])
        if content > 0 and (facts.is_integer(exponent) or all(facts.is_positive(b) for b, _ in factors)):
            return multiply_all(
                [power(number(content), exponent), *[power(b, as_argument(k * exponent, facts)) for b, k in factors]]
            )
    return power(base, exponent)


def _below_is_logarithm(exponent: Expression) -> bool:
    """Whether an exponent is a quotient by a logarithm, as in 2^(ln(3)/ln(2)), or 10^(x/(ln(2) + ln(5)))."""
    terms = exponent.terms if isinstance(exponent, Sum) else (exponent,)
    factors = [f for t in terms for f in factors_in(t)]
    below = [f.base for f in factors if isinstance(f, Power)]
    return any(all(is_a(t, LN) for t in (b.terms if isinstance(b, Sum) and not b.constant else (b,))) for b in below)


def _known_roots(base: Product | Power, q: mpq, facts: Facts) -> tuple[list[Expression], Expression]:
    """Roots of whole factors as they stand, before they are multiplied out: of s^2 the root is s for a positive s."""
    outside: list[Expression] = []
    inside: list[Expression] = [number(base.coefficient)] if isinstance(base, Product) else []
    for factor in factors_in(base):
        inner, k = base_and_exponent(factor)
        whole = isinstance(k, Number) and k.is_whole and isinstance(inner, Sum)
        if whole and facts.is_nonnegative(inner):
            outside.append(power(inner, scale(k, q)))
        elif whole and facts.is_nonpositive(inner):
            outside.append(power(distributed(-inner), scale(k, q)))
            inside.append(UNIT if is_even(k) else number(-1))
        else:
            inside.append(factor)
    return outside, multiply_all(inside)


def _common_size(u: Expression) -> mpq:
    """The positive rational number that leaves coprime whole real and imaginary parts in a sum of terms; 1 for other formulas."""
    if not isinstance(u, Sum):
        return ONE
    numbers = [part for c in (u.constant, *u.coefficients) for part in parts(c) if part]
    return mpq(gmpy2.gcd(*[c.numerator for c in numbers], 0), gmpy2.lcm(*[c.denominator for c in numbers], 1))


def _shared_out(
    work: Work, factor: Expression, k: Expression, exponent: mpq, outside: list[Expression], inside: list[Expression]
) -> bool:
    """Puts the power k of a factor before the root or below it, by its sign; whether it left a minus below."""
    facts = work.facts
    mask = facts.decide(factor)
    whole = isinstance(k, Number) and k.is_whole
    if bits.is_nonnegative(mask) and facts.is_real(k):
        outside.append(power(factor, expand(scale(k, exponent))))
    elif isinstance(k, Number) and whole and bits.is_nonpositive(mask):
        outside.append(power(as_argument(-factor, facts), scale(k, exponent)))
        return bool(k.rational % 2)
    elif isinstance(k, Number) and whole and bits.is_real(mask):
        even = k.rational - k.rational % 2
        if even:
            outside.append(power(absolute(work, factor), number(even * exponent)))
        if k.rational % 2:
            inside.append(factor)
    else:
        inside.append(power(factor, k))
    return False


def _of_known_sign(
    factors: list[tuple[Expression, Expression]], exponent: mpq, facts: Facts
) -> tuple[list[tuple[Expression, Expression]], list[Expression]]:
    """The other factors, and the root of those with even powers: where nothing is known of each, but of their product."""
    even = [(b, k) for b, k in factors if exponent == mpq(1, 2) and isinstance(k, Number) and is_even(k)]
    even = [(b, k) for b, k in even if not (bits.is_nonnegative(m := facts.decide(b)) or bits.is_nonpositive(m))]
    if len(even) < 2:
        return factors, []
    root = multiply_all([power(b, scale(k, exponent)) for b, k in even])
    if facts.is_nonnegative(root) or facts.is_nonpositive(root):
        return [f for f in factors if f not in even], [root if facts.is_nonnegative(root) else -root]
    return factors, []


def _root(work: Work, base: Expression, exponent: mpq) -> Expression:
    """A root split into the parts whose signs are known; of squares of real numbers comes the absolute value."""
    facts = work.facts
    content, factors = factors_of(base)
    if content == 0:  # complex coefficients: only the number in front is told apart
        size = _common_size(base)
        return multiply_all((power(number(size), number(exponent)), power(expand(scale(base, 1 / size)), number(exponent))))
    outside: list[Expression] = [power(number(abs(content)), number(exponent))]
    inside: list[Expression] = []
    factors, together = _of_known_sign(factors, exponent, facts)
    outside += together
    turned = [_shared_out(work, factor, k, exponent, outside, inside) for factor, k in factors]
    rest = multiply_all(inside)
    if (sum(turned) + (content < 0)) % 2:
        rest = -rest
    if rest is not UNIT:
        rest = as_argument(rest, facts)
    outside.append(power(rest, number(exponent)))
    return multiply_all(outside)
