"""Laws of motion in sections: joined, and their jumps and impulses at the joints named."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from gelvo.errors import DomainError
from gelvo.expression.building import cases, relation
from gelvo.expression.constants import UNDEFINED
from gelvo.expression.nodes import Cases, Condition, Expression, Name, Relation
from gelvo.expression.traversal import substitute
from gelvo.operations.calculus import differentiate
from gelvo.operations.inputs import take
from gelvo.operations.rewriting import simplify
from gelvo.operations.trust import equal

WORDS = ("position", "speed", "acceleration", "jerk")


class Jump(NamedTuple):
    """A derivative of a law that is not continuous at a place; the next derivative has an impulse of that size there."""

    place: Expression
    order: int
    before: Expression
    after: Expression
    size: Expression

    def __str__(self) -> str:
        word = WORDS[self.order] if self.order < len(WORDS) else f"derivative {self.order}"
        after = WORDS[self.order + 1] if self.order + 1 < len(WORDS) else f"derivative {self.order + 1}"
        return f"{word} jumps by {self.size} at {self.place}: an impulse of the {after}"


def join_sections(variable: Any, sections: Sequence[tuple[Any, Any]]) -> Expression:
    """One law from its sections [(formula, end of the section), …], each from the end of the one before.

    After the last end the law is undefined.

    >>> import gelvo
    >>> gelvo.join_sections("t", [("t^2", 1), ("2*t - 1", 3)])
    cases(t^2 when t < 1, 2*t - 1 when t <= 3, otherwise undefined)
    """
    if not sections:
        raise DomainError("a law needs at least one section")
    for pair in sections:
        if not isinstance(pair, (list, tuple)) or len(pair) != 2:
            raise DomainError(f"a section is a pair (formula, end of the section), not {pair!r}")
    arguments = take(*[p for pair in sections for p in pair], variables=[variable])
    (x,), values = arguments.names, arguments.expressions
    for early, late in zip(values[1::2], values[3::2], strict=False):
        if arguments.facts.is_positive(early - late) or early is late:
            raise DomainError(f"the section that ends at {late} comes after the one that ends at {early}: the ends must rise")
    last = len(sections) - 1
    return cases([(values[2 * k], relation("<" if k < last else "<=", x, values[2 * k + 1])) for k in range(last + 1)])


def jumps(law: Any, variable: Any, through: int = 3, given: Iterable[Any] = ()) -> list[Jump]:
    """Where a law in sections, or one of its derivatives up to an order, is not continuous.

    >>> import gelvo
    >>> for jump in gelvo.jumps(gelvo.join_sections("t", [("t^2", 1), ("2*t - 1", 3)]), "t"):
    ...     print(jump)
    acceleration jumps by -2 at 1: an impulse of the jerk
    """
    arguments = take(law, variables=[variable], given=given)
    (e,), (x,) = arguments.expressions, arguments.names
    if not isinstance(e, Cases):
        raise DomainError("a law in sections is needed: cases(…), or join_sections")
    places = [_end(c, x) for c in e.conditions]
    found: list[Jump] = []
    for one, other in itertools.pairwise(places):
        if arguments.facts.is_nonpositive(other - one):
            raise DomainError(f"the section up to {other} is never reached, since the one before it ends at {one}")
    later = [*e.values[1:], e.otherwise]
    for k, place in enumerate(places):
        if later[k] is UNDEFINED:
            continue
        for order in range(through + 1):
            before, after = (
                simplify(substitute(differentiate(v, x, times=order), {x: place}), given=given).expression
                for v in (e.values[k], later[k])
            )
            if not equal(before, after, given):
                found.append(Jump(place, order, before, after, simplify(after - before, given=given).expression))
    return found


def _end(condition: Condition, x: Name) -> Expression:
    if isinstance(condition, Relation) and condition.left is x and condition.operator in ("<", "<="):
        return condition.right
    raise DomainError(f"the sections of a law end at values of {x}, not at {condition}")
