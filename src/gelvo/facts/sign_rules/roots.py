"""Signs of sums with a square root, by squares."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import known_of_scaled, negate, number, power, scale, total
from gelvo.expression.nodes import Expression, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import tree_size
from gelvo.facts.knowledge import Knowledge
from gelvo.forms.expanding import expand
from gelvo.numbers.exact import Gaussian, real


def square_of_root(term: Expression) -> Expression | None:
    """What stands under a square root, or a product with one: A for sqrt(A), a*b^2 for sqrt(a)*b; None for others."""
    factors = factors_in(term)
    if any(isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.value == mpq(1, 2) for f in factors):
        return power(term, number(2))
    return None


MOST_TERMS_SQUARED = 10  # a longer sum is not squared
HALF = mpq(1, 2)
DEEPEST, MOST_SQUARED, LARGEST = (
    3,
    12,
    60,
)  # squares of squares, sums in one question, and how large they may be for a closer look


def root_against_rest(facts: Knowledge, expression: Sum) -> int:
    """c*sqrt(A) - B with c and B not negative has the sign of c^2*A - B^2; where that is positive, any real B is outweighed.

    Where c^2*A and B^2 differ, c*sqrt(A) and B do, whether the root is real or not.
    """
    if len(expression.terms) > MOST_TERMS_SQUARED or expression in facts.busy:
        return bits.ANY
    facts.squared = facts.squared + 1 if facts.busy else 0
    close = len(facts.busy) <= DEEPEST and facts.squared <= MOST_SQUARED and tree_size(expression) <= LARGEST
    facts.busy.add(expression)
    try:
        return _by_squares(facts, expression, facts.decide if close else facts.known)
    finally:
        facts.busy.discard(expression)


def _by_squares(facts: Knowledge, expression: Sum, sign_of: Callable[[Expression], int]) -> int:
    result = bits.ANY
    for root in dict.fromkeys(f for t in expression.terms for f in factors_in(t) if square_of_root(f) is not None):
        with_root = [(t, c) for t, c in expression.items() if root in factors_in(t)]
        if any(isinstance(c, Gaussian) for _, c in with_root):
            continue
        times = total(scale(t / root, c) for t, c in with_root)
        rest = total((expression, negate(total(scale(t, c) for t, c in with_root))))
        gap = sign_of(expand(total((times * times * power(root, number(2)), negate(rest * rest)))))
        if bits.is_nonzero(gap):
            result &= bits.NONZERO
        slope = facts.known(times)
        turn = 1 if bits.is_nonnegative(slope) else -1 if bits.is_nonpositive(slope) else 0
        if not turn or not bits.is_nonnegative(facts.known(root)) or not bits.is_real(facts.known(rest)):
            continue
        if bits.is_nonnegative(sign_of(scale(rest, mpq(-turn)))):
            return result & (bits.scaled(gap, turn, False) | bits.FRACTIONAL)
        if bits.is_nonnegative(gap):
            return result & bits.scaled(bits.POSITIVE if bits.is_positive(gap) else bits.NONNEGATIVE, turn, False)
    return result


def against_root(expression: Expression) -> tuple[Expression, ...]:
    """(P, Q - P^2) of a sum P + sqrt(Q): the signs of both tell its own; nothing of other formulas."""
    roots = [f for t in getattr(expression, "terms", ()) for f in factors_in(t) if square_of_root(f) is not None]
    if not isinstance(expression, Sum) or len(set(roots)) != 1:
        return ()
    with_root = total(scale(t, c) for t, c in expression.items() if roots[0] in factors_in(t))
    rest = total((expression, negate(with_root)))
    return rest, expand(total((expand(with_root * with_root), negate(rest * rest))))


def roots_on_one_side(facts: Knowledge, expression: Sum) -> int:
    """A sum of principal square roots (and others of higher degree), none of which lies left of zero, and of something positive is not zero."""
    if any(isinstance(c, Gaussian) for c in (*expression.coefficients, expression.constant)):
        return bits.ANY
    turn = 1 if real(expression.coefficients[0]) > 0 else -1
    strict = turn * real(expression.constant) > 0
    if turn * real(expression.constant) < 0:
        return bits.ANY
    for term, c in expression.items():
        known = facts.known(scale(term, c * turn))
        strict = strict or bits.is_positive(known)
        if not bits.is_nonnegative(known) and not (real(c) * turn > 0 and _is_low_power(term)):
            return bits.ANY
    return bits.NONZERO if strict else bits.ANY


def _is_low_power(term: Expression) -> bool:
    return (
        isinstance(term, Power)
        and isinstance(term.exponent, Number)
        and term.exponent.is_rational
        and abs(term.exponent.rational) <= HALF
    )


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
