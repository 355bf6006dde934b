"""Finite sums by induction over their upper end, by creative telescoping, or written out."""

from __future__ import annotations

from contextlib import suppress

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, total
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts


def by_induction(
    term: Expression, k: Name, lower: Expression, upper: Expression, n: Name, value: Expression, facts: Facts
) -> tuple[str, str] | None:
    """The method of an induction over n, the letter of the upper end, and what it established; None where it does not close."""
    whole = facts.with_facts([DomainFact(n, "integer")] if n.domain == "real" else [])
    induction = start = None
    with suppress(GelvoError):
        step = substitute(value, {n: n + 1}) - value - substitute(term, {k: upper + 1})
        induction = decide_zero(step, whole).zero
        start = decide_zero(substitute(value, {n: lower - 1 - (upper - n)}), facts).zero
    if induction and start:
        method = "induction: the difference of two neighbours is the term, and the empty sum is zero"
        return method, "the step to the next upper end; the empty sum"
    if start is None and induction:
        with suppress(GelvoError):
            first = substitute(value, {n: lower - (upper - n)}) - substitute(term, {k: lower})
            if decide_zero(first, facts).zero:
                return "induction from a sum of one term", "the step to the next upper end; the sum of one term"
    return None


def product_by_induction(
    f: Expression, k: Name, lower: Expression, upper: Expression, n: Name, value: Expression, facts: Facts
) -> tuple[bool | None, bool | None]:
    """Whether the quotient of two neighbours is the factor, and the product of one factor is that one."""
    whole = facts.with_facts([DomainFact(n, "natural")] if n.domain == "real" else [])
    step = substitute(value, {n: n + 1}) / value - substitute(f, {k: upper + 1})
    first = substitute(value, {n: lower - (upper - n)}) - substitute(f, {k: lower})
    return decide_zero(step, whole).zero, decide_zero(first, facts).zero


MOST_TERMS_WRITTEN = 20_000


def _ends(low: Expression, high: Expression) -> tuple[int, int] | None:
    """The first index and the one after the last, where both are whole and not too far apart."""
    if not (isinstance(low, Number) and low.is_whole and isinstance(high, Number) and high.is_whole):
        return None
    return (int(low.rational), int(high.rational) + 1) if 0 <= high.rational - low.rational <= MOST_TERMS_WRITTEN else None


def exact_sums(
    term: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts, claim: str
) -> Certificate:
    method = "sums written out for small upper ends"
    agreed = 0
    letters = names(upper)
    for j in range(9):
        if any(facts.is_nonzero(n - j) for n in letters):  # which the facts leave out
            continue
        table = {n: number(j) for n in letters}
        ends = _ends(substitute(lower, table), substitute(upper, table))
        if ends is None:
            continue
        try:
            listed = [substitute(substitute(term, table), {k: number(i)}) for i in range(*ends)]
            decision = decide_zero(total(listed) - substitute(value, table), facts)
        except GelvoError:
            continue
        if decision.zero is False:
            return Certificate(claim, REFUTED, method, {"counterexample": ", ".join(f"{n} = {j}" for n in letters)})
        agreed += decision.zero is True
        if not letters and decision.zero:
            return Certificate(claim, PROVED, "written out")
    verdict = SUPPORTED if agreed >= 3 else UNDECIDED
    return Certificate(claim, verdict, method, {"agreement": f"exactly equal for {agreed} upper ends"})
