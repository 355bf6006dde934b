"""Finite sums whose term changes with their end, by a recurrence in it that a telescoping identity proves term by term.

Source: D. Zeilberger, "The method of creative telescoping" (1991); M. Petkovšek, H. Wilf, D. Zeilberger, "A = B" (1996), chapter 6.
"""

from __future__ import annotations

from gelvo.calculus.summation import telescoper
from gelvo.checking.certificate import PROVED, Certificate
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, total
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.roads import unnoted

MOST_STEPS, FIRST_ENDS = 4, 3
Question = tuple[Expression, Name, Number, Expression]  # the term, its index and the ends


def by_creative_telescoping(
    term: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts, claim: str
) -> Certificate | None:
    """The certificate where the recurrence is of the first order; else None.

    With first*F(n, k) + second*F(n + 1, k) = G(n, k + 1) - G(n, k) for the terms F, summed to the place before the end, the sum S of all
    terms has first*S(n) + second*S(n + 1) = G(n, upper) - G(n, lower) + the terms at the ends; the value has to satisfy it.
    """
    letters = [n for n in names(upper) if contains(term, n)]
    if len(letters) != 1 or len(names(upper)) != 1 or not (isinstance(lower, Number) and lower.is_whole):
        return None
    n = letters[0]
    parts = uni.linear_parts(upper, n)
    if parts is None or not (isinstance(parts[0], Number) and parts[0].is_whole and 0 < parts[0].rational <= MOST_STEPS):
        return None
    whole = facts.with_facts([DomainFact(n, "natural")] if n.domain == "real" else [])
    try:
        with unnoted():
            found = telescoper(term, k, n, whole)
        if found is None:
            return None
        return _with(found, (term, k, lower, upper), n, int(parts[0].rational), value, whole, claim)
    except (GelvoError, ArithmeticError):
        return None


def _with(
    found: tuple[Expression, Expression, Expression],
    question: Question,
    n: Name,
    steps: int,
    value: Expression,
    facts: Facts,
    claim: str,
) -> Certificate | None:
    first, second, factor = _without_denominators(*found)
    term, k, lower, upper = question
    G, later = factor * term, substitute(term, {n: n + 1})
    start = _first_end(question, n, value, second, facts)
    if start is None:
        return None
    beyond = facts.with_facts([start <= n])
    if not _is_identity(first * term + second * later, G, question, beyond):
        return None
    ends = substitute(G, {k: upper}) - substitute(G, {k: lower})
    rest = first * substitute(term, {k: upper}) + second * total([substitute(later, {k: upper + j}) for j in range(steps + 1)])
    same = decide_zero(first * value + second * substitute(value, {n: n + 1}) - ends - rest, beyond).zero
    if same is not True or not beyond.is_nonzero(second):
        return None
    evidence = {
        "G/F": factor,
        "established": f"the identity of the terms; the recurrence of the value; the sums to {n} = {start}",
    }
    return Certificate(claim, PROVED, "creative telescoping", evidence)


def _without_denominators(first: Expression, second: Expression, factor: Expression) -> tuple[Expression, Expression, Expression]:
    """The recurrence times the denominators of its coefficients, so that it holds at every n."""
    below = quotient_parts(factored(first))[1] * quotient_parts(factored(second))[1]
    return factored(first * below), factored(second * below), factored(factor * below)


def _is_identity(left: Expression, G: Expression, question: Question, facts: Facts) -> bool:
    """left = G(k + 1) - G(k), and G has a value at each place of the sum."""
    _, k, lower, upper = question
    inside = facts.with_facts([DomainFact(k, "natural")] if k.domain == "real" else [])
    if decide_zero(left - substitute(G, {k: k + 1}) + G, inside).zero is not True:
        return False
    between = inside.with_facts([lower <= k, k <= upper])
    return all(between.is_nonzero(divisor) for divisor in _divisors(G))


def _divisors(G: Expression) -> list[Expression]:
    return [
        base for base, exponent in map(base_and_exponent, factors_in(G)) if isinstance(exponent, Number) and exponent.rational < 0
    ]


def _first_end(question: Question, n: Name, value: Expression, second: Expression, facts: Facts) -> int | None:
    """From where on the recurrence tells the next sum, with the sums up to there written out and equal to the value."""
    term, k, lower, upper = question
    for j in range(FIRST_ENDS):
        if j == 0 and facts.is_positive(n):
            continue
        at = {n: number(j)}
        end = substitute(upper, at)
        if not (isinstance(end, Number) and end.is_whole):
            return None
        listed = range(int(lower.rational), int(end.rational) + 1)
        written = total([substitute(substitute(term, at), {k: number(i)}) for i in listed])
        if decide_zero(written - substitute(value, at), facts.without(n)).zero is not True:
            return None
        if facts.with_facts([j <= n]).is_nonzero(second):
            return j
    return None
