"""Signs of sums with a square root, by squares."""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import known_of_scaled, negate, number, power, scale, total
from gelvo.expression.nodes import Expression, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.facts.knowledge import Knowledge
from gelvo.forms.expanding import expand
from gelvo.numbers.exact import Gaussian


def square_of_root(term: Expression) -> Expression | None:
    """What stands under a square root, or a product with one: A for sqrt(A), a*b^2 for sqrt(a)*b; None for others."""
    factors = factors_in(term)
    if any(isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.value == mpq(1, 2) for f in factors):
        return power(term, number(2))
    return None


MOST_TERMS_SQUARED = 10  # a longer sum is not squared


def root_against_rest(facts: Knowledge, expression: Sum) -> int:
    """c*sqrt(A) - B with c and B not negative has the sign of c^2*A - B^2; where that is positive, any real B is outweighed."""
    if len(expression.terms) > MOST_TERMS_SQUARED:
        return bits.ANY
    for term, c in expression.items():
        under = square_of_root(term)
        if under is None or isinstance(c, Gaussian) or not bits.is_nonnegative(facts.known(term)):
            continue
        rest = total((expression, scale(term, -c)))
        if not bits.is_real(facts.known(rest)):
            continue
        sign = 1 if c > 0 else -1
        gap = facts.known(expand(total((scale(under, c * c), negate(rest * rest)))))
        if bits.is_nonnegative(facts.known(scale(rest, mpq(-sign)))):
            return bits.scaled(gap, sign, False) | bits.FRACTIONAL
        if bits.is_nonnegative(gap):
            return bits.scaled(bits.POSITIVE if bits.is_positive(gap) else bits.NONNEGATIVE, sign, False)
    return bits.ANY


def squares_of(facts: Knowledge) -> Iterator[tuple[Sum, int, str]]:
    """B > c*sqrt(A) with c and B not negative says B^2 > c^2*A too (and so with the other signs)."""
    for core, mask in list(facts.sums):  # what is found is noted at once
        for term, c in core.items():
            under = square_of_root(term)
            if under is None or isinstance(c, Gaussian) or not mask & (bits.NEG | bits.POS):
                continue
            sign = -1 if c > 0 else 1
            other = scale(total((core, scale(term, -c))), mpq(sign))  # core is sign*(other - |c|*sqrt(A))
            gap = known_of_scaled(mask, mpq(sign))
            squares = expand(total((other * other, negate(scale(under, c * c)))))
            real = bits.is_real(facts.known(other)) and bits.is_nonnegative(facts.known(term))
            if real and isinstance(squares, Sum) and (bits.is_nonnegative(gap) or bits.is_nonnegative(facts.known(other))):
                yield squares, gap | bits.FRACTIONAL, f"the square of {core}"
