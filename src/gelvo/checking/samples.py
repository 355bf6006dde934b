"""Values of letters at which a claim is tried: of both signs, and special ones, inside the facts."""

from __future__ import annotations

import itertools

from gmpy2 import mpq

from gelvo.deciding.equality import inside, relations_in, relevant_relations
from gelvo.evaluation.sampling import degenerate, of_all_signs, points
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts

MOST_DEGENERATES = 5


def samples(
    roots: list[Expression], x: Name, facts: Facts, wanted: int = 2, *others: Name, degenerates: bool = False
) -> list[dict[Name, mpq]]:
    """Some values of the other names for which the facts hold; degenerates: and a few at which two are equal, or one is zero."""
    involved = [n for n in names(*[r for r in roots if not isinstance(r, Bound)]) if n is not x and n not in others]
    if not involved:
        return [{}]
    relations, involved = relevant_relations(relations_in(facts.given), involved)
    usual = of_all_signs((p for p in points(involved, facts.known, 24) if inside(relations, p)), wanted)
    special = (p for p in degenerate(involved, facts.known) if degenerates and inside(relations, p))
    return [*usual, *itertools.islice(special, MOST_DEGENERATES)]
