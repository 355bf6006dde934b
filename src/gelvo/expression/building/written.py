"""Unknown functions, forms that are not worked out, and cases."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import reduce
from operator import or_

from gelvo.errors import DomainError
from gelvo.expression import known as facts
from gelvo.expression.building.conditions import as_condition
from gelvo.expression.building.leaves import bound, number, shown_short, to_expression
from gelvo.expression.interning import interned
from gelvo.expression.nodes import Applied, Cases, Condition, Expression, Name, Truth, Written

WRITTEN_FORMS = {
    "integral_of": (2, 4),
    "derivative_of": (2, 3),
    "limit_of": (3, 4),
    "sum_of": (4, 4),
    "product_of": (4, 4),
    "root_of": (4, 4),
}


def applied(function_name: str, arguments: Sequence[Expression], orders: Sequence[int]) -> Applied:
    """An unknown function, or a derivative of it, at a place."""
    return interned(Applied, (function_name, tuple(arguments), tuple(orders)), facts.ANY)


def written(kind: str, *arguments: Expression) -> Expression:
    """A written form; the second argument is its variable."""
    least, most = WRITTEN_FORMS[kind]
    if not (least <= len(arguments) <= most) or (kind == "integral_of" and len(arguments) == 3):
        wanted = {"integral_of": "integral_of(f, x) or integral_of(f, x, a, b)"}.get(kind, f"{least} to {most} arguments")
        raise DomainError(f"{kind} needs {wanted}")
    if not isinstance(arguments[1], Name):
        raise DomainError(f"the second argument of {kind} must be a variable, not {shown_short(arguments[1])}")
    if kind == "integral_of" and len(arguments) == 4 and arguments[2] is arguments[3]:
        return number(0)  # over no length
    return interned(Written, (kind, arguments), facts.REAL if kind == "root_of" else facts.ANY)


def cases(pieces: Iterable[tuple[object, Condition]], otherwise: object = None) -> Expression:
    """Values under conditions, looked at in order; without `otherwise` the rest is undefined."""
    values: list[Expression] = []
    conditions: list[Condition] = []
    last = bound("undefined") if otherwise is None else to_expression(otherwise)
    for value, condition in pieces:
        condition = as_condition(condition)
        if isinstance(condition, Truth):
            if condition.holds:
                last = to_expression(value)
                break
            continue
        values.append(to_expression(value))
        conditions.append(condition)
    while values and values[-1] is last:
        values.pop()
        conditions.pop()
    if not values:
        return last
    return interned(Cases, ((*values, last), tuple(conditions)), reduce(or_, [v.known for v in (*values, last)]))
