"""What a result divides by, though the question did not: it has to be stated where it is not known to be non-zero."""

from __future__ import annotations

from gelvo.expression.nodes import Condition, Expression, Name, Number, Power
from gelvo.expression.traversal import names, postorder
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import is_never_zero
from gelvo.forms.fractions import factored


def new_divisors(result: Expression, question: Expression, facts: Facts, *moving: Name) -> tuple[Condition, ...]:
    """The conditions that the divisors of a result without the moving names are not zero, unless the question has them or the facts tell.

    >>> from gelvo.expression.building import name
    >>> a, b, x = name("a"), name("b"), name("x")
    >>> [str(c) for c in new_divisors(x/(a - b), x*a*b, Facts(), x)]
    ['a - b != 0']
    """
    new = [d for d in _divisors(result, moving) if not (is_never_zero(d) or facts.is_nonzero(d))]
    if not new:
        return ()
    known = facts.with_facts([nonzero(d) for d in _divisors(question, moving)])
    return known.open_conditions([nonzero(factored(d)) for d in new])


def _divisors(e: Expression, moving: tuple[Name, ...]) -> list[Expression]:
    found: dict[Expression, None] = {}
    for node in postorder(e):
        if (
            isinstance(node, Power)
            and isinstance(node.exponent, Number)
            and node.exponent.is_rational
            and node.exponent.rational < 0
        ):
            inside = names(node.base)
            if inside and not any(m in inside for m in moving):
                found[node.base] = None
    return list(found)
