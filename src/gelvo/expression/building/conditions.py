"""Conditions: relations, what is joined by `and` and `or`, and opposites."""

from __future__ import annotations

from collections.abc import Iterable

from gelvo.errors import DomainError
from gelvo.expression import known as facts
from gelvo.expression.interning import interned
from gelvo.expression.nodes import Condition, Expression, Junction, Number, Relation, Truth
from gelvo.numbers.exact import Gaussian


def truth(holds: bool) -> Truth:
    return interned(Truth, (holds,), facts.ANY)


def as_condition(value: object) -> Condition:
    if isinstance(value, Condition):
        return value
    if isinstance(value, bool):
        return truth(value)
    condition = getattr(value, "condition", None)
    if isinstance(condition, Condition):
        return condition
    raise DomainError(f"{value} is not a condition such as x > 0")


_HOLDS = {"=": lambda s: s == 0, "!=": lambda s: s != 0, "<": lambda s: s < 0, "<=": lambda s: s <= 0}


def relation(operator: str, left: Expression, right: Expression) -> Condition:
    """left operator right; `>` and `>=` are turned round; numbers are compared at once."""
    if operator in (">", ">="):
        operator, left, right = {">": "<", ">=": "<="}[operator], right, left
    if isinstance(left, Number) and isinstance(right, Number):
        difference = left.value - right.value
        if not isinstance(difference, Gaussian):
            return truth(bool(_HOLDS[operator](difference)))
        if operator in ("=", "!="):
            return truth(operator == "!=")
    if left is right:
        return truth(operator in ("=", "<="))
    return interned(Relation, (operator, left, right), facts.ANY)


def junction(word: str, parts: Iterable[Condition]) -> Condition:
    """Conditions joined by `and` or `or`; repeated and constant ones drop out."""
    neutral = word == "and"
    found: dict[Condition, None] = {}
    for part in parts:
        for inner in part.parts if isinstance(part, Junction) and part.word == word else (part,):
            if isinstance(inner, Truth):
                if inner.holds != neutral:
                    return inner
                continue
            found[inner] = None
    if not found:
        return truth(neutral)
    if len(found) == 1:
        return next(iter(found))
    return interned(Junction, (word, tuple(found)), facts.ANY)


def opposite(condition: Condition) -> Condition:
    """The condition that holds where this one does not (for real values)."""
    if isinstance(condition, Truth):
        return truth(not condition.holds)
    if isinstance(condition, Relation):
        left, right = condition.left, condition.right
        if condition.operator in ("=", "!="):
            return relation("!=" if condition.operator == "=" else "=", left, right)
        return relation("<=" if condition.operator == "<" else "<", right, left)
    assert isinstance(condition, Junction)
    return junction("or" if condition.word == "and" else "and", [opposite(p) for p in condition.parts])
