"""What solving one equation gives: roots with conditions, free integers, and whether these are all."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.building import number, relation
from gelvo.expression.constants import INFINITE, MINUS_INFINITE
from gelvo.expression.nodes import Bound, Condition, Expression, Name
from gelvo.expression.traversal import contains, relations_of
from gelvo.facts.store import Facts


class Root(NamedTuple):
    """One solution: its value, the conditions on the other names, the free integers of a family."""

    value: Expression
    conditions: tuple[Condition, ...] = ()
    families: tuple[Name, ...] = ()


Table = dict[Name, Expression]


class Together(NamedTuple):
    """One common solution of a system."""

    values: Table
    conditions: tuple[Condition, ...] = ()
    families: tuple[Name, ...] = ()


class Roots(NamedTuple):
    """All solutions found; `everything` where every value solves; `excluded` candidates with the reason; `lost`: why some may be missing;
    `regions`: conditions on the unknown under which every value solves, beside the roots; `trail`: the
    equations that were reached on the way, each with the step that led there."""

    found: tuple[Root, ...]
    conditions: tuple[Condition, ...] = ()
    excluded: tuple[tuple[Expression, str], ...] = ()
    everything: bool = False
    further: int = 0
    road: str = ""
    lost: tuple[str, ...] = ()
    regions: tuple[tuple[Condition, ...], ...] = ()
    trail: tuple[tuple[str, Expression], ...] = ()


class SystemRoots(NamedTuple):
    """Common solutions; `lost`: why some may be missing; `in_domain`: whether they were made to lie in the domains of the unknowns;
    `shared`: whether their values share parts, and are too large to be multiplied out."""

    found: tuple[Together, ...]
    conditions: tuple[Condition, ...]
    excluded: tuple[tuple[Table, str], ...]
    road: str
    lost: tuple[str, ...] = ()
    in_domain: bool = False
    shared: bool = False


def window(x: Name, facts: Facts) -> tuple[Expression, Expression]:
    """The range that the facts and the domain leave to the unknown, as tight as the facts tell."""
    low: Expression = MINUS_INFINITE
    high: Expression = INFINITE
    if x.domain in ("positive", "nonnegative", "natural") or facts.is_nonnegative(x):
        low = number(0)
    if x.domain == "negative" or facts.is_nonpositive(x):
        high = number(0)
    plain = facts.without(x)
    for fact in facts.given:
        condition = getattr(fact, "condition", fact)
        for part in relations_of(condition) if isinstance(condition, Condition) else []:
            if part.operator in ("<", "<="):
                if part.right is x and not contains(part.left, x) and not _at_most(part.left, low, plain):
                    low = part.left
                if part.left is x and not contains(part.right, x) and not _at_most(high, part.right, plain):
                    high = part.right
    return low, high


def _at_most(a: Expression, b: Expression, facts: Facts) -> bool:
    """Whether a <= b is known, for ends of a range."""
    return not isinstance(a, Bound) and not isinstance(b, Bound) and facts.holds(relation("<=", a, b)) is True


def between(low: Expression, x: Name, high: Expression) -> list[Condition]:
    """What says that x lies between two ends; nothing for an end at infinity."""
    ends = [] if isinstance(low, Bound) else [relation("<", low, x)]
    return ends if isinstance(high, Bound) else [*ends, relation("<", x, high)]


def middle(low: Expression, high: Expression) -> Expression:
    """A place between two ends."""
    if isinstance(low, Bound):
        return number(0) if isinstance(high, Bound) else high - 1
    return low + 1 if isinstance(high, Bound) else (low + high) / 2
