"""Claims about matrices: products that are equal entry by entry, and formulas that are not zero."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from gelvo.checking.certificate import PROVED, REFUTED, UNDECIDED, Certificate, on_its_own_road, weakest
from gelvo.checking.claims import from_decision, numerically
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Number
from gelvo.facts.store import Facts
from gelvo.matrices.matrix import Matrix

METHOD = "the products multiplied out, and the difference of each entry in the normal form"


class Same(NamedTuple):
    """left = right, entry by entry."""

    claim: str
    left: Matrix
    right: Matrix


class Apart(NamedTuple):
    """A formula that is not zero as a formula: where its letters make it zero the conditions say so."""

    claim: str
    formula: Expression


Claim = Same | Apart


def check_claims(claims: Sequence[Claim], facts: Facts, conditions: tuple[Condition, ...] = ()) -> Certificate:
    """All claims together, under the facts and the conditions of the result."""
    try:
        under = facts.with_facts(conditions)
    except DomainError as fault:
        return Certificate(" and ".join(c.claim for c in claims), UNDECIDED, str(fault))

    def check() -> Certificate:
        parts = tuple(_same(c, under) if isinstance(c, Same) else _apart(c, under) for c in claims)
        whole = " and ".join(p.claim for p in parts)
        if len(parts) == 1:
            return parts[0]
        return Certificate(whole, weakest(parts), METHOD, parts=parts)

    found = on_its_own_road(check)
    return Certificate(found.claim, found.verdict, found.method, found.evidence, conditions, found.relies_on, found.parts)


def _same(claim: Same, facts: Facts) -> Certificate:
    if claim.left.shape != claim.right.shape:
        return Certificate(claim.claim, REFUTED, "the shapes differ")
    differences = dict.fromkeys(e for e in (claim.left - claim.right).flat() if e is not ZERO)
    found = []
    for e in differences:
        entry = from_decision(claim.claim, decide_zero(e, facts), METHOD)
        found.append(numerically(entry, e, facts, 64) if entry.verdict == UNDECIDED else entry)
    worst = weakest(tuple(found)) if found else PROVED
    shown = next((c.evidence for c in found if c.verdict == worst), {"difference": "zero: exact arithmetic"})
    return Certificate(claim.claim, worst, METHOD, {"entries": claim.left.shape[0] * claim.left.shape[1], **shown})


def _apart(claim: Apart, facts: Facts) -> Certificate:
    method = "the sign under the facts, or the value at a point with error bounds"
    if facts.is_nonzero(claim.formula) or (isinstance(claim.formula, Number) and claim.formula is not ZERO):
        return Certificate(claim.claim, PROVED, method)
    zero = decide_zero(claim.formula, facts).zero
    return Certificate(claim.claim, {True: REFUTED, False: PROVED, None: UNDECIDED}[zero], method)
