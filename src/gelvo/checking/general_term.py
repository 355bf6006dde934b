"""The n-th coefficient of an expansion, proved for all n from a place on: by the recurrence of a fraction, or by the sum of the series."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.checking.certificate import PROVED, UNDECIDED, Certificate
from gelvo.checking.sums import check_sum
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power, relation, total
from gelvo.expression.constants import INFINITE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts

CLOSE = (mpq(1, 2), mpq(1, 32))


def check_general_term(
    f: Expression, u: Name, n: Name, term: Expression, first: list[Expression], start: int, facts: Facts, claim: str
) -> Certificate:
    """That the coefficients of f are those of `first` below `start`, and the term from there on.

    first: the exact coefficients from 0 on, some beyond `start`, with which the term was compared.
    """
    try:
        told = _by_recurrence(f, u, n, term, first, start, facts, claim)
        return told or _by_sum(f, u, n, term, first, start, facts, claim)
    except (GelvoError, ArithmeticError):
        return Certificate(claim, UNDECIDED, "the sum of the series")


def _by_recurrence(
    f: Expression, u: Name, n: Name, term: Expression, first: list[Expression], start: int, facts: Facts, claim: str
) -> Certificate | None:
    """Q(u)*f = P(u): the coefficients of f, each times one of Q, add up to zero beyond the degree of P; the first ones begin it."""
    top, bottom = (uni.coefficients_of(expand(p), u) for p in quotient_parts(factored(f)))
    if top is None or bottom is None or decide_zero(bottom[0], facts).zero is not False:
        return None
    order = len(bottom) - 1
    begin = max(start, len(top) - order)  # from here on c(begin + order) follows
    if len(first) < begin + order:
        return None
    m = facts.new_name("m", term, f, domain="natural")  # n = m + begin
    parts = [q * substitute(term, {n: m + number(begin + order - j)}) for j, q in enumerate(bottom)]
    if decide_zero(total(parts), facts).zero is not True:
        return None
    evidence = {"established": f"the recurrence of {order} steps by the denominator, and the first {begin + order} coefficients"}
    return Certificate(claim, PROVED, "the recurrence of a fraction", evidence)


def _by_sum(
    f: Expression, u: Name, n: Name, term: Expression, first: list[Expression], start: int, facts: Facts, claim: str
) -> Certificate:
    """The sum of all terms for small u > 0 is the function, so their coefficients are the same; else even and odd places apart."""
    early = total([c * power(u, number(j)) for j, c in enumerate(first[:start])])
    for close in CLOSE:
        near = facts.with_facts([relation("<", ZERO, u), relation("<", u, number(close))])
        whole = check_sum(term * power(u, n), n, number(start), INFINITE, f - early, near)
        if whole.verdict == PROVED:
            return _proved(claim, whole)
        k = facts.new_name("k", term, f, domain="natural")
        parts = []
        for j in (0, 1):
            begin = start + (start + j) % 2
            sign = number((-1) ** j)
            half = (f + sign * substitute(f, {u: -u})) / 2 - (early + sign * substitute(early, {u: -u})) / 2
            place = 2 * k + number(begin)
            parts.append(_class(expand(substitute(term, {n: place})), power(u, place), k, half, near))
        if all(p.verdict == PROVED for p in parts):
            return _proved(claim, *parts)
    return Certificate(claim, UNDECIDED, "the sum of the series")


def _class(term: Expression, moving: Expression, k: Name, half: Expression, facts: Facts) -> Certificate:
    """The even or the odd part of the function; one without terms has to vanish."""
    if decide_zero(term, facts).zero:
        gone = decide_zero(half, facts).zero is True
        return Certificate(f"{half} = 0", PROVED if gone else UNDECIDED, "the part without terms vanishes")
    return check_sum(term * moving, k, ZERO, INFINITE, half, facts)


def _proved(claim: str, *parts: Certificate) -> Certificate:
    return Certificate(claim, PROVED, "the sum of the series is the function, and a function has one series only", parts=parts)
