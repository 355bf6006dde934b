"""Signs of differences of exponentials, powers and logarithms, which rise."""

from __future__ import annotations

from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, scale, total
from gelvo.expression.nodes import Expression, Number, Power, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.facts.knowledge import Knowledge
from gelvo.functions.named import EXP, LN, is_a
from gelvo.numbers.exact import Gaussian, real


def exponentials(facts: Knowledge, expression: Sum) -> int:
    """A - B of two positive formulas, exponentials or powers among them, has the sign of ln(A) - ln(B): the logarithm rises.

    So exp(u) - c has the sign of u - ln(c), and a^n - 1 that of n*ln(a).
    """
    if any(isinstance(c, Gaussian) for c in (*expression.coefficients, expression.constant)):
        return bits.ANY
    parts = [scale(t, c) for t, c in expression.items()] + ([number(expression.constant)] if expression.constant else [])
    if len(parts) != 2 or expression in facts.busy or not any(_rises(t) for t in expression.terms):
        return bits.ANY
    facts.busy.add(expression)
    try:
        signs = [facts.known(p) for p in parts]
        turns = [1 if bits.is_positive(m) else -1 if bits.is_negative(m) else 0 for m in signs]
        if sorted(turns) != [-1, 1]:
            return bits.ANY
        logarithms = [_logarithm(scale(p, turn), facts) for p, turn in zip(parts, turns, strict=True)]
        if None in logarithms:
            return bits.ANY
        known = facts.decide(total(scale(u, turn) for u, turn in zip(logarithms, turns, strict=True) if u is not None))
        return known | bits.FRACTIONAL if bits.is_real(known) else bits.ANY
    finally:
        facts.busy.discard(expression)


def logarithms(facts: Knowledge, expression: Sum) -> int:
    """k*ln(u) + c has the sign of k*(u - exp(-c/k)), for a number k."""
    found = [(t, c) for t, c in expression.items() if is_a(t, LN)]
    if len(found) != 1 or isinstance(found[0][1], Gaussian) or expression in facts.busy:
        return bits.ANY
    term, c = found[0][0], real(found[0][1])
    u, rest = term.arguments[0], total((expression, scale(term, -c)))
    facts.busy.add(expression)
    try:
        if not bits.is_positive(facts.known(u)) or not bits.is_real(facts.known(rest)):
            return bits.ANY
        known = facts.decide(u - EXP(scale(rest, -1 / c)))
        return bits.scaled(known, 1 if c > 0 else -1, False) | bits.FRACTIONAL if bits.is_real(known) else bits.ANY
    finally:
        facts.busy.discard(expression)


def _rises(term: Expression) -> bool:
    """Whether a factor is an exponential, or has an exponent that is no number."""
    return any(is_a(f, EXP) or (isinstance(f, Power) and not f.exponent.is_whole) for f in factors_in(term))


def _logarithm(part: Expression, facts: Knowledge) -> Expression | None:
    """The logarithm of a positive product of positive factors, exponentials and powers taken apart; None where one is not known to be."""
    if isinstance(part, Number):
        return LN(part)
    found, plain = [], []
    for factor in (number(getattr(part, "coefficient", 1)), *factors_in(part)):
        base, exponent = base_and_exponent(factor)
        if is_a(factor, EXP) and bits.is_real(facts.known(factor.arguments[0])):
            found.append(factor.arguments[0])
        elif not bits.is_positive(facts.known(base)) or not bits.is_real(facts.known(exponent)):
            return None
        elif exponent.is_whole:
            plain.append(factor)
        else:
            found.append(exponent * LN(base))
    rest = multiply_all(plain)
    return total([*found, LN(rest)])
