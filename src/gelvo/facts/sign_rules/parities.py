"""Signs of products that differ by squares from what a fact speaks of."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import known_of_scaled
from gelvo.expression.nodes import Expression, Product, Sum
from gelvo.facts.knowledge import Knowledge
from gelvo.forms.fractions import factored
from gelvo.forms.unit_forms import Parity, parity


def by_parity(facts: Knowledge, product: Expression) -> int:
    """(1 - a*p^3)/(a*p) has the sign that a fact gives to a*p - a^2*p^4: they differ by squares."""
    if facts.parities is None:
        facts.parities = {}  # what is asked while they are noted comes without them
        facts.parities = _noted_parities(facts)
    found = parity(product) if facts.parities else None
    mask = None if found is None else facts.parities.get(found.core)
    if found is None or mask is None or not _is_real(facts, found):
        return bits.ANY
    mask = known_of_scaled(mask, mpq(found.sign))
    if found.below:
        mask &= ~bits.NIL
    return mask | (0 if all(bits.is_nonzero(facts.known(s)) for s in found.squares) else bits.NIL)


def _noted_parities(facts: Knowledge) -> dict[Expression, int]:
    table: dict[Expression, int] = {}
    for core, mask in facts.table.items():
        if not isinstance(core, (Sum, Product)) or not (bits.is_nonnegative(mask) or bits.is_nonpositive(mask)):
            continue
        found = parity(factored(core))
        if found is None or not _is_real(facts, found):
            continue
        if not mask & bits.NIL or not found.squares:  # a square that is zero says nothing about the rest
            table[found.core] = table.get(found.core, bits.ANY) & (known_of_scaled(mask, mpq(found.sign)) | bits.FRACTIONAL)
    return table


def _is_real(facts: Knowledge, found: Parity) -> bool:
    return all(bits.is_real(facts.known(e)) for e in (found.core, *found.squares))
