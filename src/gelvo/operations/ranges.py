"""Facts about the variable of an integral, a sum or a limit: they only say where it runs, so they hold if it does run there.

Such a fact is no licence: `x != 0` takes no pole out of an integral from -1 to 1. What the range implies is dropped (the range
says it already), the rest is refused.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from gelvo.calculus import limits
from gelvo.errors import DomainError
from gelvo.expression.building import name, number, relation
from gelvo.expression.constants import INFINITE, MINUS_INFINITE
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Relation
from gelvo.expression.traversal import contains, relations_of, substitute
from gelvo.facts.statements import DomainFact, Fact, fact_condition, is_about
from gelvo.facts.store import Facts

WHOLE = ("integer", "natural")


def _about(facts: Facts, x: Name) -> list[Fact]:
    return [f for f in facts.given if is_about(f, x) and not (isinstance(f, DomainFact) and f.domain in ("real", x.domain))]


def _directions(x: Name, lower: Expression, upper: Expression, rest: Facts, is_sum: bool) -> list[list[Condition]]:
    """What holds of x on the way from one end to the other, for each direction that is possible."""
    closed = "<=" if is_sum else "<"
    pairs = [(a, b) for a, b in ((lower, x), (x, upper)) if not isinstance(a, Bound) and not isinstance(b, Bound)]
    forward, backward = [relation(closed, a, b) for a, b in pairs], [relation(closed, b, a) for a, b in pairs]
    if len(forward) < 2 or is_sum or rest.holds(relation("<=", lower, upper)):
        return [forward]  # the direction is known, and an empty sum has no values
    return [backward] if rest.holds(relation("<=", upper, lower)) else [forward, backward]


def facts_over(x: Name, lower: Expression, upper: Expression, facts: Facts, what: str = "integral") -> Facts:
    """The facts that hold under an integral or a sum; DomainError for one about its variable that does not hold all over the range.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> facts_over(x, number(0), y, Facts([x > 0, y > 0])).given
    [y > 0]
    """
    if x.domain == "complex":
        raise DomainError(
            f"{x} is complex, and the variable of an {what} runs through real numbers: use a real one".replace("an sum", "a sum")
        )
    stated = _about(facts, x)
    if not stated:
        return facts
    rest = facts.without(x)
    directions = _directions(x, lower, upper, rest, what == "sum")
    for fact in stated:
        if isinstance(fact, DomainFact) and what == "sum" and fact.domain in WHOLE:
            if fact.domain == "integer" or rest.is_nonnegative(lower):
                continue
        condition = fact_condition(fact)
        if condition is None or not all(_follows(condition, rest, inside) for inside in directions):
            raise DomainError(
                f"the fact {fact} is about {x}, the variable of the {what}, and {x} is not known to stay there from {lower} to "
                f"{upper}: state facts about the ends instead, or leave it out"
            )
    return facts if what == "sum" else rest  # the ends of an integral belong to it, and the facts may fail there


def _follows(condition: Condition, facts: Facts, inside: Sequence[Condition]) -> bool:
    try:
        return facts.with_facts(inside).holds(condition) is True
    except DomainError:
        return True  # the range is empty in this direction


class Approach(NamedTuple):
    """How the variable of a limit comes near: the formula and its variable, the side, and the facts about other names."""

    formula: Expression
    variable: Name
    side: str | None
    facts: Facts


def approaching(f: Expression, x: Name, point: Expression, side: str | None, facts: Facts) -> Approach:
    """The limit that is meant under facts about its variable: whole numbers far out, one side of the point."""
    rest = facts.without(x)
    if x.domain == "complex":
        raise DomainError(f"{x} is complex: a limit is taken along the real line, so its variable is real")
    for fact in _about(facts, x):
        if isinstance(fact, DomainFact) and fact.domain in WHOLE:
            f, x = _through_whole_numbers(f, x, point, fact.domain)
            continue
        condition = fact_condition(fact)
        if condition is None or isinstance(fact, Equation):
            raise _refused(fact, x, point)
        for part in relations_of(condition):
            side = _side(part, fact, x, point, side, rest)
    if x.domain in WHOLE and not isinstance(point, Bound):
        raise DomainError(f"{x} takes whole numbers only, which come near to inf and -inf but not to {point}")
    return Approach(f, x, side, rest)


def _through_whole_numbers(f: Expression, x: Name, point: Expression, domain: str) -> tuple[Expression, Name]:
    if x.domain in WHOLE:
        return f, x
    whole = name(x.name, domain)
    return substitute(f, {x: whole}), whole


def _side(part: Relation, fact: Fact, x: Name, point: Expression, side: str | None, facts: Facts) -> str | None:
    """The side on which a relation holds near the point; the side asked for where it holds on both."""
    gap = part.right - part.left
    if not contains(gap, x):
        return side
    asked = [side] if side else ["above"] if isinstance(point, Bound) else ["above", "below"]
    fitting = [s for s in asked if _holds_near(part.operator, gap, x, point, s, facts)]
    if not fitting or (len(fitting) < len(asked) and part.operator in ("=", "!=")):
        raise _refused(fact, x, point)
    return side if len(fitting) == len(asked) else fitting[0]


def _holds_near(operator: str, gap: Expression, x: Name, point: Expression, side: str, facts: Facts) -> bool:
    found = limits.limit(gap, x, point, None if isinstance(point, Bound) else side, facts)
    if found is None or operator == "=":
        return False
    if isinstance(found.value, Bound):
        return found.value is INFINITE or (found.value is MINUS_INFINITE and operator == "!=")
    if facts.is_positive(found.value) or (operator == "!=" and facts.is_nonzero(found.value)):
        return True
    if found.value is not number(0):
        return False
    size = limits.limit(1 / gap, x, point, None if isinstance(point, Bound) else side, facts)
    return size is not None and (size.value is INFINITE or (size.value is MINUS_INFINITE and operator == "!="))


def _refused(fact: Fact, x: Name, point: Expression) -> DomainError:
    return DomainError(
        f"the fact {fact} is about {x}, the variable of the limit, and is not known to hold near {point}: leave it out, or say "
        'from which side {x} comes with side="above" or "below"'.replace("{x}", str(x))
    )
